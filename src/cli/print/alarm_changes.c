/* SPDX-License-Identifier: MIT
 * Alarms that a change touches: of each only what changes, in one line. */
#include "print.h"

#include <string.h>

/* What stands around each part, and what is said where there is none of it any more. */
static const struct {
    vd_alarm_part part;
    const char *before, *after, *none;
} parts[] = {{VD_ALARM_NAME, "called \"", "\"", "no name"},
             {VD_ALARM_MET, "sounds when ", "", ""},
             {VD_ALARM_DELAY, "after ", "", "at once"},
             {VD_ALARM_ONLY_WHILE, "only while ", "", "without a condition"},
             {VD_ALARM_OVER, "ends once ", "", "its end is unknown"},
             {VD_ALARM_DELAY_OUT, "ends after ", "", "ends at once"},
             {VD_ALARM_LATCHED, "stays on until the ", " clears it", "ends by itself"},
             {VD_ALARM_HUSH, "nothing begins within ", " of a start", "begins right after a start"},
             {VD_ALARM_DOES, "it ", "", "it does nothing"},
             {VD_ALARM_TEXT, "with the text \"", "\"", "without a text"}};

static char *join(char **words, size_t from, size_t to)
{
    GString *text = g_string_new("");
    for (size_t i = from; i < to; i++) {
        g_string_append_printf(text, "%s%s", i > from ? " " : "", words[i]);
    }
    return g_string_free(text, FALSE);
}

/* A text with what stood there before behind what differs: "the hive is lighter than 20 kg (was 18.0 kg)". */
static char *with_was(const char *was, const char *is)
{
    char **a = prose_words(was), **b = prose_words(is);
    size_t olds = g_strv_length(a), news = g_strv_length(b), head = 0, tail = 0;
    while (head < olds && head < news && strcmp(a[head], b[head]) == 0) {
        head++;
    }
    while (tail < olds - head && tail < news - head && strcmp(a[olds - 1 - tail], b[news - 1 - tail]) == 0) {
        tail++;
    }
    bool whole = olds - tail == head || news - tail == head; /* something came or went, nothing was replaced */
    char *old = whole ? g_strdup(was) : join(a, head, olds - tail);
    char *first = join(b, 0, whole ? news : news - tail), *rest = whole ? g_strdup("") : join(b, news - tail, news);
    char *text = g_strdup_printf("%s (was %s)%s%s", first, old, rest[0] != '\0' ? " " : "", rest);
    g_free(rest);
    g_free(first);
    g_free(old);
    g_strfreev(a);
    g_strfreev(b);
    return text;
}

/* A part; "" where nobody knows it. */
static char *part_of(const vd_set *set, uint16_t n, vd_alarm_part part)
{
    char *text = alarm_part(set, n, part);
    if (strcmp(text, "not known") == 0) {
        text[0] = '\0';
    }
    return text;
}

/* What differs of an alarm that is in use before and after; "" where the parts do not show it. */
static char *differences(const vd_set *before, const vd_set *after, uint16_t n)
{
    GString *line = g_string_new("");
    bool any_stays = false;
    for (size_t i = 0; i < G_N_ELEMENTS(parts); i++) {
        char *was = part_of(before, n, parts[i].part), *is = part_of(after, n, parts[i].part);
        any_stays = any_stays || (is[0] != '\0' && strcmp(was, is) == 0);
        if (strcmp(was, is) != 0) {
            char *text = is[0] == '\0'    ? g_strdup_printf("%s (was %s)", parts[i].none, was)
                         : was[0] == '\0' ? g_strdup(is)
                                          : with_was(was, is);
            bool bare = is[0] == '\0';
            g_string_append_printf(line, "%s%s%s%s", line->len > 0 ? "; " : "", bare ? "" : parts[i].before, text,
                                   bare ? "" : parts[i].after);
            g_free(text);
        }
        g_free(was);
        g_free(is);
    }
    if (line->len > 0) {
        g_string_append(line, any_stays ? ". The rest stays." : ".");
    }
    return g_string_free(line, FALSE);
}

