/* SPDX-License-Identifier: MIT
 * A profile for one unit, or for several on one line, one after the other, with a line of result each. */
#include "cli.h"

#include <string.h>

#define MOST_ADDRESS 247u

/* Marks the addresses of a list such as "1-10,12". False: reported. */
static bool parse_addresses(cli *c, const char *list, bool chosen[MOST_ADDRESS + 1])
{
    char **parts = g_strsplit(list, ",", -1);
    bool fine = true;
    for (char **part = parts; *part != NULL && fine; part++) {
        char **ends = g_strsplit(g_strstrip(*part), "-", 2);
        guint64 from = 0, to = 0;
        fine = ends[0] != NULL && g_ascii_string_to_unsigned(ends[0], 10, 1, MOST_ADDRESS, &from, NULL) &&
               g_ascii_string_to_unsigned(ends[1] != NULL ? ends[1] : ends[0], 10, from, MOST_ADDRESS, &to, NULL);
        for (guint64 address = from; fine && address <= to; address++) {
            chosen[address] = true;
        }
        g_strfreev(ends);
    }
    g_strfreev(parts);
    if (!fine) {
        char *said = g_strdup_printf("--addresses: \"%s\" is no list of addresses.", list);
        report_wrong_words(c, said, "Give numbers from 1 to 247 and ranges with commas between, such as 1-10,12.");
        g_free(said);
    }
    return fine;
}

/* What is told of one unit: the outcome of the last visit. */
static void add_result(cli *c, sheet *rows, json_t *units, uint32_t address)
{
    const char *outcome = json_string_value(json_object_get(c->result, "outcome"));
    json_t *unit = json_object_get(c->result, "unit");
    const char *serial = json_string_value(json_object_get(unit, "serial"));
    char *at = g_strdup_printf("address %u", address);
    bool fine = c->worst == VD_CLASS_FINE;
    const char *words = outcome != NULL ? outcome : fine ? "done" : "not reached or not asked";
    sheet_row(rows, at, serial != NULL && serial[0] != '\0' ? serial : "-", words, NULL);
    sheet_tone(rows, 2, fine ? TONE_GOOD : c->worst == VD_CLASS_PARTLY ? TONE_DOUBT : TONE_BAD);
    json_t *copy = json_deep_copy(c->result);
    json_object_set_new(copy, "asked-address", json_integer(address));
    json_object_set_new(copy, "status", json_integer(c->worst));
    json_array_append_new(units, copy);
    g_free(at);
}

static void do_several(cli *c, const vd_model *model, const visit_task *task)
{
    bool chosen[MOST_ADDRESS + 1] = {false};
    static const char *const titles[] = {"", "", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *units = json_array(), *all = c->result;
    vd_class worst = VD_CLASS_FINE;
    bool stopped = false;
    if (!parse_addresses(c, c->options.addresses, chosen)) {
        json_decref(units);
        sheet_drop(&rows);
        return;
    }
    for (uint32_t address = 1; address <= MOST_ADDRESS && !stopped; address++) {
        if (!chosen[address]) {
            continue;
        }
        message(c, "== Address %u", address);
        c->options.address = (cli_number){.given = true, .value = address};
        c->address_typed = true;
        c->result = json_object();
        c->worst = VD_CLASS_FINE;
        visit_judged(c, model, task);
        fflush(stdout);
        add_result(c, &rows, units, address);
        json_decref(c->result);
        stopped = c->worst == VD_CLASS_INTERRUPTED;
        worst = MAX(worst, c->worst);
    }
    c->result = all;
    c->worst = worst;
    json_object_set_new(c->result, "units", units);
    if (c->options.json) {
        sheet_drop(&rows);
    } else {
        title_print(c, "All of them:");
        sheet_print(&rows);
    }
    if (stopped) {
        message(c, "Stopped by hand: the addresses behind the last one were not asked.");
    }
}

vd_class visit_with_profile(cli *c, vd_task kind)
{
    char **words = c->options.words;
    uint8_t *which = NULL;
    vd_profile *profile = choose_profile(c, words[0]);
    if (profile != NULL && choose_group(c, vd_profile_model(profile), &which)) {
        const visit_task task = {.task = kind,
                                 .target = vd_profile_values(profile),
                                 .which = which,
                                 .read_from = vd_profile_unit(profile),
                                 .name = words[0],
                                 .show_changes = changes_show};
        if (c->options.addresses != NULL) {
            do_several(c, vd_profile_model(profile), &task);
        } else {
            visit_judged(c, vd_profile_model(profile), &task);
        }
    }
    g_free(which);
    vd_profile_free(profile);
    return c->worst;
}
