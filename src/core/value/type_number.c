/* SPDX-License-Identifier: MIT
 * Numbers: integers, decimals, durations, ports; ranges and steps. */
#include "value_parts.h"

static void print_measure(const char *measure, vd_writer *writer)
{
    if (measure[0] != '\0') {
        vd_writer_add(writer, " ");
        vd_writer_add(writer, measure);
    }
}

/* The unit of measure that was typed; NULL: none that the setting has, or can be like. */
static const char *take_measure(const vd_meaning *meaning, vd_span typed)
{
    for (uint16_t i = 0; i < meaning->of->like_count; i++) {
        const vd_setting *of = meaning->of->like[i].of;
        if (vd_measure_matches(of->measure, of->spellings, typed)) {
            return of->measure;
        }
    }
    return vd_measure_matches(meaning->measure, meaning->spellings, typed) ? meaning->measure : NULL;
}

static vd_status parse_number(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_value *value = &into->value;
    size_t digits = 0;
    size_t taken = vd_take_number(typed, value, &digits);
    if (taken == 0) {
        return vd_fault_note_typed(fault, VD_NOT_A_NUMBER, meaning, typed);
    }
    vd_span measure = vd_trimmed((vd_span){typed.at + taken, typed.length - taken});
    const char *named = measure.length > 0 ? take_measure(meaning, measure) : NULL;
    if (measure.length > 0 && named == NULL) {
        /* "1.234.5" and "12abc" are no numbers; "12 kg" is one, in a unit of measure. */
        bool broken = vd_is_digit(measure.at[0]) || measure.at[0] == '.' || measure.at[0] == ',';
        return vd_fault_note_typed(fault, broken ? VD_NOT_A_NUMBER : VD_WRONG_MEASURE, meaning, typed);
    }
    if (digits > VD_MOST_DIGITS) {
        return vd_fault_note_typed(fault, VD_TOO_MANY_DIGITS, meaning, typed);
    }
    value->measure = meaning->of->like_count > 0 ? named : NULL;
    if (!vd_setting_is(meaning->of, VD_TYPE_PLACED)) {
        for (; value->places > 0; value->places--) {
            if (value->number % 10 != 0) {
                return vd_fault_note_typed(fault, VD_OFF_STEP, meaning, typed);
            }
            value->number /= 10;
        }
    }
    return VD_OK;
}

static void print_number(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    vd_writer_add_decimal(writer, value->number, value->places);
    print_measure(value->measure != NULL ? value->measure : setting->measure, writer);
}

static vd_status parse_duration(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_span rest = typed;
    int64_t total = 0, previous = INT64_MAX;
    bool negative = vd_take_sign(&rest);
    while (rest.length > 0) {
        vd_value part;
        size_t digits = 0;
        size_t taken = vd_is_digit(rest.at[0]) ? vd_take_number(rest, &part, &digits) : 0; /* one sign is for all */
        if (taken == 0) {
            return vd_fault_note_typed(fault, VD_NOT_A_DURATION, meaning, typed);
        }
        rest = vd_trimmed((vd_span){rest.at + taken, rest.length - taken});
        size_t word = 0;
        while (word < rest.length && !vd_is_digit(rest.at[word]) && !vd_is_blank(rest.at[word])) {
            word++;
        }
        int64_t unit = vd_time_unit_find(rest.at, word);
        if (unit == 0) {
            bool zero = word == 0 && rest.length == 0 && part.number == 0 && previous == INT64_MAX && !negative;
            vd_status status = word > 0 ? VD_NOT_A_DURATION : VD_MEASURE_MISSING;
            return zero ? VD_OK : vd_fault_note_typed(fault, status, meaning, typed);
        }
        if (unit >= previous) { /* "10 min 2 h" is more likely a slip than meant */
            return vd_fault_note_typed(fault, VD_NOT_A_DURATION, meaning, typed);
        }
        previous = unit;
        int64_t divisor = 1;
        if (digits > 12 || !vd_scale_up(&divisor, part.places) || part.number > INT64_MAX / unit ||
            part.number * unit > INT64_MAX / 8) {
            return vd_fault_note_typed(fault, VD_TOO_MANY_DIGITS, meaning, typed);
        }
        if (part.number * unit % divisor != 0) {
            return vd_fault_note_typed(fault, VD_OFF_STEP, meaning, typed);
        }
        total += part.number * unit / divisor;
        rest = vd_trimmed((vd_span){rest.at + word, rest.length - word});
    }
    if (previous == INT64_MAX) { /* a sign and nothing behind it */
        return vd_fault_note_typed(fault, VD_NOT_A_DURATION, meaning, typed);
    }
    into->value.number = negative ? -total : total;
    return VD_OK;
}

