/* SPDX-License-Identifier: MIT
 * verdite ports: what is plugged in, who it is, and whether it can be used. */
#include "commands.h"
#include "../print/print.h"

#include <string.h>

#define MOST_PORTS 64u

/* Adds a port and what is to be known about it; `state` is one word for programs, `cure` may be NULL. */
static void add_port(sheet *rows, json_t *list, const vd_posix_found *port, const char *state, const char *cure)
{
    json_array_append_new(list, json_pack("{s:s, s:s, s:s, s:s, s:s, s:s, s:s, s:s, s:b, s:s, s:s}", "port", port->path,
                                          "lasting-name", port->lasting, "label", port->label, "serial", port->serial,
                                          "vendor", port->vendor, "product", port->product, "position", port->position,
                                          "holder", port->holder, "like-a-modem", port->like_a_modem, "wire",
                                          wire_name(port->wire), "state", state));
    sheet_row(rows, port->path, state, port->serial, port->label, NULL);
    sheet_tone(rows, 1, strcmp(state, "ready") == 0 ? TONE_GOOD : TONE_DOUBT);
    if (port->vendor[0] != '\0' || port->position[0] != '\0') {
        char *where = g_strdup_printf("USB %s:%s, plugged in at %s%s%s", port->vendor, port->product, port->position,
                                      port->lasting[0] != '\0' ? ", also " : "", port->lasting);
        sheet_note(rows, TONE_FAINT, where);
        g_free(where);
    }
    if (port->wire != VD_WIRE) {
        sheet_note(rows, TONE_FAINT, wire_words(port->wire));
    }
    if (cure != NULL) {
        sheet_note(rows, TONE_PLAIN, cure);
    }
    if (port->like_a_modem) {
        sheet_note(rows, TONE_PLAIN,
                   "A desktop service may use it as a modem. To prevent that, copy Verdite's 70-verdite.rules to "
                   "/etc/udev/rules.d and plug it in again.");
    }
}

static void add_real(sheet *rows, json_t *list, const vd_posix_found *port)
{
    char *cure = NULL;
    const char *state = "ready";
    if (port->gone) {
        state = "gone";
        cure = g_strdup("It disappeared just now: check plug and supply, then list the ports again.");
    } else if (!port->may_open) {
        state = "not allowed to you";
        char text[VD_ALLOWED_SIZE];
        vd_writer writer = vd_writer_start(text, sizeof text);
        vd_posix_print_cure(port->group, &writer);
        cure = g_strdup(text);
    } else if (port->holder[0] != '\0') {
        state = "in use";
        cure = g_strdup_printf("In use by %s", port->holder);
    }
    add_port(rows, list, port, state, cure);
    g_free(cure);
}

static vd_class list_bench(cli *c, sheet *rows, json_t *list)
{
    vd_findings *findings = vd_findings_new(place_bench_folder(c));
    vd_bench_folder *bench = vd_bench_open(place_bench_folder(c), c->catalogue, findings);
    if (bench == NULL) {
        report_findings(c, findings);
    } else {
        const vd_bench *world = vd_bench_world(bench);
        for (uint16_t i = 0; i < world->adapter_count; i++) {
            const vd_bench_adapter *adapter = &world->adapters[i];
            vd_posix_found port = {.may_open = true, .wire = adapter->wire};
            g_strlcpy(port.path, adapter->name, sizeof port.path);
            g_strlcpy(port.label, adapter->label, sizeof port.label);
            g_strlcpy(port.serial, "simulated", sizeof port.serial);
            add_port(rows, list, &port,
                     adapter->forbidden ? "not allowed to you"
                     : adapter->busy    ? "in use"
                                        : "ready",
                     NULL);
        }
        if (world->adapter_count == 0) {
            report_new(c, vd_fault_of_NO_PORT_AT_ALL());
        }
    }
    vd_bench_free(bench);
    vd_findings_free(findings);
    return c->worst;
}

static void watch(cli *c)
{
    vd_posix_watch *events = vd_posix_watch_start();
    vd_posix_found port;
    bool came = false;
    if (events == NULL) {
        report_new(c, vd_fault_of_PORT_FAILED("the system does not report adapters"));
        return;
    }
    message(c, "Watching. Plug an adapter in or out. Ctrl-C stops.");
    stops_catch();
    while (stops_so_far() == 0) {
        if (vd_posix_watch_next(events, 500, &came, &port)) {
            printf("%s  %s  %s\n", came ? "came" : "went", port.path, came ? port.label : "");
            fflush(stdout);
        }
    }
    stops_release();
    vd_posix_watch_end(events);
}

vd_class command_ports(cli *c)
{
    json_t *list = json_array();
    json_object_set_new(c->result, "ports", list);
    static const char *const titles[] = {"", "", "", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    if (place_bench_folder(c) != NULL) {
        list_bench(c, &rows, list);
        c->options.json ? sheet_drop(&rows) : sheet_print(&rows);
        return c->worst;
    }
    vd_posix_found found[MOST_PORTS];
    size_t count = MIN(vd_posix_list(found, MOST_PORTS, c->options.all), MOST_PORTS);
    for (size_t i = 0; i < count; i++) {
        add_real(&rows, list, &found[i]);
    }
    c->options.json ? sheet_drop(&rows) : sheet_print(&rows);
    if (c->options.watch) {
        watch(c);
    } else if (count == 0) {
        report_new(c, vd_fault_of_NO_PORT_AT_ALL());
    }
    return c->worst;
}
