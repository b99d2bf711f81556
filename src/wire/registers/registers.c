/* SPDX-License-Identifier: MIT
 * Values in registers: sign, width, word order, fields of bits, characters and bytes. */
#include "parts.h"

#include <string.h>

/* The register that holds the n-th 16 bits of a number, the lowest first. */
static unsigned register_of(const vd_place *place, unsigned n)
{
    return place->order == VD_LOW_FIRST ? n : place->words - 1u - n;
}

static uint16_t field_mask(const vd_place *place)
{
    return (uint16_t)(((1u << place->bits) - 1u) << place->low_bit);
}

void vd_registers_put_count(const vd_place *place, int64_t count, uint16_t *registers)
{
    if (place->bits > 0) {
        uint16_t mask = field_mask(place);
        registers[0] = (uint16_t)((registers[0] & ~mask) | ((unsigned)count << place->low_bit & mask));
        return;
    }
    for (unsigned n = 0; n < place->words; n++) {
        registers[register_of(place, n)] = (uint16_t)((uint64_t)count >> (16 * n));
    }
}

int64_t vd_registers_take_count(const vd_place *place, const uint16_t *registers)
{
    uint64_t bits = 0;
    unsigned width = place->bits > 0 ? place->bits : 16u * place->words;
    for (unsigned n = 0; n < place->words; n++) {
        bits |= (uint64_t)registers[register_of(place, n)] << (16 * n);
    }
    if (place->bits > 0) {
        bits = (bits & field_mask(place)) >> place->low_bit;
    }
    if (width == 64) {
        return bits <= INT64_MAX ? (int64_t)bits : -(int64_t)(UINT64_MAX - bits) - 1;
    }
    bool negative = place->form == VD_SIGNED && width > 0 && (bits >> (width - 1u) & 1u) != 0;
    return (int64_t)bits - (negative ? (int64_t)1 << width : 0);
}

vd_status vd_registers_put(const vd_set *set, uint16_t setting, uint16_t *registers, vd_fault *fault)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_value value = vd_set_get(set, setting);
    int64_t count = 0;
    if (about->place.bits == 0) {
        memset(registers, 0, 2u * about->place.words);
    }
    if (value.type == VD_NOTHING) {
        return vd_note_NOT_READ(fault, about);
    }
    if (vd_setting_is(about, VD_TYPE_BYTES)) { /* two to a register, the first in the high byte, zeros behind */
        for (uint16_t i = 0; i < value.length; i++) {
            registers[i / 2] |= (uint16_t)((uint8_t)value.text[i] << (i % 2 == 0 ? 8 : 0));
        }
        return VD_OK;
    }
    vd_status status = vd_set_to_count(set, setting, &value, &count, fault);
    if (status == VD_OK) {
        vd_registers_put_count(&about->place, count, registers);
    }
    return status;
}

void vd_registers_take(vd_set *set, uint16_t setting, const uint16_t *registers)
{
    const vd_setting *about = &set->model->settings[setting];
    if (!vd_setting_is(about, VD_TYPE_BYTES)) {
        vd_value value = vd_set_from_count(set, setting, vd_registers_take_count(&about->place, registers));
        vd_set_put(set, setting, &value);
        return;
    }
    char text[2 * 64];
    vd_value value = {.type = about->traits->id, .text = text, .length = about->length};
    for (uint16_t i = 0; i < value.length; i++) {
        text[i] = (char)(uint8_t)(registers[i / 2] >> (i % 2 == 0 ? 8 : 0));
    }
    /* Units pad characters with zeros or with blanks; neither belongs to the text. */
    bool characters = vd_setting_is(about, VD_TYPE_TEXT);
    while (characters && value.length > 0 && (text[value.length - 1] == '\0' || text[value.length - 1] == ' ')) {
        value.length--;
    }
    vd_set_put(set, setting, &value);
}
