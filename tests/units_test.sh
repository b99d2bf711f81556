#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Made-up units of kinds that nobody here sells, taken through the whole job: what their models say must be what a fitter
# meets, from the first look to the verdict.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
export VERDITE_MODELS="$VERDITE_SOURCE/tests/units"
cd "$work" || exit 1

# ---- sluice: blocks in blocks, scales, units of its own, what single items have otherwise
run 0 verdite check "$VERDITE_MODELS/sluice.yaml"
run 0 verdite model sluice --all --variant two
says "pump.suction 0.0 inWC -20.0 to 20.0 inWC in steps of 1.0 inWC"
says "pump.pulse 2000 µs 20 to 100000 µs in steps of 20 µs"
says "bed.2.valve 60 %"
says "2 There is no bed 3 here."
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
run 0 verdite read --bench sluice-bench --model sluice
says "bed.2.window.1.share 50 % Bed 2: Window 2.1: Share"
says "pump.water 400 gal"
tells "warning: bed.1.line: Two beds hang on one line."
tells "2  Bed 3 is shut."
case $out in *bed.3.rate*) fail "a rate of a bed that is absent" ;; esac
run 0 verdite set two.yaml preset:clay
says "bed.1.rate: 40 gal, was 100 gal"
run 4 verdite set two.yaml preset:peat
tells "A sluice has no preset \"peat\". Here belong: clay, sand."
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
4|pump.card=7992739870|the last one is 5
4|bed.3.rate=60 gallons|Give 0 to 50 gal.
5|bed.3.rate=20|bed.3.rate is absent from this unit: There is no bed 3 here.
4|bed.1.rate=500 kg|not in the unit
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
5|alarm.1.limit=40 °C|not in the unit of this setting. Give 0 to 60 A
5|alarm.1.limit=40|has no unit
4|program.3.segment.1.target=600.1|600.00 °C and 600.25 °C
MISTAKES
run 0 verdite change kiln.asset=OAKHURST1719 kiln.key=01020304 kiln.address=192.0.2.66 alarm.1.source=chamber \
    "alarm.1.limit=1200 °C" "program.2.segment.2.target=1050.25" "program.2.segment.2.hold=50 min" --trace "${at[@]}"
tells "warning: kiln.address: The printer has that address."
tells ":PROG2:SEG2 1050.25,50;"
says "VERIFIED: 7 of 7"
visit=$(sed -n 's/.*kept as visit \([0-9]*\)\..*/\1/p' <<<"$err")
run 5 verdite change "program.2.segment.2.hold=2 h" "${at[@]}"
tells "Program 2, segment 2: nothing stands 1050.25 °C for 2 h."
run 5 verdite change alarm.2.source=current "${at[@]}" # its limit was of nothing
tells "alarm.2.limit: \"0\" has no unit"
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
tells "0A-0B-0C-0D is what kiln K-1 has, and no two units may have it. Nothing was sent."
run 0 verdite change kiln.key=0A0B0C0E --bench kilns --port b-usb --serial K-2 --model kiln --yes
run 0 verdite change kiln.key=00000001 --bench kilns --port a-usb --serial K-1 --model kiln --yes
run 0 verdite change kiln.key=0A0B0C0D --bench kilns --port b-usb --serial K-2 --model kiln --yes # nobody has it now

# ---- gong: commands, the number of the item in the word, what its firmware cannot do, a preset
run 0 verdite-bench play gong --firmware 1.5
at=(--bench gong-bench --serial PLAY-1 --model gong --yes)
run 5 verdite change hall.voice=wood "${at[@]}"
tells "\"wood\" is not one of its choices. Choose bronze or brass."
run 5 verdite change stroke.2.loud=55 "${at[@]}"
tells "Give 10 to 50 dB"
run 4 verdite change "hall.name=great-hall" "${at[@]}"
run 5 verdite change "stroke.1.after=1 s" "${at[@]}"
tells "stroke.1.after is absent from this unit: Stroke 1 is the first."
run 2 verdite change preset:quiet "hall.name=Hall 4" "stroke.3.after=1.5 s" --trace "${at[@]}"
tells "+LOUD3=20,15"
[ "$(grep -c 'out  AT+GM[IMR]$\|out  AT+GSN$' <<<"$err")" -ge 8 ] || fail "its identity is not asked for part by part"
case $err in *"out  AT"*";+"*) fail "two questions in one line" ;; esac
says "LIVE, STORAGE NOT PROVED: 6 of 6"
run 0 verdite-bench play gong newer
run 2 verdite change hall.voice=wood stroke.2.loud=55 --bench newer --serial PLAY-1 --model gong --yes
tells "warning: stroke.2.loud: Stroke 2 is 55 dB, which hurts."

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
run 5 verdite check far.yaml
tells "For another give its file"
run 0 verdite check far.yaml --model elsewhere/sluice.yaml
run 0 verdite compare far.yaml elsewhere/one.yaml --model elsewhere/sluice.yaml
run 0 verdite history --model elsewhere/sluice.yaml
says "sluice"
run 0 verdite undo --bench played --model elsewhere/sluice.yaml --address 1 --yes
says "VERIFIED"

done_testing
