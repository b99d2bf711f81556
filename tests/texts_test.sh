#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# What a person reads: short sentences without banished phrases, few lines, numbers beside their units, help by the job
# and by the task, and the same on every kind of terminal.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1
fresh yard
fresh bracken
ln -s "$VERDITE_SOURCE/models" "$VERDITE_SOURCE/docs" .
cp -r "$VERDITE_SOURCE/benches" . && rm -f benches/*/state.json

# ---- the texts themselves
verdite help --json >help.json
verdite-bench help --json >bench-help.json
run 0 python3 "$VERDITE_SOURCE/tests/texts.py" "$VERDITE_SOURCE" help.json bench-help.json
printf '{"commands": [{"name": "x", "summary": "hangs on", "help": "%s.", "options": []}]}' "$(seq -s ' ' 21)" >wrong.json
run 1 python3 "$VERDITE_SOURCE/tests/texts.py" "$work" wrong.json # what holds texts can fail
says "21 words"
says '"hangs on"'
[ "$(wc -l <"$VERDITE_SOURCE/README.md")" -le 250 ] || fail "the README has more than 250 lines"
[ "$(wc -w <"$VERDITE_SOURCE/README.md")" -le 1800 ] || fail "the README has more than 1,800 words"

# ---- help: examples that work in the order of the job, and tasks (words_test has a page for each command)
COLUMNS=80 run 0 verdite help
for job in Look Understand Edit Write "Next unit" Keep; do says "$job"; done
while IFS='|' read -r word command; do
    run 4 verdite "$word"
    tells "$command"
done <<'TABLE'
scan|Do you mean find?
skan|Do you mean find?
restore|Do you mean undo?
xyzzy|Unknown command "xyzzy". All commands: verdite help
TABLE
run 0 verdite new box.yaml brock
while IFS= read -r example; do # as it stands there, each question answered with yes
    got=0
    yes 2>/dev/null | bash -c "$example" >out 2>err || got=$?
    err=$(cat err) out=$(cat out) what=$example
    case $example:$got in *compare*:1 | *diagnose*:0 | "verdite finish"*:1 | "verdite verify"*:3) ;; *:0) ;; *) fail "the example ends with $got" ;; esac
    passed=$((passed + 1))
done < <(python3 -c 'import json; [print(e) for c in json.load(open("help.json"))["commands"] for e in c["examples"]]')
while IFS='|' read -r word title; do
    COLUMNS=80 run 0 verdite help "$word"
    says "$title"
    [ "$(wc -l <out)" -le 30 ] || fail "help $word takes $(wc -l <out) lines"
done <<'TABLE'
silent|No reply
assign|verdite assign
ten-addresses|Give ten gauges their addresses
nag|An alarm that nags
button|A unit behind a button
copy|Copy one unit to the next
yesterday|Put yesterday back
interrupted|An interrupted write
depot|Before leaving the depot
trace|Send somebody a trace
author|A new kind of unit
several|Several units on one line
broken|Replace a broken unit
password|A unit with a password
termination|A line that fails now and then
TABLE
run 0 verdite help no reply # as words
says "No reply"
run 0 verdite help silent --json
says '"name": "no-reply"'
run 0 verdite help tasks
[ "$(wc -l <out)" -ge 13 ] || fail "fewer than twelve tasks"
run 4 verdite help xyzzy
while IFS= read -r line; do # every command of every page is one: its words are judged before a bench is looked for
    got=0
    VERDITE_BENCH=$work/none bash -c "$line" >out 2>err </dev/null || got=$?
    out='' err=$(cat err) what=$line
    [ "$got" -ne 4 ] || case $err in *exists* | *"No secret"* | *"raw sent"*) ;; *) fail "it is no command" ;; esac
    passed=$((passed + 1))
done < <(sed -n 's/^       \(verdite.*\)/\1/p' docs/tasks/*.md | sort -u)

# ---- how many lines each main command prints, both streams at 80 columns, and that no number is torn from its unit
fresh bracken
rm -f "$VERDITE_STORE" h.yaml
: >all
while IFS='|' read -r most words; do
    for width in 40 80; do
        COLUMNS=$width bash -c "verdite $words" >out 2>&1 </dev/null
        sed "s/^/$width:/" out >>all
        [ "$width" -eq 40 ] && case $words in change* | assign* | undo* | write* | alarm*) cp -r "$work/bracken" kept; rm -rf bracken; fresh bracken ;; esac
    done
    out='' err=$(cat out) what="verdite $words"
    [ "$(wc -l <out)" -le "$most" ] || fail "it prints $(wc -l <out) lines, not $most at most"
    passed=$((passed + 1))
done <<'TABLE'
15|find
20|read --address 3
1|read --address 3 --save h.yaml --replace
1|check h.yaml
6|change weight.filter="1 s" --address 3 --yes
7|change weight.low-limit="20 kg" --address 3 --yes
8|undo --address 3 --yes
7|alarm unit "weight low" below "21 kg" --address 3 --yes
16|change --addresses 1-10 weight.filter="2 s" --yes
11|assign 11 "Bracken 11" --yes
TABLE
python3 - all <<'PY' || fail "a number stands on one line and its unit on the next, or a noun does not agree"
import re, sys
lines = open(sys.argv[1]).read().split("\n")
for a, b in zip(lines, lines[1:]):
    if re.search(r"[ :(]\d[\d.]*$", a) and re.match(r"(40|80): *(ms|s|min|h|d|kg|km/h|°C|%|V|m|dB|bit/s)\b", b):
        sys.exit(f"{a}\n{b}")
    if re.search(r"\b1 (settings|units|tries|bytes|alarms|warnings|values|characters|lines)\b", a) and "of 1" not in a:
        sys.exit(a)
PY

# ---- terminals: the verdict in the place of the table; where that has moved or gone, below it
fresh bracken
on() { # on COLUMNS ROWS ANSWERS COMMAND...: what stands on a terminal at the end, in $out
    what="on a terminal of $1 x $2: ${*:4}"
    out=$(python3 "$VERDITE_SOURCE/tests/terminal.py" "$@" | tr -s ' ')
    err=''
}
on 80 24 y verdite change weight.filter="1 s" --address 3
says "  setting        was     is now  verdict
  weight.filter  500 ms  1 s     confirmed
Write 1 setting"
on 40 30 y verdite change weight.filter="2 s" --address 3
says "confirmed"
on 80 24 resize60 verdite change weight.filter="3 s" --address 3 # the table stays, and the verdict stands below
says "will be"
says "  weight.filter  3 s  confirmed"
on 20 60 y verdite change weight.filter="4 s" --address 3
says "VERIFIED: 1 of 1"
on 400 24 y verdite change weight.filter="5 s" --address 3
says "VERIFIED: 1 of 1 setting read back from storage, equal."
on 80 4 y verdite change weight.filter="6 s" weight.latching=on unit.light=high --address 3 # taller than the terminal
says "  weight.filter    6 s   confirmed"
on 80 24 n verdite change weight.filter="7 s" --address 3
says "You answered no. Nothing was sent."
TERM=dumb on 80 24 y verdite change weight.filter="8 s" --address 3 # nothing is drawn over, for whoever hears it read
says "  weight.filter  8 s  confirmed"
on 80 24 "" verdite change --addresses 1-3 weight.filter="9 s" --yes
[ "$(grep -c "address [123] .*VERIFIED" <<<"$out")" -eq 3 ] || fail "not a line for each unit"

# ---- characters: ASCII on the screen of a terminal that shows no other; in a pipe and as input both
LC_ALL=C on 80 40 "" verdite read --address 3
says "32.0 deg C"
case $out in *°*) fail "a sign that the terminal does not show" ;; esac
LC_ALL=C run 0 verdite read --address 3
says "32.0 °C"
run 0 verdite read --address 3 --save deg.yaml
run 0 verdite set deg.yaml "temperature.low-limit=33 deg C"
says "33 °C"
run 0 verdite alarm deg.yaml "temperature high" above 38 deg C
says "38 °C"
sed 's/^model: dowel/model: far/; s/^title: .*/title: חיישן הכוורת/; s/label: Low limit/label: 下限重量の値/' "$VERDITE_SOURCE/models/dowel.yaml" >far.yaml
on 60 60 "" verdite model far.yaml
says "חיישן הכוורת"
on 60 60 "" verdite model far.yaml weight.low-limit
says "下限重量の値"

# ---- a shown name is taken for a key, where only one has it
run 0 verdite set deg.yaml "Weight low limit=19 kg"
says "weight.low-limit"
run 4 verdite set deg.yaml "Low limit=19 kg" # of weight, or of temperature
tells '"Low limit" names 2 settings. Give the key of one: weight.low-limit, temperature.low-limit.'
run 4 verdite model dowel "Low limit"
tells "temperature.low-limit"
run 0 verdite read --address 3 --group Relay
says "relay.follows"
run 0 verdite find --from 3 --to 3 --port "RS-485 adapter in the trailer's junction box"
says "dowel QD-24003"
run 0 verdite help tasks --json # programs have it all in one
says '"name": "find"'
run 0 verdite try deg.yaml "Weight=17 kg"
says "Weight low: would sound"
run 0 verdite model "Dowel two-channel gauge" "weight low limit"
done_testing
