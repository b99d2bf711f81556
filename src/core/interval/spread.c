/* SPDX-License-Identifier: MIT
 * What hangs on what among items, and what therefore hangs on a draw. */
#include "parts.h"
#include "verdite/played.h"

/* The n-th item that an item is about, VD_NONE: none; false behind the last. */
static bool about(const vd_item *item, unsigned n, uint16_t *to)
{
    uint8_t cases = item->counter != NULL ? item->counter->case_count : 0;
    unsigned cleared = n - item->of_count, ruled = cleared - item->clear_count;
    *to = n < item->of_count            ? item->of[n]
          : cleared < item->clear_count ? item->clears[cleared]
          : ruled < cases               ? vd_index(item->counter->cases[ruled].when)
                                        : vd_index(item->gate);
    return n <= (unsigned)item->of_count + item->clear_count + cases;
}

void vd_items_spread(const vd_item *items, uint16_t count, bool down, bool *on)
{
    for (bool more = true; more;) {
        more = false;
        for (uint16_t i = 0; i < count; i++) {
            uint16_t to = VD_NONE;
            for (unsigned n = 0; about(&items[i], n, &to); n++) {
                if (to != VD_NONE && on[down ? to : i] && !on[down ? i : to]) {
                    on[down ? i : to] = more = true;
                }
            }
        }
    }
}

static bool is_drawn(const vd_item *item)
{
    return vd_index(item->least) != VD_NONE || vd_index(item->most) != VD_NONE;
}

bool vd_plan_draws(const vd_course_plan *plan)
{
    bool draws = false;
    for (uint16_t i = 0; i < plan->item_count; i++) {
        draws = draws || is_drawn(&plan->items[i]);
    }
    return draws;
}

/* Whether a fact that hangs on a draw opens a gate or chooses a case. */
static bool decides(const vd_item *item, const bool *on)
{
    uint16_t gate = vd_index(item->gate);
    bool decided = gate != VD_NONE && on[gate];
    for (uint8_t k = 0; item->counter != NULL && k < item->counter->case_count; k++) {
        uint16_t when = vd_index(item->counter->cases[k].when);
        decided = decided || (when != VD_NONE && on[when]);
    }
    return decided;
}

bool vd_plan_is_about(const vd_course_plan *plan)
{
    bool on[VD_MOST_ITEMS] = {false}, about = false;
    for (uint16_t i = 0; i < plan->item_count; i++) {
        on[i] = is_drawn(&plan->items[i]);
    }
    vd_items_spread(plan->items, plan->item_count, true, on);
    for (uint16_t i = 0; i < plan->item_count; i++) {
        const vd_item *item = &plan->items[i];
        bool series = item->counter != NULL && item->counter->series_count > 0;
        about = about || decides(item, on) || (on[i] && (item->kind == VD_ITEM_STORE || series));
    }
    return about;
}
