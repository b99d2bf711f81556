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
errors = list(jsonschema.Draft7Validator(schema).iter_errors(yaml.safe_load(open(sys.argv[2]))))
for error in errors:
    print(list(error.path), error.message[:200])
sys.exit(1 if errors else 0)
PYTHON
schema=$VERDITE_SOURCE/share/model.schema.json
validate() { python3 validate.py "$schema" "$1"; }

for model in "$VERDITE_SOURCE"/models/*.yaml "$VERDITE_SOURCE"/tests/units/*.yaml; do
    run 0 validate "$model"
    run 0 verdite check "$model"
done
awk '/^```yaml >?>?thatch.yaml/ { on = 1; next } /^```/ { on = 0 } on' "$VERDITE_SOURCE/docs/describe-your-unit.md" |
    sed 's/rolle/role/; s/25 cm/25 mm/' >thatch.yaml
run 0 validate thatch.yaml
run 0 verdite check thatch.yaml

# ---- what Verdite refuses for its form, the schema refuses too
while IFS='|' read -r from to; do
    sed "0,/$from/s//$to/" "$VERDITE_SOURCE/models/wren.yaml" >mistake.yaml
    cmp -s mistake.yaml "$VERDITE_SOURCE/models/wren.yaml" && fail "no \"$from\" to make a mistake in"
    run 1 validate mistake.yaml
    run 1 verdite check mistake.yaml
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
done_testing
