#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# What is put back, and what is said of what is not: idle settings, secrets, counters, swaps that were cut off, other units,
# profiles that hold more than one document.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1
V=(--serial PLAY-1 --yes)

# ---- what was idle before is put back too, before the mode changes that makes it count
run 0 verdite-bench play wren wren
export VERDITE_BENCH="$work/wren"
run 0 verdite change stop.rule=after "stop.after=7 d" "${V[@]}"
run 0 verdite undo "${V[@]}"
says "stop.after"
says "VERIFIED: 2 of 2"
case $err in *"left alone"*) fail "it is told to be left alone, and is not" ;; esac
run 0 verdite raw "03 0030 0001" --model wren # 30 days in hours
says "03 02 02 D0"

# ---- what was changed since stays, but for --all; the earlier one of two is put back alone
run 0 verdite-bench play dowel dowel
export VERDITE_BENCH="$work/dowel"
run 0 verdite change unit.light=high "${V[@]}"
first=$(verdite history --count 1 --json | sed -n 's/.*"visit": \([0-9]*\),/\1/p' | head -n 1)
run 0 verdite change unit.averaging="4 s" "${V[@]}"
run 0 verdite undo "$first" "${V[@]}"
says "VERIFIED: 1 of 1"
run 0 verdite read --group unit
says "unit.averaging 4 s"
run 0 verdite undo "$first" "${V[@]}" --all
run 0 verdite read --group unit
says "unit.averaging 2 s"

# ---- what cannot be put back is named where the word stands, and the word is not verified
run 2 bash -c "echo 4821 | verdite change unit.panel-code unit.light=off ${V[*]}"
run 3 verdite undo "${V[@]}"
says "PARTLY UNDONE"
says "not undone: unit.panel-code."
tells "Cannot be undone: unit.panel-code"
run 2 bash -c "echo 4822 | verdite change unit.panel-code ${V[*]}"
run 3 verdite undo "${V[@]}"
says "NOT UNDONE: unit.panel-code. Nothing was sent."

# ---- a mixture that breaks a rule is refused, and both are named
run 0 verdite change weight.low-limit="5 kg" "${V[@]}"
first=$(verdite history --count 1 --json | sed -n 's/.*"visit": \([0-9]*\),/\1/p' | head -n 1)
run 0 verdite change weight.high-limit="10 kg" "${V[@]}"
run 5 verdite undo "$first" "${V[@]}"
tells "weight.low-limit: 18.0 kg is not below weight.high-limit, which is 10.0 kg."
tells "To put back the whole earlier state: verdite undo $first --all"
run 0 verdite undo "$first" "${V[@]}" --all
run 0 verdite read --group weight
says "weight.high-limit 65.0 kg"

# ---- a state goes back to its own unit: another one is named, and one without a number is agreed to
sed -i 's/serial: PLAY-1/serial: PLAY-2/' dowel/bench.yaml
run 6 verdite undo "$first" --yes
run 4 verdite undo "$first" --serial PLAY-2 --yes
tells "Nothing was sent. To put its state into another unit: --onto SERIAL."
run 0 verdite undo "$first" --onto PLAY-2 --yes
sed -i 's/serial: PLAY-2/serial: ""/' dowel/bench.yaml
run 0 verdite change unit.light=high --yes --address 247
run 4 verdite undo --yes --address 247
tells "If it is the same unit, add --agree same-unit"
run 0 verdite undo --yes --address 247 --agree same-unit
says "unit.light"

# ---- a swap is one act: cut off after any of its moves it is finished, or put back, as one
pulls=0
for bytes in $(seq 300 60 3600); do
    rm -rf pair "$VERDITE_STORE"*
    mkdir pair
    cat >pair/bench.yaml <<YAML
verdite-bench: 1
name: pair
adapters: [{name: pair-usb, label: P, cable: pair, lost-after: $bytes}]
units:
  - {name: a, model: dowel, cable: pair, serial: QA, firmware: "1.4", settings: {line.address: 3}}
  - {name: b, model: dowel, cable: pair, serial: QB, firmware: "1.4", settings: {line.address: 5}}
