# SPDX-License-Identifier: MIT
"""A person and a scanner at a terminal: keys.py COLUMNS STEP... -- COMMAND... runs a command on one. A STEP is
"PATTERN=>type TEXT" (keys one by one, as a person), "PATTERN=>scan TEXT" (all at once) or "PATTERN=>stop now" (Ctrl-C) or "PATTERN=>end now" (Ctrl-D), done
when the pattern has come up since the step before. Prints all that came (without colours, but for AS_SHOWN=1), ends with the exit status of the command."""
import fcntl
import os
import pty
import re
import select
import struct
import sys
import termios
import time

at = sys.argv.index("--")
steps = [step.split("=>", 1) for step in sys.argv[2:at]]
child, terminal = pty.fork()
if child == 0:
    os.execvp(sys.argv[at + 1], sys.argv[at + 1:])
fcntl.ioctl(terminal, termios.TIOCSWINSZ, struct.pack("HHHH", 50, int(sys.argv[1]), 0, 0))
data, seen = b"", 0
while select.select([terminal], [], [], float(os.environ.get("PATIENCE", "30")))[0]:
    try:
        more = os.read(terminal, 65536)
    except OSError:
        break
    if not more:
        break
    data += more
    while steps and re.search(steps[0][0].encode(), data[seen:]):
        how, text = steps.pop(0)[1].split(" ", 1)
        seen = len(data)
        time.sleep(0.1)
        if how == "scan":
            os.write(terminal, text.encode() + b"\r")
        if how == "stop":
            os.write(terminal, b"\x03")
        if how == "end":
            os.write(terminal, b"\x04")
        for key in (text + "\r" if how == "type" else ""):
            os.write(terminal, key.encode())
            time.sleep(0.045)
        time.sleep(0.1)
else:  # it waits for what no step gives
    os.kill(child, 9)
status = os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])
if os.environ.get("AS_SHOWN"):  # for a picture
    os.write(1, data)
    sys.exit(status)
sys.stdout.write(re.sub(r"\x1b\[[0-9;]*[A-Za-z]", "", data.decode("utf-8", "replace")).replace("\r", ""))
sys.exit(status if not steps and status >= 0 else 99)
