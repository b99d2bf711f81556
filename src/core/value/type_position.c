/* SPDX-License-Identifier: MIT
 * Positions on the earth: latitude and longitude in 10^-7 degrees, about a centimetre. */
#include "value_parts.h"

#include <string.h>

#define PLACES 7u
#define DEGREE 10000000

static bool skip_text(vd_span *rest, const char *text)
{
    size_t length = strlen(text);
    if (rest->length < length || memcmp(rest->at, text, length) != 0) {
        return false;
    }
    rest->at += length;
    rest->length -= length;
    return true;
}

/* One number behind another: its value times 10^7. Of minutes and seconds, which no decimal of a degree equals anyway,
 * what is finer goes; whole degrees that are finer are refused. */
static bool take_part(vd_span *rest, bool degrees, int64_t *scaled)
{
    vd_value part;
    size_t digits = 0, length = rest->length;
    /* A comma parts the two angles here, so only the point is a decimal mark; see take_angle(). */
    for (size_t i = 0; i < rest->length; i++) {
        if (rest->at[i] == ',') {
            length = i;
            break;
        }
    }
    size_t taken = vd_take_number((vd_span){rest->at, length}, &part, &digits);
    if (taken == 0 || digits > 12) {
        return false;
    }
    rest->at += taken;
    rest->length -= taken;
    *scaled = part.number;
    for (; part.places > PLACES; part.places--) {
        if (degrees && *scaled % 10 != 0) {
            return false;
        }
        *scaled /= 10;
    }
    if (!vd_scale_up(scaled, PLACES - part.places)) {
        return false;
    }
    *rest = vd_trimmed(*rest);
    return true;
}

/* "52.5163", "52.5163° N", "52°30'58.7\" N"; `positive` and `negative` are the letters of its directions. */
static bool take_angle(vd_span *rest, char positive, char negative, int64_t most, int64_t *angle)
{
    int64_t degrees = 0, minutes = 0, seconds = 0;
    *rest = vd_trimmed(*rest);
    vd_span signless = *rest;
    bool minus = vd_take_sign(&signless);
    if (!take_part(rest, true, &degrees)) {
        return false;
    }
    if (skip_text(rest, "\xC2\xB0") || skip_text(rest, "deg")) {
        *rest = vd_trimmed(*rest);
        if (rest->length > 0 && vd_is_digit(rest->at[0])) {
            if (degrees % DEGREE != 0 || !take_part(rest, false, &minutes) ||
                !(skip_text(rest, "'") || skip_text(rest, "\xE2\x80\xB2"))) {
                return false;
            }
            *rest = vd_trimmed(*rest);
            if (rest->length > 0 && vd_is_digit(rest->at[0]) &&
                (minutes % DEGREE != 0 || !take_part(rest, false, &seconds) ||
                 !(skip_text(rest, "\"") || skip_text(rest, "\xE2\x80\xB3")))) {
                return false;
            }
        }
    }
    *rest = vd_trimmed(*rest);
    if (minutes >= 60 * (int64_t)DEGREE || seconds >= 60 * (int64_t)DEGREE) {
        return false;
    }
    if (degrees > 360 * (int64_t)DEGREE || degrees < -360 * (int64_t)DEGREE) {
        return false;
    }
    int64_t size = (degrees < 0 ? -degrees : degrees) + (minutes * 60 + seconds + 1800) / 3600;
    char direction = vd_small(vd_char_at(*rest, 0));
    if (direction == positive || direction == negative) {
        rest->at++;
        rest->length--;
        if (minus) {
            return false; /* "-5 S" says it twice */
        }
        minus = direction == negative;
    }
    *angle = minus ? -size : size;
    return size <= most * DEGREE;
}

static vd_status parse_position(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    char plain[96];
    vd_span rest = typed;
    int64_t latitude = 0, longitude = 0;
    /* With a semicolon between the two, commas are decimal marks. */
    if (typed.length < sizeof plain && vd_has_char(typed, ';')) {
        for (size_t i = 0; i < typed.length; i++) {
            plain[i] = (char)(typed.at[i] == ',' ? '.' : typed.at[i] == ';' ? ',' : typed.at[i]);
        }
        rest.at = plain;
    }
    bool fine = take_angle(&rest, 'n', 's', 90, &latitude);
    rest = vd_trimmed(rest);
    vd_take_char(&rest, ',');
    fine = fine && take_angle(&rest, 'e', 'w', 180, &longitude) && vd_trimmed(rest).length == 0;
    if (!fine) {
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    into->value.number = latitude * ((int64_t)1 << 32) + (int64_t)(uint32_t)longitude;
    return VD_OK;
}

static void print_angle(int32_t angle, vd_writer *writer)
{
    int64_t number = angle;
    unsigned places = PLACES;
    while (places > 0 && number % 10 == 0) {
        number /= 10;
        places--;
    }
    vd_writer_add_decimal(writer, number, places);
}

static void print_position(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    uint64_t bits = (uint64_t)value->number;
    (void)setting;
    print_angle((int32_t)(uint32_t)(bits >> 32), writer);
    vd_writer_add(writer, ", ");
    print_angle((int32_t)(uint32_t)bits, writer);
}

vd_status vd_check_position(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    uint64_t bits = (uint64_t)value->number;
    int64_t latitude = (int32_t)(uint32_t)(bits >> 32), longitude = (int32_t)(uint32_t)bits;
    bool fine = latitude >= -90 * (int64_t)DEGREE && latitude <= 90 * (int64_t)DEGREE &&
                longitude >= -180 * (int64_t)DEGREE && longitude <= 180 * (int64_t)DEGREE;
    return fine ? VD_OK : vd_fault_note_value(fault, VD_OUT_OF_RANGE, meaning, value);
}

static void allow_position(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer,
                  "latitude, longitude in degrees, at most seven decimals, such as 52.5163, 13.3777 or 52\xC2\xB0"
                  "30'58.7\"N 13\xC2\xB0"
                  "22'39.7\"E");
}

const vd_type_words vd_words_position = {"position",     "position on the earth", parse_position,
                                         print_position, allow_position,          NULL};
