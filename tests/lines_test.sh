#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Units that talk in lines, as a person would meet them in the yard: found, made to listen, read, written, verified;
# passwords from everywhere they may come from, for registers too; hands by command; raw requests; and every bad word.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
fresh yard
cd "$work" || exit 1
sorrel=(--port sorrel-box) hive=(--port hive-cable --model skep) cab=(--port cab-cable --model lantern)

# The yard behind pseudo-terminals; $port is the one of the box.
serve_yard() {
    verdite-bench serve yard >served.txt 2>&1 &
    served=$!
    for _ in $(seq 50); do grep -q spare served.txt && break; sleep 0.1; done
    port=$(sed -n 's/^sorrel-box //p' served.txt)
}

# ---- who is there
run 0 verdite ports
says "not allowed to you"
run 6 verdite find
says "sorrel-box      no address   115200 8N1  brock QB-31007"
says "ling-pair       address   2"
says "logger-cable    address   1  19200 8N1   wren-P"
tells "4 units found"
tells "must be made to listen first: lantern, skep"
run 0 verdite find --port sorrel-box --json
says '"address": null'
run 6 verdite read --port hive-cable
tells "Make these listen first: lantern, skep"
run 4 verdite read "${sorrel[@]}" --address 3 --model brock
tells "has no address"
run 4 verdite diagnose "${sorrel[@]}" --address 3 --model brock

# ---- hands
run 6 verdite diagnose "${cab[@]}"
tells "Hold the button"
run 0 verdite-bench press yard cab "4 s"
run 6 verdite diagnose "${cab[@]}"
run 0 verdite-bench press yard cab "5 s"
run 0 verdite diagnose "${cab[@]}"
run 0 verdite link "${cab[@]}" --count 20
says "The line is sound"
run 0 verdite-bench wait yard "6 min"
run 0 verdite-bench show yard
says "QL-11025, 4800 8N1, does not listen"
run 0 verdite-bench power-off yard sorrel
run 6 verdite read "${sorrel[@]}" --model brock
tells "The unit may be starting: waiting 8 s."
run 0 verdite-bench power-on yard sorrel
run 0 verdite read "${sorrel[@]}" --model brock --group now
says "18 °C"
run 0 verdite-bench unplug yard sorrel
run 6 verdite diagnose "${sorrel[@]}" --model brock
run 0 verdite-bench plug yard sorrel
run 0 verdite diagnose "${sorrel[@]}" --model brock
run 4 verdite-bench press yard nobody "5 s"
run 4 verdite-bench press yard cab 5
tells "with its unit"
run 4 verdite-bench press yard cab
run 6 verdite diagnose "${sorrel[@]}" --model brock --baud 9600
run 6 verdite diagnose "${sorrel[@]}" --model lantern --baud 115200

# ---- read, and be told what to do first
run 0 verdite read "${cab[@]}" --save cab.yaml
tells "The unit does not listen yet."
tells "  Hold the button"
tells "a hand does it"
run 0 verdite read "${hive[@]}" --save hive.yaml
tells "Hold the magnet"
run 0 verdite read "${hive[@]}" --json
run 0 verdite read "${sorrel[@]}" --save box.yaml
run 1 verdite compare unit factory "${hive[@]}" --json

