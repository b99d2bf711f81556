/* SPDX-License-Identifier: MIT
 * A roster as a whole: which model and profile each of its units has. */
#include "parts.h"

#include <string.h>

static const char *cell_for(const vd_roster *roster, const roster_line *line, roster_use use, guint *column)
{
    for (guint i = 0; i < roster->columns->len; i++) {
        if (roster_column_at(roster, i)->use == use) {
            *column = i;
            return line->cells[i];
        }
    }
    *column = 0;
    return "";
}

/* What is wrong with a file that a row names is told of the row; its own lines mean nothing here. */
static void note_other(vd_findings *findings, const roster_line *line, guint column, const char *path)
{
    char *said = g_strdup_printf("The profile \"%s\" cannot be used", path);
    char *allowed = g_strdup_printf("To see why: verdite check %s", path);
    cells_note(findings, line->number, column, said, allowed);
    g_free(allowed);
    g_free(said);
}

static void load_profile(roster_kind *kind, vd_catalogue *catalogue, const char *folder, const roster_line *line,
                         guint column, vd_findings *findings)
{
    char *path = path_in(folder, kind->profile_said);
    vd_findings *own = vd_findings_new(path);
    kind->own = vd_profile_load(path, catalogue, own);
    if (kind->own == NULL || vd_findings_any_wrong(own)) {
        note_other(findings, line, column, path);
        vd_profile_free(kind->own);
        kind->own = NULL;
    }
    kind->profile = kind->own;
    kind->model = kind->own != NULL ? vd_profile_model(kind->own) : NULL;
    vd_findings_free(own);
    g_free(path);
}

/* The model that a row names; where it names a profile as well, they must agree. */
static void find_model(roster_kind *kind, vd_catalogue *catalogue, const roster_line *line, guint column,
                       vd_findings *findings)
{
    vd_findings *own = vd_findings_new("");
    const vd_model *model = vd_catalogue_model(catalogue, kind->model_said, &own);
    if (model == NULL) {
        char *said = g_strdup_printf("There is no model \"%s\"", kind->model_said);
        cells_note(findings, line->number, column, said, "All models: verdite model");
        g_free(said);
    } else if (kind->model != NULL && kind->model != model) {
        char *said = g_strdup_printf("The profile is for a %s, not for a %s", kind->model->key, model->key);
        cells_note(findings, line->number, column, said, "Name the profile of this model.");
        g_free(said);
        model = NULL;
    }
    kind->model = model;
    vd_findings_free(own);
}

static roster_kind *kind_of(vd_roster *roster, const roster_line *line, const vd_profile *usual,
                            vd_catalogue *catalogue, const char *folder, vd_findings *findings)
{
    guint model_column, profile_column;
    const char *model = cell_for(roster, line, ROSTER_MODEL, &model_column);
    const char *profile = cell_for(roster, line, ROSTER_PROFILE, &profile_column);
    for (guint i = 0; i < roster->kinds->len; i++) {
        roster_kind *kind = g_ptr_array_index(roster->kinds, i);
        if (strcmp(kind->model_said, model) == 0 && strcmp(kind->profile_said, profile) == 0) {
            return kind;
        }
    }
    roster_kind *kind = g_new0(roster_kind, 1);
    kind->model_said = model;
    kind->profile_said = profile;
    g_ptr_array_add(roster->kinds, kind);
    bool same =
        usual != NULL && profile[0] == '\0' && (model[0] == '\0' || strcmp(model, vd_profile_model(usual)->key) == 0);
    if (profile[0] != '\0') {
        load_profile(kind, catalogue, folder, line, profile_column, findings);
    } else if (same) {
        kind->profile = usual;
        kind->model = vd_profile_model(usual);
    } else if (model[0] == '\0') {
        cells_note(findings, line->number, 0, "This row says no model",
                   "Add a column model or profile, or name the profile for all behind the roster.");
    }
    if (model[0] != '\0' && !same && (profile[0] == '\0' || kind->model != NULL)) {
        find_model(kind, catalogue, line, model_column, findings);
    }
    if (kind->model != NULL) {
        kind->memory = g_malloc0(vd_set_size(kind->model));
        vd_set_start(&kind->set, kind->model, kind->memory, vd_set_size(kind->model));
        roster_find_columns(roster, kind, findings);
    }
    return kind;
}

