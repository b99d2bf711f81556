/* SPDX-License-Identifier: MIT
 * Values as units say them in lines: numbers in digits, texts between quotation marks or with escapes, names in
 * capitals. */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

/* ---- Texts ---- */

static bool is_among(char c, const char *all)
{
    while (*all != '\0' && *all != c) {
        all++;
    }
    return *all != '\0';
}

void vd_lines_add(const vd_manner *manner, const char *text, size_t length, vd_writer *writer)
{
    vd_writer_add(writer, manner->quoted ? "\"" : "");
    for (size_t i = 0; i < length; i++) {
        char c = text[i];
        bool control = (unsigned char)c < 0x20 || (unsigned char)c >= 0x7F;
        if (manner->escape[0] != '\0' && (control || is_among(c, manner->reserved))) {
            vd_writer_add(writer, manner->escape);
            vd_writer_add_hex(writer, (unsigned char)c, 2);
        } else {
            vd_writer_add_bytes(writer, &c, 1);
            vd_writer_add(writer, c == '"' && manner->queue ? "\"" : "");
        }
    }
    vd_writer_add(writer, manner->quoted ? "\"" : "");
}

static void trim(const char **text, size_t *length)
{
    while (*length > 0 && (*text)[0] == ' ') {
        ++*text;
        --*length;
    }
    while (*length > 0 && (*text)[*length - 1] == ' ') {
        --*length;
    }
}

int vd_lines_plain(const vd_manner *manner, const char *text, size_t length, char *to, size_t size)
{
    size_t used = 0, i = 0;
    if (manner->quoted) {
        trim(&text, &length);
    }
    bool quoted = manner->quoted && length > 0 && text[0] == '"';
    if (quoted && (length < 2 || text[length - 1] != '"')) {
        return -1;
    }
    length -= quoted;
    for (i = quoted; i < length; i++) {
        char c = text[i];
        if (c == manner->escape[0] && c != '\0') {
            int high = i + 2 < length + quoted ? vd_hex_digit(text[i + 1]) : -1;
            int low = high >= 0 ? vd_hex_digit(text[i + 2]) : -1;
            if (low < 0) {
                return -1;
            }
            c = (char)(high << 4 | low);
            i += 2;
        } else if (quoted && c == '"') {
            if (!manner->queue || i + 1 >= length || text[++i] != '"') {
                return -1;
            }
        }
        if (used >= size) {
            return -1;
        }
        to[used++] = c;
    }
    return (int)used;
}

bool vd_lines_cut(const vd_manner *manner, const char **rest, size_t *left, char separator, const char **piece,
                  size_t *length)
{
    bool inside = false;
    size_t end = 0;
    if (*rest == NULL) {
        return false;
    }
    while (end < *left && (inside || (*rest)[end] != separator)) {
        inside = inside != ((*rest)[end] == '"' && manner->quoted);
        end++;
    }
    *piece = *rest;
    *length = end;
    bool more = end < *left;
    *rest = more ? *rest + end + 1 : NULL;
    *left = more ? *left - end - 1 : 0;
    return true;
}

/* ---- Numbers ---- */

/* Digits with sign, point and exponent (IEEE 488.2 8.7.2 to 8.7.4: NR1, NR2, NR3), exactly. */
static bool take_number(const char *text, size_t length, int64_t *number, int *places)
{
    size_t at = 0, digits = 0;
    int point = 0, exponent = 0;
    bool negative = length > 0 && text[0] == '-', after = false;
    at += length > 0 && (text[0] == '-' || text[0] == '+');
    for (*number = 0; at < length && (vd_is_digit(text[at]) || (text[at] == '.' && !after)); at++) {
        if (text[at] == '.') {
            after = true;
            continue;
        }
        if (*number > INT64_MAX / 100) {
            return false;
        }
        *number = *number * 10 + (text[at] - '0');
        point += after;
        digits++;
    }
    if (digits > 0 && at < length && (text[at] == 'E' || text[at] == 'e')) {
        bool below = ++at < length && text[at] == '-';
        at += at < length && (text[at] == '-' || text[at] == '+');
        size_t from = at;
        for (; at < length && vd_is_digit(text[at]) && exponent < 100; at++) {
            exponent = exponent * 10 + (text[at] - '0');
        }
        digits = at > from ? digits : 0;
        exponent = below ? -exponent : exponent;
    }
    *number = negative ? -*number : *number;
    *places = point - exponent;
    for (; *places > 0 && *number % 10 == 0; --*places) {
        *number /= 10;
    }
    for (; *places < 0 && *number <= INT64_MAX / 10 && *number >= INT64_MIN / 10; ++*places) {
        *number *= 10;
    }
    return digits > 0 && at == length && *places >= 0 && *places <= 18;
}

/* ---- Values ---- */

typedef enum way { AS_NUMBER, AS_COUNT, AS_NAME, AS_TEXT, AS_HEX, AS_PRINTED } way;

static way way_of(const vd_setting *setting)
{
    if (setting->field.saying == VD_SAID_BY_NAME) {
        return AS_NAME;
    }
    uint8_t is = setting->traits->is;
    bool counts = setting->field.saying == VD_SAID_IN_COUNTS || (is & VD_TYPE_PLACED) == 0;
    return (is & VD_TYPE_PRINTED) != 0 ? AS_PRINTED
           : (is & VD_TYPE_TEXT) != 0  ? AS_TEXT
           : (is & VD_TYPE_BYTES) != 0 ? AS_HEX
           : counts                    ? AS_COUNT
                                       : AS_NUMBER;
}

