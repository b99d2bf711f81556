/* SPDX-License-Identifier: MIT
 * Intervals against what docs/intervals.md says of them: random lists of items on random days, beside a reference that
 * goes through every second. INTERVAL_CASES says how many. */
#include "fixtures.h"
#include "oracle/intervals.h"
#include "verdite/cost.h"

#include <stdlib.h>
#include <string.h>

/* ---- The same for the library ---- */

typedef struct given_plan {
    vd_course_plan plan;
    vd_costs costs;
    vd_cost list[REF_COSTS];
    vd_tariff tariffs[REF_TARIFFS];
    vd_item items[REF_ITEMS];
    vd_counter counters[REF_ITEMS];
    vd_case cases[REF_ITEMS][3];
    vd_ref series[REF_ITEMS][3];
    uint16_t of[REF_ITEMS][3], clears[REF_ITEMS][2];
    vd_amount amounts[512];
    uint16_t amount_count;
    vd_day days[7];
    vd_stretch stretches[7][4];
    vd_ratio quantities[7][4][1];
    uint32_t happens[7][4][REF_HAPPENS];
} given_plan;

static vd_ratio ratio_of(long parts)
{
    long a = labs(parts), b = REF_PARTS;
    while (b != 0) {
        long rest = a % b;
        a = b;
        b = rest;
    }
    return (vd_ratio){parts / a, REF_PARTS / a};
}

static vd_ref amount_of(given_plan *given, long parts)
{
    vd_amount *amount = &given->amounts[given->amount_count];
    *amount = (vd_amount){parts == REF_NO_AMOUNT ? (vd_ratio){0, 1} : ratio_of(parts),
                          parts == REF_NO_AMOUNT ? VD_AMOUNT_NONE : VD_AMOUNT_KNOWN};
    return vd_ref_to(given->amount_count++);
}

static void give_item(given_plan *given, const ref_item *from, int i)
{
    static const uint8_t kinds[REF_KINDS] = {
        VD_ITEM_GIVEN,   VD_ITEM_CLOCK,  VD_ITEM_COMPARE, VD_ITEM_ALL,      VD_ITEM_ANY,    VD_ITEM_NOT,
        VD_ITEM_LASTED,  VD_ITEM_WITHIN, VD_ITEM_SET_BY,  VD_ITEM_COUNTER,  VD_ITEM_BEGINS, VD_ITEM_ENDS,
        VD_ITEM_HAPPENS, VD_ITEM_ANY_OF, VD_ITEM_IN_TURN, VD_ITEM_BY_CLOCK, VD_ITEM_STORE};
    vd_item *item = &given->items[i];
    vd_counter *counter = &given->counters[i];
    *item = (vd_item){.key = "item",
                      .kind = kinds[from->kind],
                      .of = given->of[i],
                      .of_count = (uint8_t)from->of_count,
                      .clears = given->clears[i],
                      .clear_count = (uint8_t)from->clear_count,
                      .closed = (uint8_t)from->closed,
                      .compared = (uint8_t)from->input,
                      .input = from->kind == REF_FACT_COMPARE ? 0 : (uint16_t)from->input,
                      .side = (uint8_t)from->way,
                      .weekdays = (uint8_t)from->weekdays,
                      .reads = from->reads};
    for (int k = 0; k < from->of_count; k++) {
        given->of[i][k] = (uint16_t)from->of[k];
    }
    for (int k = 0; k < from->clear_count; k++) {
        given->clears[i][k] = (uint16_t)from->clears[k];
    }
    item->gate = from->gate >= 0 ? vd_ref_to((uint16_t)from->gate) : (vd_ref){0};
    item->amount = amount_of(given, from->amount);
    item->other = amount_of(given, from->other);
    item->least = item->most = amount_of(given, from->draw);
    item->packet = amount_of(given, from->packet * REF_PARTS);
    item->wraps = amount_of(given, from->wraps * REF_PARTS);
    item->wired = amount_of(given, from->wired * REF_PARTS);
    if (from->kind != REF_COUNTER) {
        return;
    }
    item->counter = counter;
    *counter = (vd_counter){.cases = given->cases[i],
                            .series = given->series[i],
                            .case_count = (uint8_t)from->case_count,
                            .series_count = (uint8_t)from->series_count,
                            .adds = (uint8_t)from->adds,
                            .change = (uint8_t)from->change,
                            .stops = from->stops,
                            .new_edge = from->new_edge,
                            .carried = from->carried,
                            .at_once = from->at_once};
    for (int k = 0; k < from->case_count; k++) {
        const ref_ruling *r = &from->cases[k];
        given->cases[i][k] = (vd_case){"case", r->when >= 0 ? vd_ref_to((uint16_t)r->when) : (vd_ref){0},
                                       amount_of(given, r->value), (uint8_t)r->zero};
    }
    for (int k = 0; k < from->series_count; k++) {
        given->series[i][k] = amount_of(given, from->series[k]);
    }
}

