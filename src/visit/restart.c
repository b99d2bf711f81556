/* SPDX-License-Identifier: MIT
 * A unit that restarts, on command to prove storage or by itself: the wait until it is back, and that it is the same
 * one. Whatever goes wrong on the way, what it holds is read back; only a command that the unit acknowledged proves
 * anything. */
#include "visit_parts.h"

#include <string.h>

#define PATIENCE 10000000u /* microseconds beyond the time that the model says, until it is given up */

bool vd_restarts_by_itself(const vd_visit *visit, bool stored)
{
    const vd_model *model = visit->model;
    bool due = false;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        bool now = stored ? visit->changes[i] != 0 : visit->changes[i] == 1;
        due = due || (model->settings[i].effect == VD_EFFECT_RESTART && now && visit->fate[i] == VD_DONE);
    }
    if (!vd_model_talks_in_lines(model)) { /* no model with registers is known to; its restart is asked for */
        return false;
    }
    return stored ? due || model->store.restarts : due && !model->store.needed;
}

void vd_prove_storage(vd_visit *visit)
{
    if (visit->model->store.proof == VD_PROOF_RESTART && !visit->restarted) {
        visit->before = visit->talk.work.identity;
        vd_run_job(visit, VD_STEP_RESTART, VD_JOB_RESTART, NULL, NULL);
    } else {
        vd_begin_read_back(visit);
    }
}

static void ask_after(vd_visit *visit, uint64_t pause)
{
    visit->stage = VD_STEP_COMING_BACK;
    visit->wake = visit->now + pause;
    visit->news++;
}

static bool is_same_unit(const vd_visit *visit)
{
    return memcmp(&visit->before, &visit->talk.work.identity, sizeof visit->before) == 0;
}

void vd_follow_restart(vd_visit *visit)
{
    uint64_t takes = visit->model->restart_time * (uint64_t)1000;
    visit->before = visit->talk.work.identity;
    visit->logged_in = false;
    visit->back_by = visit->now + takes + PATIENCE;
    ask_after(visit, takes);
}

/* It is back, and the same. What was not tried, since it restarted in the middle, goes out now. */
static void after_return(vd_visit *visit)
{
    bool rest = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool done = visit->fate[i] != VD_NOT_TRIED;
        rest = rest || (visit->changes[i] != 0 && !done);
        visit->changes[i] = (uint8_t)(visit->changes[i] != 0 && done ? VD_WRITTEN : visit->changes[i]);
    }
    if (rest && visit->status == VD_OK) {
        vd_begin_stage(visit, VD_STEP_WRITE);
    } else {
        vd_begin_read_back(visit);
    }
}

/* A unit that goes at once may not even reply to the command, so silence is waited out as if it had; but the command
 * may as well have been lost, and then what is read afterwards says nothing about storage. */
static void after_command(vd_visit *visit, vd_status status)
{
    const vd_action *restart = vd_model_restart(visit->model);
    uint32_t takes = restart->takes > 0 ? restart->takes : visit->model->restart_time;
    if (vd_status_class(status) == VD_CLASS_REFUSED) {
        visit->status = status;
        vd_begin_read_back(visit);
        return;
    }
    vd_fault_clear(&visit->fault);
    visit->restarted = status == VD_OK;
    visit->logged_in = false;
    visit->back_by = visit->now + takes * (uint64_t)1000 + PATIENCE;
    ask_after(visit, takes * (uint64_t)1000);
}

void vd_after_restart_job(vd_visit *visit, vd_status status)
{
    if (visit->stopping || vd_is_gone(status)) {
        vd_finish(visit, visit->stopping ? VD_STOPPED : status);
    } else if (visit->stage == VD_STEP_RESTART) {
        after_command(visit, status);
    } else if (status == VD_OK && is_same_unit(visit)) {
        after_return(visit);
    } else if (status == VD_OK) {
        vd_finish(visit, vd_fault_note(&visit->fault, VD_OTHER_UNIT_BACK, NULL, visit->talk.work.identity.serial,
                                       visit->before.serial));
    } else if (visit->now < visit->back_by) {
        vd_fault_clear(&visit->fault);
        ask_after(visit, visit->model->reply.busy_wait * (uint64_t)1000);
    } else {
        vd_finish(visit, status);
    }
}

void vd_wait_for_return(vd_visit *visit, const vd_event *event)
{
    if (event->kind == VD_STOP) {
        vd_finish(visit, VD_STOPPED);
    } else if (event->kind == VD_LOST) {
        vd_finish(visit, vd_fault_note(&visit->fault, event->status, NULL, "", ""));
    } else if (event->now >= visit->wake) {
        visit->wake = VD_NEVER;
        vd_run_job(visit, (vd_step)visit->stage, VD_JOB_IDENTIFY, NULL, NULL);
    }
}
