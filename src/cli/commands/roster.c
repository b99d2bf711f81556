/* SPDX-License-Identifier: MIT
 * verdite roster: a roster of the units that are on the lines, or that earlier visits met. */
#include "commands.h"
#include "../act/act.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

#define MOST_VISITS 10000u

/* A unit to be listed. */
typedef struct listed {
    const vd_model *model;
    char *serial, *name, *line;
    uint8_t address;
} listed;

static void listed_free(gpointer about)
{
    listed *one = about;
    g_free(one->serial);
    g_free(one->name);
    g_free(one->line);
    g_free(one);
}

static void list(GPtrArray *all, const vd_model *model, const char *serial, uint8_t address, const char *name,
                 const char *line)
{
    listed *one = g_new0(listed, 1);
    *one = (listed){model, g_strdup(serial), g_strdup(name), g_strdup(line), address};
    g_ptr_array_add(all, one);
}

/* ---- Who is there ---- */

static bool list_found(cli *c, GPtrArray *all)
{
    hunt h = {0};
    const trace untraced = {NULL, NULL};
    const quarry what = {.from = 1, .to = 247};
    bool finished = false;
    if (hunt_ready(c, &h, NULL)) {
        finished = hunt_search(c, &h, &what, &untraced);
        for (size_t i = 0; i < h.count && finished; i++) {
            const site *s = &h.sites[i];
            for (size_t k = 0; s->port != NULL && k < vd_search_count(s->search); k++) {
                const vd_found *found = &s->found[k];
                if (found->status == VD_OK) {
                    list(all, found->model, found->identity.serial, found->address, "", s->name);
                } else {
                    report(c, &found->fault);
                }
            }
        }
    }
    hunt_close(c, &h);
    return finished;
}

/* ---- Who was met ---- */

/* What the unit was called when a visit ended. Free it. */
static char *name_in(cli *c, const vd_past *past, const vd_model *model)
{
    uint16_t setting = vd_model_find_role(model, VD_ROLE_NAME);
    size_t size = vd_set_size(model);
    char *memory = g_malloc0(2 * size);
    vd_set before, after;
    vd_set_start(&before, model, memory, size);
    vd_set_start(&after, model, memory + size, size);
    vd_history_values(remembered(c), past->id, &before, NULL, &after, NULL);
    vd_value name = setting != VD_NONE ? vd_set_get(&after, setting) : (vd_value){.type = VD_NOTHING};
    char *text = g_strdup(name.type != VD_NOTHING ? value_text(&model->settings[setting], &name) : "");
    g_free(memory);
    return text;
}

static bool list_visited(cli *c, GPtrArray *all)
{
    const vd_past_query any = {.acts = true};
    vd_past *past = g_new(vd_past, MOST_VISITS);
    GHashTable *seen = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    size_t count = remembers(c) ? vd_history_find(remembered(c), &any, past, MOST_VISITS) : 0;
    for (size_t i = 0; i < count; i++) { /* the last visit to a unit comes first */
        bool known = g_strv_contains(vd_catalogue_keys(c->catalogue), past[i].model);
        char *key = g_strdup_printf("%s %s", past[i].model, past[i].unit.serial);
        const vd_model *model = known && past[i].unit.serial[0] != '\0' && g_hash_table_add(seen, g_strdup(key))
                                    ? choose_model_named(c, past[i].model)
                                    : NULL;
        if (model != NULL) {
            char *name = name_in(c, &past[i], model);
            list(all, model, past[i].unit.serial, past[i].at, name,
                 past[i].line[0] != '\0' ? past[i].line : past[i].adapter);
            g_free(name);
        }
        g_free(key);
    }
    g_hash_table_destroy(seen);
    g_free(past);
    return true;
}

/* ---- Writing ---- */

static void add_cell(GString *text, const char *cell)
{
    char **parts = g_strsplit(cell, "\"", -1);
    char *doubled = g_strjoinv("\"\"", parts);
    g_string_append_printf(text, "%s\"%s\"", text->len > 0 && text->str[text->len - 1] != '\n' ? "," : "", doubled);
    g_free(doubled);
    g_strfreev(parts);
}

