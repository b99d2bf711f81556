/* SPDX-License-Identifier: MIT
 * Bytes in hexadecimal, identifiers and keys; numbers of devices and cards with a check digit. */
#include "value_parts.h"

#include <string.h>

static vd_status parse_bytes(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    int count = vd_take_bytes(typed, into->bytes, sizeof into->bytes);
    if (count < meaning->of->least || count > meaning->of->length) {
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    into->value.text = into->bytes;
    into->value.length = (uint16_t)count;
    return VD_OK;
}

static void print_hex(const vd_value *value, const char *between, vd_writer *writer)
{
    for (uint16_t i = 0; i < value->length; i++) {
        vd_writer_add(writer, i > 0 ? between : "");
        vd_writer_add_hex(writer, (uint8_t)value->text[i], 2);
    }
}

static void print_bytes(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    (void)setting;
    print_hex(value, "", writer);
}

static void print_identifier(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    (void)setting;
    print_hex(value, "-", writer); /* as IEEE 802 has it */
}

static void allow_bytes(const vd_meaning *meaning, vd_writer *writer)
{
    if (meaning->of->least != meaning->of->length) {
        vd_writer_add_number(writer, 2 * meaning->of->least);
        vd_writer_add(writer, " to ");
    }
    vd_writer_add_number(writer, 2 * meaning->of->length);
    vd_writer_add(writer, " hexadecimal digits");
}

/* ---- Digits, the last of which checks the others ---- */

static vd_status parse_digits(const vd_meaning *meaning, vd_span typed, size_t least, size_t most, const char *start,
                              vd_typed *into, vd_fault *fault)
{
    size_t count = 0;
    int fitting = 0;
    for (size_t i = 0; i < typed.length; i++) {
        char c = typed.at[i];
        if (vd_is_digit(c) && count < most) {
            into->bytes[count++] = c;
        } else if (!vd_is_blank(c) && c != '-' && c != '/') {
            return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
        }
    }
    if (count < least || memcmp(into->bytes, start, strlen(start)) != 0) {
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    if (!vd_check_fits(VD_CHECK_LUHN, (vd_span){into->bytes, count}, &fitting)) {
        return vd_note_check_digit(meaning, typed, fitting, fault);
    }
    into->value.text = into->bytes;
    into->value.length = (uint16_t)count;
    return VD_OK;
}

static vd_status parse_imei(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    return parse_digits(meaning, typed, 15, 15, "", into, fault);
}

static void allow_imei(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer, "the 15 digits of an IMEI, such as 001010-12-345678-0");
}

static vd_status parse_iccid(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    return parse_digits(meaning, typed, 19, 20, "89", into, fault);
}

static void allow_iccid(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer, "the 19 or 20 digits on the SIM card, from 89 on");
}

const vd_type_words vd_words_bytes = {"bytes", "bytes in hexadecimal", parse_bytes, print_bytes, allow_bytes, NULL};
const vd_type_words vd_words_identifier = {"identifier",     "identifier", parse_bytes,
                                           print_identifier, allow_bytes,  NULL};
const vd_type_words vd_words_key = {"key-128", "128-bit key", parse_bytes, print_bytes, allow_bytes, NULL};
const vd_type_words vd_words_imei = {"imei", "IMEI", parse_imei, vd_print_characters, allow_imei, NULL};
const vd_type_words vd_words_iccid = {"iccid", "ICCID", parse_iccid, vd_print_characters, allow_iccid, NULL};
