/* SPDX-License-Identifier: MIT
 * Alarms as people and programs read them: as sentences, in columns, as data. */
#include "print.h"
#include "verdite/text.h"

#include <string.h>

char *alarm_part(const vd_set *set, uint16_t n, vd_alarm_part part)
{
    char text[VD_SENTENCE_SIZE];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_alarm_tell(set, n, part, &writer);
    return g_strdup(text);
}

char *alarm_called(const vd_set *set, uint16_t n)
{
    char text[VD_SENTENCE_SIZE];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_alarm_call(set, n, &writer);
    return g_strdup(text);
}

char *alarm_sentence(const vd_set *set, uint16_t n)
{
    char text[VD_SENTENCE_SIZE];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_alarm_say(set, n, &writer);
    return g_strdup(text);
}

char *alarm_key(const vd_model *model, uint16_t n)
{
    uint16_t alarm = 0, item = 0;
    vd_model_alarm_at(model, n, &alarm, &item);
    const vd_alarm *about = &model->alarms[alarm];
    return vd_index(about->block) != VD_NONE ? g_strdup_printf("%s.%u", about->key, item + 1u) : g_strdup(about->key);
}

/* ---- By name ---- */

static const char *key_at(const void *about, size_t i)
{
    return ((const GPtrArray *)about)->pdata[i];
}

/* Counts the alarms that a word names: by key, number or name; or, where `loosely`, by what they are shown as. */
static uint16_t count_named(const vd_set *set, const char *word, bool loosely, uint16_t *n)
{
    uint16_t count = vd_model_alarm_count(set->model), found = 0;
    guint64 number = 0;
    bool counted = g_ascii_string_to_unsigned(word, 10, 1, MAX(count, 1), &number, NULL);
    for (uint16_t i = 0; i < count; i++) {
        char *key = alarm_key(set->model, i), *name = alarm_part(set, i, VD_ALARM_NAME), *called = alarm_called(set, i);
        bool is = loosely ? names_alike(key, word) || names_alike(name, word) || names_alike(called, word)
                          : strcmp(key, word) == 0 || (counted ? number == i + 1u : strcmp(name, word) == 0);
        *n = is ? i : *n;
        found = (uint16_t)(found + is);
        g_free(key);
        g_free(name);
        g_free(called);
    }
    return found;
}

bool alarm_named(cli *c, const vd_set *set, const char *word, uint16_t *n)
{
    const vd_model *model = set->model;
    uint16_t count = vd_model_alarm_count(model), found = count_named(set, word, false, n);
    found = found == 0 ? count_named(set, word, true, n) : found;
    GPtrArray *keys = g_ptr_array_new_with_free_func(g_free);
    for (uint16_t i = 0; i < count; i++) {
        g_ptr_array_add(keys, alarm_key(model, i));
    }
    if (found != 1) {
        char *shown = cli_quotable(word), *suggestion = vd_suggest(shown, count, key_at, keys);
        char *said =
            g_strdup_printf(found == 0 ? "A %s has no alarm \"%s\"." : "Several alarms of the %s are called \"%s\".",
                            model->key, shown);
        report_wrong_words(c, said, count > 0 ? suggestion : "Its model names none.");
        g_free(said);
        g_free(suggestion);
        g_free(shown);
    }
    g_ptr_array_free(keys, TRUE);
    return found == 1;
}

/* ---- As data ---- */

json_t *alarm_doubts_json(const vd_set *set, const vd_set *before, uint16_t n)
{
    static const char *const names[VD_DOUBT_COUNT] = {
        [VD_DOUBT_IDLE] = "does-not-count",
        [VD_DOUBT_NOT_HERE] = "no-such-channel",
        [VD_DOUBT_NOT_WIRED] = "not-wired",
        [VD_DOUBT_NEVER] = "never",
        [VD_DOUBT_ALWAYS] = "always",
        [VD_DOUBT_NEVER_OVER] = "never-over",
        [VD_DOUBT_RELEASE] = "release-below-zero",
        [VD_DOUBT_CONDITION_NOT_HERE] = "condition-no-such-channel",
        [VD_DOUBT_CONDITION_NOT_WIRED] = "condition-not-wired",
        [VD_DOUBT_CONDITION_NEVER] = "condition-never",
        [VD_DOUBT_CONDITION_ALWAYS] = "condition-always",
        [VD_DOUBT_NOTHING] = "does-nothing",
        [VD_DOUBT_NOBODY] = "tells-nobody",
        [VD_DOUBT_NO_NUMBER] = "no-number",
        [VD_DOUBT_LIMIT_KEPT] = "limit-kept",
        [VD_DOUBT_WAY_KEPT] = "direction-kept",
        [VD_DOUBT_TWICE] = "twice",
        [VD_DOUBT_CONTRADICTS] = "contradicts",
        [VD_DOUBT_AT_ONCE] = "sounds-at-once",
    };
    json_t *list = json_array();
    char text[VD_SENTENCE_SIZE];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_alarm_doubt doubt = VD_DOUBT_NONE;
    vd_alarm_doubts doubts = vd_alarm_doubts_start(set, before, n);
    while ((doubt = vd_alarm_doubts_next(&doubts, &writer)) != VD_DOUBT_NONE) {
        json_array_append_new(list, json_pack("{s:s, s:s}", "doubt", names[doubt], "says", text));
        writer = vd_writer_start(text, sizeof text);
    }
    return list;
}

