/* SPDX-License-Identifier: MIT
 * The course of a round: one loop over all ports, until all rows are done, nobody comes any more, or it is stopped. */
#include "round.h"

#include <string.h>

#define LOOK_EACH 20000u     /* microseconds for which the loop waits at most: a keyboard is no port */
#define USUAL_WAIT 30000000u /* microseconds without news that end a round that nobody watches */

/* Whether it has come to its end. */
static bool is_over(round *r, uint64_t now)
{
    bool waited = r->wait != VD_NEVER && now - r->news > r->wait && !round_is_at_work(r);
    bool dark = true; /* no port is left, and nobody is there to plug one in */
    for (size_t i = 0; i < r->station_count; i++) {
        dark = dark && r->stations[i].lost;
    }
    if (!r->ended) {
        r->ended = stops_so_far() > 0 || rows_all_done(r) || waited || (dark && r->wait != VD_NEVER);
    }
    return r->ended && !round_is_at_work(r);
}

static void run(round *r)
{
    int told = 0;
    uint64_t now = r->loop.kind->now(r->loop.ground);
    r->news = now;
    while (!is_over(r, now)) {
        bool busy = false;
        r->awaits = r->awaits && r->held == NULL && rows_next(r) != NULL;
        told = stops_tell(r->c, &r->loop, told);
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
    char *text = vd_roster_text(r->roster, serials, !r->numbers);
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
    r.units = json_array();
    r.whole = (voice){.result = c->result, .worst = c->worst};
    r.now = &r.whole;
    c->lines = true;
    rows_take(&r);
    round_lay_out(&r);
    if (rows_all_done(&r) && !c->options.all) {
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
    json_decref(r.units);
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
