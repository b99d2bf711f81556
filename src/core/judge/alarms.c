/* SPDX-License-Identifier: MIT
 * Whether the channels, conditions and alarms of a model are sound. */
#include "parts.h"
#include "../alarm/parts.h"

#include <string.h>

/* What is wrong, NULL: nothing; and in which part. */
typedef struct wrong {
    const char *what;
    vd_alarm_place part;
} wrong;

static void complain(vd_judge *judge, vd_where where, unsigned index, const char *key, wrong w)
{
    vd_fault fault = {0};
    vd_note_MODEL_INCONSISTENT(&fault, NULL, key[0] != '\0' ? key : "it", w.what);
    fault.number[0] = (int32_t)where;
    fault.number[1] = (int32_t)index;
    fault.number[2] = (int32_t)w.part;
    vd_judge_note(judge, &fault, VD_NONE);
}

static const char *check_channel(const vd_model *model, const vd_channel *channel)
{
    if (vd_index(channel->reads) == VD_NONE) {
        return channel->flag != VD_NO_FLAG ? "has a flag, but no reading that is flags" : NULL;
    }
    const vd_setting *about = &model->settings[vd_index(channel->reads)];
    bool states = about->traits->id == VD_TRUTH || about->traits->id == VD_CHOICE;
    if (!vd_setting_is_shown(about) || about->like_count > 0) {
        return "has a reading that cannot be read, or whose unit depends on another setting";
    }
    if ((about->traits->id == VD_FLAGS) != (channel->flag <= 63)) {
        return channel->flag == VD_NO_FLAG ? "does not say which flag of its reading it is"
                                           : "has a flag, but its reading is no flags";
    }
    bool number = about->traits->id == VD_INTEGER || vd_setting_is(about, VD_TYPE_PLACED);
    return states || number || about->traits->id == VD_FLAGS ? NULL
                                                             : "is neither a number, nor on or off, nor a choice";
}

/* Whether a formula gives a number in the unit of a channel. */
static bool is_measured(const vd_model *model, uint16_t formula, const vd_source *source)
{
    if (formula == VD_NONE) {
        return true;
    }
    const vd_kind *kind = &model->book->formulas[formula].kind;
    if (vd_index(source->channel) == VD_NONE) { /* it must follow the same choice */
        const vd_setting *about =
            vd_index(kind->spot.setting) != VD_NONE ? &model->settings[vd_index(kind->spot.setting)] : NULL;
        return about != NULL && about->like_count > 0 &&
               vd_index(about->places_from) == vd_index(source->chooser.setting);
    }
    uint16_t reads = vd_index(model->channels[vd_index(source->channel)].reads);
    vd_measure measure = vd_measure_find(model, reads != VD_NONE ? model->settings[reads].measure : "");
    return kind->is == VD_IS_NUMBER && vd_dimension_equal(&kind->dimension, &measure.dimension);
}

/* A number that hangs on nothing. */
static bool is_fixed(const vd_model *model, uint16_t formula, uint16_t channel, vd_ratio *number)
{
    vd_set nothing = {.model = model, .variant = VD_NONE};
    vd_naming naming = vd_formula_names(model, formula);
    return vd_index(vd_names_next(&naming).setting) == VD_NONE &&
           vd_formula_number(&nothing, formula, 0, channel, number);
}

static const char *check_pair(const vd_model *model, const vd_test *test, uint16_t channel)
{
    vd_ratio low, high, release, twice, wide;
    if (!is_fixed(model, vd_index(test->limit), channel, &low) ||
        !is_fixed(model, vd_index(test->upper), channel, &high)) {
        return NULL;
    }
    if (vd_ratio_compare(low, high) > 0) {
        return "has a pair of limits that is the wrong way round";
    }
    low.number = -low.number;
    return test->way == VD_OUTSIDE && is_fixed(model, vd_index(test->release), channel, &release) &&
                   vd_ratio_multiply(release, (vd_ratio){2, 1}, &twice) && vd_ratio_add(high, low, &wide) &&
                   vd_ratio_compare(twice, wide) > 0
               ? "has a release so wide that it is never over between its limits"
               : NULL;
}

static const char *check_test(const vd_model *model, const vd_test *test, const vd_source *source)
{
    uint16_t channel = vd_index(source->channel);
    bool pair = test->way == VD_OUTSIDE || test->way == VD_INSIDE, rate = test->way >= VD_RISES;
    vd_ratio release;
    if (test->way == VD_IS) {
        const vd_term *term = &model->book->formulas[vd_index(test->limit)];
        const char *name = model->formulas[vd_index(test->limit)].text;
        int64_t state = 0;
        if (channel != VD_NONE && !vd_channel_has_states(model, channel)) {
            return "compares a number with a state: take above, below, inside or outside";
        }
        bool any = term->code.count > 0;
        for (uint16_t i = 0; i < model->channel_count && !any; i++) {
            any = (channel == VD_NONE || channel == i) && vd_channel_has_states(model, i) &&
                  vd_channel_state(model, i, name, strlen(name), &state);
        }
        return any ? NULL : "compares with a state that its channel does not have";
    }
    if (channel != VD_NONE && vd_channel_has_states(model, channel)) {
        return "compares a state with a number: take is";
    }
    if (!is_measured(model, vd_index(test->limit), source) ||
        (pair && !is_measured(model, vd_index(test->upper), source)) ||
        !is_measured(model, vd_index(test->release), source)) {
        return channel != VD_NONE ? "has a limit or release that is not in the unit of its channel"
                                  : "has a limit or release that is not like what its channel is chosen by";
    }
    if (is_fixed(model, vd_index(test->release), channel, &release) && release.number < 0) {
        return "has a release below 0";
    }
    if (rate && (vd_index(test->window) == VD_NONE || test->per == 0)) {
        return "watches how fast a value changes, but does not say within what time";
    }
    return pair ? check_pair(model, test, channel) : NULL;
}

