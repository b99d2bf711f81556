/* SPDX-License-Identifier: MIT
 * What intervals take: bytes, money, charge. Exact; what does not fit is not known. */
#include "parts.h"
#include "verdite/cost.h"

static const vd_ratio nothing = {0, 1};

static bool is_known(const vd_played *played, vd_ref formula, vd_ratio otherwise, vd_ratio *number)
{
    vd_amount amount = vd_amount_of(played->plan, formula);
    *number = amount.state == VD_AMOUNT_KNOWN ? amount.ratio : otherwise;
    return amount.state != VD_AMOUNT_NOT_KNOWN;
}

/* A share in per cent. */
static bool is_share(const vd_played *played, vd_ref formula, vd_ratio otherwise, vd_ratio *share)
{
    return is_known(played, formula, otherwise, share) && vd_ratio_divide(*share, (vd_ratio){100, 1}, share);
}

/* How often a cost came up. */
static uint64_t times_of(const vd_cost *cost, vd_item_sum sum)
{
    return cost->per == VD_COST_EVENT    ? sum.happened
           : cost->per == VD_COST_TAKEN  ? sum.taken
           : cost->per == VD_COST_PACKET ? sum.packets
                                         : sum.held;
}

static bool multiply(uint64_t times, vd_ratio by, vd_ratio *result)
{
    return times <= INT64_MAX && vd_ratio_multiply((vd_ratio){(int64_t)times, 1}, by, result);
}

vd_range vd_cost_of(const vd_played *played, uint16_t n)
{
    const vd_cost *cost = &played->plan->costs->list[n];
    uint64_t rarely = times_of(cost, vd_played_least(played, cost->item));
    uint64_t often = times_of(cost, vd_played_most(played, cost->item));
    vd_range range = {nothing, nothing, false};
    vd_ratio least, most;
    range.known = is_known(played, cost->least, nothing, &least) && is_known(played, cost->most, least, &most) &&
                  multiply(rarely, least, &range.least) && multiply(often, most, &range.most) &&
                  vd_played_is_known(played);
    return range;
}

/* All that is charge, or all that is bytes, in so many days. */
static vd_range sum_of(const vd_played *played, bool charge, int64_t days)
{
    vd_range sum = {nothing, nothing, played->plan->counted > 0};
    vd_ratio share = {days * VD_DAY_SECONDS, played->plan->counted};
    const vd_costs *costs = played->plan->costs;
    for (uint16_t n = 0; n < costs->count && sum.known; n++) {
        if (costs->list[n].charge == charge) {
            vd_range one = vd_cost_of(played, n);
            sum.known = one.known && vd_ratio_add(sum.least, one.least, &sum.least) &&
                        vd_ratio_add(sum.most, one.most, &sum.most);
        }
    }
    sum.known = sum.known && vd_ratio_make(share.number, share.below, &share) &&
                vd_ratio_multiply(sum.least, share, &sum.least) && vd_ratio_multiply(sum.most, share, &sum.most);
    return sum;
}

vd_range vd_bytes_a_month(const vd_played *played)
{
    return sum_of(played, false, 30);
}

/* ---- Money ---- */

/* base + each * the steps that are begun behind what is included */
static bool price(const vd_played *played, const vd_tariff *tariff, vd_ratio bytes, vd_ratio *money)
{
    vd_ratio base, included, step, each, over, steps;
    if (!is_known(played, tariff->base, nothing, &base) || !is_known(played, tariff->included, nothing, &included) ||
        !is_known(played, tariff->step, (vd_ratio){1, 1}, &step) || !is_known(played, tariff->each, nothing, &each) ||
        step.number <= 0) {
        return false;
    }
    included.number = -included.number;
    if (!vd_ratio_add(bytes, included, &over)) {
        return false;
    }
    if (over.number <= 0) {
        *money = base;
        return true;
    }
    return vd_ratio_divide(over, step, &steps) &&
           vd_ratio_multiply(each, (vd_ratio){steps.number / steps.below + (steps.number % steps.below > 0), 1},
                             &each) &&
           vd_ratio_add(base, each, money);
}

/* What is billed was played together, in this or in the others. */
static const vd_played *where_billed(const vd_played *played)
{
    bool here = played->others == NULL;
    for (uint16_t n = 0; !here && n < played->plan->costs->count; n++) {
        const vd_cost *cost = &played->plan->costs->list[n];
        here = !cost->charge && played->touched[cost->item];
    }
    return here ? played : played->others;
}

static bool billed(const vd_course *course, uint32_t counted, uint8_t k, bool most, vd_ratio *bytes)
{
    vd_ratio share;
    return counted > 0 && vd_course_billed(course, k, most, bytes) &&
           vd_ratio_make(30 * (int64_t)VD_DAY_SECONDS, counted, &share) && vd_ratio_multiply(*bytes, share, bytes);
}

/* One run: of one tariff the bytes, or of all of them the money. */
typedef bool of_run(const vd_played *played, const vd_course *course, uint8_t k, bool most, vd_ratio *result);

static bool bytes_of_run(const vd_played *played, const vd_course *course, uint8_t k, bool most, vd_ratio *bytes)
{
    return billed(course, played->plan->counted, k, most, bytes);
}

