# Completes syntonon, syntonon-batch and syntonon-device in bash. What they understand, they are
# asked themselves.
# SPDX-License-Identifier: GPL-3.0-or-later

_syntonon_offer() { # words parted by blanks or lines
    mapfile -t COMPREPLY < <(compgen -W "$1" -- "$word")
}

_syntonon_offer_options() { # of a program, or of its command
    _syntonon_offer "$("$@" --help 2>/dev/null | sed -n 's/^  \(-[a-z], *\)\?\(--[a-z-]*\).*/\2/p')"
}

_syntonon_offer_files() { # whose name matches, and folders
    local file
    while IFS= read -r file; do
        [[ -d $file || $file =~ $1 ]] && COMPREPLY+=("$file")
    done < <(compgen -f -- "$word")
    compopt -o filenames 2>/dev/null
}

_syntonon_offer_ids() { # of the parts of that kind in the study that was named
    [ -r "$study" ] &&
        _syntonon_offer "$("$program" list "$study" 2>/dev/null | awk -F, -v part="$1" '$1 == part { print $3 }')"
}

_syntonon() {
    local program=${COMP_WORDS[0]} word=${COMP_WORDS[COMP_CWORD]} before=${COMP_WORDS[COMP_CWORD - 1]}
    local command= study= last= each
    COMPREPLY=()
    for each in "${COMP_WORDS[@]:1:COMP_CWORD-1}"; do
        case $each in
            -*) ;;
            *.syntonon) study=$each ;;
            *) [[ -z $command && $last != --log-level ]] && command=$each ;;
        esac
        last=$each
    done
    case $before in
        --log-level) _syntonon_offer "debug info warning error off" ;;
        --words) _syntonon_offer "16 24 float" ;;
        --feedback) _syntonon_offer "subtracted added" ;;
        --channel | --stage | --signal) _syntonon_offer_ids "${before#--}" ;;
        --delivery | --as) _syntonon_offer_ids delivery ;;
        --out | --to | --into) _syntonon_offer_files . ;;
        *)
            if [[ ${program##*/} == syntonon-batch && -z $command && $word != -* ]]; then
                _syntonon_offer "$("$program" --help | sed -n '/^Subcommands:/,$ s/^  \([a-z][a-z]*\) .*/\1/p')"
            elif [[ $word == -* ]]; then
                _syntonon_offer_options "$program" $command
            elif [[ -z $study && ${program##*/} != syntonon-device ]]; then
                _syntonon_offer_files '\.syntonon$'
            else
                _syntonon_offer_files .
            fi
            ;;
    esac
}

complete -F _syntonon syntonon syntonon-batch syntonon-device
