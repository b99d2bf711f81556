#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Rounds: the units of a list, one after another, many on a line, at several ports; and what goes wrong on the way.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
mkdir "$work/rounds" && cd "$work/rounds" || exit 1
run 0 verdite new hive.yaml dowel
run 0 verdite set hive.yaml "weight.high-limit=65 kg"

# tray UNIT...: a bench of its own, and an empty store. A unit: model, serial number, address (- none), cable, and what
# else stands in its file, with ; between the lines.
tray() {
    rm -rf bench "$work/state"
    mkdir bench
    {
        printf 'verdite-bench: 1\nname: x\nadapters:\n'
        for cable in $(printf '%s\n' "$@" | cut -d ' ' -f 4 | sort -u); do
            printf '  - {name: %s-usb, label: adapter %s, cable: %s, latency: 1 ms}\n' "$cable" "$cable" "$cable"
        done
        printf 'units:\n'
        local model serial address cable rest
        for unit in "$@"; do
            read -r model serial address cable rest <<<"$unit"
            printf '  - name: %s\n    model: %s\n    cable: %s\n    serial: %s\n    firmware: "1.4"\n' \
                "$(tr '[:upper:]' '[:lower:]' <<<"$serial")" "$model" "$cable" "$serial"
            [ "$address" = - ] || printf '    settings: {line.address: %s}\n' "$address"
            printf '%s\n' "$rest" | tr ';' '\n' | sed 's/^/    /'
        done
    } >bench/bench.yaml
    export VERDITE_BENCH=$PWD/bench
}
# holds UNIT SETTING VALUE: what the bench itself knows of a unit, stored, which no client of ours has told us.
holds() {
    python3 - "$1" "$2" "$3" <<'PYTHON' || fail "$1: $2 is not $3"
import json, sys
kept = json.load(open("bench/state.json"))["units"][sys.argv[1]]["stored"].get(sys.argv[2])
sys.exit(0 if kept == sys.argv[3] else f"{sys.argv[2]} is {kept}")
PYTHON
    passed=$((passed + 1))
}

# ---- the tray that ships: twelve from the box, one after another; the third comes twice, and one is on no list
cp -r "$VERDITE_SOURCE/benches/tray" tray && rm -f tray/state.json
export VERDITE_BENCH=$PWD/tray
run 0 verdite round tray/tray.csv hive.yaml --yes
for number in 01 02 03 04 05 06 07 08 09 10 11 12; do
    says "QD-300$number"
done
says "QD-30012 Yarrow 3 247 -> 12 VERIFIED"
says "ROUND DONE: 12 of 12 done now, 0 left."
tells "QD-30003 was set to address 3 just now: fine."
tells "dowel QD-39017 is not on the list. Nothing was written to it."
tells "Next: QD-30005 (Sorrel 2). Plug it in at RS-485 adapter at the tray (tray-usb)."
cp -r tray bench
holds dowel-07 line.address 7
holds dowel-07 weight.low-limit "21.5 kg"
holds stranger line.address 247
run 0 verdite status tray/tray.csv hive.yaml --json
says '"state": "done"'
run 0 verdite round tray/tray.csv hive.yaml --yes
tells "12 of 12 were done before"
run 3 verdite round tray/tray.csv hive.yaml --yes --all --json
says '"state":"done"'

