/* SPDX-License-Identifier: MIT
 * What came of intervals that were played, in words: events, stores, costs. */
#include "intervals.h"

/* ", each waits 2 h at most" where something fetches them. */
static char *wait_words(const played *p, uint16_t i)
{
    int64_t age = vd_played_most(&p->runs, i).age;
    return p->intervals->items[i].of_count > 1 && age > 0
               ? g_strdup_printf(", each waits %s at most", duration_text(age * 1000))
               : g_strdup("");
}

static char *store_words(const played *p, uint16_t i)
{
    vd_item_sum least = vd_played_least(&p->runs, i), most = vd_played_most(&p->runs, i);
    char *holds = played_amount(p, p->intervals->items[i].amount), *waits = wait_words(p, i);
    char *text = most.lost > 0
                     ? g_strdup_printf("full after %s, then %" G_GUINT64_FORMAT " are lost in 35 days%s",
                                       duration_text(least.full_at * 1000), most.lost, waits)
                     : g_strdup_printf("holds %" G_GUINT64_FORMAT " of %s at most%s", most.most, holds, waits);
    g_free(waits);
    g_free(holds);
    return text;
}

char *played_store_full(const played *p, uint16_t item)
{
    int64_t full = vd_played_least(&p->runs, item).full_at;
    return full >= 0 ? g_strdup_printf("full after %s", duration_text(full * 1000)) : g_strdup("never full");
}

char *played_item_words(const played *p, uint16_t item)
{
    vd_item_sum least = vd_played_least(&p->runs, item), most = vd_played_most(&p->runs, item);
    return p->intervals->items[item].kind == VD_ITEM_STORE ? store_words(p, item)
                                                           : played_a_day(p, least.happened, most.happened);
}

char *played_case_times(const played *p, uint16_t item, uint16_t k)
{
    return played_a_day(p, vd_played_case_least(&p->runs, item, k).expired,
                        vd_played_case_most(&p->runs, item, k).expired);
}

static bool has_bytes(const vd_costs *costs)
{
    bool bytes = false;
    for (uint16_t n = 0; n < costs->count; n++) {
        bytes = bytes || !costs->list[n].charge;
    }
    return bytes;
}

const char *const played_costs[] = {
    [PLAYED_DATA] = "Data a month", [PLAYED_PRICE] = "Price a month", [PLAYED_BATTERY] = "Battery", NULL};

char *played_cost_taker(const played *p, unsigned which)
{
    unsigned percent = 0;
    if (which != PLAYED_BATTERY) {
        return g_strdup("");
    }
    uint16_t n = vd_charge_taker(&p->runs, &percent);
    return n != VD_NONE ? g_strdup_printf(", most by \"%s\" (%u %%)",
                                          vd_item_called(&p->intervals->items[p->runs.costs->list[n].item]), percent)
                        : g_strdup("");
}

char *played_cost_words(const played *p, unsigned which)
{
    const vd_costs *costs = p->runs.costs;
    if (costs == NULL) {
        return NULL;
    }
    if (which == PLAYED_BATTERY && vd_index(costs->battery.holds) != VD_NONE) {
        vd_range days = vd_battery_days(&p->runs);
        return played_days(&days);
    }
    if (which == PLAYED_DATA && has_bytes(costs)) {
        vd_range month = vd_bytes_a_month(&p->runs);
        return played_bytes(&month);
    }
    if (which == PLAYED_PRICE && has_bytes(costs) && costs->tariff.currency != NULL) {
        vd_range price = vd_price_a_month(&p->runs);
        return played_money(&price, costs->tariff.currency);
    }
    return NULL;
}