static void kind_free(gpointer about)
{
    roster_kind *kind = about;
    vd_profile_free(kind->own);
    g_free(kind->settings);
    g_free(kind->touched);
    g_free(kind->memory);
    g_free(kind);
}

static void take_lines(vd_roster *roster)
{
    for (guint i = 0; i < roster->table->rows->len; i++) {
        const cell_row *row = cells_row_at(roster->table, i);
        const roster_line line = {.number = row->number, .cells = row->cells};
        g_array_append_val(roster->lines, line);
    }
}

/* Makes a roster of a table, which it keeps: finds out of which kind each unit is, and judges all of them. `table`
 * NULL: it cannot be used, which is a finding. */
static vd_roster *roster_of(cell_table *table, const char *folder, vd_catalogue *catalogue, const vd_profile *profile,
                            vd_findings *findings)
{
    if (table != NULL && table->rows->len == 0) {
        cells_note(findings, 1, 0, "The roster lists no unit", "Give a header, and a row for each unit.");
        cells_free(table);
        table = NULL;
    }
    if (table == NULL) {
        return NULL;
    }
    vd_roster *roster = g_new0(vd_roster, 1);
    roster->table = table;
    roster->folder = g_strdup(folder);
    roster->columns = g_array_new(FALSE, TRUE, sizeof(roster_column));
    roster->lines = g_array_new(FALSE, TRUE, sizeof(roster_line));
    roster->kinds = g_ptr_array_new_with_free_func(kind_free);
    roster_take_names(roster);
    take_lines(roster);
    for (guint i = 0; i < roster->lines->len; i++) {
        roster_line *line = roster_line_at(roster, i);
        line->kind = kind_of(roster, line, profile, catalogue, folder, findings);
    }
    roster_check_columns(roster, findings);
    roster_judge(roster, findings);
    return roster;
}

vd_roster *vd_roster_load(const char *path, vd_catalogue *catalogue, const vd_profile *profile, vd_findings *findings)
{
    char *folder = g_path_get_dirname(path);
    vd_roster *roster = roster_of(cells_read(path, findings), folder, catalogue, profile, findings);
    g_free(folder);
    return roster;
}

vd_roster *vd_roster_parse(const char *text, size_t length, vd_catalogue *catalogue, const vd_profile *profile,
                           vd_findings *findings)
{
    return roster_of(cells_parse(text, length, findings), ".", catalogue, profile, findings);
}

void vd_roster_free(vd_roster *roster)
{
    if (roster != NULL) {
        g_array_free(roster->columns, TRUE);
        g_array_free(roster->lines, TRUE);
        g_ptr_array_free(roster->kinds, TRUE);
        cells_free(roster->table);
        g_free(roster->folder);
        g_free(roster);
    }
}

size_t vd_roster_count(const vd_roster *roster)
{
    return roster->lines->len;
}

/* ---- A unit ---- */

static const char *said_name(const vd_roster *roster, const roster_line *line)
{
    for (guint i = 0; i < roster->columns->len; i++) {
        uint16_t setting = line->kind->settings[i];
        if (setting != VD_NONE && line->kind->model->settings[setting].role == VD_ROLE_NAME) {
            return line->cells[i];
        }
    }
    return "";
}

vd_roster_unit vd_roster_at(const vd_roster *roster, size_t i)
{
    const roster_line *line = roster_line_at(roster, (guint)i);
    guint column;
    return (vd_roster_unit){.number = line->number,
                            .serial = cell_for(roster, line, ROSTER_SERIAL, &column),
                            .code = cell_for(roster, line, ROSTER_CODE, &column),
                            .line = cell_for(roster, line, ROSTER_LINE, &column),
                            .remark = cell_for(roster, line, ROSTER_REMARK, &column),
                            .name = line->kind->model != NULL ? said_name(roster, line) : "",
                            .model = line->kind->model,
                            .profile = line->kind->profile};
}

