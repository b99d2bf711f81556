/* SPDX-License-Identifier: MIT
 * Steps that write, look at what is live then, and have it stored. */
#include "steps.h"
#include "verdite/rules.h"

#include <string.h>

#define MOST_ROUNDS 3u /* of writing */

static bool may_be_sent(const vd_visit *visit, uint16_t i)
{
    const vd_setting *setting = &visit->model->settings[i];
    bool once = setting->once || visit->model->lines.writes_once;
    bool in_vain = visit->ledger[i].sending == VD_SENT_IN_VAIN;
    return setting->access != VD_READ_ONLY && !(once && in_vain);
}

/* What is still to be sent: what was not, or not for certain, and what turned out to be otherwise. What was sent and
 * not looked at since is left alone. */
static bool is_due_itself(const vd_visit *visit, uint16_t i)
{
    const vd_entry *entry = &visit->ledger[i];
    bool changes = vd_has_part(visit, i, VD_PART_CHANGES), shown = vd_has_part(visit, i, VD_PART_SHOWN);
    bool refused = entry->sending == VD_TURNED_DOWN && visit->sending_again;
    if (changes && (entry->sending == VD_UNSENT || refused)) {
        return true;
    }
    bool wrong =
        vd_has_part(visit, i, VD_TOUCHED) && shown && (entry->live == VD_AS_BEFORE || entry->live == VD_OTHERWISE);
    bool unseen = !shown || visit->model->store.proof == VD_PROOF_SHOWN;
    bool unsure = changes && unseen && entry->sending != VD_ACKNOWLEDGED;
    return ((wrong || unsure) && may_be_sent(visit, i)) || i == vd_last_put_off(visit);
}

/* What gets other decimals has to be said anew, whatever it was before. */
static bool is_due(const vd_visit *visit, uint16_t i)
{
    uint16_t decides = vd_index(visit->model->settings[i].places_from);
    bool rescaled = decides != VD_NONE && vd_has_part(visit, i, VD_PART_CHANGES) && is_due_itself(visit, decides);
    return is_due_itself(visit, i) || (rescaled && may_be_sent(visit, i));
}

/* Whether it sets others of which it is not known yet what to. */
static bool any_swayed_by(const vd_visit *visit, uint16_t setting)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (vd_has_part(visit, i, VD_PART_SWAYED) && vd_setting_sets(visit->model, setting, i)) {
            return true;
        }
    }
    return false;
}

/* What was put off, and what goes before that, is finished first. Then what will no longer count, while it can be
 * written; then what sets others; by what it is reached goes last, so that whatever cuts the visit off before leaves it
 * where it was; the password before that. What restarts the unit goes behind all else, which would not be heard. */
enum {
    TURN_BEFORE_PUT_OFF,
    TURN_PUT_OFF,
    TURN_WHILE_IT_COUNTS,
    TURN_FIRST,
    TURN_USUAL,
    TURN_PASSWORD,
    TURN_LINK,
    TURN_RESTART
};
/* Whether it goes out before that on which it hangs whether it counts; what one request says of both goes together. */
static bool goes_while_it_counts(const vd_visit *visit, uint16_t i)
{
    bool leaves = vd_is_idle(visit, &visit->desired, i) && !vd_is_idle(visit, &visit->live, i);
    uint16_t other = VD_NONE;
    for (uint16_t n = 0; leaves && (other = vd_model_hangs_on(visit->model, i, n)) != VD_NONE; n++) {
        leaves = !vd_model_writes_together(visit->model, i, other);
    }
    return leaves;
}

/* Whether a rule that the unit enforces as it is written to binds it to others that are due: then that gives the order.
 */
static bool is_bound(const vd_visit *visit, uint16_t i)
{
    const vd_model *model = visit->model;
    for (uint16_t r = 0; r < model->rule_count && model->book != NULL; r++) {
        bool binds = model->rules[r].enforced == VD_ENFORCED_WRITING && vd_rule_mentions(model, r, i);
        for (uint16_t k = 0; k < model->setting_count && binds; k++) {
            if (k != i && vd_rule_mentions(model, r, k) && is_due(visit, k)) {
                return true;
            }
        }
    }
    return false;
}

