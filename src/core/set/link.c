/* SPDX-License-Identifier: MIT
 * The link that a unit's own settings describe: address, baud, framing. */
#include "verdite/set.h"
#include "verdite/text.h"

static const char *choice_name(const vd_setting *setting, const vd_value *value)
{
    const char *name = value->type == VD_CHOICE ? vd_choice_name(setting, value->number) : NULL;
    return name != NULL ? name : "";
}

static uint32_t baud_of(const char *name)
{
    uint32_t baud = 0;
    for (; vd_is_digit(*name) && baud < 1000000; name++) {
        baud = baud * 10 + (uint32_t)(*name - '0');
    }
    return *name == '\0' ? baud : 0;
}

bool vd_role_is_link(vd_role role)
{
    return role == VD_ROLE_ADDRESS || role == VD_ROLE_BAUD || role == VD_ROLE_FRAMING;
}

void vd_set_link_part(const vd_set *set, uint16_t part, vd_link *link)
{
    const vd_setting *setting = &set->model->settings[part];
    vd_value value = vd_set_get(set, part);
    if (value.type == VD_NOTHING) {
        return;
    }
    if (setting->role == VD_ROLE_ADDRESS && value.number >= 0 && value.number <= UINT8_MAX) {
        link->address = (uint8_t)value.number;
    } else if (setting->role == VD_ROLE_BAUD) {
        uint32_t baud = value.type == VD_INTEGER ? (uint32_t)value.number : baud_of(choice_name(setting, &value));
        link->line.baud = baud != 0 ? baud : link->line.baud;
    } else if (setting->role == VD_ROLE_FRAMING) {
        vd_framing_parse(choice_name(setting, &value), &link->line);
    }
}

void vd_set_link(const vd_set *set, vd_link *link)
{
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        vd_set_link_part(set, i, link);
    }
}
