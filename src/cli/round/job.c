/* SPDX-License-Identifier: MIT
 * The visits of a round on one line. The line is granted to one exchange at a time; a visit begins once those before it
 * only wait, so that restarts overlap and everything else stands in order. */
#include "round.h"

#include <string.h>

static void idle_wants(const void *engine, vd_wants *wants)
{
    (void)engine;
    *wants = (vd_wants){.wake = VD_NEVER, .done = true};
}

static void idle_feed(void *engine, const vd_event *event)
{
    (void)engine;
    (void)event;
}

const vd_engine round_idle_engine = {idle_wants, idle_feed};

void job_add(round *r, station *s, round_row *row, const vd_found *found)
{
    round_job *job = g_new0(round_job, 1);
    bool first = row->state == ROW_CUT_OFF; /* what was begun is finished before anything else */
    job->row = row;
    job->was = row->state;
    job->at = s;
    job->met = found->identity;
    job->address = found->address;
    job->v.place = (place){.bench = r->h.bench,
                           .kind = r->loop.kind,
                           .ground = r->loop.ground,
                           .line = found->line,
                           .address = found->address};
    row->state = ROW_AT_WORK;
    row->tries++;
    g_free(row->serial);
    row->serial = g_strdup(found->identity.serial);
    g_ptr_array_insert(s->jobs, first ? 0 : -1, job);
}

void job_free(gpointer about)
{
    round_job *job = about;
    visit_free(&job->v);
    json_decref(job->told.result);
    if (job->memory != NULL) { /* secrets may be among what it is to hold */
        vd_wipe(job->memory, vd_set_size(job->target.model));
    }
    g_free(job->memory);
    g_free(job);
}

bool jobs_are_over(const station *s)
{
    bool all = true;
    for (guint i = 0; i < s->jobs->len; i++) {
        all = all && ((const round_job *)g_ptr_array_index(s->jobs, i))->over;
    }
    return all;
}

/* ---- Beginning ---- */

/* A visit of a round to this unit that was cut off, and that this one finishes: all that it was to change is asked for
 * again. 0: there is none. */
static int64_t open_visit_of(const round *r, const round_job *job)
{
    const vd_model *model = job->target.model;
    const vd_past_query query = {.model = model->key, .serial = job->met.serial, .open = true, .acts = true};
    vd_past past;
    if (job->met.serial[0] == '\0' || vd_history_find(remembered(r->c), &query, &past, 1) == 0 ||
        strcmp(past.task, "round") != 0) {
        return 0;
    }
    uint16_t *about = g_new0(uint16_t, model->setting_count);
    void *memory = g_malloc0(vd_set_size(model));
    vd_set before;
    bool all = true;
    vd_set_start(&before, model, memory, vd_set_size(model));
    vd_history_values(remembered(r->c), past.id, &before, NULL, NULL, about);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        all = all && ((about[i] & VD_PAST_CHANGES) == 0 || vd_set_knows(&job->target, i));
    }
    g_free(memory);
    g_free(about);
    return all ? past.id : 0;
}

static void begin(round *r, station *s, round_job *job, size_t seat)
{
    const vd_model *model = job->row->about.model;
    const vd_profile *profile = job->row->about.profile;
    place where = job->v.place;
    job->memory = g_malloc0(vd_set_size(model));
    vd_set_start(&job->target, model, job->memory, vd_set_size(model));
    vd_roster_fill(r->roster, job->row->index, &job->target);
    if (!job_take_secrets(r, job)) {
        return;
    }
    job->task = (visit_task){.task = VD_TASK_WRITE,
                             .target = &job->target,
                             .called = "round",
                             .of = open_visit_of(r, job),
                             .firmware = profile != NULL ? vd_profile_firmware(profile) : 0,
                             .keeps = true,
                             .goes_on = true,
                             .code = job->row->about.code,
                             .line = job->row->about.line,
                             .show_changes = changes_show};
    job->told.result = json_object();
    g_strlcpy(job->told.name, job->met.serial, sizeof job->told.name);
    visit_prepare(&job->v, model, &job->task);
    job->v.place = where;
    job->v.place.name = g_strdup(s->at->name);
    job->v.place.adapter = g_strdup(s->at->adapter);
    job->v.place.posix = s->at->posix;
    job->v.place.port = s->at->port;
    job->v.seat = s->lane * ROUND_SEATS + 1u + seat;
    job->v.among_others = true;
    job->begun = true;
    visit_enter(r->c, &job->v);
    vd_visit_leave_room(job->v.engine, s->jobs->len > 1);
    vd_visit_expect(job->v.engine, job->met.serial[0] != '\0' ? job->met.serial : NULL);
    r->loop.seats[job->v.seat] = (vd_seat){.engine = &vd_visit_engine, .self = job->v.engine, .lane = s->lane};
    visit_begin(&job->v, r->loop.kind->now(r->loop.ground));
}

