#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# A real terminal, real time, and a person who presses Ctrl-C: the port is released and the truth is told.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
fresh bracken
# slow enough to be interrupted: the whole pair at 2400 bit/s
sed -i 's/^    settings:$/    settings:\n      line.baud: "2400"/' "$work/bracken/bench.yaml"
unset VERDITE_BENCH
verdite-bench serve "$work/bracken" >"$work/served" &
served=$!
for _ in $(seq 100); do [ -s "$work/served" ] && break; sleep 0.1; done
port=$(awk '{ print $2 }' "$work/served")
reach=(--port "$port" --address 3 --baud 2400)

# interrupted AFTER-TEXT COMMAND...: sends Ctrl-C once the trace shows the text; the status must be 8.
interrupted() {
    local until=$1 got=0
    shift
    what="Ctrl-C at \"$until\" in $*"
    : >"$work/trace"
    "$@" --trace-to "$work/trace" >"$work/out" 2>"$work/err" </dev/null &
    local tool=$!
    for _ in $(seq 300); do
        grep -q "$until" "$work/trace" 2>/dev/null && break
        sleep 0.05
    done
    kill -INT "$tool"
    wait "$tool" || got=$?
    out=$(cat "$work/out") err=$(cat "$work/err")
    [ "$got" -eq 8 ] || fail "$what: exit status $got, not 8"
    passed=$((passed + 1))
}

run 0 verdite read "${reach[@]}" --save "$work/hive.yaml"
interrupted "read holding registers 0" verdite read "${reach[@]}"
tells "Nothing changed."
run 0 verdite read "${reach[@]}" --group relay # the port is free again

run 0 verdite set "$work/hive.yaml" unit.light=high weight.low-limit="21 kg" relay.follows=either temperature.latching=on
interrupted "read holding registers 20" verdite write "$work/hive.yaml" "${reach[@]}" --yes
tells "Nothing was sent. The unit is unchanged"
run 0 verdite read "${reach[@]}" --group unit
says "unit.light                low"

interrupted "write holding registers 12" verdite write "$work/hive.yaml" "${reach[@]}" --yes
tells "The write was interrupted: read the unit before it leaves"
tells "Next: verdite finish (goes on), or verdite undo (undoes it)."
says "NOT VERIFIED"
says "unknown"
says "not sent"
run 0 verdite read "${reach[@]}" --group unit
says "live only; stored: low"

# the port is busy while another program has it
verdite read "${reach[@]}" >/dev/null 2>&1 &
other=$!
sleep 0.3
run 6 verdite read "${reach[@]}"
tells "in use by verdite"
wait "$other"

# and the whole job still goes through afterwards
run 0 verdite write "$work/hive.yaml" "${reach[@]}" --yes
says "VERIFIED: 32 of 32"

# another program is at work on the very unit, by whatever port
claim=$(echo "$work"/state/verdite/claims/dowel_QD-24003-*)
python3 -c 'import fcntl, sys, time
claim = open(sys.argv[1], "r+")
fcntl.flock(claim, fcntl.LOCK_EX)
claim.write("verdite write, process 1")
claim.flush()
print("held", flush=True)
time.sleep(60)' "$claim" >"$work/held" &
other=$!
for _ in $(seq 100); do [ -s "$work/held" ] && break; sleep 0.05; done
run 6 verdite read "${reach[@]}"
tells "Another program works on dowel QD-24003: verdite write, process 1"
run 0 verdite read "${reach[@]/3/4}" --group relay
kill "$other"
run 0 verdite read "${reach[@]}" --group relay

# the adapter is pulled in the middle of a read
verdite read "${reach[@]}" --model dowel >"$work/out" 2>"$work/err" &
other=$!
for _ in $(seq 200); do # it is at work once it has the port open
    find "/proc/$other/fd" -lname '/dev/pts/*' 2>/dev/null | grep -q . && break
    sleep 0.02
done
sleep 0.3
kill -INT "$served"
wait "$served"
served=''
got=0
wait "$other" || got=$?
out='' err=$(cat "$work/err") what="pulled in the middle"
[ "$got" -eq 6 ] || fail "pulled in the middle: exit status $got, not 6"
tells "The port disappeared during the work"
done_testing
