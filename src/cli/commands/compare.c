/* SPDX-License-Identifier: MIT
 * verdite compare: what differs between two of unit, factory defaults and a file. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

/* A unit's counter is where it should be as long as it is not below where it went on from, as verify says. */
static bool has_counted_on(const side *a, const side *b, uint16_t i)
{
    const side *unit = strcmp(a->name, "unit") == 0 ? a : strcmp(b->name, "unit") == 0 ? b : NULL;
    const side *start = unit == a ? b : a;
    vd_value is = unit != NULL ? vd_set_get(&unit->set, i) : (vd_value){.type = VD_NOTHING};
    vd_value from = vd_set_get(&start->set, i);
    int64_t counts = 0, least = 0;
    return unit != NULL && unit->set.model->settings[i].traits->id == VD_COUNTER &&
           vd_set_to_count(&unit->set, i, &is, &counts, NULL) == VD_OK &&
           vd_set_to_count(&unit->set, i, &from, &least, NULL) == VD_OK && counts >= least;
}

static void show(cli *c, const vd_model *model, const side *a, const side *b, const uint8_t *which)
{
    const char *const titles[] = {"setting", a->name, b->name, NULL};
    json_t *differences = json_array();
    sheet rows = sheet_start(c, stdout, titles);
    unsigned same = 0, differing = 0;
    GPtrArray *only[2] = {g_ptr_array_new(), g_ptr_array_new()};
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *setting = &model->settings[i];
        vd_comparison comparison = vd_set_compare(&a->set, &b->set, i);
        if ((which != NULL && which[i] == 0) || setting->access == VD_READ_ONLY) {
            continue;
        }
        same += comparison == VD_SAME;
        if (comparison == VD_ONLY_FIRST || comparison == VD_ONLY_SECOND) {
            g_ptr_array_add(only[comparison == VD_ONLY_SECOND], (gpointer)setting->words->key);
        }
        if (comparison != VD_DIFFERENT || has_counted_on(a, b, i)) {
            same += comparison == VD_DIFFERENT;
            continue;
        }
        vd_value first = vd_set_get(&a->set, i), second = vd_set_get(&b->set, i);
        json_array_append_new(differences,
                              json_pack("{s:s, s:o, s:o}", "key", setting->words->key, "first",
                                        value_json(setting, &first), "second", value_json(setting, &second)));
        sheet_row(&rows, setting->words->key, value_text(setting, &first), value_text(setting, &second), NULL);
        differing++;
    }
    json_object_set_new(c->result, "differences", differences);
    json_object_set_new(c->result, "same", json_integer(same));
    if (differing > 0) {
        c->worst = MAX(c->worst, VD_CLASS_NO);
    }
    if (c->options.json) {
        sheet_drop(&rows);
        g_ptr_array_free(only[0], TRUE);
        g_ptr_array_free(only[1], TRUE);
        return;
    }
    sheet_print(&rows);
    tone t = differing > 0 ? TONE_BAD : TONE_GOOD;
    GString *rest = g_string_new("");
    char *lead = g_strdup_printf("%u differ%s,", differing, differing == 1 ? "s" : "");
    g_string_printf(rest, "%u the same", same);
    for (int k = 0; k < 2; k++) {
        if (only[k]->len > 0) {
            char *names = names_words(c, only[k]);
            g_string_append_printf(rest, "; only in %s: %s", k == 0 ? a->name : b->name, names);
            g_free(names);
        }
    }
    g_string_append_c(rest, '.');
    lead_print(c, t, lead, "", rest->str);
    g_string_free(rest, TRUE);
    g_free(lead);
    g_ptr_array_free(only[0], TRUE);
    g_ptr_array_free(only[1], TRUE);
}

vd_class command_compare(cli *c)
{
    char **words = c->options.words;
    const vd_model *model = NULL;
    uint8_t *which = NULL;
    visit v = {0};
    if (strcmp(words[0], words[1]) == 0) {
        return report_wrong_words(c, "compare needs two different ones of: unit, factory, a file.",
                                  "For example: verdite compare unit hive-03.yaml");
    }
    side a = {.name = words[0]}, b = {.name = words[1]};
    bool fine = side_choose(c, &a, &model) && side_choose(c, &b, &model);
    if (fine && (model == NULL || c->options.model != NULL)) {
        const vd_model *named = meet_model(c);
        fine = named != NULL && (model == NULL || model == named);
        if (named != NULL && !fine) {
            report_new(c, vd_fault_of_FILE_OF_OTHER_MODEL(model->key, named->key));
        }
        model = named;
    }
    if (fine && choose_group(c, model, &which) && side_fill(c, &a, model, &v) && side_fill(c, &b, model, &v)) {
        show(c, model, &a, &b, which);
    }
    side_free(&a);
    side_free(&b);
    g_free(which);
    visit_free(&v);
    return c->worst;
}
