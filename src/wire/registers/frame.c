/* SPDX-License-Identifier: MIT
 * Modbus frames: building requests, knowing where a reply ends, judging it. */
#include "parts.h"

#include <string.h>

uint16_t vd_modbus_crc_add(uint16_t crc, uint8_t byte)
{
    crc ^= byte;
    for (int bit = 0; bit < 8; bit++) {
        crc = (uint16_t)((crc & 1u) != 0 ? (crc >> 1) ^ 0xA001u : crc >> 1);
    }
    return crc;
}

uint16_t vd_modbus_crc(const uint8_t *bytes, size_t count)
{
    uint16_t crc = VD_MODBUS_CRC_START;
    for (size_t i = 0; i < count; i++) {
        crc = vd_modbus_crc_add(crc, bytes[i]);
    }
    return crc;
}

bool vd_modbus_crc_fits(const uint8_t *bytes, size_t count)
{
    uint16_t crc = count >= 4 ? vd_modbus_crc(bytes, count - 2) : 0;
    return count >= 4 && bytes[count - 2] == (crc & 0xFFu) && bytes[count - 1] == crc >> 8;
}

uint16_t vd_framing_open(const vd_framing *framing, const uint8_t *characters, size_t count, uint8_t *bytes, bool *ends)
{
    vd_modbus_ear ear = {0};
    uint16_t length = 0;
    for (size_t i = 0; i < count; i++) {
        uint8_t taken[VD_MODBUS_TAKEN];
        unsigned more = framing->take(&ear, characters[i], taken);
        for (unsigned k = 0; k < more && length < VD_MODBUS_FRAME; k++) {
            bytes[length++] = taken[k];
        }
    }
    *ends = ear.ends;
    return length;
}

uint32_t vd_modbus_silence(const vd_serial *line)
{
    if (line->baud > 19200) {
        return 1750;
    }
    return (7u * vd_serial_character_bits(line) * 1000000u + 2u * line->baud - 1u) / (2u * line->baud);
}

void vd_frame_byte(vd_modbus_frame *frame, uint8_t byte)
{
    frame->bytes[frame->length++] = byte;
}

void vd_frame_word(vd_modbus_frame *frame, uint16_t word)
{
    vd_frame_byte(frame, (uint8_t)(word >> 8));
    vd_frame_byte(frame, (uint8_t)word);
}

void vd_frame_begin(vd_modbus_frame *frame, uint8_t address, uint8_t function)
{
    frame->length = 0;
    vd_frame_byte(frame, address);
    vd_frame_byte(frame, function);
}

void vd_frame_end(vd_modbus_frame *frame)
{
    uint16_t crc = vd_modbus_crc(frame->bytes, frame->length);
    vd_frame_byte(frame, (uint8_t)crc);
    vd_frame_byte(frame, (uint8_t)(crc >> 8));
}

static void ask_two_words(vd_modbus_frame *frame, uint8_t address, uint8_t function, uint16_t a, uint16_t b)
{
    vd_frame_begin(frame, address, function);
    vd_frame_word(frame, a);
    vd_frame_word(frame, b);
    vd_frame_end(frame);
}

void vd_modbus_ask_read(vd_modbus_frame *frame, uint8_t address, uint8_t function, uint16_t first, uint16_t count)
{
    ask_two_words(frame, address, function, first, count);
}

void vd_modbus_ask_write_one(vd_modbus_frame *frame, uint8_t address, uint16_t where, uint16_t value)
{
    ask_two_words(frame, address, VD_MODBUS_WRITE_ONE, where, value);
}

void vd_modbus_ask_write_many(vd_modbus_frame *frame, uint8_t address, uint16_t first, const uint16_t *values,
                              uint16_t count)
{
    vd_frame_begin(frame, address, VD_MODBUS_WRITE_MANY);
    vd_frame_word(frame, first);
    vd_frame_word(frame, count);
    vd_frame_byte(frame, (uint8_t)(2u * count));
    for (uint16_t i = 0; i < count && i < VD_MODBUS_MOST_WRITE; i++) {
        vd_frame_word(frame, values[i]);
    }
    vd_frame_end(frame);
}

void vd_modbus_ask_write_coil(vd_modbus_frame *frame, uint8_t address, uint16_t where, bool on)
{
    ask_two_words(frame, address, VD_MODBUS_WRITE_COIL, where, on ? 0xFF00 : 0);
}

void vd_modbus_ask_write_coils(vd_modbus_frame *frame, uint8_t address, uint16_t first, const uint8_t *bits,
                               uint16_t count)
{
    vd_frame_begin(frame, address, VD_MODBUS_WRITE_COILS);
    vd_frame_word(frame, first);
    vd_frame_word(frame, count);
    vd_frame_byte(frame, (uint8_t)((count + 7u) / 8u));
    for (unsigned i = 0; i < (count + 7u) / 8u && i < VD_MODBUS_MOST_WRITE_BITS / 8u; i++) {
        vd_frame_byte(frame, bits[i]);
    }
    vd_frame_end(frame);
}

void vd_modbus_ask_mask_write(vd_modbus_frame *frame, uint8_t address, uint16_t where, uint16_t keep, uint16_t set)
{
    vd_frame_begin(frame, address, VD_MODBUS_MASK_WRITE);
    vd_frame_word(frame, where);
    vd_frame_word(frame, keep);
    vd_frame_word(frame, set);
    vd_frame_end(frame);
}