static void give_costs(given_plan *given, const ref_plan *plan)
{
    for (int n = 0; n < plan->cost_count; n++) {
        const ref_cost *from = &plan->costs[n];
        static const uint8_t pers[] = {VD_COST_EVENT, VD_COST_TAKEN, VD_COST_PACKET};
        given->list[n] = (vd_cost){.item = (uint16_t)from->item, .per = pers[from->per]};
        given->list[n].least = amount_of(given, from->least * REF_PARTS);
        given->list[n].most = amount_of(given, from->most * REF_PARTS);
    }
    for (int k = 0; k < REF_TARIFFS; k++) {
        const ref_tariff *from = &plan->tariffs[k];
        given->tariffs[k] = (vd_tariff){.when = from->fact >= 0 ? vd_ref_to((uint16_t)from->fact) : (vd_ref){0},
                                        .step = amount_of(given, from->step * REF_PARTS),
                                        .rounds_each = from->rounds};
    }
    given->costs = (vd_costs){.list = given->list,
                              .count = (uint16_t)plan->cost_count,
                              .tariffs = given->tariffs,
                              .tariff_count = REF_TARIFFS};
}

static void give(given_plan *given, const ref_plan *plan)
{
    given->amount_count = 0;
    for (int i = 0; i < plan->item_count; i++) {
        give_item(given, &plan->items[i], i);
    }
    give_costs(given, plan);
    for (int d = 0; d < plan->day_count; d++) {
        const ref_day *day = &plan->days[d];
        given->days[d] = (vd_day){"day", given->stretches[d], (uint16_t)day->count, (uint16_t)day->rest};
        for (int s = 0; s < day->count; s++) {
            const ref_stretch *from = &day->stretches[s];
            given->quantities[d][s][0] = ratio_of(from->quantity);
            for (int k = 0; k < REF_HAPPENS; k++) {
                given->happens[d][s][k] = (uint32_t)from->happens[k];
            }
            given->stretches[d][s] = (vd_stretch){.given = from->given,
                                                  .quantities = given->quantities[d][s],
                                                  .happens = given->happens[d][s],
                                                  .speed = ratio_of(from->speed),
                                                  .angle = ratio_of(from->angle),
                                                  .turns = (uint32_t)from->turns,
                                                  .lasts = (uint32_t)from->lasts};
        }
    }
    given->plan = (vd_course_plan){given->items,
                                   given->amounts,
                                   &given->costs,
                                   given->days,
                                   (uint16_t)plan->item_count,
                                   (uint16_t)plan->day_count,
                                   plan->offset,
                                   (uint32_t)plan->uncounted,
                                   (uint32_t)plan->counted,
                                   false,
                                   false};
}

/* ---- One beside the other ---- */

