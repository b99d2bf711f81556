#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Rounds at real ports: an adapter that comes when the round has begun, a port that goes with its unit and comes back under
# another name, a lid that was closed in the middle of a write, Ctrl-C. The first unit shares no code with the tool.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1
mkdir models
tag_with_port >models/tag.yaml
sanitizer=$(ldd "$VERDITE_BIN/verdite" | awk '/libasan/ { print $3 }') # has to come first
before() { LD_PRELOAD="${sanitizer:+$sanitizer:}$1" "${@:2}"; }

# ---- nobody is there yet; then the adapter of a unit that takes its port away when it restarts
mkfifo plugging
(sleep 4 && exec python3 "$VERDITE_SOURCE/tests/tag.py" 'NAME="old"') >plugging &
umockdev-wrapper "$VERDITE_BIN/plugs" <plugging >devices &
served=$!
for _ in $(seq 100); do [ -s devices ] && break; sleep 0.05; done
UMOCKDEV_DIR=$(cat devices)
export UMOCKDEV_DIR
printf 'serial,model,name\nQP-7,tag,Ling\n' >list.csv
run 6 env VERDITE_MODELS="$work/models" LD_PRELOAD="${sanitizer:+$sanitizer:}libumockdev-preload.so.0" verdite round list.csv --yes
tells "No serial port was found."
run 0 env VERDITE_MODELS="$work/models" LD_PRELOAD="${sanitizer:+$sanitizer:}libumockdev-preload.so.0" verdite round list.csv --yes --wait "20 s"
tells "There is no port yet. Plug in an adapter."
tells "New port: /dev/ttyACM0"
tells "QP-7: Its port is now /dev/ttyACM1 (was /dev/ttyACM0)."
says "QP-7 VERIFIED"
says "ROUND DONE: 1 of 1 done now"
kill "$served" 2>/dev/null
wait "$served" 2>/dev/null
unset UMOCKDEV_DIR

# ---- a bench that is served in real time; a clock that stands while the computer sleeps is played by a library of our own
mkdir bench
cat >bench/bench.yaml <<'YAML'
verdite-bench: 1
name: x
adapters: [{name: a-usb, label: adapter a, cable: a, latency: 1 ms}]
units:
  - {name: one, model: dowel, cable: a, serial: QD-1, firmware: "1.4"}
  - {name: two, model: dowel, cable: a, serial: QD-2, firmware: "1.4", settings: {line.address: 7}}
YAML
cat >lid.c <<'C'
#define _GNU_SOURCE
#include <dlfcn.h>
#include <time.h>
#include <unistd.h>
int clock_gettime(clockid_t id, struct timespec *t)
{
    int (*real)(clockid_t, struct timespec *) = (int (*)(clockid_t, struct timespec *))dlsym(RTLD_NEXT, "clock_gettime");
    int failed = real(id, t);
    t->tv_sec += id == CLOCK_BOOTTIME && access("closed", F_OK) == 0 ? 600 : 0;
    return failed;
}
C
run 0 cc -shared -fPIC -o lid.so lid.c -ldl
printf 'serial,line.address,model\nQD-1,1,dowel\n' >list.csv
verdite-bench serve bench >served &
served=$!
for _ in $(seq 100); do [ -s served ] && break; sleep 0.05; done
port=$(cut -d ' ' -f 2 served)
(sleep 4 && touch closed) &
run 0 before "$work/lid.so" verdite round list.csv --port "$port" --yes --wait "20 s"
tells "The computer slept for"
tells "All ports are opened again, and each unit is identified again."
says "ROUND DONE: 1 of 1 done now"
rm closed
printf 'serial,line.address,unit.name,model\nQD-2,7,Two,dowel\n' >list.csv
run 8 timeout --preserve-status -s INT 1.5 verdite round list.csv --port "$port" --yes --wait "20 s"
tells "Stopping in order."
says "NOT ALL DONE: 0 of 1 done now"
run 0 verdite round list.csv --port "$port" --yes --wait "20 s"
run 0 verdite status list.csv
kill "$served"
wait "$served" 2>/dev/null
served=''
python3 - <<'PYTHON' || fail "the units do not hold what their rows say"
import json, sys
units = json.load(open("bench/state.json"))["units"]
sys.exit([units[unit]["stored"]["line.address"] for unit in ("one", "two")] != ["1", "7"])
PYTHON
done_testing
