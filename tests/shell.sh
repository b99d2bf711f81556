# SPDX-License-Identifier: MIT
# shellcheck shell=bash disable=SC2034
# What the shell tests share. Source it; then `run STATUS COMMAND...` runs a command that must exit with STATUS, leaving
# its output in $out, a run of blanks as one since columns are as wide as what stands in them, and its messages in $err; `says TEXT` and `tells TEXT` look for a text in the one and the other.
set -u
: "${VERDITE_SOURCE:?}" "${VERDITE_BIN:?}"
work=$(mktemp -d)
served='' # a bench that is being served, ended with the test
trap '[ -z "$served" ] || { kill "$served"; wait "$served"; } 2>/dev/null; rm -rf "$work"' EXIT
export PATH="$VERDITE_BIN:$PATH" VERDITE_MODELS="$VERDITE_SOURCE/models" XDG_STATE_HOME="$work/state" NO_COLOR=1 \
    VERDITE_STORE="$work/state/store.db"
# The tool runs for a moment, thousands of times: short tales of who allocated, and little kept of what was freed, take a
# quarter less. Looking for leaks takes as much again: tool_test and tour_test, which go through every command, do.
export ASAN_OPTIONS="${ASAN_OPTIONS:+$ASAN_OPTIONS:}malloc_context_size=4:quarantine_size_mb=2"
case $0 in *tool_test.sh | *tour_test.sh) ;; *) ASAN_OPTIONS+=:detect_leaks=0 ;; esac
unset VERDITE_BENCH VERDITE_PASSWORD # of whoever runs the tests
passed=0
out='' err=''

fail() {
    printf 'FAILED: %s\n--- output\n%s\n--- messages\n%s\n' "$1" "$out" "$err"
    echo "$passed passed, 1 failed"
    exit 1
}

run() {
    local wanted=$1 got=0
    shift
    what="$*"
    "$@" >"$work/out" 2>"$work/err" </dev/null || got=$?
    out=$(tr -s ' ' <"$work/out") err=$(cat "$work/err")
    [ "$got" -eq "$wanted" ] || fail "$what: exit status $got, not $wanted"
    case $err in *"ERROR: AddressSanitizer"* | *"runtime error:"*) fail "$what: sanitizer" ;; esac
    passed=$((passed + 1))
}

says() {
    local text
    text=$(tr -s ' ' <<<"$1")
    case $out in *"$text"*) passed=$((passed + 1)) ;; *) fail "$what: no \"$1\" in the output" ;; esac
}

tells() {
    case $err in *"$1"*) passed=$((passed + 1)) ;; *) fail "$what: no \"$1\" in the messages" ;; esac
}

tells_not() {
    case $err in *"$1"*) fail "$what: \"$1\" in the messages" ;; *) passed=$((passed + 1)) ;; esac
}

# fresh NAME: a copy of a bench that ships, as nobody has touched it.
fresh() {
    rm -rf "${work:?}/$1"
    cp -r "$VERDITE_SOURCE/benches/$1" "$work/$1"
    rm -f "$work/$1/state.json"
    export VERDITE_BENCH="$work/$1"
}

# keep_json: from here on what the tool prints as JSON is kept, and held against its schema when the test is done. A
# command in the background that is to be killed is called by its path.
keep_json() {
    mkdir "$work/json"
    verdite() {
        case " $* " in
        *" --json "* | *" -j "*)
            command verdite "$@" | tee "$work/json/$BASHPID.$RANDOM$RANDOM"
            return "${PIPESTATUS[0]}"
            ;;
        *) command verdite "$@" ;;
        esac
    }
}

# typing COLUMNS STEP... -- COMMAND...: a person at a terminal: see keys.py.
typing() { python3 "$VERDITE_SOURCE/tests/keys.py" "$@"; }

done_testing() {
    if [ -d "$work/json" ]; then
        what="the contract of --json"
        out=$(python3 "$VERDITE_SOURCE/tests/contract.py" "$VERDITE_SOURCE/share/result.schema.json" "$work/json/"*) ||
            fail "$what"
        passed=$((passed + 1))
    fi
    echo "$passed passed, 0 failed"
}

# tag_head: how the model of the made-up tag begins, a unit that shares no code with ours.
tag_head() {
    cat <<'YAML'
verdite-model: 1
model: tag
title: Tag
speaks: {manner: commands, longest-line: 200, several: yes}
line: {baud: 9600, framing: 8N1}
identify: {maker: Quillmere, product: tag}
YAML
}

# tag_with_port: the model of that tag whose serial port is its own, and goes while it restarts.
tag_with_port() {
    tag_head
    cat <<'YAML'
store: {word: SAVE, proof: restart}
restart: {takes: 1 s, takes-port: yes, running-time: running}
listening: {says: "+READY", after: 2 s}
times: {usual-reply: 10 ms, longest-reply: 400 ms}
groups: [{key: all, label: All}]
actions: [{key: restart, label: Restart, help: Restarts., word: RESET, does: restart, takes: 1 s}]
settings:
  - {key: name, group: all, label: Name, type: text, length: 12, at: {word: NAME}}
  - {key: running, group: all, label: Running, type: duration, tick: 1 s, range: [0 s, 1000 d], access: read-only, at: {word: UPTIME}}
YAML
}
