/* SPDX-License-Identifier: MIT
 * A visit: the engine that goes from step to step. steps.c says which function each of them is. */
#include "visit_parts.h"

#include <string.h>

static size_t ledger_size(const vd_model *model)
{
    return VD_ALIGNED(sizeof(vd_entry) * model->setting_count);
}

size_t vd_visit_size(const vd_model *model)
{
    return 4 * vd_set_size(model) + vd_talk_size(model) + ledger_size(model) + (VD_ALIGNED(model->setting_count));
}

vd_status vd_visit_start(vd_visit *visit, const vd_model *model, void *memory, size_t size, const vd_serial *line,
                         uint8_t address, uint32_t latency)
{
    size_t each = vd_set_size(model);
    uint8_t *at = memory;
    vd_set *const sets[] = {&visit->live, &visit->stored, &visit->desired, &visit->prior};
    if (size < vd_visit_size(model)) {
        return VD_MEMORY_TOO_SMALL;
    }
    memset(visit, 0, sizeof *visit);
    visit->model = model;
    visit->link = (vd_link){*line, address};
    visit->latency = latency;
    for (size_t i = 0; i < sizeof sets / sizeof sets[0]; i++, at += each) {
        vd_set_start(sets[i], model, at, each);
    }
    vd_talk_start(&visit->talk, model, at, line, address, latency, &visit->fault);
    at += vd_talk_size(model);
    visit->ledger = (vd_entry *)(void *)at;
    visit->which = at + ledger_size(model);
    memset(at, 0, ledger_size(model) + model->setting_count);
    visit->wake = VD_NEVER;
    return VD_OK;
}

/* ---- From step to step ---- */

static void finish(vd_visit *visit, vd_status status)
{
    visit->status = status;
    visit->step = VD_STEP_DONE;
    bool moved = visit->restarts > 0 || (vd_changes(visit) && vd_ledger_any_sent(visit));
    if (moved && !visit->known_last) {
        visit->standing.same_unit = false; /* who was read back is not known */
    }
    vd_follow_judge(visit);
    vd_whole whole = vd_visit_summary(visit).whole;
    if (vd_changes(visit) && visit->read_back && (whole == VD_WHOLE_VERIFIED || whole == VD_WHOLE_EXCEPT)) {
        visit->status = VD_OK; /* whatever went wrong on the way is made up for */
        vd_fault_clear(&visit->fault);
    }
    visit->await.on = visit->login.on = false;
    visit->wake = VD_NEVER;
    visit->news++;
    vd_login_forget(visit);
}

static vd_going begin_step(vd_visit *visit)
{
    vd_step step = (vd_step)visit->list[visit->at];
    visit->step = (uint8_t)step;
    visit->news++;
    if (vd_login_is_due(visit, step)) {
        return vd_login_begin(visit);
    }
    if (vd_steps[step].lasts && !visit->kept) {
        visit->keeping = true;
        return VD_GOING;
    }
    visit->kept = false;
    return vd_steps[step].begin(visit);
}

/* A record was kept, or could not be; by now it is better for the unit to go on all the same. */
static vd_going feed_kept(vd_visit *visit, const vd_event *event)
{
    vd_status status = VD_OK;
    if (event->kind == VD_HEARD && vd_talk_ended(&visit->talk, &status)) {
        vd_talk_engine.feed(&visit->talk, event); /* what comes unasked is counted */
    }
    if (event->kind == VD_LOST) {
        vd_fault_note(&visit->fault, event->status, NULL, "", "");
    }
    if (event->kind != VD_KEPT && event->kind != VD_LOST) {
        return VD_GOING;
    }
    visit->keeping = false;
    visit->kept = true;
    return event->kind == VD_LOST || visit->stopping ? VD_GIVEN_UP : begin_step(visit);
}

/* A step was given up. Once something was sent, what the unit holds is read back all the same, where it can be asked.
 */
static vd_going give_up(vd_visit *visit)
{
    vd_status status = visit->stopping ? VD_STOPPED : visit->fault.status;
    bool reading_back = visit->read_back || !vd_ledger_any_sent(visit);
    visit->status = visit->status == VD_OK ? status : visit->status;
    if (reading_back || vd_is_over(visit, status) || vd_is_silence(status) || !vd_changes(visit) ||
        !visit->standing.same_unit) {
        finish(visit, visit->stopping ? VD_STOPPED : visit->status);
        return VD_GOING;
    }
    vd_steps_skip_to(visit, VD_STEP_READ_BACK);
    if (visit->at >= visit->count) {
        finish(visit, visit->status);
        return VD_GOING;
    }
    return begin_step(visit);
}

