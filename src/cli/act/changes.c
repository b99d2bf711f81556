/* SPDX-License-Identifier: MIT
 * What a write will change, shown before anybody is asked: warnings, one table, what it causes; and what is skipped. */
#include "act.h"
#include "../look/intervals.h"

#include <string.h>

/* ---- The table ---- */

static const char *before_text(const vd_visit *unit, uint16_t i)
{
    const vd_setting *setting = &vd_visit_model(unit)->settings[i];
    const char *text = vd_setting_is_shown(setting) ? held_text(vd_visit_live(unit), i) : "cannot be read";
    return text[0] != '\0' ? text : "-";
}

static char *after_text(const vd_visit *unit, uint16_t i)
{
    const vd_setting *setting = &vd_visit_model(unit)->settings[i];
    vd_value before = vd_set_get(vd_visit_before(unit), i), after = vd_set_get(vd_visit_desired(unit), i);
    const char *words = value_text(setting, &after);
    bool same = vd_value_equal(&before, &after);
    return g_strdup_printf("%s%s", words[0] != '\0' ? words : "-", same ? " (other decimals)" : "");
}

/* From what to what; with the verdict where it is known by now. */
static sheet table_of(const cli *c, const vd_visit *unit, GPtrArray *was,
                      const char *(*verdict)(const vd_visit *, uint16_t))
{
    static const char *const before[] = {"setting", "was", "will be", "verdict", NULL};
    static const char *const after[] = {"setting", "was", "is now", "verdict", NULL};
    static const char *const plain[] = {"setting", "was", "will be", NULL};
    bool whole = screen_is_whole(c);
    sheet rows = sheet_start(c, stderr, !whole ? plain : verdict == NULL ? before : after);
    guint n = 0;
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        if (!vd_visit_changes(unit, i)) {
            continue;
        }
        const char *key = vd_visit_model(unit)->settings[i].words->key;
        char *becomes = after_text(unit, i);
        if (verdict == NULL) {
            g_ptr_array_add(was, g_strdup(before_text(unit, i)));
        }
        sheet_row(&rows, key, n < was->len ? was->pdata[n] : "-", becomes, verdict != NULL ? verdict(unit, i) : "-",
                  NULL);
        n++;
        g_free(becomes);
    }
    return rows;
}

static bool show_table(cli *c, const vd_visit *unit, changes_shown *shown)
{
    shown->was = g_ptr_array_new_with_free_func(g_free);
    shown->mark = screen_mark_here(c);
    sheet rows = table_of(c, unit, shown->was, NULL);
    sheet_print(&rows);
    screen_mark_end(&shown->mark);
    return shown->was->len > 0;
}

/* Of several units: what was not told for one of them before. */
static bool show_news(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    static const char *const titles[] = {"setting", "will be", NULL}, *const untitled[] = {"", "", NULL};
    bool any = false;
    sheet rows = sheet_start(c, stderr, shown->first ? titles : untitled);
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        if (vd_visit_changes(unit, i)) {
            const char *key = vd_visit_model(unit)->settings[i].words->key;
            char *after = after_text(unit, i), *line = g_strdup_printf("%s=%s", key, after);
            any = true;
            if (changes_are_news(shown, line)) {
                sheet_row(&rows, key, after, NULL);
            }
            g_free(line);
            g_free(after);
        }
    }
    rows.lines->len > 0 ? sheet_print(&rows) : sheet_drop(&rows);
    return any;
}

bool changes_judge(const cli *c, const vd_visit *unit, changes_shown *shown,
                   const char *(*verdict)(const vd_visit *, uint16_t))
{
    if (shown->was == NULL || shown->was->len == 0) {
        return false;
    }
    sheet rows = table_of(c, unit, shown->was, verdict);
    char *text = sheet_text(&rows);
    bool over = screen_print_over(c, &shown->mark, text);
    g_free(text);
    sheet_drop(&rows);
    return over;
}

void changes_forget(changes_shown *shown)
{
    if (shown->was != NULL) {
        g_ptr_array_free(shown->was, TRUE);
    }
    shown->was = NULL;
}

/* ---- Beside the table ---- */

