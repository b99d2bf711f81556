# SPDX-License-Identifier: MIT
"""A terminal: terminal.py COLUMNS ROWS ANSWERS COMMAND... runs a command on one, answers its questions in turn, and prints
what stands on it at the end. ANSWERS: words with commas between; resizeN is y, behind a change to N columns."""
import fcntl
import os
import pty
import re
import select
import struct
import sys
import termios
import unicodedata

columns, rows = int(sys.argv[1]), int(sys.argv[2])
answers = sys.argv[3].split(",") if sys.argv[3] else []
child, terminal = pty.fork()
if child == 0:
    fcntl.ioctl(0, termios.TIOCSWINSZ, struct.pack("HHHH", rows, columns, 0, 0))
    os.execvp(sys.argv[4], sys.argv[4:])


def resize(to):
    fcntl.ioctl(terminal, termios.TIOCSWINSZ, struct.pack("HHHH", rows, to, 0, 0))


data = b""
resize(columns)
while select.select([terminal], [], [], 30)[0]:
    try:
        more = os.read(terminal, 65536)
    except OSError:
        break
    if not more:
        break
    data += more
    if answers and re.search(rb"y/N\](\x1b\[0m)? $", data):
        answer = answers.pop(0)
        if answer.startswith("resize"):
            resize(int(answer[6:]))
            answer = "y"
        os.write(terminal, answer.encode() + b"\n")
status = os.WEXITSTATUS(os.waitpid(child, 0)[1])
text, screen, x, y = data.decode("utf-8"), [[]], 0, 0


def width(character):
    if unicodedata.combining(character) or unicodedata.category(character) == "Cf":
        return 0
    return 2 if unicodedata.east_asian_width(character) in "WF" else 1


while text:
    move = re.match(r"\x1b\[(\d*)([ABJKm])", text)
    character = text[0]
    text = text[move.end() if move else 1:]
    if move:
        by = int(move[1] or 1)
        y = max(0, y - by) if move[2] == "A" else min(len(screen) - 1, y + by) if move[2] == "B" else y
        if move[2] in "JK":
            del screen[y][x:]
        if move[2] == "J":
            del screen[y + 1:]
    elif character == "\r":
        x = 0
    else:
        if character == "\n" or x + width(character) > columns:
            y, x = y + 1, x if character == "\n" else 0
        while len(screen) <= y:
            screen.append([])
        if character != "\n" and width(character):
            screen[y] += [" "] * (x - len(screen[y]))
            screen[y][x:x + width(character)] = [character] + [""] * (width(character) - 1)
            x += width(character)
print("\n".join("".join(line).rstrip() for line in screen))
sys.exit(status)
