/* SPDX-License-Identifier: MIT
 * What text from outside may hold. */
#include "verdite/text.h"

#include <string.h>

#include "span.h"

/* What is no character to be seen: it steers, separates, turns the direction of reading, or hides. */
static const struct {
    uint32_t first, last;
} unseen[] = {
    {0x0000, 0x001F}, {0x007F, 0x009F}, {0x00AD, 0x00AD},   {0x061C, 0x061C},   {0x180E, 0x180E},
    {0x200B, 0x200B}, {0x200E, 0x200F}, {0x2028, 0x202E},   {0x2060, 0x206F},   {0xFEFF, 0xFEFF},
    {0xFFF9, 0xFFFB}, {0xFFFE, 0xFFFF}, {0x1D173, 0x1D17A}, {0xE0000, 0xE0FFF},
};

/* The forms of a character in UTF-8 by its first byte (RFC 3629, section 4). */
static const struct {
    uint8_t low, high, second_low, second_high, length;
} forms[] = {{0x00, 0x7F, 0, 0, 1},       {0xC2, 0xDF, 0x80, 0xBF, 2}, {0xE0, 0xE0, 0xA0, 0xBF, 3},
             {0xE1, 0xEC, 0x80, 0xBF, 3}, {0xED, 0xED, 0x80, 0x9F, 3}, {0xEE, 0xEF, 0x80, 0xBF, 3},
             {0xF0, 0xF0, 0x90, 0xBF, 4}, {0xF1, 0xF3, 0x80, 0xBF, 4}, {0xF4, 0xF4, 0x80, 0x8F, 4}};

size_t vd_take_character(const char *text, size_t length, uint32_t *point)
{
    const uint8_t *at = (const uint8_t *)text;
    for (size_t i = 0; length > 0 && i < sizeof forms / sizeof forms[0]; i++) {
        if (at[0] < forms[i].low || at[0] > forms[i].high) {
            continue;
        }
        size_t size = forms[i].length;
        if (size > length || (size > 1 && (at[1] < forms[i].second_low || at[1] > forms[i].second_high))) {
            return 0;
        }
        *point = size == 1 ? at[0] : (uint32_t)at[0] & (0x7Fu >> size);
        for (size_t k = 1; k < size; k++) {
            if ((at[k] & 0xC0u) != 0x80u) {
                return 0;
            }
            *point = *point << 6 | (at[k] & 0x3Fu);
        }
        return size;
    }
    return 0;
}

size_t vd_text_shown(const char *text, size_t length)
{
    uint32_t point = 0;
    if (length > 0 && text[0] >= 0x20 && text[0] < 0x7F) { /* nearly all there is */
        return 1;
    }
    size_t size = vd_take_character(text, length, &point);
    for (size_t i = 0; i < sizeof unseen / sizeof unseen[0]; i++) {
        if (point >= unseen[i].first && point <= unseen[i].last) {
            return 0;
        }
    }
    return size;
}

size_t vd_text_line(const char *text, size_t length)
{
    size_t at = 0, size = 0;
    while (at < length && (size = vd_text_shown(text + at, length - at)) > 0) {
        at += size;
    }
    return at;
}

void vd_text_print_unseen(const char *text, size_t length, vd_writer *writer)
{
    size_t at = vd_text_line(text, length);
    uint32_t point = 0;
    if (at == length) {
        return;
    }
    if (vd_take_character(text + at, length - at, &point) == 0) {
        vd_writer_add(writer, "a byte that is no UTF-8");
    } else if (point == '\n' || point == '\r') {
        vd_writer_add(writer, "a line end");
    } else {
        vd_writer_add(writer, "the character U+");
        vd_writer_add_hex(writer, point, 4);
    }
}

static bool parts(char c)
{
    return c == '-' || c == '.';
}

bool vd_text_is_key(const char *text)
{
    size_t length = strlen(text);
    for (size_t i = 0; i < length; i++) {
        bool plain = (text[i] >= 'a' && text[i] <= 'z') || vd_is_digit(text[i]);
        bool between = i > 0 && i + 1 < length && parts(text[i]) && !parts(text[i - 1]);
        if (!plain && !between) {
            return false;
        }
    }
    return length > 0 && length <= VD_MOST_KEY;
}

bool vd_text_is_measure(const char *text)
{
    static const vd_span first = {"0123456789+-. ", 14}, never = {"#:,;\"'`\\[]{}<>&*!|=@?~$", 23};
    size_t length = strlen(text);
    for (size_t i = 0; i < length; i++) {
        if (vd_has_char(never, text[i])) {
            return false;
        }
    }
    return length == 0 ||
           (!vd_has_char(first, text[0]) && text[length - 1] != ' ' && vd_text_line(text, length) == length);
}
