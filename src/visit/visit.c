/* SPDX-License-Identifier: MIT
 * A visit to a unit: the stages of each task and how one leads to the next. What is to change is worked out in
 * changes.c, the verdicts in judge.c. */
#include "visit_parts.h"

#include <string.h>

static size_t maps_size(const vd_model *model)
{
    return (6u * model->setting_count + 7u) & ~(size_t)7u;
}

size_t vd_visit_size(const vd_model *model)
{
    return 3 * vd_set_size(model) + vd_talk_size(model) + maps_size(model);
}

vd_status vd_visit_start(vd_visit *visit, const vd_model *model, void *memory, size_t size, const vd_line *line,
                         uint8_t address, uint32_t latency)
{
    size_t each = vd_set_size(model), count = model->setting_count;
    uint8_t *at = memory;
    if (size < vd_visit_size(model)) {
        return VD_MEMORY_TOO_SMALL;
    }
    memset(visit, 0, sizeof *visit);
    visit->model = model;
    vd_set_start(&visit->live, model, at, each);
    vd_set_start(&visit->stored, model, at + each, each);
    vd_set_start(&visit->desired, model, at + 2 * each, each);
    at += 3 * each;
    vd_talk_start(&visit->talk, model, at, line, address, latency, &visit->fault);
    at += vd_talk_size(model);
    memset(at, 0, maps_size(model));
    visit->scope = at;
    visit->reads = at + count;
    visit->changes = at + 2 * count;
    visit->fate = at + 3 * count;
    visit->verdict = at + 4 * count;
    visit->absent = at + 5 * count;
    return VD_OK;
}

static bool has_bank(const vd_visit *visit)
{
    return visit->model->store.proof == VD_PROOF_BANK;
}

void vd_run_job(vd_visit *visit, vd_step stage, vd_job job, const uint8_t *which, vd_set *values)
{
    visit->stage = (uint8_t)stage;
    visit->news++;
    vd_talk_begin(&visit->talk, visit->now, job, which, values, &visit->live);
}

bool vd_is_gone(vd_status status)
{
    return status == VD_PORT_LOST || status == VD_PORT_FAILED || status == VD_LINE_NOT_TAKEN;
}

static void wait_for_person(vd_visit *visit, vd_step stage)
{
    visit->stage = (uint8_t)stage;
    visit->news++;
}

void vd_finish(vd_visit *visit, vd_status status)
{
    visit->status = status;
    if (visit->task == VD_TASK_WRITE || visit->task == VD_TASK_VERIFY) {
        vd_judge(visit);
    }
    wait_for_person(visit, VD_STEP_DONE);
}

static void begin(vd_visit *visit, uint64_t now, vd_task task)
{
    uint16_t count = visit->model->setting_count;
    vd_fault_clear(&visit->fault);
    visit->now = now;
    visit->task = (uint8_t)task;
    visit->status = VD_OK;
    visit->stopping = visit->written = visit->read_back = visit->restarted = false;
    visit->logged_in = visit->factory_password = false;
    memset(visit->scope, 0, 6u * count);
    for (uint16_t i = 0; i < count; i++) {
        vd_set_forget(&visit->live, i);
        vd_set_forget(&visit->stored, i);
        vd_set_forget(&visit->desired, i);
    }
    vd_run_job(visit, VD_STEP_IDENTIFY, VD_JOB_IDENTIFY, NULL, NULL);
}

/* A setting is read together with the one that says how many decimals it has, and with those on which it hangs whether
 * it counts at all. */
static void add_to_reads(vd_visit *visit, uint16_t setting)
{
    uint16_t other = visit->model->settings[setting].places_from;
    visit->reads[setting] = 1;
    for (uint16_t n = 0; other != VD_NONE || n == 0; n++) {
        if (other != VD_NONE) {
            visit->reads[other] = 1;
        }
        other = vd_model_hangs_on(visit->model, setting, n);
    }
}

void vd_visit_identify(vd_visit *visit, uint64_t now)
{
    begin(visit, now, VD_TASK_IDENTIFY);
}

void vd_visit_read(vd_visit *visit, uint64_t now, const uint8_t *which)
{
    begin(visit, now, VD_TASK_READ);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (which == NULL || which[i] != 0) {
            add_to_reads(visit, i);
        }
    }
}

