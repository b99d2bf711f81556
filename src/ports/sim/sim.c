/* SPDX-License-Identifier: MIT
 * The world of a bench: adapters and units on cables, and a clock that jumps from event to event. */
#include "world.h"
#include "reply_faults.h"
#include "verdite/lines_unit.h"
#include "verdite/modbus_unit.h"
#include "verdite/unit_course.h"

#include <stdlib.h>
#include <string.h>

uint64_t world_microseconds(int64_t ns)
{
    return (uint64_t)((ns + 999) / 1000);
}

static bool is_on(const unit *u)
{
    return u->supply && u->plugged && u->about->cable != VD_NONE;
}

void vd_sim_end(vd_sim *sim)
{
    if (sim == NULL) {
        return;
    }
    for (uint16_t i = 0; sim->units != NULL && i < sim->bench->unit_count; i++) {
        free(sim->units[i].memory);
        free(sim->units[i].course);
        free(sim->units[i].due);
    }
    for (uint16_t i = 0; sim->adapters != NULL && i < sim->bench->adapter_count; i++) {
        free(sim->adapters[i].queue);
    }
    free(sim->units);
    free(sim->adapters);
    free(sim->cables);
    free(sim);
}

void vd_sim_restart_unit(vd_sim *sim, uint16_t unit_index)
{
    unit *u = &sim->units[unit_index];
    vd_unit_power_up(u->unit, world_microseconds(sim->now));
    u->on_since = sim->now;
    u->next_chatter = sim->now + (int64_t)u->about->faults.chatter * 1000;
    u->ear.receiver = (receiver){.self = u, .unit = true, .line = *vd_unit_line(u->unit), .from = sim->now};
    u->ear.known = false;
}

void vd_sim_hand(vd_sim *sim, uint16_t unit_index, vd_hand does, uint32_t hold)
{
    unit *u = &sim->units[unit_index];
    switch (does) {
    case VD_HAND_PRESS:
        if (u->supply) {
            vd_unit_hold_button(u->unit, world_microseconds(sim->now), hold);
        }
        break;
    case VD_HAND_UNPLUG:
    case VD_HAND_PLUG:
        u->plugged = does == VD_HAND_PLUG;
        u->ear.receiver.from = sim->now;
        u->ear.known = false;
        break;
    case VD_HAND_POWER_OFF:
        if (u->supply) {
            vd_unit_power_down(u->unit, world_microseconds(sim->now));
        }
        u->supply = false;
        break;
    case VD_HAND_POWER_ON:
        u->supply = true;
        vd_sim_restart_unit(sim, unit_index);
        break;
    }
}

bool vd_sim_ask_hands(vd_sim *sim, const char *port)
{
    bool any = false;
    sim->turns++;
    for (uint16_t a = 0; a < sim->bench->adapter_count; a++) {
        bool here = port == NULL || strcmp(sim->bench->adapters[a].name, port) == 0;
        for (uint16_t i = 0; i < sim->bench->unit_count && here; i++) {
            unit *u = &sim->units[i];
            for (uint16_t h = 0; h < u->about->hand_count && u->about->cable == sim->bench->adapters[a].cable; h++) {
                const vd_bench_hand *hand = &u->about->hands[h];
                bool begins = hand->when_asked && (hand->turn == 0 || hand->turn == sim->turns);
                u->due[h] = begins ? sim->now + (int64_t)hand->at * 1000 : u->due[h];
                any = any || begins;
            }
        }
    }
    return any;
}

uint32_t vd_sim_turns(const vd_sim *sim)
{
    return sim->turns;
}

void vd_sim_put_turns(vd_sim *sim, uint32_t turns)
{
    sim->turns = turns;
}

bool vd_sim_has_supply(const vd_sim *sim, uint16_t unit_index)
{
    return sim->units[unit_index].supply;
}

bool vd_sim_is_plugged(const vd_sim *sim, uint16_t unit_index)
{
    return sim->units[unit_index].plugged;
}

static int64_t next_deed(const unit *u)
{
    int64_t next = INT64_MAX;
    for (uint16_t h = 0; h < u->about->hand_count; h++) {
        next = u->due[h] < next ? u->due[h] : next;
    }
    return next;
}

static void do_deeds(vd_sim *sim, uint16_t index)
{
    unit *u = &sim->units[index];
    for (uint16_t h = 0; h < u->about->hand_count; h++) {
        if (u->due[h] <= sim->now) {
            u->due[h] = INT64_MAX;
            vd_sim_hand(sim, index, u->about->hands[h].does, u->about->hands[h].hold);
        }
    }
}

