/* SPDX-License-Identifier: MIT
 * What an alarm does at one instant: whether its cause goes on, and from which state to which that takes it. */
#include "parts.h"

static int64_t later(int64_t time, int64_t by)
{
    return by > 0 && time > INT64_MAX - by ? INT64_MAX : time + by;
}

static void wake_at(vd_watched_alarm *alarm, int64_t time)
{
    alarm->gate.next = time < alarm->gate.next ? time : alarm->gate.next;
}

/* Since when its conditions held together, or the first of those of which one will do. */
static int64_t counted(const vd_watch *watch, const vd_watched_alarm *alarm)
{
    bool any = watch->model->alarms[alarm->public.alarm].any_condition;
    int64_t since = alarm->condition_count == 0 ? watch->start : VD_NO_TIME;
    for (uint16_t i = 0; i < alarm->condition_count; i++) {
        const vd_watched_condition *one = &vd_watch_conditions(watch)[alarm->conditions[i]];
        bool takes = one->now == VD_HOLDS && (since == VD_NO_TIME || (any ? one->since < since : one->since > since));
        since = takes ? one->since : since;
        if (one->now != VD_HOLDS && !any) {
            return VD_NO_TIME;
        }
    }
    return since;
}

static void tell(const vd_watch *watch, const vd_watched_alarm *alarm, vd_happening what, int64_t time, int64_t since)
{
    const vd_input *input = alarm->public.channel != VD_NONE ? &vd_watch_inputs(watch)[alarm->public.channel] : NULL;
    if (watch->listener != NULL) {
        vd_alarm_event event = {.what = (uint8_t)what,
                                .alarm = (uint16_t)(alarm - vd_watch_alarms(watch)),
                                .time = time,
                                .since = since,
                                .met = alarm->met,
                                .counted = counted(watch, alarm),
                                .known = input != NULL && input->known,
                                .number = input != NULL ? input->number : 0};
        watch->listener(watch->about, &event);
    }
}

/* ---- Causes ---- */

static vd_ruling both(vd_ruling a, vd_ruling b)
{
    return a == VD_FAILS || b == VD_FAILS ? VD_FAILS : a == VD_HOLDS && b == VD_HOLDS ? VD_HOLDS : VD_NOT_KNOWN;
}

static vd_ruling conditions(const vd_watch *watch, const vd_watched_alarm *alarm)
{
    vd_ruling every = VD_HOLDS, some = VD_FAILS;
    for (uint16_t i = 0; i < alarm->condition_count; i++) {
        vd_ruling one = vd_watch_conditions(watch)[alarm->conditions[i]].now;
        every = both(every, one);
        some = some == VD_HOLDS || one == VD_HOLDS   ? VD_HOLDS
               : some == VD_FAILS && one == VD_FAILS ? some
                                                     : VD_NOT_KNOWN;
    }
    bool any = watch->model->alarms[alarm->public.alarm].any_condition && alarm->condition_count > 0;
    return any ? some : every;
}

/* The time for which the state of a longest-without went on since the last instant is added; a halt that has lasted
 * long enough clears it. */
static void add_up(vd_watched_alarm *alarm, vd_ruling state, int64_t time)
{
    if (alarm->sum_from != VD_NO_TIME) {
        alarm->sum = later(alarm->sum, time - alarm->sum_from);
    }
    alarm->sum_from = state == VD_HOLDS ? time : VD_NO_TIME;
    if (state == VD_FAILS) {
        alarm->halt_from = alarm->state == VD_FAILS && alarm->halt_from != VD_NO_TIME ? alarm->halt_from : time;
    } else {
        alarm->halt_from = VD_NO_TIME;
    }
    alarm->state = state;
    if (state == VD_FAILS && time >= later(alarm->halt_from, alarm->rest)) {
        alarm->sum = 0;
        alarm->exceeded = false;
    }
    alarm->exceeded = alarm->exceeded || (state == VD_HOLDS && alarm->sum >= alarm->longest);
    if (state == VD_HOLDS && !alarm->exceeded) {
        wake_at(alarm, later(time, alarm->longest - alarm->sum));
    } else if (state == VD_FAILS && (alarm->sum > 0 || alarm->exceeded)) {
        wake_at(alarm, later(alarm->halt_from, alarm->rest));
    }
}

