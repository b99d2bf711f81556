/* SPDX-License-Identifier: MIT
 * A watch as rows and time drive it: what is due before a row, then the row, each instant in the order that
 * docs/alarms.md gives. */
#include "parts.h"

#define MARK_RESTART 0x80u /* beside the ways of clearing */

/* ---- One instant ---- */

/* Whether what stirs is nothing to a condition or an alarm. */
static bool stays_shut(const vd_gate *gate, const vd_input *input, uint64_t stirs)
{
    if (gate->shut || (stirs & (gate->channel | gate->hangs_on)) == 0) {
        return true;
    }
    return (stirs & gate->hangs_on) == 0 && input->known && input->number >= gate->stays.low &&
           input->number <= gate->stays.high;
}

/* A channel is calm as long as everything that looks at it is. */
static void calm_down(vd_watch *watch, const vd_gate *gate)
{
    vd_calm_values *calm = &vd_watch_inputs(watch)[gate->index].calm;
    if (!gate->shut) {
        calm->low = gate->stays.low > calm->low ? gate->stays.low : calm->low;
        calm->high = gate->stays.high < calm->high ? gate->stays.high : calm->high;
    }
}

/* Of the channels that changed those with which something may happen; their calm is found anew. */
static uint64_t stirring(vd_watch *watch, uint64_t changed)
{
    vd_input *inputs = vd_watch_inputs(watch);
    uint64_t stirs = changed & watch->leant_on;
    for (uint16_t i = 0; i < watch->channel_count; i++) {
        vd_input *input = &inputs[i];
        bool calm = input->known && input->number >= input->calm.low && input->number <= input->calm.high;
        stirs |= calm ? 0 : changed & (uint64_t)1 << i;
        if ((stirs >> i & 1) != 0) {
            input->calm = (vd_calm_values){INT64_MIN, INT64_MAX};
        }
    }
    return stirs;
}

/* After a restart nothing is taken for calm. */
static void restart_all(vd_watch *watch, int64_t time)
{
    vd_watched_condition *conditions = vd_watch_conditions(watch);
    vd_watched_alarm *alarms = vd_watch_alarms(watch);
    watch->leant_on = 0;
    for (uint16_t i = 0; i < watch->condition_count; i++) {
        conditions[i].now = VD_FAILS;
        conditions[i].gate.stays = (vd_calm_values){1, 0};
        watch->leant_on |= conditions[i].gate.hangs_on;
    }
    for (uint16_t i = 0; i < watch->alarm_count; i++) {
        vd_alarm_restart(watch, &alarms[i], time);
        watch->leant_on |= alarms[i].gate.hangs_on;
    }
    for (uint16_t i = 0; i < watch->channel_count; i++) {
        vd_watch_inputs(watch)[i].calm = (vd_calm_values){1, 0};
    }
}

/* Which conditions changed, the bit of each, numbered round in 64. */
static uint64_t judge_conditions(vd_watch *watch, uint64_t stirs, int64_t time)
{
    vd_watched_condition *all = vd_watch_conditions(watch);
    const vd_input *inputs = vd_watch_inputs(watch);
    uint64_t moved = 0;
    for (uint16_t i = 0; i < watch->condition_count; i++) {
        vd_watched_condition *one = &all[i];
        const vd_input *input = &inputs[one->gate.index];
        if (!stays_shut(&one->gate, input, stirs)) {
            if ((stirs & one->gate.hangs_on) != 0) {
                vd_level_follow(&one->test.level, watch->set, inputs);
            }
            vd_ruling now = vd_test_judge(watch, &one->test, one->now == VD_HOLDS);
            moved |= now != one->now ? (uint64_t)1 << (i & 63) : 0;
            one->since = now != VD_HOLDS ? VD_NO_TIME : one->now == VD_HOLDS ? one->since : time;
            one->now = now;
            one->gate.stays = now != VD_NOT_KNOWN && one->test.rate == VD_NONE
                                  ? vd_level_stretch(&one->test.level, input->number, now == VD_HOLDS)
                                  : (vd_calm_values){1, 0};
        }
        calm_down(watch, &one->gate);
    }
    return moved;
}

