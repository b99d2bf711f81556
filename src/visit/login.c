/* SPDX-License-Identifier: MIT
 * A small machine: logging in, only where something needs it, with a password that is wiped when the visit ends. It is
 * said once. Where no answer told whether the unit took it, what is done next tells; only where that shows that it did
 * not is it said again. After a wrong one the unit is asked how many tries are left. */
#include "steps.h"

#include <string.h>

#define MOST_BUSY 3u /* times that it is told once more after it was busy, each for as long as its model allows */

static bool is_for_fitters(const vd_visit *visit, uint16_t i, vd_step step)
{
    const vd_setting *setting = &visit->model->settings[i];
    if (vd_has_part(visit, i, VD_PART_ABSENT)) {
        return false;
    }
    if (step == VD_STEP_WRITE) {
        return vd_has_part(visit, i, VD_PART_CHANGES) && setting->written_by == VD_FITTER;
    }
    bool asked = vd_has_part(visit, i, VD_PART_ASKED | (step == VD_STEP_READ_BACK ? VD_PART_WAS_READ : 0u));
    return asked && setting->read_by == VD_FITTER && vd_setting_is_shown(setting);
}

static bool any_for_fitters(const vd_visit *visit, vd_step step)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (is_for_fitters(visit, i, step)) {
            return true;
        }
    }
    return false;
}

bool vd_login_is_due(const vd_visit *visit, vd_step step)
{
    /* Whoever thought for long before he said yes may have been logged out meanwhile. */
    uint64_t lasts = visit->model->login.lasts * (uint64_t)1000;
    bool lapsed = lasts > 0 && visit->now >= visit->login.at + lasts / 2;
    bool acts = step == VD_STEP_ACT,
         stores =
             (step == VD_STEP_WRITE || step == VD_STEP_STORE || step == VD_STEP_RESTART) && visit->model->store.needed;
    bool reads = step == VD_STEP_READ || step == VD_STEP_READ_BACK;
    bool writes = step == VD_STEP_WRITE;
    if (!vd_model_logs_in(visit->model) || visit->task == VD_TASK_TELL || visit->login.declined ||
        (visit->login.done && !lapsed)) {
        return false;
    }
    if (step == VD_STEP_READ && visit->task == VD_TASK_READ) {
        return visit->login.wanted; /* without it those are left out */
    }
    if (visit->model->login.may_be_none && !visit->login.refused) {
        return false; /* it shows once the unit turns something down */
    }
    return acts || stores || ((reads || writes) && any_for_fitters(visit, step));
}

void vd_login_leave_out(vd_visit *visit)
{
    visit->login.declined = true;
}

void vd_login_is_lost(vd_visit *visit)
{
    visit->login.done = false;
}

static bool would_last(const vd_visit *visit, uint64_t until)
{
    uint64_t lasts = visit->model->login.lasts * (uint64_t)1000;
    return lasts == 0 || until < visit->login.at + lasts;
}

bool vd_login_would_last(const vd_visit *visit)
{
    return would_last(visit, visit->now);
}

void vd_login_renew(vd_visit *visit, uint64_t asked_at)
{
    if (would_last(visit, visit->now) && asked_at > visit->login.at) {
        visit->login.at = asked_at;
    }
}

void vd_login_forget(vd_visit *visit)
{
    vd_wipe(visit->login.password, sizeof visit->login.password);
    vd_wipe(visit->login.old, sizeof visit->login.old);
    visit->login.length = visit->login.old_length = 0;
}

/* A password as it is typed; returns its length. */
static size_t print_password(const vd_visit *visit, const vd_value *password, char *text)
{
    vd_writer writer = vd_writer_start(text, VD_PASSWORD_SIZE);
    vd_value_print(&visit->model->settings[vd_index(visit->model->login.setting)], password, &writer);
    return password->type != VD_NOTHING ? writer.length : 0;
}

