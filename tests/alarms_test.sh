#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Alarms as a person meets them: read aloud, changed by what they mean, tried out on values and on logs.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1
days=$VERDITE_SOURCE/logs/heather-days.csv

# ---- Read aloud
run 0 verdite alarms skep
says "Brood: sounds when the brood is outside 34.0 °C to 36.0 °C. It ends once the brood is back inside"
tells "skep: 3 alarms, 0 not in use."
run 0 verdite alarms skep --variant plain
says "Swarm: not used."
run 0 verdite alarms wren inside-high
says "Inside high: sounds when it is warmer inside than 40.0 °C for 15 min."
run 0 verdite alarms wren "Inside high" # as it is shown
says "Inside high: sounds when it is warmer inside"
run 0 verdite alarms wren "probe 3 LOW"
says "Probe 3 low: not used."
run 0 verdite alarms brock "alarm 2"
says "Alarm 2: not used."
run 0 verdite alarms wren --table
says "Inside low it is colder inside than 5.0 °C 15 min it is at 5.0 °C or warmer inside blinks red"
run 4 verdite alarms wren inside-hi
tells "A wren has no alarm \"inside-hi\". Do you mean inside-high?"
run 0 verdite new box.yaml brock
run 0 verdite alarms box.yaml --json
python3 -c 'import json, sys
all = json.load(sys.stdin)
assert [a["key"] for a in all["alarms"]] == ["alarm.1", "alarm.2", "alarm.3", "alarm.4"] and all["free"] == 4, all' <"$work/out" || fail "the data"

# Each alarm can be set again from its sentence alone, by somebody who has never seen these settings.
run 0 python3 "$VERDITE_SOURCE/tests/telephone.py"
says "cases, each heard as it was said"

