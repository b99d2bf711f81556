/* SPDX-License-Identifier: MIT
 * Wishes: whatever words are typed for an alarm are refused and change nothing, or put into settings that are in order
 * and mean an alarm in use. The first byte chooses the model, the second the alarm. */
#include "input.h"
#include "verdite/alarm_edit.h"

static const char *const keys[] = {"brock", "dowel", "skep", "wren", "lantern"};

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    input f = {bytes, count};
    const vd_model *model = input_model(keys[input_number(&f, G_N_ELEMENTS(keys))]);
    uint16_t n = (uint16_t)input_number(&f, vd_model_alarm_count(model));
    char *text = g_strndup((const char *)f.at, f.left), room[512], sentence[VD_SENTENCE_SIZE], words[512];
    char **typed = g_strsplit(text, "\n", 40);
    vd_set set = input_set(model), before = input_set(model), start = input_set(model);
    vd_fault fault = {0};
    vd_wished_alarm wish;
    vd_set_put_initial(&set);
    vd_set_copy(&start, &set);
    if (g_utf8_validate(text, -1, NULL) &&
        vd_alarm_wish((const char *const *)typed, g_strv_length(typed), room, sizeof room, &wish, &fault) == VD_OK) {
        bool done = vd_alarm_apply(&set, &before, n, &wish, &fault) == VD_OK;
        bool same = true;
        for (uint16_t i = 0; i < model->setting_count; i++) {
            vd_value value = vd_set_get(&set, i);
            vd_comparison comparison = vd_set_compare(&start, &set, i);
            same = same && (comparison == VD_SAME || comparison == VD_IN_NEITHER);
            PROMISE(comparison != VD_DIFFERENT || vd_set_check_value(&set, i, &value, NULL) == VD_OK, "%s",
                    model->settings[i].words->key);
        }
        PROMISE(done || same, "refused, but changed");
        PROMISE(!done || vd_alarm_is_used(&set, n) == VD_HOLDS, "done, but not used");
        vd_writer writer = vd_writer_start(sentence, sizeof sentence);
        vd_alarm_say(&set, n, &writer);
        PROMISE(input_is_plain(sentence) || !input_is_plain(text), "%s", sentence);
    }
    vd_fault_words(&fault, true, words, sizeof words);
    PROMISE(input_is_plain(words), "%s", words);
    g_free(set.memory);
    g_free(before.memory);
    g_free(start.memory);
    g_strfreev(typed);
    g_free(text);
    return 0;
}
