/* SPDX-License-Identifier: MIT
 * The rows of a roster: each value, each rule that a column decides, and what no two units may have. */
#include "parts.h"

#include <string.h>

/* ---- Each row by itself ---- */

/* `findings`: NULL, where all was found to be right before. */
static bool take_cell(const roster_line *line, guint column, vd_set *set, vd_findings *findings)
{
    const vd_setting *about = &set->model->settings[line->kind->settings[column]];
    const char *text = cells_value(line->cells[column]);
    vd_typed typed;
    vd_fault fault = {0};
    vd_set_forget(set, line->kind->settings[column]);
    if (about->secret) {
        bool fine = vd_is_secret_source(text);
        if (!fine && findings != NULL) {
            cells_note(findings, line->number, column, "A secret does not belong in a roster",
                       "Say where it comes from: asked, environment NAME, or file PATH.");
        }
        return fine;
    }
    if (vd_setting_parse(about, text, strlen(text), &typed, &fault) != VD_OK) {
        if (findings != NULL && !cells_note_mangled(findings, line->number, column, text)) {
            vd_findings_add(findings, line->number, column + 1, &fault);
        }
        return false;
    }
    vd_set_put(set, line->kind->settings[column], &typed.value);
    return true;
}

/* What the profile gives; what no two units may have only their rows say, and what is one unit's own is not for
 * another.
 */
static void fill_from_profile(const roster_line *line, vd_set *set)
{
    const roster_kind *kind = line->kind;
    if (kind->profile != NULL) {
        const vd_set *values = vd_profile_values(kind->profile);
        vd_set_copy(set, values);
        set->variant = values->variant;
        set->firmware = values->firmware;
    }
    bool of_one = kind->profile != NULL && vd_profile_unit(kind->profile)->serial[0] != '\0';
    for (uint16_t i = 0; i < kind->model->setting_count; i++) {
        const vd_setting *about = &kind->model->settings[i];
        bool unique = about->role == VD_ROLE_ADDRESS || about->role == VD_ROLE_NAME || about->among == VD_AMONG_UNIQUE;
        if (kind->profile == NULL || unique || (of_one && vd_setting_is_own(about))) {
            vd_set_forget(set, i);
        }
    }
}

static void check_value(roster_line *line, guint column, vd_findings *findings)
{
    const vd_set *set = &line->kind->set;
    vd_fault fault = {0};
    bool known = vd_set_knows(set, line->kind->settings[column]); /* else it was wrong, which was said */
    if (known && vd_set_check(set, line->kind->settings[column], &fault) != VD_OK &&
        vd_status_class(fault.status) == VD_CLASS_FILE) {
        vd_findings_add(findings, line->number, column + 1, &fault);
        line->unsound = true;
    }
}

/* The column, from 1, of the setting to blame; else the first one of the row. */
static guint column_of(const vd_roster *roster, const roster_line *line, const vd_fault *fault)
{
    guint column = 1;
    for (guint i = 0; i < roster->columns->len && fault->setting != NULL; i++) {
        uint16_t setting = line->kind->settings[i];
        bool blamed = setting != VD_NONE && &line->kind->model->settings[setting] == fault->setting;
        column = blamed ? i + 1 : column;
    }
    return column;
}

/* The rules that a column decides; all others are the profile's own. */
static void check_rules(const vd_roster *roster, const roster_line *line, vd_findings *findings)
{
    const roster_kind *kind = line->kind;
    for (uint16_t rule = 0; rule < kind->model->rule_count; rule++) {
        uint16_t items = kind->touched[rule] ? vd_rule_items(kind->model, rule) : 0;
        for (uint16_t item = 0; item < items; item++) {
            vd_fault fault = {0};
            if (vd_rule_judge(&kind->set, NULL, rule, item, &fault) == VD_FAILS) {
                vd_findings_add(findings, line->number, column_of(roster, line, &fault), &fault);
            }
        }
    }
}

void roster_fill(const vd_roster *roster, roster_line *line, vd_set *set, vd_findings *findings)
{
    fill_from_profile(line, set);
    for (guint i = 0; i < roster->columns->len; i++) {
        if (line->kind->settings[i] != VD_NONE && line->cells[i][0] != '\0') {
            line->unsound = !take_cell(line, i, set, findings) || line->unsound;
        }
    }
}

