/* SPDX-License-Identifier: MIT
 * A unit that restarts, on command to prove storage or by itself: the wait until it is back, and that it is the same
 * one. Whatever goes wrong on the way, what it holds is read back; only a command that the unit acknowledged proves
 * anything. */
#include "session_parts.h"

#include <string.h>

#define PATIENCE 10000000u /* microseconds beyond the time that the model says, until it is given up */

bool vd_restarts_by_itself(const vd_session *session, bool stored)
{
    const vd_model *model = session->model;
    bool due = false;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        bool now = stored ? session->changes[i] != 0 : session->changes[i] == 1;
        due = due || (model->settings[i].effect == VD_EFFECT_RESTART && now && session->fate[i] == VD_DONE);
    }
    if (!vd_model_talks_in_lines(model)) { /* no model with registers is known to; its restart is asked for */
        return false;
    }
    return stored ? due || model->store.restarts : due && !model->store.needed;
}

void vd_prove_storage(vd_session *session)
{
    if (session->model->store.proof == VD_PROOF_RESTART && !session->restarted) {
        session->before = session->talk.work.identity;
        vd_run_job(session, VD_STAGE_RESTART, VD_JOB_RESTART, NULL, NULL);
    } else {
        vd_begin_read_back(session);
    }
}

static void ask_after(vd_session *session, uint64_t pause)
{
    session->stage = VD_STAGE_COMING_BACK;
    session->wake = session->now + pause;
    session->news++;
}

static bool is_same_unit(const vd_session *session)
{
    return memcmp(&session->before, &session->talk.work.identity, sizeof session->before) == 0;
}

void vd_follow_restart(vd_session *session)
{
    uint64_t takes = session->model->restart_time * (uint64_t)1000;
    session->before = session->talk.work.identity;
    session->logged_in = false;
    session->back_by = session->now + takes + PATIENCE;
    ask_after(session, takes);
}

/* It is back, and the same. What was not tried, since it restarted in the middle, goes out now. */
static void after_return(vd_session *session)
{
    bool rest = false;
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        bool done = session->fate[i] != VD_NOT_TRIED;
        rest = rest || (session->changes[i] != 0 && !done);
        session->changes[i] = (uint8_t)(session->changes[i] != 0 && done ? VD_WRITTEN : session->changes[i]);
    }
    if (rest && session->status == VD_OK) {
        vd_begin_stage(session, VD_STAGE_WRITE);
    } else {
        vd_begin_read_back(session);
    }
}

/* A unit that goes at once may not even reply to the command, so silence is waited out as if it had; but the command
 * may as well have been lost, and then what is read afterwards says nothing about storage. */
static void after_command(vd_session *session, vd_status status)
{
    const vd_action *restart = vd_model_restart(session->model);
    uint32_t takes = restart->takes > 0 ? restart->takes : session->model->restart_time;
    if (vd_status_class(status) == VD_CLASS_REFUSED) {
        session->status = status;
        vd_begin_read_back(session);
        return;
    }
    vd_fault_clear(&session->fault);
    session->restarted = status == VD_OK;
    session->logged_in = false;
    session->back_by = session->now + takes * (uint64_t)1000 + PATIENCE;
    ask_after(session, takes * (uint64_t)1000);
}

void vd_after_restart_job(vd_session *session, vd_status status)
{
    if (session->stopping || vd_is_gone(status)) {
        vd_finish(session, session->stopping ? VD_STOPPED : status);
    } else if (session->stage == VD_STAGE_RESTART) {
        after_command(session, status);
    } else if (status == VD_OK && is_same_unit(session)) {
        after_return(session);
    } else if (status == VD_OK) {
        vd_finish(session, vd_fault_note(&session->fault, VD_OTHER_UNIT_BACK, NULL, session->talk.work.identity.serial,
                                         session->before.serial));
    } else if (session->now < session->back_by) {
        vd_fault_clear(&session->fault);
        ask_after(session, session->model->reply.busy_wait * (uint64_t)1000);
    } else {
        vd_finish(session, status);
    }
}

void vd_wait_for_return(vd_session *session, const vd_event *event)
{
    if (event->kind == VD_STOP) {
        vd_finish(session, VD_STOPPED);
    } else if (event->kind == VD_LOST) {
        vd_finish(session, vd_fault_note(&session->fault, event->status, NULL, "", ""));
    } else if (event->now >= session->wake) {
        session->wake = VD_NEVER;
        vd_run_job(session, (vd_stage)session->stage, VD_JOB_IDENTIFY, NULL, NULL);
    }
}
