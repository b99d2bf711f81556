/* SPDX-License-Identifier: MIT
 * verdite check: a profile, or a model as its author wants it judged. */
#include "commands.h"
#include "../act/act.h"
#include "../look/intervals.h"
#include "../print/print.h"

/* What the model leaves open is no mistake, but its author may have forgotten it. */
static void remark_open(const cli *c, const vd_model *model)
{
    GString *keys = g_string_new("");
    unsigned count = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *setting = &model->settings[i];
        bool shown = setting->initial_text == NULL && !setting->has_initial && vd_setting_is_shown(setting);
        if (shown && count++ < 5) {
            g_string_append_printf(keys, "%s%s", count > 1 ? ", " : "", setting->words->key);
        }
    }
    if (count > 0) {
        message(c, "note: %u setting%s no default, so a bench plays the lowest value: %s%s.", count,
                count == 1 ? " has" : "s have", keys->str, count > 5 ? ", ..." : "");
    }
    g_string_free(keys, TRUE);
}

/* A model file, as its author wants it judged. */
static vd_class check_model(cli *c, const char *path)
{
    vd_findings *findings = vd_findings_new(path);
    vd_model_file *file = vd_model_file_load(path, findings);
    report_findings(c, findings);
    guint wrong = findings->list->len;
    c->worst = wrong > 0 ? VD_CLASS_NO : VD_CLASS_FINE;
    if (file != NULL) {
        const vd_model *model = vd_model_file_model(file);
        json_object_set_new(c->result, "model", json_string(model->key));
        json_object_set_new(c->result, "settings", json_integer(model->setting_count));
        json_object_set_new(c->result, "rules", json_integer(model->rule_count));
        if (!c->options.json) {
            char *what = g_strdup_printf("model %s, %u settings, %u rules. To try it: verdite-bench play %s",
                                         model->key, model->setting_count, model->rule_count, path);
            lead_print(c, TONE_GOOD, "Right:", "", what);
            g_free(what);
            remark_open(c, model);
            report_no_witness(c, model);
        }
    } else if (!c->options.json) {
        char *what = g_strdup_printf("%u finding%s.", wrong, wrong == 1 ? "" : "s");
        lead_print(c, TONE_BAD, "Not right:", "", what);
        g_free(what);
    }
    vd_model_file_free(file);
    vd_findings_free(findings);
    return c->worst;
}

/* A secret whose source is said is not missing. */
static void put_promised(const vd_roster *roster, size_t row, vd_set *set)
{
    const vd_profile *profile = vd_roster_at(roster, row).profile;
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        bool said =
            vd_roster_secret(roster, row, i) != NULL || (profile != NULL && vd_profile_secret(profile, i) != NULL);
        if (said && set->model->settings[i].traits->id == VD_TEXT) {
            vd_set_put(set, i, &(vd_value){.type = VD_TEXT, .text = "*", .length = 1});
        }
    }
}

/* In how many rows of a model something to bring is missing. */
static unsigned count_lacking(const vd_roster *roster, const vd_model *model, const vd_errand *errand, unsigned *rows)
{
    void *memory = g_malloc0(vd_set_size(model));
    unsigned lacking = 0;
    *rows = 0;
    for (size_t i = 0; i < vd_roster_count(roster); i++) {
        if (vd_roster_at(roster, i).model == model) {
            vd_set set;
            vd_set_start(&set, model, memory, vd_set_size(model));
            vd_roster_fill(roster, i, &set);
            put_promised(roster, i, &set);
            lacking += vd_errand_lacking(&set, errand);
            (*rows)++;
        }
    }
    g_free(memory);
    return lacking;
}

/* What has to be known before anyone drives off and no row says, with who supplies it. */
static void tell_lacking(cli *c, const vd_roster *roster)
{
    GHashTable *seen = g_hash_table_new(NULL, NULL);
    json_t *list = json_array();
    for (size_t i = 0; i < vd_roster_count(roster); i++) {
        const vd_model *model = vd_roster_at(roster, i).model;
        bool fresh = model != NULL && g_hash_table_add(seen, (gpointer)model);
        for (uint8_t k = 0; fresh && k < model->errand_count; k++) {
            const vd_errand *errand = &model->errands[k];
            unsigned rows = 0, lacking = count_lacking(roster, model, errand, &rows);
            if (lacking > 0) {
                message(c, "Missing in %u of %u rows: %s. It comes from %s.", lacking, rows, errand->label,
                        errand->who);
                json_array_append_new(list, json_pack("{s:s, s:s, s:s, s:i}", "model", model->key, "what",
                                                      errand->label, "who", errand->who, "rows", (int)lacking));
            }
        }
    }
    json_object_set_new(c->result, "missing", list);
    g_hash_table_destroy(seen);
}

