#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Visits that are kept: settings without a file, a new unit's address, history, undo, finish, and profiles made of visits.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1
fresh bracken

# ---- a new unit gets its address, whatever was met last
run 0 verdite read --address 4 --group relay
run 0 verdite assign 11 "Bracken 11" 19200 --yes --remark "for hive 11"
tells "Have one new unit alone on the line"
tells "Moves the unit to address 11 at 19200 8E1, and reads it back there."
tells "Moves the unit to address 11 at 19200 8E1"
says "VERIFIED: 3 of 3"
while IFS='|' read -r status words told; do
    eval "run $status verdite assign $words --yes"
    tells "$told"
done <<'EOF'
4|0|line.address: "0" is out of range. Give 1 to 247.
4|248|line.address: "248" is out of range.
4|5 "a name that is too long"|At most 16 fit
4|5 x 12345|is not a choice
6|5|No reply from address 247
1|5 --address 4|Address 5 is in use by QD-24005. Nothing was sent.
EOF

# ---- settings without a file
run 0 verdite change "weight.high-limit=60 kg" unit.light=high --address 11 --baud 19200 --yes
says "VERIFIED: 2 of 2"
run 4 verdite change weight.hihg-limit=60 --address 11 --baud 19200 --yes
tells "weight.high-limit"
run 5 verdite change "weight.low-limit=61 kg" --address 11 --baud 19200 --yes
tells "61 kg is not below weight.high-limit"
run 2 bash -c 'echo 4711 | verdite change unit.panel-code --address 11 --baud 19200 --yes'

# ---- history
run 0 verdite history
says "dowel QD-24017 assign, 3 verified"
says "for hive 11"
says "dowel QD-24017 change, 1 verified except some"
run 0 verdite history --serial QD-24017 --json
says '"remark": "for hive 11"'
run 0 verdite history 2
says "line.address 247 -> 11 confirmed"
run 0 verdite history unit.light --serial QD-24017
says "high"
says "low"
run 0 verdite history 4
says "unit.panel-code secret -> secret"
run 4 verdite history 99
tells "Visit 99"
run 4 verdite history unit.lihgt --serial QD-24017
tells "Unknown setting"
python3 - "$VERDITE_STORE" <<'PY' || fail "a secret is in the store"
import sqlite3, sys
store = sqlite3.connect(sys.argv[1])
texts = [cell for row in store.execute("SELECT before, wanted, after FROM held") for cell in row if cell]
sys.exit(not texts or any("4711" in text for text in texts))
PY

# ---- undo: the last visit, one by its number, all of a day; what cannot be put back is told
run 0 verdite undo 3 --yes
says "weight.high-limit 65.0 kg confirmed"
says "unit.light low confirmed"
run 3 verdite undo 4 --yes
tells "Cannot be undone: unit.panel-code: it is secret and was not recorded."
says "NOT UNDONE: unit.panel-code"
run 0 verdite undo "$(date +%F)" --serial QD-24017 --yes --all
tells "Moves the unit to address 247 at 9600 8E1"
says "VERIFIED"
run 0 verdite read --address 247 --group unit
says "unit.light low"
run 4 verdite undo 2019-13-45
tells "Give its number, a day such as 2026-11-26"
run 4 verdite undo 2030-01-01 --serial QD-24017
tells "Visit 2030-01-01"
run 6 verdite undo 3 --address 5 --yes # somebody else is there
tells "dowel QD-24017 does not answer at address 5"
run 0 verdite change unit.light=off --address 247 --yes
run 1 verdite undo # nobody says yes
tells "Nothing was sent"
run 1 verdite finish
tells "No interrupted write of any unit is on record."

# ---- profiles: from defaults, from a visit, from another one; a setting taken out
run 0 verdite new plain.yaml dowel
run 0 verdite check plain.yaml
run 0 verdite new was.yaml visit:2
run 0 verdite compare was.yaml visit:2
run 1 verdite compare visit:2 visit:3
says "2 differ"
run 4 verdite new was.yaml dowel
tells "exists already"
run 0 verdite unset was.yaml line.address unit.name line.baud
grep -q "line.address" was.yaml && fail "a setting was not taken out"
run 5 verdite unset was.yaml line.address
tells "The profile does not have it."
run 0 verdite check was.yaml
run 0 verdite new again.yaml was.yaml
cmp was.yaml again.yaml || fail "a copy is no copy"
run 0 verdite verify visit:1 --address 4