static unsigned turn_of(const vd_visit *visit, uint16_t i)
{
    bool restarts =
        vd_setting_restarts(&visit->model->settings[i]) && !visit->model->store.needed && !is_bound(visit, i);
    return restarts                                        ? TURN_RESTART
           : vd_is_link_change(visit, i)                   ? TURN_LINK
           : i == vd_index(visit->model->login.setting)    ? TURN_PASSWORD
           : i == vd_last_put_off(visit)                   ? TURN_PUT_OFF
           : vd_goes_before_put_off(visit, i)              ? TURN_BEFORE_PUT_OFF
           : goes_while_it_counts(visit, i)                ? TURN_WHILE_IT_COUNTS
           : vd_sways(visit, i) && any_swayed_by(visit, i) ? TURN_FIRST
                                                           : TURN_USUAL;
}

static bool goes_out(const vd_visit *visit, uint16_t i)
{
    return is_due(visit, i) && vd_set_heard(&visit->desired, i) && !vd_has_part(visit, i, VD_PART_ABSENT);
}

/* Where it moves at once, or restarts, one at a time: behind each it is followed, or waited for. */
static void leave_one(vd_visit *visit)
{
    uint16_t first = 0;
    while (first < visit->model->setting_count && visit->which[first] == 0) {
        first++;
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool with_it = i == first || (visit->which[i] == 1 && vd_model_writes_together(visit->model, first, i));
        visit->which[i] = visit->which[i] == 1 && with_it;
    }
}

/* Chooses those whose turn it is. Returns whether others are to follow. */
static bool choose_due(vd_visit *visit)
{
    unsigned turn = TURN_RESTART;
    bool rest = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        turn = goes_out(visit, i) && turn_of(visit, i) < turn ? turn_of(visit, i) : turn;
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->which[i] = goes_out(visit, i) && turn_of(visit, i) == turn;
    }
    if (turn == TURN_RESTART || (turn == TURN_LINK && visit->model->link_from == VD_LINK_FROM_WRITING)) {
        leave_one(visit);
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        rest = rest || (goes_out(visit, i) && visit->which[i] == 0);
    }
    return rest;
}

/* What was called out is read before it is stored, and before it is read back; the rest is written in the usual way. */
static void plan_behind_call(vd_visit *visit)
{
    bool rest = choose_due(visit);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        rest = rest || visit->which[i] == 1;
    }
    if (!visit->model->store.needed) {
        vd_steps_plan(visit, VD_STEP_CHECK, VD_STEP_IDLE);
    }
    if (rest) {
        vd_steps_plan(visit, VD_STEP_WRITE, VD_STEP_IDLE);
    }
}

vd_going vd_step_write(vd_visit *visit)
{
    if (visit->calling != VD_CALLS_NOBODY) {
        vd_going going = vd_call_begin(visit);
        if (going == VD_FINE) {
            plan_behind_call(visit);
        }
        return going;
    }
    visit->more_due = choose_due(visit);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->which[i] == 1) {
            vd_put_off_is_tried(visit, i);
        }
    }
    vd_running_set(visit);
    visit->sending_again = false;
    visit->rounds++;
    vd_visit_run(visit, VD_STEP_WRITE, VD_JOB_WRITE, &visit->desired);
    return VD_GOING;
}

/* Whether what was just written makes the unit restart by itself; where it first has to store it does so then. */
bool vd_restarts_by_itself(const vd_visit *visit)
{
    bool due = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        due = due || (vd_setting_restarts(&visit->model->settings[i]) && visit->which[i] == 1 &&
                      visit->ledger[i].sending == VD_ACKNOWLEDGED);
    }
    return due && !visit->model->store.needed;
}

/* Whether what was just written moves it at once. */
static bool moves_now(const vd_visit *visit)
{
    bool moves = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        moves = moves || (vd_is_link_change(visit, i) && visit->which[i] == 1);
    }
    return moves && visit->model->link_from == VD_LINK_FROM_WRITING;
}

/* Whether something was just written that sets others. */
static bool any_swaying(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->which[i] == 1 && vd_sways(visit, i)) {
            return true;
        }
    }
    return false;
}

/* Whether the job that has ended has said anything of what it was on. */
static bool any_tried(const vd_visit *visit)
{
    bool any = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        any = any || (visit->which[i] == 1 && visit->talk.job.outcome[i] != VD_NOT_TRIED);
    }
    return any;
}