static const char *name_of(const vd_setting *setting, int64_t number)
{
    if (setting->traits->id == VD_TRUTH) {
        return number != 0 ? "on" : "off";
    }
    return vd_choice_name(setting, number);
}

static char as_said(char c)
{
    return (char)(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c == '-' ? '_' : c);
}

static bool is_said(const char *name, const char *text, size_t length)
{
    bool same = name != NULL && strlen(name) == length;
    for (size_t i = 0; same && i < length; i++) {
        same = as_said(name[i]) == as_said(text[i]);
    }
    return same;
}

vd_status vd_field_print(const vd_manner *manner, const vd_set *set, uint16_t setting, vd_writer *writer,
                         vd_fault *fault)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_value value = vd_set_get(set, setting);
    way how = way_of(about);
    int64_t count = 0;
    char printed[2 * VD_MOST_BYTES];
    vd_writer own = vd_writer_start(printed, sizeof printed);
    size_t length = 0;
    const char *odd = vd_set_odd(set, setting, &length);
    if (odd != NULL) { /* said again as it was heard */
        vd_writer_add_bytes(writer, odd, length);
        return VD_OK;
    }
    if (value.type == VD_NOTHING) {
        return vd_note_NOT_READ(fault, about);
    }
    vd_status status =
        how == AS_NUMBER || how == AS_COUNT ? vd_set_to_count(set, setting, &value, &count, fault) : VD_OK;
    switch (how) {
    case AS_NUMBER: { /* with all of its decimals */
        vd_value exact = vd_set_from_count(set, setting, count);
        vd_writer_add_decimal(writer, exact.number, exact.places);
        break;
    }
    case AS_COUNT: vd_writer_add_number(writer, count); break;
    case AS_NAME: {
        const char *name = name_of(about, value.number);
        for (; name != NULL && *name != '\0'; name++) {
            char c = as_said(*name);
            vd_writer_add_bytes(writer, &c, 1);
        }
        break;
    }
    case AS_TEXT: vd_lines_add(manner, value.text, value.length, writer); break;
    case AS_HEX:
        for (uint16_t i = 0; i < value.length; i++) {
            vd_writer_add_hex(&own, (uint8_t)value.text[i], 2);
        }
        vd_lines_add(manner, own.text, own.length, writer);
        break;
    case AS_PRINTED:
        vd_value_print(about, &value, &own);
        vd_lines_add(manner, own.text, own.length, writer);
        break;
    }
    return status;
}

static bool take_count(vd_set *set, uint16_t setting, const char *text, size_t length)
{
    const vd_setting *about = &set->model->settings[setting];
    int64_t number = 0, tick = about->traits->id == VD_DURATION ? about->tick : 1;
    int places = 0;
    if (!take_number(text, length, &number, &places) || places != 0 || number > INT64_MAX / 8 / tick ||
        number < INT64_MIN / 8 / tick) {
        return false;
    }
    vd_value value = vd_set_from_count(set, setting, number);
    vd_set_put(set, setting, &value);
    return true;
}

/* A unit may say more decimals than it is set to, or fewer; what it says is taken as it is. */
static bool take_decimal(vd_set *set, uint16_t setting, const char *text, size_t length)
{
    vd_value value = {.type = set->model->settings[setting].traits->id};
    int places = 0;
    vd_meaning meaning;
    if (!take_number(text, length, &value.number, &places)) {
        return false;
    }
    vd_set_meaning(set, setting, &meaning);
    value.measure = meaning.of->like_count > 0 ? meaning.measure : NULL;
    for (; places < (int)meaning.places && value.number <= INT64_MAX / 10 && value.number >= INT64_MIN / 10; places++) {
        value.number *= 10;
    }
    value.places = (uint8_t)places;
    vd_set_put(set, setting, &value);
    return true;
}

static bool take_name(vd_set *set, uint16_t setting, const char *text, size_t length)
{
    const vd_setting *about = &set->model->settings[setting];
    bool truth = about->traits->id == VD_TRUTH;
    uint16_t count = truth ? 2 : about->choice_count;
    for (uint16_t i = 0; i < count; i++) {
        int32_t number = truth ? i : about->choices[i].number;
        if (is_said(name_of(about, number), text, length)) {
            vd_value value = {.type = about->traits->id, .number = number};
            vd_set_put(set, setting, &value);
            return true;
        }
    }
    return false;
}

bool vd_field_take(const vd_manner *manner, vd_set *set, uint16_t setting, const char *text, size_t length)
{
    const vd_setting *about = &set->model->settings[setting];
    way how = way_of(about);
    char plain[2 * VD_MOST_BYTES];
    if (how == AS_NUMBER || how == AS_COUNT || how == AS_NAME) {
        trim(&text, &length);
        return how == AS_NUMBER  ? take_decimal(set, setting, text, length)
               : how == AS_COUNT ? take_count(set, setting, text, length)
                                 : take_name(set, setting, text, length);
    }
    int size = vd_lines_plain(manner, text, length, plain, sizeof plain);
    if (size < 0) {
        return false;
    }
    if (how == AS_TEXT) {
        vd_value value = {.type = about->traits->id, .text = plain, .length = (uint16_t)size};
        bool fits = size <= about->length;
        if (fits) {
            vd_set_put(set, setting, &value);
        }
        return fits;
    }
    vd_typed typed;
    if (vd_setting_parse(about, plain, (size_t)size, &typed, NULL) != VD_OK) {
        return false;
    }
    vd_set_put(set, setting, &typed.value);
    return true;
}
