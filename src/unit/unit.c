/* SPDX-License-Identifier: MIT
 * A unit that plays any model: banks, staging, storing, restarting, and when it listens. How it answers in its language
 * stands in unit_registers.c and unit_lines.c. */
#include "unit_parts.h"

#include <string.h>

static bool in_lines(const vd_unit *unit)
{
    return vd_model_talks_in_lines(unit->model);
}

static size_t marks_size(const vd_model *model)
{
    return (model->setting_count + 7u) & ~(size_t)7u;
}

size_t vd_unit_size(const vd_model *model)
{
    return 3 * vd_set_size(model) + marks_size(model) + (vd_model_talks_in_lines(model) ? VD_TEXT_RESPONDER_MEMORY : 0);
}

vd_status vd_unit_start(vd_unit *unit, const vd_model *model, const vd_identity *identity, void *memory, size_t size)
{
    size_t each = vd_set_size(model);
    uint8_t *at = memory;
    if (size < vd_unit_size(model)) {
        return VD_MEMORY_TOO_SMALL;
    }
    memset(unit, 0, sizeof *unit);
    unit->model = model;
    unit->identity = *identity;
    unit->off_until = VD_NEVER;
    unit->listens_from = VD_NEVER;
    vd_set_start(&unit->live, model, at, each);
    vd_set_start(&unit->stored, model, at + each, each);
    vd_set_start(&unit->staged, model, at + 2 * each, each);
    unit->touched = at + 3 * each;
    unit->lines = (char *)unit->touched + marks_size(model);
    unit->tries_left = model->login.tries;
    vd_set_tell_unit(&unit->live, identity);
    vd_set_tell_unit(&unit->stored, identity);
    vd_set_put_initial(&unit->stored);
    vd_set_put_initial(&unit->live);
    return VD_OK;
}

static void wake_up(vd_unit *unit, uint64_t now)
{
    vd_line line = unit->model->line;
    uint8_t address = unit->model->address_factory;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        vd_value value = vd_set_get(&unit->stored, i);
        if (unit->model->settings[i].access != VD_READ_ONLY && value.type != VD_NOTHING) {
            vd_set_put(&unit->live, i, &value);
        }
    }
    if (unit->model->undoes == VD_UNDOES_READING) {
        vd_value initial = vd_setting_initial(&unit->model->settings[unit->model->undone]);
        vd_set_put(&unit->live, unit->model->undone, &initial);
    }
    vd_set_reinterpret(&unit->live);
    vd_set_link(&unit->stored, &line, &address);
    unit->on_since = now;
    unit->busy_until = 0;
    unit->off_until = VD_NEVER;
    unit->keeping = unit->keep_failed = unit->logged_in = unit->restart_due = false;
    unit->due = NULL;
    if (in_lines(unit)) {
        vd_text_responder_start(&unit->text, unit->model, &line, unit->lines);
    } else {
        vd_modbus_responder_start(&unit->responder, &line, address, unit->model->reply.usual * 1000u);
    }
}

static void listen_from(vd_unit *unit, uint64_t from)
{
    unit->listens_from = from;
    unit->last_request = from;
    unit->announced = false;
}

void vd_unit_power_up(vd_unit *unit, uint64_t now)
{
    const vd_listening *listening = &unit->model->listening;
    bool by_itself = listening->hold == 0;
    wake_up(unit, now);
    listen_from(unit, by_itself ? now + (in_lines(unit) ? (uint64_t)listening->after * 1000u : 0u) : VD_NEVER);
}

void vd_unit_hold_button(vd_unit *unit, uint64_t now, uint32_t milliseconds)
{
    const vd_listening *listening = &unit->model->listening;
    if (listening->hold > 0 && milliseconds >= listening->hold && unit->off_until == VD_NEVER) {
        listen_from(unit, now + (uint64_t)milliseconds * 1000u + (uint64_t)listening->after * 1000u);
    }
}

bool vd_unit_listens(const vd_unit *unit, uint64_t now)
{
    const vd_listening *listening = &unit->model->listening;
    uint64_t lasts = (uint64_t)listening->lasts * 1000u;
    bool lapsed = listening->hold > 0 && lasts > 0 && now >= unit->last_request + lasts;
    return now >= unit->listens_from && unit->off_until == VD_NEVER && !lapsed;
}

const vd_line *vd_unit_line(const vd_unit *unit)
{
    return in_lines(unit) ? &unit->text.line : &unit->responder.line;
}

