/* SPDX-License-Identifier: MIT
 * What the files about alarms share. */
#ifndef VD_CORE_ALARM_PARTS_H
#define VD_CORE_ALARM_PARTS_H

#include "../text/storage.h"
#include "../expression/expression.h"
#include "verdite/watch.h"
#include "verdite/watch.h"

struct vd_watch {
    const vd_model *model;
    vd_set *set;
    vd_alarm_listener *listener;
    void *about;
    int64_t start, now;          /* the first row kept; the last instant; VD_NO_TIME: none yet */
    uint32_t replaced, left_out; /* rows replaced by a later one of the same time, and rows that were earlier */
    uint32_t crowded;            /* rows too many to be kept for a rate: it was not known then */
    void *memory;                /* private, as is what follows */
    size_t conditions_at, alarms_at, rates_at;
    uint16_t channel_count, condition_count, alarm_count, alarm_room, rate_count;
    uint16_t history;
    int64_t next, alarm_next, staged;
    uint64_t cells;          /* of the staged row */
    uint64_t hung, leant_on; /* channels on which formulas hang; on which any limit does */
    uint8_t marks;
    bool row, moved;
};
VD_FITS(vd_watch);

/* ---- formula.c: what formulas give, with what a set holds ---- */

/* Whether it is so; `none` where there is no formula. */
vd_ruling vd_formula_truth(const vd_set *set, uint16_t formula, uint16_t item, vd_ruling none);
/* A duration in milliseconds, 0 where there is no formula. False: not known. */
bool vd_formula_time(const vd_set *set, uint16_t formula, uint16_t item, int64_t *milliseconds);
/* The unit of a channel. */
vd_ratio vd_channel_unit(const vd_model *model, uint16_t channel);
/* A number in that unit. False: not known, or too large. */
bool vd_formula_in_unit(const vd_set *set, uint16_t formula, uint16_t item, vd_ratio unit, vd_ratio *number);
bool vd_formula_number(const vd_set *set, uint16_t formula, uint16_t item, uint16_t channel, vd_ratio *number);
/* Whether it is a number that is known to be below zero. */
bool vd_formula_below_zero(const vd_set *set, uint16_t formula, uint16_t item, uint16_t channel);
/* The state of a channel that is meant. False: not known, or it has no such state. */
bool vd_formula_state(const vd_set *set, uint16_t formula, uint16_t item, uint16_t channel, int64_t *state);
/* The channels whose readings a formula hangs on, a bit for each. */
uint64_t vd_formula_channels(const vd_model *model, uint16_t formula, uint16_t item);

/* The setting of an item. */
/* The settings that a formula names. */
vd_naming vd_formula_names(const vd_model *model, uint16_t formula);
/* The channel that is watched with what a set holds. Not known: the setting that chooses it was not read; fails: it
 * watches nothing. */
vd_ruling vd_source_channel(const vd_set *set, const vd_source *source, uint16_t item, uint16_t *channel);
/* Why what hangs on a channel can never be told with what a set holds: VD_DOUBT_NOT_HERE, VD_DOUBT_NOT_WIRED, or
 * VD_DOUBT_NONE. */
vd_alarm_doubt vd_channel_doubt(const vd_set *set, uint16_t channel);
/* The test that counts, of several the first; fails: none does. */
vd_ruling vd_tests_pick(const vd_set *set, uint16_t first, uint8_t count, uint16_t item, uint16_t *test);

/* ---- sums.c: limits that are sums of what channels read ---- */

/* Values of a channel, both ends among them; none where low is above high. */
typedef struct vd_calm_values {
    int64_t low, high;
} vd_calm_values;

/* What is known of a channel. */
typedef struct vd_input {
    vd_calm_values calm;   /* values with which nothing happens to whatever looks at it; narrower at most */
    int64_t number, until; /* it holds until then */
    int64_t known_since;   /* without a gap */
    uint32_t holds_for;
    uint8_t places;
    bool known;
    int64_t staged; /* of the row that is not decided yet */
    bool staged_known;
} vd_input;

/* A limit as a sum of what channels read, in counts: (constant + factors times their counts) / below. */
#define VD_MOST_TERMS 4u
typedef struct vd_sum {
    int64_t constant, below;
    int64_t factors[VD_MOST_TERMS];
    uint16_t channels[VD_MOST_TERMS];
    uint8_t count;
} vd_sum;

/* Makes a sum of a formula, in counts of a channel with this unit and these places. False: it is none. */
bool vd_sum_make(const vd_set *set, uint16_t formula, uint16_t item, vd_ratio unit, uint8_t places, vd_sum *sum);
/* What it comes to now, with `more` / below added: the counts next to it. False: not known. */
bool vd_sum_now(const vd_sum *sum, const vd_input *inputs, int64_t more, int64_t *at_most, int64_t *at_least);

/* ---- level.c: a comparison with whole numbers ---- */

/* A value is met where it lies between `low` and `high` or, if not `inside`, where it does not; with the release kept
 * in mind likewise by `held_low` and `held_high`. */
