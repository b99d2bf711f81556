#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# The tool as a person would use it on the bench: each command once as it is meant, and with every bad input.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
fresh bracken
cd "$work" || exit 1
file=hive.yaml

# ---- words
run 0 verdite --help
says "Exit statuses"
run 0 verdite help exit
while read -r status meaning; do # the document says the same
    says "  $status  $meaning"
done < <(sed -n 's/^| \([0-8]\) | \(.*\) |$/\1 \2/p' "$VERDITE_SOURCE/docs/json.md")
for command in ports model startup needs read set check compare write verify; do
    run 0 verdite "$command" --help
    says "For example"
done
run 4 verdite raed
tells "Do you mean read?"
run 4 verdite read --adress 3
tells "Do you mean --address?"
run 4 verdite read --address x
run 4 verdite read --address 0
tells "1 to 247"
run 4 verdite read --baud 10
run 4 verdite read --framing 9X9
tells "8E1"
run 4 verdite read --group wieght
tells "weight, temperature"
run 4 verdite write
run 4 verdite set "$file"
run 4 verdite compare unit unit

# ---- ports and models
run 0 verdite ports
says "bracken-usb"
run 5 verdite ports --bench "$work/none"
run 0 verdite model
says "dowel"
run 0 verdite model dowel
says "weight.low-limit"
run 0 verdite model dowel weight.low-limit
says "error, enforced by the unit: weight.low-limit < weight.high-limit"
says "holding register 25, signed"
run 4 verdite model dowel weight.lowlimit
tells "Do you mean weight.low-limit?"
run 4 verdite model brok
tells "Known: brock, dowel, lantern, skep, wren"

run 0 verdite model dowel --all
says "relay.operations"
run 0 verdite model dowel --search "MOST THAT THE SCALE"
says "weight.full-scale"
run 1 verdite model dowel --search honeypot
run 0 verdite model dowel --group relay
says "relay.hold"
run 0 verdite model --with "readings>=10000"
says "dowel      Dowel two-channel gauge, 37 settings: lacks readings>=10000"
says "16000"
run 1 verdite model --with relays --with supply=battery
tells "No model has all of that"
run 4 verdite model --with "channels>two"
tells "KEY>=NUMBER"
run 0 verdite model wren probe.3.alarm --variant plain
says "absent here. Only the variant with probes"
run 0 verdite model wren log.markers --firmware 2.1
says "it counts here"
run 0 verdite model wren --all --variant plain --firmware 1.2
says "Unused: "
says "Only the variant with probes has sockets for them"
run 4 verdite model wren --variant round
tells "no variant \"round\""
run 4 verdite model wren --firmware newest
run 0 verdite startup wren
says "The three-pole plug"
says "cannot be recovered"
says "wrong tries it locks"
run 4 verdite startup
run 4 verdite startup sparrow
run 0 verdite needs wren
says "from the dispatcher"
printf 'verdite-profile: 1\nmodel: wren\nsettings:\n  unit.name: Ling 4\n  trip.length: 14 d\n' >needs.yaml
run 1 verdite needs needs.yaml
says "there     Name of the load"
says "MISSING   How long the trip takes"
run 5 verdite needs none.yaml
for command in "model" "model wren --all" "model wren start.time" "startup wren" "needs wren" "needs needs.yaml"; do
    # shellcheck disable=SC2086
    verdite $command --json >"$work/out" 2>"$work/err" </dev/null
    python3 -m json.tool "$work/out" >/dev/null || fail "$command --json"
    passed=$((passed + 1))
done

# ---- models as their authors see them, and played at once
run 0 verdite check "$VERDITE_SOURCE/models/wren.yaml"
says "Right: model wren, 60 settings"
sed '0,/type: truth/s//type: thruth/; s/ log.interval >= trip.length/ log.intervall >= trip.length/; s/^  tries: 5/  tires: 5/' "$VERDITE_SOURCE/models/wren.yaml" >sick.yaml
run 1 verdite check sick.yaml
says "findings"
tells "sick.yaml, line 46, column 3"
case $err in *"not a number"*) fail "what follows from a mistake is told as another" ;; esac
tells "Do you mean truth?"
tells "Do you mean tries?"
tells "do you mean log.interval?"
run 0 verdite-bench play wren played
says "verdite read --bench played --model wren"
run 4 verdite-bench play wren played
tells "already"
run 0 verdite read --bench played --all
says "97 %"
tells "Unused: "
run 4 verdite-bench play sparrow

sed -i 's/firmware: "9.9"/firmware: "1.1"/' played/bench.yaml
run 0 verdite read --bench played
tells "The unit has firmware 1.1. The model describes 1.2 and later"
sed -i 's/firmware: "1.1"/firmware: "9.9"/' played/bench.yaml

