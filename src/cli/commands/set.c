/* SPDX-License-Identifier: MIT
 * verdite set: changes settings in a profile. */
#include "commands.h"
#include "../look/intervals.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

/* Whether one of the words KEY=VALUE is about this setting. */
static bool names(const vd_model *model, char **words, uint16_t setting)
{
    for (char **word = words; *word != NULL; word++) {
        const char *key = model->settings[setting].words->key;
        size_t length = strcspn(*word, "=");
        if (strlen(key) == length && strncmp(*word, key, length) == 0) {
            return true;
        }
    }
    return false;
}

/* Whether a finding has to do with what was set: with the value itself, its decimals, or a rule that hangs on it. */
static bool concerned(const vd_model *model, char **words, const vd_survey *survey, const vd_fault *fault)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (names(model, words, i) &&
            (fault->setting == &model->settings[i] || vd_index(fault->setting->places_from) == i ||
             (survey->rule != VD_NONE && vd_rule_hangs_on(model, survey->rule, i)))) {
            return true;
        }
    }
    return false;
}

/* Judges what was set, and what it stands in relation to, now that all of it is set. */
static bool judge(cli *c, const vd_profile *before, const vd_profile *profile, char **words)
{
    vd_survey survey;
    vd_fault fault = {0};
    bool fine = true;
    uint8_t *typed = g_malloc0(vd_profile_model(profile)->setting_count);
    for (uint16_t i = 0; i < vd_profile_model(profile)->setting_count; i++) {
        typed[i] = names(vd_profile_model(profile), words, i);
    }
    vd_survey_start(&survey, vd_profile_values(profile), vd_profile_values(before));
    survey.typed = typed;
    while (vd_survey_next(&survey, &fault)) {
        bool doubt = vd_status_class(fault.status) == VD_CLASS_PARTLY;
        bool fell_idle = fault.status == VD_IDLE_HERE &&
                         vd_set_exists(vd_profile_values(before),
                                       (uint16_t)(fault.setting - vd_profile_model(profile)->settings)) != VD_FAILS;
        if (!doubt && fault.setting != NULL &&
            (fell_idle || concerned(vd_profile_model(profile), words, &survey, &fault) ||
             alarms_concern(&survey, &fault))) {
            report(c, &fault);
            fine = fine && vd_status_class(fault.status) == VD_CLASS_FINE;
        }
    }
    g_free(typed);
    return fine;
}

/* Every user of the computer can see the words of a command, so a secret does not stand among them. */
static bool put_secret(cli *c, vd_profile *profile, const char *key, bool told)
{
    vd_fault fault = {0};
    if (told) {
        char *said = g_strdup_printf("%s is secret, and others can see what you type here.", key);
        report_wrong_words(
            c, said,
            "Give its key alone: you are asked for it, and it is not shown. It can also come from standard input.");
        g_free(said);
        return false;
    }
    secret *given = secret_of_person(c, key);
    vd_status status = given != NULL ? vd_profile_put(profile, key, secret_text(given), &fault) : VD_WRONG_WORDS;
    if (given == NULL && c->worst == VD_CLASS_FINE) {
        report_wrong_words(c, "No secret was given.", "Type it when you are asked, or send it on standard input.");
    } else if (given != NULL && status != VD_OK) {
        report(c, &fault);
        c->worst = VD_CLASS_USAGE;
    }
    secret_free(given);
    return status == VD_OK;
}

static const char *preset_key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->presets[i].key;
}

static bool add_preset(cli *c, const vd_model *model, const char *key, GPtrArray *words)
{
    for (uint8_t i = 0; i < model->preset_count; i++) {
        const vd_preset *preset = &model->presets[i];
        for (uint16_t k = 0; k < preset->setting_count && strcmp(preset->key, key) == 0; k++) {
            g_ptr_array_add(
                words, g_strdup_printf("%s=%s", model->settings[preset->settings[k]].words->key, preset->values[k]));
        }
        if (strcmp(preset->key, key) == 0) {
            return true;
        }
    }
    char *said = g_strdup_printf("The model %s has no preset \"%s\".", model->key, key);
    char *near = model->preset_count > 0 ? vd_suggest(key, model->preset_count, preset_key_at, model) : g_strdup("");
    report_wrong_words(c, said, near);
    g_free(near);
    g_free(said);
    return false;
}

char **changes_expand(cli *c, const vd_model *model, char **words)
{
    static const char prefix[] = "preset:";
    GPtrArray *all = g_ptr_array_new();
    bool fine = true;
    for (char **word = words; *word != NULL; word++) {
        if (g_str_has_prefix(*word, prefix) && strchr(*word, '=') == NULL) {
            fine = add_preset(c, model, *word + sizeof prefix - 1, all) && fine;
        } else {
            size_t length = strcspn(*word, "=");
            char *key = g_strndup(*word, length);
            uint16_t setting = meant_setting(model, key);
            fine = (setting != VD_NONE || !meant_several(c, model, key)) && fine;
            g_ptr_array_add(
                all, g_strconcat(setting != VD_NONE ? model->settings[setting].words->key : key, *word + length, NULL));
            g_free(key);
        }
    }
    g_ptr_array_add(all, NULL);
    char **expanded = (char **)g_ptr_array_free(all, FALSE);
    if (!fine) {
        g_strfreev(expanded);
    }
    return fine ? expanded : NULL;
}