# ---- what was cut off is told of, also by another command, and finished at another address
python3 - "$VERDITE_STORE" <<'PY'
import sqlite3, sys
with sqlite3.connect(sys.argv[1]) as store:
    store.execute("UPDATE visit SET ended = 0, outcome = '', step = 'write', open = 1 WHERE id = 2")
    store.execute("UPDATE held SET bits = bits & ~28 WHERE visit = 2")
PY
run 0 verdite read --address 247 --group relay
tells "Visit 2 to dowel QD-24017 ended while it was being written"
tells "Of 3 changes: 0 confirmed, 0 not sent, 3 unknown."
[ "$(tail -n 1 "$work/err")" = "Next: verdite finish (goes on), or verdite undo (undoes it)." ] ||
    fail "what to do next is not the last line"
run 0 verdite finish --yes
says "VERIFIED: 3 of 3"
tells "Moves the unit to address 11"
run 0 verdite history --count 1
says "finish, 3 verified"
run 1 verdite finish

# ---- actions: what they destroy is said and agreed to by its name, and they are judged by what is read afterwards
run 0 verdite act restart --address 4 --yes
tells "As if the supply went off and on."
says "VERIFIED: 32 of 32"
run 4 verdite act factory-defaults --address 4 --yes
tells "--yes is not enough: this destroys the settings of dowel QD-24004"
run 4 verdite act factory-defaults --address 4 --destroy memory
tells "It would be --destroy settings."
run 1 bash -c 'echo yes | verdite act factory-defaults --address 4'
tells "type settings"
run 0 verdite act factory-defaults --address 4 --destroy settings
tells "Moves the unit to address 247 at 9600 8E1"
says "line.address 247 confirmed"
says "unit.name - confirmed"
run 1 verdite act factory-defaults --address 5 --destroy settings # one new unit exists already
tells "Address 247 is in use by QD-24004."
run 0 verdite undo --serial QD-24004 --yes
says "line.address 4 confirmed"
says "unit.name Bracken 4 confirmed"
run 4 verdite act restrat --address 4 --yes
tells 'The model dowel has no action "restrat". Do you mean restart?'
fresh yard
run 2 verdite act lamp-test --model lantern --port cab-cable --yes
says "ACCEPTED: nothing that can be read shows that it was done."
run 7 verdite act clear-memory --model brock --port sorrel-box --destroy memory
tells "password"
run 0 verdite history --count 2
says "lantern QL-11025 lamp-test accepted"
says "brock QB-31007 clear-memory nothing sent"
sed -i 's/variant: sound/variant: plain/; s/firmware: "1.3"/firmware: "1.0"/' "$work/yard/bench.yaml"
printf 'verdite-profile: 1\nmodel: skep\nsettings:\n  unit.name: HIVE\n  sound.threshold: 60 dB\n  report.check-every: 1 min\n' >s.yaml
run 5 verdite write s.yaml --port hive-cable --yes # not by half
tells "Not in this unit: report.check-every. Looking more often than reporting came with firmware 1.2."
tells "Not in this unit: sound.threshold. Only the variant with a microphone hears the bees."
[ "$(tail -n 1 "$work/err")" = "Next: --fitting skips them. To remove them from the file: verdite unset s.yaml report.check-every sound.threshold" ] ||
    fail "what to do next is not the last line"