void vd_print_duration(int64_t signed_milliseconds, vd_writer *writer)
{
    bool any = false;
    if (signed_milliseconds == 0) {
        vd_writer_add(writer, "0 s");
        return;
    }
    vd_writer_add(writer, signed_milliseconds < 0 ? "-" : "");
    /* The least number has no opposite; its millisecond more or less is beyond any duration. */
    int64_t milliseconds = signed_milliseconds < -INT64_MAX ? INT64_MAX
                           : signed_milliseconds < 0        ? -signed_milliseconds
                                                            : signed_milliseconds;
    for (unsigned i = 0; i < VD_TIME_UNITS && milliseconds > 0; i++) {
        const vd_time_unit *unit = &vd_time_units[i];
        if (milliseconds < unit->milliseconds) {
            continue;
        }
        vd_writer_add(writer, any ? " " : "");
        any = true;
        /* From a second up, milliseconds are shown as decimals of the second. */
        unsigned places = unit->milliseconds == 1000 && milliseconds % 1000 != 0 ? 3 : 0;
        int64_t number = places > 0 ? milliseconds : milliseconds / unit->milliseconds;
        while (places > 0 && number % 10 == 0) {
            number /= 10;
            places--;
        }
        vd_writer_add_decimal(writer, number, places);
        vd_writer_add(writer, " ");
        vd_writer_add(writer, unit->name);
        milliseconds = unit->milliseconds == 1000 ? 0 : milliseconds % unit->milliseconds;
    }
}

static void print_duration(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    (void)setting;
    vd_print_duration(value->number, writer);
}

static void print_count(const vd_meaning *meaning, int64_t count, vd_writer *writer)
{
    vd_value value = vd_value_from_count(meaning, count);
    vd_value_print(meaning->of, &value, writer);
}

void vd_print_range(const vd_meaning *meaning, vd_writer *writer)
{
    if (meaning->min == meaning->max) {
        print_count(meaning, meaning->min, writer);
        vd_writer_add(writer, ", the only value that it may have");
        return;
    }
    if (vd_setting_is(meaning->of, VD_TYPE_MEASURED)) { /* the unit of measure once, after the upper end */
        vd_writer_add_decimal(writer, vd_value_from_count(meaning, meaning->min).number, meaning->places);
    } else {
        print_count(meaning, meaning->min, writer);
    }
    vd_writer_add(writer, " to ");
    print_count(meaning, meaning->max, writer);
    bool whole = !vd_setting_is(meaning->of, VD_TYPE_PLACED) ||
                 (meaning->of->traits->id == VD_COUNTER && meaning->places == 0 && meaning->scale <= 1);
    bool finest = meaning->step == 1 && !vd_setting_is(meaning->of, VD_TYPE_TICKED) && whole;
    if (finest || meaning->of->traits->id == VD_DATE_TIME || meaning->of->traits->id == VD_CLOCK) {
        return;
    }
    vd_writer_add(writer, " in steps of ");
    switch ((vd_type)meaning->of->traits->id) {
    case VD_TIME_OF_DAY: vd_print_duration(meaning->step * meaning->of->tick * 1000, writer); break;
    case VD_ZONE: vd_print_duration(meaning->step * meaning->of->tick * 60000, writer); break;
    default: {
        vd_value step = vd_distance_from_counts(meaning, meaning->step);
        vd_value_print(meaning->of, &step, writer);
        break;
    }
    }
}

