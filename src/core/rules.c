/* SPDX-License-Identifier: MIT
 * Rules between settings: whether they are kept, and the sentence when they are not; which settings exist; and the
 * survey that tells everything there is to say of a set. */
#include "expression/expression.h"

#include <string.h>

static vd_ruling ruling_of(const vd_result *result)
{
    return !result->known ? VD_NOT_KNOWN : result->ratio.number != 0 ? VD_HOLDS : VD_FAILS;
}

static bool written(const char *text)
{
    return text != NULL && text[0] != '\0';
}

vd_ruling vd_set_exists(const vd_set *set, uint16_t setting)
{
    const vd_setting *about = &set->model->settings[setting];
    if (!written(about->when)) {
        return VD_HOLDS;
    }
    if (set->model->book == NULL) {
        return VD_NOT_KNOWN;
    }
    vd_result result = vd_run(set, NULL, &set->model->book->when[setting], about->block != VD_NONE ? about->item : 0);
    return ruling_of(&result);
}

uint16_t vd_model_hangs_on(const vd_model *model, uint16_t setting, uint16_t n)
{
    const vd_setting *about = &model->settings[setting];
    const vd_code *code = about->when != NULL && model->book != NULL ? &model->book->when[setting] : NULL;
    for (uint32_t i = 0; code != NULL && i < code->count; i++) {
        const vd_instruction *step = &model->book->steps[code->first + i];
        if (step->op == VD_OP_LOAD && n-- == 0) {
            return (uint16_t)(step->a + (uint32_t)about->item * step->b);
        }
    }
    return VD_NONE;
}

bool vd_set_lacks(const vd_set *set, uint16_t setting)
{
    vd_set unit_only = *set;
    unit_only.memory = NULL; /* no value is known, only which unit it is */
    return vd_set_exists(&unit_only, setting) == VD_FAILS;
}

/* ---- Sentences ---- */

static void add_shown(const vd_set *set, const vd_set *before, const vd_shown *shown, uint16_t item, vd_writer *writer)
{
    const vd_kind *kind = &shown->kind;
    if (kind->setting != VD_NONE) {
        uint16_t setting = (uint16_t)(kind->setting + item * kind->stride);
        vd_value value = vd_set_get(set, setting);
        vd_value_show(&set->model->settings[setting], &value, writer);
        return;
    }
    vd_result result = vd_run(set, before, &shown->code, item);
    vd_measure second = vd_measure_find("s"), measure = vd_measure_find(kind->sign != NULL ? kind->sign : "");
    vd_value value = {.number = result.ratio.number, .text = result.text, .length = result.length};
    if (!result.known) {
        vd_writer_add(writer, "not known");
    } else if (kind->class == VD_IS_TRUTH) {
        vd_writer_add(writer, result.ratio.number != 0 ? "on" : "off");
    } else if (kind->class == VD_IS_TEXT) {
        vd_print_characters(NULL, &value, writer);
    } else if (kind->class == VD_IS_DATE) {
        vd_type_date_time.print(NULL, &value, writer);
    } else if (kind->class == VD_IS_CLOCK) {
        vd_type_time_of_day.print(NULL, &value, writer);
    } else if (vd_dimension_equal(&kind->dimension, &second.dimension)) {
        vd_ratio milliseconds = {0, 1};
        vd_ratio_multiply(result.ratio, (vd_ratio){1000, 1}, &milliseconds);
        int64_t whole = milliseconds.number / milliseconds.below;
        /* What takes minutes and more is not told in milliseconds. */
        vd_print_duration(whole >= 60000 || whole <= -60000 ? whole / 1000 * 1000 : whole, writer);
    } else {
        vd_ratio in_unit = result.ratio;
        vd_ratio_divide(result.ratio, measure.scale, &in_unit);
        vd_ratio_print(in_unit, writer);
        vd_writer_add(writer, kind->sign != NULL && kind->sign[0] != '\0' ? " " : "");
        vd_writer_add(writer, kind->sign != NULL ? kind->sign : "");
    }
}

static void add_sentence(const vd_set *set, const vd_set *before, const vd_rule *rule, const vd_rule_code *code,
                         uint16_t item, vd_writer *writer)
{
    const vd_shown *shown = &set->model->book->shown[code->shown];
    if (!written(rule->say)) {
        vd_writer_add(writer, "this must hold: ");
        vd_writer_add(writer, rule->must);
        return;
    }
    for (const char *at = rule->say; *at != '\0'; at++) {
        if (*at == '{') {
            add_shown(set, before, shown++, item, writer);
            while (at[1] != '\0' && *at != '}') {
                at++;
            }
        } else {
            vd_writer_add_bytes(writer, at, 1);
        }
    }
}

/* ---- Rules ---- */