static bool price_of_run(const vd_played *played, const vd_course *course, uint8_t count, bool most, vd_ratio *money)
{
    bool fine = true;
    *money = nothing;
    for (uint8_t k = 0; k < count && fine; k++) {
        vd_ratio bytes, one;
        fine = billed(course, played->plan->counted, k, most, &bytes) &&
               price(played, &played->plan->costs->tariffs[k], bytes, &one) && vd_ratio_add(*money, one, money);
    }
    return fine;
}

static vd_range of_runs(const vd_played *all, uint8_t k, of_run *of)
{
    const vd_played *played = where_billed(all);
    vd_range range = {nothing, nothing, vd_played_is_known(all)};
    for (uint16_t run = 0; run < played->course_count && range.known; run++) {
        vd_ratio least, most;
        range.known =
            of(played, played->courses[run], k, false, &least) && of(played, played->courses[run], k, true, &most);
        if (range.known) {
            range.least = run == 0 || vd_ratio_compare(least, range.least) < 0 ? least : range.least;
            range.most = run == 0 || vd_ratio_compare(most, range.most) > 0 ? most : range.most;
        }
    }
    return range;
}

vd_range vd_price_a_month(const vd_played *played)
{
    uint8_t count = played->plan->costs->tariff_count;
    return count > 0 ? of_runs(played, count, price_of_run) : (vd_range){nothing, nothing, false};
}

vd_range vd_billed_a_month(const vd_played *played, uint8_t k)
{
    return of_runs(played, k, bytes_of_run);
}

/* ---- Charge ---- */

vd_range vd_charge_a_day(const vd_played *played)
{
    const vd_battery *battery = &played->plan->costs->battery;
    vd_range sum = sum_of(played, true, 1);
    vd_ratio holds, least, most;
    if (!sum.known || vd_index(battery->holds) == VD_NONE) {
        return sum;
    }
    sum.known = is_known(played, battery->holds, nothing, &holds) &&
                vd_ratio_divide(holds, (vd_ratio){365, 1}, &holds) &&
                is_share(played, battery->loss_least, nothing, &least) &&
                is_share(played, battery->loss_most, nothing, &most) && vd_ratio_multiply(holds, least, &least) &&
                vd_ratio_multiply(holds, most, &most) && vd_ratio_add(sum.least, least, &sum.least) &&
                vd_ratio_add(sum.most, most, &sum.most);
    return sum;
}

vd_range vd_battery_days(const vd_played *played)
{
    const vd_battery *battery = &played->plan->costs->battery;
    vd_range charge = vd_charge_a_day(played), days = {nothing, nothing, false};
    vd_ratio holds, least, most;
    days.known = charge.known && charge.least.number > 0 && vd_index(battery->holds) != VD_NONE &&
                 is_known(played, battery->holds, nothing, &holds) &&
                 is_share(played, battery->usable_least, (vd_ratio){100, 1}, &least) &&
                 is_share(played, battery->usable_most, (vd_ratio){100, 1}, &most) &&
                 vd_ratio_multiply(holds, least, &least) && vd_ratio_multiply(holds, most, &most) &&
                 vd_ratio_divide(least, charge.most, &days.least) && vd_ratio_divide(most, charge.least, &days.most);
    return days;
}

vd_range vd_battery_used(const vd_played *played)
{
    vd_range charge = vd_charge_a_day(played), used = {nothing, nothing, false};
    vd_ratio holds, share;
    used.known = charge.known && vd_index(played->plan->costs->battery.holds) != VD_NONE &&
                 is_known(played, played->plan->costs->battery.holds, nothing, &holds) && holds.number > 0 &&
                 vd_ratio_make(100 * (int64_t)played->plan->counted, VD_DAY_SECONDS, &share) &&
                 vd_ratio_divide(share, holds, &share) && vd_ratio_multiply(charge.least, share, &used.least) &&
                 vd_ratio_multiply(charge.most, share, &used.most);
    return used;
}

unsigned vd_charge_share(const vd_played *played, uint16_t n)
{
    vd_range all = vd_charge_a_day(played), one = {nothing, nothing, false};
    vd_ratio share;
    if (all.known && all.most.number > 0 && played->plan->costs->list[n].charge) {
        one = vd_cost_of(played, n);
    }
    bool fine = one.known && vd_ratio_make(100 * (int64_t)VD_DAY_SECONDS, played->plan->counted, &share) &&
                vd_ratio_multiply(one.most, share, &share) && vd_ratio_divide(share, all.most, &share);
    return fine ? (unsigned)(share.number / share.below) : 0;
}

bool vd_range_outward(const vd_range *range, vd_ratio times, int64_t *least, int64_t *most)
{
    vd_ratio low, high;
    bool fine =
        range->known && vd_ratio_multiply(range->least, times, &low) && vd_ratio_multiply(range->most, times, &high);
    *least = fine ? low.number / low.below - (low.number % low.below < 0) : 0;
    *most = fine ? high.number / high.below + (high.number % high.below > 0) : 0;
    return fine;
}