static void allow_decimal(const vd_meaning *meaning, vd_writer *writer)
{
    if (meaning->of->like_count > 0 && meaning->measure[0] == '\0') { /* what it is like is not known here */
        for (uint16_t i = 0; i < meaning->of->like_count; i++) {
            const vd_meaning of = vd_setting_meaning(meaning->of->like[i].of);
            vd_writer_add(writer, i > 0 ? " or " : "");
            vd_print_range(&of, writer);
        }
    } else if (meaning->places_known) {
        vd_print_range(meaning, writer);
    } else {
        vd_writer_add(writer, "a number");
        vd_writer_add(writer, meaning->measure[0] != '\0' ? " in" : "");
        print_measure(meaning->measure, writer);
    }
}

static void allow_integer(const vd_meaning *meaning, vd_writer *writer)
{
    vd_print_range(meaning, writer);
}

/* The fault of a value between two counts names both neighbours, as far as they are in range. */
static vd_status note_between(vd_fault *fault, const vd_meaning *meaning, const vd_value *value, int64_t below)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said);
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed);
    vd_value_show(meaning->of, value, &to_said);
    print_count(meaning, below, &to_allowed);
    vd_writer_add(&to_allowed, " and ");
    print_count(meaning, below > INT64_MAX - meaning->step ? below : below + meaning->step, &to_allowed);
    return vd_note_OFF_STEP(fault, meaning->of, said, allowed);
}

vd_status vd_value_to_count(const vd_meaning *meaning, const vd_value *value, int64_t *count, vd_fault *fault)
{
    bool exact = false;
    if (!vd_count_at_or_below(meaning, value, count, &exact)) {
        return vd_fault_note_value(fault, VD_OUT_OF_RANGE, meaning, value);
    }
    return exact ? VD_OK : note_between(fault, meaning, value, *count);
}

vd_status vd_check_ranged(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    int64_t count = 0;
    bool exact = false;
    bool named = value->measure != NULL;
    if (meaning->of->like_count > 0 && meaning->measure[0] != '\0' &&
        !(named && vd_same_text(value->measure, meaning->measure))) {
        vd_value said = *value;
        said.measure = named ? value->measure : ""; /* as it was typed */
        return vd_fault_note_value(fault, named ? VD_WRONG_MEASURE : VD_MEASURE_BARE, meaning, &said);
    }
    if (!vd_count_at_or_below(meaning, value, &count, &exact) || count < meaning->min || count > meaning->max ||
        (count == meaning->max && !exact)) {
        return vd_fault_note_value(fault, VD_OUT_OF_RANGE, meaning, value);
    }
    /* Unsigned: from the least to the largest number it is further than a signed one reaches. */
    int64_t over = (int64_t)(((uint64_t)count - (uint64_t)meaning->min) % (uint64_t)meaning->step);
    return over == 0 && exact ? VD_OK : note_between(fault, meaning, value, count - over);
}

vd_status vd_check_nothing(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    (void)meaning, (void)value, (void)fault;
    return VD_OK;
}

const vd_type_words vd_words_integer = {"integer", "whole number", parse_number, print_number, allow_integer, NULL};
const vd_type_words vd_words_counter = {"counter", "counter", parse_number, print_number, allow_decimal, NULL};
const vd_type_words vd_words_port = {"port", "port number", parse_number, print_number, allow_integer, NULL};
const vd_type_words vd_words_decimal = {"decimal", "decimal", parse_number, print_number, allow_decimal, NULL};
const vd_type_words vd_words_duration = {"duration", "duration", parse_duration, print_duration, allow_integer, NULL};
