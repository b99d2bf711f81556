/* SPDX-License-Identifier: MIT
 * verdite needs: what must be known before one leaves the depot. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

static void add_errand(sheet *rows, const vd_set *values, const vd_errand *errand, bool lacking, bool of_profile)
{
    char *from = g_strdup_printf("%s, from %s", errand->label, errand->who);
    sheet_row(rows, !of_profile ? "to bring" : lacking ? "MISSING" : "there", from, NULL);
    sheet_tone(rows, 0, !of_profile ? TONE_PLAIN : lacking ? TONE_BAD : TONE_GOOD);
    g_free(from);
    if (errand->help[0] != '\0') {
        sheet_note(rows, TONE_FAINT, errand->help);
    }
    for (uint16_t i = 0; i < errand->setting_count; i++) {
        const vd_setting *setting = &values->model->settings[errand->settings[i]];
        vd_value value = vd_set_get(values, errand->settings[i]);
        const char *text = value.type == VD_NOTHING ? "" : value_text(setting, &value);
        const char *shown = text[0] != '\0' ? text : "-";
        char *line = g_strdup_printf("%s%s%s", setting->words->key, of_profile ? ": " : "", of_profile ? shown : "");
        sheet_note(rows, TONE_PLAIN, line);
        g_free(line);
    }
}

static vd_class list_errands(cli *c, const vd_set *values, bool of_profile)
{
    const vd_model *model = values->model;
    static const char *const titles[] = {"", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *list = json_array();
    unsigned missing = 0;
    for (uint8_t i = 0; i < model->errand_count; i++) {
        const vd_errand *errand = &model->errands[i];
        bool lacking = vd_errand_lacking(values, errand);
        json_t *keys = json_array();
        for (uint16_t k = 0; k < errand->setting_count; k++) {
            json_array_append_new(keys, json_string(model->settings[errand->settings[k]].words->key));
        }
        json_array_append_new(list, json_pack("{s:s, s:s, s:s, s:o, s:b}", "what", errand->label, "help", errand->help,
                                              "who", errand->who, "settings", keys, "missing", lacking));
        missing += lacking;
        add_errand(&rows, values, errand, lacking, of_profile);
    }
    c->options.json ? sheet_drop(&rows) : sheet_print(&rows);
    json_object_set_new(c->result, "model", json_string(model->key));
    json_object_set_new(c->result, "needs", list);
    if (model->errand_count == 0) {
        message(c, "The model %s needs nothing that must be known before.", model->key);
    } else if (of_profile) {
        message(c, missing > 0 ? "%u of %u missing." : "Nothing is missing.", missing, model->errand_count);
        c->worst = MAX(c->worst, missing > 0 ? VD_CLASS_NO : VD_CLASS_FINE);
    }
    return c->worst;
}

vd_class command_needs(cli *c)
{
    char **words = c->options.words;
    /* A model by its key or its file; whatever else is there is a profile. */
    bool of_model = g_strv_contains(vd_catalogue_keys(c->catalogue), words[0]) || vd_is_model_file(words[0]) ||
                    (!g_str_has_suffix(words[0], ".yaml") && !g_file_test(words[0], G_FILE_TEST_EXISTS));
    if (!of_model) {
        vd_profile *profile = choose_profile(c, words[0]);
        if (profile != NULL) {
            list_errands(c, vd_profile_values(profile), true);
        }
        vd_profile_free(profile);
        return c->worst;
    }
    c->options.model = g_strdup(words[0]);
    const vd_model *model = choose_model(c);
    if (model != NULL) {
        vd_set nothing;
        void *memory = g_malloc0(vd_set_size(model));
        vd_set_start(&nothing, model, memory, vd_set_size(model));
        list_errands(c, &nothing, false);
        g_free(memory);
    }
    return c->worst;
}
