/* SPDX-License-Identifier: MIT
 * Loading channels: what a unit may watch, each by the reading that shows it.
 */
#include "model_parts.h"

bool model_take_channels(vd_model_file *file, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, root, "channels", 1000, &count, &items);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        const char *key = "", *label = "", *reads = NULL;
        bool sound = yaml_check_keys(&file->yaml, map, keys_channels) && model_take_key(file, map, "key", &key) &&
                     model_take_text(file, map, "label", true, &label) &&
                     yaml_take_text(&file->yaml, map, "reads", true, &reads);
        uint16_t reading =
            sound ? model_find_named(file, yaml_member(&file->yaml, map, "reads"), reads) : (uint16_t)VD_NONE;
        sound = sound && reading != VD_NONE;
        if (sound && g_hash_table_contains(file->channels, key)) {
            sound = yaml_note(&file->yaml, map, vd_fault_of_KEY_TWICE(key));
        }
        const vd_setting *about = sound ? &g_array_index(file->settings, vd_setting, reading) : NULL;
        if (sound && (about->access != VD_READ_ONLY || about->places_from != VD_NONE)) {
            sound = yaml_note(&file->yaml, yaml_member(&file->yaml, map, "reads"),
                              vd_fault_of_WRONG_SHAPE(reads, "a setting that is read-only, with decimals of its own"));
        }
        if (sound) {
            g_hash_table_insert(file->channels, (gpointer)key, GUINT_TO_POINTER((guint)reading));
        }
        fine = sound && fine;
    }
    return fine;
}
