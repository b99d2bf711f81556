#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Profiles that are shared: one builds on another, needs a firmware, and says where its secrets come from.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
mkdir "$work/shared" && cd "$work/shared" || exit 1
export VERDITE_PASSWORD=''

cat >base.yaml <<'YAML'
verdite-profile: 1
model: dowel
settings:
  line.address: 77
  unit.name: Nobody
  weight.decimals: 1
  weight.full-scale: 200 kg
  weight.low-limit: 18 kg
  weight.high-limit: 65 kg
YAML
cat >hive.yaml <<'YAML'
verdite-profile: 1
model: dowel
builds-on: base.yaml
settings:
  weight.low-limit: 20 kg # more than usual
YAML
run 0 verdite check hive.yaml
says "Right: dowel, 4 settings."
run 1 verdite compare hive.yaml base.yaml
says "weight.low-limit"
fresh bracken
run 0 verdite write hive.yaml --address 3 --yes
says "weight.low-limit"
run 0 verdite verify hive.yaml --address 3
# one value of its own is changed; the other file, and all else, stays
cp base.yaml base.was
run 0 verdite set hive.yaml "weight.high-limit=60 kg"
cmp -s base.yaml base.was || fail "the profile that it builds on was changed"
grep -q 'more than usual' hive.yaml || fail "a comment went"
run 5 verdite unset hive.yaml weight.decimals
tells "The profile that it builds on has it: change it there."
run 0 verdite unset hive.yaml weight.high-limit
# from another folder
mkdir deep && run 0 sh -c 'cd deep && verdite check ../hive.yaml'
run 0 verdite new skep.yaml skep --variant sound

while IFS='|' read -r text told; do
    printf 'verdite-profile: 1\nmodel: dowel\n%b\nsettings:\n  unit.light: low\n' "$text" >wrong.yaml
    run 1 verdite check wrong.yaml
    tells "$told"
done <<'TABLE'
builds-on: nowhere.yaml|"nowhere.yaml" does not belong here. Give a sound profile of the same model that builds on no other; this one is no profile, or cannot be read: verdite check nowhere.yaml
builds-on: hive.yaml|"hive.yaml" does not belong here
builds-on: wrong.yaml|this one builds on another: verdite check wrong.yaml
builds-on: skep.yaml|this one is for another model: verdite check skep.yaml
needs-firmware: new|Give a version such as "1.4"
secrets: {unit.light: asked}|the key of a secret
secrets: {unit.panel-code: 4711}|Give where it comes from: asked, environment NAME, file PATH
secrets: {unit.panel-cod: asked}|unit.panel-code
secrets: none|Give a line for each
TABLE

# ---- the firmware that is needed
printf 'verdite-profile: 1\nmodel: dowel\nneeds-firmware: "1.5"\nsettings:\n  unit.light: high\n' >new.yaml
run 0 verdite check new.yaml
run 5 verdite write new.yaml --address 3 --yes
tells "The unit has firmware 1.4. The profile needs 1.5 or later. Nothing was sent."
sed -i 's/1.5/1.4/' new.yaml
run 0 verdite write new.yaml --address 3 --yes
sed -i 's/1.4/1.5/' new.yaml
run 5 verdite write new.yaml --address 3 --yes # nothing would change
tells "The profile needs 1.5 or later."
sed -i 's/1.5/1.4/' new.yaml

