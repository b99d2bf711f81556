/* SPDX-License-Identifier: MIT
 * Expressions: whatever stands as a rule is refused with words, or judged the same twice, whatever the values are. The
 * first byte says how much of the values is known; the first line is when the rule counts, the second what must be, the
 * rest what is said. */
#include "input.h"

static vd_set values[2];

static void fill(const vd_model *model, input *f)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_value value = vd_setting_initial(&model->settings[i]);
        uint8_t way = input_byte(f) % 4;
        vd_set_forget(&values[1], i);
        if (way == 1 && value.type != VD_NOTHING && !vd_setting_is(&model->settings[i], VD_TYPE_BYTES)) {
            value.number += (int8_t)input_byte(f);
        }
        if (way != 2 && value.type != VD_NOTHING) {
            vd_set_put(&values[1], i, &value);
        }
    }
}

static void complain(void *about, const vd_fault *fault, uint16_t rule)
{
    char words[512];
    (void)about;
    (void)rule;
    vd_fault_words(fault, true, words, sizeof words);
    PROMISE(input_is_plain(words), "%s", words);
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static const vd_spot blame[] = {{VD_REF(0), 0}};
    const vd_model *dowel = input_model("dowel");
    vd_model model = *dowel;
    input f = {bytes, count};
    if (values[0].model == NULL) {
        values[0] = input_set(dowel);
        values[1] = input_set(dowel);
    }
    uint8_t seed[64];
    size_t seeds = input_bytes(&f, seed, sizeof seed);
    char *text = g_strndup((const char *)f.at, f.left);
    if (!g_utf8_validate(text, -1, NULL)) {
        g_free(text);
        return 0;
    }
    char **lines = g_strsplit(text, "\n", 3);
    guint got = g_strv_length(lines);
    const vd_rule rule = {.when = got > 2 ? lines[0] : "",
                          .must = got > 1   ? lines[1]
                                  : got > 0 ? lines[0]
                                            : "",
                          .say = got > 2 ? lines[2] : "",
                          .blame = blame,
                          .blame_count = 1};
    model.rules = &rule;
    model.rule_count = 1;
    size_t size = vd_model_prepare_size(&model);
    void *memory = g_malloc0(size);
    vd_fault fault = {0};
    if (vd_model_prepare(&model, &vd_modbus_rtu_desk, memory, size, complain, NULL, &fault) == VD_OK) {
        input g = {seed, seeds};
        fill(dowel, &g);
        vd_set set = values[1], none = values[0];
        set.model = none.model = &model;
        vd_fault first = {0}, second = {0};
        vd_ruling one = vd_rule_judge(&set, &set, 0, 0, &first), other = vd_rule_judge(&set, &set, 0, 0, &second);
        PROMISE(one == other && strcmp(first.allowed, second.allowed) == 0, "judged in two ways");
        PROMISE(input_is_plain(first.allowed) || !input_is_plain(text), "%s", first.allowed);
        vd_rule_judge(&none, &set, 0, 0, &first);
    }
    g_free(memory);
    g_strfreev(lines);
    g_free(text);
    return 0;
}
