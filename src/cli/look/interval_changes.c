/* SPDX-License-Identifier: MIT
 * What a change makes of intervals: of each only what changes, in one line, on the usual days of the model. */
#include "intervals.h"

#include <string.h>

/* Both sides of a change, played. */
typedef struct contrast {
    played was, is;
    bool differs; /* and both are known */
} contrast;

/* Whether anything that intervals are about is another. */
static bool is_another(const vd_set *before, const vd_set *after)
{
    bool another = false;
    for (uint16_t k = 0; k < after->model->intervals->formula_count && !another; k++) {
        another = !vd_amount_equal(vd_intervals_amount(before, k), vd_intervals_amount(after, k));
    }
    return another;
}

static void contrast_start(contrast *x, const vd_set *before, const vd_set *after)
{
    *x = (contrast){0};
    if (after->model->intervals != NULL && is_another(before, after)) {
        day_list days = days_usual(after->model);
        played_start(&x->was, before, &days);
        played_start(&x->is, after, &days);
        x->differs = vd_played_is_known(&x->was.runs) && vd_played_is_known(&x->is.runs);
    }
}

static void contrast_free(contrast *x)
{
    if (x->was.memory != NULL) {
        played_free(&x->was);
        played_free(&x->is);
    }
}

/* ---- Ignored ---- */

/* Whether it can rule on no day, though it says an interval: one that is 0 or unused is meant to be. */
static bool cannot_rule(const played *p, uint16_t item, uint16_t k)
{
    vd_never_why why = vd_case_never(&p->plan, p->may, item, k).why;
    return why == VD_NEVER_WHILE || why == VD_NEVER_ABOVE || why == VD_NEVER_GATE;
}

/* Nor is it ignored where these days just do not have what it is for. */
static bool is_ignored(const played *p, uint16_t item, uint16_t k)
{
    vd_case_sum most = vd_played_case_most(&p->runs, item, k);
    bool meant = vd_case_never(&p->plan, p->may, item, k).why != VD_NEVER_NOT;
    return cannot_rule(p, item, k) || (!meant && most.held > 0 && most.expired == 0);
}

static void warn_of_case(const cli *c, const contrast *x, uint16_t item, uint16_t k, changes_shown *shown)
{
    vd_ref value = x->is.intervals->items[item].counter->cases[k].value;
    char *why = played_why_not(&x->is, item, k), *was = played_why_not(&x->was, item, k);
    char *every = played_amount(&x->is, value), *before = played_amount(&x->was, value);
    bool touched = strcmp(every, before) != 0 || was == NULL;
    if (why != NULL && touched && is_ignored(&x->is, item, k) && changes_are_news(shown, why)) {
        warn(c, why);
    }
    g_free(before);
    g_free(every);
    g_free(was);
    g_free(why);
}

void intervals_warn_ignored(const cli *c, const vd_set *before, const vd_set *after, changes_shown *shown)
{
    contrast x;
    contrast_start(&x, before, after);
    for (uint16_t i = 0; x.differs && i < x.is.intervals->item_count; i++) {
        const vd_counter *counter = x.is.intervals->items[i].counter;
        for (uint8_t k = 0; counter != NULL && k < counter->case_count; k++) {
            warn_of_case(c, &x, i, k, shown);
        }
    }
    contrast_free(&x);
}

void intervals_note_ignored(const cli *c, const vd_set *set)
{
    const vd_intervals *intervals = set->model->intervals;
    json_t *list = json_array();
    played p = {0};
    if (intervals != NULL) {
        day_list days = days_usual(set->model);
        played_start(&p, set, &days);
    }
    for (uint16_t i = 0; intervals != NULL && vd_played_is_known(&p.runs) && i < intervals->item_count; i++) {
        const vd_counter *counter = intervals->items[i].counter;
        for (uint8_t k = 0; counter != NULL && k < counter->case_count; k++) {
            char *why = played_why_not(&p, i, k);
            if (cannot_rule(&p, i, k)) {
                message(c, "note: %s", why);
                json_array_append_new(list, json_string(why));
            }
            g_free(why);
        }
    }
    if (intervals != NULL) {
        played_free(&p);
    }
    json_object_set_new(c->result, "ignored", list);
}

/* ---- Changed ---- */

/* Where lines go: a lead before the first, and the JSON. */
typedef struct telling {
    const cli *c;
    changes_shown *shown;
    const contrast *x;
    json_t *list;
    bool led;
} telling;