/* Whether the value is so. A longest-without has its release in its state, whatever the alarm's. */
static vd_ruling judge(const vd_watch *watch, const vd_watched_alarm *alarm, bool held)
{
    if (alarm->longest == VD_NO_TIME) {
        return vd_test_judge(watch, &alarm->test, held);
    }
    return alarm->state == VD_NOT_KNOWN ? VD_NOT_KNOWN : alarm->exceeded ? VD_HOLDS : VD_FAILS;
}

/* ---- From state to state ---- */

static void sound(vd_watch *watch, vd_watched_alarm *alarm, int64_t time)
{
    alarm->public.state = VD_STANDING;
    alarm->public.sounded++;
    alarm->stood_from = time;
    alarm->over_from = VD_NO_TIME;
    alarm->spent = 0;
    watch->moved = true;
    tell(watch, alarm, VD_ALARM_SOUNDS, time, alarm->began);
}

static void silence(vd_watch *watch, vd_watched_alarm *alarm, int64_t time, vd_alarm_state to, vd_happening what)
{
    int64_t from = alarm->public.state == VD_STANDING ? alarm->stood_from : alarm->began;
    alarm->public.stood += alarm->public.state == VD_STANDING ? time - alarm->stood_from : 0;
    watch->moved = watch->moved || alarm->public.state == VD_STANDING;
    alarm->public.state = (uint8_t)to;
    tell(watch, alarm, what, time, from);
}

static void rest(vd_watch *watch, vd_watched_alarm *alarm, int64_t time, bool hush_ends, bool hushed)
{
    if (alarm->cause != VD_HOLDS || hushed || (alarm->was == VD_HOLDS && !hush_ends)) {
        return;
    }
    alarm->began = time;
    if (alarm->delay_in == 0) {
        sound(watch, alarm, time);
        return;
    }
    alarm->public.state = VD_PENDING;
    tell(watch, alarm, VD_ALARM_PENDS, time, time);
}

static void pend(vd_watch *watch, vd_watched_alarm *alarm, int64_t time)
{
    int64_t so_far = time - alarm->began, due = later(alarm->began, alarm->delay_in);
    if (alarm->cause != VD_HOLDS) {
        alarm->public.pended = so_far > alarm->public.pended ? so_far : alarm->public.pended;
        silence(watch, alarm, time, VD_AT_REST, VD_ALARM_DROPS);
    } else if (time >= due) {
        sound(watch, alarm, time);
    }
}

static void stand(vd_watch *watch, vd_watched_alarm *alarm, vd_ruling met, int64_t time)
{
    bool holds = watch->model->alarms[alarm->public.alarm].holds;
    if (holds && alarm->condition == VD_FAILS) { /* nothing changes; what has passed of the delay out is kept */
        alarm->spent += alarm->over_from != VD_NO_TIME ? time - alarm->over_from : 0;
        alarm->spent = met == VD_NOT_KNOWN ? 0 : alarm->spent;
        alarm->over_from = VD_NO_TIME;
        return;
    }
    if (alarm->cause != VD_FAILS) {
        alarm->over_from = VD_NO_TIME;
        alarm->spent = 0;
        return;
    }
    alarm->over_from = alarm->over_from != VD_NO_TIME ? alarm->over_from : time;
    if (time >= later(alarm->over_from, alarm->delay_out - alarm->spent)) {
        silence(watch, alarm, time, alarm->latches ? VD_GONE : VD_AT_REST, VD_ALARM_ENDS);
    }
}

