/* SPDX-License-Identifier: MIT
 * verdite intervals: which interval rules when, what that makes of a day, and what is set but ignored. */
#include "commands.h"
#include "../look/intervals.h"
#include "../print/print.h"

#include <string.h>

/* ---- For people ---- */

static void show_whys(const cli *c, const played *p, uint16_t item)
{
    for (uint8_t k = 0; k < p->intervals->items[item].counter->case_count; k++) {
        char *why = played_why_not(p, item, k);
        if (why != NULL) {
            lead_print(c, TONE_FAINT, "-", "  ", why);
        }
        g_free(why);
    }
}

/* How long a case rules on a day, as far as runs differ the longer; and how often it expires. Free them. */
static void case_words(const played *p, uint16_t item, uint8_t k, char **rules, char **times)
{
    vd_case_sum least = vd_played_case_least(&p->runs, item, k), most = vd_played_case_most(&p->runs, item, k);
    const char *held = duration_text((int64_t)(most.held * VD_DAY_SECONDS / p->plan.counted) * 1000);
    *rules = most.held == 0 ? g_strdup("never") : g_strconcat(least.held < most.held ? "up to " : "", held, NULL);
    *times = played_a_day(p, least.expired, most.expired);
}

/* A counter of several cases: the first that holds rules. */
static void show_cases(const cli *c, const played *p, uint16_t item)
{
    static const char *const titles[] = {"case", "every", "rules", "times", NULL};
    const vd_counter *counter = p->intervals->items[item].counter;
    sheet s = sheet_start(c, stdout, titles);
    char *title =
        g_strdup_printf("%s, a day: the first case that holds rules", vd_item_called(&p->intervals->items[item]));
    sheet_heading(&s, title);
    g_free(title);
    for (uint8_t k = 0; k < counter->case_count; k++) {
        char *every = played_amount(p, counter->cases[k].value), *rules = NULL, *times = NULL;
        case_words(p, item, k, &rules, &times);
        sheet_row(&s, counter->cases[k].label, every, rules, times, NULL);
        g_free(rules);
        g_free(times);
        g_free(every);
    }
    sheet_print(&s);
    char now[512];
    vd_writer writer = vd_writer_start(now, sizeof now);
    if (p->now != NULL && vd_interval_say_now(p->set, &p->plan, p->now, item, &writer)) {
        lead_print(c, TONE_STRONG, "-", "  ", now);
    }
    show_whys(c, p, item);
}

/* Counters of one case, side by side. */
static void show_singles(const cli *c, const played *p, bool first)
{
    static const char *const titles[] = {"", "every", "times", NULL};
    sheet s = sheet_start(c, stdout, titles);
    bool any = false;
    sheet_heading(&s, first ? "A day" : "Besides, a day");
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        const vd_item *item = &p->intervals->items[i];
        if (item->kind != VD_ITEM_COUNTER || item->counter->case_count != 1) {
            continue;
        }
        char *every = played_amount(p, item->counter->cases[0].value), *rules = NULL, *times = NULL;
        case_words(p, i, 0, &rules, &times);
        sheet_row(&s, vd_item_called(&p->intervals->items[i]), every, times, NULL);
        any = true;
        g_free(rules);
        g_free(times);
        g_free(every);
    }
    if (!any) {
        sheet_drop(&s);
        return;
    }
    sheet_print(&s);
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        const vd_item *item = &p->intervals->items[i];
        if (item->kind == VD_ITEM_COUNTER && item->counter->case_count == 1) {
            show_whys(c, p, i);
        }
    }
}

/* What is no counter: events that counters lead to, and stores. */
static void show_sums(const cli *c, const played *p)
{
    static const char *const titles[] = {"", "", NULL};
    sheet s = sheet_start(c, stdout, titles);
    sheet_heading(&s, "In all, a day");
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        const vd_item *item = &p->intervals->items[i];
        if (item->label[0] == '\0' || vd_item_is_fact(item) || item->kind == VD_ITEM_COUNTER) {
            continue;
        }
        char *text = played_item_words(p, i);
        sheet_row(&s, item->label, text, NULL);
        g_free(text);
    }
    sheet_print(&s);
}

