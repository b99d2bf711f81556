/* SPDX-License-Identifier: MIT
 * Counters: what adds up to a value, in the order that docs/intervals.md gives its steps. */
#include "parts.h"

static vd_count *count_of(const vd_course *course, uint16_t item)
{
    return &course->counts[course->place[item]];
}

static bool goes_on(const vd_item *item)
{
    return item->closed == VD_CLOSED_LOST || item->closed == VD_CLOSED_LATE;
}

/* The first case that rules, VD_NONE: the counter is off. */
static uint16_t ruling(vd_course *course, uint16_t i)
{
    const vd_counter *counter = vd_item_at(course, i)->counter;
    const vd_count *count = count_of(course, i);
    for (uint8_t k = 0; k < counter->case_count; k++) {
        uint16_t when = vd_index(counter->cases[k].when);
        if ((when != VD_NONE && !vd_sees(course, i, when)) || count->states[k] == VD_AMOUNT_NONE) {
            continue;
        }
        if (count->states[k] == VD_AMOUNT_NOT_KNOWN) {
            course->known = false;
            return VD_NONE;
        }
        if (count->values[k] != 0 || counter->cases[k].zero == VD_ZERO_ALWAYS) {
            return k;
        }
        if (counter->cases[k].zero == VD_ZERO_NONE) {
            return VD_NONE;
        }
    }
    return VD_NONE;
}

static bool is_always(const vd_count *count, uint16_t ruled)
{
    return ruled != VD_NONE && count->values[ruled] == 0;
}

static bool is_used_up(const vd_counter *counter, const vd_count *count)
{
    return counter->stops && counter->series_count > 0 && count->place >= counter->series_count;
}

static bool counts(const vd_counter *counter, const vd_count *count, uint16_t ruled)
{
    return count->kept || (ruled != VD_NONE && !is_always(count, ruled) && !is_used_up(counter, count));
}

static int64_t undrawn(const vd_counter *counter, const vd_count *count, uint16_t ruled)
{
    uint32_t last = counter->series_count - 1u;
    return counter->series_count == 0
               ? count->values[ruled]
               : count->values[counter->case_count + (count->place < last ? count->place : last)];
}

static int64_t value_of(const vd_counter *counter, const vd_count *count, uint16_t ruled)
{
    int64_t value = count->kept ? count->kept_value : undrawn(counter, count, ruled) + count->draw;
    return value > 0 ? value : 0;
}

static bool reached(const vd_counter *counter, const vd_count *count, uint16_t ruled)
{
    return count->sum > 0 && counts(counter, count, ruled) && count->sum >= value_of(counter, count, ruled);
}

/* A value of the series that is not known, where it comes to rule. */
static void look_at_series(vd_course *course, const vd_counter *counter, const vd_count *count, uint16_t ruled)
{
    uint32_t last = counter->series_count - 1u, k = count->place < last ? count->place : last;
    if (counter->series_count > 0 && counts(counter, count, ruled) &&
        count->states[counter->case_count + k] != VD_AMOUNT_KNOWN) {
        course->known = false;
    }
}

static void begin_again(const vd_counter *counter, vd_count *count)
{
    count->sum = 0;
    count->place = 0;
    count->kept = false;
    count->due = counter->at_once;
}

static void begin_next(const vd_counter *counter, vd_count *count, uint16_t ruled)
{
    count->sum = counter->carried ? count->sum - value_of(counter, count, ruled) : 0;
    count->place++;
    count->kept = false;
}

static void change_case(const vd_counter *counter, vd_count *count, uint16_t to)
{
    uint16_t from = count->ruled;
    count->ruled = to;
    if (from == to || counter->change == VD_CHANGE_GOES_ON) {
        return;
    }
    if (counter->change == VD_CHANGE_RESTARTS) {
        begin_again(counter, count);
    } else if (count->sum > 0 && counts(counter, count, from)) {
        int64_t old = value_of(counter, count, from);
        bool may = to != VD_NONE && !is_always(count, to) && !is_used_up(counter, count);
        count->kept = true;
        count->kept_value = old;
        if (counter->change == VD_CHANGE_SOONER && may && undrawn(counter, count, to) < old - count->sum) {
            count->sum = 0;
            count->kept = false;
        }
    }
}

void vd_counters_enter(vd_course *course)
{
    const vd_stretch *stretch = course->stretch;
    for (uint16_t i = 0; i < course->plan->item_count; i++) {
        const vd_item *item = vd_item_at(course, i);
        if (item->kind != VD_ITEM_COUNTER) {
            continue;
        }
        vd_count *count = count_of(course, i); /* its scale has room for all speeds and angles of the days */
        count->rate = item->counter->adds == VD_ADDS_SECONDS ? count->scale
                      : item->counter->adds == VD_ADDS_WAY
                          ? stretch->speed.number * (count->scale / stretch->speed.below)
                          : 0;
        count->turn =
            item->counter->adds == VD_ADDS_TURNING ? stretch->angle.number * (count->scale / stretch->angle.below) : 0;
    }
}

