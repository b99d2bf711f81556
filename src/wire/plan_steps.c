/* SPDX-License-Identifier: MIT
 * In which order the requests of a write go out, so that the unit's own rules hold at every step. */
#include "verdite/rules.h"
#include "verdite/talk.h"

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

/* Whether the unit would take this request: the rules hold that what it writes has a part in. */
static bool accepted(const vd_plan *plan, uint32_t start, const vd_set *reached, const vd_set *held)
{
    const vd_model *model = reached->model;
    for (uint16_t i = 0; i < model->rule_count; i++) {
        bool bound = model->rules[i].enforced == VD_ENFORCED_WRITING && has_part_in(plan, model, start, i);
        uint16_t items = bound ? vd_rule_items(model, i) : 0;
        for (uint16_t item = 0; item < items; item++) {
            if (vd_rule_judge(reached, held, i, item, NULL) == VD_FAILS) {
                return false;
            }
        }
    }
    return true;
}

/* Looks for the first request from `at` on that the unit would take now, and moves it there. Where there is none,
 * the order stays: the unit may refuse, and says so. */
static void choose_next(vd_plan *plan, uint16_t at, vd_set *reached, const vd_set *held, const vd_set *desired)
{
    for (uint16_t candidate = at; candidate < plan->requests; candidate++) {
        uint32_t chosen = plan->cost[candidate];
        apply(plan, chosen, reached, desired);
        if (accepted(plan, chosen, reached, held)) {
            for (uint16_t k = candidate; k > at; k--) {
                plan->cost[k] = plan->cost[k - 1];
            }
            plan->cost[at] = chosen;
            return;
        }
        apply(plan, chosen, reached, held);
        vd_set_reinterpret(reached); /* the decimals may have changed since */
    }
    apply(plan, plan->cost[at], reached, desired);
}

void vd_plan_steps(vd_plan *plan, vd_set *reached, const vd_set *held, const vd_set *desired)
{
    const vd_model *model = held->model;
    vd_set_copy(reached, held);
    for (uint16_t at = 0; at < plan->requests && model->rule_count > 0 && model->book != NULL; at++) {
        uint32_t start = plan->cost[at];
        if (model->settings[plan->order[start]].gives_places) { /* these go first, whatever follows */
            apply(plan, start, reached, desired);
            vd_set_reinterpret(reached);
        } else {
            choose_next(plan, at, reached, held, desired);
        }
    }
}
