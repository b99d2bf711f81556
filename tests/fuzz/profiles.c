/* SPDX-License-Identifier: MIT
 * Profiles and their edits: what one change makes of a text says the change, and of everything else what it said. The
 * first line of the input is the change, KEY=VALUE; the rest is the profile. */
#include "input.h"

static void edit(const vd_profile *profile, const char *change)
{
    char *key = g_strndup(change, strcspn(change, "="));
    const char *typed = strchr(change, '=') != NULL ? strchr(change, '=') + 1 : "";
    const vd_model *model = vd_profile_model(profile);
    vd_profile *changed = vd_profile_copy(profile);
    vd_fault fault = {0};
    char words[512];
    PROMISE(changed != NULL, "a profile that has no copy");
    size_t before = 0, after = 0;
    const char *old = vd_profile_text(profile, &before);
    vd_status status = input_is_plain(change) ? vd_profile_put(changed, key, typed, &fault) : VD_NOT_SHOWN;
    const char *text = vd_profile_text(changed, &after);
    if (status != VD_OK) {
        vd_fault_words(&fault, true, words, sizeof words);
        PROMISE(input_is_plain(words), "%s", words);
        PROMISE(after == before && memcmp(old, text, after) == 0, "refused, and changed all the same");
    } else {
        vd_profile *again = vd_profile_copy(changed);
        uint16_t setting = vd_model_find(model, key);
        PROMISE(again != NULL && setting != VD_NONE, "it cannot be read any more");
        for (uint16_t i = 0; i < model->setting_count; i++) {
            const vd_set *was = vd_profile_values(i == setting ? changed : profile);
            vd_comparison comparison = vd_set_compare(was, vd_profile_values(again), i);
            PROMISE(comparison == VD_SAME || comparison == VD_IN_NEITHER, "%s moved", model->settings[i].words->key);
        }
        vd_profile_free(again);
    }
    vd_profile_free(changed);
    g_free(key);
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static vd_catalogue *catalogue;
    const uint8_t *end = memchr(bytes, '\n', count);
    size_t line = end != NULL ? (size_t)(end - bytes) : 0;
    if (catalogue == NULL) {
        input_model("dowel");
        catalogue = vd_catalogue_open();
    }
    char *change = g_strndup((const char *)bytes, line);
    vd_findings *findings = vd_findings_new("");
    vd_profile *profile = vd_profile_load(input_file(bytes + line, count - line), catalogue, findings);
    input_judge_findings(findings);
    if (profile != NULL) {
        edit(profile, change);
    }
    vd_profile_free(profile);
    vd_findings_free(findings);
    g_free(change);
    return 0;
}