static bool start_unit(vd_sim *sim, uint16_t index)
{
    unit *u = &sim->units[index];
    u->unit = vd_unit_in(&u->room);
    u->about = &sim->bench->units[index];
    size_t size = vd_unit_size(u->about->model, u->about->language);
    u->memory = calloc(1, size);
    u->supply = !u->about->off;
    u->plugged = !u->about->unplugged;
    u->due = calloc(u->about->hand_count + 1u, sizeof *u->due);
    for (uint16_t h = 0; u->due != NULL && h < u->about->hand_count; h++) {
        u->due[h] = u->about->hands[h].when_asked ? INT64_MAX : (int64_t)u->about->hands[h].at * 1000;
    }
    if (u->memory == NULL || u->due == NULL ||
        vd_unit_start(u->unit, u->about->model, u->about->language, &u->about->identity, u->memory, size) != VD_OK) {
        return false;
    }
    vd_unit_follow(u->unit, u->about->follows);
    size_t course = u->about->days != NULL ? vd_unit_course_size(u->about->model) : 0;
    u->course = course > 0 ? calloc(1, course) : NULL;
    if (course > 0 && (u->course == NULL || vd_unit_follow_days(u->unit, u->about->days, u->about->day_count, u->course,
                                                                course, world_microseconds(sim->now)) != VD_OK)) {
        return false;
    }
    if (u->about->initial != NULL) {
        vd_set_overlay(vd_unit_stored_bank(u->unit), u->about->initial);
        vd_set_overlay(vd_unit_live_bank(u->unit), u->about->initial);
        vd_set_reinterpret(vd_unit_stored_bank(u->unit));
    }
    if (u->about->cable != VD_NONE && vd_unit_framing(u->unit) == NULL) {
        sim->cables[u->about->cable].two_ways = true;
    }
    vd_sim_restart_unit(sim, index);
    if (u->about->initial != NULL) { /* how long it has been on when the bench begins */
        vd_set_overlay(vd_unit_stored_bank(u->unit), u->about->initial);
    }
    vd_unit_condition condition = vd_unit_condition_of(u->unit);
    if (condition.listens_from != VD_NEVER) { /* it has been on for a while */
        condition.listens_from = 0;
        condition.announced = true;
        vd_unit_put_condition(u->unit, &condition);
    }
    return true;
}

bool world_is_at_once(const adapter *a)
{
    return a->about->at_once || a->about->wire == VD_NO_WIRE;
}

vd_sim *vd_sim_start(const vd_bench *bench)
{
    vd_sim *sim = calloc(1, sizeof *sim);
    if (sim == NULL) {
        return NULL;
    }
    sim->bench = bench;
    sim->random = 2463534242u;
    sim->adapters = calloc(bench->adapter_count + 1u, sizeof *sim->adapters);
    sim->units = calloc(bench->unit_count + 1u, sizeof *sim->units);
    sim->cables = calloc(bench->cable_count + 1u, sizeof *sim->cables);
    bool fine = sim->adapters != NULL && sim->units != NULL && sim->cables != NULL;
    for (uint16_t i = 0; i < bench->adapter_count && fine; i++) {
        adapter *a = &sim->adapters[i];
        *a = (adapter){.about = &bench->adapters[i], .sim = sim};
        if (a->about->cable != VD_NONE && world_is_at_once(a)) {
            sim->cables[a->about->cable].at_once = true;
        }
        a->ear.receiver = (receiver){.self = a->about->echo ? NULL : a, .line = {9600, 8, 'N', 1}};
        a->queue = calloc(QUEUE, sizeof *a->queue);
        fine = a->queue != NULL;
    }
    for (uint16_t i = 0; i < bench->unit_count && fine; i++) {
        fine = start_unit(sim, i);
    }
    if (!fine) {
        vd_sim_end(sim);
        return NULL;
    }
    return sim;
}

static uint32_t chance(vd_sim *sim, uint32_t below)
{
    sim->random ^= sim->random << 13;
    sim->random ^= sim->random >> 17;
    sim->random ^= sim->random << 5;
    return below > 0 ? sim->random % below : 0;
}

/* ---- What happens next, and letting it happen ---- */

#define NOISE_STEP 1000000 /* ns: noise comes in portions of a millisecond */
void world_talk_on(vd_sim *sim, uint16_t cable_index)
{
    cable_forget(&sim->cables[cable_index], sim->now - KEPT_ON_CABLE);
    for (uint16_t i = 0; i < sim->bench->adapter_count; i++) {
        if (sim->adapters[i].about->cable == cable_index) {
            sim->adapters[i].ear.known = false;
        }
    }
    for (uint16_t i = 0; i < sim->bench->unit_count; i++) {
        if (sim->units[i].about->cable == cable_index) {
            sim->units[i].ear.known = false;
        }
    }
}

