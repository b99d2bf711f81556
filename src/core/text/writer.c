/* SPDX-License-Identifier: MIT
 * Text being built in a buffer of the caller's. */
#include "verdite/set.h"
#include "verdite/text.h"

#include <string.h>

vd_writer vd_writer_start(char *text, size_t size)
{
    text[0] = '\0';
    return (vd_writer){.text = text, .size = size};
}

void vd_writer_add_bytes(vd_writer *writer, const char *bytes, size_t count)
{
    size_t room = writer->size - 1 - writer->length;
    if (count > room) {
        count = room;
        writer->cut = true;
    }
    if (count > 0) { /* nothing need not be anywhere */
        memcpy(writer->text + writer->length, bytes, count);
    }
    writer->length += count;
    writer->text[writer->length] = '\0';
}

void vd_writer_add(vd_writer *writer, const char *text)
{
    vd_writer_add_bytes(writer, text, strlen(text));
}

void vd_writer_add_decimal(vd_writer *writer, int64_t number, unsigned places)
{
    char digits[40];
    size_t at = sizeof digits;
    /* Unsigned, so that the smallest number has a magnitude too. */
    uint64_t rest = number < 0 ? 0 - (uint64_t)number : (uint64_t)number;
    unsigned done = 0;
    do {
        if (done == places && places > 0) {
            digits[--at] = '.';
        }
        digits[--at] = (char)('0' + rest % 10);
        rest /= 10;
        done++;
    } while (rest > 0 || done <= places);
    if (number < 0) {
        digits[--at] = '-';
    }
    vd_writer_add_bytes(writer, digits + at, sizeof digits - at);
}

void vd_writer_add_number(vd_writer *writer, int64_t number)
{
    vd_writer_add_decimal(writer, number, 0);
}

void vd_writer_add_hex(vd_writer *writer, uint32_t number, unsigned digits)
{
    char text[8];
    size_t at = sizeof text;
    do {
        text[--at] = "0123456789ABCDEF"[number & 15u];
        number >>= 4;
    } while (at > 0 && (number > 0 || sizeof text - at < digits));
    vd_writer_add_bytes(writer, text + at, sizeof text - at);
}

void vd_writer_add_filled(vd_writer *writer, const char *text, vd_fill *fill, void *about)
{
    while (*text != '\0') {
        size_t length = 0, plain = 0;
        while (text[plain] != '\0' && text[plain] != '{') {
            plain++;
        }
        vd_writer_add_bytes(writer, text, plain);
        text += plain;
        while (*text == '{' && text[1 + length] != '\0' && text[1 + length] != '}') {
            length++;
        }
        if (*text == '{' && fill(about, text + 1, length, writer)) {
            text += 1 + length + (text[1 + length] == '}');
        } else if (*text == '{') {
            vd_writer_add_bytes(writer, text++, 1);
        }
    }
}

typedef struct numbered {
    uint16_t item;
    bool said;
} numbered;

static bool fill_item(void *about, const char *name, size_t length, vd_writer *writer)
{
    numbered *n = about;
    bool is = vd_text_is(name, length, "item");
    if (is) {
        vd_writer_add_number(writer, n->item + 1);
    }
    n->said = n->said || is;
    return is;
}

bool vd_writer_add_item(vd_writer *writer, const char *text, uint16_t item)
{
    numbered n = {item, false};
    vd_writer_add_filled(writer, text, fill_item, &n);
    return n.said;
}
