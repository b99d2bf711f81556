/* SPDX-License-Identifier: MIT
 * verdite find and verdite diagnose: who is on the line, and why nobody is. */
#include "cli.h"

#include <stdlib.h>
#include <string.h>

#define MOST_FOUND 247u

/* A port that is searched. */
typedef struct site {
    char *name;
    vd_posix *posix;
    vd_port *port;
    vd_fault fault; /* why it is not searched */
    vd_search search;
    vd_search_plan plan;
    vd_found found[MOST_FOUND];
    uint8_t remembered; /* the address at which a unit was met behind this adapter */
} site;

/* Everything that one search needs. */
typedef struct hunt {
    vd_bench_folder *bench;
    site *sites;
    size_t count;
    const vd_model **models;
    size_t model_count;
    vd_line lines[VD_SEARCH_LINES];
    size_t line_count;
} hunt;

/* What is searched for. */
typedef struct quarry {
    uint8_t from, to;       /* 0: whoever talks in lines, and has no address */
    const vd_model *wanted; /* a diagnosis: this model at the address `from`; NULL: whoever is there */
    bool elsewhere;         /* quickly at every line setting, in every language */
} quarry;

static bool load_models(cli *c, hunt *h)
{
    const char *const *keys = vd_catalogue_keys(c->catalogue);
    h->models = g_new0(const vd_model *, g_strv_length((char **)keys) + 1);
    for (size_t i = 0; keys[i] != NULL; i++) {
        const vd_model *model = choose_model_named(c, keys[i]);
        if (model != NULL) {
            h->models[h->model_count++] = model;
        }
    }
    if (h->model_count == 0 && c->worst == VD_CLASS_FINE) {
        report_words(c, VD_NO_SUCH_MODEL, "", vd_catalogue_folders(c->catalogue));
    }
    return h->model_count > 0;
}

/* What was typed narrows the choice. */
static bool choose_lines(cli *c, hunt *h)
{
    vd_line typed = {0};
    if (!options_line(c, &typed)) {
        return false;
    }
    h->line_count = vd_search_lines(h->models, h->model_count, c->options.wide, typed.baud, &typed, h->lines);
    return true;
}

/* The address at which a unit was met last behind an adapter; 0: none. */
static uint8_t remembered_address(const char *adapter)
{
    vd_served served;
    return vd_served_recall(NULL, adapter, &served, NULL) ? served.address : 0;
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
    h->sites = g_new0(site, (world != NULL ? world->adapter_count : 0) + 1u);
    for (uint16_t i = 0; world != NULL && i < world->adapter_count; i++) {
        const char *name = world->adapters[i].name;
        if (c->options.port == NULL || strcmp(c->options.port, name) == 0) {
            site *s = &h->sites[h->count++];
            s->name = g_strdup(name);
            s->remembered = remembered_address(name);
            vd_sim_open(vd_bench_sim(h->bench), name, &s->port, &s->fault);
        }
    }
}

static void open_real_sites(cli *c, hunt *h)
{
    vd_posix_found found[VD_LOOP_LANES];
    size_t count = c->options.port != NULL ? 1 : MIN(vd_posix_list(found, VD_LOOP_LANES, false), VD_LOOP_LANES);
    h->sites = g_new0(site, count + 1u);
    for (size_t i = 0; i < count; i++) {
        site *s = &h->sites[h->count++];
        s->name = g_strdup(c->options.port != NULL ? c->options.port : found[i].path);
        char adapter[160];
        vd_writer writer = vd_writer_start(adapter, sizeof adapter);
        if (c->options.port == NULL) {
            vd_posix_identify(&found[i], &writer);
        }
        s->remembered = remembered_address(c->options.port == NULL ? adapter : c->options.port);
        if (vd_posix_open(s->name, VD_SIGNAL_ON, VD_SIGNAL_ON, &s->posix, &s->fault) == VD_OK) {
            s->port = vd_posix_port(s->posix);
        }
    }
}

static bool open_sites(cli *c, hunt *h)
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
        report_words(c, c->options.port != NULL ? VD_NO_PORT : VD_NO_PORT_AT_ALL,
                     c->options.port != NULL ? c->options.port : "", "List the ports that are there.");
    }
    return h->count > 0;
}