bool changes_put(cli *c, vd_profile *profile, char **words)
{
    bool fine = true;
    for (char **word = words; *word != NULL; word++) {
        vd_fault fault = {0};
        const char *equals = strchr(*word, '=');
        char *key = g_strndup(*word, strcspn(*word, "="));
        uint16_t setting = vd_model_find(vd_profile_model(profile), key);
        bool is_secret = setting != VD_NONE && vd_profile_model(profile)->settings[setting].secret;
        if (is_secret) {
            fine = put_secret(c, profile, key, equals != NULL) && fine;
        } else if (equals == NULL || equals == *word) {
            char *said = g_strdup_printf("\"%s\" does not set anything.", *word);
            report_wrong_words(c, said, "Give KEY=VALUE.");
            g_free(said);
            fine = false;
        } else if (vd_profile_put(profile, key, equals + 1, &fault) != VD_OK) {
            report(c, &fault);
            c->worst = VD_CLASS_USAGE; /* the words were wrong, not the file */
            fine = false;
        }
        g_free(key);
    }
    return fine;
}

static void show_set(cli *c, const vd_profile *before, const vd_profile *after, const char *path)
{
    const vd_model *model = vd_profile_model(after);
    static const char *const titles[] = {"setting", "was", "is now", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *changes = json_array();
    unsigned count = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *setting = &model->settings[i];
        vd_comparison comparison = vd_set_compare(vd_profile_values(before), vd_profile_values(after), i);
        vd_value old = vd_set_get(vd_profile_values(before), i), now = vd_set_get(vd_profile_values(after), i);
        if (comparison != VD_DIFFERENT && comparison != VD_ONLY_SECOND) {
            continue;
        }
        count++;
        json_array_append_new(changes, json_pack("{s:s, s:o, s:o}", "key", setting->words->key, "before",
                                                 value_json(setting, &old), "now", value_json(setting, &now)));
        const char *text = value_text(setting, &now), *was = value_text(setting, &old);
        sheet_row(&rows, setting->words->key, was[0] != '\0' ? was : "-", text[0] != '\0' ? text : "-", NULL);
    }
    json_object_set_new(c->result, "changes", changes);
    alarms_warn_unused(c, vd_profile_values(before), vd_profile_values(after), NULL);
    intervals_warn_ignored(c, vd_profile_values(before), vd_profile_values(after), NULL);
    c->options.json ? sheet_drop(&rows) : sheet_print(&rows);
    alarms_tell_changed(c, vd_profile_values(before), vd_profile_values(after), NULL);
    intervals_tell_changed(c, vd_profile_values(before), vd_profile_values(after), NULL);
    if (holds_secret(after) && count > 0) {
        message(c, "%s holds a secret. Only its owner can read it: keep it so.", path);
    }
    message(c, count > 0 ? "Saved in %s. Nothing was sent to a unit." : "%s said so already. Nothing changed.", path);
}

/* Whether a key stands twice: which of the two is to be changed nobody has said. */
static bool is_ambiguous(const vd_findings *findings)
{
    bool twice = false;
    for (guint i = 0; i < findings->list->len; i++) {
        twice = twice || g_array_index(findings->list, vd_finding, i).fault.status == VD_KEY_TWICE;
    }
    return twice;
}

vd_class changes_save(cli *c, const char *path, char **changes)
{
    vd_findings *findings = vd_findings_new(path);
    vd_profile *before = vd_profile_load(path, c->catalogue, findings);
    vd_profile *profile = before != NULL ? vd_profile_copy(before) : NULL;
    char **words = profile != NULL ? changes_expand(c, vd_profile_model(profile), changes) : NULL;
    size_t length = 0;
    vd_fault fault = {0};
    if (profile == NULL || is_ambiguous(findings)) {
        report_findings(c, findings);
        c->worst = MAX(c->worst, VD_CLASS_FILE);
    } else if (words != NULL && changes_put(c, profile, words)) {
        if (!judge(c, before, profile, words)) {
            c->worst = VD_CLASS_USAGE;
        } else {
            size_t was_length = 0;
            const char *was = vd_profile_text(before, &was_length), *text = vd_profile_text(profile, &length);
            if (vd_file_change(path, &(vd_file_text){was, was_length, false},
                               &(vd_file_text){text, length, holds_secret(profile)}, &fault) == VD_OK) {
                show_set(c, before, profile, path);
            } else {
                report(c, &fault);
            }
        }
    }
    if (profile != NULL && c->worst != VD_CLASS_FINE) {
        message(c, "%s is unchanged.", path);
    }
    g_strfreev(words);
    vd_profile_free(before);
    vd_profile_free(profile);
    vd_findings_free(findings);
    return c->worst;
}

vd_class command_set(cli *c)
{
    return changes_save(c, c->options.words[0], c->options.words + 1);
}
