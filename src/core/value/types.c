/* SPDX-License-Identifier: MIT
 * The types, from the one list of them: bare and with words, and values parsed, printed and judged through them. */
#include "value_parts.h"

#include <string.h>

#define BARE(name, id, check, length, is)                                                                              \
    const vd_type_traits vd_bare_##name = {vd_check_##check, NULL, VD_##id, is, length};
#define FULL(name, id, check, length, is)                                                                              \
    const vd_type_traits vd_type_##name = {vd_check_##check, &vd_words_##name, VD_##id, is, length};
VD_TYPE_LIST(BARE)
BARE(plain_text, TEXT, plain_text, 0, VD_TYPE_BYTES | VD_TYPE_TEXT)
VD_TYPE_LIST(FULL)

#define ENTRY(name, id, check, length, is) [VD_##id] = &vd_type_##name,
static const vd_type_traits *const types[VD_TYPE_COUNT] = {VD_TYPE_LIST(ENTRY)};

const vd_type_traits *vd_type_of(vd_type type)
{
    return (unsigned)type < VD_TYPE_COUNT ? types[type] : NULL;
}

const char *vd_type_name(vd_type type)
{
    const vd_type_traits *traits = vd_type_of(type);
    return traits != NULL ? traits->words->name : "?";
}

const char *vd_type_title(vd_type type)
{
    const vd_type_traits *traits = vd_type_of(type);
    return traits != NULL ? traits->words->title : "nothing";
}

/* What is wrong with a secret is told without anything of it: neither its length, nor its neighbours, nor a digit. */
static vd_status note_secret(const vd_meaning *meaning, vd_status status, vd_fault *fault)
{
    char allowed[VD_ALLOWED_SIZE];
    vd_writer writer = vd_writer_start(allowed, sizeof allowed);
    if (status == VD_OK || vd_status_class(status) == VD_CLASS_PARTLY) {
        return status;
    }
    vd_meaning_print(meaning, &writer);
    return vd_note_SECRET_WRONG(fault, meaning->of, "", allowed);
}

/* Without words a text is taken as it is, bytes are hexadecimal and digits a number. */
static vd_status take_bare(const vd_meaning *meaning, vd_span typed, vd_typed *into)
{
    uint32_t number = 0;
    if (vd_setting_is(meaning->of, VD_TYPE_TEXT) && typed.length <= sizeof into->bytes) {
        memcpy(into->bytes, typed.at, typed.length);
        into->value.text = into->bytes;
        into->value.length = (uint16_t)typed.length;
        return VD_OK;
    }
    if (vd_setting_is(meaning->of, VD_TYPE_BYTES)) {
        int count = vd_take_bytes(typed, into->bytes, sizeof into->bytes);
        into->value.text = into->bytes;
        into->value.length = (uint16_t)count;
        return count >= meaning->of->least && count <= meaning->of->length ? VD_OK : VD_WRONG_FORM;
    }
    bool whole = vd_take_whole(&typed, UINT32_MAX - 1, &number, NULL) && typed.length == 0;
    into->value.number = number;
    return whole ? VD_OK : VD_NOT_A_NUMBER;
}

static vd_status parse(const vd_meaning *meaning, const char *text, size_t length, vd_typed *typed, vd_fault *fault)
{
    vd_span trimmed = vd_trimmed((vd_span){text, length});
    bool bytes = vd_setting_is(meaning->of, VD_TYPE_BYTES);
    typed->value = (vd_value){.type = meaning->of->traits->id};
    vd_status status = VD_OK;
    if (trimmed.length == 0 && !bytes) {
        status = vd_fault_note_typed(fault, VD_EMPTY, meaning, trimmed);
    } else if (trimmed.length == 0 &&
               (meaning->of->least == 0 || meaning->of->or_empty)) { /* nothing typed is an empty text */
        typed->value.text = typed->bytes;
    } else {
        status = meaning->of->traits->words != NULL ? meaning->of->traits->words->parse(meaning, trimmed, typed, fault)
                                                    : take_bare(meaning, trimmed, typed);
    }
    if (status != VD_OK) {
        typed->value = (vd_value){.type = VD_NOTHING};
    }
    return status;
}

vd_status vd_value_parse(const vd_meaning *meaning, const char *text, size_t length, vd_typed *typed, vd_fault *fault)
{
    return meaning->of->secret ? note_secret(meaning, parse(meaning, text, length, typed, NULL), fault)
                               : parse(meaning, text, length, typed, fault);
}

void vd_value_print(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    if (value->type == VD_NOTHING || value->type != setting->traits->id) {
        vd_writer_add(writer, "not known");
        return;
    }
    if (setting->traits->words != NULL) {
        setting->traits->words->print(setting, value, writer);
    } else if (vd_setting_is(setting, VD_TYPE_BYTES)) {
        vd_writer_add_bytes(writer, value->text, value->length);
    } else {
        vd_writer_add_decimal(writer, value->number, value->places);
    }
}

void vd_value_show(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    if (setting->secret && value->type != VD_NOTHING) {
        vd_writer_add(writer, "(secret)");
        return;
    }
    vd_value_print(setting, value, writer);
}

vd_status vd_value_check(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    const vd_type_traits *traits = meaning->of->traits;
    return meaning->of->secret ? note_secret(meaning, traits->check(meaning, value, NULL), fault)
                               : traits->check(meaning, value, fault);
}

vd_status vd_setting_parse(const vd_setting *setting, const char *text, size_t length, vd_typed *typed, vd_fault *fault)
{
    const vd_meaning meaning = vd_setting_meaning(setting);
    return vd_value_parse(&meaning, text, length, typed, fault);
}

vd_status vd_setting_check(const vd_setting *setting, const vd_value *value, vd_fault *fault)
{
    const vd_meaning meaning = vd_setting_meaning(setting);
    return vd_value_check(&meaning, value, fault);
}

void vd_meaning_print(const vd_meaning *meaning, vd_writer *writer)
{
    if (meaning->of->traits->words != NULL) {
        meaning->of->traits->words->allowed(meaning, writer);
    }
}

vd_status vd_fault_note_typed(vd_fault *fault, vd_status status, const vd_meaning *meaning, vd_span typed)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said);
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed);
    if (typed.length < sizeof said) {
        vd_writer_add_bytes(&to_said, typed.at, typed.length);
    } else {
        vd_writer_add_bytes(&to_said, typed.at, sizeof said - 8);
        vd_writer_add(&to_said, "...");
    }
    vd_meaning_print(meaning, &to_allowed);
    return vd_fault_note(fault, status, meaning->of, said, allowed);
}

vd_status vd_fault_note_value(vd_fault *fault, vd_status status, const vd_meaning *meaning, const vd_value *value)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said);
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed);
    vd_value_show(meaning->of, value, &to_said);
    vd_meaning_print(meaning, &to_allowed);
    return vd_fault_note(fault, status, meaning->of, said, allowed);
}
