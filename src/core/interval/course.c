/* SPDX-License-Identifier: MIT
 * The course: one second as docs/intervals.md has it, then a leap to the next in which something may happen. Between
 * the two nothing does, but that sums grow evenly. */
#include "parts.h"

/* Facts that only put others together, or say what is given, are others only where those are. */
static bool may_be_another(const vd_course *course, uint16_t i)
{
    const vd_item *item = vd_item_at(course, i);
    switch (item->kind) {
    case VD_ITEM_ALL:
    case VD_ITEM_ANY:
    case VD_ITEM_NOT: break;
    case VD_ITEM_GIVEN: return course->entered;
    case VD_ITEM_FIXED: return course->time == 0;
    default: return true;
    }
    bool another = course->time == 0;
    for (uint8_t k = 0; k < item->of_count && !another; k++) {
        const vd_part *of = &course->parts[item->of[k]];
        another = item->of[k] < i ? of->now != of->held : of->turned;
    }
    return another;
}

/* A fact is judged again only where something may have changed for it: from outside, by itself, by an event or a store
 * that a fact is about, or by what stood below. */
static void play(vd_course *course, uint16_t i)
{
    const vd_part *part = &course->parts[i];
    if (vd_part_is_fact(part)) {
        if (course->stirred && may_be_another(course, i)) {
            vd_fact_judge(course, i);
        }
        return;
    }
    if (part->kind == VD_ITEM_STORE) {
        const vd_stock *stock = &course->stocks[course->place[i]];
        vd_store_play(course, i);
        course->stirred = course->stirred || (part->heard_below && stock->content != stock->was);
        return;
    }
    if (part->kind == VD_ITEM_COUNTER) {
        vd_counter_play(course, i);
    } else {
        vd_event_play(course, i);
    }
    course->stirred = course->stirred || (part->now && part->heard_below);
    course->recalled = course->recalled || (part->now && part->heard_above);
}

static void judge_again(vd_course *course)
{
    for (uint16_t i = 0; i < course->plan->item_count && course->recalled; i++) {
        if (vd_part_is_fact(&course->parts[i])) {
            vd_fact_judge(course, i);
        }
    }
}

static void play_all(vd_course *course)
{
    const vd_course_plan *plan = course->plan;
    course->again = course->recalled = false;
    for (uint16_t i = 0; i < plan->item_count; i++) {
        play(course, i);
    }
    course->again = true;
    judge_again(course);
    for (uint16_t i = 0; i < plan->item_count; i++) {
        if (course->parts[i].judged) {
            vd_fact_settle(course, i);
        } else if (course->parts[i].kind == VD_ITEM_COUNTER) {
            vd_counter_settle(course, i);
        }
    }
}

/* What was judged now is what held; whether any of it is another than before. */
static bool settle_all(vd_course *course)
{
    const vd_course_plan *plan = course->plan;
    bool other = false;
    for (uint16_t i = 0; i < plan->item_count; i++) {
        vd_part *part = &course->parts[i];
        if (vd_part_is_fact(part)) {
            part->turned = part->now != part->held;
            other = other || part->turned;
            part->held = part->now;
        } else if (part->kind == VD_ITEM_STORE) {
            vd_stock *stock = &course->stocks[course->place[i]];
            other = other || stock->content != stock->was;
            stock->was = stock->content;
        } else if (part->now && course->time >= plan->uncounted) {
            part->count++;
        }
    }
    return other;
}

static int64_t wake_of(const vd_course *course, uint16_t i)
{
    uint8_t kind = course->parts[i].kind;
    return kind <= VD_ITEM_FIXED || kind == VD_ITEM_STORE ? VD_NEVER
           : kind == VD_ITEM_COUNTER                      ? vd_counter_wake(course, i)
                                                          : vd_event_wake(course, i);
}

/* The next second in which a fact may be another by itself. */
static int64_t facts_wake(const vd_course *course)
{
    int64_t next = VD_NEVER;
    for (uint16_t i = 0; i < course->plan->item_count; i++) {
        int64_t wake = vd_fact_wakes(&course->parts[i]) ? vd_fact_wake(course, i) : VD_NEVER;
        next = wake < next ? wake : next;
    }
    return next;
}

/* The next second in which something may happen. */
static int64_t next_time(vd_course *course, bool other)
{
    course->facts_next = course->stirred || course->recalled ? facts_wake(course) : course->facts_next;
    int64_t next = course->stretch_to < course->facts_next ? course->stretch_to : course->facts_next;
    course->below = other && course->backward; /* an item sees it only now that it has ended so */
    next = course->below ? course->time + 1 : next;
    for (uint16_t i = 0; i < course->plan->item_count && next > course->time + 1; i++) {
        int64_t wake = wake_of(course, i);
        next = wake < next ? wake : next;
    }
    return next;
}

bool vd_course_next(vd_course *course)
{
    if (course->next >= course->end || !course->known) {
        return false;
    }
    course->before = course->time;
    course->time = course->next;
    course->turns_before =
        course->started ? vd_spread_in(course, course->stretch->turns, course->time - 1) : 0; /* of what it was in */
    bool entered = vd_days_enter(course);
    if (entered) {
        vd_facts_enter(course);
        vd_counters_enter(course);
    }
    course->entered = entered;
    course->stirred = entered || course->below || course->time >= course->facts_next;
    play_all(course);
    if (course->bills != NULL && course->time >= course->plan->uncounted) {
        vd_bills_note(course);
    }
    course->next = next_time(course, settle_all(course));
    return course->known;
}

int64_t vd_course_due(const vd_course *course)
{
    return course->next;
}

int64_t vd_course_time(const vd_course *course)
{
    return course->time;
}

bool vd_course_happened(const vd_course *course, uint16_t item)
{
    return course->parts[item].now;
}

bool vd_course_holds(const vd_course *course, uint16_t item)
{
    return course->parts[item].held;
}

uint16_t vd_course_rules(const vd_course *course, uint16_t item)
{
    return course->counts[course->place[item]].ruled;
}

uint32_t vd_course_content(const vd_course *course, uint16_t item)
{
    return course->stocks[course->place[item]].content;
}

bool vd_course_is_known(const vd_course *course)
{
    return course->known;
}

/* What was played, and what follows evenly. */
static int64_t played_to(const vd_course *course)
{
    return course->next < course->end ? course->next : course->end;
}

vd_case_sum vd_course_case(const vd_course *course, uint16_t item, uint16_t k)
{
    vd_case_run run = vd_counter_case(course, item, k, played_to(course));
    return (vd_case_sum){run.held, run.expired, (uint64_t)run.longest};
}

vd_item_sum vd_course_sum(const vd_course *course, uint16_t i)
{
    const vd_item *item = vd_item_at(course, i);
    const vd_part *part = &course->parts[i];
    vd_item_sum sum = {.age = 0, .full_at = -1};
    int64_t to = played_to(course);
    if (vd_item_is_fact(item)) {
        sum.held = vd_fact_seconds(course, i, to);
    } else if (item->kind == VD_ITEM_STORE) {
        const vd_stock *stock = &course->stocks[course->place[i]];
        sum.taken = stock->taken;
        sum.packets = stock->packets;
        sum.lost = stock->lost;
        sum.most = stock->most;
        sum.full_at = stock->full_at;
        sum.age = vd_stock_age(stock, to - 1);
    } else {
        sum.happened = part->count;
    }
    return sum;
}
