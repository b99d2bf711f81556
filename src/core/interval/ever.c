/* SPDX-License-Identifier: MIT
 * What can never be, on any day: facts that cannot be true, events that cannot happen, cases that cannot rule. What
 * days give, clocks and draws may be anything. */
#include "parts.h"

uint8_t vd_may_of_others(const uint8_t *may, const vd_item *item)
{
    uint8_t any = 0, all = VD_MAY_BE_TRUE | VD_MAY_BE_FALSE;
    for (uint8_t k = 0; k < item->of_count; k++) {
        any |= may[item->of[k]];
        all &= may[item->of[k]];
    }
    if (item->kind == VD_ITEM_NOT) {
        return (uint8_t)((any & VD_MAY_BE_TRUE ? VD_MAY_BE_FALSE : 0u) | (any & VD_MAY_BE_FALSE ? VD_MAY_BE_TRUE : 0u));
    }
    return item->kind == VD_ITEM_ALL ? (uint8_t)((all & VD_MAY_BE_TRUE) | (any & VD_MAY_BE_FALSE))
                                     : (uint8_t)((any & VD_MAY_BE_TRUE) | (all & VD_MAY_BE_FALSE));
}

static bool is_known_zero(vd_amount amount)
{
    return amount.state == VD_AMOUNT_KNOWN && amount.ratio.number == 0;
}

/* A case that rules whenever it is come to: those below it never do. */
static bool has_value(const vd_course_plan *plan, const vd_counter *counter, uint16_t k)
{
    vd_amount value = vd_value_of_case(plan, counter, k);
    return value.state == VD_AMOUNT_KNOWN && (value.ratio.number != 0 || counter->cases[k].zero != VD_ZERO_LEAVES);
}

vd_never vd_case_never(const vd_course_plan *plan, const uint8_t *may, uint16_t item, uint16_t k)
{
    const vd_item *about = &plan->items[item];
    const vd_case *one = &about->counter->cases[k];
    vd_amount value = vd_value_of_case(plan, about->counter, k);
    uint16_t when = vd_index(one->when), gate = vd_index(about->gate);
    if (value.state == VD_AMOUNT_NONE || (is_known_zero(value) && one->zero != VD_ZERO_ALWAYS)) {
        return (vd_never){value.state == VD_AMOUNT_NONE ? VD_NEVER_NONE : VD_NEVER_ZERO, VD_NONE};
    }
    if (when != VD_NONE && (may[when] & VD_MAY_BE_TRUE) == 0) {
        return (vd_never){VD_NEVER_WHILE, when};
    }
    for (uint16_t above = 0; above < k; above++) {
        uint16_t holds = vd_index(about->counter->cases[above].when);
        if (has_value(plan, about->counter, above) && (holds == VD_NONE || (may[holds] & VD_MAY_BE_FALSE) == 0)) {
            return (vd_never){VD_NEVER_ABOVE, above};
        }
    }
    bool shut = gate != VD_NONE && (may[gate] & VD_MAY_BE_TRUE) == 0;
    return (vd_never){shut ? VD_NEVER_GATE : VD_NEVER_NOT, shut ? gate : VD_NONE};
}

static bool counts_at_all(const vd_course_plan *plan, const uint8_t *may, uint16_t i)
{
    const vd_item *item = &plan->items[i];
    bool adds = item->counter->adds != VD_ADDS_EVENTS || (may[item->of[0]] & VD_MAY_BE_TRUE) != 0;
    bool counts = false;
    for (uint16_t k = 0; k < item->counter->case_count; k++) {
        bool comes = adds || item->counter->at_once || is_known_zero(vd_value_of_case(plan, item->counter, k));
        counts = counts || (comes && vd_case_never(plan, may, i, k).why == VD_NEVER_NOT);
    }
    return counts;
}

static uint8_t may_of_fact(const vd_course_plan *plan, const uint8_t *may, const vd_item *item)
{
    vd_amount amount = vd_amount_of(plan, item->amount), wired = vd_amount_of(plan, item->wired);
    uint8_t any = 0;
    for (uint8_t k = 0; k < item->of_count; k++) {
        any |= may[item->of[k]];
    }
    switch (item->kind) {
    case VD_ITEM_GIVEN: return !is_known_zero(wired) ? VD_MAY_BE_BOTH : item->reads ? VD_MAY_BE_TRUE : VD_MAY_BE_FALSE;
    case VD_ITEM_FIXED:
        return amount.state == VD_AMOUNT_NOT_KNOWN                       ? VD_MAY_BE_BOTH
               : is_known_zero(amount) || amount.state == VD_AMOUNT_NONE ? VD_MAY_BE_FALSE
                                                                         : VD_MAY_BE_TRUE;
    case VD_ITEM_ALL:
    case VD_ITEM_ANY:
    case VD_ITEM_NOT: return vd_may_of_others(may, item);
    case VD_ITEM_LASTED:
    case VD_ITEM_WITHIN:
    case VD_ITEM_SET_BY:
        return amount.state == VD_AMOUNT_NONE && item->kind != VD_ITEM_SET_BY
                   ? VD_MAY_BE_FALSE
                   : (uint8_t)((any & VD_MAY_BE_TRUE) | VD_MAY_BE_FALSE);
    default: return VD_MAY_BE_BOTH;
    }
}

