/* SPDX-License-Identifier: MIT
 * Visits in the store, as the tool uses them. */
#ifndef VD_CLI_JOURNAL_H
#define VD_CLI_JOURNAL_H

#include "cli.h"

/* Milliseconds since 1970, UTC. */
int64_t now_of_day(void);

/* Claims the unit that was just met. False: another program has it, which v->held_up tells. */
bool journal_claim(cli *c, visit *v);
/* Tells of another unit that had the new address when it was met last: it may only be unplugged. False: it is known to
 * be on this line, and nobody else gets that address there; or another unit has what no two may have. */
bool journal_judge_others(cli *c, const visit *v);
/* Keeps the record that is wanted; and feeds the outcome. */
vd_status journal_write(cli *c, visit *v, vd_fault *fault);
void journal_keep(cli *c, visit *v, vd_loop *loop);
/* Where only live values were read, notes what is as an earlier visit left it, and whether its storage was proved then,
 * or it has outlasted a restart since. Neither is a proof of what is stored now. */
void journal_look_back(cli *c, visit *v);
/* Ends the row of a visit; of one that changed nothing, begins and ends it. */
void journal_end(cli *c, visit *v);
/* Tells of the last visit to this unit that was left open, other than this one, and what to do: the last that a fitter
 * reads. */
void journal_tell_open(cli *c, const visit *v);

/* ---- past.c ---- */

/* The visit that a word names: its number, "visit:12", or a day or time, then the first after it that changed
 * something. False: reported. `serial` NULL: of any unit. */
bool past_named(cli *c, const char *word, const char *model, const char *serial, vd_past *past);
/* A visit of before as a profile: what the unit held after it, or, with `before`, before it. NULL: reported. */
vd_profile *past_profile(cli *c, const vd_past *past, bool before);

#endif
