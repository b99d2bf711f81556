/* SPDX-License-Identifier: MIT
 * What can be asked of a model's slots, and of settings that set others. */
#include "../value/value_parts.h"

bool vd_slots_hold(const vd_model *model, uint16_t setting)
{
    for (uint16_t i = 0; i < model->slots.hold_count && model->slots.count > 0; i++) {
        if (model->slots.holds[i] == setting) {
            return true;
        }
    }
    return false;
}

bool vd_setting_sets(const vd_model *model, uint16_t setting, uint16_t other)
{
    const vd_setting *about = &model->settings[setting];
    for (uint16_t i = 0; i < about->set_count; i++) {
        if (about->sets[i] == other) {
            return true;
        }
    }
    return model->slots.count > 0 && vd_index(model->slots.chosen_by) == setting && vd_slots_hold(model, other);
}

bool vd_setting_sets_any(const vd_model *model, uint16_t setting)
{
    return model->settings[setting].set_count > 0 ||
           (model->slots.count > 0 && vd_index(model->slots.chosen_by) == setting);
}

/* The number of a slot that a setting says; 0: none. */
static uint8_t number_of(const vd_set *set, uint16_t setting)
{
    vd_value value = vd_set_get(set, setting);
    bool is = value.type != VD_NOTHING && value.number >= 1 && value.number <= set->model->slots.count;
    return is ? (uint8_t)value.number : 0;
}

uint8_t vd_set_slot(const vd_set *set)
{
    return set->model->slots.count > 0 ? number_of(set, vd_index(set->model->slots.chosen_by)) : 0;
}

uint8_t vd_set_slot_after(const vd_set *set)
{
    const vd_slots *slots = &set->model->slots;
    return slots->count == 0                      ? 0
           : vd_index(slots->fallback) != VD_NONE ? number_of(set, vd_index(slots->fallback))
           : slots->fixed > 0                     ? slots->fixed
                                                  : vd_set_slot(set);
}

bool vd_slot_is_writable(const vd_model *model, uint8_t slot)
{
    return slot > 0 && slot <= model->slots.count && (model->slots.writable >> (slot - 1u) & 1u) != 0;
}

const vd_preset *vd_set_chosen_preset(const vd_set *set, uint16_t setting)
{
    const vd_model *model = set->model;
    const vd_setting *about = &model->settings[setting];
    vd_value value = vd_set_get(set, setting);
    const char *name = about->set_count > 0 && value.type == VD_CHOICE ? vd_choice_name(about, value.number) : NULL;
    for (uint8_t k = 0; k < model->preset_count && name != NULL; k++) {
        if (vd_same_text(model->presets[k].key, name)) {
            return &model->presets[k];
        }
    }
    return NULL;
}
