/* SPDX-License-Identifier: MIT
 * Judging what units have from the factory, in every kind of unit that a model describes: each variant, old firmware
 * and new. */
#include "parts.h"

#include "verdite/notes.h"

/* The n-th kind of unit, as far as defaults can hang on it: each variant, with the oldest and with the newest firmware.
 * False: there are no more. */
static bool nth_kind(const vd_model *model, uint32_t n, uint16_t *variant, uint32_t *firmware)
{
    uint16_t variants = model->variant_count > 0 ? model->variant_count : 1;
    *variant = model->variant_count > 0 ? (uint16_t)(n / 2) : VD_NONE;
    *firmware = n % 2 > 0 ? UINT32_MAX : model->firmware > 0 ? model->firmware : 1;
    return n < 2u * variants;
}

/* A unit from its box, of any variant, with the oldest or the newest firmware, keeps every rule that it would be
 * refused for; two rules that contradict each other cannot both be kept, so they are found here as well. */
static void judge_rules(const vd_model *model, void *room, vd_judge *judge)
{
    uint16_t variant = VD_NONE;
    uint32_t firmware = 0;
    for (uint32_t kind = 0; nth_kind(model, kind, &variant, &firmware); kind++) {
        vd_set set;
        vd_set_start(&set, model, room, vd_set_size(model));
        set.variant = variant;
        set.firmware = firmware;
        vd_set_put_initial(&set);
        for (uint16_t i = 0; i < model->rule_count; i++) {
            uint16_t items = vd_rule_items(model, i);
            bool judged = model->rules[i].severity == VD_ERROR && model->book->rules[i].must.count > 0;
            vd_fault fault = {0}, against = {0};
            for (uint16_t item = 0; item < items && judged; item++) {
                if (vd_rule_judge(&set, NULL, i, item, &fault) == VD_FAILS) {
                    vd_note_RULE_AGAINST_DEFAULTS(&against, fault.setting, fault.allowed);
                    vd_judge_note(judge, &against, i);
                    break;
                }
            }
        }
    }
}

/* Whether the unit that a set is about has no such setting, whatever it is set to. */
static bool is_absent(const vd_set *set, uint16_t setting)
{
    return vd_set_check(set, setting, NULL) == VD_NOT_HERE;
}

/* What an edition has is part of what the setting has elsewhere. */
static const char *check_edition(const vd_setting *s, const vd_edition *edition)
{
    if (edition->step > 0 && (edition->min < s->min || edition->max > s->max || edition->min > edition->max)) {
        return "takes more in one of its editions than elsewhere";
    }
    for (uint16_t k = 0; k < edition->choice_count; k++) {
        bool elsewhere = false;
        for (uint16_t n = 0; n < s->choice_count; n++) {
            elsewhere = elsewhere || s->choices[n].number == edition->choices[k].number;
        }
        if (!elsewhere) {
            return "has a choice in one of its editions that it does not have elsewhere";
        }
    }
    return NULL;
}

/* "...: 500 gal in variant two, firmware 1.2" */
static void complain(const vd_set *set, const vd_setting *s, const char *wrong, const vd_value *value, vd_judge *judge)
{
    char what[VD_ALLOWED_SIZE];
    vd_writer writer = vd_writer_start(what, sizeof what);
    vd_writer_add(&writer, wrong);
    if (value != NULL) {
        vd_writer_add(&writer, ": ");
        vd_value_print(s, value, &writer);
    }
    if (set->variant != VD_NONE) {
        vd_writer_add(&writer, " in variant ");
        vd_writer_add(&writer, set->model->variants[set->variant].key);
    }
    if (set->firmware != UINT32_MAX) {
        vd_writer_add(&writer, set->variant != VD_NONE ? ", firmware " : " with firmware ");
        vd_firmware_print(set->firmware, &writer);
    }
    vd_judge_complain(judge, s, VD_IN_EDITIONS, what);
}

/* In every kind of unit that has the setting, and where an edition begins or ends, its default passes its own check.
 * False: it has been told. */
static bool judge_edition(vd_set *set, uint16_t setting, const vd_edition *edition, vd_judge *judge)
{
    const vd_setting *s = &set->model->settings[setting];
    const char *variant = set->variant != VD_NONE ? set->model->variants[set->variant].key : NULL;
    bool is_this = edition != NULL && (edition->variant == NULL || vd_same_text(edition->variant, variant));
    vd_meaning meaning;
    if (is_absent(set, setting)) {
        return true;
    }
    const char *wrong = is_this ? check_edition(s, edition) : NULL;
    if (wrong != NULL) {
        complain(set, s, wrong, NULL, judge);
        return false;
    }
    vd_set_meaning(set, setting, &meaning);
    vd_value value = vd_set_initial(set, setting);
    wrong = vd_judge_initial(&meaning, &value);
    if (wrong != NULL) {
        complain(set, s, wrong, &value, judge);
    }
    return wrong == NULL;
}

static void judge_editions(const vd_model *model, uint16_t setting, void *room, vd_judge *judge)
{
    const vd_setting *s = &model->settings[setting];
    uint16_t variant = VD_NONE;
    uint32_t firmware = 0;
    for (uint32_t kind = 0; nth_kind(model, kind, &variant, &firmware); kind++) {
        for (uint32_t i = 0; i <= 2u * s->edition_count; i++) {
            const vd_edition *edition = i > 0 ? &s->editions[(i - 1) / 2] : NULL;
            uint32_t edge = edition == NULL ? firmware : i % 2 > 0 ? edition->from : edition->below;
            vd_set set;
            vd_set_start(&set, model, room, vd_set_size(model));
            set.variant = variant;
            set.firmware = edge > 0 ? edge : firmware;
            vd_set_put_initial(&set);
            if (!judge_edition(&set, setting, edition, judge)) {
                return;
            }
        }
    }
}

void vd_check_defaults(const vd_model *model, void *room, vd_judge *judge)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (model->settings[i].edition_count > 0) {
            judge_editions(model, i, room, judge);
        }
    }
    if (judge->status == VD_OK) {
        judge_rules(model, room, judge);
    }
}
