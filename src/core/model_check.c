/* SPDX-License-Identifier: MIT
 * Whether a model is sound. Every later floor relies on what is refused here. */
#include "value.h"

#include <string.h>

/* Invariants that the rest of the library relies on:
 *  1. keys are unique and not empty; groups exist;
 *  2. every count in min..max fits the setting's registers, and so does every choice;
 *  3. no two settings share a register, none lies in a hole, neither live nor in the stored bank;
 *  4. whoever gives others their decimals is a whole number of 0 to 9, itself without such dependence;
 *  5. a pair is two numbers of one kind whose registers are adjacent, so that one request can hold both;
 *  6. a factory default passes its own check. */

static vd_status complain(vd_fault *fault, const vd_setting *setting, const char *what)
{
    return vd_fault_note(fault, VD_MODEL_INCONSISTENT, setting, setting != NULL ? setting->key : "it", what);
}

static bool fits(const vd_place *place, int64_t low, int64_t high)
{
    int64_t span = (int64_t)1 << (16u * place->words);
    int64_t least = place->form == VD_SIGNED ? -span / 2 : 0;
    return low >= least && high < least + span;
}

static bool overlap(const vd_place *a, const vd_place *b, uint32_t offset)
{
    uint32_t from = a->address + offset;
    return a->table == b->table && from < (uint32_t)b->address + b->words && b->address < from + a->words;
}

static const char *check_place(const vd_model *model, const vd_setting *s)
{
    bool text = s->type == VD_TEXT;
    if (text != (s->place.form == VD_CHARACTERS)) {
        return "mixes text and number: its form on the wire is not that of its type";
    }
    if (text ? s->length == 0 || (s->length + 1u) / 2u != s->place.words || s->place.words > 64
             : s->place.words < 1 || s->place.words > 2) {
        return "has a wrong number of registers";
    }
    if (!text && !fits(&s->place, s->min, s->max)) {
        return "has a range that its registers cannot hold";
    }
    if ((uint32_t)s->place.address + s->place.words > 0x10000u) {
        return "lies beyond the last register";
    }
    if (s->place.table == VD_INPUT && s->access != VD_READ_ONLY) {
        return "is to be written, but lies in the input registers";
    }
    for (uint16_t i = 0; i < model->hole_count; i++) {
        const vd_hole *hole = &model->holes[i];
        if (hole->table == s->place.table && s->place.address <= hole->last &&
            s->place.address + s->place.words > hole->first) {
            return "lies in a hole";
        }
    }
    return NULL;
}

static const char *check_meaning(const vd_model *model, const vd_setting *s)
{
    if (s->type == VD_NOTHING || s->type >= VD_TYPE_COUNT || s->group >= model->group_count) {
        return "has no type or no group";
    }
    if (s->step < 1 || s->min > s->max || s->places > 9 || (s->type == VD_DURATION && s->tick < 1)) {
        return "has an empty range, a step below 1 or too many decimals";
    }
    if (s->type == VD_DURATION && (s->min < 0 || s->max > INT64_MAX / 8 / s->tick)) {
        return "has a range that is no duration";
    }
    if ((s->type == VD_CHOICE) != (s->choice_count > 0)) {
        return "has choices without being a choice, or the other way round";
    }
    for (uint16_t i = 0; i < s->choice_count; i++) {
        if (s->choices[i].number < s->min || s->choices[i].number > s->max) {
            return "has a choice outside its range";
        }
    }
    if (s->places_from == VD_NONE) {
        return NULL;
    }
    if (s->places_from >= model->setting_count || s->type != VD_DECIMAL) {
        return "takes its decimals from nowhere";
    }
    const vd_setting *from = &model->settings[s->places_from];
    bool sound = from->type == VD_INTEGER && from->min >= 0 && from->max <= 9 && from->place.table == VD_HOLDING &&
                 from->access == VD_READ_WRITE;
    return sound ? NULL : "takes its decimals from a setting that is not a whole number of 0 to 9";
}

static const char *check_initial(const vd_setting *s)
{
    vd_value value = vd_value_from_count(s, s->initial, s->places);
    if (s->type == VD_TEXT && s->initial_text != NULL) {
        value = (vd_value){.type = VD_TEXT, .text = s->initial_text, .length = (uint16_t)strlen(s->initial_text)};
    } else if (!s->has_initial) {
        return NULL;
    }
    return vd_value_check(s, &value, s->places, NULL) == VD_OK ? NULL : "has a factory default that it would refuse";
}

