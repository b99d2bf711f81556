/* SPDX-License-Identifier: MIT
 * What a write must change, worked out from what the unit holds and what it is to hold; and whether the unit has
 * restarted since, as its own running time tells. */
#include "visit_parts.h"

/* ---- Running time ---- */

void vd_take_running_time(vd_visit *visit)
{
    int64_t ran = vd_set_running_time(&visit->live);
    if (ran >= 0) {
        visit->ran = ran;
        visit->ran_at = visit->now;
    }
}

vd_ruling vd_has_restarted(const vd_visit *visit)
{
    uint64_t from = visit->restart_from > visit->ran_at ? visit->restart_from : visit->ran_at;
    const vd_running_times run = {.before = visit->ran,
                                  .now = vd_set_running_time(&visit->live),
                                  .elapsed = (int64_t)((visit->now - visit->ran_at) / 1000u),
                                  .since = (int64_t)((visit->now - from) / 1000u),
                                  .each = vd_model_running_step(visit->model)};
    vd_ruling ran_on = vd_has_run_on(&run);
    return ran_on == VD_HOLDS ? VD_FAILS : ran_on == VD_FAILS ? VD_HOLDS : VD_NOT_KNOWN;
}

/* ---- What is to change ---- */

/* Whether the unit's registers must change for it to hold the desired value. Where the number of decimals changes, a
 * value that is to stay the same still needs another count; a count of 0 means 0 with any number of decimals, though
 * not in any unit of measure. What does not count is left alone. */
static bool must_write(const vd_visit *visit, uint16_t setting)
{
    const vd_setting *about = &visit->model->settings[setting];
    if (!vd_setting_is_shown(about)) {
        return vd_has_part(visit, setting, VD_PART_ASKED);
    }
    if (vd_is_off_link(visit, setting)) { /* it was told before, and has not taken it up */
        return true;
    }
    vd_comparison comparison = vd_set_compare(&visit->live, &visit->desired, setting);
    if (comparison != VD_SAME) {
        return comparison == VD_DIFFERENT || comparison == VD_ONLY_SECOND;
    }
    return vd_has_part(visit, setting, VD_PART_RESCALED) && vd_set_exists(&visit->desired, setting) != VD_FAILS &&
           (about->like_count > 0 || vd_set_get(&visit->desired, setting).number != 0);
}

/* Judges what is to be written, and all rules about the result. What stays as it was heard, whatever it is, is no
 * hindrance. A rule that hangs on what the unit never shows stays open; whoever asks the person can tell it from
 * vd_rule_judge(). */
vd_status vd_order_check(vd_visit *visit)
{
    const vd_model *model = visit->model;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_fault fault = {0};
        vd_status status =
            vd_has_part(visit, i, VD_PART_ASKED | VD_PART_CHANGES) ? vd_set_check(&visit->desired, i, &fault) : VD_OK;
        vd_value value = vd_set_get(&visit->desired, i);
        int64_t shown = 0;
        if (status == VD_IDLE_HERE && vd_has_part(visit, i, VD_PART_ASKED)) { /* it is to be put back all the same */
            fault = (vd_fault){0};
            status = vd_set_check_value(&visit->desired, i, &value, &fault);
        }
        if (status == VD_OK && value.type == VD_CLOCK && value.number == VD_NOW &&
            !vd_set_now(&visit->desired, i, &shown)) {
            return vd_note_TIME_NOT_KNOWN(&visit->fault, &model->settings[i], "");
        }
        bool stays = !vd_has_part(visit, i, VD_PART_ASKED) && (status == VD_NOT_YOURS || status == VD_IDLE_HERE);
        if (status != VD_OK && !stays) {
            visit->fault = visit->fault.status == VD_OK ? fault : visit->fault;
            return status;
        }
    }
    vd_status fixed = vd_slots_check(visit);
    if (fixed != VD_OK) {
        return fixed;
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
    size_t length = 0;
    const char *odd = vd_set_odd(&visit->live, setting, &length);
    if (odd != NULL) {
        vd_set_put_odd(&visit->desired, setting, odd, length);
    } else {
        vd_set_put(&visit->desired, setting, &value);
    }
}

