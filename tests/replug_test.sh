#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# A unit with a serial port of its own, which goes with it when it restarts and comes back under another name in the middle
# of a visit. The unit shares no code with the tool; the device manager is a mocked one.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1
mkdir models
export VERDITE_MODELS="$work/models" VERDITE_BENCH=
tag_with_port >models/tag.yaml
mkfifo plugging
python3 "$VERDITE_SOURCE/tests/tag.py" 'NAME="old"' >plugging &
umockdev-wrapper "$VERDITE_BIN/plugs" <plugging >devices &
served=$!
for _ in $(seq 100); do [ -s devices ] && [ -e "$(cat devices)/dev/ttyACM0" ] && break; sleep 0.05; done
UMOCKDEV_DIR=$(cat devices)
export UMOCKDEV_DIR
sanitizer=$(ldd "$VERDITE_BIN/verdite" | awk '/libasan/ { print $3 }') # has to come first
tool() { LD_PRELOAD="${sanitizer:+$sanitizer:}libumockdev-preload.so.0" verdite "$@"; }

run 0 tool ports
says "/dev/ttyACM0"
run 0 tool change name=Ling --model tag --yes
tells "Its port is now /dev/ttyACM1 (was /dev/ttyACM0)."
says "on /dev/ttyACM1, 9600 8N1"
says 'name Ling confirmed'
says "VERIFIED: 1 of 1"
# It is remembered under its new name, and followed as often as it goes.
sleep 3 # it tells whole seconds
run 0 tool act restart --yes
tells "Its port is now /dev/ttyACM2 (was /dev/ttyACM1)."
sleep 3
run 0 tool undo --yes
tells "Its port is now /dev/ttyACM3 (was /dev/ttyACM2)."
says "name old confirmed"

# ---- ports that vanish: one between the list and the opening, one at the first byte
kill "$served" 2>/dev/null
mkfifo vanishing
python3 - >vanishing <<'PYTHON' &
import os, pty, time, tty
print("plug ttyACM0 /dev/pts/4711", flush=True)
while not os.path.exists("go-on"):
    time.sleep(0.05)
print("pull ttyACM0", flush=True)
ours, theirs = pty.openpty()
tty.setraw(theirs)
print("plug ttyACM1", os.ttyname(theirs), flush=True)
os.read(ours, 1)
os.close(theirs)
os.close(ours)
print("pull ttyACM1", flush=True)
time.sleep(60)
PYTHON
vanishes=$!
umockdev-wrapper "$VERDITE_BIN/plugs" <vanishing >devices &
served="$! $vanishes"
for _ in $(seq 100); do [ -s devices ] && [ -L "$(cat devices)/dev/ttyACM0" ] && break; sleep 0.05; done
UMOCKDEV_DIR=$(cat devices)
run 0 tool ports
says "/dev/ttyACM0 gone"
run 6 tool read --model tag
tells 'Unknown port "/dev/ttyACM0"'
run 6 tool find
touch go-on
for _ in $(seq 100); do [ -e "$UMOCKDEV_DIR/dev/ttyACM1" ] && break; sleep 0.05; done
run 6 tool read --model tag
tells "The port disappeared during the work."
for _ in $(seq 100); do [ -e "$UMOCKDEV_DIR/dev/ttyACM1" ] || break; sleep 0.05; done
run 6 tool find
tells "No serial port was found."
# shellcheck disable=SC2086 # two numbers
kill $served 2>/dev/null
done_testing
