/* SPDX-License-Identifier: MIT
 * The steps of a visit: what begins each, what its end means, and what is planned next. One constant table holds them.
 *
 * What keeps a report true:
 *  1. nothing is written before the unit has said once more who it is, with time for a second one on its address to be
 * heard;
 *  2. nothing is stored before what was written was read back, live and right, from a unit that has not restarted
 * since;
 *  3. everything that was read before is read back, and what nobody touched must be as it was;
 *  4. only a restart that was seen proves storage;
 *  5. what was read back counts only when the same unit says afterwards who it is. */
#include "visit_parts.h"

#include <string.h>

#define MOST_ROUNDS 3u     /* of writing */
#define MOST_STORES 3u     /* of storing and restarting */
#define MOST_DOUBTS 3u     /* of asking who it is where something else was heard */
#define MOST_SILENCES 3u   /* of waiting for a unit that fell silent */
#define PATIENCE 10000000u /* microseconds beyond the time that a restart takes */

#define TOUCHED (VD_PART_CHANGES | VD_PART_ALONG | VD_PART_RESCALED)

/* ---- The list ---- */

void vd_steps_append(vd_visit *visit, vd_step step)
{
    if (visit->count < VD_MOST_STEPS) {
        visit->list[visit->count++] = (uint8_t)step;
    }
}

void vd_steps_insert(vd_visit *visit, const vd_step *steps, size_t count)
{
    size_t room = VD_MOST_STEPS - visit->count, behind = visit->at + 1u;
    count = count < room ? count : room;
    memmove(visit->list + behind + count, visit->list + behind, visit->count - behind);
    for (size_t i = 0; i < count; i++) {
        visit->list[behind + i] = (uint8_t)steps[i];
    }
    visit->count = (uint8_t)(visit->count + count);
}

void vd_steps_skip_to(vd_visit *visit, vd_step step)
{
    size_t to = visit->at + 1u;
    while (to < visit->count && visit->list[to] != step) {
        to++;
    }
    size_t left = visit->count - to;
    memmove(visit->list + visit->at + 1u, visit->list + to, left);
    visit->count = (uint8_t)(visit->at + 1u + left);
    visit->at++;
}

static void insert(vd_visit *visit, vd_step first, vd_step second)
{
    const vd_step steps[] = {first, second};
    vd_steps_insert(visit, steps, second != VD_STEP_IDLE ? 2 : 1);
}

/* Remembers what went wrong without ending the visit. */
static void keep_status(vd_visit *visit, vd_status status)
{
    visit->status = visit->status == VD_OK ? status : visit->status;
}

static uint64_t restart_time(const vd_visit *visit)
{
    return visit->model->restart_time * (uint64_t)1000;
}

/* The unit fell silent in the middle: it may be restarting. It is waited for, and then the step is done again. */
static bool wait_and_repeat(vd_visit *visit, vd_status status)
{
    if (!vd_is_silence(status) || vd_is_over(visit, status) || visit->silences >= MOST_SILENCES) {
        return false;
    }
    visit->silences++;
    vd_fault_clear(&visit->fault);
    insert(visit, VD_STEP_COMING_BACK, (vd_step)visit->list[visit->at]);
    return true;
}

/* ---- Who it is ---- */

static bool is_known(const vd_visit *visit)
{
    const vd_identity *now = &visit->talk.work.identity;
    return memcmp(&visit->met, now, sizeof *now) == 0;
}

static void note_other(vd_visit *visit)
{
    visit->standing.same_unit = false;
    vd_fault_note(&visit->fault, VD_OTHER_UNIT_NOW, NULL, visit->talk.work.identity.serial, visit->met.serial);
    keep_status(visit, VD_OTHER_UNIT_NOW);
}

/* What this variant and firmware do not have is left alone. Nothing else is known yet, so what other settings decide
 * is open and counts as there. */