# ---- Changed by what they mean
run 0 verdite set box.yaml person.1.name=Ann person.1.phone=+447700900123
run 0 verdite alarm box.yaml add speed above 90 km/h for 10 s does message,output-1 tells Ann text "TOO FAST"
says "alarm.1.limit 0.0 90 km/h"
tells "Alarm 1: new, sounds when the trailer is faster than 90 km/h for 10 s. It ends once the trailer is at 90 km/h or slower. It sends a text message to Ann and switches output 1, with the text \"TOO FAST\"."
tells "Nothing was sent to a unit."
run 0 verdite alarm box.yaml add "input-2 is on"
tells "Alarm 2: Nothing is connected to Input 2, so it never sounds."
run 0 verdite alarm box.yaml add voltage below 0 V does call
tells "Alarm 3: Supply measures 0.0 V to 40.0 V, so it never sounds."
tells "Alarm 3: It tells nobody: no recipient is chosen."
# Just at the edge of what it measures, and one step within.
edge() { # WORDS... WHAT: never, always or, of one that may sound, nothing
    run 0 verdite new edge.yaml brock
    run 0 verdite alarm edge.yaml add "${@:1:$#-1}" does report
    local said=none
    [[ $err != *"so it never sounds"* ]] || said=never
    [[ $err != *"so it always sounds"* ]] || said=always
    [ "$said" = "${*: -1}" ] || fail "${*:1:$#-1}: $said"
    rm edge.yaml
}
edge speed above 160 km/h never
edge speed above 159 km/h none
edge voltage below 0 V never
edge voltage below 0.1 V none
run 0 verdite alarm box.yaml 3 below "11.8 V" tells second
tells "Alarm 3: It tells somebody whose number is unknown."
run 0 verdite set box.yaml alarm.3.source=speed "alarm.3.limit=11 km/h"
run 4 verdite set box.yaml alarm.3.source=moved
tells "\"11 km/h\" has the wrong unit."
tells "Alarm 3: It watches Moved now, but its limit was not changed."
run 0 verdite alarm box.yaml 3 speed above 90 km/h for 10 s does report # the other one sends a message
case $err in *"Alarm 1 is the same alarm"*) fail "two that do different things are called the same" ;; esac
run 0 verdite alarm box.yaml 3 does message,output-1 tells first text "TOO FAST"
tells "Alarm 3: Alarm 1 is the same alarm."
run 0 verdite alarm box.yaml clear 3
tells "Alarm 3: no longer used."
cp box.yaml same.yaml
bad() { # WORDS... MESSAGE: refused with this, and the file stays as it is
    local message=${*: -1}
    run 4 verdite alarm box.yaml "${@:1:$#-1}"
    tells "$message"
    cmp -s box.yaml same.yaml || fail "the file was changed"
}
bad add weight above 3 kg "cannot watch weight. It can watch: input-1"
bad add speed below 3 km/h "cannot be below. Here it can be: above"
bad add speed above 300 km/h "\"300 km/h\" is out of range. Give 0 to 160 km/h"
bad add speed above 3 kg "\"3 kg\" has the wrong unit"
bad add speed above "90 km/h" for 10 "needs a unit of time"
bad add speed "After a channel give above, below"
bad add speed above "A value is missing after this word."
bad add input-1 is open "has no state open"
bad add input-1 is on only while speed above 3 km/h "has no room for so many conditions"
bad 1 does whistle "cannot do whistle. It can do: report message call output-1 output-2"
bad 1 tells Bob "knows nobody called Bob. By name or number"
bad 1 release 3 km/h "has no release."
bad 1 latches on "cannot latch."
bad 1 above 80 km/h below 3 "does not belong here"
run 4 verdite alarm skep add brood above 3 °C
tells "Factory defaults cannot be changed."
run 0 verdite new hive.yaml skep --variant sound
run 4 verdite alarm hive.yaml clear brood
tells "Brood cannot be cleared. This unit always watches it. Only its limits can be changed."
run 0 verdite alarm hive.yaml brood outside 33.5 to 36.5 °C
says "brood.low-limit 34.0 °C 33.5 °C"
run 0 verdite new cab.yaml lantern
run 0 verdite alarm cab.yaml add channel-2 is on for 2s only while channel-1 is on does lamp-2,lamp-3 latches off
tells "but only while Channel 1 is on. It ends once Channel 2 is no longer on, or the condition is lost."
run 0 verdite alarm cab.yaml 1 only while nothing
says "alarm.1.only-while channel-1 nothing"
run 0 verdite new new.yaml lantern --firmware 4.0
run 0 verdite alarm new.yaml add tyre below 7.0 bar release 0.3 bar for 10 s only while speed above 5 km/h does lamp-1
tells "Alarm 1: new, sounds when the tyre is softer than 7.0 bar for 10 s, but only while the trailer is faster than 5 km/h. It ends once the tyre is at 7.3 bar or harder, or the condition is lost."
run 0 verdite alarm new.yaml add load above 8 °C only while channel-1 is on
says "alarm.2.side below above"
run 0 verdite alarm new.yaml 1 only while speed below 3 km/h
says "alarm.1.only-side above below"
run 0 verdite try new.yaml tyre=6 speed=2
says "Alarm 1: would sound after 10 s (6.0 bar)."
run 0 verdite try new.yaml tyre=6 speed=5
says "since its condition does not hold"
run 0 verdite set new.yaml setup.1.alarms=alarm-2
tells "Alarm 1: The setup in force leaves it out, so it never sounds."
run 0 verdite alarm new.yaml add load above 5 °C
run 0 verdite alarm new.yaml add load below 6 °C
tells "Alarm 4: Together with Alarm 3 it always sounds: they cover everything that Load measures."
run 0 verdite new old.yaml lantern --firmware 3.2
run 4 verdite alarm old.yaml add tyre below 7.0 bar
tells "cannot watch tyre. It can watch: channel-1 channel-2 channel-3 channel-4"
run 0 verdite new gauge.yaml dowel
run 0 verdite alarm gauge.yaml add weight below 20 kg does relay latches on
says "weight.alarm none low"
run 0 verdite alarm gauge.yaml add weight above 60 kg release 1 kg
says "weight.alarm low both"
run 0 verdite alarm gauge.yaml clear weight-low
says "weight.alarm both high"
run 0 verdite check gauge.yaml
[ "$out" = "Right: dowel, 32 settings." ] || fail "check says more than is doubtful"
run 0 verdite alarms gauge.yaml
says "Weight high: sounds when the hive is heavier than 60 kg for 10 s. It ends once the hive is at 59 kg"

