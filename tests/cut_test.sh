#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# A write that is cut off by kill -9, at any moment, to a unit behind a pseudo-terminal: whatever is known is true, it can
# be finished, and it can be undone. What the unit holds is asked by a reader that shares no code with the tool. CUTS says
# how often.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
: "${CUTS:=9}"
cd "$work" || exit 1
mkdir models bench
export VERDITE_MODELS="$work/models"
sed -e 's/^line: .*/line: {baud: 115200, framing: 8E1}/' -e 's/longest-reply: .*/longest-reply: 40 ms/' \
    -e 's/usual-reply: .*/usual-reply: 1 ms/' -e 's/storing: .*/storing: 30 ms/' -e 's/takes: 2 s/takes: 150 ms/' \
    -e 's/^listening: .*/listening: {after: 50 ms}/' "$VERDITE_SOURCE/models/dowel.yaml" >models/dowel.yaml
cat >bench/bench.yaml <<'YAML'
verdite-bench: 1
name: one
adapters:
  - {name: one-usb, label: One, cable: pair, latency: 0 s}
units:
  - {name: one, model: dowel, cable: pair, serial: QD-1, firmware: "1.4", settings: {line.address: 3, line.baud: "115200"}}
YAML
cat >peek.py <<'PYTHON'
import os, select, sys, termios, time
port, address, speed = sys.argv[1], int(sys.argv[2]), int(sys.argv[3])
places = ((12, 2), (25, 2), (0, 2))
def check(frame):
    crc = 0xFFFF
    for byte in frame:
        crc ^= byte
        for _ in range(8):
            crc = crc >> 1 ^ (0xA001 if crc & 1 else 0)
    return bytes((crc & 255, crc >> 8))
line = os.open(port, os.O_RDWR | os.O_NOCTTY)
mode = termios.tcgetattr(line)
code = getattr(termios, "B%d" % speed)
mode = [0, 0, termios.CS8 | termios.CREAD | termios.CLOCAL, 0, code, code, mode[6]]
termios.tcsetattr(line, termios.TCSANOW, mode)
def ask(first, count):
    for _ in range(3):
        while select.select([line], [], [], 0.005)[0]:  # an answer that comes late belongs to no later question
            os.read(line, 256)
        frame = bytes((address, 3, first >> 8, first & 255, 0, count))
        os.write(line, frame + check(frame))
        got, end = b"", time.time() + 3
        while time.time() < end and len(got) < 5 + 2 * count:
            if select.select([line], [], [], 0.05)[0]:
                got += os.read(line, 256)
        if len(got) == 5 + 2 * count and check(got[:-2]) == got[-2:]:
            return ["%04X" % (got[3 + 2 * i] * 256 + got[4 + 2 * i]) for i in range(count)]
    return ["no answer"]
live = [word for first, count in places for word in ask(first, count)]
stored = [word for first, count in places for word in ask(first + 2048, count)]
print(" ".join(live) if live == stored else "live %s, stored %s" % (" ".join(live), " ".join(stored)))
PYTHON
# aim.py STORE STEP MILLISECONDS PROCESS: returns so long after the visit has begun a step, or the process has ended.
cat >aim.py <<'PYTHON'
import os, sqlite3, sys, time
store, step, late, process = sys.argv[1], sys.argv[2], int(sys.argv[3]), sys.argv[4]
steps = ["keep", "write", "store", "restart"]
def begun():
    try:
        with sqlite3.connect("file:" + store + "?mode=ro", uri=True) as base:
            return [row[0] for row in base.execute("SELECT step FROM visit ORDER BY id DESC LIMIT 1")]
    except sqlite3.Error:  # it is not there yet
        return []
def runs():
    try:
        return open("/proc/%s/stat" % process).read().rsplit(")", 1)[1].split()[0] != "Z"
    except FileNotFoundError:
        return False
while step != "nothing" and runs() and not any(s in steps[steps.index(step):] for s in begun()):
    time.sleep(0.001)
time.sleep(late / 1000 if step != "nothing" else late / 100)
PYTHON
verdite-bench serve bench >served_at &
served=$!
for _ in $(seq 100); do [ -s served_at ] && break; sleep 0.05; done
port=$(awk '{ print $2 }' served_at)

# holds ADDRESS SPEED: light, averaging, the two limits of weight, address and speed, live and stored.
holds() { python3 peek.py "$port" "$1" "$2"; }

# holds_now WHAT ADDRESS SPEED WORDS: asks once, and fails with what it got.
holds_now() {
    local got
    got=$(holds "$2" "$3")
    [ "$got" = "$4" ] || fail "$1: the unit holds $got"
}

