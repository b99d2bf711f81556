/* SPDX-License-Identifier: MIT
 * The list of steps of a visit: what is planned behind the present one. */
#include "steps.h"

#include <string.h>

void vd_steps_append(vd_visit *visit, vd_step step)
{
    if (visit->count < VD_MOST_STEPS) {
        visit->list[visit->count++] = (uint8_t)step;
    }
}

/* What is done with is forgotten where room is needed, but for the step right before: what comes next looks at it. */
static void make_room(vd_visit *visit, size_t count)
{
    if (visit->count + count > VD_MOST_STEPS && visit->at > 1) {
        size_t done = visit->at - 1u;
        memmove(visit->list, visit->list + done, visit->count - done);
        visit->count = (uint8_t)(visit->count - done);
        visit->at = 1;
    }
}

void vd_steps_insert(vd_visit *visit, const vd_step *steps, size_t count)
{
    make_room(visit, count);
    size_t room = VD_MOST_STEPS - visit->count, behind = visit->at + 1u;
    count = count < room ? count : room;
    memmove(visit->list + behind + count, visit->list + behind, visit->count - behind);
    for (size_t i = 0; i < count; i++) {
        visit->list[behind + i] = (uint8_t)steps[i];
    }
    visit->count = (uint8_t)(visit->count + count);
}

void vd_steps_skip_to(vd_visit *visit, vd_step step)
{
    size_t to = visit->at + 1u;
    while (to < visit->count && visit->list[to] != step) {
        to++;
    }
    size_t left = visit->count - to;
    memmove(visit->list + visit->at + 1u, visit->list + to, left);
    visit->count = (uint8_t)(visit->at + 1u + left);
    visit->at++;
}

void vd_steps_plan(vd_visit *visit, vd_step first, vd_step second)
{
    const vd_step steps[] = {first, second};
    vd_steps_insert(visit, steps, second != VD_STEP_IDLE ? 2 : 1);
}

/* Remembers what went wrong without ending the visit. */
void vd_visit_keep_status(vd_visit *visit, vd_status status)
{
    visit->status = visit->status == VD_OK ? status : visit->status;
}

/* The unit fell silent in the middle: it may be restarting. It is waited for, and then the step is done again. */
bool vd_steps_wait_and_repeat(vd_visit *visit, vd_status status)
{
    if (!vd_is_silence(status) || vd_is_over(visit, status) || visit->silences >= MOST_SILENCES) {
        return false;
    }
    visit->silences++;
    vd_fault_clear(&visit->fault);
    vd_steps_plan(visit, VD_STEP_COMING_BACK, (vd_step)visit->list[visit->at]);
    return true;
}
