/* SPDX-License-Identifier: MIT
 * The talk: one job on many settings, whatever the language. How requests and replies look is left to the talk of each
 * language. */
#include "talk.h"

#include <string.h>

static const vd_speech *speech(const vd_talk *talk)
{
    return talk->work.model->language->speech;
}

size_t vd_talk_size(const vd_model *model)
{
    return vd_work_size(model) + model->language->speech->size(model);
}

void vd_talk_start(vd_talk *talk, const vd_model *model, void *memory, const vd_line *line, uint8_t address,
                   uint32_t latency, vd_fault *fault)
{
    memset(talk, 0, sizeof *talk);
    vd_work_start(&talk->work, model, memory, fault);
    speech(talk)->start(talk, (uint8_t *)memory + vd_work_size(model), line, address, latency);
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
    *speech(talk)->tries(talk) = tries > 0 ? tries : talk->work.model->reply.tries;
}

static void begin(vd_work *work, uint64_t now, vd_job job, const uint8_t *which, vd_set *values)
{
    work->job = (uint8_t)job;
    work->values = values;
    work->now = now;
    work->which = which;
    work->running = true;
    work->stopping = false;
    work->status = work->failure = VD_OK;
    work->plan.count = 0;
    work->at = 0;
    work->in_vain = 0;
    memset(work->outcome, VD_NOT_TRIED, work->model->setting_count);
    if (job == VD_JOB_IDENTIFY) {
        memset(&work->identity, 0, sizeof work->identity);
    }
}

void vd_talk_begin(vd_talk *talk, uint64_t now, vd_job job, const uint8_t *which, vd_set *values, const vd_set *held)
{
    begin(&talk->work, now, job, which, values);
    talk->work.passes = 0;
    talk->work.fault_stood = talk->work.fault != NULL && talk->work.fault->status != VD_OK;
    talk->work.unexplained = vd_talk_unexplained(talk);
    speech(talk)->begin(talk, held);
}

void vd_talk_act(vd_talk *talk, uint64_t now, const vd_action *action)
{
    talk->work.action = action;
    vd_talk_begin(talk, now, VD_JOB_ACT, NULL, NULL, NULL);
}

void vd_talk_log_in(vd_talk *talk, uint64_t now, const char *password, size_t length)
{
    begin(&talk->work, now, VD_JOB_LOGIN, NULL, NULL);
    speech(talk)->log_in(talk, password, length);
}

void vd_talk_be_patient(vd_talk *talk)
{
    speech(talk)->be_patient(talk);
}

void vd_talk_be_deaf(vd_talk *talk, bool deaf)
{
    talk->work.deaf = deaf;
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
    return (vd_outcome)talk->work.outcome[setting];
}

uint32_t vd_talk_unexplained(const vd_talk *talk)
{
    return speech(talk)->unexplained(talk);
}

void vd_talk_read_twice(vd_talk *talk, bool wanted)
{
    talk->work.twice = wanted && !vd_model_has_check(talk->work.model);
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
static uint64_t print_of(const vd_work *work)
{
    uint64_t print = 14695981039346656037u;
    for (uint16_t i = 0; i < work->model->setting_count; i++) {
        const vd_setting *setting = &work->model->settings[i];
        bool moves = vd_setting_moves(setting) != VD_STANDS_STILL || vd_setting_is(setting, VD_TYPE_RUNS);
        if (work->which[i] == 1 && setting->access == VD_READ_WRITE && !moves) {
            vd_value value = vd_set_get(work->values, i);
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
    vd_work *work = &talk->work;
    uint64_t print = print_of(work);
    uint32_t unexplained = vd_talk_unexplained(talk);
    bool clear = unexplained == work->unexplained, alike = work->passes > 0 && print == work->print;
    work->print = print;
    work->unexplained = unexplained;
    work->passes++;
    if (alike || (clear && !work->twice)) {
        return false;
    }
    if (work->passes >= MOST_PASSES) {
        work->status = vd_note_UNSTEADY(work->fault, "its settings");
        return false;
    }
    return true;
}

static void finish_read(vd_talk *talk)
{
    vd_work *work = &talk->work;
    while (!work->running && work->status == VD_OK && vd_work_is_read(work) && work->plan.count > 0 &&
           must_read_again(talk)) {
        uint8_t job = work->job;
        begin(work, work->now, (vd_job)job, work->which, work->values);
        speech(talk)->begin(talk, work->values);
    }
}

static void talk_feed(void *engine, const vd_event *event)
{
    vd_talk *talk = engine;
    vd_work *work = &talk->work;
    const vd_engine *exchange = speech(talk)->exchange;
    void *state = speech(talk)->exchange_of(talk);
    work->now = event->now;
    if (!work->running) {
        if (event->kind == VD_HEARD) {
            exchange->feed(state, event); /* what comes unasked is counted */
        }
        return;
    }
    if (event->kind == VD_STOP) {
        vd_wants wants;
        exchange->wants(state, &wants);
        /* A write that is on the line is seen to its end, so that its outcome is known; asked twice, it is not. */
        bool see_to_end = !vd_work_is_read(work) && work->job != VD_JOB_IDENTIFY && wants.count == 0 && !work->stopping;
        work->stopping = true;
        if (see_to_end) {
            return;
        }
    }
    exchange->feed(state, event);
    speech(talk)->proceed(talk);
    if (!work->running) { /* what was secret does not stay in memory */
        speech(talk)->forget(talk);
    }
    finish_read(talk);
}

static void talk_wants(const void *engine, vd_wants *wants)
{
    const vd_talk *talk = engine;
    speech(talk)->exchange->wants(speech(talk)->exchange_of(talk), wants);
    wants->hidden = speech(talk)->is_hidden(talk);
    wants->veiled = talk->work.veiled;
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
