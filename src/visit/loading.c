/* SPDX-License-Identifier: MIT
 * Steps of settings that set others: what they have set is read before anything else is written. Saving a slot, and
 * loading it once more, which shows what was saved. */
#include "steps.h"

#include <string.h>

/* Whether whatever sets this one has what it is to have. */
static bool has_been_set(const vd_visit *visit, uint16_t setting)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (vd_sways(visit, i) && vd_setting_sets(visit->model, i, setting) &&
            vd_set_compare(&visit->live, &visit->desired, i) != VD_SAME) {
            return false;
        }
    }
    return true;
}

vd_status vd_sway_settle(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (!vd_has_part(visit, i, VD_PART_SWAYED) || !has_been_set(visit, i) || !vd_set_heard(&visit->live, i)) {
            continue;
        }
        vd_entry *entry = &visit->ledger[i];
        entry->part &= (uint16_t) ~(VD_PART_SWAYED | VD_PART_CHANGES);
        vd_value value = vd_set_get(&visit->live, i);
        if (!vd_has_part(visit, i, VD_PART_ASKED)) {
            vd_set_put(&visit->prior, i, &value);
            vd_set_put(&visit->desired, i, &value);
            continue;
        }
        entry->part |= VD_PART_ALONG; /* it has moved with what set it */
        if (vd_set_compare(&visit->live, &visit->desired, i) != VD_SAME) {
            entry->part |= VD_PART_CHANGES;
            entry->sending = VD_UNSENT;
        }
    }
    vd_status status = vd_order_check(visit);
    vd_order_mark_company(visit);
    return status;
}

/* ---- The steps ---- */

vd_going vd_step_reload(vd_visit *visit)
{
    vd_ledger_choose(visit, VD_PART_SWAYED | VD_PART_CHANGES);
    vd_ledger_forget(visit, false);
    vd_visit_run(visit, VD_STEP_RELOAD, VD_JOB_READ_LIVE, &visit->live);
    return VD_GOING;
}

vd_going vd_step_reloaded(vd_visit *visit, vd_status status)
{
    if (status != VD_OK && vd_steps_wait_and_repeat(visit, status)) {
        return VD_FINE;
    }
    if (status != VD_OK || visit->stopping) {
        return VD_GIVEN_UP;
    }
    status = vd_sway_settle(visit);
    vd_ledger_take_readings(visit);
    return status == VD_OK ? VD_FINE : VD_GIVEN_UP;
}

/* The order that saves the slot in force: its number is what is written, or said. */
static const vd_action *saving(vd_visit *visit)
{
    const vd_slots *slots = &visit->model->slots;
    uint8_t slot = vd_set_slot(&visit->desired);
    vd_writer writer = vd_writer_start(visit->slot_number, sizeof visit->slot_number);
    vd_writer_add_number(&writer, slot);
    visit->saving = (vd_action){.order = {slots->order.word, visit->slot_number, slots->order.address, slot}};
    return &visit->saving;
}

vd_going vd_step_save(vd_visit *visit)
{
    visit->stores++;
    visit->store_sent = true;
    visit->step = VD_STEP_SAVE;
    visit->news++;
    vd_talk_act(&visit->talk, visit->now, saving(visit));
    return VD_GOING;
}

/* Saving once more does no harm: what is live is made sure of first. */
vd_going vd_step_saved(vd_visit *visit, vd_status status)
{
    bool refused = vd_status_class(status) == VD_CLASS_REFUSED && !vd_is_busy(status);
    if (status == VD_OK) {
        visit->slot_saved = true;
        return VD_FINE;
    }
    if (vd_is_over(visit, status) || (refused && !vd_login_again(visit, status)) || visit->stores >= MOST_STORES) {
        return VD_GIVEN_UP;
    }
    if (!refused) {
        vd_fault_clear(&visit->fault);
        vd_steps_plan(visit, VD_STEP_CHECK, VD_STEP_SAVE);
        if (!vd_is_busy(status)) {
            vd_steps_plan(visit, VD_STEP_COMING_BACK, VD_STEP_IDLE);
        }
    }
    return VD_FINE;
}

/* Whether the slot that is to be in force outlasts a restart: then it must be seen before it is chosen anew. */
static bool is_to_be_seen(const vd_visit *visit)
{
    return !vd_has_part(visit, vd_index(visit->model->slots.chosen_by), VD_PART_IN_SLOT) && !visit->slot_seen;
}

vd_going vd_step_load(vd_visit *visit)
{
    uint16_t chooser = vd_index(visit->model->slots.chosen_by);
    memset(visit->which, 0, visit->model->setting_count);
    visit->which[chooser] = 1;
    if (is_to_be_seen(visit)) {
        vd_ledger_forget(visit, false);
        vd_visit_run(visit, VD_STEP_LOAD, VD_JOB_READ_LIVE, &visit->live);
        return VD_GOING;
    }
    vd_ledger_doubt_live(visit);
    /* Who only verifies loads the one that is in force, whichever was asked for. */
    vd_visit_run(visit, VD_STEP_LOAD, VD_JOB_WRITE, visit->task == VD_TASK_VERIFY ? &visit->prior : &visit->desired);
    return VD_GOING;
}

vd_going vd_step_loaded(vd_visit *visit, vd_status status)
{
    const vd_slots *slots = &visit->model->slots;
    bool saved = visit->slot_saved || !slots->saved || visit->task == VD_TASK_VERIFY;
    const vd_set *wanted = visit->task == VD_TASK_VERIFY ? &visit->prior : &visit->desired;
    if (status != VD_OK && vd_steps_wait_and_repeat(visit, status)) {
        return VD_FINE;
    }
    if (status != VD_OK) {
        return vd_status_class(status) == VD_CLASS_REFUSED && vd_login_again(visit, status) ? VD_FINE : VD_GIVEN_UP;
    }
    if (is_to_be_seen(visit)) {
        visit->slot_seen = true;
        if (vd_set_compare(&visit->live, wanted, vd_index(slots->chosen_by)) == VD_SAME) {
            vd_steps_plan(visit, VD_STEP_LOAD, VD_STEP_IDLE);
        } /* else another one has come up: that is what is read back */
        return VD_FINE;
    }
    visit->slot_shown = saved;
    return VD_FINE;
}