run 3 verdite verify s.yaml --port hive-cable
run 0 verdite write s.yaml --port hive-cable --yes --fitting
says "VERIFIED: 1 of 1"
run 0 verdite verify s.yaml --port hive-cable --fitting
# What a restart proved then and nothing proves now is told as that; what has another value since is not.
printf 'verdite-profile: 1\nmodel: brock\nsettings:\n  unit.name: Box 7\n' >box.yaml
VERDITE_PASSWORD=0000 run 0 verdite write box.yaml --port sorrel-box --yes
run 2 verdite verify box.yaml --port sorrel-box
says "EQUAL: 1 of 1 setting read back live; storage was last proved $(date +%Y)-"
run 2 verdite verify box.yaml --port sorrel-box --json
says '"proved-at":'
fresh bracken

# ---- a store that fails: before anything was sent nothing is, and later the visit goes on and says so
command_store() {
    python3 -c 'import sqlite3, sys; d = sqlite3.connect(sys.argv[1]); d.executescript(sys.argv[2]); d.commit()' "$VERDITE_STORE" "$1"
}
# A statement fails where an expression of an index does; triggers of others do not run.
fails() { command_store "DROP INDEX IF EXISTS no; CREATE INDEX no ON visit (abs(CASE WHEN $1 THEN -9223372036854775808 ELSE 1 END))"; }
last=$(verdite history --count 1 --json 2>err | sed -n 's/.*"visit": \([0-9]*\),/\1/p' | head -n 1)
fails "id > $last"
run 5 verdite change unit.light=off --address 6 --yes
tells "could not be kept (integer overflow). Nothing was sent"
run 0 verdite read --address 6 --group unit
says "unit.light low"
fails "id > $last AND (step <> 'keep' OR ended > 0)"
run 0 verdite change unit.light=off --address 6 --yes
says "VERIFIED: 1 of 1"
tells "Not kept from here on: integer overflow."
tells "This visit is not recorded: integer overflow."
command_store "DROP INDEX no"
run 0 verdite read --address 6 --group unit # what is not known to have ended is told
tells "ended before anything was sent"
run 0 verdite finish --yes
says "VERIFIED: 1 of 1"

# ---- what nothing shows to be stored is shown by a supply that was off and on
mkdir models
sed 's/proof: bank, bank-offset: 2048/proof: none/' "$VERDITE_SOURCE/models/dowel.yaml" >models/dowel.yaml
run 2 env VERDITE_MODELS="$work/models" verdite change unit.light=high --address 7 --yes
says "LIVE, STORAGE NOT PROVED"
tells "Only switching the unit off and on shows what is stored: verify with --by-hand."
printf 'verdite-profile: 1\nmodel: dowel\nsettings: {unit.light: high}\n' >light.yaml
run 2 env VERDITE_MODELS="$work/models" verdite verify light.yaml --address 7
says "LIVE, STORAGE NOT PROVED"
run 0 verdite-bench restart "$work/bracken" hive-07
run 2 env VERDITE_MODELS="$work/models" verdite verify light.yaml --address 7 # others may have written since
says "EQUAL: 1 of 1 setting read back live; outlasted a restart at $(date +%Y)-"

# ---- a unit that had the address may only be unplugged
run 0 verdite read --address 9 --group relay
run 0 verdite-bench unplug "$work/bracken" hive-09
run 0 verdite change line.address=9 --address 8 --yes
tells "note: dowel QD-24009 had address 9 behind this adapter on"
run 0 verdite undo --serial QD-24008 --yes
run 0 verdite-bench plug "$work/bracken" hive-09
run 0 verdite read --address 9 --group relay --line Bracken
run 0 verdite read --address 9 --group relay # whoever does not say it again has not moved it
run 0 verdite-bench unplug "$work/bracken" hive-09
run 1 verdite change line.address=9 --address 8 --yes --line Bracken
tells "Address 9 belongs to dowel QD-24009 on this line, which may only be unplugged. Nothing was sent."
run 0 verdite change line.address=9 --address 8 --yes --line Ling # one adapter serves many lines
case $err in *"had address 9"*) fail "told of a unit on another line" ;; esac
run 0 verdite undo --serial QD-24008 --yes
run 0 verdite-bench plug "$work/bracken" hive-09

