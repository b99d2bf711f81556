/* SPDX-License-Identifier: MIT
 * Pieces of typed text: what parsers of all types take off the front. */
#include "span.h"

#include <string.h>

bool vd_is_blank(char c)
{
    return c == ' ' || c == '\t' || c == '\r' || c == '\n';
}

bool vd_is_digit(char c)
{
    return c >= '0' && c <= '9';
}

bool vd_is_letter(char c)
{
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
}

char vd_small(char c)
{
    return (char)(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
}

char vd_char_at(vd_span text, size_t at)
{
    if (at >= text.length) {
        return '\0';
    }
    return text.at[at];
}

int vd_hex_digit(char c)
{
    char s = vd_small(c);
    return vd_is_digit(c) ? c - '0' : s >= 'a' && s <= 'f' ? s - 'a' + 10 : -1;
}

int vd_take_bytes(vd_span typed, char *bytes, size_t most)
{
    size_t count = 0, i = 0;
    if (typed.length >= 2 && typed.at[0] == '0' && vd_small(typed.at[1]) == 'x') {
        i = 2;
    }
    while (i < typed.length) {
        char c = typed.at[i];
        if (vd_is_blank(c) || c == '-' || c == ':' || c == '.') {
            i++;
            continue;
        }
        int high = vd_hex_digit(c), low = i + 1 < typed.length ? vd_hex_digit(typed.at[i + 1]) : -1;
        if (high < 0 || low < 0 || count == most) {
            return -1;
        }
        bytes[count++] = (char)(high << 4 | low);
        i += 2;
    }
    return (int)count;
}

/* Length of the blank, or no-break space, that a text begins with; 0: of none. */
static size_t blank_at(const char *at, size_t length)
{
    static const char no_break_space[] = "\xC2\xA0";
    return length > 0 && vd_is_blank(*at) ? 1 : length >= 2 && memcmp(at, no_break_space, 2) == 0 ? 2 : 0;
}

vd_span vd_trimmed(vd_span text)
{
    size_t blank = 0;
    while ((blank = blank_at(text.at, text.length)) > 0) {
        text.at += blank;
        text.length -= blank;
    }
    do {
        blank = text.length > 0 && vd_is_blank(text.at[text.length - 1])          ? 1
                : text.length >= 2 && blank_at(text.at + text.length - 2, 2) == 2 ? 2
                                                                                  : 0;
        text.length -= blank;
    } while (blank > 0);
    return text;
}

bool vd_same_word(vd_span typed, const char *word)
{
    size_t i = 0;
    while (i < typed.length && word[i] != '\0') {
        char a = vd_small(typed.at[i]), b = vd_small(word[i]);
        if (a != b && !((a == ' ' || a == '_') && b == '-')) {
            return false;
        }
        i++;
    }
    return i == typed.length && word[i] == '\0';
}

bool vd_begins_with(const char *text, const char *start)
{
    while (*start != '\0' && *text == *start) {
        text++, start++;
    }
    return *start == '\0';
}

bool vd_text_is(const char *text, size_t length, const char *whole)
{
    return length == strlen(whole) && memcmp(text, whole, length) == 0;
}

bool vd_same_text(const char *a, const char *b)
{
    return vd_text_is(a, strlen(a), b);
}

bool vd_has_char(vd_span text, char c)
{
    for (size_t i = 0; i < text.length; i++) {
        if (text.at[i] == c) {
            return true;
        }
    }
    return false;
}

bool vd_take_whole(vd_span *rest, uint32_t most, uint32_t *number, unsigned *digits)
{
    uint64_t sum = 0;
    unsigned count = 0;
    while (count < rest->length && vd_is_digit(rest->at[count])) {
        sum = sum * 10 + (uint64_t)(rest->at[count] - '0');
        count++;
        if (sum > most || count > 12) {
            return false;
        }
    }
    if (count == 0) {
        return false;
    }
    rest->at += count;
    rest->length -= count;
    *number = (uint32_t)sum;
    if (digits != NULL) {
        *digits = count;
    }
    return true;
}

bool vd_take_char(vd_span *rest, char c)
{
    if (rest->length == 0 || *rest->at != c) {
        return false;
    }
    rest->at++;
    rest->length--;
    return true;
}

bool vd_take_sign(vd_span *rest)
{
    static const char minus_sign[] = "\xE2\x88\x92"; /* U+2212, as word processors write it */
    bool wide = rest->length >= 3 && memcmp(rest->at, minus_sign, 3) == 0;
    bool sign = rest->length > 0 && (rest->at[0] == '-' || rest->at[0] == '+');
    bool negative = wide || (sign && rest->at[0] == '-');
    size_t length = wide ? 3 : sign;
    *rest = (vd_span){rest->at + length, rest->length - length};
    return negative;
}

size_t vd_take_number(vd_span typed, vd_value *value, size_t *digits)
{
    size_t before = 0, after = 0;
    bool mark = false;
    vd_span rest = typed;
    bool negative = vd_take_sign(&rest);
    size_t i = typed.length - rest.length;
    *digits = 0;
    value->number = 0;
    value->places = 0;
    for (; i < typed.length; i++) {
        char c = typed.at[i];
        if ((c == '.' || c == ',') && !mark) {
            mark = true;
        } else if (vd_is_digit(c)) {
            mark ? after++ : before++;
            *digits += *digits > 0 || c != '0';
            if (*digits <= VD_MOST_DIGITS && after <= VD_MOST_DIGITS) {
                value->number = value->number * 10 + (c - '0');
                value->places = (uint8_t)after;
            }
        } else {
            break;
        }
    }
    if (before == 0 || (mark && after == 0)) {
        return 0;
    }
    if (after > VD_MOST_DIGITS) {
        *digits = after;
    }
    value->number = negative ? -value->number : value->number;
    return i;
}
