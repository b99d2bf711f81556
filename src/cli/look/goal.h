/* SPDX-License-Identifier: MIT
 * Which values of which settings reach a goal: all of them are tried. */
#ifndef VD_CLI_GOAL_H
#define VD_CLI_GOAL_H

#include "intervals.h"
#include "verdite/goal.h"

/* Values next to each other that reach it. */
typedef struct goal_run {
    vd_value from, to;
} goal_run;

/* What was found of one setting. */
typedef struct goal_answer {
    uint16_t setting;
    GArray *runs;      /* of goal_run, the lowest first; none: no value reaches it */
    vd_value nearest;  /* to the present one, of those that reach it; where none does the best */
    char *comes_to;    /* what the goal is about, with that value */
    char *then;        /* how often that happens which costs it, with that value */
    uint64_t distance; /* of the nearest from the present one, in steps; private */
    vd_ratio best;     /* how good that is, vd_goal_worth() */
} goal_answer;

/* What was found. */
typedef struct goal_search {
    const vd_goal *goal;
    const day_list *days;
    const vd_set *present;
    played as_it_is;  /* with the present values */
    bool met, known;  /* with the present values; all that it hangs on is known */
    vd_ratio worth;   /* how good that is, vd_goal_worth() */
    char *comes_to;   /* what the goal is about, with them */
    char *lasts;      /* of a memory that does: when it would be full; NULL */
    GArray *answers;  /* of goal_answer, those with the fewest values first */
    GArray *left;     /* settings that were not tried to the end, uint16_t */
    unsigned tried;   /* values */
    bool interrupted; /* it was ended early */
} goal_search;

/* Tries all values of all settings on which it hangs. `goes_on` hears how far it is; false ends it. */
void goal_find(goal_search *search, const vd_set *present, const vd_goal *goal, const day_list *days,
               bool (*goes_on)(void *about, const char *text), void *about);
void goal_free(goal_search *search);
/* How many values a setting can have, as far as they can be gone through; 0: they cannot. */
uint64_t goal_values(const vd_set *set, uint16_t setting, vd_meaning *meaning);
/* The second in which a store is full with these values; -1: in none of ten years, or it is not known. */
int64_t goal_memory_lasts(const vd_set *set, const day_list *over);
/* The event that costs most plainly what a goal is about: the first one of the costs, or what fills the store; VD_NONE:
 * none does. */
uint16_t goal_event(const vd_model *model, const vd_goal *goal);
#endif