# ---- In a unit
fresh bracken
run 0 verdite alarm unit weight-low below 20 kg for 30 s --address 3 --yes
tells "Weight low: sounds when the hive is lighter than 20 kg (was 18.0 kg); after 30 s (was 10 s)"
says "VERIFIED: 2 of 2 settings read back from storage, equal."
run 0 verdite alarms unit weight-low --address 3
says "lighter than 20"
run 0 verdite try unit --address 3
says "Weight low: would"
unset VERDITE_BENCH

# A box that talks unasked, three times a second, in the middle of everything.
mkdir noisy
python3 - <<'PYTHON'
with open("noisy/toggle.csv", "w") as f:
    f.write("time,Door\n")
    for i in range(4000):
        f.write(f"2026-05-12T08:{i * 150 // 60000:02}:{i * 150 // 1000 % 60:02}.{i * 150 % 1000:03}Z,{'on' if i % 2 else 'off'}\n")
PYTHON
cat >noisy/bench.yaml <<'YAML'
verdite-bench: 1
name: noisy
adapters:
  - {name: box-cable, label: serial cable, cable: box, latency: 1 ms}
units:
  - name: sorrel
    model: brock
    cable: box
    serial: QB-31007
    firmware: "2.1"
    follows: {log: toggle.csv, columns: [input-2=Door]}
    settings: {input.2.wired: "on", alarm.2.source: input-2, alarm.2.delay: 0 s}
YAML
run 0 verdite-bench wait noisy 10s
run 0 verdite link --bench noisy --model brock --count 20 --trace
tells "+RAISED: 2"
VERDITE_PASSWORD=0000 run 0 verdite change --bench noisy --model brock unit.name=Ling "report.moving=3 min" --serial QB-31007 --yes
says "VERIFIED: 2 of 2 settings read back from storage, equal."
sed -i 's/toggle.csv/nowhere.csv/' noisy/bench.yaml
run 5 verdite read --bench noisy --model brock
tells "bench.yaml, line 11"

# ---- Tried out on values
run 0 verdite try hive.yaml "brood=36.6 °C" weight=41
says "Brood: would sound at once (36.6 °C)."
says "Weight: would not sound, 23.00 kg short (41.00 kg)."
says "Swarm: not known: no value for Sound."
run 0 verdite try box.yaml speed=95 input-2=off
says "would sound after 10 s (95 km/h)"
run 0 verdite try cab.yaml channel-2=on
run 4 verdite try hive.yaml brood=warm
tells "\"warm\" is not a number"
run 4 verdite try hive.yaml "brood=36 kg"
tells "has the wrong unit"
run 4 verdite try hive.yaml brod=36
tells "Unknown channel \"brod\". Do you mean brood?"
run 4 verdite try cab.yaml channel-2=open
tells "Channel 2 cannot be \"open\". It is on or off."
run 4 verdite try hive.yaml
tells "There is nothing to try the alarms on."

