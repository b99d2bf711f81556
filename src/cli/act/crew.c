/* SPDX-License-Identifier: MIT
 * Several visits in one loop. The line is granted to one exchange at a time; a visit begins once those before it only
 * wait, so that restarts overlap and everything else stands in order. */
#include "crew.h"

#include <string.h>

#define MOST_WAITING 8u /* units that are out of order at the same time */

static void begin_next(crew *all, bool held)
{
    size_t waiting = 0, next = 0;
    while (next < all->count && all->members[next].begun) {
        const crew_member *member = &all->members[next];
        if (!member->over && !visit_only_waits(&member->v, &all->loop) && !(held && all->at_once)) {
            return;
        }
        waiting += !all->members[next].over && !held;
        next++;
    }
    if (next < all->count && waiting < MOST_WAITING && stops_so_far() == 0) {
        crew_member *member = &all->members[next];
        member->begun = true;
        all->loop.seat_count = next + 1;
        visit_begin(&member->v, all->loop.kind->now(all->loop.ground));
    }
}

static void conclude(crew *all, crew_member *member)
{
    crew_turn_to(all, member);
    member->over = true;
    member->v.ended = all->loop.kind->now(all->loop.ground);
    visit_leave(all->c, &member->v);
    judged_show(all->c, &member->v);
    crew_turn_to(all, NULL);
    crew_show_line(all, member);
}

/* Does what a visit wishes. False: nothing; `held`: it waits for the others. */
static bool tend(crew *all, crew_member *member, bool *held)
{
    visit_wish wish = visit_wishes(all->c, &member->v, &all->loop);
    *held = false;
    if (wish == WISH_NOTHING) {
        return false;
    }
    if (wish == WISH_DONE) {
        conclude(all, member);
        return true;
    }
    if (broadcast_holds(all, member, wish)) {
        *held = true;
        return false;
    }
    if (wish == WISH_REOPEN) { /* the port is that of all of them */
        vd_loop_feed(&all->loop, member->v.seat, (vd_event){.kind = VD_STOP});
        return true;
    }
    if (wish != WISH_KEEP || vd_visit_progress(member->v.engine).step == VD_STEP_KEEP) {
        crew_turn_to(all, member);
    }
    visit_fulfil(all->c, &member->v, &all->loop, wish);
    crew_turn_to(all, NULL);
    return true;
}

/* One round over all visits. False: none is left. */
static bool turn(crew *all)
{
    size_t under_way = 0, holding = 0, begun = all->loop.seat_count;
    bool busy = false;
    for (size_t i = 0; i < begun; i++) {
        bool held = false;
        if (!all->members[i].over) {
            busy = tend(all, &all->members[i], &held) || busy;
            under_way += !all->members[i].over;
            holding += held;
        }
    }
    begin_next(all, holding == under_way);
    bool more = all->loop.seat_count > begun;
    if (busy || more || broadcast_was_heard(all)) {
        return true;
    }
    if (under_way == 0) {
        return false;
    }
    if (holding == under_way) {
        broadcast_go_on(all);
    } else if (vd_loop_step(&all->loop, VD_NEVER) != VD_OK) {
        for (size_t i = 0; i < all->loop.seat_count; i++) {
            vd_loop_feed(&all->loop, i, (vd_event){.kind = VD_LOST, .status = VD_PORT_FAILED});
        }
    }
    return true;
}

static void run(crew *all, const trace *t)
{
    int told = 0;
    all->loop.kind = all->place.kind;
    all->loop.ground = all->place.ground;
    all->loop.lanes = &all->lane;
    all->loop.lane_count = 1;
    all->lane.port = all->place.port;
    all->loop.seats = g_new0(vd_seat, all->count);
    for (size_t i = 0; i < all->count; i++) {
        all->loop.seats[i] = (vd_seat){.engine = &vd_visit_engine, .self = all->members[i].v.engine};
    }
    trace_join(t, &all->loop);
    stops_catch();
    begin_next(all, false);
    do {
        told = stops_tell(all->c, &all->loop, told);
        crew_show_stages(all, all->loop.kind->now(all->loop.ground));
    } while (turn(all));
    progress_show(all->c, "");
    stops_release();
    g_free(all->loop.seats);
}

static void enter(crew *all, const vd_model *model, const visit_task *task, const uint8_t *addresses)
{
    for (size_t i = 0; i < all->count; i++) {
        crew_member *member = &all->members[i];
        visit_prepare(&member->v, model, task);
        member->v.place = place_beside(&all->place, addresses[i]);
        member->v.seat = i;
        member->v.among_others = true;
        member->v.shown.told = all->told;
        g_snprintf(member->voice.name, sizeof member->voice.name, "address %u", addresses[i]);
        member->voice.result = json_object();
        visit_enter(all->c, &member->v);
    }
}

bool crew_do(crew *all, cli *c, const vd_model *model, const visit_task *task, const uint8_t *addresses, size_t count,
             bool at_once)
{
    trace t;
    memset(all, 0, sizeof *all);
    all->c = c;
    all->whole = (voice){.result = c->result, .worst = c->worst};
    all->now = &all->whole;
    all->at_once = at_once;
    if (!trace_start(c, &t)) {
        return false;
    }
    c->options.address = (cli_number){.given = true, .value = addresses[0]};
    c->address_typed = true;
    bool fine = place_open(c, model, &all->place);
    if (fine) {
        all->count = count;
        all->told = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
        all->members = g_new0(crew_member, count);
        enter(all, model, task, addresses);
        fine = !at_once || broadcast_is_safe(all, model, &t);
    }
    if (fine) {
        run(all, &t);
    }
    place_close(c, &all->place);
    trace_end(c, &t);
    return fine;
}

void crew_free(crew *all)
{
    for (size_t i = 0; i < all->count; i++) {
        visit_free(&all->members[i].v);
        json_decref(all->members[i].voice.result);
    }
    g_clear_pointer(&all->told, g_hash_table_destroy);
    g_free(all->members);
    g_free(all->place.name);
    g_free(all->place.adapter);
}
