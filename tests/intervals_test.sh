#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Intervals as a fitter and an author of models meet them: what is counted here was counted by hand.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1

# sonde: a model whose intervals are what follows; edited by the sed expressions given
sonde() {
    {
        tag_head
        cat <<'YAML'
times: {usual-reply: 6 ms, longest-reply: 250 ms}
groups: [{key: unit, label: Unit}, {key: tick, label: Ticks}, {key: mode, label: Mode}, {key: wired, label: Wires}]
settings:
  - {key: unit.name, label: Name, type: text, length: 8, default: "", role: name, at: {word: NAME}}
  - {key: tick.every, label: Every, type: duration, tick: 1 s, range: ["0 s", "48 h"], default: 10 min, at: {word: TICK}}
  - {key: mode.quick, label: Quick, type: truth, default: "off", at: {word: TICK, field: 2}}
  - {key: wired.wind, label: Wind, type: truth, default: "off", at: {word: TICK, field: 3}}
intervals:
  - {fact: dark, clock: {from: 18 h, to: 6 h}}
  - {fact: wind, label: The wind switch, given: wind, wired: wired.wind}
  - timer: tick
    label: Tick
    cases:
      - {label: In the wind, while: wind, every: 1 min}
      - {label: Quick, while: {fixed: mode.quick}, every: 1 min}
      - {label: At sea, while: {compare: speed, above: 1 m/s}, every: 3 h}
      - {label: Otherwise, every: tick.every, zero: none}
  - {timer: drawn, label: Drawn, every: 10 min, jitter: ["0 s", "10 min"]}
  - {event: quarters, label: Quarters, by-clock: {every: 6 h, at: 6 h}, while: {not: dark}}
  - {count: fives, label: Fives, of: tick, every: 5}
  - {way: far, label: Far, every: 2 km}
  - {turning: round, label: Round, every: 100 °}
  - {event: pressed, label: Pressed, happens: button}
  - {event: any, label: Any, any-of: [fives, pressed, {begins: dark}]}
  - {store: memory, label: Memory, in: tick, out: any, holds: 100}
costs:
  - {of: quarters, bytes: 100 B}
  - {of: dark, charge: 10 mA}
  - {of: quarters, charge: [0 mAs, 1 As]}
battery: {holds: 10 Ah, usable: [50 %, 80 %]}
tariff: {currency: EUR, base: 2, included: 1 kB, step: 500 B, each: 0.25}
days:
  - label: at work
    stretches:
      - {for: 8 h}
      - {for: 1000 s, speed: 36 km/h, turns: 7, angle: 45 °, happens: [{event: button, times: 3}]}
      - {for: 8 h}
activities:
  - {key: moored}
  - {key: sailing, speed: 18 km/h, angle: 45 °}
  - {key: blown, with: [wind]}
YAML
    } >sonde.yaml
    local edit
    for edit in "$@"; do
        sed "$edit" sonde.yaml >edited.yaml
        cmp -s sonde.yaml edited.yaml && fail "$edit changes nothing"
        mv edited.yaml sonde.yaml
    done
}

# times ITEM: the least and the most in 28 days
times() {
    python3 -c 'import json, sys
item = [i for i in json.load(open("out"))["items"] if i["item"] == sys.argv[1]][0]
print(*item[sys.argv[2]])' "$1" "$2"
}

sonde
run 0 verdite check sonde.yaml
run 0 verdite intervals sonde.yaml --json
# 7 days pass, 28 count: seconds 604800 to 3023999. At sea the count of the ticks begins again, and 1000 s are no 3 h. From
# its end to the next day's beginning 142 ticks fit. 1000 s of 10 m/s are five times 2 km. Each third of 7 turns a day of
# 45 ° makes 100 °: of 245 the 51st to the 243rd. It is dark from 18:00 on, and no longer at 6:00.
while IFS='|' read -r item key wanted; do
    got=$(times "$item" "$key")
    [ "$got" = "$wanted" ] || fail "$item: $key $got, not $wanted"
    passed=$((passed + 1))
