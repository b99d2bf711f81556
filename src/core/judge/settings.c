/* SPDX-License-Identifier: MIT
 * Whether a model is sound, as far as it can be judged setting by setting. Every later floor relies on what is refused
 * here. */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

/* Invariants that the rest of the library relies on:
 *  1. keys are unique and keys, units of measure can stand behind a value; groups exist;
 *  2. every count in min..max fits the setting's registers, and so does every choice;
 *  3. no two settings share a register or bit, none lies in a hole, neither live nor in the stored bank;
 *  4. whoever gives others their decimals is a whole number of 0 to 9, itself without such dependence, and says so;
 *  5. types that are bytes have a length, fixed where the type has one; numbers have none;
 *  6. a factory default passes its own check, and all of them together keep every error rule;
 *  7. identity in registers can be read in one request;
 *  8. the items of a block follow one another, alike but for their places;
 *  9. every expression compiles, and none decides over its own existence. */

void vd_judge_note(vd_judge *judge, const vd_fault *fault, uint16_t rule)
{
    if (judge->first != NULL && judge->first->status == VD_OK) {
        *judge->first = *fault;
    }
    judge->status = judge->status != VD_OK ? judge->status : fault->status;
    if (judge->complain != NULL) {
        judge->complain(judge->about, fault, rule);
    }
}

void vd_judge_complain(vd_judge *judge, const vd_setting *setting, vd_where where, const char *what)
{
    vd_fault fault = {0};
    vd_note_MODEL_INCONSISTENT(&fault, setting, setting != NULL ? setting->words->key : "it", what);
    fault.number[0] = (int32_t)where;
    vd_judge_note(judge, &fault, VD_NONE);
}

static const char *check_choices(const vd_setting *s)
{
    bool named = s->traits->id == VD_CHOICE || s->traits->id == VD_FLAGS;
    if (named != (s->choice_count > 0)) {
        return "has choices without being a choice, or the other way round";
    }
    for (uint16_t i = 0; i < s->choice_count; i++) {
        if (s->choices[i].number < s->min || s->choices[i].number > s->max) {
            return "has a choice outside its range";
        }
    }
    return s->traits->id == VD_FLAGS && (s->min < 0 || s->max > 31) ? "has a flag that is not a bit from 0 to 31"
                                                                    : NULL;
}

static const char *check_meaning(const vd_model *model, const vd_setting *s)
{
    const vd_meaning meaning = vd_setting_meaning(s);
    uint16_t fixed = s->traits->length;
    if (s->traits->id == VD_NOTHING || s->traits->id >= VD_TYPE_COUNT || s->group >= model->group_count) {
        return "has no type or no group";
    }
    if (vd_setting_is(s, VD_TYPE_BYTES) &&
        (s->length == 0 || s->least > s->length || s->length > 128 || (fixed != 0 && s->length > fixed))) {
        return "has a length that its type cannot have";
    }
    if ((s->pattern != NULL || s->check != VD_CHECK_NONE) &&
        (s->traits->id != VD_TEXT || s->check > VD_CHECK_MOD_97 ||
         (s->pattern != NULL && !vd_pattern_is_sound(s->pattern)))) {
        return "has a pattern or a check that is wrong, or that its type cannot have";
    }
    bool far = s->tick > 0 && s->step > INT64_MAX / 60000 / s->tick; /* it is told in milliseconds */
    if (s->step < 1 || s->min > s->max || s->places > 9 || s->tick < 1 || far) {
        return "has an empty range, a step below 1 or too many decimals";
    }
    if (s->traits->id == VD_DURATION && (s->min < 0 || s->max > INT64_MAX / 8 / s->tick)) {
        return "has a range that is no duration";
    }
    if (s->scale < 0 ||
        ((s->scale != 0 || s->offset != 0) &&
         (!vd_setting_is(s, VD_TYPE_PLACED) || vd_index(s->places_from) != VD_NONE)) ||
        vd_value_from_count(&meaning, s->min).type == VD_NOTHING ||
        vd_value_from_count(&meaning, s->max).type == VD_NOTHING) {
        return "has a scale or an offset that its type cannot have, or that leads out of all numbers";
    }
    if (s->traits->id == VD_CLOCK && vd_index(s->zone_from) != VD_NONE &&
        (vd_index(s->zone_from) >= model->setting_count ||
         model->settings[vd_index(s->zone_from)].traits->id != VD_ZONE)) {
        return "runs in a zone that no setting says";
    }
    if (vd_setting_is(s, VD_TYPE_RUNS) ? s->tolerance < 0 : s->tolerance != 0) {
        return "has a tolerance that its type cannot have";
    }
    const char *wrong = check_choices(s);
    if (wrong != NULL || vd_index(s->places_from) == VD_NONE) {
        return wrong;
    }
    if (vd_index(s->places_from) >= model->setting_count || s->traits->id != VD_DECIMAL) {
        return "takes its decimals from nowhere";
    }
    const vd_setting *from = &model->settings[vd_index(s->places_from)];
    for (uint16_t i = 0; i < s->like_count; i++) {
        const vd_setting *of = s->like[i].of;
        if (from->traits->id != VD_CHOICE || s->like_count > 200 || of->like_count > 0 ||
            vd_index(of->places_from) != VD_NONE || (of->traits->id != VD_DECIMAL && of->traits->id != VD_INTEGER)) {
            return "is like something that is no number of its own";
        }
    }
    if (s->like_count > 0) {
        return NULL;
    }
    bool sound = from->traits->id == VD_INTEGER && from->min >= 0 && from->max <= 9 && from->gives_places &&
                 from->access == VD_READ_WRITE;
    return sound ? NULL : "takes its decimals from a setting that is not a whole number of 0 to 9";
}

