/* SPDX-License-Identifier: MIT
 * Intervals at random: lists of items of all kinds, and days. */
#include "intervals.h"

#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static uint64_t seed = 1; /* of the dice */

static int dice(int sides)
{
    seed = seed * 6364136223846793005u + 1442695040888963407u;
    return (int)((seed >> 33) % (unsigned)sides);
}

#define ONE_OF(list) (list)[dice((int)(sizeof(list) / sizeof(list)[0]))]

static const long few_times[] = {0, 1, 2, 5, 7, 10, 15, 30, 60, 90, 300, 600, 3600, 7200};
static const int some_clock[] = {0, 1800, 3600, 21600, 43200, 61200, 86399, 86400};

static long some_time(void)
{
    return ONE_OF(few_times) * REF_PARTS + (dice(6) == 0 ? dice(REF_PARTS) : 0);
}

/* ---- A plan at random ---- */

/* Any fact, above or below; -1 where there is none. */
static int some_fact(const ref_plan *plan)
{
    int from = dice(plan->item_count);
    for (int i = 0; i < plan->item_count; i++) {
        int k = (from + i) % plan->item_count;
        if (plan->items[k].kind <= REF_FACT_SET_BY) {
            return k;
        }
    }
    return -1;
}

/* An event above, or anywhere; -1. */
static int some_event(const ref_plan *plan, int above)
{
    int from = dice(above);
    for (int i = 0; i < above; i++) {
        int k = (from + i) % above;
        if (ref_is_event(plan->items[k].kind)) {
            return k;
        }
    }
    return -1;
}

static int some_fact_or_event(const ref_plan *plan)
{
    int event = some_event(plan, plan->item_count), fact = some_fact(plan);
    return event >= 0 && (fact < 0 || dice(2) == 0) ? event : fact;
}

static void add_of(ref_item *item, int of)
{
    if (of >= 0) {
        item->of[item->of_count++] = of;
    }
}

static void some_counter(const ref_plan *plan, ref_item *item, int i)
{
    item->adds = dice(4);
    add_of(item, item->adds == REF_EVENTS_OF && i > 0 ? some_event(plan, i) : -1);
    item->adds = item->adds == REF_EVENTS_OF && item->of_count == 0 ? REF_SECONDS : item->adds;
    item->change = dice(4);
    item->closed = dice(4);
    item->new_edge = dice(3) == 0;
    item->carried = dice(3) == 0;
    item->at_once = dice(3) == 0;
    item->stops = dice(2) == 0;
    item->case_count = 1 + dice(3);
    static const long ways[] = {1, 1000, 50000, 5000000}, angles[] = {1, 30, 45, 100}, numbers[] = {1, 2, 3, 10};
    for (int k = 0; k < item->case_count; k++) {
        ref_ruling *r = &item->cases[k];
        r->when = k < item->case_count - 1 || dice(3) == 0 ? some_fact(plan) : -1;
        r->zero = dice(3);
        r->value = item->adds == REF_SECONDS   ? some_time()
                   : item->adds == REF_WAY     ? ONE_OF(ways) * REF_PARTS
                   : item->adds == REF_TURNING ? ONE_OF(angles) * REF_PARTS
                                               : ONE_OF(numbers) * REF_PARTS + (dice(4) == 0 ? dice(REF_PARTS) : 0);
        r->value = dice(12) == 0 ? REF_NO_AMOUNT : dice(12) == 0 ? 0 : r->value;
    }
    item->series_count = dice(4) == 0 ? 1 + dice(3) : 0;
    for (int k = 0; k < item->series_count; k++) {
        item->series[k] = (1 + dice(100)) * REF_PARTS;
    }
    item->draw = dice(4) == 0 ? (dice(9) - 4) * REF_PARTS / 2 : 0;
    for (int k = dice(5) == 0 ? 1 + dice(2) : 0; k > 0; k--) {
        int event = some_event(plan, plan->item_count);
        if (event >= 0) {
            item->clears[item->clear_count++] = event;
        }
    }
}