static uint8_t may_of_event(const vd_course_plan *plan, const uint8_t *may, uint16_t i)
{
    const vd_item *item = &plan->items[i];
    uint16_t gate = vd_index(item->gate);
    bool open = gate == VD_NONE || (may[gate] & VD_MAY_BE_TRUE) != 0;
    bool any = false;
    for (uint8_t k = 0; k < item->of_count; k++) {
        any = any || (may[item->of[k]] & (item->kind == VD_ITEM_ENDS ? VD_MAY_BE_FALSE : VD_MAY_BE_TRUE)) != 0;
    }
    bool one = item->of_count > 0, below = one && item->of[0] >= i; /* it was false before the first second */
    bool changes = one && (may[item->of[0]] == VD_MAY_BE_BOTH ||
                           (below && item->kind == VD_ITEM_BEGINS && may[item->of[0]] == VD_MAY_BE_TRUE));
    bool happens = item->kind == VD_ITEM_COUNTER                                     ? counts_at_all(plan, may, i)
                   : item->kind == VD_ITEM_BEGINS || item->kind == VD_ITEM_ENDS      ? changes
                   : item->kind == VD_ITEM_HAPPENS || item->kind == VD_ITEM_BY_CLOCK ? true
                                                                                     : any;
    return happens && open ? VD_MAY_BE_TRUE : 0;
}

/* What may be grows until nothing is added: facts and events may be about each other. */
void vd_intervals_may(const vd_course_plan *plan, uint8_t *may)
{
    bool more = true;
    for (uint16_t i = 0; i < plan->item_count; i++) {
        may[i] = 0;
    }
    while (more) {
        more = false;
        for (uint16_t i = 0; i < plan->item_count; i++) {
            const vd_item *item = &plan->items[i];
            uint8_t now = vd_item_is_fact(item)    ? may_of_fact(plan, may, item)
                          : vd_item_is_event(item) ? may_of_event(plan, may, i)
                                                   : may[i];
            more = more || (now & ~may[i]) != 0;
            may[i] |= now;
        }
    }
}

void vd_may_events(const vd_course_plan *plan, uint8_t *may)
{
    bool more = true, waits[VD_MOST_ITEMS]; /* what was set before, or queues */
    for (uint16_t i = 0; i < plan->item_count; i++) {
        const vd_item *item = &plan->items[i];
        waits[i] = may[i] != 0 &&
                   (item->kind == VD_ITEM_IN_TURN || (item->kind == VD_ITEM_ANY_OF && item->closed == VD_CLOSED_LATE) ||
                    (item->kind == VD_ITEM_COUNTER && item->counter->change >= VD_CHANGE_AS_SET));
        may[i] = vd_item_is_event(item) ? 0 : may[i];
    }
    while (more) {
        more = false;
        for (uint16_t i = 0; i < plan->item_count; i++) {
            uint16_t gate = vd_index(plan->items[i].gate);
            bool open = gate == VD_NONE || (may[gate] & VD_MAY_BE_TRUE) != 0;
            uint8_t now = waits[i] && open                    ? VD_MAY_BE_TRUE
                          : vd_item_is_event(&plan->items[i]) ? may_of_event(plan, may, i)
                                                              : may[i];
            more = more || now != may[i];
            may[i] = now;
        }
    }
}

#define DEEPEST 16 /* facts that are made of facts: whoever reads the reason follows no more */

/* Down to one that depends on the unit alone. Of several that would do, one that lacks a wire comes before one that
 * another mode rules out: the mode was chosen. */
static uint16_t blame(const vd_course_plan *plan, const uint8_t *may, uint16_t fact, unsigned depth)
{
    const vd_item *item = &plan->items[fact];
    uint16_t found = VD_NONE;
    for (uint8_t k = 0; k < item->of_count && item->kind != VD_ITEM_NOT && depth < DEEPEST; k++) {
        uint16_t of = item->of[k];
        bool cannot = vd_item_is_fact(&plan->items[of]) && (may[of] & VD_MAY_BE_TRUE) == 0;
        uint16_t one = cannot ? blame(plan, may, of, depth + 1) : (uint16_t)VD_NONE;
        bool better = found == VD_NONE || (item->kind == VD_ITEM_ANY && plan->items[found].kind == VD_ITEM_FIXED &&
                                           plan->items[one != VD_NONE ? one : found].kind == VD_ITEM_GIVEN);
        found = one != VD_NONE && better ? one : found;
    }
    return found != VD_NONE ? found : fact;
}

uint16_t vd_fact_blamed(const vd_course_plan *plan, const uint8_t *may, uint16_t fact)
{
    return blame(plan, may, fact, 0);
}
