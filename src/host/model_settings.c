/* SPDX-License-Identifier: MIT
 * Loading all settings of a model. A block is written once and becomes as many settings as it says, item behind item.
 */
#include "model_parts.h"

#include <string.h>

#define MOST_SETTINGS (VD_NONE - 1u)
#define MOST_ITEMS 1000

/* Takes a setting up, with the node that it came from; `good` false: it is there only so that others may name it. */
static void add(vd_model_file *file, GPtrArray *nodes, const vd_setting *setting, const yaml_node_t *map, bool good)
{
    vd_setting copy = *setting;
    if (!good) { /* nowhere, so that no other is blamed for it */
        copy.place = (vd_place){.table = 0xFF};
        copy.when = NULL;
        copy.type = copy.type != VD_NOTHING ? copy.type : VD_INTEGER;
    }
    guint index = file->settings->len;
    g_array_append_val(file->settings, copy);
    g_ptr_array_add(nodes, good ? (gpointer)map : NULL);
    if (copy.key[0] != '\0' && !g_hash_table_contains(file->keys, copy.key)) {
        g_hash_table_insert(file->keys, (gpointer)copy.key, GUINT_TO_POINTER(index));
    }
}

/* One member in one item: its own key and place. */
static vd_setting in_item(vd_model_file *file, const vd_setting *member, uint16_t block, uint16_t item, int64_t stride)
{
    const vd_block *about = &g_array_index(file->blocks, vd_block, block);
    vd_setting setting = *member;
    char *key = g_strdup_printf("%s.%u.%s", about->key, item + 1u, member->key);
    char *label = g_strdup_printf("%s %u: %s", about->label, item + 1u, member->label);
    setting.key = model_text(file, key);
    setting.label = model_text(file, label);
    setting.block = block;
    setting.item = item;
    setting.place.address = (uint16_t)(member->place.address + item * stride);
    setting.field.item = (uint16_t)(item + 1u);
    g_free(key);
    g_free(label);
    return setting;
}

/* The head of a block: its key, label, how often, and how far apart. */
static bool take_head(vd_model_file *file, const yaml_node_t *map, vd_block *block, int64_t *stride)
{
    static const char *const keys[] = {"block", "label", "repeat", "stride", "group", "settings", NULL};
    int64_t repeat = 0;
    bool fine = yaml_check_keys(&file->yaml, map, keys);
    fine = model_take_text(file, map, "block", true, &block->key) && fine;
    fine = model_take_text(file, map, "label", true, &block->label) && fine;
    fine = yaml_take_integer(&file->yaml, map, "repeat", true, 1, MOST_ITEMS, &repeat) && fine;
    bool registers = !vd_model_talks_in_lines(&file->model);
    fine = yaml_take_integer(&file->yaml, map, "stride", registers, 1, 0xFFFF, stride) && fine;
    block->count = (uint16_t)repeat;
    for (guint i = 0; i < file->blocks->len; i++) {
        if (strcmp(g_array_index(file->blocks, vd_block, i).key, block->key) == 0) {
            fine = yaml_note(&file->yaml, map, vd_fault_of_KEY_TWICE(block->key));
        }
    }
    return fine;
}

static bool take_block(vd_model_file *file, GPtrArray *nodes, const yaml_node_t *map)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    int64_t stride = 0;
    vd_block block = {.key = "", .label = "", .first = (uint16_t)file->settings->len};
    bool fine = take_head(file, map, &block, &stride);
    const char *group = block.key; /* of members that do not say, unless the block does */
    fine = yaml_take_text(&file->yaml, map, "group", false, &group) && fine;
    fine = yaml_take_list(&file->yaml, map, "settings", 1000, &count, &items) && fine;
    if (!fine || count == 0) {
        return fine &&
               yaml_note(&file->yaml, map, vd_fault_of_KEY_MISSING("settings", "the settings that are repeated"));
    }
    if (file->settings->len + count * block.count > MOST_SETTINGS) {
        return yaml_note(&file->yaml, map, vd_fault_of_WRONG_SHAPE(block.key, "at most 65534 settings in all"));
    }
    block.members = (uint16_t)count;
    uint16_t index = (uint16_t)file->blocks->len;
    g_array_append_val(file->blocks, block);
    vd_setting *members = g_new0(vd_setting, count);
    bool *good = g_new0(bool, count);
    for (gsize m = 0; m < count; m++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[m]);
        good[m] = model_take_setting(file, node, group, &members[m]);
        uint32_t last = members[m].place.address + (uint32_t)stride * (block.count - 1u);
        if (good[m] && last + members[m].place.words > 0x10000u) {
            good[m] = yaml_note(
                &file->yaml, node,
                vd_fault_of_WRONG_SHAPE(members[m].key, "a place from which all items reach no further than 65535"));
        }
        fine = good[m] && fine;
    }
    for (uint16_t item = 0; item < block.count; item++) {
        for (gsize m = 0; m < count; m++) {
            vd_setting setting = in_item(file, &members[m], index, item, stride);
            add(file, nodes, &setting, yaml_node(&file->yaml, items[m]), good[m]);
        }
    }
    g_free(members);
    g_free(good);
    return fine;
}

bool model_take_settings(vd_model_file *file, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    GPtrArray *nodes = g_ptr_array_new();
    bool fine = yaml_take_list(&file->yaml, root, "settings", MOST_SETTINGS, &count, &items);
    for (gsize i = 0; i < count && file->settings->len < MOST_SETTINGS; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        if (yaml_member(&file->yaml, map, "block") != NULL) {
            fine = take_block(file, nodes, map) && fine;
            continue;
        }
        vd_setting setting;
        bool good = model_take_setting(file, map, NULL, &setting);
        add(file, nodes, &setting, map, good);
        fine = good && fine;
    }
    file->nodes = model_memory(file, nodes->len * sizeof(void *));
    for (guint i = 0; i < nodes->len; i++) {
        file->nodes[i] = g_ptr_array_index(nodes, i);
    }
    g_ptr_array_free(nodes, TRUE);
    for (guint i = 0; i < file->settings->len; i++) {
        vd_setting *setting = &g_array_index(file->settings, vd_setting, i);
        if (file->nodes[i] == NULL) {
            continue;
        }
        if (!model_take_dependence(file, file->nodes[i], setting) ||
            !model_take_default(file, file->nodes[i], setting)) {
            file->nodes[i] = NULL;
            fine = false;
        }
    }
    file->model.settings = (const vd_setting *)(const void *)file->settings->data;
    file->model.setting_count = (uint16_t)file->settings->len;
    file->model.blocks = (const vd_block *)(const void *)file->blocks->data;
    file->model.block_count = (uint16_t)file->blocks->len;
    if (file->settings->len == 0 && fine) {
        return yaml_note(&file->yaml, root, vd_fault_of_KEY_MISSING("settings", "a list of settings"));
    }
    return fine;
}