# ---- capitals, steps, order, keys
run 4 verdite set cab.yaml "panel.name=Ling cab"
tells 'Use "LING CAB"'
run 4 verdite set cab.yaml panel.brightness=45%
tells "40 % and 50 %"
run 4 verdite set hive.yaml brood.low-limit=37
tells "is not below brood.high-limit"
run 4 verdite set hive.yaml radio.app-key=00112233445566778899AABBCCDDEEFF
tells "Give its key alone"
run 0 bash -c "echo 00112233445566778899AABBCCDDEEFF | verdite set hive.yaml radio.app-key radio.region=us915"
tells "radio.duty is unused in this unit"
run 2 verdite write hive.yaml "${hive[@]:0:2}" --yes --trace
says "VERIFIED EXCEPT 1 that cannot be read"
tells "(hidden: it holds a secret)"
case $out$err in *00112233445566778899AABBCCDDEEFF*) fail "a key was shown" ;; esac
run 0 verdite set cab.yaml "panel.name=LING CAB" panel.setup=2
run 0 verdite write cab.yaml "${cab[@]:0:2}" --yes
says "VERIFIED: 68 of 68"
tells "Restarts the unit (3 s)."
run 2 verdite verify cab.yaml "${cab[@]:0:2}"
says "; storage was last proved "
says "EQUAL: 68 of 68 settings read back live"
# ---- the password: asked for once, from the environment or a file, and never shown
run 0 verdite set box.yaml "unit.name=Sorrel 2"
run 7 verdite write box.yaml "${sorrel[@]}" --yes
tells "The unit needs its password"
VERDITE_PASSWORD=1234 run 7 verdite write box.yaml "${sorrel[@]}" --yes
tells "Tries left before it locks: 2"
echo 0000 >secret
run 7 verdite write box.yaml "${sorrel[@]}" --yes --password-from none
tells "cannot be read"
run 5 verdite write box.yaml "${sorrel[@]}" --yes --password-from secret --trace-to nowhere/talk.txt
run 0 verdite write box.yaml "${sorrel[@]}" --yes --password-from secret --trace-to talk.txt
says "VERIFIED: 89 of 89"
tells "still has the factory password"
grep -q 'LOGIN\|0000"' talk.txt && fail "a password stands in the trace"
grep -q 'set +NAME' talk.txt || fail "the trace is not decoded"
run 0 bash -c "echo 8319 | verdite set box.yaml access.password"
run 2 verdite write box.yaml "${sorrel[@]}" --yes --password-from secret
tells "A forgotten one cannot be recovered"
run 0 verdite set box.yaml "unit.name=Sorrel 3"
for _ in 1 2; do
    run 7 verdite write box.yaml "${sorrel[@]}" --yes --password-from secret
    tells "tries left is gone"
done
run 7 verdite write box.yaml "${sorrel[@]}" --yes --password-from secret
tells "The unit is locked"
run 0 verdite read "${sorrel[@]}" --group access
says "access.tries-left         0"

# ---- a restart shows what is stored: once with --yes, and when verify may
verdite-bench afresh yard
run 0 verdite read "${sorrel[@]}" --save proof.yaml
run 2 verdite verify proof.yaml "${sorrel[@]}"
tells "verify with --restart, or with --by-hand. What is only live is lost then."
run 7 verdite verify proof.yaml "${sorrel[@]}" --restart
tells "The unit needs its password"
run 0 verdite verify proof.yaml "${sorrel[@]}" --restart --password-from secret
says "VERIFIED: 89 of 89"
run 2 verdite write proof.yaml "${sorrel[@]}" --yes --password-from secret
tells "It is not restarted again"
says "EQUAL: 89 of 89 settings read back live; storage was last proved "
run 0 verdite set proof.yaml "unit.name=Sorrel 4"
run 0 verdite write proof.yaml "${sorrel[@]}" --yes --password-from secret
run 0 verdite-bench wait yard "6 min"
run 2 verdite write proof.yaml "${sorrel[@]}" --yes --password-from secret --json
says '"restart-spared": true'
run 0 verdite set proof.yaml sim.apn=bees.example.net
run 0 verdite write proof.yaml "${sorrel[@]}" --yes --password-from secret
run 0 verdite read "${sorrel[@]}" --group now # it restarted, so it has been running for a moment only
says "now.running               0 s"
run 2 verdite write proof.yaml "${sorrel[@]}" --yes --password-from secret
run 0 verdite-bench wait yard "6 min"
run 0 verdite-bench power-off yard sorrel
run 0 verdite-bench power-on yard sorrel
run 0 verdite write proof.yaml "${sorrel[@]}" --yes --password-from secret
says "VERIFIED: 89 of 89"

# ---- a password in a unit with registers, which has no password at first and says of one only that it refuses
logger=(--port logger-cable)
run 0 verdite read "${logger[@]}" --model wren --save log.yaml
run 0 bash -c "echo 4711 | verdite set log.yaml 'unit.name=Load 7' access.password"
run 2 verdite write log.yaml "${logger[@]}" --yes --trace
says "VERIFIED EXCEPT 1 that cannot be read"
tells "(hidden: it holds a secret)"
case $out$err in *"12 67"*) fail "the new password was shown" ;; esac
run 0 verdite read "${logger[@]}" --model wren --save log.yaml --replace
run 0 verdite set log.yaml "unit.name=Load 8"
run 7 verdite write log.yaml "${logger[@]}" --yes
tells "The unit needs its password"
says "differs: the unit has Load 7"
VERDITE_PASSWORD=none run 7 verdite write log.yaml "${logger[@]}" --yes
tells "A password is 0 to 999999."
VERDITE_PASSWORD=99 run 7 verdite write log.yaml "${logger[@]}" --yes
tells "It does not say how many tries are left"
VERDITE_PASSWORD=4711 run 0 verdite write log.yaml "${logger[@]}" --yes --trace
says "VERIFIED: 45 of 45"
case $out$err in *"12 67"*) fail "the password was shown" ;; esac
run 0 verdite set log.yaml "unit.name=Load 9"
run 0 verdite-bench power-off yard yarrow-logger # until then it is logged in
run 0 verdite-bench power-on yard yarrow-logger
for _ in 1 2 3 4 5; do
    VERDITE_PASSWORD=99 run 7 verdite write log.yaml "${logger[@]}" --yes
