#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Made-up units of kinds that nobody here sells, taken through the whole job: what their models say must be what a fitter
# meets, from the first look to the verdict.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
export VERDITE_MODELS="$VERDITE_SOURCE/tests/units"
cd "$work" || exit 1

# ---- sluice: blocks in blocks, scales, units of its own, what single items have otherwise
run 0 verdite check "$VERDITE_MODELS/sluice.yaml"
run 0 verdite model sluice --all --variant two
says "pump.suction 0.0 inWC -20.0 to 20.0 inWC in steps of 1.0 inWC"
says "pump.pulse 2000 µs 20 to 100000 µs in steps of 20 µs"
says "bed.2.valve 60 %"
says "There is no bed 3 here."
run 0 verdite model sluice bed.3.rate --variant three
says "The thin pipe of bed 3."
says "0 to 50 gal"
run 0 verdite model --with beds=3
says "sluice Sluice bed watering, 28 settings; variant three"
run 1 verdite model --with beds=4
run 0 verdite new two.yaml sluice --variant two --firmware 1.0
run 0 verdite check two.yaml
tells "Two beds hang on one line"
grep -q "pump.water: 250 gal" two.yaml || fail "the defaults of another kind of unit"
run 4 verdite-bench play sluice --variant four
run 0 verdite-bench play sluice --variant two
run 0 verdite read --bench sluice-bench --model sluice --all
says "bed.2.window.1.share 50 % Bed 2: Window 2.1: Share"
says "pump.water 400 gal"
tells "warning: bed.1.line: Two beds hang on one line."
tells "Bed 3 is shut."
case $out in *bed.3.rate*) fail "a rate of a bed that is absent" ;; esac
run 0 verdite set two.yaml preset:clay
says "bed.1.rate 100 gal 40 gal"
run 4 verdite set two.yaml preset:peat
tells "The model sluice has no preset \"peat\". Choose one of: clay, sand."
run 0 verdite model sluice
says "preset:clay heavy soil"
at=(--bench sluice-bench --model sluice --address 1 --yes)
while IFS='|' read -r status change words; do
    run "$status" verdite change "$change" "${at[@]}"
    tells "$words"
done <<'MISTAKES'
4|pump.suction=3.5|The nearest are 3.0 inWC and 4.0 inWC.
4|pump.pulse=2030|The nearest are 2020 µs and 2040 µs.
4|pump.station=qu-4 lm|Give "QU4LM".
4|pump.card=7992739870|the last digit is 5
4|bed.3.rate=60 gallons|Give 0 to 50 gal.
5|bed.3.rate=20|bed.3.rate does not exist in this unit. There is no bed 3 here.
4|bed.1.rate=500 kg|has the wrong unit
5|pump.water=700|Give 0 to 600 gal.
5|pump.mode=by-moisture|Choose off or timed.
5|bed.2.window.1.share=30 %|The windows of bed 2 add up to 80 %.
MISTAKES
run 0 verdite change "pump.suction=-7 in" "pump.pulse=2040" pump.station=QU4LM "bed.2.line=2" "bed.1.window.2.opens=05:00" \
    "bed.2.window.1.share=30 %" "bed.2.window.2.share=70 %" "${at[@]}"
tells "note: bed.1.window.2.opens: Window 2 of bed 1 opens at 05:00 with its valve at 80 %."
says "VERIFIED"
run 0 verdite raw 0300040002 --bench sluice-bench --model sluice # -7 = 26 x 0.5 - 20; 2040 = 102 x 20
says "00 1A 00 66"

# ---- kiln: queries, a block in a block with its numbers in the word, limits that are like what they watch
run 0 verdite-bench play kiln
run 0 verdite read --bench kiln-bench --model kiln
says "program.1.glaze 6 cone Bisque, program 1"
tells "note: program.1.glaze: Programs are kept in the order of their cones."
at=(--bench kiln-bench --serial PLAY-1 --model kiln --yes)
while IFS='|' read -r status change words; do
    more=()
    case $change in alarm.*) more=(alarm.1.source=current) ;; esac
    run "$status" verdite change "$change" "${more[@]}" "${at[@]}"
    tells "$words"
