/* SPDX-License-Identifier: MIT
 * Steps that read what is to be known before anything is changed, and what follows from it. */
#include "steps.h"

#include <string.h>

vd_going vd_step_read(vd_visit *visit)
{
    vd_ledger_choose(visit, vd_changes(visit) ? ~0u : VD_PART_ASKED);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool fitters = vd_model_logs_in(visit->model) && visit->model->settings[i].read_by == VD_FITTER;
        visit->which[i] = fitters && !visit->login.done && visit->which[i] == 1 ? 0 : visit->which[i];
    }
    vd_talk_read_twice(&visit->talk, vd_changes(visit) || visit->task == VD_TASK_VERIFY);
    visit->read_at = visit->now;
    vd_visit_run(visit, VD_STEP_READ, VD_JOB_READ_LIVE, &visit->live);
    return VD_GOING;
}

vd_going vd_step_read_stored(vd_visit *visit)
{
    vd_step step = (vd_step)visit->list[visit->at];
    vd_visit_run(visit, step, VD_JOB_READ_STORED, &visit->stored);
    return VD_GOING;
}

/* Whether what it shows is what it has stored, so that reading it is all the proof that is wanted. */
static bool shows_stored(const vd_visit *visit)
{
    return !visit->model->store.needed || visit->model->store.proof == VD_PROOF_SHOWN;
}

/* Whether it can be told to restart, and a new address or line setting takes force by that. */
static bool restarts_to_move(const vd_visit *visit)
{
    return visit->model->link_from == VD_LINK_FROM_RESTART && vd_model_restart(visit->model) != NULL;
}

/* What the rest of a write is, now that the changes stand. */
static void plan_write(vd_visit *visit)
{
    const vd_store *store = &visit->model->store;
    bool changes = false, restarts = store->proof == VD_PROOF_RESTART || vd_restarts_when_stored(visit);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool written = vd_has_part(visit, i, VD_PART_CHANGES);
        changes = changes || written;
        restarts = restarts || (written && vd_setting_restarts(&visit->model->settings[i]));
    }
    bool moves = vd_follow_moves(visit);
    if (moves && vd_model_has_address(visit->model)) {
        vd_steps_append(visit, VD_STEP_SEE_FREE);
    }
    vd_steps_append(visit, VD_STEP_ASK);
    vd_steps_append(visit, VD_STEP_KEEP);
    vd_steps_append(visit, VD_STEP_KNOW_AGAIN);
    if (changes) {
        vd_steps_append(visit, VD_STEP_WRITE);
    }
    bool saves = vd_slots_need_saving(visit);
    if (store->needed || saves) {
        vd_steps_append(visit, VD_STEP_CHECK);
    }
    if (saves) {
        vd_steps_append(visit, VD_STEP_SAVE);
    }
    if (store->needed) {
        vd_steps_append(visit, VD_STEP_STORE);
    }
    if (vd_restarts_when_stored(visit)) {
        vd_steps_append(visit, VD_STEP_COMING_BACK);
    } else if (store->proof == VD_PROOF_RESTART || (moves && restarts_to_move(visit))) {
        vd_steps_append(visit, VD_STEP_RESTART);
        vd_steps_append(visit, VD_STEP_COMING_BACK);
    } else if (moves && visit->model->link_from == VD_LINK_FROM_STORING) {
        vd_steps_append(visit, VD_STEP_COMING_BACK);
    }
    if (vd_slots_need_loading(visit, restarts || (moves && restarts_to_move(visit)))) {
        vd_steps_append(visit, VD_STEP_LOAD);
    }
    vd_steps_append(visit, VD_STEP_READ_BACK);
    if (store->proof == VD_PROOF_BANK) {
        vd_steps_append(visit, VD_STEP_READ_BACK_STORED);
    }
    if (visit->follow.to.address != visit->follow.from.address) {
        vd_steps_append(visit, VD_STEP_SEE_LEFT);
    }
    if (vd_login_may_try_new(visit)) {
        vd_steps_append(visit, VD_STEP_TRY_PASSWORD);
    }
    vd_steps_append(visit, VD_STEP_KNOW_LAST);
}