static void close_hunt(cli *c, hunt *h)
{
    vd_fault fault = {0};
    if (h->bench != NULL && vd_bench_keep(h->bench, &fault) != VD_OK) {
        report(c, &fault);
    }
    for (size_t i = 0; i < h->count; i++) {
        vd_posix_close(h->sites[i].posix);
        g_free(h->sites[i].name);
    }
    vd_bench_free(h->bench);
    g_free(h->sites);
    g_free(h->models);
}

static json_t *found_json(const site *s, const vd_found *found)
{
    char line[32], fault[64];
    vd_writer writer = vd_writer_start(line, sizeof line), to_fault = vd_writer_start(fault, sizeof fault);
    vd_line_print(&found->line, &writer);
    vd_writer_add_status(&to_fault, found->status);
    json_t *object = json_pack("{s:s, s:s, s:o, s:s, s:o}", "port", s->name, "line", line, "address",
                               found->address != 0 ? json_integer(found->address) : json_null(), "fault", fault, "unit",
                               identity_json(&found->identity));
    json_object_set_new(object, "code", json_string(vd_status_code(found->status)));
    json_object_set_new(object, "model", found->model != NULL ? json_string(found->model->key) : json_null());
    return object;
}

static int by_line_and_address(const void *a, const void *b)
{
    const vd_found *first = a, *second = b;
    return first->line.baud != second->line.baud ? (first->line.baud < second->line.baud ? -1 : 1)
                                                 : (int)first->address - (int)second->address;
}

static void show_found(const site *s)
{
    for (size_t i = 0; i < vd_search_count(&s->search); i++) {
        const vd_found *found = &s->found[i];
        char line[32];
        vd_writer writer = vd_writer_start(line, sizeof line);
        vd_line_print(&found->line, &writer);
        bool shared = found->status == VD_ADDRESS_SHARED;
        const char *who = shared                               ? "two units on one address"
                          : found->identity.product[0] != '\0' ? found->identity.product
                                                               : "does not say what it is";
        char *address = found->address != 0 ? g_strdup_printf("address %3u", found->address) : g_strdup("no address");
        printf("%-14s  %-11s  %-10s  %s", s->name, address, line, who);
        g_free(address);
        if (found->identity.serial[0] != '\0' && !shared) {
            printf(", serial number %s, firmware %s", found->identity.serial, found->identity.firmware);
        }
        printf("\n");
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
        found += vd_search_count(&s->search);
        if (!vd_search_ended(&s->search, &status)) {
            uint64_t own = vd_search_progress_of(&s->search).left;
            busy = busy == NULL || own > left ? s : busy;
            left = MAX(left, own);
        }
    }
    if (!c->live_messages || c->options.trace || busy == NULL) {
        return;
    }
    vd_search_progress progress = vd_search_progress_of(&busy->search);
    vd_writer writer = vd_writer_start(line, sizeof line);
    vd_line_print(&progress.line, &writer);
    fprintf(stderr, "\r\033[K%zu found, at most %u s left. %s: %s, %s", found, (unsigned)(left / 1000000u) + 1u,
            passes[progress.pass], busy->name, line);
    if (progress.address != 0) {
        fprintf(stderr, ", address %u", progress.address);
    }
    fflush(stderr);
}