# ---- a supply that may fail in the middle is told before, whatever is changed
sed -i '0,/now.supply: 12.4 V/s//now.supply: 9.8 V/' "$work/bracken/bench.yaml"
run 0 verdite change unit.light=high --address 1 --yes
tells "The supply is down to 9.8 V; below 9 V the gauge stops."
run 0 verdite change unit.light=low --address 1 --yes

# ---- what is set in hangs by its own beginning, on a narrow screen too
run 1 env COLUMNS=40 verdite change weight.low-limit="21 kg" weight.alarm=low --address 10
tells "
  Weight low: new, sounds when the hive
    is lighter than 21 kg for 10 s. It"

# ---- several on one line, and two that change their addresses
printf 'verdite-profile: 1\nmodel: dowel\nsettings:\n  unit.light: high\n' >all.yaml
run 6 verdite write all.yaml --addresses 1-3,40 --yes
says "address 1 QD-24001 VERIFIED"
says "address 3 QD-24003 VERIFIED"
says "address 40 - not reached"
run 3 verdite verify all.yaml --addresses 2,5
says "address 2 QD-24002 VERIFIED"
says "address 5 QD-24005 NOT VERIFIED"
run 6 verdite write all.yaml --addresses 1,40 --yes --json
says '"asked-address": 40'
for list in x 0-3 5-2 1,,2 1-300; do
    run 4 verdite write all.yaml --addresses "$list" --yes
    tells "is not a list of addresses"
done
run 4 verdite write all.yaml --addresses 1 --address 3
tells "exclude each other"
printf '  line.address: 77\n' >>all.yaml # one address for all of them
run 4 verdite write all.yaml --addresses 1-2 --yes
tells "line.address would give all units the same address."

# ---- their restarts overlap, and each is followed
run 0 verdite change --addresses 1-4 line.baud=19200 --yes --trace-to side.txt
says "address 4 QD-24004 VERIFIED"
# The second is read, which begins with object 0 at its address, before the first is read back at its new speed.
second=$(grep -n "out 02 2B 0E" <(tr -s ' ' <side.txt) | head -1 | cut -d: -f1)
last=$(grep -n "out 01 " <(tr -s ' ' <side.txt) | tail -1 | cut -d: -f1)
[ "$second" -lt "$last" ] || fail "restarts do not overlap"
run 0 verdite change --addresses 1-4 --baud 19200 line.baud=9600 --yes
says "address 1 QD-24001 VERIFIED"

# ---- all of them at once: nobody else may hear it; the check bytes were worked out by hand
run 1 verdite change --addresses 1-3 weight.low-limit="21 kg" --at-once --yes
tells "8 units that you did not name would receive this too. Nothing was sent."
tells "dowel QD-24017 at address 247"
run 0 verdite change --addresses 1-10,247 weight.low-limit="21 kg" weight.alarm=low --at-once --yes --trace-to call.txt
tells "By broadcast to 11 units: weight.low-limit, weight.alarm."
says "address 10 QD-24010 VERIFIED"
says "address 247 QD-24017 VERIFIED"
[ "$(tr -s ' ' <call.txt | grep -c "out 00 06 00 19 00 D2 D9 81")" = 1 ] || fail "not called out, or more than once"
[ "$(tr -s ' ' <call.txt | grep -cE "out [0-9A-F]{2} (06|10) 00 19")" = 1 ] || fail "called out, and written as well"
run 0 verdite undo --serial QD-24002 --address 2 --yes
says "weight.low-limit 18.0 kg confirmed"
run 4 verdite change --addresses 1 weight.low-limit="21 kg" unit.name=Ling --at-once --yes --model wren
run 4 verdite write all.yaml --address 1 --at-once --yes
tells "--at-once needs several units."

# One count means another weight where a gauge has other decimals: then it is no matter for a broadcast.
run 0 verdite change weight.decimals=2 --address 2 --yes
run 0 verdite change --addresses 1-10,247 weight.low-limit="23 kg" unit.averaging="3 s" --at-once --yes --trace-to other.txt
says "address 2 QD-24002 VERIFIED"
says "address 10 QD-24010 VERIFIED"
grep -qE "out 00 (06|10) 00 19" <(tr -s ' ' <other.txt) && fail "called out, and meant something else to one of them"
grep -qE "out 00 06" <(tr -s ' ' <other.txt) || fail "nothing called out"
run 0 verdite change weight.decimals=1 --address 2 --yes

