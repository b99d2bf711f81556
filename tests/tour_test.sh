#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# The tours as they are written: the short one of the README, then the long one.
#   tour_test.sh --show FILE   prints that one with what comes back now, to be pasted
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
# shellcheck source=tests/walk.sh
. "$(dirname "$0")/walk.sh"
unset VERDITE_BENCH VERDITE_MODELS

# The tours name build/release/bin and /tmp; here they run in folders of their own.
mkdir -p "$work/tree/build/release" "$work/tmp"
ln -s "$VERDITE_BIN" "$work/tree/build/release/bin"
for part in benches logs models docs; do ln -s "$VERDITE_SOURCE/$part" "$work/tree/$part"; done
cd "$work/tree" || exit 1
for tour in README.md:15 docs/tour.md:25; do
    [ "${1:-}" != --show ] || [ "${tour%:*}" = "$2" ] || continue
    rm -rf "$work/tmp" "$work/state"
    mkdir "$work/tmp"
    walk "$VERDITE_SOURCE/${tour%:*}" "${tour#*:}" "${1:-}"
done
done_testing