/* A seat that no visit which is under way has; ROUND_JOBS: there is none. */
static size_t free_seat(const round *r, const station *s)
{
    for (size_t seat = 0; seat < ROUND_JOBS; seat++) {
        bool taken = false;
        for (guint i = 0; i < s->jobs->len; i++) {
            const round_job *job = g_ptr_array_index(s->jobs, i);
            taken = taken || (job->begun && !job->over && job->v.seat == s->lane * ROUND_SEATS + 1u + seat);
        }
        if (!taken && !r->ended) {
            return seat;
        }
    }
    return ROUND_JOBS;
}

/* Whether one was begun. */
static bool begin_next(round *r, station *s)
{
    for (guint i = 0; i < s->jobs->len; i++) {
        round_job *job = g_ptr_array_index(s->jobs, i);
        size_t seat = !job->begun && !job->over ? free_seat(r, s) : ROUND_JOBS;
        if (seat < ROUND_JOBS) {
            begin(r, s, job, seat);
            return true;
        }
        if (job->begun && !job->over && !visit_only_waits(&job->v, &r->loop)) {
            return false;
        }
        if (!job->begun && !job->over && r->ended) { /* it is left for the next round */
            job->over = true;
            job->row->state = job->was;
        }
    }
    return false;
}

/* ---- Ending ---- */

/* Whether nothing better can be said of a unit of its model. */
static bool is_best(const round_job *job)
{
    const vd_summary summary = vd_visit_summary(job->v.engine);
    bool unprovable = job->v.model->store.proof == VD_PROOF_NONE || job->v.spared;
    return job->v.status == VD_OK && (summary.whole == VD_WHOLE_VERIFIED || summary.whole == VD_WHOLE_EXCEPT ||
                                      (summary.whole == VD_WHOLE_LIVE_ONLY && unprovable));
}

static void keep_outcome(round *r, round_job *job)
{
    round_row *row = job->row;
    bool fresh = false, sent = vd_visit_has_sent(job->v.engine);
    bool half = sent || job->was == ROW_CUT_OFF; /* also where this visit sent nothing yet */
    tone t = TONE_PLAIN;
    row->worst = job->told.worst;
    row->address = job->v.place.address;
    bool taken = r->numbers && job->v.status == VD_ADDRESS_TAKEN && !sent;
    row->state = is_best(job)                  ? ROW_DONE
                 : taken                       ? ROW_TAKEN
                 : !visit_was_cut_off(&job->v) ? ROW_LEFT
                 : half                        ? ROW_CUT_OFF
                                               : ROW_WAITING;
    r->moved += row->state == ROW_DONE && row->address != job->address;
    row->blocked = row->state == ROW_LEFT && job->v.status == VD_ADDRESS_TAKEN;
    row->moved = r->moved;
    row->when = row->state == ROW_DONE ? now_of_day() : 0;
    g_free(row->words);
    const char *cut = job->v.status == VD_STOPPED ? "NOT VERIFIED: interrupted" : "NOT VERIFIED: went away half-way";
    row->words = g_strdup(row->state == ROW_CUT_OFF        ? cut
                          : job->left != NULL              ? job->left
                          : row->state != ROW_DONE || sent ? visit_outcome_words(&job->v, &job->told, &t)
                          : job->v.spared                  ? "already right; stored as proved before"
                                                           : "already right");
    char *was = standing_name(&job->met, job->address), *name = standing_name(&job->met, row->address);
    if (strcmp(was, name) != 0) {
        g_hash_table_remove(job->at->standing, was);
    }
    standing *one = station_meets(job->at, name, &fresh);
    g_free(was);
    one->settled = row->state == ROW_DONE || row->state == ROW_LEFT;
    one->address = row->address;
    g_free(name);
    bool given = row->about.serial[0] == '\0' && row->about.code[0] == '\0';
    if (taken || (given && row->state == ROW_WAITING)) { /* the unit gets the next number, the row the next unit */
        g_clear_pointer(&row->serial, g_free);
        row->address = 0;
    }
    if (row->state == ROW_CUT_OFF && stops_so_far() == 0) {
        message(r->c, "Went away while it was written. Plug it in again: it is finished first.");
    } else if (row->state == ROW_WAITING && stops_so_far() == 0) {
        message(r->c, "Went away before anything was written.");
    }
    if (job->v.status == VD_STORE_SHUT || vd_status_class(job->v.status) == VD_CLASS_FILE) {
        r->ended = true;
    }
}