done <<'TABLE'
tick|times|3976 3976
quarters|times|56 56
drawn|times|2016 4032
far|times|140 140
round|times|65 65
pressed|times|84 84
dark|seconds|1209600 1209600
TABLE

# ---- what is set but ignored, and by what
run 0 verdite intervals sonde.yaml
says '"In the wind" can never rule: "The wind switch" is not wired.'
says '"Quick" can never rule: it needs mode.quick.'
says '"At sea" rules for 16 min 40 s at most, never as long as its 3 h.'
says "Otherwise 10 min 23 h 43 min 20 s 142"
# twice a day 100 B are 6000 B a month, 10 steps behind the first 1000; 12 h of 10 mA and up to 2 As are 432 to 434 As a
# day, of 18000 to 28800
says "Data a month 6000 B"
says "Price a month 4.50 EUR"
says 'Battery 41.4 to 66.7 days, by "dark" 99 %'
sonde 's/key: wired.wind, label: Wind, type: truth, default: "off"/key: wired.wind, label: Wind, type: truth, default: "on"/'
run 0 verdite intervals sonde.yaml
says '"In the wind" never rules on these days.'
sonde 's/label: Quick, type: truth, default: "off"/label: Quick, type: truth, default: "on"/'
run 0 verdite intervals sonde.yaml
says '"Otherwise" can never rule: "Quick" always does.'
says "Quick 1 min 1 d 1440"
sonde 's/default: 10 min, at/default: 0 s, at/'
run 0 verdite intervals sonde.yaml
says '"Otherwise" is 0: it is off.'
sonde "/^days:/,/for: 1000 s/d" "/^      - {for: 8 h}/d"
run 0 verdite intervals sonde.yaml
says "nothing happens"
says "Otherwise 10 min 1 d 144"
# as a model may say it: a literal stays, an expression is worked out; below zero is no speed but a temperature
sonde 's/every: 2 km/every: 36 km\/h * 200 s/' 's/not: dark/not: {fixed: not mode.quick}/' 's/compare: speed, above: 1 m.s/compare: heat, below: 0 °C/' \
    's/angle: 45 °,/angle: 45 °, quantities: [{of: heat, is: -3 °C}, {of: heat, is: -5 °C}],/' 's/{of: heat, is: -3 °C}, //' \
    's/count: fives, label: Fives, of: tick, every: 5/count: fives, label: Fives, of: tick, every: 5.9/' 's/holds: 100}/holds: 5, wraps: mode.quick}/'
run 0 verdite intervals sonde.yaml
says "Far 2000 5" # metres, as a rule would say them
says "At sea 3 h 16 min 40 s never"
says "Fives 5.9 28.4" # a count is rounded down
says "Drawn 10 min 72 to 144"
while IFS='|' read -r edit about; do # the pair is "about" where a gate, a case, a series or a store hangs on a draw
    if [ -n "$edit" ]; then sonde "$edit"; else sonde; fi
    run 0 verdite intervals sonde.yaml
    got=no
    case $out in *"is drawn by chance"*) got=yes ;; esac
    [ "$got" = "$about" ] || fail "$edit: about $got"
    passed=$((passed + 1))
