#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Rosters, as a fitter gets them from offices and spreadsheets: what is sound, and what is told of what is not.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1
run 0 verdite new hive.yaml dowel
run 0 verdite set hive.yaml "weight.high-limit=65 kg"

# ---- sound ones: commas, semicolons, quoted line ends, a mark of bytes, rows of separators, line ends of any kind
printf 'serial,line.address,Unit: Name,weight.low-limit,remark\nQD-30001,2,Ling 1,18.0,"by the\ngate, left"\n,,,,\n'"QD-30002,3,'=Ling,\"20,5 kg\",\n" >good.csv
run 0 verdite check good.csv hive.yaml
says "Right: 2 units, 0 findings."
printf '\xef\xbb\xbfserial;LINE;line.address;model;Profile\r\nQD-30001;a;3;dowel;\r\nQD-30002;b;3;;hive.yaml\r\n;;;;\r\n' >also.csv
run 0 verdite check also.csv
says "Right: 2 units"
printf 'serial,line.address,model,power.mode\nQD-30001,2,dowel,\nQB-1,,brock,sleep\n' >mixed.csv
run 0 verdite check mixed.csv
run 0 verdite check good.csv hive.yaml --json

# what is one unit's own in its profile is not judged for another: a tare of 90 kg and a limit of 65 kg are too much
sed 's/^settings:/unit: {serial: "QD-24003"}\n&\n  weight.tare: 90 kg\n  weight.full-scale: 100 kg\n  weight.alarm: high/; /^  weight.tare: 0/d; /^  weight.full-scale: 2/d; /^  weight.alarm: none/d' hive.yaml >from-one.yaml
printf 'serial,weight.high-limit\nQD-30001,64 kg\n' >own.csv
run 0 verdite check own.csv from-one.yaml
says "Right: 1 unit, 0 findings."
sed '/^unit:/d' from-one.yaml >for-all.yaml
run 0 verdite check own.csv for-all.yaml
tells "The high alarm can never come"

# ---- what is not: on which line, in which column
while IFS='|' read -r text place told; do
    # shellcheck disable=SC2059
    printf "$text" >wrong.csv
    run 1 verdite check wrong.csv hive.yaml
    tells "wrong.csv, line ${place%,*}, column ${place#*,}:"
    tells "$told"
done <<'TABLE'
line.address\n2\n3\n2\n|4,1|"2" stands in line 2, too. No two units may have the same.
line.address,line\n2,a\n2,b\n2,b\n|4,1|stands in line 3, too
serial\nQD-1\n\nQD-2\nQD-1\n|5,1|"QD-1" stands in line 2, too
serial,remark\nQD-1,"one\ntwo"\nQD-1,\n|4,1|"QD-1" stands in line 2, too
code,serial\nX1,\nX1,\n|3,1|"X1" stands in line 2, too
line.address,weight.low-limit\n400,abc\n|2,1|"400" is out of range. Give 1 to 247.
line.address,weight.low-limit\n400,abc\n|2,2|"abc" is not a number
serial,weight.low-limit\nQD-1,66\n|2,2|is not below weight.high-limit
serial,nonsense\nQD-1,1\n|1,2|The column "nonsense" is for no setting
serial,Low limit\nQD-1,1\n|1,2|Several settings of the dowel are called "Low limit"
serial,now.weight\nQD-1,1\n|1,2|can be read, but not written
serial,Serial\nQD-1,QD-1\n|1,2|This column is there twice
serial\n1.2E+05\n|2,1|A spreadsheet made "1.2E+05" of a longer number
serial,line.address\n1,2.5\n|2,2|line.address
serial,line.address\nQD-1\n|2,1|This row has 1 cells, the header 2
serial,line.address\nQD-1,2,3\n|2,1|This row has 3 cells, the header 2
serial,model\nQD-1,dowle\n|2,2|There is no model "dowle"
serial,model,profile\nQD-1,brock,hive.yaml\n|2,2|The profile is for a dowel, not for a brock
serial,profile\nQD-1,nowhere.yaml\n|2,2|cannot be used. To see why: verdite check
serial,model,power.mode\nQD-1,dowel,sleep\nQB-1,brock,sleep\n|2,3|A dowel has no setting "power.mode"
TABLE
printf 'serial,model,access.password\nQB-1,brock,quince\n' >secret.csv
run 1 verdite check secret.csv
tells "A secret does not belong in a roster. Say where it comes from"
case $out$err in *quince*) fail "the secret was shown" ;; esac
for from in asked "environment BROCK_KEY" "file key.txt"; do
    printf 'serial,model,access.password\nQB-1,brock,%s\n' "$from" >secret.csv
    run 0 verdite check secret.csv
done
printf 'serial\nQD-1\n' >bare.csv
run 1 verdite check bare.csv
tells "This row says no model"

# ---- what is no list at all
while IFS='|' read -r text told; do
    # shellcheck disable=SC2059
    printf "$text" >wrong.csv
    run 5 verdite check wrong.csv hive.yaml
    tells "$told"
done <<'TABLE'
|The roster lists no unit
serial\n|The roster lists no unit
serial\n"QD-1\n|is not closed
serial\n"QD"-1\n|is not closed, or stands inside a cell
serial\n\xff\n|not UTF-8
TABLE
run 5 verdite check nowhere.csv
tells "cannot be read"
run 4 verdite check hive.yaml good.csv
tells "A profile belongs behind a roster only."
run 5 verdite check good.csv nowhere.yaml
python3 -c 'print("serial\n" + "\n".join("QD-%d" % i for i in range(100001)))' >long.csv
run 5 verdite check long.csv hive.yaml
tells "100000 rows"
done_testing
