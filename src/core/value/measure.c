/* SPDX-License-Identifier: MIT
 * Units of measure and of time, and the ways in which people type them. */
#include "exact.h"
#include "value_parts.h"

#include "verdite/text.h"

#include <string.h>

/* Other spellings than the sign itself. Case is kept apart where it carries meaning (m and M, s and S). */
static const struct {
    const char *measure, *spelling;
} spellings[] = {
    {"°C", "C"},     {"°C", "degC"}, {"°C", "deg C"}, {"°F", "deg F"}, {"°C", "℃"},        {"°C", "° C"},
    {"°F", "F"},     {"°F", "degF"}, {"kg", "Kg"},    {"kg", "KG"},    {"kg", "kilogram"}, {"%", "percent"},
    {"% RH", "%RH"}, {"% RH", "%"},  {"V", "v"},      {"V", "volt"},   {"V", "Volt"},      {"Hz", "hz"},
    {"µs", "us"},    {"µs", "μs"},   {"Ω", "Ohm"},    {"Ω", "ohm"},    {"km/h", "kph"},    {"°", "deg"},
    {"dBm", "dbm"},  {"K", "°C"},    {"K", "C"},
};

static size_t word_length(const char *texts)
{
    size_t length = 0;
    while (texts[length] != '\0' && texts[length] != ' ') {
        length++;
    }
    return length;
}

/* Whether a text stands among several with blanks between. */
static bool among(const char *texts, vd_span typed)
{
    while (texts != NULL && *texts != '\0') {
        size_t length = word_length(texts);
        if (length == typed.length && memcmp(texts, typed.at, length) == 0) {
            return true;
        }
        texts += length + (texts[length] == ' ');
    }
    return false;
}

bool vd_measure_matches(const char *measure, const char *others, vd_span typed)
{
    if (vd_text_is(typed.at, typed.length, measure) || among(others, typed)) {
        return true;
    }
    for (size_t i = 0; i < sizeof spellings / sizeof spellings[0]; i++) {
        if (vd_same_text(spellings[i].measure, measure) && vd_text_is(typed.at, typed.length, spellings[i].spelling)) {
            return true;
        }
    }
    return false;
}

const vd_time_unit vd_time_units[VD_TIME_UNITS] = {
    {"d", 86400000}, {"h", 3600000}, {"min", 60000}, {"s", 1000}, {"ms", 1}};

static const vd_time_unit time_spellings[] = {
    {"day", 86400000}, {"days", 86400000}, {"hr", 3600000}, {"hour", 3600000}, {"hours", 3600000}, {"mins", 60000},
    {"minute", 60000}, {"minutes", 60000}, {"sec", 1000},   {"secs", 1000},    {"second", 1000},   {"seconds", 1000},
};

static int64_t find(const vd_time_unit *units, size_t count, const char *typed, size_t length)
{
    for (size_t i = 0; i < count; i++) {
        if (vd_text_is(typed, length, units[i].name)) {
            return units[i].milliseconds;
        }
    }
    return 0;
}

int64_t vd_time_unit_find(const char *typed, size_t length)
{
    int64_t found = find(vd_time_units, VD_TIME_UNITS, typed, length);
    return found != 0 ? found : find(time_spellings, sizeof time_spellings / sizeof time_spellings[0], typed, length);
}

/* ---- What units measure ---- */

#define OF(metre, kilogram, second, ampere, celsius, byte)                                                             \
    {                                                                                                                  \
        {metre, kilogram, second, ampere, celsius, byte}, NULL                                                         \
    }
/* Temperatures and the differences between them share a base, whichever sign a model gives the differences: K is
 * theirs, and no temperature is told in it. */
