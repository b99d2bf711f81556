/* SPDX-License-Identifier: MIT
 * Files of models: wrong ones are told of in words fit to be shown; right ones can be worked with. */
#include "input.h"

#include "verdite/survey.h"

static void work(const vd_model *model)
{
    vd_set set = input_set(model), before = input_set(model);
    vd_survey survey;
    vd_fault fault = {0};
    PROMISE(vd_text_is_key(model->key) && input_is_plain(model->title), "its key or title");
    vd_set_put_initial(&set);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *setting = &model->settings[i];
        char text[600];
        vd_writer writer = vd_writer_start(text, sizeof text);
        const vd_meaning meaning = vd_setting_meaning(setting);
        vd_meaning_print(&meaning, &writer);
        vd_value value = vd_set_get(&set, i);
        vd_value_show(setting, &value, &writer);
        PROMISE(vd_text_is_key(setting->words->key) && input_is_plain(text), "%s: %s", setting->words->key, text);
        PROMISE(vd_model_find(model, setting->words->key) == i, "%s is found elsewhere", setting->words->key);
    }
    vd_survey_start(&survey, &set, &before);
    for (unsigned n = 0; n < 1000 && vd_survey_next(&survey, &fault); n++) {
        char words[512];
        vd_fault_words(&fault, true, words, sizeof words);
        PROMISE(input_is_plain(words), "%s", words);
    }
    char *profile = vd_profile_compose(model, &set, NULL, NULL);
    PROMISE(g_utf8_validate(profile, -1, NULL), "its profile is no UTF-8");
    g_free(profile);
    g_free(set.memory);
    g_free(before.memory);
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file = vd_model_file_load(input_file(bytes, count), findings);
    PROMISE((file != NULL) == (findings->list->len == 0), "neither a model nor a reason");
    input_judge_findings(findings);
    if (file != NULL) {
        work(vd_model_file_model(file));
    }
    vd_model_file_free(file);
    vd_findings_free(findings);
    return 0;
}