done <<'MISTAKES'
4|kiln.asset=OAKHURST1791|is 19
4|kiln.owner=AB|At least 3 are needed
5|kiln.address=192.0.2.1|192.0.2.1 is no host's own address there
5|kiln.address=192.0.2.255|no host's own
4|alarm.1.limit=40 V|or 0 to 60 A
5|alarm.1.limit=40 °C|has the wrong unit. Give 0 to 60 A
5|alarm.1.limit=40|needs a unit
4|program.3.segment.1.target=600.1|600.00 °C and 600.25 °C
MISTAKES
run 0 verdite change kiln.asset=OAKHURST1719 kiln.key=01020304 kiln.address=192.0.2.66 alarm.1.source=chamber \
    "alarm.1.limit=1200 °C" "program.2.segment.2.target=1050.25" "program.2.segment.2.hold=50 min" --trace "${at[@]}"
tells "warning: kiln.address: The printer has that address."
tells ":PROG2:SEG2 1050.25,50;"
says "VERIFIED: 7 of 7"
visit=$(command verdite history -n 1 --json 2>/dev/null | sed -n 's/.*"visit": \([0-9]*\),/\1/p' | head -n 1)
run 5 verdite change "program.2.segment.2.hold=2 h" "${at[@]}"
tells "Program 2, segment 2: nothing stands 1050.25 °C for 2 h."
run 5 verdite change alarm.2.source=current "${at[@]}" # its limit was of nothing
tells "alarm.2.limit: \"0\" needs a unit"
run 0 verdite change alarm.1.source=none "${at[@]}" # and now it is idle
run 0 verdite undo "${at[@]}"
run 0 verdite undo "$visit" "${at[@]}"
run 0 verdite read --bench kiln-bench --model kiln --group alarm
says "alarm.1.source none"

# No two units may have one pairing key, whichever was there first.
mkdir -p kilns
cat >kilns/bench.yaml <<'YAML'
verdite-bench: 1
name: kilns
adapters:
  - {name: a-usb, label: A, cable: a}
  - {name: b-usb, label: B, cable: b}
units:
  - {name: a, model: kiln, cable: a, serial: K-1, firmware: "1.0"}
  - {name: b, model: kiln, cable: b, serial: K-2, firmware: "1.0"}
YAML
run 0 verdite change kiln.key=0A0B0C0D --bench kilns --port a-usb --serial K-1 --model kiln --yes
run 1 verdite change kiln.key=0A0B0C0D --bench kilns --port b-usb --serial K-2 --model kiln --yes
tells "kiln K-1 has 0A-0B-0C-0D already, and no two units may share it. Nothing was sent."
run 0 verdite change kiln.key=0A0B0C0E --bench kilns --port b-usb --serial K-2 --model kiln --yes
run 0 verdite change kiln.key=00000001 --bench kilns --port a-usb --serial K-1 --model kiln --yes
run 0 verdite change kiln.key=0A0B0C0D --bench kilns --port b-usb --serial K-2 --model kiln --yes # nobody has it now

# A value on a bench has the decimals that its unit gives it, however it was written.
mkdir -p scale
cat >scale/bench.yaml <<'YAML'
verdite-bench: 1
name: scale
adapters: [{name: s-usb, cable: s}]
units: [{name: s, model: dowel, cable: s, serial: QD-1, firmware: "1.4", settings: {line.address: 1, now.running: 3 d, now.temperature: 20, now.weight: 80 kg, weight.high-limit: 65 kg}}]
YAML
VERDITE_MODELS=$VERDITE_SOURCE/models run 0 verdite read --bench scale --model dowel --address 1 --all
says "now.weight 80.0 kg"
says "weight.high-limit 65.0 kg"
# A tare is taken off what it measures and an offset added, at once and after a restart, and the alarm watches that.
export VERDITE_MODELS=$VERDITE_SOURCE/models VERDITE_BENCH=scale
run 0 verdite change weight.tare="20.5 kg" temperature.offset="-1.5 °C" --address 1 --yes
run 0 verdite read --address 1 --all
says "now.weight 59.5 kg"
says "now.temperature 18.5 °C"
says "now.running 3 d"
run 0 verdite-bench restart scale s
run 0 verdite read --address 1 --all
says "now.weight 59.5 kg"
case $out in *"now.running 3 d"*) fail "$what: it has not begun to count anew" ;; esac
run 0 verdite change weight.tare="-500 kg" temperature.offset=0 --address 1 --yes
run 0 verdite read --address 1 --all
says "now.weight 580.0 kg"
says "now.temperature 20.0 °C"
unset VERDITE_BENCH
export VERDITE_MODELS=$VERDITE_SOURCE/tests/units
sed -i 's/80 kg/80.05 kg/' scale/bench.yaml
VERDITE_MODELS=$VERDITE_SOURCE/models run 5 verdite read --bench scale --model dowel --address 1 --all
tells "now.weight: \"80.05 kg\" is between two steps. The nearest are 80.0 kg and 80.1 kg."

