/* SPDX-License-Identifier: MIT
 * A visit to a unit: the stages of each task and how one leads to the next. What is to change is worked out in
 * changes.c, the verdicts in judge.c. */
#include "session_parts.h"

#include <string.h>

static size_t maps_size(const vd_model *model)
{
    return (6u * model->setting_count + 7u) & ~(size_t)7u;
}

size_t vd_session_size(const vd_model *model)
{
    return 3 * vd_set_size(model) + vd_talk_size(model) + maps_size(model);
}

vd_status vd_session_start(vd_session *session, const vd_model *model, void *memory, size_t size, const vd_line *line,
                           uint8_t address, uint32_t latency)
{
    size_t each = vd_set_size(model), count = model->setting_count;
    uint8_t *at = memory;
    if (size < vd_session_size(model)) {
        return VD_MEMORY_TOO_SMALL;
    }
    memset(session, 0, sizeof *session);
    session->model = model;
    vd_set_start(&session->live, model, at, each);
    vd_set_start(&session->stored, model, at + each, each);
    vd_set_start(&session->desired, model, at + 2 * each, each);
    at += 3 * each;
    vd_talk_start(&session->talk, model, at, line, address, latency, &session->fault);
    at += vd_talk_size(model);
    memset(at, 0, maps_size(model));
    session->scope = at;
    session->reads = at + count;
    session->changes = at + 2 * count;
    session->fate = at + 3 * count;
    session->verdict = at + 4 * count;
    session->absent = at + 5 * count;
    return VD_OK;
}

static bool has_bank(const vd_session *session)
{
    return session->model->store.proof == VD_PROOF_BANK;
}

void vd_run_job(vd_session *session, vd_stage stage, vd_job job, const uint8_t *which, vd_set *values)
{
    session->stage = (uint8_t)stage;
    session->news++;
    vd_talk_begin(&session->talk, session->now, job, which, values, &session->live);
}

bool vd_is_gone(vd_status status)
{
    return status == VD_PORT_LOST || status == VD_PORT_FAILED || status == VD_LINE_NOT_TAKEN;
}

static void wait_for_person(vd_session *session, vd_stage stage)
{
    session->stage = (uint8_t)stage;
    session->news++;
}

void vd_finish(vd_session *session, vd_status status)
{
    session->status = status;
    if (session->task == VD_TASK_WRITE || session->task == VD_TASK_VERIFY) {
        vd_judge(session);
    }
    wait_for_person(session, VD_STAGE_DONE);
}

static void begin(vd_session *session, uint64_t now, vd_task task)
{
    uint16_t count = session->model->setting_count;
    vd_fault_clear(&session->fault);
    session->now = now;
    session->task = (uint8_t)task;
    session->status = VD_OK;
    session->stopping = session->written = session->read_back = session->restarted = false;
    session->logged_in = session->factory_password = false;
    memset(session->scope, 0, 6u * count);
    for (uint16_t i = 0; i < count; i++) {
        vd_set_forget(&session->live, i);
        vd_set_forget(&session->stored, i);
        vd_set_forget(&session->desired, i);
    }
    vd_run_job(session, VD_STAGE_IDENTIFY, VD_JOB_IDENTIFY, NULL, NULL);
}

/* A setting is read together with the one that says how many decimals it has, and with those on which it hangs whether
 * it counts at all. */
static void add_to_reads(vd_session *session, uint16_t setting)
{
    uint16_t other = session->model->settings[setting].places_from;
    session->reads[setting] = 1;
    for (uint16_t n = 0; other != VD_NONE || n == 0; n++) {
        if (other != VD_NONE) {
            session->reads[other] = 1;
        }
        other = vd_model_hangs_on(session->model, setting, n);
    }
}

void vd_session_identify(vd_session *session, uint64_t now)
{
    begin(session, now, VD_TASK_IDENTIFY);
}

void vd_session_read(vd_session *session, uint64_t now, const uint8_t *which)
{
    begin(session, now, VD_TASK_READ);
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        if (which == NULL || which[i] != 0) {
            add_to_reads(session, i);
        }
    }
}

