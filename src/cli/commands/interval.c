/* SPDX-License-Identifier: MIT
 * verdite interval: changes an interval by the situation that it is for. */
#include "commands.h"
#include "../print/print.h"

#include <string.h>

/* A case that can be changed by itself. */
typedef struct situation {
    uint16_t setting;
    const char *called;
} situation;

/* All cases of counters that have a name and are set by one setting alone. */
static GArray *situations_of(const vd_model *model)
{
    GArray *all = g_array_new(FALSE, TRUE, sizeof(situation));
    for (uint16_t i = 0; model->intervals != NULL && i < model->intervals->item_count; i++) {
        const vd_item *item = &model->intervals->items[i];
        for (uint8_t k = 0; item->counter != NULL && k < item->counter->case_count; k++) {
            const char *label = item->counter->cases[k].label;
            situation one = {vd_case_setting(model, i, k), label[0] != '\0' ? label : vd_item_called(item)};
            if (one.setting != VD_NONE && model->settings[one.setting].access != VD_READ_ONLY) {
                g_array_append_val(all, one);
            }
        }
    }
    return all;
}

static const char *called_at(const void *about, size_t i)
{
    return g_array_index((GArray *)about, situation, i).called;
}

/* Whether all words that were typed are in a name: "roaming" in "While roaming". */
static bool has_words(const char *called, char **typed, size_t count)
{
    char **words = g_strsplit(called, " ", -1);
    bool all = true;
    for (size_t i = 0; i < count && all; i++) {
        bool found = false;
        for (char **word = words; *word != NULL && !found; word++) {
            found = names_alike(*word, typed[i]);
        }
        all = found;
    }
    g_strfreev(words);
    return all;
}

/* The situation that so many words name; NULL: reported. */
static const situation *situation_named(cli *c, const vd_model *model, GArray *all, char **typed, size_t count)
{
    const situation *found = NULL;
    char **words = g_new0(char *, count + 1);
    memcpy(words, typed, count * sizeof *words);
    char *said = g_strjoinv(" ", words);
    g_free(words);
    unsigned matches = 0;
    for (guint i = 0; i < all->len; i++) {
        const situation *one = &g_array_index(all, situation, i);
        if (names_alike(one->called, said)) {
            found = one;
            matches = 1;
            break;
        }
        if (has_words(one->called, typed, count)) {
            found = one;
            matches++;
        }
    }
    if (matches != 1) {
        char *what =
            g_strdup_printf(matches > 1 ? "\"%s\" may be several intervals." : "Unknown interval \"%s\".", said);
        char *near = all->len > 0 ? vd_suggest(said, all->len, called_at, all)
                                  : g_strdup_printf("The model %s has none that can be changed.", model->key);
        report_wrong_words(c, what, near);
        g_free(near);
        g_free(what);
    }
    g_free(said);
    return matches == 1 ? found : NULL;
}

/* KEY=VALUE: the value as it was typed, or in the setting's own unit. */
static char *change_of(const vd_set *set, const situation *of, const char *typed)
{
    const vd_setting *setting = &set->model->settings[of->setting];
    char text[64];
    vd_writer writer = vd_writer_start(text, sizeof text);
    bool converted = vd_intervals_convert(set, of->setting, typed, strlen(typed), &writer);
    return g_strdup_printf("%s=%s", setting->words->key, converted ? text : typed);
}

/* The words behind the first: a situation, then "every" and a value, or "off". NULL: reported. */
static char *take_words(cli *c, const vd_set *set)
{
    char **words = c->options.words + 1;
    size_t count = g_strv_length(words), at = 0;
    GArray *all = situations_of(set->model);
    char *change = NULL;
    while (at < count && strcmp(words[at], "every") != 0 && strcmp(words[at], "each") != 0 &&
           !(strcmp(words[at], "off") == 0 && at + 1 == count)) {
        at++;
    }
    bool off = at < count && strcmp(words[at], "off") == 0;
    if (at == 0 || at == count || (!off && at + 1 == count)) {
        report_wrong_words(c, "An interval needs a situation, then \"every\" and a value, or \"off\".",
                           "For example: verdite interval box.yaml parked every 6 h");
    } else {
        const situation *of = situation_named(c, set->model, all, words, at);
        char *typed = off ? g_strdup("0") : g_strjoinv(" ", words + at + 1);
        change = of != NULL ? change_of(set, of, typed) : NULL;
        g_free(typed);
    }
    g_array_free(all, TRUE);
    return change;
}

vd_class command_interval(cli *c)
{
    const vd_model *model = NULL;
    visit v = {0};
    side s = {.name = c->options.words[0]};
    if (side_open_to_edit(c, &s, &model, &v)) {
        char *change = take_words(c, &s.set);
        char *words[] = {change, NULL};
        if (change != NULL && s.profile != NULL) {
            changes_save(c, s.name, words);
        } else if (change != NULL) {
            visit_free(&v);
            v = (visit){0};
            changes_write(c, model, words, &(visit_task){.called = "interval"});
        } else if (s.profile != NULL) {
            message(c, "%s is unchanged.", s.name);
        }
        g_free(change);
    }
    side_free(&s);
    visit_free(&v);
    return c->worst;
}