static void note_absent(vd_visit *visit)
{
    vd_set *const sets[] = {&visit->live, &visit->stored, &visit->desired, &visit->prior};
    for (size_t k = 0; k < sizeof sets / sizeof sets[0]; k++) {
        vd_set_tell_unit(sets[k], &visit->met);
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        const vd_setting *setting = &visit->model->settings[i];
        bool absent = setting->when != NULL && vd_set_lacks(&visit->live, i);
        visit->ledger[i].part |= absent ? VD_PART_ABSENT : 0;
    }
}

static bool is_meant(const vd_visit *visit, const vd_identity *found)
{
    size_t length = visit->expected != NULL ? strlen(visit->expected) : 0;
    return visit->expected == NULL ||
           (strlen(found->serial) == length && memcmp(found->serial, visit->expected, length) == 0);
}

static vd_going identify(vd_visit *visit)
{
    vd_visit_run(visit, VD_STEP_IDENTIFY, VD_JOB_IDENTIFY, NULL);
    return VD_GOING;
}

static vd_going identified(vd_visit *visit, vd_status status)
{
    const vd_identity *found = &visit->talk.work.identity;
    bool first = visit->step == VD_STEP_IDENTIFY;
    if (status != VD_OK && first && !vd_is_over(visit, status) && vd_is_silence(status) && vd_await_listening(visit)) {
        return VD_GOING;
    }
    if (status != VD_OK) {
        return VD_GIVEN_UP;
    }
    if (vd_model_fits(visit->model, found) && is_meant(visit, found)) {
        visit->met = *found;
        note_absent(visit);
        return VD_FINE;
    }
    /* Where no check guards what was said, one wrong letter makes another model of it: asked again. */
    if (!vd_model_has_check(visit->model) && visit->doubts++ < 1) {
        insert(visit, VD_STEP_IDENTIFY, VD_STEP_IDLE);
        return VD_FINE;
    }
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    vd_writer_add(&writer, found->maker);
    vd_writer_add(&writer, " ");
    vd_writer_add(&writer, found->product);
    visit->met = *found;
    if (vd_model_fits(visit->model, found)) {
        vd_fault_note(&visit->fault, VD_WRONG_UNIT, NULL, found->serial, visit->expected);
    } else {
        vd_fault_note(&visit->fault, VD_OTHER_MODEL, NULL, said, visit->model->key);
    }
    return VD_GIVEN_UP;
}

static vd_going know(vd_visit *visit)
{
    vd_visit_run(visit, (vd_step)visit->list[visit->at], VD_JOB_IDENTIFY, NULL);
    vd_talk_be_patient(&visit->talk);
    return VD_GOING;
}

/* A damaged line or one reply too many is told apart from somebody else by asking again. */
static vd_going known(vd_visit *visit, vd_status status)
{
    bool last = visit->list[visit->at] == VD_STEP_KNOW_LAST;
    if (status != VD_OK && !last && !vd_ledger_any_sent(visit) && vd_is_silence(status) && !vd_is_over(visit, status) &&
        visit->step == VD_STEP_KNOW_AGAIN && vd_await_listening(visit)) {
        return VD_GOING;
    }
    if (status != VD_OK && wait_and_repeat(visit, status)) {
        return VD_FINE;
    }
    if (status != VD_OK) {
        visit->standing.same_unit = !last && visit->standing.same_unit;
        return VD_GIVEN_UP;
    }
    bool others = vd_talk_heard_others(&visit->talk), same = is_known(visit);
    if (same && !others) {
        visit->explained = vd_talk_unexplained(&visit->talk);
        visit->doubts = 0;
        visit->known_last = last;
        return VD_FINE;
    }
    if (visit->doubts++ < MOST_DOUBTS - 1u) {
        insert(visit, (vd_step)visit->list[visit->at], VD_STEP_IDLE);
        return VD_FINE;
    }
    vd_fault_clear(&visit->fault);
    if (same) {
        visit->standing.same_unit = false;
        vd_fault_note(&visit->fault, VD_ADDRESS_SHARED, NULL, "", "");
        visit->fault.number[0] = visit->address;
        keep_status(visit, VD_ADDRESS_SHARED);
    } else {
        note_other(visit);
    }
    return VD_GIVEN_UP;
}

