/* SPDX-License-Identifier: MIT
 * verdite items, verdite fill: what repeats in a unit as a table, to the screen, to a file, and back. */
#include "commands.h"
#include "verdite/items.h"
#include "../print/print.h"

#include <string.h>

#define BESIDE (SHEET_MOST_COLUMNS - 1u) /* columns of one sheet, beside the one that names the item */

static uint16_t setting_of(const vd_block *block, uint16_t item, uint16_t member)
{
    return (uint16_t)(block->first + item * block->members + member);
}

static char *member_words(const vd_model *model, uint16_t block)
{
    GString *words = g_string_new("");
    for (uint16_t i = 0; i < model->blocks[block].members; i++) {
        if (vd_items_listed(model, block, i)) {
            g_string_append_printf(words, "%s%s", words->len > 0 ? ", " : "", vd_items_member(model, block, i));
        }
    }
    return g_string_free(words, FALSE);
}

static void list_blocks(cli *c, const vd_model *model)
{
    static const char *const titles[] = {"name", "items", "settings of each", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *blocks = json_array();
    for (uint16_t i = 0; i < model->block_count; i++) {
        const vd_block *block = &model->blocks[i];
        if (vd_index(block->outer) == VD_NONE) {
            char *words = member_words(model, i), *count = g_strdup_printf("%u", block->count);
            json_array_append_new(blocks, json_pack("{s:s, s:i}", "name", block->key, "items", (int)block->count));
            sheet_row(&rows, block->key, count, words, NULL);
            g_free(count);
            g_free(words);
        }
    }
    if (json_array_size(blocks) == 0) {
        message(c, "Nothing repeats in the model %s.", model->key);
    }
    c->options.json || json_array_size(blocks) == 0 ? sheet_drop(&rows) : sheet_print(&rows);
    json_object_set_new(c->result, "blocks", blocks);
}

/* Reported where there is no such block. */
static uint16_t block_named(cli *c, const vd_model *model, const char *word)
{
    uint16_t block = vd_items_block(model, word);
    if (block == VD_NONE) {
        char *said = g_strdup_printf("Nothing in the model %s repeats as \"%s\".", model->key, word);
        report_wrong_words(c, said, "To list what repeats, leave the word out.");
        g_free(said);
    }
    return block;
}

static const char *cell_text(const vd_set *set, uint16_t setting)
{
    const char *text = vd_set_exists(set, setting) == VD_FAILS ? "" : held_text(set, setting);
    return text[0] != '\0' ? text : "-";
}

/* As many columns as go beside each other, from this member on; returns the first of the next sheet. */
static uint16_t show_columns(cli *c, const vd_set *set, uint16_t block, uint16_t from)
{
    const vd_model *model = set->model;
    const vd_block *b = &model->blocks[block];
    const char *titles[SHEET_MOST_COLUMNS + 1] = {b->key};
    uint16_t shown[BESIDE], next = from;
    size_t count = 0;
    for (; next < b->members && count < BESIDE; next++) {
        if (vd_items_listed(model, block, next)) {
            titles[count + 1] = vd_items_member(model, block, next);
            shown[count++] = next;
        }
    }
    sheet rows = sheet_start(c, stdout, titles);
    for (uint16_t item = 0; item < b->count && count > 0; item++) {
        const char *cells[BESIDE] = {NULL};
        char *number = g_strdup_printf("%u", item + 1u);
        for (size_t i = 0; i < count; i++) {
            cells[i] = cell_text(set, setting_of(b, item, shown[i]));
        }
        sheet_row(&rows, number, cells[0], cells[1], cells[2], cells[3], cells[4], NULL);
        g_free(number);
    }
    count > 0 ? sheet_print(&rows) : sheet_drop(&rows);
    return next;
}

static void show(cli *c, const vd_set *set, uint16_t block)
{
    const vd_block *b = &set->model->blocks[block];
    json_t *items = json_array();
    for (uint16_t item = 0; item < b->count; item++) {
        json_t *settings = json_array();
        for (uint16_t i = 0; i < b->members; i++) {
            uint16_t setting = setting_of(b, item, i);
            if (vd_items_listed(set->model, block, i)) {
                vd_value value = vd_set_get(set, setting);
                json_array_append_new(settings, json_pack("{s:s, s:o}", "key", set->model->settings[setting].words->key,
                                                          "value", value_json(&set->model->settings[setting], &value)));
            }
        }
        json_array_append_new(items, json_pack("{s:i, s:o}", "item", item + 1, "settings", settings));
    }
    json_object_set_new(c->result, "items", items);
    for (uint16_t i = 0; i < b->members && !c->options.json;) {
        uint16_t next = show_columns(c, set, block, i);
        if (next < b->members) {
            screen_put(stdout, "\n");
        }
        i = next;
    }
}

static void save(cli *c, const vd_set *set, uint16_t block)
{
    char *text = vd_items_text(set, block);
    const vd_file_text content = {text, strlen(text), false};
    vd_fault fault = {0};
    vd_status status = c->options.replace ? vd_file_save(c->options.save, &content, &fault)
                                          : vd_file_create(c->options.save, &content, &fault);
    if (status == VD_OK) {
        json_object_set_new(c->result, "saved", json_string(c->options.save));
        message(c, "Saved as %s. To put it back after editing: verdite fill FILE %s", c->options.save, c->options.save);
    } else {
        report(c, &fault);
    }
    g_free(text);
}

vd_class command_items(cli *c)
{
    const vd_model *model = NULL;
    const char *word = c->options.words[1];
    visit v = {0};
    side s = {.name = c->options.words[0]};
    if (c->options.save != NULL && word == NULL) {
        return report_wrong_words(c, "--save needs to know which table.",
                                  "Name what repeats, such as alarm. To list that, leave --save out.");
    }
    if (c->options.save != NULL && !c->options.replace && g_file_test(c->options.save, G_FILE_TEST_EXISTS)) {
        return report_new(c, vd_fault_of_FILE_THERE(c->options.save));
    }
    if (side_choose(c, &s, &model) && side_open(c, &s, &model, &v)) {
        uint16_t block = word != NULL ? block_named(c, model, word) : VD_NONE;
        if (word == NULL) {
            list_blocks(c, model);
        } else if (block != VD_NONE && c->options.save != NULL) {
            save(c, &s.set, block);
        } else if (block != VD_NONE) {
            show(c, &s.set, block);
        }
    }
    side_free(&s);
    visit_free(&v);
    return c->worst;
}

/* The cells as words KEY=VALUE. Free with g_strfreev(). */
static char **words_of(const vd_items *items, const vd_model *model)
{
    char **words = g_new0(char *, vd_items_count(items) + 1);
    for (size_t i = 0; i < vd_items_count(items); i++) {
        vd_item_cell cell = vd_items_at(items, i);
        words[i] = g_strdup_printf("%s=%s", model->settings[cell.setting].words->key, cell.text);
    }
    return words;
}

vd_class command_fill(cli *c)
{
    const vd_model *model = NULL;
    const char *path = c->options.words[1];
    visit v = {0};
    side s = {.name = c->options.words[0]};
    vd_findings *findings = vd_findings_new(path);
    bool open = side_open_to_edit(c, &s, &model, &v);
    vd_items *items = open ? vd_items_load(path, &s.set, findings) : NULL;
    bool wrong = items == NULL || vd_findings_any_wrong(findings);
    if (open && wrong) {
        report_findings(c, findings);
        message(c, s.profile != NULL ? "%s is unchanged." : "Nothing was sent to the %s.", s.name);
    } else if (open && vd_items_count(items) == 0) {
        message(c, "All cells of %s are empty. Nothing changed.", path);
    } else if (open) {
        char **words = words_of(items, model);
        if (s.profile != NULL) {
            changes_save(c, s.name, words);
        } else {
            visit_free(&v);
            v = (visit){0};
            changes_write(c, model, words, &(visit_task){.called = "fill"});
        }
        g_strfreev(words);
    }
    vd_items_free(items);
    vd_findings_free(findings);
    side_free(&s);
    visit_free(&v);
    return c->worst;
}
