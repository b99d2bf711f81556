/* SPDX-License-Identifier: MIT
 * Values as people type them. The way back is print.c; tests hold the two to be inverses. */
#include "value.h"

#include <string.h>

#define MOST_DIGITS 17u /* so that a number, scaled up by one more place, still fits 64 bits */

/* A piece of typed text. */
typedef struct span {
    const char *at;
    size_t length;
} span;

static bool is_blank(char c)
{
    return c == ' ' || c == '\t' || c == '\r' || c == '\n';
}

static bool is_digit(char c)
{
    return c >= '0' && c <= '9';
}

static char small(char c)
{
    return (char)(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
}

static span trimmed(const char *text, size_t length)
{
    static const char no_break_space[] = "\xC2\xA0";
    while (length > 0 && is_blank(*text)) {
        text++, length--;
    }
    while (length >= 2 && memcmp(text, no_break_space, 2) == 0) {
        text += 2, length -= 2;
    }
    while (length > 0 && is_blank(text[length - 1])) {
        length--;
    }
    return (span){text, length};
}

static bool same_word(span typed, const char *word)
{
    size_t i = 0;
    while (i < typed.length && word[i] != '\0') {
        char a = small(typed.at[i]), b = small(word[i]);
        if (a != b && !((a == ' ' || a == '_') && b == '-')) {
            return false;
        }
        i++;
    }
    return i == typed.length && word[i] == '\0';
}

/* Takes a number off the front: sign, digits, at most one decimal mark. Returns how many bytes it took, 0 when
 * there is no number; `digits` counts all significant ones, so that too many can be told from none. */
static size_t take_number(span typed, vd_value *value, size_t *digits)
{
    static const char minus_sign[] = "\xE2\x88\x92"; /* U+2212, as word processors write it */
    size_t i = 0, before = 0, after = 0;
    bool negative = false, mark = false;
    *digits = 0;
    value->number = 0;
    value->places = 0;
    if (typed.length > 0 && (typed.at[0] == '-' || typed.at[0] == '+')) {
        negative = typed.at[i++] == '-';
    } else if (typed.length >= 3 && memcmp(typed.at, minus_sign, 3) == 0) {
        negative = true;
        i = 3;
    }
    for (; i < typed.length; i++) {
        char c = typed.at[i];
        if ((c == '.' || c == ',') && !mark) {
            mark = true;
        } else if (is_digit(c)) {
            mark ? after++ : before++;
            *digits += *digits > 0 || c != '0';
            if (*digits <= MOST_DIGITS && after <= MOST_DIGITS) {
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
    if (after > MOST_DIGITS) {
        *digits = after;
    }
    value->number = negative ? -value->number : value->number;
    return i;
}

static vd_status note_typed(vd_fault *fault, vd_status status, const vd_setting *setting, span typed)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said);
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed);
    if (typed.length < sizeof said) {
        vd_writer_add_bytes(&to_said, typed.at, typed.length);
    } else {
        vd_writer_add_bytes(&to_said, typed.at, sizeof said - 8);
        vd_writer_add(&to_said, "...");
    }
    vd_setting_print_allowed(setting, setting->places_from == VD_NONE ? setting->places : VD_NONE, &to_allowed);
    return vd_fault_note(fault, status, setting, said, allowed);
}

static vd_status parse_number(const vd_setting *setting, span typed, vd_value *value, vd_fault *fault)
{
    size_t digits = 0;
    size_t taken = take_number(typed, value, &digits);
    if (taken == 0) {
        return note_typed(fault, VD_NOT_A_NUMBER, setting, typed);
    }
    span measure = trimmed(typed.at + taken, typed.length - taken);
    if (measure.length > 0 && !vd_measure_matches(setting->measure, measure.at, measure.length)) {
        /* "1.234.5" and "12abc" are no numbers; "12 kg" is one, in a unit of measure. */
        bool broken = is_digit(measure.at[0]) || measure.at[0] == '.' || measure.at[0] == ',';
        return note_typed(fault, broken ? VD_NOT_A_NUMBER : VD_WRONG_MEASURE, setting, typed);
    }
    if (digits > MOST_DIGITS) {
        return note_typed(fault, VD_TOO_MANY_DIGITS, setting, typed);
    }
    if (setting->type == VD_INTEGER) {
        for (; value->places > 0; value->places--) {
            if (value->number % 10 != 0) {
                return note_typed(fault, VD_OFF_STEP, setting, typed);
            }
            value->number /= 10;
        }
    }
    return VD_OK;
}

static vd_status parse_duration(const vd_setting *setting, span typed, vd_value *value, vd_fault *fault)
{
    span rest = typed;
    int64_t total = 0, previous = INT64_MAX;
    bool negative = typed.at[0] == '-';
    while (rest.length > 0) {
        vd_value part;
        size_t digits = 0;
        size_t taken = take_number(rest, &part, &digits);
        if (taken == 0 || negative) {
            return note_typed(fault, VD_NOT_A_DURATION, setting, typed);
        }
        rest = trimmed(rest.at + taken, rest.length - taken);
        size_t word = 0;
        while (word < rest.length && !is_digit(rest.at[word]) && !is_blank(rest.at[word])) {
            word++;
        }
        int64_t unit = vd_time_unit_find(rest.at, word);
        if (unit == 0) {
            bool zero = word == 0 && rest.length == 0 && part.number == 0 && previous == INT64_MAX;
            vd_status status = word > 0 ? VD_NOT_A_DURATION : VD_MEASURE_MISSING;
            return zero ? VD_OK : note_typed(fault, status, setting, typed);
        }
        if (unit >= previous) { /* "10 min 2 h" is more likely a slip than meant */
            return note_typed(fault, VD_NOT_A_DURATION, setting, typed);
        }
        previous = unit;
        int64_t divisor = 1;
        if (digits > 12 || !vd_scale_up(&divisor, part.places)) {
            return note_typed(fault, VD_TOO_MANY_DIGITS, setting, typed);
        }
        if (part.number > INT64_MAX / unit || part.number * unit > INT64_MAX / 4) {
            return note_typed(fault, VD_TOO_MANY_DIGITS, setting, typed);
        }
        if (part.number * unit % divisor != 0) {
            return note_typed(fault, VD_OFF_STEP, setting, typed);
        }
        total += part.number * unit / divisor;
        rest = trimmed(rest.at + word, rest.length - word);
    }
    value->number = total;
    return VD_OK;
}

static vd_status parse_truth(const vd_setting *setting, span typed, vd_value *value, vd_fault *fault)
{
    static const struct {
        const char *word;
        int64_t truth;
    } words[] = {{"on", 1}, {"off", 0}, {"yes", 1}, {"no", 0}, {"true", 1}, {"false", 0}};
    for (size_t i = 0; i < sizeof words / sizeof words[0]; i++) {
        if (same_word(typed, words[i].word)) {
            value->number = words[i].truth;
            return VD_OK;
        }
    }
    return note_typed(fault, VD_NOT_A_TRUTH, setting, typed);
}

static vd_status parse_choice(const vd_setting *setting, span typed, vd_value *value, vd_fault *fault)
{
    for (uint16_t i = 0; i < setting->choice_count; i++) {
        if (same_word(typed, setting->choices[i].name)) {
            value->number = setting->choices[i].number;
            return VD_OK;
        }
    }
    return note_typed(fault, VD_NOT_A_CHOICE, setting, typed);
}

static vd_status parse_text(const vd_setting *setting, span typed, vd_value *value, vd_fault *fault)
{
    if (typed.length > setting->length) {
        vd_status status = note_typed(fault, VD_TEXT_TOO_LONG, setting, typed);
        if (fault != NULL && fault->status == status && fault->setting == setting) {
            fault->number[0] = typed.length < INT32_MAX ? (int32_t)typed.length : INT32_MAX;
            fault->number[1] = setting->length;
        }
        return status;
    }
    value->text = typed.at;
    value->length = (uint16_t)typed.length;
    return VD_OK;
}

vd_status vd_value_parse(const vd_setting *setting, const char *text, size_t length, vd_value *value, vd_fault *fault)
{
    static vd_status (*const parsers[VD_TYPE_COUNT])(const vd_setting *, span, vd_value *, vd_fault *) = {
        [VD_INTEGER] = parse_number, [VD_DECIMAL] = parse_number, [VD_TRUTH] = parse_truth,
        [VD_CHOICE] = parse_choice,  [VD_TEXT] = parse_text,      [VD_DURATION] = parse_duration,
    };
    span typed = trimmed(text, length);
    *value = (vd_value){.type = setting->type};
    if (typed.length == 0 && setting->type != VD_TEXT) {
        return note_typed(fault, VD_EMPTY, setting, typed);
    }
    vd_status status = parsers[setting->type](setting, typed, value, fault);
    if (status != VD_OK) {
        *value = (vd_value){.type = VD_NOTHING};
    }
    return status;
}
