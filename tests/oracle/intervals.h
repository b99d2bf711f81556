/* SPDX-License-Identifier: MIT
 * Intervals as docs/intervals.md defines them, gone through second by second: slow, and nothing in common with the
 * library. Amounts are in 1/18 of a second, a millimetre, a degree or an event, so that km/h and half seconds are
 * whole. */
#ifndef VD_TESTS_INTERVALS_H
#define VD_TESTS_INTERVALS_H

#include <stdbool.h>
#include <stddef.h>

#define REF_ITEMS 16
#define REF_PARTS 18L
#define REF_NO_AMOUNT (-1L) /* a value that is none */
#define REF_GIVEN 4
#define REF_HAPPENS 2

typedef enum ref_kind {
    REF_FACT_GIVEN,
    REF_FACT_CLOCK,
    REF_FACT_COMPARE, /* input 0: the quantity, 1: the speed, 2: the store of[0] */
    REF_FACT_ALL,
    REF_FACT_ANY,
    REF_FACT_NOT,
    REF_FACT_LASTED,
    REF_FACT_WITHIN,
    REF_FACT_SET_BY,
    REF_COUNTER,
    REF_BEGINS,
    REF_ENDS,
    REF_HAPPENING,
    REF_ANY_OF,
    REF_IN_TURN,
    REF_BY_CLOCK,
    REF_STORE,
    REF_KINDS
} ref_kind;

enum { REF_RESTARTS, REF_STOPS, REF_LOST, REF_LATE };           /* a closed gate */
enum { REF_NEW_COUNT, REF_GOES_ON, REF_AS_SET, REF_SOONER };    /* another case */
enum { REF_ZERO_NONE, REF_ZERO_LEAVES, REF_ZERO_ALWAYS };       /* a value of 0 */
enum { REF_SECONDS, REF_WAY, REF_TURNING, REF_EVENTS_OF };      /* what is added; the last: of[0] */
enum { REF_ABOVE_IT, REF_BELOW_IT, REF_AT_LEAST, REF_AT_MOST }; /* a comparison */

typedef struct ref_ruling {
    int when; /* a fact, -1: always */
    long value;
    int zero;
} ref_ruling;

typedef struct ref_item {
    int kind, of[3], of_count, clears[2], clear_count;
    int gate, closed; /* -1: none */
    long amount;      /* a duration, a limit, N, a capacity, from */
    long other;       /* phase, to, how many go out (REF_NO_AMOUNT: all) */
    int input, way;   /* of what is given; a comparison */
    int weekdays;     /* bit 0: Monday */
    bool wired, reads;
    int adds, change;
    ref_ruling cases[3];
    int case_count;
    bool new_edge, carried, at_once, stops, wraps;
    long series[3];
    int series_count;
    long draw; /* in this run */
    int packet;
} ref_item;

typedef struct ref_stretch {
    int lasts;
    bool given[REF_GIVEN];
    long quantity, speed, angle;
    int turns, happens[REF_HAPPENS];
} ref_stretch;

typedef struct ref_day {
    ref_stretch stretches[4];
    int count, rest;
} ref_day;

#define REF_COSTS 3
#define REF_TARIFFS 2

enum {
    REF_EACH,
    REF_TAKEN,
    REF_PACKETS
}; /* what costs: an event; what goes out of a store, one by one or in packets */

typedef struct ref_cost {
    int item, per;
    long least, most; /* bytes */
} ref_cost;

typedef struct ref_tariff {
    int fact; /* while which it bills; -1: always */
    long step;
    bool rounds; /* what one second sends */
} ref_tariff;

typedef struct ref_plan {
    ref_item items[REF_ITEMS];
    int item_count;
    ref_day days[7];
    int day_count, offset;
    long uncounted, counted; /* seconds */
    ref_cost costs[REF_COSTS];
    ref_tariff tariffs[REF_TARIFFS]; /* the last bills always */
    int cost_count;
} ref_plan;

typedef struct ref_mark {
    long time;
    int item;
} ref_mark;

typedef struct ref_sum {
    long happened, held;                           /* counted: events, seconds in which a fact held */
    long ruled[3], expired[3], longest[3];         /* of its cases; the last from the first second on */
    long taken, packets, lost, most, age, full_at; /* of a store; -1: never full */
} ref_sum;

typedef struct ref_outcome {
    ref_mark *marks; /* each event, in order; to be freed */
    size_t mark_count;
    ref_sum sums[REF_ITEMS];
    long billed[REF_TARIFFS][2]; /* bytes: by the least, and by the most of each cost */
} ref_outcome;

void ref_play(const ref_plan *plan, ref_outcome *outcome);

static inline bool ref_is_event(int kind)
{
    return kind > REF_FACT_SET_BY && kind != REF_STORE;
}

/* A plan that is always the same for a number; `whole`: it goes through five weeks. */
void ref_some_plan(ref_plan *plan, unsigned long at, bool whole);
/* What a plan is, so that a case that fails can be read. */
void ref_print_plan(const ref_plan *plan);

#endif
