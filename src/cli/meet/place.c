/* SPDX-License-Identifier: MIT
 * Where the talk happens: which bench or port, and at which line settings. */
#include "meet.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

const char *place_bench_folder(const cli *c)
{
    const char *named = c->options.bench != NULL ? c->options.bench : g_getenv("VERDITE_BENCH");
    return named != NULL && named[0] != '\0' ? named : NULL;
}

/* Ports to choose from, of a bench or real. */
typedef struct candidates {
    char *names[VD_LOOP_LANES], *adapters[VD_LOOP_LANES], *labels[VD_LOOP_LANES];
    bool usable[VD_LOOP_LANES];
    size_t count;
} candidates;

static void add_candidate(candidates *all, const char *name, const char *adapter, const char *label, bool usable)
{
    if (all->count < VD_LOOP_LANES) {
        all->names[all->count] = g_strdup(name);
        all->adapters[all->count] = g_strdup(adapter);
        all->labels[all->count] = g_strdup(label);
        all->usable[all->count++] = usable;
    }
}

static void clear_candidates(candidates *all)
{
    for (size_t i = 0; i < all->count; i++) {
        g_free(all->names[i]);
        g_free(all->adapters[i]);
        g_free(all->labels[i]);
    }
}

static void find_candidates(const place *p, candidates *all)
{
    if (p->bench != NULL) {
        const vd_bench *world = vd_bench_world(p->bench);
        for (uint16_t i = 0; i < world->adapter_count; i++) {
            const vd_bench_adapter *adapter = &world->adapters[i];
            add_candidate(all, adapter->name, adapter->name, adapter->label, !adapter->busy && !adapter->forbidden);
        }
        return;
    }
    vd_posix_found found[VD_LOOP_LANES];
    size_t count = MIN(vd_posix_list(found, VD_LOOP_LANES, false), VD_LOOP_LANES);
    for (size_t i = 0; i < count; i++) {
        char adapter[160];
        vd_writer writer = vd_writer_start(adapter, sizeof adapter);
        vd_posix_identify(&found[i], &writer);
        add_candidate(all, found[i].path, adapter, found[i].label, found[i].may_open && found[i].holder[0] == '\0');
    }
}

/* Why a port is the one. */
typedef enum reason { NONE, SERVED, ONLY_ONE, ONLY_USABLE } reason;

/* The one that served last, whatever it is called today; the only one; the only one that can be opened. */
static reason pick(const candidates *all, const vd_served *served, size_t *picked)
{
    size_t usable = 0;
    for (size_t i = 0; i < all->count; i++) {
        if (served != NULL && strcmp(all->adapters[i], served->adapter) == 0) {
            *picked = i;
            return SERVED;
        }
    }
    for (size_t i = 0; i < all->count; i++) {
        usable += all->usable[i];
        *picked = all->usable[i] || all->count == 1 ? i : *picked;
    }
    return all->count == 1 ? ONLY_ONE : usable == 1 ? ONLY_USABLE : NONE;
}

static bool is_labelled(const void *about, size_t i, const char *word)
{
    return names_alike(((const candidates *)about)->labels[i], word);
}

/* A port by its name, or as it is labelled where only one is. */
static const char *port_meant(const candidates *all, const char *word)
{
    for (size_t i = 0; i < all->count; i++) {
        if (strcmp(all->names[i], word) == 0) {
            return word;
        }
    }
    uint16_t found = names_only(all->count, is_labelled, all, word);
    return found != VD_NONE ? all->names[found] : word;
}

/* None is the one: all are named. */
static void report_several(cli *c, const candidates *all)
{
    GString *names = g_string_new("");
    for (size_t i = 0; i < all->count; i++) {
        g_string_append_printf(names, "%s%s%s", i > 0 ? ", " : "", all->names[i],
                               all->usable[i] ? "" : " (cannot be opened now)");
    }
    report_new(c, vd_fault_of_SEVERAL_PORTS(names->str));
    for (size_t i = 0; i < all->count; i++) {
        message(c, "  %s: %s", all->names[i], all->labels[i]);
    }
    message(c, "To ask on all of them: verdite find");
    g_string_free(names, TRUE);
}

/* The port to take, and why it is that one; NULL: reported. */
static const char *choose_port(cli *c, const candidates *all, const vd_model *model, const vd_served *served)
{
    size_t at = 0;
    reason why = pick(all, served, &at);
    if (served != NULL && all->count > 0 && why != SERVED) {
        message(c, "%s is gone. A %s was behind it last time.", served->port, model->key);
    }
    if (why == SERVED && served != NULL && strcmp(all->names[at], served->port) != 0) {
        message(c, "The adapter of the %s is now %s (was %s).", model->key, all->names[at], served->port);
    } else if (why == SERVED && all->count > 1) {
        message(c, "Using %s: a %s was behind it last time.", all->names[at], model->key);
    } else if (why == ONLY_ONE && place_bench_folder(c) == NULL) {
        message(c, "Using %s, the only port.", all->names[at]);
    } else if (why == ONLY_USABLE) {
        message(c, "Using %s, the only port that can be opened.", all->names[at]);
    } else if (all->count == 0) {
        report_new(c, vd_fault_of_NO_PORT_AT_ALL());
    } else if (why == NONE) {
        report_several(c, all);
    }
    return why != NONE ? all->names[at] : NULL;
}