# ---- what is said of them, and what does not fit
run 6 verdite change --addresses 1,40 unit.light=off
says "address 1 QD-24001 nothing sent"
says "address 40 - not reached"
run 4 verdite change --addresses 1-2 --model lantern panel.name=X --yes --bench "$work/yard" --port cab-cable
tells "The model lantern has no address. Leave --addresses out."
long=$(printf '%0300d' 1)
run 4 verdite change --address 1 unit.light=off --line "$long" --yes
tells "At most 63 bytes."
run 4 verdite change --address 1 unit.light=off --remark "$long" --yes

# ---- one address for several on purpose: told once, understood by nobody, and never called verified
mkdir shared
sed 's/factory: 247}/factory: 247, shared: yes}/' "$VERDITE_SOURCE/models/dowel.yaml" >shared/dowel.yaml
fresh bracken-clash
run 4 verdite change --address 4 --shared weight.alarm=low --yes --model dowel
tells "No two units of the model dowel share an address."
VERDITE_MODELS=$work/shared
run 3 verdite change --address 4 --shared weight.alarm=low unit.name=X --yes --model dowel --trace-to told.txt
says "TOLD, NOT VERIFIED: 1 setting, to every unit at address 4. Nothing was read back."
tells "Skipped, cannot be the same in all of them: unit.name."
[ "$(grep -c " out 04 06" <(tr -s ' ' <told.txt))" = 2 ] || fail "said more than once, or not stored"
[ "$(grep -oE '"weight.alarm": ?"low"' "$work/bracken-clash/state.json" | wc -l)" = 6 ] || fail "not live and stored in both" # one had it before
run 1 verdite change --address 4 --shared unit.name=X --yes --model dowel
tells "None of this can be sent to several units at once. Nothing was sent."
run 3 verdite change --address 4 --shared weight.alarm=low --yes --model dowel --json
says '"outcome": "told"'
run 4 verdite change --shared weight.alarm=low --yes --model dowel
VERDITE_MODELS=$VERDITE_SOURCE/models
fresh bracken
run 0 verdite swap 3 5 --yes
tells "Done: QD-24003 is at 5, QD-24005 at 3."
run 0 verdite find --from 3 --to 5 --quick
says "address 3 9600 8E1 dowel QD-24005"
says "address 5 9600 8E1 dowel QD-24003"
run 4 verdite swap 3 3
run 4 verdite swap 1 2 --model wren --bench "$work/yard" --port logger-cable --yes # which has no setting for it
run 4 verdite swap 3 x
run 6 verdite swap 3 44
tells "A unit of this model does not answer at address 44."

# ---- without a store there is no history, and the state before is a file
export VERDITE_STORE=off
run 0 verdite history
tells "No visits are recorded"
run 5 verdite undo --address 4 --yes
tells "No visits are on record"
run 5 verdite compare visit:1 unit --address 4
run 0 verdite change unit.light=off --address 4 --yes
tells "The state before is kept in $work/state/verdite/before/dowel-QD-24004-"

# ---- a store on a disk that takes nothing more: changes go on without it, and nobody says what it does not know
mkdir disk
if unshare --mount mount -t tmpfs none disk 2>/dev/null; then
    unshare --mount bash -s <<'SH' || fail "a store on a read-only disk"
    set -eu
    mount -t tmpfs none disk
    export VERDITE_STORE=$PWD/disk/store.db
    verdite change unit.light=high --address 4 --yes >out 2>err
    mount -o remount,ro disk
    verdite change unit.light=low --address 4 --yes >out 2>err
    grep -q "cannot be used: Read-only file system. Work goes on without it." err
    for command in "undo --address 4 --yes" "history" "finish --yes"; do
        status=0
        verdite $command >out 2>err || status=$?
        [ "$status" = 5 ] && grep -q "No visits are on record" err || { cat out err; exit 1; }
    done
SH
fi
done_testing
