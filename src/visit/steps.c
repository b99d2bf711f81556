/* SPDX-License-Identifier: MIT
 * The steps of a visit: what begins each, what its end means, and what is planned next. One constant table holds them.
 *
 * What keeps a report true:
 *  1. nothing is written before the unit has said once more who it is, with time for a second one on its address to be
 * heard;
 *  2. nothing is stored before what was written was read back, live and right, from a unit that has not restarted
 * since;
 *  3. everything that was read before is read back, and what nobody touched must be as it was;
 *  4. only a restart that was seen proves storage, by what a pulled plug cannot bring about (proving.c);
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
    [VD_STEP_IDENTIFY] = {.begin = vd_step_identify, .ended = vd_step_identified},
    [VD_STEP_READ] = {.begin = vd_step_read, .ended = vd_step_was_read},
    [VD_STEP_READ_STORED] = {.begin = vd_step_read_stored, .ended = vd_step_was_read},
    [VD_STEP_SEE_FREE] = {.begin = vd_step_see_free, .ended = vd_step_seen_free},
    [VD_STEP_ASK] = {.begin = wait_for_person, .ended = never_ends},
    [VD_STEP_KEEP] = {.begin = wait_for_person, .ended = never_ends},
    [VD_STEP_KNOW_AGAIN] = {.begin = vd_step_know, .ended = vd_step_known},
    [VD_STEP_WRITE] = {.begin = vd_step_write, .ended = vd_step_written, .lasts = true},
    [VD_STEP_RELOAD] = {.begin = vd_step_reload, .ended = vd_step_reloaded},
    [VD_STEP_SAVE] = {.begin = vd_step_save, .ended = vd_step_saved, .lasts = true},
    [VD_STEP_LOAD] = {.begin = vd_step_load, .ended = vd_step_loaded, .lasts = true},
    [VD_STEP_CHECK] = {.begin = vd_step_check, .ended = vd_step_checked},
    [VD_STEP_ACT] = {.begin = vd_step_act, .ended = vd_step_acted, .lasts = true},
    [VD_STEP_STORE] = {.begin = vd_step_store, .ended = vd_step_stored, .lasts = true},
    [VD_STEP_RESTART] = {.begin = vd_step_restart, .ended = vd_step_told_to_restart, .lasts = true},
    [VD_STEP_BY_HAND] = {.begin = vd_step_by_hand, .ended = vd_step_came_back},
    [VD_STEP_COMING_BACK] = {.begin = vd_step_come_back, .ended = vd_step_came_back},
    [VD_STEP_WITNESS] = {.begin = vd_step_witness, .ended = vd_step_witnessed},
    [VD_STEP_READ_BACK] = {.begin = vd_step_read_back, .ended = vd_step_was_read_back},
    [VD_STEP_READ_BACK_STORED] = {.begin = vd_step_read_stored, .ended = vd_step_was_read_back},
    [VD_STEP_TRY_PASSWORD] = {.begin = vd_step_try_password, .ended = vd_step_tried_password},
    [VD_STEP_KNOW_LAST] = {.begin = vd_step_know, .ended = vd_step_known},
    [VD_STEP_SEE_LEFT] = {.begin = vd_step_see_left, .ended = vd_step_seen_left},
};
