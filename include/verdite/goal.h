/* SPDX-License-Identifier: MIT
 *
 * Goal: what intervals are to come to, such as a battery that lasts two years; and on which settings that hangs.
 */
#ifndef VERDITE_GOAL_H
#define VERDITE_GOAL_H

#include "verdite/cost.h"

VD_C_BEGIN

/* What is wanted. */
typedef enum vd_goal_kind {
    VD_GOAL_BATTERY, /* it lasts so many days at least */
    VD_GOAL_DATA,    /* so many bytes a month at most */
    VD_GOAL_PRICE,   /* so much money a month at most */
    VD_GOAL_MEMORY,  /* in so many seconds nothing is lost */
    VD_GOAL_KINDS
} vd_goal_kind;

/* One goal. */
typedef struct vd_goal {
    uint8_t kind;   /* vd_goal_kind */
    vd_ratio limit; /* above 0 */
} vd_goal;

/* Where a setting alone is the value of a case of a counter. */
typedef struct vd_goal_case {
    uint16_t item; /* the counter */
    uint16_t k;    /* which of its cases */
    bool seconds;  /* it counts seconds, and begins again where another case comes to rule: a value longer than the case
                      ever rules is like any longer one */
} vd_goal_case;

/* Whether intervals, and what they cost (NULL: nothing is said of that), say enough for such a goal. */
bool vd_goal_belongs(const vd_intervals *intervals, const vd_costs *costs, const vd_goal *goal);
/* Whether it is met by the worse end of what was played; what is not known meets none. Of VD_GOAL_MEMORY the limit must
 * have been played, from second 0 on. */
bool vd_goal_is_met(const vd_goal *goal, const vd_played *played);
/* How good what was played is by its worse end: what is greater is better. Of a memory that is the second in which the
 * first was lost. False: it is not known. */
bool vd_goal_worth(const vd_goal *goal, const vd_played *played, vd_ratio *worth);
/* Whether one is better than another. */
bool vd_goal_is_better(vd_ratio worth, vd_ratio than);
/* Marks the settings on which it hangs, but for those that say what is wired, and those that cannot be written. `which`
 * has a byte for each setting of the model. `costs` as for vd_goal_belongs(), here and below. */
void vd_goal_settings(const vd_model *model, const vd_costs *costs, const vd_goal *goal, uint8_t *which);
/* Marks the items on which a value of a setting has any bearing, and all that those hang on: the others go on as before
 * whatever it is. `touched` has room for all items. */
void vd_goal_touched(const vd_model *model, const vd_costs *costs, uint16_t setting, bool *touched);
/* The case whose value is this setting alone. False: none is, or several are. */
bool vd_goal_case_of(const vd_model *model, uint16_t setting, vd_goal_case *found);

VD_C_END

#endif
