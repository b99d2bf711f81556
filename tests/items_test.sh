#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# What repeats as a table: saved, edited elsewhere, put back into files and units, and each wrong cell named.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
mkdir "$work/items" && cd "$work/items" || exit 1
run 0 verdite new box.yaml brock
cp box.yaml as-new.yaml

# ---- which tables there are, and one of them
run 0 verdite items brock
says "person 5 name, phone, may-command"
run 0 verdite items brock --json
says '"name": "alarm"'
run 0 verdite items dowel
tells "Nothing repeats in the model dowel."
run 0 verdite items brock alarm
says "alarm source limit delay does tells"
says "4 none 0.0 5 s report none"
run 0 verdite items box.yaml Person --json
says '"key": "person.5.phone"'
run 4 verdite items brock horn
tells 'Nothing in the model brock repeats as "horn".'
run 4 verdite items brock --save x.csv
run 0 verdite items box.yaml alarm --save alarms.csv
run 4 verdite items box.yaml alarm --save alarms.csv
[ "$(head -1 alarms.csv)" = "$(printf 'alarm,source,limit,delay,does,tells,text\r')" ] || fail "the header: $(head -1 alarms.csv)"

# ---- as it was saved it changes nothing
run 0 verdite fill box.yaml alarms.csv
tells "Nothing changed."
cmp -s box.yaml as-new.yaml || fail "box.yaml changed"

# ---- edited by another program: columns and rows in any order, by name, with semicolons, a mark and quotes
python3 - <<'PYTHON'
import csv, io
rows = [["Person", "May command", "Name", "Number"], ["3", "on", "Ada; Ling", "+441134960007"], ["1", "", "'=Ben", ""]]
text = io.StringIO()
csv.writer(text, delimiter=";").writerows(rows)
open("people.csv", "w", encoding="utf-8-sig", newline="").write(text.getvalue())
PYTHON
run 0 verdite fill box.yaml people.csv
for key in 'person.3.name: "\{0,1\}Ada; Ling' 'person.3.phone: .*+441134960007' 'person.3.may-command: .*on' "person.1.name: .*=Ben"; do
    grep -q "$key" box.yaml || fail "no $key in box.yaml: $(grep person box.yaml)"
done
run 0 verdite items box.yaml person --save again.csv
python3 - <<'PYTHON' || fail "the table that was saved: $(cat again.csv)"
import csv, sys
rows = list(csv.reader(open("again.csv", newline="")))
sys.exit(rows[1] != ["1", "'=Ben", '""', "off"] or rows[3] != ["3", "Ada; Ling", "+441134960007", "on"] or len(rows) != 6)
PYTHON

# ---- what one has empty is emptied where it is put; a cell without anything leaves what is there
run 0 verdite set box.yaml person.2.name=Cleo person.3.phone=
run 0 verdite fill box.yaml again.csv
says 'person.2.name Cleo -'
printf 'person,name\n2,Cleo\n' >one.csv
run 0 verdite fill box.yaml one.csv
printf 'person,name,may-command\n2,,on\n3,"""""",\n' >one.csv
run 0 verdite fill box.yaml one.csv
grep -q 'person.2.name: .*Cleo' box.yaml || fail "an empty cell emptied a text"
grep -q 'person.3.name: ""' box.yaml || fail "two quotes emptied nothing: $(grep person.3 box.yaml)"

