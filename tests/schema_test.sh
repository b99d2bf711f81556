#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# The JSON Schema of model files against a validator that others wrote: it takes the models that ship and the one of the
# tutorial, refuses the mistakes that Verdite refuses, and knows the keys that the documents list, no more and no less.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1
cat >validate.py <<'PYTHON'
import json, sys, yaml, jsonschema
schema = json.load(open(sys.argv[1]))
jsonschema.Draft7Validator.check_schema(schema)
refused = 0
for path in sys.argv[2:]:
    errors = list(jsonschema.Draft7Validator(schema).iter_errors(yaml.load(open(path), Loader=yaml.CSafeLoader)))
    print(path, "refused" if errors else "sound", *(f"{list(error.path)} {error.message[:200]}" for error in errors))
    refused += bool(errors)
sys.exit(1 if refused else 0)
PYTHON
schema=$VERDITE_SOURCE/share/model.schema.json
validate() { python3 validate.py "$schema" "$@"; }

for model in "$VERDITE_SOURCE"/models/*.yaml "$VERDITE_SOURCE"/tests/units/*.yaml; do
    run 0 verdite check "$model"
done
awk '/^```yaml >?>?thatch.yaml/ { on = 1; next } /^```/ { on = 0 } on' "$VERDITE_SOURCE/docs/describe-your-unit.md" |
    sed 's/rolle/role/; s/25 cm/25 mm/' >thatch.yaml
run 0 validate thatch.yaml "$VERDITE_SOURCE"/models/*.yaml "$VERDITE_SOURCE"/tests/units/*.yaml
run 0 verdite check thatch.yaml

# ---- what Verdite refuses for its form, the schema refuses too
mistakes=0
while IFS='|' read -r from to; do
    mistakes=$((mistakes + 1))
    sed "0,/$from/s//$to/" "$VERDITE_SOURCE/models/wren.yaml" >mistake-$mistakes.yaml
    cmp -s mistake-$mistakes.yaml "$VERDITE_SOURCE/models/wren.yaml" && fail "no \"$from\" to make a mistake in"
    run 1 verdite check mistake-$mistakes.yaml
done <<'MISTAKES'
verdite-model: 1|verdite-model: 9
baud: 19200|baud: 20
framing: 8N1|framing: 9N1
factory: 1|factory: 300
by: registers|by: guess
title: Wren|titel: Wren
type: truth|type: boolean
key: unit.name|key: Unit Name
length: 16|length: 1000
bits: 2|bits: 16
at: {coil: 0}|at: {coil: 0, register: 5}
access: write-only|access: none
repeat: 4|repeat: 5000
stride: 20|strde: 20
enforced: writing|enforced: maybe
severity: warning|severity: awful
does: restart|does: reboot
essential: yes|essential: very
mask-write: yes|mask-wirte: yes
read-registers: 16|read-registers: 126
because: Markers came with firmware 2.0.|help: twice
who: the dispatcher|whom: the dispatcher
words: \[battery\]|words: [two words]
MISTAKES
run 1 validate mistake-*.yaml
[ "$(grep -c "yaml refused" <<<"$out")" -eq "$mistakes" ] || fail "the schema takes a mistake"

# ---- schema and documents list the same keys, and the same types
cat >keys.py <<'PYTHON'
import json, re, sys
schema, folder = json.load(open(sys.argv[1])), sys.argv[2]
def listed(name, heading):
    text = open(f"{folder}/{name}.md").read().split("\n" + heading + "\n")[1].split("\n#")[0]
    keys = set()
    for row in re.findall(r"^\| (`[^|]*) \|", text, re.M):
        keys |= set(re.findall(r"`([^`]*)`", row))
    return keys
def listed_at(number):
    table = re.split(r"^\| key \| meaning \|$", open(f"{folder}/alarms.md").read(), flags=re.M)[number + 1].split("\n\n")[0]
    return {key for row in re.findall(r"^\| (`[^|]*) \|", table, re.M) for key in re.findall(r"`([^`]*)`", row)}
setting, block = schema["definitions"]["setting"], schema["definitions"]["block"]
speaks = schema["properties"]["speaks"]["properties"]
rule = schema["properties"]["rules"]["items"]
pairs = [(listed("model", "### speaks") - set(speaks["manner"]["enum"]), set(speaks) - {"manner"}),
         (listed("model", "### login"), set(schema["properties"]["login"]["properties"])),
         (listed("model", "### listening"), set(schema["properties"]["listening"]["properties"])),
         (listed("model", "## At the top"), set(schema["properties"])),
         (listed("model", "## A setting"), set(setting["properties"])),
         (listed("values", "## Types"), set(setting["properties"]["type"]["enum"])),
         (listed("model", "### times"), set(schema["properties"]["times"]["properties"])),
         (listed("model", "## A block"), set(block["properties"])),
         (listed("model", "### slots"), set(schema["properties"]["slots"]["properties"])),
         (listed("model", "### causes"), set(schema["definitions"]["cause"]["oneOf"][1]["properties"]["what"]["enum"])),
         (listed("rules", "## A rule"), set(rule["properties"])),
         (listed("intervals", "## In a model file") - {"for", "with", "speed", "turns", "angle", "quantities", "happens", "rests", "per", "bytes", "charge", "reading", "as"},
          set(schema["definitions"]["interval"]["properties"]) - {"happens"}),
         (listed_at(0), set(schema["properties"]["channels"]["items"]["properties"])),
         (listed_at(1), set(schema["definitions"]["condition"]["properties"])),
         (listed_at(2), set(schema["definitions"]["test"]["properties"])),
         (listed_at(3), set(schema["properties"]["alarms"]["items"]["properties"]))]
for in_document, in_schema in pairs:
    if in_document != in_schema:
        sys.exit(f"only one of document and schema has {sorted(in_document ^ in_schema)}")
PYTHON
run 0 python3 keys.py "$schema" "$VERDITE_SOURCE/docs"

# ---- and the same languages as Verdite itself has
languages=$(python3 -c 'import json, sys
print(", ".join(json.load(open(sys.argv[1]))["properties"]["speaks"]["properties"]["manner"]["enum"]))' "$schema")
tag_head | sed 's/manner: commands/manner: guess/' >guess.yaml
run 1 verdite check guess.yaml
tells "Give one of $languages."
# ---- the contract of --json: what is not in it is noticed, and its document names what it holds
results=$VERDITE_SOURCE/share/result.schema.json
contract() { python3 "$VERDITE_SOURCE/tests/contract.py" "$results" "$1"; }
verdite history --json >fine.json 2>/dev/null
run 0 contract fine.json
while IFS='|' read -r result said; do
    printf '%s\n' "$result" >wrong.json
    run 1 contract wrong.json
    tells "$said"
done <<'TABLE'
{"command": "history", "exit": 0, "visits": [], "more": 1}|'more' was unexpected
{"command": "find", "exit": 9}|9 is greater than the maximum of 8
{"command": "write", "exit": 0, "outcome": "fine"}|'fine' is not one of
{"command": "link", "exit": 0, "faults": [{"fault": "no-reply", "words": "-", "code": "Z1"}]}|does not match
{"command": "loook", "exit": 0}|no such result
{"exit": 4, "faults": [], "settings": []}|no such result
TABLE
python3 - "$results" "$VERDITE_SOURCE/docs/json.md" <<'PY' || fail "docs/json.md leaves keys, outcomes or verdicts out"
import json, sys
schema, text = json.load(open(sys.argv[1])), open(sys.argv[2]).read()
words = schema["definitions"]["outcome"]["enum"] + schema["definitions"]["verdict"]["enum"]
own = {"alarm", "alarms", "rows", "rows-left-out", "rows-replaced", "newest-first", "limits", "same", "free", "saved", "rules", "version", "adapters", "told"}
words += [key for kind in schema["oneOf"] for key in kind["properties"] if "command" in kind["properties"] and key not in own]
missing = sorted({w for w in words if f"`{w}`" not in text})
sys.exit(f"missing: {missing}" if missing else 0)
PY
done_testing
