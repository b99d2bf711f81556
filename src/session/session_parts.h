/* SPDX-License-Identifier: MIT
 * What the files of session/ share. */
#ifndef VD_SESSION_PARTS_H
#define VD_SESSION_PARTS_H

#include "verdite/session.h"

/* ---- session.c ---- */

/* Begins a job of the talk as a stage. */
void vd_run_job(vd_session *session, vd_stage stage, vd_job job, const uint8_t *which, vd_set *values);
void vd_finish(vd_session *session, vd_status status);
void vd_begin_read_back(vd_session *session);

/* ---- restart.c ---- */

/* Reads back, after a restart where the model proves storage by one. */
void vd_prove_storage(vd_session *session);
/* The command to restart, or the question who it is, has ended. */
void vd_after_restart_job(vd_session *session, vd_status status);
/* While it comes back: something happened. */
void vd_wait_for_return(vd_session *session, const vd_event *event);

/* ---- changes.c, judge.c ---- */

/* Fills `desired` with what the unit holds where nothing else is asked for; what does not count in the mode that
 * results is asked for no longer. */
void vd_complete_desired(vd_session *session);
/* Fills `desired` with the whole result, checks it, and marks what must be written. VD_OK, or why nothing may be
 * written. */
vd_status vd_work_out_changes(vd_session *session);
/* Whether anything must be written or stored. */
bool vd_anything_to_do(const vd_session *session);
/* Gives every setting of the task its verdict from what was sent and what was read. */
void vd_judge(vd_session *session);

#endif
