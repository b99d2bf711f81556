/* SPDX-License-Identifier: MIT
 * Pages on what a fitter has to do, found by a word. They are those of docs/tasks: a title, steps, and at the end the
 * words under which each is found. */
#include "words.h"
#include "../print/print.h"
#include "task_pages.h"

#include <string.h>

#define FOUND_BY "Words: "

static const char *title_of(size_t i)
{
    return task_pages[i].lines[0] + 2; /* behind the sign of a heading */
}

static const char *words_of(size_t i)
{
    const char *words = "";
    for (const char *const *line = task_pages[i].lines; *line != NULL; line++) {
        words = g_str_has_prefix(*line, FOUND_BY) ? *line + strlen(FOUND_BY) : words;
    }
    return words;
}

/* How well a page fits a word: its name best, then words that it is found by, then its title, then its text. */
static unsigned fit_of(size_t i, const char *word)
{
    char *wanted = g_utf8_strdown(word, -1), *title = g_utf8_strdown(title_of(i), -1);
    char **keys = g_strsplit(words_of(i), ", ", -1);
    unsigned fit = strcmp(task_pages[i].name, wanted) == 0              ? 4
                   : g_strv_contains((const char *const *)keys, wanted) ? 3
                   : strstr(title, wanted) != NULL                      ? 2
                                                                        : 0;
    for (char **key = keys; *key != NULL && fit == 0; key++) {
        fit = strstr(*key, wanted) != NULL ? 2 : 0;
    }
    for (const char *const *line = task_pages[i].lines; *line != NULL && fit == 0; line++) {
        char *low = g_utf8_strdown(*line, -1);
        fit = strstr(low, wanted) != NULL ? 1 : 0;
        g_free(low);
    }
    g_strfreev(keys);
    g_free(title);
    g_free(wanted);
    return fit;
}

static void show(const cli *c, size_t i)
{
    bool gap = false;
    title_print(c, title_of(i));
    for (const char *const *line = task_pages[i].lines + 1; *line != NULL; line++) {
        if (g_str_has_prefix(*line, FOUND_BY)) {
            continue;
        }
        if ((*line)[0] == '\0') { /* what stands between two texts, not at the end */
            gap = true;
            continue;
        }
        if (gap) {
            screen_put(stdout, "\n");
        }
        gap = false;
        prose_print(stdout, 0, "", *line);
    }
}

void tasks_list(const cli *c, const char *word)
{
    static const char *const titles[] = {"", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    for (size_t i = 0; i < G_N_ELEMENTS(task_pages); i++) {
        if (word == NULL || fit_of(i, word) > 0) {
            sheet_row(&rows, task_pages[i].name, title_of(i), NULL);
        }
    }
    sheet_print(&rows);
}

/* Those that fit best, for programs. */
static void tasks_json(const cli *c, const char *word, unsigned best)
{
    json_t *list = json_array();
    for (size_t i = 0; i < G_N_ELEMENTS(task_pages) && best > 0; i++) {
        if (fit_of(i, word) == best) {
            char *text = g_strjoinv("\n", (char **)task_pages[i].lines);
            json_array_append_new(
                list, json_pack("{s:s, s:s, s:s}", "name", task_pages[i].name, "title", title_of(i), "text", text));
            g_free(text);
        }
    }
    if (best > 0) {
        json_object_set(c->result, "tasks", list);
    }
    json_decref(list);
}

bool tasks_show(const cli *c, const char *word)
{
    unsigned best = 0, count = 0;
    size_t at = 0;
    for (size_t i = 0; i < G_N_ELEMENTS(task_pages); i++) {
        unsigned fit = fit_of(i, word);
        count = fit > best ? 1 : count + (fit == best && fit > 0);
        at = fit > best ? i : at;
        best = MAX(best, fit);
    }
    if (c->options.json) {
        tasks_json(c, word, best);
    } else if (best > 0 && count > 1) {
        message(c, "Several tasks have to do with \"%s\". Choose one: verdite help TASK", word);
        tasks_list(c, word);
    } else if (best > 0) {
        show(c, at);
    }
    return best > 0;
}

const char *task_name(size_t i)
{
    return i < G_N_ELEMENTS(task_pages) ? task_pages[i].name : NULL;
}
