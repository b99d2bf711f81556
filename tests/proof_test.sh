#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# What is called stored, and what is not: units that only say that they store and restart, plugs that are out meanwhile, and
# values that others have written since. The units share no code with the tool.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
cd "$work" || exit 1
mkdir models
export VERDITE_MODELS="$work/models" VERDITE_BENCH=

# model WITNESS...: a tag that proves storage by a restart, with what shows one.
model() {
    { tag_head; cat <<YAML; } >models/tag.yaml
store: {word: SAVE, proof: restart}
restart: {takes: 1500 ms$1}
$2
times: {usual-reply: 10 ms, longest-reply: 200 ms}
groups: [{key: all, label: All}]
actions: [{key: restart, label: Restart, help: Restarts., word: RESET, does: restart}]
settings:
  - {key: name, group: all, label: Name, type: text, length: 12, at: {word: NAME}}
  - {key: low, group: all, label: Low, type: decimal, decimals: 1, range: [0, 99], at: {word: LOW}}
  - {key: high, group: all, label: High, type: decimal, decimals: 1, range: [0, 99], at: {word: HIGH}}
  - {key: running, group: all, label: Running, type: duration, tick: 1 s, range: [0 s, 1000 d], access: read-only, at: {word: UPTIME}}
YAML
}

# unit FLAG...: has such a unit behind a terminal, whose path is in $port.
unit() {
    [ -z "$served" ] || { kill "$served"; wait "$served"; } 2>/dev/null
    rm -f unit.txt "$VERDITE_STORE"*
    python3 "$VERDITE_SOURCE/tests/tag.py" keeps-port "$@" 'NAME="old"' LOW=10.0 HIGH=20.0 >unit.txt &
    served=$!
    for _ in $(seq 100); do [ -s unit.txt ] && break; sleep 0.05; done
    port=$(awk '{ print $3 }' unit.txt)
}

# ---- a restart is proved by what a pulled plug cannot bring about: exit status, the last line of the verdict, what shows a restart, flags
ran=', running-time: running' started='listening: {says: "+READY", after: 1 s}'
while IFS='|' read -r status verdict witness line flags; do
    model "$witness" "$line"
    # shellcheck disable=SC2086
    unit $flags
    run "$status" verdite change name=new --port "$port" --model tag --yes
    says "$verdict"
done <<TABLE
0|VERIFIED: 1 of 1|$ran||
0|VERIFIED: 1 of 1||$started|
2|LIVE, STORAGE NOT PROVED: 1 of 1|||
2|LIVE, STORAGE NOT PROVED: 1 of 1|$ran||stores-nothing pretends:silent
2|LIVE, STORAGE NOT PROVED: 1 of 1|$ran|$started|stores-nothing pretends:says
2|LIVE, STORAGE NOT PROVED: 1 of 1||$started|stores-nothing pretends:silent
2|LIVE, STORAGE NOT PROVED: 1 of 1||$started|stores-nothing pretends:says
3|NOT VERIFIED|$ran||stores-nothing
TABLE
# A running time that is told in whole minutes shows a restart, but not by standing still between two of them; one that
# always says a minute shows none.
while IFS='|' read -r status verdict tick flags; do
    model "$ran" ""
    sed -i "s/tick: 1 s/tick: $tick/" models/tag.yaml
    # shellcheck disable=SC2086
    unit $flags
    run "$status" verdite change name=new --port "$port" --model tag --yes
    says "$verdict"
done <<'TABLE'
0|VERIFIED: 1 of 1|1 min|runs:minutes
2|LIVE, STORAGE NOT PROVED: 1 of 1|1 min|runs:minutes stores-nothing pretends:silent
2|LIVE, STORAGE NOT PROVED: 1 of 1|1 s|runs:60 stores-nothing pretends:silent
2|LIVE, STORAGE NOT PROVED: 1 of 1|1 s|runs:60
TABLE

