/* SPDX-License-Identifier: MIT
 * Units of measure and of time, and the ways in which people type them. */
#include "value.h"

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
