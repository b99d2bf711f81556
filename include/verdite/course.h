/* SPDX-License-Identifier: MIT
 *
 * Course: the items of intervals played over days, from one second in which something may happen to the next.
 * docs/intervals.md says what is decided when. Exact: no floating point, nothing is rounded in a decision.
 */
#ifndef VERDITE_COURSE_H
#define VERDITE_COURSE_H

#include "verdite/compiled.h"
#include "verdite/fault.h"
#include "verdite/interval.h"

VD_C_BEGIN

#define VD_DAY_SECONDS 86400

/* What is known of an amount. */
typedef enum vd_amount_state { VD_AMOUNT_NONE, VD_AMOUNT_KNOWN, VD_AMOUNT_NOT_KNOWN } vd_amount_state;

/* What a formula of an item gives: seconds, millimetres, degrees, a number; a truth is 0 or 1. */
typedef struct vd_amount {
    vd_ratio ratio;
    uint8_t state; /* vd_amount_state */
} vd_amount;

/* Some seconds of a day in which nothing changes from outside. */
typedef struct vd_stretch {
    const bool *given;          /* the given facts, by input */
    const vd_ratio *quantities; /* by input */
    const uint32_t *happens;    /* how often each given event happens, by input; NULL: none does */
    vd_ratio speed;             /* mm/s, not below 0; {0, 1}: it stands */
    vd_ratio angle;             /* degrees of each turn */
    uint32_t turns;             /* how many, spread over it */
    uint32_t lasts;             /* seconds, above 0 */
} vd_stretch;

/* A day: its stretches last 24 h together at most; in what is left it is as in its resting stretch. */
typedef struct vd_day {
    const char *label;
    const vd_stretch *stretches;
    uint16_t stretch_count; /* at least 1 */
    uint16_t rest;          /* index of the resting stretch */
} vd_day;

/* What is played. It must outlive the course. */
typedef struct vd_course_plan {
    const vd_item *items;
    const vd_amount *amounts; /* what the formulas give, by their index */
    const vd_day *days;       /* one behind the other, again and again; the first begins on a Monday */
    uint16_t item_count;      /* at most VD_MOST_ITEMS */
    uint16_t day_count;       /* at least 1 */
    int32_t clock_offset;     /* seconds from the time of the days to the unit's clock */
    uint32_t uncounted;       /* seconds that pass first and do not count */
    uint32_t counted;         /* seconds that count behind them */
    bool draws_most;          /* all draws are at their most; else at their least */
} vd_course_plan;

/* What came of an item. */
typedef struct vd_item_sum {
    uint64_t happened; /* how often, of an event, in the time that counts */
    uint64_t held;     /* seconds in which a fact held, in the time that counts */
    uint64_t taken;    /* out of a store, in the time that counts */
    uint64_t packets;  /* in how many packets, likewise */
    uint64_t lost;     /* of a store, from the very first second on */
    uint64_t most;     /* that it held at the end of a second, likewise */
    int64_t age;       /* the longest that any waited, seconds, likewise; -1: too many patterns to be known */
    int64_t full_at;   /* the first second in which one was lost; -1: none was */
} vd_item_sum;

/* Items being played. */
typedef struct vd_course vd_course;
VD_STORAGE(vd_course, 160, 208)

/* Bytes that playing a plan needs; they grow with items and cases, never with days. */
size_t vd_course_size(const vd_course_plan *plan);
/* Makes ready to play. `memory` is aligned for uint64_t and kept. VD_MEMORY_TOO_SMALL. */
vd_status vd_course_start(vd_course *course, const vd_course_plan *plan, void *memory, size_t size, vd_fault *fault);
/* Goes on to the next second in which something may happen; the first time to second 0. False: the end was reached, or
 * from here on nothing is known. */
bool vd_course_next(vd_course *course);
/* The second that was played last. */
int64_t vd_course_time(const vd_course *course);
/* Whether an event happened in it. */
bool vd_course_happened(const vd_course *course, uint16_t item);
/* Whether a fact holds from it on. */
bool vd_course_holds(const vd_course *course, uint16_t item);
/* The case of a counter that rules from it on, VD_NONE: it is off. */
uint16_t vd_course_rules(const vd_course *course, uint16_t item);
/* How many a store holds. */
uint32_t vd_course_content(const vd_course *course, uint16_t item);
/* Whether all was known up to the second that was played last. */
bool vd_course_is_known(const vd_course *course);
/* What came of an item so far; whole once the end was reached. */
vd_item_sum vd_course_sum(const vd_course *course, uint16_t item);

VD_C_END

#endif
