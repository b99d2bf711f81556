/* SPDX-License-Identifier: MIT
 * What the talks of all languages share. */
#ifndef VD_WIRE_TALK_H
#define VD_WIRE_TALK_H

#include "verdite/talk.h"

/* ---- A job under way: work.c ---- */

size_t vd_work_size(const vd_model *model);
void vd_work_start(vd_work *work, const vd_model *model, void *memory, vd_fault *fault);
void vd_work_end(vd_work *work, vd_status status);
/* Whether a read goes on without the request that failed: always where the unit itself has answered, and where it did
 * not, unless the one before failed so too. */
bool vd_work_skips(vd_work *work, vd_status status, bool answered);
bool vd_work_is_read(const vd_work *work);
/* Whether the job is on settings, as opposed to the unit as a whole. */
bool vd_work_is_on_settings(const vd_work *work);
/* Notes that an exchange has ended; `hidden`: it held a secret. */
void vd_work_exchanged(vd_work *work, bool hidden, vd_status status);
/* What became of the settings from order[from] up to order[end]. */
void vd_work_mark(vd_work *work, unsigned from, unsigned end, vd_outcome outcome);
/* What the job is about just now, for people: the settings from order[from] up to order[end], or its name. */
void vd_work_name(const vd_work *work, unsigned from, unsigned end, vd_writer *writer);

#endif
