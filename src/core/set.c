/* SPDX-License-Identifier: MIT
 * Sets: one value, or none, for each setting of a model, in a buffer of the caller's. The buffer holds a slot for
 * each setting, then the bytes of all texts. */
#include "value/value.h"

#include <string.h>

typedef struct slot {
    int64_t number; /* of a text: where its bytes start, from the beginning of the memory */
    uint16_t length;
    uint8_t known, places;
} slot;

static slot *slots(const vd_set *set)
{
    return set->memory;
}

static bool is_bytes(const vd_model *model, uint16_t setting)
{
    return vd_type_is_bytes((vd_type)model->settings[setting].type);
}

size_t vd_set_size(const vd_model *model)
{
    size_t size = sizeof(slot) * model->setting_count;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        size += is_bytes(model, i) ? model->settings[i].length : 0;
    }
    return (size + 7u) & ~(size_t)7u; /* so that sets can follow one another in one buffer */
}

vd_status vd_set_start(vd_set *set, const vd_model *model, void *memory, size_t size)
{
    if (size < vd_set_size(model)) {
        return VD_MEMORY_TOO_SMALL;
    }
    *set = (vd_set){.model = model, .memory = memory, .variant = VD_NONE};
    memset(memory, 0, vd_set_size(model));
    int64_t text = (int64_t)(sizeof(slot) * model->setting_count);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (is_bytes(model, i)) {
            slots(set)[i].number = text;
            text += model->settings[i].length;
        }
    }
    return VD_OK;
}

static char *text_of(const vd_set *set, uint16_t setting)
{
    return (char *)set->memory + slots(set)[setting].number;
}

vd_value vd_set_get(const vd_set *set, uint16_t setting)
{
    uint8_t type = set->model->settings[setting].type;
    if (set->memory == NULL || slots(set)[setting].known == 0) {
        return (vd_value){.type = VD_NOTHING};
    }
    const slot *s = &slots(set)[setting];
    if (is_bytes(set->model, setting)) {
        return (vd_value){.type = type, .length = s->length, .text = text_of(set, setting)};
    }
    return (vd_value){.type = type, .places = s->places, .number = s->number};
}

void vd_set_put(vd_set *set, uint16_t setting, const vd_value *value)
{
    slot *s = &slots(set)[setting];
    const vd_setting *about = &set->model->settings[setting];
    s->known = value->type == about->type;
    if (!s->known) {
        return;
    }
    if (is_bytes(set->model, setting)) {
        s->length = value->length < about->length ? value->length : about->length;
        if (s->length > 0) { /* an empty text need not point anywhere */
            memmove(text_of(set, setting), value->text, s->length);
        }
    } else {
        s->number = value->number;
        s->places = value->places;
    }
}

void vd_set_forget(vd_set *set, uint16_t setting)
{
    slots(set)[setting].known = 0;
}

bool vd_set_knows(const vd_set *set, uint16_t setting)
{
    return slots(set)[setting].known != 0;
}

void vd_set_copy(vd_set *to, const vd_set *from)
{
    memcpy(to->memory, from->memory, vd_set_size(from->model));
    to->variant = from->variant;
    to->firmware = from->firmware;
}

void vd_set_overlay(vd_set *to, const vd_set *from)
{
    for (uint16_t i = 0; i < from->model->setting_count; i++) {
        if (vd_set_knows(from, i)) {
            vd_value value = vd_set_get(from, i);
            vd_set_put(to, i, &value);
        }
    }
}

void vd_set_put_initial(vd_set *set)
{
    const vd_model *model = set->model;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_value value = vd_setting_initial(&model->settings[i]);
        if (value.type != VD_NOTHING) {
            vd_set_put(set, i, &value);
        }
    }
    vd_set_reinterpret(set);
}

bool vd_set_places(const vd_set *set, uint16_t setting, unsigned *places)
{
    const vd_setting *about = &set->model->settings[setting];
    *places = about->places;
    if (about->places_from == VD_NONE) {
        return true;
    }
    vd_value value = vd_set_get(set, about->places_from);
    if (value.type == VD_NOTHING || value.number < 0 || value.number > 9) {
        return false;
    }
    *places = (unsigned)value.number;
    return true;
}

static void give_places(vd_set *set, bool counts_only)
{
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        const vd_setting *about = &set->model->settings[i];
        bool counted = !vd_model_talks_in_lines(set->model) || about->field.saying == VD_SAID_IN_COUNTS;
        unsigned places = 0;
        if (about->places_from == VD_NONE || !vd_set_knows(set, i) || (counts_only && !counted)) {
            continue;
        }
        if (vd_set_places(set, i, &places)) {
            slots(set)[i].places = (uint8_t)places;
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

void vd_set_tell_unit(vd_set *set, const vd_identity *identity)
{
    set->variant = vd_model_variant(set->model, identity);
    set->firmware = vd_firmware_parse(identity->firmware);
}

vd_status vd_set_check(const vd_set *set, uint16_t setting, vd_fault *fault)
{
    const vd_model *model = set->model;
    const vd_setting *about = &model->settings[setting];
    vd_value value = vd_set_get(set, setting);
    unsigned places = 0;
    if (value.type == VD_NOTHING) {
        return VD_OK;
    }
    if (about->access == VD_READ_ONLY) {
        return vd_fault_note(fault, VD_READ_ONLY_SETTING, about, "", "");
    }
    if (about->written_by == VD_MAKER) {
        return vd_fault_note(fault, VD_NOT_YOURS, about, "", "");
    }
    if (vd_set_exists(set, setting) == VD_FAILS) {
        return vd_fault_note(fault, vd_set_lacks(set, setting) ? VD_NOT_HERE : VD_IDLE_HERE, about, "", about->because);
    }
    if (!vd_set_places(set, setting, &places)) {
        return vd_fault_note(fault, VD_PLACES_NOT_KNOWN, about, "", model->settings[about->places_from].key);
    }
    return vd_value_check(about, &value, places, fault);
}

vd_comparison vd_set_compare(const vd_set *a, const vd_set *b, uint16_t setting)
{
    vd_value first = vd_set_get(a, setting), second = vd_set_get(b, setting);
    if (first.type == VD_NOTHING) {
        return second.type == VD_NOTHING ? VD_IN_NEITHER : VD_ONLY_SECOND;
    }
    if (second.type == VD_NOTHING) {
        return VD_ONLY_FIRST;
    }
    return vd_value_equal(&first, &second) ? VD_SAME : VD_DIFFERENT;
}
