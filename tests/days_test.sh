#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# A unit on a bench lives through the days that are added up: what is read from it over the wire is what was added up, or
# worked out by hand, and what it says unasked comes when it happens.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1

# 1 As a reading from 1 Ah: 36 are 1 %. At 12:00 all are fetched, the one of that second too.
{
    tag_head
    cat <<'YAML'
times: {usual-reply: 6 ms, longest-reply: 250 ms}
groups: [{key: unit, label: Unit}, {key: tick, label: Ticks}, {key: now, label: Now}]
settings:
  - {key: unit.name, label: Name, type: text, length: 8, default: "", role: name, at: {word: NAME}}
  - {key: tick.every, label: Every, type: duration, tick: 1 s, range: ["1 s", "2 h"], default: 10 min, at: {word: TICK}}
  - {key: tick.windy, label: Windy, type: duration, tick: 1 s, range: ["0 s", "2 h"], default: 7 min, at: {word: TICK, field: 2}}
  - {key: now.readings, label: Readings, type: integer, range: [0, 1000000], access: read-only, default: 0, at: {word: READ}}
  - {key: now.gusts, label: Gusts, type: integer, range: [0, 1000000], access: read-only, default: 0, at: {word: GUST}}
  - {key: now.held, label: Held, type: integer, range: [0, 1000], access: read-only, default: 0, at: {word: HELD}}
  - {key: now.contact, label: Last, type: duration, tick: 1 s, range: ["0 s", "30 d"], access: read-only, default: 41 s, at: {word: LAST}}
  - {key: now.next, label: Next, type: duration, tick: 1 s, range: ["0 s", "30 d"], access: read-only, default: 0 s, at: {word: NEXT}}
  - {key: now.battery, label: Battery, type: integer, unit: "%", range: [0, 100], access: read-only, default: 100 %, at: {word: BATT}}
  - {key: now.wind, label: Wind, type: truth, access: read-only, default: "off", at: {word: WIND}}
intervals:
  - {fact: wind, given: wind, now: now.wind}
  - {fact: blows, set-by: {lasted: {fact: wind, for: 90 s}}, cleared-by: {lasted: {fact: {not: wind}, for: 11 min}}}
  - {timer: reading, label: Readings, every: tick.every, says: "+READING"}
  - timer: gust
    label: Gusts
    cases: [{label: Windy, while: blows, every: tick.windy, zero: none}]
    change: as-set
  - timer: mood
    label: Mood
    cases: [{label: In wind, while: wind, every: 3 min}, {label: After wind, while: blows, every: 20 min}, {label: Calm, every: 1 h}]
  - {way: far, label: Far, every: 3 km, while: {not: {within: {of: gust, for: 40 s}}}, closed: late, zeroed-by: gust}
  - {event: any, label: Any, any-of: [gust, far, {ends: blows}]}
  - {event: fetched, label: Fetched, by-clock: {at: 12 h}}
  - {store: memory, label: Memory, in: reading, out: fetched, holds: 100}
costs:
  - {of: reading, charge: 1 As}
battery: {holds: 1 Ah}
shown:
  - {reading: now.readings, of: reading, as: times}
  - {reading: now.gusts, of: any, as: times}
  - {reading: now.held, of: memory, as: held}
  - {reading: now.contact, of: reading, as: since}
  - {reading: now.next, of: reading, as: until}
  - {reading: now.battery, as: left}
days:
  - label: windy
    stretches:
      - {for: 5 h}
      - {for: 3 h, with: [wind], speed: 17 km/h}
      - {for: 100 s}
      - {for: 4 h, with: [wind], speed: 31 km/h}
      - {for: 11 h}
activities: [{key: calm}, {key: windy, with: [wind], speed: 20 km/h}]
YAML
} >tag.yaml
mkdir bench
cat >bench/bench.yaml <<'YAML'
verdite-bench: 1
name: one
adapters:
  - {name: one-usb, label: One, cable: pair}
units:
  - {name: one, model: tag, cable: pair, serial: T-1, firmware: "1.0"}
