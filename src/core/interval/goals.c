/* SPDX-License-Identifier: MIT
 * What intervals are to come to, and on which settings that hangs. */
#include "parts.h"
#include "../expression/expression.h"
#include "verdite/goal.h"

#include <string.h>

/* ---- Whether it is met ---- */

static bool is_about(const vd_goal *goal, const vd_cost *cost)
{
    return cost->charge == (goal->kind == VD_GOAL_BATTERY);
}

static bool has_store(const vd_intervals *intervals)
{
    bool has = false;
    for (uint16_t i = 0; i < intervals->item_count; i++) {
        has = has || intervals->items[i].kind == VD_ITEM_STORE;
    }
    return has;
}

bool vd_goal_belongs(const vd_intervals *intervals, const vd_costs *costs, const vd_goal *goal)
{
    bool any = false;
    for (uint16_t n = 0; costs != NULL && n < costs->count; n++) {
        any = any || is_about(goal, &costs->list[n]);
    }
    switch (goal->kind) {
    case VD_GOAL_MEMORY: return has_store(intervals);
    case VD_GOAL_PRICE: return any && costs->tariff_count > 0;
    case VD_GOAL_BATTERY: return any && vd_index(costs->battery.holds) != VD_NONE;
    default: return any;
    }
}

/* The second in which a store loses one first; the end of all that was played where none does. */
static int64_t lasts(const vd_played *played)
{
    int64_t first = (int64_t)played->plan->uncounted + played->plan->counted;
    for (uint16_t i = 0; i < played->plan->item_count; i++) {
        int64_t full = played->plan->items[i].kind == VD_ITEM_STORE ? vd_played_least(played, i).full_at : -1;
        first = full >= 0 && full < first ? full : first;
    }
    return first;
}

bool vd_goal_worth(const vd_goal *goal, const vd_played *played, vd_ratio *worth)
{
    vd_range range = {{0, 1}, {0, 1}, false};
    *worth = (vd_ratio){0, 1};
    switch (goal->kind) {
    case VD_GOAL_MEMORY: worth->number = lasts(played); return vd_played_is_known(played);
    case VD_GOAL_BATTERY: range = vd_battery_days(played); break;
    case VD_GOAL_DATA: range = vd_bytes_a_month(played); break;
    default: range = vd_price_a_month(played); break;
    }
    *worth = goal->kind == VD_GOAL_BATTERY ? range.least : (vd_ratio){-range.most.number, range.most.below};
    return range.known;
}

bool vd_goal_is_better(vd_ratio worth, vd_ratio than)
{
    return vd_ratio_compare(worth, than) > 0;
}

bool vd_goal_is_met(const vd_goal *goal, const vd_played *played)
{
    vd_ratio worth, wanted = goal->limit;
    wanted.number = goal->kind == VD_GOAL_BATTERY || goal->kind == VD_GOAL_MEMORY ? wanted.number : -wanted.number;
    return vd_goal_worth(goal, played, &worth) && vd_ratio_compare(worth, wanted) >= 0;
}

/* ---- On what it hangs ---- */

static bool names(const vd_model *model, vd_ref formula, uint16_t setting)
{
    bool named = false;
    if (vd_index(formula) == VD_NONE) {
        return false;
    }
    const vd_term *term = &model->book->formulas[model->intervals->formula + vd_index(formula)];
    vd_naming naming = vd_names_in(model->book, &term->code);
    for (vd_spot spot = vd_names_next(&naming); vd_index(spot.setting) != VD_NONE; spot = vd_names_next(&naming)) {
        named = named || vd_index(spot.setting) == setting;
    }
    return named;
}

/* Whether an item says a setting anywhere. What is wired is no matter of what is wanted. */
static bool item_names(const vd_model *model, const vd_item *item, uint16_t setting, bool wiring)
{
    const vd_ref own[] = {item->amount, item->other, item->least, item->most, item->packet, item->wraps};
    bool named = wiring && names(model, item->wired, setting);
    for (size_t n = 0; n < sizeof own / sizeof own[0]; n++) {
        named = named || names(model, own[n], setting);
    }
    for (uint8_t k = 0; item->counter != NULL && k < item->counter->case_count; k++) {
        named = named || names(model, item->counter->cases[k].value, setting);
    }
    for (uint8_t k = 0; item->counter != NULL && k < item->counter->series_count; k++) {
        named = named || names(model, item->counter->series[k], setting);
    }
    return named;
}