done
VERDITE_PASSWORD=4711 run 7 verdite write log.yaml "${logger[@]}" --yes # it has locked

# ---- typed at a terminal, and not shown
verdite-bench afresh yard
cat >type.py <<'PYTHON'
import os, pty, sys, time
secret, command = sys.argv[1], sys.argv[2:]
child, terminal = pty.fork()
if child == 0:
    os.execvp(command[0], command)
heard = b""
while True:
    try:
        piece = os.read(terminal, 4096)
    except OSError:
        break
    heard += piece
    if not piece:
        break
    if heard.endswith(b"not shown: ") or heard.endswith(b"Once more: "):
        time.sleep(0.2)
        os.write(terminal, secret.encode() + b"\n")
        heard += b"|"
sys.stdout.buffer.write(heard)
sys.exit(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]))
PYTHON
run 0 verdite read "${sorrel[@]}" --save typed.yaml
run 0 verdite set typed.yaml "unit.name=Sorrel 9"
run 0 python3 type.py 0000 verdite write typed.yaml "${sorrel[@]}" --yes
says "Password of brock QB-31007, not shown:"
says "VERIFIED: 89 of 89"
case $out in *0000*) fail "the password was shown" ;; esac
run 0 python3 type.py 8319 verdite set typed.yaml access.password
says "Once more:"
case $out in *8319*) fail "the secret was shown" ;; esac
run 7 python3 type.py wrong verdite read "${sorrel[@]}" --login
says "Tries left before it locks: 2"

# ---- raw
run 6 verdite raw "${hive[@]}" ":RAD:REG?"
tells "Hold the magnet"
run 0 verdite read "${hive[@]}"
run 0 verdite read "${cab[@]}"
run 0 verdite raw "${sorrel[@]}" "AT+NAME?"
says '+NAME: "Sorrel 9"'
tells "Nothing of this is verified"
run 7 verdite raw "${sorrel[@]}" "AT+NOTHING?"
run 7 verdite raw "${sorrel[@]}" 'AT+NAME="x"'
tells "without a login"
run 0 verdite raw "${hive[@]}" ":RAD:REG?" --json
says '"verified": false'
run 0 verdite raw "${cab[@]}" "R,NAME"
says "YARROW CAB"
run 0 verdite raw --port ling-pair --address 1 "03 0019 0001"
run 7 verdite raw --port ling-pair --address 1 "06 FFFF 0001"
run 4 verdite raw --port ling-pair --address 1 "nonsense"
run 4 verdite raw "${sorrel[@]}"
run 4 verdite raw "${sorrel[@]}" ""

# ---- the same behind pseudo-terminals, in real time
verdite-bench afresh yard
serve_yard
VERDITE_BENCH='' run 0 verdite read --port "$port" --group now
says "brock QB-31007, firmware 2.1, on $port"
VERDITE_BENCH='' run 0 verdite raw --port "$port" "AT+NAME?"
says '+NAME: "Sorrel"'
grep -q scale-office served.txt && fail "a port that nobody may open was served"
kill "$served" && wait "$served" 2>/dev/null
served=''

# ---- a unit that holds what its model does not allow, in a record with what is to be changed
mkdir "$work/models"
{ tag_head; cat <<'YAML'; } >"$work/models/tag.yaml"
times: {usual-reply: 10 ms, longest-reply: 400 ms}
groups: [{key: all, label: All}]
settings:
  - {key: low, group: all, label: Low, type: decimal, unit: kg, decimals: 1, range: [0, 100], at: {word: LIMIT}}
  - {key: slack, group: all, label: Slack, type: decimal, unit: kg, decimals: 1, range: [0, 10], at: {word: LIMIT, field: 2}}
  - {key: share, group: all, label: Share, type: integer, range: [0, 100], unit: "%", at: {word: SHARE}}