const char *vd_judge_initial(const vd_meaning *meaning, const vd_value *initial)
{
    const vd_setting *s = meaning->of;
    if (initial->type == VD_NOTHING) {
        return s->placeholder ? "is a placeholder, but has no factory default" : NULL;
    }
    if ((initial->text != NULL) != vd_setting_is(s, VD_TYPE_BYTES) ||
        (initial->text != NULL && initial->length > s->length)) {
        return "has a factory default of another type";
    }
    bool empty = initial->text != NULL && initial->length == 0 && s->least > 0 && !s->or_empty;
    return empty ? "is empty from the factory, which its fewest characters do not allow: say that it may be empty"
           : vd_value_check(meaning, initial, NULL) == VD_OK ? NULL
                                                             : "has a factory default that it would refuse";
}

static const char *check_initial(const vd_model *model, const vd_setting *s)
{
    (void)model;
    const vd_meaning meaning = vd_setting_meaning(s);
    vd_value initial = vd_setting_initial(s);
    return vd_judge_initial(&meaning, &initial);
}

/* A part of a key that is all digits is an item's number, and nothing else. */
static unsigned numbers_in(const char *key)
{
    unsigned count = 0;
    bool digits = true;
    for (const char *at = key;; at++) {
        if (*at == '.' || *at == '\0') {
            count += digits;
            digits = true;
        } else {
            digits = digits && vd_is_digit(*at);
        }
        if (*at == '\0') {
            return count;
        }
    }
}

static const char *check_editions(const vd_model *model, const vd_setting *s)
{
    for (uint16_t i = 0; i < s->edition_count; i++) {
        bool known = s->editions[i].variant == NULL;
        for (uint8_t k = 0; k < model->variant_count; k++) {
            known = known || vd_same_text(model->variants[k].key, s->editions[i].variant);
        }
        if (!known) {
            return "is said to be otherwise in a variant that there is not";
        }
    }
    return NULL;
}

static const char *check_block(const vd_model *model, const vd_setting *s)
{
    const vd_block *block = vd_index(s->block) < model->block_count ? &model->blocks[vd_index(s->block)] : NULL;
    if (vd_index(s->block) == VD_NONE || block != NULL) {
        unsigned levels = vd_index(s->block) == VD_NONE ? 0 : vd_index(block->outer) == VD_NONE ? 1 : 2;
        if (numbers_in(s->words->key) != levels) {
            return "has a number in its key that is not an item's";
        }
    }
    if (vd_index(s->block) == VD_NONE) {
        return NULL;
    }
    uint32_t index = (uint32_t)(s - model->settings);
    bool inside = block != NULL && index >= block->first && block->members > 0 &&
                  (index - block->first) / block->members == s->item && s->item < block->count;
    return inside && s->traits->id == model->settings[block->first + (index - block->first) % block->members].traits->id
               ? NULL
               : "is not where its block says";
}

bool vd_judge_can_be_set(const vd_model *model, uint16_t setting)
{
    return setting < model->setting_count && model->settings[setting].access == VD_READ_WRITE &&
           !vd_role_is_link((vd_role)model->settings[setting].role);
}

static const char *check_sets(const vd_model *model, const vd_setting *s)
{
    for (uint16_t i = 0; i < s->set_count; i++) {
        if (&model->settings[s->sets[i]] == s || !vd_judge_can_be_set(model, s->sets[i])) {
            return "sets itself, or another that cannot be set";
        }
    }
    return NULL;
}

static const char *check_words(const vd_model *model, const vd_setting *s)
{
    (void)model;
    bool conditional = s->words->when != NULL && s->words->when[0] != '\0';
    if (s->conditional != conditional) {
        return "is conditional and has no condition, or the other way round";
    }
    return !vd_text_is_key(s->words->key)    ? "has a key that is not one"
           : !vd_text_is_measure(s->measure) ? "has a unit that cannot stand behind a value"
                                             : NULL;
}

void vd_check_settings(const vd_model *model, const vd_desk *desk, vd_judge *judge)
{
    static const struct {
        const char *(*check)(const vd_model *, const vd_setting *);
        vd_where where;
    } checks[] = {{check_words, VD_IN_WHOLE}, {check_meaning, VD_IN_RANGE},     {NULL, VD_IN_PLACE},
                  {check_block, VD_IN_WHOLE}, {check_editions, VD_IN_EDITIONS}, {check_initial, VD_IN_DEFAULT},
                  {check_sets, VD_IN_SETS}};
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *s = &model->settings[i];
        const char *wrong = NULL;
        for (size_t k = 0; k < sizeof checks / sizeof checks[0] && wrong == NULL; k++) {
            vd_where where = checks[k].where;
            wrong = checks[k].check != NULL ? checks[k].check(model, s) : desk->ways->judge_setting(model, s, &where);
            bool sized = where == VD_IN_RANGE && vd_setting_is(s, VD_TYPE_BYTES);
            if (wrong != NULL) {
                vd_judge_complain(judge, s, sized ? VD_IN_LENGTH : where, wrong);
            }
        }
    }
}