void vd_roster_fill(const vd_roster *roster, size_t i, vd_set *set)
{
    roster_fill(roster, roster_line_at(roster, (guint)i), set, NULL);
}

const char *vd_roster_secret(const vd_roster *roster, size_t i, uint16_t setting)
{
    const roster_line *line = roster_line_at(roster, (guint)i);
    for (guint column = 0; column < roster->columns->len; column++) {
        if (line->kind->settings[column] == setting && line->kind->model->settings[setting].secret &&
            line->cells[column][0] != '\0') {
            char *source = source_in(roster->folder, line->cells[column]);
            const char *kept = g_string_chunk_insert_const(roster->table->texts, source);
            g_free(source);
            return kept;
        }
    }
    return NULL;
}

static guint column_for(const vd_roster *roster, const roster_line *line, uint16_t setting)
{
    guint column = 0;
    while (column < roster->columns->len && line->kind->settings[column] != setting) {
        column++;
    }
    return column;
}

const char *vd_roster_cell(const vd_roster *roster, size_t i, uint16_t setting)
{
    const roster_line *line = roster_line_at(roster, (guint)i);
    guint column = column_for(roster, line, setting);
    return column < roster->columns->len ? line->cells[column] : NULL;
}

bool vd_roster_takes(const vd_roster *roster, size_t i, uint16_t setting, const char *text, vd_fault *fault)
{
    return roster_takes(roster, roster_line_at(roster, (guint)i), setting, text, fault);
}

bool vd_roster_say(vd_roster *roster, size_t i, uint16_t setting, const char *text)
{
    const roster_line *line = roster_line_at(roster, (guint)i);
    guint column = column_for(roster, line, setting);
    if (column < roster->columns->len) {
        line->cells[column] = g_string_chunk_insert(roster->table->texts, text);
    }
    return column < roster->columns->len;
}

/* ---- Writing ---- */

/* A cell as it stands in a file of another folder. Free it. */
static char *cell_in(const vd_roster *roster, const roster_line *line, guint column, const char *folder)
{
    uint16_t setting = line->kind->settings[column];
    const char *said = line->cells[column];
    if (said[0] != '\0' && roster_column_at(roster, column)->use == ROSTER_PROFILE) {
        return path_moved(roster->folder, folder, said);
    }
    bool secret = setting != VD_NONE && line->kind->model->settings[setting].secret;
    return secret ? source_moved(roster->folder, folder, said) : g_strdup(said);
}

char *vd_roster_text(const vd_roster *roster, const char *const *serials, bool all, const char *path)
{
    char *folder = g_path_get_dirname(path);
    GString *out = g_string_new("");
    guint own = roster->columns->len;
    for (guint i = 0; i < roster->columns->len; i++) {
        own = roster_column_at(roster, i)->use == ROSTER_SERIAL ? i : own;
        cells_write(out, i == 0, roster_column_at(roster, i)->name);
    }
    bool learns = serials != NULL, adds = learns && own == roster->columns->len;
    g_string_append(out, adds ? ",serial\r\n" : "\r\n");
    for (guint n = 0; n < roster->lines->len; n++) {
        const roster_line *line = roster_line_at(roster, n);
        if (!all && serials[n] == NULL) {
            continue;
        }
        for (guint i = 0; i < roster->columns->len; i++) {
            bool learned = learns && i == own && line->cells[i][0] == '\0' && serials[n] != NULL;
            char *said = cell_in(roster, line, i, folder);
            cells_write(out, i == 0, learned ? serials[n] : said);
            g_free(said);
        }
        if (adds) {
            cells_write(out, false, serials[n] != NULL ? serials[n] : "");
        }
        g_string_append(out, "\r\n");
    }
    g_free(folder);
    return g_string_free(out, FALSE);
}
