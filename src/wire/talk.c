/* SPDX-License-Identifier: MIT
 * The talk: one job on many settings, whatever the language. How requests and replies look is left to the talk of each
 * language. */
#include "talk_parts.h"

#include <string.h>

static const vd_speech *speech(const vd_talk *talk)
{
    return talk->job.model->language->speech;
}

size_t vd_talk_size(const vd_model *model)
{
    return vd_job_size(model) + model->language->speech->size(model);
}

void vd_talk_start(vd_talk *talk, const vd_model *model, void *memory, const vd_serial *line, uint8_t address,
                   uint32_t latency, vd_fault *fault)
{
    memset(talk, 0, sizeof *talk);
    vd_job_start(&talk->job, model, memory, fault);
    speech(talk)->start(talk, (uint8_t *)memory + vd_job_size(model), line, address, latency);
}

bool vd_talk_rescales_at_once(const vd_model *model, const uint8_t *which, uint16_t decides)
{
    return which[decides] != 1 || model->language->speech->rescales_at_once(model, which, decides);
}

void vd_talk_move(vd_talk *talk, const vd_link *link, uint32_t latency)
{
    speech(talk)->move(talk, link, latency);
}

void vd_talk_limit_tries(vd_talk *talk, uint8_t tries)
{
    *speech(talk)->tries(talk) = tries > 0 ? tries : talk->job.model->reply.tries;
}

static void begin(vd_job *job, uint64_t now, vd_job_kind kind, const uint8_t *which, vd_set *values)
{
    job->kind = (uint8_t)kind;
    job->values = values;
    job->now = now;
    job->which = which;
    job->running = true;
    job->stopping = false;
    job->status = job->failure = VD_OK;
    job->plan.count = 0;
    job->at = 0;
    job->in_vain = 0;
    memset(job->outcome, VD_NOT_TRIED, job->model->setting_count);
    if (kind == VD_JOB_IDENTIFY) {
        memset(&job->identity, 0, sizeof job->identity);
    }
}

void vd_talk_begin(vd_talk *talk, uint64_t now, vd_job_kind kind, const uint8_t *which, vd_set *values,
                   const vd_set *held)
{
    begin(&talk->job, now, kind, which, values);
    talk->job.passes = 0;
    talk->job.fault_stood = talk->job.fault != NULL && talk->job.fault->status != VD_OK;
    talk->job.unexplained = vd_talk_unexplained(talk);
    speech(talk)->begin(talk, held);
}

void vd_talk_act(vd_talk *talk, uint64_t now, const vd_action *action)
{
    talk->job.action = action;
    vd_talk_begin(talk, now, VD_JOB_ACT, NULL, NULL, NULL);
}

void vd_talk_log_in(vd_talk *talk, uint64_t now, const char *password, size_t length)
{
    begin(&talk->job, now, VD_JOB_LOGIN, NULL, NULL);
    speech(talk)->log_in(talk, password, length);
}

void vd_talk_be_patient(vd_talk *talk)
{
    speech(talk)->be_patient(talk);
}

void vd_talk_be_deaf(vd_talk *talk, bool deaf)
{
    talk->job.deaf = deaf;
    vd_talk_limit_tries(talk, deaf ? 1 : 0);
}

bool vd_talk_heard_others(const vd_talk *talk)
{
    return speech(talk)->heard_others(talk);
}

bool vd_talk_heard_start(vd_talk *talk)
{
    return speech(talk)->heard_start(talk);
}

uint32_t vd_talk_disturbed(const vd_talk *talk)
{
    return speech(talk)->disturbed(talk);
}

const vd_tally *vd_talk_tally(const vd_talk *talk)
{
    return speech(talk)->tally(talk);
}

vd_outcome vd_talk_outcome(const vd_talk *talk, uint16_t setting)
{
    return (vd_outcome)talk->job.outcome[setting];
}

uint32_t vd_talk_unexplained(const vd_talk *talk)
{
    return speech(talk)->unexplained(talk);
}

void vd_talk_read_twice(vd_talk *talk, bool wanted)
{
    talk->job.twice = wanted && !vd_model_has_check(talk->job.model);
}