YAML
    export VERDITE_BENCH="$work/pair"
    verdite swap 3 5 --model dowel --yes >out.txt 2>err.txt && break
    sed -i 's/, lost-after: [0-9]*//' pair/bench.yaml
    [ "$(verdite history --json 2>/dev/null | grep -c '"task": "swap"')" -eq 0 ] && continue # nothing was begun
    pulls=$((pulls + 1))
    [ "$(verdite history --json 2>/dev/null | grep -c '"task": "swap"')" -eq 1 ] || fail "a swap that was cut off after $bytes bytes is not one act"
    if [ $((pulls % 2)) -eq 1 ]; then
        run 0 verdite finish --yes
        tells "Done: QA is at 5, QB at 3."
    fi
    run 0 verdite undo "$(verdite history --json 2>/dev/null | grep -B9 '"task": "swap"' | sed -n 's/.*"visit": \([0-9]*\),/\1/p' | head -n 1)" --yes
    tells "Done: QA is at 3, QB at 5."
    run 1 verdite finish --yes # nothing is left open
done
[ "$pulls" -ge 6 ] || fail "only $pulls swaps were cut off"
run 0 verdite swap 3 5 --model dowel --yes --trace # by the highest free address, and not by the one that new units have
case $err in *"address 246, write"*) ;; *) fail "no free address was gone by" ;; esac
case $err in *"address 247, write"*) fail "it went by the address of new units" ;; esac
# what raw has sent since is told, and is not put back
run 0 verdite change unit.light=high --address 3 --model dowel --yes
run 0 verdite raw "03 0000 0001" --address 3 --model dowel
run 0 verdite undo --address 3 --yes
tells "note: raw has sent something since"
says "unit.light"

# ---- a profile is all that it holds: a second document is refused by its line, a key that stands twice is not guessed at
export VERDITE_BENCH="$work/dowel"
head='verdite-profile: 1\nmodel: dowel\n'
while IFS='|' read -r line text; do
    # shellcheck disable=SC2059
    printf "$head$text" >two.yaml
    cp two.yaml before.yaml
    for command in "check two.yaml" "write two.yaml --yes --address 247" "set two.yaml unit.light=off" "compare two.yaml factory"; do
        status=5
        [ "$line$command" != "5check two.yaml" ] || grep -q '^\.\.\.' two.yaml || status=1 # it is read, and judged
        # shellcheck disable=SC2086
        run "$status" verdite $command
        tells "two.yaml, line $line, column"
    done
    cmp -s two.yaml before.yaml || fail "a file that was refused was changed"
done <<'TABLE'
4|settings: {unit.light: high}\n---\nsettings: {unit.averaging: 4 s}\n
5|settings: {unit.light: high}\n...\nunit.light: off\n
4|settings: {unit.light: high}\n--- {a: b}\n
5|settings:\n  unit.light: high\n  unit.light: low\n
TABLE
printf 'hello: 1\n' >neither.yaml
run 5 verdite check neither.yaml
tells "Give a profile, which begins with verdite-profile: 1; or a model, which begins with verdite-model: 1"
run 0 bash -c 'printf "verdite-profile: 1\nmodel: dowel\nsettings: {unit.light: high}\n...\n# the end\n" >one.yaml; verdite check one.yaml'
{ printf '%b' "$head"; for i in $(seq 1000); do echo "--- {a: $i}"; done; } >many.yaml
run 5 verdite check many.yaml
tells "many.yaml, line 3, column"

