/* SPDX-License-Identifier: MIT
 * The course of a round: one loop over all ports, until all rows are done, nobody comes any more, or it is stopped. */
#include "round.h"

#include <string.h>
#include <time.h>

#define LID 2000000          /* microseconds of sleep that are no rounding */
#define PORTS_EACH 1000000   /* microseconds between two looks for new ports */
#define LOOK_EACH 20000u     /* microseconds for which the loop waits at most: a keyboard is no port */
#define USUAL_WAIT 30000000u /* microseconds without news that end a round that nobody watches */

/* Whether it has come to its end. */
static bool is_over(round *r, uint64_t now)
{
    bool waited = r->wait != VD_NEVER && now - r->news > r->wait && !round_is_at_work(r);
    if (!r->ended) {
        r->ended = stops_so_far() > 0 || rows_all_done(r) || waited;
    }
    return r->ended && !round_is_at_work(r);
}

/* How long the computer has slept since it was switched on: one of two clocks stands meanwhile. */
static gint64 time_asleep(void)
{
    struct timespec with, without;
    clock_gettime(CLOCK_BOOTTIME, &with);
    clock_gettime(CLOCK_MONOTONIC, &without);
    return (gint64)(with.tv_sec - without.tv_sec) * 1000000 + (with.tv_nsec - without.tv_nsec) / 1000;
}

/* A lid that was closed: an exchange that was under way is unknown, and another unit may be there now. */
static void look_at_lid(round *r)
{
    gint64 asleep = time_asleep();
    if (asleep - r->asleep > LID) {
        message(r->c, "The computer slept for %s. All ports are opened again, and each unit is identified again.",
                duration_text((asleep - r->asleep) / 1000000 * 1000));
        r->slept = true;
        stations_lose(r);
    }
    r->asleep = asleep;
}

/* Ports that come and go, and time that was slept away; none of it is on a bench. */
static void look_around(round *r)
{
    gint64 now = g_get_monotonic_time();
    bool any_lost = false;
    if (r->h.bench != NULL) {
        return;
    }
    look_at_lid(r);
    if (r->looks && now - r->looked > PORTS_EACH && !r->ended) {
        r->looked = now;
        stations_look(r, true);
    }
    for (size_t i = 0; i < r->station_count; i++) {
        any_lost = any_lost || r->stations[i].lost || r->loop.lanes[r->stations[i].lane].lost;
    }
    r->slept = r->slept && any_lost;
}

static void run(round *r)
{
    int told = 0;
    uint64_t now = r->loop.kind->now(r->loop.ground);
    r->asleep = time_asleep();
    r->news = now;
    while (!is_over(r, now)) {
        bool busy = false;
        r->awaits = r->awaits && r->held == NULL && rows_next(r) != NULL;
        told = stops_tell(r->c, &r->loop, told);
        look_around(r);
        for (size_t i = 0; i < r->station_count; i++) {
            busy = station_tend(r, &r->stations[i]) || busy;
        }
        keys_listen(r);
        if (r->awaits && r->h.bench != NULL && r->keys.terminal) {
            g_usleep(LOOK_EACH); /* the clock of a bench waits for nobody */
        }
        round_call_next(r);
        round_show_stages(r);
        now = r->loop.kind->now(r->loop.ground);
        if (!busy && vd_loop_step(&r->loop, now + LOOK_EACH) != VD_OK) {
            for (size_t i = 0; i < r->loop.seat_count; i++) {
                vd_loop_feed(&r->loop, i, (vd_event){.kind = VD_LOST, .status = VD_PORT_FAILED});
            }
        }
    }
    progress_show(r->c, "");
}

/* The exit status is that of the worst row. */
static vd_class worst_of(const round *r)
{
    vd_class worst = r->whole.worst;
    for (size_t i = 0; i < r->row_count; i++) {
        const round_row *row = &r->rows[i];
        vd_class own = row->state == ROW_BEFORE ? VD_CLASS_FINE
                       : row->state == ROW_WAITING || row->state == ROW_TAKEN
                           ? (r->numbers ? VD_CLASS_FINE : VD_CLASS_NOT_VERIFIED)
                       : row->state == ROW_DONE ? row->worst
                                                : MAX(row->worst, VD_CLASS_NOT_VERIFIED);
        worst = MAX(worst, own);
    }
    return stops_so_far() > 0 ? VD_CLASS_INTERRUPTED : worst;
}

/* What was learnt of serial numbers goes into a file of its own; the roster that was given stays as it is. */
static void save(round *r)
{
    cli *c = r->c;
    vd_fault fault = {0};
    const char **serials = g_new0(const char *, r->row_count + 1);
    for (size_t i = 0; i < r->row_count; i++) {
        serials[i] = r->rows[i].serial;
    }
    char *text = vd_roster_text(r->roster, serials, !r->numbers, c->options.save);
    const vd_file_text whole = {text, strlen(text), false};
    vd_status status = c->options.replace ? vd_file_save(c->options.save, &whole, &fault)
                                          : vd_file_create(c->options.save, &whole, &fault);
    if (status != VD_OK) {
        report(c, &fault);
    } else {
        message(c, "Saved as %s.", c->options.save);
    }
    g_free(text);
    g_free(serials);
}

static vd_class go(cli *c, vd_roster *roster, bool numbers)
{
    round r = {.c = c, .roster = roster, .wait = USUAL_WAIT, .calls = true, .numbers = numbers};
    bool watched = c->live_messages && place_bench_folder(c) == NULL;
    r.wait = c->options.time > 0 ? (uint64_t)c->options.time * 1000u : watched ? VD_NEVER : USUAL_WAIT;
    r.agreed = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    r.whole = (voice){.result = c->result, .worst = c->worst};
    r.now = &r.whole;
    c->lines = true;
    rows_take(&r);
    round_lay_out(&r);
    if (rows_all_done(&r)) {
        message(c, "%zu of %zu were done before. To read them again: --all", r.row_count, r.row_count);
    } else if (trace_start(c, &r.t)) {
        if (stations_open(&r)) {
            trace_join(&r.t, &r.loop);
            stops_catch();
            keys_begin(&r);
            if (consent_given(&r)) {
                run(&r);
                round_show_rows(&r);
                if (c->options.save != NULL) {
                    save(&r);
                }
                r.whole.worst = c->worst;
                c->worst = worst_of(&r);
            }
            keys_end(&r);
            stops_release();
        }
        stations_close(&r);
        trace_end(c, &r.t);
    }
    round_forget_secrets(&r);
    g_free(r.next);
    g_hash_table_destroy(r.agreed);
    rows_free(&r);
    return c->worst;
}

vd_class round_do(cli *c, vd_roster *roster)
{
    return go(c, roster, false);
}

vd_class round_number(cli *c, vd_roster *roster)
{
    return go(c, roster, true);
}
