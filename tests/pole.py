# SPDX-License-Identifier: MIT
# A pole that tells how high the water stands, in Modbus ASCII behind a pseudo-terminal; it shares no code with the tool.
# pole.py HOW says where it is plugged in and ends with the program that started it. HOW: "fine"; "pauses" 0.9 s inside
# each reply; "noisy" before one; writes in "small" letters; "lies": it says yes to a write and keeps what it had;
# it leaves out the last "line" feed; it "leaves" at the first character.
import os, pty, select, sys, time, tty

how, parent = sys.argv[1], os.getppid()
words = b"pole".ljust(8, b"\0") + b"Quillmere".ljust(12, b"\0")
held = {30: 450, 31: 20, **{100 + i: words[2 * i] << 8 | words[2 * i + 1] for i in range(len(words) // 2)}}
mine, yours = pty.openpty()
tty.setraw(yours)
print(os.ttyname(yours), flush=True)


def answer(frame):
    if len(frame) < 6:
        return bytes([frame[0], frame[1] | 0x80, 1])
    code, at, count = frame[1], frame[2] << 8 | frame[3], frame[4] << 8 | frame[5]
    if code == 3:
        if not all(at + i in held for i in range(count)):
            return bytes([frame[0], 0x83, 2])
        return bytes([frame[0], 3, 2 * count]) + b"".join(held[at + i].to_bytes(2, "big") for i in range(count))
    if code not in (6, 16):
        return bytes([frame[0], code | 0x80, 1])
    values = [count] if code == 6 else [frame[7 + 2 * i] << 8 | frame[8 + 2 * i] for i in range(count)]
    if how != "lies":
        held.update((at + i, value) for i, value in enumerate(values))
    return frame[:6]


def say(frame):
    sum_of_all = -sum(frame) & 255
    text = (frame + bytes([sum_of_all])).hex()
    text = ":" + (text if how == "small" else text.upper()) + ("\r" if how == "line" else "\r\n")
    text = "\x7f3:07" + text if how == "noisy" else text
    if how == "pauses":
        os.write(mine, text[:2].encode())
        time.sleep(0.9)
        text = text[2:]
    os.write(mine, text.encode())


heard = ""
while os.getppid() == parent:
    if select.select([mine], [], [], 0.5)[0]:
        if how == "leaves":
            sys.exit()
        for character in os.read(mine, 512).decode("latin-1"):
            heard = "" if character == ":" else heard + character
            if heard.endswith("\r\n"):
                try:
                    frame = bytes.fromhex(heard)
                except ValueError:
                    continue
                if frame[:1] == b"\7" and sum(frame) & 255 == 0:
                    time.sleep(0.008)
                    say(answer(frame[:-1]))
