/* SPDX-License-Identifier: MIT
 * Bills: how often each cost came up under each tariff, second by second, since which of them bills hangs on what holds
 * in that second. */
#include "parts.h"
#include "verdite/cost.h"

#define STEPS 2u /* behind the costs of a tariff: whole steps by the least, and by the most of each */

static size_t bill_length(const vd_costs *costs)
{
    return costs->count + STEPS;
}

size_t vd_bills_count(const vd_course_plan *plan)
{
    return plan->costs != NULL ? plan->costs->tariff_count * bill_length(plan->costs) : 0;
}

/* How much of a cost comes up in the second that is played. */
static uint32_t times_now(const vd_course *course, const vd_cost *cost)
{
    uint16_t place = course->place[cost->item];
    return cost->per == VD_COST_EVENT   ? course->parts[cost->item].now
           : cost->per == VD_COST_TAKEN ? course->stocks[place].goes
                                        : course->stocks[place].packed;
}

static uint8_t tariff_now(const vd_course *course)
{
    const vd_costs *costs = course->plan->costs;
    uint8_t k = 0;
    while (k + 1u < costs->tariff_count && vd_index(costs->tariffs[k].when) != VD_NONE &&
           !course->parts[vd_index(costs->tariffs[k].when)].now) {
        k++;
    }
    return k;
}

static bool add(const vd_course_plan *plan, uint64_t times, vd_ref each, vd_ratio *sum)
{
    vd_amount amount = vd_amount_of(plan, each);
    vd_ratio all;
    return amount.state == VD_AMOUNT_NONE ||
           (amount.state == VD_AMOUNT_KNOWN && times <= INT64_MAX &&
            vd_ratio_multiply((vd_ratio){(int64_t)times, 1}, amount.ratio, &all) && vd_ratio_add(*sum, all, sum));
}

/* Whole steps of a number of bytes, rounded up. */
static bool add_steps(const vd_course_plan *plan, const vd_tariff *tariff, vd_ratio bytes, uint64_t *steps)
{
    vd_amount step = vd_amount_of(plan, tariff->step);
    vd_ratio whole;
    if (step.state != VD_AMOUNT_KNOWN || step.ratio.number <= 0 || !vd_ratio_divide(bytes, step.ratio, &whole)) {
        return false;
    }
    *steps += (uint64_t)(whole.number / whole.below + (whole.number % whole.below > 0));
    return *steps <= INT64_MAX;
}

void vd_bills_note(vd_course *course)
{
    const vd_course_plan *plan = course->plan;
    const vd_costs *costs = plan->costs;
    const vd_tariff *tariff = NULL;
    uint64_t *bill = NULL;
    vd_ratio least = {0, 1}, most = {0, 1};
    bool fine = true;
    for (uint16_t n = 0; n < costs->count; n++) {
        const vd_cost *cost = &costs->list[n];
        uint32_t times = cost->charge ? 0 : times_now(course, cost);
        if (times == 0) {
            continue;
        }
        if (bill == NULL) {
            uint8_t k = tariff_now(course);
            tariff = &costs->tariffs[k];
            bill = &course->bills[k * bill_length(costs)];
        }
        bill[n] += times;
        fine = fine &&
               (!tariff->rounds_each || (add(plan, times, cost->least, &least) && add(plan, times, cost->most, &most)));
    }
    if (bill != NULL && tariff->rounds_each) {
        course->overbilled = course->overbilled || !fine || !add_steps(plan, tariff, least, &bill[costs->count]) ||
                             !add_steps(plan, tariff, most, &bill[costs->count + 1u]);
    }
}

bool vd_course_billed(const vd_course *course, uint8_t k, bool most, vd_ratio *bytes)
{
    const vd_costs *costs = course->plan->costs;
    const vd_tariff *tariff = &costs->tariffs[k];
    const uint64_t *bill = &course->bills[k * bill_length(costs)];
    bool fine = !course->overbilled;
    *bytes = (vd_ratio){0, 1};
    if (tariff->rounds_each) {
        return fine && add(course->plan, bill[costs->count + most], tariff->step, bytes);
    }
    for (uint16_t n = 0; n < costs->count && fine; n++) {
        const vd_cost *cost = &costs->list[n];
        fine = cost->charge || add(course->plan, bill[n], most ? cost->most : cost->least, bytes);
    }
    return fine;
}
