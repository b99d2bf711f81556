/* SPDX-License-Identifier: MIT
 * What a bench does to a unit's replies when it is told to. */
#include "reply_faults.h"

#include <string.h>

static bool due(uint16_t every, uint64_t number)
{
    return every > 0 && number % every == 0;
}

static void seal(vd_modbus_frame *frame, size_t count)
{
    uint16_t crc = vd_modbus_crc(frame->bytes, count);
    frame->bytes[count] = (uint8_t)crc;
    frame->bytes[count + 1] = (uint8_t)(crc >> 8);
    frame->length = (uint16_t)(count + 2);
}

/* What is wrong with the reply, and has a sound check. */
static void spoil_frame(const vd_bench_faults *faults, uint64_t number, vd_modbus_frame *frame)
{
    uint8_t *to = frame->bytes;
    if (faults->exception != 0) {
        to[1] |= 0x80u;
        to[2] = faults->exception;
        seal(frame, 3);
    }
    if (due(faults->function_every, number)) {
        to[1] = to[1] == VD_MODBUS_READ_HOLDING ? VD_MODBUS_READ_INPUT : VD_MODBUS_READ_HOLDING;
        to[2] = (uint8_t)(frame->length - 5);
        seal(frame, frame->length - 2u);
    }
    if (due(faults->address_every, number)) {
        to[0]++;
        seal(frame, frame->length - 2u);
    }
    if (due(faults->extend_every, number) && frame->length + 2u <= VD_MODBUS_FRAME) {
        to[2] = (uint8_t)(to[2] + 2);
        to[frame->length - 2] = to[frame->length - 1] = 0;
        seal(frame, frame->length);
    }
}

size_t spoil_reply(const vd_framing *framing, const vd_bench_faults *faults, uint64_t number, const uint8_t *reply,
                   size_t count, uint8_t *to)
{
    vd_modbus_frame frame;
    uint8_t room[2 * VD_MODBUS_FRAME + 1];
    uint16_t length = 0;
    bool ends = false;
    frame.length = vd_framing_open(framing, reply, count, frame.bytes, &ends);
    if (due(faults->mute_every, number)) {
        return 0;
    }
    spoil_frame(faults, number, &frame);
    const uint8_t *characters = framing->put(&frame, room, &length);
    memcpy(to, characters, length);
    count = length;
    if (due(faults->damage_every, number)) {
        to[count / 2] ^= 0x10u;
    }
    if (due(faults->cut_every, number)) {
        count = (count + 1) / 2;
    }
    if (due(faults->stray_every, number)) {
        memmove(to + 1, to, count);
        to[0] = 0;
        count++;
    }
    return count;
}

/* Behind which byte the first line ends that is not empty. */
static size_t first_line(const uint8_t *reply, size_t count)
{
    size_t at = 0;
    while (at < count && (reply[at] == '\r' || reply[at] == '\n')) {
        at++;
    }
    while (at < count && reply[at] != '\n') {
        at++;
    }
    return at + (at < count);
}

size_t spoil_lines(const vd_bench_faults *faults, uint64_t number, const uint8_t *reply, size_t count, uint8_t *to)
{
    static const char stray[] = "\r\n+EVENT: 7,\"lid\"\r\n$PQLX,S,1,2*22\r\n";
    memcpy(to, reply, count);
    if (due(faults->mute_every, number)) {
        return 0;
    }
    if (due(faults->damage_every, number)) {
        to[count / 2] ^= 0x10u;
    }
    if (due(faults->cut_every, number)) {
        count = (count + 1) / 2;
    }
    if (due(faults->stray_every, number)) { /* in the middle of an answer of several lines */
        size_t at = first_line(to, count);
        memmove(to + at + sizeof stray - 1, to + at, count - at);
        memcpy(to + at, stray, sizeof stray - 1);
        count += sizeof stray - 1;
    }
    return count;
}