/* What passed since the second that was played before; in all of that the gate and the case were the same. */
static void add(vd_course *course, uint16_t i, vd_count *count, bool open, uint16_t rules)
{
    const vd_item *item = vd_item_at(course, i);
    const vd_counter *counter = item->counter;
    bool waits = item->closed == VD_CLOSED_LATE && !count->open && reached(counter, count, count->ruled);
    if (count->due || (waits && course->time > 0)) {
        return;
    }
    if (course->time > 0 && (count->open || goes_on(item)) && counts(counter, count, count->ruled)) {
        count->sum += count->before * (course->time - course->before) +
                      (counter->adds == VD_ADDS_TURNING ? count->turn_before * course->turns_before : 0);
    }
    if (counter->adds == VD_ADDS_EVENTS && (open || goes_on(item)) && counts(counter, count, rules) &&
        vd_sees(course, i, item->of[0])) {
        count->sum += count->scale;
    }
}

/* A first expiry that is due, `always`, and a sum that has reached its value. */
static bool expires(const vd_item *item, vd_count *count, bool open, bool done)
{
    const vd_counter *counter = item->counter;
    if (open && count->due && count->ruled != VD_NONE && !is_used_up(counter, count)) {
        count->due = false;
        if (!done) {
            count->sum = 0;
            count->place++;
        }
        return true;
    }
    if (done) {
        return true;
    }
    if (!count->kept && is_always(count, count->ruled)) {
        return open;
    }
    if (reached(counter, count, count->ruled) && (open || item->closed == VD_CLOSED_LOST)) {
        begin_next(counter, count, count->ruled);
        return open;
    }
    return false;
}

void vd_counter_play(vd_course *course, uint16_t i)
{
    const vd_item *item = vd_item_at(course, i);
    const vd_counter *counter = item->counter;
    vd_count *count = count_of(course, i);
    bool open = vd_gate_is_open(course, i), done = false;
    uint16_t rules = ruling(course, i);
    if (course->time == 0) {
        count->ruled = rules;
    }
    course->known = course->known && !course->parts[i].unknown;
    uint16_t before = count->ruled;
    look_at_series(course, counter, count, before);
    add(course, i, count, open, rules);
    if (!counter->new_edge && course->time > 0 && count->open && reached(counter, count, count->ruled)) {
        done = true;
        begin_next(counter, count, count->ruled);
    }
    change_case(counter, count, rules);
    if (!open && item->closed == VD_CLOSED_RESTARTS) {
        begin_again(counter, count);
    }
    uint16_t by = done ? before : rules;
    course->parts[i].now = expires(item, count, open, done);
    count->open = open;
    if (course->parts[i].now && by != VD_NONE && course->time >= course->plan->uncounted) {
        count->runs[by].expired++;
    }
}

vd_case_run vd_counter_case(const vd_course *course, uint16_t i, uint16_t k, int64_t to)
{
    const vd_count *count = count_of(course, i);
    int64_t counts_from = course->plan->uncounted, from = count->held_at > counts_from ? count->held_at : counts_from;
    vd_case_run run = count->runs[k];
    if (count->rules == k) {
        run.held += to > from ? (uint64_t)(to - from) : 0;
        run.longest = to - count->ruled_at > run.longest ? to - count->ruled_at : run.longest;
    }
    return run;
}

void vd_counter_note(vd_course *course, uint16_t i, int64_t to)
{
    vd_count *count = count_of(course, i);
    if (count->rules != VD_NONE) {
        count->runs[count->rules] = vd_counter_case(course, i, count->rules, to);
    }
    count->held_at = to;
}

/* Another case rules from now on. */
static void note_ruling(vd_course *course, uint16_t i, vd_count *count)
{
    if (count->rules != count->ruled) {
        vd_counter_note(course, i, course->time);
        count->rules = count->ruled;
        count->ruled_at = course->time;
    }
}

void vd_counter_settle(vd_course *course, uint16_t i)
{
    const vd_item *item = vd_item_at(course, i);
    vd_count *count = count_of(course, i);
    count->open = vd_gate_is_open(course, i);
    change_case(item->counter, count, ruling(course, i));
    if (!count->open && item->closed == VD_CLOSED_RESTARTS) {
        begin_again(item->counter, count);
    }
    for (uint8_t k = 0; k < item->clear_count; k++) {
        if (course->parts[item->clears[k]].now) {
            count->sum = 0;
            count->place = 0;
            count->kept = false;
        }
    }
    note_ruling(course, i, count);
    count->before = count->rate;
    count->turn_before = count->turn;
}

int64_t vd_counter_wake(const vd_course *course, uint16_t i)
{
    const vd_item *item = vd_item_at(course, i);
    const vd_counter *counter = item->counter;
    const vd_count *count = count_of(course, i);
    uint16_t ruled = count->ruled;
    bool first = count->due && ruled != VD_NONE && !is_used_up(counter, count);
    bool always = !count->kept && is_always(count, ruled);
    bool has = reached(counter, count, ruled);
    if ((count->open && (first || always || has)) || (has && item->closed == VD_CLOSED_LOST)) {
        return course->time + 1;
    }
    if (count->due || has || !(count->open || goes_on(item)) || !counts(counter, count, ruled)) {
        return VD_NEVER;
    }
    if (counter->adds == VD_ADDS_TURNING) {
        bool now = vd_spread_in(course, course->stretch->turns, course->time) > 0;
        int64_t next = vd_spread_behind(course, course->stretch->turns);
        return now ? course->time + 1 : next != VD_NEVER ? next + 1 : VD_NEVER;
    }
    int64_t left = value_of(counter, count, ruled) - count->sum;
    return count->rate > 0 ? course->time + (left > count->rate ? (left + count->rate - 1) / count->rate : 1)
                           : VD_NEVER;
}