/* ---- Reading ---- */

static vd_going read(vd_visit *visit)
{
    vd_ledger_choose(visit, visit->task == VD_TASK_WRITE ? ~0u : VD_PART_ASKED);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool fitters = vd_model_logs_in(visit->model) && visit->model->settings[i].read_by == VD_FITTER;
        visit->which[i] = fitters && !visit->login.done && visit->which[i] == 1 ? 0 : visit->which[i];
    }
    vd_talk_read_twice(&visit->talk, visit->task == VD_TASK_WRITE || visit->task == VD_TASK_VERIFY);
    visit->read_at = visit->now;
    vd_visit_run(visit, VD_STEP_READ, VD_JOB_READ_LIVE, &visit->live);
    return VD_GOING;
}

static vd_going read_stored(vd_visit *visit)
{
    vd_step step = (vd_step)visit->list[visit->at];
    vd_visit_run(visit, step, VD_JOB_READ_STORED, &visit->stored);
    return VD_GOING;
}

/* Whether the unit restarts by itself when it has stored. */
static bool restarts_when_stored(const vd_visit *visit)
{
    bool due = visit->model->store.restarts;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        due = due || (visit->model->settings[i].effect == VD_EFFECT_RESTART && vd_has_part(visit, i, VD_PART_CHANGES));
    }
    return due && visit->model->store.needed;
}

/* What the rest of a write is, now that the changes stand. */
static void plan_write(vd_visit *visit)
{
    const vd_store *store = &visit->model->store;
    bool changes = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        changes = changes || vd_has_part(visit, i, VD_PART_CHANGES);
    }
    vd_steps_append(visit, VD_STEP_ASK);
    vd_steps_append(visit, VD_STEP_KEEP);
    vd_steps_append(visit, VD_STEP_KNOW_AGAIN);
    if (changes) {
        vd_steps_append(visit, VD_STEP_WRITE);
    }
    if (store->needed) {
        vd_steps_append(visit, VD_STEP_CHECK);
        vd_steps_append(visit, VD_STEP_STORE);
    }
    if (restarts_when_stored(visit)) {
        vd_steps_append(visit, VD_STEP_COMING_BACK);
    } else if (store->proof == VD_PROOF_RESTART) {
        vd_steps_append(visit, VD_STEP_RESTART);
        vd_steps_append(visit, VD_STEP_COMING_BACK);
    }
    vd_steps_append(visit, VD_STEP_READ_BACK);
    if (store->proof == VD_PROOF_BANK) {
        vd_steps_append(visit, VD_STEP_READ_BACK_STORED);
    }
    vd_steps_append(visit, VD_STEP_KNOW_LAST);
}

/* What is read for a verdict without anything being written. */
static void conclude_reading(vd_visit *visit)
{
    const vd_store *store = &visit->model->store;
    vd_set_copy(&visit->prior, &visit->live);
    visit->standing.stored = visit->standing.unbroken = !store->needed;
    visit->standing.lasting = !store->needed                  ? VD_LASTS_AT_ONCE
                              : store->proof == VD_PROOF_BANK ? VD_LASTS_IN_BANK
                                                              : VD_LASTS_UNPROVED;
    vd_ledger_take_readings(visit);
}