/* Opens the bench that was named, if one was. False: reported. */
static bool open_bench(cli *c, place *p)
{
    if (place_bench_folder(c) == NULL) {
        return true;
    }
    vd_findings *findings = vd_findings_new(place_bench_folder(c));
    p->bench = vd_bench_open(place_bench_folder(c), c->catalogue, findings);
    if (p->bench == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    return p->bench != NULL;
}

char *place_likely_port(cli *c, const vd_served *served)
{
    place p = {0};
    candidates all = {.count = 0};
    size_t at = 0;
    char *name = NULL;
    if (c->options.port != NULL) {
        return g_strdup(c->options.port);
    }
    if (open_bench(c, &p)) {
        find_candidates(&p, &all);
        name = pick(&all, served, &at) != NONE ? g_strdup(all.names[at]) : NULL;
    }
    clear_candidates(&all);
    vd_bench_free(p.bench);
    return name;
}

static const vd_served *recall(cli *c, const vd_model *model, vd_served *served)
{
    return vd_served_recall(remembered(c), model->key, NULL, served) ? served : NULL;
}

static bool open_port(cli *c, const vd_model *model, place *p)
{
    vd_fault fault = {0};
    if (p->bench != NULL) {
        p->kind = &vd_sim_kind;
        p->ground = vd_sim_ground(vd_bench_sim(p->bench));
        vd_sim_open(vd_bench_sim(p->bench), p->name, &p->port, &fault);
    } else {
        p->kind = &vd_posix_kind;
        if (vd_posix_open(p->name, (vd_signal)model->dtr, (vd_signal)model->rts, &p->posix, &fault) == VD_OK) {
            p->port = vd_posix_port(p->posix);
        }
    }
    if (p->port == NULL) {
        report(c, &fault);
    }
    return p->port != NULL;
}

bool place_reopen(const vd_model *model, place *p)
{
    if (p->bench != NULL) {
        return vd_sim_open(vd_bench_sim(p->bench), p->name, &p->port, NULL) == VD_OK;
    }
    char path[128];
    bool known = strcmp(p->adapter, p->name) != 0; /* who it is, as opposed to what it is called */
    vd_posix_close(p->posix);
    p->posix = NULL;
    if (known && !vd_posix_find(p->adapter, path, sizeof path)) {
        return false;
    }
    if (known && strcmp(path, p->name) != 0) {
        g_free(p->name);
        p->name = g_strdup(path);
    }
    if (vd_posix_open(p->name, (vd_signal)model->dtr, (vd_signal)model->rts, &p->posix, NULL) != VD_OK) {
        return false;
    }
    p->port = vd_posix_port(p->posix);
    return true;
}

/* Chooses port, line and address: what was typed, else what served last behind this adapter, else the model's usual. */
static bool choose_place(cli *c, const vd_model *model, place *p)
{
    candidates all = {.count = 0};
    vd_served served;
    const vd_served *last = recall(c, model, &served);
    find_candidates(p, &all);
    const char *chosen =
        c->options.port != NULL ? port_meant(&all, c->options.port) : choose_port(c, &all, model, last);
    p->name = g_strdup(chosen);
    p->adapter = g_strdup(chosen);
    for (size_t i = 0; i < all.count && chosen != NULL; i++) {
        if (strcmp(all.names[i], chosen) == 0) {
            g_free(p->adapter);
            p->adapter = g_strdup(all.adapters[i]);
        }
    }
    if (chosen != NULL && vd_served_recall(remembered(c), model->key, p->adapter, &served)) {
        bool line = !c->options.baud.given && !c->options.framing.given && !vd_serial_equal(&served.line, &p->line);
        bool address = !c->options.address.given && served.address != p->address;
        p->line = line ? served.line : p->line;
        p->address = address ? served.address : p->address;
        if (line || address) {
            char text[32];
            vd_writer writer = vd_writer_start(text, sizeof text);
            vd_serial_print(&p->line, &writer);
            char *at = p->address != 0 ? g_strdup_printf("Using address %u at", p->address) : g_strdup("Using");
            message(c, "%s %s, as last time.", at, text);
            g_free(at);
        }
    }
    clear_candidates(&all);
    return chosen != NULL;
}

void place_refuse_address(cli *c, const vd_model *model)
{
    char *said = g_strdup_printf("The model %s has no address.", model->key);
    report_wrong_words(c, said, c->options.addresses != NULL ? "Leave --addresses out." : "Leave --address out.");
    g_free(said);
}

bool place_open(cli *c, const vd_model *model, place *p)
{
    memset(p, 0, sizeof *p);
    p->line = model->line;
    p->address = model->address_factory;
    if (c->options.address.given && !vd_model_has_address(model)) {
        place_refuse_address(c, model);
        return false;
    }
    if (c->options.address.given) {
        uint32_t address = c->options.address.value;
        if (address < model->address_low || address > model->address_high) {
            char *allowed = g_strdup_printf("The model %s has --address %u to %u.", model->key, model->address_low,
                                            model->address_high);
            report_wrong_words(c, "Such a unit cannot have this address.", allowed);
            g_free(allowed);
            return false;
        }
        p->address = (uint8_t)address;
    }
    options_line(&c->options, &p->line);
    if (!open_bench(c, p)) {
        return false;
    }
    report_no_witness(c, model);
    return choose_place(c, model, p) && open_port(c, model, p);
}

place place_beside(const place *p, uint8_t address)
{
    place other = *p;
    other.name = g_strdup(p->name);
    other.adapter = g_strdup(p->adapter);
    other.address = address;
    return other;
}

char *place_words(const place *p, const vd_model *model)
{
    char line[32];
    vd_writer writer = vd_writer_start(line, sizeof line);
    vd_serial_print(&p->line, &writer);
    return !vd_model_has_address(model) ? g_strdup_printf("on %s, %s", p->name, line)
                                        : g_strdup_printf("at address %u on %s, %s", p->address, p->name, line);
}

const char *wire_name(vd_wire wire)
{
    static const char *const names[] = {[VD_WIRE] = "real", [VD_WIRE_NOT_KNOWN] = "not-known", [VD_NO_WIRE] = "none"};
    return names[wire];
}

const char *wire_words(vd_wire wire)
{
    static const char *const words[] = {[VD_WIRE] = "",
                                        [VD_WIRE_NOT_KNOWN] =
                                            "Serial over USB: speed and framing matter only behind a serial adapter.",
                                        [VD_NO_WIRE] = "This port is not a wire: speed and framing do not matter."};
    return words[wire];
}

void place_turn(place *p, const trace *t, const vd_engine *engine, void *self, void (*progress)(void *about),
                void *about)
{
    vd_lane lane = {.port = p->port};
    vd_seat seat = {.engine = engine, .self = self};
    vd_loop loop = {
        .kind = p->kind, .ground = p->ground, .lanes = &lane, .lane_count = 1, .seats = &seat, .seat_count = 1};
    vd_wants wants = {.done = false};
    bool stopped = false;
    trace_join(t, &loop);
    stops_catch();
    for (vd_loop_wants(&loop, 0, &wants); !wants.done; vd_loop_wants(&loop, 0, &wants)) {
        if (stops_so_far() > 0 && !stopped) {
            stopped = true;
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_STOP});
        } else if (vd_loop_step(&loop, VD_NEVER) != VD_OK) {
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_LOST, .status = VD_PORT_FAILED});
        } else if (progress != NULL) {
            progress(about);
        }
    }
    stops_release();
}