static void take_target(vd_visit *visit, const vd_set *target, const uint8_t *which)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool asked = vd_set_knows(target, i) && (which == NULL || which[i] != 0);
        if (asked && visit->model->settings[i].access != VD_READ_ONLY) {
            vd_value value = vd_set_get(target, i);
            vd_set_put(&visit->desired, i, &value);
            visit->scope[i] = 1;
            add_to_reads(visit, i);
        }
    }
}

void vd_visit_write(vd_visit *visit, uint64_t now, const vd_set *target, const uint8_t *which)
{
    begin(visit, now, VD_TASK_WRITE);
    take_target(visit, target, which);
    memset(visit->reads, 1, visit->model->setting_count);
}

void vd_visit_verify(vd_visit *visit, uint64_t now, const vd_set *target, const uint8_t *which)
{
    begin(visit, now, VD_TASK_VERIFY);
    take_target(visit, target, which);
}

/* What this variant and firmware do not have is left alone. Nothing else is known yet, so what other settings decide
 * is open and counts as there. */
static void note_absent(vd_visit *visit)
{
    const vd_identity *found = &visit->talk.work.identity;
    vd_set_tell_unit(&visit->live, found);
    vd_set_tell_unit(&visit->stored, found);
    vd_set_tell_unit(&visit->desired, found);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->absent[i] = visit->model->settings[i].when != NULL && vd_set_lacks(&visit->live, i);
        visit->reads[i] = visit->absent[i] != 0 ? VD_ABSENT : visit->reads[i];
    }
}

static vd_status check_identity(vd_visit *visit)
{
    const vd_identity *found = &visit->talk.work.identity;
    if (vd_model_fits(visit->model, found)) {
        note_absent(visit);
        return VD_OK;
    }
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    vd_writer_add(&writer, found->maker);
    vd_writer_add(&writer, " ");
    vd_writer_add(&writer, found->product);
    return vd_fault_note(&visit->fault, VD_OTHER_MODEL, NULL, said, visit->model->key);
}

/* Everything has been read: what comes next depends on the task. */
static void after_reading(vd_visit *visit)
{
    if (visit->task == VD_TASK_VERIFY) {
        visit->read_back = true;
        vd_complete_desired(visit);
    }
    if (visit->task != VD_TASK_WRITE) {
        vd_finish(visit, VD_OK);
        return;
    }
    vd_status status = vd_work_out_changes(visit);
    if (status != VD_OK) {
        vd_finish(visit, status);
    } else if (vd_anything_to_do(visit)) {
        wait_for_person(visit, VD_STEP_ASK);
    } else {
        visit->read_back = true; /* it was all read a moment ago, and nothing was touched since */
        vd_finish(visit, VD_OK);
    }
}

void vd_begin_read_back(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->reads[i] = 0;
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->scope[i] != 0) {
            add_to_reads(visit, i);
        }
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->reads[i] != 0) {
            vd_set_forget(&visit->live, i);
            vd_set_forget(&visit->stored, i);
        }
        visit->reads[i] = visit->absent[i] != 0 ? VD_ABSENT : visit->reads[i];
    }
    visit->read_back = true;
    vd_begin_stage(visit, VD_STEP_READ_BACK);
}

static bool anything_written(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->changes[i] != 0) {
            return true;
        }
    }
    return false;
}

static void run_stage(vd_visit *visit, vd_step stage)
{
    if (stage == VD_STEP_READ || stage == VD_STEP_READ_BACK) {
        vd_run_job(visit, stage, VD_JOB_READ_LIVE, visit->reads, &visit->live);
        return;
    }
    visit->written = true;
    if (anything_written(visit)) {
        vd_run_job(visit, VD_STEP_WRITE, VD_JOB_WRITE, visit->changes, &visit->desired);
    } else {
        vd_run_job(visit, VD_STEP_STORE, VD_JOB_STORE, NULL, NULL); /* live already, but never stored */
    }
}

void vd_begin_stage(vd_visit *visit, vd_step stage)
{
    if (vd_login_is_due(visit, stage)) {
        vd_begin_login(visit, stage);
    } else {
        run_stage(visit, stage);
    }
}

/* Takes over what became of each setting in a write. Where the unit restarted on the way, the rest goes out in another
 * one. Returns whether there is a rest. */