/* Steps the alarms to which something happens; `whole`: all. */
static void step_alarms(vd_watch *watch, uint64_t stirs, uint64_t moved, bool whole, uint8_t clearing)
{
    vd_watched_alarm *alarms = vd_watch_alarms(watch);
    const vd_input *inputs = vd_watch_inputs(watch);
    const int64_t time = watch->now;
    watch->alarm_next = INT64_MAX;
    for (uint16_t i = 0; i < watch->alarm_count; i++) {
        vd_watched_alarm *alarm = &alarms[i];
        vd_gate *gate = &alarm->gate;
        bool told = !gate->shut && (gate->next <= time || (moved & gate->waits_for) != 0 || whole);
        if (told || !stays_shut(gate, &inputs[gate->index], stirs)) {
            if ((stirs & gate->hangs_on) != 0) {
                vd_level_follow(&alarm->test.level, watch->set, inputs);
            }
            vd_alarm_step(watch, alarm, time, clearing);
        }
        calm_down(watch, gate);
        watch->alarm_next = gate->next < watch->alarm_next ? gate->next : watch->alarm_next;
    }
    for (uint16_t i = 0; i < watch->alarm_count && watch->moved; i++) {
        bool joint = watch->model->alarms[alarms[i].public.alarm].joint != VD_SINGLE;
        if (joint && alarms[i].public.used == VD_HOLDS) {
            vd_alarm_join(watch, &alarms[i], time);
        }
    }
}

static void instant(vd_watch *watch, int64_t time, uint8_t marks)
{
    bool first = watch->now == VD_NO_TIME, restart = first || (marks & MARK_RESTART) != 0;
    bool whole = restart || marks != 0;
    const vd_input *inputs = vd_watch_inputs(watch);
    watch->now = time;
    watch->start = first ? time : watch->start;
    if (restart) {
        restart_all(watch, time);
    }
    uint64_t stirs = stirring(watch, vd_inputs_take(watch, time) | (restart ? UINT64_MAX : 0));
    watch->moved = restart;
    if (stirs != 0 || whole || watch->alarm_next <= time) {
        uint64_t moved = judge_conditions(watch, stirs, time);
        step_alarms(watch, stirs, moved, whole, (uint8_t)(marks & ~MARK_RESTART));
    }
    int64_t next = watch->alarm_next;
    for (uint16_t i = 0; i < watch->channel_count; i++) {
        next = inputs[i].known && inputs[i].until < next ? inputs[i].until : next;
    }
    watch->next = next == INT64_MAX ? VD_NO_TIME : next;
}

/* ---- Time and rows ---- */

static void pass_until(vd_watch *watch, int64_t time)
{
    while (watch->now != VD_NO_TIME && watch->next != VD_NO_TIME && watch->next < time && watch->next != INT64_MAX) {
        instant(watch, watch->next, 0);
    }
}

/* Decides what is staged. */
static void decide(vd_watch *watch)
{
    int64_t time = watch->staged;
    if (time == VD_NO_TIME || (watch->now == VD_NO_TIME && !watch->row)) { /* nothing counts before the first row */
        watch->staged = VD_NO_TIME;
        watch->marks = 0;
        return;
    }
    pass_until(watch, time);
    instant(watch, time, watch->marks);
    watch->staged = VD_NO_TIME;
    watch->marks = 0;
    watch->row = false;
}

static bool stage(vd_watch *watch, int64_t time)
{
    bool late =
        (watch->staged != VD_NO_TIME && time < watch->staged) || (watch->now != VD_NO_TIME && time <= watch->now);
    if (late) {
        return false;
    }
    if (watch->staged != VD_NO_TIME && time > watch->staged) {
        decide(watch);
    }
    watch->staged = time;
    return true;
}

bool vd_watch_row(vd_watch *watch, int64_t time)
{
    bool again = watch->row && watch->staged == time;
    if (!stage(watch, time)) {
        watch->left_out++;
        return false;
    }
    watch->replaced += again;
    watch->cells = 0;
    watch->row = true;
    return true;
}