# ---- And on a log
run 0 verdite set hive.yaml "sound.threshold=60 dB"
run 0 verdite try hive.yaml --log "$days" --limit "high brood=36 °C to 37 °C by 0.5 °C" --limit "swarm=65 dB"
says "2026-05-13 11:29:29 Swarm sounds: 61 dB"
says "2026-05-14 03:11:07 Brood not known: no Brood"
says "Swarm 65 dB 1 8 min"
tells "From 2026-05-12 00:00:00 to 2026-05-14 23:59:43, 2192 rows, in UTC+02:00."
tells "skipped: Speed (km/h), Supply (V), Door."
# What nothing is connected to sounds neither on a log, nor on values, whatever they say; with a wire it does.
cp box.yaml wired.yaml
run 0 verdite try box.yaml --log "$days" --column input-2=Door
says "Alarm 2 never Nothing is connected to Input 2, so it never sounds."
run 0 verdite try box.yaml input-2=on
says "Alarm 2: Nothing is connected to Input 2, so it never sounds."
run 0 verdite set wired.yaml input.2.wired=on
run 0 verdite try wired.yaml input-2=on
says "Alarm 2: would sound after"
run 0 verdite try wired.yaml --log "$days" --column input-2=Door --json
python3 -c 'import json, sys
*events, all = [json.loads(line) for line in sys.stdin]
door = [e for e in events if e["alarm"] == "alarm.2" and e["what"] == "sounds"]
assert len(door) == 1 and door[0]["when"] == "2026-05-12 17:05:25" and door[0]["time"] == 1778598325000, door
assert all["rows"] == 2192, all["rows"]' <"$work/out" || fail "the events as data"

log() { printf '%b' "$1" >log.csv; }
tried() { # STATUS LOG TEXT: in the output or the messages
    log "$2"
    run "$1" verdite try hive.yaml --log log.csv "${@:4}"
    case $out$err in *"$3"*) passed=$((passed + 1)) ;; *) fail "$2: no \"$3\"" ;; esac
}
at=2026-05-12T08
head="time,brood"
tried 5 "" "it is empty"
tried 5 "$head\n" "it has no row below its header"
tried 5 "when,brood\n" "no column is named time. Its columns are: when, brood. Say which it is: time=COLUMN."
tried 5 "time,brod\n" "no column has the name of a channel"
tried 4 "$head\n" "The log has no column \"brood2\". Do you mean brood?" --column brood=brood2
tried 4 "$head\n" "Unknown channel \"brod\". Do you mean brood?" --column brod=brood
tried 5 "$head\n$at:00:00,35\n" "its times have no zone"
tried 0 "$head\n$at:00:00,37\n" "2026-05-12 08:00:00 Brood sounds: 37" --zone +02:00
tried 4 "$head\n" "zone" --zone +25:00
tried 0 "$head\n$at:00:00Z,37\n${at}:00:01Z,warm\n" "1 cell of Brood holds no number, and counts as not known; the first: \"warm\" in line 3."
tried 0 "$head\n$at:00:00Z,37\n${at}:00:01Z,41\xf3\xf3\n" "counts as not known; the first: \"41\" in line 3."
tried 0 "$head\n$at:00:00Z,37\n${at}:00:01Z,41\x1b[31m\n" "counts as not known; the first: \"41\" in line 3."
tried 0 "$head\n$at:00:00Z,37\nnow,37\n" "1 row was skipped without a time; the first: \"now\" in line 3."
tried 0 "$head\n$at:00:00Z,37\n${at}:00:10Z,35\n$at:00:05Z,37\n" "1 row was skipped, earlier than the one before. A clock may have been put back."
tried 0 "$head\n$at:00:00Z,35\n$at:00:00Z,37\n" "1 row was replaced by the next one with the same time."
tried 0 "time;Brood (°C)\r\n$at:00:00Z;\"37,4\"\r\n" "Brood sounds: 37.4 °C"
tried 0 "\xef\xbb\xbf$head\n$at:00:00Z,NaN\n" "Brood not known: no Brood"
tried 5 "time,Brood (°F)\n$at:00:00Z,99\n" "column \"Brood (°F)\" has another unit than Brood. It needs °C. Nothing is converted."
tried 5 "$head\n$at:00:00Z,\"37\n" "ends within quotation marks"
tried 5 "$head\n$at:00:00Z,3\"7\n" "has a quotation mark in the wrong place"
tried 0 "$head\n$at:00:00Z,99999999999999999999\n" "holds no number"
tried 4 "$head\n$at:00:00Z,37\n" "At most 64 other limits" --limit "high brood=10 to 20 by 0.1"
tried 4 "$head\n$at:00:00Z,37\n" "The step must be above 0." --limit "high brood=10 to 20 by 0"
tried 4 "$head\n$at:00:00Z,37\n" "ALARM=VALUE" --limit "36 °C"
tried 4 "$head\n$at:00:00Z,37\n" "The first limit is above the last one." --limit "high brood=20 to 10 by 1"
run 4 verdite try hive.yaml brood=37 --limit "high brood=36 °C"
tells "--limit needs a log. Add --log FILE."
run 4 verdite try hive.yaml brood=37 --log log.csv
tells "Give values or a log, not both."
run 5 verdite try hive.yaml --log .
tells "it is not an ordinary file"
run 5 verdite try hive.yaml --log nowhere.csv
tells "No such file"

