/* SPDX-License-Identifier: MIT
 * The talk: one job on many settings, whatever the language. How requests and replies look is left to the talk of each
 * language. */
#include "talk.h"

#include <string.h>

static size_t aligned(size_t size)
{
    return (size + 7u) & ~(size_t)7u;
}

/* ---- A job under way ---- */

size_t vd_work_size(const vd_model *model)
{
    size_t count = model->setting_count;
    return vd_set_size(model) + aligned((count + 1) * sizeof(uint32_t)) + aligned(2 * count * sizeof(uint16_t)) +
           aligned(count);
}

void vd_work_start(vd_work *work, const vd_model *model, void *memory, vd_fault *fault)
{
    size_t count = model->setting_count;
    uint8_t *at = memory;
    work->model = model;
    work->fault = fault;
    vd_set_start(&work->reached, model, at, vd_set_size(model));
    at += vd_set_size(model);
    work->plan.cost = (uint32_t *)(void *)at;
    at += aligned((count + 1) * sizeof(uint32_t));
    work->plan.order = (uint16_t *)(void *)at;
    work->plan.next = work->plan.order + count;
    at += aligned(2 * count * sizeof(uint16_t));
    work->outcome = at;
    memset(work->outcome, VD_NOT_TRIED, count);
}

void vd_work_end(vd_work *work, vd_status status)
{
    work->running = false;
    work->status = status;
    if (work->job == VD_JOB_READ_LIVE || work->job == VD_JOB_READ_STORED) {
        vd_set_reinterpret(work->values);
    }
}

bool vd_work_is_on_settings(const vd_work *work)
{
    return work->job == VD_JOB_READ_LIVE || work->job == VD_JOB_READ_STORED || work->job == VD_JOB_WRITE;
}

void vd_work_mark(vd_work *work, unsigned from, unsigned end, vd_outcome outcome)
{
    for (unsigned i = from; i < end && vd_work_is_on_settings(work); i++) {
        work->outcome[work->plan.order[i]] = (uint8_t)outcome;
    }
}

void vd_work_name(const vd_work *work, unsigned from, unsigned end, vd_writer *writer)
{
    static const char *const jobs[] = {[VD_JOB_IDENTIFY] = "its identity",
                                       [VD_JOB_STORE] = "storing",
                                       [VD_JOB_RESTART] = "restarting",
                                       [VD_JOB_LOGIN] = "the login",
                                       [VD_JOB_READ_LIVE] = "",
                                       [VD_JOB_READ_STORED] = "",
                                       [VD_JOB_WRITE] = ""};
    const uint16_t *order = work->plan.order;
    if (!vd_work_is_on_settings(work)) {
        vd_writer_add(writer, jobs[work->job]);
        return;
    }
    vd_writer_add(writer, work->model->settings[order[from]].key);
    if (end > from + 1) {
        vd_writer_add(writer, end == from + 2 ? " or " : " to ");
        vd_writer_add(writer, work->model->settings[order[end - 1]].key);
    }
}

/* ---- The talk ---- */

static bool in_lines(const vd_talk *talk)
{
    return vd_model_talks_in_lines(talk->work.model);
}

size_t vd_talk_size(const vd_model *model)
{
    return vd_work_size(model) + (vd_model_talks_in_lines(model) ? vd_text_talk_size(model) : 0);
}

void vd_talk_start(vd_talk *talk, const vd_model *model, void *memory, const vd_line *line, uint8_t address,
                   uint32_t latency, vd_fault *fault)
{
    memset(talk, 0, sizeof *talk);
    vd_work_start(&talk->work, model, memory, fault);
    if (in_lines(talk)) {
        vd_text_talk_start(&talk->text, (uint8_t *)memory + vd_work_size(model), line, latency);
    } else {
        vd_modbus_talk_start(&talk->modbus, line, address, latency);
    }
}

void vd_talk_limit_tries(vd_talk *talk, uint8_t tries)
{
    uint8_t *limit = in_lines(talk) ? &talk->text.client.manner.tries : &talk->modbus.client.manner.tries;
    *limit = tries > 0 ? tries : talk->work.model->reply.tries;
}

static void begin(vd_work *work, uint64_t now, vd_job job, const uint8_t *which, vd_set *values)
{
    work->job = (uint8_t)job;
    work->values = values;
    work->now = now;
    work->which = which;
    work->running = true;
    work->stopping = false;
    work->status = VD_OK;
    work->plan.count = 0;
    work->at = 0;
    memset(work->outcome, VD_NOT_TRIED, work->model->setting_count);
    if (job == VD_JOB_IDENTIFY) {
        memset(&work->identity, 0, sizeof work->identity);
    }
}

void vd_talk_begin(vd_talk *talk, uint64_t now, vd_job job, const uint8_t *which, vd_set *values, const vd_set *held)
{
    begin(&talk->work, now, job, which, values);
    if (in_lines(talk)) {
        vd_text_talk_begin(&talk->text, held);
    } else {
        vd_modbus_talk_begin(&talk->modbus, held);
    }
}

void vd_talk_log_in(vd_talk *talk, uint64_t now, const char *password, size_t length)
{
    begin(&talk->work, now, VD_JOB_LOGIN, NULL, NULL);
    vd_text_talk_log_in(&talk->text, password, length);
}

/* The engine of the exchange, and its state. */
static const vd_engine *client_of(vd_talk *talk, void **client)
{
    *client = in_lines(talk) ? (void *)&talk->text.client : (void *)&talk->modbus.client;
    return in_lines(talk) ? &vd_text_client_engine : &vd_modbus_client_engine;
}

static void talk_feed(void *engine, const vd_event *event)
{
    vd_talk *talk = engine;
    vd_work *work = &talk->work;
    void *client = NULL;
    const vd_engine *exchange = client_of(talk, &client);
    work->now = event->now;
    if (!work->running) {
        return;
    }
    if (event->kind == VD_STOP) {
        vd_wants wants;
        exchange->wants(client, &wants);
        /* A write that is on the line is seen to its end, so that its outcome is known; asked twice, it is not. */
        bool reads = work->job == VD_JOB_IDENTIFY || work->job == VD_JOB_READ_LIVE || work->job == VD_JOB_READ_STORED;
        bool see_to_end = !reads && wants.count == 0 && !work->stopping;
        work->stopping = true;
        if (see_to_end) {
            return;
        }
    }
    exchange->feed(client, event);
    if (in_lines(talk)) {
        vd_text_talk_proceed(&talk->text);
    } else {
        vd_modbus_talk_proceed(&talk->modbus);
    }
}

static void talk_wants(const void *engine, vd_wants *wants)
{
    const vd_talk *talk = engine;
    void *client = NULL;
    client_of((vd_talk *)talk, &client)->wants(client, wants);
    wants->hidden = in_lines(talk) && talk->text.hidden;
    wants->done = !talk->work.running;
    if (!talk->work.running) {
        wants->count = 0;
        wants->wake = VD_NEVER;
    }
}

const vd_engine vd_talk_engine = {talk_wants, talk_feed};

bool vd_talk_ended(const vd_talk *talk, vd_status *status)
{
    *status = talk->work.status;
    return !talk->work.running;
}