void place_remember(cli *c, const place *p, const vd_model *model)
{
    vd_served served = {.line = p->line, .address = p->address};
    g_strlcpy(served.port, p->name, sizeof served.port);
    g_strlcpy(served.adapter, p->adapter, sizeof served.adapter);
    g_strlcpy(served.model, model->key, sizeof served.model);
    vd_served_remember(remembered(c), &served);
}

/* A unit that is played looks back over so many readings; what changes over more of them it never knows. */
static void tell_crowded(const cli *c, vd_bench_folder *bench)
{
    const vd_bench *world = vd_bench_world(bench);
    for (uint16_t i = 0; i < world->unit_count; i++) {
        const vd_unit *unit = vd_sim_unit(vd_bench_sim(bench), i);
        const vd_watch *watch = vd_unit_alarms(unit);
        if (watch != NULL && vd_watch_odd_rows(watch).crowded > 0) {
            message(c,
                    "note: %s %s has an alarm on a rate over more readings than a bench keeps. It never sounds here. "
                    "On a log it does: verdite try --log",
                    vd_unit_model(unit)->key, vd_unit_identity(unit)->serial);
        }
    }
}

void place_close(cli *c, place *p)
{
    vd_fault fault = {0};
    if (p->bench != NULL && p->port != NULL) {
        tell_crowded(c, p->bench);
    }
    if (p->bench != NULL && p->port != NULL && vd_bench_keep(p->bench, &fault) != VD_OK) {
        report(c, &fault);
    }
    vd_posix_close(p->posix);
    vd_bench_free(p->bench);
    p->posix = NULL;
    p->bench = NULL;
    p->port = NULL;
}
