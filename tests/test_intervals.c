/* SPDX-License-Identifier: MIT
 * Intervals against what docs/intervals.md says of them: random lists of items on random days, beside a reference that
 * goes through every second. INTERVAL_CASES says how many. */
#include "fixtures.h"
#include "oracle/intervals.h"
#include "verdite/course.h"

#include <stdlib.h>
#include <string.h>

static uint64_t seed = 1;

static int dice(int sides)
{
    seed = seed * 6364136223846793005u + 1442695040888963407u;
    return (int)((seed >> 33) % (unsigned)sides);
}

#define ONE_OF(list) (list)[dice((int)G_N_ELEMENTS(list))]

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

static bool is_event(int kind)
{
    return kind > REF_FACT_SET_BY && kind != REF_STORE;
}

/* An event above, or anywhere; -1. */
static int some_event(const ref_plan *plan, int above)
{
    int from = dice(above);
    for (int i = 0; i < above; i++) {
        int k = (from + i) % above;
        if (is_event(plan->items[k].kind)) {
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

static void some_plan(ref_plan *plan, bool whole)
{
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
    plan->day_count = 1 + dice(3);
    for (int d = 0; d < plan->day_count; d++) {
        some_day(&plan->days[d]);
    }
    plan->offset = (dice(27) - 12) * 3600 + dice(3) * 1800;
    plan->uncounted = whole ? 7 * 86400 : dice(4) * 3600 + dice(100);
    plan->counted = whole ? 28 * 86400 : 3600 + dice(1 + dice(1 + dice(1 + dice(44 * 3600))));
}

/* ---- The same for the library ---- */

typedef struct given_plan {
    vd_course_plan plan;
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

static void give(given_plan *given, const ref_plan *plan)
{
    given->amount_count = 0;
    for (int i = 0; i < plan->item_count; i++) {
        give_item(given, &plan->items[i], i);
    }
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
                                   given->days,
                                   (uint16_t)plan->item_count,
                                   (uint16_t)plan->day_count,
                                   plan->offset,
                                   (uint32_t)plan->uncounted,
                                   (uint32_t)plan->counted,
                                   false};
}

/* ---- One beside the other ---- */

/* What a plan is, so that a case that fails can be read. */
static void print_plan(const ref_plan *plan)
{
    static const char *const kinds[REF_KINDS] = {"given",   "clock",  "compare", "all",      "any",    "not",
                                                 "lasted",  "within", "set-by",  "counter",  "begins", "ends",
                                                 "happens", "any-of", "in-turn", "by-clock", "store"};
    for (int i = 0; i < plan->item_count; i++) {
        const ref_item *item = &plan->items[i];
        print_message("%d %s of", i, kinds[item->kind]);
        for (int k = 0; k < item->of_count; k++) {
            print_message(" %d", item->of[k]);
        }
        for (int k = 0; k < item->clear_count; k++) {
            print_message(" clear %d", item->clears[k]);
        }
        print_message(" gate %d closed %d amount %ld other %ld input %d way %d draw %ld", item->gate, item->closed,
                      item->amount, item->other, item->input, item->way, item->draw);
        for (int k = 0; k < item->case_count; k++) {
            print_message(" (when %d value %ld zero %d)", item->cases[k].when, item->cases[k].value,
                          item->cases[k].zero);
        }
        print_message(
            item->kind == REF_COUNTER ? " adds %d change %d new %d carried %d first %d series %d stops %d\n" : "\n",
            item->adds, item->change, item->new_edge, item->carried, item->at_once, item->series_count, item->stops);
    }
    for (int d = 0; d < plan->day_count; d++) {
        for (int s = 0; s < plan->days[d].count; s++) {
            const ref_stretch *x = &plan->days[d].stretches[s];
            print_message("day %d%s: %d s, given %d%d%d%d, quantity %ld, speed %ld, %d turns of %ld, happens %d %d\n",
                          d, s == plan->days[d].rest ? " rest" : "", x->lasts, x->given[0], x->given[1], x->given[2],
                          x->given[3], x->quantity, x->speed, x->turns, x->angle, x->happens[0], x->happens[1]);
        }
    }
    print_message("offset %d, uncounted %ld, counted %ld\n", plan->offset, plan->uncounted, plan->counted);
}

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
            if (!is_event(plan->items[i].kind) || !vd_course_happened(course, (uint16_t)i)) {
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
    if (at % 4 == 0) { /* the same, with rounds of days added up */
        assert_int_equal(vd_course_start(course, &given->plan, memory, sizeof memory, NULL), VD_OK);
        vd_course_finish(course);
        compare_sums(course, plan, &wanted, at);
    }
    free(wanted.marks);
    return marks;
}

static void random_plans(void **state)
{
    (void)state;
    const char *cases = getenv("INTERVAL_CASES"), *one = getenv("INTERVAL_SEED");
    static ref_plan plan;
    static given_plan given;
    size_t marks = 0;
    int most = one != NULL ? 1 : cases != NULL ? atoi(cases) : 2000;
    for (int n = 0; n < most; n++) {
        uint64_t at = one != NULL ? strtoull(one, NULL, 10) : (uint64_t)n + 1;
        seed = at * 2654435761u;
        some_plan(&plan, at % 100 == 0 && at <= 2000);
        if (one != NULL) {
            print_plan(&plan);
        }
        marks += play_both(&plan, &given, at);
    }
    print_message("%zu events in %d plans\n", marks, most);
    assert_true(marks > (size_t)most); /* they are about something */
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(random_plans)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