/* A roster, with the profile that all its units get where their rows name none. */
static vd_class check_roster(cli *c, const char *path)
{
    vd_profile *profile = NULL;
    vd_findings *findings = vd_findings_new(path);
    vd_roster *roster = choose_roster(c, path, c->options.words[1], &profile, findings);
    bool wrong = vd_findings_any_wrong(findings);
    if (roster != NULL) {
        report_findings(c, findings);
        size_t count = vd_roster_count(roster);
        c->worst = wrong ? VD_CLASS_NO : VD_CLASS_FINE;
        json_object_set_new(c->result, "units", json_integer((json_int_t)count));
        tell_lacking(c, roster);
        if (!c->options.json) {
            char *what = g_strdup_printf("%zu unit%s, %u finding%s.", count, count == 1 ? "" : "s", findings->list->len,
                                         findings->list->len == 1 ? "" : "s");
            lead_print(c, wrong ? TONE_BAD : TONE_GOOD, wrong ? "Not right:" : "Right:", "", what);
            g_free(what);
        }
    }
    vd_roster_free(roster);
    vd_findings_free(findings);
    vd_profile_free(profile);
    return c->worst;
}

vd_class command_check(cli *c)
{
    char **words = c->options.words;
    if (g_str_has_suffix(words[0], ".csv")) {
        return check_roster(c, words[0]);
    }
    if (words[1] != NULL) {
        report_wrong_words(c, "A profile belongs behind a roster only.",
                           "For example: verdite check bracken.csv hive.yaml");
        return c->worst;
    }
    if (vd_is_model_file(words[0])) {
        return check_model(c, words[0]);
    }
    vd_findings *findings = vd_findings_new(words[0]);
    vd_profile *profile = vd_profile_load(words[0], c->catalogue, findings);
    unsigned count = 0, doubts = 0, remarks = 0;
    report_findings(c, findings);
    for (guint i = 0; i < findings->list->len; i++) {
        vd_fault *fault = &g_array_index(findings->list, vd_finding, i).fault;
        doubts += vd_status_class(fault->status) == VD_CLASS_PARTLY;
        remarks += vd_status_class(fault->status) == VD_CLASS_FINE;
    }
    for (uint16_t i = 0; profile != NULL && i < vd_profile_model(profile)->setting_count; i++) {
        count += vd_set_knows(vd_profile_values(profile), i);
    }
    if (profile != NULL) {
        /* Judging the file was asked for: where it can be read at all, what is wrong in it is the answer. */
        bool wrong = vd_findings_any_wrong(findings);
        intervals_note_ignored(c, vd_profile_values(profile));
        c->worst = wrong ? VD_CLASS_NO : doubts > 0 ? VD_CLASS_PARTLY : VD_CLASS_FINE;
        json_object_set_new(c->result, "model", json_string(vd_profile_model(profile)->key));
        json_object_set_new(c->result, "settings", json_integer(count));
        if (!c->options.json) {
            tone t = wrong ? TONE_BAD : doubts > 0 ? TONE_DOUBT : TONE_GOOD;
            const char *word = wrong ? "Not right:" : doubts > 0 ? "Right, as far as it can be judged:" : "Right:";
            GString *what = g_string_new("");
            const struct {
                unsigned number;
                const char *words;
            } others[] = {{findings->list->len - doubts - remarks, "wrong"},
                          {doubts, "not judged"},
                          {remarks, remarks == 1 ? "warning or note" : "warnings or notes"}};
            g_string_append_printf(what, "%s, %u setting%s", vd_profile_model(profile)->key, count,
                                   count == 1 ? "" : "s");
            for (size_t i = 0; i < G_N_ELEMENTS(others); i++) {
                if (others[i].number > 0) {
                    g_string_append_printf(what, ", %u %s", others[i].number, others[i].words);
                }
            }
            g_string_append_c(what, '.');
            lead_print(c, t, word, "", what->str);
            g_string_free(what, TRUE);
        }
        json_object_set_new(c->result, "alarms", alarms_json(vd_profile_values(profile)));
    }
    vd_profile_free(profile);
    vd_findings_free(findings);
    return c->worst;
}
