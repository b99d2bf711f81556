/* SPDX-License-Identifier: MIT
 * verdite plan --goal: which values of which settings suffice. */
#include "commands.h"
#include "../look/goal.h"
#include "../print/print.h"

#include <string.h>

#define MOST_RUNS 3u /* of values, shown; in the JSON there are all */

static bool goes_on(void *about, const char *text)
{
    progress_show(about, text);
    return stops_so_far() == 0;
}

static char *run_words(const goal_search *search, const goal_answer *answer)
{
    const vd_setting *setting = &search->present->model->settings[answer->setting];
    GString *words = g_string_new("");
    for (guint k = 0; k < answer->runs->len && k < MOST_RUNS; k++) {
        const goal_run *run = &g_array_index(answer->runs, goal_run, k);
        g_string_append_printf(words, "%s%s", k > 0 ? ", " : "", value_text(setting, &run->from));
        if (!vd_value_equal(&run->from, &run->to)) {
            g_string_append_printf(words, " to %s", value_text(setting, &run->to));
        }
    }
    if (answer->runs->len > MOST_RUNS) {
        g_string_append_printf(words, " and %u more runs", answer->runs->len - MOST_RUNS);
    }
    return g_string_free(words, FALSE);
}

/* What no value reaches, and the best it can do where that is more than now. */
static void show_short(const cli *c, const goal_search *search)
{
    GPtrArray *idle = g_ptr_array_new();
    for (guint i = 0; i < search->answers->len; i++) {
        const goal_answer *answer = &g_array_index(search->answers, goal_answer, i);
        const vd_setting *setting = &search->present->model->settings[answer->setting];
        bool better = answer->comes_to != NULL && vd_goal_is_better(answer->best, search->worth);
        if (answer->runs->len == 0 && better) {
            char *text = g_strdup_printf("%s: no value suffices. The best is %s: %s.", setting->words->key,
                                         value_text(setting, &answer->nearest), answer->comes_to);
            lead_print(c, TONE_FAINT, "-", "  ", text);
            g_free(text);
        } else if (answer->runs->len == 0) {
            g_ptr_array_add(idle, (gpointer)setting->words->key);
        }
    }
    if (idle->len > 0) {
        char *all = names_words(c, idle),
             *text = g_strdup_printf("With all cases kept, no value is better than now: %s.", all);
        lead_print(c, TONE_FAINT, "-", "  ", text);
        g_free(text);
        g_free(all);
    }
    g_ptr_array_free(idle, TRUE);
}

static void show(const cli *c, const goal_search *search)
{
    static const char *const titles[] = {"setting", "now", "suffices", "the nearest gives", "", NULL};
    sheet s = sheet_start(c, stdout, titles);
    bool any = false;
    char *title = g_strdup_printf("%s? Now: %s%s%s.", c->options.goal, search->comes_to,
                                  search->lasts != NULL ? "; " : "", search->lasts != NULL ? search->lasts : "");
    title_print(c, title);
    g_free(title);
    sheet_heading(&s, search->met ? "It is reached. It stays so with any of these" : "Any one of these reaches it");
    for (guint i = 0; i < search->answers->len; i++) {
        const goal_answer *answer = &g_array_index(search->answers, goal_answer, i);
        const vd_setting *setting = &search->present->model->settings[answer->setting];
        if (answer->runs->len > 0) {
            vd_value now = vd_set_get(search->present, answer->setting);
            char *shown = g_strdup(value_text(setting, &now)), *words = run_words(search, answer);
            sheet_row(&s, setting->words->key, shown, words, answer->comes_to, answer->then, NULL);
            g_free(words);
            g_free(shown);
            any = true;
        }
    }
    any ? sheet_print(&s) : sheet_drop(&s);
    if (!any) {
        message(c, "No setting alone reaches it.");
    }
    show_short(c, search);
}

static json_t *answer_json(const goal_search *search, const goal_answer *answer)
{
    const vd_setting *setting = &search->present->model->settings[answer->setting];
    vd_value now = vd_set_get(search->present, answer->setting);
    json_t *runs = json_array();
    json_t *one =
        json_pack("{s:s, s:o, s:o}", "key", setting->words->key, "now", value_json(setting, &now), "suffices", runs);
    for (guint k = 0; k < answer->runs->len; k++) {
        const goal_run *run = &g_array_index(answer->runs, goal_run, k);
        json_array_append_new(runs, json_pack("{s:o, s:o}", "from", value_json(setting, &run->from), "to",
                                              value_json(setting, &run->to)));
    }
    if (answer->comes_to != NULL) {
        json_object_set_new(one, "nearest", value_json(setting, &answer->nearest));
        json_object_set_new(one, "gives", json_string(answer->comes_to));
    }
    return one;
}

static void to_json(const cli *c, const goal_search *search)
{
    json_t *settings = json_array();
    for (guint i = 0; i < search->answers->len; i++) {
        json_array_append_new(settings, answer_json(search, &g_array_index(search->answers, goal_answer, i)));
    }
    json_object_set_new(c->result, "goal",
                        json_pack("{s:s, s:b, s:s, s:i, s:o}", "wanted", c->options.goal, "reached", search->met, "now",
                                  search->comes_to, "tried", (int)search->tried, "settings", settings));
}

/* Stopped by hand: which settings nobody knows of. */
static void tell_left(cli *c, const goal_search *search)
{
    GPtrArray *names = g_ptr_array_new();
    for (guint i = 0; i < search->left->len; i++) {
        uint16_t setting = g_array_index(search->left, uint16_t, i);
        g_ptr_array_add(names, (gpointer)search->present->model->settings[setting].words->key);
    }
    if (names->len > 0) {
        char *all = names_words(c, names);
        message(c, "Stopped. Not tried to the end: %s.", all);
        g_free(all);
        c->worst = VD_CLASS_INTERRUPTED;
    }
    g_ptr_array_free(names, TRUE);
}

/* A tariff that was typed is as good as one of the model. */
static bool belongs(const vd_model *model, const vd_goal *goal, const day_list *days)
{
    const vd_intervals *intervals = model->intervals;
    bool typed = goal->kind == VD_GOAL_PRICE && days->tariff_count > 0;
    return typed || vd_goal_belongs(intervals, intervals->costs, goal);
}

vd_class goal_answer_for(cli *c, const vd_set *set, const day_list *days)
{
    vd_goal goal;
    vd_fault fault = {0};
    goal_search search;
    if (vd_goal_parse(c->options.goal, strlen(c->options.goal), &goal, &fault) != VD_OK) {
        return report(c, &fault);
    }
    if (!belongs(set->model, &goal, days)) {
        char *said = g_strdup_printf("The model %s says nothing that such a goal needs.", set->model->key);
        vd_class worst = report_wrong_words(c, said, "What it says of costs: docs/intervals.md");
        g_free(said);
        return worst;
    }
    stops_catch();
    goal_find(&search, set, &goal, days, goes_on, c);
    progress_show(c, "");
    stops_release();
    json_object_set_new(c->result, "model", json_string(set->model->key));
    json_object_set_new(c->result, "known", json_boolean(search.known));
    if (played_is_known(c, &search.as_it_is)) {
        to_json(c, &search);
        if (!c->options.json) {
            show(c, &search);
        }
        tell_left(c, &search);
    }
    goal_free(&search);
    return c->worst;
}