# ---- all on one line, each at some address; nobody was met there before
tray "dowel QD-1 5 a" "dowel QD-2 77 a" "dowel QD-3 247 a" "dowel QD-9 200 a"
printf 'serial,line.address,unit.name\nQD-3,3,Three\nQD-1,1,One\nQD-2,2,=Two\n' >list.csv
run 1 verdite status list.csv hive.yaml
says "never seen"
run 0 verdite round list.csv hive.yaml --yes --json
says '"asked-address":77'
says '"command":"round"'
holds qd-2 unit.name "=Two"
holds qd-9 line.address 200
run 0 verdite status list.csv hive.yaml
says "Done, as kept here: 3 of 3."
# another laptop, with an empty store: already right, and known as that from then on
rm -rf "$work/state"
run 0 verdite round list.csv hive.yaml --yes
says "at 2 already right"
run 0 verdite round list.csv hive.yaml --yes
tells "3 of 3 were done before"
# changed since, by whoever: left alone unless that is agreed to
run 0 verdite change weight.low-limit=17 --address 2 --yes
run 3 verdite round list.csv hive.yaml --yes
tells "has changed since: weight.low-limit. Nothing was sent. To write it again: --agree changed"
says "changed since"
holds qd-2 weight.low-limit "17.0 kg"
run 1 verdite status list.csv hive.yaml
says "changed since it was done"
run 0 verdite round list.csv hive.yaml --yes --agree changed
holds qd-2 weight.low-limit "18.0 kg"
# a list that was edited is another list: nobody need be asked
sed -i 's/One/Uno/' list.csv
run 0 verdite round list.csv hive.yaml --yes
holds qd-1 unit.name Uno

# ---- two from the box at once: none is written
tray "dowel QD-1 247 a" "dowel QD-2 247 a"
printf 'serial,line.address\nQD-1,1\nQD-2,2\n' >list.csv
run 3 verdite round list.csv hive.yaml --yes
tells "Two units answer at address 247"
tells "Nothing was written to them. Unplug one."
holds qd-1 line.address 247
holds qd-2 line.address 247

# ---- gone half-way: named, finished first, and open no longer
tray "dowel QD-1 247 a hands: [{does: unplug, at: 6 s}, {does: plug, at: 70 s}]"
printf 'serial,line.address\nQD-1,1\n' >list.csv
run 0 verdite round list.csv hive.yaml --yes --wait "2 min"
tells "QD-1: Went away while it was written. Plug it in again: it is finished first."
says "NOT VERIFIED: 0 of 31"
holds qd-1 line.address 1
run 1 verdite finish --yes
tray "dowel QD-1 247 a hands: [{does: unplug, at: 1 s}]"
run 3 verdite round list.csv hive.yaml --yes
tells "Went away before anything was written."
holds qd-1 line.address 247

# ---- by order, by a number, by a code
tray "dowel QD-1 247 a hands: [{does: unplug, at: 15 s}]" "dowel QD-2 247 a unplugged: yes;hands: [{does: plug, at: 17 s}]"
printf 'line.address,unit.name\n5,One\n6,Two\n' >list.csv
run 3 verdite round list.csv hive.yaml --yes
tells "dowel QD-1 is not on the list. Nothing was written to it. To give it the next free row: --by-order"
verdite-bench afresh bench
run 0 verdite round list.csv hive.yaml --yes --by-order --save new.csv
tells "By order: QD-2 becomes Two."
grep -q '^6,Two,QD-2' new.csv || fail "the saved roster does not say who is who"
run 4 verdite round list.csv hive.yaml --yes --by-order --save new.csv --all
tells "new.csv exists already"
tells_not "Next:"
verdite-bench afresh bench
run 0 verdite round hive.yaml --number "from 2 but 3" --yes
holds qd-1 line.address 2
holds qd-2 line.address 4
run 4 verdite round hive.yaml --number "2-x" --yes
tells '"2-x" is no plan of addresses.'
run 4 verdite round list.csv hive.yaml --number "from 2" --yes

# ---- several ports, other models
tray "wren QW-1 - a" "dowel QD-2 3 b" "dowel QD-5 247 c"
printf 'serial,model,line.address,unit.name\nQD-2,wren,,\nQD-5,dowel,5,\nQW-1,wren,,Tom\n' >list.csv
run 3 verdite round list.csv --yes
tells "QD-2 is a dowel, and the list says wren. Nothing was written to it."
holds qd-5 line.address 5
holds qw-1 unit.name Tom