/* Goes on as far as nothing has to be waited for. Bounded: every round moves on in the list, and what is inserted there
 * is counted by those who do so. */
static void proceed(vd_visit *visit, vd_going going)
{
    vd_status status = VD_OK;
    while (visit->step != VD_STEP_DONE) {
        if (going == VD_GIVEN_UP) {
            going = give_up(visit);
        } else if (going == VD_FINE) {
            visit->at++;
            if (visit->at >= visit->count) {
                finish(visit, visit->status);
                return;
            }
            going = begin_step(visit);
        } else if (!visit->keeping && !visit->login.on && !visit->await.on && visit->step != VD_STEP_ASK &&
                   visit->step != VD_STEP_KEEP && vd_talk_ended(&visit->talk, &status)) {
            going = vd_steps[visit->list[visit->at]].ended(visit, status); /* a job without an exchange */
        } else {
            return;
        }
    }
}

/* ---- The engine ---- */

static vd_going answer_of_person(vd_visit *visit, const vd_event *event)
{
    bool asks = visit->step == VD_STEP_ASK;
    if (event->kind == VD_HEARD) {
        vd_talk_engine.feed(&visit->talk, event); /* evidence, whoever says it */
    }
    if (event->kind == VD_LOST) {
        vd_fault_note(&visit->fault, event->status, NULL, "", "");
        return VD_GIVEN_UP;
    }
    if (event->kind == VD_ANSWERED && asks) {
        if (!event->yes) {
            vd_note_DECLINED(&visit->fault);
        }
        return event->yes ? VD_FINE : VD_GIVEN_UP;
    }
    if (event->kind == VD_KEPT && !asks) {
        if (event->status != VD_OK) {
            vd_note_NOT_KEPT(&visit->fault, event->said);
        }
        return event->status == VD_OK ? VD_FINE : VD_GIVEN_UP;
    }
    return visit->stopping ? VD_GIVEN_UP : VD_GOING;
}

static vd_going feed_login(vd_visit *visit, const vd_event *event)
{
    vd_going going = vd_login_feed(visit, event);
    if (going == VD_FINE || going == VD_LEFT_OUT) {
        if (going == VD_LEFT_OUT) {
            vd_login_leave_out(visit);
        }
        return begin_step(visit);
    }
    return going;
}

static vd_going feed_await(vd_visit *visit, const vd_event *event)
{
    vd_going going = vd_await_feed(visit, event);
    vd_status status = going == VD_FINE ? VD_OK : visit->stopping ? VD_STOPPED : visit->fault.status;
    return going == VD_GOING ? VD_GOING : vd_steps[visit->list[visit->at]].ended(visit, status);
}

static vd_going feed_job(vd_visit *visit, const vd_event *event)
{
    vd_status status = VD_OK;
    vd_talk_engine.feed(&visit->talk, event);
    visit->news += event->kind == VD_HEARD;
    return vd_talk_ended(&visit->talk, &status) ? vd_steps[visit->list[visit->at]].ended(visit, status) : VD_GOING;
}

static void visit_feed(void *engine, const vd_event *event)
{
    vd_visit *visit = engine;
    visit->now = event->now;
    if (visit->step == VD_STEP_DONE || visit->step == VD_STEP_IDLE) {
        return;
    }
    visit->stopping = visit->stopping || event->kind == VD_STOP;
    visit->gone = visit->gone || event->kind == VD_LOST;
    bool asks = visit->step == VD_STEP_ASK || visit->step == VD_STEP_KEEP;
    proceed(visit, asks              ? answer_of_person(visit, event)
                   : visit->keeping  ? feed_kept(visit, event)
                   : visit->login.on ? feed_login(visit, event)
                   : visit->await.on ? feed_await(visit, event)
                                     : feed_job(visit, event));
}

