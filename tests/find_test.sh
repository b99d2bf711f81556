#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# Finding, diagnosing, the link test, and what is remembered, as a person would type it.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
keep_json
fresh bracken
cd "$work" || exit 1

# ---- finding
run 0 verdite find
says "address 247"
says "address  10"
tells "11 units found"
run 0 verdite find --from 3 --to 4 --baud 9600 --framing 8E1 --json
python3 -c 'import json,sys; u=json.load(open(sys.argv[1]))["units"]; assert [x["address"] for x in u]==[3,4] and u[0]["unit"]["serial"]=="QD-24003" and u[0]["model"]=="dowel"' "$work/out" || fail "find --json"
run 6 verdite find --from 40 --to 60 --quick
tells "Nobody answers"
tells "(B1)"
for range in "--from 0" "--to 248" "--from 9 --to 3" "--from x" "--from -5"; do
    # shellcheck disable=SC2086
    run 4 verdite find $range
done
run 6 verdite find --from 40 --to 40
tells "--wide tries all speeds"
run 4 verdite find 3
run 4 verdite ports --watch --json
mkdir -p "$work/empty"
run 5 env VERDITE_MODELS="$work/empty" verdite find
tells "No model was found in $work/empty"
run 6 verdite find --port other
fresh bracken-clash
run 6 verdite find --from 3 --to 5
says "two units on one address"
tells "Unplug one, give the other"
tells "(C5)"
tells "2 units found"
run 6 verdite diagnose --address 4
tells "Two units share address 4"
run 0 verdite diagnose --address 3
tells "The unit answers."
run 1 verdite link --address 4
says "unusable"
run 0 verdite link --address 3 --count 20
says "asked        20"
says "sound"
run 6 verdite diagnose --address 4 --trace
tells "not a sound frame"
run 0 verdite link --address 3 --count 2 --trace-to link.txt
grep -q 'identification "Quillmere"' link.txt || fail "no talk in the trace of link"
run 0 verdite find --from 3 --to 3 --trace
tells "address 3, read identification"
run 4 verdite link --count 0
run 4 verdite link --count 99999

# ---- what served last is tried first
rm -rf "$work/state"
fresh bracken
run 0 verdite read --address 6 --group relay
run 0 verdite read --group relay
tells "Using address 6 at 9600 8E1, as last time"
says "QD-24006"
printf 'no store, but long enough to be taken for one: %0200d' 7 >"$work/state/store.db"
rm -f "$work/state/store.db-wal" "$work/state/store.db-shm"
run 0 verdite read --group relay
tells "it was set aside"
says "QD-24017"
[ -e "$work/state/store.db.damaged" ] || fail "the damaged file was not kept"
run 0 verdite read --address 6 --group relay
VERDITE_STORE=off run 0 verdite read --group relay
says "QD-24017"
sqlite='import sqlite3, sys; d = sqlite3.connect(sys.argv[1]); d.executescript(sys.argv[2]); d.commit()'
edition=$(python3 -c 'import sqlite3, sys; print(sqlite3.connect(sys.argv[1]).execute("PRAGMA user_version").fetchone()[0])' "$work/state/store.db")
python3 -c "$sqlite" "$work/state/store.db" "PRAGMA user_version = 99"
run 0 verdite read --group relay
tells "A newer Verdite made"
python3 -c "$sqlite" "$work/other.db" "CREATE TABLE mine (x)"
VERDITE_STORE="$work/other.db" run 0 verdite read --group relay
tells "is not a store of Verdite"
VERDITE_STORE="$work" run 0 verdite read --group relay
tells "it is not an ordinary file"
python3 -c "$sqlite" "$work/state/store.db" "PRAGMA user_version = $edition"

# ---- several ports: the one that served is taken, else all are named
sed -i 's/^adapters:/adapters:\n  - {name: spare, label: An adapter with nothing behind it}\n  - {name: shut, label: An adapter that is not yours, forbidden: yes}/' "$work/bracken/bench.yaml"
run 0 verdite read --group relay
tells "Using bracken-usb: a dowel was behind it last time"
rm -rf "$work/state"
run 4 verdite read --group relay
tells "spare, shut (cannot be opened now), bracken-usb"
run 6 verdite find --from 1 --to 5 --quick
says "bracken-usb     address   5"
tells "You are not allowed to open the port shut"
tells "5 units found"
run 0 verdite read --port bracken-usb --address 2 --group relay
sed -i '/name: bracken-usb/d' "$work/bracken/bench.yaml"
run 6 verdite read --group relay
tells "bracken-usb is gone. A dowel was behind it last time."

# ---- quickly, and what was not asked then; one that is silent among others
spent() { awk '$2 == "s" && $1 + 0 > last { last = $1 + 0 } END { print int(last * 1000) }' "$work/err"; } # line time in the trace, ms
fresh bracken
run 0 verdite find --quick --trace
says "address 10"
says "address 247"
tells "Not asked: addresses above 32 where no unit was met before (without --quick)."
[ "$(spent)" -le 6000 ] || fail "find --quick takes $(spent) ms of line time"
run 6 verdite diagnose --model dowel --address 42 --trace
tells "Address 42 is silent, but others answer on this line: 1 to 10 (asked: 1 to 10)."
[[ $err != *"A and B"* ]] || fail "swapped wires, while others answer"
[ "$(spent)" -le 5000 ] || fail "the diagnosis takes $(spent) ms of line time"
run 0 verdite change line.address=200 --model dowel --address 4 --yes
run 0 verdite find --quick
says "address 200"
# who was where nobody answers now is named, and so is one whose change was cut off
for command in "read --address 4 --model dowel" "diagnose --address 4 --model dowel" "verify there.yaml --address 4"; do
    printf 'verdite-profile: 1\nmodel: dowel\nsettings: {unit.light: low}\n' >there.yaml
    # shellcheck disable=SC2086
    run 6 verdite $command
    tells "QD-24004 was last seen here at address 200, 20"
done
python3 -c 'import sqlite3, sys
store = sqlite3.connect(sys.argv[1])
store.execute("UPDATE visit SET open = 1, ended = 0 WHERE new_address = 200")
store.commit()' "$VERDITE_STORE"
run 6 verdite read --address 4 --model dowel
tells "A change of QD-24004 was interrupted here"
tells "It may be at address 4 or 200. To finish it: verdite finish"

# ---- stopped by hand, what was found is kept
fresh bracken
verdite-bench serve "$work/bracken" >"$work/served" &
served=$!
for _ in $(seq 100); do [ -s "$work/served" ] && break; sleep 0.1; done
port=$(awk '{ print $2 }' "$work/served")
unset VERDITE_BENCH
run 8 typing 80 '[1-9] found=>stop now' -- verdite find --port "$port" --baud 9600 --framing 8E1
says "QD-24002"
says "What was found is above"
run 0 verdite read --port "$port" --address 2 --group relay
done_testing