/* A password that was written in this very task is the one in force. */
static void take_new_one(vd_visit *visit)
{
    uint16_t setting = vd_index(visit->model->login.setting);
    if (setting != VD_NONE && visit->ledger[setting].sending == VD_ACKNOWLEDGED &&
        (visit->standing.stored || !visit->model->store.needed)) {
        vd_value password = vd_set_get(&visit->desired, setting);
        if (visit->login.old_length == 0) {
            memcpy(visit->login.old, visit->login.password, sizeof visit->login.old);
            visit->login.old_length = visit->login.length;
        }
        visit->login.length = (uint8_t)print_password(visit, &password, visit->login.password);
        visit->login.tries = 0;
    }
}

static bool is_from_factory(const vd_visit *visit)
{
    uint16_t setting = vd_index(visit->model->login.setting);
    char text[VD_PASSWORD_SIZE];
    if (setting == VD_NONE) {
        return false;
    }
    vd_value value = vd_set_initial(&visit->live, setting);
    size_t length = print_password(visit, &value, text);
    return length > 0 && length == visit->login.length && memcmp(text, visit->login.password, length) == 0;
}

static vd_going end(vd_visit *visit, vd_going going)
{
    visit->login.on = false;
    return going;
}

static vd_going say(vd_visit *visit)
{
    vd_status status = VD_OK;
    visit->login.factory = is_from_factory(visit);
    visit->login.tries++;
    visit->step = VD_STEP_LOGIN;
    visit->news++;
    vd_talk_log_in(&visit->talk, visit->now, visit->login.password, visit->login.length);
    return vd_talk_ended(&visit->talk, &status) ? end(visit, VD_GIVEN_UP) : VD_GOING; /* what was typed cannot be one */
}

vd_going vd_login_begin(vd_visit *visit)
{
    visit->login.on = true;
    take_new_one(visit);
    if (visit->login.length > 0) {
        return say(visit);
    }
    visit->step = VD_STEP_PASSWORD;
    visit->news++;
    return VD_GOING;
}

/* Says what a refused password means, with the unit's own count where it was just read; an older one is out of date. */
static vd_going refuse(vd_visit *visit, bool counted)
{
    const vd_login *login = &visit->model->login;
    vd_value left = counted ? vd_set_get(&visit->live, vd_index(login->left)) : (vd_value){.type = VD_NOTHING};
    bool known = left.type != VD_NOTHING, locked = known && left.number == 0;
    const char *advice = login->recoverable ? "a forgotten one can be reset (see the start-up page)."
                         : locked           ? "It cannot be unlocked: see the start-up page, or ask its maker."
                                            : "a forgotten one cannot be recovered.";
    vd_fault_clear(&visit->fault);
    if (locked) {
        vd_note_LOGIN_LOCKED(&visit->fault, advice);
    } else if (known) {
        vd_note_LOGIN_REFUSED(&visit->fault, advice, (int32_t)left.number);
    } else {
        vd_note_LOGIN_NOT_TAKEN(&visit->fault, advice);
    }
    return end(visit, VD_GIVEN_UP);
}

/* The new one, which it had taken, was refused. Where that leaves more than one try, the old one may be said, once. */
static bool may_say_old(const vd_visit *visit, bool counted)
{
    vd_value left =
        counted ? vd_set_get(&visit->live, vd_index(visit->model->login.left)) : (vd_value){.type = VD_NOTHING};
    return visit->login.old_length > 0 && left.type != VD_NOTHING && left.number >= 2;
}

static vd_going take_old_one(vd_visit *visit, bool yes)
{
    uint16_t setting = vd_index(visit->model->login.setting);
    if (!yes) {
        return refuse(visit, true);
    }
    memcpy(visit->login.password, visit->login.old, sizeof visit->login.password);
    visit->login.length = visit->login.old_length;
    visit->login.old_length = 0;
    visit->ledger[setting].sending = VD_TURNED_DOWN; /* whatever it said to it */
    vd_visit_keep_status(visit, VD_PASSWORD_STAYED);
    return say(visit);
}

