/* SPDX-License-Identifier: MIT
 * Intervals being played: what course.c goes through second by second, and what each file does of it. */
#ifndef VD_CORE_INTERVAL_H
#define VD_CORE_INTERVAL_H

#include "../text/storage.h"
#include "../value/exact.h"
#include "verdite/course.h"

#define VD_NEVER INT64_MAX /* a second that does not come */
#define VD_STORE_RUNS 512u /* patterns in which what a store holds came in, at most so many at once */

/* What an item is like. `now` is of the second that is played, `held` of the one before. */
typedef struct vd_part {
    int64_t since;    /* lasted: when its fact began; within: when that ended, or the event happened */
    int64_t span;     /* lasted, within: seconds; by-clock: N; clock: its begin */
    int64_t other;    /* by-clock: the first time of a day; clock: its end */
    int64_t holds_at; /* since when the fact has held, for its tally */
    int64_t next_since;
    uint64_t count; /* how often it happened, or how many seconds it held, in the time that counts */
    uint32_t queue; /* events that wait for their turn, or for an open gate */
    uint8_t kind;   /* of its item: what is gone through each second looks at no more of that */
    bool now, held;
    bool saw, next_saw;            /* lasted, within, begins, ends: what it is about was true in the second before */
    bool ever, next_ever;          /* within: `since` was set */
    bool input;                    /* what the stretch gives */
    bool none;                     /* its amount is none */
    bool unknown;                  /* its amount is not known */
    bool judged;                   /* a fact: in this second */
    bool turned;                   /* a fact: it was another in the second before than in that before it */
    bool heard_above, heard_below; /* an event or a store: a fact above it, or below it, is about it */
} vd_part;

/* How a case of a counter fared. */
typedef struct vd_case_run {
    uint64_t held, expired; /* in the time that counts */
    int64_t longest;
} vd_case_run;

/* A counter's count. Sums and values are whole numbers of 1/scale. */
typedef struct vd_count {
    int64_t sum, kept_value, draw;
    int64_t scale;             /* parts of a second, a millimetre, a degree or an event */
    int64_t rate, before;      /* what a second of this stretch adds, and one of that of the second before */
    int64_t turn, turn_before; /* what a turn adds, likewise */
    int64_t *values;           /* of its cases, then of its series */
    uint8_t *states;           /* vd_amount_state of each */
    vd_case_run *runs;         /* of its cases */
    int64_t ruled_at;          /* since when the case has ruled that rules */
    int64_t held_at;           /* since when of that is not in the sums */
    uint32_t place;            /* expiries since the last restart or zeroing */
    uint16_t ruled;            /* the case that held in the second before, VD_NONE: off */
    uint16_t rules;            /* the case that has ruled since then */
    bool due;                  /* a first expiry */
    bool open;                 /* the gate was, in the second before */
    bool kept;                 /* the count of an earlier case goes on, with kept_value */
} vd_count;

/* Some that came into a store one behind the other, as far apart. */
typedef struct vd_batch {
    int64_t first;
    uint32_t step, count;
} vd_batch;

/* What a store holds. */
typedef struct vd_stock {
    vd_batch *batches; /* a ring, the oldest at `from` */
    uint64_t taken, packets, lost, most;
    int64_t age, full_at;
    uint32_t capacity, out, packet; /* out: at most so many at once */
    uint32_t content, was;          /* now, and in the second before */
    uint32_t goes, packed;          /* out of it in this second, and in how many packets */
    uint16_t from, batch_count, room;
    bool wraps;      /* when it is full the oldest is lost */
    bool lost_track; /* of when they came in */
} vd_stock;

struct vd_course {
    const vd_course_plan *plan;
    vd_part *parts;
    vd_count *counts; /* of the counters, in their order */
    vd_stock *stocks; /* of the stores, in their order */
    uint16_t *place;  /* of each item: which count, or stock, is its own */
    const vd_stretch *stretch;
    int64_t *print[2]; /* what decided how it went on: now, and a round of days before */
    uint64_t *sums;    /* as they were a round of days before */
    uint64_t *bills;   /* of each tariff how often each cost came up, and steps */
    size_t print_size; /* bytes */
    int64_t time, before,
        next;                /* the second that is played, the one played before it, and the one that is played next */
    int64_t end, facts_next; /* the next second in which a fact may be another by itself */
    int64_t stretch_from, stretch_to;
    int64_t clock;               /* the unit's time of day in seconds */
    uint32_t turns_before;       /* in the second before */
    uint16_t day, stretch_index; /* stretch_index beyond the day's: the rest of it */
    uint8_t weekday;             /* 0: Monday */
    bool started, known, overbilled;
    bool again;    /* facts are being judged again */
    bool backward; /* an item sees one below */
    bool below;    /* and one has changed in the second before */
    bool entered;  /* the stretch is another one */
    bool stirred;  /* facts are to be judged */
    bool recalled; /* and judged again, since an event below one of them happened */
};

