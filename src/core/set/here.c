/* SPDX-License-Identifier: MIT
 * What a setting is in the unit that a set is about: of which edition, like which other one, with how many decimals. */
#include "here.h"

bool vd_set_chosen(const vd_set *set, const vd_setting *about, uint8_t *like)
{
    vd_value choice = vd_set_get(set, vd_index(about->places_from));
    *like = 0;
    for (uint16_t i = 0; i < about->like_count && choice.type != VD_NOTHING; i++) {
        *like = about->like[i].number == choice.number ? (uint8_t)(i + 1u) : *like;
    }
    return choice.type != VD_NOTHING;
}

void vd_meaning_make_like(vd_meaning *meaning, uint8_t like)
{
    const vd_setting *of = like > 0 ? meaning->of->like[like - 1].of : meaning->of;
    meaning->measure = of->measure;
    meaning->spellings = of->spellings;
    meaning->places = of->places;
    meaning->scale = of->scale;
    meaning->offset = of->offset;
    if (like > 0) {
        meaning->min = of->min;
        meaning->max = of->max;
        meaning->step = of->step;
    }
}

static bool is_edition_of(const vd_set *set, const vd_edition *edition)
{
    bool variant = edition->variant == NULL || (set->variant < set->model->variant_count &&
                                                vd_same_text(set->model->variants[set->variant].key, edition->variant));
    bool dated = edition->from != 0 || edition->below != 0;
    return variant && (!dated || (set->firmware != 0 && set->firmware >= edition->from &&
                                  (edition->below == 0 || set->firmware < edition->below)));
}

/* What this unit's variant and firmware have otherwise. */
static void make_edition(const vd_set *set, vd_meaning *meaning)
{
    for (uint16_t i = 0; i < meaning->of->edition_count; i++) {
        const vd_edition *edition = &meaning->of->editions[i];
        bool is = is_edition_of(set, edition);
        if (is && edition->step > 0) {
            meaning->min = edition->min;
            meaning->max = edition->max;
            meaning->step = edition->step;
        }
        if (is && edition->choices != NULL) {
            meaning->choices = edition->choices;
            meaning->choice_count = edition->choice_count;
        }
    }
}

vd_value vd_set_initial(const vd_set *set, uint16_t setting)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_value initial = vd_setting_initial(about);
    for (uint16_t i = 0; i < about->edition_count; i++) {
        const vd_edition *edition = &about->editions[i];
        const vd_meaning meaning = vd_setting_meaning(about);
        if (!edition->has_initial || !is_edition_of(set, edition)) {
            continue;
        }
        initial = edition->initial_text == NULL ? vd_value_from_count(&meaning, edition->initial)
                                                : (vd_value){.type = about->traits->id,
                                                             .text = edition->initial_text,
                                                             .length = (uint16_t)edition->initial};
    }
    return initial;
}

bool vd_set_meaning(const vd_set *set, uint16_t setting, vd_meaning *meaning)
{
    const vd_setting *about = &set->model->settings[setting];
    *meaning = vd_setting_meaning(about);
    make_edition(set, meaning);
    if (about->like_count > 0) {
        uint8_t like = 0;
        meaning->places_known = vd_set_chosen(set, about, &like);
        vd_meaning_make_like(meaning, like);
    } else if (!meaning->places_known) {
        vd_value value = vd_set_get(set, vd_index(about->places_from));
        meaning->places_known = value.type != VD_NOTHING && value.number >= 0 && value.number <= 9;
        meaning->places = meaning->places_known ? (uint8_t)value.number : meaning->places;
    }
    return meaning->places_known;
}

static vd_status note_unknown(const vd_set *set, uint16_t setting, vd_fault *fault)
{
    const vd_setting *about = &set->model->settings[setting];
    return vd_note_PLACES_NOT_KNOWN(fault, about, set->model->settings[vd_index(about->places_from)].words->key);
}

vd_status vd_set_to_count(const vd_set *set, uint16_t setting, const vd_value *value, int64_t *count, vd_fault *fault)
{
    vd_meaning meaning;
    return vd_set_meaning(set, setting, &meaning) ? vd_value_to_count(&meaning, value, count, fault)
                                                  : note_unknown(set, setting, fault);
}

vd_value vd_set_from_count(const vd_set *set, uint16_t setting, int64_t count)
{
    vd_meaning meaning;
    vd_set_meaning(set, setting, &meaning);
    return vd_value_from_count(&meaning, count);
}

vd_status vd_set_check_value(const vd_set *set, uint16_t setting, const vd_value *value, vd_fault *fault)
{
    vd_meaning meaning;
    if (!vd_set_meaning(set, setting, &meaning)) {
        return note_unknown(set, setting, fault);
    }
    vd_meaning elsewhere = meaning;
    elsewhere.choices = meaning.of->choices;
    elsewhere.choice_count = meaning.of->choice_count;
    if (meaning.choices != elsewhere.choices && vd_value_check(&elsewhere, value, NULL) == VD_OK &&
        vd_value_check(&meaning, value, NULL) != VD_OK) { /* a choice that others have: by its name */
        char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
        vd_writer to_said = vd_writer_start(said, sizeof said), to_allowed = vd_writer_start(allowed, sizeof allowed);
        vd_value_show(meaning.of, value, &to_said);
        vd_meaning_print(&meaning, &to_allowed);
        return vd_note_NOT_A_CHOICE(fault, meaning.of, said, allowed);
    }
    return vd_value_check(&meaning, value, fault);
}
