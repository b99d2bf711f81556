# SPDX-License-Identifier: MIT
"""Alarms over the telephone: settings at random, read aloud by the tool, taken down here from the sentence alone, and
compared with what was set. Shares nothing with what makes the sentences."""
import json
import random
import re
import subprocess
import sys

random.seed(int(sys.argv[1]) if len(sys.argv) > 1 else 1)
PEOPLE = ["first", "second", "third", "fourth", "fifth"]


def verdite(*words):
    return subprocess.run(["verdite", *words], check=True, capture_output=True, text=True).stdout


def number(low, high, step, unit):
    value = low + step * random.randrange(int(round((high - low) / step)) + 1)
    return f"{value:.1f} {unit}" if step < 1 else f"{value:.0f} {unit}"


def some(names, least=0):
    return ", ".join(n for n in names if random.random() < 0.5) or (names[0] if least else "none")


def quantity(text):
    match = re.fullmatch(r"(-?[\d.]+) ?(\S*)", text)
    return (float(match[1]), match[2]) if match else text


def seconds(text):
    units = {"ms": 0.001, "s": 1, "min": 60, "h": 3600, "d": 86400}
    parts = re.findall(r"(\d+) (ms|s|min|h|d)", text)
    return sum(int(n) * units[u] for n, u in parts)


def sentence_of(says):
    """The parts that every sentence has, whatever the unit."""
    heard = re.fullmatch(
        r"sounds when (?P<when>.+?)(?: for (?P<delay>[\d][^,.]*?))?(?:, but only while (?P<only>.+?))?\. "
        r"It ends once (?P<over>.+?)(?:, or the condition is lost)?\."
        r"(?: It stays on until the (?P<cleared>[a-z ,]+) clears it\.)?"
        r"(?: Nothing begins within (?P<hush>.+?) of a start\.)?"
        r"(?: It (?P<does>.+))?", says)
    assert heard, says
    return heard


def brock():
    chosen = {}
    for i in range(1, 5):
        source = random.choice(["speed", "voltage", "moved", f"input-{random.randint(1, 4)}", "none"])
        limit = {"speed": number(1, 160, 1, "km/h"), "voltage": number(9, 30, 0.1, "V"), "moved": number(1, 900, 1, "m")}
        chosen[f"alarm.{i}.source"] = source
        if source in limit:
            chosen[f"alarm.{i}.limit"] = limit[source]
        chosen[f"alarm.{i}.delay"] = f"{random.choice([0, 1, 30, 90, 3600])} s"
        chosen[f"alarm.{i}.does"] = some(["report", "message", "call", "output-1", "output-2"], 1)
        chosen[f"alarm.{i}.tells"] = some(PEOPLE, 1)
        chosen[f"alarm.{i}.text"] = random.choice(["", "HELP", "COME AND SEE"])
    chosen["person.1.name"], chosen["person.2.phone"] = "Ann", "+447700900123"

    def heard(alarm):
        i, said = alarm["number"], sentence_of(alarm["says"])
        found = {f"alarm.{i}.delay": said["delay"] or "0 s"}
        for pattern, source in [(r"the trailer is faster than (.*)", "speed"), (r"the supply is below (.*)", "voltage"),
                                (r"the way since it was parked is longer than (.*)", "moved")]:
            match = re.fullmatch(pattern, said["when"])
            if match:
                found[f"alarm.{i}.source"], found[f"alarm.{i}.limit"] = source, match[1]
        match = re.fullmatch(r"Input (\d) is on", said["when"])
        if match:
            found[f"alarm.{i}.source"] = f"input-{match[1]}"
        does = said["does"].rstrip(".")
        text = re.fullmatch(r'(.*), with the text "(.*)"', does)
        if text:
            does, found[f"alarm.{i}.text"] = text[1], text[2]
        words = {"report": "reports at once", "message": "sends a text message", "call": "calls ", "output-1": "output 1",
                 "output-2": "output 2"}
        found[f"alarm.{i}.does"] = ", ".join(k for k, w in words.items() if w in does)
        called = {"first": "Ann", "second": "+447700900123", "third": "Person 3", "fourth": "Person 4", "fifth": "Person 5"}
        if "message" in does or "calls" in does:
            found[f"alarm.{i}.tells"] = ", ".join(k for k, w in called.items() if w in does)
        return found
    return chosen, heard