static void compare_sums(const vd_course *course, const ref_plan *plan, const ref_outcome *wanted, uint64_t at)
{
    for (int i = 0; i < plan->item_count; i++) {
        vd_item_sum got = vd_course_sum(course, (uint16_t)i);
        const ref_sum *sum = &wanted->sums[i];
        bool same = (long)got.happened == sum->happened && (long)got.held == sum->held;
        for (int k = 0; k < plan->items[i].case_count; k++) {
            vd_case_sum one = vd_course_case(course, (uint16_t)i, (uint16_t)k);
            if ((long)one.held != sum->ruled[k] || (long)one.expired != sum->expired[k] ||
                (long)one.longest != sum->longest[k]) {
                fail_msg(
                    "seed %llu, item %d, case %d: ruled %llu s, not %ld; expired %llu, not %ld; longest %llu, not %ld",
                    (unsigned long long)at, i, k, (unsigned long long)one.held, sum->ruled[k],
                    (unsigned long long)one.expired, sum->expired[k], (unsigned long long)one.longest, sum->longest[k]);
            }
        }
        if (plan->items[i].kind == REF_STORE) {
            same = (long)got.taken == sum->taken && (long)got.packets == sum->packets && (long)got.lost == sum->lost &&
                   (long)got.most == sum->most && got.age == sum->age && got.full_at == sum->full_at;
        }
        if (!same) {
            fail_msg(
                "seed %llu, item %d of kind %d: happened %llu, not %ld; held %llu, not %ld; taken %llu, not %ld; "
                "packets %llu, not %ld; lost %llu, not %ld; most %llu, not %ld; age %lld, not %ld; full %lld, not %ld",
                (unsigned long long)at, i, plan->items[i].kind, (unsigned long long)got.happened, sum->happened,
                (unsigned long long)got.held, sum->held, (unsigned long long)got.taken, sum->taken,
                (unsigned long long)got.packets, sum->packets, (unsigned long long)got.lost, sum->lost,
                (unsigned long long)got.most, sum->most, (long long)got.age, sum->age, (long long)got.full_at,
                sum->full_at);
        }
    }
}

static void compare_bills(const vd_course *course, const ref_outcome *wanted, uint64_t at)
{
    for (uint8_t k = 0; k < REF_TARIFFS; k++) {
        for (int end = 0; end < 2; end++) {
            vd_ratio got = {0, 1};
            assert_true(vd_course_billed(course, k, end == 1, &got));
            if (got.below != 1 || (long)got.number != wanted->billed[k][end]) {
                fail_msg("seed %llu: tariff %d bills %lld/%lld bytes, not %ld", (unsigned long long)at, k,
                         (long long)got.number, (long long)got.below, wanted->billed[k][end]);
            }
        }
    }
}

static size_t play_both(const ref_plan *plan, given_plan *given, uint64_t at)
{
    static uint64_t memory[32768];
    vd_course_storage storage;
    vd_course *course = vd_course_in(&storage);
    ref_outcome wanted;
    size_t marks = 0;
    give(given, plan);
    ref_play(plan, &wanted);
    assert_int_equal(vd_course_start(course, &given->plan, memory, sizeof memory, NULL), VD_OK);
    while (vd_course_next(course)) {
        for (int i = 0; i < plan->item_count; i++) {
            if (!ref_is_event(plan->items[i].kind) || !vd_course_happened(course, (uint16_t)i)) {
                continue;
            }
            const ref_mark *mark = marks < wanted.mark_count ? &wanted.marks[marks] : NULL;
            if (mark == NULL || mark->time != vd_course_time(course) || mark->item != i) {
                fail_msg("seed %llu: item %d of kind %d happens at %lld; instead item %d at %ld",
                         (unsigned long long)at, i, plan->items[i].kind, (long long)vd_course_time(course),
                         mark != NULL ? mark->item : -1, mark != NULL ? mark->time : -1);
            }
            marks++;
        }
    }
    if (marks < wanted.mark_count) {
        fail_msg("seed %llu: item %d of kind %d does not happen at %ld", (unsigned long long)at,
                 wanted.marks[marks].item, plan->items[wanted.marks[marks].item].kind, wanted.marks[marks].time);
    }
    assert_true(vd_course_is_known(course));
    compare_sums(course, plan, &wanted, at);
    compare_bills(course, &wanted, at);
    if (at % 8 == 0) { /* the same, with rounds of days added up */
        assert_int_equal(vd_course_start(course, &given->plan, memory, sizeof memory, NULL), VD_OK);
        vd_course_finish(course);
        compare_sums(course, plan, &wanted, at);
        compare_bills(course, &wanted, at);
    }
    free(wanted.marks);
    return marks;
}

