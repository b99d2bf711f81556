/* SPDX-License-Identifier: MIT
 * Rules between settings: whether they are kept, and who is to blame when they are not. */
#include "../expression/expression.h"

#include <string.h>

uint16_t vd_rule_blames(const vd_model *model, uint16_t rule, uint16_t item, uint16_t n)
{
    const vd_rule *about = &model->rules[rule];
    if (n < about->blame_count) {
        return vd_spot_in(about->blame[n], item);
    }
    vd_naming naming = vd_names_in_rule(model->book, rule);
    vd_spot spot = vd_names_next(&naming);
    for (uint16_t k = about->blame_count; k < n && vd_index(spot.setting) != VD_NONE; k++) {
        spot = vd_names_next(&naming);
    }
    return vd_spot_in(spot, item);
}

bool vd_rule_mentions(const vd_model *model, uint16_t rule, uint16_t setting)
{
    const vd_block *block =
        vd_index(model->rules[rule].block) != VD_NONE ? &model->blocks[vd_index(model->rules[rule].block)] : NULL;
    bool inside = block != NULL && setting >= block->first && setting < block->first + block->count * block->members;
    uint16_t item = (uint16_t)(inside ? (setting - block->first) / block->members : 0);
    vd_naming naming = vd_names_in_rule(model->book, rule);
    uint16_t named = VD_NONE;
    while ((named = vd_spot_in(vd_names_next(&naming), item)) != VD_NONE && named != setting) {
    }
    return named != VD_NONE;
}

bool vd_rule_hangs_on(const vd_model *model, uint16_t rule, uint16_t setting)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if ((i == setting || vd_model_hangs(model, i, setting)) && vd_rule_mentions(model, rule, i)) {
            return true;
        }
    }
    return false;
}

uint16_t vd_rule_items(const vd_model *model, uint16_t rule)
{
    uint16_t block = vd_index(model->rules[rule].block);
    return block != VD_NONE ? model->blocks[block].count : 1;
}

/* The first to blame that counts here. */
static const vd_setting *to_blame(const vd_set *set, uint16_t rule, uint16_t item)
{
    const vd_model *model = set->model;
    uint16_t blamed = VD_NONE;
    for (uint32_t n = 0; (blamed = vd_rule_blames(model, rule, item, (uint16_t)n)) != VD_NONE; n++) {
        if (vd_set_exists(set, blamed) != VD_FAILS) {
            return &model->settings[blamed];
        }
    }
    blamed = vd_rule_blames(model, rule, item, 0); /* of a rule about what is not there */
    return blamed != VD_NONE ? &model->settings[blamed] : NULL;
}

static uint16_t first_missing(const vd_set *set, uint16_t rule, uint16_t item)
{
    vd_naming naming = vd_names_in_rule(set->model->book, rule);
    uint16_t named = VD_NONE;
    while ((named = vd_spot_in(vd_names_next(&naming), item)) != VD_NONE &&
           (vd_set_knows(set, named) || vd_set_exists(set, named) == VD_FAILS)) {
    }
    return named;
}

/* Blames what the set does say, where it has a part in the rule. */
static vd_ruling note_not_known(const vd_set *set, uint16_t rule, uint16_t item, const vd_setting *blamed,
                                vd_fault *fault)
{
    uint16_t missing = first_missing(set, rule, item), part = VD_NONE, said = VD_NONE;
    for (uint16_t n = 0; said == VD_NONE && (part = vd_rule_blames(set->model, rule, item, n)) != VD_NONE; n++) {
        said = vd_set_told_by(set, part);
    }
    blamed = said != VD_NONE ? &set->model->settings[said] : blamed;
    vd_note_RULE_NOT_KNOWN(fault, blamed,
                           missing != VD_NONE ? set->model->settings[missing].words->key
                                              : "what held before or which unit it is");
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
    const vd_setting *blamed = to_blame(set, rule, item);
    if (code->when.count > 0) {
        vd_result when = vd_run(set, before, &code->when, item);
        vd_ruling counts = vd_ruling_of(&when, VD_FAILS);
        if (counts != VD_HOLDS) {
            return counts == VD_FAILS ? VD_HOLDS : note_not_known(set, rule, item, blamed, fault);
        }
    }
    vd_result must = vd_run(set, before, &code->must, item);
    vd_ruling ruling = vd_ruling_of(&must, VD_HOLDS); /* there is nothing here that could break it */
    if (ruling == VD_NOT_KNOWN) {
        return note_not_known(set, rule, item, blamed, fault);
    }
    if (ruling == VD_FAILS && fault != NULL && fault->status == VD_OK) {
        char sentence[VD_ALLOWED_SIZE];
        vd_writer writer = vd_writer_start(sentence, sizeof sentence);
        if (model->book->say != NULL) {
            model->book->say(set, before, rule, item, &writer);
        }
        vd_fault_note(fault, statuses[about->severity], blamed, "", sentence);
    }
    return ruling;
}
