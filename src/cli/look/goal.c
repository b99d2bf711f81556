/* SPDX-License-Identifier: MIT
 * Which values of which settings reach a goal. Each is tried, since more often need not mean worse; left out is only
 * what is proved to be like a value that was tried. */
#include "goal.h"

#include <string.h>

#define TEN_YEARS (3650u * VD_DAY_SECONDS)
#define BETWEEN 64u /* values between two words of how far it is */

/* One setting being tried. */
typedef struct trying {
    goal_search *search;
    goal_answer *answer;
    vd_set set; /* the present values, but for this one */
    vd_goal_case where;
    bool has_case;
    unsigned faults;             /* rules that are broken as it is */
    int64_t now;                 /* the present count, or index of the choice */
    bool follows;                /* the value before this one reached it */
    bool touched[VD_MOST_ITEMS]; /* items on which it has a bearing */
} trying;

static void answer_free(goal_answer *answer)
{
    g_array_free(answer->runs, TRUE);
    g_free(answer->comes_to);
    g_free(answer->then);
}

/* `touched` NULL: all items. A value that fills a memory has failed there: it is not played to the end. */
static void play(played *p, const vd_set *set, const goal_search *search, const bool *touched)
{
    day_list days = *search->days;
    days.ends_full = touched != NULL && search->goal->kind == VD_GOAL_MEMORY;
    if (search->goal->kind == VD_GOAL_MEMORY) {
        days.uncounted = 0;
        days.counted = (uint32_t)(search->goal->limit.number / search->goal->limit.below);
    }
    played_start_part(p, set, &days, touched != NULL ? &search->as_it_is : NULL, touched);
}

/* How much of a store a run takes, or what is lost: the oldest where it wraps. */
static char *memory_words(const played *p, uint16_t i)
{
    const vd_item *item = &p->intervals->items[i];
    vd_item_sum most = vd_played_most(&p->runs, i);
    char *holds = played_amount(p, item->amount), *full = played_store_full(p, i);
    bool newest = vd_index(item->wraps) != VD_NONE && p->amounts[vd_index(item->wraps)].ratio.number == 0;
    char *words = most.lost == 0      ? g_strdup_printf("%" G_GUINT64_FORMAT " of %s", most.most, holds)
                  : p->plan.ends_full ? g_strdup(full)
                                      : g_strdup_printf("%s, %" G_GUINT64_FORMAT " lost, the %s", full, most.lost,
                                                        newest ? "newest" : "oldest");
    g_free(full);
    g_free(holds);
    return words;
}

/* What the goal is about. */
static char *comes_to(const goal_search *search, const played *p)
{
    if (search->goal->kind != VD_GOAL_MEMORY) {
        return played_cost_words(p, search->goal->kind == VD_GOAL_BATTERY ? PLAYED_BATTERY
                                    : search->goal->kind == VD_GOAL_DATA  ? PLAYED_DATA
                                                                          : PLAYED_PRICE);
    }
    GString *words = g_string_new("");
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        if (p->intervals->items[i].kind == VD_ITEM_STORE) {
            char *one = memory_words(p, i);
            g_string_append_printf(words, "%s%s", words->len > 0 ? "; " : "", one);
            g_free(one);
        }
    }
    return g_string_free(words, FALSE);
}

int64_t goal_memory_lasts(const vd_set *set, const day_list *over)
{
    day_list days = *over;
    played p;
    int64_t full = -1;
    days.uncounted = 0;
    days.counted = TEN_YEARS;
    days.ends_full = true;
    played_start(&p, set, &days);
    for (uint16_t i = 0; i < p.intervals->item_count && full < 0 && vd_played_is_known(&p.runs); i++) {
        full = p.intervals->items[i].kind == VD_ITEM_STORE ? vd_played_least(&p.runs, i).full_at : full;
    }
    played_free(&p);
    return full;
}

