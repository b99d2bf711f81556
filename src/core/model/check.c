/* SPDX-License-Identifier: MIT
 * Whether a model is sound, as far as it can be judged setting by setting. Every later floor relies on what is refused
 * here. */
#include "check.h"

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
    vd_note_MODEL_INCONSISTENT(&fault, setting, setting != NULL ? setting->key : "it", what);
    fault.number[0] = (int32_t)where;
    vd_judge_note(judge, &fault, VD_NONE);
}

static bool is_bit(const vd_place *place)
{
    return place->table == VD_COIL || place->table == VD_DISCRETE;
}

static unsigned width(const vd_place *place)
{
    return is_bit(place) ? 1 : place->bits > 0 ? place->bits : 16u * place->words;
}

static bool fits(const vd_place *place, int64_t low, int64_t high)
{
    unsigned bits = width(place);
    if (bits > 48) { /* more than any range reaches for */
        return true;
    }
    int64_t span = (int64_t)1 << bits, least = place->form == VD_SIGNED ? -span / 2 : 0;
    return low >= least && high < least + span;
}

/* Whether a place holds whatever a setting takes. */
static bool holds_all(const vd_setting *s)
{
    bool flags = s->type == VD_FLAGS;
    return vd_type_is_bytes((vd_type)s->type) ||
           fits(&s->place, flags ? 0 : s->min, flags ? ((int64_t)2 << s->max) - 1 : s->max);
}

/* Whole registers: then it is the range that is too wide, most likely. */
static const char *check_hold(const vd_model *model, const vd_setting *s)
{
    return vd_model_talks_in_lines(model) || holds_all(s) ? NULL : "has a range that its registers cannot hold";
}

/* What a setting needs of its registers. */
static const char *check_width(const vd_setting *s)
{
    const vd_place *place = &s->place;
    bool bytes = vd_type_is_bytes((vd_type)s->type);
    if (bytes != (place->form == VD_CHARACTERS)) {
        return "mixes text and number: its form on the wire is not that of its type";
    }
    if (bytes) {
        return (s->length + 1u) / 2u == place->words && place->words <= 64 && place->bits == 0 && !is_bit(place)
                   ? NULL
                   : "has a wrong number of registers";
    }
    if (place->bits > 0 && (place->words != 1 || is_bit(place) || place->low_bit + place->bits > 16)) {
        return "has a field of bits that does not lie inside one register";
    }
    if ((place->words != 1 && place->words != 2 && place->words != 4) || (is_bit(place) && place->words != 1)) {
        return "has a wrong number of registers";
    }
    switch ((vd_type)s->type) {
    case VD_IPV4:
    case VD_MASK:
    case VD_GATEWAY: return place->words == 2 ? NULL : "needs two registers";
    case VD_POSITION: return place->words == 4 ? NULL : "needs four registers";
    default: break;
    }
    return (!is_bit(place) && place->bits == 0) || holds_all(s) ? NULL : "has a range that its registers cannot hold";
}

bool vd_field_is_word(const char *word, bool numbered)
{
    size_t length = 0, numbers = 0;
    if (word != NULL && word[0] == ':') { /* the colon before the first part is said anyway */
        return false;
    }
    for (; word != NULL && word[length] != '\0'; length++) {
        char c = word[length];
        bool fits = vd_is_digit(c) || (c >= 'A' && c <= 'Z') || c == ':' || c == '_' || c == '*' || c == '#';
        numbers += c == '#';
        if (!fits) {
            return false;
        }
    }
    return length > 0 && length <= 40 && numbers == (numbered ? 1 : 0);
}

static const char *check_field(const vd_model *model, const vd_setting *s)
{
    const vd_field *field = &s->field;
    bool named = s->type == VD_CHOICE || s->type == VD_TRUTH;
    if (field->word != NULL && field->word[0] == ':') {
        return "has a word that begins with a colon, which goes without saying";
    }
    if (!vd_field_is_word(field->word, model->speech == VD_QUERIES && field->item > 0)) {
        return "has no word of capitals, digits, : and _ (with # once for the item's number in queries)";
    }
    if ((field->saying == VD_SAID_BY_NAME && !named) ||
        (field->saying == VD_SAID_IN_COUNTS && !vd_type_is_placed((vd_type)s->type))) {
        return "is said in a way that does not go with its type";
    }
    return field->number > 63 ? "is field 64 or more of its record" : NULL;
}

