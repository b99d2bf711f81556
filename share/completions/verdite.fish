# SPDX-License-Identifier: MIT
# Completion for fish: the program itself says what it takes.
function __verdite_offers
    set -l words (commandline -opc) (commandline -ct)
    for line in ($words[1] --offers $words[2..] 2>/dev/null)
        if test "$line" = /
            __fish_complete_path (commandline -ct)
        else
            echo $line
        end
    end
end
complete -c verdite -f -a '(__verdite_offers)'
complete -c verdite-bench -f -a '(__verdite_offers)'
