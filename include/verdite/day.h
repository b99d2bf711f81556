/* SPDX-License-Identifier: MIT
 *
 * Day: what happens to a unit from outside, second by second, and what a model says of its intervals. docs/intervals.md
 * says what each part means.
 */
#ifndef VERDITE_DAY_H
#define VERDITE_DAY_H

#include "verdite/compiled.h"
#include "verdite/interval.h"

VD_C_BEGIN

#define VD_DAY_SECONDS 86400 /* of a day */

/* What is known of an amount. */
typedef enum vd_amount_state { VD_AMOUNT_NONE, VD_AMOUNT_KNOWN, VD_AMOUNT_NOT_KNOWN } vd_amount_state;

/* What a formula of an item gives: seconds, millimetres, degrees, a number; a truth is 0 or 1. */
typedef struct vd_amount {
    vd_ratio ratio; /* where it is known */
    uint8_t state;  /* vd_amount_state */
} vd_amount;

/* Whether two are the same. */
static inline bool vd_amount_equal(vd_amount a, vd_amount b)
{
    return a.state == b.state && a.ratio.number == b.ratio.number && a.ratio.below == b.ratio.below;
}

/* Some seconds of a day in which nothing changes from outside. */
typedef struct vd_stretch {
    const bool *given;   /* the given facts, by input */
    const bool *unknown; /* which of them nobody knows, by input; NULL: none. Playing takes them as `given` says */
    const vd_ratio *quantities; /* by input */
    const uint32_t *happens;    /* how often each given event happens, by input; NULL: none does */
    vd_ratio speed;             /* mm/s, not below 0; {0, 1}: it stands */
    vd_ratio angle;             /* degrees of each turn */
    uint32_t turns;             /* how many, spread over it */
    uint32_t lasts;             /* seconds, above 0 */
} vd_stretch;

/* A day: its stretches last 24 h together at most; in what is left it is as in its resting stretch. */
typedef struct vd_day {
    const char *label;           /* for people: "commuting" */
    const vd_stretch *stretches; /* one behind the other */
    uint16_t stretch_count;      /* at least 1 */
    uint16_t rest;               /* index of the resting stretch */
} vd_day;

/* What a unit meets while somebody does something, from which people put their own days together: "driving". */
typedef struct vd_activity {
    const char *key;  /* the word for it */
    vd_stretch meets; /* it lasts 0 s */
} vd_activity;

/* What of an item a reading shows. */
typedef enum vd_shown_as {
    VD_SHOWN_TIMES, /* how often an event has happened */
    VD_SHOWN_HELD,  /* how many a store holds */
    VD_SHOWN_SINCE, /* seconds since an event happened last */
    VD_SHOWN_UNTIL, /* seconds until it happens next */
    VD_SHOWN_LEFT   /* per cent that are left of the battery; of no item */
} vd_shown_as;

/* A reading that shows what intervals come to. */
typedef struct vd_shown {
    uint16_t setting; /* a reading that is a number of such; of seconds a duration */
    uint16_t item;    /* what it is about */
    uint8_t as;       /* vd_shown_as */
} vd_shown;

typedef struct vd_costs vd_costs; /* cost.h */

/* The intervals of a model: its items, in their order, and its usual days. Its formulas stand behind all others of the
 * model; references of items are to these alone. */
struct vd_intervals {
    const vd_item *items;          /* in their order */
    const vd_day *days;            /* its usual days, at least 1; where it says which weekdays, seven, from Monday on */
    const vd_activity *activities; /* what other days are put together from */
    const vd_shown *shown;         /* readings that show what they come to */
    const vd_costs *costs;         /* NULL: nothing is said of them */
    const char *const *given;      /* by what names stretches give facts, in the order of `input` */
    const char *const *quantities; /* and quantities */
    const char *const *happenings; /* and events */
    uint16_t item_count, day_count, activity_count, shown_count; /* of the lists above */
    uint16_t given_count, quantity_count, happening_count;       /* of the lists above */
    vd_ref awake;                    /* the fact that says when it is awake; none: nothing is said */
    uint16_t formula, formula_count; /* the first of its formulas in the model's, and how many they are */
};

VD_C_END

#endif