/* A fact that is made of one below sees it a second later: for that second what is said of it is not so. */
static bool looks_down(const ref_plan *plan)
{
    bool down = false;
    for (int i = 0; i < plan->item_count; i++) {
        const ref_item *item = &plan->items[i];
        for (int k = 0; k < item->of_count && item->kind >= REF_FACT_ALL && item->kind <= REF_FACT_WITHIN; k++) {
            down = down || item->of[k] >= i;
        }
    }
    return down;
}

/* What is said of any day, and of all time in which a fact is false, is true of these days. */
static void check_may(const ref_plan *plan, const given_plan *given, uint64_t at)
{
    static uint64_t memory[32768];
    vd_course_storage storage;
    vd_course *course = vd_course_in(&storage);
    uint8_t may[REF_ITEMS], asleep[REF_ITEMS];
    uint16_t fact = (uint16_t)(at % (uint64_t)plan->item_count);
    int64_t since = -1; /* an item that sees one below does so a second later, and so on */
    while (plan->items[fact].kind > REF_FACT_SET_BY) { /* one is given, at least */
        fact = (uint16_t)((fact + 1) % plan->item_count);
    }
    vd_intervals_may(&given->plan, may);
    memcpy(asleep, may, sizeof asleep);
    vd_intervals_asleep(&given->plan, fact, asleep);
    assert_int_equal(vd_course_start(course, &given->plan, memory, sizeof memory, NULL), VD_OK);
    while (vd_course_next(course)) {
        bool sleeps = !vd_course_holds(course, fact);
        since = !sleeps ? -1 : since < 0 ? vd_course_time(course) : since;
        bool slept = sleeps && vd_course_time(course) > since + 2 * REF_ITEMS;
        for (int i = 0; i < plan->item_count; i++) {
            const uint8_t *said = slept ? asleep : may;
            bool is_fact = plan->items[i].kind <= REF_FACT_SET_BY, event = ref_is_event(plan->items[i].kind);
            unsigned is = is_fact && !vd_course_holds(course, (uint16_t)i) ? 2u : 1u;
            if ((is_fact || (event && vd_course_happened(course, (uint16_t)i))) && (said[i] & is) == 0) {
                fail_msg("seed %llu: item %d of kind %d %s at %lld, though %s", (unsigned long long)at, i,
                         plan->items[i].kind, is == 1 ? "is" : "is not", (long long)vd_course_time(course),
                         said == may ? "it never may" : "a fact is false");
            }
        }
    }
}

static void random_plans(void **state)
{
    (void)state;
    const char *cases = getenv("INTERVAL_CASES"), *one = getenv("INTERVAL_SEED");
    static ref_plan plan;
    static given_plan given;
    size_t marks = 0;
    int most = one != NULL ? 1 : cases != NULL ? atoi(cases) : 1200;
    for (int n = 0; n < most; n++) {
        uint64_t at = one != NULL ? strtoull(one, NULL, 10) : (uint64_t)n + 1;
        ref_some_plan(&plan, at, at % 200 == 0 && at <= 2000);
        if (one != NULL) {
            ref_print_plan(&plan);
        }
        marks += play_both(&plan, &given, at);
        if (at % 8 == 1 && !looks_down(&plan)) {
            check_may(&plan, &given, at);
        }
    }
    print_message("%zu events in %d plans\n", marks, most);
    assert_true(marks > (size_t)most); /* they are about something */
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(random_plans)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