# ---- Below zero, as it is said
run 0 verdite new cold.yaml wren
run 0 verdite alarm cold.yaml inside-low below -5 °C
says "inside.low-limit 5.0 °C -5 °C"
tells "sounds when it is colder inside than -5 °C"
run 4 verdite set cold.yaml -5
[[ $err != *"no option"* ]] || fail "a number is taken for an option"
run 4 verdite set cold.yaml -x
tells "set has no option"

# ---- What was never judged is not "never"
rows() { printf 'time,%s\n' "$1" >log.csv; local i=0; for each in "${@:2}"; do printf '2026-05-12T%02d:%02d:00Z,%s\n' $((8 + i / 60)) $((i % 60)) "$each" >>log.csv; i=$((i + 10)); done; }
run 0 verdite new road.yaml brock
run 0 verdite set road.yaml input.1.wired=on
run 0 verdite alarm road.yaml add speed above 90 km/h for 10 s does report
run 0 verdite alarm road.yaml add input-1 is on does report
rows "speed,input-1" 10,NaN 10,null 10,n/a 10,-
run 0 verdite try road.yaml --log log.csv
says "Alarm 1 never closest: 80 km/h short"
says "Alarm 2 not judged its values were not known at any time"
rows speed 10 10 10
run 0 verdite try road.yaml --log log.csv --json
python3 -c 'import json, sys
share = {a["alarm"]: a["judged-percent"] for a in json.loads(list(sys.stdin)[-1])["alarms"]}
assert share == {"alarm.1": 100, "alarm.2": 0}, share' <"$work/out" || fail "the share judged"
rows "speed,input-1" 10,off 10, 10, 10, 10,off
run 0 verdite try road.yaml --log log.csv --holds "10 min"
says "Alarm 2 never 25 % judged"
# Newest first, and back in the middle.
rows speed 10 99 99 10
{ head -1 log.csv; tail -n +2 log.csv | tac; } >down.csv
run 0 verdite try road.yaml --log log.csv
forth=$out
run 0 verdite try road.yaml --log down.csv
[[ $out == "$forth" ]] || fail "newest first says something else"
tells "note: the log begins with its newest row, so it was read from the end."
{ cat log.csv; sed -n 3p log.csv; } >back.csv
run 0 verdite try road.yaml --log back.csv
[[ $out == "$forth" ]] || fail "a row that goes back counts"
tells "note: 1 row was skipped, earlier than the one before"
# How long a value holds: as the model says, where that is too short once, and as typed.
run 0 verdite new panel.yaml lantern
run 0 verdite set panel.yaml setup.1.alarms=alarm-1
run 0 verdite alarm panel.yaml 1 load above 5 °C
rows load 9 9 9 9
run 0 verdite try panel.yaml --log log.csv
[[ $out != *"known again"* ]] || fail "a flood"
tells "note: a value of Load holds for 30 s, but the log has one every 10 min. The time between was not judged."
run 0 verdite try panel.yaml --log log.csv --holds "15 min"
tells "note: values of Load were held for 15 min, as typed. The model says 30 s."
says "Alarm 1 1 time"
[[ $out != *"condition since"* ]] || fail "a condition that it has not"