/* What else becomes lasting when the unit stores everything that is live. */
static void show_riders(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count && vd_visit_model(unit)->store.needed; i++) {
        const vd_setting *setting = &vd_visit_model(unit)->settings[i];
        bool differs = vd_set_compare(vd_visit_live(unit), vd_visit_stored(unit), i) == VD_DIFFERENT;
        if (differs && !vd_visit_changes(unit, i)) {
            char *line =
                g_strdup_printf("  %s: %s is live and will be stored too (stored now: %s).", setting->words->key,
                                held_text(vd_visit_live(unit), i), held_text(vd_visit_stored(unit), i));
            if (changes_are_news(shown, line)) {
                message(c, "%s", line);
            }
            g_free(line);
        }
    }
}

/* What the rules say of the result: advice, and what could not be judged though the change has a part in it. */
static void show_advice(cli *c, const vd_visit *unit)
{
    const vd_model *model = vd_visit_model(unit);
    vd_survey survey;
    vd_fault fault = {0};
    vd_class worst = c->worst;
    uint8_t *typed = g_malloc0(model->setting_count);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        typed[i] = (vd_visit_entry(unit, i)->part & VD_PART_ASKED) != 0;
    }
    vd_survey_start(&survey, vd_visit_desired(unit), vd_visit_live(unit));
    survey.typed = typed;
    while (vd_survey_next(&survey, &fault)) {
        bool concerned = fault.setting != NULL && vd_visit_changes(unit, (uint16_t)(fault.setting - model->settings));
        bool warns = fault.status == VD_RULE_WARNING;
        for (uint16_t i = 0; i < model->setting_count && survey.rule != VD_NONE && !concerned; i++) {
            /* What it measures, such as its supply, matters whatever is changed. */
            bool matters = vd_visit_changes(unit, i) || (warns && model->settings[i].access == VD_READ_ONLY);
            concerned = matters && vd_rule_hangs_on(model, survey.rule, i);
        }
        concerned = concerned || alarms_concern(&survey, &fault);
        concerned = concerned && fault.status != VD_IDLE_HERE; /* it is written all the same, or not asked for */
        concerned = concerned || fault.status == VD_PLACEHOLDER || fault.status == VD_CLOCK_OFF;
        /* What is set by something else is judged once it was read. */
        concerned = concerned && !(fault.status == VD_RULE_NOT_KNOWN && changes_sway(unit));
        if (concerned && vd_status_class(fault.status) <= VD_CLASS_PARTLY) {
            report(c, &fault);
        }
    }
    g_free(typed);
    c->worst = worst; /* advice is no outcome */
}

void changes_show(cli *c, const vd_visit *unit, changes_shown *shown)
{
    const vd_store *store = &vd_visit_model(unit)->store;
    const char *speaker = c->speaker;
    show_advice(c, unit);
    alarms_warn_unused(c, vd_visit_live(unit), vd_visit_desired(unit), shown);
    intervals_warn_ignored(c, vd_visit_live(unit), vd_visit_desired(unit), shown);
    c->speaker = shown->first ? NULL : speaker; /* what the first one is told of is meant for all of them */
    bool any = shown->told != NULL ? show_news(c, unit, shown) : show_table(c, unit, shown);
    if (!any && store->needed && shown->told == NULL) {
        message(c, store->proof == VD_PROOF_RESTART
                       ? "Nothing changes. It is stored once more, since only a restart shows what is stored."
                       : "Nothing changes. What is live is stored.");
    }
    show_riders(c, unit, shown);
    alarms_tell_changed(c, vd_visit_live(unit), vd_visit_desired(unit), shown);
    intervals_tell_changed(c, vd_visit_live(unit), vd_visit_desired(unit), shown);
    effects_show(c, unit, shown);
    explain_steps(c, unit);
    c->speaker = speaker;
}

void changes_show_action(cli *c, const vd_visit *unit, changes_shown *shown)
{
    const vd_action *action = vd_visit_action(unit);
    message(c, "%s.%s%s", action->label, action->help[0] != '\0' ? " " : "", action->help);
    bool any = show_table(c, unit, shown);
    if (!any && action->deed == VD_DEED_RESTART && c->options.explain) {
        message(c, "  Everything that is live is stored: a restart loses nothing.");
    }
    effects_show(c, unit, shown);
    explain_steps(c, unit);
}

