/* SPDX-License-Identifier: MIT
 * What the files of visit/ share. */
#ifndef VD_VISIT_PARTS_H
#define VD_VISIT_PARTS_H

#include "verdite/visit.h"

/* In visit->changes, besides 0 and 1: written already, before the unit restarted in between. */
#define VD_WRITTEN 2u

/* ---- visit.c ---- */

/* Begins a job of the talk as a stage. */
void vd_run_job(vd_visit *visit, vd_step stage, vd_job job, const uint8_t *which, vd_set *values);
void vd_finish(vd_visit *visit, vd_status status);
void vd_begin_read_back(vd_visit *visit);

/* The unit is known: goes on with reading, or what the task is about. */
void vd_after_identifying(vd_visit *visit);
/* Begins the stage to read, write or read back, after a login where that needs one. */
void vd_begin_stage(vd_visit *visit, vd_step stage);
/* Whether it was asked to wait until some time, and nobody is being asked just now. */
bool vd_is_waiting(const vd_visit *visit);
bool vd_is_gone(vd_status status);

/* ---- listening.c ---- */

/* The question who it is failed: waits for it where it may just not be listening yet. */
void vd_after_silence(vd_visit *visit, vd_status status);
/* What a unit that is not listening was asked has ended. */
void vd_after_listening_job(vd_visit *visit, vd_status status);

/* ---- login.c ---- */

/* Whether this stage takes a login that has not been done yet. */
bool vd_login_is_due(const vd_visit *visit, vd_step stage);
void vd_begin_login(vd_visit *visit, vd_step then);
/* The person has answered, with a password or with no. */
void vd_take_password(vd_visit *visit, const vd_event *event);
void vd_after_login_job(vd_visit *visit, vd_status status);

/* ---- restart.c ---- */

/* Reads back, after a restart where the model proves storage by one, or where the unit restarted by itself. */
void vd_prove_storage(vd_visit *visit);
/* Whether what was written or stored makes the unit restart by itself. */
bool vd_restarts_by_itself(const vd_visit *visit, bool stored);
/* Waits for a unit that restarts by itself. */
void vd_follow_restart(vd_visit *visit);
/* The command to restart, or the question who it is, has ended. */
void vd_after_restart_job(vd_visit *visit, vd_status status);
/* While it comes back: something happened. */
void vd_wait_for_return(vd_visit *visit, const vd_event *event);

/* ---- changes.c, judge.c ---- */

/* Fills `desired` with what the unit holds where nothing else is asked for; what does not count in the mode that
 * results is asked for no longer. */
void vd_complete_desired(vd_visit *visit);
/* Fills `desired` with the whole result, checks it, and marks what must be written. VD_OK, or why nothing may be
 * written. */
vd_status vd_work_out_changes(vd_visit *visit);
/* Whether anything must be written or stored. */
bool vd_anything_to_do(const vd_visit *visit);
/* Gives every setting of the task its verdict from what was sent and what was read. */
void vd_judge(vd_visit *visit);

#endif
