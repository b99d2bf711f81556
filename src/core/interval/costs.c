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
    const vd_cost *cost = &played->costs->list[n];
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
    for (uint16_t n = 0; n < played->costs->count && sum.known; n++) {
        if (played->costs->list[n].charge == charge) {
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

/* base + each * the steps that are begun behind what is included */
static bool price(const vd_played *played, vd_ratio bytes, vd_ratio *money)
{
    const vd_tariff *tariff = &played->costs->tariff;
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

vd_range vd_price_a_month(const vd_played *played)
{
    vd_range bytes = vd_bytes_a_month(played), money = {nothing, nothing, false};
    money.known = bytes.known && played->costs->tariff.currency != NULL && price(played, bytes.least, &money.least) &&
                  price(played, bytes.most, &money.most);
    return money;
}

vd_range vd_charge_a_day(const vd_played *played)
{
    const vd_battery *battery = &played->costs->battery;
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
    const vd_battery *battery = &played->costs->battery;
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
    used.known = charge.known && vd_index(played->costs->battery.holds) != VD_NONE &&
                 is_known(played, played->costs->battery.holds, nothing, &holds) && holds.number > 0 &&
                 vd_ratio_make(100 * (int64_t)played->plan->counted, VD_DAY_SECONDS, &share) &&
                 vd_ratio_divide(share, holds, &share) && vd_ratio_multiply(charge.least, share, &used.least) &&
                 vd_ratio_multiply(charge.most, share, &used.most);
    return used;
}

uint16_t vd_charge_taker(const vd_played *played, unsigned *percent)
{
    vd_range all = vd_charge_a_day(played);
    vd_ratio greatest = nothing, share = {100 * (int64_t)VD_DAY_SECONDS, played->plan->counted};
    uint16_t taker = VD_NONE;
    for (uint16_t n = 0; n < played->costs->count; n++) {
        vd_range one = played->costs->list[n].charge ? vd_cost_of(played, n) : (vd_range){.known = false};
        if (one.known && vd_ratio_compare(one.most, greatest) > 0) {
            greatest = one.most;
            taker = n;
        }
    }
    bool fine = taker != VD_NONE && all.known && vd_ratio_make(share.number, share.below, &share) &&
                vd_ratio_multiply(greatest, share, &share) && vd_ratio_divide(share, all.most, &share);
    *percent = fine ? (unsigned)(share.number / share.below) : 0;
    return fine ? taker : (uint16_t)VD_NONE;
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
