/* SPDX-License-Identifier: MIT
 * What a Modbus frame says, in words, for a trace. */
#include "parts.h"

static void add_registers(const uint8_t *data, size_t count, vd_writer *writer)
{
    vd_writer_add(writer, ":");
    for (size_t i = 0; i < count; i++) {
        vd_writer_add(writer, " ");
        vd_writer_add_hex(writer, vd_word_at(data + 2 * i), 4);
    }
}

static void add_range(const uint8_t *at, vd_writer *writer)
{
    uint16_t first = vd_word_at(at), count = vd_word_at(at + 2);
    vd_writer_add_number(writer, first);
    if (count > 1) {
        vd_writer_add(writer, " to ");
        vd_writer_add_number(writer, (int64_t)first + count - 1);
    }
}

static void add_bits(const uint8_t *data, size_t count, vd_writer *writer)
{
    vd_writer_add(writer, ": ");
    for (size_t i = 0; i < count; i++) {
        vd_writer_add(writer, ((unsigned)data[i / 8] >> i % 8 & 1u) != 0 ? "1" : "0");
    }
}

static bool is_bits(uint8_t function)
{
    return function == VD_MODBUS_READ_COILS || function == VD_MODBUS_READ_DISCRETE ||
           function == VD_MODBUS_WRITE_COIL || function == VD_MODBUS_WRITE_COILS;
}

static void explain_read(const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer)
{
    static const char *const tables[] = {"", "coils", "discrete inputs", "holding registers", "input registers"};
    if (!from_unit) {
        vd_writer_add(writer, "read ");
        vd_writer_add(writer, tables[bytes[1]]);
        vd_writer_add(writer, " ");
        add_range(bytes + 2, writer);
        return;
    }
    vd_writer_add(writer, tables[bytes[1]]);
    if (is_bits(bytes[1])) {
        add_bits(bytes + 3, 8 * (count - 5), writer);
    } else {
        add_registers(bytes + 3, (count - 5) / 2, writer);
    }
}

static void explain_write(const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer)
{
    bool bits = is_bits(bytes[1]), one = bytes[1] == VD_MODBUS_WRITE_ONE || bytes[1] == VD_MODBUS_WRITE_COIL;
    vd_writer_add(writer, from_unit ? "written: " : "write ");
    vd_writer_add(writer, bits ? "coils " : "holding registers ");
    if (one) {
        vd_writer_add_number(writer, vd_word_at(bytes + 2));
        bits ? add_bits(bytes + 4, 1, writer) : add_registers(bytes + 4, 1, writer);
        return;
    }
    add_range(bytes + 2, writer);
    if (!from_unit && count >= 9 && bits) {
        add_bits(bytes + 7, vd_word_at(bytes + 4), writer);
    } else if (!from_unit && count >= 9) {
        add_registers(bytes + 7, (count - 9) / 2, writer);
    }
}

static void explain_mask(const uint8_t *bytes, bool from_unit, vd_writer *writer)
{
    vd_writer_add(writer, from_unit ? "written: bits of holding register " : "write bits of holding register ");
    vd_writer_add_number(writer, vd_word_at(bytes + 2));
    vd_writer_add(writer, ", keeping");
    add_registers(bytes + 4, 1, writer);
    vd_writer_add(writer, ", setting");
    add_registers(bytes + 6, 1, writer);
}

static void explain_both(const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer)
{
    vd_writer_add(writer, from_unit ? "written and read: holding registers" : "write holding registers ");
    if (from_unit) {
        add_registers(bytes + 3, (count - 5) / 2, writer);
        return;
    }
    add_range(bytes + 6, writer);
    add_registers(bytes + 11, (count - 13) / 2, writer);
    vd_writer_add(writer, ", then read ");
    add_range(bytes + 2, writer);
}

static void explain_identity(const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer)
{
    vd_writer_add(writer, from_unit ? "identification" : "read identification from object ");
    if (!from_unit) {
        vd_writer_add_number(writer, bytes[4]);
        return;
    }
    for (size_t at = 8; at + 2 < count && at + 2u + bytes[at + 1] + 2u <= count; at += 2u + bytes[at + 1]) {
        char text[64];
        vd_identity_copy(text, sizeof text, bytes + at + 2, bytes[at + 1]);
        vd_writer_add(writer, at == 8 ? " \"" : ", \"");
        vd_writer_add(writer, text);
        vd_writer_add(writer, "\"");
    }
}

