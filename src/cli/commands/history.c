/* SPDX-License-Identifier: MIT
 * verdite history: visits of before, of one unit or of all; one of them; a setting over time. */
#include <string.h>

#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#define USUAL 20u /* a screenful */

static const char *outcome_words(const vd_past *past)
{
    static const struct {
        const char *name, *words;
    } outcomes[] = {{"verified", "verified"},         {"verified-except", "verified except some"},
                    {"live-only", "live only"},       {"not-verified", "NOT VERIFIED"},
                    {"nothing-sent", "nothing sent"}, {"taken", "accepted"},
                    {"not-known", "not known"},       {"read", "read"}};
    for (size_t i = 0; i < G_N_ELEMENTS(outcomes); i++) {
        if (strcmp(outcomes[i].name, past->outcome) == 0) {
            return outcomes[i].words;
        }
    }
    return past->ended == 0 ? "CUT OFF" : past->outcome;
}

static json_t *past_json(const vd_past *past)
{
    char from[64], to[64];
    vd_writer a = vd_writer_start(from, sizeof from), b = vd_writer_start(to, sizeof to);
    bool known = past->from.line.baud != 0;
    vd_link_print(&past->from, &a);
    vd_link_print(&past->to, &b);
    return json_pack("{s:I, s:s, s:s, s:s, s:s, s:s, s:I, s:I, s:s, s:s, s:s?, s:s?, s:s, s:s, s:i, s:b, s:I}", "visit",
                     (json_int_t)past->id, "mark", past->mark, "model", past->model, "serial", past->unit.serial,
                     "task", past->task, "outcome", past->ended == 0 ? "cut-off" : past->outcome, "began",
                     (json_int_t)past->began, "ended", (json_int_t)past->ended, "step", past->step, "port", past->port,
                     "link", known ? from : NULL, "new-link", known ? to : NULL, "line", past->line, "remark",
                     past->remark, "changes", past->changes, "open", past->open, "of", (json_int_t)past->of);
}

