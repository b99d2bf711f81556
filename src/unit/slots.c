/* SPDX-License-Identifier: MIT
 * What the slots of a unit hold, and settings that set others: loading, saving, and what a power cycle falls back to.
 */
#include "parts.h"

#include <string.h>

vd_set vd_unit_slot(const vd_unit *unit, uint8_t number)
{
    vd_set slot = unit->stored;
    slot.memory = unit->slots + (number - 1u) * vd_set_size(unit->model);
    return slot;
}

static void copy_held(const vd_unit *unit, vd_set *to, const vd_set *from)
{
    const vd_slots *slots = &unit->model->slots;
    for (uint16_t i = 0; i < slots->hold_count; i++) {
        vd_value value = vd_set_get(from, slots->holds[i]);
        if (value.type != VD_NOTHING) {
            vd_set_put(to, slots->holds[i], &value);
        }
    }
}

static void put_preset(vd_set *set, const vd_preset *preset)
{
    for (uint16_t i = 0; i < preset->setting_count; i++) {
        vd_meaning meaning;
        vd_typed typed;
        vd_set_meaning(set, preset->settings[i], &meaning);
        if (vd_value_parse(&meaning, preset->values[i], strlen(preset->values[i]), &typed, NULL) == VD_OK) {
            vd_set_put(set, preset->settings[i], &typed.value);
        }
    }
}

/* What is stored of what slots hold is what a power cycle brings back. */
static void note_stored(vd_unit *unit)
{
    uint8_t number = vd_set_slot_after(&unit->stored);
    if (number > 0) {
        vd_set slot = vd_unit_slot(unit, number);
        copy_held(unit, &unit->stored, &slot);
    }
}

void vd_unit_new_slots(vd_unit *unit)
{
    const vd_slots *slots = &unit->model->slots;
    for (uint8_t n = 1; n <= slots->count; n++) {
        vd_set slot = vd_unit_slot(unit, n);
        vd_set_start(&slot, unit->model, slot.memory, vd_set_size(unit->model));
        vd_set_tell_unit(&slot, &unit->identity);
        vd_unit_as_new(&slot);
        if (slots->begin != NULL && slots->begin[n - 1] > 0) {
            put_preset(&slot, &unit->model->presets[slots->begin[n - 1] - 1]);
        }
    }
    note_stored(unit);
}

static void load(vd_unit *unit, uint8_t number)
{
    if (number > 0) {
        vd_set slot = vd_unit_slot(unit, number);
        copy_held(unit, &unit->live, &slot);
    }
}

bool vd_unit_save_slot(vd_unit *unit, uint32_t number)
{
    if (number > unit->model->slots.count || !vd_slot_is_writable(unit->model, (uint8_t)number)) {
        return false;
    }
    vd_set slot = vd_unit_slot(unit, (uint8_t)number);
    copy_held(unit, &slot, &unit->live);
    note_stored(unit);
    unit->keeping = true;
    return true;
}

void vd_unit_keep_slot(vd_unit *unit)
{
    if (unit->model->slots.count > 0 && !unit->model->slots.saved) {
        vd_unit_save_slot(unit, vd_set_slot(&unit->live));
    }
    note_stored(unit);
}

void vd_unit_fall_back(vd_unit *unit)
{
    const vd_slots *slots = &unit->model->slots;
    uint8_t number = vd_set_slot_after(&unit->stored);
    note_stored(unit);
    if (number > 0) {
        vd_value value = vd_set_get(&unit->stored, vd_index(slots->chosen_by));
        value.number = number;
        vd_set_put(&unit->live, vd_index(slots->chosen_by), &value);
        load(unit, number);
    }
}

/* Of a preset, what the setting says that it sets. */
static void apply(vd_unit *unit, uint16_t setting, const vd_preset *preset)
{
    vd_set_copy(&unit->staged, &unit->live);
    put_preset(&unit->staged, preset);
    for (uint16_t i = 0; i < unit->model->settings[setting].set_count; i++) {
        uint16_t other = unit->model->settings[setting].sets[i];
        vd_value value = vd_set_get(&unit->staged, other);
        vd_set_put(&unit->live, other, &value);
    }
}

void vd_unit_set_others(vd_unit *unit, uint16_t setting)
{
    const vd_model *model = unit->model;
    const vd_preset *preset = vd_set_chosen_preset(&unit->live, setting);
    if (model->slots.count > 0 && vd_index(model->slots.chosen_by) == setting) {
        load(unit, vd_set_slot(&unit->live));
    }
    if (preset != NULL) {
        apply(unit, setting, preset);
    }
}