YAML
export VERDITE_MODELS="$work" VERDITE_BENCH="$work/bench"
holds() { # KEY=VALUE...: what is read of the unit
    local pair
    run 0 verdite read --port one-usb --group now
    for pair; do says "${pair%%=*} ${pair#*=} "; done
}
later() { run 0 verdite-bench wait bench "$1"; }

# ---- by hand
holds now.readings=0 now.held=0 now.contact="41 s" now.next="10 min" now.battery="100 %" # no data yet is no fault
later "25 min"
holds now.readings=2 now.held=2 now.contact="5 min" now.next="5 min" now.battery="100 %"
later "12 h"
holds now.readings=74 now.held=2 now.contact="5 min" now.battery="98 %"
run 0 verdite change --port one-usb "tick.every=1 h" --yes # its days begin again; what it shows goes on
holds now.readings=74 now.held=2 now.next="1 h" now.battery="98 %"
later "61 min"
holds now.readings=75 now.held=3 now.contact="1 min" now.next="59 min"
run 0 verdite change --port one-usb unit.name=Ling --yes # that is none of its intervals
holds now.readings=75 now.next="58 min 59 s"

# without supply nothing is counted, and nothing that was is lost, though nobody had read it
run 0 verdite-bench afresh bench
later "65 min"
run 0 verdite-bench power-off bench one
later "3 h"
run 0 verdite-bench power-on bench one
holds now.readings=6 now.held=6 now.next="10 min"
later "65 min"
run 0 verdite-bench restart bench one
holds now.readings=12 now.held=12