bool vd_is_idle(const vd_visit *visit, const vd_set *set, uint16_t setting)
{
    return visit->model->settings[setting].conditional && vd_set_exists(set, setting) == VD_FAILS &&
           !vd_set_lacks(set, setting);
}

/* Whether it is written though it will not count: an identifier that is cleared, so that another unit may have it. */
static bool is_written_idle(const vd_visit *visit, uint16_t setting)
{
    vd_value wanted = vd_set_get(&visit->desired, setting), initial = vd_set_initial(&visit->desired, setting);
    bool clears = visit->model->settings[setting].among == VD_AMONG_UNIQUE && vd_value_equal(&wanted, &initial);
    return visit->idle_too || clears;
}

void vd_order_complete(vd_visit *visit)
{
    const vd_model *model = visit->model;
    vd_running_take_time(visit);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        /* Readings too: rules may name them. */
        if (!vd_has_part(visit, i, VD_PART_ASKED) && vd_set_heard(&visit->live, i)) {
            take_live(visit, i);
        }
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (vd_has_part(visit, i, VD_PART_ASKED) && vd_is_idle(visit, &visit->desired, i) &&
            !is_written_idle(visit, i)) {
            bool held = vd_set_compare(&visit->live, &visit->desired, i) == VD_SAME;
            visit->ledger[i].part &= (uint16_t)~VD_PART_ASKED;
            visit->ledger[i].part |= held ? 0 : VD_PART_IDLE;
            take_live(visit, i);
        }
    }
}

void vd_order_mark_company(vd_visit *visit)
{
    const vd_model *model = visit->model;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        for (uint16_t k = 0; k < model->setting_count && vd_has_part(visit, i, VD_PART_CHANGES); k++) {
            if (k != i && model->settings[k].access == VD_READ_WRITE && vd_model_writes_together(model, i, k)) {
                visit->ledger[k].part |= VD_PART_ALONG;
            }
        }
    }
}

vd_status vd_order_work_out(vd_visit *visit)
{
    const vd_model *model = visit->model;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        uint16_t decides = vd_index(model->settings[i].places_from);
        if (decides != VD_NONE && vd_set_compare(&visit->live, &visit->desired, decides) == VD_DIFFERENT) {
            visit->ledger[i].part |= model->settings[i].access == VD_READ_WRITE ? VD_PART_RESCALED : 0;
        }
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (model->settings[i].access != VD_READ_ONLY && must_write(visit, i)) {
            const vd_set *lasting = model->store.proof == VD_PROOF_BANK ? &visit->stored : &visit->live;
            bool fleeting = vd_set_compare(lasting, &visit->desired, i) == VD_DIFFERENT;
            visit->ledger[i].part |= (uint16_t)(VD_PART_CHANGES | (fleeting ? VD_PART_FLEETING : 0u));
        }
    }
    vd_sway_work_out(visit);
    vd_slots_mark(visit);
    vd_status status = vd_order_check(visit);
    vd_follow_work_out(visit);
    if (status == VD_OK) {
        vd_order_mark_company(visit);
    }
    return status;
}

bool vd_order_anything(const vd_visit *visit)
{
    const vd_store *store = &visit->model->store;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        /* What is live may never have been stored; where reading does not tell, that is offered. */
        bool unproved = store->needed && store->proof != VD_PROOF_BANK && store->proof != VD_PROOF_SHOWN &&
                        vd_has_part(visit, i, VD_PART_ASKED) && vd_has_part(visit, i, VD_PART_SHOWN);
        bool unstored = store->needed && store->proof == VD_PROOF_BANK && vd_has_part(visit, i, VD_PART_ASKED) &&
                        vd_set_compare(&visit->stored, &visit->desired, i) == VD_DIFFERENT;
        if (vd_has_part(visit, i, VD_PART_CHANGES) || unstored || unproved) {
            return true;
        }
    }
    return vd_slots_need_saving(visit);
}

bool vd_restarts_when_stored(const vd_visit *visit)
{
    bool due = visit->model->store.restarts;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        due = due || (vd_setting_restarts(&visit->model->settings[i]) && vd_has_part(visit, i, VD_PART_CHANGES));
    }
    return due && visit->model->store.needed;
}