static void explain_exception(uint8_t code, vd_writer *writer)
{
    /* AP 7; the codes in between are not assigned. */
    static const char *const meanings[] = {"",
                                           "function not known",
                                           "no such register",
                                           "value refused",
                                           "failed",
                                           "accepted, but not done yet",
                                           "busy",
                                           "",
                                           "memory damaged",
                                           "",
                                           "no path",
                                           "target silent"};
    const char *meaning = code < sizeof meanings / sizeof meanings[0] ? meanings[code] : "";
    vd_writer_add(writer, "exception ");
    vd_writer_add_number(writer, code);
    vd_writer_add(writer, meaning[0] != '\0' ? ": " : "");
    vd_writer_add(writer, meaning);
}

void vd_modbus_explain(const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer)
{
    bool sound = vd_modbus_crc_fits(bytes, count);
    int length = from_unit && sound ? vd_modbus_reply_length(bytes, count) : (int)count;
    /* The bits of a request must all be there before they are told. */
    bool short_of =
        !from_unit &&
        (count < 7 || (bytes[1] == VD_MODBUS_WRITE_COILS && count < 9u + (vd_word_at(bytes + 4) + 7u) / 8u) ||
         (bytes[1] == VD_MODBUS_MASK_WRITE && count < 10) || (bytes[1] == VD_MODBUS_READ_WRITE && count < 13));
    if (!sound || length != (int)count || short_of) {
        vd_writer_add(writer, sound ? "not a frame that Verdite knows" : "not a sound frame");
        return;
    }
    vd_writer_add(writer, "address ");
    vd_writer_add_number(writer, bytes[0]);
    vd_writer_add(writer, bytes[0] == 0 ? " (all), " : ", ");
    if ((bytes[1] & 0x80u) != 0) {
        explain_exception(bytes[2], writer);
        return;
    }
    switch (bytes[1]) {
    case VD_MODBUS_READ_COILS:
    case VD_MODBUS_READ_DISCRETE:
    case VD_MODBUS_READ_HOLDING:
    case VD_MODBUS_READ_INPUT: explain_read(bytes, count, from_unit, writer); break;
    case VD_MODBUS_WRITE_COIL:
    case VD_MODBUS_WRITE_COILS:
    case VD_MODBUS_WRITE_ONE:
    case VD_MODBUS_WRITE_MANY: explain_write(bytes, count, from_unit, writer); break;
    case VD_MODBUS_MASK_WRITE: explain_mask(bytes, from_unit, writer); break;
    case VD_MODBUS_READ_WRITE: explain_both(bytes, count, from_unit, writer); break;
    case VD_MODBUS_IDENTIFY: explain_identity(bytes, count, from_unit, writer); break;
    default: vd_writer_add(writer, "function "); vd_writer_add_number(writer, bytes[1]);
    }
}

void vd_registers_tell_place(const vd_model *model, const vd_setting *setting, vd_writer *writer)
{
    static const char *const tables[] = {"holding register", "input register", "coil", "discrete input"};
    const vd_place *at = &setting->place;
    (void)model;
    vd_writer_add(writer, tables[at->table]);
    vd_writer_add(writer, at->words > 1 ? "s " : " ");
    vd_writer_add_number(writer, at->address);
    if (at->words > 1) {
        vd_writer_add(writer, " to ");
        vd_writer_add_number(writer, at->address + at->words - 1);
        vd_writer_add(writer, at->form == VD_CHARACTERS   ? ", two bytes in each"
                              : at->order == VD_LOW_FIRST ? ", low word first"
                                                          : ", high word first");
    }
    if (at->bits > 0) {
        vd_writer_add(writer, at->bits > 1 ? ", bits " : ", bit ");
        vd_writer_add_number(writer, at->low_bit);
    }
    if (at->bits > 1) {
        vd_writer_add(writer, " to ");
        vd_writer_add_number(writer, at->low_bit + at->bits - 1);
    }
    vd_writer_add(writer, at->form == VD_SIGNED ? ", signed" : "");
}
