/* SPDX-License-Identifier: MIT
 * Finding one's way in a model. Whether a model is sound is judged in check.c. */
#include "../text/span.h"
#include "ways.h"
#include "verdite/compiled.h"
#include "verdite/model_questions.h"

#include <string.h>

static int compare(const char *a, const char *b)
{
    while (*a != '\0' && *a == *b) {
        a++, b++;
    }
    return (unsigned char)*a - (unsigned char)*b;
}

uint16_t vd_model_find(const vd_model *model, const char *key)
{
    uint32_t low = 0, high = model->setting_count;
    if (model->book == NULL || model->book->by_key == NULL) {
        for (uint16_t i = 0; i < model->setting_count; i++) {
            if (vd_same_text(model->settings[i].words->key, key)) {
                return i;
            }
        }
        return VD_NONE;
    }
    while (low < high) {
        uint32_t middle = (low + high) / 2;
        int order = compare(model->settings[model->book->by_key[middle]].words->key, key);
        if (order == 0) {
            return model->book->by_key[middle];
        }
        order < 0 ? (low = middle + 1) : (high = middle);
    }
    return VD_NONE;
}

bool vd_model_has_address(const vd_model *model)
{
    return model->language->has_address;
}

bool vd_model_has_check(const vd_model *model)
{
    return model->language->has_check;
}

bool vd_model_has_broadcast(const vd_model *model)
{
    return model->language->speech->broadcasts != NULL;
}

bool vd_model_broadcasts(const vd_model *model, uint16_t setting)
{
    return vd_model_has_broadcast(model) && model->language->speech->broadcasts(model, setting);
}

bool vd_model_writes_together(const vd_model *model, uint16_t a, uint16_t b)
{
    return model->language->speech->writes_together(model, a, b);
}

uint16_t vd_model_running_time(const vd_model *model)
{
    uint16_t running = vd_index(model->running);
    bool told = running < model->setting_count && model->settings[running].traits->id == VD_DURATION &&
                model->settings[running].access == VD_READ_ONLY;
    return told ? running : VD_NONE;
}

bool vd_model_logs_in(const vd_model *model)
{
    return model->login.order.word != NULL || model->login.order.address != 0;
}

uint16_t vd_model_witness(const vd_model *model)
{
    for (uint16_t i = 0; i < model->setting_count && vd_model_logs_in(model); i++) {
        const vd_setting *setting = &model->settings[i];
        if (setting->read_by == VD_FITTER && vd_setting_is_shown(setting) && !setting->conditional) {
            return i;
        }
    }
    return VD_NONE;
}

bool vd_model_shows_restart(const vd_model *model)
{
    bool says = model->listening.says != NULL && model->listening.says[0] != '\0';
    return vd_model_running_time(model) != VD_NONE || model->undoes != VD_UNDOES_NOTHING ||
           (says && model->restart_time > 0);
}

bool vd_model_names_answers(const vd_model *model)
{
    return model->language->names_answers;
}

bool vd_setting_restarts(const vd_setting *setting)
{
    return vd_causes_find(&setting->causes, VD_EFFECT_RESTART) != NULL;
}

bool vd_setting_is_own(const vd_setting *setting)
{
    bool own = setting->own || setting->role == VD_ROLE_ADDRESS || setting->role == VD_ROLE_NAME ||
               setting->traits->id == VD_COUNTER;
    return setting->among == VD_AMONG_UNIQUE || (own && setting->among != VD_AMONG_SHARED);
}

bool vd_setting_is_shown(const vd_setting *setting)
{
    return setting->access != VD_WRITE_ONLY && setting->read_by != VD_MAKER;
}