# a unit that was done, and answers at the address of the box again: nothing of it is taken for fine
tray "dowel QD-1 247 a hands: [{does: unplug, when: asked, turn: 1}]" \
    "dowel QD-1 247 a unplugged: yes;hands: [{does: plug, when: asked, turn: 1, after: 2 s}]"
sed -i '0,/name: qd-1/s//name: first/' bench/bench.yaml
printf 'serial,line.address\nQD-1,1\nQD-2,2\n' >list.csv
run 3 verdite round list.csv hive.yaml --yes
tells "NEEDS YOU: QD-1 was set to address 1 and answers at 247. It is read again."
tells "has changed since"
says "changed since"
holds qd-1 line.address 247

# units without a serial number, each told by its code
tray "dowel - 247 a hands: [{does: unplug, when: asked, turn: 1}]" \
    "dowel - 247 a unplugged: yes;hands: [{does: plug, when: asked, turn: 1, after: 1 s}]"
sed -i 's/serial: -/serial: ""/; 0,/name: -/s//name: first/; s/name: -/name: second/' bench/bench.yaml
printf 'code,line.address\nX-0001,1\nX-0002,2\n' >list.csv
run 0 python3 "$VERDITE_SOURCE/tests/keys.py" 80 'type write:=>type write' 'Scan or type the code=>scan X-0001' \
    'Scan or type the code=>scan X-0002' -- verdite round list.csv hive.yaml --wait "5 min"
holds first line.address 1
holds second line.address 2
run 0 verdite status list.csv hive.yaml

# cut off, there again for a moment, and gone: it is still half-way, whatever the second try sent
tray "dowel QD-1 247 a hands: [{does: unplug, at: 4 s}, {does: plug, at: 40 s}, {does: unplug, at: 40400 ms}]"
printf 'serial,line.address\nQD-1,1\n' >list.csv
run 6 verdite round list.csv hive.yaml --yes --wait "1 min" --json
says '"state":"cut-off"}],"exit":6'

# each address is that of the next unit: those that are in the way go first
tray "dowel QD-1 1 a" "dowel QD-2 2 a" "dowel QD-3 3 a"
printf 'serial,line.address,unit.name\nQD-1,2,\nQD-2,3,\nQD-3,4,Hof\n' >list.csv
run 0 verdite round list.csv hive.yaml --yes
holds qd-1 line.address 2
holds qd-2 line.address 3
printf 'serial,line.address\nQD-1,3\nQD-2,2\n' >list.csv
run 3 verdite round list.csv hive.yaml --yes # in a ring nobody can
tells "Address 3 is in use by QD-2"
holds qd-1 line.address 2

# two profiles of one model, each with a secret of its own
tray "dowel QD-1 1 a" "dowel QD-2 2 a"
for name in A B; do
    printf 'verdite-profile: 1\nmodel: dowel\nsecrets: {unit.panel-code: environment CODE_%s}\nsettings: {unit.light: high}\n' $name >$name.yaml
done
printf 'serial,profile,line.address\nQD-1,A.yaml,1\nQD-2,B.yaml,2\n' >list.csv
run 2 env CODE_A=1111 CODE_B=2222 verdite round list.csv --yes
holds qd-1 unit.panel-code 1111
holds qd-2 unit.panel-code 2222

# a spreadsheet that dropped zeros; two names of one line; a remark that is kept
tray "dowel 0077 247 a"
printf 'serial,line.address,line,remark\n77,7,Bracken,by the gate\n' >list.csv
run 3 verdite round list.csv hive.yaml --yes
tells "dowel 0077 is not on the list. Nothing was written to it. The list says 77 in line 2: a spreadsheet drops zeros."
sed -i 's/^77/0077/' list.csv
run 0 verdite round list.csv hive.yaml --yes
run 0 verdite history
says "by the gate"

