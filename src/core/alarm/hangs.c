/* SPDX-License-Identifier: MIT
 * What an alarm hangs on: the settings that decide whether, and when, it sounds. */
#include "parts.h"

/* A setting means something else where another one has it exist, or gives it its decimals or what it is like. */
static bool rests_on(const vd_model *model, uint16_t named, uint16_t setting)
{
    return named == setting || vd_index(model->settings[named].places_from) == setting ||
           vd_model_hangs(model, named, setting);
}

static bool names(const vd_model *model, uint16_t formula, uint16_t item, uint16_t setting)
{
    vd_naming naming = vd_formula_names(model, formula);
    uint16_t named = VD_NONE;
    while ((named = vd_spot_in(vd_names_next(&naming), item)) != VD_NONE && !rests_on(model, named, setting)) {
    }
    return named != VD_NONE;
}

static bool source_hangs(const vd_model *model, const vd_source *source, uint16_t first, uint8_t count, uint16_t item,
                         uint16_t setting)
{
    uint16_t chooser = vd_spot_in(source->chooser, item);
    bool hangs = vd_index(source->channel) == VD_NONE && chooser != VD_NONE && rests_on(model, chooser, setting);
    for (uint16_t i = first; i < first + count && !hangs; i++) {
        const vd_test *test = &model->tests[i];
        hangs =
            names(model, vd_index(test->counts), item, setting) || names(model, vd_index(test->limit), item, setting) ||
            names(model, vd_index(test->upper), item, setting) ||
            names(model, vd_index(test->release), item, setting) || names(model, vd_index(test->window), item, setting);
    }
    return hangs;
}

bool vd_alarm_hangs_on(const vd_model *model, uint16_t n, uint16_t setting)
{
    uint16_t index = 0, item = 0;
    vd_model_alarm_at(model, n, &index, &item);
    const vd_alarm *alarm = &model->alarms[index];
    const uint16_t formulas[] = {vd_index(alarm->used),      vd_index(alarm->matters), vd_index(alarm->delay_in),
                                 vd_index(alarm->delay_out), vd_index(alarm->hush),    vd_index(alarm->latches),
                                 vd_index(alarm->longest),   vd_index(alarm->rest)};
    bool hangs = source_hangs(model, &alarm->watches, alarm->test, alarm->test_count, item, setting);
    for (size_t i = 0; i < sizeof formulas / sizeof formulas[0] && !hangs; i++) {
        hangs = names(model, formulas[i], item, setting);
    }
    for (uint8_t i = 0; i < alarm->condition_count && !hangs; i++) {
        const vd_condition *one = &model->conditions[alarm->conditions[i]];
        hangs = source_hangs(model, &one->watches, one->test, one->test_count,
                             vd_index(one->block) != VD_NONE ? item : 0, setting);
    }
    return hangs;
}