void vd_watch_cell(vd_watch *watch, uint16_t channel, bool known, int64_t number)
{
    vd_input *input = &vd_watch_inputs(watch)[channel];
    watch->cells |= (uint64_t)1 << channel;
    input->staged = number;
    input->staged_known = known && number < INT64_MAX / 4 && number > INT64_MIN / 4; /* so that differences fit */
}

void vd_watch_restart(vd_watch *watch, int64_t time)
{
    if (stage(watch, time)) {
        watch->marks |= MARK_RESTART;
    }
}

void vd_watch_clear(vd_watch *watch, int64_t time, uint8_t by)
{
    if (stage(watch, time)) {
        watch->marks |= by & (MARK_RESTART - 1u);
    }
}

void vd_watch_until(vd_watch *watch, int64_t time)
{
    if (watch->staged != VD_NO_TIME && watch->staged <= time) {
        decide(watch);
    }
    if (time < INT64_MAX) {
        pass_until(watch, time + 1);
    }
}

/* The nearest rate, to six decimals: for people, nothing is decided by it. */
static void note_near_rate(const vd_watch *watch, vd_watched_alarm *alarm)
{
    vd_ratio scaled;
    alarm->public.near_per = watch->model->tests[alarm->test.level.test].per;
    if (vd_ratio_multiply(alarm->nearest, (vd_ratio){1000000, 1}, &scaled)) {
        alarm->public.near_rate = (vd_value){.type = VD_DECIMAL, .places = 6, .number = scaled.number / scaled.below};
    }
}

void vd_watch_end(vd_watch *watch)
{
    vd_watched_alarm *alarms = vd_watch_alarms(watch);
    decide(watch);
    for (uint16_t i = 0; i < watch->alarm_count; i++) {
        vd_watched_alarm *alarm = &alarms[i];
        int64_t pended = alarm->public.state == VD_PENDING ? watch->now - alarm->began : 0;
        alarm->public.pended = pended > alarm->public.pended ? pended : alarm->public.pended;
        if (alarm->test.rate != VD_NONE && alarm->public.near_at != VD_NO_TIME) {
            note_near_rate(watch, alarm);
        }
        if (alarm->lost_from != VD_NO_TIME) {
            alarm->public.unjudged += watch->now - alarm->lost_from;
            alarm->lost_from = watch->now;
            alarm->public.lost = true;
        }
        if (alarm->public.state == VD_STANDING) {
            alarm->public.stood += watch->now - alarm->stood_from;
            alarm->stood_from = watch->now;
        }
    }
    for (uint16_t i = 0; i < watch->alarm_count; i++) { /* a combination is judged as long as all of its parts are */
        const vd_alarm *about = &watch->model->alarms[alarms[i].public.alarm];
        for (uint8_t k = 0; about->joint != VD_SINGLE && k < about->member_count; k++) {
            const vd_watched *part = &alarms[about->members[k]].public;
            alarms[i].public.unjudged =
                part->unjudged > alarms[i].public.unjudged ? part->unjudged : alarms[i].public.unjudged;
            alarms[i].public.lost = alarms[i].public.lost || part->lost;
        }
    }
}

int64_t vd_watch_wake(const vd_watch *watch)
{
    return watch->staged != VD_NO_TIME ? watch->staged : watch->next;
}

bool vd_watch_value(const vd_watch *watch, uint16_t channel, int64_t *number)
{
    const vd_input *input = &vd_watch_inputs(watch)[channel];
    *number = input->number;
    return input->known;
}

bool vd_watch_limits(const vd_watch *watch, uint16_t n, int64_t *low, int64_t *high)
{
    const vd_level *level = &vd_watch_alarms(watch)[n].test.level;
    *low = level->low == -INT64_MAX ? INT64_MIN : level->low;
    *high = level->high;
    return level->known && !vd_level_is_rate(level) && level->way != VD_IS;
}

vd_ruling vd_watch_cause(const vd_watch *watch, uint16_t n)
{
    return vd_watch_alarms(watch)[n].cause;
}

vd_ruling vd_watch_condition(const vd_watch *watch, uint16_t n)
{
    return vd_watch_alarms(watch)[n].condition;
}