# ---- gong: commands, the number of the item in the word, what its firmware cannot do, a preset
run 0 verdite-bench play gong --firmware 1.5
says "verdite-bench press gong-bench gong-1 \"2 s\""
says "It takes changes only behind this:"
says "verdite-bench press gong-bench gong-1 \"4 s\""
run 0 verdite-bench press gong-bench gong-1 "4 s"
at=(--bench gong-bench --serial PLAY-1 --model gong --yes)
run 5 verdite change hall.voice=wood "${at[@]}"
tells "\"wood\" is not a choice. Choose bronze or brass."
run 5 verdite change stroke.2.loud=55 "${at[@]}"
tells "Give 10 to 50 dB"
run 4 verdite change "hall.name=great-hall" "${at[@]}"
run 5 verdite change "stroke.1.after=1 s" "${at[@]}"
tells "stroke.1.after does not exist in this unit. Stroke 1 is the first."
run 2 verdite change preset:quiet "hall.name=Hall 4" "stroke.3.after=1.5 s" --trace "${at[@]}"
tells "+LOUD3=20,15"
[ "$(grep -c 'out  AT+GM[IMR]$\|out  AT+GSN$' <<<"$err")" -ge 8 ] || fail "its identity is not asked for part by part"
case $err in *"out  AT"*";+"*) fail "two questions in one line" ;; esac
says "LIVE, STORAGE NOT PROVED: 6 of 6"
# A mood sets the strokes: it goes out first, they are read then, and of what is asked for only what differs is written.
run 2 verdite change hall.mood=feast stroke.1.loud=45 "stroke.2.after=500 ms" --trace "${at[@]}"
says "hall.mood feast live, storage not proved"
said=$(sed -n 's/.*out  AT+\([A-Z0-9]*=.*\)/\1/p' <<<"$err" | tr '\n' ' ')
[ "$said" = "MOOD=FEAST LOUD1=45 SAVE=1 TUNE=1 " ] || fail "said in another order: $said"
run 0 verdite read --bench gong-bench --model gong
says "stroke.3.loud 41 dB"
says "hall.silent 01:00"
# Another tune is loaded, changed, saved and loaded again; what comes after a power cycle is told apart from it.
run 2 verdite change hall.tune=3 stroke.3.loud=12 "${at[@]}"
says "hall.tune 3 live, storage not proved"
says "stroke.3.loud 12 dB confirmed"
tells "Loads Tune 3 first"
tells "After a power cycle another slot is in force"
run 2 verdite change hall.first=3 hall.tune=3 stroke.3.loud=13 "${at[@]}"
says "stroke.3.loud 13 dB confirmed"
[[ $err != *"another slot is in force"* ]] || fail "another slot is in force than the one that is"
run 2 verdite change hall.first=1 hall.tune=3 stroke.3.loud=12 "${at[@]}"
run 0 verdite read --bench gong-bench --model gong
says "stroke.1.loud 40 dB"
run 0 verdite-bench restart gong-bench gong-1
run 6 verdite read --bench gong-bench --model gong
tells "Pull the rope for two seconds."
run 0 verdite-bench press gong-bench gong-1 "2 s"
run 0 verdite read --bench gong-bench --model gong
says "hall.tune 1"
says "stroke.1.loud 45 dB"
run 6 verdite change stroke.1.loud=30 "${at[@]}" # it listens, and takes no changes
tells "Pull it for four seconds."
tells "The unit can be read, but accepted no change for 15 s."
run 0 verdite-bench press gong-bench gong-1 "4 s"
run 2 verdite change hall.first=3 hall.tune=3 "${at[@]}"
case $err in *"another slot"*) fail "the slot that comes after a power cycle is told as another" ;; esac
for wrong in "" "=" =0 =4 =x "=1(" "=1,2" =00001; do # no number of a slot: it saves none
    run 7 verdite raw "AT+SAVE$wrong" --bench gong-bench --model gong