def dowel():
    chosen = {"unit.start-delay": f"{random.choice([0, 30, 600])} s", "relay.follows": random.choice(["nothing", "weight", "temperature", "either"])}
    for name, unit, low in (("weight", "kg", 10), ("temperature", "°C", 20)):
        chosen |= {f"{name}.low-limit": number(low, low + 9, 0.1, unit), f"{name}.high-limit": number(low + 20, low + 40, 0.1, unit),
                   f"{name}.hysteresis": number(0, 3, 0.1, unit), f"{name}.alarm": random.choice(["none", "low", "high", "both"]),
                   f"{name}.alarm-delay": f"{random.choice([0, 10, 600])} s", f"{name}.latching": random.choice(["on", "off"])}
    sides = {}

    def heard(alarm):
        said = sentence_of(alarm["says"])
        match = re.fullmatch(r"the (hive|brood) is (lighter|heavier|colder|warmer) than (.*)", said["when"])
        name = {"hive": "weight", "brood": "temperature"}[match[1]]
        side = "low" if match[2] in ("lighter", "colder") else "high"
        over = re.fullmatch(r"the \w+ is at (.*) or \w+", said["over"])[1]
        sides.setdefault(name, set()).add(side)
        release = abs(quantity(over)[0] - quantity(match[3])[0])
        relay = "relay" in said["does"]
        follows = {x for x, k in (("weight", "weight"), ("temperature", "temperature")) if k == name and relay}
        return {f"{name}.{side}-limit": match[3], f"{name}.hysteresis": f"{release:.1f} {quantity(over)[1]}",
                f"{name}.alarm": "both" if len(sides[name]) == 2 else side, f"{name}.alarm-delay": said["delay"] or "0 s",
                f"{name}.latching": "on" if said["cleared"] else "off", "unit.start-delay": said["hush"] or "0 s",
                "relay.follows": (lambda now: now in ("either", name) if relay else now not in ("either", name)) if name else follows}
    return chosen, heard


def skep():
    chosen = {"weight.low-limit": number(10, 30, 0.1, "kg"), "weight.high-limit": number(40, 90, 0.1, "kg"),
              "brood.low-limit": number(20, 34, 0.1, "°C"), "brood.high-limit": number(35, 50, 0.1, "°C")}

    def heard(alarm):
        said = sentence_of(alarm["says"])
        match = re.fullmatch(r"the (hive|brood) is outside (.*) to (.*)", said["when"])
        if not match:
            return {"sound.threshold": re.fullmatch(r"the hive is louder than (.*)", said["when"])[1]}
        name = {"hive": "weight", "brood": "brood"}[match[1]]
        return {f"{name}.low-limit": match[2], f"{name}.high-limit": match[3]}
    return chosen, heard


def wren():
    chosen = {"inside.alarm": random.choice(["none", "low", "high", "both"]), "inside.low-limit": number(-20, 10, 0.1, "°C"),
              "inside.high-limit": number(20, 60, 0.1, "°C"), "inside.alarm-delay": f"{random.choice([0, 5, 90])} min",
              "unit.beeper": random.choice(["on", "off"])}
    sides = set()

    def heard(alarm):
        said = sentence_of(alarm["says"])
        match = re.fullmatch(r"it is (colder|warmer) inside than (.*)", said["when"])
        side = "low" if match[1] == "colder" else "high"
        sides.add(side)
        return {"inside.alarm": "both" if len(sides) == 2 else side, f"inside.{side}-limit": match[2],
                "inside.alarm-delay": said["delay"] or "0 s", "unit.beeper": "on" if "beeps" in said["does"] else "off"}
    return chosen, heard


def lantern():
    chosen = {}
    for i in range(1, 5):
        watched, other = random.sample(["channel-1", "channel-2", "channel-3", "channel-4"], 2)
        chosen |= {f"alarm.{i}.watches": random.choice([watched, watched, "nothing"]),
                   f"alarm.{i}.only-while": random.choice([other, "nothing"]), f"alarm.{i}.delay": f"{random.choice([0, 1, 60])} s",
                   f"alarm.{i}.lamps": some([f"lamp-{k}" for k in range(1, 5)]), f"alarm.{i}.latching": random.choice(["on", "off"])}

    def heard(alarm):
        i, said = alarm["number"], sentence_of(alarm["says"])
        channel = re.compile(r"Channel (\d) is on")
        only = channel.fullmatch(said["only"]) if said["only"] else None
        return {f"alarm.{i}.watches": f"channel-{channel.fullmatch(said['when'])[1]}",
                f"alarm.{i}.only-while": f"channel-{only[1]}" if only else "nothing", f"alarm.{i}.delay": said["delay"] or "0 s",
                f"alarm.{i}.lamps": ", ".join(f"lamp-{k}" for k in re.findall(r"lights lamp (\d)", said["does"])) or "none",
                f"alarm.{i}.latching": "on" if said["cleared"] else "off"}
    return chosen, heard


cases = 0
for model, build in (("brock", brock), ("dowel", dowel), ("skep", skep), ("wren", wren), ("lantern", lantern)):
    for case in range(4):
        chosen, heard = build()
        name = f"telephone-{model}-{case}.yaml"
        verdite("new", name, model, *(["--variant", "sound"] if model == "skep" else []))
        verdite("set", name, *[f"{k}={v}" for k, v in chosen.items()])
        last = {}
        for alarm in json.loads(verdite("alarms", name, "--json"))["alarms"]:
            if alarm["used"] == "yes":
                last |= heard(alarm)
                cases += 1
        for key, value in last.items():
            if key not in chosen:
                continue
            meant = chosen[key]
            if callable(value):
                same = value(meant)
            elif key.endswith(("delay", "start-delay")):
                same = seconds(value) == seconds(meant)
            else:
                same = quantity(value) == quantity(meant)
            if not same:
                sys.exit(f"{model}: {key} is {meant}, but was heard as {value}: {chosen}")
print(f"{cases} cases, each heard as it was said")