# a list that is edited while the round runs: it is read once
tray "dowel QD-1 247 a"
printf 'serial,line.address\nQD-1,1\n' >list.csv
edited() { (sleep 0.3 && printf 'QD-2,2\n' >>list.csv) & verdite round list.csv hive.yaml --yes --wait "20 min"; }
printf 'serial,line.address\nQD-1,1\nQD-5,5\n' >list.csv
run 3 edited
tells "note: list.csv was edited while the round ran. Run it again to take that."

# a roster of who is there, and of who was met
run 0 verdite roster there.csv find --json
grep -q '^QD-1,dowel,a-usb,1,' there.csv || fail "the unit that is there is not in the roster"
run 0 verdite roster met.csv visits
run 0 verdite check met.csv hive.yaml
tells "Missing in 1 of 1 rows: Name of each hive. It comes from the bee-keeper."
run 4 verdite roster met.csv visits
run 4 verdite roster met.csv nowhere
run 4 verdite roster met.yaml visits

# ---- what keeps a round from beginning
printf 'serial\nQD-1\nQD-1\n' >twice.csv
run 5 verdite round twice.csv hive.yaml --yes
tells '"QD-1" stands in line 2, too'
tells "Nothing was sent. Correct the roster first: verdite check twice.csv"
printf 'serial,line.address\nQD-5,6\n' >list.csv
run 1 verdite round list.csv hive.yaml
tells "Nothing was written."
# a store that is full: what was begun is told, and nobody else is written
tray "dowel QD-1 247 a hands: [{does: unplug, at: 15 s}]" "dowel QD-2 247 a unplugged: yes;hands: [{does: plug, at: 17 s}]"
printf 'serial,line.address\nQD-1,1\nQD-2,2\n' >list.csv
run 0 verdite read --address 247
filled() { (ulimit -f 60 && verdite round list.csv hive.yaml --yes); }
run 5 filled
tells "QD-2: verdite: The state before could not be kept"
says "QD-2 at 247 nothing sent"
holds qd-2 line.address 247
# ---- a scanner is a keyboard: a scan is no answer, is held until its unit comes, and another one replaces it
tray "dowel QD-1 247 a hands: [{does: unplug, when: asked, turn: 1}]" \
    "dowel QD-2 247 a unplugged: yes;hands: [{does: plug, when: asked, turn: 1, after: 2 s}]"
printf 'code,line.address\nX-0001,1\nwrite,2\n' >list.csv
run 0 typing 80 'type write:=>scan X-0001' 'plug it in=>scan write' 'instead=>type write' \
    'code of the unit QD-2=>scan X-0009' 'not on the list=>scan X-0001' -- \
    verdite round list.csv hive.yaml --wait "5 min"
says "X-0001 scanned: plug it in."
says "write scanned instead of X-0001: plug it in."
says "NEEDS YOU: X-0009 was scanned. It is not on the list."
holds qd-1 line.address 2
holds qd-2 line.address 1
run 0 verdite status list.csv hive.yaml
run 1 typing 40 'type write:=>type no' -- verdite round list.csv hive.yaml --all
says "Nothing was written."
run 8 typing 40 'type write:=>stop now' -- verdite round list.csv hive.yaml --all
says "Nothing was written."

# ---- a port of three that is pulled in mid-write, and a line on which something else is heard
tray "dowel QD-1 247 a" "dowel QD-2 247 b" "dowel QD-3 247 c"
sed -i 's/{name: b-usb, /{name: b-usb, lost-after: 700, /' bench/bench.yaml
printf 'serial,line.address\nQD-1,1\nQD-2,2\nQD-3,3\n' >list.csv
run 6 verdite round list.csv hive.yaml --yes
tells "b-usb is gone. Plug the adapter in again."
says "NOT ALL DONE: 2 of 3 done now, 1 left."
tray "dowel QD-1 247 a"
sed -i 's/{name: a-usb, /{name: a-usb, noise: 50, /' bench/bench.yaml
run 6 verdite round list.csv hive.yaml --yes
tells "NEEDS YOU: No unit can be understood there."
done_testing
