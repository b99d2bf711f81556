/* SPDX-License-Identifier: MIT
 * verdite set and verdite check: what can be done with a profile while no unit is there. */
#include "cli.h"

#include <string.h>

/* Judges what was set, and what it stands in relation to, now that all of it is set. */
static bool judge(cli *c, const vd_profile *profile, char **words)
{
    const vd_set *values = vd_profile_values(profile);
    const vd_model *model = vd_profile_model(profile);
    bool fine = true;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        bool concerned = false;
        for (char **word = words; *word != NULL; word++) {
            size_t length = strcspn(*word, "=");
            char *key = g_strndup(*word, length);
            uint16_t set = vd_model_find(model, key);
            concerned = concerned || set == i || model->settings[i].places_from == set;
            for (uint16_t k = 0; k < model->pair_count; k++) {
                concerned = concerned || (model->pairs[k].low == i && model->pairs[k].high == set);
            }
            g_free(key);
        }
        vd_fault fault = {0};
        vd_status status = concerned ? vd_set_check(values, i, &fault) : VD_OK;
        if (status != VD_OK && vd_status_class(status) != VD_CLASS_PARTLY) {
            report(c, &fault);
            fine = false;
        }
    }
    return fine;
}

static bool put_all(cli *c, vd_profile *profile, char **words)
{
    bool fine = true;
    for (char **word = words; *word != NULL; word++) {
        vd_fault fault = {0};
        const char *equals = strchr(*word, '=');
        char *key = g_strndup(*word, equals != NULL ? (size_t)(equals - *word) : 0);
        if (!g_utf8_validate(*word, -1, NULL) || equals == NULL || equals == *word) {
            char *shown = g_utf8_make_valid(*word, -1), *said = g_strdup_printf("\"%s\" sets nothing.", shown);
            report_words(c, VD_WRONG_WORDS, said, "Give KEY=VALUE, in UTF-8.");
            g_free(said);
            g_free(shown);
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
        json_array_append_new(changes, json_pack("{s:s, s:o, s:o}", "key", setting->key, "before",
                                                 value_json(setting, &old), "now", value_json(setting, &now)));
        if (!c->options.json) {
            printf("  %s: %s, was %s\n", setting->key, value_text(setting, &now),
                   old.type == VD_NOTHING ? "not in the file" : value_text(setting, &old));
        }
    }
    json_object_set_new(c->result, "changes", changes);
    message(c, count > 0 ? "Saved in %s. Nothing has been sent to a unit." : "%s said so already; nothing changed.",
            path);
}

vd_class command_set(cli *c)
{
    char **words = c->options.words;
    if (words == NULL || words[1] == NULL) {
        return report_words(c, VD_WRONG_WORDS, "set takes a file and at least one KEY=VALUE.",
                            "For example: verdite set hive-03.yaml weight.low-limit=\"20 kg\"");
    }
    const char *path = words[0];
    vd_findings *findings = vd_findings_new(path), *again = vd_findings_new(path);
    vd_profile *before = vd_profile_load(path, c->catalogue, findings);
    vd_profile *profile = before != NULL ? vd_profile_load(path, c->catalogue, again) : NULL;
    size_t length = 0;
    vd_fault fault = {0};
    if (profile == NULL) {
        report_findings(c, findings);
    } else if (put_all(c, profile, words + 1)) {
        if (!judge(c, profile, words + 1)) {
            c->worst = VD_CLASS_USAGE;
        } else {
            const char *text = vd_profile_text(profile, &length);
            if (vd_file_save(path, text, length, &fault) == VD_OK) {
                show_set(c, before, profile, path);
            } else {
                report(c, &fault);
            }
        }
    }
    if (profile != NULL && c->worst != VD_CLASS_FINE) {
        message(c, "%s is as it was.", path);
    }
    vd_profile_free(before);
    vd_profile_free(profile);
    vd_findings_free(findings);
    vd_findings_free(again);
    return c->worst;
}

vd_class command_check(cli *c)
{
    char **words = c->options.words;
    if (words == NULL || words[1] != NULL) {
        return report_words(c, VD_WRONG_WORDS, "check takes one file.", "For example: verdite check hive-03.yaml");
    }
    vd_findings *findings = vd_findings_new(words[0]);
    vd_profile *profile = vd_profile_load(words[0], c->catalogue, findings);
    unsigned count = 0, doubts = 0;
    report_findings(c, findings);
    for (guint i = 0; i < findings->list->len; i++) {
        vd_fault *fault = &g_array_index(findings->list, vd_finding, i).fault;
        doubts += vd_status_class(fault->status) == VD_CLASS_PARTLY;
    }
    for (uint16_t i = 0; profile != NULL && i < vd_profile_model(profile)->setting_count; i++) {
        count += vd_set_knows(vd_profile_values(profile), i);
    }
    if (profile != NULL) {
        /* Judging the file was asked for: where it can be read at all, what is wrong in it is the answer. */
        bool wrong = vd_findings_any_wrong(findings);
        c->worst = wrong ? VD_CLASS_NO : doubts > 0 ? VD_CLASS_PARTLY : VD_CLASS_FINE;
        json_object_set_new(c->result, "model", json_string(vd_profile_model(profile)->key));
        json_object_set_new(c->result, "settings", json_integer(count));
        if (!c->options.json) {
            tone t = wrong ? TONE_BAD : doubts > 0 ? TONE_DOUBT : TONE_GOOD;
            const char *word = wrong ? "Not right" : doubts > 0 ? "Right as far as can be judged" : "Right";
            printf("%s%s%s: %u settings of a %s, %u wrong, %u not judged.\n", tone_on(c->colour, t), word,
                   tone_off(c->colour, t), count, vd_profile_model(profile)->key, findings->list->len - doubts, doubts);
        }
    }
    vd_profile_free(profile);
    vd_findings_free(findings);
    return c->worst;
}