/* Whether it can be told to restart, and that shows what it has stored. */
static bool shows_by_restart(const vd_visit *visit)
{
    return visit->model->store.needed && visit->model->store.proof == VD_PROOF_RESTART &&
           vd_model_restart(visit->model) != NULL;
}

/* What shows the storage of a unit that is not written to. */
static void plan_proof(vd_visit *visit, bool by_hand)
{
    bool restarts = by_hand || shows_by_restart(visit);
    vd_steps_append(visit, VD_STEP_KNOW_AGAIN);
    if (by_hand) {
        vd_steps_append(visit, VD_STEP_BY_HAND);
    } else if (restarts) {
        vd_steps_append(visit, VD_STEP_RESTART);
        vd_steps_append(visit, VD_STEP_COMING_BACK);
    }
    if (vd_slots_need_loading(visit, restarts) && visit->may_restart) {
        vd_steps_append(visit, VD_STEP_LOAD);
    }
    vd_steps_append(visit, VD_STEP_READ_BACK);
    vd_steps_append(visit, VD_STEP_KNOW_LAST);
}

/* What is read for a verdict without anything being written. */
static void conclude_reading(vd_visit *visit)
{
    const vd_store *store = &visit->model->store;
    vd_set_copy(&visit->prior, &visit->live);
    visit->standing.stored = visit->standing.unbroken = !store->needed;
    visit->standing.lasting = shows_stored(visit)             ? VD_LASTS_AT_ONCE
                              : store->proof == VD_PROOF_BANK ? VD_LASTS_IN_BANK
                                                              : VD_LASTS_UNPROVED;
    vd_ledger_take_readings(visit);
}

static vd_going after_reading(vd_visit *visit)
{
    vd_running_take_time(visit);
    if (!vd_changes(visit) && vd_talk_disturbed(&visit->talk) != visit->disturbed) {
        vd_steps_append(visit, VD_STEP_KNOW_LAST); /* somebody else may have been heard */
    }
    if (visit->task == VD_TASK_READ) {
        return VD_FINE;
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool known = vd_set_heard(&visit->live, i) && visit->model->settings[i].access == VD_READ_WRITE;
        visit->ledger[i].part |= known ? VD_PART_WAS_READ : 0;
    }
    vd_take_running_time(visit);
    if (visit->task == VD_TASK_ACT) {
        vd_action_work_out(visit);
        conclude_reading(visit);
        vd_action_plan(visit);
        return VD_FINE;
    }
    vd_order_complete(visit);
    vd_slots_mark(visit);
    conclude_reading(visit);
    if (visit->task == VD_TASK_VERIFY) {
        bool by_hand = visit->by_hand && visit->standing.lasting == VD_LASTS_UNPROVED;
        bool by_order = visit->may_restart && (shows_by_restart(visit) || vd_slots_need_loading(visit, false));
        if (by_hand || by_order) {
            plan_proof(visit, by_hand);
        }
        return VD_FINE;
    }
    vd_status status = vd_order_work_out(visit);
    conclude_reading(visit);
    if (status != VD_OK) {
        return VD_GIVEN_UP;
    }
    if (vd_order_anything(visit)) {
        plan_write(visit);
    }
    return VD_FINE;
}

vd_going vd_step_was_read(vd_visit *visit, vd_status status)
{
    bool more = visit->step == VD_STEP_READ && visit->model->store.proof == VD_PROOF_BANK;
    if (status != VD_OK || visit->stopping) {
        return VD_GIVEN_UP;
    }
    uint16_t unanswered = vd_changes(visit) ? vd_first_unanswered(visit) : VD_NONE;
    if (unanswered != VD_NONE && visit->silences++ < MOST_SILENCES) {
        vd_steps_plan(visit, (vd_step)visit->list[visit->at], VD_STEP_IDLE);
        return VD_FINE;
    }
    if (unanswered != VD_NONE) { /* what hangs on it would change unseen */
        vd_note_NOT_READ(&visit->fault, &visit->model->settings[unanswered]);
        return VD_GIVEN_UP;
    }
    return more ? VD_FINE : after_reading(visit);
}
