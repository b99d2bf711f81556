/* SPDX-License-Identifier: MIT
 * A search over one port or many: opening them, asking, and showing what was found as it comes. */
#include "meet.h"
#include "../print/print.h"
#include "../words/words.h"

#include <stdlib.h>
#include <string.h>

bool hunt_load_models(cli *c, hunt *h, const vd_model *const *models)
{
    h->models = models != NULL ? models : choose_models(c);
    while (h->models[h->model_count] != NULL) {
        h->model_count++;
    }
    return h->model_count > 0;
}

void hunt_choose_lines(const cli *c, hunt *h)
{
    vd_serial typed = {0};
    options_line(&c->options, &typed);
    h->line_count = vd_search_lines(h->models, h->model_count, c->options.wide, typed.baud, &typed, h->lines);
}

static site *new_sites(size_t count)
{
    site *sites = g_new0(site, count);
    for (size_t i = 0; i < count; i++) {
        sites[i].search = vd_search_in(&sites[i].room);
    }
    return sites;
}

/* The addresses at which units were met behind an adapter, and that of the last one. */
static void remember_addresses(cli *c, site *s, const char *adapter)
{
    vd_served served;
    s->remembered = vd_served_recall(remembered(c), NULL, adapter, &served) ? served.address : 0;
    s->met_count = vd_served_addresses(remembered(c), adapter, s->met, MOST_FOUND);
}

bool hunt_leaves_out(const cli *c)
{
    return c->options.quick && !c->options.from.given && !c->options.to.given;
}

static bool is_labelled(const void *about, size_t i, const char *word)
{
    return names_alike(((const vd_bench *)about)->adapters[i].label, word);
}

