#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# A unit whose registers are framed in characters, taken through the whole job.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
export VERDITE_MODELS="$VERDITE_SOURCE/tests/units" VERDITE_BENCH="$work/tidepole-bench" VERDITE_PASSWORD=1234
cd "$work" || exit 1

run 0 verdite check "$VERDITE_MODELS/tidepole.yaml"
run 0 verdite model tidepole
says "Talks Modbus ASCII. From the factory: 9600 7E1, address 7."
run 0 verdite-bench play tidepole
run 0 verdite find
says "address 7 9600 7E1 tidepole"
tells "1 unit found."
run 0 verdite diagnose --model tidepole
run 0 verdite read --model tidepole --trace
says "alarm.high 4.50 m"
tells "out  :072B0E0300BD"
tells "address 7, read identification from object 0"
tells 'identification "Quillmere", "tidepole", "9.9", "PLAY-1"'
run 0 verdite raw --model tidepole --address 7 "03 001E 0002"
says "out :0703001E0002D6"
says "in :07030401C200141B"
says "address 7, holding registers: 01C2 0014"

# what it takes, and what it does not; it is followed to another address and speed
run 7 verdite raw --model tidepole --address 7 "06 001F 0400"
tells "exception 1"
run 5 verdite change --model tidepole --address 7 alarm.low=6 --yes
tells "Low water 6 m is not below high water 4.50 m."
run 0 verdite change --model tidepole --address 7 alarm.high=5.2 alarm.lamp=off line.address=9 line.speed=19200 --yes
says "VERIFIED: 4 of 4 settings read back from storage, equal."
tells "Moves the unit to address 9 at 19200 7E1"
run 0 verdite find
says "address 9 19200 7E1 tidepole"
run 0 verdite link --model tidepole --address 9 --baud 19200 --count 30
says "answered 30"
run 0 verdite undo --model tidepole --address 9 --yes
says "VERIFIED"

# spoilt replies: each n-th is damaged, cut, of another address; a bench that says so with a sound check
for fault in "damage-every: 3" "cut-every: 3" "address-every: 4" "function-every: 4" "extend-every: 4" "stray-every: 2" "mute-every: 4"; do
    mkdir -p spoilt
    sed "s/^    serial:/    faults: {$fault}\n    serial:/" tidepole-bench/bench.yaml >spoilt/bench.yaml
    rm -f spoilt/state.json
    run 0 verdite read --bench spoilt --model tidepole --address 7
    says "alarm.high 4.50 m"
done
sed 's/^    serial:/    faults: {damage-every: 1}\n    serial:/' tidepole-bench/bench.yaml >spoilt/bench.yaml
run 6 verdite read --bench spoilt --model tidepole --address 7
run 6 verdite diagnose --bench spoilt --model tidepole --address 7
sed 's/^    serial:/    faults: {exception: 4}\n    serial:/' tidepole-bench/bench.yaml >spoilt/bench.yaml
run 7 verdite read --bench spoilt --model tidepole --address 7

# frames of bytes take eight data bits
sed '/^speaks:/d' "$VERDITE_MODELS/tidepole.yaml" >bytes.yaml
run 1 verdite check bytes.yaml
tells "seven data bits"
sed 's/modbus-ascii/modbus-asci/' "$VERDITE_MODELS/tidepole.yaml" >slip.yaml
run 1 verdite check slip.yaml
tells "one of modbus-rtu, modbus-ascii, commands, queries, sentences"
sed 's/modbus-ascii}/modbus-ascii, talker: PQLX}/' "$VERDITE_MODELS/tidepole.yaml" >talker.yaml
run 1 verdite check talker.yaml
tells "talker"

# a unit of another hand: a line on which nothing could be asked is not judged
unset VERDITE_BENCH
python3 "$VERDITE_SOURCE/tests/pole.py" leaves >pole.txt &
until [ -s pole.txt ]; do sleep 0.05; done
run 6 verdite link --model pole --port "$(cat pole.txt)" --address 7
tells "(A5)"
says "The line is not judged."
rm pole.txt
# how one says it | exit status of a write | what is said of it
while IFS='|' read -r how status said; do
    python3 "$VERDITE_SOURCE/tests/pole.py" "$how" >pole.txt &
    until [ -s pole.txt ]; do sleep 0.05; done
    run "$status" verdite change --model pole --port "$(cat pole.txt)" --address 7 water.high=321 --yes --trace
    case $out$err in *"$said"*) passed=$((passed + 1)) ;; *) fail "$how: no \"$said\"" ;; esac
    case $how$err in pauses*"not a sound frame"*) fail "a reply with a pause in it is shown as two" ;; esac
    kill $!
    wait $! 2>/dev/null
    rm pole.txt
done <<'UNITS'
fine|0|VERIFIED: 1 of 1
pauses|0|VERIFIED: 1 of 1
noisy|0|VERIFIED: 1 of 1
small|0|VERIFIED: 1 of 1
lies|3|NOT VERIFIED: 0 of 1
line|6|(B7)
UNITS
done_testing
