#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# What is typed: every word and option is judged before anything is done, help and completions know all of them, and
# with --json whatever comes of it is JSON.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
fresh bracken
escape=$'\e' newline=$'\n' c1=$'\302\233' turned=$'\342\200\256' return=$'\r'
long=$(printf '%5000s' '' | tr ' ' x)

# Wrong words | what is said of them.
while IFS='|' read -r words said; do
    words=${words//ESC/$escape} words=${words//CSI/$c1} words=${words//TURN/$turned} words=${words//CR/$return}
    words=${words//LONG/$long}
    IFS=' ' read -ra list <<<"$words"
    for i in "${!list[@]}"; do list[i]=${list[i]//LF/$newline} list[i]=${list[i]//EMPTY/}; done
    run 4 verdite "${list[@]}"
    tells "$said"
    case $err$out in *"$escape"* | *"$c1"* | *"$turned"*) fail "$what: what steers a terminal came through" ;; esac
    run 4 verdite "${list[@]}" --json
    printf '%s\0' "$what" "$(cat "$work/out")" >>"$work/said"
done <<'CASES'
read --address -1|--address: "-1" is not a valid number. Give a whole number from 1 to 247.
read --address -253|--address: "-253" is not a valid number
read --address 0|from 1 to 247
read --address 248|from 1 to 247
read --address=259|from 1 to 247
read -a 4294967299|from 1 to 247
read --address 3x|from 1 to 247
read --address 0x3|from 1 to 247
read --address +3|from 1 to 247
read --address EMPTY|the text is empty
read --address 3 --address 4|--address is here twice
read --address|--address has no value. Give --address N.
read --adress 3|read has no option --adress. Do you mean --address?
read --wide|read has no option --wide
read --json=yes|--json takes no value
read hive|read takes no words
read --baud 49|from 50 to 4000000
read --framing 9X1|"9X1" is not a framing
read --port ESC[2Jx|contains the character U+001B
read --port aCSIb|contains the character U+009B
read --port aTURNb|contains the character U+202E
read --save aLFb|"a..." contains a line end
read --save aCRb|"a..." contains a line end
set a.yaml access.password=hunterESC7|"access.password..." contains the character U+001B
link --count 0|from 1 to 10000
link --count -5|from 1 to 10000
find --from 20 --to 5|--from 20 --to 5 is not a range
find --from 5 --to 300|from 1 to 247
find --slow --quick|exclude each other
ports --watch --json|exclude each other
set hive.yaml|KEY=VALUE is missing
set|FILE is missing
write|write takes FILE: FILE is missing. For example: verdite write hive-03.yaml
write a.yaml b.yaml|write takes FILE and no more
compare unit|B is missing
model dowel weight.tare more|and no more
ESC[2Jx|Unknown command ""
reCSIed|Unknown command "re"
read --ESC[2Jx|read has no option --
help aTURNb|"a..." contains the character U+202E
reed|Unknown command "reed". Do you mean read?
help reed|Do you mean read?
--address 3|"--address" comes before any command. Put options behind it. All commands: verdite help
startup LONG|is too long
read --port LONG|is too long
CASES
python3 - "$work/said" <<'PY' || fail "with --json, something else comes than JSON"
import json, sys
said = open(sys.argv[1]).read().split("\0")[:-1]
for what, output in zip(said[::2], said[1::2]):
    result = json.loads(output) if output.startswith("{") else sys.exit(f"{what}: no JSON: {output}")
    result["exit"] == 4 and result["faults"][0]["words"] or sys.exit(f"{what}: {output}")
PY

# Every command is told of alike: on the screen, as JSON, in the manual page.
run 0 verdite help
commands=$(verdite --help --json | python3 -c 'import json, sys; print(*(c["name"] for c in json.load(sys.stdin)["commands"]))')
[ "$(wc -w <<<"$commands")" -ge 15 ] || fail "verdite --help --json: too few commands"
"$VERDITE_BIN/verdite-papers" verdite 0.1.0 >"$work/verdite.1" || fail "no manual page"
"$VERDITE_BIN/verdite-papers" verdite-bench 0.1.0 >"$work/verdite-bench.1" || fail "no manual page"
for command in $commands; do
    COLUMNS=80 run 0 verdite "$command" --help
    says "For example"
    says "verdite $command"
    [ "$(wc -l <"$work/out")" -le 24 ] || fail "$what: it takes $(wc -l <"$work/out") lines"
    grep -q "verdite $command" "$work/verdite.1" || fail "$command is not in the manual page"
    run 0 verdite help "$command" --json
done
run 0 verdite-bench help serve
says "pseudo-terminals"
run 4 verdite-bench wait "$VERDITE_BENCH" "5 kg"
tells '"5 kg" is not a time'
run 4 verdite-bench press "$VERDITE_BENCH" hive-33 "5 s"
tells 'Unknown unit "hive-33" on this bench. Do you mean hive-03?'
run 0 verdite-bench show "$VERDITE_BENCH" --json
says '"name": "hive-03"'
VERDITE_BENCH="a${escape}b" run 4 verdite ports
tells "VERDITE_BENCH contains what cannot be shown"

# The width: no line is longer, unless one word alone is.
cp "$VERDITE_SOURCE/models/dowel.yaml" "$work/wide.yaml"
sed -i 's/^model: dowel/model: wide/; s/^title: .*/title: 蜂箱重量计二道/; s/label: Low limit/label: 下限重量の値 のための 設定です/' "$work/wide.yaml"
for width in 80 40; do
    for words in help "help find" "ports" "find --from 1 --to 3" "model" "model dowel" "model wren start.time" \
        "read --address 3" "needs wren" "startup brock" "model $work/wide.yaml --group weight"; do
        # shellcheck disable=SC2086
        COLUMNS=$width run 0 verdite $words
        sed "s/^/$width:/" "$work/out" "$work/err" >>"$work/lines"
    done
done
python3 - "$work/lines" <<'PY' || fail "a line is wider than the terminal"
import sys, unicodedata
for line in open(sys.argv[1]):
    most, line = line.rstrip("\n").split(":", 1)
    wide = sum(0 if unicodedata.combining(c) else 2 if unicodedata.east_asian_width(c) in "WF" else 1 for c in line)
    if wide > int(most) and len(line.split()) > 2:
        sys.exit(f"{wide}: {line}")
PY

# Progress is cut to the width of the terminal, and nothing of it stays.
out='' err='' what="progress on a narrow terminal"
python3 - <<'PY' || fail "progress is wider than the terminal, or stays"
import fcntl, os, pty, re, struct, sys, termios
child, terminal = pty.fork()
if child == 0:
    fcntl.ioctl(0, termios.TIOCSWINSZ, struct.pack("HHHH", 24, 40, 0, 0))
    os.execvp("verdite", ["verdite", "find", "--from", "1", "--to", "60"])
said = b""
while True:
    try:
        more = os.read(terminal, 4096)
    except OSError:
        break
    if not more:
        break
    said += more
if os.WEXITSTATUS(os.waitpid(child, 0)[1]) != 0:
    sys.exit("it failed: " + said.decode())
shown = [part for line in said.decode().split("\r\n") for part in line.split("\r\x1b[K")]
wide = [part for part in shown if len(re.sub(r"\x1b\[[0-9;]*m", "", part)) > 40 and " " in part.strip()]
left = [line for line in said.decode().split("\r\n") if "at most" in line.split("\r\x1b[K")[-1]]
passed = any("at most" in part for part in shown)
sys.exit(f"{wide} {left}" if wide or left or not passed else 0)
PY
passed=$((passed + 1))

# What a shell offers.
offers() { # offers WANTED WORD...
    local wanted=$1
    shift
    out=$(verdite --offers "$@" 2>/dev/null | cut -f1 | tr '\n' ' ') err='' what="--offers $*"
    says "$wanted"
}
offers "read " re
offers "no-reply " help no
offers "--address " read --ad
offers "bracken-usb " read --port ""
offers "--port=bracken-usb " read --port=b
offers "dowel " model "do"
offers "weight.low-limit " model dowel weight.lo
offers "weight " read --model dowel --group we
run 0 verdite read --address 3 --save "$work/h.yaml"
offers "weight.alarm= " set "$work/h.yaml" weight.al
offers "weight.alarm=both " set "$work/h.yaml" weight.alarm=b
offers "/ " write ""
offers "8E1 " read --framing 8E
if command -v bash >/dev/null; then
    out=$(bash -c '. "$1"; COMP_LINE="verdite set $2 weight.alarm=b" COMP_POINT=${#COMP_LINE}; _verdite; echo "${COMPREPLY[@]}"' \
        - "$VERDITE_SOURCE/share/completions/verdite.bash" "$work/h.yaml") what="completion of bash" err=''
    says both
fi
done_testing
