/* SPDX-License-Identifier: MIT
 * Steps that show what was stored: a restart that is seen, and reading back. */
#include "steps.h"

#include <string.h>

#define PATIENCE 10000000u /* microseconds beyond the time that a restart takes */

/* What a restart is proved by: the first row whose bit was seen decides. */
static const struct {
    uint8_t seen;
    bool proves;
} witnesses[] = {{VD_SEEN_RAN_ON, false}, /* whatever else there was */
                 {VD_SEEN_RAN_ANEW, true},    {VD_SEEN_UNDONE, true},
                 {VD_SEEN_START_AFTER, true}, {VD_SEEN_START, false}, /* a unit may say so and run on */
                 {VD_SEEN_SILENCE, false},                            /* so does a cable that is out */
                 {VD_SEEN_PORT, false}};

bool vd_seen_proves_restart(unsigned seen)
{
    size_t at = 0;
    while (at < sizeof witnesses / sizeof witnesses[0] && (seen & witnesses[at].seen) == 0) {
        at++;
    }
    return at < sizeof witnesses / sizeof witnesses[0] && witnesses[at].proves;
}

vd_going vd_step_restart(vd_visit *visit)
{
    visit->restarts++;
    visit->standing.seen = 0;
    visit->restart_from = visit->restart_from == 0 ? visit->now : visit->restart_from; /* else it may have at once */
    visit->step = VD_STEP_RESTART;
    visit->news++;
    vd_talk_act(&visit->talk, visit->now, vd_model_restart(visit->model));
    return VD_GOING;
}

/* A unit that goes at once may not even reply to the command, so silence is waited out as if it had. */
vd_going vd_step_told_to_restart(vd_visit *visit, vd_status status)
{
    if (vd_went_with_port(visit, status)) {
        return VD_FINE;
    }
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    if (vd_is_busy(status) && visit->restarts < MOST_STORES) {
        vd_fault_clear(&visit->fault);
        vd_steps_plan(visit, VD_STEP_RESTART, VD_STEP_IDLE);
        return VD_FINE;
    }
    if (vd_status_class(status) == VD_CLASS_REFUSED) {
        return vd_login_again(visit, status) ? VD_FINE : VD_GIVEN_UP;
    }
    visit->restart_lost = status != VD_OK;
    vd_fault_clear(&visit->fault);
    return VD_FINE;
}

/* How the reading that a restart undoes was seen last: fails, it is at its default. */
static vd_ruling stands(const vd_visit *visit)
{
    uint16_t reading = vd_index(visit->model->undone);
    vd_value now =
        visit->model->undoes == VD_UNDOES_READING ? vd_set_get(&visit->live, reading) : (vd_value){.type = VD_NOTHING};
    vd_value initial = now.type != VD_NOTHING ? vd_set_initial(&visit->live, reading) : now;
    return now.type == VD_NOTHING ? VD_NOT_KNOWN : vd_value_equal(&now, &initial) ? VD_FAILS : VD_HOLDS;
}

/* A reading that stood otherwise right before is back at its default. One that was so already, since the unit has
 * restarted in the middle, shows nothing of the restart that is watched. */
static bool is_undone(const vd_visit *visit)
{
    return visit->stood && stands(visit) == VD_FAILS;
}

static bool was_before(const vd_visit *visit, vd_step step)
{
    return visit->at > 0 && visit->list[visit->at - 1] == step;
}

static bool after_restart(const vd_visit *visit)
{
    return visit->list[visit->at] == VD_STEP_BY_HAND || was_before(visit, VD_STEP_RESTART) ||
           (was_before(visit, VD_STEP_STORE) && vd_restarts_when_stored(visit)) ||
           (was_before(visit, VD_STEP_WRITE) && vd_restarts_by_itself(visit)) ||
           (was_before(visit, VD_STEP_ACT) && vd_restarts_by_action(visit));
}