done
run 6 verdite act restart "${at[@]}" # its own restart takes the hand again
tells "Pull the rope for two seconds."
run 0 verdite-bench press gong-bench gong-1 "4 s"
run 2 verdite change hall.tune=1 "${at[@]}"
run 0 verdite read --bench gong-bench --model gong
says "hall.tune 1"
# Where somebody is there who pulls the rope when asked, it is made to listen, to take changes, and to listen again.
mkdir -p attended
cat >attended/bench.yaml <<'YAML'
verdite-bench: 1
name: attended
adapters: [{name: rope-usb, label: R, cable: r}]
units: [{name: g, model: gong, cable: r, serial: G-7, firmware: "2.0", hands: [{does: press, for: 4 s, when: asked, after: 12 s}]}]
YAML
at=(--bench attended --serial G-7 --model gong --yes)
run 2 verdite change hall.tune=2 stroke.2.loud=33 "${at[@]}"
tells "The unit does not listen yet."
says "stroke.2.loud 33 dB confirmed"
run 2 verdite act restart "${at[@]}" # nothing that it shows is a restart for certain
tells "Pull the rope for two seconds."
says "hall.tune 1"
run 0 verdite read --bench attended --model gong
says "stroke.2.loud 40 dB"
run 0 verdite-bench play gong newer
run 0 verdite-bench press newer gong-1 "4 s"
run 2 verdite change hall.voice=wood stroke.2.loud=55 --bench newer --serial PLAY-1 --model gong --yes
tells "warning: stroke.2.loud: Stroke 2 is 55 dB, which hurts."

# A PIN of digits is a number to it, and said without quotation marks.
sed -e '/^listening:/,/^actions:/{/^actions:/!d}' -e 's/^model: gong/model: pin/; s/product: gong/product: pin/' \
    -e 's/^store:/login: {help: Say the PIN., word: PIN, password: hall.pin, guards: writing}\n&/' \
    -e 's/^settings:/&\n  - {key: hall.pin, label: PIN, type: integer, range: [0, 9999], default: 1234, secret: yes, access: write-only, at: {word: NEWPIN}}/' \
    "$VERDITE_MODELS/gong.yaml" >pin.yaml
run 0 verdite-bench play pin.yaml pins
VERDITE_PASSWORD=1235 run 7 verdite change hall.silent=20:00 --bench pins --serial PLAY-1 --model pin.yaml --yes
VERDITE_PASSWORD=1234 run 2 verdite change hall.silent=20:00 --bench pins --serial PLAY-1 --model pin.yaml --yes
says "hall.silent 20:00 live"

