/* SPDX-License-Identifier: MIT
 * A port of a round: who stands there is asked over and over; who is found is handed on, and visited. */
#include "round.h"
#include "../words/words.h"

#include <string.h>

#define FIRST 25u         /* addresses that are asked beside the likely ones, until all were asked once */
#define LATER 6u          /* and from then on */
#define GONE_AFTER 2u     /* sweeps in a row in vain */
#define LOOK_EACH 500000u /* microseconds between two looks for a port that is gone */

/* ---- Opening ---- */

/* The models of the roster, each once; NULL behind the last. */
static void take_models(round *r)
{
    GPtrArray *models = g_ptr_array_new();
    for (size_t i = 0; i < r->row_count; i++) {
        if (!g_ptr_array_find(models, r->rows[i].about.model, NULL)) {
            g_ptr_array_add(models, (gpointer)r->rows[i].about.model);
        }
    }
    r->h.model_count = models->len;
    g_ptr_array_add(models, NULL);
    r->h.models = (const vd_model *const *)g_ptr_array_free(models, FALSE);
}

/* The line settings that units of these models may have: those they come with, and those that their rows give. */
static void take_lines(round *r)
{
    vd_serial typed = {0};
    options_line(&r->c->options, &typed);
    bool narrowed = typed.baud != 0 || typed.data_bits != 0;
    for (size_t i = 0; i < r->row_count && !narrowed; i++) {
        const vd_model *model = r->rows[i].about.model;
        void *memory = g_malloc0(vd_set_size(model));
        vd_set target;
        vd_link link = {.line = model->line};
        vd_set_start(&target, model, memory, vd_set_size(model));
        vd_roster_fill(r->roster, i, &target);
        vd_set_link(&target, &link);
        const vd_serial lines[] = {model->line, link.line};
        for (size_t k = 0; k < G_N_ELEMENTS(lines); k++) {
            bool known = false;
            for (size_t n = 0; n < r->h.line_count; n++) {
                known = known || vd_serial_equal(&r->h.lines[n], &lines[k]);
            }
            if (!known && r->h.line_count < VD_SEARCH_LINES) {
                r->h.lines[r->h.line_count++] = lines[k];
            }
        }
        g_free(memory);
    }
    if (narrowed) {
        hunt_choose_lines(r->c, &r->h);
    }
}

static void add_station(round *r, site *at, bool own)
{
    station *s = &r->stations[r->station_count];
    s->at = at;
    s->own = own;
    s->lane = r->station_count++;
    s->standing = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, g_free);
    s->jobs = g_ptr_array_new_with_free_func(job_free);
    r->loop.lanes[s->lane].port = at->port;
    for (size_t k = 0; k < ROUND_SEATS; k++) {
        r->loop.seats[s->lane * ROUND_SEATS + k] = (vd_seat){.engine = &round_idle_engine, .self = s, .lane = s->lane};
    }
    r->loop.lane_count = r->station_count;
    r->loop.seat_count = r->station_count * ROUND_SEATS;
}

/* Those of a bench, or the one that was named. */
static bool open_named(round *r)
{
    if (!hunt_open(r->c, &r->h)) {
        return false;
    }
    for (size_t i = 0; i < r->h.count && i < VD_LOOP_LANES; i++) {
        if (r->h.sites[i].port != NULL) {
            add_station(r, &r->h.sites[i], false);
        } else if (r->c->options.port != NULL || r->h.count == 1) {
            report(r->c, &r->h.sites[i].fault);
        } else {
            message(r->c, "note: %s cannot be opened: verdite ports", r->h.sites[i].name);
        }
    }
    return r->station_count > 0;
}

static bool is_known(const round *r, const char *adapter)
{
    bool known = g_hash_table_contains(r->refused, adapter);
    for (size_t i = 0; i < r->station_count; i++) {
        known = known || strcmp(r->stations[i].at->adapter, adapter) == 0;
    }
    return known;
}

static void open_adapter(round *r, const vd_posix_found *found, const char *adapter, bool told)
{
    site *at = g_new0(site, 1);
    site_open(r->c, at, found->path, adapter, found->label);
    if (at->port == NULL) {
        message(r->c, "note: %s cannot be opened: verdite ports", at->name);
        g_hash_table_add(r->refused, g_strdup(adapter));
        site_close(at);
        g_free(at);
        return;
    }
    add_station(r, at, true);
    if (told) {
        message(r->c, "New port: %s, %s.", at->name, at->label);
    }
}

void stations_look(round *r, bool told)
{
    vd_posix_found found[VD_LOOP_LANES];
    size_t count = MIN(vd_posix_list(found, VD_LOOP_LANES, false), VD_LOOP_LANES);
    for (size_t i = 0; i < count && r->station_count < VD_LOOP_LANES; i++) {
        char adapter[160];
        vd_writer writer = vd_writer_start(adapter, sizeof adapter);
        vd_posix_identify(&found[i], &writer);
        if (!found[i].gone && !is_known(r, adapter)) {
            open_adapter(r, &found[i], adapter, told);
        }
    }
}

