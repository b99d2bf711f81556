#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Free addresses for the rows of a roster that have none: on buses and in networks, and why each is free.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
mkdir -p "$work/numbering/models" && cd "$work/numbering" || exit 1
run 0 verdite new hive.yaml dowel
printf 'serial,line,line.address\r\nQD-1,A,2\r\nQD-2,A,\r\nQD-3,A,\r\nQD-4,B,\r\n' >old.csv
cp old.csv kept.csv

# ---- a bus: each line by itself; what a row has is left out; the roster that was given stays
run 0 verdite roster new.csv old.csv hive.yaml --number "2-5 but 4"
says "3 QD-2 3 free: no other row and no recorded visit has it"
says "skipped 2: row 2 has it"
tells "Saved as new.csv: 3 new addresses."
[ "$(tr -d '\r' <new.csv | tr '\n' ' ')" = "serial,line,line.address QD-1,A,2 QD-2,A,3 QD-3,A,5 QD-4,B,2 " ] || fail "new.csv: $(cat new.csv)"
cmp -s old.csv kept.csv || fail "old.csv changed"
run 0 verdite check new.csv hive.yaml
run 0 verdite roster json.csv old.csv hive.yaml --number "from 30 step 5" --json
says '"address": "35"'

# ---- a later row's own address is not given to an earlier one; new units come at 247
printf 'serial,line.address\nQD-1,\nQD-2,245\nQD-3,\n' >end.csv
run 4 verdite roster end-new.csv end.csv hive.yaml --number "from 245"
tells "has no free address left for row 4."
[ ! -e end-new.csv ] || fail "half a roster was saved"
printf "serial,line.address\nQD-1,\nQD-2,245\n" >end.csv
run 0 verdite roster end-new.csv end.csv hive.yaml --number "from 245"
grep -q "^QD-1,246" end-new.csv || fail "$(cat end-new.csv)"

# ---- where a visit left a unit that is not on the list
cp -r "$VERDITE_SOURCE/benches/tray" tray && rm -f tray/state.json
printf 'serial,line,line.address\nQD-30001,A,3\n' >one.csv
run 0 verdite round one.csv hive.yaml --bench tray --yes --wait "20 s"
run 0 verdite roster visited.csv old.csv hive.yaml --number "from 2"
says "skipped 2: row 2 has it; 3: QD-30001 was met there"
grep -q '^QD-2,A,4' visited.csv || fail "$(cat visited.csv)"

# ---- networks: a made-up tag whose address, mask and gateway its model has rules about
{
    tag_head
    cat <<'YAML'
times: {usual-reply: 10 ms, longest-reply: 200 ms}
groups: [{key: net, label: Network}]
settings:
  - {key: address, group: net, label: Address, type: ipv4, among-units: unique, default: 192.0.2.2, at: {word: ADDRESS}}
  - {key: mask, group: net, label: Mask, type: mask, default: /28, at: {word: MASK}}
  - {key: gateway, group: net, label: Gateway, type: gateway, default: 192.0.2.1, at: {word: GATE}}
rules:
  - {must: "usable-host(address, gateway, mask)", say: "{address} is no host of its own there."}
  - {must: "same-network(address, gateway, mask)", say: "{address} and {gateway} are in two networks."}
YAML
} >models/tag.yaml
export VERDITE_MODELS="$PWD/models:$VERDITE_MODELS"
run 0 verdite check models/tag.yaml
printf 'serial,model,address,mask,gateway\nT-1,tag,10.8.3.18,/28,10.8.3.17\nT-2,tag,,/28,10.8.3.17\nT-3,tag,,/28,10.8.3.17\n' >net.csv
run 0 verdite roster net-new.csv net.csv --number "10.8.3.16/28 but .19"
grep -q '^T-2,tag,10.8.3.20' net-new.csv || fail "$(cat net-new.csv)"
grep -q '^T-3,tag,10.8.3.21' net-new.csv || fail "$(cat net-new.csv)"
says "skipped 10.8.3.17: address: 10.8.3.17 is no host of its own there."
run 0 verdite check net-new.csv
for wrong in 10.8.3.17 10.8.3.31 10.9.3.18; do
    printf 'serial,model,address,mask,gateway\nT-1,tag,%s,/28,10.8.3.17\n' "$wrong" >bad.csv
    run 1 verdite check bad.csv
    tells "bad.csv, line 2, column 3"
done
printf 'serial,model,address\nT-1,tag,10.8.3.18\nT-2,tag,10.8.3.18\n' >bad.csv
run 1 verdite check bad.csv
tells "bad.csv, line 3, column 3"

# ---- wrong words
run 4 verdite roster x.csv old.csv hive.yaml --number "zz"
tells '"zz" is no plan of addresses.'
run 4 verdite roster x.csv old.csv hive.yaml
run 4 verdite roster x.csv find --number "2-3"
run 4 verdite roster new.csv old.csv hive.yaml --number "2-9"
tells "new.csv exists already"
run 4 verdite roster x.csv old.csv hive.yaml --number "10.8.3.16/28"
tells "The roster has no column for such addresses."
printf 'serial,line.address\nQD-1,bogus\nQD-2,\n' >bad.csv
run 5 verdite roster x.csv bad.csv hive.yaml --number "2-9"
tells "Nothing was saved."
[ ! -e x.csv ] || fail "x.csv was saved"
done_testing