static void judge_row(const vd_roster *roster, roster_line *line, vd_findings *findings)
{
    roster_fill(roster, line, &line->kind->set, findings);
    for (guint i = 0; i < roster->columns->len; i++) {
        const roster_column *column = roster_column_at(roster, i);
        bool setting = column->use == ROSTER_SETTING && column->found && !column->refused;
        if (column->use == ROSTER_SERIAL || column->use == ROSTER_CODE) {
            cells_note_mangled(findings, line->number, i, line->cells[i]);
        }
        if (setting && line->kind->settings[i] == VD_NONE && line->cells[i][0] != '\0') {
            char *text = g_strdup_printf("A %s has no setting \"%s\"", line->kind->model->key, column->name);
            cells_note(findings, line->number, i, text, "Leave the cell empty.");
            g_free(text);
        }
    }
    for (guint i = 0; i < roster->columns->len; i++) {
        uint16_t setting = line->kind->settings[i];
        if (setting != VD_NONE && line->cells[i][0] != '\0' && !line->kind->model->settings[setting].secret) {
            check_value(line, i, findings);
        }
    }
    if (!line->unsound) {
        check_rules(roster, line, findings);
    }
}

bool roster_takes(const vd_roster *roster, roster_line *line, uint16_t setting, const char *text, vd_fault *fault)
{
    const vd_model *model = line->kind->model;
    vd_set *set = &line->kind->set;
    vd_typed typed;
    roster_fill(roster, line, set, NULL);
    if (vd_setting_parse(&model->settings[setting], text, strlen(text), &typed, fault) != VD_OK) {
        return false;
    }
    vd_set_put(set, setting, &typed.value);
    if (vd_set_check(set, setting, fault) != VD_OK && vd_status_class(fault->status) == VD_CLASS_FILE) {
        return false;
    }
    for (uint16_t rule = 0; rule < model->rule_count; rule++) {
        uint16_t items = vd_rule_hangs_on(model, rule, setting) ? vd_rule_items(model, rule) : 0;
        for (uint16_t item = 0; item < items; item++) {
            if (vd_rule_judge(set, NULL, rule, item, fault) == VD_FAILS && fault->status == VD_RULE_BROKEN) {
                return false;
            }
        }
    }
    return true;
}

/* ---- One beside the others ---- */

/* Of what is the same in two rows the later one is at fault; `seen` maps it to the line of the first. */
static void check_twice(GHashTable *seen, const char *what, const char *text, const roster_line *line, guint column,
                        vd_findings *findings)
{
    gpointer first = NULL;
    char *key = g_strdup_printf("%s\n%s", what, text);
    if (!g_hash_table_lookup_extended(seen, key, NULL, &first)) {
        g_hash_table_insert(seen, key, GUINT_TO_POINTER(line->number));
        return;
    }
    char *said = g_strdup_printf("\"%s\" stands in line %u, too", text, GPOINTER_TO_UINT(first));
    cells_note(findings, line->number, column, said, "No two units may have the same.");
    g_free(said);
    g_free(key);
}

static void compare_row(const vd_roster *roster, GHashTable *seen, const roster_line *line, vd_findings *findings)
{
    const char *pair = "";
    for (guint i = 0; i < roster->columns->len; i++) {
        pair = roster_column_at(roster, i)->use == ROSTER_LINE ? line->cells[i] : pair;
    }
    for (guint i = 0; i < roster->columns->len; i++) {
        roster_use use = roster_column_at(roster, i)->use;
        const char *text = line->cells[i];
        uint16_t setting = line->kind->settings[i];
        if (text[0] == '\0') {
            continue;
        }
        if (use == ROSTER_SERIAL || use == ROSTER_CODE) {
            check_twice(seen, use == ROSTER_SERIAL ? "serial" : "code", text, line, i, findings);
        }
        vd_typed typed;
        const vd_setting *about = setting != VD_NONE ? &line->kind->model->settings[setting] : NULL;
        bool address = about != NULL && about->role == VD_ROLE_ADDRESS;
        if (about == NULL || (!address && about->among != VD_AMONG_UNIQUE) || about->secret ||
            vd_setting_parse(about, text, strlen(text), &typed, NULL) != VD_OK) {
            continue;
        }
        char shown[VD_MOST_BYTES + 1];
        vd_writer writer = vd_writer_start(shown, sizeof shown);
        vd_value_print(about, &typed.value, &writer);
        char *what = address ? g_strdup_printf("address %s", pair)
                             : g_strdup_printf("%s %s", line->kind->model->key, about->words->key);
        check_twice(seen, what, shown, line, i, findings);
        g_free(what);
    }
}

void roster_judge(vd_roster *roster, vd_findings *findings)
{
    GHashTable *seen = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    for (guint i = 0; i < roster->lines->len; i++) {
        roster_line *line = roster_line_at(roster, i);
        if (line->kind->model != NULL) {
            judge_row(roster, line, findings);
            compare_row(roster, seen, line, findings);
        }
    }
    g_hash_table_destroy(seen);
}
