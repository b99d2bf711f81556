/* SPDX-License-Identifier: MIT
 * A job under way: its settings in the order in which they are asked for, and what became of each. */
#include "talk.h"

#include <string.h>

size_t vd_work_size(const vd_model *model)
{
    size_t count = model->setting_count;
    return 2 * vd_set_size(model) + VD_ALIGNED((count + 1) * sizeof(uint32_t)) +
           VD_ALIGNED(2 * count * sizeof(uint16_t)) + VD_ALIGNED(count);
}

void vd_work_start(vd_work *work, const vd_model *model, void *memory, vd_fault *fault)
{
    size_t count = model->setting_count;
    uint8_t *at = memory;
    work->model = model;
    work->fault = fault;
    vd_set_start(&work->reached, model, at, vd_set_size(model));
    at += vd_set_size(model);
    vd_set_start(&work->before, model, at, vd_set_size(model));
    at += vd_set_size(model);
    work->plan.cost = (uint32_t *)(void *)at;
    at += VD_ALIGNED((count + 1) * sizeof(uint32_t));
    work->plan.order = (uint16_t *)(void *)at;
    work->plan.next = work->plan.order + count;
    at += VD_ALIGNED(2 * count * sizeof(uint16_t));
    work->outcome = at;
    memset(work->outcome, VD_NOT_TRIED, count);
}

const vd_order *vd_work_order(const vd_work *work)
{
    return work->job == VD_JOB_STORE ? &work->model->store.order : &work->action->order;
}

bool vd_work_is_read(const vd_work *work)
{
    return work->job == VD_JOB_READ_LIVE || work->job == VD_JOB_READ_STORED;
}

static bool any_done(const vd_work *work)
{
    for (uint16_t i = 0; i < work->model->setting_count; i++) {
        if (work->outcome[i] == VD_DONE) {
            return true;
        }
    }
    return false;
}

void vd_work_end(vd_work *work, vd_status status)
{
    work->running = false;
    work->status = status;
    if (!vd_work_is_read(work)) {
        return;
    }
    if (status == VD_OK && work->failure != VD_OK) { /* one that could not be read does not spoil the rest */
        bool any = any_done(work);
        work->status = any ? VD_OK : work->failure;
        if (any && work->fault != NULL && !work->fault_stood) {
            vd_fault_clear(work->fault);
        }
    }
    vd_set_settle(work->values);
}

bool vd_work_skips(vd_work *work, vd_status status, bool answered)
{
    work->in_vain = answered ? 0 : (uint8_t)(work->in_vain + 1);
    work->failure = work->failure == VD_OK ? status : work->failure;
    return work->in_vain < 2;
}

void vd_work_exchanged(vd_work *work, bool hidden, vd_status status)
{
    /* An echo, or the reply to an earlier try, may come late; behind a later answer it cannot. */
    work->veiled = hidden || (work->veiled && status != VD_OK);
    work->secret = work->secret || hidden;
}

bool vd_work_is_on_settings(const vd_work *work)
{
    return vd_work_is_read(work) || work->job == VD_JOB_WRITE;
}

void vd_work_mark(vd_work *work, unsigned from, unsigned end, vd_outcome outcome)
{
    for (unsigned i = from; i < end && vd_work_is_on_settings(work); i++) {
        work->outcome[work->plan.order[i]] = (uint8_t)outcome;
        if (vd_work_is_read(work) && outcome == VD_UNCLEAR) { /* what it said before counts no longer */
            vd_set_forget(work->values, work->plan.order[i]);
        }
    }
}

void vd_work_name(const vd_work *work, unsigned from, unsigned end, vd_writer *writer)
{
    static const char *const jobs[] = {[VD_JOB_IDENTIFY] = "its identity",
                                       [VD_JOB_STORE] = "storing",
                                       [VD_JOB_ACT] = "what it is told to do",
                                       [VD_JOB_LOGIN] = "the login",
                                       [VD_JOB_READ_LIVE] = "",
                                       [VD_JOB_READ_STORED] = "",
                                       [VD_JOB_WRITE] = ""};
    const uint16_t *order = work->plan.order;
    if (!vd_work_is_on_settings(work)) {
        vd_writer_add(writer, jobs[work->job]);
        return;
    }
    vd_writer_add(writer, work->model->settings[order[from]].words->key);
    if (end > from + 1) {
        vd_writer_add(writer, end == from + 2 ? " or " : " to ");
        vd_writer_add(writer, work->model->settings[order[end - 1]].words->key);
    }
}
