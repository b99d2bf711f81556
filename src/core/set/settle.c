/* SPDX-License-Identifier: MIT
 * Settling: numbers that mean what another setting says get their decimals and their measure from it. */
#include "slot.h"

void vd_set_put_initial(vd_set *set)
{
    const vd_model *model = set->model;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_value value = vd_set_initial(set, i);
        if (value.type != VD_NOTHING) {
            vd_set_put(set, i, &value);
        }
    }
    vd_set_reinterpret(set);
}

/* What stands there as a number of one thing becomes one of what is chosen now: as the unit counts, or, where it says
 * digits, the same digits. */
static void give_likeness(vd_set *set, uint16_t setting, bool counted)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_meaning was = vd_setting_meaning(about), now;
    slot *s = &slots(set)[setting];
    uint8_t like = 0;
    vd_value value = vd_set_get(set, setting);
    int64_t count = 0;
    if (!vd_set_meaning(set, setting, &now)) {
        vd_set_forget(set, setting);
        return;
    }
    vd_set_chosen(set, about, &like);
    if (counted && s->like != like) {
        vd_meaning_make_like(&was, s->like);
        if (vd_value_to_count(&was, &value, &count, NULL) != VD_OK) {
            vd_set_forget(set, setting);
            return;
        }
        value = vd_value_from_count(&now, count);
        s->number = value.number;
        s->places = value.places;
    }
    s->like = like;
}

static void give_places(vd_set *set, bool counts_only)
{
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        const vd_setting *about = &set->model->settings[i];
        bool counted =
            about->field.word == NULL || about->field.word[0] == '\0' || about->field.saying == VD_SAID_IN_COUNTS;
        vd_meaning meaning;
        if (vd_index(about->places_from) == VD_NONE || !vd_set_knows(set, i)) {
            continue;
        }
        if (about->like_count > 0) {
            give_likeness(set, i, counted);
        } else if (counts_only && !counted) {
            continue;
        } else if (vd_set_meaning(set, i, &meaning)) {
            slots(set)[i].places = meaning.places;
        } else {
            vd_set_forget(set, i);
        }
    }
}

void vd_set_reinterpret(vd_set *set)
{
    give_places(set, false);
}

void vd_set_settle(vd_set *set)
{
    give_places(set, true);
}

bool vd_set_is_sound(const vd_set *set, uint16_t setting)
{
    vd_value value = vd_set_get(set, setting);
    vd_meaning meaning;
    if (value.type == VD_NOTHING) {
        return !slots(set)[setting].odd;
    }
    return !vd_set_meaning(set, setting, &meaning) || vd_value_check(&meaning, &value, NULL) == VD_OK;
}
