#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Stages every row of the table in docs/diagnoses.md on a bench and compares the code that comes back.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1
mkdir models bench
cp "$VERDITE_SOURCE"/models/{brock,dowel,lantern,skep}.yaml models/
sed 's/^model: dowel/model: peg/; s/product: dowel/product: peg/' models/dowel.yaml >models/peg.yaml
sed 's/^model: dowel/model: twig/; s/product: dowel/product: twig/' models/dowel.yaml >twig.yaml
sed 's/^model: brock/model: badger/; s/product: brock/product: badger/' models/brock.yaml >models/badger.yaml
sed 's/^model: brock/model: stoat/; s/product: brock/product: stoat/' models/brock.yaml >stoat.yaml
export VERDITE_MODELS="$work/models" VERDITE_BENCH="$work/bench"

unit() { # NAME SERIAL CELL
    local model='model: dowel, '
    case $3 in *model:*) model='' ;; esac
    printf '  - {name: %s, cable: pair, serial: %s, firmware: "1.4", %s%s}\n' "$1" "$2" "$model" "$3"
}

codes_of() { # prints the codes in the JSON, "fine" where a unit answers and there is none
    python3 - <<'PYTHON'
import json
result = json.load(open("out"))
codes = {fault.get("code", "?") for fault in result.get("faults", [])}
units = [u for u in result["units"] if u["fault"] == "ok"]
print(" ".join(sorted(codes)) if codes else "fine" if units else "nothing")
PYTHON
}

rows=0
while IFS='|' read -r _ staged adapter unit second command code _; do
    read -r code <<<"$code"
    read -r adapter <<<"$adapter"
    read -r unit <<<"$unit"
    read -r second <<<"$second"
    {
        echo "verdite-bench: 1"
        echo "name: staged"
        if [ "$adapter" = - ]; then echo "adapters: []"; else printf 'adapters:\n  - {name: usb, %s}\n' "$adapter"; fi
        echo "units:"
        unit one QD-24001 "$unit"
        [ -z "$second" ] || unit two QD-24002 "$second"
    } >bench/bench.yaml
    rm -rf bench/state.json "$work/state"
    case $command in *--model* | *find*) ;; *) command="$command --model dowel" ;; esac
    # shellcheck disable=SC2086 # the cell holds several words
    verdite $command --json >out 2>err </dev/null
    got=$(codes_of)
    what=$staged out=$(cat out) err=$(cat err)
    [ "$got" = "$code" ] || fail "$staged: $got, not $code"
    passed=$((passed + 1)) rows=$((rows + 1))
done < <(sed -n '/^| what is staged/,$p' "$VERDITE_SOURCE/docs/diagnoses.md" | tail -n +3)
# Two on one address whose replies do not overlap are named, whoever meets them.
cat >bench/bench.yaml <<'YAML'
verdite-bench: 1
name: staged
adapters: [{name: usb, cable: pair}]
units:
  - {name: one, model: dowel, cable: pair, serial: QD-24001, firmware: "1.4", settings: {line.address: 5}}
  - {name: two, model: dowel, cable: pair, serial: QD-24002, firmware: "1.4", settings: {line.address: 5}, faults: {late: 100 ms}}
YAML
for command in "find --from 4 --to 6" "diagnose --address 5 --model dowel" "assign 7 --address 5 --yes" \
    "assign 7 --address 5 --model dowel --yes" "read --address 5"; do
    rm -rf bench/state.json "$work/state"
    # shellcheck disable=SC2086 # several words
    run 6 verdite $command
    tells "Two units share address 5: QD-24001 and QD-24002."
done
what="the table"
[ "$rows" -ge 30 ] || fail "only $rows rows were found"
done_testing
