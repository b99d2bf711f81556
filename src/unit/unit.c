/* SPDX-License-Identifier: MIT
 * A unit that plays any model: banks, staging, storing, restarting, and when it listens. How it answers in its language
 * stands with that. */
#include "parts.h"

#include <string.h>

static const vd_unit_ways *ways(const vd_unit *unit)
{
    return unit->language->ways;
}

static size_t marks_size(const vd_model *model)
{
    return VD_ALIGNED(model->setting_count);
}

static size_t alarms_size(const vd_model *model)
{
    return VD_ALIGNED(vd_unit_alarm_size(model));
}

size_t vd_unit_size(const vd_model *model, const vd_unit_language *language)
{
    return (3u + model->slots.count) * vd_set_size(model) + marks_size(model) + alarms_size(model) +
           language->ways->size(language);
}

vd_status vd_unit_start(vd_unit *unit, const vd_model *model, const vd_unit_language *language,
                        const vd_identity *identity, void *memory, size_t size)
{
    size_t each = vd_set_size(model);
    uint8_t *at = memory;
    if (size < vd_unit_size(model, language)) {
        return VD_MEMORY_TOO_SMALL;
    }
    memset(unit, 0, sizeof *unit);
    unit->model = model;
    unit->language = language;
    unit->identity = *identity;
    unit->off_until = VD_NEVER;
    unit->listens_from = VD_NEVER;
    vd_set_start(&unit->live, model, at, each);
    vd_set_start(&unit->stored, model, at + each, each);
    vd_set_start(&unit->staged, model, at + 2 * each, each);
    unit->slots = at + 3 * each;
    unit->touched = unit->slots + model->slots.count * each;
    unit->alarm_memory = unit->touched + marks_size(model);
    unit->end = unit->alarm_memory + alarms_size(model);
    unit->alarms_since = unit->cleared_at = unit->days_since = VD_NEVER;
    unit->tries_left = model->login.tries;
    vd_set_tell_unit(&unit->live, identity);
    vd_set_tell_unit(&unit->stored, identity);
    vd_unit_as_new(&unit->stored);
    vd_unit_as_new(&unit->live);
    vd_unit_new_slots(unit);
    return VD_OK;
}

void vd_unit_take_link(vd_unit *unit, const vd_set *bank)
{
    vd_link link = {unit->model->line, unit->model->address_factory};
    unit->link_due = false;
    vd_set_link(bank, &link);
    ways(unit)->start(unit, &link.line, link.address);
}

static void wake_up(vd_unit *unit, uint64_t now)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        vd_value value = vd_set_get(&unit->stored, i);
        if (unit->model->settings[i].access != VD_READ_ONLY && value.type != VD_NOTHING) {
            vd_set_put(&unit->live, i, &value);
        }
        if (vd_setting_moves(&unit->model->settings[i]) == VD_COUNTS) { /* since its supply came on */
            value = vd_set_initial(&unit->live, i);
            vd_set_put(&unit->stored, i, &value);
        }
    }
    vd_unit_fall_back(unit);
    if (unit->model->undoes == VD_UNDOES_READING) {
        vd_value initial = vd_set_initial(&unit->live, vd_index(unit->model->undone));
        vd_set_put(&unit->live, vd_index(unit->model->undone), &initial);
    }
    vd_set_reinterpret(&unit->live);
    unit->on_since = now;
    unit->busy_until = 0;
    unit->off_until = VD_NEVER;
    unit->keeping = unit->keep_failed = unit->logged_in = unit->restart_due = false;
    unit->due = NULL;
    vd_unit_alarms_anew(unit, now);
    vd_unit_power_down(unit, now); /* what went on up to now, where its supply never went off before */
    if (unit->days_ways != NULL) {
        unit->days_ways->anew(unit, now);
    }
    vd_unit_take_link(unit, &unit->stored);
}

void vd_unit_power_up(vd_unit *unit, uint64_t now)
{
    const vd_listening *listening = &unit->model->listening;
    bool by_itself = listening->hand.hold == 0;
    uint64_t after = ways(unit)->at_once ? 0 : (uint64_t)listening->after * 1000u;
    wake_up(unit, now);
    vd_unit_listen_from(unit, by_itself ? now + after : VD_NEVER);
    unit->writable_from = VD_NEVER;
}

const vd_serial *vd_unit_line(const vd_unit *unit)
{
    return ways(unit)->line(unit);
}

uint8_t vd_unit_address(const vd_unit *unit)
{
    return ways(unit)->address != NULL ? *ways(unit)->address(unit) : 0;
}

const struct vd_framing *vd_unit_framing(const vd_unit *unit)
{
    return unit->language->framing;
}

void vd_unit_answer_to(vd_unit *unit, uint8_t address)
{
    if (ways(unit)->address != NULL) {
        *ways(unit)->address(unit) = address;
    }
}

void vd_unit_follow(vd_unit *unit, const vd_unit_log *log)
{
    unit->log = log;
    unit->watching = unit->restarted = false;
}