static vd_going take_answer(vd_visit *visit, const vd_event *event)
{
    vd_step then = (vd_step)visit->list[visit->at];
    if (event->kind == VD_HEARD) {
        vd_talk_engine.feed(&visit->talk, event);
    }
    if (event->kind == VD_LOST) {
        vd_fault_note(&visit->fault, event->status, NULL, "", "");
        return end(visit, VD_GIVEN_UP);
    }
    if (visit->stopping) {
        return end(visit, VD_GIVEN_UP);
    }
    if (event->kind != VD_ANSWERED) {
        return VD_GOING;
    }
    if (visit->step == VD_STEP_OLD_PASSWORD) {
        return take_old_one(visit, event->yes);
    }
    if (event->yes && event->count > 0 && event->count <= VD_PASSWORD_SIZE) {
        memcpy(visit->login.password, event->bytes, event->count);
        visit->login.length = (uint8_t)event->count;
        return say(visit);
    }
    if (then == VD_STEP_WRITE || then == VD_STEP_STORE || then == VD_STEP_RESTART || then == VD_STEP_ACT ||
        visit->login.wanted) {
        vd_note_LOGIN_NEEDED(&visit->fault);
        return end(visit, VD_GIVEN_UP);
    }
    return end(visit, VD_LEFT_OUT);
}

static vd_going after_job(vd_visit *visit, vd_status status)
{
    uint16_t left = vd_index(visit->model->login.left);
    visit->login.factory = visit->login.factory && (status == VD_OK || vd_is_silence(status));
    if (vd_is_over(visit, status)) {
        return end(visit, VD_GIVEN_UP);
    }
    if (visit->step == VD_STEP_TRIES_LEFT && may_say_old(visit, status == VD_OK)) {
        visit->step = VD_STEP_OLD_PASSWORD;
        visit->news++;
        return VD_GOING;
    }
    if (visit->step == VD_STEP_TRIES_LEFT) {
        return refuse(visit, status == VD_OK);
    }
    if (status == VD_OK || vd_is_silence(status)) { /* not answered: what comes next tells whether it was taken */
        vd_fault_clear(&visit->fault);
        visit->login.done = true;
        visit->login.sure = status == VD_OK;
        visit->login.at = visit->now;
        return end(visit, VD_FINE);
    }
    if (vd_is_busy(status)) { /* it has not taken it */
        visit->login.tries--;
        if (visit->login.busy++ >= MOST_BUSY) {
            return end(visit, VD_GIVEN_UP);
        }
        vd_fault_clear(&visit->fault);
        return say(visit);
    }
    if (vd_status_class(status) == VD_CLASS_REFUSED && left != VD_NONE) {
        vd_fault_clear(&visit->fault);
        memset(visit->which, 0, visit->model->setting_count);
        visit->which[left] = 1;
        vd_visit_run(visit, VD_STEP_TRIES_LEFT, VD_JOB_READ_LIVE, &visit->live);
        return VD_GOING;
    }
    return vd_status_class(status) == VD_CLASS_REFUSED ? refuse(visit, false) : end(visit, VD_GIVEN_UP);
}

vd_going vd_login_feed(vd_visit *visit, const vd_event *event)
{
    vd_status status = VD_OK;
    if (visit->step == VD_STEP_PASSWORD || visit->step == VD_STEP_OLD_PASSWORD) {
        return take_answer(visit, event);
    }
    vd_talk_engine.feed(&visit->talk, event);
    return vd_talk_ended(&visit->talk, &status) ? after_job(visit, status) : VD_GOING;
}

void vd_visit_want_login(vd_visit *visit, bool wanted)
{
    visit->login.wanted = wanted;
}

bool vd_visit_has_factory_password(const vd_visit *visit)
{
    uint16_t setting = vd_index(visit->model->login.setting);
    bool changed = setting != VD_NONE && visit->ledger[setting].sending == VD_ACKNOWLEDGED;
    return visit->login.factory && !changed;
}

