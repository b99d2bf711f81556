#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# The README's tour as it is written: every command of its console blocks is run, and what comes back must be what the
# README shows. Only paths of this run and dates are made alike first.
#   tour_test.sh --show   prints the tour with what comes back now, to be pasted
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
unset VERDITE_BENCH VERDITE_MODELS
tour=$work/tour.md
awk '/^## Five-minute tour/ { on = 1; next } /^## / { on = 0 } on' "$VERDITE_SOURCE/README.md" >"$tour"

# The tour names build/release/bin and /tmp; here it runs in folders of its own.
mkdir -p "$work/tree/build/release" "$work/tmp"
ln -s "$VERDITE_BIN" "$work/tree/build/release/bin"
ln -s "$VERDITE_SOURCE/benches" "$work/tree/benches"
cd "$work/tree" || exit 1

alike() {
    sed -E "s#$work/tmp#/tmp#g; s#$work/state#~/.local/state#g; s#20[0-9]{6}-[0-9]{6}#20260502-080000#g"
}

commands=0 expected='' command='' show=${1:-}
settle() {
    [ -n "$command" ] || return 0
    commands=$((commands + 1))
    what=$command
    eval "${command//\/tmp\//$work/tmp/}" >"$work/raw" 2>&1 </dev/null
    out=$(alike <"$work/raw") err=$expected
    if [ "$show" = --show ]; then
        printf '$ %s\n%s' "$command" "${out:+$out
}"
    elif [ "$out" != "$(printf '%s' "$expected" | alike)" ]; then
        fail "the tour shows something else for: $command"
    fi
    passed=$((passed + 1))
    command='' expected=''
}

inside=no
while IFS= read -r line; do
    case $line in
    '```console')
        inside=yes
        [ "$show" != --show ] || printf '%s\n' "$line"
        continue
        ;;
    '```')
        settle
        inside=no
        ;;
    esac
    if [ "$inside" = no ]; then
        [ "$show" != --show ] || printf '%s\n' "$line"
    elif [ "${line#\$ }" != "$line" ]; then
        settle
        command=${line#\$ }
    else
        expected+="${expected:+
}$line"
    fi
done <"$tour"
[ "$show" != --show ] || exit 0
[ "$commands" -ge 14 ] || fail "only $commands commands were found in the tour"
done_testing
