/* SPDX-License-Identifier: MIT
 * What a unit holds from the factory: the defaults of its model; and where the model gives none, the least that will
 * do, so that every unit can be played.
 */
#include "parts.h"

/* A text that will do: an example, or as many of the first character as are needed. */
static uint16_t least_text(const vd_setting *setting, char *text)
{
    uint16_t length = 0;
    char first = '0';
    if (setting->alphabet != NULL) {
        first = setting->alphabet[0];
    }
    if (setting->words->example != NULL) {
        while (length < setting->length && setting->words->example[length] != '\0') {
            text[length] = setting->words->example[length];
            length++;
        }
        return length;
    }
    bool characters = vd_setting_is(setting, VD_TYPE_TEXT);
    while (length < setting->least && !(setting->or_empty && characters)) {
        text[length++] = (char)(characters ? first : '\0');
    }
    return length;
}

static vd_value least(const vd_meaning *meaning, char *text)
{
    const vd_setting *setting = meaning->of;
    vd_value value = {.type = setting->traits->id, .text = text};
    if (vd_setting_is(setting, VD_TYPE_BYTES)) {
        value.length = least_text(setting, text);
        return value;
    }
    switch ((vd_type)setting->traits->id) {
    case VD_CHOICE: value.number = meaning->choice_count > 0 ? meaning->choices[0].number : 0; break;
    case VD_POSITION:
    case VD_FLAGS: value.number = 0; break;
    default: return vd_value_from_count(meaning, meaning->min);
    }
    return value;
}

void vd_unit_as_new(vd_set *bank)
{
    const vd_model *model = bank->model;
    vd_set_put_initial(bank);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        char text[VD_MOST_BYTES];
        vd_meaning meaning;
        vd_value initial = vd_set_initial(bank, i);
        if (initial.type == VD_NOTHING) {
            vd_set_meaning(bank, i, &meaning);
            vd_value value = least(&meaning, text);
            vd_set_put(bank, i, &value);
        }
    }
    vd_set_reinterpret(bank);
}
