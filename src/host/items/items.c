/* SPDX-License-Identifier: MIT
 * Items as a table: which settings its columns and rows are for, writing it, reading it, and judging each cell. */
#include "verdite/items.h"
#include "../cells/cells.h"

#include <string.h>

#define MOST_DIGITS 5u

struct vd_items {
    cell_table *table;
    uint16_t block;
    uint16_t *members; /* by column, VD_NONE: it is for none, which is a finding */
    GArray *cells;     /* of vd_item_cell */
};

static bool is_outermost(const vd_model *model, uint16_t block)
{
    return vd_index(model->blocks[block].outer) == VD_NONE;
}

static bool is_called(const vd_block *block, const char *word)
{
    return g_ascii_strcasecmp(block->key, word) == 0 ||
           (block->label != NULL && g_ascii_strcasecmp(block->label, word) == 0);
}

uint16_t vd_items_block(const vd_model *model, const char *word)
{
    for (uint16_t i = 0; i < model->block_count; i++) {
        if (is_outermost(model, i) && is_called(&model->blocks[i], word)) {
            return i;
        }
    }
    return VD_NONE;
}

static uint16_t setting_of(const vd_block *block, uint16_t item, uint16_t member)
{
    return (uint16_t)(block->first + item * block->members + member);
}

const char *vd_items_member(const vd_model *model, uint16_t block, uint16_t member)
{
    const vd_block *b = &model->blocks[block];
    return model->settings[setting_of(b, 0, member)].words->key + strlen(b->key) + strlen(".1.");
}

bool vd_items_listed(const vd_model *model, uint16_t block, uint16_t member)
{
    const vd_setting *about = &model->settings[setting_of(&model->blocks[block], 0, member)];
    return about->access != VD_READ_ONLY && !about->secret && about->written_by != VD_MAKER &&
           about->traits->id != VD_COUNTER && about->traits->id != VD_CLOCK;
}

/* ---- Writing ---- */

static void add_value(GString *out, const vd_set *set, uint16_t setting)
{
    char text[512] = "";
    vd_writer writer = vd_writer_start(text, sizeof text);
    if (!vd_set_knows(set, setting) || vd_set_exists(set, setting) == VD_FAILS) {
        cells_write(out, false, "");
        return;
    }
    vd_value value = vd_set_get(set, setting);
    vd_value_print(&set->model->settings[setting], &value, &writer);
    cells_write_value(out, text);
}

char *vd_items_text(const vd_set *set, uint16_t block)
{
    const vd_model *model = set->model;
    const vd_block *b = &model->blocks[block];
    GString *out = g_string_new("");
    cells_write(out, true, b->key);
    for (uint16_t member = 0; member < b->members; member++) {
        if (vd_items_listed(model, block, member)) {
            cells_write(out, false, vd_items_member(model, block, member));
        }
    }
    g_string_append(out, "\r\n");
    for (uint16_t item = 0; item < b->count; item++) {
        g_string_append_printf(out, "%u", item + 1u);
        for (uint16_t member = 0; member < b->members; member++) {
            if (vd_items_listed(model, block, member)) {
                add_value(out, set, setting_of(b, item, member));
            }
        }
        g_string_append(out, "\r\n");
    }
    return g_string_free(out, FALSE);
}

/* ---- Which columns and rows ---- */

static char *block_words(const vd_model *model)
{
    GString *words = g_string_new("");
    for (uint16_t i = 0; i < model->block_count; i++) {
        if (is_outermost(model, i)) {
            g_string_append_printf(words, "%s%s", words->len > 0 ? ", " : "", model->blocks[i].key);
        }
    }
    return g_string_free(words, FALSE);
}

static bool find_block(vd_items *items, const vd_model *model, vd_findings *findings)
{
    const char *name = items->table->names->len > 0 ? g_ptr_array_index(items->table->names, 0) : "";
    items->block = vd_items_block(model, name);
    if (items->block == VD_NONE) {
        char *words = block_words(model);
        char *said = g_strdup_printf("The first column, \"%s\", names nothing that repeats in a %s", name, model->key);
        char *allowed = words[0] != '\0' ? g_strdup_printf("Name it by one of: %s. Its cells are 1, 2, 3 ...", words)
                                         : g_strdup("Nothing repeats in this model.");
        cells_note(findings, 1, 0, said, allowed);
        g_free(allowed);
        g_free(said);
        g_free(words);
    }
    return items->block != VD_NONE;
}