# ---- rules: what the unit would never notice
run 0 verdite read --bench played --save logger.yaml
run 4 verdite set logger.yaml "log.interval=10 s"
tells "An interval of 1 min 15 s or more lasts"
tells "logger.yaml is unchanged"
run 0 verdite set logger.yaml unit.light=off
tells "warning: unit.light: An alarm is set, but light and beeper are off"
run 0 verdite set logger.yaml start.rule=at-temperature
tells "start.delay is unused in this unit"
run 0 verdite check logger.yaml
says "3 warnings or notes"
run 0 verdite write logger.yaml --bench played --yes
says "VERIFIED"
printf 'verdite-profile: 1\nmodel: wren\nunit: {product: wren, firmware: "1.9"}\nsettings:\n  probe.1.alarm: low\n  start.rule: at-time\n' >odd.yaml
run 1 verdite check odd.yaml
tells "probe.1.alarm does not exist in this unit. Only the variant with probes"
tells "A start at a time needs firmware 2.0"
run 4 verdite set logger.yaml access.password=4711 unit.beeper=on
tells "Give its key alone"
run 4 verdite set logger.yaml access.password
run 0 bash -c "echo 4711 | verdite set logger.yaml access.password unit.beeper=on"
run 2 verdite write logger.yaml --bench played --yes
says "(secret)"
case $out$err in *4711*) fail "a secret was shown" ;; esac
run 0 verdite read --bench played --save shared.yaml
grep -q 4711 shared.yaml && fail "a secret was saved"

# ---- read
run 0 verdite read --address 3 --all
says "QD-24003"
says "52.3 kg"
run 0 verdite read --address 3 --group relay
says "relay.hold"
run 6 verdite read --address 99
tells "No reply from address 99"
run 6 verdite read --address 3 --baud 4800
run 6 verdite read --address 3 --port other
tells "Unknown port \"other\". To list the ports: verdite ports"
run 0 verdite read --address 3 --save "$file"
run 4 verdite read --address 3 --save "$file"
tells "--replace"
run 0 verdite read --address 3 --save "$file" --replace
run 5 verdite read --address 3 --save "$work/none/x.yaml"
run 0 verdite read --address 3 --group relay --trace
tells "read holding registers 60 to 65"
run 0 verdite read --address 3 --group relay --trace-to trace.txt
grep -q "in   03 03" trace.txt || fail "no talk in the trace"

# ---- set: everything else stays as it is
printf '# mine\r\n' | cat - "$file" >"$work/mine.yaml"
cp mine.yaml before.yaml
run 0 verdite set mine.yaml weight.low-limit="20,5 kg" relay.follows=weight
says "weight.low-limit 18.0 kg 20.5 kg"
[ "$(diff before.yaml mine.yaml | grep -c '^>')" -eq 2 ] || fail "set changed more than two lines"
cp mine.yaml before.yaml
for words in weight.low-limt=3 weight.low-limit=abc "weight.low-limit=3 °C" weight.low-limit= weight.low-limit=20.55 \
    weight.low-limit=99999 "weight.low-limit=70 kg" now.weight=3 unit.averaging=10 unit.light=bright nonsense =3 \
    "unit.name=$(head -c 5000 /dev/zero | tr '\0' x)" $'unit.name=\xff'; do
    run 4 verdite set mine.yaml relay.at-rest=closed "$words"
    cmp -s before.yaml mine.yaml || fail "set $words left its mark"
done
run 5 verdite set none.yaml relay.at-rest=open
run 0 verdite set mine.yaml weight.low-limit="70 kg" weight.high-limit="80 kg"

# ---- a full disk: the old file stays whole
if [ "$(id -u)" -eq 0 ] && mkdir small && mount -t tmpfs -o size=16k none small 2>/dev/null; then
    cp mine.yaml small/ && { head -c 20000 /dev/zero >small/filler 2>/dev/null || true; }
    run 5 verdite set small/mine.yaml relay.at-rest=closed
    tells "An earlier file is unchanged"
    cmp -s mine.yaml small/mine.yaml || fail "a full disk spoilt the file"
    umount small
fi

# ---- check
run 0 verdite check "$file"
says "Right"
printf 'verdite-profile: 1\nmodel: dowel\nsettings:\n  unit.averaging: 5 kg\n  unit.lihgt: low\n' >bad.yaml
run 1 verdite check bad.yaml
tells "bad.yaml, line 4, column 19"
tells "Do you mean unit.light?"
printf 'verdite-profile: 1\nmodel: dowel\nsettings:\n  weight.tare: 5 kg\n' >part.yaml
run 2 verdite check part.yaml
tells "cannot be judged"
run 5 verdite check "$work"
tells "it is a folder"
run 5 verdite check none.yaml
printf 'model: [' >yaml.yaml
run 5 verdite check yaml.yaml
tells "not YAML"