YAML
python3 "$VERDITE_SOURCE/tests/tag.py" "LIMIT=18.0,N/A" "SHARE=300" >tag.txt &
served=$!
for _ in $(seq 50); do [ -s tag.txt ] && break; sleep 0.1; done
export VERDITE_MODELS="$work/models" VERDITE_BENCH=
tag=(--port "$(awk '{ print $3 }' tag.txt)")
run 0 verdite read "${tag[@]}" --model tag
says '"N/A"'
says "not a value that the model allows"
says "300 %"
tells "2 values are not ones that the model allows"
run 0 verdite read "${tag[@]}" --model tag --json
says '"heard": "N/A"'
run 0 verdite read "${tag[@]}" --model tag --save tag.yaml
grep -q "# skipped, not a value: slack: N/A" tag.yaml || fail "what is no value is in the profile"
grep -q "# skipped, not allowed by the model: share" tag.yaml || fail "what is not allowed is in the profile"
run 0 verdite set tag.yaml "low=20 kg"
run 0 verdite write tag.yaml "${tag[@]}" --yes --trace
tells "AT+LIMIT=20.0,N/A"
says "VERIFIED: 1 of 1"
run 0 verdite set tag.yaml "slack=0.5 kg" "share=80 %"
run 0 verdite write tag.yaml "${tag[@]}" --yes
tells '"N/A"'
says "VERIFIED: 3 of 3"
kill "$served" && wait "$served" 2>/dev/null
served=''
export VERDITE_MODELS="$VERDITE_SOURCE/models"

# ---- a unit whose port is its own: gone while it restarts, and opened again; its running time is the proof
sed 's/model: tag/model: stick/; s/product: tag/product: stick/; s/^groups/restart: {takes: 2 s, takes-port: yes, running-time: running}\
store: {word: SAVE, proof: restart}\
actions: [{key: restart, label: Restart, word: RESTART, does: restart}]\
&/' "$work/models/tag.yaml" >"$work/models/stick.yaml"
echo '  - {key: running, group: all, label: Running, type: duration, tick: 1 s, range: [0 s, 1000 d], access: read-only, default: 0 s, moves: {one-more-every: 1 s}, at: {word: UPTIME}}' >>"$work/models/stick.yaml"
export VERDITE_MODELS="$work/models"
run 0 verdite check "$work/models/stick.yaml"
run 0 verdite-bench play stick "$work/stick"
export VERDITE_BENCH="$work/stick"
echo "verdite-profile: 1
model: stick
settings: {low: 20 kg, slack: 1 kg, share: 50 %}" >stick.yaml
run 0 verdite write stick.yaml --yes
says "VERIFIED: 3 of 3 settings read back from storage"
run 2 verdite verify stick.yaml
run 0 verdite verify stick.yaml --restart
export VERDITE_MODELS="$VERDITE_SOURCE/models" VERDITE_BENCH="$work/yard"

# ---- a question that stands while the unit goes away is dropped, and told
fresh yard
serve_yard
export VERDITE_BENCH=
run 0 verdite read --port "$port" --save served.yaml
run 0 verdite set served.yaml "unit.name=Sorrel 5"
cat >leave.py <<'PYTHON'
import os, pty, signal, sys
child, terminal = pty.fork()
if child == 0:
    os.execvp(sys.argv[2], sys.argv[2:])
heard = b""
while True:
    try:
        piece = os.read(terminal, 4096)
    except OSError:
        break
    if not piece:
        break
    heard += piece
    if b"[y/N]" in heard and b"|" not in heard:
        heard += b"|"
        os.kill(int(sys.argv[1]), signal.SIGKILL)
sys.stdout.buffer.write(heard)
sys.exit(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]))
PYTHON
run 6 timeout 20 python3 leave.py "$served" verdite write served.yaml --port "$port"
says "port"
wait "$served" 2>/dev/null
served=''
export VERDITE_BENCH="$work/yard"

# ---- what is said of them
for model in brock skep lantern; do
    run 0 verdite startup $model
    run 0 verdite model $model --all
    run 0 verdite needs $model
    run 0 verdite check "$VERDITE_SOURCE/models/$model.yaml"
done
run 0 verdite model brock alarm.2.tells
says "command +ALARM, item 2, field 5"
run 0 verdite model skep brood.high-limit
says "query :LIM2:TEMP, field 2"
run 0 verdite model lantern lamp.3.text
says "record LAMP, item 3, field 1"
done_testing
