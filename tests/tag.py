# SPDX-License-Identifier: MIT
# A unit that talks in commands, behind a pseudo-terminal, and shares no code with the tool: tag.py [FLAG...] WORD=VALUE...
# says what it holds. It says where it is plugged in, "plug NAME TERMINAL"; RESET takes its port away, "pull NAME", and
# brings it back under another name. It ends with the program that started it. Flags:
#   keeps-port          its port stays while it restarts
#   stores-nothing      SAVE is acknowledged and does nothing
#   pretends[:HOW]      RESET is acknowledged and does nothing but this: "silent" for three seconds, it "says" that it has
#                       started, or its port is "pulled"
#   crossing:LOW,HIGH   refuses what would make the one not smaller than the other, whichever word comes first
#   cuts:WORD,N         takes N characters of that word only
#   serial:TEXT         its serial number
#   sleeps:SECONDS      after a restart it is deaf for so long, until somebody holds its button
#   joins:WORD          JOIN turns that word on
#   restarts-by:WORD    what is written lasts at once, and that word makes it restart
#   dies-by:WORD        once that word is written it is deaf for good
#   runs:HOW            how long it has been running is told in whole "minutes", or always as what is given, in seconds
#   login:WORD          writing takes a login with what that word holds
import os, pty, re, select, sys, time, tty

FLAGS = {"keeps-port", "stores-nothing", "pretends", "crossing", "cuts", "serial", "login", "sleeps", "restarts-by", "joins",
         "dies-by", "runs"}
flags, live = {}, {}
for argument in sys.argv[1:]:
    key, _, value = argument.partition("=")
    name, _, how = argument.partition(":")
    if name in FLAGS:
        flags[name] = how
    else:
        live[key] = value
parent, number, since, stored, inside = os.getppid(), -1, time.monotonic() - 1000, dict(live), False
IDENTITY = {"+GMI": "Quillmere", "+GMM": "tag", "+GMR": "1.0", "+GSN": flags.get("serial", "QP-7")}


def plug():
    global number, mine, yours
    number += 1
    mine, yours = pty.openpty()
    tty.setraw(yours)
    print("plug ttyACM%d %s" % (number, os.ttyname(yours)), flush=True)


def pull():
    time.sleep(0.1)
    print("pull ttyACM%d" % number, flush=True)
    time.sleep(0.1)
    os.close(yours)
    os.close(mine)
    time.sleep(0.8)
    plug()


def deaf(seconds):
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if select.select([mine], [], [], 0.05)[0]:
            os.read(mine, 4096)


def restart():
    global live, since, inside
    if "pretends" in flags:
        if flags["pretends"] == "silent":
            deaf(3)
        elif flags["pretends"] == "says":
            os.write(mine, b"\r\n+READY\r\n")
        else:
            pull()
        return
    live, since, inside = dict(stored), time.monotonic(), False
    if "keeps-port" in flags:
        deaf(1.7)
    else:
        pull()
        time.sleep(0.3)
    since = time.monotonic()
    deaf(float(flags.get("sleeps", 0)))
    os.write(mine, b"\r\n+READY\r\n")


def take(word, value):
    if "login" in flags and not inside:
        return False
    if "cuts" in flags and word == flags["cuts"].split(",")[0]:
        value = '"%s"' % value.strip('"')[: int(flags["cuts"].split(",")[1])]
    after = dict(live, **{word: value})
    if "crossing" in flags:
        low, high = flags["crossing"].split(",")
        if float(after[low]) >= float(after[high]):
            return False
    live[word] = value
    return True


def obey(part):
    """The answer to one part of a line; None: it is refused."""
    global stored, inside
    word, asks = re.match(r"\+?([A-Z]*)", part)[1], part.endswith("?")
    value = part.partition("=")[2]
    if part in IDENTITY:
        return "\r\n%s\r\n" % IDENTITY[part]
    if part == "+UPTIME?":
        runs = time.monotonic() - since
        return "\r\n+UPTIME: %d\r\n" % (runs / 60 if flags.get("runs") == "minutes" else int(flags.get("runs", runs)))
    if word == "LOGIN" and "login" in flags:
        inside = value == live[flags["login"]]
        return "" if inside else None
    if asks and word in live and word != flags.get("login"):
        return "\r\n+%s: %s\r\n" % (word, live[word])
    if "=" in part and word in live:
        return "" if take(word, value) else None
    if word == "JOIN" and "joins" in flags:
        live[flags["joins"]] = "on"
        return ""
    if word == "SAVE":
        stored = stored if "stores-nothing" in flags else dict(live)
        return ""
    return "" if word == "RESET" else None


plug()
line = b""
while os.getppid() == parent:
    if not select.select([mine], [], [], 0.5)[0]:
        continue
    byte = os.read(mine, 1)
    if byte != b"\r":
        line += byte
        continue
    said, line = line.decode()[2:], b""
    if "dies-by" in flags and flags["dies-by"] + "=" in said:
        deaf(600)
    answers = [obey(part) for part in said.split(";")]
    fine = None not in answers
    os.write(mine, ("".join(a for a in answers if a) + ("\r\nOK\r\n" if fine else "\r\nERROR\r\n")).encode())
    if "restarts-by" in flags:
        stored = dict(live)
    if ("RESET" in said or flags.get("restarts-by", "RESET") + "=" in said) and fine:
        restart()