static bool take_fates(vd_visit *visit)
{
    bool rest = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->changes[i] != 0 && visit->fate[i] == VD_NOT_TRIED) {
            visit->fate[i] = visit->talk.work.outcome[i];
            rest = rest || visit->fate[i] == VD_NOT_TRIED;
        }
    }
    return rest;
}

/* A write or store that failed is still read back, so that the truth is known, unless nobody would answer. */
static void after_writing(vd_visit *visit, vd_status status, bool rest)
{
    bool stored = visit->stage == VD_STEP_STORE, store = !stored && visit->model->store.needed;
    visit->status = visit->status != VD_OK ? visit->status : status;
    if (visit->stopping || status == VD_STOPPED || vd_is_gone(status)) {
        vd_finish(visit, visit->stopping ? VD_STOPPED : visit->status);
    } else if (status != VD_OK) {
        vd_begin_read_back(visit);
    } else if (store && !rest) {
        vd_run_job(visit, VD_STEP_STORE, VD_JOB_STORE, NULL, NULL);
    } else if (vd_restarts_by_itself(visit, stored)) {
        visit->restarted = stored;
        vd_follow_restart(visit);
    } else {
        vd_prove_storage(visit);
    }
}

/* The stages that belong to somebody else's file; false when it is none of them. */
static bool pass_on_job(vd_visit *visit, vd_step stage, vd_status status)
{
    switch (stage) {
    case VD_STEP_LISTENING: vd_after_listening_job(visit, status); return true;
    case VD_STEP_LOGIN:
    case VD_STEP_TRIES_LEFT: vd_after_login_job(visit, status); return true;
    case VD_STEP_RESTART:
    case VD_STEP_COMING_BACK: vd_after_restart_job(visit, status); return true;
    default: return false;
    }
}

void vd_after_identifying(vd_visit *visit)
{
    vd_status status = check_identity(visit);
    if (status != VD_OK || visit->task == VD_TASK_IDENTIFY) {
        vd_finish(visit, status);
    } else {
        vd_begin_stage(visit, VD_STEP_READ);
    }
}

static void after_job(vd_visit *visit, vd_status status)
{
    vd_step stage = (vd_step)visit->stage;
    if (stage == VD_STEP_WRITE || stage == VD_STEP_STORE) {
        after_writing(visit, status, stage == VD_STEP_WRITE && take_fates(visit));
        return;
    }
    if (pass_on_job(visit, stage, status)) {
        return;
    }
    if (stage == VD_STEP_IDENTIFY && status != VD_OK) {
        vd_after_silence(visit, status);
        return;
    }
    if (status != VD_OK) {
        vd_finish(visit, visit->status != VD_OK ? visit->status : status);
        return;
    }
    switch (stage) {
    case VD_STEP_IDENTIFY: vd_after_identifying(visit); break;
    case VD_STEP_READ:
        if (has_bank(visit)) {
            vd_run_job(visit, VD_STEP_READ_STORED, VD_JOB_READ_STORED, visit->reads, &visit->stored);
        } else {
            after_reading(visit);
        }
        break;
    case VD_STEP_READ_STORED: after_reading(visit); break;
    case VD_STEP_READ_BACK:
        if (has_bank(visit)) {
            vd_run_job(visit, VD_STEP_READ_BACK_STORED, VD_JOB_READ_STORED, visit->reads, &visit->stored);
        } else {
            vd_finish(visit, visit->status);
        }
        break;
    default: vd_finish(visit, visit->status); break;
    }
}

bool vd_is_waiting(const vd_visit *visit)
{
    return (visit->stage == VD_STEP_COMING_BACK || visit->stage == VD_STEP_LISTENING) && visit->wake != VD_NEVER;
}

static bool talking(const vd_visit *visit)
{
    return !vd_is_waiting(visit) && visit->stage != VD_STEP_IDLE && visit->stage != VD_STEP_ASK &&
           visit->stage != VD_STEP_PASSWORD && visit->stage != VD_STEP_KEEP && visit->stage != VD_STEP_DONE;
}

static void proceed(vd_visit *visit)
{
    vd_status status = VD_OK;
    /* A job may end without an exchange (nothing to read), so one may lead to the next at once. Bounded, since each
     * round moves to a later stage. */
    while (talking(visit) && vd_talk_ended(&visit->talk, &status)) {
        after_job(visit, status);
    }
}