static void take_target(vd_session *session, const vd_set *target, const uint8_t *which)
{
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        bool asked = vd_set_knows(target, i) && (which == NULL || which[i] != 0);
        if (asked && session->model->settings[i].access != VD_READ_ONLY) {
            vd_value value = vd_set_get(target, i);
            vd_set_put(&session->desired, i, &value);
            session->scope[i] = 1;
            add_to_reads(session, i);
        }
    }
}

void vd_session_write(vd_session *session, uint64_t now, const vd_set *target, const uint8_t *which)
{
    begin(session, now, VD_TASK_WRITE);
    take_target(session, target, which);
    memset(session->reads, 1, session->model->setting_count);
}

void vd_session_verify(vd_session *session, uint64_t now, const vd_set *target, const uint8_t *which)
{
    begin(session, now, VD_TASK_VERIFY);
    take_target(session, target, which);
}

/* What this variant and firmware do not have is left alone. Nothing else is known yet, so what other settings decide
 * is open and counts as there. */
static void note_absent(vd_session *session)
{
    const vd_identity *found = &session->talk.work.identity;
    vd_set_tell_unit(&session->live, found);
    vd_set_tell_unit(&session->stored, found);
    vd_set_tell_unit(&session->desired, found);
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        session->absent[i] = session->model->settings[i].when != NULL && vd_set_lacks(&session->live, i);
        session->reads[i] = session->absent[i] != 0 ? VD_ABSENT : session->reads[i];
    }
}

static vd_status check_identity(vd_session *session)
{
    const vd_identity *found = &session->talk.work.identity;
    if (vd_model_fits(session->model, found)) {
        note_absent(session);
        return VD_OK;
    }
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    vd_writer_add(&writer, found->maker);
    vd_writer_add(&writer, " ");
    vd_writer_add(&writer, found->product);
    return vd_fault_note(&session->fault, VD_OTHER_MODEL, NULL, said, session->model->key);
}

/* Everything has been read: what comes next depends on the task. */
static void after_reading(vd_session *session)
{
    if (session->task == VD_TASK_VERIFY) {
        session->read_back = true;
        vd_complete_desired(session);
    }
    if (session->task != VD_TASK_WRITE) {
        vd_finish(session, VD_OK);
        return;
    }
    vd_status status = vd_work_out_changes(session);
    if (status != VD_OK) {
        vd_finish(session, status);
    } else if (vd_anything_to_do(session)) {
        wait_for_person(session, VD_STAGE_ASK);
    } else {
        session->read_back = true; /* it was all read a moment ago, and nothing was touched since */
        vd_finish(session, VD_OK);
    }
}

void vd_begin_read_back(vd_session *session)
{
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        session->reads[i] = 0;
    }
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        if (session->scope[i] != 0) {
            add_to_reads(session, i);
        }
    }
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        if (session->reads[i] != 0) {
            vd_set_forget(&session->live, i);
            vd_set_forget(&session->stored, i);
        }
        session->reads[i] = session->absent[i] != 0 ? VD_ABSENT : session->reads[i];
    }
    session->read_back = true;
    vd_begin_stage(session, VD_STAGE_READ_BACK);
}

static bool anything_written(const vd_session *session)
{
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        if (session->changes[i] != 0) {
            return true;
        }
    }
    return false;
}

static void run_stage(vd_session *session, vd_stage stage)
{
    if (stage == VD_STAGE_READ || stage == VD_STAGE_READ_BACK) {
        vd_run_job(session, stage, VD_JOB_READ_LIVE, session->reads, &session->live);
        return;
    }
    session->written = true;
    if (anything_written(session)) {
        vd_run_job(session, VD_STAGE_WRITE, VD_JOB_WRITE, session->changes, &session->desired);
    } else {
        vd_run_job(session, VD_STAGE_STORE, VD_JOB_STORE, NULL, NULL); /* live already, but never stored */
    }
}

void vd_begin_stage(vd_session *session, vd_stage stage)
{
    if (vd_login_is_due(session, stage)) {
        vd_begin_login(session, stage);
    } else {
        run_stage(session, stage);
    }
}

/* Takes over what became of each setting in a write. Where the unit restarted on the way, the rest goes out in another
 * one. Returns whether there is a rest. */
