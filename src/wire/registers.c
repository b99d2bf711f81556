/* SPDX-License-Identifier: MIT
 * Values in registers: sign, width, word order, text. */
#include "modbus.h"

#include <string.h>

void vd_registers_put_count(const vd_place *place, int64_t count, uint16_t *registers)
{
    if (place->words == 1) {
        registers[0] = (uint16_t)count;
        return;
    }
    registers[place->order == VD_LOW_FIRST ? 1 : 0] = (uint16_t)((uint64_t)count >> 16);
    registers[place->order == VD_LOW_FIRST ? 0 : 1] = (uint16_t)count;
}

int64_t vd_registers_take_count(const vd_place *place, const uint16_t *registers)
{
    uint32_t bits = registers[0];
    unsigned width = 16;
    if (place->words == 2) {
        uint16_t high = registers[place->order == VD_LOW_FIRST ? 1 : 0];
        bits = (uint32_t)high << 16 | registers[place->order == VD_LOW_FIRST ? 0 : 1];
        width = 32;
    }
    bool negative = place->form == VD_SIGNED && (bits >> (width - 1u) & 1u) != 0;
    return (int64_t)bits - (negative ? (int64_t)1 << width : 0);
}

vd_status vd_registers_put(const vd_set *set, uint16_t setting, uint16_t *registers, vd_fault *fault)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_value value = vd_set_get(set, setting);
    unsigned places = 0;
    int64_t count = 0;
    memset(registers, 0, 2u * about->place.words);
    if (value.type == VD_NOTHING) {
        return vd_fault_note(fault, VD_NOT_READ, about, "", "");
    }
    if (about->type == VD_TEXT) { /* two characters a register, the first in the high byte, zeros behind */
        for (uint16_t i = 0; i < value.length; i++) {
            registers[i / 2] |= (uint16_t)((uint8_t)value.text[i] << (i % 2 == 0 ? 8 : 0));
        }
        return VD_OK;
    }
    if (!vd_set_places(set, setting, &places)) {
        return vd_fault_note(fault, VD_PLACES_NOT_KNOWN, about, "", set->model->settings[about->places_from].key);
    }
    vd_status status = vd_value_to_count(about, &value, places, &count, fault);
    if (status == VD_OK) {
        vd_registers_put_count(&about->place, count, registers);
    }
    return status;
}

void vd_registers_take(vd_set *set, uint16_t setting, const uint16_t *registers)
{
    const vd_setting *about = &set->model->settings[setting];
    unsigned places = 0;
    if (about->type != VD_TEXT) {
        vd_set_places(set, setting, &places);
        vd_value value = vd_value_from_count(about, vd_registers_take_count(&about->place, registers), places);
        vd_set_put(set, setting, &value);
        return;
    }
    char text[2 * 64];
    vd_value value = {.type = VD_TEXT, .text = text, .length = about->length};
    for (uint16_t i = 0; i < value.length; i++) {
        text[i] = (char)(uint8_t)(registers[i / 2] >> (i % 2 == 0 ? 8 : 0));
    }
    /* Units pad with zeros or with blanks; neither belongs to the text. */
    while (value.length > 0 && (text[value.length - 1] == '\0' || text[value.length - 1] == ' ')) {
        value.length--;
    }
    vd_set_put(set, setting, &value);
}