# ---- foghorn: registers, a clock and a counter, slots, what a change causes, a key that lets it take changes
run 0 verdite-bench play foghorn
at=(--bench foghorn-bench --address 1 --model foghorn --yes)
run 6 verdite change time.zone=+2 "${at[@]}"
tells "Turn the key under the lid to SET for three seconds."
says "time.zone +02:00 differs: the unit has +00:00"
run 5 verdite change horn.period=40s "${at[@]}"
tells "slot 1 cannot be saved, so nothing in it is changed. Choose 2 or 3."
run 0 verdite read --bench foghorn-bench --model foghorn
tells "warning: time.clock shows 2026-05-01 08:0"
tells "It should be 2026-05-02 08:0"
run 0 verdite-bench press foghorn-bench foghorn-1 "3 s"
run 0 verdite change time.clock=now time.zone=+1 horn.blasts=100 horn.gas=1250.5 "${at[@]}"
says "horn.gas 1250.5 m³ confirmed"
says "VERIFIED: 4 of 4"
run 0 verdite read --bench foghorn-bench --model foghorn
now=$(sed -n 's/^ *time.clock *\(.*[0-9]\) *Clock$/\1/p' <<<"$out")
off=$(($(date -u -d "$now" +%s) - $(date -u -d "2026-05-02 09:00:00" +%s)))
if [ "$off" -lt 0 ] || [ "$off" -ge 120 ]; then fail "a clock that was set to now shows $now"; fi
run 0 verdite read --bench foghorn-bench --model foghorn --save horn.yaml
grep -q "skipped, runs: time.clock" horn.yaml || fail "a clock that is read stands in the profile"
run 0 verdite set horn.yaml time.clock=now horn.blasts=100
grep -q "time.clock: \"now\"" horn.yaml || fail "now does not stay now in a profile"
run 0 verdite check horn.yaml
run 2 verdite verify horn.yaml --bench foghorn-bench
says "LIVE, STORAGE NOT PROVED: 9 of 9"
run 0 verdite-bench wait foghorn-bench "12 h" # it loses 30 s a day
run 3 verdite verify horn.yaml --bench foghorn-bench
says "time.clock now differs"
says "8 of 9 settings read back live, equal" # the counter has counted on from 100, as it should
run 0 verdite-bench press foghorn-bench foghorn-1 "3 s"
run 5 verdite change horn.programme=2 "horn.blast=60 s" --agree horn.blast "${at[@]}" # what it holds shows that
tells "Of every 2 min it would sound for 1 min, which is more than half."
says "horn.blast 1 min differs: the unit has 2 s; it was not sent"
run 0 verdite change horn.programme=1 "${at[@]}"
while IFS='|' read -r status words more; do
    run "$status" verdite change horn.programme=2 horn.tone=130 horn.blast=4s horn.seal=3 ${more:+$more} "${at[@]}"
    tells "$words"
done <<'ASKED'
4|horn.tone: the harbour master must be told first. It is printed in the chart. Nothing was sent. When that is done|--agree=horn.blast
4|horn.blast: needs a yes of its own. The chart says how long it is. Nothing was sent. To mean it, add --agree horn.blast|
ASKED
sed 's/{what: asked-apart,[^}]*}/asked-apart/' "$VERDITE_MODELS/foghorn.yaml" >bare.yaml # no more words about it
run 4 verdite change horn.programme=2 horn.blast=4s "${at[@]/%foghorn/bare.yaml}"
tells "horn.blast: needs a yes of its own. Nothing was sent. To mean it, add --agree horn.blast"
run 4 verdite change horn.seal=3 "${at[@]}"
tells "horn.seal: cannot be undone. The maker alone can lift the seal. Nothing was sent. To mean it, add --agree horn.seal"
run 4 verdite change horn.programme=2 horn.tone=130 --told "the harbourmaster" "${at[@]}"
tells "Nothing was sent. When that is done, add --told \"the harbour master\"."
run 2 verdite change horn.programme=2 horn.tone=130 horn.seal=3 --told "the harbour master" --agree horn.seal "${at[@]}"
tells "horn.tone: interrupts what the unit does or feeds for about 5 s."
tells "After a power cycle Programme 1 is in force again."
says "horn.programme 2 live, storage not proved"
says "horn.tone 130 Hz confirmed"
run 0 verdite history -n 1
says "told before: the harbour master"
run 5 verdite change horn.programme=1 "horn.period=50 s" "${at[@]}"
tells "slot 1 cannot be saved, so nothing in it is changed. Choose 2 or 3."
says "horn.period 50 s differs: the unit has 30 s; it was not sent"
run 0 verdite change horn.programme=1 "${at[@]}"
run 2 verdite change horn.programme=3 "horn.period=50 s" "${at[@]}"
run 0 verdite read --bench foghorn-bench --model foghorn --save three.yaml
run 2 verdite verify three.yaml --bench foghorn-bench
tells "Only switching the unit off and on shows what is stored: verify with --by-hand."
run 2 verdite verify three.yaml --bench foghorn-bench --restart --json
[ "$(grep -o '"verdict": "confirmed"' <<<"$out" | wc -l)" -eq 3 ] || fail "loading a slot shows nothing of what it holds: $out"
run 0 verdite change horn.seal=4 --agree horn.seal "${at[@]}"
visit=$(command verdite history -n 1 --json 2>/dev/null | sed -n 's/.*"visit": \([0-9]*\),/\1/p' | head -n 1)
run 3 verdite undo "$visit" "${at[@]}"
tells "Cannot be undone: horn.seal: The maker alone can lift the seal."
run 4 verdite act long-blast "${at[@]}"
tells "--yes is not enough: long-blast: the harbour master must be told first."
run 2 verdite act long-blast --told "the harbour master" "${at[@]}"
tells "interrupts what the unit does or feeds for about 20 s"

