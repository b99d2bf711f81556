/* SPDX-License-Identifier: MIT
 * A job under way: its settings in the order in which they are asked for, and what became of each. */
#include "talk_parts.h"

#include <string.h>

size_t vd_job_size(const vd_model *model)
{
    size_t count = model->setting_count;
    return 2 * vd_set_size(model) + VD_ALIGNED((count + 1) * sizeof(uint32_t)) +
           VD_ALIGNED(2 * count * sizeof(uint16_t)) + VD_ALIGNED(count);
}

void vd_job_start(vd_job *job, const vd_model *model, void *memory, vd_fault *fault)
{
    size_t count = model->setting_count;
    uint8_t *at = memory;
    job->model = model;
    job->fault = fault;
    vd_set_start(&job->reached, model, at, vd_set_size(model));
    at += vd_set_size(model);
    vd_set_start(&job->before, model, at, vd_set_size(model));
    at += vd_set_size(model);
    job->plan.cost = (uint32_t *)(void *)at;
    at += VD_ALIGNED((count + 1) * sizeof(uint32_t));
    job->plan.order = (uint16_t *)(void *)at;
    job->plan.next = job->plan.order + count;
    at += VD_ALIGNED(2 * count * sizeof(uint16_t));
    job->outcome = at;
    memset(job->outcome, VD_NOT_TRIED, count);
}

const vd_order *vd_job_order(const vd_job *job)
{
    return job->kind == VD_JOB_STORE ? &job->model->store.order : &job->action->order;
}

bool vd_job_is_read(const vd_job *job)
{
    return job->kind == VD_JOB_READ_LIVE || job->kind == VD_JOB_READ_STORED;
}

static bool any_done(const vd_job *job)
{
    for (uint16_t i = 0; i < job->model->setting_count; i++) {
        if (job->outcome[i] == VD_DONE) {
            return true;
        }
    }
    return false;
}

void vd_job_end(vd_job *job, vd_status status)
{
    job->running = false;
    job->status = status;
    if (!vd_job_is_read(job)) {
        return;
    }
    if (status == VD_OK && job->failure != VD_OK) { /* one that could not be read does not spoil the rest */
        bool any = any_done(job);
        job->status = any ? VD_OK : job->failure;
        if (any && job->fault != NULL && !job->fault_stood) {
            vd_fault_clear(job->fault);
        }
    }
    vd_set_settle(job->values);
}

bool vd_job_skips(vd_job *job, vd_status status, bool answered)
{
    job->in_vain = answered ? 0 : (uint8_t)(job->in_vain + 1);
    job->failure = job->failure == VD_OK ? status : job->failure;
    return job->in_vain < 2;
}

void vd_job_exchanged(vd_job *job, bool hidden, vd_status status)
{
    /* An echo, or the reply to an earlier try, may come late; behind a later answer it cannot. */
    job->veiled = hidden || (job->veiled && status != VD_OK);
    job->secret = job->secret || hidden;
}

bool vd_job_is_on_settings(const vd_job *job)
{
    return vd_job_is_read(job) || job->kind == VD_JOB_WRITE;
}

void vd_job_mark(vd_job *job, unsigned from, unsigned end, vd_outcome outcome)
{
    for (unsigned i = from; i < end && vd_job_is_on_settings(job); i++) {
        job->outcome[job->plan.order[i]] = (uint8_t)outcome;
        if (vd_job_is_read(job) && outcome == VD_UNCLEAR) { /* what it said before counts no longer */
            vd_set_forget(job->values, job->plan.order[i]);
        }
    }
}

void vd_job_name(const vd_job *job, unsigned from, unsigned end, vd_writer *writer)
{
    static const char *const jobs[] = {[VD_JOB_IDENTIFY] = "its identity",
                                       [VD_JOB_STORE] = "storing",
                                       [VD_JOB_ACT] = "what it is told to do",
                                       [VD_JOB_LOGIN] = "the login",
                                       [VD_JOB_READ_LIVE] = "",
                                       [VD_JOB_READ_STORED] = "",
                                       [VD_JOB_WRITE] = ""};
    const uint16_t *order = job->plan.order;
    if (!vd_job_is_on_settings(job)) {
        vd_writer_add(writer, jobs[job->kind]);
        return;
    }
    vd_writer_add(writer, job->model->settings[order[from]].words->key);
    if (end > from + 1) {
        vd_writer_add(writer, end == from + 2 ? " or " : " to ");
        vd_writer_add(writer, job->model->settings[order[end - 1]].words->key);
    }
}