void vd_modbus_ask_read_write(vd_modbus_frame *frame, uint8_t address, uint16_t read_first, uint16_t read_count,
                              uint16_t first, const uint16_t *values, uint16_t count)
{
    vd_frame_begin(frame, address, VD_MODBUS_READ_WRITE);
    vd_frame_word(frame, read_first);
    vd_frame_word(frame, read_count);
    vd_frame_word(frame, first);
    vd_frame_word(frame, count);
    vd_frame_byte(frame, (uint8_t)(2u * count));
    for (uint16_t i = 0; i < count && i < VD_MODBUS_MOST_BOTH; i++) {
        vd_frame_word(frame, values[i]);
    }
    vd_frame_end(frame);
}

void vd_modbus_ask_identity(vd_modbus_frame *frame, uint8_t address, uint8_t code, uint8_t object)
{
    vd_frame_begin(frame, address, VD_MODBUS_IDENTIFY);
    vd_frame_byte(frame, VD_MODBUS_IDENTIFY_TYPE);
    vd_frame_byte(frame, code);
    vd_frame_byte(frame, object);
    vd_frame_end(frame);
}

/* Identification replies carry their length only object by object (AP 6.21). */
static int identity_length(const uint8_t *bytes, size_t count)
{
    size_t at = 8;
    if (count < at) {
        return 0;
    }
    for (uint8_t object = 0; object < bytes[7]; object++) {
        if (count < at + 2) {
            return at + 2 + 2 > VD_MODBUS_FRAME ? -1 : 0;
        }
        at += 2u + bytes[at + 1];
        if (at + 2 > VD_MODBUS_FRAME) {
            return -1;
        }
    }
    return (int)at + 2;
}

int vd_modbus_reply_length(const uint8_t *bytes, size_t count)
{
    if (count < 2) {
        return 0;
    }
    if ((bytes[1] & 0x80u) != 0) {
        return 5;
    }
    switch (bytes[1]) {
    case VD_MODBUS_READ_COILS:
    case VD_MODBUS_READ_DISCRETE:
    case VD_MODBUS_READ_HOLDING:
    case VD_MODBUS_READ_INPUT:
    case VD_MODBUS_READ_WRITE:
        if (count < 3) {
            return 0;
        }
        return bytes[2] <= 2 * VD_MODBUS_MOST_READ ? 5 + bytes[2] : -1;
    case VD_MODBUS_WRITE_COIL:
    case VD_MODBUS_WRITE_ONE:
    case VD_MODBUS_WRITE_COILS:
    case VD_MODBUS_WRITE_MANY: return 8;
    case VD_MODBUS_MASK_WRITE: return 10;
    case VD_MODBUS_IDENTIFY: return identity_length(bytes, count);
    default: return -1;
    }
}

static vd_status exception(uint8_t code)
{
    static const struct {
        uint8_t code;
        vd_status status;
    } codes[] = {{1, VD_EXCEPTION_FUNCTION}, {2, VD_EXCEPTION_ADDRESS},     {3, VD_EXCEPTION_VALUE},
                 {4, VD_EXCEPTION_FAILURE},  {5, VD_EXCEPTION_ACKNOWLEDGE}, {6, VD_EXCEPTION_BUSY},
                 {8, VD_EXCEPTION_MEMORY},   {10, VD_EXCEPTION_PATH},       {11, VD_EXCEPTION_TARGET}};
    for (size_t i = 0; i < sizeof codes / sizeof codes[0]; i++) {
        if (codes[i].code == code) {
            return codes[i].status;
        }
    }
    return VD_EXCEPTION_OTHER;
}

uint8_t vd_modbus_read_function(uint8_t table)
{
    static const uint8_t functions[] = {[VD_HOLDING] = VD_MODBUS_READ_HOLDING,
                                        [VD_INPUT] = VD_MODBUS_READ_INPUT,
                                        [VD_COIL] = VD_MODBUS_READ_COILS,
                                        [VD_DISCRETE] = VD_MODBUS_READ_DISCRETE};
    return functions[table];
}

unsigned vd_modbus_bytes_asked(const uint8_t *request)
{
    bool bits = request[1] == VD_MODBUS_READ_COILS || request[1] == VD_MODBUS_READ_DISCRETE;
    unsigned count = vd_word_at(request + 4);
    return bits ? (count + 7u) / 8u : 2u * count;
}

vd_status vd_modbus_judge(const vd_modbus_frame *request, const uint8_t *reply, size_t length)
{
    const uint8_t *asked = request->bytes;
    if (!vd_modbus_crc_fits(reply, length) || vd_modbus_reply_length(reply, length) != (int)length) {
        return VD_CHECK_FAILED;
    }
    if (reply[0] != asked[0]) {
        return VD_WRONG_ADDRESS;
    }
    if (reply[1] == (asked[1] | 0x80u)) {
        return exception(reply[2]);
    }
    if (reply[1] != asked[1]) {
        return VD_WRONG_FUNCTION;
    }
    switch (reply[1]) {
    case VD_MODBUS_READ_COILS:
    case VD_MODBUS_READ_DISCRETE:
    case VD_MODBUS_READ_HOLDING:
    case VD_MODBUS_READ_INPUT:
    case VD_MODBUS_READ_WRITE: return reply[2] == vd_modbus_bytes_asked(asked) ? VD_OK : VD_WRONG_LENGTH;
    case VD_MODBUS_MASK_WRITE: return memcmp(reply + 2, asked + 2, 6) == 0 ? VD_OK : VD_WRONG_FUNCTION;
    case VD_MODBUS_IDENTIFY: return reply[2] == asked[2] && reply[3] == asked[3] ? VD_OK : VD_WRONG_FUNCTION;
    default: /* writes echo address and value, or address and count */
        return memcmp(reply + 2, asked + 2, 4) == 0 ? VD_OK : VD_WRONG_FUNCTION;
    }
}
