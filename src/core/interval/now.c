/* SPDX-License-Identifier: MIT
 * What may hold at this moment, as far as readings tell: the past is not known. */
#include "verdite/played.h"
#include "parts.h"

static uint8_t now_of(const vd_course_plan *plan, const uint8_t *now, const vd_item *item)
{
    vd_amount told = vd_amount_of(plan, item->now);
    uint8_t of = item->of_count > 0 ? now[item->of[0]] : VD_MAY_BE_BOTH;
    if (told.state == VD_AMOUNT_KNOWN) {
        return told.ratio.number != 0 ? VD_MAY_BE_TRUE : VD_MAY_BE_FALSE;
    }
    switch (item->kind) {
    case VD_ITEM_ALL:
    case VD_ITEM_ANY:
    case VD_ITEM_NOT: return vd_may_of_others(now, item);
    case VD_ITEM_LASTED:
        return (of & VD_MAY_BE_TRUE) == 0 ? VD_MAY_BE_FALSE : VD_MAY_BE_BOTH; /* for how long nobody knows */
    case VD_ITEM_WITHIN:
        return vd_item_is_fact(&plan->items[item->of[0]]) && of == VD_MAY_BE_TRUE ? VD_MAY_BE_TRUE : VD_MAY_BE_BOTH;
    default: return VD_MAY_BE_BOTH;
    }
}

void vd_intervals_now(const vd_course_plan *plan, uint8_t *may)
{
    for (bool more = true; more;) {
        more = false;
        for (uint16_t i = 0; i < plan->item_count; i++) {
            const vd_item *item = &plan->items[i];
            uint8_t left = vd_item_is_fact(item) ? may[i] & now_of(plan, may, item) : may[i];
            more = more || left != may[i];
            may[i] = left;
        }
    }
}

uint16_t vd_case_now(const vd_course_plan *plan, const uint8_t *may, uint16_t item, uint16_t from, bool *surely)
{
    const vd_counter *counter = plan->items[item].counter;
    for (uint16_t k = from; k < counter->case_count; k++) {
        uint16_t when = vd_index(counter->cases[k].when);
        vd_amount value = vd_value_of_case(plan, counter, k);
        bool passed = value.state == VD_AMOUNT_NONE || (value.state == VD_AMOUNT_KNOWN && value.ratio.number == 0 &&
                                                        counter->cases[k].zero == VD_ZERO_LEAVES);
        if (!passed && (when == VD_NONE || (may[when] & VD_MAY_BE_TRUE) != 0)) {
            *surely = when == VD_NONE || (may[when] & VD_MAY_BE_FALSE) == 0;
            return k;
        }
    }
    *surely = true;
    return VD_NONE;
}
