/* SPDX-License-Identifier: MIT
 * What came of intervals that were played, in words: events, stores, costs. */
#include "intervals.h"

#define TOLD_TAKERS 3u /* of the charge */
#define LEAST_SHARE 5u /* per cent: below that nothing is won */
#define MOST_TAKERS 64u

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

/* What takes most of the charge, the greatest first. */
static char *takers_words(const played *p)
{
    GString *words = g_string_new("");
    bool told[MOST_TAKERS] = {false};
    for (unsigned rank = 0; rank < TOLD_TAKERS; rank++) {
        unsigned most = 0;
        uint16_t taker = VD_NONE;
        for (uint16_t n = 0; n < p->plan.costs->count && n < MOST_TAKERS; n++) {
            unsigned share = told[n] ? 0 : vd_charge_share(&p->runs, n);
            taker = share > most ? n : taker;
            most = MAX(most, share);
        }
        if (most < LEAST_SHARE) {
            break;
        }
        told[taker] = true;
        g_string_append_printf(words, "%s\"%s\" %u %%", words->len > 0 ? ", " : ", by ",
                               vd_item_called(&p->intervals->items[p->plan.costs->list[taker].item]), most);
    }
    return g_string_free(words, FALSE);
}

/* What each tariff for a time of its own bills, where it comes up. */
static char *tariffs_words(const played *p)
{
    GString *words = g_string_new("");
    for (uint8_t k = 0; k + 1 < p->plan.costs->tariff_count; k++) {
        vd_range month = vd_billed_a_month(&p->runs, k);
        if (month.known && month.most.number > 0) {
            char *data = played_bytes(&month);
            g_string_append_printf(words, ", with %s billed while \"%s\"", data,
                                   vd_item_called(&p->intervals->items[vd_index(p->plan.costs->tariffs[k].when)]));
            g_free(data);
        }
    }
    return g_string_free(words, FALSE);
}

char *played_cost_taker(const played *p, unsigned which)
{
    return which == PLAYED_BATTERY ? takers_words(p) : which == PLAYED_PRICE ? tariffs_words(p) : g_strdup("");
}

char *played_cost_words(const played *p, unsigned which)
{
    const vd_costs *costs = p->plan.costs;
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
    if (which == PLAYED_PRICE && has_bytes(costs) && costs->tariff_count > 0) {
        vd_range price = vd_price_a_month(&p->runs);
        return played_money(&price, costs->currency);
    }
    return NULL;
}