# ---- a bench that is served can be touched from another terminal
verdite-bench serve sluice-bench >served_at &
served=$!
for _ in $(seq 100); do [ -s served_at ] && break; sleep 0.05; done
port=$(awk '{ print $2 }' served_at)
run 0 verdite read --port "$port" --model sluice --group pump
run 0 verdite-bench unplug sluice-bench sluice-1
run 6 verdite read --port "$port" --model sluice --group pump
run 0 verdite-bench plug sluice-bench sluice-1
run 0 verdite read --port "$port" --model sluice --group pump
kill "$served" && wait "$served" 2>/dev/null
served=''
[ ! -e sluice-bench/hands ] || fail "a pipe that nobody reads is left"
run 0 verdite-bench unplug sluice-bench sluice-1
run 6 verdite read --bench sluice-bench --model sluice
run 0 verdite-bench plug sluice-bench sluice-1

# ---- a model that is in no folder of models, named by its file, is found again beside what hangs on it
mkdir -p elsewhere
cp "$VERDITE_MODELS/sluice.yaml" elsewhere/
export VERDITE_MODELS="$VERDITE_SOURCE/models"
run 0 verdite-bench play elsewhere/sluice.yaml played
run 0 verdite read --bench played --model elsewhere/sluice.yaml --save elsewhere/one.yaml
run 0 verdite set elsewhere/one.yaml bed.1.rate=50
run 0 verdite write elsewhere/one.yaml --bench played --address 1 --yes
says "VERIFIED"
cp elsewhere/one.yaml far.yaml
sed 's/^groups:/gruops:/' elsewhere/sluice.yaml >broken.yaml
run 5 verdite undo --bench played --model broken.yaml --address 1 --yes # not what was done to a unit of another model
tells "Do you mean groups?"
case $err in *"Putting back"*) fail "a broken model is no model: another one's visit was undone" ;; esac
run 5 verdite check far.yaml
tells "Known: brock"
run 0 verdite check far.yaml --model elsewhere/sluice.yaml
run 0 verdite compare far.yaml elsewhere/one.yaml --model elsewhere/sluice.yaml
run 0 verdite history --model elsewhere/sluice.yaml
says "sluice"
run 0 verdite undo --bench played --model elsewhere/sluice.yaml --address 1 --yes --agree same-unit
says "VERIFIED"

# ---- what a bank of stored values shows of slots is not what a power cycle brings: before one and behind one
mkdir banked
sed 's/^store: .*/store: {register: 90, value: 1, proof: bank, bank-offset: 2000}/' "$VERDITE_SOURCE/tests/units/foghorn.yaml" >banked/foghorn.yaml
export VERDITE_MODELS="$work/banked" VERDITE_BENCH="$work/slotted"
run 0 verdite-bench play banked/foghorn.yaml slotted
run 0 verdite-bench press slotted foghorn-1 "3 s"
run 2 verdite change horn.programme=2 "horn.tone=200 Hz" --address 1 --yes --told "the harbour master"
run 0 verdite read
says "live only; a power cycle loads Programme 1"
case $out in *"stored is"*) fail "a slot is told to be stored otherwise" ;; esac
run 0 verdite-bench restart slotted foghorn-1
run 0 verdite read
case $out in *live*) fail "what a power cycle has just loaded is called live only" ;; esac
export VERDITE_MODELS="$VERDITE_SOURCE/models"

done_testing
