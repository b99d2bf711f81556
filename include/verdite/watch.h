/* SPDX-License-Identifier: MIT
 *
 * Watch: the alarms of a model run on values as they come, live or from a log. docs/alarms.md says what is decided
 * when. Exact: values are whole numbers of the channel's places, times whole milliseconds; nothing is rounded in a
 * decision.
 */
#ifndef VERDITE_WATCH_H
#define VERDITE_WATCH_H

#include "verdite/rules.h"

VD_C_BEGIN

/* In which state an alarm is. */
typedef enum vd_alarm_state {
    VD_AT_REST,
    VD_PENDING, /* its cause goes on, its delay is not over */
    VD_STANDING,
    VD_GONE /* it latches: its cause is over, and nobody has cleared it */
} vd_alarm_state;

/* What befalls an alarm. */
typedef enum vd_happening {
    VD_ALARM_PENDS, /* its cause begins */
    VD_ALARM_DROPS, /* the cause was over, or not known, before the delay was */
    VD_ALARM_SOUNDS,
    VD_ALARM_ENDS,    /* to rest, or to gone where it latches */
    VD_ALARM_RETURNS, /* from gone: the same alarm again */
    VD_ALARM_CLEARED, /* by hand, command or supply; or a restart */
    VD_ALARM_LOST,    /* from now on its cause is not known */
    VD_ALARM_KNOWN    /* now it is again */
} vd_happening;

#define VD_NO_TIME INT64_MIN /* a time that has not come */

/* Something that befalls an alarm. */
typedef struct vd_alarm_event {
    uint8_t what;    /* vd_happening */
    uint16_t alarm;  /* which, as vd_watch_alarm() numbers them */
    int64_t time;    /* milliseconds since 1970, UTC */
    int64_t since;   /* when its cause began; of LOST and ENDS: when what ends began */
    int64_t met;     /* since when the value was so; VD_NO_TIME: not at all */
    int64_t counted; /* since when its condition held, likewise; the start where it has none */
    bool known;      /* the value that it watches */
    int64_t number;  /* times 10^places of the channel */
} vd_alarm_event;
/* Is told what befalls alarms, in the order of time. */
typedef void vd_alarm_listener(void *about, const vd_alarm_event *event);

/* What is doubtful about alarms. */
typedef enum vd_alarm_doubt {
    VD_DOUBT_NONE,
    VD_DOUBT_IDLE,      /* it does not count, for a reason of the model's own */
    VD_DOUBT_NOT_HERE,  /* this unit has no such channel */
    VD_DOUBT_NOT_WIRED, /* nothing is connected to its channel */
    VD_DOUBT_NEVER,     /* its limit is beyond what the channel can measure */
    VD_DOUBT_ALWAYS,
    VD_DOUBT_NEVER_OVER, /* its release can never be met */
    VD_DOUBT_RELEASE,    /* its release is below zero, so that it is not judged */
    VD_DOUBT_CONDITION_NOT_HERE,
    VD_DOUBT_CONDITION_NOT_WIRED,
    VD_DOUBT_CONDITION_NEVER,
    VD_DOUBT_CONDITION_ALWAYS,
    VD_DOUBT_NOTHING,     /* it does nothing */
    VD_DOUBT_NOBODY,      /* it is to tell somebody, and nobody is named */
    VD_DOUBT_NO_NUMBER,   /* who is told has no number */
    VD_DOUBT_LIMIT_KEPT,  /* it watches something else now, and its limit stayed */
    VD_DOUBT_WAY_KEPT,    /* likewise, and its direction stayed */
    VD_DOUBT_TWICE,       /* another alarm is the same */
    VD_DOUBT_CONTRADICTS, /* together with another one always stands */
    VD_DOUBT_AT_ONCE,     /* it would sound at present values */
    VD_DOUBT_COUNT
} vd_alarm_doubt;

/* An alarm that is watched for: one of a model, in one item of its block; or the same with another limit. */
typedef struct vd_watched {
    uint16_t alarm, item; /* of the model */
    uint16_t channel;     /* what it watches here; VD_NONE: nothing, or it is a combination */
    uint16_t limit;       /* the setting that is its limit; VD_NONE: none is, or it is worked out */
    vd_ruling used;       /* not known: a setting that it takes was not read; then it is not run */
    uint8_t state;        /* vd_alarm_state */
    uint8_t never;        /* vd_alarm_doubt: why it can never sound here, so that it is not run; VD_DOUBT_NONE */
    bool trial;           /* with another limit */
    bool conditioned;     /* it has a condition here */
    bool lost;            /* at the end its cause is not known */
    uint32_t sounded;     /* how often */
    int64_t stood;        /* milliseconds that it stood in all, what still stands until the last instant */
    int64_t unjudged;     /* milliseconds in which its cause was not known, as far as was decided */
    int64_t pended;       /* the longest that its cause went on without its sounding */
    int64_t near_at;      /* when it came closest while its condition held, VD_NO_TIME: never */
    int64_t near;         /* and how close, times 10^places of the channel; 0: the limit was passed */
    vd_value near_rate;   /* of rates: the nearest rate, in a unit of time as the limit has it */
    uint32_t near_per;    /* that unit of time, milliseconds */
} vd_watched;

/* The alarms of a model, being watched. */
typedef struct vd_watch vd_watch;
VD_STORAGE(vd_watch, 160, 224)

