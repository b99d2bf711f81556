/* SPDX-License-Identifier: MIT
 * Readings of a unit that is played: how they move while time passes. */
#include "parts.h"

static const vd_motion *motion_of(const vd_setting *setting)
{
    static const vd_motion still = {.way = VD_STANDS_STILL};
    return setting->motion != NULL ? setting->motion : &still;
}

/* How many counts it has come on since the beginning of all time. */
static int64_t run_so_far(const vd_setting *setting, uint64_t since)
{
    const vd_motion *motion = motion_of(setting);
    int64_t periods = motion->period > 0 ? (int64_t)(since / ((uint64_t)motion->period * 1000u)) : 0;
    return periods + (int64_t)(since / 1000000u) * motion->gains / 86400000;
}

void vd_unit_run_from(vd_unit *unit, uint16_t setting, uint64_t now)
{
    vd_value start = vd_set_get(&unit->live, setting);
    int64_t count = 0;
    if (vd_set_to_count(&unit->live, setting, &start, &count, NULL) == VD_OK) {
        start = vd_set_from_count(&unit->live, setting, count - run_so_far(&unit->model->settings[setting], now));
        vd_set_put(&unit->stored, setting, &start);
    }
    unit->keeping = true;
}

static int64_t moved(const vd_unit *unit, const vd_setting *setting, uint64_t now)
{
    const vd_motion *motion = motion_of(setting);
    uint64_t since = motion->way == VD_COUNTS ? now - unit->on_since : now, period = (uint64_t)motion->period * 1000u;
    if (motion->way != VD_SWINGS) {
        int64_t from = setting->initial, count = 0;
        uint16_t index = (uint16_t)(setting - unit->model->settings);
        vd_value start = vd_set_get(&unit->stored, index);
        if (start.type != VD_NOTHING) {
            vd_set_to_count(&unit->stored, index, &start, &from, NULL);
        }
        count = from + run_so_far(setting, since);
        return count < setting->max ? count : setting->max;
    }
    int64_t span = motion->high - motion->low, half = (int64_t)(period / 2u), at = (int64_t)(since % period);
    int64_t way = at < half ? at : 2 * half - at;
    return half > 0 ? motion->low + span * (way / 1000) / (half / 1000 > 0 ? half / 1000 : 1) : motion->low;
}

/* Whether a reading follows a log in place of its own motion. */
static bool follows(const vd_unit *unit, uint16_t setting)
{
    bool followed = false;
    for (uint16_t i = 0; i < unit->model->channel_count && unit->log != NULL; i++) {
        followed = followed || vd_index(unit->model->channels[i].reads) == setting;
    }
    return followed;
}

/* A value in units of 10^-places. */
static int64_t at_places(const vd_value *value, uint8_t places)
{
    int64_t number = value->number;
    for (uint8_t from = value->places; from < places; from++) {
        number *= 10;
    }
    for (uint8_t from = value->places; from > places; from--) {
        number = (number + (number < 0 ? -5 : 5)) / 10;
    }
    return number;
}

static bool is_shifted(const vd_setting *setting)
{
    return motion_of(setting)->taken_off > 0 || motion_of(setting)->added > 0;
}

/* What is read of what is measured: a tare is taken off, an offset added, as far as its range goes. */
static vd_value shift(const vd_unit *unit, const vd_meaning *meaning, vd_value measured)
{
    const uint16_t by[] = {motion_of(meaning->of)->taken_off, motion_of(meaning->of)->added};
    int64_t count = 0;
    for (unsigned i = 0; i < 2; i++) {
        vd_value shift = by[i] > 0 ? vd_set_get(&unit->live, (uint16_t)(by[i] - 1)) : (vd_value){.type = VD_NOTHING};
        if (shift.type != VD_NOTHING) {
            int64_t much = at_places(&shift, measured.places);
            measured.number += i == 0 ? -much : much;
        }
    }
    measured.number = at_places(&measured, meaning->places);
    measured.places = meaning->places;
    vd_value_to_count(meaning, &measured, &count, NULL);
    count = count < meaning->min ? meaning->min : count > meaning->max ? meaning->max : count;
    return vd_value_from_count(meaning, count);
}

bool vd_unit_shifts(const vd_unit *unit, uint16_t setting)
{
    bool shifts = false;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_motion *motion = motion_of(&unit->model->settings[i]);
        shifts = shifts || motion->taken_off == setting + 1u || motion->added == setting + 1u;
    }
    return shifts;
}

void vd_unit_move_readings(vd_unit *unit, uint64_t now)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_setting *setting = &unit->model->settings[i];
        vd_meaning meaning;
        bool runs = motion_of(setting)->way != VD_STANDS_STILL || vd_setting_is(setting, VD_TYPE_RUNS);
        if ((!runs && !is_shifted(setting)) || follows(unit, i) || !vd_set_meaning(&unit->live, i, &meaning)) {
            continue;
        }
        vd_value value = runs ? vd_value_from_count(&meaning, moved(unit, setting, now)) : vd_set_get(&unit->stored, i);
        if (value.type != VD_NOTHING) {
            value = is_shifted(setting) ? shift(unit, &meaning, value) : value;
            vd_set_put(&unit->live, i, &value);
        }
    }
    if (unit->days_ways != NULL) {
        unit->days_ways->show(unit, now);
    }
}

void vd_unit_power_down(vd_unit *unit, uint64_t now)
{
    if (unit->days_ways != NULL && unit->days_since != VD_NEVER) {
        unit->days_ways->show(unit, now);
        unit->days_ways->anew(unit, now); /* readings go on from what they show */
        unit->days_since = VD_NEVER;
    }
}