# ---- Drawn
cp "$days" own.svg
run 4 verdite try hive.yaml --log own.svg --chart ./own.svg --replace
tells "The chart would replace the log."
cmp -s own.svg "$days" || fail "the log was written over"
run 0 verdite try hive.yaml --log "$days" --chart days.png
tells "Drawn as days.png"
file days.png | grep -q "PNG image data, 1280 x 630" || fail "the picture: $(file days.png)"
run 4 verdite try hive.yaml --log "$days" --chart days.png
tells "days.png exists already"
run 0 verdite try hive.yaml --log "$days" --chart days.png --replace
run 4 verdite try hive.yaml --log "$days" --chart days.gif
tells "A chart is a .png or .svg file."
# Names that would be more than names in the script or in the picture.
sed "s|label: Brood\$|label: \"x'; !touch pwned; \`touch pwned\` <b>\&'\"|" "$VERDITE_MODELS/skep.yaml" >odd.yaml
grep -q 'touch pwned' odd.yaml || fail "no odd name"
run 0 verdite try odd.yaml --log "$days" --column brood="Brood (°C)" --chart odd.svg
if [ -e pwned ] || [ -n "$(find "${TMPDIR:-/tmp}" -name pwned 2>/dev/null)" ]; then fail "a name was run"; fi
python3 - <<'PYTHON' || fail "the SVG"
import xml.etree.ElementTree as tree
texts = ["".join(e.itertext()) for e in tree.parse("odd.svg").iter() if e.tag.endswith("text")]
assert any("`touch pwned` <b>&'" in t for t in texts), texts
PYTHON
mkdir -p bare && ln -sf "$VERDITE_BIN/verdite" bare/verdite
# Secrets are not handed to the program that draws.
printf '#!/bin/sh\nenv >%s/drawn.env\n' "$work" >bare/gnuplot && chmod +x bare/gnuplot
what="what the drawing program is told"
PATH="$work/bare:$PATH" VERDITE_PASSWORD=ling-and-bell verdite try hive.yaml --log "$days" --chart told.png >"$work/out" 2>"$work/err"
[ -s drawn.env ] || fail "nothing was drawn"
if grep -q ling-and-bell drawn.env; then fail "the password was handed on"; fi
rm bare/gnuplot
what="without gnuplot"
PATH="$work/bare" verdite try hive.yaml --log "$days" --chart none.png >"$work/out" 2>"$work/err" || fail "without gnuplot"
out=$(tr -s " " <"$work/out") err=$(cat "$work/err")
says "Swarm 2 times"
tells "No chart was drawn: the program gnuplot is missing."
log "$head\n"
run 5 verdite try hive.yaml --log log.csv --chart empty.png
[ ! -e empty.png ] || fail "a chart of nothing"