# ---- secrets: never in the file, never shown
printf 'verdite-profile: 1\nmodel: dowel\nsecrets:\n  unit.panel-code: environment PANEL\nsettings:\n  unit.light: high\n' >secret.yaml
run 0 verdite check secret.yaml
run 4 verdite write secret.yaml --address 3 --yes
tells "The environment says no PANEL."
run 2 env PANEL=4711 verdite write secret.yaml --address 3 --yes
says "unit.panel-code"
case $out$err in *4711*) fail "a secret is shown" ;; esac
echo 4712 >code
chmod 644 code
sed -i 's/environment PANEL/file code/' secret.yaml
run 4 verdite write secret.yaml --address 3 --yes
tells "Others can read the secret in code."
chmod 600 code
run 2 verdite write secret.yaml --address 3 --yes
printf 'serial,line.address,unit.panel-code\nQD-24003,3,environment PANEL\n' >list.csv
run 2 env PANEL=4713 verdite round list.csv new.yaml --yes
says "QD-24003"
run 4 verdite round list.csv new.yaml --yes --all
tells "A secret is missing"
grep -q '"unit.panel-code": "4713"' "$VERDITE_BENCH/state.json" || fail "the secret did not arrive"
# ---- for other units: what does not fit is told item by item, and nothing goes by itself
run 0 verdite new gauge.yaml dowel
run 0 verdite new weight.yaml gauge.yaml --group weight --for-all
grep -q weight.tare weight.yaml && fail "a tare is one unit's own"
grep -q unit.light weight.yaml && fail "a light is of another group"
run 0 verdite new hive.skep.yaml skep --variant sound --firmware 1.3
run 1 verdite new plain.yaml hive.skep.yaml --variant plain
says "sound.threshold 55 dB sound.threshold does not exist in this unit. Only the variant with a"
tells "Nothing was saved: 2 of 22 settings do not fit. To leave them out: --fitting"
[ ! -e plain.yaml ] || fail "half of it was saved"
run 2 verdite new plain.yaml hive.skep.yaml --variant plain --fitting --json
grep -q sound plain.yaml && fail "what does not fit was saved"
run 1 verdite new trip.yaml gauge.yaml --model wren
says "weight.low-limit 18.0 kg A wren has no such setting. Do you mean inside.low-limit?"
# ---- a file that was edited and never sent is not forgotten: by the history, and when its unit is met
fresh bracken
run 0 verdite read --address 5 --save five.yaml
run 0 verdite history
tells_not "edited since"
run 0 verdite set five.yaml "weight.low-limit=21 kg"
run 0 verdite history
tells "five.yaml was read from QD-24005 and edited since: weight.low-limit. To send it: verdite write"
run 0 verdite read --address 4
tells_not "edited since"
run 0 verdite write five.yaml --address 6 --group unit --yes # to another unit, and of one group to its own
run 0 verdite write five.yaml --address 5 --group unit --yes
tells_not "edited since" # it stands in the file that was written
run 0 verdite history
tells "five.yaml was read from QD-24005 and edited since: weight.low-limit."
run 0 verdite read --address 5 --group weight
tells "five.yaml was read from QD-24005 and edited since"
run 0 verdite write five.yaml --address 5 --yes
tells_not "edited since"
run 0 verdite change weight.low-limit=20 --address 5 --yes
tells_not "edited since" # by hand, at the unit

# ---- a row of a roster beside anything else
printf 'serial,line.address,unit.name,weight.low-limit\nQD-24005,5,Five,19 kg\nQD-24006,6,Six,\n' >rows.csv
run 1 verdite compare rows.csv:QD-24005:base.yaml unit --address 5
says "weight.low-limit 19 kg 20.0 kg"
says "only in unit: line.baud"
run 1 verdite compare rows.csv:Six:base.yaml rows.csv:Five:base.yaml
says "3 differ, 3 the same."
run 4 verdite compare rows.csv:Seven:base.yaml unit --address 5
tells 'rows.csv has no sound row for "Seven".'
run 1 verdite compare visit:2 rows.csv:Five:base.yaml
# ---- what a file names by a path is seen from its own folder, and stays so where a copy is saved elsewhere
mkdir -p folder/deep
printf 'verdite-profile: 1\nmodel: dowel\nsettings:\n  unit.light: high\n' >folder/all.yaml
printf 'verdite-profile: 1\nmodel: dowel\nbuilds-on: ../all.yaml\nneeds-firmware: "1.3"\nsecrets:\n  unit.panel-code: file code\nsettings: {}\n' \
    >folder/deep/one.yaml
echo 4714 >folder/deep/code
chmod 600 folder/deep/code
run 2 verdite write folder/deep/one.yaml --address 3 --yes
says "unit.panel-code"
run 0 verdite new folder/copy.yaml folder/deep/one.yaml
run 0 verdite new folder/whole.yaml folder/deep/one.yaml --for-all
grep -q 'needs-firmware: "1.3"' folder/whole.yaml || fail "the firmware that is needed was lost"
for file in copy whole; do
    grep -q 'unit.panel-code: "file deep/code"' folder/$file.yaml || fail "$file.yaml: $(cat folder/$file.yaml)"
    run 2 verdite write folder/$file.yaml --address 3 --yes
done
printf 'serial,line.address,profile,unit.panel-code\nQD-24005,5,one.yaml,file code\n' >folder/deep/list.csv
printf 'serial,line.address,profile\nQD-24004,,deep/one.yaml\n' >folder/list.csv
run 2 verdite round folder/deep/list.csv --yes --save moved.csv
grep -q '^QD-24005,5,folder/deep/one.yaml,file folder/deep/code' moved.csv || fail "moved.csv: $(cat moved.csv)"
run 0 verdite check moved.csv
run 0 verdite roster other.csv folder/list.csv --number 4
grep -q '^QD-24004,4,folder/deep/one.yaml' other.csv || fail "other.csv: $(cat other.csv)"
mv folder/deep/code folder/deep/kode
run 4 verdite write folder/deep/one.yaml --address 3 --yes
tells "The secret is to come from folder/deep/code: No such file"
done_testing