static void clear(vd_watch *watch, vd_watched_alarm *alarm, int64_t time, uint8_t clearing)
{
    const vd_alarm *about = &watch->model->alarms[alarm->public.alarm];
    bool clears = alarm->public.state == VD_GONE || (alarm->public.state == VD_STANDING && about->clears_always);
    if (clears && alarm->latches && (about->cleared_by & clearing) != 0) {
        silence(watch, alarm, time, VD_AT_REST, VD_ALARM_CLEARED);
    }
}

/* ---- What is told besides ---- */

static void note_lost(vd_watch *watch, vd_watched_alarm *alarm, int64_t time)
{
    bool lost = alarm->cause == VD_NOT_KNOWN;
    if (lost && alarm->lost_from == VD_NO_TIME) {
        alarm->lost_from = time;
        tell(watch, alarm, VD_ALARM_LOST, time, time);
    } else if (!lost && alarm->lost_from != VD_NO_TIME) {
        alarm->public.unjudged += time - alarm->lost_from;
        tell(watch, alarm, VD_ALARM_KNOWN, time, alarm->lost_from);
        alarm->lost_from = VD_NO_TIME;
    }
}

static void note_near(const vd_watch *watch, vd_watched_alarm *alarm, vd_ruling met, int64_t time)
{
    const vd_level *level = &alarm->test.level;
    if (met == VD_NOT_KNOWN || alarm->condition != VD_HOLDS || level->way == VD_IS || alarm->longest != VD_NO_TIME) {
        return;
    }
    if (alarm->test.rate == VD_NONE) {
        int64_t distance = vd_level_distance(level, vd_watch_inputs(watch)[alarm->public.channel].number);
        if (alarm->public.near_at == VD_NO_TIME || distance < alarm->public.near) {
            alarm->public.near = distance;
            alarm->public.near_at = time;
        }
        return;
    }
    vd_ratio rate = vd_watch_rates(watch)[alarm->test.rate].rate;
    bool down = level->way == VD_FALLS || (level->way == VD_CHANGES && rate.number < 0);
    rate.number = down ? -rate.number : rate.number;
    if (alarm->public.near_at == VD_NO_TIME || vd_ratio_compare(rate, alarm->nearest) > 0) {
        alarm->nearest = rate;
        alarm->public.near_at = time;
    }
}

/* With which values of its channel nothing happens to an alarm, as it is now. */
static vd_calm_values stretch(const vd_watch *watch, const vd_watched_alarm *alarm)
{
    const vd_level *level = &alarm->test.level;
    const vd_input *input = &vd_watch_inputs(watch)[level->channel];
    bool waits = alarm->public.state == VD_PENDING || alarm->public.state == VD_STANDING;
    bool held = alarm->longest != VD_NO_TIME ? alarm->state == VD_HOLDS : waits;
    if (!level->known || !input->known || alarm->test.rate != VD_NONE) {
        return (vd_calm_values){1, 0};
    }
    vd_calm_values same = vd_level_stretch(level, input->number, held);
    bool near = alarm->public.near_at != VD_NO_TIME && alarm->public.near > 0 && alarm->condition == VD_HOLDS &&
                level->way != VD_IS;
    if (near && !vd_level_met(level, input->number, false)) { /* and it comes no closer than it did */
        same.low += same.low == level->low && same.low != -INT64_MAX ? alarm->public.near
                    : same.low == level->high + 1                    ? alarm->public.near - 1
                                                                     : 0;
        same.high -= same.high == level->high && same.high != INT64_MAX ? alarm->public.near
                     : same.high == level->low - 1                      ? alarm->public.near - 1
                                                                        : 0;
    }
    return same;
}

/* ---- One instant ---- */