static const vd_measure measures[] = {
    {"m", OF(1, 0, 0, 0, 0, 0), {1, 1}},
    {"mm", OF(1, 0, 0, 0, 0, 0), {1, 1000}},
    {"cm", OF(1, 0, 0, 0, 0, 0), {1, 100}},
    {"km", OF(1, 0, 0, 0, 0, 0), {1000, 1}},
    {"kg", OF(0, 1, 0, 0, 0, 0), {1, 1}},
    {"g", OF(0, 1, 0, 0, 0, 0), {1, 1000}},
    {"t", OF(0, 1, 0, 0, 0, 0), {1000, 1}},
    {"s", OF(0, 0, 1, 0, 0, 0), {1, 1}},
    {"ms", OF(0, 0, 1, 0, 0, 0), {1, 1000}},
    {"µs", OF(0, 0, 1, 0, 0, 0), {1, 1000000}},
    {"min", OF(0, 0, 1, 0, 0, 0), {60, 1}},
    {"h", OF(0, 0, 1, 0, 0, 0), {3600, 1}},
    {"d", OF(0, 0, 1, 0, 0, 0), {86400, 1}},
    {"Hz", OF(0, 0, -1, 0, 0, 0), {1, 1}},
    {"kHz", OF(0, 0, -1, 0, 0, 0), {1000, 1}},
    {"A", OF(0, 0, 0, 1, 0, 0), {1, 1}},
    {"mA", OF(0, 0, 0, 1, 0, 0), {1, 1000}},
    {"µA", OF(0, 0, 0, 1, 0, 0), {1, 1000000}},
    {"As", OF(0, 0, 1, 1, 0, 0), {1, 1}},
    {"mAs", OF(0, 0, 1, 1, 0, 0), {1, 1000}},
    {"Ah", OF(0, 0, 1, 1, 0, 0), {3600, 1}},
    {"mAh", OF(0, 0, 1, 1, 0, 0), {18, 5}},
    {"V", OF(2, 1, -3, -1, 0, 0), {1, 1}},
    {"mV", OF(2, 1, -3, -1, 0, 0), {1, 1000}},
    {"W", OF(2, 1, -3, 0, 0, 0), {1, 1}},
    {"mW", OF(2, 1, -3, 0, 0, 0), {1, 1000}},
    {"kW", OF(2, 1, -3, 0, 0, 0), {1000, 1}},
    {"Wh", OF(2, 1, -2, 0, 0, 0), {3600, 1}},
    {"kWh", OF(2, 1, -2, 0, 0, 0), {3600000, 1}},
    {"Ω", OF(2, 1, -3, -2, 0, 0), {1, 1}},
    {"N", OF(1, 1, -2, 0, 0, 0), {1, 1}},
    {"Pa", OF(-1, 1, -2, 0, 0, 0), {1, 1}},
    {"kPa", OF(-1, 1, -2, 0, 0, 0), {1000, 1}},
    {"mbar", OF(-1, 1, -2, 0, 0, 0), {100, 1}},
    {"bar", OF(-1, 1, -2, 0, 0, 0), {100000, 1}},
    {"°C", OF(0, 0, 0, 0, 1, 0), {1, 1}},
    {"K", OF(0, 0, 0, 0, 1, 0), {1, 1}},
    {"km/h", OF(1, 0, -1, 0, 0, 0), {5, 18}},
    {"m/s", OF(1, 0, -1, 0, 0, 0), {1, 1}},
    {"B", OF(0, 0, 0, 0, 0, 1), {1, 1}},
    {"kB", OF(0, 0, 0, 0, 0, 1), {1000, 1}},
    {"MB", OF(0, 0, 0, 0, 0, 1), {1000000, 1}},
    {"bit/s", OF(0, 0, -1, 0, 0, 1), {1, 8}},
    {"%", {{0}, "%"}, {1, 1}},
    {"°", {{0}, "°"}, {1, 1}},
    {"dBm", {{0}, "dBm"}, {1, 1}},
    {"°F", {{0}, "°F"}, {1, 1}},
    {"% RH", {{0}, "% RH"}, {1, 1}},
};
#define MEASURES (sizeof measures / sizeof measures[0])

static const vd_measure *find_known(const char *sign)
{
    for (size_t i = 0; i < MEASURES; i++) {
        if (vd_same_text(measures[i].sign, sign)) {
            return &measures[i];
        }
    }
    return NULL;
}

const char *vd_own_measure_wrong(const vd_own_measure *measure)
{
    vd_ratio factor;
    if (measure->sign[0] == '\0' || !vd_text_is_measure(measure->sign)) {
        return "a unit of measure, with no digit in front and without # : , ; quotation marks and brackets";
    }
    if (find_known(measure->sign) != NULL) {
        return "a unit of measure of its own: every model has this one";
    }
    if (measure->of[0] != '\0' && find_known(measure->of) == NULL) {
        return "a multiple of a unit that every model has, such as km/h; docs/values.md lists them";
    }
    return measure->number > 0 && measure->below > 0 && vd_ratio_make(measure->number, measure->below, &factor)
               ? NULL
               : "a multiple above 0";
}

