/* SPDX-License-Identifier: MIT
 * Modbus ASCII: bytes in hexadecimal between a colon and a line end (SL 2.5.2). A second may pass between characters,
 * so silence parts nothing. */
#include "parts.h"

#include "verdite/modbus_ascii.h"
#include "verdite/text.h"

enum { CHECK = 2 }; /* bytes of the check that a frame is kept with */

/* Colon and line end are three, and one byte of check stands for the two of a frame. */
static uint32_t characters(uint32_t bytes)
{
    return 2 * bytes + 1;
}

static uint32_t silence(const vd_serial *line)
{
    (void)line;
    return 0;
}

static void add(uint8_t *room, uint16_t *count, uint8_t byte)
{
    static const char digits[] = "0123456789ABCDEF";
    room[(*count)++] = (uint8_t)digits[byte >> 4];
    room[(*count)++] = (uint8_t)digits[byte & 15u];
}

/* The check makes the sum of all bytes 0 (SL 6.2.1). */
static const uint8_t *put(const vd_modbus_frame *frame, uint8_t *room, uint16_t *count)
{
    uint8_t sum = 0;
    *count = 0;
    room[(*count)++] = ':';
    for (uint16_t i = 0; i + CHECK < frame->length; i++) {
        sum = (uint8_t)(sum + frame->bytes[i]);
        add(room, count, frame->bytes[i]);
    }
    add(room, count, (uint8_t)-sum);
    room[(*count)++] = '\r';
    room[(*count)++] = '\n';
    return room;
}

/* The frame is over: the byte that is held was its check. */
static unsigned end(vd_modbus_ear *ear, uint8_t *bytes)
{
    bool fits = ear->held && !ear->half && !ear->broken && (uint8_t)(ear->sum + ear->last) == 0;
    uint16_t check = fits ? ear->check : (uint16_t)~ear->check;
    ear->inside = false;
    ear->ends = true;
    bytes[0] = (uint8_t)check;
    bytes[1] = (uint8_t)(check >> 8);
    return CHECK;
}

static unsigned take(vd_modbus_ear *ear, uint8_t character, uint8_t *bytes)
{
    int digit = vd_hex_digit((char)character);
    ear->starts = ear->ends = false;
    if (character == ':') { /* whatever came before was no frame */
        *ear = (vd_modbus_ear){.starts = true, .inside = true, .check = VD_MODBUS_CRC_START};
        return 0;
    }
    if (character == '\r' || (character == '\n' && !ear->inside)) {
        return 0;
    }
    if (!ear->inside) { /* noise, or another language */
        bytes[0] = character;
        return 1;
    }
    if (character == '\n') {
        return end(ear, bytes);
    }
    if (digit < 0 || !ear->half) {
        ear->broken = ear->broken || digit < 0;
        ear->half = digit >= 0;
        ear->high = (uint8_t)digit;
        return 0;
    }
    unsigned count = ear->held;
    if (ear->held) { /* more follows, so it is no check */
        bytes[0] = ear->last;
        ear->sum = (uint8_t)(ear->sum + ear->last);
        ear->check = vd_modbus_crc_add(ear->check, ear->last);
    }
    ear->half = false;
    ear->held = true;
    ear->last = (uint8_t)(ear->high << 4 | digit);
    return count;
}

const vd_framing vd_ascii_framing = {.least_data_bits = 7,
                                     .room = 2 * VD_MODBUS_FRAME + 1,
                                     .silence = silence,
                                     .characters = characters,
                                     .put = put,
                                     .take = take};
