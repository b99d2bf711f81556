# SPDX-License-Identifier: MIT
"""Holds what --json printed against its schema: contract.py SCHEMA FILE... Each file holds one result, or a line each."""
import json
import sys

import jsonschema

schema = json.load(open(sys.argv[1]))
jsonschema.Draft7Validator.check_schema(schema)


def judge(result, where):
    kind = next((k for k in schema["oneOf"] if result.get("command") in k["properties"].get("command", {}).get("enum", [])
                 or ("command" not in result and "command" not in k["properties"] and set(result) <= set(k["properties"]))), None)
    if kind is None:
        sys.exit(f"{where}: no such result: {str(result)[:200]}")
    for error in jsonschema.Draft7Validator({**kind, "definitions": schema["definitions"]}).iter_errors(result):
        sys.exit(f"{where}: {result.get('command')}: {list(error.path)}: {error.message[:300]}")


for path in sys.argv[2:]:
    text = open(path, encoding="utf-8").read().strip()
    lines = text.split("\n") if text.startswith("{") and text.split("\n")[0].endswith("}") else [text]
    for line in lines:
        if line:
            judge(json.loads(line), path)
