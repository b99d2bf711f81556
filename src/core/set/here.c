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

void vd_setting_make_like(vd_setting *about, uint8_t like)
{
    const vd_setting *of = like > 0 ? about->like[like - 1].of : about;
    about->measure = of->measure;
    about->spellings = of->spellings;
    about->places = of->places;
    about->scale = of->scale;
    about->offset = of->offset;
    about->min = of->min;
    about->max = of->max;
    about->step = of->step;
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
static void make_edition(const vd_set *set, vd_setting *about)
{
    for (uint16_t i = 0; i < about->edition_count; i++) {
        const vd_edition *edition = &about->editions[i];
        if (!is_edition_of(set, edition)) {
            continue;
        }
        if (edition->step > 0) {
            about->min = edition->min;
            about->max = edition->max;
            about->step = edition->step;
        }
        if (edition->has_initial) {
            about->initial = edition->initial;
            about->initial_text = edition->initial_text;
            about->has_initial = edition->initial_text == NULL;
        }
        if (edition->choices != NULL) {
            about->choices = edition->choices;
            about->choice_count = edition->choice_count;
        }
    }
}

vd_value vd_set_initial(const vd_set *set, uint16_t setting)
{
    vd_setting about = set->model->settings[setting];
    make_edition(set, &about);
    return vd_setting_initial(&about);
}

bool vd_set_about(const vd_set *set, uint16_t setting, vd_setting *about)
{
    *about = set->model->settings[setting];
    make_edition(set, about);
    if (vd_index(about->places_from) == VD_NONE) {
        return true;
    }
    if (about->like_count > 0) {
        uint8_t like = 0;
        bool known = vd_set_chosen(set, about, &like);
        vd_setting_make_like(about, like);
        return known;
    }
    vd_value value = vd_set_get(set, vd_index(about->places_from));
    bool known = value.type != VD_NOTHING && value.number >= 0 && value.number <= 9;
    about->places = known ? (uint8_t)value.number : about->places;
    return known;
}

/* A fault about a setting as it is for the moment becomes one about that of the model, which lasts. */
static vd_status told_of(const vd_setting *moment, const vd_setting *lasting, vd_status status, vd_fault *fault)
{
    if (fault != NULL && fault->setting == moment) {
        fault->setting = lasting;
    }
    return status;
}

static vd_status note_unknown(const vd_set *set, uint16_t setting, vd_fault *fault)
{
    const vd_setting *about = &set->model->settings[setting];
    return vd_note_PLACES_NOT_KNOWN(fault, about, set->model->settings[vd_index(about->places_from)].words->key);
}

vd_status vd_set_to_count(const vd_set *set, uint16_t setting, const vd_value *value, int64_t *count, vd_fault *fault)
{
    vd_setting about;
    if (!vd_set_about(set, setting, &about)) {
        return note_unknown(set, setting, fault);
    }
    vd_status status = vd_value_to_count(&about, value, about.places, count, fault);
    return told_of(&about, &set->model->settings[setting], status, fault);
}

vd_value vd_set_from_count(const vd_set *set, uint16_t setting, int64_t count)
{
    vd_setting about;
    vd_set_about(set, setting, &about);
    return vd_value_from_count(&about, count, about.places);
}

vd_status vd_set_check_value(const vd_set *set, uint16_t setting, const vd_value *value, vd_fault *fault)
{
    vd_setting about;
    if (!vd_set_about(set, setting, &about)) {
        return note_unknown(set, setting, fault);
    }
    const vd_setting *lasting = &set->model->settings[setting];
    if (about.choices != lasting->choices && vd_value_check(lasting, value, about.places, NULL) == VD_OK &&
        vd_value_check(&about, value, about.places, NULL) != VD_OK) { /* a choice that others have: by its name */
        char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
        vd_writer to_said = vd_writer_start(said, sizeof said), to_allowed = vd_writer_start(allowed, sizeof allowed);
        vd_value_show(lasting, value, &to_said);
        vd_setting_print_allowed(&about, about.places, &to_allowed);
        return vd_note_NOT_A_CHOICE(fault, lasting, said, allowed);
    }
    vd_status status = vd_value_check(&about, value, about.places, fault);
    return told_of(&about, lasting, status, fault);
}

bool vd_set_places(const vd_set *set, uint16_t setting, unsigned *places)
{
    vd_setting about;
    bool known = vd_set_about(set, setting, &about);
    *places = about.places;
    return known;
}