/* The keys of the settings that hold address and name in any of these models. */
static void add_keys(const GPtrArray *all, vd_role role, GPtrArray *keys)
{
    for (guint i = 0; i < all->len; i++) {
        const vd_model *model = ((const listed *)g_ptr_array_index(all, i))->model;
        uint16_t setting = vd_model_find_role(model, role);
        bool known = setting == VD_NONE;
        for (guint k = 0; k < keys->len && !known; k++) {
            known = strcmp(g_ptr_array_index(keys, k), model->settings[setting].words->key) == 0;
        }
        if (!known) {
            g_ptr_array_add(keys, (gpointer)model->settings[setting].words->key);
        }
    }
}

static char *text_of(const GPtrArray *all)
{
    GPtrArray *keys = g_ptr_array_new();
    GString *text = g_string_new("");
    add_keys(all, VD_ROLE_ADDRESS, keys);
    add_keys(all, VD_ROLE_NAME, keys);
    add_cell(text, "serial");
    add_cell(text, "model");
    add_cell(text, "line");
    for (guint k = 0; k < keys->len; k++) {
        add_cell(text, g_ptr_array_index(keys, k));
    }
    g_string_append_c(text, '\n');
    for (guint i = 0; i < all->len; i++) {
        const listed *one = g_ptr_array_index(all, i);
        add_cell(text, one->serial);
        add_cell(text, one->model->key);
        add_cell(text, one->line);
        for (guint k = 0; k < keys->len; k++) {
            uint16_t setting = vd_model_find(one->model, g_ptr_array_index(keys, k));
            vd_role role = setting != VD_NONE ? (vd_role)one->model->settings[setting].role : VD_ROLE_NONE;
            char *address = one->address != 0 ? g_strdup_printf("%u", one->address) : g_strdup("");
            add_cell(text, role == VD_ROLE_ADDRESS ? address : role == VD_ROLE_NAME ? one->name : "");
            g_free(address);
        }
        g_string_append_c(text, '\n');
    }
    g_ptr_array_free(keys, TRUE);
    return g_string_free(text, FALSE);
}

static void save(cli *c, const GPtrArray *all, const char *path)
{
    char *text = text_of(all);
    vd_findings *findings = vd_findings_new(path);
    vd_roster *roster = vd_roster_parse(text, strlen(text), c->catalogue, NULL, findings);
    char *whole = roster != NULL ? vd_roster_text(roster, NULL, true, path) : g_strdup(text);
    vd_fault fault = {0};
    if (vd_file_create(path, &(vd_file_text){whole, strlen(whole), false}, &fault) != VD_OK) {
        report(c, &fault);
    } else {
        message(c, "Saved as %s: %u unit%s.", path, all->len, all->len == 1 ? "" : "s");
        if (vd_findings_any_wrong(findings)) { /* such as two units that were met at one address */
            message(c, "Not all of it fits together yet. To see why: verdite check %s", path);
        }
        json_object_set_new(c->result, "saved", json_string(path));
        json_object_set_new(c->result, "units", json_integer(all->len));
    }
    vd_roster_free(roster);
    vd_findings_free(findings);
    g_free(whole);
    g_free(text);
}

vd_class command_roster(cli *c)
{
    const char *path = c->options.words[0], *source = c->options.words[1];
    GPtrArray *all = g_ptr_array_new_with_free_func(listed_free);
    bool found = strcmp(source, "find") == 0, visits = strcmp(source, "visits") == 0, fine = false;
    bool numbers = c->options.number != NULL;
    if (found || visits ? numbers : !numbers) {
        report_wrong_words(c, "A roster is made from what is there, from visits, or by numbering another one.",
                           "Give find or visits, or a roster and --number.");
    } else if (!g_str_has_suffix(path, ".csv")) {
        report_wrong_words(c, "A roster is a CSV file.", "Give a name that ends in .csv.");
    } else if (g_file_test(path, G_FILE_TEST_EXISTS)) {
        report_new(c, vd_fault_of_FILE_THERE(path));
    } else if (numbers) {
        roster_number(c, path, source, c->options.words[2]);
    } else {
        fine = found ? list_found(c, all) : list_visited(c, all);
    }
    if (fine && all->len == 0) {
        message(c, "No unit was found, and nothing was saved.");
        c->worst = MAX(c->worst, VD_CLASS_NO);
    } else if (fine) {
        save(c, all, path);
    }
    g_ptr_array_free(all, TRUE);
    return c->worst;
}