typedef struct vd_level {
    int64_t low, high, held_low, held_high;
    vd_ratio limit, held; /* of rates */
    vd_ratio given;       /* in place of one of the formulas, where `trial` */
    vd_ratio unit;        /* of the channel */
    uint64_t hangs_on;    /* channels that its formulas hang on */
    vd_sum sums[2];       /* limit and upper one, where `summed` */
    int64_t release[2];   /* over the same whole number */
    uint16_t test, item, channel;
    uint8_t way, places;
    bool inside, known, trial, trial_upper, summed;
} vd_level;

/* A comparison, worked out with what a set holds; and again once it holds something else. */
vd_level vd_level_start(const vd_set *set, uint16_t test, uint16_t item, uint16_t channel);
void vd_level_resolve(vd_level *level, const vd_set *set);
/* The same once the values of other channels are others. */
void vd_level_follow(vd_level *level, const vd_set *set, const vd_input *inputs);
/* Whether a level is about a rate. */
bool vd_level_is_rate(const vd_level *level);
/* Whether a value is met; `held`: it was before, so that the release counts. */
bool vd_level_met(const vd_level *level, int64_t number, bool held);
bool vd_level_rate_met(const vd_level *level, vd_ratio rate, bool held);
/* The values around one, itself among them, of which the same holds. */
vd_calm_values vd_level_stretch(const vd_level *level, int64_t number, bool held);
/* How far a value is from being met; 0: it is. */
int64_t vd_level_distance(const vd_level *level, int64_t number);

/* ---- inputs.c: values, and how fast they change ---- */

typedef struct vd_passed {
    int64_t time, number;
} vd_passed;

/* A rate that is watched: rows of its channel, in a ring. */
typedef struct vd_rate {
    vd_passed *past;
    uint16_t channel, first, count;
    int64_t window;
    int64_t dropped; /* the time of the last row that there was no room for; VD_NO_TIME: none */
    uint32_t per;
    vd_ratio rate; /* of the last row, in a unit of time as the limit has it */
    bool known;
} vd_rate;

/* ---- what is watched ---- */

/* What must happen for a condition or an alarm to be looked at; kept together, since most often nothing does. */
typedef struct vd_gate {
    vd_calm_values stays;       /* values of its channel with which nothing happens to it */
    int64_t next;               /* when something happens by itself; INT64_MAX: nothing will */
    uint64_t waits_for;         /* conditions whose change may move it: the bit of each, numbered round in 64 */
    uint64_t channel, hangs_on; /* the bit of its channel, and of those that its limits hang on */
    uint16_t index;             /* of its channel */
    bool shut;                  /* it is not looked at at all */
} vd_gate;

/* A comparison with what it takes to remember. */
typedef struct vd_watched_test {
    vd_level level;
    uint16_t rate; /* index, VD_NONE: a value */
} vd_watched_test;

typedef struct vd_watched_condition {
    vd_gate gate;
    vd_watched_test test;
    vd_ruling now;
    int64_t since; /* since when it holds */
    uint8_t never; /* vd_alarm_doubt: why it can never hold here */
    bool there;    /* false: it has nothing to say here */
    bool known;    /* whether everything is that it takes */
} vd_watched_condition;

typedef struct vd_watched_alarm {
    vd_gate gate;
    vd_watched public;
    vd_watched_test test;
    uint16_t conditions[VD_MOST_CONDITIONS], condition_count; /* those that are there */
    int64_t delay_in, delay_out, hush, longest, rest;
    int64_t began, met; /* of the cause; since when the value was so */
    int64_t stood_from, lost_from, restarted;
    vd_ratio nearest;                 /* of rates */
    int64_t over_from, spent;         /* of the delay out; what of it had passed before a pause */
    int64_t sum, sum_from, halt_from; /* of the longest without; VD_NO_TIME: it does not go on now */
    vd_ruling cause, was, condition;
    vd_ruling state; /* of a longest-without: whether it goes on */
    bool latches, exceeded, hushed;
} vd_watched_alarm;

vd_input *vd_watch_inputs(const vd_watch *watch);
vd_rate *vd_watch_rates(const vd_watch *watch);
vd_watched_condition *vd_watch_conditions(const vd_watch *watch);
vd_watched_alarm *vd_watch_alarms(const vd_watch *watch);

/* Takes the staged row in, and ends what holds no longer; a bit for each channel that changed. */
uint64_t vd_inputs_take(vd_watch *watch, int64_t time);
/* What a comparison says now; `held`: it was met before. */
vd_ruling vd_test_judge(const vd_watch *watch, const vd_watched_test *test, bool held);
/* One alarm at one instant. */
void vd_alarm_step(vd_watch *watch, vd_watched_alarm *alarm, int64_t time, uint8_t clearing);
/* A restart of one alarm. */
void vd_alarm_restart(vd_watch *watch, vd_watched_alarm *alarm, int64_t time);
/* A combination, once all single alarms are decided. */
void vd_alarm_join(vd_watch *watch, vd_watched_alarm *alarm, int64_t time);

#endif
