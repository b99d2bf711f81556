/* SPDX-License-Identifier: MIT
 *
 * Played: a plan that was played several times, since not all of it is known: with draws at their least and at their
 * most, and with facts that are not known, true and false. docs/intervals.md says what counts of which.
 */
#ifndef VERDITE_PLAYED_H
#define VERDITE_PLAYED_H

#include "verdite/course.h"

VD_C_BEGIN

/* What was played, and how it went each time. All that it names must outlive it. */
typedef struct vd_played {
    const vd_course_plan *plan;      /* what was played; its costs are what is asked of */
    const vd_course *const *courses; /* each run */
    const struct vd_played *others;  /* how those items went that were not played here; NULL: all were */
    const bool *touched;             /* whether an item was played here; NULL: all were */
    uint16_t course_count;           /* at least 1 */
} vd_played;

/* Whether all was known in every run. */
bool vd_played_is_known(const vd_played *played);
/* What came of an item, each number by itself the least of all runs. Of `full_at` the least is the first,
 * -1 where it was never full, and the most the last, -1 where it was not full in every run. An age that is not known in
 * one run is known in neither. */
vd_item_sum vd_played_least(const vd_played *played, uint16_t item);
/* The most of it. */
vd_item_sum vd_played_most(const vd_played *played, uint16_t item);
/* The same of the k-th case of a counter. */
vd_case_sum vd_played_case_least(const vd_played *played, uint16_t item, uint16_t k);
/* The most of it. */
vd_case_sum vd_played_case_most(const vd_played *played, uint16_t item, uint16_t k);
/* Whether anything of a plan is drawn, so that it has to be played twice. */
bool vd_plan_draws(const vd_course_plan *plan);
/* Whether a gate, a case, a series or a store hangs on what is drawn: the least and the most may then lie between the
 * two that were played. */
bool vd_plan_is_about(const vd_course_plan *plan);

VD_C_END

#endif
