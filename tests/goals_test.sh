#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Which values suffice for a goal: on a made-up unit whose numbers were worked out by hand, and beside trying each value.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1

# 10 B and 1 As a reading: one every 10 min, 144 a day, are 43200 B a month and empty 100 Ah in 2500 days. In 10 days a
# reading every 15 min makes 959, every 14 min 1028: the memory holds 1000. It blows two hours a day; then tick.windy
# rules, and a gust takes 100 B.
{
    tag_head
    cat <<'YAML'
times: {usual-reply: 6 ms, longest-reply: 250 ms}
groups: [{key: unit, label: Unit}, {key: tick, label: Ticks}, {key: mode, label: Mode}, {key: wired, label: Wires}]
settings:
  - {key: unit.name, label: Name, type: text, length: 8, default: "", role: name, at: {word: NAME}}
  - {key: tick.every, label: Every, type: duration, tick: 1 min, range: ["1 min", "1 h"], default: 5 min, at: {word: TICK}}
  - {key: mode.quick, label: Quick, type: truth, default: "off", at: {word: TICK, field: 2}}
  - {key: wired.wind, label: Wind, type: truth, default: "on", at: {word: TICK, field: 3}}
  - {key: tick.windy, label: Windy, type: duration, tick: 5 min, range: ["5 min", "3 h"], default: 5 min, at: {word: TICK, field: 4}}
intervals:
  - {fact: wind, given: wind, wired: wired.wind}
  - {timer: reading, label: Readings, every: tick.every}
  - timer: gust
    label: Gusts
    cases:
      - {label: Windy, while: wind, every: tick.windy}
      - {label: Quick, while: {fixed: mode.quick}, every: 30 s}
  - {store: memory, label: Memory, in: reading, holds: 1000}
costs:
  - {of: reading, bytes: 10 B}
  - {of: reading, charge: 1 As}
  - {of: gust, bytes: 100 B}
battery: {holds: 100 Ah}
tariff: {currency: EUR, base: 2, included: 100 kB, step: 1 kB, each: 0.1}
days:
  - label: usual
    stretches:
      - {for: 2 h, with: [wind]}
      - {for: 22 h}
activities: [{key: calm}, {key: windy, with: [wind]}]
YAML
} >tag.yaml
run 0 verdite check tag.yaml
suffice() { # KEY: the runs of values that do, of the answer that was just given
    python3 -c 'import json, sys
print(*("%s..%s" % (r["from"]["value"], r["to"]["value"]) for s in json.load(open("out"))["goal"]["settings"] if s["key"] == sys.argv[1] for r in s["suffices"]), sep=", ")' "$1"
}
while IFS='|' read -r goal key wanted; do
    run 0 verdite plan tag.yaml --goal "$goal" --json
    got=$(suffice "$key")
    [ "$got" = "$wanted" ] || fail "$goal: $key $got, not $wanted"
    passed=$((passed + 1))
done <<'TABLE'
battery at least 2500 days|tick.every|10 min..1 h
battery at least 6.8 years|tick.every|10 min..1 h
memory for 10 days|tick.every|15 min..1 h
memory for 1 week|tick.every|11 min..1 h
memory for 60 days|tick.every|
memory for 3650 days|tick.every|
data at most 98400 B|tick.windy|25 min..2 h
data at most 98.399 kB|tick.windy|35 min..2 h
data at most 0.0984 MB|wired.wind|
data at most 158.4 kB|mode.quick|off..off
price at most 7.8|tick.windy|10 min..2 h
price at most 2|tick.windy|25 min..2 h
TABLE
# ---- tariffs: a day sends 2740 B in calm seconds, and 2540 B in 24 seconds of wind; the gust at 2 h is one of calm
while IFS='|' read -r wind price; do
    run 0 verdite intervals tag.yaml --tariff "while $wind" --tariff "1 EUR a month, 0.1 EUR per 1 kB"
    says "Price a month $price"
done <<'TABLE'
wind, 1 EUR per 1 kB|86.30 EUR, with 76.2 kB billed while "wind"
wind, 1 EUR per 1 kB, each send rounded up|729.30 EUR, with 720 kB billed while "wind"
wind, 1 EUR per 1 kB, 76.2 kB included|9.30 EUR
wind, 1 EUR per 1 kB, 76.1 kB included|10.30 EUR
wind, 1 EUR per 1 kB, 2 EUR a month, 1 MB included|11.30 EUR
TABLE
run 0 verdite intervals tag.yaml --tariff "1 EUR a month, 0.1 EUR per 1 kB" --tariff "while wind, 1 EUR per 1 kB" \
    --day "2 h calm perhaps wind, rest calm"
