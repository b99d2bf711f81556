/* SPDX-License-Identifier: MIT
 * A unit that does not listen yet: because a hand must do something first, or because it is starting. It is asked who
 * it is, now and then; nothing else is said to it before it has answered that. */
#include "visit_parts.h"

#define PAUSE 500000u     /* microseconds between questions */
#define PATIENCE 2000000u /* microseconds beyond the time that the model says, for a unit that starts by itself */

static void wait(vd_visit *visit)
{
    vd_fault_clear(&visit->fault);
    visit->stage = VD_STEP_LISTENING;
    vd_talk_limit_tries(&visit->talk, 1); /* it is asked again soon enough */
    visit->wake = visit->now + PAUSE;
    visit->news++;
}

static bool is_silence(vd_status status)
{
    return status == VD_NO_ANSWER || status == VD_NO_SENSE || status == VD_LINE_CUT_SHORT || status == VD_LINE_DAMAGED;
}

void vd_after_silence(vd_visit *visit, vd_status status)
{
    const vd_listening *listening = &visit->model->listening;
    bool takes_time = listening->hold > 0 || listening->after > 0;
    uint64_t limit =
        listening->hold > 0 ? listening->limit * (uint64_t)1000 : listening->after * (uint64_t)1000 + PATIENCE;
    if (!takes_time || !is_silence(status)) {
        vd_finish(visit, status);
        return;
    }
    visit->back_by = visit->now + limit;
    wait(visit);
}

void vd_after_listening_job(vd_visit *visit, vd_status status)
{
    const vd_listening *listening = &visit->model->listening;
    vd_talk_limit_tries(&visit->talk, 0);
    if (visit->stopping) {
        vd_finish(visit, VD_STOPPED);
    } else if (status == VD_OK) {
        vd_after_identifying(visit);
    } else if (!is_silence(status)) {
        vd_finish(visit, status);
    } else if (visit->now < visit->back_by) {
        wait(visit);
    } else if (listening->hold > 0) {
        vd_fault_clear(&visit->fault);
        vd_fault_note(&visit->fault, VD_NOT_LISTENING, NULL, "", listening->help);
        visit->fault.number[0] = (int32_t)(listening->limit / 1000u);
        vd_finish(visit, VD_NOT_LISTENING);
    } else {
        vd_finish(visit, status);
    }
}
