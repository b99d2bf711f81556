/* SPDX-License-Identifier: MIT
 * Loading lists of choices: those of one setting, and named ones that several share. */
#include "parts.h"

#include <string.h>

bool model_take_choices(vd_model_file *file, const yaml_node_t *list, choice_list *out)
{
    yaml_file *yaml = &file->yaml;
    if (list->type != YAML_SEQUENCE_NODE || list->data.sequence.items.top - list->data.sequence.items.start > 1000) {
        return yaml_note(yaml, list, vd_fault_of_WRONG_SHAPE("choices", "a list such as - {name: both, number: 3}"));
    }
    out->count = (uint16_t)(list->data.sequence.items.top - list->data.sequence.items.start);
    vd_choice *choices = model_memory(file, out->count * sizeof *choices);
    bool fine = true;
    for (uint16_t i = 0; i < out->count; i++) {
        const yaml_node_t *item = yaml_node(yaml, list->data.sequence.items.start[i]);
        int64_t number = i;
        choices[i].name = choices[i].label = "";
        fine = yaml_check_keys(yaml, item, keys_choice) &&
               model_take_text(file, item, "name", true, &choices[i].name) &&
               yaml_take_integer(yaml, item, "number", false, INT32_MIN, INT32_MAX, &number) &&
               model_take_text(file, item, "label", false, &choices[i].label) && fine;
        choices[i].number = (int32_t)number;
        for (uint16_t k = 0; k < i && fine; k++) {
            if (choices[k].number == number || strcmp(choices[k].name, choices[i].name) == 0) {
                fine = yaml_note(yaml, item, vd_fault_of_KEY_TWICE(choices[i].name));
            }
        }
    }
    out->choices = choices;
    return fine;
}

bool model_take_choice_lists(vd_model_file *file, const yaml_node_t *root)
{
    const yaml_node_t *map = yaml_member(&file->yaml, root, "choices");
    bool fine = true;
    if (map == NULL) {
        return true;
    }
    if (map->type != YAML_MAPPING_NODE) {
        return yaml_note(&file->yaml, map,
                         vd_fault_of_WRONG_SHAPE("choices", "a name for each list, a colon, the list"));
    }
    for (yaml_node_pair_t *pair = map->data.mapping.pairs.start; pair < map->data.mapping.pairs.top; pair++) {
        const char *name = yaml_text(&file->yaml, yaml_node(&file->yaml, pair->key), "a name");
        choice_list *list = model_memory(file, sizeof *list);
        fine = model_take_choices(file, yaml_node(&file->yaml, pair->value), list) && fine;
        if (name != NULL) {
            g_hash_table_insert(file->choice_lists, (gpointer)model_text(file, name), list);
        }
    }
    return fine;
}
