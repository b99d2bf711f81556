/* SPDX-License-Identifier: MIT
 * What every part of a model file is read with: its memory, its texts, and the settings that it names. */
#include "model_parts.h"

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

bool model_take_text(vd_model_file *file, const yaml_node_t *map, const char *key, bool needed, const char **out)
{
    const char *text = NULL;
    bool fine = yaml_take_text(&file->yaml, map, key, needed, &text);
    *out = model_text(file, text != NULL ? text : "");
    return fine;
}

bool model_take_key(vd_model_file *file, const yaml_node_t *map, const char *key, const char **out)
{
    const char *text = NULL;
    bool fine = yaml_take_key(&file->yaml, map, key, &text);
    *out = model_text(file, text != NULL ? text : "");
    return fine;
}

static const char *setting_key_at(const void *about, size_t i)
{
    return g_array_index(((const vd_model_file *)about)->settings, vd_setting, i).key;
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
    char *suggestion = model_suggest(file, key);
    yaml_note(&file->yaml, node, vd_fault_of_NO_SUCH_SETTING(key, suggestion));
    g_free(suggestion);
    return VD_NONE;
}

bool model_take_settings_named(vd_model_file *file, const yaml_node_t *map, const char *key, const uint16_t **out,
                               uint16_t *count)
{
    gsize items_count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, key, 1000, &items_count, &items);
    uint16_t *settings = model_memory(file, items_count * sizeof *settings);
    for (gsize i = 0; i < items_count; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *name = yaml_text(&file->yaml, node, key);
        settings[i] = name != NULL ? model_find_named(file, node, name) : VD_NONE;
        fine = settings[i] != VD_NONE && fine;
    }
    *out = settings;
    *count = (uint16_t)(fine ? items_count : 0);
    return fine;
}