uint16_t vd_model_find_group(const vd_model *model, const char *key)
{
    for (uint16_t i = 0; i < model->group_count; i++) {
        if (vd_same_word((vd_span){key, strlen(key)}, model->groups[i].key)) {
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

const vd_action *vd_model_restart(const vd_model *model)
{
    for (uint8_t i = 0; i < model->action_count; i++) {
        if (model->actions[i].deed == VD_DEED_RESTART) {
            return &model->actions[i];
        }
    }
    return NULL;
}

uint16_t vd_model_variant(const vd_model *model, const vd_identity *identity)
{
    for (uint16_t i = 0; i < model->variant_count; i++) {
        if (vd_same_text(model->variants[i].product, identity->product)) {
            return i;
        }
    }
    return VD_NONE;
}

bool vd_model_fits(const vd_model *model, const vd_identity *identity)
{
    return vd_same_text(model->identify.maker, identity->maker) &&
           (vd_same_text(model->identify.product, identity->product) || vd_model_variant(model, identity) != VD_NONE);
}

/* Whether one of the words behind one another in `words` is this one. */
static bool has_word(const char *words, vd_span word)
{
    while (*words != '\0') {
        size_t length = 0;
        while (words[length] != '\0' && words[length] != ' ') {
            length++;
        }
        if (length == word.length && memcmp(words, word.at, length) == 0) {
            return true;
        }
        words += length + (words[length] == ' ');
    }
    return false;
}

vd_status vd_model_meets(const vd_model *model, uint16_t variant, const char *requirement, bool *meets, vd_fault *fault)
{
    vd_span key = {requirement, 0}, rest = {requirement, strlen(requirement)};
    uint32_t number = 0;
    while (key.length < rest.length && rest.at[key.length] != '=' && rest.at[key.length] != '>') {
        key.length++;
    }
    rest.at += key.length;
    rest.length -= key.length;
    bool at_least = vd_take_char(&rest, '>'), equals = vd_take_char(&rest, '=');
    vd_span digits = rest;
    bool counted = vd_take_whole(&digits, UINT32_MAX - 1, &number, NULL) && digits.length == 0;
    if (vd_trimmed(key).length == 0 || at_least != (at_least && equals && counted) || (equals && rest.length == 0)) {
        return vd_note_NO_SUCH_KEY(
            fault, requirement, "A requirement is KEY, KEY=WORD or KEY>=NUMBER, such as supply=battery or inputs>=2.");
    }
    *meets = false;
    for (uint16_t i = 0; i < model->ability_count; i++) {
        const vd_ability *ability = &model->abilities[i];
        bool has = ability->variant == NULL ||
                   (variant < model->variant_count && vd_same_text(model->variants[variant].key, ability->variant));
        if (!has || !vd_same_word(vd_trimmed(key), ability->key)) {
            continue;
        }
        bool words = ability->words[0] != '\0';
        bool one = at_least ? !words && ability->number >= number
                   : equals ? (words ? has_word(ability->words, rest) : counted && ability->number == number)
                            : words || ability->number > 0;
        *meets = *meets || one;
    }
    return VD_OK;
}

uint32_t vd_firmware_parse(const char *text)
{
    vd_span rest = {text, strlen(text)};
    uint32_t parts[3] = {0, 0, 0};
    unsigned count = 0;
    if (!vd_take_char(&rest, 'v')) {
        vd_take_char(&rest, 'V');
    }
    do {
        if (!vd_take_whole(&rest, 999, &parts[count++], NULL)) {
            return 0;
        }
    } while (count < 3 && vd_take_char(&rest, '.'));
    return (parts[0] * 1000 + parts[1]) * 1000 + parts[2]; /* what stands behind, such as "-beta", does not count */
}

void vd_firmware_print(uint32_t firmware, vd_writer *writer)
{
    vd_writer_add_number(writer, firmware / 1000000);
    vd_writer_add(writer, ".");
    vd_writer_add_number(writer, firmware / 1000 % 1000);
    if (firmware % 1000 != 0) {
        vd_writer_add(writer, ".");
        vd_writer_add_number(writer, firmware % 1000);
    }
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

void vd_identity_take_serial(vd_identity *identity, const uint8_t *bytes, size_t count)
{
    vd_writer writer = vd_writer_start(identity->serial, sizeof identity->serial);
    while (count > 0 && (bytes[count - 1] == 0 || bytes[count - 1] == ' ')) {
        count--;
    }
    for (size_t i = 0; i < count; i++) {
        static const char digits[] = "0123456789ABCDEF";
        bool plain = bytes[i] >= ' ' && bytes[i] < 0x7F && bytes[i] != '<';
        const char escaped[] = {'<', digits[bytes[i] >> 4], digits[bytes[i] & 15u], '>'};
        vd_writer_add_bytes(&writer, plain ? (const char *)&bytes[i] : escaped, plain ? 1 : sizeof escaped);
    }
}

bool vd_identity_is_cut(const vd_identity *identity)
{
    return strlen(identity->serial) > VD_SERIAL_MOST;
}
