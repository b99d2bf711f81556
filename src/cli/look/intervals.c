/* SPDX-License-Identifier: MIT
 * Playing the intervals of a set over days, and saying what came of it. */
#include "intervals.h"
#include "../print/print.h"

#include <string.h>

#define UNCOUNTED (7u * VD_DAY_SECONDS)
#define COUNTED (28u * VD_DAY_SECONDS)

static void *keep(played *p, gsize size)
{
    void *memory = g_malloc0(MAX(size, 1));
    g_ptr_array_add(p->memory, memory);
    return memory;
}

/* How many facts of stretches nobody knows. */
static unsigned count_unknown(const played *p)
{
    unsigned count = 0;
    for (uint16_t d = 0; d < p->plan.day_count; d++) {
        for (uint16_t s = 0; s < p->plan.days[d].stretch_count; s++) {
            const bool *unknown = p->plan.days[d].stretches[s].unknown;
            for (uint16_t k = 0; unknown != NULL && k < p->intervals->given_count; k++) {
                count += unknown[k];
            }
        }
    }
    return count;
}

/* The days with each fact that nobody knows as the bits of `yes` have it, in their order. */
static const vd_day *days_with(played *p, unsigned yes)
{
    vd_day *days = keep(p, p->plan.day_count * sizeof *days);
    unsigned at = 0;
    for (uint16_t d = 0; d < p->plan.day_count; d++) {
        const vd_day *from = &p->plan.days[d];
        vd_stretch *stretches = keep(p, from->stretch_count * sizeof *stretches);
        days[d] = *from;
        days[d].stretches = stretches;
        for (uint16_t s = 0; s < from->stretch_count; s++) {
            bool *given = keep(p, p->intervals->given_count * sizeof *given);
            const bool *unknown = from->stretches[s].unknown;
            stretches[s] = from->stretches[s];
            stretches[s].given = given;
            for (uint16_t k = 0; k < p->intervals->given_count; k++) {
                bool open = unknown != NULL && unknown[k];
                given[k] = open ? (yes >> at & 1u) != 0 : from->stretches[s].given[k];
                at += open;
            }
        }
    }
    return days;
}

static const vd_course *play(played *p, const vd_day *days, bool draws_most)
{
    vd_course_plan *plan = keep(p, sizeof *plan);
    *plan = p->plan;
    plan->days = days;
    plan->draws_most = draws_most;
    size_t size = vd_course_size(plan);
    vd_course *course = vd_course_in(keep(p, sizeof(vd_course_storage)));
    vd_course_start(course, plan, keep(p, size), size, NULL);
    vd_course_finish(course);
    return course;
}

/* The items with those that are left out as what is never true and never happens. */
static const vd_item *items_of(played *p, const bool *touched)
{
    vd_item *items = keep(p, p->intervals->item_count * sizeof *items);
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        items[i] = p->intervals->items[i];
        if (!touched[i]) {
            uint8_t kind = vd_item_is_fact(&items[i]) ? VD_ITEM_ANY : VD_ITEM_ANY_OF;
            items[i] = (vd_item){.key = "", .label = "", .kind = kind};
            items[i].gate = items[i].amount = vd_ref_to(VD_NONE);
        }
    }
    return items;
}

/* What the model says of costs, with the tariffs that were typed instead of its own. */
static const vd_costs *costs_of(played *p, const day_list *days)
{
    vd_tariff *tariffs = keep(p, VD_MOST_TARIFFS * sizeof *tariffs);
    vd_costs *costs = keep(p, sizeof *costs);
    if (days->tariff_count == 0) {
        return p->intervals->costs;
    }
    *costs = *p->intervals->costs;
    for (uint8_t k = 0; k < days->tariff_count; k++) {
        vd_tariff_use(&days->tariffs[k], (uint16_t)(p->intervals->formula_count + k * VD_TARIFF_AMOUNTS), p->amounts,
                      &tariffs[k]);
    }
    char *currency = keep(p, sizeof days->tariffs[0].currency);
    memcpy(currency, days->tariffs[0].currency, sizeof days->tariffs[0].currency);
    costs->currency = currency;
    costs->tariffs = tariffs;
    costs->tariff_count = days->tariff_count;
    return costs;
}

void played_start(played *p, const vd_set *set, const day_list *days)
{
    played_start_part(p, set, days, NULL, NULL);
}