/* Searches all ports that could be opened, in one thread. False when it was stopped by hand. */
static bool search(cli *c, hunt *h, const quarry *what, const trace *t)
{
    vd_lane *lanes = g_new0(vd_lane, h->count + 1);
    vd_seat *seats = g_new0(vd_seat, h->count + 1);
    vd_loop loop = {.kind = h->bench != NULL ? &vd_sim_kind : &vd_posix_kind,
                    .ground = h->bench != NULL ? vd_sim_ground(vd_bench_sim(h->bench)) : NULL,
                    .lanes = lanes,
                    .seats = seats};
    uint64_t now = loop.kind->now(loop.ground), shown = 0;
    trace_join(t, &loop);
    for (size_t i = 0; i < h->count; i++) {
        site *s = &h->sites[i];
        if (s->port == NULL) {
            continue;
        }
        s->plan =
            vd_search_plan_of(h->models, h->model_count, h->lines, h->line_count, s->port->kind->latency(s->port));
        s->plan.from = what->from;
        s->plan.to = what->to;
        s->plan.no_addresses = what->from == 0;
        s->plan.no_lines = what->from == what->to && what->from != 0;
        s->plan.any_line = c->options.wide || c->options.baud != -1 || c->options.framing != NULL;
        s->plan.every_line = c->options.wide;
        s->plan.slow_all = c->options.slow;
        s->plan.remembered = &s->remembered;
        s->plan.remembered_count = s->remembered != 0;
        s->plan.slow_limit = c->options.quick ? 0 : s->plan.slow_limit;
        if (what->elsewhere) {
            s->plan.no_lines = false;
            s->plan.no_addresses = what->from == 0;
            s->plan.any_line = true;
            s->plan.slow_limit = 0;
        }
        if (what->wanted != NULL) {
            vd_search_plan_diagnose(&s->plan, what->from, what->wanted);
        }
        vd_search_begin(&s->search, now, &s->plan, s->found, MOST_FOUND);
        lanes[loop.lane_count] = (vd_lane){.port = s->port};
        seats[loop.seat_count] = (vd_seat){.engine = &vd_search_engine, .self = &s->search, .lane = loop.lane_count};
        loop.lane_count++;
        loop.seat_count++;
    }
    stops_catch();
    bool going = loop.seat_count > 0, stopped = false;
    while (going) {
        vd_status status = VD_OK;
        if (stops_so_far() > 0 && !stopped) {
            stopped = true;
            for (size_t i = 0; i < loop.seat_count; i++) {
                vd_loop_feed(&loop, i, (vd_event){.kind = VD_STOP});
            }
        }
        going = false;
        for (size_t i = 0; i < h->count; i++) {
            site *s = &h->sites[i];
            if (s->port != NULL) {
                going = !vd_search_ended(&s->search, &status) || going;
            }
        }
        now = loop.kind->now(loop.ground);
        if (now - shown > 100000) {
            shown = now;
            show_progress(c, h);
        }
        if (going && vd_loop_step(&loop, now + 200000) != VD_OK) {
            break;
        }
    }
    if (c->live_messages) {
        fprintf(stderr, "\r\033[K");
    }
    stops_release();
    for (size_t i = 0; i < h->count; i++) {
        site *s = &h->sites[i];
        if (s->port != NULL) {
            qsort(s->found, vd_search_count(&s->search), sizeof s->found[0], by_line_and_address);
        }
    }
    for (size_t i = 0; i < h->count && !c->options.json && !what->elsewhere; i++) {
        show_found(&h->sites[i]);
    }
    g_free(lanes);
    g_free(seats);
    return !stopped;
}

/* Says what is wrong where something is; returns the units that are in order. */
static size_t conclude(cli *c, const hunt *h, bool finished, json_t *units)
{
    size_t good = 0;
    for (size_t i = 0; i < h->count; i++) {
        const site *s = &h->sites[i];
        vd_status status = VD_OK;
        vd_fault fault = s->fault;
        size_t count = s->port != NULL ? vd_search_count(&s->search) : 0;
        for (size_t k = 0; k < count; k++) {
            json_array_append_new(units, found_json(s, &s->found[k]));
            good += s->found[k].status == VD_OK;
            if (s->found[k].status != VD_OK) {
                report(c, &s->found[k].fault);
            }
        }
        if (s->port != NULL && vd_search_ended(&s->search, &status) && status != VD_OK && status != VD_STOPPED) {
            vd_fault_note(&fault, status, NULL, s->name, "");
        } else if (s->port != NULL && finished && count == 0) {
            vd_search_judge_line(&s->search, &fault);
        }
        if (fault.status != VD_OK) {
            if (h->count > 1) {
                message(c, "%s:", s->name);
            }
            report(c, &fault);
        }
    }
    return good;
}