static vd_going after_reading(vd_visit *visit)
{
    if (visit->task != VD_TASK_WRITE && vd_talk_unexplained(&visit->talk) != 0) {
        vd_steps_append(visit, VD_STEP_KNOW_LAST); /* somebody else may have been heard */
    }
    if (visit->task == VD_TASK_READ) {
        return VD_FINE;
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool known = vd_set_knows(&visit->live, i) && visit->model->settings[i].access == VD_READ_WRITE;
        visit->ledger[i].part |= known ? VD_PART_WAS_READ : 0;
    }
    vd_take_running_time(visit);
    vd_order_complete(visit);
    conclude_reading(visit);
    if (visit->task == VD_TASK_VERIFY) {
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

static vd_going was_read(vd_visit *visit, vd_status status)
{
    bool more = visit->step == VD_STEP_READ && visit->model->store.proof == VD_PROOF_BANK;
    if (status != VD_OK || visit->stopping) {
        return VD_GIVEN_UP;
    }
    return more ? VD_FINE : after_reading(visit);
}

/* ---- Asking, keeping ---- */

static vd_going wait_for_person(vd_visit *visit)
{
    (void)visit; /* the engine hands on what is answered */
    return VD_GOING;
}

static vd_going never_ends(vd_visit *visit, vd_status status)
{
    (void)visit, (void)status;
    return VD_GOING;
}

/* ---- Writing ---- */

static bool may_be_sent(const vd_visit *visit, uint16_t i)
{
    const vd_setting *setting = &visit->model->settings[i];
    bool once = setting->once || visit->model->lines.writes_once;
    bool in_vain = visit->ledger[i].sending == VD_SENT_IN_VAIN;
    return setting->access != VD_READ_ONLY && !(once && in_vain);
}

/* What is still to be sent: what was not, or not for certain, and what turned out to be otherwise. What was sent and
 * not looked at since is left alone. */
static bool is_due(const vd_visit *visit, uint16_t i)
{
    const vd_entry *entry = &visit->ledger[i];
    bool changes = vd_has_part(visit, i, VD_PART_CHANGES), shown = vd_has_part(visit, i, VD_PART_SHOWN);
    bool refused = entry->sending == VD_TURNED_DOWN && visit->sending_again;
    if (changes && (entry->sending == VD_UNSENT || refused)) {
        return true;
    }
    bool wrong =
        vd_has_part(visit, i, TOUCHED) && shown && (entry->live == VD_AS_BEFORE || entry->live == VD_OTHERWISE);
    bool unsure = changes && !shown && entry->sending != VD_ACKNOWLEDGED;
    return (wrong || unsure) && may_be_sent(visit, i);
}

static vd_going write(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->which[i] = is_due(visit, i) && !vd_has_part(visit, i, VD_PART_ABSENT);
    }
    visit->sending_again = false;
    visit->rounds++;
    vd_visit_run(visit, VD_STEP_WRITE, VD_JOB_WRITE, &visit->desired);
    return VD_GOING;
}

/* Whether what was just written makes the unit restart by itself; where it first has to store it does so then. */
static bool restarts_by_itself(const vd_visit *visit)
{
    bool due = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        due = due || (visit->model->settings[i].effect == VD_EFFECT_RESTART && visit->which[i] == 1 &&
                      visit->ledger[i].sending == VD_ACKNOWLEDGED);
    }
    return due && !visit->model->store.needed;
}

/* The unit wants a login: it has restarted since, or never heard it, or there is a password where there may be none. */
static bool log_in_again(vd_visit *visit, vd_status status)
{
    const vd_model *model = visit->model;
    /* Frames have no word for it: these may mean it. */
    bool may_mean_it =
        status == VD_EXCEPTION_FUNCTION || status == VD_EXCEPTION_VALUE || status == VD_EXCEPTION_FAILURE;
    bool first = model->login.may_be_none && !visit->login.refused && !visit->login.done;
    bool wants = (status == VD_REFUSED_RIGHT || may_mean_it) && vd_model_logs_in(model) && visit->login.tries < 2 &&
                 (first || visit->login.length > 0);
    if (wants) {
        vd_fault_clear(&visit->fault);
        vd_login_is_lost(visit);
        visit->login.refused = true;
        visit->standing.unbroken = visit->standing.unbroken && !model->store.needed;
        insert(visit, (vd_step)visit->list[visit->at], VD_STEP_IDLE);
    }
    return wants;
}

