/* SPDX-License-Identifier: MIT
 * Numbers: integers, decimals, durations, ports; ranges and steps. */
#include "value.h"

static void print_measure(const char *measure, vd_writer *writer)
{
    if (measure[0] != '\0') {
        vd_writer_add(writer, " ");
        vd_writer_add(writer, measure);
    }
}

/* The unit of measure that was typed; NULL: none that the setting has, or can be like. */
static const char *take_measure(const vd_setting *setting, vd_span typed)
{
    for (uint16_t i = 0; i < setting->like_count; i++) {
        if (vd_measure_matches(setting->like[i].of, typed)) {
            return setting->like[i].of->measure;
        }
    }
    return vd_measure_matches(setting, typed) ? setting->measure : NULL;
}

static vd_status parse_number(const vd_setting *setting, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_value *value = &into->value;
    size_t digits = 0;
    size_t taken = vd_take_number(typed, value, &digits);
    if (taken == 0) {
        return vd_fault_note_typed(fault, VD_NOT_A_NUMBER, setting, typed);
    }
    vd_span measure = vd_trimmed((vd_span){typed.at + taken, typed.length - taken});
    const char *named = measure.length > 0 ? take_measure(setting, measure) : NULL;
    if (measure.length > 0 && named == NULL) {
        /* "1.234.5" and "12abc" are no numbers; "12 kg" is one, in a unit of measure. */
        bool broken = vd_is_digit(measure.at[0]) || measure.at[0] == '.' || measure.at[0] == ',';
        return vd_fault_note_typed(fault, broken ? VD_NOT_A_NUMBER : VD_WRONG_MEASURE, setting, typed);
    }
    if (digits > VD_MOST_DIGITS) {
        return vd_fault_note_typed(fault, VD_TOO_MANY_DIGITS, setting, typed);
    }
    value->measure = setting->like_count > 0 ? named : NULL;
    if (!vd_setting_is(setting, VD_TYPE_PLACED)) {
        for (; value->places > 0; value->places--) {
            if (value->number % 10 != 0) {
                return vd_fault_note_typed(fault, VD_OFF_STEP, setting, typed);
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

static vd_status parse_duration(const vd_setting *setting, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_span rest = typed;
    int64_t total = 0, previous = INT64_MAX;
    bool negative = vd_take_sign(&rest);
    while (rest.length > 0) {
        vd_value part;
        size_t digits = 0;
        size_t taken = vd_is_digit(rest.at[0]) ? vd_take_number(rest, &part, &digits) : 0; /* one sign is for all */
        if (taken == 0) {
            return vd_fault_note_typed(fault, VD_NOT_A_DURATION, setting, typed);
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
            return zero ? VD_OK : vd_fault_note_typed(fault, status, setting, typed);
        }
        if (unit >= previous) { /* "10 min 2 h" is more likely a slip than meant */
            return vd_fault_note_typed(fault, VD_NOT_A_DURATION, setting, typed);
        }
        previous = unit;
        int64_t divisor = 1;
        if (digits > 12 || !vd_scale_up(&divisor, part.places) || part.number > INT64_MAX / unit ||
            part.number * unit > INT64_MAX / 8) {
            return vd_fault_note_typed(fault, VD_TOO_MANY_DIGITS, setting, typed);
        }
        if (part.number * unit % divisor != 0) {
            return vd_fault_note_typed(fault, VD_OFF_STEP, setting, typed);
        }
        total += part.number * unit / divisor;
        rest = vd_trimmed((vd_span){rest.at + word, rest.length - word});
    }
    if (previous == INT64_MAX) { /* a sign and nothing behind it */
        return vd_fault_note_typed(fault, VD_NOT_A_DURATION, setting, typed);
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

static void print_count(const vd_setting *setting, int64_t count, unsigned places, vd_writer *writer)
{
    vd_value value = vd_value_from_count(setting, count, places);
    vd_value_print(setting, &value, writer);
}

void vd_print_range(const vd_setting *setting, unsigned places, vd_writer *writer)
{
    if (setting->min == setting->max) {
        print_count(setting, setting->min, places, writer);
        vd_writer_add(writer, ", the only value that it may have");
        return;
    }
    if (vd_setting_is(setting, VD_TYPE_MEASURED)) { /* the unit of measure once, after the upper end */
        vd_writer_add_decimal(writer, vd_value_from_count(setting, setting->min, places).number, places);
    } else {
        print_count(setting, setting->min, places, writer);
    }
    vd_writer_add(writer, " to ");
    print_count(setting, setting->max, places, writer);
    bool whole = !vd_setting_is(setting, VD_TYPE_PLACED) ||
                 (setting->traits->id == VD_COUNTER && setting->places == 0 && setting->scale <= 1);
    bool finest = setting->step == 1 && !vd_setting_is(setting, VD_TYPE_TICKED) && whole;
    if (finest || setting->traits->id == VD_DATE_TIME || setting->traits->id == VD_CLOCK) {
        return;
    }
    vd_writer_add(writer, " in steps of ");
    switch ((vd_type)setting->traits->id) {
    case VD_TIME_OF_DAY: vd_print_duration(setting->step * setting->tick * 1000, writer); break;
    case VD_ZONE: vd_print_duration(setting->step * setting->tick * 60000, writer); break;
    default: {
        vd_value step = vd_distance_from_counts(setting, setting->step, places);
        vd_value_print(setting, &step, writer);
        break;
    }
    }
}

static void allow_decimal(const vd_setting *setting, unsigned places, vd_writer *writer)
{
    if (setting->like_count > 0 && setting->measure[0] == '\0') { /* what it is like is not known here */
        for (uint16_t i = 0; i < setting->like_count; i++) {
            const vd_setting *of = setting->like[i].of;
            vd_writer_add(writer, i > 0 ? " or " : "");
            vd_print_range(of, of->places, writer);
        }
    } else if (places != VD_NONE) {
        vd_print_range(setting, places, writer);
    } else {
        vd_writer_add(writer, "a number");
        vd_writer_add(writer, setting->measure[0] != '\0' ? " in" : "");
        print_measure(setting->measure, writer);
    }
}

static void allow_integer(const vd_setting *setting, unsigned places, vd_writer *writer)
{
    (void)places;
    vd_print_range(setting, 0, writer);
}

/* The fault of a value between two counts names both neighbours, as far as they are in range. */
static vd_status note_between(vd_fault *fault, const vd_setting *setting, const vd_value *value, unsigned places,
                              int64_t below)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said);
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed);
    vd_value_show(setting, value, &to_said);
    print_count(setting, below, places, &to_allowed);
    vd_writer_add(&to_allowed, " and ");
    print_count(setting, below > INT64_MAX - setting->step ? below : below + setting->step, places, &to_allowed);
    return vd_note_OFF_STEP(fault, setting, said, allowed);
}

vd_status vd_value_to_count(const vd_setting *setting, const vd_value *value, unsigned places, int64_t *count,
                            vd_fault *fault)
{
    bool exact = false;
    if (!vd_count_at_or_below(setting, value, places, count, &exact)) {
        return vd_fault_note_value(fault, VD_OUT_OF_RANGE, setting, value, places);
    }
    return exact ? VD_OK : note_between(fault, setting, value, places, *count);
}

vd_status vd_check_ranged(const vd_setting *setting, const vd_value *value, unsigned places, vd_fault *fault)
{
    int64_t count = 0;
    bool exact = false;
    bool named = value->measure != NULL;
    if (setting->like_count > 0 && setting->measure[0] != '\0' &&
        !(named && vd_same_text(value->measure, setting->measure))) {
        vd_value said = *value;
        said.measure = named ? value->measure : ""; /* as it was typed */
        return vd_fault_note_value(fault, named ? VD_WRONG_MEASURE : VD_MEASURE_BARE, setting, &said, places);
    }
    if (!vd_count_at_or_below(setting, value, places, &count, &exact) || count < setting->min || count > setting->max ||
        (count == setting->max && !exact)) {
        return vd_fault_note_value(fault, VD_OUT_OF_RANGE, setting, value, places);
    }
    /* Unsigned: from the least to the largest number it is further than a signed one reaches. */
    int64_t over = (int64_t)(((uint64_t)count - (uint64_t)setting->min) % (uint64_t)setting->step);
    return over == 0 && exact ? VD_OK : note_between(fault, setting, value, places, count - over);
}

vd_status vd_check_nothing(const vd_setting *setting, const vd_value *value, unsigned places, vd_fault *fault)
{
    (void)setting, (void)value, (void)places, (void)fault;
    return VD_OK;
}

const vd_type_words vd_words_integer = {"integer", "whole number", parse_number, print_number, allow_integer, NULL};
const vd_type_words vd_words_counter = {"counter", "counter", parse_number, print_number, allow_decimal, NULL};
const vd_type_words vd_words_port = {"port", "port number", parse_number, print_number, allow_integer, NULL};
const vd_type_words vd_words_decimal = {"decimal", "decimal", parse_number, print_number, allow_decimal, NULL};
const vd_type_words vd_words_duration = {"duration", "duration", parse_duration, print_duration, allow_integer, NULL};
