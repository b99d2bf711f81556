/* SPDX-License-Identifier: MIT
 * A unit that does not listen yet: because a hand must do something first, or because it is starting. It is asked who
 * it is, now and then; nothing else is said to it before it has answered that. */
#include "session_parts.h"

#define PAUSE 500000u     /* microseconds between questions */
#define PATIENCE 2000000u /* microseconds beyond the time that the model says, for a unit that starts by itself */

static void wait(vd_session *session)
{
    vd_fault_clear(&session->fault);
    session->stage = VD_STAGE_LISTENING;
    vd_talk_limit_tries(&session->talk, 1); /* it is asked again soon enough */
    session->wake = session->now + PAUSE;
    session->news++;
}

static bool is_silence(vd_status status)
{
    return status == VD_NO_ANSWER || status == VD_NO_SENSE || status == VD_LINE_CUT_SHORT || status == VD_LINE_DAMAGED;
}

void vd_after_silence(vd_session *session, vd_status status)
{
    const vd_listening *listening = &session->model->listening;
    bool takes_time = listening->hold > 0 || listening->after > 0;
    uint64_t limit =
        listening->hold > 0 ? listening->limit * (uint64_t)1000 : listening->after * (uint64_t)1000 + PATIENCE;
    if (!takes_time || !is_silence(status)) {
        vd_finish(session, status);
        return;
    }
    session->back_by = session->now + limit;
    wait(session);
}

void vd_after_listening_job(vd_session *session, vd_status status)
{
    const vd_listening *listening = &session->model->listening;
    vd_talk_limit_tries(&session->talk, 0);
    if (session->stopping) {
        vd_finish(session, VD_STOPPED);
    } else if (status == VD_OK) {
        vd_after_identifying(session);
    } else if (!is_silence(status)) {
        vd_finish(session, status);
    } else if (session->now < session->back_by) {
        wait(session);
    } else if (listening->hold > 0) {
        vd_fault_clear(&session->fault);
        vd_fault_note(&session->fault, VD_NOT_LISTENING, NULL, "", listening->help);
        session->fault.number[0] = (int32_t)(listening->limit / 1000u);
        vd_finish(session, VD_NOT_LISTENING);
    } else {
        vd_finish(session, status);
    }
}
