/* SPDX-License-Identifier: MIT
 * Units of measure and of time, and the ways in which people type them. */
#include "../expression/expression.h"

#include <string.h>

static bool same(const char *name, const char *typed, size_t length)
{
    return strlen(name) == length && memcmp(name, typed, length) == 0;
}

/* Other spellings than the sign itself. Case is kept apart where it carries meaning (m and M, s and S). */
static const struct {
    const char *measure, *spelling;
} spellings[] = {
    {"°C", "C"},  {"°C", "degC"}, {"°C", "℃"},        {"°C", "° C"},    {"°F", "F"},     {"°F", "degF"},
    {"kg", "Kg"}, {"kg", "KG"},   {"kg", "kilogram"}, {"%", "percent"}, {"% RH", "%RH"}, {"% RH", "%"},
    {"V", "v"},   {"V", "volt"},  {"V", "Volt"},      {"Hz", "hz"},     {"µs", "us"},    {"µs", "μs"},
    {"Ω", "Ohm"}, {"Ω", "ohm"},   {"km/h", "kph"},    {"°", "deg"},     {"dBm", "dbm"},
};

bool vd_measure_matches(const char *measure, const char *typed, size_t length)
{
    if (same(measure, typed, length)) {
        return true;
    }
    for (size_t i = 0; i < sizeof spellings / sizeof spellings[0]; i++) {
        if (same(spellings[i].measure, measure, strlen(measure)) && same(spellings[i].spelling, typed, length)) {
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
        if (same(units[i].name, typed, length)) {
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
/* Temperatures in degrees Celsius and differences between them share a sign, so they share a base. */
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
    {"Ah", OF(0, 0, 1, 1, 0, 0), {3600, 1}},
    {"mAh", OF(0, 0, 1, 1, 0, 0), {18, 5}},
    {"V", OF(2, 1, -3, -1, 0, 0), {1, 1}},
    {"mV", OF(2, 1, -3, -1, 0, 0), {1, 1000}},
    {"W", OF(2, 1, -3, 0, 0, 0), {1, 1}},
    {"mW", OF(2, 1, -3, 0, 0, 0), {1, 1000}},
    {"Ω", OF(2, 1, -3, -2, 0, 0), {1, 1}},
    {"N", OF(1, 1, -2, 0, 0, 0), {1, 1}},
    {"Pa", OF(-1, 1, -2, 0, 0, 0), {1, 1}},
    {"bar", OF(-1, 1, -2, 0, 0, 0), {100000, 1}},
    {"°C", OF(0, 0, 0, 0, 1, 0), {1, 1}},
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

vd_measure vd_measure_find(const char *sign)
{
    for (size_t i = 0; i < MEASURES; i++) {
        if (vd_same_text(measures[i].sign, sign)) {
            return measures[i];
        }
    }
    return (vd_measure){.sign = sign, .dimension = {.own = sign[0] != '\0' ? sign : NULL}, .scale = {1, 1}};
}

size_t vd_measure_at(const char *text, size_t length, const char **sign)
{
    size_t longest = 0;
    for (size_t i = 0; i < MEASURES; i++) {
        size_t size = strlen(measures[i].sign);
        bool whole = size >= length || (!vd_is_letter(text[size]) && text[size] != '/');
        if (size <= length && size > longest && whole && memcmp(measures[i].sign, text, size) == 0) {
            longest = size;
            *sign = measures[i].sign;
        }
    }
    return longest;
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
