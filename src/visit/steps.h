/* SPDX-License-Identifier: MIT
 * What the files of steps share: the steps themselves, one pair of functions each, and what several of them ask. Each
 * file of steps calls those of the files named before it only. */
#ifndef VD_VISIT_STEPS_H
#define VD_VISIT_STEPS_H

#include "visit_parts.h"

#define MOST_STORES 3u   /* of storing and restarting */
#define MOST_SILENCES 3u /* of waiting for a unit that fell silent */

/* ---- list.c ---- */

/* Plans one or two steps (VD_STEP_IDLE: no second) right behind the present one. */
void vd_steps_plan(vd_visit *visit, vd_step first, vd_step second);
/* The unit fell silent in the middle: it may be restarting. Plans to wait for it and to do the step again; false where
 * that makes no sense, or was done often enough. */
bool vd_steps_wait_and_repeat(vd_visit *visit, vd_status status);

/* ---- login.c ---- */

/* Where it turned down a step for want of a login: plans to log in and to do the step again. False: that was done, or
 * is no use. */
bool vd_login_again(vd_visit *visit, vd_status status);
/* Whether one login with the password that it is to have may be tried: what the unit refuses costs nothing, or leaves
 * it another try. */
bool vd_login_may_try_new(const vd_visit *visit);
vd_going vd_step_try_password(vd_visit *visit);
vd_going vd_step_tried_password(vd_visit *visit, vd_status status);

/* ---- who.c ---- */

/* It is somebody else now. */
void vd_meet_other(vd_visit *visit);
vd_going vd_step_identify(vd_visit *visit);
vd_going vd_step_identified(vd_visit *visit, vd_status status);
vd_going vd_step_know(vd_visit *visit);
vd_going vd_step_known(vd_visit *visit, vd_status status);

/* ---- follow.c ---- */

/* Nobody else may have the link that it is to have. */
vd_going vd_step_see_free(vd_visit *visit);
vd_going vd_step_seen_free(vd_visit *visit, vd_status status);
/* Whether anybody answers where it was. */
vd_going vd_step_see_left(vd_visit *visit);
vd_going vd_step_seen_left(vd_visit *visit, vd_status status);

/* ---- reading.c ---- */

vd_going vd_step_read(vd_visit *visit);
vd_going vd_step_read_stored(vd_visit *visit);
vd_going vd_step_was_read(vd_visit *visit, vd_status status);

/* ---- calling.c ---- */

/* What is called out to several units at once, or was heard of such a call. */
vd_going vd_call_begin(vd_visit *visit);
void vd_call_ended(vd_visit *visit);

/* ---- writing.c ---- */

/* Whether what was just written makes the unit restart by itself; where it first has to store it does so then. */
bool vd_restarts_by_itself(const vd_visit *visit);
vd_going vd_step_write(vd_visit *visit);
vd_going vd_step_written(vd_visit *visit, vd_status status);
vd_going vd_step_check(vd_visit *visit);
vd_going vd_step_checked(vd_visit *visit, vd_status status);
vd_going vd_step_store(vd_visit *visit);
vd_going vd_step_stored(vd_visit *visit, vd_status status);

/* ---- loading.c ---- */

/* What was set has been read: works out what must be written of that, and judges the whole once more. */
vd_status vd_sway_settle(vd_visit *visit);

vd_going vd_step_reload(vd_visit *visit);
vd_going vd_step_reloaded(vd_visit *visit, vd_status status);
vd_going vd_step_save(vd_visit *visit);
vd_going vd_step_saved(vd_visit *visit, vd_status status);
vd_going vd_step_load(vd_visit *visit);
vd_going vd_step_loaded(vd_visit *visit, vd_status status);

/* ---- acting.c ---- */

bool vd_restarts_by_action(const vd_visit *visit);
/* Works out what the unit is to hold afterwards, and plans the rest. */
void vd_action_work_out(vd_visit *visit);
void vd_action_plan(vd_visit *visit);
vd_going vd_step_act(vd_visit *visit);
vd_going vd_step_acted(vd_visit *visit, vd_status status);

/* ---- proving.c ---- */

vd_going vd_step_restart(vd_visit *visit);
vd_going vd_step_told_to_restart(vd_visit *visit, vd_status status);
vd_going vd_step_by_hand(vd_visit *visit);
vd_going vd_step_come_back(vd_visit *visit);
vd_going vd_step_came_back(vd_visit *visit, vd_status status);
vd_going vd_step_witness(vd_visit *visit);
vd_going vd_step_witnessed(vd_visit *visit, vd_status status);
vd_going vd_step_read_back(vd_visit *visit);
vd_going vd_step_was_read_back(vd_visit *visit, vd_status status);

#endif
