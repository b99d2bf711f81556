# SPDX-License-Identifier: MIT
# shellcheck shell=bash disable=SC2154
# Walks through a document as its reader would: files that it shows are written, commands of its console blocks are run,
# and what comes back must be what the document shows. Only paths of this run and dates are made alike first. Source it
# after shell.sh; then `walk FILE LEAST [--show]`; with --show the document is printed with what comes back now.
#   ```yaml NAME     saves the block as NAME in the folder where the walk is; >>NAME adds it at the end

alike() {
    sed -E "s#$work/tmp#/tmp#g; s#$work/state#~/.local/state#g; s#$work/data#~/.local/share#g; s#20[0-9]{6}-[0-9]{6}(-[0-9]+)?#20260502-080000#g; s#20[0-9]{2}(-[0-9]{2}){2} [0-9]{2}:[0-9]{2}([^:0-9]|:[^0-9]|$)#2026-05-02 08:00\2#g"
}

settle() {
    [ -n "$command" ] || return 0
    commands=$((commands + 1))
    what=$command
    local plain=${command//\/tmp\//$work/tmp/}
    eval "${plain//\~\/.local\/share/$work/data}" >"$work/raw" 2>&1 </dev/null
    out=$(alike <"$work/raw") err=$expected
    if [ "$show" = --show ]; then
        printf '$ %s\n%s' "$command" "${out:+$out
}"
    elif [ "$out" != "$(printf '%s' "$expected" | alike)" ]; then
        fail "the document shows something else for: $command"
    fi
    passed=$((passed + 1))
    command='' expected=''
}

shown() {
    [ "$show" != --show ] || printf '%s\n' "$1"
}

walk() {
    local document=$1 least=$2 line inside='' target=''
    show=${3:-} commands=0 expected='' command=''
    while IFS= read -r line; do
        case $line in
        '```console') inside=console && shown "$line" && continue ;;
        '```yaml '*)
            inside=file target=${line#'```yaml '}
            case $target in
            '>>'*) target=${target#>>} ;;
            *) : >"$target" ;;
            esac
            shown "$line"
            continue
            ;;
        '```')
            settle
            inside=''
            ;;
        esac
        case $inside in
        file) printf '%s\n' "$line" >>"$target" && shown "$line" ;;
        console)
            if [ "${line#\$ }" != "$line" ]; then
                settle
                command=${line#\$ }
            else
                expected+="${expected:+
}$line"
            fi
            ;;
        *) shown "$line" ;;
        esac
    done <"$document"
    [ "$show" != --show ] || exit 0
    [ "$commands" -ge "$least" ] || fail "only $commands commands were found in $document"
}
