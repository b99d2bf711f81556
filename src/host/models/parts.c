/* SPDX-License-Identifier: MIT
 * What every part of a model file is read with: its memory, its texts, and the settings that it names. */
#include "parts.h"

#include <string.h>

void *model_memory(vd_model_file *file, gsize size)
{
    void *memory = g_malloc0(size > 0 ? size : 1);
    g_ptr_array_add(file->memory, memory);
    return memory;
}

const char *model_text(vd_model_file *file, const char *text)
{
    return text[0] == '\0' ? "" : g_string_chunk_insert_const(file->texts, text);
}

#define MOST_LABEL 200 /* characters */
#define MOST_TEXT 4000

bool model_take_text(vd_model_file *file, const yaml_node_t *map, const char *key, bool needed, const char **out)
{
    const char *text = NULL;
    bool fine = yaml_take_text(&file->yaml, map, key, needed, &text);
    bool too_long = text != NULL && g_utf8_strlen(text, -1) > (strcmp(key, "label") == 0 ? MOST_LABEL : MOST_TEXT);
    *out = model_text(file, text != NULL ? text : "");
    if (too_long) {
        char *said = g_strdup_printf("a text of %ld characters for %s", g_utf8_strlen(text, -1), key);
        yaml_note(&file->yaml, yaml_member(&file->yaml, map, key),
                  vd_fault_of_WRONG_SHAPE(said, strcmp(key, "label") == 0 ? "at most 200 characters"
                                                                          : "at most 4000 characters"));
        g_free(said);
    }
    return fine && !too_long;
}

bool model_take_key(vd_model_file *file, const yaml_node_t *map, const char *key, const char **out)
{
    const char *text = NULL;
    bool fine = yaml_take_key(&file->yaml, map, key, &text);
    *out = model_text(file, text != NULL ? text : "");
    return fine;
}

vd_setting_words *model_words(const vd_setting *setting)
{
    return (vd_setting_words *)setting->words; /* made for it */
}

vd_motion *model_motion(vd_model_file *file, vd_setting *setting)
{
    if (setting->motion == NULL) {
        setting->motion = model_memory(file, sizeof *setting->motion);
    }
    return (vd_motion *)setting->motion; /* made for it */
}

void model_add_setting(vd_model_file *file, const vd_setting *setting, const model_source *source)
{
    vd_setting copy = *setting;
    if (source->map == NULL) { /* nowhere, so that no other is blamed for it */
        copy.place = (vd_place){.table = 0xFF};
        copy.conditional = false;
        copy.traits = copy.traits->id != VD_NOTHING ? copy.traits : &vd_type_integer;
    }
    guint index = file->settings->len;
    g_array_append_val(file->settings, copy);
    g_array_append_val(file->sources, *source);
    if (copy.words->key[0] != '\0' && !g_hash_table_contains(file->keys, copy.words->key)) {
        g_hash_table_insert(file->keys, (gpointer)copy.words->key, GUINT_TO_POINTER(index));
    }
}

static const char *setting_key_at(const void *about, size_t i)
{
    return g_array_index(((const vd_model_file *)about)->settings, vd_setting, i).words->key;
}

char *model_suggest(vd_model_file *file, const char *key)
{
    /* Comparing with ten thousand keys takes a while; after some findings a person has enough to do. */
    return file->yaml.findings->list->len < 50 ? vd_suggest(key, file->settings->len, setting_key_at, file)
                                               : g_strdup("See the keys under settings.");
}

uint16_t model_find_named(vd_model_file *file, const yaml_node_t *node, const char *key)
{
    gpointer found = NULL;
    if (g_hash_table_lookup_extended(file->keys, key, NULL, &found)) {
        return (uint16_t)GPOINTER_TO_UINT(found);
    }
    for (guint i = 0; i < file->broken->len; i++) { /* how many items there would be is not known, and has been said */
        const char *block = g_ptr_array_index(file->broken, i);
        if (g_str_has_prefix(key, block) && key[strlen(block)] == '.') {
            return VD_NONE;
        }
    }
    char *suggestion = model_suggest(file, key);
    yaml_note(&file->yaml, node, vd_fault_of_NO_SUCH_SETTING(key, suggestion));
    g_free(suggestion);
    return VD_NONE;
}