static void open_bench_sites(cli *c, hunt *h)
{
    vd_findings *findings = vd_findings_new(place_bench_folder(c));
    h->bench = vd_bench_open(place_bench_folder(c), c->catalogue, findings);
    if (h->bench == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    const vd_bench *world = h->bench != NULL ? vd_bench_world(h->bench) : NULL;
    h->sites = new_sites((world != NULL ? world->adapter_count : 0) + 1u);
    bool any = world != NULL && c->options.port != NULL;
    uint16_t labelled = any ? names_only(world->adapter_count, is_labelled, world, c->options.port) : (uint16_t)VD_NONE;
    for (uint16_t i = 0; world != NULL && i < world->adapter_count; i++) {
        const char *name = world->adapters[i].name;
        if (c->options.port == NULL || strcmp(c->options.port, name) == 0 || i == labelled) {
            site *s = &h->sites[h->count++];
            s->name = g_strdup(name);
            s->adapter = g_strdup(name);
            s->label = g_strdup(world->adapters[i].label);
            remember_addresses(c, s, name);
            vd_sim_open(vd_bench_sim(h->bench), name, &s->port, &s->fault);
        }
    }
}

void site_open(cli *c, site *s, const char *path, const char *adapter, const char *label)
{
    s->search = vd_search_in(&s->room);
    s->name = g_strdup(path);
    s->adapter = g_strdup(adapter);
    s->label = g_strdup(label);
    remember_addresses(c, s, adapter);
    if (vd_posix_open(path, VD_SIGNAL_ON, VD_SIGNAL_ON, &s->posix, &s->fault) == VD_OK) {
        s->port = vd_posix_port(s->posix);
    }
}

void site_close(site *s)
{
    vd_posix_close(s->posix);
    g_free(s->name);
    g_free(s->adapter);
    g_free(s->label);
}

static void open_real_sites(cli *c, hunt *h)
{
    vd_posix_found found[VD_LOOP_LANES];
    bool named = c->options.port != NULL;
    size_t count = named ? 1 : MIN(vd_posix_list(found, VD_LOOP_LANES, false), VD_LOOP_LANES);
    h->sites = new_sites(count + 1u);
    for (size_t i = 0; i < count; i++) {
        char adapter[160];
        vd_writer writer = vd_writer_start(adapter, sizeof adapter);
        if (!named) {
            vd_posix_identify(&found[i], &writer);
        }
        site_open(c, &h->sites[h->count++], named ? c->options.port : found[i].path, named ? c->options.port : adapter,
                  named ? "" : found[i].label);
    }
}

bool hunt_open(cli *c, hunt *h)
{
    if (place_bench_folder(c) != NULL) {
        open_bench_sites(c, h);
        if (h->bench == NULL) {
            return false;
        }
    } else {
        open_real_sites(c, h);
    }
    if (h->count == 0) {
        report_new(c,
                   c->options.port != NULL ? vd_fault_of_NO_PORT(c->options.port, "") : vd_fault_of_NO_PORT_AT_ALL());
    }
    return h->count > 0;
}

void hunt_close(cli *c, hunt *h)
{
    vd_fault fault = {0};
    if (h->bench != NULL && vd_bench_keep(h->bench, &fault) != VD_OK) {
        report(c, &fault);
    }
    for (size_t i = 0; i < h->count; i++) {
        site_close(&h->sites[i]);
    }
    vd_bench_free(h->bench);
    g_free(h->sites);
}

static json_t *found_json(const site *s, const vd_found *found)
{
    char line[32], fault[64];
    vd_writer writer = vd_writer_start(line, sizeof line), to_fault = vd_writer_start(fault, sizeof fault);
    vd_serial_print(&found->line, &writer);
    vd_writer_add_status(&to_fault, found->status);
    json_t *object = json_pack("{s:s, s:s, s:o, s:s, s:o}", "port", s->name, "line", line, "address",
                               found->address != 0 ? json_integer(found->address) : json_null(), "fault", fault, "unit",
                               identity_json(&found->identity));
    json_object_set_new(object, "code", json_string(vd_status_code(found->status)));
    json_object_set_new(object, "other", found->other.serial[0] != '\0' ? identity_json(&found->other) : json_null());
    json_object_set_new(object, "model", found->model != NULL ? json_string(found->model->key) : json_null());
    return object;
}

bool hunt_ready(cli *c, hunt *h, const vd_model *const *models)
{
    if (!hunt_load_models(c, h, models)) {
        return false;
    }
    hunt_choose_lines(c, h);
    return hunt_open(c, h);
}

static int by_line_and_address(const void *a, const void *b)
{
    const vd_found *first = a, *second = b;
    return first->line.baud != second->line.baud ? (first->line.baud < second->line.baud ? -1 : 1)
                                                 : (int)first->address - (int)second->address;
}

static void show_found(sheet *rows, const site *s)
{
    for (size_t i = 0; i < vd_search_count(s->search); i++) {
        const vd_found *found = &s->found[i];
        char line[32];
        vd_writer writer = vd_writer_start(line, sizeof line);
        vd_serial_print(&found->line, &writer);
        bool shared = vd_found_is_shared(found), both = shared && found->other.serial[0] != '\0';
        const char *who = shared                               ? "two units on one address"
                          : found->identity.product[0] != '\0' ? found->identity.product
                                                               : "does not identify itself";
        char *address = found->address != 0 ? g_strdup_printf("address %3u", found->address) : g_strdup("no address");
        bool numbered = found->identity.serial[0] != '\0' && !shared;
        char *words = both ? g_strdup_printf("%s: %s and %s", who, found->other.serial, found->identity.serial)
                      : numbered
                          ? g_strdup_printf("%s %s, firmware %s", who, found->identity.serial, found->identity.firmware)
                          : g_strdup(who);
        sheet_row(rows, s->name, address, line, words, NULL);
        g_free(words);
        g_free(address);
    }
}

/* The port that takes longest stands for all. */
static void show_progress(const cli *c, const hunt *h)
{
    static const char *const passes[] = {"",
                                         "Asking for units without an address",
                                         "Asking the likeliest addresses",
                                         "Asking all addresses",
                                         "Asking for units without an address, slowly",
                                         "Asking the likeliest addresses, slowly",
                                         "Asking once more"};
    char line[32];
    const site *busy = NULL;
    uint64_t left = 0;
    size_t found = 0;
    for (size_t i = 0; i < h->count; i++) {
        const site *s = &h->sites[i];
        vd_status status = VD_OK;
        if (s->port == NULL) {
            continue;
        }
        found += vd_search_count(s->search);
        if (!vd_search_ended(s->search, &status)) {
            uint64_t own = vd_search_progress_of(s->search).left;
            busy = busy == NULL || own > left ? s : busy;
            left = MAX(left, own);
        }
    }
    if (busy == NULL) {
        return;
    }
    vd_search_progress progress = vd_search_progress_of(busy->search);
    vd_writer writer = vd_writer_start(line, sizeof line);
    vd_serial_print(&progress.line, &writer);
    char *address = progress.address != 0 ? g_strdup_printf(", address %u", progress.address) : g_strdup("");
    char *text = g_strdup_printf("%zu found, at most %u s left. %s: %s, %s%s", found, (unsigned)(left / 1000000u) + 1u,
                                 passes[progress.pass], busy->name, line, address);
    progress_show(c, text);
    g_free(text);
    g_free(address);
}

/* How each manner asks: what the options and the kind of search leave open. */
static const struct {
    bool shows;     /* whom it found, as a table */
    bool patient;   /* for as long as any model says a reply may take */
    bool once;      /* no question is repeated where all is sound */
    bool all_ways;  /* in every language, at every line setting */
    bool addressed; /* only units with addresses, at this line setting */
} manners[] = {[ASK_ALL] = {.shows = true, .patient = true},
               [ASK_ELSEWHERE] = {.all_ways = true},
               [ASK_NEIGHBOURS] = {.addressed = true},
               [ASK_HASTILY] = {.once = true},
               [ASK_ONCE] = {.shows = true, .patient = true, .once = true},
               [ASK_UNTOLD] = {.patient = true}};

static void plan(const cli *c, const hunt *h, site *s, const quarry *what)
{
    bool all_ways = manners[what->manner].all_ways, addressed = manners[what->manner].addressed;
    vd_search_plan *plan = &s->plan;
    *plan = vd_search_plan_of(vd_desks, h->models, h->model_count, h->lines, h->line_count,
                              s->port->kind->latency(s->port));
    plan->from = what->from;
    plan->to = what->to;
    plan->no_addresses = what->from == 0;
    plan->no_lines = addressed || (!all_ways && what->from == what->to && what->from != 0);
    plan->any_line = all_ways || c->options.wide || c->options.baud.given || c->options.framing.given;
    plan->every_line = c->options.wide && !addressed;
    plan->slow_all = c->options.slow && !addressed;
    plan->remembered = &s->remembered;
    plan->remembered_count = s->remembered != 0;
    plan->unlikely_to = hunt_leaves_out(c) ? HUNT_QUICK_TO : 0;
    plan->met = s->met;
    plan->met_count = s->met_count;
    if (what->wanted != NULL) {
        vd_search_plan_diagnose(plan, what->from, what->wanted);
        plan->asks = manners[what->manner].once ? 1 : plan->asks;
    }
    bool quick = c->options.quick && what->wanted == NULL;
    plan->slow_limit = quick || !manners[what->manner].patient ? 0 : plan->slow_limit;
}

/* Turns the loop until all searches have ended. False: it was stopped by hand. */
static bool turn(cli *c, const hunt *h, vd_loop *loop)
{
    uint64_t shown = 0;
    bool going = loop->seat_count > 0, stopped = false;
    stops_catch();
    while (going) {
        vd_status status = VD_OK;
        if (stops_so_far() > 0 && !stopped) {
            stopped = true;
            for (size_t i = 0; i < loop->seat_count; i++) {
                vd_loop_feed(loop, i, (vd_event){.kind = VD_STOP});
            }
        }
        going = false;
        for (size_t i = 0; i < h->count; i++) {
            const site *s = &h->sites[i];
            going = (s->port != NULL && !vd_search_ended(s->search, &status)) || going;
        }
        uint64_t now = loop->kind->now(loop->ground);
        if (progress_is_shown(c) && now - shown > 100000) {
            shown = now;
            show_progress(c, h);
        }
        if (going && vd_loop_step(loop, now + 200000) != VD_OK) {
            break;
        }
    }
    progress_show(c, "");
    stops_release();
    return !stopped;
}

bool hunt_search(cli *c, hunt *h, const quarry *what, const trace *t)
{
    vd_lane *lanes = g_new0(vd_lane, h->count + 1);
    vd_seat *seats = g_new0(vd_seat, h->count + 1);
    vd_loop loop = {.kind = h->bench != NULL ? &vd_sim_kind : &vd_posix_kind,
                    .ground = h->bench != NULL ? vd_sim_ground(vd_bench_sim(h->bench)) : NULL,
                    .lanes = lanes,
                    .seats = seats};
    uint64_t now = loop.kind->now(loop.ground);
    trace_join(t, &loop);
    for (size_t i = 0; i < h->count; i++) {
        site *s = &h->sites[i];
        if (s->port == NULL) {
            continue;
        }
        plan(c, h, s, what);
        vd_search_begin(s->search, now, &s->plan, s->found, MOST_FOUND);
        lanes[loop.lane_count] = (vd_lane){.port = s->port};
        seats[loop.seat_count] = (vd_seat){.engine = &vd_search_engine, .self = s->search, .lane = loop.lane_count};
        loop.lane_count++;
        loop.seat_count++;
    }
    bool finished = turn(c, h, &loop);
    for (size_t i = 0; i < h->count; i++) {
        site *s = &h->sites[i];
        if (s->port != NULL) {
            qsort(s->found, vd_search_count(s->search), sizeof s->found[0], by_line_and_address);
        }
    }
    static const char *const titles[] = {"", "", "", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    for (size_t i = 0; i < h->count && !c->options.json && manners[what->manner].shows; i++) {
        show_found(&rows, &h->sites[i]);
    }
    sheet_print(&rows);
    g_free(lanes);
    g_free(seats);
    return finished;
}

size_t hunt_conclude(cli *c, const hunt *h, bool finished, json_t *units)
{
    size_t good = 0;
    for (size_t i = 0; i < h->count; i++) {
        const site *s = &h->sites[i];
        vd_status status = VD_OK;
        vd_fault fault = s->fault;
        size_t count = s->port != NULL ? vd_search_count(s->search) : 0;
        for (size_t k = 0; k < count; k++) {
            json_array_append_new(units, found_json(s, &s->found[k]));
            good += s->found[k].status == VD_OK;
            if (s->found[k].status != VD_OK) {
                report(c, &s->found[k].fault);
            }
        }
        if (s->port != NULL && vd_search_ended(s->search, &status) && status != VD_OK && status != VD_STOPPED) {
            vd_fault_note(&fault, status, NULL, s->name, "");
        } else if (s->port != NULL && finished && count == 0) {
            vd_search_judge_line(s->search, &fault);
        }
        if (fault.status != VD_OK) {
            if (h->count > 1) {
                message(c, "%s:", s->name);
            }
            report(c, &fault);
            if (s->port != NULL && s->port->wire != VD_WIRE) {
                message(c, "%s", wire_words(s->port->wire));
            }
        }
    }
    return good;
}

bool hunt_who_shares(cli *c, const place *p, const vd_model *model, vd_fault *fault)
{
    const vd_model *const models[] = {model, NULL};
    const quarry what = {.from = p->address, .to = p->address, .wanted = model, .manner = ASK_UNTOLD};
    const trace untraced = {NULL, NULL};
    site *s = new_sites(1);
    hunt h = {.bench = p->bench, .sites = s, .count = 1, .models = models, .model_count = 1, .line_count = 1};
    h.lines[0] = p->line;
    s->name = p->name;
    s->port = p->port;
    bool shared =
        hunt_search(c, &h, &what, &untraced) && vd_search_count(s->search) > 0 && vd_found_is_shared(&s->found[0]);
    if (shared) {
        *fault = s->found[0].fault;
    }
    g_free(s);
    return shared;
}