# ---- the examples in the documents
example() { awk '/^```yaml/ { on = 1; next } /^```/ { on = 0 } on' "$VERDITE_SOURCE/docs/$1.md"; }
example profile >example.yaml
run 0 verdite check example.yaml
mkdir -p example && example bench >example/bench.yaml
run 0 verdite read --bench example --address 1 --all
says "41.2 kg"

# ---- compare
run 1 verdite compare unit factory --address 3
says "unit.name"
run 0 verdite compare unit "$file" --address 3
run 1 verdite compare "$file" mine.yaml
sed 's/^model: dowel/model: other/' "$file" >other.yaml
run 5 verdite compare "$file" other.yaml
tells "Unknown model \"other\""

# ---- write, verify
run 1 verdite write mine.yaml --address 3 # nobody says yes
tells "will be"
tells "Nothing was sent"
run 0 verdite compare unit "$file" --address 3
run 0 verdite write mine.yaml --address 3 --yes
says "VERIFIED: 32 of 32"
says "VERIFIED: "
run 0 verdite verify mine.yaml --address 3
run 3 verdite verify "$file" --address 3
says "NOT VERIFIED"
says "the unit has 70.0 kg"
run 0 verdite-bench restart "$work/bracken" hive-03
run 0 verdite verify mine.yaml --address 3
run 1 verdite write mine.yaml --address 4 --yes --own
tells "Address 3 is in use by QD-24003."
tells "Nothing was sent"
run 5 verdite write bad.yaml --address 3 --yes
run 0 env VERDITE_STORE=off verdite write "$file" --address 3 --yes # without a store the state before is a file
run 0 verdite verify "$file" --address 3
run 3 verdite verify "$(ls "$work"/state/verdite/before/dowel-QD-24003-*.yaml)" --address 3
chmod 000 "$work/state/verdite/before" && printf x >"$work/blocked"
run 5 env VERDITE_STORE=off XDG_STATE_HOME="$work/blocked" verdite write mine.yaml --address 3 --yes
tells "Nothing was sent"
chmod 755 "$work/state/verdite/before"

# ---- which unit is meant
run 6 verdite read --address 3 --serial QD-24004
tells "The unit that answers is QD-24003, not QD-24004. Nothing was sent."
run 0 verdite read --address 3 --serial QD-24003 --group relay
run 4 verdite write mine.yaml --serial "" --yes
tells "the text is empty"
run 4 verdite find --slow --quick
tells "--slow and --quick exclude each other."
sed '/^unit:/,/^read:/d' mine.yaml >anybody.yaml
run 0 verdite set anybody.yaml relay.hold=5s
run 4 verdite write anybody.yaml --yes # the address is only remembered
tells "the address of dowel QD-24003"
tells "Nothing was sent. Add --address or --serial."
run 1 verdite compare unit anybody.yaml --address 3
run 0 verdite write anybody.yaml --yes --serial QD-24003
run 0 verdite write mine.yaml --yes # the profile says which unit it is of, and that one answers
run 0 verdite read --address 4 --save four.yaml
run 0 verdite set four.yaml line.address=3 relay.hold=7s
run 1 verdite write four.yaml --address 3
tells "Skipped, QD-24004's own: line.address, unit.name, weight.tare, temperature.offset."
tells "Write 5 settings to dowel QD-24003 and store them?"

# ---- one group of a file, and a file of another model
cp "$file" group.yaml
run 0 verdite set group.yaml unit.light=high relay.at-rest=closed
run 0 verdite write group.yaml --address 3 --group relay --yes
says "VERIFIED: 4 of 4"
run 3 verdite verify group.yaml --address 3
says "unit.light                high                differs: the unit has low"
run 0 verdite write "$file" --address 3 --yes
mkdir models
cp "$VERDITE_SOURCE/models/dowel.yaml" models/
sed 's/^model: dowel/model: peg/; s/product: dowel/product: peg/' models/dowel.yaml >models/peg.yaml
sed 's/^model: dowel/model: peg/' "$file" >peg.yaml
run 5 env VERDITE_MODELS=models verdite compare "$file" peg.yaml
tells 'for the model peg, not dowel'
run 6 env VERDITE_MODELS=models verdite write peg.yaml --address 3 --yes
tells "Another model answers: Quillmere dowel"

# ---- values that cannot be read back
run 0 bash -c "echo 4711 | verdite set $file unit.panel-code"
run 2 verdite write "$file" --address 3 --yes
says "VERIFIED EXCEPT 1 that cannot be read"

