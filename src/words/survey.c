/* SPDX-License-Identifier: MIT
 * The survey: everything there is to say of a set, value by value and rule by rule; and what an errand still lacks. */
#include "../core/expression/expression.h"
#include "verdite/survey.h"

void vd_survey_start(vd_survey *survey, const vd_set *set, const vd_set *before)
{
    *survey = (vd_survey){.set = set, .before = before, .rule = VD_NONE};
}

static bool holds_placeholder(const vd_set *set, uint16_t setting)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_value value = vd_set_get(set, setting), initial = vd_set_initial(set, setting);
    return about->placeholder && vd_value_equal(&value, &initial) && vd_set_exists(set, setting) != VD_FAILS;
}

/* Whether the set says anything of a setting that the rule is about, or brings one into use: else it has nothing to do
 * with the rule. */
static bool concerns(const vd_set *set, uint16_t rule, uint16_t item)
{
    uint16_t about = VD_NONE;
    bool any = false;
    for (uint16_t n = 0; !any && (about = vd_rule_blames(set->model, rule, item, n)) != VD_NONE; n++) {
        any = vd_set_told_by(set, about) != VD_NONE;
    }
    return any;
}

/* A clock that shows another time than it should, by more than it may be off. */
static bool is_off(const vd_set *set, uint16_t setting, vd_fault *fault)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_value shown = vd_set_get(set, setting), should = shown;
    bool told = shown.type == VD_CLOCK && shown.number != VD_NOW && vd_set_now(set, setting, &should.number);
    int64_t off = told ? shown.number - should.number : 0;
    if (off >= -about->tolerance && off <= about->tolerance) {
        return false;
    }
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said), to_allowed = vd_writer_start(allowed, sizeof allowed);
    vd_value_show(about, &shown, &to_said);
    vd_value_show(about, &should, &to_allowed);
    vd_note_CLOCK_OFF(fault, about, said, allowed);
    return true;
}

static bool survey_setting(const vd_survey *survey, uint16_t setting, vd_fault *fault)
{
    if (vd_set_check(survey->set, setting, fault) != VD_OK) {
        return true;
    }
    if (holds_placeholder(survey->set, setting)) {
        char said[VD_SAID_SIZE];
        vd_writer writer = vd_writer_start(said, sizeof said);
        vd_value value = vd_set_get(survey->set, setting);
        vd_value_show(&survey->set->model->settings[setting], &value, &writer);
        vd_note_PLACEHOLDER(fault, &survey->set->model->settings[setting], said, "");
        return true;
    }
    return is_off(survey->set, setting, fault);
}

/* What is doubtful about alarms. What sounds at once is news of a change, not of what is there. */
static bool survey_alarms(vd_survey *survey, vd_fault *fault)
{
    const vd_model *model = survey->set->model;
    for (; survey->alarm < vd_model_alarm_count(model); survey->alarm++, survey->doubt = 0) {
        char sentence[VD_ALLOWED_SIZE];
        vd_alarm_doubt doubt = VD_DOUBT_NONE;
        vd_alarm_doubts doubts = vd_alarm_doubts_start(survey->set, survey->before, survey->alarm);
        doubts.typed = survey->typed;
        doubts.next = survey->doubt > 0 ? survey->doubt : doubts.next;
        do {
            vd_writer writer = vd_writer_start(sentence, sizeof sentence);
            vd_alarm_call(survey->set, survey->alarm, &writer);
            vd_writer_add(&writer, ": ");
            doubt = vd_alarm_doubts_next(&doubts, &writer);
        } while (doubt == VD_DOUBT_AT_ONCE && survey->before == NULL);
        survey->doubt = doubts.next;
        if (doubt != VD_DOUBT_NONE) {
            uint16_t blamed = vd_alarm_blame(survey->set, survey->alarm, doubt);
            vd_note_ALARM_DOUBT(fault, blamed != VD_NONE ? &model->settings[blamed] : NULL, sentence);
            return true;
        }
    }
    return false;
}

bool vd_survey_next(vd_survey *survey, vd_fault *fault)
{
    const vd_model *model = survey->set->model;
    vd_fault_clear(fault);
    while (survey->next < model->setting_count) {
        if (survey_setting(survey, (uint16_t)survey->next++, fault)) {
            return true;
        }
    }
    while (survey->next < (uint32_t)model->setting_count + model->rule_count) {
        uint16_t rule = (uint16_t)(survey->next - model->setting_count), item = survey->item;
        const vd_rule *about = &model->rules[rule];
        uint16_t items = vd_rule_items(model, rule);
        survey->item++;
        if (survey->item >= items) {
            survey->item = 0;
            survey->next++;
        }
        vd_ruling ruling = vd_rule_judge(survey->set, survey->before, rule, item, fault);
        bool told = ruling == VD_FAILS || (ruling == VD_NOT_KNOWN && about->severity == VD_ERROR &&
                                           model->book != NULL && concerns(survey->set, rule, item));
        if (told) {
            survey->rule = rule;
            return true;
        }
        vd_fault_clear(fault);
    }
    survey->rule = VD_NONE;
    return model->book != NULL && survey_alarms(survey, fault);
}

bool vd_errand_lacking(const vd_set *set, const vd_errand *errand)
{
    for (uint16_t i = 0; i < errand->setting_count; i++) {
        uint16_t setting = errand->settings[i];
        vd_value value = vd_set_get(set, setting);
        bool empty = vd_type_is_bytes((vd_type)value.type) && value.length == 0;
        if (vd_set_exists(set, setting) != VD_FAILS &&
            (value.type == VD_NOTHING || empty || holds_placeholder(set, setting))) {
            return true;
        }
    }
    return false;
}
