# SPDX-License-Identifier: MIT
# A unit that talks in commands, behind a pseudo-terminal, and shares no code with the tool: tag.py WORD=VALUE... says what
# it holds. It says where it is plugged in, "plug NAME TERMINAL"; RESET takes its port away, "pull NAME", and brings it
# back under another name. It ends with the program that started it.
import os, pty, select, sys, time, tty

parent, number = os.getppid(), -1
live = stored = dict(word.split("=", 1) for word in sys.argv[1:])
IDENTITY = {"+GMI": "Quillmere", "+GMM": "tag", "+GMR": "1.0", "+GSN": "QP-7"}


def plug():
    global number, mine, yours
    number += 1
    mine, yours = pty.openpty()
    tty.setraw(yours)
    print("plug ttyACM%d %s" % (number, os.ttyname(yours)), flush=True)


def restart():
    global live
    time.sleep(0.1)
    print("pull ttyACM%d" % number, flush=True)
    time.sleep(0.1)
    os.close(yours)
    os.close(mine)
    live = stored
    time.sleep(0.8)
    plug()
    time.sleep(0.3)
    os.write(mine, b"\r\n+READY\r\n")


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
    answer, fine, restarts = "", True, False
    for part in said.split(";"):
        word, asks, value = part[1:].rstrip("?"), part.endswith("?"), part.partition("=")[2]
        if part in IDENTITY:
            answer += "\r\n%s\r\n" % IDENTITY[part]
        elif asks and word in live:
            answer += "\r\n+%s: %s\r\n" % (word, live[word])
        elif value and word.split("=")[0] in live:
            live = dict(live, **{word.split("=")[0]: value})
        elif word == "SAVE":
            stored = live
        elif word == "RESET":
            restarts = True
        else:
            fine = False
    time.sleep(0.1)  # what comes before the request has left is no answer
    os.write(mine, (answer + ("\r\nOK\r\n" if fine else "\r\nERROR\r\n")).encode())
    if restarts:
        restart()