/* The same in words: "full after 55 d". */
static char *lasts(const vd_set *set, const day_list *days)
{
    int64_t full = goal_memory_lasts(set, days);
    return full >= 0 ? g_strdup_printf("full after %s", duration_text(full * 1000)) : NULL;
}

uint16_t goal_event(const vd_model *model, const vd_goal *goal)
{
    const vd_intervals *intervals = model->intervals;
    bool charge = goal->kind == VD_GOAL_BATTERY;
    for (uint16_t n = 0; goal->kind != VD_GOAL_MEMORY && intervals->costs != NULL && n < intervals->costs->count; n++) {
        uint16_t item = intervals->costs->list[n].item;
        if (intervals->costs->list[n].charge == charge && vd_item_is_event(&intervals->items[item])) {
            return item;
        }
    }
    for (uint16_t i = 0; i < intervals->item_count; i++) {
        if (intervals->items[i].kind == VD_ITEM_STORE) {
            return intervals->items[i].of[0];
        }
    }
    return VD_NONE;
}

static char *event_words(const goal_search *search, const played *p)
{
    uint16_t event = goal_event(search->present->model, search->goal);
    if (event == VD_NONE) {
        return g_strdup("");
    }
    char *times = played_item_words(p, event);
    char *words = g_strdup_printf("%s %s%s", vd_item_called(&p->intervals->items[event]), times,
                                  strcmp(times, "never") == 0 ? "" : " a day");
    g_free(times);
    return words;
}

/* Rules that writing would break. */
static unsigned faults_of(const vd_set *set, const vd_set *before)
{
    vd_survey survey;
    vd_fault fault = {0};
    unsigned count = 0;
    vd_survey_start(&survey, set, before);
    while (vd_survey_next(&survey, &fault)) {
        count += vd_status_class(fault.status) == VD_CLASS_FILE;
    }
    return count;
}

static void take_best(trying *t, const played *p, const vd_value *value, vd_ratio good)
{
    g_free(t->answer->comes_to);
    g_free(t->answer->then);
    t->answer->nearest = *value;
    t->answer->best = good;
    t->answer->comes_to = comes_to(t->search, p);
    t->answer->then = event_words(t->search, p);
}

static void take_enough(trying *t, const played *p, const vd_value *value, int64_t count)
{
    uint64_t distance = (uint64_t)(count > t->now ? count - t->now : t->now - count);
    if (!t->follows) {
        goal_run run = {*value, *value};
        g_array_append_val(t->answer->runs, run);
    }
    g_array_index(t->answer->runs, goal_run, t->answer->runs->len - 1).to = *value;
    bool first = t->answer->runs->len == 1 && !t->follows;
    if (first || distance < t->answer->distance) {
        take_best(t, p, value, (vd_ratio){0, 1});
        t->answer->distance = distance;
    }
    t->follows = t->search->present->model->settings[t->answer->setting].traits != &vd_type_truth;
}

/* Whether every case that makes its counter expire now still does: a unit that says nothing takes nothing. */
static bool is_still_heard(const trying *t, const played *p)
{
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        const vd_counter *counter = p->intervals->items[i].counter;
        for (uint8_t k = 0; counter != NULL && t->touched[i] && k < counter->case_count; k++) {
            if (vd_played_case_most(&t->search->as_it_is.runs, i, k).expired > 0 &&
                vd_played_case_most(&p->runs, i, k).expired == 0) {
                return false;
            }
        }
    }
    return true;
}

