/* SPDX-License-Identifier: MIT
 * In which order the requests of a write go out, so that the unit's own rules hold at every step. */
#include "talk_parts.h"
#include "verdite/rules.h"

/* Puts the values of one request into a set. */
static void apply(const vd_plan *plan, uint32_t start, vd_set *reached, const vd_set *values)
{
    for (uint32_t i = start; i < plan->next[start]; i++) {
        vd_value value = vd_set_get(values, plan->order[i]);
        vd_set_put(reached, plan->order[i], &value);
    }
}

static bool has_part_in(const vd_plan *plan, const vd_model *model, uint32_t start, uint16_t rule)
{
    for (uint32_t i = start; i < plan->next[start]; i++) {
        if (vd_rule_mentions(model, rule, plan->order[i])) {
            return true;
        }
    }
    return false;
}

/* Whether the unit would take this request: the rules hold that what it writes has a part in, judged by what it holds
 * right before it. */
static bool accepted(const vd_plan *plan, uint32_t start, const vd_set *reached, const vd_set *before)
{
    const vd_model *model = reached->model;
    for (uint16_t i = 0; i < model->rule_count; i++) {
        bool bound = model->rules[i].enforced == VD_ENFORCED_WRITING && has_part_in(plan, model, start, i);
        uint16_t items = bound ? vd_rule_items(model, i) : 0;
        for (uint16_t item = 0; item < items; item++) {
            if (vd_rule_judge(reached, before, i, item, NULL) == VD_FAILS) {
                return false;
            }
        }
    }
    return true;
}

/* The unit has taken it: what is before the next request is what this one has reached. */
static void take(const vd_plan *plan, uint32_t start, vd_set *before, const vd_set *desired)
{
    apply(plan, start, before, desired);
    vd_set_reinterpret(before); /* the decimals may have changed since */
}

static void move_to(vd_plan *plan, uint16_t from, uint16_t to)
{
    uint32_t moved = plan->cost[from];
    for (uint16_t k = from; k > to; k--) {
        plan->cost[k] = plan->cost[k - 1];
    }
    plan->cost[to] = moved;
}

/* Looks for the first request from `at` on that the unit would take now, and moves it there. False: there is none. */
static bool choose_next(vd_plan *plan, uint16_t at, vd_set *reached, vd_set *before, const vd_set *desired)
{
    for (uint16_t candidate = at; candidate < plan->requests; candidate++) {
        uint32_t chosen = plan->cost[candidate];
        apply(plan, chosen, reached, desired);
        if (accepted(plan, chosen, reached, before)) {
            move_to(plan, candidate, at);
            take(plan, chosen, before, desired);
            return true;
        }
        apply(plan, chosen, reached, before);
        vd_set_reinterpret(reached); /* the decimals may have changed since */
    }
    return false;
}

/* Orders all of them. Returns at which place nothing could go on, or how many there are. */
static uint16_t order(vd_plan *plan, vd_set *reached, vd_set *before, const vd_set *held, const vd_set *desired)
{
    const vd_model *model = held->model;
    vd_set_copy(reached, held);
    vd_set_copy(before, held);
    for (uint16_t at = 0; at < plan->requests; at++) {
        uint32_t start = plan->cost[at];
        if (model->settings[plan->order[start]].gives_places) { /* these go first, whatever follows */
            apply(plan, start, reached, desired);
            vd_set_reinterpret(reached);
            take(plan, start, before, desired);
        } else if (!choose_next(plan, at, reached, before, desired)) {
            return at;
        }
    }
    return plan->requests;
}

/* What cannot be taken any more, since something that went before it locks it, is tried before all of that. Where no
 * order will do, the unit may refuse, and says so. */
void vd_plan_steps(vd_plan *plan, vd_set *reached, vd_set *before, const vd_set *held, const vd_set *desired)
{
    const vd_model *model = held->model;
    bool bound = model->rule_count > 0 && model->book != NULL;
    vd_set_copy(reached, held); /* what stays of a record is taken from there */
    for (uint16_t tries = 0; bound && tries < plan->requests; tries++) {
        uint16_t stuck = order(plan, reached, before, held, desired), first = 0;
        while (first < stuck && model->settings[plan->order[plan->cost[first]]].gives_places) {
            first++;
        }
        if (stuck == plan->requests || stuck == first) {
            return;
        }
        move_to(plan, stuck, first);
    }
}