static void some_fact_parts(const ref_plan *plan, ref_item *item)
{
    item->wired = dice(8) != 0;
    item->reads = dice(2) == 0;
    item->input = item->kind == REF_FACT_GIVEN ? dice(REF_GIVEN) : 0;
    item->weekdays = 1 + dice(127);
    item->way = dice(4);
    item->amount = dice(15) == 0 ? REF_NO_AMOUNT : some_time();
    if (item->kind == REF_FACT_CLOCK) {
        item->amount = ONE_OF(some_clock) * REF_PARTS;
        item->other = ONE_OF(some_clock) * REF_PARTS;
    } else if (item->kind == REF_FACT_COMPARE) {
        static const long limits[] = {0, 1, 2, 3, 5000, 20000};
        item->input = dice(3);
        item->amount = ONE_OF(limits) * REF_PARTS;
        for (int i = 0; item->input == 2 && i < plan->item_count; i++) {
            if (plan->items[i].kind == REF_STORE && item->of_count == 0) {
                add_of(item, i);
            }
        }
        item->input = item->input == 2 && item->of_count == 0 ? 0 : item->input;
    } else if (item->kind == REF_FACT_ALL || item->kind == REF_FACT_ANY) {
        for (int k = dice(4); k > 0; k--) {
            add_of(item, some_fact(plan));
        }
    } else if (item->kind == REF_FACT_NOT || item->kind == REF_FACT_LASTED) {
        add_of(item, some_fact(plan));
    } else if (item->kind == REF_FACT_WITHIN) {
        add_of(item, some_fact_or_event(plan));
    } else if (item->kind == REF_FACT_SET_BY) {
        for (int k = 1 + dice(2); k > 0; k--) {
            add_of(item, some_fact_or_event(plan));
        }
        item->clears[item->clear_count++] = some_fact_or_event(plan);
    }
}

static void some_event_parts(const ref_plan *plan, ref_item *item, int i)
{
    static const long every[] = {0, 60, 900, 3600, 7000, 50000, 86400};
    item->closed = dice(2) == 0 ? REF_LOST : REF_LATE;
    item->input = dice(REF_HAPPENS);
    if (item->kind == REF_BEGINS || item->kind == REF_ENDS) {
        add_of(item, some_fact(plan));
    } else if (item->kind == REF_ANY_OF || item->kind == REF_IN_TURN) {
        for (int k = i > 0 ? 1 + dice(3) : 0; k > 0; k--) {
            add_of(item, some_event(plan, i));
        }
    } else if (item->kind == REF_BY_CLOCK) {
        item->amount = dice(6) == 0 ? REF_NO_AMOUNT : ONE_OF(every) * REF_PARTS;
        item->other = dice(10) == 0 ? REF_NO_AMOUNT : ONE_OF(some_clock) * REF_PARTS;
        item->draw = dice(3) == 0 ? (dice(1200) - 600) * REF_PARTS : 0;
    } else if (item->kind == REF_STORE) {
        for (int k = 0; k < 2; k++) {
            add_of(item, i > 0 ? some_event(plan, i) : -1);
        }
        item->wraps = dice(2) == 0;
        item->amount = dice(40) * REF_PARTS + dice(REF_PARTS);
        item->other = dice(2) == 0 ? REF_NO_AMOUNT : dice(5) * REF_PARTS;
        item->packet = 1 + dice(5);
    }
}

static void some_day(ref_day *day)
{
    static const int lasts[] = {1, 7, 60, 600, 3600, 10000, 20000};
    static const int speeds[] = {0, 0, 1, 18, 70, 130}, turns[] = {0, 0, 1, 5, 40}, angles[] = {0, 15, 45, 90},
                     often[] = {0, 0, 1, 3, 50};
    day->count = 1 + dice(4);
    day->rest = dice(day->count);
    for (int s = 0; s < day->count; s++) {
        ref_stretch *stretch = &day->stretches[s];
        stretch->lasts = ONE_OF(lasts);
        for (int k = 0; k < REF_GIVEN; k++) {
            stretch->given[k] = dice(2) == 0;
        }
        stretch->quantity = dice(4) * REF_PARTS;
        stretch->speed = ONE_OF(speeds) * 5000L; /* km/h in 1/18 mm/s */
        stretch->turns = ONE_OF(turns);
        stretch->angle = ONE_OF(angles) * REF_PARTS;
        for (int k = 0; k < REF_HAPPENS; k++) {
            stretch->happens[k] = ONE_OF(often);
        }
    }
}

/* Bytes of some events and stores, billed by two tariffs. */
static void some_costs(ref_plan *plan)
{
    for (int i = 0; i < plan->item_count && plan->cost_count < REF_COSTS; i++) {
        int kind = plan->items[i].kind;
        if (kind == REF_STORE || (ref_is_event(kind) && dice(2) == 0)) {
            long least = dice(300);
            plan->costs[plan->cost_count++] =
                (ref_cost){i, kind == REF_STORE ? REF_TAKEN + dice(2) : REF_EACH, least, least + dice(3) * 50};
        }
    }
    for (int k = 0; k < REF_TARIFFS; k++) {
        plan->tariffs[k] = (ref_tariff){k + 1 < REF_TARIFFS ? some_fact(plan) : -1, 1 + dice(400), dice(2) == 0};
    }
}