/* A write was taken: what is written yet, and what comes before it. */
static vd_going go_on_writing(vd_visit *visit, bool rest)
{
    bool open = vd_sway_is_open(visit) && any_swaying(visit);
    visit->more_due = visit->more_due || open;
    visit->rounds = (uint8_t)(visit->rounds - (visit->more_due ? 1u : 0u)); /* a part of one round */
    vd_step again = rest || visit->more_due ? VD_STEP_WRITE : VD_STEP_IDLE;
    if (open) { /* what it has set is read before that */
        vd_steps_plan(visit, VD_STEP_RELOAD, VD_STEP_WRITE);
        again = VD_STEP_IDLE;
    }
    if (vd_restarts_by_itself(visit)) {
        visit->rounds = rest ? 1 : visit->rounds;
        vd_login_is_lost(visit);
        vd_steps_plan(visit, VD_STEP_COMING_BACK, again);
    } else if (moves_now(visit)) {
        vd_steps_plan(visit, VD_STEP_COMING_BACK, again);
    } else if (visit->more_due && !open) {
        vd_steps_plan(visit, VD_STEP_WRITE, VD_STEP_IDLE);
    }
    return VD_FINE;
}

vd_going vd_step_written(vd_visit *visit, vd_status status)
{
    bool rest = vd_ledger_take_outcomes(visit), refused = vd_status_class(status) == VD_CLASS_REFUSED;
    bool called = visit->calling != VD_CALLS_NOBODY;
    if (called) {
        vd_call_ended(visit);
    }
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    if (called && status == VD_OK) {
        plan_behind_call(visit);
        return VD_FINE;
    }
    if (refused && vd_login_again(visit, status)) {
        visit->sending_again = true;
        visit->rounds--; /* logins are counted by themselves */
        return VD_FINE;
    }
    if (refused && !vd_is_busy(status) && vd_put_off(visit)) {
        vd_fault_clear(&visit->fault);
        vd_steps_plan(visit, VD_STEP_WRITE, VD_STEP_IDLE);
        visit->rounds--;
        return VD_FINE;
    }
    vd_going hand = vd_await_writing(visit, status);
    visit->rounds = (uint8_t)(visit->rounds - (hand == VD_GOING)); /* until a hand has done it, none counts */
    if (hand == VD_GIVEN_UP) {
        return VD_GIVEN_UP;
    }
    if (status != VD_OK && !refused && visit->rounds < MOST_ROUNDS) { /* what became of it is read */
        vd_fault_clear(&visit->fault);
        vd_steps_plan(visit, VD_STEP_COMING_BACK, visit->model->store.needed ? VD_STEP_IDLE : VD_STEP_CHECK);
        return VD_FINE;
    }
    if (status != VD_OK) {
        return VD_GIVEN_UP;
    }
    /* What cannot be said is not tried again for ever. */
    return any_tried(visit) ? go_on_writing(visit, rest) : VD_FINE;
}

/* ---- Checking before storing ---- */

/* Where what is only live does not show, nothing but the running time can be looked at. */
vd_going vd_step_check(vd_visit *visit)
{
    vd_ledger_choose(visit, visit->model->store.proof == VD_PROOF_SHOWN ? 0 : VD_TOUCHED | VD_PART_SWAYED);
    vd_ledger_forget(visit, false);
    vd_visit_run(visit, VD_STEP_CHECK, VD_JOB_READ_LIVE, &visit->live);
    return VD_GOING;
}

/* Something that was written, is live, and would not be, had the unit restarted. Those that cannot be read are written
 * last, so what is seen here of the others holds for them too. */
static bool any_witness(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        const vd_entry *entry = &visit->ledger[i];
        bool taken = entry->sending == VD_ACKNOWLEDGED || entry->sending == VD_SENT_IN_VAIN;
        if (vd_has_part(visit, i, VD_PART_FLEETING) && taken && entry->live == VD_AS_WANTED) {
            return true;
        }
    }
    return false;
}

/* Something that the unit took is as it was before. Where a restart would not show otherwise, what was sent in vain and
 * is not there may as well have been there. */
static bool any_gone_back(const vd_visit *visit, vd_ruling restarted)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        uint8_t sending = visit->ledger[i].sending;
        bool taken = sending == VD_ACKNOWLEDGED || (sending == VD_SENT_IN_VAIN && restarted == VD_NOT_KNOWN);
        if (taken && visit->ledger[i].live == VD_AS_BEFORE) {
            return true;
        }
    }
    return false;
}

