#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# The tutorial for authors of models as it is written: the file that it builds up, and every command.
#   tutorial_test.sh --show   prints it with what comes back now, to be pasted
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
# shellcheck source=tests/walk.sh
. "$(dirname "$0")/walk.sh"
unset VERDITE_BENCH VERDITE_MODELS
export XDG_DATA_HOME="$work/data"
mkdir -p "$work/tmp"
cd "$work/tmp" || exit 1
walk "$VERDITE_SOURCE/docs/describe-your-unit.md" 24 "${1:-}"
done_testing