static const char *check_against(const vd_setting *a, const vd_setting *b)
{
    if (strlen(a->key) == strlen(b->key) && memcmp(a->key, b->key, strlen(a->key)) == 0) {
        return "stands there twice";
    }
    if (overlap(&a->place, &b->place, 0)) {
        return "shares a register with another setting";
    }
    return NULL;
}

static const char *check_store(const vd_model *model, const vd_setting *s)
{
    const vd_store *store = &model->store;
    vd_place command = {.table = VD_HOLDING, .words = 1, .address = store->address};
    if (store->needed && overlap(&s->place, &command, 0)) {
        return "lies on the register that stores everything";
    }
    if (store->proof != VD_PROOF_BANK || s->place.table != VD_HOLDING) {
        return NULL;
    }
    if ((uint32_t)s->place.address + store->bank_offset + s->place.words > 0x10000u) {
        return "has its stored value beyond the last register";
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (overlap(&s->place, &model->settings[i].place, store->bank_offset)) {
            return "has its stored value where another setting lives";
        }
    }
    return NULL;
}

static const char *check_pair(const vd_model *model, const vd_pair *pair)
{
    if (pair->low >= model->setting_count || pair->high >= model->setting_count) {
        return "names a setting that is not there";
    }
    const vd_setting *low = &model->settings[pair->low], *high = &model->settings[pair->high];
    bool numbers =
        low->type == high->type && (low->type == VD_INTEGER || low->type == VD_DECIMAL || low->type == VD_DURATION);
    if (!numbers || low->places_from != high->places_from || low->places != high->places || low->tick != high->tick) {
        return "is not two numbers of one kind";
    }
    const vd_place *first = low->place.address < high->place.address ? &low->place : &high->place;
    const vd_place *second = first == &low->place ? &high->place : &low->place;
    bool adjacent =
        first->table == VD_HOLDING && second->table == VD_HOLDING && first->address + first->words == second->address;
    return adjacent ? NULL : "cannot be written in one request: the registers are not adjacent";
}

/* 7. identity in registers can be read in one request. */
static const char *check_identify(const vd_identify *identify)
{
    const vd_place *places[] = {&identify->maker_place, &identify->product_place, &identify->firmware_place,
                                &identify->serial_place};
    unsigned low = 0x10000, high = 0;
    if (identify->maker == NULL || identify->product == NULL) {
        return "does not say how a unit is recognised";
    }
    for (size_t i = 0; i < sizeof places / sizeof places[0] && identify->way == VD_IDENTIFY_REGISTERS; i++) {
        const vd_place *place = places[i];
        if (place->words == 0) {
            continue;
        }
        if (place->table != identify->product_place.table || place->form != VD_CHARACTERS) {
            return "has its identity scattered over two tables, or as a number";
        }
        low = place->address < low ? place->address : low;
        high = place->address + place->words > high ? (unsigned)place->address + place->words : high;
    }
    bool registers = identify->way == VD_IDENTIFY_REGISTERS;
    return registers && (high <= low || high - low > 125) ? "has an identity that no one request can read" : NULL;
}

vd_status vd_model_check(const vd_model *model, vd_fault *fault)
{
    const char *wrong = NULL;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *s = &model->settings[i];
        wrong = s->key[0] == '\0' ? "has no key" : NULL;
        wrong = wrong != NULL ? wrong : check_meaning(model, s);
        wrong = wrong != NULL ? wrong : check_place(model, s);
        wrong = wrong != NULL ? wrong : check_initial(s);
        wrong = wrong != NULL ? wrong : check_store(model, s);
        for (uint16_t k = 0; k < i && wrong == NULL; k++) {
            wrong = check_against(s, &model->settings[k]);
        }
        if (wrong != NULL) {
            return complain(fault, s, wrong);
        }
    }
    for (uint16_t i = 0; i < model->pair_count; i++) {
        wrong = check_pair(model, &model->pairs[i]);
        if (wrong != NULL) {
            bool known = model->pairs[i].low < model->setting_count;
            return complain(fault, known ? &model->settings[model->pairs[i].low] : NULL, wrong);
        }
    }
    wrong = check_identify(&model->identify);
    if (wrong != NULL) {
        return complain(fault, NULL, wrong);
    }
    if (model->setting_count == 0 || model->setting_count == VD_NONE || model->line.baud == 0 ||
        model->reply.tries == 0 || model->reply.longest == 0 || model->reply.longest < model->reply.usual) {
        return complain(fault, NULL, "has no settings, no line or no reply limits");
    }
    return VD_OK;
}