static void visit_wants(const void *engine, vd_wants *wants)
{
    const vd_visit *visit = engine;
    vd_status status = VD_OK;
    bool asks = visit->step == VD_STEP_ASK || visit->step == VD_STEP_KEEP || visit->step == VD_STEP_PASSWORD ||
                visit->step == VD_STEP_OLD_PASSWORD;
    bool done = visit->step == VD_STEP_DONE || visit->step == VD_STEP_IDLE;
    if (!asks && !done && !visit->keeping && !vd_talk_ended(&visit->talk, &status)) {
        vd_talk_engine.wants(&visit->talk, wants);
        wants->done = false;
    } else {
        *wants = (vd_wants){.wake = visit->await.on ? visit->wake : VD_NEVER, .done = done};
        wants->question = visit->step == VD_STEP_ASK            ? VD_ASK_WRITE
                          : visit->step == VD_STEP_PASSWORD     ? VD_ASK_PASSWORD
                          : visit->step == VD_STEP_OLD_PASSWORD ? VD_ASK_OLD_PASSWORD
                                                                : VD_ASK_NOTHING;
        wants->keep = visit->step == VD_STEP_KEEP || visit->keeping;
        wants->reopen = visit->await.on && visit->gone;
    }
    wants->news = visit->news;
    wants->veiled = visit->talk.job.veiled;
}

const vd_engine vd_visit_engine = {visit_wants, visit_feed};

/* ---- Tasks ---- */

static void begin(vd_visit *visit, uint64_t now, vd_task task)
{
    uint16_t count = visit->model->setting_count;
    vd_set *const sets[] = {&visit->live, &visit->stored, &visit->desired, &visit->prior};
    bool wanted = visit->login.wanted;
    vd_fault_clear(&visit->fault);
    visit->now = now;
    visit->task = (uint8_t)task;
    visit->status = VD_OK;
    visit->stopping = visit->gone = visit->read_back = visit->known_last = visit->store_sent = visit->restart_lost =
        visit->sending_again = false;
    visit->stood = false;
    visit->disturbed = vd_talk_disturbed(&visit->talk);
    visit->action = NULL;
    visit->acted = VD_UNSENT;
    vd_talk_be_deaf(&visit->talk, task == VD_TASK_TELL);
    visit->calling = VD_CALLS_NOBODY;
    visit->keeping = visit->kept = visit->more_due = false;
    visit->follow = (vd_follow){.from = visit->link, .to = visit->link};
    visit->rounds = visit->stores = visit->restarts = visit->doubts = visit->silences = 0;
    visit->ran = -1;
    visit->standing = (vd_standing){.writes = vd_changes(visit), .same_unit = true};
    memset(&visit->await, 0, sizeof visit->await);
    visit->hand_until = visit->set_at = 0;
    visit->slot_saved = visit->slot_seen = visit->slot_shown = false;
    memset(&visit->login, 0, sizeof visit->login);
    memset(&visit->met, 0, sizeof visit->met);
    visit->login.wanted = wanted;
    memset(visit->ledger, 0, sizeof(vd_entry) * count);
    memset(visit->which, 0, count);
    for (uint16_t i = 0; i < count; i++) {
        visit->ledger[i].part = vd_setting_is_shown(&visit->model->settings[i]) ? VD_PART_SHOWN : 0;
    }
    for (size_t k = 0; k < sizeof sets / sizeof sets[0]; k++) {
        for (uint16_t i = 0; i < count; i++) {
            vd_set_forget(sets[k], i);
        }
    }
    visit->count = visit->at = 0;
    vd_steps_append(visit, VD_STEP_IDENTIFY);
    if (task != VD_TASK_IDENTIFY) {
        vd_steps_append(visit, VD_STEP_READ);
    }
    if (task != VD_TASK_IDENTIFY && visit->model->store.proof == VD_PROOF_BANK) {
        vd_steps_append(visit, VD_STEP_READ_STORED);
    }
}

static void take_target(vd_visit *visit, const vd_set *target, const uint8_t *which)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool asked = vd_set_knows(target, i) && (which == NULL || which[i] != 0);
        if (asked && visit->model->settings[i].access != VD_READ_ONLY) {
            vd_value value = vd_set_get(target, i);
            vd_set_put(&visit->desired, i, &value);
            visit->ledger[i].part |= VD_PART_ASKED;
        }
    }
}

void vd_visit_allow_restart(vd_visit *visit, bool allowed)
{
    visit->may_restart = allowed;
}

void vd_visit_write_idle(vd_visit *visit, bool wanted)
{
    visit->idle_too = wanted;
}

void vd_visit_prove_by_hand(vd_visit *visit, bool wanted)
{
    visit->by_hand = wanted;
}

void vd_visit_leave_room(vd_visit *visit, bool others)
{
    visit->among_others = others;
}

void vd_visit_leave_lacking(vd_visit *visit, bool left_out)
{
    visit->leaves_lacking = left_out;
}