/* The n-th setting that is to blame. */
static uint16_t to_blame(const vd_model *model, uint16_t rule, uint16_t item, uint16_t n)
{
    const vd_rule *about = &model->rules[rule];
    uint16_t setting = about->blame_count > 0 ? about->blame[n] : model->book->rules[rule].first_mention;
    if (setting != VD_NONE && about->block != VD_NONE && model->settings[setting].block == about->block) {
        const vd_block *block = &model->blocks[about->block];
        uint16_t member = (uint16_t)((setting - block->first) % block->members);
        setting = (uint16_t)(block->first + item * block->members + member);
    }
    return setting;
}

bool vd_rule_mentions(const vd_model *model, uint16_t rule, uint16_t setting)
{
    const vd_rule_code *code = &model->book->rules[rule];
    for (uint32_t i = 0; i < code->mention_count; i++) {
        const vd_mention *mention = &model->book->mentions[code->mention + i];
        const vd_block *block = mention->stride > 0 ? &model->blocks[model->rules[rule].block] : NULL;
        bool repeated = block != NULL && setting >= mention->setting &&
                        setting < block->first + block->count * block->members &&
                        (setting - mention->setting) % mention->stride == 0;
        if (mention->setting == setting || repeated) {
            return true;
        }
    }
    return false;
}

uint16_t vd_rule_items(const vd_model *model, uint16_t rule)
{
    uint16_t block = model->rules[rule].block;
    return block != VD_NONE ? model->blocks[block].count : 1;
}

static uint16_t first_missing(const vd_set *set, uint16_t rule, uint16_t item)
{
    const vd_rule_code *code = &set->model->book->rules[rule];
    for (uint32_t i = 0; i < code->mention_count; i++) {
        const vd_mention *mention = &set->model->book->mentions[code->mention + i];
        uint16_t setting = (uint16_t)(mention->setting + item * mention->stride);
        if (!vd_set_knows(set, setting)) {
            return setting;
        }
    }
    return VD_NONE;
}

static vd_ruling note_not_known(const vd_set *set, uint16_t rule, uint16_t item, const vd_setting *blamed,
                                vd_fault *fault)
{
    uint16_t missing = first_missing(set, rule, item);
    vd_note_RULE_NOT_KNOWN(
        fault, blamed, missing != VD_NONE ? set->model->settings[missing].key : "what held before or which unit it is");
    return VD_NOT_KNOWN;
}

vd_ruling vd_rule_judge(const vd_set *set, const vd_set *before, uint16_t rule, uint16_t item, vd_fault *fault)
{
    static const vd_status statuses[] = {
        [VD_ERROR] = VD_RULE_BROKEN, [VD_WARNING] = VD_RULE_WARNING, [VD_REMARK] = VD_RULE_REMARK};
    const vd_model *model = set->model;
    const vd_rule *about = &model->rules[rule];
    if (model->book == NULL) {
        vd_note_RULE_NOT_KNOWN(fault, NULL, "a model that was prepared");
        return VD_NOT_KNOWN;
    }
    const vd_rule_code *code = &model->book->rules[rule];
    uint16_t blame = to_blame(model, rule, item, 0);
    const vd_setting *blamed = blame != VD_NONE ? &model->settings[blame] : NULL;
    if (blame != VD_NONE && vd_set_exists(set, blame) == VD_FAILS) {
        return VD_HOLDS; /* there is nothing here that could break it */
    }
    if (code->when.count > 0) {
        vd_result when = vd_run(set, before, &code->when, item);
        if (when.known && when.ratio.number == 0) {
            return VD_HOLDS;
        }
        if (!when.known) {
            return note_not_known(set, rule, item, blamed, fault);
        }
    }
    vd_result must = vd_run(set, before, &code->must, item);
    vd_ruling ruling = ruling_of(&must);
    if (ruling == VD_NOT_KNOWN) {
        return note_not_known(set, rule, item, blamed, fault);
    }
    if (ruling == VD_FAILS && fault != NULL && fault->status == VD_OK) {
        char sentence[VD_ALLOWED_SIZE];
        vd_writer writer = vd_writer_start(sentence, sizeof sentence);
        add_sentence(set, before, about, code, item, &writer);
        vd_fault_note(fault, statuses[about->severity], blamed, "", sentence);
    }
    return ruling;
}

/* ---- The survey ---- */

void vd_survey_start(vd_survey *survey, const vd_set *set, const vd_set *before)
{
    *survey = (vd_survey){.set = set, .before = before, .rule = VD_NONE};
}

static bool holds_placeholder(const vd_set *set, uint16_t setting)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_value value = vd_set_get(set, setting), initial = vd_setting_initial(about);
    return about->placeholder && vd_value_equal(&value, &initial) && vd_set_exists(set, setting) != VD_FAILS;
}

/* Whether the set knows one of the settings to blame: else it has nothing to do with the rule. */
static bool concerns(const vd_set *set, uint16_t rule, uint16_t item)
{
    uint16_t count = set->model->rules[rule].blame_count;
    for (unsigned n = 0; n == 0 || n < count; n++) {
        uint16_t blame = to_blame(set->model, rule, item, (uint16_t)n);
        if (blame != VD_NONE && vd_set_knows(set, blame)) {
            return true;
        }
    }
    return false;
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
    return false;
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