static const char *check_place(const vd_model *model, const vd_setting *s)
{
    if (vd_model_talks_in_lines(model)) {
        return check_field(model, s);
    }
    const char *wrong = check_width(s);
    if (wrong != NULL) {
        return wrong;
    }
    if ((uint32_t)s->place.address + s->place.words > 0x10000u) {
        return "lies beyond the last register";
    }
    uint16_t limit = model->limits.read_registers;
    if (limit > 0 && !is_bit(&s->place) && s->place.words > limit) {
        return "has more registers than the unit reads in one request";
    }
    if ((s->place.table == VD_INPUT || s->place.table == VD_DISCRETE) && s->access != VD_READ_ONLY) {
        return "is to be written, but lies where nothing can be written";
    }
    for (uint16_t i = 0; i < model->hole_count; i++) {
        const vd_hole *hole = &model->holes[i];
        if (hole->table == s->place.table && s->place.address <= hole->last &&
            s->place.address + s->place.words > hole->first) {
            return "lies in a hole";
        }
    }
    const vd_store *store = &model->store;
    if (s->place.table != VD_HOLDING) {
        return NULL;
    }
    if (store->needed && store->address >= s->place.address && store->address < s->place.address + s->place.words) {
        return "lies on the register that stores everything";
    }
    if (model->login.address >= s->place.address && model->login.address < s->place.address + s->place.words &&
        model->login.address != 0) {
        return "lies on the register where the password is said";
    }
    if (model->slots.saved && model->slots.address >= s->place.address &&
        model->slots.address < s->place.address + s->place.words) {
        return "lies on the register that saves a slot";
    }
    for (uint8_t i = 0; i < model->action_count; i++) {
        if (model->actions[i].address >= s->place.address &&
            model->actions[i].address < s->place.address + s->place.words) {
            return "lies on the register of an action";
        }
    }
    if (store->proof == VD_PROOF_BANK && (uint32_t)s->place.address + store->bank_offset + s->place.words > 0x10000u) {
        return "has its stored value beyond the last register";
    }
    return NULL;
}

static const char *check_choices(const vd_setting *s)
{
    bool named = s->type == VD_CHOICE || s->type == VD_FLAGS;
    if (named != (s->choice_count > 0)) {
        return "has choices without being a choice, or the other way round";
    }
    for (uint16_t i = 0; i < s->choice_count; i++) {
        if (s->choices[i].number < s->min || s->choices[i].number > s->max) {
            return "has a choice outside its range";
        }
    }
    return s->type == VD_FLAGS && (s->min < 0 || s->max > 31) ? "has a flag that is no bit from 0 to 31" : NULL;
}

/* Whether the place of a setting can hold the counts of what it is like. */
static bool fits_both(const vd_model *model, const vd_setting *s, const vd_setting *of)
{
    return vd_model_talks_in_lines(model) || fits(&s->place, of->min, of->max);
}

static const char *check_meaning(const vd_model *model, const vd_setting *s)
{
    uint16_t fixed = vd_type_length((vd_type)s->type);
    if (s->type == VD_NOTHING || s->type >= VD_TYPE_COUNT || s->group >= model->group_count) {
        return "has no type or no group";
    }
    if (vd_type_is_bytes((vd_type)s->type) &&
        (s->length == 0 || s->least > s->length || s->length > 128 || (fixed != 0 && s->length > fixed))) {
        return "has a length that its type cannot have";
    }
    if ((s->pattern != NULL || s->check != VD_CHECK_NONE) &&
        (s->type != VD_TEXT || s->check > VD_CHECK_MOD_97 ||
         (s->pattern != NULL && !vd_pattern_is_sound(s->pattern)))) {
        return "has a pattern or a check that is none, or that its type cannot have";
    }
    bool far = s->tick > 0 && s->step > INT64_MAX / 60000 / s->tick; /* it is told in milliseconds */
    if (s->step < 1 || s->min > s->max || s->places > 9 || s->tick < 1 || far) {
        return "has an empty range, a step below 1 or too many decimals";
    }
    if (s->type == VD_DURATION && (s->min < 0 || s->max > INT64_MAX / 8 / s->tick)) {
        return "has a range that is no duration";
    }
    if (s->scale < 0 ||
        ((s->scale != 0 || s->offset != 0) && (!vd_type_is_placed((vd_type)s->type) || s->places_from != VD_NONE)) ||
        vd_value_from_count(s, s->min, s->places).type == VD_NOTHING ||
        vd_value_from_count(s, s->max, s->places).type == VD_NOTHING) {
        return "has a scale or an offset that its type cannot have, or that leads out of all numbers";
    }
    if (s->type == VD_CLOCK && s->zone_from != VD_NONE &&
        (s->zone_from >= model->setting_count || model->settings[s->zone_from].type != VD_ZONE)) {
        return "runs in a zone that no setting says";
    }
    if (vd_type_runs((vd_type)s->type) ? s->tolerance < 0 : s->tolerance != 0) {
        return "has a tolerance that its type cannot have";
    }
    const char *wrong = check_choices(s);
    if (wrong != NULL || s->places_from == VD_NONE) {
        return wrong;
    }
    if (s->places_from >= model->setting_count || s->type != VD_DECIMAL) {
        return "takes its decimals from nowhere";
    }
    const vd_setting *from = &model->settings[s->places_from];
    for (uint16_t i = 0; i < s->like_count; i++) {
        const vd_setting *of = s->like[i].of;
        if (from->type != VD_CHOICE || s->like_count > 200 || of->like_count > 0 || of->places_from != VD_NONE ||
            (of->type != VD_DECIMAL && of->type != VD_INTEGER) || !fits_both(model, s, of)) {
            return "is like something that is no number of its own, or that its registers cannot hold";
        }
    }
    if (s->like_count > 0) {
        return NULL;
    }
    bool sound = from->type == VD_INTEGER && from->min >= 0 && from->max <= 9 && from->gives_places &&
                 (vd_model_talks_in_lines(model) || from->place.table == VD_HOLDING) && from->access == VD_READ_WRITE;
    return sound ? NULL : "takes its decimals from a setting that is not a whole number of 0 to 9";
}