uint16_t model_find_in_item(vd_model_file *file, const yaml_node_t *node, const char *key, uint16_t block,
                            uint16_t item)
{
    const vd_block *about = block != VD_NONE ? &g_array_index(file->blocks, vd_block, block) : NULL;
    bool outer = about != NULL && vd_index(about->outer) != VD_NONE && g_str_has_prefix(key, "outer.");
    if (about == NULL || (!outer && !g_str_has_prefix(key, "this."))) {
        return model_find_named(file, node, key);
    }
    item = outer ? about->outer_item : item;
    about = outer ? &g_array_index(file->blocks, vd_block, vd_index(about->outer)) : about;
    char *full = g_strdup_printf("%s.%u.%s", about->key, item + 1u, strchr(key, '.') + 1);
    uint16_t found = model_find_named(file, node, full);
    g_free(full);
    return found;
}

bool model_add_named(vd_model_file *file, const yaml_node_t *node, const char *name, GArray *found)
{
    guint before = found->len;
    char *start = g_strdup_printf("%s.", name);
    for (guint i = 0; i < file->settings->len && !g_hash_table_contains(file->keys, name); i++) {
        const vd_setting *setting = &g_array_index(file->settings, vd_setting, i);
        const char *block = vd_index(setting->block) != VD_NONE
                                ? g_array_index(file->blocks, vd_block, vd_index(setting->block)).key
                                : "";
        bool inside = g_str_has_prefix(setting->words->key, start) && vd_index(setting->block) != VD_NONE &&
                      (g_str_has_prefix(name, block) || g_str_has_prefix(block, name));
        if (inside) {
            uint16_t index = (uint16_t)i;
            g_array_append_val(found, index);
        }
    }
    g_free(start);
    if (found->len == before) {
        uint16_t one = model_find_named(file, node, name);
        g_array_append_val(found, one);
        return one != VD_NONE;
    }
    return true;
}

void *model_take_items(vd_model_file *file, const yaml_node_t *root, const char *key, const char *const *keys,
                       gsize size, uint8_t *count, bool *fine,
                       bool (*take)(vd_model_file *file, const yaml_node_t *map, void *item))
{
    gsize number = 0;
    const yaml_node_item_t *items = NULL;
    *fine = yaml_take_list(&file->yaml, root, key, 255, &number, &items) && *fine;
    uint8_t *all = model_memory(file, number * size);
    for (gsize i = 0; i < number; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        *fine = yaml_check_keys(&file->yaml, map, keys) && *fine;
        *fine = take(file, map, all + i * size) && *fine;
    }
    *count = (uint8_t)number;
    return all;
}

bool model_refuse_twice(vd_model_file *file, const yaml_node_t *root, const char *list, const char *const *keys,
                        gsize size, gsize count)
{
    const yaml_node_t *node = yaml_member(&file->yaml, root, list);
    bool fine = true;
    for (gsize i = 0; i < count; i++) {
        const char *key = *(const char *const *)(const void *)((const char *)keys + i * size);
        for (gsize k = 0; k < i && key != NULL && key[0] != '\0'; k++) {
            if (strcmp(*(const char *const *)(const void *)((const char *)keys + k * size), key) == 0) {
                fine = yaml_note(&file->yaml, yaml_node(&file->yaml, node->data.sequence.items.start[i]),
                                 vd_fault_of_KEY_TWICE(key));
            }
        }
    }
    return fine;
}

bool model_take_settings_named(vd_model_file *file, const yaml_node_t *map, const char *key, const uint16_t **out,
                               uint16_t *count)
{
    gsize items_count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, key, 1000, &items_count, &items);
    GArray *found = g_array_new(FALSE, FALSE, sizeof(uint16_t));
    for (gsize i = 0; i < items_count; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *name = yaml_text(&file->yaml, node, key);
        fine = name != NULL && model_add_named(file, node, name, found) && fine;
    }
    uint16_t *settings = model_memory(file, found->len * sizeof *settings);
    if (found->len > 0) {
        memcpy(settings, found->data, found->len * sizeof *settings);
    }
    *out = settings;
    *count = (uint16_t)(fine ? found->len : 0);
    g_array_free(found, TRUE);
    return fine;
}