static void put_json(round *r, const round_job *job)
{
    const round_row *row = job->row;
    json_t *result = job->told.result;
    json_object_set_new(result, "row", json_integer(row->about.number));
    json_object_set_new(result, "asked-address", job->address != 0 ? json_integer(job->address) : json_null());
    json_object_set_new(result, "state", json_string(row_state_word(row)));
    json_object_set_new(result, "status", json_integer(job->told.worst));
    if (r->c->options.json) {
        json_dumpf(result, stdout, JSON_COMPACT);
        printf("\n");
        fflush(stdout);
    }
}

static void conclude(round *r, round_job *job)
{
    round_turn_to(r, job);
    job->over = true;
    job->v.ended = r->loop.kind->now(r->loop.ground);
    r->news = job->v.ended;
    visit_leave(r->c, &job->v);
    r->loop.seats[job->v.seat].engine = &round_idle_engine;
    judged_show(r->c, &job->v);
    round_turn_to(r, job); /* how it ended is known by now */
    keep_outcome(r, job);
    round_turn_to(r, NULL);
    put_json(r, job);
    round_show_line(r, job);
    round_ring(r, job->row->state == ROW_DONE);
    r->calls = true;
}

/* ---- In between ---- */

/* The changes stand: what the round was agreed to covers them, or it is asked. */
static void answer(round *r, round_job *job)
{
    cli *c = r->c;
    visit *v = &job->v;
    v->spared = proof_stands(c, v);
    bool yes = !v->spared && journal_judge_others(c, v) && consent_covers(r, job);
    v->told_why = !yes && !v->spared;
    if (stops_so_far() == 0) {
        vd_loop_feed(&r->loop, v->seat, (vd_event){.kind = VD_ANSWERED, .yes = yes});
    }
}

/* The port of a unit that has it to itself comes and goes with it. */
static void reopen(round *r, round_job *job)
{
    place *p = &job->v.place;
    if (vd_model_has_address(job->v.model)) { /* the port is that of all on its line */
        vd_loop_feed(&r->loop, job->v.seat, (vd_event){.kind = VD_STOP});
        return;
    }
    visit_fulfil(r->c, &job->v, &r->loop, WISH_REOPEN);
    site *at = job->at->at;
    at->posix = p->posix;
    at->port = p->port;
    g_free(at->name);
    at->name = g_strdup(p->name);
}

/* Does what a visit wishes. False: nothing. */
static bool tend(round *r, round_job *job)
{
    visit_wish wish = visit_wishes(r->c, &job->v, &r->loop);
    if (wish == WISH_NOTHING) {
        return false;
    }
    if (wish == WISH_DONE) {
        conclude(r, job);
        return true;
    }
    round_turn_to(r, job);
    switch (wish) {
    case WISH_ASK: answer(r, job); break;
    case WISH_REOPEN: reopen(r, job); break;
    case WISH_PASSWORD:
    case WISH_OLD_PASSWORD:
        keys_pause(r);
        visit_fulfil(r->c, &job->v, &r->loop, wish);
        keys_resume(r);
        break;
    default: visit_fulfil(r->c, &job->v, &r->loop, wish); break;
    }
    round_turn_to(r, NULL);
    return true;
}

bool jobs_tend(round *r, station *s)
{
    bool busy = begin_next(r, s);
    for (guint i = 0; i < s->jobs->len; i++) {
        round_job *job = g_ptr_array_index(s->jobs, i);
        busy = (job->begun && !job->over && tend(r, job)) || busy;
    }
    return busy || jobs_are_over(s);
}
