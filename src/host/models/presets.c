/* SPDX-License-Identifier: MIT
 * Loading presets: values of several settings under one name.
 */
#include "parts.h"

#include <string.h>

/* A value that the setting takes, whichever unit it is for. */
static bool check_value(vd_model_file *file, const yaml_node_t *node, const vd_setting *setting, const char *text)
{
    vd_typed typed;
    vd_fault fault = {0};
    if (setting->access == VD_READ_ONLY || setting->secret || setting->written_by == VD_MAKER) {
        return yaml_note(
            &file->yaml, node,
            vd_fault_of_WRONG_SHAPE(setting->words->key, "a setting that a fitter writes, and that is no secret"));
    }
    bool alike = vd_index(setting->places_from) != VD_NONE; /* what it takes hangs on another, which is judged in use */
    if (vd_setting_parse(setting, text, strlen(text), &typed, &fault) != VD_OK ||
        (!alike && vd_setting_check(setting, &typed.value, &fault) != VD_OK)) {
        return yaml_note_fault(&file->yaml, node, &fault);
    }
    return true;
}

static bool take_preset(vd_model_file *file, const yaml_node_t *map, void *item)
{
    vd_preset *preset = item;
    bool fine = model_take_key(file, map, "key", &preset->key);
    fine = model_take_text(file, map, "label", true, &preset->label) && fine;
    fine = model_take_text(file, map, "help", false, &preset->help) && fine;
    const yaml_node_t *values = yaml_member(&file->yaml, map, "settings");
    if (values == NULL || values->type != YAML_MAPPING_NODE) {
        return yaml_note(&file->yaml, values != NULL ? values : map,
                         vd_fault_of_KEY_MISSING("settings", "a line for each setting: its key, a colon, its value"));
    }
    gsize count = (gsize)(values->data.mapping.pairs.top - values->data.mapping.pairs.start);
    uint16_t *settings = model_memory(file, count * sizeof *settings);
    const char **texts = model_memory(file, count * sizeof *texts);
    for (gsize i = 0; i < count && i < G_MAXUINT16; i++) {
        const yaml_node_t *key = yaml_node(&file->yaml, values->data.mapping.pairs.start[i].key);
        const yaml_node_t *node = yaml_node(&file->yaml, values->data.mapping.pairs.start[i].value);
        const char *name = yaml_text(&file->yaml, key, "a key"), *text = yaml_text(&file->yaml, node, "a value");
        uint16_t setting = name != NULL ? model_find_named(file, key, name) : (uint16_t)VD_NONE;
        bool good = setting != VD_NONE && text != NULL &&
                    (g_array_index(file->sources, model_source, setting).map == NULL || /* it is wrong itself */
                     check_value(file, node, &g_array_index(file->settings, vd_setting, setting), text));
        settings[i] = setting;
        texts[i] = text != NULL ? model_text(file, text) : "";
        fine = good && fine;
    }
    preset->settings = settings;
    preset->values = texts;
    preset->setting_count = (uint16_t)(fine ? count : 0);
    return fine;
}

bool model_take_presets(vd_model_file *file, const yaml_node_t *root)
{
    bool fine = true;
    vd_preset *presets = model_take_items(file, root, "presets", keys_presets, sizeof *presets,
                                          &file->model.preset_count, &fine, take_preset);
    file->model.presets = presets;
    return model_refuse_twice(file, root, "presets", &presets->key, sizeof *presets, file->model.preset_count) && fine;
}
