#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# What is said of alarms: releases of all kinds, combinations, two that are one, what was typed and what only stayed, other
# limits of a pair. A model of a made-up shed has them all.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1
mkdir models
export VERDITE_MODELS="$work/models"
cat >models/shed.yaml <<'YAML'
verdite-model: 1
model: shed
title: Shed watcher
speaks: {manner: commands, longest-line: 200}
line: {baud: 9600, framing: 8N1}
identify: {maker: Quillmere, product: shed}
times: {usual-reply: 6 ms, longest-reply: 250 ms}
groups: [{key: all, label: All}]
channels:
  - {key: heat, label: Heat, called: the shed, more: warmer than, less: colder than, reads: now.heat}
  - {key: damp, label: Damp, called: the air, more: damper than, less: drier than, reads: now.damp}
  - {key: release, label: Vent, called: the vent, more: wider than, less: narrower than, reads: now.vent}
  - {key: floor, label: Floor, called: the floor, more: warmer than, less: colder than, reads: now.floor}
conditions:
  - {key: wet, watches: damp, is: {above: damp.limit, release: damp.release}}
settings:
  - {key: now.heat, group: all, label: Heat, type: decimal, unit: °C, decimals: 1, range: [-40, 80], access: read-only, at: {word: HEAT}}
  - {key: now.vent, group: all, label: Vent, type: integer, unit: "%", range: [0, 100], access: read-only, at: {word: VENT}}
  - {key: now.floor, group: all, label: Floor, type: decimal, unit: °C, decimals: 1, range: [-40, 80], access: read-only, at: {word: FLOOR}}
  - {key: now.damp, group: all, label: Damp, type: integer, unit: "%", range: [0, 100], access: read-only, at: {word: DAMP}}
  - {key: damp.limit, group: all, label: Damp limit, type: integer, unit: "%", range: [0, 100], default: 60 %, at: {word: DLIM}}
  - {key: damp.release, group: all, label: Damp release, type: integer, unit: "%", range: [0, 100], default: 5 %, at: {word: DREL}}
  - block: spot
    label: Spot
    repeat: 3
    settings:
      - {key: watches, group: all, label: Watches, type: choice, choices: [{name: nothing}, {name: heat}, {name: damp}, {name: floor}, {name: release}], default: nothing, at: {word: "SPOT{item}", as: name}}
      - {key: limit, group: all, label: Limit, type: decimal, like: this.watches, decimals: 1, range: [-50, 100], default: 30, at: {word: "SPOT{item}", field: 2}}
      - {key: release, group: all, label: Release, type: decimal, like: this.watches, decimals: 1, range: [-9, 9], default: 1, at: {word: "SPOT{item}", field: 3}}
      - {key: lamp, group: all, label: Lamp, type: truth, default: "off", at: {word: "SPOT{item}", field: 5}}
      - {key: horn, group: all, label: Horn, type: truth, default: "off", at: {word: "SPOT{item}", field: 4}}
alarms:
  - key: spot
    of: spot
    watches: this.watches
    when-it-is: {above: this.limit}
    release: this.release
    only-while: {all: [wet]}
    does: [{key: horn, says: blows the horn, if: this.horn}, {key: lamp, says: lights the lamp, if: this.lamp}]
  - {key: stale, label: Stale, watches: heat, when-it-is: {above: 30 °C, release: 2 °C}, longest-without: {for: 2 h, rest: 10 min}}
  - {key: warm, label: Warm, watches: heat, when-it-is: {above: 40 °C}}
  - {key: both, label: Both, any-of: [stale, warm]}
YAML

# ---- each change to an alarm in a profile: exit status, what is said of it, what is not, words
run 0 verdite new shed.yaml shed
while IFS='|' read -r status said unsaid words; do
    run "$status" bash -c "verdite alarm shed.yaml $words"
    tells "$said"
    case $unsaid/$err in /*) ;; *"$unsaid"*"$unsaid"*) fail "$what: says \"$unsaid\"" ;; esac
done <<'TABLE'
0|Spot 1: new, sounds when the shed is warmer than 30 °C, but only while the air is damper than 60 % (until it is at 55 % or drier). It ends once the shed is at 28 °C or colder||add heat above 30 °C release 2 °C does horn
0|Spot 2: new, sounds when the shed is warmer than 30 °C|is the same alarm|add heat above 30 °C release 2 °C
0|Spot 2: Spot 1 is the same alarm.||2 does horn
4|Spot 2 cannot have a release of -3 °C. It is 0 or more||2 release "-3 °C"
0|Spot 2: sounds when the shed is warmer than 40 °C (was 30 °C); ends once the shed is at 38 °C (was 28 °C) or colder. The rest stays.||2 above 40 °C
0|Spot 2: sounds when the floor (was shed) is warmer than 40 °C|was not changed|2 floor above 40 °C
0|Spot 2: it blows the horn and lights the lamp (was blows the horn). The rest stays.||2 does horn + lamp
0|Spot 2: it does nothing (was blows the horn and lights the lamp)|the vent|2 does none
0|Spot 2: it blows the horn and lights the lamp. The rest stays.||2 does "horn lamp"
0|Spot 3: new, sounds when the vent is wider than 20 %||add release above 20 % release 5 %
4|Spot 3 cannot do bell. It can do: horn lamp||3 does horn+bell
TABLE
run 0 verdite set shed.yaml spot.2.watches=heat "spot.2.limit=40 °C" # the same number, and typed
case $err in *"was not changed"*) fail "what was typed is said to have stayed" ;; esac
run 0 verdite set shed.yaml spot.2.watches=floor
tells "It watches Floor now, but its limit was not changed."
run 0 verdite set shed.yaml spot.2.watches=heat "spot.2.limit=31 °C" "spot.2.release=-3 °C"
tells "spot.2.release: Spot 2: Its release is below zero, so nobody can say when it sounds"
run 0 verdite alarms shed.yaml
says "Stale: sounds when the shed is warmer than 30 °C (until it is at 28 °C or colder) for 2 h in all"
says "Both: sounds while any of these stands: Stale or Warm."
says "Its end is unknown: its release is below zero."
run 0 verdite alarms shed.yaml --table
says "Both any of these stands: Stale or Warm"
says "Warm the shed is warmer than 40 °C the shed is at 40 °C or colder"

# ---- other limits of a pair: which one stands beside it, and one on the wrong side of the other is told, not counted
export VERDITE_MODELS="$VERDITE_SOURCE/models"
run 0 verdite new hive.yaml skep --variant sound
run 0 verdite alarm hive.yaml brood outside 33.5 to 36.5 °C
run 0 verdite try hive.yaml --log "$VERDITE_SOURCE/logs/heather-days.csv" --limit "low brood=33 °C" --limit "low brood=37 °C" \
    --limit "high brood=33 °C to 37 °C by 2 °C" --limit "swarm=65 dB"
says "Brood low 33 °C 1 4 min"
says "Brood low 37 °C beyond the other"
says "Brood high 33 °C beyond the other"
says "Brood high 35 °C 153"
says "Swarm 65 dB"
tells "a limit on the wrong side of the other one of its pair was not counted."
done_testing