/* What was not asked, and how long it would take. */
static void tell_rest(const cli *c, const hunt *h)
{
    unsigned most = 0, seconds = 0;
    bool narrowed = c->options.baud != -1 || c->options.framing != NULL;
    for (size_t i = 0; i < h->count; i++) {
        const site *s = &h->sites[i];
        vd_line at[VD_SEARCH_LINES];
        unsigned lines = 0;
        for (size_t k = 0; s->port != NULL && k < vd_search_count(&s->search); k++) {
            bool again = false;
            for (unsigned n = 0; n < lines; n++) {
                again = again || vd_line_equal(&at[n], &s->found[k].line);
            }
            if (!again && lines < VD_SEARCH_LINES && s->found[k].address != 0) {
                at[lines++] = s->found[k].line;
            }
        }
        if (lines > 0) {
            most = MAX(most, (unsigned)h->line_count - MIN(lines, (unsigned)h->line_count));
            unsigned each = s->plan.quick_limit + (unsigned)vd_line_time(&s->found[0].line, 8);
            seconds = (unsigned)((uint64_t)each * (unsigned)(s->plan.to - s->plan.from + 1) / 1000000u) + 1u;
        }
    }
    if (most > 0 && !c->options.wide && !narrowed) {
        message(c, "Not asked: the other addresses at %u further line settings, about %u s each (--wide)%s.", most,
                seconds, c->options.slow ? "" : "; units slower than usual (--slow)");
    }
}

static bool any_silent(const hunt *h)
{
    bool any = false;
    for (size_t i = 0; i < h->count; i++) {
        any = any || (h->sites[i].port != NULL && vd_search_count(&h->sites[i].search) == 0);
    }
    return any;
}

const vd_model *find_who_is_at(cli *c, const char *port, uint8_t address)
{
    hunt h = {0};
    const trace no_trace = {NULL, NULL};
    const vd_model *model = NULL;
    cli_options typed = c->options;
    c->options.port = (char *)port;
    c->options.json = TRUE; /* who is there is told by the command itself */
    if (load_models(c, &h) && choose_lines(c, &h) && open_sites(c, &h)) {
        const quarry what = {.from = address, .to = address};
        const site *s = &h.sites[0];
        bool finished = search(c, &h, &what, &no_trace);
        const vd_found *found = s->port != NULL && vd_search_count(&s->search) > 0 ? &s->found[0] : NULL;
        if (s->fault.status != VD_OK) {
            report(c, &s->fault);
        } else if (!finished) {
            report_words(c, VD_STOPPED, "", "The unit was only asked who it is.");
        } else if (found != NULL && found->status == VD_OK) {
            model = found->model;
            g_free(typed.framing);
            typed.address = address != 0 ? address : -1;
            typed.baud = (gint)found->line.baud;
            typed.framing = g_strdup_printf("%u%c%u", found->line.data_bits, found->line.parity, found->line.stop_bits);
        }
    }
    close_hunt(c, &h);
    c->options = typed;
    return model;
}

vd_class command_find(cli *c)
{
    hunt h = {0};
    trace t;
    if (c->options.words != NULL) {
        return report_words(c, VD_WRONG_WORDS, "find takes no words.", "See: verdite find --help");
    }
    if (c->options.from < 1 || c->options.to > 247 || c->options.from > c->options.to) {
        return report_words(c, VD_WRONG_WORDS, "That is no range of addresses.",
                            "Give --from and --to within 1 to 247, the lower one first.");
    }
    json_t *units = json_array();
    json_object_set_new(c->result, "units", units);
    if (!trace_start(c, &t)) {
        return c->worst;
    }
    if (load_models(c, &h) && choose_lines(c, &h) && open_sites(c, &h)) {
        const quarry what = {.from = (uint8_t)c->options.from, .to = (uint8_t)c->options.to};
        bool finished = search(c, &h, &what, &t);
        size_t good = conclude(c, &h, finished, units);
        if (!finished) {
            report_words(c, VD_STOPPED, "", "What was found until then stands above.");
        }
        message(c, "%zu unit%s found.", good, good == 1 ? "" : "s");
        tell_rest(c, &h);
        char *listeners = choose_listeners(c);
        if (finished && listeners[0] != '\0' && any_silent(&h)) {
            message(c,
                    "Where nobody answers there may be one that must be made to listen first: %s. How: verdite startup "
                    "MODEL",
                    listeners);
        }
        g_free(listeners);
    }
    trace_end(c, &t);
    close_hunt(c, &h);
    return c->worst;
}