static vd_going written(vd_visit *visit, vd_status status)
{
    bool rest = vd_ledger_take_outcomes(visit), refused = vd_status_class(status) == VD_CLASS_REFUSED;
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    if (refused && log_in_again(visit, status)) {
        visit->sending_again = true;
        return VD_FINE;
    }
    if (status != VD_OK && !refused && visit->rounds < MOST_ROUNDS) { /* what became of it is read */
        vd_fault_clear(&visit->fault);
        if (visit->model->store.needed) {
            insert(visit, VD_STEP_COMING_BACK, VD_STEP_IDLE);
        } else {
            insert(visit, VD_STEP_COMING_BACK, VD_STEP_CHECK);
        }
        return VD_FINE;
    }
    if (status != VD_OK) {
        return VD_GIVEN_UP;
    }
    if (restarts_by_itself(visit)) {
        vd_step again = rest ? VD_STEP_WRITE : VD_STEP_IDLE;
        visit->rounds = rest ? 1 : visit->rounds;
        vd_login_is_lost(visit);
        insert(visit, VD_STEP_COMING_BACK, again);
    }
    return VD_FINE;
}

/* ---- Checking before storing ---- */

static vd_going check(vd_visit *visit)
{
    vd_ledger_choose(visit, TOUCHED);
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
        if (vd_has_part(visit, i, VD_PART_FLEETING) && entry->sending == VD_ACKNOWLEDGED &&
            entry->live == VD_AS_WANTED) {
            return true;
        }
    }
    return false;
}

