/* SPDX-License-Identifier: MIT
 * Times of day, dates with a time, and time zones. */
#include "value_parts.h"

#define DAY 86400

/* Takes H:MM or H:MM:SS, seconds since midnight; false for anything else. */
static bool take_time(vd_span *rest, int64_t *seconds)
{
    uint32_t hour = 0, minute = 0, second = 0;
    unsigned digits = 0;
    if (!vd_take_whole(rest, 23, &hour, &digits) || digits > 2 || !vd_take_char(rest, ':') ||
        !vd_take_whole(rest, 59, &minute, &digits) || digits != 2) {
        return false;
    }
    if (vd_take_char(rest, ':') && (!vd_take_whole(rest, 59, &second, &digits) || digits != 2)) {
        return false;
    }
    *seconds = hour * 3600 + minute * 60 + second;
    return true;
}

static vd_status parse_time_of_day(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_span rest = typed;
    int64_t seconds = 0;
    bool fine = take_time(&rest, &seconds);
    rest = vd_trimmed(rest);
    bool morning = vd_same_word(rest, "am"), evening = vd_same_word(rest, "pm");
    if (fine && (morning || evening)) { /* 12 am is midnight, 12 pm is noon */
        fine = seconds >= 3600 && seconds < 13 * 3600;
        seconds = seconds % (DAY / 2) + (evening ? DAY / 2 : 0);
    } else if (rest.length > 0) {
        fine = false;
    }
    into->value.number = seconds;
    return fine ? VD_OK : vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
}

/* A whole number with at least two digits. */
static void print_two(int64_t number, vd_writer *writer)
{
    vd_writer_add(writer, number < 10 ? "0" : "");
    vd_writer_add_number(writer, number);
}

static void print_clock(int64_t seconds, bool always_seconds, vd_writer *writer)
{
    print_two(seconds / 3600, writer);
    vd_writer_add(writer, ":");
    print_two(seconds / 60 % 60, writer);
    if (always_seconds || seconds % 60 != 0) {
        vd_writer_add(writer, ":");
        print_two(seconds % 60, writer);
    }
}

/* A unit may hold what no clock shows. */
static void print_strange(const char *what, const vd_value *value, vd_writer *writer)
{
    vd_writer_add(writer, what);
    vd_writer_add_number(writer, value->number);
}

static void print_time_of_day(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    (void)setting;
    if (value->number < 0 || value->number >= DAY) {
        print_strange("unknown time ", value, writer);
        return;
    }
    print_clock(value->number, false, writer);
}

static void allow_time_of_day(const vd_meaning *meaning, vd_writer *writer)
{
    vd_writer_add(writer, "a time of day, ");
    vd_print_range(meaning, writer);
}

/* ---- Dates: the Gregorian calendar in cycles of 400 years, each year begun in March so that leap days come last ----
 */

static int64_t day_of_date(int64_t year, int64_t month, int64_t day)
{
    year -= month <= 2;
    int64_t cycle = (year >= 0 ? year : year - 399) / 400, in_cycle = year - cycle * 400;
    int64_t in_year = (153 * (month + (month > 2 ? -3 : 9)) + 2) / 5 + day - 1;
    return cycle * 146097 + in_cycle * 365 + in_cycle / 4 - in_cycle / 100 + in_year - 719468;
}

static void date_of_day(int64_t days, int64_t *year, int64_t *month, int64_t *day)
{
    days += 719468;
    int64_t cycle = (days >= 0 ? days : days - 146096) / 146097, in_cycle = days - cycle * 146097;
    int64_t in_years = (in_cycle - in_cycle / 1460 + in_cycle / 36524 - in_cycle / 146096) / 365;
    int64_t in_year = in_cycle - (365 * in_years + in_years / 4 - in_years / 100);
    int64_t shifted = (5 * in_year + 2) / 153;
    *day = in_year - (153 * shifted + 2) / 5 + 1;
    *month = shifted < 10 ? shifted + 3 : shifted - 9;
    *year = in_years + cycle * 400 + (*month <= 2);
}

static vd_status parse_date_time(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_span rest = typed;
    uint32_t year = 0, month = 0, day = 0;
    unsigned digits = 0;
    int64_t seconds = 0, back_year = 0, back_month = 0, back_day = 0;
    /* Year first, as ISO 8601 has it: 3/4 is March to some and April to others. */
    bool fine = vd_take_whole(&rest, 9999, &year, &digits) && digits == 4 && year >= 1000 && vd_take_char(&rest, '-') &&
                vd_take_whole(&rest, 12, &month, NULL) && vd_take_char(&rest, '-') &&
                vd_take_whole(&rest, 31, &day, NULL) && month > 0 && day > 0;
    int64_t days = fine ? day_of_date(year, month, day) : 0;
    date_of_day(days, &back_year, &back_month, &back_day);
    fine = fine && back_day == day && back_month == month; /* 30 February comes back as another day */
    if (fine && rest.length > 0) {
        fine = vd_take_char(&rest, 'T') || vd_take_char(&rest, ' ');
        rest = vd_trimmed(rest);
        fine = fine && take_time(&rest, &seconds) && rest.length == 0;
    }
    into->value.number = days * DAY + seconds;
    return fine ? VD_OK : vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
}