void changes_show_told(cli *c, const vd_visit *unit, changes_shown *shown)
{
    static const char *const titles[] = {"setting", "will be", NULL};
    sheet rows = sheet_start(c, stderr, titles);
    GPtrArray *left = g_ptr_array_new();
    (void)shown;
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        const vd_setting *setting = &vd_visit_model(unit)->settings[i];
        vd_value value = vd_set_get(vd_visit_desired(unit), i);
        if (vd_visit_changes(unit, i)) {
            sheet_row(&rows, setting->words->key, value_text(setting, &value), NULL);
        }
        if (vd_visit_left_to_its_unit(unit, i)) {
            g_ptr_array_add(left, (char *)setting->words->key);
        }
    }
    if (left->len > 0) {
        char *names = names_words(c, left);
        message(c, "Skipped, cannot be the same in all of them: %s.", names);
        g_free(names);
    }
    message(c, "Every unit at address %u accepts this. Nothing is read, kept or undone.", vd_visit_link(unit)->address);
    sheet_print(&rows);
    explain_steps(c, unit);
    g_ptr_array_free(left, TRUE);
}

/* ---- What is skipped ---- */

/* Keys of the settings that one of these questions is true of; in the JSON as well. NULL: of none. */
static char *collect(const cli *c, const vd_visit *unit, bool (*is)(const vd_visit *, uint16_t), const char *json_key,
                     GPtrArray *names)
{
    json_t *list = json_array();
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        if (is(unit, i)) {
            const char *key = vd_visit_model(unit)->settings[i].words->key;
            g_ptr_array_add(names, (char *)key);
            json_array_append_new(list, json_string(key));
        }
    }
    if (names->len > 0) {
        json_object_set(c->result, json_key, list);
    }
    json_decref(list);
    return names->len > 0 ? names_words(c, names) : NULL;
}

static void tell_reasons(const cli *c, const vd_visit *unit, const GPtrArray *names, const char *lead)
{
    char *words = names_by_reason(c, vd_visit_model(unit), names, lead);
    message(c, "%s", words);
    g_free(words);
}

void changes_tell_lacking(cli *c, const vd_visit *unit, const char *file)
{
    GPtrArray *names = g_ptr_array_new();
    char *words = collect(c, unit, vd_visit_lacks, "not-in-this-unit", names);
    if (words != NULL) {
        tell_reasons(c, unit, names, c->options.fitting ? "Skipped, not in this unit" : "Not in this unit");
    }
    if (words != NULL && !c->options.fitting) {
        g_ptr_array_add(names, NULL);
        char *keys = g_strjoinv(" ", (char **)names->pdata);
        message(c, "Next: --fitting skips them. To remove them from the file: verdite unset %s %s",
                file != NULL ? file : "FILE", keys);
        g_free(keys);
    }
    g_free(words);
    g_ptr_array_free(names, TRUE);
}

void changes_tell_idle(cli *c, const vd_visit *unit, changes_shown *shown)
{
    GPtrArray *names = g_ptr_array_new();
    char *words = collect(c, unit, vd_visit_leaves_idle, "left-alone", names);
    if (words != NULL) {
        c->worst = MAX(c->worst, VD_CLASS_PARTLY);
    }
    if (words != NULL && changes_are_news(shown, words)) {
        tell_reasons(c, unit, names, "Skipped, unused in this unit");
    }
    g_free(words);
    g_ptr_array_free(names, TRUE);
}

bool changes_tell_left_out(cli *c, const vd_visit *unit, const char *serial, changes_shown *shown)
{
    GPtrArray *names = g_ptr_array_new();
    char *words = collect(c, unit, vd_visit_left_to_its_unit, "left-to-its-unit", names);
    if (words != NULL && changes_are_news(shown, words)) {
        message(c, "Skipped, %s's own: %s. Add --own to write them.", serial, words);
    }
    g_free(words);
    g_ptr_array_free(names, TRUE);
    return words != NULL;
}