# ---- for programs
run 0 verdite read --address 3 --json
python3 -c 'import json,sys; d=json.load(open(sys.argv[1])); assert d["unit"]["serial"]=="QD-24003" and d["exit"]==0 and len(d["settings"])==37' "$work/out" || fail "read --json"
for command in "ports" "model dowel" "check $file" "compare $file mine.yaml" "verify $file --address 3" "read --address 99" "raed --json"; do
    # shellcheck disable=SC2086
    verdite $command --json >"$work/out" 2>"$work/err" </dev/null
    [ "$command" = "raed --json" ] || python3 -m json.tool "$work/out" >/dev/null || fail "$command --json"
    passed=$((passed + 1))
done

# ---- units that misbehave
for fault in "exception: 1=7=does not know" "exception: 2=7=no register for its identity" "exception: 3=7=refuses the value" \
    "exception: 4=7=failed" "exception: 6=7=stayed busy" "exception: 99=7=exception 99" "damage-every: 1=6=check failed" \
    "cut-every: 1=6=stop in the middle" "function-every: 1=6=another request" "address-every: 1=6=Address 4 replied, but address 3 was asked" \
    "mute-every: 1=6=No reply" "damage-every: 3=0=" "late: 200 ms=0="; do
    IFS='=' read -r key status words <<<"$fault"
    fresh bracken
    sed -i "0,/serial: QD-24003/s//serial: QD-24003\n    faults: {$key}/" "$work/bracken/bench.yaml"
    run "$status" verdite read --address 3
    tells "$words"
done
fresh bracken
sed -i 's/latency: 1 ms/latency: 1 ms, lost-after: 90/' "$work/bracken/bench.yaml"
run 6 verdite read --address 3
tells "The port disappeared during the work"
fresh bracken
sed -i 's/latency: 1 ms/latency: 1 ms, busy: yes/' "$work/bracken/bench.yaml"
run 6 verdite read --address 3
tells "in use by another program"
sed -i 's/busy: yes/forbidden: yes/' "$work/bracken/bench.yaml"
run 6 verdite read --address 3
tells "not allowed to open"
sed -i 's/forbidden: yes/forbiden: yes/' "$work/bracken/bench.yaml"
run 5 verdite read --address 3
tells "bench.yaml, line"

# ---- the bench program
fresh bracken
run 0 verdite-bench show "$work/bracken"
says "hive-10"
run 4 verdite-bench shwo "$work/bracken"
run 4 verdite-bench restart "$work/bracken" hive-99
run 0 verdite-bench afresh "$work/bracken"

# ---- the examples that the documents point to
run 0 example-both_ends
says "verified after"
run 0 example-visit "$VERDITE_SOURCE/models/dowel.yaml" "$work/bracken" 7
says "QD-24007"
# ---- what belongs to the single unit is not given to another
fresh bracken
run 0 verdite read --address 3 --save three.yaml
run 0 verdite set three.yaml weight.low-limit="23 kg" weight.tare="7 kg" unit.name="Three"
run 4 verdite write three.yaml --address 4 --yes --owm
tells "Do you mean --own?"
run 0 verdite write three.yaml --address 4 --yes
tells "Skipped, QD-24003's own: line.address, unit.name, weight.tare, temperature.offset."
says "weight.low-limit 23 kg confirmed"
says "VERIFIED"
run 0 verdite read --address 4 --all
says "weight.low-limit 23.0 kg"
says "weight.tare 0.0 kg"
says "unit.name Bracken 4"
run 0 verdite verify three.yaml --address 4
tells "Skipped, QD-24003's own"
run 0 verdite verify three.yaml --address 4 --json
says '"left-to-its-unit"'
run 3 verdite verify three.yaml --address 4 --own
says "unit.name Three differs: the unit has Bracken 4"
run 1 verdite write three.yaml --address 4 --yes --own # its address, too
tells "Address 3 is in use"
sed -i '/line.address/d' three.yaml
run 0 verdite write three.yaml --address 4 --yes --own
run 0 verdite read --address 4 --group unit
says "unit.name Three"
printf 'verdite-profile: 1\nmodel: dowel\nsettings:\n  line.address: 44\n  line.baud: 19200\n' >moves.yaml
run 0 verdite write moves.yaml --address 4 --yes
tells "Moves the unit to address 44 at 19200 8E1"
tells "Moves the unit to address 44 at 19200 8E1"
says "line.address 44 confirmed"
says "VERIFIED: 2 of 2"
run 0 verdite verify moves.yaml # where it is now is remembered
run 6 verdite read --address 4
printf 'verdite-profile: 1\nmodel: dowel\nsettings:\n  line.address: 4\n  line.baud: 9600\n' >moves.yaml
run 0 verdite write moves.yaml --address 44 --baud 19200 --yes
run 0 verdite write three.yaml --address 3 --yes # the very unit has all of it
run 0 verdite read --address 3 --group weight
says "weight.tare 7.0 kg"
run 0 verdite model dowel weight.tare
says "belongs to the single unit"

done_testing
