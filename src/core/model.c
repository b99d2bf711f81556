/* SPDX-License-Identifier: MIT
 * Finding one's way in a model. Whether a model is sound is judged in model_check.c. */
#include "verdite/core.h"

#include <string.h>

uint16_t vd_model_find(const vd_model *model, const char *key)
{
    size_t size = strlen(key) + 1;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (strlen(model->settings[i].key) + 1 == size && memcmp(model->settings[i].key, key, size) == 0) {
            return i;
        }
    }
    return VD_NONE;
}

static char small(char c)
{
    return (char)(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
}

uint16_t vd_model_find_group(const vd_model *model, const char *key)
{
    for (uint16_t i = 0; i < model->group_count; i++) {
        size_t k = 0;
        const char *name = model->groups[i].key;
        while (name[k] != '\0' && small(name[k]) == small(key[k])) {
            k++;
        }
        if (name[k] == '\0' && key[k] == '\0') {
            return i;
        }
    }
    return VD_NONE;
}

uint16_t vd_model_find_role(const vd_model *model, vd_role role)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (model->settings[i].role == role) {
            return i;
        }
    }
    return VD_NONE;
}

bool vd_model_gives_places(const vd_model *model, uint16_t setting)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (model->settings[i].places_from == setting) {
            return true;
        }
    }
    return false;
}

void vd_identity_copy(char *text, size_t size, const uint8_t *bytes, size_t count)
{
    size_t used = 0;
    for (; used < count && used + 1 < size; used++) {
        text[used] = (char)(bytes[used] == 0 ? ' ' : bytes[used] < 0x20 || bytes[used] > 0x7E ? '?' : bytes[used]);
    }
    while (used > 0 && text[used - 1] == ' ') {
        used--;
    }
    text[used] = '\0';
}