# ---- limits are taken one by one, and no crossing: what the model does not say is learned from the refusal, once; what
# holds in no order ends as it began. Exit status, the last line of the verdict, what is said too, one word a line?, limits
while IFS='|' read -r status verdict told several limits; do
    model "$ran" ""
    sed -i "s/several: yes/several: $several/" models/tag.yaml
    unit crossing:LOW,HIGH
    # shellcheck disable=SC2086
    run "$status" verdite change $limits name=new --port "$port" --model tag --yes
    says "$verdict"
    [ -n "$told" ] && tells "$told"
    case $told:$err in :*"The unit accepted name"*) fail "$what: says that the order was learned" ;; esac
done <<'TABLE'
0|VERIFIED: 3 of 3||no|low=30 high=40
0|VERIFIED: 3 of 3|The unit accepted high only after others|no|low=2 high=5
0|VERIFIED: 3 of 3||yes|low=30 high=40
0|VERIFIED: 3 of 3|The unit accepted|yes|low=2 high=5
7|NOT VERIFIED: 1 of 3||no|low=50 high=45
7|NOT VERIFIED: 0 of 2||no|low=25
TABLE

# ---- a button that must be held again after a restart is asked for, though the model says nothing of that
model "$ran" 'listening: {help: Hold the button., hold: 1 s, limit: 20 s}'
unit sleeps:5
run 0 verdite change name=new --port "$port" --model tag --yes
tells "Waiting up to 20 s"

# ---- what makes it restart goes last of all: the rest would be sent into the restart
model "$ran" ""
sed -i '/^store:/d; /key: high/s/type: decimal/causes: restart, type: decimal/' models/tag.yaml
unit restarts-by:HIGH
run 0 verdite change high=30 low=12 name=new --port "$port" --model tag --yes --trace
says "VERIFIED: 3 of 3"
[ "$(grep -oE '(HIGH|LOW|NAME)=' <<<"$err" | tr -d '\n')" = LOW=NAME=HIGH= ] || fail "what restarts it goes before others"

# ---- what was read before the first write, and not since, is told as that
model "$ran" ""
sed -i 's/several: yes/several: no/' models/tag.yaml
unit dies-by:HIGH
run 6 verdite change low=12 high=30 --port "$port" --model tag --yes
says "the unit had 10.0 before anything was sent"

cat >models/peg.yaml <<'YAML'
verdite-model: 1
model: peg
title: Peg
line: {baud: 9600, framing: 8E1}
address: {from: 1, to: 9, factory: 1}
identify: {by: registers, maker: Quillmere, product: peg, maker-at: {register: 200, words: 8}, product-at: {register: 208, words: 8}, firmware-at: {register: 216, words: 4}, serial-at: {register: 220, words: 8}}
restart: {takes: 2 s}
times: {usual-reply: 5 ms, longest-reply: 200 ms}
groups: [{key: all, label: All}]
settings:
  - {key: mode, group: all, label: Mode, type: integer, range: [0, 9], default: 0, causes: restart, at: {register: 10}}
  - {key: high, group: all, label: High, type: integer, range: [0, 99], default: 0, at: {register: 30}}
YAML
run 0 verdite-bench play peg peg-bench
run 0 verdite change mode=3 high=5 --bench peg-bench --model peg --address 1 --yes --trace
says "VERIFIED: 2 of 2"
[ "$(grep -oE 'out +01 06 00 (1E|0A)' <<<"$err" | grep -oE '..$' | tr -d '\n')" = 1E0A ] || fail "in frames what restarts it goes before others"

# ---- what an action does may show in what the unit says of itself
model "$ran" ""
sed -i 's/^actions: \[/actions: [{key: join-now, label: Join, help: Joins., word: JOIN, does: its-own}, /' models/tag.yaml
echo '  - {key: joined, group: all, label: Joined, type: truth, access: read-only, at: {word: JOINED, as: name}}' >>models/tag.yaml
unit joins:JOINED JOINED=off
run 2 verdite act join-now --port "$port" --model tag --yes
says "joined off -> on"
says "ACCEPTED: the changes above may come from it"
run 2 verdite act join-now --port "$port" --model tag --yes --json # it is on already
says '"readings": []'

