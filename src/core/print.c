/* SPDX-License-Identifier: MIT
 * Values as people read them, and what a setting takes. The way back is parse.c. */
#include "value.h"

static void print_measure(const vd_setting *setting, vd_writer *writer)
{
    if (setting->measure[0] != '\0') {
        vd_writer_add(writer, " ");
        vd_writer_add(writer, setting->measure);
    }
}

static void print_duration(int64_t milliseconds, vd_writer *writer)
{
    bool any = false;
    if (milliseconds == 0) {
        vd_writer_add(writer, "0 s");
        return;
    }
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

static void print_choice(const vd_setting *setting, int64_t number, vd_writer *writer)
{
    for (uint16_t i = 0; i < setting->choice_count; i++) {
        if (setting->choices[i].number == number) {
            vd_writer_add(writer, setting->choices[i].name);
            return;
        }
    }
    vd_writer_add(writer, "unknown choice ");
    vd_writer_add_number(writer, number);
}

/* A unit may hold any bytes; none of them is to steer a terminal. */
static void print_text(const vd_value *value, vd_writer *writer)
{
    for (uint16_t i = 0; i < value->length; i++) {
        bool printable = value->text[i] >= 0x20 && value->text[i] <= 0x7E;
        vd_writer_add_bytes(writer, printable ? &value->text[i] : "?", 1);
    }
}

void vd_value_print(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    switch ((vd_type)value->type) {
    case VD_INTEGER:
    case VD_DECIMAL:
        vd_writer_add_decimal(writer, value->number, value->places);
        print_measure(setting, writer);
        break;
    case VD_TRUTH: vd_writer_add(writer, value->number != 0 ? "on" : "off"); break;
    case VD_CHOICE: print_choice(setting, value->number, writer); break;
    case VD_TEXT: print_text(value, writer); break;
    case VD_DURATION: print_duration(value->number, writer); break;
    case VD_NOTHING:
    case VD_TYPE_COUNT: vd_writer_add(writer, "not known"); break;
    }
}

static void print_count(const vd_setting *setting, int64_t count, unsigned places, vd_writer *writer)
{
    vd_value value = vd_value_from_count(setting, count, places);
    vd_value_print(setting, &value, writer);
}

static void print_range(const vd_setting *setting, unsigned places, vd_writer *writer)
{
    if (setting->type == VD_DURATION) {
        print_count(setting, setting->min, places, writer);
    } else {
        vd_writer_add_decimal(writer, setting->min, places); /* the unit of measure once, after the upper end */
    }
    vd_writer_add(writer, " to ");
    print_count(setting, setting->max, places, writer);
    bool finest = setting->step == 1 && setting->type == VD_INTEGER;
    if (!finest) {
        vd_writer_add(writer, " in steps of ");
        print_count(setting, setting->step, places, writer);
    }
}

void vd_setting_print_allowed(const vd_setting *setting, unsigned places, vd_writer *writer)
{
    switch ((vd_type)setting->type) {
    case VD_INTEGER: print_range(setting, 0, writer); break;
    case VD_DURATION: print_range(setting, 0, writer); break;
    case VD_DECIMAL:
        if (places == VD_NONE) {
            vd_writer_add(writer, "a number");
            vd_writer_add(writer, setting->measure[0] != '\0' ? " in" : "");
            print_measure(setting, writer);
        } else {
            print_range(setting, places, writer);
        }
        break;
    case VD_TRUTH: vd_writer_add(writer, "on or off"); break;
    case VD_CHOICE:
        for (uint16_t i = 0; i < setting->choice_count; i++) {
            vd_writer_add(writer, i == 0 ? "" : i + 1 == setting->choice_count ? " or " : ", ");
            vd_writer_add(writer, setting->choices[i].name);
        }
        break;
    case VD_TEXT:
        vd_writer_add(writer, "up to ");
        vd_writer_add_number(writer, setting->length);
        vd_writer_add(writer, " plain letters, digits, blanks and signs (printable ASCII)");
        break;
    case VD_NOTHING:
    case VD_TYPE_COUNT: break;
    }
}