void vd_unit_answer_to(vd_unit *unit, uint8_t address)
{
    unit->responder.address = address;
}

/* ---- Readings that move ---- */

static int64_t moved(const vd_unit *unit, const vd_setting *setting, uint64_t now)
{
    const vd_motion *motion = &setting->motion;
    uint64_t since = motion->way == VD_COUNTS ? now - unit->on_since : now, period = (uint64_t)motion->period * 1000u;
    if (motion->way != VD_SWINGS) {
        unsigned places = 0;
        int64_t from = setting->initial, count = 0;
        vd_value start = vd_set_get(&unit->stored, (uint16_t)(setting - unit->model->settings));
        if (start.type != VD_NOTHING &&
            vd_set_places(&unit->stored, (uint16_t)(setting - unit->model->settings), &places)) {
            vd_value_to_count(setting, &start, places, &from, NULL);
        }
        count = from + (int64_t)(since / period);
        return count < setting->max ? count : setting->max;
    }
    int64_t span = motion->high - motion->low, half = (int64_t)(period / 2u), at = (int64_t)(since % period);
    int64_t way = at < half ? at : 2 * half - at;
    return half > 0 ? motion->low + span * (way / 1000) / (half / 1000 > 0 ? half / 1000 : 1) : motion->low;
}

static void move_readings(vd_unit *unit, uint64_t now)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_setting *setting = &unit->model->settings[i];
        unsigned places = 0;
        if (setting->motion.way != VD_STANDS_STILL && vd_set_places(&unit->live, i, &places)) {
            vd_value value = vd_value_from_count(setting, moved(unit, setting, now), places);
            vd_set_put(&unit->live, i, &value);
        }
    }
}

/* ---- The engine ---- */

static void feed_registers(vd_unit *unit, const vd_event *event)
{
    vd_modbus_responder_engine.feed(&unit->responder, event);
    const vd_modbus_call *call = vd_modbus_responder_call(&unit->responder);
    if (call != NULL) {
        vd_unit_is_asked(unit, event->now);
        move_readings(unit, event->now);
        vd_unit_answer_registers(unit, call, event->now);
    }
}

static void feed_lines(vd_unit *unit, const vd_event *event)
{
    const vd_text_call *call = NULL;
    if (!unit->announced && vd_unit_listens(unit, event->now)) {
        unit->announced = true;
        if (unit->model->listening.says != NULL && unit->model->listening.says[0] != '\0') {
            vd_text_responder_say(&unit->text, unit->model->listening.says, event->now);
        }
    }
    if (event->kind == VD_HEARD && !vd_unit_listens(unit, event->now)) {
        return;
    }
    vd_text_responder_engine.feed(&unit->text, event);
    while ((call = vd_text_responder_call(&unit->text)) != NULL) {
        vd_unit_is_asked(unit, event->now);
        move_readings(unit, event->now);
        vd_unit_answer_line(unit, call, event->now);
    }
    if (event->kind == VD_SENT && unit->due != NULL) {
        vd_unit_act(unit, unit->due, event->until);
        unit->due = NULL;
    }
}

static void unit_feed(void *engine, const vd_event *event)
{
    vd_unit *unit = engine;
    if (event->kind == VD_KEPT) {
        unit->keeping = false;
        unit->keep_failed = event->status != VD_OK;
        return;
    }
    if (event->now >= unit->off_until) {
        wake_up(unit, event->now);
        listen_from(unit, event->now); /* by itself, where it did before: only a cold start takes a hand */
    }
    bool restarting = unit->off_until != VD_NEVER && event->kind == VD_HEARD;
    if (restarting) {
        return;
    }
    in_lines(unit) ? feed_lines(unit, event) : feed_registers(unit, event);
    if (event->kind == VD_SENT && unit->restart_due && (!unit->model->store.needed || unit->busy_until > 0)) {
        vd_unit_restart(unit, event->until);
    }
}

static void unit_wants(const void *engine, vd_wants *wants)
{
    const vd_unit *unit = engine;
    if (in_lines(unit)) {
        vd_text_responder_engine.wants(&unit->text, wants);
        bool silent = unit->announced || unit->off_until != VD_NEVER;
        wants->wake = !silent && unit->listens_from < wants->wake ? unit->listens_from : wants->wake;
    } else {
        vd_modbus_responder_engine.wants(&unit->responder, wants);
    }
    wants->keep = unit->keeping;
    wants->wake = unit->off_until < wants->wake ? unit->off_until : wants->wake;
}

const vd_engine vd_unit_engine = {unit_wants, unit_feed};