/* What was done before is what the model says that a new address or line setting takes force by. */
static bool after_moving(const vd_visit *visit)
{
    static const uint8_t steps[] = {[VD_LINK_FROM_RESTART] = VD_STEP_IDLE,
                                    [VD_LINK_FROM_STORING] = VD_STEP_STORE,
                                    [VD_LINK_FROM_WRITING] = VD_STEP_WRITE};
    return was_before(visit, (vd_step)steps[visit->model->link_from]);
}

vd_going vd_step_by_hand(vd_visit *visit)
{
    visit->restarts++;
    visit->standing.seen = 0;
    visit->restart_from = visit->now;
    visit->stood = stands(visit) == VD_HOLDS;
    vd_ledger_doubt_live(visit);
    vd_await_hand(visit);
    return VD_GOING;
}

vd_going vd_step_come_back(vd_visit *visit)
{
    const vd_action *action = was_before(visit, VD_STEP_RESTART) ? vd_model_restart(visit->model)
                              : was_before(visit, VD_STEP_ACT)   ? visit->action
                                                                 : NULL;
    uint64_t takes = action != NULL && action->takes > 0 ? action->takes * (uint64_t)1000
                                                         : visit->model->restart_time * (uint64_t)1000;
    bool wanted = after_restart(visit);
    if (wanted) {
        visit->stood = stands(visit) == VD_HOLDS;
        vd_ledger_doubt_live(visit);
    }
    vd_follow_begin(visit, wanted || after_moving(visit));
    vd_await_begin(visit, VD_STEP_COMING_BACK, takes, takes + PATIENCE, wanted);
    return VD_GOING;
}

/* Whether what is read behind a restart is what was stored, as opposed to a mixture of before and after. */
static bool is_storage_shown(const vd_visit *visit)
{
    return visit->standing.stored || visit->task == VD_TASK_VERIFY;
}

/* Where the command to restart was not answered, and nothing shows that it restarted, it may never have arrived. Where
 * that to store was not answered, a restart does not tell whether it stored before. */
static bool do_again(vd_visit *visit)
{
    bool lost = visit->restart_lost && visit->restarts < MOST_STORES && visit->stores < MOST_STORES;
    bool command = was_before(visit, VD_STEP_RESTART) && !visit->await.seen, storing = was_before(visit, VD_STEP_STORE);
    visit->restart_lost = false;
    if (lost && command) {
        vd_steps_plan(visit, VD_STEP_RESTART, VD_STEP_COMING_BACK);
    } else if (lost && storing) {
        const vd_step steps[] = {VD_STEP_CHECK, VD_STEP_STORE, VD_STEP_COMING_BACK};
        vd_steps_insert(visit, steps, 3);
    }
    return lost && (command || storing);
}

/* Whether a refusal for want of a login could mean nothing but a restart: the unit said yes to one, or stored, which
 * takes one, and it has not run out. */
static bool may_witness(const vd_visit *visit)
{
    bool was_in = visit->login.sure || (visit->login.tries > 0 && visit->standing.stored);
    return visit->model->undoes == VD_UNDOES_LOGIN && was_in && vd_login_would_last(visit);
}

vd_going vd_step_came_back(vd_visit *visit, vd_status status)
{
    bool expected = after_restart(visit), followed = vd_follow_is_on(visit);
    if (status != VD_OK) {
        return VD_GIVEN_UP;
    }
    if (vd_follow_take(visit)) { /* where it could not be reached before: it need not be told again */
        visit->await.seen = visit->await.seen || (expected && !visit->restart_lost);
    } else if (followed && visit->follow.expected) {
        vd_visit_keep_status(visit, VD_LINK_STAYED);
    }
    if (!vd_is_known(visit)) {
        if (visit->doubts++ < 1) {
            vd_steps_plan(visit, VD_STEP_COMING_BACK, VD_STEP_IDLE);
            return VD_FINE;
        }
        vd_meet_other(visit);
        return VD_GIVEN_UP;
    }
    if (expected) {
        vd_login_is_lost(visit);
    }
    if (expected && !do_again(visit) && is_storage_shown(visit) && may_witness(visit)) {
        vd_steps_plan(visit, VD_STEP_WITNESS, VD_STEP_IDLE);
    }
    return VD_FINE;
}