const char *vd_judge_initial(const vd_setting *s)
{
    vd_value value = vd_setting_initial(s);
    if (s->initial_text == NULL && !s->has_initial) {
        return s->placeholder ? "is a placeholder, but has no factory default" : NULL;
    }
    if ((s->initial_text != NULL) != vd_type_is_bytes((vd_type)s->type) ||
        (s->initial_text != NULL && s->initial > s->length)) {
        return "has a factory default of another type";
    }
    bool empty = s->initial_text != NULL && s->initial == 0 && s->least > 0 && !s->or_empty;
    return empty ? "is empty from the factory, which its fewest characters do not allow: say that it may be empty"
           : vd_value_check(s, &value, s->places, NULL) == VD_OK ? NULL
                                                                 : "has a factory default that it would refuse";
}

static const char *check_initial(const vd_model *model, const vd_setting *s)
{
    (void)model;
    return vd_judge_initial(s);
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
    const vd_block *block = s->block < model->block_count ? &model->blocks[s->block] : NULL;
    if (s->block == VD_NONE || block != NULL) {
        unsigned levels = s->block == VD_NONE ? 0 : block->outer == VD_NONE ? 1 : 2;
        if (numbers_in(s->key) != levels) {
            return "has a number in its key that is not an item's";
        }
    }
    if (s->block == VD_NONE) {
        return NULL;
    }
    uint32_t index = (uint32_t)(s - model->settings);
    bool inside = block != NULL && index >= block->first && block->members > 0 &&
                  (index - block->first) / block->members == s->item && s->item < block->count;
    return inside && s->type == model->settings[block->first + (index - block->first) % block->members].type
               ? NULL
               : "does not lie where its block says";
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
    return !vd_text_is_key(s->key)           ? "has a key that is none"
           : !vd_text_is_measure(s->measure) ? "has a unit that cannot stand behind a value"
                                             : NULL;
}

void vd_check_settings(const vd_model *model, vd_judge *judge)
{
    static const struct {
        const char *(*check)(const vd_model *, const vd_setting *);
        vd_where where;
    } checks[] = {{check_words, VD_IN_WHOLE},     {check_meaning, VD_IN_RANGE}, {check_place, VD_IN_PLACE},
                  {check_hold, VD_IN_RANGE},      {check_block, VD_IN_WHOLE},   {check_editions, VD_IN_EDITIONS},
                  {check_initial, VD_IN_DEFAULT}, {check_sets, VD_IN_SETS}};
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *s = &model->settings[i];
        const char *wrong = NULL;
        for (size_t k = 0; k < sizeof checks / sizeof checks[0] && wrong == NULL; k++) {
            wrong = checks[k].check(model, s);
            bool sized = checks[k].where == VD_IN_RANGE && vd_type_is_bytes((vd_type)s->type);
            if (wrong != NULL) {
                vd_judge_complain(judge, s, sized ? VD_IN_LENGTH : checks[k].where, wrong);
            }
        }
    }
}