void vd_alarm_step(vd_watch *watch, vd_watched_alarm *alarm, int64_t time, uint8_t clearing)
{
    int64_t hushed_until = later(alarm->restarted, alarm->hush);
    bool hushed = time < hushed_until, hush_ends = alarm->hushed && !hushed;
    bool waits = alarm->public.state == VD_PENDING || alarm->public.state == VD_STANDING;
    alarm->hushed = hushed;
    alarm->gate.next = INT64_MAX;
    vd_ruling condition = conditions(watch, alarm);
    alarm->condition = condition;
    if (alarm->longest != VD_NO_TIME) {
        add_up(alarm, vd_test_judge(watch, &alarm->test, alarm->state == VD_HOLDS), time);
    }
    vd_ruling met = judge(watch, alarm, waits);
    alarm->met = met != VD_HOLDS ? VD_NO_TIME : alarm->met != VD_NO_TIME ? alarm->met : time;
    alarm->cause = both(met, condition);
    note_near(watch, alarm, met, time);
    switch ((vd_alarm_state)alarm->public.state) {
    case VD_AT_REST: rest(watch, alarm, time, hush_ends, hushed); break;
    case VD_PENDING: pend(watch, alarm, time); break;
    case VD_STANDING: stand(watch, alarm, met, time); break;
    default:
        if (alarm->cause == VD_HOLDS) {
            alarm->public.state = VD_STANDING;
            alarm->stood_from = time;
            alarm->over_from = VD_NO_TIME;
            alarm->spent = 0;
            watch->moved = true;
            tell(watch, alarm, VD_ALARM_RETURNS, time, time);
        }
    }
    if (clearing != 0) {
        clear(watch, alarm, time, clearing);
    }
    if (waits && alarm->public.state != VD_PENDING && alarm->public.state != VD_STANDING) {
        met = judge(watch, alarm, false); /* from now on without release */
        alarm->met = met == VD_HOLDS ? alarm->met : VD_NO_TIME;
        alarm->cause = both(met, condition);
    }
    alarm->was = alarm->cause;
    note_lost(watch, alarm, time);
    if (alarm->public.state == VD_PENDING) {
        wake_at(alarm, later(alarm->began, alarm->delay_in));
    } else if (alarm->public.state == VD_STANDING && alarm->over_from != VD_NO_TIME) {
        wake_at(alarm, later(alarm->over_from, alarm->delay_out - alarm->spent));
    }
    if (hushed) {
        wake_at(alarm, hushed_until);
    }
    alarm->gate.stays = stretch(watch, alarm);
}

void vd_alarm_restart(vd_watch *watch, vd_watched_alarm *alarm, int64_t time)
{
    if (alarm->public.state != VD_AT_REST) {
        bool pended = alarm->public.state == VD_PENDING;
        silence(watch, alarm, time, VD_AT_REST, pended ? VD_ALARM_DROPS : VD_ALARM_CLEARED);
    }
    alarm->restarted = time;
    alarm->hushed = true; /* of no length too: what goes on at its end begins */
    alarm->over_from = alarm->sum_from = alarm->halt_from = alarm->met = VD_NO_TIME;
    alarm->spent = alarm->sum = 0;
    alarm->exceeded = false;
    alarm->state = VD_NOT_KNOWN;
    alarm->was = VD_FAILS;
}

void vd_alarm_join(vd_watch *watch, vd_watched_alarm *alarm, int64_t time)
{
    const vd_alarm *about = &watch->model->alarms[alarm->public.alarm];
    const vd_watched_alarm *all = vd_watch_alarms(watch);
    uint8_t standing = 0;
    for (uint8_t i = 0; i < about->member_count; i++) {
        standing = (uint8_t)(standing + (all[about->members[i]].public.state == VD_STANDING));
    }
    bool stands = about->joint == VD_ALL_OF ? standing == about->member_count : standing > 0;
    bool stood = alarm->public.state == VD_STANDING;
    if (stands && !stood) {
        alarm->began = time;
        sound(watch, alarm, time);
    } else if (!stands && stood) {
        silence(watch, alarm, time, VD_AT_REST, VD_ALARM_ENDS);
    }
}