vd_going vd_step_witness(vd_visit *visit)
{
    memset(visit->which, 0, visit->model->setting_count);
    visit->which[vd_model_witness(visit->model)] = 1;
    vd_visit_run(visit, VD_STEP_WITNESS, VD_JOB_READ_LIVE, &visit->live);
    return VD_GOING;
}

/* Refused for want of a login: it has restarted. Answered: whoever was logged in still is. */
vd_going vd_step_witnessed(vd_visit *visit, vd_status status)
{
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    vd_fault_clear(&visit->fault);
    visit->login.done = status == VD_OK;
    if (status == VD_REFUSED_RIGHT && may_witness(visit)) { /* what frames say could mean anything */
        visit->standing.seen |= VD_SEEN_UNDONE;
    }
    return VD_FINE;
}

/* ---- Reading back ---- */

/* What the last reading shows of a restart; then whether it was one, and what is read now is what was stored. */
static void judge_restart(vd_visit *visit)
{
    vd_ruling restarted = vd_has_restarted(visit);
    bool wanted = visit->restarts > 0 || vd_restarts_when_stored(visit) || vd_restarts_by_action(visit);
    unsigned ran = restarted == VD_HOLDS ? VD_SEEN_RAN_ANEW : restarted == VD_FAILS ? VD_SEEN_RAN_ON : 0u;
    if (!wanted) {
        return;
    }
    visit->standing.seen = (uint8_t)(visit->standing.seen | ran | (is_undone(visit) ? VD_SEEN_UNDONE : 0u));
    if (is_storage_shown(visit) && visit->standing.lasting == VD_LASTS_UNPROVED &&
        vd_seen_proves_restart(visit->standing.seen)) {
        visit->standing.lasting = VD_LASTS_RESTART;
    }
}

/* What an action has done may show in what the unit measures or says of itself. */
static void choose_readings(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool known = visit->model->settings[i].access == VD_READ_ONLY && vd_set_heard(&visit->prior, i);
        visit->which[i] = known && !vd_has_part(visit, i, VD_PART_ABSENT) ? 1 : visit->which[i];
    }
}

vd_going vd_step_read_back(vd_visit *visit)
{
    visit->read_back = true;
    vd_ledger_choose(visit, VD_PART_ASKED | VD_TOUCHED | VD_PART_SWAYED | VD_PART_WAS_READ);
    if (visit->task == VD_TASK_ACT) {
        choose_readings(visit);
    }
    vd_ledger_forget(visit, true);
    vd_visit_run(visit, VD_STEP_READ_BACK, VD_JOB_READ_LIVE, &visit->live);
    return VD_GOING;
}

vd_going vd_step_was_read_back(vd_visit *visit, vd_status status)
{
    bool more = visit->step == VD_STEP_READ_BACK && visit->model->store.proof == VD_PROOF_BANK;
    if (status == VD_OK && vd_first_unanswered(visit) != VD_NONE && visit->silences++ < MOST_SILENCES) {
        bool stored = visit->step == VD_STEP_READ_BACK_STORED;
        vd_steps_plan(visit, VD_STEP_READ_BACK, stored ? VD_STEP_READ_BACK_STORED : VD_STEP_IDLE);
        return VD_FINE;
    }
    if (status != VD_OK && vd_steps_wait_and_repeat(visit, status)) {
        return VD_FINE;
    }
    vd_ledger_take_readings(visit);
    if (status != VD_OK || visit->stopping) {
        return VD_GIVEN_UP;
    }
    if (!more) {
        judge_restart(visit);
    }
    return VD_FINE;
}
