/* SPDX-License-Identifier: MIT
 * What may be while a unit is not awake: what that fact is made of cannot be either, and so on downwards; what is made
 * of it follows. */
#include "parts.h"

/* Takes from what may be; whether that was anything. */
static bool leave(uint8_t *may, uint8_t what)
{
    uint8_t left = *may & what;
    bool other = left != *may;
    *may = left;
    return other;
}

/* What a fact that is known says of those that it is made of. */
static bool go_down(const vd_course_plan *plan, uint8_t *may, uint16_t i)
{
    const vd_item *item = &plan->items[i];
    bool is = may[i] == VD_MAY_BE_TRUE, is_not = may[i] == VD_MAY_BE_FALSE, other = false;
    bool all = (item->kind == VD_ITEM_ANY && is_not) || (item->kind == VD_ITEM_ALL && is);
    bool is_one = (item->kind == VD_ITEM_WITHIN && is_not) || (item->kind == VD_ITEM_LASTED && is);
    for (uint8_t k = 0; k < item->of_count && (all || (is_one && k == 0)); k++) {
        bool fact = vd_item_is_fact(&plan->items[item->of[k]]);
        other = (fact && leave(&may[item->of[k]], may[i])) || other;
    }
    if (item->kind == VD_ITEM_NOT && (is || is_not)) {
        other = leave(&may[item->of[0]], is ? VD_MAY_BE_FALSE : VD_MAY_BE_TRUE) || other;
    }
    return other;
}

/* What a fact is by those that it is made of. */
static bool go_up(const vd_course_plan *plan, uint8_t *may, uint16_t i)
{
    const vd_item *item = &plan->items[i];
    switch (item->kind) {
    case VD_ITEM_ALL:
    case VD_ITEM_ANY:
    case VD_ITEM_NOT: return leave(&may[i], vd_may_of_others(may, item));
    case VD_ITEM_LASTED: return may[item->of[0]] == VD_MAY_BE_FALSE && leave(&may[i], VD_MAY_BE_FALSE);
    case VD_ITEM_WITHIN:
        return vd_item_is_fact(&plan->items[item->of[0]]) && may[item->of[0]] == VD_MAY_BE_TRUE &&
               leave(&may[i], VD_MAY_BE_TRUE);
    default: return false;
    }
}

void vd_intervals_asleep(const vd_course_plan *plan, uint16_t awake, uint8_t *may)
{
    leave(&may[awake], VD_MAY_BE_FALSE);
    for (bool more = true; more;) {
        more = false;
        for (uint16_t i = 0; i < plan->item_count; i++) {
            bool fact = vd_item_is_fact(&plan->items[i]);
            more = (fact && go_down(plan, may, i)) || more;
            more = (fact && go_up(plan, may, i)) || more;
        }
    }
    vd_may_events(plan, may);
}
