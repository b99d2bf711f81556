/* SPDX-License-Identifier: MIT
 * verdite plan --beside, --presets: what several profiles, or the presets of a model, make of the same days. */
#include "commands.h"
#include "../print/print.h"

#include <string.h>

#define SIDE_BY_SIDE (SHEET_MOST_COLUMNS - 1u) /* the first column is what a row is about */

/* One of them. */
typedef struct variant {
    char *name;
    void *memory;
    vd_set set;
    played p;
} variant;

static variant *add(GPtrArray *all, const char *name, const vd_set *from)
{
    variant *v = g_new0(variant, 1);
    v->name = g_strdup(name);
    v->memory = g_malloc0(vd_set_size(from->model));
    vd_set_start(&v->set, from->model, v->memory, vd_set_size(from->model));
    vd_set_copy(&v->set, from);
    v->set.variant = from->variant;
    v->set.firmware = from->firmware;
    g_ptr_array_add(all, v);
    return v;
}

static void free_variant(gpointer about)
{
    variant *v = about;
    if (v->p.memory != NULL) {
        played_free(&v->p);
    }
    g_free(v->memory);
    g_free(v->name);
    g_free(v);
}

static void add_preset(GPtrArray *all, const vd_set *set, const vd_preset *preset)
{
    variant *v = add(all, preset->key, set);
    for (uint16_t k = 0; k < preset->setting_count; k++) {
        vd_typed typed;
        const vd_setting *setting = &set->model->settings[preset->settings[k]];
        if (vd_setting_parse(setting, preset->values[k], strlen(preset->values[k]), &typed, NULL) == VD_OK) {
            vd_set_put(&v->set, preset->settings[k], &typed.value);
        }
    }
}

static bool add_file(cli *c, GPtrArray *all, const vd_set *set, const char *path)
{
    vd_profile *profile = choose_profile(c, path);
    bool fine = profile != NULL;
    if (fine && vd_profile_model(profile) != set->model) {
        report_new(c, vd_fault_of_FILE_OF_OTHER_MODEL(vd_profile_model(profile)->key, set->model->key));
        fine = false;
    }
    if (fine) {
        add(all, path, vd_profile_values(profile));
    }
    vd_profile_free(profile);
    return fine;
}

/* What a row says of one of them. Free it. */
typedef char *words_of(const played *p, uint16_t item, uint16_t k);

static char *case_words(const played *p, uint16_t item, uint16_t k)
{
    char *every = played_amount(p, p->intervals->items[item].counter->cases[k].value);
    char *times = played_case_times(p, item, k);
    char *words = g_strdup_printf("%s: %s", every[0] != '\0' ? every : "-", times);
    g_free(times);
    g_free(every);
    return words;
}

static char *item_words(const played *p, uint16_t item, uint16_t k)
{
    (void)k;
    return p->intervals->items[item].kind == VD_ITEM_STORE ? played_store_full(p, item) : played_item_words(p, item);
}

static char *cost_words(const played *p, uint16_t item, uint16_t k)
{
    (void)item;
    return played_cost_words(p, k);
}

/* A row of those that are shown side by side; `differing`: only where they differ. */
static void add_row(const cli *c, sheet *s, GPtrArray *all, const char *label, words_of *words, uint16_t item,
                    uint16_t k, bool differing)
{
    char *cells[SIDE_BY_SIDE + 1] = {NULL};
    bool differs = false;
    for (guint i = 0; i < all->len && i < SIDE_BY_SIDE; i++) {
        cells[i] = words(&((variant *)g_ptr_array_index(all, i))->p, item, k);
        differs = differs || (cells[i] != NULL && strcmp(cells[i], cells[0]) != 0);
    }
    if (cells[0] != NULL && (differs || !differing)) {
        json_t *row = json_array();
        sheet_row(s, label, cells[0], cells[1], cells[2], cells[3], cells[4], NULL);
        for (guint i = 0; cells[i] != NULL; i++) {
            json_array_append_new(row, json_string(cells[i]));
        }
        json_array_append_new(json_object_get(c->result, "rows"),
                              json_pack("{s:s, s:o}", "label", label, "words", row));
    }
    for (guint i = 0; i < SIDE_BY_SIDE; i++) {
        g_free(cells[i]);
    }
}

static void add_rows(const cli *c, sheet *s, GPtrArray *all)
{
    const vd_intervals *intervals = ((variant *)g_ptr_array_index(all, 0))->p.intervals;
    for (uint16_t i = 0; i < intervals->item_count; i++) {
        const vd_item *item = &intervals->items[i];
        for (uint8_t k = 0; item->counter != NULL && k < item->counter->case_count; k++) {
            const char *label = item->counter->cases[k].label;
            add_row(c, s, all, label[0] != '\0' ? label : vd_item_called(item), case_words, i, k, true);
        }
    }
    for (uint16_t i = 0; i < intervals->item_count; i++) {
        const vd_item *item = &intervals->items[i];
        if (item->counter == NULL && !vd_item_is_fact(item) && item->label[0] != '\0') {
            add_row(c, s, all, item->label, item_words, i, 0, false);
        }
    }
    for (uint16_t k = 0; played_costs[k] != NULL; k++) {
        add_row(c, s, all, played_costs[k], cost_words, 0, k, false);
    }
}

static bool gather(cli *c, GPtrArray *all, const vd_set *set)
{
    bool fine = true;
    add(all, strcmp(c->options.words[0], "unit") == 0 ? "the unit" : c->options.words[0], set);
    for (char **path = c->options.beside; path != NULL && *path != NULL && fine; path++) {
        fine = add_file(c, all, set, *path);
    }
    for (uint8_t i = 0; i < set->model->preset_count && c->options.presets; i++) {
        add_preset(all, set, &set->model->presets[i]);
    }
    if (fine && all->len == 1) {
        char *said = g_strdup_printf("The model %s has no presets.", set->model->key);
        report_wrong_words(c, said, "To compare it with a profile: --beside FILE");
        g_free(said);
    }
    if (fine && all->len > SIDE_BY_SIDE) {
        report_wrong_words(c, "Too many to stand side by side.", "Name at most four, the presets among them.");
    }
    return fine && all->len > 1 && all->len <= SIDE_BY_SIDE;
}

vd_class beside_show(cli *c, const vd_set *set, const day_list *days)
{
    GPtrArray *all = g_ptr_array_new_with_free_func(free_variant);
    bool fine = gather(c, all, set);
    for (guint i = 0; i < all->len && fine; i++) {
        variant *v = g_ptr_array_index(all, i);
        played_start(&v->p, &v->set, days);
        fine = played_is_known(c, &v->p);
    }
    if (fine) {
        const char *titles[SHEET_MOST_COLUMNS + 1] = {""};
        json_t *columns = json_array();
        char *called = days_words(days), *title = g_strdup_printf("%s, a day, on %s", set->model->title, called);
        for (guint i = 0; i < all->len; i++) {
            titles[i + 1] = ((variant *)g_ptr_array_index(all, i))->name;
            json_array_append_new(columns, json_string(titles[i + 1]));
        }
        json_object_set_new(c->result, "model", json_string(set->model->key));
        json_object_set_new(c->result, "columns", columns);
        json_object_set_new(c->result, "rows", json_array());
        sheet s = sheet_start(c, stdout, titles);
        add_rows(c, &s, all);
        if (c->options.json) {
            sheet_drop(&s);
        } else {
            title_print(c, title);
            sheet_print(&s);
        }
        g_free(title);
        g_free(called);
    }
    g_ptr_array_free(all, TRUE);
    return c->worst;
}
