/* SPDX-License-Identifier: MIT
 * What a bench does to a unit's replies when it is told to. */
#include "reply_faults.h"

#include <string.h>

static bool due(uint16_t every, uint64_t number)
{
    return every > 0 && number % every == 0;
}

static size_t sealed(uint8_t *frame, size_t count)
{
    uint16_t crc = vd_modbus_crc(frame, count);
    frame[count] = (uint8_t)crc;
    frame[count + 1] = (uint8_t)(crc >> 8);
    return count + 2;
}

size_t spoil_reply(const vd_bench_faults *faults, uint64_t number, const uint8_t *reply, size_t count, uint8_t *to)
{
    memcpy(to, reply, count);
    if (due(faults->mute_every, number)) {
        return 0;
    }
    if (faults->exception != 0) {
        to[1] |= 0x80u;
        to[2] = faults->exception;
        count = sealed(to, 3);
    }
    if (due(faults->function_every, number)) {
        to[1] = to[1] == VD_MODBUS_READ_HOLDING ? VD_MODBUS_READ_INPUT : VD_MODBUS_READ_HOLDING;
        to[2] = (uint8_t)(count - 5);
        count = sealed(to, count - 2);
    }
    if (due(faults->address_every, number)) {
        to[0]++;
        count = sealed(to, count - 2);
    }
    if (due(faults->extend_every, number) && count + 2 <= VD_MODBUS_FRAME) {
        to[2] = (uint8_t)(to[2] + 2);
        to[count - 2] = to[count - 1] = 0;
        count = sealed(to, count);
    }
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
