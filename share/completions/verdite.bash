# SPDX-License-Identifier: MIT
# shellcheck shell=bash
# Completion for bash: the program itself says what it takes.
_verdite() {
    local line=${COMP_LINE:0:COMP_POINT} words current before offered word
    read -ra words <<<"$line"
    case $line in *[[:space:]]) words+=('') ;; esac
    current=${words[-1]}
    before=${current%"${current##*[=:]}"} # bash takes these for the ends of words
    COMPREPLY=()
    mapfile -t offered < <("${words[0]}" --offers "${words[@]:1}" 2>/dev/null)
    for word in "${offered[@]}"; do
        word=${word%%$'\t'*}
        if [ "$word" = / ]; then
            compopt -o filenames 2>/dev/null
            mapfile -t -O "${#COMPREPLY[@]}" COMPREPLY < <(compgen -f -- "${current#"$before"}")
        else
            case $word in *=) compopt -o nospace 2>/dev/null ;; esac
            COMPREPLY+=("${word#"$before"}")
        fi
    done
}
complete -F _verdite verdite verdite-bench
