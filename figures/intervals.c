/* SPDX-License-Identifier: MIT
 * The intervals of a brock played over 35 days: of 24 stretches at factory values and at the least that each interval
 * takes, with facts that nobody knows, of thousands of stretches; and 3,591 values of one interval tried. These take
 * the machine's time, so the best of several runs counts. */
#include "figures.h"

#include <stdio.h>

#include "verdite/days.h"
#include "verdite/goal.h"

#define RUNS 9
#define MOST_PLAYED 64u

/* A brock's intervals, being played. */
typedef struct playing {
    vd_set set;
    vd_amount *amounts;
    vd_course_plan plan;
    void *memory[MOST_PLAYED];
    size_t size;
} playing;

static void start(playing *p, const vd_model *model, const vd_days *days)
{
    uint16_t count = 0;
    const vd_day *list = vd_days_list(days, &count);
    vd_set_start(&p->set, model, own(vd_set_size(model)), vd_set_size(model));
    vd_set_put_initial(&p->set);
    p->amounts = own(model->intervals->formula_count * sizeof *p->amounts);
    p->plan = (vd_course_plan){.items = model->intervals->items,
                               .amounts = p->amounts,
                               .days = list,
                               .item_count = model->intervals->item_count,
                               .day_count = count,
                               .uncounted = 7 * VD_DAY_SECONDS,
                               .counted = 28 * VD_DAY_SECONDS};
    vd_intervals_amounts(&p->set, p->amounts);
    p->size = vd_course_size(&p->plan);
    for (unsigned k = 0; k < MOST_PLAYED; k++) {
        p->memory[k] = own(p->size);
    }
}

/* Milliseconds that it takes so often; each time with the values of the set by then. */
static double time_of(playing *p, unsigned times)
{
    static vd_course_storage rooms[MOST_PLAYED];
    int64_t best = INT64_MAX;
    for (int run = 0; run < RUNS; run++) {
        int64_t from = g_get_monotonic_time();
        vd_intervals_amounts(&p->set, p->amounts);
        for (unsigned k = 0; k < times; k++) {
            vd_course *course = vd_course_in(&rooms[k]);
            if (vd_course_start(course, &p->plan, p->memory[k], p->size, NULL) != VD_OK) {
                fail("the intervals of a brock are not played");
            }
            vd_course_finish(course);
        }
        int64_t took = g_get_monotonic_time() - from;
        best = took < best ? took : best;
    }
    return (double)best / 1000;
}

static vd_days *days_of(const vd_model *model, unsigned stretches)
{
    vd_fault fault = {0};
    GString *text = g_string_new("");
    for (unsigned k = 0; k < stretches; k++) {
        g_string_append_printf(text, "%s%u s %s", k > 0 ? ", " : "", VD_DAY_SECONDS / stretches,
                               k % 3 == 1   ? "driving at 70 km/h with 5 turns of 45°"
                               : k % 3 == 2 ? "idling"
                                            : "still");
    }
    if (VD_DAY_SECONDS % stretches != 0) {
        g_string_append(text, ", rest still");
    }
    vd_days *days = vd_days_parse(model, text->str, &fault);
    if (days == NULL) {
        fail("a day of a brock is not sound");
    }
    g_string_free(text, TRUE);
    return days;
}

/* Days one behind the other that have so many stretches together, none like another. */
static void measure_stretches(const vd_model *model, uint16_t count)
{
    playing p;
    vd_days *one = days_of(model, 96);
    uint16_t days = 0;
    const vd_day *like = vd_days_list(one, &days);
    vd_day *many = own(count / 96u * sizeof *many);
    for (unsigned d = 0; d < count / 96u; d++) {
        vd_stretch *stretches = own(like->stretch_count * sizeof *stretches);
        for (uint16_t k = 0; k < like->stretch_count; k++) {
            stretches[k] = like->stretches[k];
            stretches[k].turns = stretches[k].turns + d % 7u;
        }
        many[d] = (vd_day){"a day", stretches, like->stretch_count, 0};
    }
    start(&p, model, one);
    p.plan.days = many;
    p.plan.day_count = (uint16_t)(count / 96u);
    p.plan.uncounted = 0;
    p.plan.counted = count / 96u * VD_DAY_SECONDS;
    set_typed(&p.set, "report.turn", "30 °");
    set_typed(&p.set, "report.distance", "5000 m");
    printf("play a brock, %5u stretches, none twice       %9.2f ms\n", count, time_of(&p, 1));
    vd_days_free(one);
}

void measure_intervals(const vd_model *brock)
{
    static const char *const least[][2] = {{"report.alarm", "1 s"},    {"report.roaming", "1 s"},
                                           {"report.moving", "10 s"},  {"report.standing", "1 min"},
                                           {"report.parked", "5 min"}, {"report.park-after", "5 min"},
                                           {"report.distance", "1 m"}, {"report.turn", "1 °"}};
    playing p;
    vd_days *days = days_of(brock, 24);
    start(&p, brock, days);
    printf("memory to play a brock                           %zu bytes\n", p.size);
    printf("play a brock, 35 days of 24 stretches            %9.2f ms\n", time_of(&p, 1));
    printf("  the same 64 times, six facts not known         %9.2f ms\n", time_of(&p, MOST_PLAYED));
    for (size_t k = 0; k < sizeof least / sizeof least[0]; k++) {
        set_typed(&p.set, least[k][0], least[k][1]);
    }
    printf("  the same at each interval's least              %9.2f ms\n", time_of(&p, 1));
    vd_days_free(days);
    for (uint16_t count = 2496; count <= 9984; count = (uint16_t)(count * 2)) {
        measure_stretches(brock, count);
    }
    playing q = {0};
    vd_days *usual = days_of(brock, 24);
    start(&q, brock, usual);
    q.plan.days = brock->intervals->days;
    q.plan.day_count = brock->intervals->day_count;
    uint16_t setting = vd_model_find(brock, "report.moving");
    vd_meaning meaning;
    unsigned tried = 0;
    int64_t from = g_get_monotonic_time();
    vd_set_meaning(&q.set, setting, &meaning);
    for (int64_t at = meaning.min; at <= meaning.max; at += meaning.step, tried++) {
        vd_course_storage room;
        vd_course *course = vd_course_in(&room);
        vd_value value = vd_value_from_count(&meaning, at);
        vd_set_put(&q.set, setting, &value);
        vd_intervals_amounts(&q.set, q.amounts);
        vd_course_start(course, &q.plan, q.memory[0], q.size, NULL);
        vd_course_finish(course);
    }
    printf("try %u values of one interval on usual days    %9.2f s\n", tried,
           (double)(g_get_monotonic_time() - from) / 1e6);
    vd_days_free(usual);
}