static void show_costs(const cli *c, const played *p)
{
    static const char *const titles[] = {"", "", NULL};
    sheet s = sheet_start(c, stdout, titles);
    bool any = false;
    sheet_heading(&s, "What that takes");
    for (unsigned k = 0; played_costs[k] != NULL; k++) {
        char *text = played_cost_words(p, k);
        if (text != NULL) {
            char *taker = played_cost_taker(p, k), *all = g_strconcat(text, taker, NULL);
            sheet_row(&s, played_costs[k], all, NULL);
            any = true;
            g_free(all);
            g_free(taker);
        }
        g_free(text);
    }
    any ? sheet_print(&s) : sheet_drop(&s);
}

static void show(const cli *c, const played *p, const day_list *days)
{
    char *called = days_words(days);
    char *title = g_strdup_printf("%s, on %s (%s)", p->set->model->title,
                                  days->described != NULL ? "described days" : "usual days", called);
    title_print(c, title);
    g_free(title);
    g_free(called);
    days_show(c, p->set->model, days);
    bool first = true;
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        if (p->intervals->items[i].kind == VD_ITEM_COUNTER && p->intervals->items[i].counter->case_count > 1) {
            first = false;
            show_cases(c, p, i);
        }
    }
    show_singles(c, p, first);
    awake_show(c, p);
    show_sums(c, p);
    show_costs(c, p);
    if (vd_plan_is_about(&p->plan)) {
        lead_print(c, TONE_FAINT, "-", "  ",
                   "What is drawn by chance decides here what rules or is kept: least and most are about right.");
    }
}

/* ---- For programs ---- */

static json_t *pair(uint64_t a, uint64_t b)
{
    return json_pack("[I, I]", (json_int_t)(a < b ? a : b), (json_int_t)(a < b ? b : a));
}

static json_t *counter_json(const played *p, uint16_t item)
{
    static const char *const whys[] = {"no", "unused", "zero", "cannot-hold", "another-rules", "gate-closed"};
    const vd_counter *counter = p->intervals->items[item].counter;
    json_t *cases = json_array();
    for (uint8_t k = 0; k < counter->case_count; k++) {
        vd_case_sum least = vd_played_case_least(&p->runs, item, k), most = vd_played_case_most(&p->runs, item, k);
        char *every = played_amount(p, counter->cases[k].value), *why = played_why_not(p, item, k);
        json_t *one =
            json_pack("{s:s, s:s, s:o, s:o, s:I, s:s}", "label", counter->cases[k].label, "every", every, "seconds",
                      pair(least.held, most.held), "times", pair(least.expired, most.expired), "longest",
                      (json_int_t)most.longest, "never", whys[vd_case_never(&p->plan, p->may, item, k).why]);
        if (why != NULL) {
            json_object_set_new(one, "words", json_string(why));
        }
        json_array_append_new(cases, one);
        g_free(why);
        g_free(every);
    }
    return cases;
}

static json_t *item_json(const played *p, uint16_t i)
{
    const vd_item *item = &p->intervals->items[i];
    vd_item_sum least = vd_played_least(&p->runs, i), most = vd_played_most(&p->runs, i);
    json_t *one = json_pack("{s:s, s:s}", "item", item->key, "label", item->label);
    if (vd_item_is_fact(item)) {
        json_object_set_new(one, "seconds", pair(least.held, most.held));
    } else if (item->kind == VD_ITEM_STORE) {
        json_object_set_new(one, "most", pair(least.most, most.most));
        json_object_set_new(one, "lost", pair(least.lost, most.lost));
        json_object_set_new(one, "taken", pair(least.taken, most.taken));
    } else {
        json_object_set_new(one, "times", pair(least.happened, most.happened));
    }
    if (item->kind == VD_ITEM_COUNTER) {
        char now[512];
        vd_writer writer = vd_writer_start(now, sizeof now);
        json_object_set_new(one, "cases", counter_json(p, i));
        if (p->now != NULL && vd_interval_say_now(p->set, &p->plan, p->now, i, &writer)) {
            json_object_set_new(one, "now", json_string(now));
        }
    }
    return one;
}