# ---- what check calls right, write takes; what hangs on the unit is said: rules of what comes into use, by modes too
mkdir pens
tag_head | sed '/^speaks/s/yes/no/' >pens/tag.yaml
cat >>pens/tag.yaml <<'YAML'
times: {usual-reply: 6 ms, longest-reply: 250 ms}
groups: [{key: all, label: All}]
settings:
  - {key: mode, group: all, label: Mode, type: choice, choices: [{name: quiet}, {name: loud}], default: quiet, at: {word: MODE, as: name}}
  - {key: level, group: all, label: Level, type: integer, range: [0, 99], default: 0, when: mode = loud, because: quiet has none, at: {word: LEVEL}}
  - {key: top, group: all, label: Top, type: integer, range: [0, 99], default: 0, at: {word: TOP}}
  - block: pen
    label: Pen
    repeat: 2
    settings:
      - {key: in-use, group: all, label: In use, type: truth, default: off, at: {word: "USE{item}"}}
      - {key: kind, group: all, label: Kind, type: choice, choices: [{name: round}, {name: long}], default: round, when: this.in-use, because: it is not in use, at: {word: "KIND{item}"}}
      - {key: low, group: all, label: Low, type: integer, range: [0, 99], default: 0, when: this.kind = round, because: only a round one has it, at: {word: "LOW{item}"}}
      - {key: high, group: all, label: High, type: integer, range: [0, 99], default: 0, when: this.kind = round, because: only a round one has it, at: {word: "HIGH{item}"}}
rules:
  - {must: this.low < this.high, each: pen, say: "Low {this.low} is not below high {this.high}."}
  - {must: level < top, say: "The level {level} is not below {top}."}
YAML
while IFS='|' read -r checked told written words settings; do
    rm -rf pen
    run 0 verdite-bench play pens/tag.yaml pen
    export VERDITE_BENCH="$work/pen" VERDITE_MODELS="$work/pens"
    printf 'verdite-profile: 1\nmodel: tag\nsettings: {%s}\n' "$settings" >pens.yaml
    run "$checked" verdite check pens.yaml
    tells "$told"
    run "$written" verdite write pens.yaml --yes
    case $out$err in *"$words"*) ;; *) fail "$what: no \"$words\"" ;; esac
done <<'TABLE'
2|line 3, column 26: pen.2.in-use cannot be judged: pen.2.low|5|Low 0 is not below high 0|pen.2.in-use: on
0||0|VERIFIED: 1 of 1|pen.2.in-use: off
2|mode cannot be judged: level|5|The level 0 is not below 0|mode: loud
2|mode cannot be judged|0|VERIFIED: 2 of 2|mode: loud, top: 5
0||0|VERIFIED: 2 of 2|mode: quiet, top: 5
2|pen.1.low cannot be judged: pen.1.high|2|Skipped, unused in this unit: pen.1.low. only a round one has it|pen.1.low: 5, top: 9
2|pen.1.high cannot be judged|3|nothing of it is in use in this unit|pen.1.high: 5
2|top cannot be judged: level|0|VERIFIED: 1 of 1|top: 0
TABLE
printf 'verdite-profile: 1\nmodel: tag\nsettings: {mode: quiet, level: 7, top: 5}\n' >pens.yaml
run 4 verdite set pens.yaml mode=loud
tells "The level 7 is not below 5."
grep -q "mode: quiet" pens.yaml || fail "a mode that breaks a rule was saved"
export VERDITE_MODELS="$VERDITE_SOURCE/models"

# ---- a counter is in no profile that was read, and is written where somebody typed where it goes on from
run 0 verdite-bench play brock brock
export VERDITE_BENCH="$work/brock" VERDITE_PASSWORD=0000
run 0 verdite read --save box.yaml
grep -q "# skipped, counts: unit.odometer" box.yaml || fail "the odometer is in the profile, or not told"
printf 'verdite-profile: 1\nmodel: brock\nsettings: {unit.odometer: 12.5 km}\n' >start.yaml
run 0 verdite write start.yaml --yes --serial PLAY-1
says "unit.odometer 12.5 km confirmed"
printf 'verdite-profile: 1\nmodel: brock\nsettings: {unit.odometer: 10 km}\n' >start.yaml
run 0 verdite compare unit start.yaml
run 2 verdite verify start.yaml
says "1 of 1 setting read back live"
run 3 verdite undo --yes --serial PLAY-1
says "NOT UNDONE: unit.odometer"
done_testing
