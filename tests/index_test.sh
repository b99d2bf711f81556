#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# An index of many models spares loading all of them, and hides nothing: what is broken, what is the same twice, what was
# changed or came since is told each time.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1
cp -r "$VERDITE_SOURCE/models" models
export VERDITE_MODELS="$work/models" VERDITE_BENCH="$work/bench"
index=$(dirname "$VERDITE_STORE")/models.index
for i in $(seq 60); do
    sed "s/^model: dowel\$/model: dowel-$i/; s/product: dowel/product: dowel-$i/" models/dowel.yaml >"models/dowel-$i.yaml"
done
run 0 verdite-bench play dowel bench
rm -f "$index"

run 0 verdite read --group unit
[ -s "$index" ] || fail "no index is kept"
# what has neither another size nor another time is not looked at, unless it is named
cp -p models/dowel-20.yaml kept.yaml
sed -i 's/^groups:/gruops:/' models/dowel-20.yaml
touch -r kept.yaml models/dowel-20.yaml
run 0 verdite read --group unit
case $err in *dowel-20*) fail "all models are loaded though none has changed" ;; esac
run 5 verdite read --model dowel-20
tells "Do you mean groups?"
cp -p kept.yaml models/dowel-20.yaml
# each change: what is done, what is told of it by every read after that
while IFS='|' read -r change told; do
    bash -c "$change"
    for _ in 1 2 3; do
        run 0 verdite read --group unit
        case $out$err in *"$told"*) ;; *) fail "$change: not told: $told" ;; esac
    done
done <<'TABLE'
sed -i 's/^groups:/gruops:/' models/dowel-7.yaml|dowel-7.yaml
cp models/dowel-8.yaml models/spare.yaml; sed -i 's/^model: .*/model: spare/' models/spare.yaml|spare
sed -i 's/label: Averaging time/label: Mean over/' models/dowel.yaml|Mean over
mv models/dowel-7.yaml models/dowel-9.yaml|dowel-9.yaml
TABLE
printf 'nonsense\n' >"$index"
run 0 verdite read --group unit
says "Mean over"
done_testing