# ---- beside what was added up: 28 days behind a week
for setting in "tick.every=7 min" "tick.windy=50 s"; do
    run 0 verdite-bench afresh bench
    run 0 verdite change --port one-usb "$setting" --yes
    run 0 verdite read --port one-usb --save one.yaml --replace
    run 0 verdite intervals one.yaml --json
    wanted=$(python3 -c 'import json
d = {i["item"]: i["times"][0] for i in json.load(open("out"))["items"] if "times" in i}
print(d["reading"], d["any"])')
    begun=$(python3 -c 'import json
s = json.load(open("bench/state.json"))
print(604799500000 - (s["clock"] - s["units"]["one"]["days-since"]))')
    later "$((begun / 1000)) ms"
    count() { python3 -c 'import json
s = json.load(open("out"))["settings"]
v = {e["key"]: e["live"]["value"] for e in s}
print(v["now.readings"], v["now.gusts"])'; }
    run 0 verdite read --port one-usb --group now --json
    first=$(count)
    begun=$(python3 -c 'import json
s = json.load(open("bench/state.json"))
print(3023999500000 - (s["clock"] - s["units"]["one"]["days-since"]))')
    later "$((begun / 1000)) ms"
    run 0 verdite read --port one-usb --group now --json
    got=$(count | { read -r a b; read -r c d <<<"$first"; echo "$((a - c)) $((b - d))"; })
    [ "$got" = "$wanted" ] || fail "$setting: the unit counted $got, added up it was $wanted"
    passed=$((passed + 1))
done

# ---- another day, in words, and what is wrong with one
cp bench/bench.yaml was.yaml
sed -i 's/firmware: "1.0"/firmware: "1.0", day: "24 h calm"/' bench/bench.yaml
run 0 verdite-bench afresh bench
later "20 h"
holds now.gusts=0 now.readings=120
sed -i 's/24 h calm/25 h calm/' bench/bench.yaml
run 5 verdite read --port one-usb
tells "line 6,"
tells "Begin each stretch with a time"
cp was.yaml bench/bench.yaml

# ---- what rules now: the reading tells the wind, nobody can read whether it blew a while ago
run 0 verdite-bench afresh bench
run 0 verdite intervals unit --port one-usb
says 'Now one of these: "After wind" every 20 min, "Calm" every 1 h. At the longest every 1 h.'
sed -i 's/firmware: "1.0"/firmware: "1.0", settings: {now.wind: "on"}/' bench/bench.yaml
run 0 verdite-bench afresh bench
run 0 verdite intervals unit --port one-usb
says 'Now "In wind" rules, every 3 min.'
sed -i 's/{label: Calm, every: 1 h}/{label: Calm, every: 1 h, while: {given: calm, now: "now.held > 5"}}/' tag.yaml
run 0 verdite intervals unit --port one-usb
says 'Now "In wind" rules, every 3 min.'
cp was.yaml bench/bench.yaml
run 0 verdite-bench afresh bench
run 0 verdite intervals unit --port one-usb
says 'Now one of these: "After wind" every 20 min. At the longest every 20 min.'
sed -i 's/while: {given: calm, now: "now.held > 5"}/while: {given: calm, now: "now.held > 5"}, zero: none/; s/{label: After wind, while: blows, /{label: After wind, while: {all: [blows, wind]}, /' tag.yaml
run 0 verdite intervals unit --port one-usb
says "No case rules now."
run 0 verdite intervals tag # a model is at no cable
says "each waits 16 h 40 min at most" # that of 12:10 is lost when the 101st comes
case $out in *"Now "*) fail "a model says what rules now" ;; esac
cp was.yaml bench/bench.yaml

# ---- unasked: each second a line
run 0 verdite-bench afresh bench
run 0 verdite change --port one-usb "tick.every=1 s" --yes
verdite-bench serve bench >served_at &
served=$!
for _ in $(seq 100); do [ -s served_at ] && break; sleep 0.05; done
port=$(awk '{ print $2 }' served_at)
lines=$(python3 -c 'import os, select, sys, termios, time
line = os.open(sys.argv[1], os.O_RDWR | os.O_NOCTTY)
termios.tcsetattr(line, termios.TCSANOW, [0, 0, termios.CS8 | termios.CREAD | termios.CLOCAL, 0, termios.B9600, termios.B9600, termios.tcgetattr(line)[6]])
heard, end = b"", time.time() + 4.5
while time.time() < end:
    if select.select([line], [], [], 0.05)[0]: heard += os.read(line, 256)
print(heard.count(b"+READING\r\n"))' "$port")
case $lines in 3 | 4 | 5) ;; *) fail "unasked: $lines lines in 4.5 s" ;; esac
passed=$((passed + 1))
kill "$served"
wait "$served" 2>/dev/null || true
served=''

# ---- what an author may get wrong
while IFS='|' read -r edit told; do
    sed "$edit" tag.yaml >wrong.yaml
    run 1 verdite check wrong.yaml
    tells "$told"
done <<'TABLE'
s/{reading: now.held, of: memory, as: held}/{reading: now.held, of: reading, as: held}/|held of a store
s/{reading: now.held, of: memory, as: held}/{reading: now.held, of: memory, as: times}/|all else of an event
s/{reading: now.battery, as: left}/{reading: now.battery, of: reading, as: left}/|left of nothing
s/{reading: now.contact, of: reading, as: since}/{reading: now.held, of: reading, as: since}/|a duration of 1 s
s/{reading: now.readings, of/{reading: tick.every, of/|a reading that stands still: a whole number
s/now: now.wind/now: now.held/|a condition belongs here
s/event: fetched, /event: fetched, now: now.wind, /|"now" does not belong here
s/says: "+READING"/says: "+READ: 5"/|taken for the answer about a record
s/^battery: .*//|a battery as well
s/default: 0, at: {word: HELD}/default: 0, moves: {one-more-every: 1 s}, at: {word: HELD}/|a reading that stands still
s/as: held/as: kept/|times
s/{reading: now.battery/{reading: now.batery/|now.battery
s/{store: memory, /{store: memory, says: "+FULL", /|"says" does not belong here
TABLE
sed 's/^groups:/intervals:\n  - {timer: t, every: 5 min, says: "+X"}\n\ngroups:/' "$VERDITE_SOURCE/models/dowel.yaml" >registers.yaml
run 1 verdite check registers.yaml
tells "its unit does not talk in lines"
done_testing
