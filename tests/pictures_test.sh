#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# What a picture of a log shows: values as steps and single ones as points, what lies beyond the axis, states by name, years, a
# lane for each alarm, what stands until it is cleared. Read from the SVG, with a parser of its own.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1
cp -r "$VERDITE_SOURCE/tests/units" models
sed -i 's/label: Lid,/label: "Lid ]]> \&",/' models/churn.yaml
export VERDITE_MODELS="$work/models"
run 0 verdite new churn.yaml churn
run 0 verdite alarm churn.yaml add top above 12 °C for 30 s latches on
run 0 verdite alarm churn.yaml add lid is ajar

# rows COUNT MINUTES [VALUE AT]...: a log of 10 °C and a lid that is shut, ajar, open in turn
rows() {
    python3 - "$@" <<'PY'
import datetime, sys
count, minutes, odd = int(sys.argv[1]), int(sys.argv[2]), dict(zip(map(int, sys.argv[4::2]), sys.argv[3::2]))
at = datetime.datetime(2025, 12, 30)
with open("log.csv", "w") as f:
    f.write("time,top,lid\n")
    for i in range(count):
        lid = ("shut", "ajar", "open")[i * 6 // count % 3]
        f.write(f"{(at + datetime.timedelta(minutes=minutes * i)).isoformat()}Z,{odd.get(i, '10')},{lid}\n")
PY
}

# shown TEXT...: each is in the picture. `points N SYMBOL`: at least so many of these are; `steps`: the line goes across and up.
shown() {
    for text in "$@"; do
        python3 - "$text" <<'PY' || fail "$what: the picture does not show \"$text\""
import sys, xml.etree.ElementTree as tree
texts = ["".join(t.itertext()) for t in tree.parse("log.svg").iter("{http://www.w3.org/2000/svg}text")]
sys.exit(not any(sys.argv[1] in t for t in texts))
PY
    done
    passed=$((passed + $#))
}
points() {
    [ "$(grep -o "xlink:href='#gpPt$2'" log.svg | wc -l)" -ge "$1" ] || fail "$what: fewer than $1 points"
    passed=$((passed + 1))
}
draw() {
    run 0 verdite try churn.yaml --log log.csv --chart log.svg --replace "$@"
}

rows 400 60 95 200 # hourly, values that hold for less, and a slip
draw --holds "5 min"
points 390 6 # filled circles
points 1 8  # a triangle at the upper edge
says "Layers apart not known: no value for its limit of Top"
tells "a value of Top holds for 5 min, but the log has one every 1 h. The time between was not judged."
[ "$(wc -l <"$work/out")" -le 20 ] || fail "what is not known between two rows is told again and again"
shown 95.0 shut ajar open "Watch 1" "Layers apart" "over, not cleared" "Lid ]] >" "was not judged"
rows 600 60 # a month over the turn of the year, nothing but one value
draw
shown 2026 Jan
points 0 6
[ "$(grep -c gpPt6\' log.svg)" -le 2 ] || fail "what is a line is drawn as points"
shown 9.5 10.5
rows 40 1 14 10 14 11 "" 15 14 20 # pending is not known either while nothing is
draw
shown "30 Dec 2025"
rows 400 60 2000000000000 100 -2000000000000 200 # as far out as numbers go
draw
points 1 8
points 1 10
done_testing