static void visit_feed(void *engine, const vd_event *event)
{
    vd_visit *visit = engine;
    vd_step stage = (vd_step)visit->stage;
    visit->now = event->now;
    visit->stopping = visit->stopping || event->kind == VD_STOP;
    if (talking(visit)) {
        vd_talk_engine.feed(&visit->talk, event);
        if (event->kind == VD_HEARD) {
            visit->news++;
        }
        proceed(visit);
        return;
    }
    if (vd_is_waiting(visit)) {
        vd_wait_for_return(visit, event);
        return;
    }
    if (stage != VD_STEP_ASK && stage != VD_STEP_KEEP && stage != VD_STEP_PASSWORD) {
        return;
    }
    if (event->kind == VD_STOP) {
        vd_finish(visit, VD_STOPPED);
    } else if (event->kind == VD_LOST) {
        vd_finish(visit, vd_fault_note(&visit->fault, event->status, NULL, "", ""));
    } else if (event->kind == VD_ANSWERED && stage == VD_STEP_ASK) {
        if (event->yes) {
            wait_for_person(visit, VD_STEP_KEEP);
        } else {
            vd_finish(visit, vd_fault_note(&visit->fault, VD_DECLINED, NULL, "", ""));
        }
    } else if (event->kind == VD_KEPT && stage == VD_STEP_KEEP) {
        if (event->status != VD_OK) {
            vd_finish(visit, vd_fault_note(&visit->fault, VD_NOT_KEPT, NULL, event->said, ""));
            return;
        }
        vd_begin_stage(visit, VD_STEP_WRITE);
        proceed(visit);
    } else if (event->kind == VD_ANSWERED && stage == VD_STEP_PASSWORD) {
        vd_take_password(visit, event);
        proceed(visit);
    }
}

static void visit_wants(const void *engine, vd_wants *wants)
{
    const vd_visit *visit = engine;
    if (talking(visit)) {
        vd_talk_engine.wants(&visit->talk, wants);
        wants->done = false;
    } else {
        *wants = (vd_wants){.wake = vd_is_waiting(visit) ? visit->wake : VD_NEVER};
        wants->question = visit->stage == VD_STEP_ASK        ? VD_ASK_WRITE
                          : visit->stage == VD_STEP_PASSWORD ? VD_ASK_PASSWORD
                                                             : VD_ASK_NOTHING;
        wants->keep = visit->stage == VD_STEP_KEEP;
        wants->done = visit->stage == VD_STEP_DONE || visit->stage == VD_STEP_IDLE;
    }
    wants->news = visit->news;
}

const vd_engine vd_visit_engine = {visit_wants, visit_feed};

bool vd_visit_ended(const vd_visit *visit, vd_status *status)
{
    *status = visit->status;
    return visit->stage == VD_STEP_DONE;
}

vd_progress vd_visit_progress(const vd_visit *visit)
{
    vd_progress progress = {.stage = (vd_step)visit->stage};
    bool counted = visit->stage == VD_STEP_READ || visit->stage == VD_STEP_READ_STORED ||
                   visit->stage == VD_STEP_WRITE || visit->stage == VD_STEP_READ_BACK ||
                   visit->stage == VD_STEP_READ_BACK_STORED;
    if (talking(visit) && counted) {
        progress.done = visit->talk.work.at;
        progress.total = visit->talk.work.plan.count;
    }
    return progress;
}

const vd_identity *vd_visit_identity(const vd_visit *visit)
{
    return &visit->talk.work.identity;
}

const vd_set *vd_visit_live(const vd_visit *visit)
{
    return &visit->live;
}

const vd_set *vd_visit_stored(const vd_visit *visit)
{
    return &visit->stored;
}

const vd_set *vd_visit_desired(const vd_visit *visit)
{
    return &visit->desired;
}

bool vd_visit_changes(const vd_visit *visit, uint16_t setting)
{
    return visit->changes[setting] != 0;
}

void vd_visit_prior(const vd_visit *visit, vd_set *prior)
{
    vd_set_copy(prior, &visit->live);
    vd_set_overlay(prior, &visit->stored);
    vd_set_reinterpret(prior);
}

vd_verdict vd_visit_verdict(const vd_visit *visit, uint16_t setting)
{
    return (vd_verdict)visit->verdict[setting];
}
