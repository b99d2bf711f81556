/* SPDX-License-Identifier: MIT
 * Which setting a column is for: by its key, by "Group: Label", or by a label that is there once. */
#include "parts.h"

#include <string.h>

void roster_take_names(vd_roster *roster)
{
    static const char *const words[ROSTER_RESERVED] = {"line", "model", "profile", "serial", "code", "remark"};
    for (guint i = 0; i < roster->table->names->len; i++) {
        roster_column column = {.name = g_ptr_array_index(roster->table->names, i), .use = ROSTER_SETTING};
        for (guint k = 0; k < ROSTER_RESERVED; k++) {
            column.use = g_ascii_strcasecmp(column.name, words[k]) == 0 ? (roster_use)k : column.use;
        }
        column.found = column.use != ROSTER_SETTING;
        g_array_append_val(roster->columns, column);
    }
}

static bool is_called(const vd_model *model, uint16_t setting, const char *name)
{
    const vd_setting *about = &model->settings[setting];
    char *full = g_strdup_printf("%s: %s", model->groups[about->group].label, about->words->label);
    bool called = g_ascii_strcasecmp(full, name) == 0;
    g_free(full);
    return called;
}

static uint16_t find(const vd_model *model, const char *name, bool *several)
{
    uint16_t found = vd_model_find(model, name), labelled = VD_NONE;
    unsigned count = 0;
    *several = false;
    for (uint16_t i = 0; i < model->setting_count && found == VD_NONE; i++) {
        found = is_called(model, i, name) ? i : found;
        if (g_ascii_strcasecmp(model->settings[i].words->label, name) == 0) {
            labelled = i;
            count++;
        }
    }
    *several = found == VD_NONE && count > 1;
    return found != VD_NONE ? found : count == 1 ? labelled : (uint16_t)VD_NONE;
}

void roster_find_columns(vd_roster *roster, roster_kind *kind, vd_findings *findings)
{
    kind->settings = g_new(uint16_t, roster->columns->len);
    kind->touched = g_new0(uint8_t, kind->model->rule_count + 1u);
    for (guint i = 0; i < roster->columns->len; i++) {
        roster_column *column = roster_column_at(roster, i);
        bool several = false;
        kind->settings[i] = column->use == ROSTER_SETTING ? find(kind->model, column->name, &several) : VD_NONE;
        if (kind->settings[i] == VD_NONE) {
            column->found = column->found || several;
            column->refused = column->refused || several;
            if (several) {
                char *said =
                    g_strdup_printf("Several settings of the %s are called \"%s\"", kind->model->key, column->name);
                cells_note(findings, 1, i, said, "Name one by its key, or as \"Group: Label\".");
                g_free(said);
            }
            continue;
        }
        const vd_setting *about = &kind->model->settings[kind->settings[i]];
        column->found = true;
        if (about->access == VD_READ_ONLY) {
            column->refused = true;
            vd_fault fault = vd_fault_of_READ_ONLY_SETTING(about);
            vd_findings_add(findings, 1, i + 1, &fault);
            kind->settings[i] = VD_NONE;
            continue;
        }
        for (uint16_t rule = 0; rule < kind->model->rule_count; rule++) {
            kind->touched[rule] |= vd_rule_hangs_on(kind->model, rule, kind->settings[i]);
        }
    }
}

static const char *key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->settings[i].words->key;
}

void roster_check_columns(const vd_roster *roster, vd_findings *findings)
{
    const vd_model *any = NULL;
    for (guint i = 0; i < roster->kinds->len && any == NULL; i++) {
        any = ((const roster_kind *)g_ptr_array_index(roster->kinds, i))->model;
    }
    for (guint i = 0; i < roster->columns->len && any != NULL; i++) {
        const roster_column *column = roster_column_at(roster, i);
        if (!column->found) {
            char *said = g_strdup_printf("The column \"%s\" is for no setting", column->name);
            char *near = vd_suggest(column->name, any->setting_count, key_at, any);
            cells_note(findings, 1, i, said, near);
            g_free(near);
            g_free(said);
        }
    }
}