vd_measure vd_measure_find(const vd_model *model, const char *sign)
{
    const vd_measure *known = find_known(sign);
    if (known != NULL) {
        return *known;
    }
    vd_measure measure = {.sign = sign, .dimension = {.own = sign[0] != '\0' ? sign : NULL}, .scale = {1, 1}};
    for (uint8_t i = 0; i < model->measure_count; i++) {
        const vd_own_measure *own = &model->measures[i];
        known = vd_same_text(own->sign, sign) ? find_known(own->of) : NULL;
        if (known != NULL && vd_ratio_make(own->number, own->below, &measure.scale) &&
            vd_ratio_multiply(measure.scale, known->scale, &measure.scale)) {
            measure.dimension = known->dimension;
        }
    }
    return measure;
}

/* Whether a word of expressions comes next, which no unit of measure is. */
static bool is_joint(vd_span text)
{
    static const char *const words[] = {"and", "or", "in", "has"};
    for (size_t i = 0; i < sizeof words / sizeof words[0]; i++) {
        size_t size = strlen(words[i]);
        if (size <= text.length && memcmp(words[i], text.at, size) == 0 && vd_is_blank(vd_char_at(text, size))) {
            return true;
        }
    }
    return false;
}

/* The length of a sign where it stands whole at the front of a text, 0 where it does not. */
static size_t stands(const char *sign, vd_span text)
{
    size_t size = strlen(sign);
    bool whole = size >= text.length || (!vd_is_letter(text.at[size]) && text.at[size] != '/');
    return size <= text.length && whole && memcmp(sign, text.at, size) == 0 ? size : 0;
}

size_t vd_measure_at(const vd_model *model, const char *text, size_t length, const char **sign)
{
    size_t longest = 0;
    vd_span span = {text, length};
    for (size_t i = 0; i < MEASURES + model->measure_count; i++) {
        const char *one = i < MEASURES ? measures[i].sign : model->measures[i - MEASURES].sign;
        size_t size = stands(one, span);
        *sign = size > longest ? one : *sign;
        longest = size > longest ? size : longest;
    }
    /* Any other that a setting has: looked for only where something stands that could be one. */
    bool any = longest == 0 && length > 0 && !vd_has_char((vd_span){"+-*/(),<>=!}", 12}, text[0]);
    for (uint16_t i = 0; i < model->setting_count && any && !is_joint(span); i++) {
        size_t size = stands(model->settings[i].measure, span);
        *sign = size > longest ? model->settings[i].measure : *sign;
        longest = size > longest ? size : longest;
    }
    return longest;
}

static void add_power(vd_writer *writer, const char *base, int power)
{
    vd_writer_add(writer, base);
    if (power > 1) {
        vd_writer_add(writer, power == 2 ? "²" : power == 3 ? "³" : "^");
    }
    if (power > 3) {
        vd_writer_add_number(writer, power);
    }
}

void vd_dimension_print(const vd_dimension *dimension, vd_writer *writer)
{
    static const char *const bases[VD_BASES] = {"m", "kg", "s", "A", "°C", "B"};
    size_t from = writer->length;
    if (dimension->own != NULL) {
        vd_writer_add(writer, dimension->own);
    }
    for (size_t i = 0; i < VD_BASES; i++) {
        if (dimension->power[i] > 0) {
            vd_writer_add(writer, writer->length > from ? "·" : "");
            add_power(writer, bases[i], dimension->power[i]);
        }
    }
    for (size_t i = 0; i < VD_BASES; i++) {
        if (dimension->power[i] < 0) {
            vd_writer_add(writer, writer->length > from ? "/" : "1/");
            add_power(writer, bases[i], -dimension->power[i]);
        }
    }
    if (writer->length == from) {
        vd_writer_add(writer, "a bare number");
    }
}

bool vd_dimension_none(const vd_dimension *dimension)
{
    static const vd_dimension none;
    return vd_dimension_equal(dimension, &none);
}

bool vd_dimension_equal(const vd_dimension *a, const vd_dimension *b)
{
    bool own = a->own == NULL || b->own == NULL ? a->own == b->own : vd_same_text(a->own, b->own);
    return own && memcmp(a->power, b->power, sizeof a->power) == 0;
}