bool stations_open(round *r)
{
    bool bench = place_bench_folder(r->c) != NULL;
    take_models(r);
    take_lines(r);
    r->stations = g_new0(station, VD_LOOP_LANES);
    r->loop.lanes = g_new0(vd_lane, VD_LOOP_LANES);
    r->loop.seats = g_new0(vd_seat, VD_LOOP_LANES * ROUND_SEATS);
    r->refused = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    r->looks = !bench && r->c->options.port == NULL;
    if (!r->looks && !open_named(r)) {
        return false;
    }
    r->loop.kind = bench ? &vd_sim_kind : &vd_posix_kind;
    r->loop.ground = bench ? vd_sim_ground(vd_bench_sim(r->h.bench)) : NULL;
    if (r->looks) {
        stations_look(r, false);
    }
    bool waits = r->wait == VD_NEVER || r->c->options.time > 0;
    if (r->station_count == 0 && !waits) { /* nobody is there to plug one in */
        report_new(r->c, vd_fault_of_NO_PORT_AT_ALL());
    } else if (r->station_count == 0) {
        message(r->c, "There is no port yet. Plug in an adapter.");
    }
    return r->station_count > 0 || waits;
}

void stations_close(round *r)
{
    for (size_t i = 0; i < r->station_count; i++) {
        station *s = &r->stations[i];
        g_hash_table_destroy(s->standing);
        g_ptr_array_free(s->jobs, TRUE);
        if (s->own) {
            site_close(s->at);
            g_free(s->at);
        }
    }
    g_hash_table_destroy(r->refused);
    g_free(r->stations);
    g_free(r->loop.lanes);
    g_free(r->loop.seats);
    hunt_close(r->c, &r->h);
    g_free((gpointer)r->h.models);
}

void stations_lose(round *r)
{
    for (size_t i = 0; i < r->station_count; i++) {
        station *s = &r->stations[i];
        r->loop.lanes[s->lane].lost = true;
        for (size_t k = 0; k < ROUND_SEATS; k++) {
            vd_loop_feed(&r->loop, s->lane * ROUND_SEATS + k, (vd_event){.kind = VD_LOST, .status = VD_PORT_LOST});
        }
    }
}

/* ---- Who is asked for ---- */

static bool is_asked(const station *s, uint8_t address)
{
    return memchr(s->asked, address, s->asked_count) != NULL;
}

static void ask_too(station *s, uint8_t address)
{
    if (address != 0 && !is_asked(s, address)) {
        s->asked[s->asked_count++] = address;
    }
}

/* Whoever was asked for in vain is gone, if that happens again. */
static void miss(station *s)
{
    GHashTableIter all;
    gpointer value;
    g_hash_table_iter_init(&all, s->standing);
    while (g_hash_table_iter_next(&all, NULL, &value)) {
        standing *one = value;
        one->missed += one->address == 0 || is_asked(s, one->address);
        if (one->missed > GONE_AFTER) {
            g_hash_table_iter_remove(&all);
        }
    }
}

/* The i-th of all addresses at which a unit may be: those of the rows, those at which units were met here, all others;
 * 0: it is none of these models. */
static uint8_t candidate(const round *r, const station *s, size_t i)
{
    uint8_t low = MOST_ADDRESS, high = 0;
    if (i < r->row_count) {
        return r->numbers && r->rows[i].state == ROW_WAITING ? 0 : r->rows[i].wanted;
    }
    i -= r->row_count;
    if (i < s->at->met_count) {
        return s->at->met[i];
    }
    for (size_t k = 0; k < r->h.model_count; k++) {
        low = MIN(low, r->h.models[k]->address_low);
        high = MAX(high, r->h.models[k]->address_high);
    }
    size_t address = i - s->at->met_count + 1;
    return address >= low && address <= high ? (uint8_t)address : 0;
}

/* A few of them each time: who is plugged in from the box meanwhile is to be met soon. */
static void ask_some(const round *r, station *s)
{
    size_t all = r->row_count + s->at->met_count + MOST_ADDRESS, some = s->explored ? LATER : FIRST;
    size_t first = r->row_count + s->at->met_count; /* all that is known, at once, when it begins */
    size_t most = s->cursor == 0 && !s->explored ? MIN(first, MOST_ADDRESS) : some;
    bool unseen = false;
    for (size_t i = 0; i < r->row_count; i++) {
        unseen = unseen || r->rows[i].state == ROW_WAITING;
    }
    for (size_t n = 0; n < most && unseen; n++) {
        ask_too(s, candidate(r, s, s->cursor));
        s->cursor = (s->cursor + 1) % all;
        s->explored = s->explored || s->cursor == 0;
    }
}

