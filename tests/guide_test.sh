#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# The guide: verdite without a command, at a terminal. What it shows is what it does: the commands that it showed are
# typed again on a bench like the first, and must leave the same.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
mkdir "$work/guide" && cd "$work/guide" || exit 1
export PATIENCE=20

# line NAME UNIT...: a bench with dowels on one pair; a unit: serial number, address, what else stands in its file.
line() {
    rm -rf "$1" "$work/state" ./*.yaml
    mkdir "$1"
    {
        printf 'verdite-bench: 1\nname: x\nadapters: [{name: pair-usb, label: adapter, cable: pair, latency: 1 ms}]\nunits:\n'
        local serial address rest
        for unit in "${@:2}"; do
            read -r serial address rest <<<"$unit"
            printf '  - {name: %s, model: dowel, cable: pair, serial: %s, firmware: "1.4", settings: {line.address: %s}%s}\n' \
                "$(tr '[:upper:]' '[:lower:]' <<<"$serial")" "$serial" "$address" "${rest:+, $rest}"
        done
    } >"$1/bench.yaml"
    export VERDITE_BENCH=$PWD/$1
}
# stored BENCH: what its units keep, as the bench itself knows it.
stored() {
    python3 -c 'import json, sys
for name, unit in sorted(json.load(open(sys.argv[1] + "/state.json"))["units"].items()):
    print(name, sorted(unit["stored"].items()))' "$1"
}
# shown: the commands that were shown, a line each.
shown() { printf '%s\n' "$out" | sed -n 's/^\$ //p'; }

# ---- no terminal, no guide
line first "QD-1 247" "QD-2 2"
run 0 verdite
says "Call: verdite COMMAND"
says "Type verdite alone"

# ---- two units: an address, two changes, consent, and the same file for the next one
whole=('Which unit\?=>type QD-1' 'address should it get=>type 7' '\[y/N\]=>type y'
    'want to change\?=>type weight.low-limit 20 kg' 'else do you want=>type weight.alarm = low' 'else do you want=>type '
    '\[y/N\]=>type y' 'unit next\?=>type 2' 'as well=>type y' '\[y/N\]=>type y' 'unit next\?=>stop now')
run 0 typing 80 "${whole[@]}" -- verdite
says "Give a change such as weight.low-limit=18.0 kg, or a file."
says "Verified: dowel QD-1, dowel QD-2."
commands=$(shown)
case $commands in *'verdite set QD-1.yaml "weight.low-limit=20 kg"'*) ;; *) fail "the commands: $commands" ;; esac
guided=$(stored first)
line second "QD-1 247" "QD-2 2"
while read -r command; do
    case $command in *" assign "* | *" write "*) command="$command --yes" ;; esac
    run 0 bash -c "$command"
done <<<"$commands"
[ "$(stored second)" = "$guided" ] || fail "what was shown does something else: $(diff <(stored second) <(echo "$guided"))"
case $guided in *"'line.address', '7'"*"'weight.low-limit', '20.0 kg'"*) ;; *) fail "QD-1 is not as typed: $guided" ;; esac

# ---- wrong answers cost nothing, and are asked again; a key alone is explained
line third "QD-1 5" "QD-2 6"
run 0 typing 40 'Which unit\?=>type 9' 'Which unit\?=>type 5' 'to change\?=>type weihgt.low-limit=3' \
    'to change\?=>type low-limit=20 kg' 'to change\?=>type weight.low-limit=500 kg' 'to change\?=>type weight.tare' \
    'to change\?=>type weight.low-limit=21 kg' 'want to change\?=>type ' '\[y/N\]=>type n' 'Which unit\?=>stop now' -- verdite
says 'The list has no single unit "9".'
says "Do you mean"
says "verdite model dowel weight.tare"
says "QD-1.yaml is unchanged."
says "Nothing was written."
says "verdite write QD-1.yaml"
wide=$(grep -v '^\$\|? .*=\|found, at most\|Reading\|Checking' <<<"$out" | awk 'length($0) > 41' | head -3)
[ -z "$wide" ] || fail "wider than 40 columns: $wide"
case $(stored third) in *"'weight.low-limit', '21"*) fail "written without consent" ;; esac

# ---- a file of one's own, and one that is there already
run 0 verdite new mine.yaml dowel
run 0 verdite set mine.yaml "weight.high-limit=61 kg"
run 0 typing 80 'Which unit\?=>type QD-2' 'to change\?=>type mine.yaml' '\[y/N\]=>type y' 'unit next\?=>type QD-1' \
    'as well=>type n' 'to change\?=>type weight.low-limit=19 kg' 'here already=>type n' 'else do you want=>type ' \
    '\[y/N\]=>type y' 'unit next\?=>stop now' -- verdite
says "verdite check mine.yaml"
says "Saved as QD-1-2.yaml"
says "Verified: dowel QD-2, dowel QD-1."

# ---- nobody there: longer, then why; what is typed before a question is no answer; a line that ends is Ctrl-C
line dead "QD-1 5 unplugged: yes"
run 0 typing 80 'every speed\?=>type y' 'find --wide=>type n' 'out why\?=>type maybe' 'y or n=>type y' \
    'what it says=>end now' -- verdite
says "verdite find --quick"
says "verdite find --wide --slow"
says "Type y or n"
says "verdite diagnose"
says "Nothing was written."

# ---- a write that was cut off is finished first, where it is met again
line cut "QD-1 5 hands: [{does: unplug, at: 7 s}, {does: plug, at: 100 s}]"
run 6 typing 80 'Is it.*\?=>type y' 'to change\?=>type weight.low-limit=20 kg' 'want to change\?=>type ' '\[y/N\]=>type y' \
    'Finish it\?=>type n' 'next unit=>stop now' -- verdite
says "An earlier write to it was interrupted."
says "Not verified: dowel QD-1."
says "QD-1.yaml is not written."
run 0 verdite-bench wait cut "2 min"
run 0 typing 80 'Is it.*\?=>type y' 'Finish it\?=>type y' 'to change\?=>stop now' -- verdite
says "verdite finish --serial QD-1"
says "Verified: dowel QD-1."
done_testing