static void print_date_time(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    int64_t year = 0, month = 0, day = 0;
    int64_t days = value->number / DAY - (value->number % DAY < 0);
    (void)setting;
    if (days < day_of_date(1000, 1, 1) || days > day_of_date(9999, 12, 31)) {
        print_strange("unknown date ", value, writer);
        return;
    }
    date_of_day(days, &year, &month, &day);
    vd_writer_add_number(writer, year);
    vd_writer_add(writer, "-");
    print_two(month, writer);
    vd_writer_add(writer, "-");
    print_two(day, writer);
    vd_writer_add(writer, " ");
    print_clock(value->number - days * DAY, true, writer);
}

/* What time it is, or a date. */
static vd_status parse_running(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    if (vd_same_word(typed, "now")) {
        into->value.number = VD_NOW;
        return VD_OK;
    }
    return parse_date_time(meaning, typed, into, fault);
}

static void print_running(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    if (value->number == VD_NOW) {
        vd_writer_add(writer, "now");
    } else {
        print_date_time(setting, value, writer);
    }
}

vd_status vd_check_running(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    return value->number == VD_NOW ? VD_OK : vd_check_ranged(meaning, value, fault);
}

static void allow_running(const vd_meaning *meaning, vd_writer *writer)
{
    vd_writer_add(writer, "now, or year, month, day and time such as 2026-05-02 08:00, ");
    vd_print_range(meaning, writer);
}

static void allow_date_time(const vd_meaning *meaning, vd_writer *writer)
{
    vd_writer_add(writer, "year, month, day and time such as 2026-05-02 08:00, ");
    vd_print_range(meaning, writer);
}

/* ---- Zones ---- */

static vd_status parse_zone(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_span rest = typed;
    uint32_t hours = 0, minutes = 0;
    unsigned digits = 0;
    if (rest.length >= 3 &&
        (vd_same_word((vd_span){rest.at, 3}, "utc") || vd_same_word((vd_span){rest.at, 3}, "gmt"))) {
        rest = vd_trimmed((vd_span){rest.at + 3, rest.length - 3});
    } else if (vd_same_word(rest, "z")) {
        rest.length = 0;
    } else if (rest.length > 0 && rest.at[0] != '+' && rest.at[0] != '-') {
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    bool west = rest.length > 0 && rest.at[0] == '-', fine = true;
    if (rest.length > 0) {
        fine = (vd_take_char(&rest, '+') || vd_take_char(&rest, '-')) && vd_take_whole(&rest, 9999, &hours, &digits);
        if (fine && digits > 2) { /* +0530 */
            minutes = hours % 100;
            hours /= 100;
        } else if (fine && vd_take_char(&rest, ':')) {
            fine = vd_take_whole(&rest, 59, &minutes, &digits) && digits == 2;
        }
    }
    int64_t offset = (int64_t)hours * 60 + minutes;
    into->value.number = west ? -offset : offset;
    fine = fine && rest.length == 0 && minutes < 60 && hours <= 14;
    return fine ? VD_OK : vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
}

static void print_zone(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    (void)setting;
    if (value->number < -14 * 60 - 59 || value->number > 14 * 60 + 59) {
        print_strange("unknown offset ", value, writer);
        return;
    }
    int64_t minutes = value->number < 0 ? -value->number : value->number;
    vd_writer_add(writer, value->number < 0 ? "-" : "+");
    print_two(minutes / 60, writer);
    vd_writer_add(writer, ":");
    print_two(minutes % 60, writer);
}

static void allow_zone(const vd_meaning *meaning, vd_writer *writer)
{
    vd_writer_add(writer, "an offset from UTC such as +01:00, ");
    vd_print_range(meaning, writer);
}

const vd_type_words vd_words_time_of_day = {"time-of-day",     "time of day",     parse_time_of_day,
                                            print_time_of_day, allow_time_of_day, NULL};
const vd_type_words vd_words_date_time = {"date-time",     "date and time", parse_date_time,
                                          print_date_time, allow_date_time, NULL};
const vd_type_words vd_words_clock = {"clock", "clock", parse_running, print_running, allow_running, NULL};
const vd_type_words vd_words_zone = {"zone", "time zone", parse_zone, print_zone, allow_zone, NULL};
