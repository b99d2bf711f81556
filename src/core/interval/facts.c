/* SPDX-License-Identifier: MIT
 * Facts: whether each is true in a second, and when it may be otherwise. */
#include "parts.h"

bool vd_sees(const vd_course *course, uint16_t from, uint16_t of)
{
    const vd_part *part = &course->parts[of];
    if (vd_part_is_fact(part)) {
        return of < from ? part->now : part->held;
    }
    return (of < from || course->again) && part->now;
}

bool vd_gate_is_open(const vd_course *course, uint16_t item)
{
    uint16_t gate = vd_index(vd_item_at(course, item)->gate);
    return gate == VD_NONE || vd_sees(course, item, gate);
}

static bool compares(const vd_item *item, int order)
{
    switch (item->side) {
    case VD_SIDE_ABOVE: return order > 0;
    case VD_SIDE_BELOW: return order < 0;
    case VD_SIDE_AT_LEAST: return order >= 0;
    default: return order <= 0;
    }
}

void vd_facts_enter(vd_course *course)
{
    for (uint16_t i = 0; i < course->plan->item_count; i++) {
        const vd_item *item = vd_item_at(course, i);
        vd_part *part = &course->parts[i];
        if (item->kind == VD_ITEM_GIVEN) {
            vd_amount wired = vd_amount_of(course->plan, item->wired);
            bool connected = wired.state != VD_AMOUNT_KNOWN || wired.ratio.number != 0;
            part->input = connected ? course->stretch->given[item->input] : item->reads;
        } else if (item->kind == VD_ITEM_COMPARE && item->compared != VD_COMPARED_STORE) {
            vd_amount limit = vd_amount_of(course->plan, item->amount);
            vd_ratio x =
                item->compared == VD_COMPARED_SPEED ? course->stretch->speed : course->stretch->quantities[item->input];
            part->input = limit.state == VD_AMOUNT_KNOWN && compares(item, vd_ratio_compare(x, limit.ratio));
        }
    }
}

static bool holds_by_clock(const vd_course *course, const vd_item *item, const vd_part *part)
{
    unsigned days = item->weekdays != 0 ? item->weekdays : 0x7F;
    bool today = (days >> course->weekday & 1u) != 0, yesterday = (days >> (course->weekday + 6u) % 7u & 1u) != 0;
    int64_t from = part->span, to = part->other;
    if (part->none || from == to) {
        return false;
    }
    return from < to ? today && course->clock >= from && course->clock < to
                     : (today && course->clock >= from) || (yesterday && course->clock < to);
}

static bool compares_store(const vd_course *course, uint16_t i, const vd_item *item)
{
    const vd_stock *stock = &course->stocks[course->place[item->of[0]]];
    vd_amount limit = vd_amount_of(course->plan, item->amount);
    vd_ratio content = {item->of[0] < i ? stock->content : stock->was, 1};
    return limit.state == VD_AMOUNT_KNOWN && compares(item, vd_ratio_compare(content, limit.ratio));
}

/* The begin and the end of what it is about are those of what held: they are kept once it is judged again. */
static bool holds_for_a_time(const vd_course *course, const vd_item *item, vd_part *part, bool x)
{
    bool fact = vd_item_is_fact(vd_item_at(course, item->of[0]));
    bool begins = item->kind == VD_ITEM_LASTED ? x && !part->saw : fact ? !x && part->saw : x;
    part->next_saw = x;
    part->next_since = begins ? course->time : part->since;
    part->next_ever = part->ever || begins;
    if (part->none) {
        return false;
    }
    if (item->kind == VD_ITEM_LASTED) {
        return x && course->time - part->next_since >= part->span;
    }
    return (fact && x) || (part->next_ever && course->time - part->next_since < part->span);
}

static bool any_of(const vd_course *course, uint16_t i, const uint16_t *of, uint8_t count)
{
    for (uint8_t k = 0; k < count; k++) {
        if (vd_sees(course, i, of[k])) {
            return true;
        }
    }
    return false;
}

