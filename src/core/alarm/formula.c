/* SPDX-License-Identifier: MIT
 * What the formulas of channels, conditions and alarms give, with what a set holds. */
#include "parts.h"

#include <string.h>

static vd_result run(const vd_set *set, uint16_t formula, uint16_t item)
{
    return vd_run(set, NULL, &set->model->book->formulas[formula].code, item);
}

vd_ruling vd_formula_truth(const vd_set *set, uint16_t formula, uint16_t item, vd_ruling none)
{
    if (formula == VD_NONE) {
        return none;
    }
    vd_result result = run(set, formula, item);
    return vd_ruling_of(&result, VD_FAILS);
}

bool vd_formula_time(const vd_set *set, uint16_t formula, uint16_t item, int64_t *milliseconds)
{
    *milliseconds = 0;
    if (formula == VD_NONE) {
        return true;
    }
    vd_result result = run(set, formula, item);
    vd_ratio exact;
    if (result.none) {
        return true;
    }
    if (!result.known || !vd_ratio_multiply(result.ratio, (vd_ratio){1000, 1}, &exact)) {
        return false;
    }
    *milliseconds = exact.number / exact.below;
    return exact.number >= 0;
}

vd_ratio vd_channel_unit(const vd_model *model, uint16_t channel)
{
    uint16_t reads = channel != VD_NONE ? vd_index(model->channels[channel].reads) : VD_NONE;
    return vd_measure_find(model, reads != VD_NONE ? model->settings[reads].measure : "").scale;
}

bool vd_formula_in_unit(const vd_set *set, uint16_t formula, uint16_t item, vd_ratio unit, vd_ratio *number)
{
    *number = (vd_ratio){0, 1};
    if (formula == VD_NONE) {
        return true;
    }
    const vd_kind *kind = &set->model->book->formulas[formula].kind;
    vd_result result = run(set, formula, item);
    /* What is like what another setting chooses is in the unit of that already. */
    bool alike =
        vd_index(kind->spot.setting) != VD_NONE && set->model->settings[vd_index(kind->spot.setting)].like_count > 0;
    *number = result.ratio;
    return result.known &&
           (alike || (unit.number == 1 && unit.below == 1) || vd_ratio_divide(result.ratio, unit, number));
}

bool vd_formula_number(const vd_set *set, uint16_t formula, uint16_t item, uint16_t channel, vd_ratio *number)
{
    return vd_formula_in_unit(set, formula, item, vd_channel_unit(set->model, channel), number);
}

bool vd_formula_below_zero(const vd_set *set, uint16_t formula, uint16_t item, uint16_t channel)
{
    vd_ratio number;
    return formula != VD_NONE && vd_formula_channels(set->model, formula, item) == 0 &&
           vd_formula_number(set, formula, item, channel, &number) && number.number < 0;
}

bool vd_channel_has_states(const vd_model *model, uint16_t channel)
{
    uint16_t reads = vd_index(model->channels[channel].reads);
    uint8_t type = reads != VD_NONE ? model->settings[reads].traits->id : VD_TRUTH;
    return type == VD_TRUTH || type == VD_CHOICE || type == VD_FLAGS;
}

bool vd_channel_state(const vd_model *model, uint16_t channel, const char *name, size_t length, int64_t *state)
{
    uint16_t reads = vd_index(model->channels[channel].reads);
    const vd_setting *about = reads != VD_NONE ? &model->settings[reads] : NULL;
    for (uint16_t i = 0; about != NULL && about->traits->id == VD_CHOICE && i < about->choice_count; i++) {
        if (vd_text_is(name, length, about->choices[i].name)) {
            *state = about->choices[i].number;
            return true;
        }
    }
    bool on = length == 2 && memcmp(name, "on", 2) == 0, off = length == 3 && memcmp(name, "off", 3) == 0;
    *state = on;
    return (on || off) && (about == NULL || about->traits->id != VD_CHOICE);
}

bool vd_channel_value(const vd_set *set, uint16_t channel, int64_t *number)
{
    const vd_channel *about = &set->model->channels[channel];
    vd_value value =
        vd_index(about->reads) != VD_NONE ? vd_set_get(set, vd_index(about->reads)) : (vd_value){.type = VD_NOTHING};
    uint8_t places = vd_channel_places(set->model, channel);
    *number = about->flag != VD_NO_FLAG ? value.number >> about->flag & 1 : value.number;
    return value.type != VD_NOTHING && value.places <= places &&
           (vd_channel_has_states(set->model, channel) || vd_scale_up(number, places - value.places));
}

