#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Descriptors and files: what is closed, full, shared, killed or no file at all. KILLS says how often each command is
# killed, CROWD how many programs meet at one file.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
: "${KILLS:=8}" "${CROWD:=8}"
fresh bracken
cd "$work" || exit 1

# ---- Closed descriptors: nothing of ours goes to the line, and no answer is read from it
verdite-bench serve "$work/bracken" >"$work/served" &
served=$!
for _ in $(seq 100); do [ -s "$work/served" ] && break; sleep 0.1; done
port=$(awk '{ print $2 }' "$work/served")
unset VERDITE_BENCH
run 0 verdite read --port "$port" --address 3 --save before.yaml
cp before.yaml changed.yaml
run 0 verdite set changed.yaml unit.light=high weight.low-limit="21 kg"
ask="verdite write changed.yaml --port $port --address 3"
# shellcheck disable=SC2094
while IFS='|' read -r wanted closed; do
    got=0
    out='' err='' what="$ask $closed"
    eval "timeout 60 $ask $closed" || got=$?
    [ "$got" -eq "$wanted" ] || fail "$what: exit status $got, not $wanted"
    passed=$((passed + 1))
done <<'CASES'
1|<&- >o 2>e
1|</dev/null >&- 2>e
5|<&- >&- 2>&-
5|</dev/null >o 2>&-
CASES
run 0 verdite read --port "$port" --address 3 --group unit
says "unit.light low"
# A crowd at one port: it has it or is told that another has it
for round in $(seq "$CROWD"); do
    { verdite read --port "$port" --address 3 --model dowel --group unit >"port$round" 2>&1; echo $? >>"port$round"; } &
done
jobs -p | grep -vx "$served" | while read -r job; do tail --pid="$job" -f /dev/null; done
served_well=0
for round in $(seq "$CROWD"); do
    case $(tail -n 1 "port$round") in
    0)
        grep -q "unit.light *low" "port$round" || fail "one of a crowd read something else: $(cat "port$round")"
        served_well=$((served_well + 1))
        ;;
    6) grep -q "in use by " "port$round" || fail "one of a crowd was told: $(cat "port$round")" ;;
    *) fail "one of a crowd ended strangely: $(cat "port$round")" ;;
    esac
done
[ "$served_well" -gt 0 ] || fail "of a crowd at one port nobody read"
passed=$((passed + 1))
kill "$served"
wait "$served" 2>/dev/null
served=''
export VERDITE_BENCH="$work/bracken"

# ---- Output that is not all there has a status and a word
got=0 out='' what="a full disk"
err=$(verdite read --address 3 2>&1 >/dev/full) || got=$?
[ "$got" -eq 5 ] || fail "$what: exit status $got, not 5"
tells "could not be written completely"
got=0 what="JSON on a full disk"
err=$(verdite read --address 3 --json 2>&1 >/dev/full) || got=$?
[ "$got" -eq 5 ] || fail "$what: exit status $got, not 5"
got=0 err='' what="a trace on a full disk"
verdite read --address 3 --trace >/dev/null 2>/dev/full || got=$?
[ "$got" -eq 5 ] || fail "$what: exit status $got, not 5"
got=0 what="a trace into a file that may not grow"
err=$( (ulimit -f 2 && verdite read --address 3 --trace-to grown 2>&1 >/dev/null) ) || got=$?
[ "$got" -eq 5 ] || fail "$what: exit status $got, not 5"
tells "the trace is not all there"
mkfifo gone
(exec 3<gone) &
got=0 what="a reader who has gone"
verdite read --address 3 >gone 2>e || got=$?
[ "$got" -eq 5 ] || fail "$what: exit status $got, not 5: $(cat e)"