/* ---- What is read counts when it is clear, or alike twice ---- */

#define MOST_PASSES 5u

static void mix(uint64_t *print, const void *bytes, size_t count)
{
    const uint8_t *at = bytes;
    for (size_t i = 0; i < count; i++) { /* Fowler, Noll, Vo: FNV-1a */
        *print = (*print ^ at[i]) * 1099511628211u;
    }
}

/* A print of what was read. Readings, and what moves by itself, differ each time. */
static uint64_t print_of(const vd_job *job)
{
    uint64_t print = 14695981039346656037u;
    for (uint16_t i = 0; i < job->model->setting_count; i++) {
        const vd_setting *setting = &job->model->settings[i];
        bool moves = vd_setting_moves(setting) != VD_STANDS_STILL || vd_setting_is(setting, VD_TYPE_RUNS);
        if (job->which[i] == 1 && setting->access == VD_READ_WRITE && !moves) {
            vd_value value = vd_set_get(job->values, i);
            mix(&print, &value.type, sizeof value.type);
            mix(&print, &value.number, sizeof value.number);
            mix(&print, &value.places, sizeof value.places);
            mix(&print, value.text, value.text != NULL ? value.length : 0);
        }
    }
    return print;
}

/* Whether what a job has read must be read once more: because other talk was mixed with it, or because nothing but
 * reading it alike twice shows that it arrived as it was said. */
static bool must_read_again(vd_talk *talk)
{
    vd_job *job = &talk->job;
    uint64_t print = print_of(job);
    uint32_t unexplained = vd_talk_unexplained(talk);
    bool clear = unexplained == job->unexplained, alike = job->passes > 0 && print == job->print;
    job->print = print;
    job->unexplained = unexplained;
    job->passes++;
    if (alike || (clear && !job->twice)) {
        return false;
    }
    if (job->passes >= MOST_PASSES) {
        job->status = vd_note_UNSTEADY(job->fault, "its settings");
        return false;
    }
    return true;
}

static void finish_read(vd_talk *talk)
{
    vd_job *job = &talk->job;
    while (!job->running && job->status == VD_OK && vd_job_is_read(job) && job->plan.count > 0 &&
           must_read_again(talk)) {
        uint8_t kind = job->kind;
        begin(job, job->now, (vd_job_kind)kind, job->which, job->values);
        speech(talk)->begin(talk, job->values);
    }
}

static void talk_feed(void *engine, const vd_event *event)
{
    vd_talk *talk = engine;
    vd_job *job = &talk->job;
    const vd_engine *exchange = speech(talk)->exchange;
    void *state = speech(talk)->exchange_of(talk);
    job->now = event->now;
    if (!job->running) {
        if (event->kind == VD_HEARD) {
            exchange->feed(state, event); /* what comes unasked is counted */
        }
        return;
    }
    if (event->kind == VD_STOP) {
        vd_wants wants;
        exchange->wants(state, &wants);
        /* A write that is on the line is seen to its end, so that its outcome is known; asked twice, it is not. */
        bool see_to_end = !vd_job_is_read(job) && job->kind != VD_JOB_IDENTIFY && wants.count == 0 && !job->stopping;
        job->stopping = true;
        if (see_to_end) {
            return;
        }
    }
    exchange->feed(state, event);
    speech(talk)->proceed(talk);
    if (!job->running) { /* what was secret does not stay in memory */
        speech(talk)->forget(talk);
    }
    finish_read(talk);
}

static void talk_wants(const void *engine, vd_wants *wants)
{
    const vd_talk *talk = engine;
    speech(talk)->exchange->wants(speech(talk)->exchange_of(talk), wants);
    wants->hidden = speech(talk)->is_hidden(talk);
    wants->veiled = talk->job.veiled;
    wants->done = !talk->job.running;
    if (!talk->job.running) {
        wants->count = 0;
        wants->wake = VD_NEVER;
    }
}

const vd_engine vd_talk_engine = {talk_wants, talk_feed};

bool vd_talk_ended(const vd_talk *talk, vd_status *status)
{
    *status = talk->job.status;
    return !talk->job.running;
}