void played_start_part(played *p, const vd_set *set, const day_list *days, const played *others, const bool *touched)
{
    const vd_intervals *intervals = set->model->intervals;
    *p = (played){.set = set, .intervals = intervals, .memory = g_ptr_array_new_with_free_func(g_free)};
    p->amounts = keep(p, (intervals->formula_count + VD_MOST_TARIFFS * VD_TARIFF_AMOUNTS) * sizeof *p->amounts);
    p->may = keep(p, intervals->item_count);
    vd_intervals_amounts(set, p->amounts);
    p->plan = (vd_course_plan){.items = others != NULL ? items_of(p, touched) : intervals->items,
                               .amounts = p->amounts,
                               .costs = costs_of(p, days),
                               .days = days->list,
                               .item_count = intervals->item_count,
                               .day_count = days->count,
                               .ends_full = days->ends_full,
                               .uncounted = days->counted > 0 ? days->uncounted : UNCOUNTED,
                               .counted = days->counted > 0 ? days->counted : COUNTED};
    vd_intervals_may(&p->plan, p->may);
    unsigned variants = 1u << count_unknown(p), draws = vd_plan_draws(&p->plan) ? 2 : 1;
    const vd_course **courses =
        keep(p, (gsize)variants * draws *
                    sizeof(const vd_course *)); /* NOLINT(bugprone-sizeof-expression): pointers are meant */
    for (unsigned k = 0; k < variants * draws; k++) {
        courses[k] = play(p, variants > 1 ? days_with(p, k / draws) : p->plan.days, k % draws == 1);
    }
    p->runs = (vd_played){.plan = &p->plan,
                          .courses = courses,
                          .others = others != NULL ? &others->runs : NULL,
                          .touched = touched,
                          .course_count = (uint16_t)(variants * draws)};
    p->plan.items = intervals->items; /* what is asked of it is about all of them */
}

void played_is_read(played *p)
{
    p->now = keep(p, p->intervals->item_count);
    memcpy(p->now, p->may, p->intervals->item_count);
    vd_intervals_now(&p->plan, p->now);
}

void played_free(played *p)
{
    g_ptr_array_free(p->memory, TRUE);
}

bool played_is_known(cli *c, const played *p)
{
    bool known = vd_played_is_known(&p->runs);
    GPtrArray *names = g_ptr_array_new();
    for (uint16_t k = 0; k < p->intervals->formula_count && !known; k++) {
        if (p->amounts[k].state == VD_AMOUNT_NOT_KNOWN) {
            g_ptr_array_add(names, (char *)p->set->model->formulas[p->intervals->formula + k].text);
        }
    }
    if (!known) { /* half of it would look like all */
        char *all = names->len > 0 ? names_words(c, names) : g_strdup("a number is too great");
        char *line = g_strdup_printf("Not known: %s. Nothing is added up.", all);
        warn(c, line);
        g_free(line);
        g_free(all);
    }
    g_ptr_array_free(names, TRUE);
    return known;
}

char *played_amount(const played *p, vd_ref formula)
{
    char text[256];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_interval_say_amount(p->set, formula, &writer);
    return g_strdup(text);
}

/* One number of a day, to a tenth. */
static char *one_a_day(uint64_t times, uint64_t counted)
{
    uint64_t tenths = (times * 10u * VD_DAY_SECONDS + counted / 2u) / counted;
    if (tenths == 0 && times > 0) {
        return g_strdup("below 0.1");
    }
    return tenths % 10u == 0 ? g_strdup_printf("%" G_GUINT64_FORMAT, tenths / 10u)
                             : g_strdup_printf("%" G_GUINT64_FORMAT ".%u", tenths / 10u, (unsigned)(tenths % 10u));
}

char *played_a_day(const played *p, uint64_t least, uint64_t most)
{
    if (most == 0 && least == 0) {
        return g_strdup("never");
    }
    uint64_t low = least < most ? least : most, high = least < most ? most : least;
    char *from = one_a_day(low, p->plan.counted), *to = one_a_day(high, p->plan.counted);
    char *text = low == high ? g_strdup(from) : g_strdup_printf("%s to %s", from, to);
    g_free(from);
    g_free(to);
    return text;
}

char *played_why_not(const played *p, uint16_t item, uint16_t k)
{
    char text[512];
    vd_writer writer = vd_writer_start(text, sizeof text);
    return vd_interval_say_why_not(p->set, &p->runs, p->may, item, k, &writer) ? g_strdup(text) : NULL;
}
