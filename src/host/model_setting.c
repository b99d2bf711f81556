/* SPDX-License-Identifier: MIT
 * Loading one setting of a model. Ranges and defaults stand in the file as people type values; here they become counts.
 * Where another setting decides the decimals, the range is given in counts, because that is what the unit holds to. */
#include "model_parts.h"

#include <string.h>

const char *const model_tables[] = {"holding", "input", NULL};
static const char *const types[] = {"?", "integer", "decimal", "truth", "choice", "text", "duration", NULL};

bool model_take_place(vd_model_file *file, const yaml_node_t *map, vd_place *place)
{
    static const char *const keys[] = {"table", "register", "form", "words", "order", NULL};
    static const char *const forms[] = {"unsigned", "signed", NULL};
    static const char *const orders[] = {"high-first", "low-first", NULL};
    yaml_file *yaml = &file->yaml;
    int64_t address = 0, words = 1;
    uint8_t form = place->form;
    bool fine = yaml_check_keys(yaml, map, keys) &&
                yaml_take_word(yaml, map, "table", false, model_tables, &place->table) &&
                yaml_take_integer(yaml, map, "register", true, 0, 0xFFFF, &address) &&
                yaml_take_word(yaml, map, "form", false, forms, &form) &&
                yaml_take_integer(yaml, map, "words", false, 1, 64, &words) &&
                yaml_take_word(yaml, map, "order", false, orders, &place->order);
    if (fine && form != place->form && place->form == VD_CHARACTERS) {
        return yaml_note(yaml, yaml_member(yaml, map, "form"), VD_WRONG_SHAPE, forms[form], "no form: it is a text");
    }
    place->form = form;
    place->address = (uint16_t)address;
    place->words = (uint8_t)words;
    return fine;
}

/* A value as typed in the model file, as a count. */
static bool take_count(vd_model_file *file, const yaml_node_t *node, const vd_setting *setting, int64_t *count)
{
    const char *text = yaml_text(&file->yaml, node, setting->key);
    vd_fault fault = {0};
    vd_value value;
    if (text == NULL) {
        return false;
    }
    if (vd_value_parse(setting, text, strlen(text), &value, &fault) != VD_OK ||
        vd_value_to_count(setting, &value, setting->places, count, &fault) != VD_OK) {
        return yaml_note_fault(&file->yaml, node, &fault);
    }
    return true;
}

static bool take_two(vd_model_file *file, const yaml_node_t *node, const yaml_node_t **low, const yaml_node_t **high)
{
    bool two = node->type == YAML_SEQUENCE_NODE && node->data.sequence.items.top - node->data.sequence.items.start == 2;
    if (!two) {
        return yaml_note(&file->yaml, node, VD_WRONG_SHAPE, "this range", "two values: [lowest, highest]");
    }
    *low = yaml_node(&file->yaml, node->data.sequence.items.start[0]);
    *high = yaml_node(&file->yaml, node->data.sequence.items.start[1]);
    return true;
}

static bool take_range(vd_model_file *file, const yaml_node_t *map, vd_setting *setting, bool in_counts)
{
    const char *key = in_counts ? "counts" : "range";
    const yaml_node_t *node = yaml_member(&file->yaml, map, key), *low = NULL, *high = NULL;
    if (node == NULL) {
        const char *example = in_counts ? "counts: [-1999, 9999]" : "range: [lowest, highest]";
        return yaml_note(&file->yaml, map, VD_KEY_MISSING, key, example);
    }
    vd_setting plain = *setting;
    if (in_counts) {
        plain.type = VD_INTEGER;
        plain.measure = "";
    }
    if (!take_two(file, node, &low, &high) || !take_count(file, low, &plain, &setting->min) ||
        !take_count(file, high, &plain, &setting->max)) {
        return false;
    }
    const yaml_node_t *step = yaml_member(&file->yaml, map, "step");
    setting->step = 1;
    if (step != NULL && (!take_count(file, step, &plain, &setting->step) || setting->step < 1)) {
        return setting->step >= 1 ? false : yaml_note(&file->yaml, step, VD_WRONG_SHAPE, "this step", "a step above 0");
    }
    return true;
}

static bool take_choices(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    static const char *const keys[] = {"name", "number", "label", NULL};
    yaml_file *yaml = &file->yaml;
    const yaml_node_t *list = yaml_member(yaml, map, "choices");
    if (list == NULL || list->type != YAML_SEQUENCE_NODE ||
        list->data.sequence.items.top - list->data.sequence.items.start > 1000) {
        return yaml_note(yaml, list != NULL ? list : map, VD_KEY_MISSING, "choices", "- {name: both, number: 3}");
    }
    setting->choice_count = (uint16_t)(list->data.sequence.items.top - list->data.sequence.items.start);
    vd_choice *choices = model_memory(file, setting->choice_count * sizeof *choices);
    setting->min = INT32_MAX;
    setting->max = INT32_MIN;
    bool fine = true;
    for (uint16_t i = 0; i < setting->choice_count; i++) {
        const yaml_node_t *item = yaml_node(yaml, list->data.sequence.items.start[i]);
        int64_t number = i;
        fine = yaml_check_keys(yaml, item, keys) && model_take_text(file, item, "name", true, &choices[i].name) &&
               yaml_take_integer(yaml, item, "number", true, INT32_MIN, INT32_MAX, &number) &&
               model_take_text(file, item, "label", false, &choices[i].label) && fine;
        choices[i].number = (int32_t)number;
        for (uint16_t k = 0; k < i && fine; k++) {
            if (choices[k].number == number || strcmp(choices[k].name, choices[i].name) == 0) {
                fine = yaml_note(yaml, item, VD_KEY_TWICE, choices[i].name, "");
            }
        }
        setting->min = MIN(setting->min, number);
        setting->max = MAX(setting->max, number);
    }
    setting->choices = choices;
    return fine;
}