# ---- What is no file is told at once
mkfifo pipe
mkdir folder
ln -s nothing dangling
ln -s /dev/null device
for file in pipe folder dangling device /dev/tty /dev/zero; do
    for command in "check FILE" "write FILE --yes --address 3" "compare FILE factory" "set FILE unit.light=low" \
        "verify FILE" "model dowel --as FILE" "read --address 3 --trace-to FILE" \
        "read --address 3 --save FILE --replace"; do
        # shellcheck disable=SC2086
        run 5 timeout 20 verdite ${command//FILE/$file}
    done
done
if [ "$(readlink dangling)" != nothing ] || [ -e nothing ]; then fail "a link to nothing was followed"; fi
run 4 timeout 20 verdite read --address 3 --save pipe
tells "exists already"
run 4 timeout 20 verdite read --address 3 --trace-to before.yaml
tells "before.yaml exists already and is unchanged"
mkdir models
cp "$VERDITE_SOURCE"/models/*.yaml models
mkfifo models/pipe.yaml
printf 'verdite-model: 1\nmodel: [\n' >models/broken.yaml
cp models/wren.yaml models/not-wren.yaml
cp models/wren.yaml "models/Wren 2.yaml"
sed 's/^model: dowel/model: twin/' models/dowel.yaml >models/twin.yaml
VERDITE_MODELS=$work/models run 0 timeout 20 verdite find --from 3 --to 3
says "dowel QD-24003"
for name in pipe broken not-wren "Wren 2" twin; do tells "models/$name.yaml"; done
tells "twin and dowel"
VERDITE_MODELS=$work/models run 0 timeout 20 verdite read --address 3 --json
python3 -c 'import json; d = json.load(open("out")); assert len(d["left-out"]) == 5 and d["model"] == "dowel"' ||
    fail "what was left out is not in the JSON"

# ---- Owner and mode stay
cp before.yaml mine.yaml
chmod 640 mine.yaml
ln -s mine.yaml link.yaml
[ "$(id -u)" -ne 0 ] || chown 1234:1235 mine.yaml
was=$(stat -c '%a %u %g' mine.yaml)
touch .mine.yaml.verdite-AbCdEf
run 0 verdite set link.yaml unit.light=high
[ "$(stat -c '%a %u %g' mine.yaml)" = "$was" ] || fail "owner or mode of a profile changed"
[ -L link.yaml ] || fail "a link was replaced"
[ ! -e .mine.yaml.verdite-AbCdEf ] || fail "what a kill left was not swept"

# ---- Whoever does not let go of a file is not waited for
flock --close mine.yaml sleep 8 &
holder=$!
sleep 0.3
run 5 timeout 20 verdite set mine.yaml unit.light=high
tells "another program has it locked"
kill "$holder"

# ---- A crowd at one profile: whoever says that it saved has saved
cp before.yaml crowd.yaml
keys=(weight.alarm=low weight.latching=on temperature.latching=on unit.light=high relay.follows=either
    temperature.alarm=both unit.name=Crowd weight.filter="1 s")
for round in $(seq "$CROWD"); do
    change=${keys[round % ${#keys[@]}]}
    { verdite set crowd.yaml "$change" >"o$round" 2>"e$round" && echo "$change" >"won$round"; } &
done
wait
cat won* >won 2>/dev/null
[ -s won ] || fail "of $CROWD changes at once none was made"
while IFS= read -r change; do
    grep -q "  ${change%%=*}: \"*${change#*=}" crowd.yaml || fail "$change was said to be saved and is not there"
done <won
for round in $(seq "$CROWD"); do
    [ -e "won$round" ] || grep -q "in the meantime" "e$round" || fail "nobody said why: $(cat "e$round")"
done
passed=$((passed + 1))

# ---- A crowd at one name: one saves, and nothing is replaced
for round in $(seq "$CROWD"); do
    cp -r "$VERDITE_SOURCE/benches/bracken" "crowd$round"
    sed -i "s/bracken-usb/adapter-$round/" "crowd$round/bench.yaml"
    rm -f "crowd$round/state.json"
    { verdite read --bench "crowd$round" --address "$((round % 10 + 1))" --model dowel --save same.yaml >/dev/null 2>&1 &&
        echo "$((round % 10 + 1))" >"saved$round"; } &
done
wait
[ "$(cat saved* | wc -l)" -eq 1 ] || fail "$(cat saved* | wc -l) programs said that they saved one file"
grep -q "QD-240$(printf %02d "$(cat saved*)")" same.yaml || fail "the file is not that of the one who said so"

# ---- What is remembered of many at once is all there
for round in $(seq "$CROWD"); do
    verdite read --bench "crowd$round" --address "$((round % 10 + 1))" --model dowel >/dev/null 2>&1 &
done
wait
python3 - "$CROWD" "$VERDITE_STORE" <<'PY' || fail "where units were met was forgotten"
import sqlite3, sys
served = {adapter for adapter, in sqlite3.connect(sys.argv[2]).execute("SELECT adapter FROM served")}
missing = [n for n in range(1, int(sys.argv[1]) + 1) if f"adapter-{n}" not in served]
sys.exit(f"missing: {missing}" if missing else 0)
PY
passed=$((passed + 2))

# ---- Kills at any moment: every file is whole, and the next one sweeps
sound() {
    run 0 verdite check "$1"
}
for round in $(seq "$KILLS"); do
    value=$([ $((round % 2)) -eq 0 ] && echo low || echo high)
    verdite set mine.yaml unit.light="$value" >/dev/null 2>&1 &
    sleep "0.0$((RANDOM % 10))$((RANDOM % 10))"
    kill -KILL $! 2>/dev/null
    wait $! 2>/dev/null
    sound mine.yaml
    verdite read --address 3 --save killed.yaml --replace >/dev/null 2>&1 &
    sleep "0.$((RANDOM % 3))$((RANDOM % 10))"
    kill -KILL $! 2>/dev/null
    wait $! 2>/dev/null
    [ ! -e killed.yaml ] || sound killed.yaml
    verdite write mine.yaml --address 3 --yes >/dev/null 2>&1 &
    sleep "0.$((RANDOM % 3))$((RANDOM % 10))"
    kill -KILL $! 2>/dev/null
    wait $! 2>/dev/null
    verdite-bench press bracken hive-03 "1 s" >/dev/null 2>&1 &
    sleep "0.0$((RANDOM % 10))$((RANDOM % 10))"
    kill -KILL $! 2>/dev/null
    wait $! 2>/dev/null
    run 0 verdite-bench show bracken
done
for file in "$work"/state/verdite/before/*.yaml; do
    [ ! -e "$file" ] || sound "$file"
done
run 0 verdite set mine.yaml weight.alarm=low
run 0 verdite read --address 3 --save killed.yaml --replace
[ -z "$(find . -maxdepth 1 -name '.*.verdite-*')" ] || fail "leftovers of kills stay: $(find . -name '.*.verdite-*')"
done_testing