static int64_t next_byte(vd_sim *sim, uint16_t cable_index, ear *e)
{
    if (!e->known) {
        e->any = cable_listen(&sim->cables[cable_index], &e->receiver, &e->next);
        e->known = true;
    }
    return e->any ? e->next.time : INT64_MAX;
}

static int64_t wake_of(const unit *u)
{
    vd_wants wants;
    vd_unit_engine.wants(u->unit, &wants);
    return wants.wake == VD_NEVER ? INT64_MAX : (int64_t)wants.wake * 1000;
}

int64_t world_next_event(vd_sim *sim)
{
    int64_t next = INT64_MAX;
    for (uint16_t i = 0; i < sim->bench->adapter_count; i++) {
        adapter *a = &sim->adapters[i];
        if (a->about->cable != VD_NONE && !a->lost) {
            int64_t time = next_byte(sim, a->about->cable, &a->ear);
            next = time < next ? time : next;
        }
        if (a->about->noise > 0 && a->open) {
            next = a->next_noise < next ? a->next_noise : next;
        }
    }
    for (uint16_t i = 0; i < sim->bench->unit_count; i++) {
        unit *u = &sim->units[i];
        int64_t deed = next_deed(u);
        next = deed < next ? deed : next;
        if (is_on(u)) {
            int64_t byte = next_byte(sim, u->about->cable, &u->ear), wake = wake_of(u);
            next = byte < next ? byte : next;
            next = u->about->faults.chatter > 0 && u->next_chatter < next ? u->next_chatter : next;
            next = wake < next ? wake : next;
        }
    }
    return next;
}

/* It hears by the line setting that is in force. */
static void listen_by_its_line(unit *u, int64_t from)
{
    if (!vd_serial_equal(vd_unit_line(u->unit), &u->ear.receiver.line)) {
        u->ear.receiver = (receiver){.self = u, .unit = true, .line = *vd_unit_line(u->unit), .from = from};
        u->ear.known = false;
    }
}

/* Hands the unit an event, then does what it wants in return. */
static void feed_unit(vd_sim *sim, unit *u, vd_event event)
{
    vd_wants wants;
    event.now = world_microseconds(sim->now);
    vd_unit_engine.feed(u->unit, &event);
    vd_unit_engine.wants(u->unit, &wants);
    if (wants.keep) { /* the bench keeps its state as a whole, when the program ends */
        vd_unit_engine.feed(u->unit, &(vd_event){.kind = VD_KEPT, .now = event.now});
    }
    if (wants.count == 0) {
        listen_by_its_line(u, sim->now);
        return;
    }
    uint8_t bytes[VD_LINES_REPLY + MOST_SPOILT];
    vd_bench_faults faults = u->about->faults;
    if (sim->now - u->on_since < (int64_t)faults.starting * 1000) {
        faults.exception = 6;
    }
    u->replies++;
    const vd_framing *framing = vd_unit_framing(u->unit);
    size_t count = framing == NULL ? spoil_lines(&faults, u->replies, wants.send, wants.count, bytes)
                                   : spoil_reply(framing, &faults, u->replies, wants.send, wants.count, bytes);
    int64_t start = sim->now + ((int64_t)faults.late + chance(sim, faults.jitter + 1u)) * 1000, end = sim->now;
    if (count > 0) {
        end = cable_talk(&sim->cables[u->about->cable], u, true, &wants.line, start, bytes, count);
        world_talk_on(sim, u->about->cable);
    }
    /* A late unit goes on listening meanwhile, so that its replies can queue up. */
    uint64_t until = world_microseconds(u->about->faults.late > 0 ? sim->now : end);
    vd_unit_engine.feed(u->unit, &(vd_event){.kind = VD_SENT, .now = event.now, .until = until});
    listen_by_its_line(u, end);
}

static void adapter_hears(adapter *a, const heard *h)
{
    uint64_t time = world_microseconds(h->time) + a->about->latency;
    if (a->about->burst > 0) {
        time = (time + a->about->burst - 1) / a->about->burst * a->about->burst;
    }
    uint8_t errors = h->errors;
    if (a->count == QUEUE) { /* nobody fetched them: the oldest are lost */
        a->first = (a->first + 1) % QUEUE;
        a->count--;
        a->queue[a->first].errors |= VD_ERROR_OVERRUN;
    }
    a->queue[(a->first + a->count++) % QUEUE] = (queued){time, h->byte, errors};
}

static void make_noise(vd_sim *sim, adapter *a)
{
    uint32_t count = a->about->noise / 1000u + (chance(sim, 1000) < a->about->noise % 1000u);
    for (uint32_t i = 0; i < count; i++) {
        uint32_t random = chance(sim, 0x10000u);
        heard noise = {.time = sim->now, .byte = (uint8_t)random, .errors = (random >> 8) % 3 == 0};
        adapter_hears(a, &noise);
    }
    a->next_noise = sim->now + NOISE_STEP;
}