/* What is billed together is played together, as soon as any of it is. */
static void spread_over_bills(const vd_costs *costs, bool *touched)
{
    bool any = false;
    for (unsigned pass = 0; costs != NULL && costs->tariff_count > 0 && pass < 2; pass++) {
        for (uint16_t n = 0; n < costs->count; n++) {
            bool *one = &touched[costs->list[n].item];
            *one = *one || (any && !costs->list[n].charge);
            any = any || (*one && !costs->list[n].charge);
        }
        for (uint8_t k = 0; k < costs->tariff_count; k++) {
            uint16_t when = vd_index(costs->tariffs[k].when);
            if (when != VD_NONE) {
                touched[when] = any = touched[when] || any;
            }
        }
    }
}

void vd_goal_touched(const vd_model *model, const vd_costs *costs, uint16_t setting, bool *touched)
{
    const vd_intervals *intervals = model->intervals;
    for (uint16_t i = 0; i < intervals->item_count; i++) {
        touched[i] = item_names(model, &intervals->items[i], setting, true);
    }
    vd_items_spread(intervals->items, intervals->item_count, true, touched);
    for (unsigned pass = 0; pass < 2; pass++) { /* what a bill hangs on may be on the bill */
        spread_over_bills(costs, touched);
        vd_items_spread(intervals->items, intervals->item_count, false, touched);
    }
}

void vd_goal_settings(const vd_model *model, const vd_costs *costs, const vd_goal *goal, uint8_t *which)
{
    const vd_intervals *intervals = model->intervals;
    bool memory = goal->kind == VD_GOAL_MEMORY, on[VD_MOST_ITEMS] = {false};
    for (uint16_t i = 0; i < intervals->item_count; i++) {
        on[i] = memory && intervals->items[i].kind == VD_ITEM_STORE;
    }
    for (uint16_t n = 0; !memory && n < costs->count; n++) {
        on[costs->list[n].item] = on[costs->list[n].item] || is_about(goal, &costs->list[n]);
    }
    for (uint8_t k = 0; goal->kind == VD_GOAL_PRICE && k < costs->tariff_count; k++) {
        uint16_t when = vd_index(costs->tariffs[k].when);
        if (when != VD_NONE) {
            on[when] = true;
        }
    }
    vd_items_spread(intervals->items, intervals->item_count, false, on);
    for (uint16_t s = 0; s < model->setting_count; s++) {
        which[s] = 0;
        for (uint16_t i = 0; i < intervals->item_count; i++) {
            which[s] = which[s] || (on[i] && item_names(model, &intervals->items[i], s, false));
        }
        for (uint16_t n = 0; !memory && n < costs->count; n++) {
            const vd_cost *cost = &costs->list[n];
            which[s] =
                which[s] || (is_about(goal, cost) && (names(model, cost->least, s) || names(model, cost->most, s)));
        }
        which[s] = which[s] && model->settings[s].access != VD_READ_ONLY;
    }
}

bool vd_goal_case_of(const vd_model *model, uint16_t setting, vd_goal_case *found)
{
    const vd_intervals *intervals = model->intervals;
    unsigned times = 0;
    for (uint16_t n = 0; n < intervals->formula_count; n++) {
        times += names(model, vd_ref_to(n), setting);
    }
    for (uint16_t i = 0; i < intervals->item_count && times == 1; i++) {
        const vd_counter *counter = intervals->items[i].counter;
        for (uint8_t k = 0; counter != NULL && k < counter->case_count; k++) {
            if (vd_case_setting(model, i, k) == setting) {
                *found = (vd_goal_case){i, k,
                                        counter->adds == VD_ADDS_SECONDS && counter->series_count == 0 &&
                                            counter->change == VD_CHANGE_RESTARTS};
                return true;
            }
        }
    }
    return false;
}