says "Price a month 9.70 to 86.30 EUR"
run 0 verdite plan tag.yaml --tariff "1 EUR per 1 kB" --goal "price at most 87"
says "Now: 159.00 EUR."
says "tick.every 5 min 29 min to 1 h"
sed 's/each: 0.1}/each: 0.1, instead: [{while: wind, step: 1 kB, each: 1, rounds: send}]}/' tag.yaml >roaming.yaml
run 0 verdite intervals roaming.yaml
says 'Price a month 722.00 EUR'
while IFS='|' read -r from to told; do
    sed "s/$from/$to/" roaming.yaml >mistake.yaml
    run 1 verdite check mistake.yaml
    tells "$told"
done <<'TABLE'
while: wind, step|while: reading, step|Give a fact
while: wind, step|step|"while" is missing
rounds: send|rounds: up|month
step: 1 kB, each: 1, r|step: 0 B, each: 1, r|at least 1 B
each: 1, r|each: -1, r|not below 0
of: gust, bytes|of: wind, bytes|a fact sends nothing by itself
TABLE
while IFS='|' read -r tariff told; do
    run 4 verdite intervals tag.yaml --tariff "$tariff"
    tells "$told"
    [ -z "$out" ] || fail "$tariff: shown all the same"
done <<'TABLE'
0.1 EUR per 0 B|makes no tariff
1 EUR|makes no tariff
while wind|makes no tariff
while moon, 1 EUR per 1 kB|"while moon" makes no tariff. Give such parts: "1.50 EUR a month"
1.50 EUR a month, 1 USD per 1 kB|"1 USD per 1 kB" makes no tariff
-1 EUR per 1 kB|makes no tariff
1 EUR per 1 kB,|makes no tariff
1 EUR per 99999999999999999999 MB|makes no tariff
0.2 EUR per 10 kB, while wind|one tariff without "while"
TABLE
run 4 verdite intervals tag.yaml --tariff "1 EUR per 1 kB" --tariff "while wind, 1 USD per 1 kB"
tells "one currency"
run 4 verdite intervals skep --tariff "1 EUR per 1 kB"
tells "does not say how many bytes it sends"

# behind two hours it never gusts, and what says nothing takes nothing: 2 h 5 min does not suffice
run 0 verdite plan tag.yaml --goal "data at most 98400 B"
says "Now: 158.4 kB."
says "tick.windy 5 min 25 min to 2 h 98.4 kB"
says "tick.every 5 min 17 min to 1 h"
says "With all cases kept, no value is better than now: mode.quick."
run 0 verdite plan tag.yaml --goal "data at most 72 kB"
says "tick.every: no value suffices. The best is 1 h: 79.2 kB."
run 0 verdite plan tag.yaml --goal "memory for 10 days"
says "Now: full after 3 d 11 h 25 min, 1879 lost, the oldest."
says "tick.every 5 min 15 min to 1 h 959 of 1000 Readings 95.9 a day"
run 0 verdite plan tag.yaml --goal "memory for 3 days"
says "Now: 863 of 1000; full after 3 d 11 h 25 min."
says "It is reached."
run 0 verdite plan tag.yaml --day "24 h calm" --goal "data at most 98400 B" # no gusts: readings alone
says "It is reached."
run 0 verdite plan tag.yaml --goal "battery at least 90 years"
tells "No setting alone reaches it."
says "tick.every: no value suffices. The best is 1 h"
# a value that a rule refuses does not suffice
cat >>tag.yaml <<'YAML'
rules:
  - must: tick.every != 15 min
    say: "{tick.every} is refused."
YAML
run 0 verdite plan tag.yaml --goal "memory for 10 days" --json
[ "$(suffice tick.every)" = "16 min..1 h" ] || fail "refused by a rule: $(suffice tick.every)"

# ---- beside trying each value of tick.windy by itself: every other of them, a third longer than it ever blows
run 0 verdite plan tag.yaml --goal "data at most 90 kB" --json
found=$(suffice tick.windy)
tried=$(for minutes in $(seq 20 10 180); do
    printf 'verdite-profile: 1\nmodel: tag\nsettings:\n  unit.name: ""\n  tick.every: 5 min\n  mode.quick: off\n  wired.wind: on\n  tick.windy: %s min\n' "$minutes" >one.yaml
    command verdite intervals one.yaml --json >one.json 2>one.err || { cat one.err; break; }
    python3 -c 'import json, sys
d = json.load(open("one.json"))
gust = [i for i in d["items"] if i["item"] == "gust"][0]
if d["bytes-a-month"][1] <= 90000 and gust["cases"][0]["times"][1] > 0: print(sys.argv[1])' "$minutes"
done | tr '\n' ' ')
[ "$tried" = "$(seq -s ' ' 70 10 120) " ] || fail "tried one by one: $tried"
[ "$found" = "1 h 5 min..2 h" ] || fail "found: $found"
passed=$((passed + 2))

