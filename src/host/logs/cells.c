/* SPDX-License-Identifier: MIT
 * What the cells of a log say: times, numbers, states. */
#include "parts.h"

#include <string.h>

static bool take_digits(const char **at, const char *end, int digits, int *number)
{
    *number = 0;
    for (int i = 0; i < digits; i++, (*at)++) {
        if (*at >= end || !g_ascii_isdigit(**at)) {
            return false;
        }
        *number = *number * 10 + (**at - '0');
    }
    return true;
}

static bool take_sign(const char **at, const char *end, char sign)
{
    bool there = *at < end && **at == sign;
    *at += there;
    return there;
}

/* Z, or +hh:mm, +hhmm, +hh. */
static bool take_offset(const char **at, const char *end, int16_t *zone)
{
    int hours = 0, minutes = 0;
    if (take_sign(at, end, 'Z') || take_sign(at, end, 'z')) {
        *zone = 0;
        return true;
    }
    bool west = take_sign(at, end, '-');
    if (!west && !take_sign(at, end, '+')) {
        return false;
    }
    if (!take_digits(at, end, 2, &hours)) {
        return false;
    }
    bool colon = take_sign(at, end, ':');
    if ((colon || *at < end) && !take_digits(at, end, 2, &minutes)) {
        return false;
    }
    *zone = (int16_t)((west ? -1 : 1) * (hours * 60 + minutes));
    return hours <= 14 && minutes < 60;
}

static bool take_date(const char **at, const char *end, int64_t *days)
{
    int year = 0, month = 0, day = 0;
    if (!take_digits(at, end, 4, &year) || !take_sign(at, end, '-') || !take_digits(at, end, 2, &month) ||
        !take_sign(at, end, '-') || !take_digits(at, end, 2, &day) || year < 1970 ||
        !g_date_valid_dmy((GDateDay)day, (GDateMonth)month, (GDateYear)year)) {
        return false;
    }
    GDate date, epoch;
    g_date_clear(&date, 1);
    g_date_clear(&epoch, 1);
    g_date_set_dmy(&date, (GDateDay)day, (GDateMonth)month, (GDateYear)year);
    g_date_set_dmy(&epoch, 1, G_DATE_JANUARY, 1970);
    *days = (int64_t)g_date_get_julian(&date) - (int64_t)g_date_get_julian(&epoch);
    return true;
}

vd_time_kind record_time(record_day *known, const char *text, size_t length, int16_t *zone, int64_t *milliseconds)
{
    const char *at = text, *end = text + length;
    int hour = 0, minute = 0, second = 0, fraction = 0;
    if (length < 16) {
        return VD_TIME_WRONG;
    }
    if (memcmp(known->text, text, sizeof known->text) != 0) { /* most rows are of the day of the one before */
        if (!take_date(&at, end, &known->days)) {
            return VD_TIME_WRONG;
        }
        memcpy(known->text, text, sizeof known->text);
    }
    at = text + sizeof known->text;
    if ((!take_sign(&at, end, 'T') && !take_sign(&at, end, 't') && !take_sign(&at, end, ' ')) ||
        !take_digits(&at, end, 2, &hour) || !take_sign(&at, end, ':') || !take_digits(&at, end, 2, &minute)) {
        return VD_TIME_WRONG;
    }
    if (take_sign(&at, end, ':') && !take_digits(&at, end, 2, &second)) {
        return VD_TIME_WRONG;
    }
    if (take_sign(&at, end, '.') || take_sign(&at, end, ',')) {
        int digits = 0;
        for (; at < end && g_ascii_isdigit(*at); at++, digits++) {
            fraction = digits < 3 ? fraction * 10 + (*at - '0') : fraction;
        }
        if (digits == 0) {
            return VD_TIME_WRONG;
        }
        for (; digits < 3; digits++) {
            fraction *= 10;
        }
    }
    while (take_sign(&at, end, ' ')) {
    }
    if (at < end && !take_offset(&at, end, zone)) {
        return VD_TIME_WRONG;
    }
    if (at != end || hour > 24 || minute > 59 || second > 59 || (hour == 24 && (minute > 0 || second > 0))) {
        return VD_TIME_WRONG;
    }
    if (*zone == VD_NO_ZONE) {
        return VD_TIME_WITHOUT_ZONE;
    }
    *milliseconds = ((known->days * 24 + hour) * 60 + minute - *zone) * 60000 + second * 1000 + fraction;
    return VD_TIME_FINE;
}

vd_time_kind vd_time_parse(const char *text, size_t length, int16_t *zone, int64_t *milliseconds)
{
    record_day none = {.text = ""};
    return record_time(&none, text, length, zone, milliseconds);
}

/* ---- Values ---- */

static bool is_digit(char c)
{
    return (unsigned char)(c - '0') < 10;
}

bool record_number(const char *text, size_t length, unsigned places, int64_t *number)
{
#define POWER(power)                                                                                                   \
    {                                                                                                                  \
        power, INT64_MAX / 4 / (power)                                                                                 \
    }
    static const struct {
        int64_t power;
        uint64_t most; /* that fits once it is multiplied */
    } powers[] = {POWER(1),      POWER(10),      POWER(100),      POWER(1000),      POWER(10000),
                  POWER(100000), POWER(1000000), POWER(10000000), POWER(100000000), POWER(1000000000)};
#undef POWER
    const char *at = text, *end = text + length;
    bool minus = at < end && *at == '-';
    uint64_t value = 0;
    unsigned behind = 0, digits = 0;
    at += minus || (at < end && *at == '+');
    for (; at < end && is_digit(*at) && digits < 18; at++, digits++) {
        value = value * 10 + (uint64_t)(*at - '0');
    }
    if (at < end && (*at == '.' || *at == ',')) {
        for (at++; at < end && is_digit(*at); at++, digits++) {
            if (behind < places && digits < 18) { /* what is finer is cut off */
                value = value * 10 + (uint64_t)(*at - '0');
                behind++;
            }
        }
    }
    unsigned lacking = places - behind;
    if (at != end || digits == 0 || lacking > 9 || value > powers[lacking].most) {
        return false;
    }
    *number = minus ? -(int64_t)value * powers[lacking].power : (int64_t)value * powers[lacking].power;
    return true;
}

bool record_is_nothing(const char *text, size_t length)
{
    static const char *const words[] = {"nan", "null", "n/a", "na", "-", "none"};
    for (size_t i = 0; i < G_N_ELEMENTS(words); i++) {
        if (strlen(words[i]) == length && g_ascii_strncasecmp(words[i], text, length) == 0) {
            return true;
        }
    }
    return length == 0;
}

bool record_state(const vd_model *model, uint16_t channel, const char *text, size_t length, int64_t *state)
{
    static const char *const spellings[][2] = {{"on", "off"}, {"1", "0"}, {"true", "false"}, {"yes", "no"}};
    if (vd_channel_state(model, channel, text, length, state)) {
        return true;
    }
    int64_t on = 0;
    for (size_t i = 0; i < G_N_ELEMENTS(spellings) * 2; i++) {
        const char *word = spellings[i / 2][i % 2];
        if (strlen(word) == length && g_ascii_strncasecmp(word, text, length) == 0) {
            return vd_channel_state(model, channel, i % 2 == 0 ? "on" : "off", i % 2 == 0 ? 2 : 3, &on) &&
                   (*state = on, true);
        }
    }
    *state = RECORD_OTHER_STATE;
    return false;
}
