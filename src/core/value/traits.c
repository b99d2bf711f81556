/* SPDX-License-Identifier: MIT
 * Traits of types by their constants, for whoever has no setting at hand. */
#include "value_parts.h"

#define TRAITS(name, id, check, length, is) [VD_##id] = is,
static const uint8_t traits[VD_TYPE_COUNT] = {VD_TYPE_LIST(TRAITS)};
#define LENGTH(name, id, check, length, is) [VD_##id] = length,
static const uint8_t lengths[VD_TYPE_COUNT] = {VD_TYPE_LIST(LENGTH)};

const vd_setting_words vd_no_words = {"", "", "", NULL, NULL, ""};

static bool has(vd_type type, uint8_t trait)
{
    return (unsigned)type < VD_TYPE_COUNT && (traits[type] & trait) != 0;
}

bool vd_type_is_bytes(vd_type type)
{
    return has(type, VD_TYPE_BYTES);
}

bool vd_type_is_placed(vd_type type)
{
    return has(type, VD_TYPE_PLACED);
}

bool vd_type_is_text(vd_type type)
{
    return has(type, VD_TYPE_TEXT);
}

uint16_t vd_type_length(vd_type type)
{
    return (unsigned)type < VD_TYPE_COUNT ? lengths[type] : 0;
}