/* What is said of one that changes. */
static char *change_words(const vd_set *before, const vd_set *after, uint16_t n)
{
    vd_ruling was = vd_alarm_is_used(before, n), is = vd_alarm_is_used(after, n);
    char *sentence = alarm_sentence(after, n), *line = NULL;
    if (was == VD_HOLDS && is == VD_HOLDS) {
        line = differences(before, after, n);
        line = line[0] != '\0' ? line : (g_free(line), NULL);
    } else if (was == VD_HOLDS && is == VD_FAILS) {
        line = g_strdup("no longer used.");
    } else if (was == VD_FAILS && is == VD_HOLDS) {
        line = g_strdup_printf("new, %s", sentence);
    }
    line = line != NULL ? line : g_strdup(sentence);
    g_free(sentence);
    return line;
}

/* Each of them as a line: what was typed for an alarm that stays unused is a warning; the others are told. */
static void tell(const cli *c, const vd_set *before, const vd_set *after, bool warnings, changes_shown *shown)
{
    for (uint16_t n = 0; n < vd_model_alarm_count(after->model); n++) {
        bool unused = vd_alarm_is_used(before, n) == VD_FAILS && vd_alarm_is_used(after, n) == VD_FAILS;
        if (unused != warnings || !vd_alarm_differs(before, after, n)) {
            continue;
        }
        char *called = alarm_called(after, n), *said = change_words(before, after, n);
        if (warnings && strcmp(said, "not used.") == 0) { /* nothing is set for it any more */
            g_free(called);
            g_free(said);
            continue;
        }
        char *line = g_strdup_printf("%s%s: %s", warnings ? "" : "  ", called, said);
        if (changes_are_news(shown, line)) {
            warnings ? warn(c, line) : message(c, "%s", line);
        }
        g_free(line);
        g_free(called);
        g_free(said);
    }
}

void alarms_warn_unused(const cli *c, const vd_set *before, const vd_set *after, changes_shown *shown)
{
    tell(c, before, after, true, shown);
}

void alarms_tell_changed(const cli *c, const vd_set *before, const vd_set *after, changes_shown *shown)
{
    json_t *list = json_array();
    tell(c, before, after, false, shown);
    for (uint16_t n = 0; n < vd_model_alarm_count(after->model); n++) {
        if (vd_alarm_differs(before, after, n)) {
            char *key = alarm_key(after->model, n), *was = alarm_sentence(before, n), *will = alarm_sentence(after, n);
            json_array_append_new(list, json_pack("{s:s, s:s, s:s}", "key", key, "before", was, "after", will));
            if (c->options.explain) {
                message(c, "  %s before: %s\n  %s after: %s", key, was, key, will);
            }
            g_free(key);
            g_free(was);
            g_free(will);
        }
    }
    if (json_array_size(list) > 0) {
        json_object_set(c->result, "alarms", list);
    }
    json_decref(list);
}

/* Whether an alarm was doubtful in the same words before. */
static bool was_doubtful(const vd_survey *survey, const vd_fault *fault)
{
    char text[VD_SENTENCE_SIZE];
    vd_alarm_doubts doubts = vd_alarm_doubts_start(survey->before, NULL, survey->alarm);
    vd_writer writer = vd_writer_start(text, sizeof text);
    while (vd_alarm_doubts_next(&doubts, &writer) != VD_DOUBT_NONE) {
        if (g_str_has_suffix(fault->allowed, text)) {
            return true;
        }
        writer = vd_writer_start(text, sizeof text);
    }
    return false;
}

bool alarms_concern(const vd_survey *survey, const vd_fault *fault)
{
    const vd_model *model = survey->set->model;
    uint16_t about = fault->setting != NULL ? (uint16_t)(fault->setting - model->settings) : (uint16_t)VD_NONE;
    if (fault->status == VD_ALARM_DOUBT) {
        return vd_alarm_differs(survey->before, survey->set, survey->alarm) || !was_doubtful(survey, fault);
    }
    for (uint16_t n = 0; about != VD_NONE && n < vd_model_alarm_count(model); n++) {
        if (vd_alarm_tells(survey->set, n, about) && vd_alarm_differs(survey->before, survey->set, n)) {
            return true;
        }
    }
    return false;
}