static bool take_fates(vd_session *session)
{
    bool rest = false;
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        if (session->changes[i] != 0 && session->fate[i] == VD_NOT_TRIED) {
            session->fate[i] = session->talk.work.outcome[i];
            rest = rest || session->fate[i] == VD_NOT_TRIED;
        }
    }
    return rest;
}

/* A write or store that failed is still read back, so that the truth is known, unless nobody would answer. */
static void after_writing(vd_session *session, vd_status status, bool rest)
{
    bool stored = session->stage == VD_STAGE_STORE, store = !stored && session->model->store.needed;
    session->status = session->status != VD_OK ? session->status : status;
    if (session->stopping || status == VD_STOPPED || vd_is_gone(status)) {
        vd_finish(session, session->stopping ? VD_STOPPED : session->status);
    } else if (status != VD_OK) {
        vd_begin_read_back(session);
    } else if (store && !rest) {
        vd_run_job(session, VD_STAGE_STORE, VD_JOB_STORE, NULL, NULL);
    } else if (vd_restarts_by_itself(session, stored)) {
        session->restarted = stored;
        vd_follow_restart(session);
    } else {
        vd_prove_storage(session);
    }
}

/* The stages that belong to somebody else's file; false when it is none of them. */
static bool pass_on_job(vd_session *session, vd_stage stage, vd_status status)
{
    switch (stage) {
    case VD_STAGE_LISTENING: vd_after_listening_job(session, status); return true;
    case VD_STAGE_LOGIN:
    case VD_STAGE_TRIES_LEFT: vd_after_login_job(session, status); return true;
    case VD_STAGE_RESTART:
    case VD_STAGE_COMING_BACK: vd_after_restart_job(session, status); return true;
    default: return false;
    }
}

void vd_after_identifying(vd_session *session)
{
    vd_status status = check_identity(session);
    if (status != VD_OK || session->task == VD_TASK_IDENTIFY) {
        vd_finish(session, status);
    } else {
        vd_begin_stage(session, VD_STAGE_READ);
    }
}

static void after_job(vd_session *session, vd_status status)
{
    vd_stage stage = (vd_stage)session->stage;
    if (stage == VD_STAGE_WRITE || stage == VD_STAGE_STORE) {
        after_writing(session, status, stage == VD_STAGE_WRITE && take_fates(session));
        return;
    }
    if (pass_on_job(session, stage, status)) {
        return;
    }
    if (stage == VD_STAGE_IDENTIFY && status != VD_OK) {
        vd_after_silence(session, status);
        return;
    }
    if (status != VD_OK) {
        vd_finish(session, session->status != VD_OK ? session->status : status);
        return;
    }
    switch (stage) {
    case VD_STAGE_IDENTIFY: vd_after_identifying(session); break;
    case VD_STAGE_READ:
        if (has_bank(session)) {
            vd_run_job(session, VD_STAGE_READ_STORED, VD_JOB_READ_STORED, session->reads, &session->stored);
        } else {
            after_reading(session);
        }
        break;
    case VD_STAGE_READ_STORED: after_reading(session); break;
    case VD_STAGE_READ_BACK:
        if (has_bank(session)) {
            vd_run_job(session, VD_STAGE_READ_BACK_STORED, VD_JOB_READ_STORED, session->reads, &session->stored);
        } else {
            vd_finish(session, session->status);
        }
        break;
    default: vd_finish(session, session->status); break;
    }
}

bool vd_is_waiting(const vd_session *session)
{
    return (session->stage == VD_STAGE_COMING_BACK || session->stage == VD_STAGE_LISTENING) &&
           session->wake != VD_NEVER;
}

static bool talking(const vd_session *session)
{
    return !vd_is_waiting(session) && session->stage != VD_STAGE_IDLE && session->stage != VD_STAGE_ASK &&
           session->stage != VD_STAGE_PASSWORD && session->stage != VD_STAGE_KEEP && session->stage != VD_STAGE_DONE;
}

static void proceed(vd_session *session)
{
    vd_status status = VD_OK;
    /* A job may end without an exchange (nothing to read), so one may lead to the next at once. Bounded, since each
     * round moves to a later stage. */
    while (talking(session) && vd_talk_ended(&session->talk, &status)) {
        after_job(session, status);
    }
}