/* Alarms of a model, each item of a block counted: the first so many that vd_watch_alarm() numbers. */
uint16_t vd_model_alarm_count(const vd_model *model);
/* Which alarm, and in which item, the n-th is. */
void vd_model_alarm_at(const vd_model *model, uint16_t n, uint16_t *alarm, uint16_t *item);
/* Whether a setting has a part in whether, or when, the n-th alarm sounds. */
bool vd_alarm_hangs_on(const vd_model *model, uint16_t n, uint16_t setting);
/* The index of a channel by its key, VD_NONE when there is none. */
uint16_t vd_model_channel(const vd_model *model, const char *key, size_t length);
/* Decimal places in which the values of a channel are kept: 6, or as many as its reading has where that is more. */
uint8_t vd_channel_places(const vd_model *model, uint16_t channel);

/* The value of a channel that a set holds as a reading, times 10^places. False: it holds none. */
bool vd_channel_value(const vd_set *set, uint16_t channel, int64_t *number);

/* Whether the values of a channel are states; the number of the state with this name, false where it has none. */
bool vd_channel_has_states(const vd_model *model, uint16_t channel);
/* The state of a channel by its name. False: it has none such. */
bool vd_channel_state(const vd_model *model, uint16_t channel, const char *name, size_t length, int64_t *state);

/* Bytes that a watch needs, for so many alarms with other limits, and so many rows that a rate looks back over. */
size_t vd_watch_size(const vd_model *model, uint16_t trials, uint16_t history);
/* Makes ready to watch, with the settings of a set, which the watch may put readings into and which must outlive it.
 * `memory` is aligned for uint64_t and kept. `listener` (NULL: nobody) is told what happens, in the order in which it
 * does. VD_MEMORY_TOO_SMALL. */
vd_status vd_watch_start(vd_watch *watch, vd_set *set, uint16_t trials, uint16_t history, void *memory, size_t size,
                         vd_alarm_listener *listener, void *about, vd_fault *fault);
/* Adds an alarm like the n-th, with another limit (`upper`: the upper one of a pair) in the unit of
 * vd_watch_limit_like(). False: there is no room, or it has no such limit. Before the first row. */
bool vd_watch_add_trial(vd_watch *watch, uint16_t n, bool upper, const vd_value *limit);
/* Whether the n-th watched alarm compares with a pair of limits; and whether these, of an alarm that was added, stand
 * the wrong way round, so that it means nothing. */
bool vd_watch_has_pair(const vd_watch *watch, uint16_t n);
/* Whether the limits of an alarm with a pair are the wrong way round. */
bool vd_watch_is_crossed(const vd_watch *watch, uint16_t n);
/* The setting that says unit and decimals of another limit of the n-th alarm: that of its limit or, where that is no
 * setting or follows its channel, the reading. VD_NONE: it watches no number. */
uint16_t vd_watch_limit_like(const vd_watch *watch, uint16_t n);
/* For how long a value of this channel holds, milliseconds; else as its model says, or 5 min. Before the first row. */
void vd_watch_hold(vd_watch *watch, uint16_t channel, uint32_t holds_for);
/* The model whose alarms are watched. */
const vd_model *vd_watch_model(const vd_watch *watch);
/* The first row kept; the last instant: milliseconds since 1970, UTC, VD_NO_TIME: none yet. */
int64_t vd_watch_begin(const vd_watch *watch);
/* The last instant, as vd_watch_begin() has it. */
int64_t vd_watch_now(const vd_watch *watch);
/* Rows that do not count as they came. */
typedef struct vd_watch_odd {
    uint32_t replaced; /* by a later one of the same time */
    uint32_t left_out; /* since they were earlier than the one before */
    uint32_t crowded;  /* too many to be kept for a rate: it was not known then */
} vd_watch_odd;
/* How many rows did not count as they came. */
vd_watch_odd vd_watch_odd_rows(const vd_watch *watch);
/* All alarms that are watched for, those with other limits last. */
uint16_t vd_watch_count(const vd_watch *watch);
/* The n-th that is watched for, from 0; it lives as long as the watch. */
const vd_watched *vd_watch_alarm(const vd_watch *watch, uint16_t n);

/* Begins a row of values that belong to one time. What was begun before is decided now. One of the same time as the
 * last takes its place as a whole; an earlier one is left out: false. */
bool vd_watch_row(vd_watch *watch, int64_t time);
/* The value of a channel in this row, times 10^places; `known` false: an empty cell. */
void vd_watch_cell(vd_watch *watch, uint16_t channel, bool known, int64_t number);
/* A restart at this time, or what clears latched alarms (vd_clearing); times go up with those of rows. */
void vd_watch_restart(vd_watch *watch, int64_t time);
/* Clears what latches, by vd_clearing. */
void vd_watch_clear(vd_watch *watch, int64_t time, uint8_t by);
/* Decides everything up to and including this time. */
void vd_watch_until(vd_watch *watch, int64_t time);
/* Decides the last row. The end: what pends, pends. */
void vd_watch_end(vd_watch *watch);
/* When something will happen by itself, VD_NO_TIME: nothing will. */
int64_t vd_watch_wake(const vd_watch *watch);
/* Whether a channel's value is known at the last instant, and what it is. */
bool vd_watch_value(const vd_watch *watch, uint16_t channel, int64_t *number);
/* Between which limits an alarm's value is at rest, or, of one that is met inside of them, is not; times 10^places.
 * INT64_MIN, INT64_MAX: it has none on that side. False: it has no such limits, or they are not known now. */
bool vd_watch_limits(const vd_watch *watch, uint16_t n, int64_t *low, int64_t *high);
/* What is known of the cause, and of the conditions, of an alarm at the last instant. */
vd_ruling vd_watch_cause(const vd_watch *watch, uint16_t n);
/* Whether the conditions of the n-th hold now. */
vd_ruling vd_watch_condition(const vd_watch *watch, uint16_t n);

VD_C_END

#endif
