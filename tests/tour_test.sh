#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# The README's tour as it is written.
#   tour_test.sh --show   prints the tour with what comes back now, to be pasted
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
# shellcheck source=tests/walk.sh
. "$(dirname "$0")/walk.sh"
unset VERDITE_BENCH VERDITE_MODELS
awk '/^## Five-minute tour/ { on = 1; next } /^## / { on = 0 } on' "$VERDITE_SOURCE/README.md" >"$work/tour.md"

# The tour names build/release/bin and /tmp; here it runs in folders of its own.
mkdir -p "$work/tree/build/release" "$work/tmp"
ln -s "$VERDITE_BIN" "$work/tree/build/release/bin"
ln -s "$VERDITE_SOURCE/benches" "$work/tree/benches"
ln -s "$VERDITE_SOURCE/logs" "$work/tree/logs"
cd "$work/tree" || exit 1
walk "$work/tour.md" 20 "${1:-}"
done_testing