typedef struct members {
    const vd_model *model;
    uint16_t block;
} members;

static const char *member_at(const void *about, size_t i)
{
    const members *m = about;
    return vd_items_member(m->model, m->block, (uint16_t)i);
}

/* The name of a member, without that of its item: "Number" of "Person 1: Number". */
static const char *member_label(const vd_model *model, uint16_t setting)
{
    const char *label = model->settings[setting].words->label, *own = strstr(label, ": ");
    return own != NULL ? own + 2 : label;
}

/* By its key, or by its name as it is shown where only one is called so. */
static uint16_t find_member(const vd_model *model, uint16_t block, const char *name)
{
    const vd_block *b = &model->blocks[block];
    uint16_t labelled = VD_NONE;
    unsigned count = 0;
    for (uint16_t i = 0; i < b->members; i++) {
        if (g_ascii_strcasecmp(vd_items_member(model, block, i), name) == 0) {
            return i;
        }
        if (g_ascii_strcasecmp(member_label(model, (uint16_t)(b->first + i)), name) == 0) {
            labelled = i;
            count++;
        }
    }
    return count == 1 ? labelled : (uint16_t)VD_NONE;
}

static void find_columns(vd_items *items, const vd_model *model, vd_findings *findings)
{
    const members all = {model, items->block};
    items->members = g_new(uint16_t, items->table->names->len);
    for (guint i = 0; i < items->table->names->len; i++) {
        const char *name = g_ptr_array_index(items->table->names, i);
        items->members[i] = i > 0 ? find_member(model, items->block, name) : VD_NONE;
        const vd_setting *about = items->members[i] != VD_NONE
                                      ? &model->settings[model->blocks[items->block].first + items->members[i]]
                                      : NULL;
        if (about != NULL && about->access == VD_READ_ONLY) {
            vd_fault fault = vd_fault_of_READ_ONLY_SETTING(about);
            vd_findings_add(findings, 1, i + 1, &fault);
            items->members[i] = VD_NONE;
        } else if (about == NULL && i > 0) {
            char *said = g_strdup_printf("The column \"%s\" is for no setting of an item", name);
            char *near = vd_suggest(name, model->blocks[items->block].members, member_at, &all);
            cells_note(findings, 1, i, said, near);
            g_free(near);
            g_free(said);
        }
    }
}

/* The item of a row, from 0; the block's count: a finding. */
static uint16_t item_of(const vd_block *block, const cell_row *row, vd_findings *findings)
{
    const char *text = row->cells[0];
    guint64 number = 0;
    if (strlen(text) <= MOST_DIGITS && g_ascii_string_to_unsigned(text, 10, 1, block->count, &number, NULL)) {
        return (uint16_t)(number - 1);
    }
    char *said = text[0] != '\0' ? g_strdup_printf("There is no %s \"%s\"", block->key, text)
                                 : g_strdup_printf("This row does not say which %s it is for", block->key);
    char *allowed = g_strdup_printf("Give a number from 1 to %u.", block->count);
    cells_note(findings, row->number, 0, said, allowed);
    g_free(allowed);
    g_free(said);
    return block->count;
}

/* ---- Reading ---- */

static void take_cell(vd_items *items, vd_set *set, const vd_item_cell *cell, vd_findings *findings)
{
    const vd_setting *about = &set->model->settings[cell->setting];
    vd_typed typed;
    vd_fault fault = {0};
    if (about->secret) {
        cells_note(findings, cell->line, cell->column - 1, "A secret does not belong in a table",
                   "Leave the cell empty, and set it by its key alone: it is asked for then.");
    } else if (vd_setting_parse(about, cell->text, strlen(cell->text), &typed, &fault) == VD_OK) {
        vd_set_put(set, cell->setting, &typed.value);
        g_array_append_val(items->cells, *cell);
    } else if (!cells_note_mangled(findings, cell->line, cell->column - 1, cell->text)) {
        vd_findings_add(findings, cell->line, cell->column, &fault);
    }
}