static void tell(telling *t, const char *label, const char *was, const char *is)
{
    if (strcmp(was, is) == 0) {
        return;
    }
    char *line = g_strdup_printf("  %s: %s (was %s)", label, is, was);
    json_array_append_new(t->list, json_pack("{s:s, s:s, s:s}", "label", label, "before", was, "after", is));
    if (changes_are_news(t->shown, line)) {
        if (!t->led) {
            day_list days = days_usual(t->x->is.set->model);
            char *called = days_words(&days);
            message(t->c, "On usual days (%s):", called);
            g_free(called);
        }
        t->led = true;
        message(t->c, "%s", line);
    }
    g_free(line);
}

/* A number of times: "60 a day", "never". Takes it over. */
static char *a_day(char *times)
{
    char *words = g_ascii_isdigit(times[0]) || g_str_has_prefix(times, "below") ? g_strconcat(times, " a day", NULL)
                                                                                : g_strdup(times);
    g_free(times);
    return words;
}

/* "every 2 min, 60 a day"; "60 a day" where only that differs */
static char *case_words(const played *p, uint16_t item, uint8_t k, const char *every, bool differs)
{
    char *times = a_day(played_case_times(p, item, k));
    char *words = differs ? g_strdup_printf("every %s, %s", every[0] != '\0' ? every : "-", times) : g_strdup(times);
    g_free(times);
    return words;
}

static void tell_cases(telling *t, uint16_t item)
{
    const vd_item *about = &t->x->is.intervals->items[item];
    for (uint8_t k = 0; k < about->counter->case_count; k++) {
        const vd_case *one = &about->counter->cases[k];
        char *old = played_amount(&t->x->was, one->value), *new = played_amount(&t->x->is, one->value);
        bool differs = strcmp(old, new) != 0;
        char *was = case_words(&t->x->was, item, k, old, differs), *is = case_words(&t->x->is, item, k, new, differs);
        bool comes = vd_played_case_most(&t->x->was.runs, item, k).expired > 0 ||
                     vd_played_case_most(&t->x->is.runs, item, k).expired > 0;
        if (comes) {
            tell(t, one->label[0] != '\0' ? one->label : vd_item_called(about), was, is);
        }
        g_free(is);
        g_free(was);
        g_free(new);
        g_free(old);
    }
}

/* What a store holds matters once something is lost. */
static bool is_told(const telling *t, uint16_t item)
{
    const vd_item *about = &t->x->is.intervals->items[item];
    return about->label[0] != '\0' && (about->kind != VD_ITEM_STORE || vd_played_most(&t->x->was.runs, item).lost > 0 ||
                                       vd_played_most(&t->x->is.runs, item).lost > 0);
}

static void tell_item(telling *t, uint16_t item)
{
    const vd_item *about = &t->x->is.intervals->items[item];
    bool store = about->kind == VD_ITEM_STORE;
    char *was = store ? played_store_full(&t->x->was, item) : a_day(played_item_words(&t->x->was, item));
    char *is = store ? played_store_full(&t->x->is, item) : a_day(played_item_words(&t->x->is, item));
    tell(t, about->label, was, is);
    g_free(is);
    g_free(was);
}

void intervals_tell_changed(const cli *c, const vd_set *before, const vd_set *after, changes_shown *shown)
{
    contrast x;
    contrast_start(&x, before, after);
    telling t = {.c = c, .shown = shown, .x = &x, .list = json_array()};
    for (uint16_t i = 0; x.differs && i < x.is.intervals->item_count; i++) {
        const vd_item *item = &x.is.intervals->items[i];
        if (item->kind == VD_ITEM_COUNTER) {
            tell_cases(&t, i);
        } else if (!vd_item_is_fact(item) && is_told(&t, i)) {
            tell_item(&t, i);
        }
    }
    for (unsigned k = 0; x.differs && played_costs[k] != NULL; k++) {
        char *was = played_cost_words(&x.was, k), *is = played_cost_words(&x.is, k);
        if (was != NULL && is != NULL) {
            tell(&t, played_costs[k], was, is);
        }
        g_free(is);
        g_free(was);
    }
    if (json_array_size(t.list) > 0) {
        json_object_set(c->result, "intervals", t.list);
    }
    json_decref(t.list);
    contrast_free(&x);
}
