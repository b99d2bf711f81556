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
    }
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

const vd_course *played_course(const played *p, unsigned run)
{
    return (const vd_course *)(const void *)&p->courses[run];
}

vd_played played_costs(const played *p)
{
    return (vd_played){p->intervals->costs, &p->plan, {played_course(p, 0), played_course(p, 1)}};
}

const char *played_called(const played *p, uint16_t item)
{
    const vd_item *about = &p->intervals->items[item];
    return about->label[0] != '\0' ? about->label : about->key;
}

static const char *text_of(const played *p, vd_ref formula)
{
    return p->set->model->formulas[p->intervals->formula + vd_index(formula)].text;
}

char *played_amount(const played *p, vd_ref formula)
{
    if (vd_index(formula) == VD_NONE) {
        return g_strdup("");
    }
    const vd_amount *amount = &p->amounts[vd_index(formula)];
    const char *text = text_of(p, formula);
    uint16_t setting = vd_model_find(p->set->model, text);
    if (setting == VD_NONE && strpbrk(text, "(*/+") == NULL) { /* as the model says it */
        return g_strdup(text);
    }
    if (setting == VD_NONE) { /* worked out */
        int64_t whole = amount->ratio.number / amount->ratio.below;
        bool time = p->set->model->formulas[p->intervals->formula + vd_index(formula)].gives == VD_GIVES_TIME;
        return amount->state != VD_AMOUNT_KNOWN                  ? g_strdup("not known")
               : time && whole >= 0 && whole < UINT32_MAX / 1000 ? g_strdup(duration_text((uint32_t)whole * 1000u))
                                                                 : g_strdup_printf("%" G_GINT64_FORMAT, whole);
    }
    vd_value value = vd_set_get(p->set, setting);
    return g_strdup(value.type != VD_NOTHING ? value_text(&p->set->model->settings[setting], &value) : "not known");
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

/* What a fact that cannot be true wants, e.g. "sim.roaming = on is not so". */
static char *wants_of(const played *p, uint16_t fact)
{
    uint16_t blamed = vd_fact_blamed(&p->plan, p->may, fact);
    const vd_item *item = &p->intervals->items[blamed];
    if (item->kind == VD_ITEM_FIXED) {
        return g_strdup_printf("it needs %s", text_of(p, item->amount));
    }
    if (item->kind == VD_ITEM_GIVEN) {
        return g_strdup_printf("\"%s\" is not wired", played_called(p, blamed));
    }
    return g_strdup_printf("\"%s\" cannot be", played_called(p, blamed));
}

/* A case that may, but did not on these days. */
static char *why_not_now(const played *p, uint16_t item, uint16_t k, const char *called)
{
    const vd_counter *counter = p->intervals->items[item].counter;
    vd_case_sum least = vd_course_case(played_course(p, 0), item, k),
                most = vd_course_case(played_course(p, 1), item, k);
    vd_amount value = counter->cases[k].value.number != 0 ? p->amounts[vd_index(counter->cases[k].value)]
                                                          : (vd_amount){.state = VD_AMOUNT_NONE};
    if (least.expired > 0 || most.expired > 0) {
        return NULL;
    }
    if (least.held == 0 && most.held == 0) {
        return g_strdup_printf("%s never rules on these days.", called);
    }
    uint64_t longest = least.longest > most.longest ? least.longest : most.longest;
    bool long_one = counter->adds == VD_ADDS_SECONDS && value.state == VD_AMOUNT_KNOWN &&
                    value.ratio.number / value.ratio.below >= (int64_t)longest;
    char *amount = played_amount(p, counter->cases[k].value);
    char *text = long_one && longest <= UINT32_MAX / 1000u
                     ? g_strdup_printf("%s rules for %s at most, never as long as its %s.", called,
                                       duration_text((uint32_t)longest * 1000u), amount)
                     : g_strdup_printf("%s (%s) never comes to its end on these days.", called, amount);
    g_free(amount);
    return text;
}

char *played_why_not(const played *p, uint16_t item, uint16_t k)
{
    const vd_counter *counter = p->intervals->items[item].counter;
    vd_never never = vd_case_never(&p->plan, p->may, item, k);
    const char *label = counter->cases[k].label;
    char *called = g_strdup_printf("\"%s\"", label[0] != '\0' ? label : played_called(p, item)), *text = NULL,
         *wants = NULL;
    switch (never.why) {
    case VD_NEVER_NONE: text = g_strdup_printf("%s is unused.", called); break;
    case VD_NEVER_ZERO: text = g_strdup_printf("%s is 0: it is off.", called); break;
    case VD_NEVER_WHILE:
    case VD_NEVER_GATE:
        wants = wants_of(p, never.culprit);
        text = g_strdup_printf("%s can never rule: %s.", called, wants);
        break;
    case VD_NEVER_ABOVE:
        text = g_strdup_printf("%s can never rule: \"%s\" always does.", called, counter->cases[never.culprit].label);
        break;
    default: text = why_not_now(p, item, k, called); break;
    }
    g_free(wants);
    g_free(called);
    return text;
}
