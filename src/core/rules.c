/* SPDX-License-Identifier: MIT
 * Rules between settings: whether they are kept, and who is to blame when they are not. */
#include "expression/expression.h"

#include <string.h>

uint16_t vd_rule_blames(const vd_model *model, uint16_t rule, uint16_t item, uint16_t n)
{
    const vd_rule *about = &model->rules[rule];
    const vd_rule_code *code = &model->book->rules[rule];
    const vd_mention *mention = &model->book->mentions[code->mention];
    if (n < about->blame_count) {
        return (uint16_t)(about->blame[n].setting + item * about->blame[n].stride);
    }
    n = (uint16_t)(n - about->blame_count);
    return n < code->mention_count ? (uint16_t)(mention[n].setting + item * mention[n].stride) : VD_NONE;
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
    uint16_t block = model->rules[rule].block;
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
    const vd_rule_code *code = &set->model->book->rules[rule];
    for (uint32_t i = 0; i < code->mention_count; i++) {
        const vd_mention *mention = &set->model->book->mentions[code->mention + i];
        uint16_t setting = (uint16_t)(mention->setting + item * mention->stride);
        if (!vd_set_knows(set, setting) && vd_set_exists(set, setting) != VD_FAILS) {
            return setting;
        }
    }
    return VD_NONE;
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