/* ---- The engine ---- */

/* Once it listens it says so, where its model has a line for that. */
static void announce(vd_unit *unit, uint64_t now)
{
    const char *says = unit->model->listening.says;
    if (!unit->announced && vd_unit_listens(unit, now)) {
        unit->announced = true;
        if (ways(unit)->say != NULL && says != NULL && says[0] != '\0') {
            ways(unit)->say(unit, says, now);
        }
    }
}

static void take(vd_unit *unit, const vd_event *event)
{
    announce(unit, event->now);
    if (vd_unit_alarm_wake(unit) <= event->now) {
        vd_unit_watch(unit, event->now);
    }
    if (unit->days_ways != NULL && unit->days_ways->wake(unit) <= event->now) {
        unit->days_ways->go_on(unit, event->now);
    }
    if (event->kind == VD_HEARD && !vd_unit_listens(unit, event->now)) {
        return;
    }
    ways(unit)->engine->feed(unit->end, event);
    while (ways(unit)->answer(unit, event->now)) {
    }
    vd_unit_say_alarms(unit, event->now);
    if (unit->days_ways != NULL) {
        unit->days_ways->say(unit, event->now);
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
        bool by_hand = unit->model->listening.anew && unit->model->listening.hand.hold > 0;
        vd_unit_listen_from(unit, by_hand ? VD_NEVER : event->now); /* by itself where only a cold start takes a hand */
        unit->writable_from = unit->model->listening.anew ? VD_NEVER : unit->writable_from;
    }
    bool restarting = unit->off_until != VD_NEVER && event->kind == VD_HEARD;
    if (restarting) {
        return;
    }
    take(unit, event);
    if (event->kind == VD_SENT && unit->link_due) {
        vd_unit_take_link(unit, unit->model->link_from == VD_LINK_FROM_STORING ? &unit->stored : &unit->live);
    }
    if (event->kind == VD_SENT && unit->restart_due && (!unit->model->store.needed || unit->busy_until > 0)) {
        vd_unit_restart(unit, event->until);
    }
}

static void unit_wants(const void *engine, vd_wants *wants)
{
    const vd_unit *unit = engine;
    ways(unit)->engine->wants(unit->end, wants);
    bool silent = unit->announced || unit->off_until != VD_NEVER;
    wants->wake = !silent && unit->listens_from < wants->wake ? unit->listens_from : wants->wake;
    wants->keep = unit->keeping;
    uint64_t alarm = vd_unit_alarm_wake(unit);
    wants->wake = alarm < wants->wake ? alarm : wants->wake;
    uint64_t days = unit->days_ways != NULL ? unit->days_ways->wake(unit) : VD_NEVER;
    wants->wake = days < wants->wake ? days : wants->wake;
    wants->wake = unit->off_until < wants->wake ? unit->off_until : wants->wake;
}

const vd_engine vd_unit_engine = {unit_wants, unit_feed};

const vd_model *vd_unit_model(const vd_unit *unit)
{
    return unit->model;
}

const vd_identity *vd_unit_identity(const vd_unit *unit)
{
    return &unit->identity;
}

const vd_set *vd_unit_live(const vd_unit *unit)
{
    return &unit->live;
}

const vd_set *vd_unit_stored(const vd_unit *unit)
{
    return &unit->stored;
}

vd_set *vd_unit_live_bank(vd_unit *unit)
{
    return &unit->live;
}

vd_set *vd_unit_stored_bank(vd_unit *unit)
{
    return &unit->stored;
}

const vd_watch *vd_unit_alarms(const vd_unit *unit)
{
    return unit->watching ? &unit->watch : NULL;
}

vd_unit_condition vd_unit_condition_of(const vd_unit *unit)
{
    return (vd_unit_condition){.on_since = unit->on_since,
                               .off_until = unit->off_until,
                               .listens_from = unit->listens_from,
                               .writable_from = unit->writable_from,
                               .last_request = unit->last_request,
                               .alarms_since = unit->alarms_since,
                               .cleared_at = unit->cleared_at,
                               .days_since = unit->days_since,
                               .tries_left = unit->tries_left,
                               .logged_in = unit->logged_in,
                               .announced = unit->announced};
}

void vd_unit_put_condition(vd_unit *unit, const vd_unit_condition *condition)
{
    unit->on_since = condition->on_since;
    unit->off_until = condition->off_until;
    unit->listens_from = condition->listens_from;
    unit->writable_from = condition->writable_from;
    unit->last_request = condition->last_request;
    unit->alarms_since = condition->alarms_since;
    unit->cleared_at = condition->cleared_at;
    if (unit->days_ways != NULL && condition->days_since != VD_NEVER) {
        unit->days_ways->since(unit, condition->days_since);
    }
    unit->tries_left = condition->tries_left;
    unit->logged_in = condition->logged_in;
    unit->announced = condition->announced;
}