static const char *check_source(const vd_model *model, const vd_source *source)
{
    uint16_t chooser = vd_index(source->chooser.setting);
    if (vd_index(source->channel) != VD_NONE) {
        return NULL;
    }
    if (chooser == VD_NONE || model->settings[chooser].traits->id != VD_CHOICE) {
        return "watches neither a channel nor what a choice names";
    }
    for (uint16_t i = 0; i < model->settings[chooser].choice_count; i++) {
        const char *name = model->settings[chooser].choices[i].name;
        if (vd_model_channel(model, name, strlen(name)) != VD_NONE) {
            return NULL;
        }
    }
    return "watches what a choice names, but no choice is named like a channel";
}

/* Whether what is wrong with a comparison is its release. */
static bool is_release(const vd_model *model, const vd_test *test, const vd_source *source, const char *what)
{
    vd_test without = *test;
    without.release = vd_ref_to(VD_NONE);
    return vd_index(test->release) != VD_NONE && check_test(model, &without, source) != what;
}

static wrong check_tests(const vd_model *model, uint16_t first, uint8_t count, const vd_source *source)
{
    const char *what = check_source(model, source);
    if (what != NULL || count == 0) {
        return (wrong){what != NULL ? what : "does not say when it is met", VD_OF_SOURCE};
    }
    for (uint8_t i = 0; i < count; i++) {
        const vd_test *test = &model->tests[first + i];
        what = check_test(model, test, source);
        if (what != NULL) {
            return (wrong){what, is_release(model, test, source, what) ? VD_OF_RELEASE : VD_OF_TEST};
        }
    }
    return (wrong){NULL, VD_OF_ALL};
}

static const char *check_members(const vd_model *model, const vd_alarm *alarm)
{
    for (uint8_t i = 0; i < alarm->member_count; i++) {
        uint16_t of = 0, item = 0;
        if (alarm->members[i] >= vd_model_alarm_count(model)) {
            return "combines an alarm that is not there";
        }
        vd_model_alarm_at(model, alarm->members[i], &of, &item);
        if (model->alarms[of].joint != VD_SINGLE) {
            return "combines a combination";
        }
    }
    return alarm->member_count >= 2 ? NULL : "combines fewer than two alarms";
}

bool vd_judge_is_answer(const vd_model *model, const char *line)
{
    for (uint16_t i = 0; line != NULL && line[0] == '+' && i < model->setting_count; i++) {
        const char *word = model->settings[i].field.word;
        size_t length = word != NULL ? strlen(word) : 0;
        if (length > 0 && vd_begins_with(line + 1, word) && line[1 + length] == ':') {
            return true;
        }
    }
    return false;
}

static wrong check_alarm(const vd_model *model, const vd_alarm *alarm)
{
    if (vd_judge_is_answer(model, alarm->says_stands) || vd_judge_is_answer(model, alarm->says_ends)) {
        return (wrong){"says unasked what would be taken for the answer about a record", VD_OF_WORDS};
    }
    if (alarm->joint != VD_SINGLE) {
        return (wrong){check_members(model, alarm), VD_OF_MEMBERS};
    }
    if ((vd_index(alarm->latches) == VD_NONE) != (alarm->cleared_by == 0)) {
        return (wrong){vd_index(alarm->latches) == VD_NONE ? "is cleared, but does not latch"
                                                           : "latches, but does not say what clears it",
                       VD_OF_LATCH};
    }
    if ((vd_index(alarm->longest) == VD_NONE) != (vd_index(alarm->rest) == VD_NONE)) {
        return (wrong){"says only half of the longest without: how long, and which rest", VD_OF_LONGEST};
    }
    return alarm->condition_count <= VD_MOST_CONDITIONS
               ? check_tests(model, alarm->test, alarm->test_count, &alarm->watches)
               : (wrong){"has more than 16 conditions", VD_OF_CONDITIONS};
}

void vd_check_alarms(const vd_model *model, vd_judge *judge)
{
    bool sound = true; /* what watches a channel that is not is no news */
    for (uint8_t i = 0; i < model->channel_count; i++) {
        wrong own = {check_channel(model, &model->channels[i]), VD_OF_ALL};
        sound = sound && own.what == NULL;
        if (own.what != NULL) {
            complain(judge, VD_IN_CHANNELS, i, model->channels[i].key, own);
        }
    }
    if (model->channel_count > VD_MOST_CHANNELS) {
        complain(judge, VD_IN_CHANNELS, VD_MOST_CHANNELS, "", (wrong){"has more than 64 channels", VD_OF_ALL});
    }
    for (uint8_t i = 0; i < model->condition_count && sound; i++) {
        const vd_condition *one = &model->conditions[i];
        wrong own = check_tests(model, one->test, one->test_count, &one->watches);
        if (own.what != NULL) {
            complain(judge, VD_IN_CONDITIONS, i, one->key, own);
        }
    }
    for (uint8_t i = 0; i < model->alarm_count && sound; i++) {
        wrong own = check_alarm(model, &model->alarms[i]);
        if (own.what != NULL) {
            complain(judge, VD_IN_ALARMS, i, model->alarms[i].key, own);
        }
    }
}
