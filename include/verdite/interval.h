/* SPDX-License-Identifier: MIT
 *
 * Interval: when a unit measures, reports and listens, as one list of items: facts, events and stores, constant data of
 * its model. docs/intervals.md says what each part means, to the second; course.h plays them.
 */
#ifndef VERDITE_INTERVAL_H
#define VERDITE_INTERVAL_H

#include "verdite/ref.h"

#include <stdbool.h>

VD_C_BEGIN

/* What an item is. Facts come first, a store last; what is between are events. */
typedef enum vd_item_kind {
    VD_ITEM_GIVEN,   /* as the stretch of the day says */
    VD_ITEM_CLOCK,   /* between two times of day, on some weekdays */
    VD_ITEM_COMPARE, /* a quantity, the speed or what a store holds, with a number */
    VD_ITEM_ALL,
    VD_ITEM_ANY,
    VD_ITEM_NOT,
    VD_ITEM_LASTED, /* for so long */
    VD_ITEM_WITHIN, /* so long behind a fact or an event */
    VD_ITEM_SET_BY, /* until it is cleared */
    VD_ITEM_FIXED,  /* as its expression says */
    VD_ITEM_COUNTER,
    VD_ITEM_BEGINS, /* a fact begins to be true */
    VD_ITEM_ENDS,
    VD_ITEM_HAPPENS, /* as the stretch of the day says */
    VD_ITEM_ANY_OF,
    VD_ITEM_IN_TURN, /* one a second, others queue */
    VD_ITEM_BY_CLOCK,
    VD_ITEM_STORE,
    VD_ITEM_KINDS
} vd_item_kind;

/* What a gate does when it is closed. */
typedef enum vd_closed { VD_CLOSED_RESTARTS, VD_CLOSED_STOPS, VD_CLOSED_LOST, VD_CLOSED_LATE } vd_closed;

/* What a counter does when another case rules. */
typedef enum vd_case_change {
    VD_CHANGE_RESTARTS,
    VD_CHANGE_GOES_ON,
    VD_CHANGE_AS_SET,
    VD_CHANGE_SOONER
} vd_case_change;

/* What a value of 0 means in a case. */
typedef enum vd_zero {
    VD_ZERO_NONE,   /* the counter is off while the case rules */
    VD_ZERO_LEAVES, /* the next case may rule */
    VD_ZERO_ALWAYS  /* each second */
} vd_zero;

/* What a counter adds up. */
typedef enum vd_adds {
    VD_ADDS_SECONDS,
    VD_ADDS_WAY,     /* millimetres */
    VD_ADDS_TURNING, /* degrees */
    VD_ADDS_EVENTS   /* of the item that it is about, one each */
} vd_adds;

/* Which way a fact compares. */
typedef enum vd_side { VD_SIDE_ABOVE, VD_SIDE_BELOW, VD_SIDE_AT_LEAST, VD_SIDE_AT_MOST } vd_side;

/* What a comparison is about. */
typedef enum vd_compared { VD_COMPARED_QUANTITY, VD_COMPARED_SPEED, VD_COMPARED_STORE } vd_compared;

/* A case of a counter: the first that holds rules. */
typedef struct vd_case {
    const char *label; /* for people: "On the road" */
    vd_ref when;       /* a fact, none: always */
    vd_ref value;      /* formula, not below 0 */
    uint8_t zero;      /* vd_zero */
} vd_case;

/* How a counter counts. */
typedef struct vd_counter {
    const vd_case *cases; /* the first that holds rules */
    const vd_ref *series; /* formulas, above 0: values one behind the other, in place of the case's */
    uint8_t case_count;   /* of `cases`, at least 1 */
    uint8_t series_count; /* 0: none */
    uint8_t adds;         /* vd_adds */
    uint8_t change;       /* vd_case_change */
    bool stops;           /* the series ends; else its last goes on */
    bool new_edge;        /* what ends in this second counts no more */
    bool carried;         /* the value is taken off the sum; else the sum is 0 */
    bool at_once;         /* the first expiry comes at once */
} vd_counter;

/* One item. What is not named for its kind is none, 0 or NULL. */
typedef struct vd_item {
    const char *key, *label; /* as files name it, and as people do */
    const char *says;        /* of an event: the line that a unit that talks in lines says unasked then; NULL: none */
    const uint16_t *of; /* items that it is about: of facts, `any-of` and `in-turn` several; of a counter the one whose
                           events it adds up; of a store what takes one in, then what takes out */
    const uint16_t *clears;    /* `set-by`: what clears it; a counter: what zeroes it */
    const vd_counter *counter; /* of a counter */
    vd_ref gate;               /* of an event: a fact, none: always open */
    vd_ref amount; /* formula: a duration, the limit of a comparison, the truth of `fixed`, N of `by-clock`, the
                      begin of `clock`, the capacity of a store */
    vd_ref other;  /* formula: the end of `clock`, the phase of `by-clock`, how many go out of a store (none: all) */
    vd_ref least, most; /* formulas: between which a draw is, of a counter or `by-clock` */
    vd_ref packet;      /* formula: how many a packet holds, of a store; none: 1 */
    vd_ref wired;       /* formula: whether a given fact is connected; none: it is */
    vd_ref now;         /* formula, of a fact: whether it is true at this moment, as readings tell; none: they
                           do not */
    vd_ref wraps;       /* formula: whether a full store loses its oldest, else the newest; none: it does */
    uint16_t input;     /* which fact, event or quantity of a stretch */
    uint8_t of_count, clear_count; /* of `of` and `clears` */
    uint8_t kind;                  /* vd_item_kind */
    uint8_t closed;                /* vd_closed */
    uint8_t compared;              /* vd_compared */
    uint8_t side;                  /* vd_side */
    uint8_t weekdays;              /* of `clock`: bit 0 is Monday; 0: all */
    bool reads;                    /* what a given fact is where it is not wired */
} vd_item;

#define VD_MOST_ITEMS 256u /* of a model */

/* Whether an item is a fact; and whether an event. */
static inline bool vd_item_is_fact(const vd_item *item)
{
    return item->kind <= VD_ITEM_FIXED;
}
static inline bool vd_item_is_event(const vd_item *item)
{
    return item->kind > VD_ITEM_FIXED && item->kind < VD_ITEM_STORE;
}

VD_C_END

#endif