json_t *alarm_json(const vd_set *set, const vd_set *before, uint16_t n)
{
    static const struct {
        const char *key;
        vd_alarm_part part;
    } parts[] = {{"label", VD_ALARM_LABEL}, {"name", VD_ALARM_NAME},           {"watches", VD_ALARM_CHANNEL},
                 {"when", VD_ALARM_MET},    {"delay", VD_ALARM_DELAY},         {"only-while", VD_ALARM_ONLY_WHILE},
                 {"over", VD_ALARM_OVER},   {"delay-out", VD_ALARM_DELAY_OUT}, {"cleared-by", VD_ALARM_LATCHED},
                 {"hush", VD_ALARM_HUSH},   {"does", VD_ALARM_DOES},           {"text", VD_ALARM_TEXT}};
    static const char *const used[] = {[VD_HOLDS] = "yes", [VD_FAILS] = "no", [VD_NOT_KNOWN] = "not known"};
    char *key = alarm_key(set->model, n), *sentence = alarm_sentence(set, n);
    json_t *one = json_pack("{s:i, s:s, s:s, s:s}", "number", n + 1, "key", key, "used", used[vd_alarm_is_used(set, n)],
                            "says", sentence);
    for (size_t i = 0; i < G_N_ELEMENTS(parts); i++) {
        char *text = alarm_part(set, n, parts[i].part);
        if (text[0] != '\0' && (vd_alarm_is_used(set, n) == VD_HOLDS || parts[i].part <= VD_ALARM_NAME)) {
            json_object_set_new(one, parts[i].key, json_string(text));
        }
        g_free(text);
    }
    json_object_set_new(one, "doubts", alarm_doubts_json(set, before, n));
    g_free(key);
    g_free(sentence);
    return one;
}

/* ---- As sentences, and in columns ---- */

void alarm_doubts_show(const cli *c, const vd_set *set, const vd_set *before, uint16_t n)
{
    char text[VD_SENTENCE_SIZE];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_alarm_doubts doubts = vd_alarm_doubts_start(set, before, n);
    while (vd_alarm_doubts_next(&doubts, &writer) != VD_DOUBT_NONE) {
        lead_print(c, TONE_DOUBT, "  warning:", "  ", text);
        writer = vd_writer_start(text, sizeof text);
    }
}

void alarm_say(const cli *c, const vd_set *set, uint16_t n)
{
    char *called = alarm_called(set, n), *sentence = alarm_sentence(set, n);
    char *lead = g_strdup_printf("%s:", called);
    lead_print(c, vd_alarm_is_used(set, n) == VD_HOLDS ? TONE_STRONG : TONE_FAINT, lead, "  ", sentence);
    g_free(lead);
    g_free(sentence);
    g_free(called);
}

static void show_table(cli *c, const vd_set *set, uint16_t only)
{
    static const char *const titles[] = {"alarm", "sounds when", "for", "only while", "ends once", "does", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    for (uint16_t n = 0; n < vd_model_alarm_count(set->model); n++) {
        bool used = vd_alarm_is_used(set, n) == VD_HOLDS;
        if (only != VD_NONE && n != only) {
            continue;
        }
        char *called = alarm_called(set, n);
        if (!used) {
            sheet_row(&rows, called, vd_alarm_is_used(set, n) == VD_FAILS ? "not used" : "not known", "", "", "", "",
                      NULL);
            sheet_tone(&rows, 1, TONE_FAINT);
            g_free(called);
            continue;
        }
        char *when = alarm_part(set, n, VD_ALARM_MET);
        char *delay = alarm_part(set, n, VD_ALARM_DELAY), *only_while = alarm_part(set, n, VD_ALARM_ONLY_WHILE);
        char *does = alarm_part(set, n, VD_ALARM_DOES), *over = alarm_part(set, n, VD_ALARM_OVER);
        sheet_row(&rows, called, when, delay, only_while, over, does, NULL);
        for (char **one = (char *[]){delay, only_while, over, does, when, called, NULL}; *one != NULL; one++) {
            g_free(*one);
        }
    }
    sheet_print(&rows);
}

void alarms_show(cli *c, const vd_set *set, uint16_t only)
{
    const vd_model *model = set->model;
    uint16_t count = vd_model_alarm_count(model), free_ones = 0;
    json_t *list = json_array();
    if (c->options.table && !c->options.json) {
        show_table(c, set, only);
    }
    for (uint16_t n = 0; n < count; n++) {
        if (only != VD_NONE && n != only) {
            continue;
        }
        json_array_append_new(list, alarm_json(set, NULL, n));
        free_ones = (uint16_t)(free_ones + (vd_alarm_is_used(set, n) == VD_FAILS));
        if (!c->options.json && !c->options.table) {
            alarm_say(c, set, n);
            alarm_doubts_show(c, set, NULL, n);
        }
    }
    json_object_set_new(c->result, "model", json_string(model->key));
    json_object_set_new(c->result, "alarms", list);
    if (only == VD_NONE) {
        json_object_set_new(c->result, "free", json_integer(free_ones));
        message(c, count == 0 ? "The model %s has no alarms." : "%s: %u alarms, %u not in use.", model->key, count,
                free_ones);
    }
}

json_t *alarms_json(const vd_set *set)
{
    json_t *list = json_array();
    for (uint16_t n = 0; n < vd_model_alarm_count(set->model); n++) {
        json_array_append_new(list, alarm_json(set, NULL, n));
    }
    return list;
}