/* A unit that talks unasked, in text, as many do that are no responders. */
static void chatter(vd_sim *sim, unit *u)
{
    static const char text[] = "ready, 3 channels, 12.4 V, no alarm\r\n";
    cable_talk(&sim->cables[u->about->cable], u, true, &u->ear.receiver.line, sim->now, (const uint8_t *)text,
               sizeof text - 1);
    world_talk_on(sim, u->about->cable);
    u->next_chatter = sim->now + (int64_t)u->about->faults.chatter * 1000;
}

/* The first byte of a frame is the address; the unit takes it for its own. */
static void take_any_address(vd_sim *sim, unit *u, uint8_t byte)
{
    if (sim->now - u->quiet_since > (int64_t)vd_modbus_silence(&u->ear.receiver.line) * 1000 && byte != 0) {
        vd_unit_answer_to(u->unit, byte);
    }
    u->quiet_since = sim->now;
}

static void step(vd_sim *sim)
{
    for (uint16_t i = 0; i < sim->bench->adapter_count; i++) {
        adapter *a = &sim->adapters[i];
        if (a->about->cable != VD_NONE && !a->lost && next_byte(sim, a->about->cable, &a->ear) <= sim->now) {
            heard h = a->ear.next;
            cable_heard(&a->ear.receiver, &h);
            a->ear.known = false;
            if (a->open) {
                adapter_hears(a, &h);
            }
        }
        if (a->about->noise > 0 && a->open && a->next_noise <= sim->now) {
            make_noise(sim, a);
        }
    }
    for (uint16_t i = 0; i < sim->bench->unit_count; i++) {
        unit *u = &sim->units[i];
        do_deeds(sim, i);
        if (is_on(u) && next_byte(sim, u->about->cable, &u->ear) <= sim->now) {
            heard h = u->ear.next;
            cable_heard(&u->ear.receiver, &h);
            u->ear.known = false;
            if (u->about->faults.answers_all) {
                take_any_address(sim, u, h.byte);
            }
            feed_unit(sim, u, (vd_event){.kind = VD_HEARD, .bytes = &h.byte, .errors = &h.errors, .count = 1});
        }
        if (is_on(u) && wake_of(u) <= sim->now) {
            feed_unit(sim, u, (vd_event){.kind = VD_TIME});
        }
        if (is_on(u) && u->about->faults.chatter > 0 && u->next_chatter <= sim->now) {
            chatter(sim, u);
        }
    }
}

void vd_sim_run(vd_sim *sim, uint64_t until)
{
    int64_t end = (int64_t)until * 1000;
    for (int64_t next = world_next_event(sim); next <= end; next = world_next_event(sim)) {
        sim->now = next > sim->now ? next : sim->now;
        step(sim);
    }
    sim->now = end > sim->now ? end : sim->now;
}

uint64_t world_next_delivery(const adapter *a)
{
    bool ready = a->lost;
    if (ready) {
        return 0;
    }
    return a->count > 0 ? a->queue[a->first].time : VD_NEVER;
}

uint64_t vd_sim_next(vd_sim *sim)
{
    int64_t event = world_next_event(sim);
    uint64_t next = event == INT64_MAX ? VD_NEVER : world_microseconds(event);
    for (uint16_t i = 0; i < sim->bench->adapter_count; i++) {
        uint64_t delivery = world_next_delivery(&sim->adapters[i]);
        next = delivery < next ? delivery : next;
    }
    return next;
}

void *vd_sim_ground(vd_sim *sim)
{
    return sim;
}

const vd_bench *vd_sim_bench(const vd_sim *sim)
{
    return sim->bench;
}

uint64_t vd_sim_now(const vd_sim *sim)
{
    return world_microseconds(sim->now);
}

bool vd_sim_set_now(vd_sim *sim, uint64_t now)
{
    bool later = now >= world_microseconds(sim->now) && now < INT64_MAX / 2000;
    if (later) {
        vd_sim_run(sim, now);
    }
    return later;
}

vd_unit *vd_sim_unit(vd_sim *sim, uint16_t unit_index)
{
    return sim->units[unit_index].unit;
}

vd_sim_use vd_sim_use_of(const vd_sim *sim)
{
    vd_sim_use use = {0};
    for (uint16_t i = 0; i < sim->bench->cable_count; i++) {
        use.bytes += sim->cables[i].bytes;
        use.busy += (uint64_t)(sim->cables[i].busy / 1000);
    }
    return use;
}
