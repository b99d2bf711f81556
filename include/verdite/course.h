/* SPDX-License-Identifier: MIT
 *
 * Course: the items of intervals played over days, from one second in which something may happen to the next.
 * docs/intervals.md says what is decided when. Exact: no floating point, nothing is rounded in a decision.
 */
#ifndef VERDITE_COURSE_H
#define VERDITE_COURSE_H

#include "verdite/day.h"
#include "verdite/fault.h"
#include "verdite/set.h"
#include "verdite/writer.h"

VD_C_BEGIN

/* What is played. It must outlive the course. */
typedef struct vd_course_plan {
    const vd_item *items;     /* in their order */
    const vd_amount *amounts; /* what the formulas give, by their index */
    const vd_costs *costs;    /* what is billed, and taken; NULL: nothing is */
    const vd_day *days;       /* one behind the other, again and again; the first begins on a Monday */
    uint16_t item_count;      /* at most VD_MOST_ITEMS */
    uint16_t day_count;       /* at least 1 */
    int32_t clock_offset;     /* seconds from the time of the days to the unit's clock */
    uint32_t uncounted;       /* seconds that pass first and do not count */
    uint32_t counted;         /* seconds that count behind them */
    bool draws_most;          /* all draws are at their most; else at their least */
    bool ends_full;           /* it ends with the first second in which a store loses one */
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

/* What came of a case of a counter. */
typedef struct vd_case_sum {
    uint64_t held;    /* seconds in which it ruled, in the time that counts */
    uint64_t expired; /* how often it expired under it, likewise */
    uint64_t longest; /* the longest that it ruled without a break, seconds, from the very first second on */
} vd_case_sum;

/* Why a case of a counter can never make it expire, on any day. */
typedef enum vd_never_why {
    VD_NEVER_NOT,   /* it may */
    VD_NEVER_NONE,  /* its value is none */
    VD_NEVER_ZERO,  /* its value is 0 */
    VD_NEVER_WHILE, /* the fact under which it rules cannot be true */
    VD_NEVER_ABOVE, /* a case above it rules always */
    VD_NEVER_GATE   /* the gate cannot be open */
} vd_never_why;
/* The same, and what is to blame. */
typedef struct vd_never {
    uint8_t why;      /* vd_never_why */
    uint16_t culprit; /* a fact, or of VD_NEVER_ABOVE a case */
} vd_never;

/* What may be on any day, by item: bit 0, a fact may be true or an event may happen; bit 1, a fact may be false. `may`
 * has room for all items. Days of the plan do not count. */
void vd_intervals_may(const vd_course_plan *plan, uint8_t *may);
/* The same at this moment, as far as readings of the set tell from which the amounts are: takes from `may`, which
 * vd_intervals_may() has filled, what cannot be now. */
void vd_intervals_now(const vd_course_plan *plan, uint8_t *may);
/* The same while a fact, which says when a unit is awake, is false: takes from `may` what cannot be then. */
void vd_intervals_asleep(const vd_course_plan *plan, uint16_t awake, uint8_t *may);
/* The first case of a counter from the `from`-th on that may rule then; `surely`: none below it may. VD_NONE: none. */
uint16_t vd_case_now(const vd_course_plan *plan, const uint8_t *may, uint16_t item, uint16_t from, bool *surely);
/* Why the k-th case of a counter can never make it expire. */
vd_never vd_case_never(const vd_course_plan *plan, const uint8_t *may, uint16_t item, uint16_t k);
/* The fact at the bottom of one that cannot be true. */
uint16_t vd_fact_blamed(const vd_course_plan *plan, const uint8_t *may, uint16_t fact);

/* Items being played. */
typedef struct vd_course vd_course;
VD_STORAGE(vd_course, 192, 256)

/* What the formulas of a model's intervals give with the values of a set, `formula_count` of them. */
void vd_intervals_amounts(const vd_set *set, vd_amount *amounts);
/* Whether two of these formulas are measured in the same. */
bool vd_intervals_alike(const vd_model *model, vd_ref a, vd_ref b);
/* Adds such a number with its unit, as people read it: a speed in km/h, an angle in degrees, a quantity in base units.
 */
void vd_intervals_say(const vd_model *model, vd_gives gives, uint16_t quantity, vd_ratio number, vd_writer *writer);
/* The setting that alone is the value of the k-th case of a counter; VD_NONE: it is worked out. */
uint16_t vd_case_setting(const vd_model *model, uint16_t item, uint8_t k);
/* Adds a number that was typed with another unit of the same measure as that of a setting in the setting's own, "5000
 * m" for "5 km". False, with nothing added: it has none, or it is no whole number then. */
bool vd_intervals_convert(const vd_set *set, uint16_t setting, const char *text, size_t length, vd_writer *writer);
/* Whether a reading shows what intervals come to. */
bool vd_intervals_show(const vd_model *model, uint16_t setting);
/* Whether a speed, mm/s, or an angle, degrees, can be: not below 0, and slower than light. */
bool vd_intervals_can_be(vd_ratio number);
/* Reads a number with its unit as a stretch has it: a speed in mm/s and an angle in degrees, VD_GIVES_SPEED and
 * VD_GIVES_ANGLE, such as can be; or, VD_GIVES_NUMBER, this quantity. False: it is none, or has another unit. */
bool vd_intervals_read(const vd_model *model, vd_gives gives, uint16_t quantity, const char *text, size_t length,
                       vd_ratio *number);

/* The same of one of them. */
vd_amount vd_intervals_amount(const vd_set *set, uint16_t formula);
/* Bytes that playing a plan needs; they grow with items and cases, never with days. Without amounts: whatever those
 * are. */
size_t vd_course_size(const vd_course_plan *plan);
/* Makes ready to play. `memory` is aligned for uint64_t and kept. VD_MEMORY_TOO_SMALL. */
vd_status vd_course_start(vd_course *course, const vd_course_plan *plan, void *memory, size_t size, vd_fault *fault);
/* Puts so many into a store that has just been made ready, as far as it holds them: they came in second 0. */
void vd_course_fill(vd_course *course, uint16_t item, uint32_t count);
/* The second that vd_course_next() goes on to. */
int64_t vd_course_due(const vd_course *course);
/* Goes on to the next second in which something may happen; the first time to second 0. False: the end was reached, or
 * from here on nothing is known. */
bool vd_course_next(vd_course *course);
/* Plays to the end. Rounds of days that would be the last one over again are added up instead. */
void vd_course_finish(vd_course *course);
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
/* Bytes that the k-th tariff bills in the time that counts, by the least or the most of each cost, rounded as it says.
 * False: too many. */
bool vd_course_billed(const vd_course *course, uint8_t k, bool most, vd_ratio *bytes);
/* Whether all was known up to the second that was played last. */
bool vd_course_is_known(const vd_course *course);
/* What came of an item so far; whole once the end was reached. */
vd_item_sum vd_course_sum(const vd_course *course, uint16_t item);

/* The same of the k-th case of a counter. */
vd_case_sum vd_course_case(const vd_course *course, uint16_t item, uint16_t k);

VD_C_END

#endif
