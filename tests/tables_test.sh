#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Models as constant tables: what is written twice is the same, and is C and C++ without a warning, with words and bare,
# for every model here and for one that is made to be difficult; what cannot be written leaves nothing.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1
strict=(-Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror "-I$VERDITE_SOURCE/include" -fsyntax-only)

# capital KEY: what the macros of a model begin with.
capital() { printf 'VDM_%s' "$1" | tr 'a-z.-' 'A-Z__'; }

# compile KEY LANGUAGE [MACRO...]: the tables in tables.h, with these macros defined.
compile() {
    local own=$1 language=$2 macro
    shift 2
    for macro in TABLES "$@"; do
        echo "#define $(capital "$own")_$macro"
    done >tables.c
    echo '#include "tables.h"' >>tables.c
    case $language in c) cc -std=c11 "${strict[@]}" tables.c ;; *) c++ -std=c++11 -x c++ "${strict[@]}" tables.c ;; esac
}

# ---- names that are C's, the library's, the tables' own or twice the same; texts that C would read otherwise
{
    tag_head | sed 's/^model: tag/model: type-text/'
    cat <<'YAML'
times: {usual-reply: 6 ms, longest-reply: 250 ms}
groups:
  - {key: set, label: Set}
  - {key: without, label: Without}
settings:
  - {key: set.size, label: 'A "size" of \ and what??/', type: integer, range: [0, 9], default: 1, at: {word: A}}
  - {key: set.a-b, label: "*/ ends no comment, é", type: text, length: 8, default: "\\\"?", at: {word: B}}
  - {key: set.a.b, label: Twice, type: bytes, length: 2, default: "0A30", at: {word: C}}
  - key: without.alarms
    label: int
    type: truth
    default: yes
    at: {word: D}
YAML
    printf '    help: "%s"\n' "$(printf 'Ü?%.0s' {1..1900})" # longer than a literal may be
} >odd.yaml
run 0 verdite check odd.yaml
run 0 verdite tables odd.yaml
says 'VDM_TYPE_TEXT_SET_A_B,'
says 'VDM_TYPE_TEXT_SET_A_B_2,'
says 'VDM_TYPE_TEXT_WITHOUT_ALARMS_3'

for model in odd.yaml "$VERDITE_SOURCE"/models/*.yaml "$VERDITE_SOURCE"/tests/units/*.yaml; do
    key=$(sed -n 's/^model: *//p' "$model")
    for words in '' --with-words; do
        run 0 verdite tables "$model" $words
        mv out tables.h
        run 0 verdite tables "$model" $words
        cmp -s tables.h out || fail "$model: not the same again"
        run 0 compile "$key" c
        run 0 compile "$key" c++ WITHOUT_ALARMS
    done
done

# ---- of another edition of the library, twice, and without the one place that has them
verdite tables dowel >tables.h
printf '#include "tables.h"\n#include "tables.h"\nconst vd_model *one(void);\nconst vd_model *one(void) { return &vdm_dowel; }\n' >twice.c
run 0 cc -std=c11 "${strict[@]}" twice.c
sed -i 's/VD_TABLES_EDITION == [0-9]*/VD_TABLES_EDITION == 999/' tables.h
run 1 compile dowel c
tells 'make them anew'

# ---- what cannot be written
run 4 verdite tables
run 5 verdite tables daisy
[ -z "$out" ] || fail "something of an unknown model"
sed 's/^  - key: unit.name/  - key: unit name/' "$VERDITE_SOURCE/models/wren.yaml" >wrong.yaml
run 5 verdite tables wrong.yaml
[ -z "$out" ] || fail "something of a wrong model"
tells 'wrong.yaml'
run 5 bash -c 'verdite tables dowel >/dev/full'

done_testing