/* Whether a search met nobody, not even a damaged reply. */
static bool met_nobody(const hunt *h)
{
    for (size_t i = 0; i < h->count; i++) {
        vd_fault fault = {0};
        const site *s = &h->sites[i];
        vd_status ended = VD_OK;
        bool silent = s->port != NULL && vd_search_count(&s->search) == 0 && vd_search_ended(&s->search, &ended) &&
                      ended == VD_OK;
        vd_status status = silent ? vd_search_judge_line(&s->search, &fault) : VD_OK;
        if (status != VD_NO_REPLY && status != VD_SILENT_LINE && status != VD_NO_ANSWER) {
            return false;
        }
    }
    return h->count > 0;
}

/* Before it is called silent, it is asked quickly at all usual speeds and framings, in every language that is known. */
static bool answers_elsewhere(cli *c, hunt *h, uint8_t address, const vd_line *asked, const trace *t)
{
    const quarry what = {.from = address, .to = address, .elsewhere = true};
    char at[32];
    vd_writer writer = vd_writer_start(at, sizeof at);
    vd_line_print(asked, &writer);
    h->line_count = vd_search_lines(h->models, h->model_count, true, 0, NULL, h->lines);
    if (c->live_messages) {
        message(c, "Silent at %s; asking at other speeds and framings.", at);
    }
    search(c, h, &what, t);
    for (size_t i = 0; i < h->count; i++) {
        const site *s = &h->sites[i];
        const vd_found *found = s->port != NULL && vd_search_count(&s->search) > 0 ? &s->found[0] : NULL;
        if (found == NULL || found->identity.product[0] == '\0') {
            continue;
        }
        char line[32];
        vd_writer to_line = vd_writer_start(line, sizeof line);
        vd_line_print(&found->line, &to_line);
        char *said = g_strdup_printf("%s %s, at %s", found->identity.product, found->identity.serial, line);
        report_words(c, VD_ANSWERS_ELSEWHERE, said, at);
        g_free(said);
        return true;
    }
    return false;
}

vd_class command_diagnose(cli *c)
{
    hunt h = {0};
    trace t;
    const vd_model *model = choose_model_met(c);
    if (model == NULL) {
        return c->worst;
    }
    if (c->options.words != NULL || c->options.address == 0 || c->options.address > 247) {
        return report_words(c, VD_WRONG_WORDS, "diagnose takes no words, and addresses of 1 to 247.",
                            "See: verdite diagnose --help");
    }
    if (c->options.address != -1 && !vd_model_has_address(model)) {
        return report_words(c, VD_WRONG_WORDS, "Such a unit has no address: it is alone on its line.",
                            "Leave --address out.");
    }
    uint8_t address = c->options.address != -1 ? (uint8_t)c->options.address : model->address_factory;
    json_t *units = json_array();
    json_object_set_new(c->result, "units", units);
    h.lines[0] = model->line;
    h.line_count = 1;
    if (!trace_start(c, &t)) {
        return c->worst;
    }
    if (load_models(c, &h) && options_line(c, &h.lines[0]) && open_sites(c, &h)) {
        const quarry what = {.from = address, .to = address, .wanted = model};
        const vd_line asked = h.lines[0];
        bool finished = search(c, &h, &what, &t);
        vd_fault silence = {0};
        bool silent = finished && h.count == 1 && met_nobody(&h);
        if (silent) {
            vd_search_judge_line(&h.sites[0].search, &silence);
        }
        bool elsewhere = silent && answers_elsewhere(c, &h, address, &asked, &t);
        if (silent && !elsewhere) {
            report(c, &silence);
        }
        size_t good = silent ? 0 : conclude(c, &h, finished, units);
        if (!finished) {
            report_words(c, VD_STOPPED, "", "The unit was only asked who it is.");
        } else if (good > 0) {
            char *call = address != 0 ? g_strdup_printf(" --address %u", address) : g_strdup("");
            message(c, "It answers as it should. To see how sound the line is: verdite link%s", call);
            g_free(call);
        }
    }
    trace_end(c, &t);
    close_hunt(c, &h);
    return c->worst;
}