# ---- against one setting: 144 readings a day empty 100 Ah in 2500 days, 6.8 years
cp tag.yaml ruled.yaml
sed -i '/^rules:/,$d' tag.yaml
run 0 verdite plan tag.yaml --against "tick.every=10 min"
says "tick.every Readings battery memory lasts at worst"
says "1 min 1440 8.2 to 8.3 months 16 h 41 min #"
says "5 min now 288 3.4 to 3.5 years 3 d 11 h 25 min ##"
says "10 min wanted 144 6.8 to 6.9 years 6 d 22 h 50 min ####"
says "1 h 24 41 to 41.1 years 41 d 17 h ####################"
run 0 verdite plan tag.yaml --against tick.every --json
got=$(python3 -c 'import json; print(*(row["memory"] for row in json.load(open("out"))["against"] if row["memory"][:4] in ("6 d ", "41 d")), sep=", ")')
[ "$got" = "6 d 22 h 50 min, 41 d 17 h" ] || fail "the 1001st reading is the first too many: $got" # of 600 s, of an hour
run 0 verdite plan tag.yaml --against mode.quick
while IFS='|' read -r against told; do
    run 4 verdite plan tag.yaml --against "$against"
    tells "$told"
done <<'TABLE'
tick.evry|Unknown setting "tick.evry"
unit.name|unit.name has no row of values
tick.every=3 h|out of range
tick.every=soon|not a duration
TABLE
cp ruled.yaml tag.yaml

# ---- the course of a day: a gust every five minutes of two hours, the last as it ends; readings all day
run 0 verdite intervals tag.yaml --drawn
says "The course of a day (usual)"
says "Windy 24 ####|$(printf '.%.0s' $(seq 43))"
says "Readings 288 $(printf '#%.0s' $(seq 48))"
COLUMNS=40 run 0 verdite intervals tag.yaml --drawn
says "##|....................." # an hour a column
run 0 verdite intervals tag.yaml --day "1 h calm, 90 min windy, rest calm" --drawn
says "Windy 18 ..###|" # from 1:05 to 2:30
run 0 verdite intervals tag.yaml --chart day.svg
tells "Drawn as day.svg"
python3 -c 'import xml.dom.minidom; xml.dom.minidom.parse("day.svg")' || fail "no sound SVG"
for word in "Tag, the course of a day (usual)" Windy 24 Readings 288; do
    grep -q ">$word<" day.svg || fail "the picture does not say $word"
done
run 4 verdite intervals tag.yaml --chart day.svg
tells "day.svg"
run 0 verdite intervals tag.yaml --chart day.svg --replace
run 0 verdite intervals tag.yaml --chart day.png
[ "$(head -c 8 day.png | tail -c 7 | tr -d '\r\n\032')" = PNG ] || fail "no PNG"
run 4 verdite intervals tag.yaml --chart day.txt
tells "A chart is a .png or .svg file."

# ---- stopped by hand: what was found until then is told, and what was not
run 8 timeout -s INT --preserve-status 4 verdite plan brock --goal "data at most 400 kB"
says "report.batch 1 2 to 20"
tells "Stopped. Not tried to the end:"
tells "report.distance"

# ---- what is no goal
while IFS='|' read -r goal told; do
    run 4 verdite plan tag.yaml --goal "$goal"
    tells "$told"
    [ -z "$out" ] || fail "$goal: answered all the same"
done <<'TABLE'
battery|"battery" is not a goal. Give "battery at least 2 years"
battery at least 0 years|is not a goal
battery at least -2 years|is not a goal
battery at least 2|is not a goal
battery at most 2 years|is not a goal
data at most 5 s|is not a goal
price at most 3 kB|is not a goal
memory for 20 MB|is not a goal
memory for 9999999999999999999 days|is not a goal
memory for 50000 days|at most 3650
memory for 3651 d|at most 3650
memory for 0.000001 d|is not a goal
memory for 0.0001 h|is not a goal
TABLE
sed '/^costs:/,/^tariff:/d' tag.yaml >bare.yaml
run 4 verdite plan bare.yaml --goal "battery at least 2 years"
tells "says nothing that such a goal needs"
sed -e 's/, default: 5 min, at: {word: TICK}/, at: {word: TICK}/' tag.yaml >unknown.yaml
run 0 verdite plan unknown.yaml --goal "memory for 10 days"
tells "Not known"
done_testing