static bool lacks(const vd_set *set, uint16_t channel)
{
    uint16_t reads = vd_index(set->model->channels[channel].reads);
    return reads != VD_NONE && vd_set_exists(set, reads) == VD_FAILS;
}

static bool is_unwired(const vd_set *set, uint16_t channel)
{
    return vd_formula_truth(set, vd_index(set->model->channels[channel].wired), 0, VD_HOLDS) == VD_FAILS;
}

vd_alarm_doubt vd_channel_doubt(const vd_set *set, uint16_t channel)
{
    return lacks(set, channel) ? VD_DOUBT_NOT_HERE : is_unwired(set, channel) ? VD_DOUBT_NOT_WIRED : VD_DOUBT_NONE;
}

bool vd_formula_state(const vd_set *set, uint16_t formula, uint16_t item, uint16_t channel, int64_t *state)
{
    const vd_model *model = set->model;
    const vd_term *term = &model->book->formulas[formula];
    if (term->code.count == 0) {
        const char *name = model->formulas[formula].text;
        return vd_channel_state(model, channel, name, strlen(name), state);
    }
    vd_result result = run(set, formula, item);
    if (!result.known) {
        return false;
    }
    if (term->kind.is == VD_IS_TRUTH) {
        const char *name = result.ratio.number != 0 ? "on" : "off";
        return vd_channel_state(model, channel, name, strlen(name), state);
    }
    const vd_setting *about = &model->settings[vd_spot_in(term->kind.spot, item)];
    const char *name = vd_choice_name(about, result.ratio.number);
    return name != NULL && vd_channel_state(model, channel, name, strlen(name), state);
}

vd_naming vd_formula_names(const vd_model *model, uint16_t formula)
{
    return formula != VD_NONE ? vd_names_in(model->book, &model->book->formulas[formula].code)
                              : (vd_naming){NULL, NULL, 0};
}

uint64_t vd_formula_channels(const vd_model *model, uint16_t formula, uint16_t item)
{
    uint64_t channels = 0;
    vd_naming naming = vd_formula_names(model, formula);
    for (uint16_t named; (named = vd_spot_in(vd_names_next(&naming), item)) != VD_NONE;) {
        for (uint16_t i = 0; i < model->channel_count; i++) {
            channels |= (uint64_t)(vd_index(model->channels[i].reads) == named) << i;
        }
    }
    return channels;
}

uint16_t vd_model_channel(const vd_model *model, const char *key, size_t length)
{
    for (uint16_t i = 0; i < model->channel_count; i++) {
        if (vd_text_is(key, length, model->channels[i].key)) {
            return i;
        }
    }
    return VD_NONE;
}

uint8_t vd_channel_places(const vd_model *model, uint16_t channel)
{
    uint16_t reads = vd_index(model->channels[channel].reads);
    const vd_setting *about = reads != VD_NONE ? &model->settings[reads] : NULL;
    if (about == NULL || vd_channel_has_states(model, channel)) {
        return 0;
    }
    return vd_index(about->places_from) == VD_NONE && about->places > 6 ? about->places : 6;
}

vd_ruling vd_source_channel(const vd_set *set, const vd_source *source, uint16_t item, uint16_t *channel)
{
    *channel = vd_index(source->channel);
    if (source->by_item) {
        *channel = (uint16_t)(*channel + item);
    }
    if (vd_index(source->channel) != VD_NONE) {
        return VD_HOLDS;
    }
    uint16_t chooser = vd_spot_in(source->chooser, item);
    if (chooser == VD_NONE || vd_set_exists(set, chooser) == VD_FAILS) {
        return VD_FAILS;
    }
    vd_value chosen = vd_set_get(set, chooser);
    const vd_setting *about = &set->model->settings[chooser];
    if (chosen.type == VD_NOTHING) {
        return VD_NOT_KNOWN;
    }
    const char *name = vd_choice_name(about, chosen.number);
    if (name != NULL) {
        *channel = vd_model_channel(set->model, name, strlen(name));
    }
    return *channel != VD_NONE ? VD_HOLDS : VD_FAILS;
}

vd_ruling vd_tests_pick(const vd_set *set, uint16_t first, uint8_t count, uint16_t item, uint16_t *test)
{
    vd_ruling ruling = VD_FAILS;
    for (uint16_t i = 0; i < count && ruling == VD_FAILS; i++) {
        *test = (uint16_t)(first + i);
        ruling = vd_formula_truth(set, vd_index(set->model->tests[*test].counts), item, VD_HOLDS);
    }
    return ruling;
}