/* Something that the unit took is as it was before. */
static bool any_gone_back(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->ledger[i].sending == VD_ACKNOWLEDGED && visit->ledger[i].live == VD_AS_BEFORE) {
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

static vd_going checked(vd_visit *visit, vd_status status)
{
    bool stores = visit->model->store.needed;
    if (status != VD_OK || visit->stopping) {
        return wait_and_repeat(visit, status) ? VD_FINE : VD_GIVEN_UP;
    }
    vd_ledger_take_readings(visit);
    vd_ruling restarted = vd_has_restarted(visit);
    if (stores && (restarted == VD_HOLDS || any_gone_back(visit))) {
        unsend(visit);
    }
    visit->standing.unbroken = restarted == VD_FAILS || (restarted == VD_NOT_KNOWN && any_witness(visit));
    vd_take_running_time(visit);
    if (all_due_taken(visit)) {
        return VD_FINE;
    }
    if (visit->rounds < MOST_ROUNDS && !any_refused(visit)) {
        insert(visit, VD_STEP_WRITE, VD_STEP_CHECK);
        return VD_FINE;
    }
    if (stores) { /* a mixture is not made to last */
        vd_fault_note(&visit->fault, VD_NOT_STORED, NULL, "", "");
        return VD_GIVEN_UP;
    }
    return VD_FINE;
}

/* ---- Storing ---- */

static vd_going store(vd_visit *visit)
{
    if (vd_talk_unexplained(&visit->talk) != visit->explained) { /* somebody else may have been heard */
        visit->explained = vd_talk_unexplained(&visit->talk);
        insert(visit, VD_STEP_KNOW_AGAIN, VD_STEP_STORE);
        return VD_FINE;
    }
    visit->stores++;
    visit->store_sent = true;
    vd_ledger_doubt_stored(visit);
    vd_visit_run(visit, VD_STEP_STORE, VD_JOB_STORE, NULL);
    return VD_GOING;
}

static vd_going stored(vd_visit *visit, vd_status status)
{
    bool by_login = visit->login.done && visit->login.tries < 2;
    if (status == VD_OK) {
        visit->standing.stored = true;
        visit->standing.unbroken = visit->standing.unbroken || by_login; /* a restart would have logged us out */
        return VD_FINE;
    }
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    if (vd_status_class(status) == VD_CLASS_REFUSED && !vd_is_busy(status)) {
        if (!log_in_again(visit, status)) {
            return VD_GIVEN_UP;
        }
        insert(visit, VD_STEP_CHECK, VD_STEP_IDLE);
        return VD_FINE;
    }
    /* It may have come about or not. Whoever restarts when it has stored is watched doing so; else what is live is made
     * sure of, and stored once more, which does no harm. */
    if (visit->stores >= MOST_STORES) {
        return VD_GIVEN_UP;
    }
    vd_fault_clear(&visit->fault);
    if (vd_is_busy(status)) { /* it has not taken it */
        insert(visit, VD_STEP_CHECK, VD_STEP_STORE);
        return VD_FINE;
    }
    if (restarts_when_stored(visit)) {
        visit->restart_lost = true; /* the next step is to wait for that restart */
        return VD_FINE;
    }
    const vd_step again[] = {VD_STEP_COMING_BACK, VD_STEP_CHECK, VD_STEP_STORE};
    vd_steps_insert(visit, again, 3);
    return VD_FINE;
}

/* ---- Restarting ---- */

static vd_going restart(vd_visit *visit)
{
    visit->restarts++;
    vd_visit_run(visit, VD_STEP_RESTART, VD_JOB_RESTART, NULL);
    return VD_GOING;
}

/* A unit that goes at once may not even reply to the command, so silence is waited out as if it had. */
static vd_going told_to_restart(vd_visit *visit, vd_status status)
{
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    if (vd_is_busy(status) && visit->restarts < MOST_STORES) {
        vd_fault_clear(&visit->fault);
        insert(visit, VD_STEP_RESTART, VD_STEP_IDLE);
        return VD_FINE;
    }
    if (vd_status_class(status) == VD_CLASS_REFUSED) {
        return log_in_again(visit, status) ? VD_FINE : VD_GIVEN_UP;
    }
    visit->restart_lost = status != VD_OK;
    vd_fault_clear(&visit->fault);
    return VD_FINE;
}

static bool was_before(const vd_visit *visit, vd_step step)
{
    return visit->at > 0 && visit->list[visit->at - 1] == step;
}

static bool after_restart(const vd_visit *visit)
{
    return was_before(visit, VD_STEP_RESTART) || (was_before(visit, VD_STEP_STORE) && restarts_when_stored(visit)) ||
           (was_before(visit, VD_STEP_WRITE) && restarts_by_itself(visit));
}

static vd_going come_back(vd_visit *visit)
{
    const vd_action *action = was_before(visit, VD_STEP_RESTART) ? vd_model_restart(visit->model) : NULL;
    uint64_t takes = action != NULL && action->takes > 0 ? action->takes * (uint64_t)1000 : restart_time(visit);
    bool wanted = after_restart(visit);
    if (wanted) {
        vd_ledger_doubt_live(visit);
    }
    vd_await_begin(visit, VD_STEP_COMING_BACK, takes, takes + PATIENCE, wanted);
    return VD_GOING;
}

/* Where the command to restart was not answered, and nothing shows that it restarted, it may never have arrived. Where
 * that to store was not answered, a restart does not tell whether it stored before. */
static bool do_again(vd_visit *visit)
{
    bool lost = visit->restart_lost && visit->restarts < MOST_STORES && visit->stores < MOST_STORES;
    bool command = was_before(visit, VD_STEP_RESTART) && !visit->await.seen, storing = was_before(visit, VD_STEP_STORE);
    visit->restart_lost = false;
    if (lost && command) {
        insert(visit, VD_STEP_RESTART, VD_STEP_COMING_BACK);
    } else if (lost && storing) {
        const vd_step steps[] = {VD_STEP_CHECK, VD_STEP_STORE, VD_STEP_COMING_BACK};
        vd_steps_insert(visit, steps, 3);
    }
    return lost && (command || storing);
}

static vd_going came_back(vd_visit *visit, vd_status status)
{
    bool expected = after_restart(visit);
    if (status != VD_OK) {
        return VD_GIVEN_UP;
    }
    if (!is_known(visit)) {
        if (visit->doubts++ < 1) {
            insert(visit, VD_STEP_COMING_BACK, VD_STEP_IDLE);
            return VD_FINE;
        }
        note_other(visit);
        return VD_GIVEN_UP;
    }
    if (expected) {
        vd_login_is_lost(visit);
    }
    if (expected && !do_again(visit) && visit->await.seen && visit->standing.stored) {
        visit->standing.lasting = VD_LASTS_RESTART;
    }
    return VD_FINE;
}

/* ---- Reading back ---- */

static vd_going read_back(vd_visit *visit)
{
    visit->read_back = true;
    vd_ledger_choose(visit, VD_PART_ASKED | TOUCHED | VD_PART_WAS_READ);
    vd_ledger_forget(visit, true);
    vd_visit_run(visit, VD_STEP_READ_BACK, VD_JOB_READ_LIVE, &visit->live);
    return VD_GOING;
}

/* Whether it did not answer to some of it: it may have restarted in the middle, and what it said before that is old. */
static bool any_unanswered(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->which[i] == 1 && visit->talk.work.outcome[i] == VD_UNCLEAR) {
            return true;
        }
    }
    return false;
}

