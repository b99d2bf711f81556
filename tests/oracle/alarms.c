/* SPDX-License-Identifier: MIT */
#include "alarms.h"

#include <string.h>

typedef enum truth3 { NO, YES, DUNNO } truth3;
enum { REST, PENDING, STANDING, GONE };

typedef struct world {
    const ref_case *c;
    ref_row rows[REF_ROWS]; /* those kept */
    int row_count, replaced, left_out;
    truth3 condition[2];
    struct {
        int state, began, over, halt, sum, started;
        bool exceeded, lost;
        truth3 going, before;
    } a[REF_ALARMS + 1];
    ref_result *out;
} world;

static void keep_rows(world *w)
{
    for (int i = 0; i < w->c->row_count; i++) {
        const ref_row *row = &w->c->rows[i];
        ref_row *last = w->row_count > 0 ? &w->rows[w->row_count - 1] : NULL;
        if (last != NULL && row->time == last->time) {
            *last = *row;
            w->replaced++;
        } else if (last != NULL && row->time < last->time) {
            w->left_out++;
        } else {
            w->rows[w->row_count++] = *row;
        }
    }
}

/* The latest row at or before a time that has a cell for the channel, -1: none. */
static int latest(const world *w, int channel, int time)
{
    int found = -1;
    for (int i = 0; i < w->row_count && w->rows[i].time <= time; i++) {
        found = w->rows[i].cell[channel] != 0 ? i : found;
    }
    return found;
}

static bool value_at(const world *w, int channel, int time, int *value)
{
    int row = latest(w, channel, time);
    *value = row >= 0 ? w->rows[row].value[channel] : 0;
    return row >= 0 && w->rows[row].cell[channel] == 2 && time < w->rows[row].time + w->c->holds_for[channel];
}

static bool is_rate(int way)
{
    return way >= REF_RISES;
}

/* What is compared with the limit, as a fraction: value / below. */
static bool input_at(const world *w, const ref_test *test, int time, long *value, long *below)
{
    int now = 0, then = 0;
    if (!value_at(w, test->channel, time, &now)) {
        return false;
    }
    *value = now;
    *below = 1;
    if (!is_rate(test->way)) {
        return true;
    }
    int row_time = w->rows[latest(w, test->channel, time)].time;
    int past = latest(w, test->channel, row_time - test->within);
    if (past < 0 || w->rows[past].time < row_time - 2 * test->within) {
        return false;
    }
    for (int t = w->rows[past].time; t < row_time; t++) {
        int unused = 0;
        if (!value_at(w, test->channel, t, &unused)) {
            return false;
        }
    }
    value_at(w, test->channel, w->rows[past].time, &then);
    *value = (long)(now - then) * test->per;
    *below = row_time - w->rows[past].time;
    if (test->way == REF_FALLS || (test->way == REF_CHANGES && *value < 0)) {
        *value = -*value;
    }
    return true;
}

/* The limits as they are at this time. */
static bool limits_at(const world *w, const ref_test *test, int time, ref_test *now)
{
    int more = 0;
    bool known = test->beside < 0 || value_at(w, test->beside, time, &more);
    *now = *test;
    now->limit += more;
    now->upper += more;
    return known;
}

static truth3 met(const world *w, const ref_test *test, int time)
{
    long x = 0, below = 1;
    ref_test now;
    if (!input_at(w, test, time, &x, &below) || !limits_at(w, test, time, &now)) {
        return DUNNO;
    }
    switch (test->way) {
    case REF_BELOW: return x < now.limit;
    case REF_OUTSIDE: return x < now.limit || x > now.upper;
    case REF_INSIDE: return x >= now.limit && x <= now.upper;
    case REF_IS: return x == now.limit;
    default: return x > now.limit * below;
    }
}