static void take_rows(vd_items *items, vd_set *set, vd_findings *findings)
{
    const vd_block *block = &set->model->blocks[items->block];
    unsigned *lines = g_new0(unsigned, block->count);
    for (guint n = 0; n < items->table->rows->len; n++) {
        const cell_row *row = cells_row_at(items->table, n);
        uint16_t item = item_of(block, row, findings);
        if (item < block->count && lines[item] != 0) {
            char *said = g_strdup_printf("%s %u is in line %u already", block->key, item + 1u, lines[item]);
            cells_note(findings, row->number, 0, said, "Keep one of the two rows.");
            g_free(said);
            continue;
        }
        for (guint i = 1; i < items->table->names->len && item < block->count; i++) {
            if (items->members[i] != VD_NONE && row->cells[i][0] != '\0') {
                const vd_item_cell cell = {setting_of(block, item, items->members[i]), cells_value(row->cells[i]),
                                           row->number, i + 1};
                take_cell(items, set, &cell, findings);
            }
        }
        if (item < block->count) {
            lines[item] = row->number;
        }
    }
    g_free(lines);
}

static const vd_item_cell *cell_at(const vd_items *items, guint i)
{
    return &g_array_index(items->cells, vd_item_cell, i);
}

/* The cell to blame for a rule: that of the setting that it blames, else the first one that decides it. */
static const vd_item_cell *blamed(const vd_items *items, const vd_model *model, uint16_t rule, const vd_fault *fault)
{
    const vd_item_cell *found = NULL;
    for (guint i = 0; i < items->cells->len; i++) {
        const vd_item_cell *cell = cell_at(items, i);
        if (fault->setting == &model->settings[cell->setting]) {
            return cell;
        }
        found = found == NULL && vd_rule_hangs_on(model, rule, cell->setting) ? cell : found;
    }
    return found;
}

static void judge(const vd_items *items, const vd_set *set, vd_findings *findings)
{
    const vd_model *model = set->model;
    for (guint i = 0; i < items->cells->len; i++) {
        const vd_item_cell *cell = cell_at(items, i);
        vd_fault fault = {0};
        if (vd_set_check(set, cell->setting, &fault) != VD_OK && vd_status_class(fault.status) == VD_CLASS_FILE) {
            vd_findings_add(findings, cell->line, cell->column, &fault);
        }
    }
    for (uint16_t rule = 0; rule < model->rule_count; rule++) {
        for (uint16_t item = 0; item < vd_rule_items(model, rule); item++) {
            vd_fault fault = {0};
            bool broken = vd_rule_judge(set, NULL, rule, item, &fault) == VD_FAILS && fault.status == VD_RULE_BROKEN;
            const vd_item_cell *cell = broken ? blamed(items, model, rule, &fault) : NULL;
            if (cell != NULL) {
                vd_findings_add(findings, cell->line, cell->column, &fault);
            }
        }
    }
}

vd_items *vd_items_load(const char *path, const vd_set *set, vd_findings *findings)
{
    cell_table *table = cells_read(path, findings);
    if (table == NULL) {
        return NULL;
    }
    vd_items *items = g_new0(vd_items, 1);
    items->table = table;
    items->cells = g_array_new(FALSE, FALSE, sizeof(vd_item_cell));
    if (!find_block(items, set->model, findings)) {
        vd_items_free(items);
        return NULL;
    }
    size_t size = vd_set_size(set->model);
    void *memory = g_malloc0(size);
    vd_set after;
    vd_set_start(&after, set->model, memory, size);
    vd_set_copy(&after, set);
    after.variant = set->variant;
    after.firmware = set->firmware;
    find_columns(items, set->model, findings);
    take_rows(items, &after, findings);
    judge(items, &after, findings);
    vd_wipe(memory, size);
    g_free(memory);
    return items;
}

void vd_items_free(vd_items *items)
{
    if (items != NULL) {
        cells_free(items->table);
        g_free(items->members);
        g_array_free(items->cells, TRUE);
        g_free(items);
    }
}

size_t vd_items_count(const vd_items *items)
{
    return items->cells->len;
}

vd_item_cell vd_items_at(const vd_items *items, size_t i)
{
    return *cell_at(items, (guint)i);
}