static vd_going was_read_back(vd_visit *visit, vd_status status)
{
    bool more = visit->step == VD_STEP_READ_BACK && visit->model->store.proof == VD_PROOF_BANK;
    if (status == VD_OK && any_unanswered(visit) && visit->silences++ < MOST_SILENCES) {
        bool stored = visit->step == VD_STEP_READ_BACK_STORED;
        insert(visit, VD_STEP_READ_BACK, stored ? VD_STEP_READ_BACK_STORED : VD_STEP_IDLE);
        return VD_FINE;
    }
    if (status != VD_OK && wait_and_repeat(visit, status)) {
        return VD_FINE;
    }
    vd_ledger_take_readings(visit);
    if (status != VD_OK || visit->stopping) {
        return VD_GIVEN_UP;
    }
    /* Where no silence showed a restart, the unit's own running time may. */
    bool restarted = (visit->restarts > 0 || restarts_when_stored(visit)) && vd_has_restarted(visit) == VD_HOLDS;
    if (!more && restarted && visit->standing.stored && visit->standing.lasting == VD_LASTS_UNPROVED) {
        visit->standing.lasting = VD_LASTS_RESTART;
    }
    return VD_FINE;
}

const vd_step_about vd_steps[VD_STEP_COUNT] = {
    [VD_STEP_IDENTIFY] = {identify, identified, true},
    [VD_STEP_READ] = {read, was_read, true},
    [VD_STEP_READ_STORED] = {read_stored, was_read, true},
    [VD_STEP_ASK] = {wait_for_person, never_ends, true},
    [VD_STEP_KEEP] = {wait_for_person, never_ends, true},
    [VD_STEP_KNOW_AGAIN] = {know, known, true},
    [VD_STEP_WRITE] = {write, written, false},
    [VD_STEP_CHECK] = {check, checked, true},
    [VD_STEP_STORE] = {store, stored, false},
    [VD_STEP_RESTART] = {restart, told_to_restart, false},
    [VD_STEP_COMING_BACK] = {come_back, came_back, true},
    [VD_STEP_READ_BACK] = {read_back, was_read_back, true},
    [VD_STEP_READ_BACK_STORED] = {read_stored, was_read_back, true},
    [VD_STEP_KNOW_LAST] = {know, known, true},
};