static vd_class list(cli *c)
{
    size_t most = c->options.count.given ? c->options.count.value : USUAL, opened = 0;
    vd_past *past = g_new(vd_past, most);
    const vd_past_query query = {.model = c->model_key, .serial = c->options.serial, .acts = true};
    size_t count = vd_history_find(remembered(c), &query, past, most);
    static const char *const titles[] = {"visit", "when", "unit", "what", "outcome", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *visits = json_array();
    for (size_t i = 0; i < count; i++) {
        char *number = g_strdup_printf("%" G_GINT64_FORMAT, past[i].id), *when = time_words(past[i].began);
        char *unit = g_strdup_printf("%s %s%s%s", past[i].model, past[i].unit.serial,
                                     past[i].other[0] != '\0' ? " and " : "", past[i].other);
        char *what =
            past[i].changes > 0 ? g_strdup_printf("%s, %d", past[i].task, past[i].changes) : g_strdup(past[i].task);
        sheet_row(&rows, number, when, unit, what, outcome_words(&past[i]), NULL);
        bool bad = past[i].open || past[i].ended == 0 || strcmp(past[i].outcome, "not-verified") == 0;
        sheet_tone(&rows, 4, bad ? TONE_BAD : TONE_PLAIN);
        if (past[i].remark[0] != '\0') {
            sheet_note(&rows, TONE_FAINT, past[i].remark);
        }
        opened += past[i].open;
        json_array_append_new(visits, past_json(&past[i]));
        g_free(what);
        g_free(unit);
        g_free(when);
        g_free(number);
    }
    json_object_set_new(c->result, "visits", visits);
    if (c->options.json) {
        sheet_drop(&rows);
    } else {
        sheet_print(&rows);
    }
    g_free(past);
    if (count == 0) {
        message(c, "No visit%s%s is on record.", c->options.serial != NULL ? " of " : "",
                c->options.serial != NULL ? c->options.serial : "");
    } else if (opened > 0) {
        message(c, "Next: verdite finish (goes on), or verdite undo (undoes it).");
    } else {
        message(c, "One visit: verdite history N. To put back what was before it: verdite undo N");
    }
    if (c->worst == VD_CLASS_FINE) {
        unsent_tell(c, c->model_key, c->options.serial, NULL);
    }
    return c->worst;
}

/* ---- One visit ---- */

static const char *kept_verdict(const vd_past *past, unsigned bits)
{
    unsigned verdict = (bits & VD_PAST_VERDICT) >> VD_PAST_VERDICT_SHIFT;
    bool begun = strcmp(past->step, "keep") != 0;
    return verdict_words(past->ended != 0 ? (vd_verdict)verdict : begun ? VD_UNKNOWN : VD_NOT_SENT);
}

static void add_setting(sheet *rows, const vd_past *past, const vd_set *sets, uint16_t i, unsigned bits)
{
    const vd_setting *setting = &sets[0].model->settings[i];
    bool hidden = (bits & VD_PAST_SECRET) != 0;
    const char *was = hidden ? "secret" : held_text(&sets[0], i), *is = hidden ? "secret" : held_text(&sets[1], i);
    sheet_row(rows, setting->words->key, was[0] != '\0' ? was : "-", "->", is[0] != '\0' ? is : "-",
              kept_verdict(past, bits), NULL);
}

static vd_class show_one(cli *c, const vd_past *past)
{
    const vd_model *model = choose_model_named(c, past->model);
    if (model == NULL) {
        return c->worst;
    }
    size_t size = vd_set_size(model);
    void *memory = g_malloc0(3 * size);
    uint16_t *about = g_new0(uint16_t, model->setting_count);
    vd_set sets[3];
    for (size_t i = 0; i < 3; i++) {
        vd_set_start(&sets[i], model, (char *)memory + i * size, size);
    }
    vd_history_values(remembered(c), past->id, &sets[0], &sets[1], &sets[2], about);
    static const char *const titles[] = {"", "", "", "", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *settings = json_array(), *result = past_json(past);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if ((about[i] & VD_PAST_CHANGES) != 0) {
            add_setting(&rows, past, sets, i, about[i]);
        }
        if (about[i] != 0 || vd_set_heard(&sets[0], i)) {
            json_array_append_new(settings,
                                  json_pack("{s:s, s:o, s:o, s:o, s:s}", "key", model->settings[i].words->key, "before",
                                            held_json(&sets[0], i), "wanted", held_json(&sets[1], i), "after",
                                            held_json(&sets[2], i), "verdict", kept_verdict(past, about[i])));
        }
    }
    json_object_set_new(result, "settings", settings);
    json_object_set_new(c->result, "visit", result);
    char *when = time_words(past->began), link[64];
    vd_writer writer = vd_writer_start(link, sizeof link);
    vd_link_print(&past->from, &writer);
    bool old = past->from.line.baud == 0;
    char *title =
        old ? g_strdup_printf("Visit %" G_GINT64_FORMAT ": %s %s, kept as a file by an older Verdite", past->id,
                              past->model, past->unit.serial)
            : g_strdup_printf("Visit %" G_GINT64_FORMAT ": %s %s, %s by %s on %s, %s: %s", past->id, past->model,
                              past->unit.serial, past->task, past->who, past->port, link, outcome_words(past));
    if (c->options.json) {
        sheet_drop(&rows);
    } else {
        title_print(c, title);
        prose_print(stdout, 0, "  ", when);
        sheet_print(&rows);
    }
    message(c, "To save what the unit held after it: verdite new FILE visit:%" G_GINT64_FORMAT, past->id);
    g_free(title);
    g_free(when);
    g_free(memory);
    g_free(about);
    return c->worst;
}

/* ---- A setting over time ---- */

static vd_class show_setting(cli *c, const char *key)
{
    size_t most = c->options.count.given ? c->options.count.value : USUAL;
    vd_past last;
    const vd_past_query query = {.model = c->model_key, .serial = c->options.serial};
    if (vd_history_find(remembered(c), &query, &last, 1) != 1) {
        message(c, "No visit is on record.");
        return c->worst;
    }
    const vd_model *model = choose_model_named(c, last.model);
    if (model == NULL) {
        return c->worst;
    }
    uint16_t setting = meant_setting(model, key);
    key = setting != VD_NONE ? model->settings[setting].words->key : key;
    if (setting == VD_NONE) {
        char *allowed = g_strdup_printf("All settings: verdite model %s --all", model->key);
        if (!meant_several(c, model, key)) {
            report_new(c, vd_fault_of_NO_SUCH_SETTING(key, allowed));
        }
        g_free(allowed);
        c->worst = VD_CLASS_USAGE;
        return c->worst;
    }
    vd_past_value *values = g_new(vd_past_value, most);
    size_t count = vd_history_of_setting(remembered(c), last.model, last.unit.serial, key, values, most);
    static const char *const titles[] = {"since", "value", "visit", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *list = json_array();
    for (size_t i = 0; i < count; i++) {
        char *when = time_words(values[i].began), *number = g_strdup_printf("%" G_GINT64_FORMAT, values[i].id);
        sheet_row(&rows, when, values[i].value[0] != '\0' ? values[i].value : "-", number, values[i].task, NULL);
        json_array_append_new(list,
                              json_pack("{s:I, s:s, s:I, s:s}", "began", (json_int_t)values[i].began, "value",
                                        values[i].value, "visit", (json_int_t)values[i].id, "task", values[i].task));
        g_free(number);
        g_free(when);
    }
    json_object_set_new(c->result, "values", list);
    char *title = g_strdup_printf("%s of %s %s", key, last.model, last.unit.serial);
    if (c->options.json) {
        sheet_drop(&rows);
    } else {
        title_print(c, title);
        sheet_print(&rows);
    }
    g_free(title);
    g_free(values);
    return c->worst;
}

vd_class command_history(cli *c)
{
    const char *word = c->options.words != NULL ? c->options.words[0] : NULL;
    vd_past past;
    if (remembered(c) == NULL && !c->store_shut) {
        message(c, "No visits are recorded: VERDITE_STORE is \"off\".");
        return c->worst;
    }
    if (!remembers(c)) {
        return c->worst;
    }
    if (word == NULL) {
        return list(c);
    }
    if (g_ascii_isdigit(word[0]) || g_str_has_prefix(word, "visit:")) {
        return past_named(c, word, NULL, NULL, &past) ? show_one(c, &past) : c->worst;
    }
    return show_setting(c, word);
}