/* Tries one value. False: any higher one is like it, and none of those reaches the goal. */
static bool try_value(trying *t, int64_t count, const vd_value *value)
{
    uint16_t setting = t->answer->setting;
    played p;
    vd_set_put(&t->set, setting, value);
    play(&p, &t->set, t->search, t->touched);
    t->search->tried++;
    bool comes = !t->has_case || vd_played_case_most(&p.runs, t->where.item, t->where.k).expired > 0;
    bool heard = comes && is_still_heard(t, &p);
    bool enough = vd_played_is_known(&p.runs) && heard && vd_goal_is_met(t->search->goal, &p.runs) &&
                  faults_of(&t->set, t->search->present) <= t->faults;
    bool ends = false;
    if (enough) {
        take_enough(t, &p, value, count);
    } else {
        vd_ratio worth;
        bool better = heard && t->answer->runs->len == 0 && vd_goal_worth(t->search->goal, &p.runs, &worth) &&
                      (t->answer->comes_to == NULL || vd_goal_is_better(worth, t->answer->best));
        if (better && faults_of(&t->set, t->search->present) <= t->faults) {
            take_best(t, &p, value, worth);
        }
        t->follows = false;
    }
    bool cut = p.plan.ends_full && !vd_goal_is_met(t->search->goal, &p.runs); /* what came later is not known */
    if (t->has_case && t->where.seconds && !comes && !cut) {
        vd_ratio needs = p.amounts[vd_index(p.intervals->items[t->where.item].counter->cases[t->where.k].value)].ratio;
        int64_t longest = (int64_t)vd_played_case_most(&p.runs, t->where.item, t->where.k).longest;
        ends = needs.number > 0 && needs.number / needs.below > longest;
    }
    played_free(&p);
    return !ends;
}

static bool tell(trying *t, uint64_t at, uint64_t count, bool (*goes_on)(void *, const char *), void *about)
{
    char *text = g_strdup_printf("%s: %u %% of its values. Ctrl-C shows what was found.",
                                 t->search->present->model->settings[t->answer->setting].words->key,
                                 (unsigned)(at * 100 / count));
    bool on = goes_on(about, text);
    g_free(text);
    t->search->interrupted = !on;
    return on;
}

static void try_counts(trying *t, const vd_meaning *meaning, bool (*goes_on)(void *, const char *), void *about)
{
    uint64_t count = (uint64_t)((meaning->max - meaning->min) / meaning->step) + 1;
    for (uint64_t k = 0; k < count; k++) {
        int64_t at = meaning->min + (int64_t)k * meaning->step;
        vd_value value = vd_value_from_count(meaning, at);
        if ((k % BETWEEN == 0 && !tell(t, k, count, goes_on, about)) || !try_value(t, at, &value)) {
            return;
        }
    }
}

static void try_choices(trying *t, const vd_meaning *meaning, bool (*goes_on)(void *, const char *), void *about)
{
    for (uint16_t k = 0; k < meaning->choice_count; k++) {
        vd_value value = vd_value_from_count(meaning, meaning->choices[k].number);
        t->follows = false; /* choices are no row */
        if (!tell(t, k, meaning->choice_count, goes_on, about) || !try_value(t, meaning->choices[k].number, &value)) {
            return;
        }
    }
}

uint64_t goal_values(const vd_set *set, uint16_t setting, vd_meaning *meaning)
{
    const vd_type_traits *traits = set->model->settings[setting].traits;
    vd_value now = vd_set_get(set, setting);
    int64_t count = 0;
    if (now.type == VD_NOTHING || vd_set_exists(set, setting) == VD_FAILS || !vd_set_meaning(set, setting, meaning) ||
        vd_value_to_count(meaning, &now, &count, NULL) != VD_OK) {
        return 0;
    }
    if (traits == &vd_type_truth) {
        meaning->min = 0;
        meaning->max = meaning->step = 1;
    }
    bool ranged = traits == &vd_type_integer || traits == &vd_type_decimal || traits == &vd_type_duration ||
                  traits == &vd_type_truth;
    return traits == &vd_type_choice ? meaning->choice_count
           : ranged                  ? (uint64_t)((meaning->max - meaning->min) / meaning->step) + 1u
                                     : 0;
}

