/* SPDX-License-Identifier: MIT
 * What a write must change, worked out from what the unit holds and what it is to hold. */
#include "visit_parts.h"

/* Whether the unit's registers must change for it to hold the desired value. Where the number of decimals changes, a
 * value that is to stay the same still needs another count; a count of 0 means 0 with any number of decimals. */
static bool must_write(const vd_visit *visit, uint16_t setting)
{
    const vd_setting *about = &visit->model->settings[setting];
    if (!vd_setting_is_shown(about)) {
        return visit->scope[setting] != 0;
    }
    vd_comparison comparison = vd_set_compare(&visit->live, &visit->desired, setting);
    if (comparison != VD_SAME) {
        return comparison == VD_DIFFERENT || comparison == VD_ONLY_SECOND;
    }
    return about->places_from != VD_NONE && vd_set_get(&visit->desired, setting).number != 0 &&
           vd_set_compare(&visit->live, &visit->desired, about->places_from) == VD_DIFFERENT;
}

static vd_status refuse_link_change(vd_visit *visit, uint16_t setting)
{
    const vd_setting *about = &visit->model->settings[setting];
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer from = vd_writer_start(said, sizeof said), to = vd_writer_start(allowed, sizeof allowed);
    vd_value before = vd_set_get(&visit->live, setting), after = vd_set_get(&visit->desired, setting);
    vd_value_print(about, &before, &from);
    vd_value_print(about, &after, &to);
    return vd_fault_note(&visit->fault, VD_LINK_SETTING, about, said, allowed);
}

/* Judges the whole result, not only what was asked for. Of what stays as it is, it does not matter who may write it or
 * whether it counts in this mode. A rule that hangs on what the unit never shows stays open; whoever asks the person
 * can tell it from vd_rule_judge(). */
static vd_status check_result(vd_visit *visit)
{
    const vd_model *model = visit->model;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_fault fault = {0};
        vd_status status = vd_set_check(&visit->desired, i, &fault);
        bool stays = visit->scope[i] == 0 && (status == VD_NOT_YOURS || status == VD_IDLE_HERE);
        if (status != VD_OK && !stays) {
            visit->fault = visit->fault.status == VD_OK ? fault : visit->fault;
            return status;
        }
    }
    for (uint16_t i = 0; i < model->rule_count; i++) {
        uint16_t items = vd_rule_items(model, i);
        for (uint16_t item = 0; item < items && model->rules[i].severity == VD_ERROR; item++) {
            if (vd_rule_judge(&visit->desired, &visit->live, i, item, NULL) == VD_FAILS) {
                vd_rule_judge(&visit->desired, &visit->live, i, item, &visit->fault);
                return VD_RULE_BROKEN;
            }
        }
    }
    return VD_OK;
}

static void take_live(vd_visit *visit, uint16_t setting)
{
    vd_value value = vd_set_get(&visit->live, setting);
    vd_set_put(&visit->desired, setting, &value);
}

void vd_complete_desired(vd_visit *visit)
{
    const vd_model *model = visit->model;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        bool keep = visit->scope[i] == 0 && model->settings[i].access == VD_READ_WRITE;
        if (keep && vd_set_knows(&visit->live, i)) {
            take_live(visit, i);
        }
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        bool idle = visit->scope[i] != 0 && model->settings[i].when != NULL &&
                    vd_set_exists(&visit->desired, i) == VD_FAILS && !vd_set_lacks(&visit->desired, i);
        if (idle) {
            visit->scope[i] = 0;
            take_live(visit, i);
        }
    }
}

vd_status vd_work_out_changes(vd_visit *visit)
{
    const vd_model *model = visit->model;
    vd_complete_desired(visit);
    vd_status status = check_result(visit);
    if (status != VD_OK) {
        return status;
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        visit->changes[i] = model->settings[i].access != VD_READ_ONLY && must_write(visit, i);
        if (visit->changes[i] != 0 && model->settings[i].role != VD_ROLE_NONE) {
            visit->changes[i] = 0;
            return refuse_link_change(visit, i);
        }
        visit->scope[i] = visit->scope[i] != 0 || visit->changes[i] != 0;
    }
    return VD_OK;
}

bool vd_anything_to_do(const vd_visit *visit)
{
    const vd_store *store = &visit->model->store;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool unstored = store->needed && store->proof == VD_PROOF_BANK && visit->scope[i] != 0 &&
                        vd_set_compare(&visit->stored, &visit->desired, i) == VD_DIFFERENT;
        if (visit->changes[i] != 0 || unstored) {
            return true;
        }
    }
    return false;
}