/* Those that come from the box, that stand here, and that went away half-way; and some others. */
static void choose_addresses(const round *r, station *s)
{
    GHashTableIter all;
    gpointer value;
    s->asked_count = 0;
    for (size_t i = 0; i < r->h.model_count; i++) {
        ask_too(s, vd_model_has_address(r->h.models[i]) ? r->h.models[i]->address_factory : 0);
    }
    g_hash_table_iter_init(&all, s->standing);
    while (g_hash_table_iter_next(&all, NULL, &value)) {
        ask_too(s, ((const standing *)value)->address);
    }
    for (size_t i = 0; i < r->row_count; i++) {
        const round_row *row = &r->rows[i];
        if (row->state == ROW_CUT_OFF) {
            ask_too(s, row->wanted);
            ask_too(s, row->address);
        }
    }
    if (s->sweeps > 0) {
        ask_some(r, s);
    }
    s->sweeps++;
}

static void sweep(round *r, station *s)
{
    vd_search_plan *plan = &s->at->plan;
    choose_addresses(r, s);
    *plan = vd_search_plan_of(vd_desks, r->h.models, r->h.model_count, r->h.lines, r->h.line_count,
                              s->at->port->kind->latency(s->at->port));
    plan->no_addresses = s->asked_count == 0;
    plan->met = s->asked;
    plan->met_count = s->asked_count;
    plan->slow_limit = 0;
    plan->every_line = true;
    plan->asks_once = true; /* a visit makes sure itself that a unit is alone on its address */
    plan->from = MOST_ADDRESS;
    plan->to = 1;
    for (size_t i = 0; i < s->asked_count; i++) {
        plan->from = MIN(plan->from, s->asked[i]);
        plan->to = MAX(plan->to, s->asked[i]);
    }
    plan->unlikely_to = plan->from; /* between these only those that are named */
    vd_seat *seat = &r->loop.seats[s->lane * ROUND_SEATS];
    seat->engine = &vd_search_engine;
    seat->self = s->at->search;
    seat->sent = 0;
    vd_search_begin(s->at->search, r->loop.kind->now(r->loop.ground), plan, s->at->found, MOST_FOUND);
    s->sweeping = true;
}

static void take_found(round *r, station *s)
{
    size_t count = vd_search_count(s->at->search);
    vd_fault fault = {0};
    vd_status heard = count == 0 && !s->judged ? vd_search_judge_line(s->at->search, &fault) : VD_NO_REPLY;
    if (heard != VD_OK && heard != VD_NO_REPLY && heard != VD_SILENT_LINE) { /* that nobody answers yet is no news */
        s->judged = true;
        message(r->c, "%s:", s->at->name);
        report(r->c, &fault);
        round_tell(r, true, "No unit can be understood there.");
    }
    miss(s);
    for (size_t i = 0; i < count; i++) {
        meeting_decide(r, s, &s->at->found[i]);
    }
}

/* ---- A port that is gone ---- */

static bool look_for_port(round *r, station *s)
{
    uint64_t now = r->loop.kind->now(r->loop.ground);
    if (now < s->again) {
        return false;
    }
    s->again = now + LOOK_EACH;
    place p = {.bench = r->h.bench, .posix = s->at->posix, .name = s->at->name, .adapter = s->at->adapter};
    bool back = place_reopen(r->h.models[0], &p);
    s->at->name = p.name;
    s->at->posix = p.posix;
    s->at->port = back ? p.port : NULL;
    if (back) {
        s->lost = false;
        vd_loop_regain(&r->loop, s->lane, p.port);
        if (!r->slept) {
            message(r->c, "%s is back.", s->at->name);
        }
    }
    return back;
}

bool station_tend(round *r, station *s)
{
    vd_status status = VD_OK;
    if (s->jobs->len > 0) {
        if (!jobs_are_over(s)) {
            return jobs_tend(r, s);
        }
        g_ptr_array_set_size(s->jobs, 0);
        return true;
    }
    if (s->lost) {
        return !r->ended && look_for_port(r, s);
    }
    if (s->sweeping && !vd_search_ended(s->at->search, &status)) {
        return false;
    }
    bool swept = s->sweeping;
    s->sweeping = false;
    if (r->ended) {
        return false;
    }
    if (r->loop.lanes[s->lane].lost) {
        s->lost = true;
        if (!r->slept) {
            message(r->c, "%s is gone. Plug the adapter in again.", s->at->name);
        }
        g_hash_table_remove_all(s->standing);
        return true;
    }
    if (swept) {
        take_found(r, s);
    }
    if (s->jobs->len == 0 && !r->ended) {
        sweep(r, s);
    }
    return true;
}