static void range_json(const cli *c, const char *key, vd_range range, int64_t parts)
{
    int64_t least = 0, most = 0;
    if (vd_range_outward(&range, (vd_ratio){parts, 1}, &least, &most)) {
        json_object_set_new(c->result, key, json_pack("[I, I]", (json_int_t)least, (json_int_t)most));
    }
}

static void costs_json(const cli *c, const played *p)
{
    const vd_costs *costs = p->plan.costs;
    if (costs != NULL) {
        range_json(c, "bytes-a-month", vd_bytes_a_month(&p->runs), 1);
        range_json(c, "hundredths-a-month", vd_price_a_month(&p->runs), 100);
        if (costs->currency != NULL) {
            json_object_set_new(c->result, "currency", json_string(costs->currency));
        }
        range_json(c, "battery-days", vd_battery_days(&p->runs), 1);
    }
}

static void to_json(const cli *c, const played *p)
{
    json_t *items = json_array(), *days = json_array();
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        if (p->intervals->items[i].key[0] != '\0') {
            json_array_append_new(items, item_json(p, i));
        }
    }
    for (uint16_t d = 0; d < p->plan.day_count; d++) {
        json_array_append_new(days, json_string(p->plan.days[d].label));
    }
    json_object_set_new(c->result, "model", json_string(p->set->model->key));
    json_object_set_new(c->result, "days", days);
    json_object_set_new(c->result, "counted", json_integer(p->plan.counted));
    json_object_set_new(c->result, "items", items);
    json_object_set_new(c->result, "about", json_boolean(vd_plan_is_about(&p->plan)));
    costs_json(c, p);
    awake_json(c, p);
}

/* The first day behind the week that does not count which no earlier one is like. */
static bool is_new_day(const day_list *days, uint16_t day)
{
    bool fresh = true;
    for (uint16_t d = 7; d < day; d++) {
        fresh = fresh && days->list[d % days->count].stretches != days->list[day % days->count].stretches;
    }
    return fresh;
}

/* The course of each kind of day; only the first of them goes into a picture. */
static void show_course(cli *c, const played *p, const day_list *days)
{
    for (uint16_t d = 7; d < days->count + 7u; d++) {
        size_t count = 0;
        if (!is_new_day(days, d)) {
            continue;
        }
        const char *label = days->list[d % days->count].label;
        day_row *rows = day_rows(p, d, &count);
        if (c->options.drawn && !c->options.json) {
            char *title = g_strdup_printf("The course of a day (%s)", label);
            day_rows_show(c, title, rows, count);
            g_free(title);
        }
        if (c->options.chart != NULL && d == 7) {
            char *title = g_strdup_printf("%s, the course of a day (%s)", p->set->model->title, label);
            day_rows_draw(c, title, rows, count);
            g_free(title);
        }
        day_rows_free(rows, count);
    }
}

/* Plays what was chosen, and tells of it. */
static void play(cli *c, const side *s, const day_list *days)
{
    played p;
    played_start(&p, &s->set, days);
    if (s->profile == NULL && !s->factory) {
        played_is_read(&p);
    }
    bool known = played_is_known(c, &p);
    json_object_set_new(c->result, "known", json_boolean(known));
    if (known) {
        to_json(c, &p);
    }
    if (known && !c->options.json) {
        show(c, &p, days);
    }
    if (known && (c->options.drawn || c->options.chart != NULL)) {
        show_course(c, &p, days);
    }
    played_free(&p);
}

void intervals_open(cli *c, void (*go)(cli *c, const side *s, const day_list *days))
{
    const vd_model *model = NULL;
    visit v = {0};
    side s = {.name = c->options.words[0]};
    day_list days = {0};
    if (side_choose(c, &s, &model) && (model == NULL || days_choose(c, model, &days)) && side_open(c, &s, &model, &v) &&
        (days.list != NULL || days_choose(c, model, &days))) {
        if (model->intervals == NULL) {
            message(c, "The model %s has no intervals.", model->key);
            json_object_set_new(c->result, "model", json_string(model->key));
        } else {
            go(c, &s, &days);
        }
    }
    days_free(&days);
    side_free(&s);
    visit_free(&v);
}

vd_class command_intervals(cli *c)
{
    if (picture_check(c)) {
        intervals_open(c, play);
    }
    return c->worst;
}