bool vd_visit_needs_login(const vd_visit *visit, uint16_t setting)
{
    const vd_model *model = visit->model;
    return vd_model_logs_in(model) && model->settings[setting].read_by == VD_FITTER &&
           vd_setting_is_shown(&model->settings[setting]) && !vd_set_knows(&visit->live, setting);
}

/* Whether it may have refused for want of a login. Frames have no word for that. */
static bool means_right(const vd_visit *visit, vd_status status)
{
    static const vd_status exceptions[] = {VD_EXCEPTION_FUNCTION, VD_EXCEPTION_FUNCTION, VD_EXCEPTION_ADDRESS,
                                           VD_EXCEPTION_VALUE, VD_EXCEPTION_FAILURE};
    return status == VD_REFUSED_RIGHT || status == exceptions[visit->model->login.refusal];
}

/* The unit wants a login: it has restarted since, or never heard it, or there is a password where there may be none. */
bool vd_login_again(vd_visit *visit, vd_status status)
{
    const vd_model *model = visit->model;
    bool first = model->login.may_be_none && !visit->login.refused && !visit->login.done;
    bool wants = means_right(visit, status) && vd_model_logs_in(model) && visit->login.tries < 2 &&
                 (first || visit->login.length > 0);
    if (wants) {
        vd_fault_clear(&visit->fault);
        vd_login_is_lost(visit);
        visit->login.refused = true;
        visit->standing.unbroken = visit->standing.unbroken && !model->store.needed;
        vd_steps_plan(visit, (vd_step)visit->list[visit->at], VD_STEP_IDLE);
    }
    return wants;
}

/* ---- The new one is tried ---- */

bool vd_login_may_try_new(const vd_visit *visit)
{
    const vd_login *login = &visit->model->login;
    vd_value left = vd_index(login->left) != VD_NONE ? vd_set_get(&visit->live, vd_index(login->left))
                                                     : (vd_value){.type = VD_NOTHING};
    bool free = vd_index(login->left) == VD_NONE && login->tries == 0,
         another = left.type != VD_NOTHING && left.number >= 2;
    return vd_model_logs_in(visit->model) && vd_index(login->setting) != VD_NONE && (free || another) &&
           vd_has_part(visit, vd_index(login->setting), VD_PART_CHANGES) &&
           !vd_setting_is_shown(&visit->model->settings[vd_index(login->setting)]);
}

/* Nothing is tried where it is not known to have taken one, or has said yes to it since; an empty one lets anybody in.
 */
vd_going vd_step_try_password(vd_visit *visit)
{
    uint16_t setting = vd_index(visit->model->login.setting);
    vd_value wanted = vd_set_get(&visit->desired, setting);
    char text[VD_PASSWORD_SIZE];
    vd_status status = VD_OK;
    size_t length = print_password(visit, &wanted, text);
    bool shown = visit->login.done && visit->login.sure && visit->login.old_length > 0;
    bool tries = !shown && length > 0 && visit->standing.stored && visit->standing.same_unit &&
                 visit->ledger[setting].sending == VD_ACKNOWLEDGED;
    visit->login.took_new = shown;
    if (tries) {
        vd_talk_log_in(&visit->talk, visit->now, text, length);
    }
    vd_wipe(text, sizeof text);
    return !tries || vd_talk_ended(&visit->talk, &status) ? VD_FINE : VD_GOING;
}

/* Silence tells nothing, and neither does a unit that is busy. */
vd_going vd_step_tried_password(vd_visit *visit, vd_status status)
{
    bool refused = vd_status_class(status) == VD_CLASS_REFUSED && !vd_is_busy(status);
    visit->login.took_new = status == VD_OK;
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    vd_fault_clear(&visit->fault);
    if (refused) {
        visit->ledger[vd_index(visit->model->login.setting)].sending = VD_TURNED_DOWN; /* whatever it said to it */
        vd_visit_keep_status(visit, VD_PASSWORD_NOT_TAKEN);
    }
    return VD_FINE;
}

bool vd_visit_took_new_password(const vd_visit *visit)
{
    return visit->login.took_new;
}