static truth3 over(const world *w, const ref_test *test, int time)
{
    long x = 0, below = 1, h = test->release;
    ref_test now;
    if (!input_at(w, test, time, &x, &below) || !limits_at(w, test, time, &now)) {
        return DUNNO;
    }
    switch (test->way) {
    case REF_BELOW: return x >= now.limit + h;
    case REF_OUTSIDE: return x >= now.limit + h && x <= now.upper - h;
    case REF_INSIDE: return x < now.limit - h || x > now.upper + h;
    case REF_IS: return x != now.limit;
    default: return x <= (now.limit - h) * below;
    }
}

static truth3 not(truth3 a)
{
    return a == DUNNO ? DUNNO : a == NO ? YES : NO;
}

static truth3 and (truth3 a, truth3 b)
{
    return a == NO || b == NO ? NO : a == YES && b == YES ? YES : DUNNO;
}

static truth3 or (truth3 a, truth3 b)
{
    return not(and(not(a), not(b)));
}

static void emit(world *w, int alarm, int what, int time, int since)
{
    if (w->out->event_count < REF_EVENTS) {
        w->out->events[w->out->event_count++] = (ref_event){alarm, what, time, what == REF_SOUNDS ? since : 0};
    }
}

static void go(world *w, int alarm, int state, int what, int time)
{
    w->a[alarm].state = state;
    w->a[alarm].over = 0;
    emit(w, alarm, what, time, w->a[alarm].began);
}

static void restart(world *w, int time, bool first)
{
    for (int i = 0; i <= REF_ALARMS; i++) {
        if (!first && w->a[i].state != REST) {
            emit(w, i, w->a[i].state == PENDING ? REF_DROPS : REF_CLEARED, time, 0);
        }
        bool lost = w->a[i].lost;
        memset(&w->a[i], 0, sizeof w->a[i]);
        w->a[i].started = time;
        w->a[i].lost = lost;
    }
    w->condition[0] = w->condition[1] = NO;
}

static truth3 conditions_of(const world *w, const ref_alarm *alarm)
{
    truth3 all = YES, any = NO;
    for (int i = 0; i < alarm->condition_count; i++) {
        all = and(all, w->condition[alarm->conditions[i]]);
        any = or (any, w->condition[alarm->conditions[i]]);
    }
    return alarm->condition_count == 0 ? YES : alarm->any ? any : all;
}

/* The longest without in place of "met"; one millisecond is added for the one that begins now. */
static truth3 exceeded(world *w, int i, int time)
{
    const ref_alarm *alarm = &w->c->alarms[i];
    truth3 going = w->a[i].going == YES ? not(over(w, &alarm->test, time)) : met(w, &alarm->test, time);
    w->a[i].going = going;
    if (going != NO) {
        w->a[i].halt = 0;
    }
    if (going == NO && w->a[i].halt >= alarm->rest) {
        w->a[i].sum = 0;
        w->a[i].exceeded = false;
    }
    if (going == YES && w->a[i].sum >= alarm->longest) {
        w->a[i].exceeded = true;
    }
    w->a[i].sum += going == YES;
    w->a[i].halt += going == NO;
    return going == DUNNO ? DUNNO : w->a[i].exceeded;
}

static void note_near(world *w, int i, truth3 condition, int time)
{
    const ref_test *test = &w->c->alarms[i].test;
    int x = 0, apart = 0;
    ref_test now;
    if (condition != YES || is_rate(test->way) || test->way == REF_IS || w->c->alarms[i].longest >= 0 ||
        !value_at(w, test->channel, time, &x) || !limits_at(w, test, time, &now)) {
        return;
    }
    int to_limit = x > now.limit ? x - now.limit : now.limit - x;
    int to_upper = x > now.upper ? x - now.upper : now.upper - x;
    bool pair = test->way == REF_OUTSIDE || test->way == REF_INSIDE;
    apart = met(w, test, time) == YES ? 0 : pair && to_upper < to_limit ? to_upper : to_limit;
    if (w->out->near[i] < 0 || apart < w->out->near[i]) {
        w->out->near[i] = apart;
    }
}

