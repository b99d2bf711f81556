/* SPDX-License-Identifier: MIT
 * What the files of session/ share. */
#ifndef VD_SESSION_PARTS_H
#define VD_SESSION_PARTS_H

#include "verdite/session.h"

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