VD_FITS(vd_course);

static inline bool vd_part_is_fact(const vd_part *part)
{
    return part->kind <= VD_ITEM_FIXED;
}

static inline const vd_item *vd_item_at(const vd_course *course, uint16_t item)
{
    return &course->plan->items[item];
}

/* ---- days.c ---- */

/* Goes on to the stretch of this second. True: it is another one. */
bool vd_days_enter(vd_course *course);
/* How many of so many that are spread over the stretch are in a second of it. */
uint32_t vd_spread_in(const vd_course *course, uint32_t times, int64_t time);
/* The next second that has one; VD_NEVER: the stretch has no more. */
int64_t vd_spread_behind(const vd_course *course, uint32_t times);
/* Seconds from now until the unit's clock says so the next time, above 0. */
int64_t vd_clock_until(const vd_course *course, int64_t clock);

/* ---- amounts.c ---- */

/* An amount by its formula. */
vd_amount vd_amount_of(const vd_course_plan *plan, vd_ref formula);
/* A value of a counter: of events it is rounded down. The value of its k-th case. */
vd_amount vd_count_of_events(const vd_counter *counter, vd_amount amount);
vd_amount vd_value_of_case(const vd_course_plan *plan, const vd_counter *counter, unsigned k);

/* ---- ever.c ---- */

/* What a fact may be, as bits: true (of an event: it may happen), false. Of one that is made of others, by what those
 * may be. */
#define VD_MAY_BE_TRUE 1u
#define VD_MAY_BE_FALSE 2u
#define VD_MAY_BE_BOTH (VD_MAY_BE_TRUE | VD_MAY_BE_FALSE)
uint8_t vd_may_of_others(const uint8_t *may, const vd_item *item);
/* Which events may happen, as facts may be. */
void vd_may_events(const vd_course_plan *plan, uint8_t *may);

/* ---- facts.c ---- */

/* Whether a fact is true, or an event happened, as an item sees it. */
bool vd_sees(const vd_course *course, uint16_t from, uint16_t of);
/* Whether the gate of an event is open, as it sees it. */
bool vd_gate_is_open(const vd_course *course, uint16_t item);
/* What the stretch gives: facts and comparisons that hold for all of it. */
void vd_facts_enter(vd_course *course);
void vd_fact_judge(vd_course *course, uint16_t item);
/* What was judged last holds from now on. */
void vd_fact_settle(vd_course *course, uint16_t item);
/* Seconds in which it held up to one, in the time that counts. */
uint64_t vd_fact_seconds(const vd_course *course, uint16_t item, int64_t to);
/* Whether a fact may ever be another by itself; the next second in which it may. */
static inline bool vd_fact_wakes(const vd_part *part)
{
    return part->kind == VD_ITEM_LASTED || part->kind == VD_ITEM_WITHIN || part->kind == VD_ITEM_CLOCK ||
           part->kind == VD_ITEM_SET_BY;
}
int64_t vd_fact_wake(const vd_course *course, uint16_t item);

/* ---- counters.c ---- */

void vd_counters_enter(vd_course *course);
void vd_counter_play(vd_course *course, uint16_t item);
/* After all items: gates and cases as facts hold from now on, and what is zeroed. */
void vd_counter_settle(vd_course *course, uint16_t item);
/* How a case fared up to a second. */
vd_case_run vd_counter_case(const vd_course *course, uint16_t item, uint16_t k, int64_t to);
/* For how long the case has ruled that rules is in its sum up to a second. */
void vd_counter_note(vd_course *course, uint16_t item, int64_t to);
int64_t vd_counter_wake(const vd_course *course, uint16_t item);

/* ---- events.c ---- */

/* The same of all other events. */
void vd_event_play(vd_course *course, uint16_t item);
int64_t vd_event_wake(const vd_course *course, uint16_t item);

/* ---- spread.c ---- */

/* Adds what the marked items hang on, or with `down` what hangs on them, until none is added. */
void vd_items_spread(const vd_item *items, uint16_t count, bool down, bool *on);

/* ---- bills.c ---- */

/* Numbers that bills need. */
size_t vd_bills_count(const vd_course_plan *plan);
/* What this second sends goes on the bill of the tariff that is in force. */
void vd_bills_note(vd_course *course);

/* ---- repeat.c ---- */

/* Bytes of a print, and of the sums that a round adds to. */
size_t vd_repeat_size(const vd_course_plan *plan, size_t counters, size_t stores, size_t batches);
size_t vd_repeat_sums(const vd_course_plan *plan, size_t cases, size_t stores);

/* ---- stores.c ---- */

void vd_store_play(vd_course *course, uint16_t item);
/* The longest that any waits that is still in it. */
int64_t vd_stock_age(const vd_stock *stock, int64_t now);

/* A decimal number at the front of a text; how long it is, 0: there is none, or it is too long. */
size_t vd_decimal_read(const char *text, size_t length, vd_ratio *number);

#endif