static void try_setting(goal_search *search, uint16_t setting, bool (*goes_on)(void *, const char *), void *about)
{
    const vd_model *model = search->present->model;
    goal_answer answer = {.setting = setting, .runs = g_array_new(FALSE, TRUE, sizeof(goal_run))};
    vd_meaning meaning;
    vd_value now = vd_set_get(search->present, setting);
    void *memory = g_malloc0(vd_set_size(model));
    trying t = {.search = search, .answer = &answer};
    vd_set_start(&t.set, model, memory, vd_set_size(model));
    vd_set_copy(&t.set, search->present);
    t.faults = faults_of(&t.set, search->present);
    vd_goal_touched(model, search->as_it_is.plan.costs, setting, t.touched);
    t.has_case = vd_goal_case_of(model, setting, &t.where);
    goal_values(search->present, setting, &meaning);
    vd_value_to_count(&meaning, &now, &t.now, NULL);
    meaning.choice_count > 0 ? try_choices(&t, &meaning, goes_on, about) : try_counts(&t, &meaning, goes_on, about);
    g_free(memory);
    if (search->interrupted) {
        answer_free(&answer);
        g_array_append_val(search->left, setting);
    } else {
        g_array_append_val(search->answers, answer);
    }
}

/* How many of its values will be tried: none that is longer than its case ever rules. */
static uint64_t count_tries(const goal_search *search, uint16_t setting)
{
    vd_meaning meaning;
    vd_goal_case where;
    uint64_t count = goal_values(search->present, setting, &meaning);
    bool ends = vd_goal_case_of(search->present->model, setting, &where) && where.seconds;
    return ends ? MIN(count, vd_played_case_most(&search->as_it_is.runs, where.item, where.k).longest + 1u) : count;
}

/* Settings with few values come first: whoever does not wait for the last one has an answer of the others. */
static uint16_t next_setting(const goal_search *search, uint8_t *which)
{
    uint64_t fewest = UINT64_MAX;
    uint16_t next = VD_NONE;
    for (uint16_t i = 0; i < search->present->model->setting_count; i++) {
        uint64_t count = which[i] ? count_tries(search, i) : 0;
        next = count > 0 && count < fewest ? i : next;
        fewest = next == i ? count : fewest;
    }
    if (next != VD_NONE) {
        which[next] = 0;
    }
    return next;
}

void goal_find(goal_search *search, const vd_set *present, const vd_goal *goal, const day_list *days,
               bool (*goes_on)(void *about, const char *text), void *about)
{
    uint8_t *which = g_malloc0(present->model->setting_count);
    *search = (goal_search){.goal = goal, .days = days, .present = present};
    search->answers = g_array_new(FALSE, TRUE, sizeof(goal_answer));
    search->left = g_array_new(FALSE, TRUE, sizeof(uint16_t));
    play(&search->as_it_is, present, search, NULL);
    search->known = vd_played_is_known(&search->as_it_is.runs);
    search->met = search->known && vd_goal_is_met(goal, &search->as_it_is.runs);
    vd_goal_worth(goal, &search->as_it_is.runs, &search->worth);
    search->comes_to = search->known ? comes_to(search, &search->as_it_is) : NULL;
    search->lasts = search->known && search->met && goal->kind == VD_GOAL_MEMORY ? lasts(present, days) : NULL;
    vd_goal_settings(present->model, search->as_it_is.plan.costs, goal, which);
    for (uint16_t i = next_setting(search, which); i != VD_NONE && search->known; i = next_setting(search, which)) {
        if (search->interrupted) {
            g_array_append_val(search->left, i);
        } else {
            try_setting(search, i, goes_on, about);
        }
    }
    g_free(which);
}

void goal_free(goal_search *search)
{
    for (guint i = 0; search->answers != NULL && i < search->answers->len; i++) {
        answer_free(&g_array_index(search->answers, goal_answer, i));
    }
    if (search->answers != NULL) {
        g_array_free(search->answers, TRUE);
        g_array_free(search->left, TRUE);
    }
    if (search->as_it_is.memory != NULL) {
        played_free(&search->as_it_is);
    }
    g_free(search->comes_to);
    g_free(search->lasts);
}