void ref_some_plan(ref_plan *plan, unsigned long at, bool whole)
{
    seed = at * 2654435761u;
    memset(plan, 0, sizeof *plan);
    plan->item_count = 2 + dice(1 + dice(whole ? 6 : REF_ITEMS - 2));
    for (int i = 0; i < plan->item_count; i++) {
        plan->items[i].kind = dice(3) == 0 ? REF_COUNTER : dice(REF_KINDS);
    }
    plan->items[dice(plan->item_count)].kind = REF_FACT_GIVEN;
    for (int i = 0; i < plan->item_count; i++) {
        ref_item *item = &plan->items[i];
        item->gate = item->kind == REF_COUNTER || item->kind == REF_ANY_OF || item->kind == REF_BY_CLOCK
                         ? (dice(2) == 0 ? some_fact(plan) : -1)
                         : -1;
        if (item->kind <= REF_FACT_SET_BY) {
            some_fact_parts(plan, item);
        } else if (item->kind == REF_COUNTER) {
            some_counter(plan, item, i);
        } else {
            some_event_parts(plan, item, i);
        }
        if (item->kind == REF_STORE && item->of_count < 2) { /* nothing above it happens */
            item->kind = REF_HAPPENING;
        }
    }
    for (int i = 0; i < plan->item_count; i++) { /* a store that has become none */
        ref_item *item = &plan->items[i];
        if (item->kind == REF_FACT_COMPARE && item->input == 2 && plan->items[item->of[0]].kind != REF_STORE) {
            item->input = item->of_count = 0;
        }
    }
    some_costs(plan);
    plan->day_count = 1 + dice(3);
    for (int d = 0; d < plan->day_count; d++) {
        some_day(&plan->days[d]);
    }
    plan->offset = (dice(27) - 12) * 3600 + dice(3) * 1800;
    plan->uncounted = whole ? 7 * 86400 : dice(4) * 3600 + dice(100);
    plan->counted = whole ? 28 * 86400 : 3600 + dice(1 + dice(1 + dice(1 + dice(44 * 3600))));
}

void ref_print_plan(const ref_plan *plan)
{
    static const char *const kinds[REF_KINDS] = {"given",   "clock",  "compare", "all",      "any",    "not",
                                                 "lasted",  "within", "set-by",  "counter",  "begins", "ends",
                                                 "happens", "any-of", "in-turn", "by-clock", "store"};
    for (int i = 0; i < plan->item_count; i++) {
        const ref_item *item = &plan->items[i];
        printf("%d %s of", i, kinds[item->kind]);
        for (int k = 0; k < item->of_count; k++) {
            printf(" %d", item->of[k]);
        }
        for (int k = 0; k < item->clear_count; k++) {
            printf(" clear %d", item->clears[k]);
        }
        printf(" gate %d closed %d amount %ld other %ld input %d way %d draw %ld", item->gate, item->closed,
               item->amount, item->other, item->input, item->way, item->draw);
        for (int k = 0; k < item->case_count; k++) {
            printf(" (when %d value %ld zero %d)", item->cases[k].when, item->cases[k].value, item->cases[k].zero);
        }
        printf(item->kind == REF_COUNTER ? " adds %d change %d new %d carried %d first %d series %d stops %d\n" : "\n",
               item->adds, item->change, item->new_edge, item->carried, item->at_once, item->series_count, item->stops);
    }
    for (int d = 0; d < plan->day_count; d++) {
        for (int s = 0; s < plan->days[d].count; s++) {
            const ref_stretch *x = &plan->days[d].stretches[s];
            printf("day %d%s: %d s, given %d%d%d%d, quantity %ld, speed %ld, %d turns of %ld, happens %d %d\n", d,
                   s == plan->days[d].rest ? " rest" : "", x->lasts, x->given[0], x->given[1], x->given[2], x->given[3],
                   x->quantity, x->speed, x->turns, x->angle, x->happens[0], x->happens[1]);
        }
    }
    printf("offset %d, uncounted %ld, counted %ld\n", plan->offset, plan->uncounted, plan->counted);
}
