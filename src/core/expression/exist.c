/* SPDX-License-Identifier: MIT
 * Which settings exist in the unit and the mode that a set is about, and whether a value may stand there. */
#include "expression.h"

vd_ruling vd_set_exists(const vd_set *set, uint16_t setting)
{
    const vd_setting *about = &set->model->settings[setting];
    if (!about->conditional) {
        return VD_HOLDS;
    }
    if (set->model->book == NULL) {
        return VD_NOT_KNOWN;
    }
    vd_result result =
        vd_run(set, NULL, &set->model->book->when[setting], vd_index(about->block) != VD_NONE ? about->item : 0);
    return vd_ruling_of(&result, VD_FAILS); /* what hangs on nothing that counts does not count either */
}

uint16_t vd_model_hangs_on(const vd_model *model, uint16_t setting, uint16_t n)
{
    const vd_setting *about = &model->settings[setting];
    const vd_code *code = about->conditional && model->book != NULL ? &model->book->when[setting] : NULL;
    vd_naming naming = code != NULL ? vd_names_in(model->book, code) : (vd_naming){NULL, NULL, 0};
    uint16_t other = vd_spot_in(vd_names_next(&naming), about->item);
    while (other != VD_NONE && n-- > 0) {
        other = vd_spot_in(vd_names_next(&naming), about->item);
    }
    return other;
}

bool vd_model_hangs(const vd_model *model, uint16_t setting, uint16_t other)
{
    uint16_t on = VD_NONE;
    for (uint16_t n = 0; (on = vd_model_hangs_on(model, setting, n)) != VD_NONE; n++) {
        if (on == other || vd_model_hangs(model, on, other)) { /* no model goes in a circle */
            return true;
        }
    }
    return false;
}

uint16_t vd_set_told_by(const vd_set *set, uint16_t setting)
{
    uint16_t on = VD_NONE, by = vd_set_knows(set, setting) ? setting : VD_NONE;
    for (uint16_t n = 0; by == VD_NONE && (on = vd_model_hangs_on(set->model, setting, n)) != VD_NONE; n++) {
        by = vd_set_told_by(set, on);
    }
    return by;
}

bool vd_set_lacks(const vd_set *set, uint16_t setting)
{
    vd_set unit_only = *set;
    unit_only.memory = NULL; /* no value is known, only which unit it is */
    return vd_set_exists(&unit_only, setting) == VD_FAILS;
}

vd_status vd_set_check(const vd_set *set, uint16_t setting, vd_fault *fault)
{
    const vd_model *model = set->model;
    const vd_setting *about = &model->settings[setting];
    vd_value value = vd_set_get(set, setting);
    if (value.type == VD_NOTHING) {
        return VD_OK;
    }
    if (about->access == VD_READ_ONLY) {
        return vd_note_READ_ONLY_SETTING(fault, about);
    }
    if (about->written_by == VD_MAKER) {
        return vd_note_NOT_YOURS(fault, about);
    }
    if (vd_set_exists(set, setting) == VD_FAILS) {
        return vd_set_lacks(set, setting) ? vd_note_NOT_HERE(fault, about, about->words->because)
                                          : vd_note_IDLE_HERE(fault, about, about->words->because);
    }
    return vd_set_check_value(set, setting, &value, fault);
}
