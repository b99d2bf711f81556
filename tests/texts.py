# SPDX-License-Identifier: MIT
"""Holds every text that a person reads to what can be held: sentences of at most twenty words, no banished phrase.
texts.py ROOT HELP.json... Names each text that breaks it, and ends with their number."""
import glob
import json
import re
import sys

import yaml

MOST_WORDS = 20
BANISHED = """hangs on|hang on|hung on|is known of|comes near|come near|befall|befalls|whoever|by way of
is to be told|is to be changed|is to be followed|take it out|takes it for|taking it for|which was met last|was met last|is as it was
are as they were|so far:|, then:|stands here|stand here|in the manner of|likewise|goes by|says otherwise|say otherwise|otherwise than
said yes|says yes to|nothing is known|not a byte came|somebody answers|who is meant|none that it takes|none of the|is none|what is wished
as was wished|left out, since|left alone, since|anew|meanwhile|mend the|is no command|is no address|is no list|there is no command|there is no setting
makes sure of|make sure of|belongs here a|lies between|at no time|thereby|thereof|whereof|hence|albeit|lest|upon|the one or|which it is in|counts for nothing
moved though|absent or idle|comes from the factory and|puts back what was|puts both back what|in the meanwhile|would be heard|still stays until""".replace("\n", "|").split("|")


def sentences(text):
    text = re.sub(r'"[^"]*"|`[^`]*`', "X", text)  # what is quoted is one thing
    return [s for s in re.split(r"(?<=[.!?])\s+|\n", text) if s.strip()]


def words_of(sentence):
    return [w for w in re.split(r"\s+", sentence) if re.search(r"[A-Za-z0-9%{]", w)]


def literals(path):
    text = re.sub(r'"\s*\\?\n\s*"', "", open(path, encoding="utf-8").read())
    text = re.sub(r'" (PRI\w+|G_G\w+) "', "d", re.sub(r"/\*.*?\*/", "", text, flags=re.S))
    for match in re.finditer(r'"((?:[^"\\\n]|\\.)*)"', text):
        yield match[1].replace('\\"', '"').replace("\\n", "\n")


def prose(path):
    """What a Markdown file says outside of code, tables and headings."""
    text = re.sub(r"```.*?```", "", open(path, encoding="utf-8").read(), flags=re.S)
    lines = [line for line in text.split("\n") if not re.match(r"    |\||#|Words: |!\[", line)]
    for block in re.split(r"\n\s*\n", "\n".join(lines)):
        block = re.sub(r"!?\[([^\]]*)\]\([^)]*\)", r"\1", block.replace("\n", " "))
        yield re.sub(r"[*]", "", block)


def of_model(node):
    if isinstance(node, dict):
        for key, value in node.items():
            if key in ("help", "because", "summary", "must-say", "text", "says", "idle", "why") and isinstance(value, str):
                yield value
            else:
                yield from of_model(value)
    elif isinstance(node, list):
        for value in node:
            yield from of_model(value)


root, texts = sys.argv[1], []
for path in glob.glob(f"{root}/include/verdite/*fault*.h"):
    texts += [(path, t) for t in literals(path)]
for path in glob.glob(f"{root}/src/**/*.c", recursive=True):
    if not path.endswith(("sentence.c", "phrases.c", "tables.c", "head.c", "store/history.c", "alarm_changes.c", "charts/panel.c")):
        texts += [(path, t) for t in literals(path) if re.search(r"[a-z]{2} [a-z]{2}", t) and not re.search(r"\b(SELECT|INSERT|UPDATE|CREATE|DELETE)\b", t)]
for path in [p for name in ("README.md", "docs/tour.md", "docs/json.md", "docs/profile.md", "docs/diagnoses.md", "docs/describe-your-unit.md", "docs/programs.md", "docs/values.md", "docs/rules.md", "docs/trust.md", "docs/alarms.md", "docs/intervals.md", "docs/bench.md", "docs/model.md", "docs/tasks/*.md") for p in glob.glob(f"{root}/{name}")]:
    texts += [(path, t) for t in prose(path)]
for path in sys.argv[2:]:
    for command in json.load(open(path))["commands"]:
        texts += [(command["name"], t) for t in (command["summary"], command["help"], *(o["help"] for o in command["options"]))]
for path in glob.glob(f"{root}/models/*.yaml"):
    texts += [(path, t) for t in of_model(yaml.load(open(path, encoding="utf-8"), Loader=yaml.CSafeLoader))]

wrong = set()
for where, text in texts:
    for sentence in sentences(text):
        if len(words_of(sentence)) > MOST_WORDS:
            wrong.add(f"{where}: {len(words_of(sentence))} words: {sentence.strip()}")
    low = f" {text.lower()} "
    for phrase in BANISHED:
        if re.search(r"(?<![a-z])" + re.escape(phrase.strip()) + r"(?![a-z])", low):
            wrong.add(f'{where}: "{phrase.strip()}": {text.strip()[:160]}')
print(*sorted(wrong), sep="\n")
print(f"{len(texts)} texts, {len(BANISHED)} banished phrases, {len(wrong)} wrong")
sys.exit(bool(wrong))
