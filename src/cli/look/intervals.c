/* SPDX-License-Identifier: MIT
 * Playing the intervals of a set over days, and saying what came of it. */
#include "intervals.h"
#include "../print/print.h"

#include <string.h>

#define UNCOUNTED (7u * VD_DAY_SECONDS)
#define COUNTED (28u * VD_DAY_SECONDS)

static const vd_day *still_day(played *p)
{
    vd_ratio *quantities = g_new0(vd_ratio, p->intervals->quantity_count + 1u);
    for (uint16_t k = 0; k < p->intervals->quantity_count; k++) {
        quantities[k] = (vd_ratio){0, 1};
    }
    p->inputs = quantities;
    p->still = (vd_stretch){
        .given = p->given, .quantities = quantities, .speed = {0, 1}, .angle = {0, 1}, .lasts = VD_DAY_SECONDS};
    p->still_day = (vd_day){"nothing happens", &p->still, 1, 0};
    return &p->still_day;
}

void played_start(played *p, const vd_set *set)
{
    const vd_intervals *intervals = set->model->intervals;
    *p = (played){.set = set, .intervals = intervals};
    p->amounts = g_new0(vd_amount, intervals->formula_count + 1u);
    p->given = g_new0(bool, intervals->given_count + 1u);
    p->may = g_new0(uint8_t, intervals->item_count + 1u);
    vd_intervals_amounts(set, p->amounts);
    bool own = intervals->day_count > 0;
    p->plan = (vd_course_plan){.items = intervals->items,
                               .amounts = p->amounts,
                               .days = own ? intervals->days : still_day(p),
                               .item_count = intervals->item_count,
                               .day_count = own ? intervals->day_count : 1,
                               .uncounted = UNCOUNTED,
                               .counted = COUNTED};
    vd_intervals_may(&p->plan, p->may);
    for (unsigned run = 0; run < 2; run++) {
        size_t size = vd_course_size(&p->plan);
        vd_course *course = vd_course_in(&p->courses[run]);
        p->plan.draws_most = run == 1;
        p->memory[run] = g_malloc0(size);
        vd_course_start(course, &p->plan, p->memory[run], size, NULL);
        vd_course_finish(course);
        p->both.courses[run] = course;
    }
    p->both.costs = intervals->costs;
    p->both.plan = &p->plan;
}

void played_free(played *p)
{
    g_free(p->memory[0]);
    g_free(p->memory[1]);
    g_free(p->inputs);
    g_free(p->given);
    g_free(p->may);
    g_free(p->amounts);
}

bool played_is_known(cli *c, const played *p)
{
    bool known = vd_course_is_known(p->both.courses[0]) && vd_course_is_known(p->both.courses[1]);
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
    return vd_interval_say_why_not(p->set, &p->both, p->may, item, k, &writer) ? g_strdup(text) : NULL;
}