static bool all_due_taken(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (is_due(visit, i)) {
            return false;
        }
    }
    return true;
}

/* After a restart nothing that was not stored is there any more, whatever the unit said to it. */
static void unsend(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        uint8_t *sending = &visit->ledger[i].sending;
        *sending = *sending == VD_ACKNOWLEDGED ? VD_SENT_IN_VAIN : *sending;
    }
    vd_login_is_lost(visit);
}

static bool any_refused(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->ledger[i].sending == VD_TURNED_DOWN) {
            return true;
        }
    }
    return false;
}

vd_going vd_step_checked(vd_visit *visit, vd_status status)
{
    bool stores = visit->model->store.needed || vd_slots_need_saving(visit);
    if (status != VD_OK || visit->stopping) {
        return vd_steps_wait_and_repeat(visit, status) ? VD_FINE : VD_GIVEN_UP;
    }
    if (vd_sway_is_open(visit) && vd_sway_settle(visit) != VD_OK) {
        return VD_GIVEN_UP;
    }
    vd_ledger_take_readings(visit);
    vd_ruling restarted = vd_has_restarted(visit);
    if (stores && (restarted == VD_HOLDS || any_gone_back(visit, restarted))) {
        unsend(visit);
    }
    visit->standing.unbroken = restarted == VD_FAILS || (restarted == VD_NOT_KNOWN && any_witness(visit));
    vd_take_running_time(visit);
    if (all_due_taken(visit)) {
        return VD_FINE;
    }
    if (visit->rounds < MOST_ROUNDS && !any_refused(visit)) {
        vd_steps_plan(visit, VD_STEP_WRITE, VD_STEP_CHECK);
        return VD_FINE;
    }
    if (stores) { /* a mixture is not made to last */
        vd_note_NOT_STORED(&visit->fault);
        return VD_GIVEN_UP;
    }
    return VD_FINE;
}

/* ---- Storing ---- */

vd_going vd_step_store(vd_visit *visit)
{
    bool others = vd_talk_unexplained(&visit->talk) != visit->explained;
    if (others && visit->task != VD_TASK_TELL) { /* somebody else may have been heard */
        visit->explained = vd_talk_unexplained(&visit->talk);
        vd_steps_plan(visit, VD_STEP_KNOW_AGAIN, VD_STEP_STORE);
        return VD_FINE;
    }
    visit->stores++;
    visit->store_sent = true;
    visit->restart_from = visit->now;
    visit->standing.seen = 0; /* of a restart that shows what this stores */
    vd_ledger_doubt_stored(visit);
    vd_visit_run(visit, VD_STEP_STORE, VD_JOB_STORE, NULL);
    return VD_GOING;
}

vd_going vd_step_stored(vd_visit *visit, vd_status status)
{
    bool by_login = visit->login.done && visit->login.tries < 2;
    if (status == VD_OK) {
        visit->standing.stored = true;
        visit->standing.unbroken = visit->standing.unbroken || by_login; /* a restart would have logged us out */
        return VD_FINE;
    }
    if (vd_restarts_when_stored(visit) && vd_went_with_port(visit, status)) {
        visit->restart_lost = true;
        return VD_FINE;
    }
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    if (vd_status_class(status) == VD_CLASS_REFUSED && !vd_is_busy(status)) {
        if (!vd_login_again(visit, status)) {
            return VD_GIVEN_UP;
        }
        vd_steps_plan(visit, VD_STEP_CHECK, VD_STEP_IDLE);
        return VD_FINE;
    }
    /* It may have come about or not. Whoever restarts when it has stored is watched doing so; else what is live is made
     * sure of, and stored once more, which does no harm. */
    if (visit->stores >= MOST_STORES) {
        return VD_GIVEN_UP;
    }
    vd_fault_clear(&visit->fault);
    if (vd_is_busy(status)) { /* it has not taken it */
        vd_steps_plan(visit, VD_STEP_CHECK, VD_STEP_STORE);
        return VD_FINE;
    }
    if (vd_restarts_when_stored(visit)) {
        visit->restart_lost = true; /* the next step is to wait for that restart */
        return VD_FINE;
    }
    const vd_step again[] = {VD_STEP_COMING_BACK, VD_STEP_CHECK, VD_STEP_STORE};
    vd_steps_insert(visit, again, 3);
    return VD_FINE;
}
