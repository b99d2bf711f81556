/* SPDX-License-Identifier: MIT
 * The steps of a visit: what begins each, what its end means, and what is planned next. One constant table holds them.
 *
 * What keeps a report true:
 *  1. nothing is written before the unit has said once more who it is, with time for a second one on its address to be
 * heard;
 *  2. nothing is stored before what was written was read back, live and right, from a unit that has not restarted
 * since;
 *  3. everything that was read before is read back, and what nobody touched must be as it was;
 *  4. only a restart that was seen proves storage;
 *  5. what was read back counts only when the same unit says afterwards who it is. */
#include "steps.h"

static vd_going wait_for_person(vd_visit *visit)
{
    (void)visit; /* the engine hands on what is answered */
    return VD_GOING;
}

static vd_going never_ends(vd_visit *visit, vd_status status)
{
    (void)visit, (void)status;
    return VD_GOING;
}

const vd_step_about vd_steps[VD_STEP_COUNT] = {
    [VD_STEP_IDENTIFY] = {vd_step_identify, vd_step_identified, true},
    [VD_STEP_READ] = {vd_step_read, vd_step_was_read, true},
    [VD_STEP_READ_STORED] = {vd_step_read_stored, vd_step_was_read, true},
    [VD_STEP_SEE_FREE] = {vd_step_see_free, vd_step_seen_free, true},
    [VD_STEP_ASK] = {wait_for_person, never_ends, true},
    [VD_STEP_KEEP] = {wait_for_person, never_ends, true},
    [VD_STEP_KNOW_AGAIN] = {vd_step_know, vd_step_known, true},
    [VD_STEP_WRITE] = {vd_step_write, vd_step_written, false, true},
    [VD_STEP_CHECK] = {vd_step_check, vd_step_checked, true},
    [VD_STEP_ACT] = {vd_step_act, vd_step_acted, false, true},
    [VD_STEP_STORE] = {vd_step_store, vd_step_stored, false, true},
    [VD_STEP_RESTART] = {vd_step_restart, vd_step_told_to_restart, false, true},
    [VD_STEP_COMING_BACK] = {vd_step_come_back, vd_step_came_back, true},
    [VD_STEP_WITNESS] = {vd_step_witness, vd_step_witnessed, true},
    [VD_STEP_READ_BACK] = {vd_step_read_back, vd_step_was_read_back, true},
    [VD_STEP_READ_BACK_STORED] = {vd_step_read_stored, vd_step_was_read_back, true},
    [VD_STEP_KNOW_LAST] = {vd_step_know, vd_step_known, true},
    [VD_STEP_SEE_LEFT] = {vd_step_see_left, vd_step_seen_left, true},
};