# ---- what is wrong: where, what, what is allowed; and nothing changes
cp box.yaml before.yaml
# wrong TEXT LINE COLUMN WORDS: a table with this text is refused for this.
wrong() {
    printf '%b' "$1" >wrong.csv
    run 5 verdite fill box.yaml wrong.csv
    tells "wrong.csv, line $2, column $3: "
    tells "$4"
    tells "box.yaml is unchanged."
    cmp -s box.yaml before.yaml || fail "box.yaml changed by: $1"
}
wrong 'horn,limit\n1,3\n' 1 1 'The first column, "horn", names nothing that repeats'
wrong 'alarm,limit\n1,""""""\n' 2 2 'alarm.1.limit'
wrong 'alarm,limits\n1,3\n' 1 2 'Do you mean limit?'
wrong 'alarm,limit,limit\n1,3,4\n' 1 3 'twice'
wrong 'alarm,delay\n9,3 s\n' 2 1 'Give a number from 1 to 4.'
wrong 'alarm,delay\n0,3 s\n' 2 1 'There is no alarm "0".'
wrong 'alarm,delay\n1x,3 s\n' 2 1 'There is no alarm "1x".'
wrong 'alarm,delay\n,3 s\n' 2 1 'This row does not say which alarm it is for'
wrong 'alarm,delay\n2,3 s\n2,4 s\n' 3 1 'alarm 2 is in line 2 already.'
wrong 'alarm,delay\n1,2 h\n' 2 2 'out of range'
wrong 'alarm,delay\n1,3\n' 2 2 'alarm.1.delay'
wrong 'alarm,source\n1,bogus\n' 2 2 'Choose none'
wrong 'person,Number\n1,1.2E+05\n' 2 2 'A spreadsheet made "1.2E+05"'
wrong 'alarm,source,limit\n1,speed,12 V\n' 2 3 'alarm.1.limit'
wrong 'alarm,delay\n1,"3 s\n' 2 1 'A quote in this row is not closed'
wrong 'alarm,delay\n1,3 s,4\n' 2 1 'This row has 3 cells, the header 2'
wrong '' 1 1 'names nothing that repeats'
wrong 'alarm,source,limit,delay\n1,bogus,3,2 h\n2,speed,500 km/h,1 s\n' 3 3 'line 2, column 4'
printf 'alarm,delay\n1,\n' >empty.csv
run 0 verdite fill box.yaml empty.csv
tells "All cells of empty.csv are empty."
run 5 verdite fill box.yaml missing.csv
run 4 verdite fill factory alarms.csv
mkdir models
# A rule that a table breaks is told at its cell: the model of a made-up tag with two zones.
{
    tag_head
    cat <<'YAML'
times: {usual-reply: 10 ms, longest-reply: 200 ms}
groups: [{key: all, label: All}]
settings:
  - block: zone
    label: Zone
    repeat: 2
    settings:
      - {key: low, group: all, label: Low, type: integer, range: [0, 99], default: 10, at: {word: ZONE}}
      - {key: high, group: all, label: High, type: integer, range: [0, 99], default: 20, at: {word: ZONE, field: 2}}
      - {key: seen, group: all, label: Seen, type: integer, range: [0, 99], access: read-only, at: {word: SEEN}}
      - {key: code, group: all, label: Code, type: text, length: 8, default: "", secret: yes, access: write-only, at: {word: CODE}}
rules:
  - {each: zone, must: this.low < this.high, say: "{this.low} is not below {this.high}."}
YAML
} >models/tag.yaml
export VERDITE_MODELS="$PWD/models:$VERDITE_MODELS"
run 0 verdite check models/tag.yaml
run 0 verdite new zones.yaml tag
printf 'zone,low\n2,30\n' >zones.csv
run 5 verdite fill zones.yaml zones.csv
tells "zones.csv, line 2, column 2"
printf 'zone,seen\n2,30\n' >zones.csv
run 5 verdite fill zones.yaml zones.csv
printf 'zone,code\n2,30\n' >zones.csv
run 5 verdite fill zones.yaml zones.csv
tells "A secret does not belong in a table."
run 0 verdite items zones.yaml zone --save z.csv
[ "$(head -1 z.csv | tr -d '\r')" = "zone,low,high" ] || fail "the header: $(head -1 z.csv)"

# ---- a unit: its table, and a table put into it, verified; nothing is sent where a cell is wrong
fresh yard
export VERDITE_PASSWORD=0000
printf 'alarm,source,limit,text\n2,speed,95 km/h,Slow down\n' >fast.csv
run 0 verdite fill unit fast.csv --port sorrel-box --yes
says "VERIFIED"
run 0 verdite items unit alarm --port sorrel-box --save kept.csv
grep -q '^2,speed,95 km/h,5 s,report,none,Slow down' kept.csv || fail "kept.csv: $(cat kept.csv)"
python3 - "$work/yard/state.json" <<'PYTHON' || fail "the unit does not hold it"
import json, sys
stored = json.load(open(sys.argv[1]))["units"]["sorrel"]["stored"]
sys.exit(stored["alarm.2.limit"] != "95 km/h" or stored["alarm.2.text"] != "Slow down")
PYTHON
printf 'alarm,source,limit\n2,speed,999 km/h\n' >fast.csv
run 5 verdite fill unit fast.csv --port sorrel-box --yes
tells "Nothing was sent to the unit."
run 0 verdite fill unit kept.csv --port sorrel-box --yes --json
says '"outcome": "verified"'
done_testing