static bool take_group(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const char *group = "";
    if (!yaml_take_text(&file->yaml, map, "group", true, &group)) {
        return false;
    }
    uint16_t found = vd_model_find_group(&file->model, group);
    if (found == VD_NONE) {
        return yaml_note(&file->yaml, yaml_member(&file->yaml, map, "group"), VD_NO_SUCH_GROUP, group,
                         "one of those listed under groups");
    }
    setting->group = (uint8_t)found;
    return true;
}

static bool take_limits(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    yaml_file *yaml = &file->yaml;
    int64_t number = 0;
    switch ((vd_type)setting->type) {
    case VD_TRUTH: setting->max = 1; return true;
    case VD_CHOICE: return take_choices(file, map, setting);
    case VD_TEXT:
        if (!yaml_take_integer(yaml, map, "length", true, 1, 128, &number)) {
            return false;
        }
        setting->length = (uint16_t)number;
        return true;
    case VD_DURATION:
        if (!yaml_take_duration(yaml, map, "tick", true, 86400000, &number)) {
            return false;
        }
        setting->tick = (uint32_t)number;
        if (number < 1) {
            return yaml_note(yaml, yaml_member(yaml, map, "tick"), VD_WRONG_SHAPE, "0", "at least 1 ms");
        }
        return take_range(file, map, setting, false);
    case VD_DECIMAL: {
        bool dependent = yaml_member(yaml, map, "decimals-from") != NULL;
        if (!yaml_take_integer(yaml, map, "decimals", !dependent, 0, 9, &number)) {
            return false;
        }
        setting->places = (uint8_t)number;
        return take_range(file, map, setting, dependent);
    }
    default: return take_range(file, map, setting, false);
    }
}

bool model_take_setting(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    static const char *const keys[] = {"key",     "group",  "label",  "help", "type",    "unit",     "range",
                                       "counts",  "step",   "length", "tick", "choices", "decimals", "decimals-from",
                                       "default", "access", "role",   "at",   NULL};
    static const char *const accesses[] = {"read-write", "read-only", "write-only", NULL};
    static const char *const roles[] = {"none", "address", "baud", "framing", NULL};
    yaml_file *yaml = &file->yaml;
    *setting = (vd_setting){.key = "", .step = 1, .places_from = VD_NONE, .tick = 1};
    if (!yaml_check_keys(yaml, map, keys) || !model_take_text(file, map, "key", true, &setting->key) ||
        !model_take_text(file, map, "label", true, &setting->label) ||
        !model_take_text(file, map, "help", false, &setting->help) ||
        !model_take_text(file, map, "unit", false, &setting->measure) ||
        !yaml_take_word(yaml, map, "type", true, types, &setting->type) ||
        !yaml_take_word(yaml, map, "access", false, accesses, &setting->access) ||
        !yaml_take_word(yaml, map, "role", false, roles, &setting->role) || !take_group(file, map, setting) ||
        !take_limits(file, map, setting)) {
        return false;
    }
    setting->place.form = setting->type == VD_TEXT ? VD_CHARACTERS : VD_UNSIGNED;
    return model_take_place(file, yaml_member(yaml, map, "at"), &setting->place);
}

bool model_take_dependence(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const char *key = NULL;
    if (!yaml_take_text(&file->yaml, map, "decimals-from", false, &key) || key == NULL) {
        return key == NULL;
    }
    const yaml_node_t *node = yaml_member(&file->yaml, map, "decimals-from");
    setting->places_from = model_find_named(file, node, key);
    if (setting->places_from == VD_NONE) {
        return false;
    }
    /* Until a unit is read, its factory default for the decimals holds. */
    const yaml_node_t *list = yaml_member(&file->yaml, yaml_root(&file->yaml), "settings");
    const yaml_node_t *from = yaml_node(&file->yaml, list->data.sequence.items.start[setting->places_from]);
    int64_t places = 0;
    bool fine = yaml_take_integer(&file->yaml, from, "default", true, 0, 9, &places);
    setting->places = (uint8_t)places;
    return fine;
}

bool model_take_default(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "default");
    if (node == NULL) {
        return true;
    }
    if (setting->type == VD_TEXT) {
        return model_take_text(file, map, "default", false, &setting->initial_text);
    }
    setting->has_initial = true;
    return take_count(file, node, setting, &setting->initial);
}