before="0001 0014 00B4 028A 0003 0007"
holds_now "to begin with" 3 115200 "$before"
declare -A seen=([nothing]=0 [cut]=0 [done]=0)
for round in $(seq "$CUTS"); do
    words=(unit.light=high "unit.averaging=5 s" "weight.low-limit=20 kg" "weight.high-limit=70 kg")
    after="0002 0032 00C8 02BC 0003 0007" at=3 speed=115200
    if [ $((round % 2)) -eq 0 ]; then # and it moves
        words+=(line.address=9 line.baud=57600)
        after="0002 0032 00C8 02BC 0009 0006" at=9 speed=57600
    fi
    rm -f "$VERDITE_STORE"*
    verdite change "${words[@]}" --port "$port" --address 3 --yes >out 2>err </dev/null &
    tool=$!
    aims=(nothing keep write write store store restart)
    python3 aim.py "$VERDITE_STORE" "${aims[round % 7]}" $((round * 37 % 60)) "$tool"
    kill -9 "$tool" 2>/dev/null
    wait "$tool" 2>/dev/null
    got=0
    verdite finish --port "$port" --yes >"$work/out" 2>"$work/err" </dev/null || got=$?
    out=$(cat out) err=$(cat err) what="finish, round $round"
    case $got in
    0) # it was cut off, and is what it was to be
        seen[cut]=$((seen[cut] + 1))
        says "VERIFIED"
        case $err in *"verdite finish goes on with it"*) fail "$what: finished, and told to finish it" ;; esac
        holds_now "$what" "$at" "$speed" "$after"
        ;;
    1) # it was cut off before anything was kept, or not at all
        tells "No interrupted write"
        if [ "$(holds 3 115200)" = "$before" ]; then
            seen[nothing]=$((seen[nothing] + 1))
            continue
        fi
        seen[done]=$((seen[done] + 1))
        holds_now "$what, cut off in the middle and not known" "$at" "$speed" "$after"
        ;;
    *) fail "$what: exit status $got" ;;
    esac
    run 0 verdite undo 1 --port "$port" --yes
    says "VERIFIED"
    holds_now "undo, round $round" 3 115200 "$before"
done
echo "cut off before anything was sent: ${seen[nothing]}, in the middle: ${seen[cut]}, too late: ${seen[done]}"
[ "${seen[cut]}" -gt $((CUTS / 2)) ] || fail "hardly any was cut off in the middle"

# ---- a disk that is full, at each step that is to be kept: no file may grow beyond so many KiB
declare -A full=([nothing]=0 [partly]=0 [whole]=0)
for most in $(seq 0 8 72); do
    rm -f "$VERDITE_STORE"*
    run 0 verdite history # makes the store
    got=0
    (
        trap '' XFSZ
        ulimit -f "$most"
        exec verdite change unit.light=high "weight.low-limit=20 kg" "weight.high-limit=70 kg" "unit.averaging=5 s" \
            --port "$port" --address 3 --yes </dev/null 2>&1
    ) | cat >"$work/err" || true
    out='' err=$(cat "$work/err") what="a disk with $most KiB"
    [ "$(python3 -c 'import sqlite3, sys; print(sqlite3.connect(sys.argv[1]).execute("PRAGMA integrity_check").fetchone()[0])' \
        "$VERDITE_STORE")" = ok ] || fail "$what: the store is damaged"
    case $err in
    *"othing was sent"*)
        full[nothing]=$((full[nothing] + 1))
        holds_now "$what, said to be as it was" 3 115200 "$before"
        continue
        ;;
    *"ot kept from here on"* | *"is not recorded"*)
        full[partly]=$((full[partly] + 1))
        tells "VERIFIED: 4 of 4"
        ;;
    *)
        full[whole]=$((full[whole] + 1))
        tells "VERIFIED: 4 of 4"
        ;;
    esac
# What is not known to have ended can be finished, and all of it can be undone.
    verdite finish --port "$port" --yes >"$work/out" 2>"$work/err" </dev/null || got=$?
    [ "$got" -le 1 ] || fail "$what: finish ends with $got"
    kept=$(sed -n 's/^The state before is kept in //p' <<<"$err") # where the store cannot be written at all
    if [ -n "$kept" ]; then
        run 0 verdite write "$kept" --port "$port" --address 3 --yes
    else
        run 0 verdite undo 1 --port "$port" --yes
    fi
    holds_now "$what, undone" 3 115200 "$before"
done
echo "full before anything was sent: ${full[nothing]}, in the middle: ${full[partly]}, not: ${full[whole]}"
for kind in nothing partly whole; do
    [ "${full[$kind]}" -gt 0 ] || fail "no disk was full $kind"
done
done_testing