# ---- A made-up unit with every part that an alarm may have
export VERDITE_MODELS="$VERDITE_SOURCE/tests/units"
run 0 verdite new churn.yaml churn
run 0 verdite alarms churn.yaml
says "once the cream on top no longer rises by more than 1.5 K in 1 h. It rings the bell."
says "Layers apart: sounds when the cream on top is warmer than the cream below + 3.0 K."
says "Churned too long: sounds when the churn is above 10 rpm for 45 min in all without a rest of 5 min."
says "Both: sounds while all of these stand: Warms fast and Layers apart."
run 4 verdite alarm churn.yaml 1 release 0.5 °C
tells "Watch 1 is not used. Say what it watches."
run 0 verdite alarm churn.yaml add top outside 8 °C to 14 °C release 1 °C for 30 s ends-after 2 min latches on
says "watch.1.how above outside"
tells "It ends once the cream on top is back inside 9 °C to 13 °C for 2 min, and waits while the condition is lost. It stays on until the button or command clears it. That works earlier too."
run 0 verdite alarm churn.yaml add lid is ajar does nothing
tells "Watch 2: It does nothing when it sounds."
run 0 verdite alarm churn.yaml 1 top above 12 °C
run 0 verdite set churn.yaml watch.1.what=bottom
tells "Watch 1: It watches Bottom now, but its limit was not changed."
tells "Watch 1: It watches Bottom now, but \"above\" was not changed."
run 0 verdite alarm churn.yaml 2 bottom below 13 °C
says "watch.2.how above below"
[[ $err != *"stayed as it was"* ]] || fail "what was said anew is told to have stayed"
run 4 verdite alarm churn.yaml both above 3 °C
tells "Both is a combination. Change the alarms that it combines."
run 0 verdite try churn.yaml top=20 turning=30 lid=shut bottom=10
says "Warms fast: not known: one value does not tell how fast it changes."
says "Churned too long: would sound after 45 min (30 rpm)."
log "time,top,bottom,turning,lid\n$at:00:00Z,10,10,30,shut\n$at:05:00Z,10.2,10,30,shut\n$at:10:00Z,11,10,30,ajar\n$at:15:00Z,12,10,30,wide\n$at:20:00Z,14,10,30,shut\n$at:25:00Z,16,10,30,shut\n$at:30:00Z,16,10,30,shut\n$at:40:00Z,16,10,30,shut\n$at:46:00Z,16,10,30,shut\n"
run 0 verdite try churn.yaml --log log.csv --limit "fast=30 K" --limit "fast=5 K"
says "2026-05-12 08:00:00 Warms fast not known: how fast Top changes"
says "2026-05-12 08:10:00 Warms fast sounds: 11.0 °C"
says "2026-05-12 08:20:00 Layers apart sounds: 14.0 °C"
says "2026-05-12 08:20:00 Both sounds"
says "2026-05-12 08:45:00 Churned too long sounds: 30 rpm"
says "Warms fast 30 K 0"
tells "1 cell of Lid holds no state that it has, and counts as another one; the first: \"wide\" in line 5."
# What latches says that it stays once its cause is over; a rate tells how near it came.
run 0 verdite new latched.yaml churn
run 0 verdite alarm latched.yaml add top above 12 °C for 30 s latches on
log "time,top,lid\n$at:00:00Z,10,shut\n$at:05:00Z,14,shut\n$at:10:00Z,10,shut\n$at:15:00Z,10,shut\n"
run 0 verdite try latched.yaml --log log.csv
says "2026-05-12 08:10:00 Watch 1 stays until it is cleared; its cause ended after 4 min 30 s"
says "Watch 1 1 time 4 min 30 s its cause is over; it stands until it is cleared"
says "closest: 0.0 °C in 1 h"
says "Churned too long not judged"
# a bench looks back over so many readings; what it can therefore never know it says
mkdir swing
sed '/key: now.top/s/access: read-only/access: read-only, moves: {between: [5 °C, 30 °C], over: 10 min}/' \
    "$VERDITE_MODELS/churn.yaml" >swing/churn.yaml
run 0 verdite-bench play swing/churn.yaml swinging
run 0 verdite-bench wait swinging "5 min"
run 0 verdite read --bench swinging --model swing/churn.yaml
tells "has an alarm on a rate over more readings than a bench keeps. It never sounds here."
export VERDITE_MODELS="$VERDITE_SOURCE/models"

# ---- A long log, in constant memory
python3 - <<'PYTHON'
import random
random.seed(1)
with open("long.csv", "w") as f:
    f.write("time,brood\n")
    for i in range(200000):
        f.write(f"2026-01-{1 + i // 7200:02}T{i // 300 % 24:02}:{i // 5 % 60:02}:{i % 5 * 12:02}Z,{34 + i % 300 / 100}\n")
PYTHON
run 0 verdite try hive.yaml --log long.csv --json
# an object a line, each as it happens, and the result last
printf 'time,brood\n2026-01-01T00:00:00Z,34\n2026-01-01T00:01:00Z,39\n' >short.csv
run 0 verdite try hive.yaml --log short.csv --json
[ "$(python3 -c 'import json, sys; print(*[json.loads(line).get("what") for line in sys.stdin])' <"$work/out")" = \
    "not-known not-known sounds None" ] || fail "events are no objects of their own"
done_testing
