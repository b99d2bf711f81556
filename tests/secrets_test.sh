#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# One secret of each kind is planted: a login in lines and one in registers, a password and a number that are written.
# Then all that a whole job leaves behind is searched for them: what is said, as text and JSON, traces, profiles, states,
# what is remembered; and the memory of the tool after its visit. The terminal is as it was, whatever ends a question.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
fresh yard
cd "$work" || exit 1
umask 022
mkdir left
# Each as text, and as it stands in registers.
sim='Grvlmnt-7Q' login=83195746 code=4821 code_hex='12 D5' trip=73519 trip_hex='00 01 1F 2F'
printf '0000\n' >factory
printf '%s\n' "$login" >new
printf '%s\n' "$trip" >wren-password
chmod 600 factory new wren-password

keep() { # what was said goes where it is searched
    cp "$work/out" "left/$1.out"
    cp "$work/err" "left/$1.err"
}

job() { # job NAME STATUS COMMAND...: as text with a trace, and as JSON
    local name=$1 status=$2
    shift 2
    run "$status" "$@" --trace-to "left/$name.trace"
    keep "$name"
}

# ---- lines: a login, its new password, another secret
sorrel=(--port sorrel-box)
run 0 verdite read "${sorrel[@]}" --model brock --save box.yaml
run 0 bash -c "printf '%s\n' $login | verdite set box.yaml access.password"
keep set-login
tells "holds a secret"
[ "$(stat -c %a box.yaml)" = 600 ] || fail "a profile with a secret can be read by others"
run 0 bash -c "printf '%s\n' $sim | verdite set box.yaml sim.password report.moving='3 min'"
[ "$(stat -c %a box.yaml)" = 600 ] || fail "a profile with a secret can be read by others again"
keep set-sim
run 4 bash -c "printf 'x$login%s\n' 1 | verdite set box.yaml access.password"
keep set-wrong
tells "this cannot be the secret"
run 4 verdite set box.yaml "access.password=$login"
tells "others can see what you type here"
job box-write 2 verdite write box.yaml "${sorrel[@]}" --yes --password-from factory
job box-again 2 verdite write box.yaml "${sorrel[@]}" --yes --password-from new
job box-json 2 verdite write box.yaml "${sorrel[@]}" --yes --password-from new --json
job box-read 0 verdite read "${sorrel[@]}" --model brock --login --password-from new --save left/box-read.yaml
job box-compare 1 verdite compare unit factory "${sorrel[@]}" --model brock
job box-refused 7 verdite write box.yaml "${sorrel[@]}" --yes --password-from factory

# ---- registers: a number that is written, and a password
ling=(--port ling-pair --address 1)
run 0 verdite read "${ling[@]}" --save ling.yaml
run 0 bash -c "echo $code | verdite set ling.yaml unit.panel-code"
job ling-write 2 verdite write ling.yaml "${ling[@]}" --yes
job ling-json 2 verdite write ling.yaml "${ling[@]}" --yes --json
job ling-verify 2 verdite verify ling.yaml "${ling[@]}"
log=(--port logger-cable)
run 0 verdite read "${log[@]}" --model wren --save log.yaml
run 0 bash -c "echo $trip | verdite set log.yaml access.password unit.name='Load 1'"
job log-write 2 verdite write log.yaml "${log[@]}" --yes
run 0 verdite set log.yaml unit.name="Load 2"
VERDITE_PASSWORD=$trip job log-again 2 verdite write log.yaml "${log[@]}" --yes
run 0 verdite set log.yaml unit.name="Load 3"
job log-json 2 verdite write log.yaml "${log[@]}" --yes --password-from wren-password --json
cp -r "$work/state" left/state
chmod -R u+rwX left

for secret in "$sim" "$login" "$code" "$code_hex" "$trip" "$trip_hex"; do
    if grep -raw -- "$secret" left >found; then
        fail "a secret was left behind: $(cut -c1-200 found | head -3)"
    fi
    passed=$((passed + 1))
done
grep -q "hidden: it holds a secret" left/box-write.trace left/ling-write.trace left/log-write.trace ||
    fail "nothing was hidden: was it said at all?"
