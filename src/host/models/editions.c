/* SPDX-License-Identifier: MIT
 * Loading editions: what a setting has otherwise in units of one variant, or with some firmware.
 */
#include "parts.h"

#include <string.h>

static bool take_firmware(vd_model_file *file, const yaml_node_t *map, const char *key, uint32_t *firmware)
{
    const char *text = NULL;
    if (!yaml_take_text(&file->yaml, map, key, false, &text) || text == NULL) {
        return text == NULL;
    }
    *firmware = vd_firmware_parse(text);
    return *firmware != 0 || yaml_note(&file->yaml, yaml_member(&file->yaml, map, key),
                                       vd_fault_of_WRONG_SHAPE(text, "a firmware version, such as \"1.10\""));
}

/* The choices that this edition has, by name. */
static bool take_choices(vd_model_file *file, const yaml_node_t *map, const vd_setting *setting, vd_edition *edition)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "choices", 1000, &count, &items);
    vd_choice *choices = model_memory(file, count * sizeof *choices);
    for (gsize i = 0; i < count && fine; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *name = yaml_text(&file->yaml, node, "the name of a choice");
        fine = name != NULL;
        for (uint16_t k = 0; k < setting->choice_count && fine; k++) {
            if (strcmp(setting->choices[k].name, name) == 0) {
                choices[edition->choice_count++] = setting->choices[k];
            }
        }
        if (fine && edition->choice_count != i + 1) {
            fine = yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE(name, "the name of a choice of this setting"));
        }
    }
    edition->choices = count > 0 ? choices : NULL;
    return fine;
}

static bool take_edition(vd_model_file *file, const yaml_node_t *map, const vd_setting *setting, vd_edition *edition)
{
    vd_setting own = *setting;
    const char *variant = "";
    const yaml_node_t *range = yaml_member(&file->yaml, map, "range");
    bool fine = yaml_check_keys(&file->yaml, map, keys_edition);
    fine = model_take_text(file, map, "variant", false, &variant) && fine;
    fine = take_firmware(file, map, "from", &edition->from) && fine;
    fine = take_firmware(file, map, "below", &edition->below) && fine;
    fine = take_choices(file, map, setting, edition) && fine;
    if (fine && variant[0] == '\0' && edition->from == 0 && edition->below == 0) {
        return yaml_note_missing(&file->yaml, map, "variant", "which units it is about: variant, from, below");
    }
    edition->variant = variant[0] != '\0' ? variant : NULL;
    if (range != NULL) {
        fine = model_take_ends(file, range, setting, &edition->min, &edition->max) && fine;
        edition->step = setting->step;
    }
    own.has_initial = false;
    own.initial_text = NULL;
    fine = model_take_default(file, map, &own) && fine;
    edition->has_initial = own.has_initial || own.initial_text != NULL;
    edition->initial = own.initial;
    edition->initial_text = own.initial_text;
    return fine;
}

bool model_take_editions(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "editions", 100, &count, &items);
    vd_edition *editions = count > 0 ? model_memory(file, count * sizeof *editions) : NULL;
    for (gsize i = 0; i < count; i++) {
        fine = take_edition(file, yaml_node(&file->yaml, items[i]), setting, &editions[i]) && fine;
    }
    setting->editions = editions;
    setting->edition_count = (uint16_t)count;
    return fine;
}