static void session_feed(void *engine, const vd_event *event)
{
    vd_session *session = engine;
    vd_stage stage = (vd_stage)session->stage;
    session->now = event->now;
    session->stopping = session->stopping || event->kind == VD_STOP;
    if (talking(session)) {
        vd_talk_engine.feed(&session->talk, event);
        if (event->kind == VD_HEARD) {
            session->news++;
        }
        proceed(session);
        return;
    }
    if (vd_is_waiting(session)) {
        vd_wait_for_return(session, event);
        return;
    }
    if (stage != VD_STAGE_ASK && stage != VD_STAGE_KEEP && stage != VD_STAGE_PASSWORD) {
        return;
    }
    if (event->kind == VD_STOP) {
        vd_finish(session, VD_STOPPED);
    } else if (event->kind == VD_LOST) {
        vd_finish(session, vd_fault_note(&session->fault, event->status, NULL, "", ""));
    } else if (event->kind == VD_ANSWERED && stage == VD_STAGE_ASK) {
        if (event->yes) {
            wait_for_person(session, VD_STAGE_KEEP);
        } else {
            vd_finish(session, vd_fault_note(&session->fault, VD_DECLINED, NULL, "", ""));
        }
    } else if (event->kind == VD_KEPT && stage == VD_STAGE_KEEP) {
        if (event->status != VD_OK) {
            vd_finish(session, vd_fault_note(&session->fault, VD_NOT_KEPT, NULL, event->said, ""));
            return;
        }
        vd_begin_stage(session, VD_STAGE_WRITE);
        proceed(session);
    } else if (event->kind == VD_ANSWERED && stage == VD_STAGE_PASSWORD) {
        vd_take_password(session, event);
        proceed(session);
    }
}

static void session_wants(const void *engine, vd_wants *wants)
{
    const vd_session *session = engine;
    if (talking(session)) {
        vd_talk_engine.wants(&session->talk, wants);
        wants->done = false;
    } else {
        *wants = (vd_wants){.wake = vd_is_waiting(session) ? session->wake : VD_NEVER};
        wants->question = session->stage == VD_STAGE_ASK        ? VD_ASK_WRITE
                          : session->stage == VD_STAGE_PASSWORD ? VD_ASK_PASSWORD
                                                                : VD_ASK_NOTHING;
        wants->keep = session->stage == VD_STAGE_KEEP;
        wants->done = session->stage == VD_STAGE_DONE || session->stage == VD_STAGE_IDLE;
    }
    wants->news = session->news;
}

const vd_engine vd_session_engine = {session_wants, session_feed};

bool vd_session_ended(const vd_session *session, vd_status *status)
{
    *status = session->status;
    return session->stage == VD_STAGE_DONE;
}

vd_progress vd_session_progress(const vd_session *session)
{
    vd_progress progress = {.stage = (vd_stage)session->stage};
    bool counted = session->stage == VD_STAGE_READ || session->stage == VD_STAGE_READ_STORED ||
                   session->stage == VD_STAGE_WRITE || session->stage == VD_STAGE_READ_BACK ||
                   session->stage == VD_STAGE_READ_BACK_STORED;
    if (talking(session) && counted) {
        progress.done = session->talk.work.at;
        progress.total = session->talk.work.plan.count;
    }
    return progress;
}

const vd_identity *vd_session_identity(const vd_session *session)
{
    return &session->talk.work.identity;
}

const vd_set *vd_session_live(const vd_session *session)
{
    return &session->live;
}

const vd_set *vd_session_stored(const vd_session *session)
{
    return &session->stored;
}

const vd_set *vd_session_desired(const vd_session *session)
{
    return &session->desired;
}

bool vd_session_changes(const vd_session *session, uint16_t setting)
{
    return session->changes[setting] != 0;
}

void vd_session_prior(const vd_session *session, vd_set *prior)
{
    vd_set_copy(prior, &session->live);
    vd_set_overlay(prior, &session->stored);
    vd_set_reinterpret(prior);
}

vd_verdict vd_session_verdict(const vd_session *session, uint16_t setting)
{
    return (vd_verdict)session->verdict[setting];
}
