/* SPDX-License-Identifier: MIT
 * Steps of an action: what the unit is expected to hold once it has done it, and telling it to, once. What became of it
 * is judged by what is read afterwards. */
#include "steps.h"

#include <string.h>

static bool restarts(const vd_action *action)
{
    return action->deed == VD_DEED_RESTART || action->deed == VD_DEED_DEFAULTS;
}

bool vd_restarts_by_action(const vd_visit *visit)
{
    return visit->action != NULL && restarts(visit->action);
}

/* What a setting is to be afterwards: as it is from the factory, or as it is stored; else as it is. */
static vd_value expected(const vd_visit *visit, uint16_t i)
{
    if (visit->action->deed == VD_DEED_DEFAULTS) {
        return vd_set_initial(&visit->live, i);
    }
    bool from_bank = visit->action->deed == VD_DEED_RESTART && vd_set_knows(&visit->stored, i);
    return vd_set_get(from_bank ? &visit->stored : &visit->live, i);
}

static void expect(vd_visit *visit, uint16_t i)
{
    const vd_setting *setting = &visit->model->settings[i];
    vd_value value = expected(visit, i);
    if (vd_slots_come_up(visit, i, &value) && value.type == VD_NOTHING) {
        visit->ledger[i].part &= (uint16_t)~VD_PART_WAS_READ; /* whatever that slot holds */
        vd_set_forget(&visit->desired, i);
    }
    if (setting->access == VD_READ_ONLY || vd_has_part(visit, i, VD_PART_ABSENT) || value.type == VD_NOTHING ||
        setting->written_by == VD_MAKER) {
        return;
    }
    vd_set_put(&visit->desired, i, &value);
    /* What does not restart it has to do with no setting; and a counter counts on. */
    visit->ledger[i].part |= restarts(visit->action) && setting->traits->id != VD_COUNTER ? VD_PART_ASKED : 0;
}

/* What it does not show may change as well, where it goes back to what it had from the factory. */
static bool changes(const vd_visit *visit, uint16_t i)
{
    bool hidden = !vd_has_part(visit, i, VD_PART_SHOWN);
    return vd_has_part(visit, i, VD_PART_ASKED) &&
           (hidden ? visit->action->deed == VD_DEED_DEFAULTS
                   : vd_set_compare(&visit->live, &visit->desired, i) == VD_DIFFERENT);
}

void vd_action_work_out(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        expect(visit, i);
    }
    vd_set_reinterpret(&visit->desired);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool touched = visit->action->deed == VD_DEED_DEFAULTS && vd_has_part(visit, i, VD_PART_ASKED);
        visit->ledger[i].part |= changes(visit, i) ? VD_PART_CHANGES : touched ? VD_PART_ALONG : 0u;
    }
    vd_follow_work_out(visit);
}

void vd_action_plan(vd_visit *visit)
{
    if (vd_follow_moves(visit) && vd_model_has_address(visit->model)) {
        vd_steps_append(visit, VD_STEP_SEE_FREE);
    }
    vd_steps_append(visit, VD_STEP_ASK);
    vd_steps_append(visit, VD_STEP_KEEP);
    vd_steps_append(visit, VD_STEP_KNOW_AGAIN);
    vd_steps_append(visit, VD_STEP_ACT);
    if (restarts(visit->action)) {
        vd_steps_append(visit, VD_STEP_COMING_BACK);
    }
    vd_steps_append(visit, VD_STEP_READ_BACK);
    if (visit->model->store.proof == VD_PROOF_BANK) {
        vd_steps_append(visit, VD_STEP_READ_BACK_STORED);
    }
    vd_steps_append(visit, VD_STEP_KNOW_LAST);
}

vd_going vd_step_act(vd_visit *visit)
{
    memset(visit->which, 0, visit->model->setting_count);
    visit->acted = VD_SENT_IN_VAIN;
    visit->restart_from = visit->now;
    visit->store_sent = true;
    vd_ledger_doubt_stored(visit);
    visit->step = VD_STEP_ACT;
    visit->news++;
    vd_talk_act(&visit->talk, visit->now, visit->action);
    return VD_GOING;
}

/* What it has touched is as if each of them had been sent. */
static void take(vd_visit *visit, vd_sending sending)
{
    visit->acted = (uint8_t)sending;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->ledger[i].sending = vd_has_part(visit, i, VD_PART_CHANGES) ? (uint8_t)sending : visit->ledger[i].sending;
    }
}

vd_going vd_step_acted(vd_visit *visit, vd_status status)
{
    bool gone = restarts(visit->action) && vd_went_with_port(visit, status);
    bool refused = vd_status_class(status) == VD_CLASS_REFUSED;
    if (refused && !vd_is_busy(status) && vd_login_again(visit, status)) {
        visit->acted = VD_UNSENT;
        return VD_FINE;
    }
    take(visit, refused ? VD_TURNED_DOWN : status == VD_OK || gone ? VD_ACKNOWLEDGED : VD_SENT_IN_VAIN);
    if (refused || (vd_is_over(visit, status) && !gone)) {
        return VD_GIVEN_UP;
    }
    visit->standing.stored = visit->standing.stored || restarts(visit->action); /* what comes up is what is stored */
    visit->standing.unbroken = visit->standing.unbroken || status == VD_OK;
    visit->restart_lost = false; /* it is never told twice */
    if (status != VD_OK) {
        vd_fault_clear(&visit->fault);
        if (!restarts(visit->action)) {
            vd_steps_plan(visit, VD_STEP_COMING_BACK, VD_STEP_IDLE);
        }
    }
    return VD_FINE;
}
