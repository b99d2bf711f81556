/* SPDX-License-Identifier: MIT
 * What every part of a visit does with the talk: begin a job of it, and tell what its end means for going on. */
#include "visit_parts.h"

#include <string.h>

void vd_visit_run(vd_visit *visit, vd_step step, vd_job_kind job, vd_set *values)
{
    visit->step = (uint8_t)step;
    visit->news++;
    vd_talk_begin(&visit->talk, visit->now, job, visit->which, values, &visit->live);
}

bool vd_changes(const vd_visit *visit)
{
    return visit->task == VD_TASK_WRITE || visit->task == VD_TASK_ACT || visit->task == VD_TASK_TELL;
}

bool vd_is_known(const vd_visit *visit)
{
    const vd_identity *now = &visit->talk.job.identity;
    return memcmp(&visit->met, now, sizeof *now) == 0;
}

uint16_t vd_first_unanswered(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->which[i] == 1 && visit->talk.job.outcome[i] == VD_UNCLEAR) {
            return i;
        }
    }
    return VD_NONE;
}

bool vd_is_silence(vd_status status)
{
    return status == VD_NOT_FOLLOWED || status == VD_NO_ANSWER || status == VD_NO_SENSE ||
           status == VD_LINE_CUT_SHORT || status == VD_LINE_DAMAGED || status == VD_NO_REPLY ||
           status == VD_NOISE_ONLY || status == VD_CUT_SHORT || status == VD_ECHO_ONLY || status == VD_CHECK_FAILED ||
           status == VD_LINE_ERRORS;
}

bool vd_is_busy(vd_status status)
{
    return status == VD_EXCEPTION_BUSY || status == VD_REFUSED_BUSY;
}

bool vd_is_over(const vd_visit *visit, vd_status status)
{
    return visit->stopping || visit->gone || status == VD_STOPPED || status == VD_PORT_LOST ||
           status == VD_PORT_FAILED || status == VD_LINE_NOT_TAKEN;
}

bool vd_went_with_port(vd_visit *visit, vd_status status)
{
    bool went = status == VD_PORT_LOST && visit->model->takes_port && !visit->stopping;
    if (went) {
        vd_fault_clear(&visit->fault);
    }
    return went;
}