done <<'TABLE'
|no
s/store: memory, label: Memory, in: tick/store: memory, label: Memory, in: drawn/|yes
s/label: Round, every/label: Round, while: {within: {of: drawn, for: 1 min}}, every/|yes
s/{label: Quick, while: {fixed: mode.quick}/{label: Quick, while: {within: {of: drawn, for: 1 min}}/|yes
s/count: fives, label: Fives, of: tick/count: fives, label: Fives, of: drawn/|yes
s/any-of: .fives, pressed/any-of: [drawn, pressed/;s/, out: any, holds/, holds/|no
TABLE
sonde 's/timer: drawn, label: Drawn/timer: drawn, while: {not: {fixed: not mode.quick}}, label: Drawn/'
run 0 verdite intervals sonde.yaml
says '"Drawn" can never rule: it needs not (not mode.quick).'
run 0 verdite intervals dowel
tells "The model dowel has no intervals."
run 4 verdite intervals dowel brock
sonde 's/, default: 10 min, at/, at/'
run 0 verdite intervals sonde.yaml
tells "Not known: tick.every. Nothing is added up"
sonde 's/key: wired.wind, label: Wind, type: truth, default: "off"/key: wired.wind, label: Wind, type: truth/'
run 0 verdite intervals sonde.yaml
tells "Not known: wired.wind. Nothing is added up"
[ -z "$out" ] || fail "what is not known is shown"
run 5 verdite intervals nothing.yaml

# on the edge: it sails for 1000 s
sonde 's/above: 1 m.s}, every: 3 h/above: 1 m\/s}, every: 1000 s/'
run 0 verdite intervals sonde.yaml
says '"At sea" rules just as long as its 1000 s: a unit that looks a second later never gets there.'
says "At sea 1000 s 16 min 40 s 1"
sonde 's/above: 1 m.s}, every: 3 h/above: 1 m\/s}, every: 999 s/'
run 0 verdite intervals sonde.yaml
case $out in *"just as long"*) fail "a second less is no edge" ;; esac

# ---- days that somebody describes: the same number by hand as above where the day is the same
gives() { # DAY ITEM|KEY|WANTED...
    local day=$1 item key wanted got
    shift
    run 0 verdite intervals sonde.yaml --day "$day" --json
    for wanted; do
        IFS='|' read -r item key wanted <<<"$wanted"
        got=$(times "$item" "$key")
        [ "$got" = "$wanted" ] || fail "$day: $item $key $got, not $wanted"
        passed=$((passed + 1))
    done
}
sonde
gives "1000 s sailing at 36 km/h with 7 turns and 3 button, rest moored" "far|times|140 140" "round|times|65 65" "pressed|times|84 84"
gives "16 min 40 s Sailing with 7 turns of 45 ° at 10 m/s, 23 h 43 min 20 s moored" "far|times|140 140" "round|times|65 65"
gives "rest moored, 1000 s sailing" "far|times|70 70" # at its own 5 m/s
gives "23 h moored, 1 h moored" "far|times|0 0"
# whether the wind blows in the second half nobody knows: every minute all day, or half of it and every ten minutes
sonde 's/label: Wind, type: truth, default: "off"/label: Wind, type: truth, default: "on"/'
gives "12 h blown, rest moored perhaps wind" "tick|times|22176 40320"
gives "12 h blown, rest moored without wind" "tick|times|22176 22176"
sed 's/compare: speed, above: 1 m.s/compare: heat, below: -3 °C/' sonde.yaml >heat.yaml
run 0 verdite intervals heat.yaml --day "12 h sailing with heat -4.5 °C, rest moored with heat 20 °C"
says "12 h 18 km/h, heat -4.5 °C"
says "12 h heat 20 °C"
run 0 verdite intervals sonde.yaml --day "12 h blown, rest moored perhaps wind"
says "12 h wind"
says "12 h perhaps wind"
says "In the wind 1 min up to 1 d 720 to 1440"
# a file: five days of work and two of rest
cat >days.yaml <<'YAML'
verdite-days: 1
days:
  - {label: work, is: "1000 s sailing at 36 km/h, rest moored", on: [mon, tue, wed, thu, fri]}
  - {label: rest, is: 24 h moored, on: [sat, sun]}
YAML
gives days.yaml "far|times|100 100"
sed 's/, on: .*}/}/' days.yaml >two.yaml
gives two.yaml "far|times|70 70" # every other day
run 0 verdite intervals sonde.yaml --day days.yaml
says "Tag, on described days (work, rest)"
while IFS='|' read -r day told; do
    run 4 verdite intervals sonde.yaml --day "$day"
    tells "$told"
    [ -z "$out" ] || fail "$day: shown all the same"
done <<'TABLE'
25 h moored|"25" is not understood. Begin each stretch with a time
0 s moored|Begin each stretch with a time
1.5 s moored|Begin each stretch with a time
sailing|"sailing" is not understood. Begin each stretch with a time
20 h moored, 5 h sailing|longer than 24 h
24 h moored, rest sailing|no time is left for the rest
rest moored, rest sailing|"rest" is there twice
2 h sailng|"sailng" is not understood. Do you mean sailing?
2 h sailing,|it ends too early. Begin each stretch
2 h moored|the rest of the 24 h is missing. Say it: "rest moored".
2 h|it ends too early. Choose one of: moored, sailing, blown.
2 h sailing at 20|"20" is not understood. Give a speed
2 h sailing at -20 km/h|"-20" is not understood. Give a speed
2 h sailing at 300000 km/s|"300000" is not understood. Give a speed
2 h sailing at 2000000000 km/h|"2000000000" is not understood. Give a speed
2 h sailing with 7 turns of 45 kg|"45" is not understood. Give an angle
2 h moored with 7 turns|Say of how many degrees
2 h moored with 7 buton|Do you mean button?
2 h moored with 100000 button|Give how often, 0 to 86400.
2 h moored without button|"button" is not understood
2 h moored with wnd|Do you mean wind?
2 h moored quickly|"quickly" is not understood. Use: at SPEED, with NAME
1 h moored perhaps wind, 1 h moored perhaps wind, 1 h moored perhaps wind, 1 h moored perhaps wind, 1 h moored perhaps wind, 1 h moored perhaps wind, 1 h moored perhaps wind|At most 6 times "perhaps".
TABLE
run 5 verdite intervals sonde.yaml --day nowhere.yaml
while IFS='|' read -r edit line told; do
    sed "$edit" days.yaml >wrong.yaml
    run 5 verdite intervals sonde.yaml --day wrong.yaml
    tells "line $line,"
    tells "$told"
done <<'TABLE'
s/sailing/sailng/|3|Do you mean sailing?
s/, fri//|3|fri is on none
s/sat, sun/fri, sat, sun/|3|fri is on two days
s/mon, tue/mo, tue/|3|mon to sun
s/label: work, //|3|label
s/days: 1/days: 2/|1|newer
s/on: .sat/of: [sat/|4|"of"
TABLE
sonde "/^activities:/,\$d"
run 4 verdite intervals sonde.yaml --day "2 h moored"
tells "the model names no activities"
sonde 's/label: at work/label: at work\n    on: [mon, tue, wed, thu, fri]/' 's/^activities:/  - {label: at rest, on: [sat, sun], stretches: [{for: 24 h}]}\nactivities:/'
run 0 verdite intervals sonde.yaml --json
[ "$(times far times)" = "100 100" ] || fail "weekdays of a model: $(times far times)"
run 0 verdite intervals sonde.yaml
says "usual days (at work, at rest)"

# ---- a recorded log: two whole days of which the second is short of a row; a position is no matter of ours
sonde
logged() { # EXPRESSION of a row's minute m, that is None for no row
    python3 - "$1" >log.csv <<'PYTHON'
import datetime, sys
begin = datetime.datetime(2026, 5, 1, 22, 0)
print("Time,Speed (km/h),heading,wind,place")
for n in range(0, 60 * 52, 5):
    at = begin + datetime.timedelta(minutes=n)
    m = at.hour * 60 + at.minute
    sailing = 480 <= m < 600
    row = "%s,%s,%d,%s,here" % (at.strftime("%Y-%m-%dT%H:%M:00+02:00"), 36 if sailing else 0, m // 10 * 45 % 360 if sailing else 0, "on" if sailing else "off")
    if not eval(sys.argv[1]): print(row)
PYTHON
}
logged "False"
run 0 verdite intervals sonde.yaml --log log.csv --json
# 72 km are 36 times 2 km. The heading changes by 45 degrees eleven times: each third makes 100, which is three times. As it
# stops it goes back by 135 degrees: four times a day.
[ "$(times far times)" = "1008 1008" ] || fail "the way of a log: $(times far times)"
[ "$(times round times)" = "112 112" ] || fail "the turns of a log: $(times round times)"
tells_not "gap"
run 0 verdite intervals sonde.yaml --log log.csv
says "described days (2026-05-02, 2026-05-03)"
logged "480 <= m < 540 and at.day == 3" # an hour is missing: for 15 min what was before holds
run 0 verdite intervals sonde.yaml --log log.csv --json
tells "note: 1 gap, 50 min in all."
[ "$(times far times)" = "756 756" ] || fail "a gap: $(times far times)" # 18 on every other day
run 0 verdite intervals sonde.yaml --log log.csv --holds "2 h"
tells_not "gap"
logged "False"
sed 's/+02:00//' log.csv >bare.csv
run 5 verdite intervals sonde.yaml --log bare.csv
tells "its times have no zone. Say it: --zone +02:00"
run 0 verdite intervals sonde.yaml --log bare.csv --zone +02:00 --json
[ "$(times far times)" = "1008 1008" ] || fail "a zone that was said: $(times far times)"
sed '1s/Speed (km.h)/Fast/' log.csv >named.csv
run 0 verdite intervals sonde.yaml --log named.csv --column speed=Fast --json
[ "$(times far times)" = "1008 1008" ] || fail "a column that was said: $(times far times)"
sed '9s/,0,/,fast,/; 10s/^2026-05/2025-05/' log.csv >odd.csv
run 0 verdite intervals sonde.yaml --log odd.csv
tells "note: skipped 1 rows without a later time, and 1 cells"
while IFS='|' read -r edit told; do
    sed "$edit" log.csv >wrong.csv
    run 5 verdite intervals sonde.yaml --log wrong.csv
    tells "$told"
done <<'TABLE'
1s/Time/When/|no column for the time. Columns: time, speed, heading, wind
1s/Speed.*/a,b,c,d/|no column that days are about
60,$d|the log has no whole day
2,$d|the log has no whole day
5s/,/,"x"y/|the log is no CSV
TABLE
run 5 verdite intervals sonde.yaml --log nowhere.csv
run 4 verdite intervals sonde.yaml --log log.csv --day "24 h moored"
tells "exclude each other"

# ---- a profile, and a unit
cp -r "$VERDITE_SOURCE/benches/yard" yard && rm -f yard/state.json
export VERDITE_BENCH=$work/yard
run 0 verdite intervals unit --port sorrel-box
says "On the road 2 min 2 h 1 min 50 s 60"
run 0 verdite read --port sorrel-box --save trailer.yaml
run 0 verdite set trailer.yaml "report.moving=1 min" "sim.roaming=on"
run 0 verdite intervals trailer.yaml
says "On the road 1 min 2 h 1 min 50 s 121"
says '"While roaming" never rules on these days.'

# ---- before and after: two hours on the road, reports every 2 min, with 62 B and 180 to 240 B each; 30 days
run 0 verdite read --port sorrel-box --save trailer.yaml --replace
run 0 verdite set trailer.yaml "report.moving=1 min"
tells "On usual days (commuting):"
tells "On the road: every 1 min, 121 a day (was every 2 min, 60 a day)"
tells "Reports: 126 a day (was 65 a day)"
tells "Data a month: 0.9 to 1.2 MB (was 471 to 589 kB)"
tells_not "Standing:"
tells_not "Parked:"
run 0 verdite set trailer.yaml "unit.name=Ling 7"
tells_not "On usual days"
run 0 verdite set trailer.yaml "report.parked=1 d"
tells 'warning: "Parked" rules for 20 h 58 min 10 s at most, never as long as its 1 d.'
run 0 verdite set trailer.yaml "report.roaming=20 min"
tells 'warning: "While roaming" can never rule: it needs sim.roaming = on.'
tells_not "On usual days"
run 0 verdite set trailer.yaml report.moves-by=ignition
tells 'warning: "On the road" can never rule: "Ignition" is not wired.'
tells "On the road: never (was 121 a day)"
run 0 verdite check trailer.yaml
tells 'note: "On the road" can never rule: "Ignition" is not wired.'
run 0 verdite set trailer.yaml report.moves-by=shaking "report.alarm=2 min" # no alarm stands on these days: that is no mistake
tells_not "While an alarm stands"
run 1 verdite write trailer.yaml --port sorrel-box </dev/null
tells "On the road: every 1 min, 121 a day (was every 2 min, 60 a day)"
run 0 verdite set trailer.yaml "report.moving=90 s" --json
labels=$(python3 -c 'import json; print(*sorted(i["label"] for i in json.load(open("out"))["intervals"]), sep=",")')
[ "$labels" = "Battery,Data a month,On the road,Price a month,Reports,Sends" ] || fail "what changes: $labels"

# ---- by its situation
while IFS='|' read -r words told; do
    read -r -a typed <<<"$words"
    run 0 verdite interval trailer.yaml "${typed[@]}"
    says "$told"
done <<'TABLE'
parked every 4 h|report.parked 1 d 4 h
Parked each 6 h|report.parked 4 h 6 h
on the road every 2 min|report.moving 1 min 30 s 2 min
road every 90 s|report.moving 2 min 1 min 30 s
roaming off|report.roaming 20 min 0 s
by distance every 5 km|report.distance 0 m 5000 m
by distance every 2500 m|report.distance 5000 m 2500 m
sends every 5|report.batch 1 5
by turning every 30 °|report.turn 0 ° 30 °
TABLE
tells "By turning: every 30 °,"
run 0 verdite interval trailer.yaml sends every 5
tells "trailer.yaml said so already."
cp trailer.yaml was.yaml
while IFS='|' read -r words status told; do
    read -r -a typed <<<"$words"
    run "$status" verdite interval trailer.yaml "${typed[@]}"
    tells "$told"
    tells "trailer.yaml is unchanged."
    cmp -s trailer.yaml was.yaml || fail "$words: changed all the same"
done <<'TABLE'
parked 6 h|4|An interval needs a situation
parked every|4|An interval needs a situation
every 6 h|4|An interval needs a situation
parkd every 6 h|4|Unknown interval "parkd". Do you mean Parked?
while every 6 h|4|"while" may be several intervals.
parked every 6 km|4|"6 km" is not a duration
by distance every 2 h|4|report.distance: "2 h" has the wrong unit
by distance every 0.5 mm|4|wrong unit
by distance every 60 km|4|"60000 m" is out of range
parked every 1 min|4|out of range
parked off|4|out of range
TABLE
run 4 verdite interval brock parked every 6 h
tells "Factory defaults cannot be changed"
run 4 verdite interval dowel
VERDITE_PASSWORD=0000 run 0 verdite interval unit parked every 4 h --port sorrel-box --yes
says "VERIFIED"
run 0 verdite read --port sorrel-box --group report
says "report.parked"
says "4 h"

# ---- side by side: 2 min and 10 min on the road for 2 h
# ---- what keeps it awake: it moves for 2 h 1 min 50 s, counts as parked 1 h later; each of 65 reports takes a minute
run 0 verdite intervals brock
says "It is awake, a day: 3 h 5 min 50 s"
says 'not "It is parked" 3 h 1 min 50 s'
says '1 min behind "Reports" 1 h 5 min'
says 'While it sleeps goes on: "Parked", "Reports", "Sends".'
says 'Cut off then: "While an alarm stands", "On the road", "Standing".'
run 0 verdite intervals brock --json
got=$(python3 -c 'import json; a = json.load(open("out"))["awake"]; print(a["seconds"], a["by"][3]["seconds"], *a["goes-on"])')
[ "$got" = "[312200, 312200] [109200, 109200] Parked Reports Sends" ] || fail "awake: $got"
run 0 verdite new awake.yaml brock
run 0 verdite set awake.yaml power.mode=awake
run 0 verdite intervals awake.yaml
says "power.mode = awake 1 d"
case $out in *"While it sleeps"*) fail "it never sleeps" ;; esac

run 0 verdite plan brock --presets
says "brock usual saves-data"
says "On the road 2 min: 60 2 min: 60 10 min: 12"
says "Reports 65 65 12"
run 0 verdite new brock.yaml brock
run 0 verdite set brock.yaml "report.moving=10 min"
run 0 verdite plan brock --beside brock.yaml --json
columns=$(python3 -c 'import json
d = json.load(open("out"))
print(d["columns"], [r["words"] for r in d["rows"] if r["label"] == "On the road"])')
[ "$columns" = "['brock', 'brock.yaml'] [['2 min: 60', '10 min: 12']]" ] || fail "side by side: $columns"
run 4 verdite plan wren --presets
tells "The model wren has no presets"
run 5 verdite plan wren --beside brock.yaml
run 5 verdite plan brock --beside nowhere.yaml
run 4 verdite plan brock --presets --goal "data at most 5 MB"
tells "One plan at a time."
run 4 verdite plan brock --presets --beside brock.yaml --beside brock.yaml --beside brock.yaml
tells "Too many"

# ---- what an author may get wrong, on its line
while IFS='|' read -r edit line told; do
    sonde "$edit"
    run 1 verdite check sonde.yaml
    tells "line $line,"
    tells "$told"
done <<'TABLE'
s/not: dark/not: drak/|25|Unknown item "drak". Do you mean dark?
s/{count: fives, label: Fives, of: tick/{count: fives, label: Fives, of: any/|26|waits for an event that is listed below it
s/{count: fives, label: Fives, of: tick/{count: fives, label: Fives, of: dark/|26|names something that is no event
s/far, label: Far, every: 2 km/far, label: Far, every: 2 min/|27|a distance belongs here
s/round, label: Round, every: 100 °/round, label: Round, every: 100/|28|an angle belongs here
s/every: 10 min, jitter/every: 10, jitter/|24|a duration belongs here
s/fact: dark, clock: {from: 18 h, to: 6 h}/fact: dark, not: light}\n  - {fact: light, not: dark/|15|waits for itself
s/fact: dark, clock: {from: 18 h, to: 6 h}/fact: dark, clock: {from: 18 h}/|15|from when and to when
s/{event: pressed, label: Pressed, happens: button}/{event: pressed, label: Pressed}/|29|one of begins, ends, happens
s/timer: drawn/store: drawn/|24|"every" does not belong here
s/given: wind,/given: wind, begins: dark,/|16|"begins" does not belong here
s/of: tick, every: 5/of: tick, every: 5, holds: 3/|26|"holds" does not belong here
s/in: tick, out: any/out: any/|31|in and holds
s/ 8 h}$/ 20 h}/|39|24 h at most in all
s/{for: 1000 s,/{for: 0 s,/|42|at least 1 s
s/speed: 36 km/speed: -36 km/|42|not below 0
s/event: button/event: lever/|42|what an item is about
s/{of: dark, charge: 10 mA}/{of: dark, charge: 10 mAh}/|34|a current belongs here
s/{of: quarters, bytes: 100 B}/{of: quarters, bytes: 100 s}/|33|a number of bytes belongs here
s/{of: quarters, bytes: 100 B}/{of: quarters}/|33|either bytes or charge
s/{of: quarters, bytes: 100 B}/{of: quarters, per: packet, bytes: 1 B}/|33|only for a store
s/holds: 10 Ah/holds: 10 A/|36|a charge belongs here
s/, each: 0.25/, each: 25 s/|37|a number without a unit belongs here
s/usable: .50 %, 80 %./usable: [50 %, 80 %, 90 %]/|36|one value, or two
s/jitter: .*}/jitter: ["-10 min", "0 s"]}/|24|less than the value that it is taken from
s/^days:/awake: dark\ndays:/|38|what wakes it
s/^days:/awake: tick\ndays:/|38|what wakes it
s/every: 2 km/every: 9000000000000 km/|27|a value that can be
s/holds: 100}/holds: -5}/|31|not below 0
s/from: 18 h/from: 25 h/|15|0 h to 24 h
s/80 %./180 %]/|36|1 % to 100 %
s/holds: 10 Ah/holds: 0 Ah/|36|a charge above 0
s/step: 500 B/step: 0 B/|37|at least 1 B
s/speed: 36 km/speed: 2000000000 km/|42|a number that can be
s/speed: 36 km.h/speed: 36 kg/|42|a speed belongs here
s/speed, above: 1 m.s/speed, above: 1 kg/|22|a speed belongs here
s/speed, above: 1 m.s/heat, above: 30 °C/;s/angle: 45 °,/angle: 45 °, quantities: [{of: heat, is: 3 kg}],/|42|what it is compared with
s/key: drawn/key: tick/;s/timer: drawn/timer: tick/|24|twice
TABLE
done_testing