static void one(world *w, int i, int time, int clears)
{
    const ref_alarm *alarm = &w->c->alarms[i];
    int hush_end = w->a[i].started + alarm->hush;
    truth3 condition = conditions_of(w, alarm);
    truth3 plain = alarm->longest >= 0 ? exceeded(w, i, time) : met(w, &alarm->test, time);
    truth3 held = alarm->longest >= 0 ? plain : not(over(w, &alarm->test, time));
    truth3 at_rest = and(plain, condition), active = and(held, condition);
    note_near(w, i, condition, time);
    if (w->a[i].state == REST) {
        bool begins = at_rest == YES && (w->a[i].before != YES || time == hush_end) && time >= hush_end;
        if (begins) {
            w->a[i].began = time;
            go(w, i, alarm->delay_in > 0 ? PENDING : STANDING, alarm->delay_in > 0 ? REF_PENDS : REF_SOUNDS, time);
        }
    } else if (w->a[i].state == PENDING) {
        if (active != YES) {
            go(w, i, REST, REF_DROPS, time);
        } else if (time - w->a[i].began >= alarm->delay_in) {
            go(w, i, STANDING, REF_SOUNDS, time);
        }
    } else if (w->a[i].state == STANDING) {
        bool paused = alarm->holds && condition == NO;
        if (paused) {
            w->a[i].over = plain == DUNNO ? 0 : w->a[i].over;
        } else if (active != NO) {
            w->a[i].over = 0;
        } else if (w->a[i].over >= alarm->delay_out) {
            go(w, i, alarm->latches ? GONE : REST, REF_ENDS, time);
        } else {
            w->a[i].over++;
        }
    } else if (at_rest == YES) {
        go(w, i, STANDING, REF_RETURNS, time);
    }
    bool can = w->a[i].state == GONE || (w->a[i].state == STANDING && alarm->always);
    if (can && alarm->latches && (clears & alarm->cleared_by) != 0) {
        go(w, i, REST, REF_CLEARED, time);
    }
    w->a[i].before = at_rest;
    bool waits = w->a[i].state == PENDING || w->a[i].state == STANDING;
    bool lost = (waits ? active : at_rest) == DUNNO;
    if (lost != w->a[i].lost) {
        w->a[i].lost = lost;
        emit(w, i, lost ? REF_LOST : REF_KNOWN, time, 0);
    }
}

void ref_run(const ref_case *c, ref_result *result)
{
    static world w;
    memset(&w, 0, sizeof w);
    memset(result, 0, sizeof *result);
    w.c = c;
    w.out = result;
    result->near[0] = result->near[1] = result->near[2] = -1;
    keep_rows(&w);
    result->replaced = w.replaced;
    result->left_out = w.left_out;
    for (int t = w.rows[0].time; t <= w.rows[w.row_count - 1].time; t++) {
        bool first = t == w.rows[0].time, again = false;
        int clears = 0, standing = 0;
        for (int i = 0; i < c->mark_count; i++) {
            again = again || (c->marks[i].time == t && c->marks[i].clears == 0);
            clears |= c->marks[i].time == t ? c->marks[i].clears : 0;
        }
        if (first || again) {
            restart(&w, t, first);
        }
        for (int i = 0; i < 2; i++) {
            w.condition[i] =
                w.condition[i] == YES ? not(over(&w, &c->conditions[i], t)) : met(&w, &c->conditions[i], t);
        }
        for (int i = 0; i < c->alarm_count; i++) {
            one(&w, i, t, clears);
            standing += w.a[i].state == STANDING;
        }
        bool stands = c->joint == 1 ? standing == c->alarm_count : standing > 0;
        if (c->joint != 0 && stands != (w.a[REF_ALARMS].state == STANDING)) {
            w.a[REF_ALARMS].began = t;
            go(&w, REF_ALARMS, stands ? STANDING : REST, stands ? REF_SOUNDS : REF_ENDS, t);
        }
    }
}