bool vd_visit_lacks(const vd_visit *visit, uint16_t setting)
{
    return vd_has_part(visit, setting, VD_PART_LACKING) ||
           (vd_has_part(visit, setting, VD_PART_ABSENT) && vd_has_part(visit, setting, VD_PART_ASKED));
}

bool vd_visit_leaves_idle(const vd_visit *visit, uint16_t setting)
{
    return vd_has_part(visit, setting, VD_PART_IDLE);
}

void vd_visit_expect(vd_visit *visit, const char *serial)
{
    visit->expected = serial;
}

void vd_visit_need_firmware(vd_visit *visit, uint32_t oldest)
{
    visit->oldest = oldest;
}

void vd_visit_take_from(vd_visit *visit, const char *serial)
{
    visit->origin = serial;
}

bool vd_visit_left_to_its_unit(const vd_visit *visit, uint16_t setting)
{
    return vd_has_part(visit, setting, VD_PART_ELSEWHERE);
}

void vd_visit_identify(vd_visit *visit, uint64_t now)
{
    begin(visit, now, VD_TASK_IDENTIFY);
    proceed(visit, begin_step(visit));
}

void vd_visit_read(vd_visit *visit, uint64_t now, const uint8_t *which)
{
    begin(visit, now, VD_TASK_READ);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->ledger[i].part |= which == NULL || which[i] != 0 ? VD_PART_ASKED : 0;
    }
    proceed(visit, begin_step(visit));
}

void vd_visit_write(vd_visit *visit, uint64_t now, const vd_set *target, const uint8_t *which)
{
    begin(visit, now, VD_TASK_WRITE);
    take_target(visit, target, which);
    proceed(visit, begin_step(visit));
}

void vd_visit_verify(vd_visit *visit, uint64_t now, const vd_set *target, const uint8_t *which)
{
    begin(visit, now, VD_TASK_VERIFY);
    take_target(visit, target, which);
    proceed(visit, begin_step(visit));
}

void vd_visit_tell(vd_visit *visit, uint64_t now, const vd_set *target, const uint8_t *which)
{
    begin(visit, now, VD_TASK_TELL);
    take_target(visit, target, which);
    proceed(visit, vd_tell_plan(visit) == VD_OK ? begin_step(visit) : VD_GIVEN_UP);
}

void vd_visit_act(vd_visit *visit, uint64_t now, const vd_action *action)
{
    begin(visit, now, VD_TASK_ACT);
    visit->action = action;
    proceed(visit, begin_step(visit));
}

/* ---- What is known ---- */

vd_task vd_visit_task(const vd_visit *visit)
{
    return (vd_task)visit->task;
}

bool vd_visit_ended(const vd_visit *visit, vd_status *status)
{
    *status = visit->status;
    return visit->step == VD_STEP_DONE;
}

vd_progress vd_visit_progress(const vd_visit *visit)
{
    vd_status status = VD_OK;
    bool counted = visit->step == VD_STEP_READ || visit->step == VD_STEP_READ_STORED || visit->step == VD_STEP_WRITE ||
                   visit->step == VD_STEP_CHECK || visit->step == VD_STEP_RELOAD || visit->step == VD_STEP_READ_BACK ||
                   visit->step == VD_STEP_READ_BACK_STORED;
    vd_progress progress = {.step = (vd_step)visit->step, .of = visit->count};
    progress.number = (uint8_t)(visit->at < visit->count ? visit->at + 1u : visit->count);
    if (counted && !vd_talk_ended(&visit->talk, &status)) {
        progress.done = visit->talk.job.at;
        progress.total = visit->talk.job.plan.count;
    }
    return progress;
}

const uint8_t *vd_visit_steps(const vd_visit *visit, size_t *count)
{
    *count = visit->count;
    return visit->list;
}

bool vd_visit_changes(const vd_visit *visit, uint16_t setting)
{
    return vd_has_part(visit, setting, VD_PART_CHANGES);
}

bool vd_visit_has_sent(const vd_visit *visit)
{
    return vd_ledger_any_sent(visit);
}

void vd_visit_prior(const vd_visit *visit, vd_set *prior)
{
    vd_set_copy(prior, &visit->live);
    vd_set_overlay(prior, &visit->stored);
    vd_set_reinterpret(prior);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->model->settings[i].traits->id == VD_CLOCK) { /* what it showed then is no longer true */
            vd_set_forget(prior, i);
        }
    }
}
