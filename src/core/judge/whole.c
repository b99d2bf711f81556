/* SPDX-License-Identifier: MIT
 * Whether a model is sound as a whole: identity, storing, login, and whatever names something else. */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

/* Blocks lie in the model, and what else names settings names those that are there. */
static const char *check_references(const vd_model *model)
{
    if (!vd_text_is_key(model->key)) {
        return "has a key that is not one";
    }
    for (uint8_t i = 0; i < model->measure_count; i++) {
        if (vd_own_measure_wrong(&model->measures[i]) != NULL) {
            return "adds a unit of measure that is wrong, or that every model has";
        }
    }
    for (uint16_t i = 0; i < model->block_count; i++) {
        const vd_block *block = &model->blocks[i];
        bool around = vd_index(block->outer) == VD_NONE ||
                      (vd_index(block->outer) < i && block->outer_item < model->blocks[vd_index(block->outer)].count);
        if ((uint32_t)block->first + (uint32_t)block->count * block->members > model->setting_count || !around) {
            return "has a block that reaches beyond its settings, or stands in one that is not there";
        }
    }
    for (uint16_t i = 0; i < model->rule_count; i++) {
        for (uint16_t k = 0; k < model->rules[i].blame_count; k++) {
            vd_spot blame = model->rules[i].blame[k];
            if (vd_index(blame.setting) + (vd_rule_items(model, i) - 1u) * blame.stride >= model->setting_count) {
                return "has a rule that blames a setting which is not there";
            }
        }
    }
    return model->login.help != NULL && vd_index(model->login.setting) != VD_NONE &&
                   vd_index(model->login.setting) >= model->setting_count
               ? "has a password that is no setting"
               : NULL;
}

static const char *check_abilities(const vd_model *model)
{
    for (uint8_t i = 0; i < model->ability_count; i++) {
        bool known = model->abilities[i].variant == NULL;
        for (uint8_t k = 0; k < model->variant_count; k++) {
            known = known || vd_same_text(model->variants[k].key, model->abilities[i].variant);
        }
        if (!known) {
            return "can do something in a variant that there is not";
        }
    }
    return NULL;
}

static const char *check_identify(const vd_model *model)
{
    return model->identify.maker == NULL || model->identify.product == NULL ? "does not say how a unit is recognised"
                                                                            : NULL;
}

static const char *check_restart(const vd_model *model)
{
    if (model->undoes == VD_UNDOES_READING && vd_index(model->undone) >= model->setting_count) {
        return "has a restart that undoes a reading which is not there";
    }
    return model->undoes == VD_UNDOES_LOGIN && vd_model_witness(model) == VD_NONE
               ? "has a restart that undoes the login, but nothing that only who is logged in may read"
               : NULL;
}

/* A login that Verdite carries out. How it is said is the language's. */
static const char *check_login(const vd_model *model)
{
    const vd_login *login = &model->login;
    const vd_setting *settings = model->settings;
    if (!vd_model_logs_in(model)) {
        return login->may_be_none ? "has a password that may be none, but no login" : NULL;
    }
    vd_type type = vd_index(login->setting) < model->setting_count
                       ? (vd_type)settings[vd_index(login->setting)].traits->id
                       : VD_NOTHING;
    if (!vd_type_is_text(type) && type != VD_INTEGER) {
        return "has a login whose password is no setting with a text or a whole number";
    }
    bool counted = vd_index(login->left) == VD_NONE || (vd_index(login->left) < model->setting_count &&
                                                        settings[vd_index(login->left)].traits->id == VD_INTEGER);
    return counted ? NULL : "counts the tries that are left in a setting that is no whole number";
}

static const char *check_store(const vd_model *model)
{
    return model->store.proof == VD_PROOF_RESTART && vd_model_restart(model) == NULL && !model->store.restarts
               ? "proves storage by a restart, but has no action that restarts it, and does not do so when it stores"
               : NULL;
}

static const char *check_slots(const vd_model *model)
{
    const vd_slots *slots = &model->slots;
    if (slots->count == 0) {
        return NULL;
    }
    for (uint16_t i = 0; i < slots->hold_count; i++) {
        if (slots->holds[i] == vd_index(slots->chosen_by) || !vd_judge_can_be_set(model, slots->holds[i])) {
            return "has slots that hold what chooses them, or a setting that cannot be set";
        }
    }
    for (uint8_t n = 0; n < slots->count && slots->begin != NULL; n++) {
        if (slots->begin[n] > model->preset_count) {
            return "has slots that begin with presets which are not there";
        }
    }
    return vd_index(slots->chosen_by) >= model->setting_count || slots->hold_count == 0 ||
                   (vd_index(slots->fallback) != VD_NONE && vd_index(slots->fallback) >= model->setting_count) ||
                   slots->fixed > slots->count
               ? "has slots without anything in them, or chosen by nothing"
               : NULL;
}

void vd_check_whole(const vd_model *model, vd_judge *judge)
{
    static const struct {
        const char *(*check)(const vd_model *);
        vd_where where;
    } checks[] = {{check_identify, VD_IN_IDENTIFY}, {check_references, VD_IN_WHOLE}, {check_abilities, VD_IN_ABILITIES},
                  {check_store, VD_IN_STORE},       {check_restart, VD_IN_RESTART},  {check_login, VD_IN_LOGIN},
                  {check_slots, VD_IN_SLOTS}};
    for (size_t i = 0; i < sizeof checks / sizeof checks[0]; i++) {
        const char *wrong = checks[i].check(model);
        if (wrong != NULL) {
            vd_judge_complain(judge, NULL, checks[i].where, wrong);
        }
    }
    if (model->setting_count == 0 || model->setting_count == VD_NONE || model->line.baud == 0 ||
        model->reply.tries == 0 || model->reply.longest == 0 || model->reply.longest < model->reply.usual) {
        vd_judge_complain(judge, NULL, VD_IN_WHOLE, "has no settings, no line or no reply limits");
    }
}
