/* SPDX-License-Identifier: MIT
 * Loading all settings of a model, those of blocks among them (block.c). First each is read by itself; then what
 * it takes from others, and its factory default.
 */
#include "parts.h"

bool model_take_settings(vd_model_file *file, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, root, "settings", MODEL_MOST_SETTINGS, &count, &items);
    for (gsize i = 0; i < count && file->settings->len < MODEL_MOST_SETTINGS; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        if (yaml_member(&file->yaml, map, "block") != NULL) {
            fine = model_take_block(file, map) && fine;
            continue;
        }
        vd_setting setting;
        bool good = model_take_setting(file, map, NULL, &setting);
        model_add_setting(file, &setting, &(model_source){.map = good ? map : NULL});
        fine = good && fine;
    }
    fine = model_take_channels(file, root) && fine;
    for (guint i = 0; i < file->settings->len; i++) {
        vd_setting *setting = &g_array_index(file->settings, vd_setting, i);
        model_source *source = &g_array_index(file->sources, model_source, i);
        const yaml_node_t *own = yaml_member(&file->yaml, source->item, "default") != NULL ? source->item : source->map;
        if (source->map != NULL &&
            (!model_take_dependence(file, source->map, setting) || !model_take_shifts(file, source->map, setting) ||
             !model_take_default(file, own, setting) || !model_take_editions(file, source->map, setting) ||
             !model_take_sets(file, source->map, setting))) {
            source->map = NULL;
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