grep -rah "hidden" left/*.trace | grep -q "[0-9] characters" && fail "a trace tells how long a secret is"

# ---- memory after the visit, with a real port
verdite-bench serve "$work/yard" >served &
served=$!
for _ in $(seq 100); do grep -q spare served && break; sleep 0.1; done
unset VERDITE_BENCH
sed -i 's/report.moving: .*/report.moving: 4 min/' box.yaml
export ASAN_OPTIONS=max_free_fill_size=100000000:free_fill_byte=90 # what frees memory overwrites it
what="the memory after a visit" out='' err=''
python3 - "$(awk '$1 == "sorrel-box" { print $2 }' served)" "$login" "$sim" <<'PY' || fail "a secret stays in memory"
import fcntl, os, re, subprocess, sys, time
port, secrets = sys.argv[1], [s.encode() for s in sys.argv[2:]]
read_end, write_end = os.pipe()
os.set_blocking(write_end, False)
try:
    while True:
        os.write(write_end, b"x" * 4096)
except BlockingIOError:
    pass
os.set_blocking(write_end, True)  # its first word for programs waits here
tool = subprocess.Popen(["verdite", "write", "box.yaml", "--port", port, "--yes", "--json",
                         "--password-from", "new"], stdout=write_end, stderr=open("e", "w"))
seen = False
for _ in range(1200):
    if tool.poll() is not None:
        sys.exit(f"it ended with {tool.returncode}: {open('e').read()}")
    try:
        links = {os.readlink(f"/proc/{tool.pid}/fd/{n}") for n in os.listdir(f"/proc/{tool.pid}/fd")}
    except PermissionError:
        print("not looked at: nobody but root may look at a program that holds a secret")
        tool.kill()
        sys.exit(0)
    except FileNotFoundError:
        links = set()
    seen = seen or port in links
    if seen and port not in links:
        break
    time.sleep(0.05)
else:
    sys.exit("the port was never released")
time.sleep(1)
if not re.search(r"Max core file size\s+0\s+0", open(f"/proc/{tool.pid}/limits").read()):
    sys.exit("a core may be dumped")
found, size = [], 0
with open(f"/proc/{tool.pid}/maps") as maps, open(f"/proc/{tool.pid}/mem", "rb") as memory:
    for line in maps:
        start, end, rights = re.match(r"(\w+)-(\w+) (\S+)", line).groups()
        start, end = int(start, 16), int(end, 16)
        if "w" not in rights or "[v" in line or end - start > 1 << 30:
            continue
        try:
            memory.seek(start)
            bytes_ = memory.read(end - start)
        except OSError:
            continue
        size += len(bytes_)
        found += [(s, line.split()[-1]) for s in secrets if s in bytes_]
os.set_blocking(read_end, False)
tool.kill()
if size < 100000:
    sys.exit(f"only {size} bytes were looked at")
sys.exit(f"{found}" if found else 0)
PY
passed=$((passed + 1))

# ---- a question that is ended by hand leaves the terminal as it was
for key in C-c QUIT TERM; do
    what="$key at a question"
    KEY=$key python3 - box.yaml <<'PY' || fail "the terminal does not show what is typed any more"
import os, pty, signal, sys, termios, time
key = os.environ["KEY"]
child, terminal = pty.fork()
if child == 0:
    os.execvp("verdite", ["verdite", "set", sys.argv[1], "access.password"])
said = b""
while b"not shown" not in said:
    said += os.read(terminal, 1000)
time.sleep(0.2)
hidden = termios.tcgetattr(terminal)[3] & termios.ECHO == 0
if key == "C-c":
    os.write(terminal, b"\x03")
else:
    os.kill(child, signal.SIGQUIT if key == "QUIT" else signal.SIGTERM)
status = os.waitpid(child, 0)[1]
shown = termios.tcgetattr(terminal)[3] & termios.ECHO != 0
sys.exit(0 if hidden and shown and os.WIFEXITED(status) and os.WEXITSTATUS(status) == 8 else
         f"hidden {hidden}, shown {shown}, status {status}, said {said}")
PY
    passed=$((passed + 1))
done
done_testing