static bool all_of(const vd_course *course, uint16_t i, const vd_item *item)
{
    for (uint8_t k = 0; k < item->of_count; k++) {
        if (!vd_sees(course, i, item->of[k])) {
            return false;
        }
    }
    return true;
}

void vd_fact_judge(vd_course *course, uint16_t i)
{
    const vd_item *item = vd_item_at(course, i);
    vd_part *part = &course->parts[i];
    bool x = item->kind >= VD_ITEM_ANY && item->kind <= VD_ITEM_SET_BY && any_of(course, i, item->of, item->of_count);
    bool timed = item->kind == VD_ITEM_LASTED || item->kind == VD_ITEM_WITHIN;
    part->judged = true;
    course->known = course->known && !(part->unknown && (!timed || x || part->saw || part->ever));
    switch (item->kind) {
    case VD_ITEM_GIVEN: part->now = part->input; break;
    case VD_ITEM_CLOCK: part->now = holds_by_clock(course, item, part); break;
    case VD_ITEM_COMPARE:
        part->now = item->compared == VD_COMPARED_STORE ? compares_store(course, i, item) : part->input;
        break;
    case VD_ITEM_ALL: part->now = all_of(course, i, item); break;
    case VD_ITEM_ANY: part->now = x; break;
    case VD_ITEM_NOT: part->now = !x; break;
    case VD_ITEM_SET_BY: part->now = !any_of(course, i, item->clears, item->clear_count) && (x || part->held); break;
    case VD_ITEM_FIXED: part->now = part->span != 0; break;
    default: part->now = holds_for_a_time(course, item, part, x); break;
    }
}

uint64_t vd_fact_seconds(const vd_course *course, uint16_t i, int64_t to)
{
    const vd_part *part = &course->parts[i];
    int64_t counts_from = course->plan->uncounted, from = part->holds_at > counts_from ? part->holds_at : counts_from;
    return part->count + (part->held && to > from ? (uint64_t)(to - from) : 0);
}

void vd_fact_settle(vd_course *course, uint16_t i)
{
    vd_part *part = &course->parts[i];
    part->judged = false;
    if (part->kind == VD_ITEM_LASTED || part->kind == VD_ITEM_WITHIN) {
        part->saw = part->next_saw;
        part->since = part->next_since;
        part->ever = part->next_ever;
    }
    if (part->now && !part->held) {
        part->holds_at = course->time;
    } else if (!part->now && part->held) {
        part->count = vd_fact_seconds(course, i, course->time);
    }
}

/* Cleared by an event, though a fact that sets it is true: it will be again. */
static bool is_cleared_for_now(const vd_course *course, const vd_item *item, const vd_part *part)
{
    bool set = false, clear = false;
    for (uint8_t k = 0; k < item->of_count; k++) {
        set = set || (vd_item_is_fact(vd_item_at(course, item->of[k])) && course->parts[item->of[k]].now);
    }
    for (uint8_t k = 0; k < item->clear_count; k++) {
        clear = clear || (vd_item_is_fact(vd_item_at(course, item->clears[k])) && course->parts[item->clears[k]].now);
    }
    return set && !clear && !part->now;
}

int64_t vd_fact_wake(const vd_course *course, uint16_t i)
{
    const vd_part *part = &course->parts[i];
    const vd_item *item = vd_item_at(course, i);
    if (item->kind == VD_ITEM_CLOCK && !part->none && part->span != part->other) {
        int64_t from = vd_clock_until(course, part->span), to = vd_clock_until(course, part->other);
        return course->time + (from < to ? from : to);
    }
    if (item->kind == VD_ITEM_SET_BY && is_cleared_for_now(course, item, part)) {
        return course->time + 1;
    }
    bool lasts = item->kind == VD_ITEM_LASTED && part->saw && !part->now;
    bool ends = item->kind == VD_ITEM_WITHIN && part->now && part->ever;
    return (lasts || ends) && !part->none && part->since + part->span > course->time ? part->since + part->span
                                                                                     : VD_NEVER;
}