# ---- a new password is never shown: one login with it tells whether the unit took all of it. Exit status, verdict, what is
# said of the password, flags
while IFS='|' read -r status verdict word flags; do
    model "$ran" 'login: {word: LOGIN, password: pass, guards: writing, help: Log in.}'
    echo '  - {key: pass, group: all, label: Password, type: text, length: 12, access: write-only, secret: yes, at: {word: PASS}}' >>models/tag.yaml
    printf 'verdite-profile: 1\nmodel: tag\nsettings: {name: new, pass: abcdefgh1234}\n' >secret.yaml
    chmod 600 secret.yaml
    # shellcheck disable=SC2086
    unit login:PASS 'PASS="0000"' $flags
    run "$status" env VERDITE_PASSWORD=0000 verdite write secret.yaml --port "$port" --yes
    says "$verdict"
    says "pass (secret) $word"
done <<'TABLE'
2|VERIFIED EXCEPT 1 that cannot be read: 1 of 2|cannot be read back: the unit accepts a login with it|
3|NOT VERIFIED: 1 of 2|unknown: the unit refused a login with it|cuts:PASS,8
TABLE
tells "It accepted the new password but refuses a login with it."

# ---- a model that has nothing that shows a restart is warned of where it is judged and where it is used
model "" ""
run 0 verdite check models/tag.yaml
tells "note: The model tag has nothing that shows a restart"
run 0 verdite read --port "$port" --model tag
tells "note: The model tag has nothing that shows a restart"

# ---- what was verified, lost with the supply, and typed again from elsewhere is equal, and no more than that
model "$ran" ""
unit
run 0 verdite change name=new --port "$port" --model tag --yes
printf 'verdite-profile: 1\nmodel: tag\nsettings: {name: new}\n' >tag.yaml
run 2 verdite verify tag.yaml --port "$port"
says "EQUAL: 1 of 1 setting read back live; storage was last proved"
run 0 env VERDITE_STORE=off verdite raw "AT+RESET" --port "$port" --model tag # a power cycle that nobody watched
sleep 2
run 2 verdite verify tag.yaml --port "$port" # which proves nothing
says "EQUAL: 1 of 1"


# ---- verify --by-hand asks for the hand and watches: off and on is a proof, a cable that was out for as long is none
export VERDITE_MODELS="$VERDITE_SOURCE/models"
for way in "0 power-off power-on VERIFIED" "2 unplug plug LIVE"; do
    read -r status out_of in_to verdict <<<"$way"
    mkdir -p "bench-$out_of"
    cat >"bench-$out_of/bench.yaml" <<YAML
verdite-bench: 1
name: attended
adapters: [{name: box-usb, label: B, cable: b}]
units: [{name: b, model: brock, cable: b, serial: QB-$status, firmware: "2.1",
  hands: [{does: $out_of, when: asked, after: 2 s}, {does: $in_to, when: asked, after: 20 s}]}]
YAML
    printf 'verdite-profile: 1\nmodel: brock\nsettings: {unit.name: ""}\n' >box.yaml
    run "$status" verdite verify box.yaml --bench "bench-$out_of" --by-hand
    tells "Switch the unit off and on now. Leave its cable connected."
    says "$verdict"
done
tells "No restart was seen for certain."
run 0 verdite-bench play dowel dowel-bench # where reading shows what is stored nobody is asked
printf 'verdite-profile: 1\nmodel: dowel\nsettings: {unit.light: low}\n' >light.yaml
run 0 verdite verify light.yaml --bench dowel-bench --by-hand
case $err in *"Switch the unit"*) fail "a hand was asked for though nothing is left to show" ;; esac
done_testing
