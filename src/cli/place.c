/* SPDX-License-Identifier: MIT
 * Where the talk happens: which bench or port, and at which line settings. */
#include "cli.h"

#include <string.h>

const char *place_bench_folder(const cli *c)
{
    const char *named = c->options.bench != NULL ? c->options.bench : g_getenv("VERDITE_BENCH");
    return named != NULL && named[0] != '\0' ? named : NULL;
}

/* Takes the only port there is; names them all when there are more. */
static char *only_port(cli *c, const char *const *names, size_t count)
{
    if (count == 0) {
        report_words(c, VD_NO_PORT_AT_ALL, "", "");
        return NULL;
    }
    if (count == 1) {
        return g_strdup(names[0]);
    }
    char *all = g_strjoinv(", ", (char **)names);
    report_words(c, VD_SEVERAL_PORTS, "", all);
    g_free(all);
    return NULL;
}

static bool open_bench_port(cli *c, place *p)
{
    const vd_bench *world = vd_bench_world(p->bench);
    const char **names = g_new0(const char *, world->adapter_count + 1u);
    vd_fault fault = {0};
    for (uint16_t i = 0; i < world->adapter_count; i++) {
        names[i] = world->adapters[i].name;
    }
    p->name = c->options.port != NULL ? g_strdup(c->options.port) : only_port(c, names, world->adapter_count);
    g_free(names);
    p->kind = &vd_sim_kind;
    p->ground = vd_sim_ground(vd_bench_sim(p->bench));
    if (p->name != NULL && vd_sim_open(vd_bench_sim(p->bench), p->name, &p->port, &fault) != VD_OK) {
        report(c, &fault);
    }
    return p->port != NULL;
}

static bool open_real_port(cli *c, const vd_model *model, place *p)
{
    vd_posix_found found[32];
    const char *names[33] = {NULL};
    vd_fault fault = {0};
    if (c->options.port != NULL) {
        p->name = g_strdup(c->options.port);
    } else {
        size_t count = MIN(vd_posix_list(found, G_N_ELEMENTS(found)), G_N_ELEMENTS(found));
        for (size_t i = 0; i < count; i++) {
            names[i] = found[i].path;
        }
        p->name = only_port(c, names, count);
    }
    p->kind = &vd_posix_kind;
    if (p->name != NULL &&
        vd_posix_open(p->name, (vd_signal)model->dtr, (vd_signal)model->rts, &p->posix, &fault) != VD_OK) {
        report(c, &fault);
    }
    p->port = p->posix != NULL ? vd_posix_port(p->posix) : NULL;
    return p->port != NULL;
}

bool place_open(cli *c, const vd_model *model, place *p)
{
    memset(p, 0, sizeof *p);
    p->line = model->line;
    p->address = model->address_factory;
    if (c->options.address != -1) {
        if (c->options.address < model->address_low || c->options.address > model->address_high) {
            char *allowed =
                g_strdup_printf("A %s has --address %u to %u.", model->key, model->address_low, model->address_high);
            report_words(c, VD_WRONG_WORDS, "That is no address of such a unit.", allowed);
            g_free(allowed);
            return false;
        }
        p->address = (uint8_t)c->options.address;
    }
    if (!options_line(c, &p->line)) {
        return false;
    }
    if (place_bench_folder(c) == NULL) {
        return open_real_port(c, model, p);
    }
    vd_findings *findings = vd_findings_new(place_bench_folder(c));
    p->bench = vd_bench_open(place_bench_folder(c), c->catalogue, findings);
    if (p->bench == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    return p->bench != NULL && open_bench_port(c, p);
}

void place_close(cli *c, place *p)
{
    vd_fault fault = {0};
    if (p->bench != NULL && p->port != NULL && vd_bench_keep(p->bench, &fault) != VD_OK) {
        report(c, &fault);
    }
    vd_posix_close(p->posix);
    vd_bench_free(p->bench);
    p->posix = NULL;
    p->bench = NULL;
    p->port = NULL;
}

static void show_port(cli *c, json_t *list, const char *name, const char *label, const char *serial, const char *state)
{
    if (c->options.json) {
        json_array_append_new(
            list, json_pack("{s:s, s:s, s:s, s:s}", "port", name, "label", label, "serial", serial, "state", state));
        return;
    }
    char *first = padded(name, 18), *second = padded(label, 46), *third = padded(serial, 14);
    printf("%s  %s  %s  %s\n", first, second, third, state);
    g_free(first);
    g_free(second);
    g_free(third);
}

static vd_class list_bench(cli *c, json_t *list)
{
    vd_findings *findings = vd_findings_new(place_bench_folder(c));
    vd_bench_folder *bench = vd_bench_open(place_bench_folder(c), c->catalogue, findings);
    vd_class class = VD_CLASS_FINE;
    if (bench == NULL) {
        class = report_findings(c, findings);
    } else {
        const vd_bench *world = vd_bench_world(bench);
        for (uint16_t i = 0; i < world->adapter_count; i++) {
            const vd_bench_adapter *adapter = &world->adapters[i];
            show_port(c, list, adapter->name, adapter->label, "simulated",
                      adapter->forbidden ? "not allowed to you"
                      : adapter->busy    ? "in use"
                                         : "ready");
        }
        class = world->adapter_count == 0 ? report_words(c, VD_NO_PORT_AT_ALL, "", "") : class;
    }
    vd_bench_free(bench);
    vd_findings_free(findings);
    return class;
}

vd_class command_ports(cli *c)
{
    json_t *list = json_array();
    json_object_set_new(c->result, "ports", list);
    if (c->options.words != NULL) {
        return report_words(c, VD_WRONG_WORDS, "ports takes no words.", "See: verdite ports --help");
    }
    if (place_bench_folder(c) != NULL) {
        return list_bench(c, list);
    }
    vd_posix_found found[64];
    size_t count = MIN(vd_posix_list(found, G_N_ELEMENTS(found)), G_N_ELEMENTS(found));
    for (size_t i = 0; i < count; i++) {
        show_port(c, list, found[i].path, found[i].label, found[i].serial,
                  found[i].may_open ? "ready" : "not allowed to you");
    }
    return count == 0 ? report_words(c, VD_NO_PORT_AT_ALL, "", "") : VD_CLASS_FINE;
}
