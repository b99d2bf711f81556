/* SPDX-License-Identifier: MIT
 * The one table of types: how values of each are parsed, printed and judged. The type_*.c files hold its entries. */
#include "value.h"

static const vd_type_traits *const types[VD_TYPE_COUNT] = {
    [VD_INTEGER] = &vd_type_integer,
    [VD_DECIMAL] = &vd_type_decimal,
    [VD_TRUTH] = &vd_type_truth,
    [VD_CHOICE] = &vd_type_choice,
    [VD_FLAGS] = &vd_type_flags,
    [VD_DURATION] = &vd_type_duration,
    [VD_TIME_OF_DAY] = &vd_type_time_of_day,
    [VD_DATE_TIME] = &vd_type_date_time,
    [VD_CLOCK] = &vd_type_clock,
    [VD_COUNTER] = &vd_type_counter,
    [VD_ZONE] = &vd_type_zone,
    [VD_POSITION] = &vd_type_position,
    [VD_PORT] = &vd_type_port,
    [VD_IPV4] = &vd_type_ipv4,
    [VD_MASK] = &vd_type_mask,
    [VD_GATEWAY] = &vd_type_gateway,
    [VD_IPV6] = &vd_type_ipv6,
    [VD_TEXT] = &vd_type_text,
    [VD_HOST] = &vd_type_host,
    [VD_URL] = &vd_type_url,
    [VD_PHONE] = &vd_type_phone,
    [VD_APN] = &vd_type_apn,
    [VD_IMEI] = &vd_type_imei,
    [VD_ICCID] = &vd_type_iccid,
    [VD_BYTES] = &vd_type_bytes,
    [VD_IDENTIFIER] = &vd_type_identifier,
    [VD_KEY] = &vd_type_key,
};

const vd_type_traits *vd_traits(const vd_setting *setting)
{
    return types[setting->type < VD_TYPE_COUNT && types[setting->type] != NULL ? setting->type : VD_INTEGER];
}

const char *vd_type_name(vd_type type)
{
    return (unsigned)type < VD_TYPE_COUNT && types[type] != NULL ? types[type]->name : "?";
}

const char *vd_type_title(vd_type type)
{
    return (unsigned)type < VD_TYPE_COUNT && types[type] != NULL ? types[type]->title : "nothing";
}

bool vd_type_is_bytes(vd_type type)
{
    return (unsigned)type < VD_TYPE_COUNT && types[type] != NULL && types[type]->bytes;
}

bool vd_type_runs(vd_type type)
{
    return (unsigned)type < VD_TYPE_COUNT && types[type] != NULL && types[type]->runs;
}

bool vd_type_is_placed(vd_type type)
{
    return (unsigned)type < VD_TYPE_COUNT && types[type] != NULL && types[type]->placed;
}

bool vd_type_is_text(vd_type type)
{
    return vd_type_is_bytes(type) && types[type]->print == vd_print_characters;
}

uint16_t vd_type_length(vd_type type)
{
    return (unsigned)type < VD_TYPE_COUNT && types[type] != NULL ? types[type]->length : 0;
}

/* What is wrong with a secret is told without anything of it: neither its length, nor its neighbours, nor a digit. */
static vd_status note_secret(const vd_setting *setting, vd_status status, vd_fault *fault)
{
    char allowed[VD_ALLOWED_SIZE];
    vd_writer writer = vd_writer_start(allowed, sizeof allowed);
    if (status == VD_OK || vd_status_class(status) == VD_CLASS_PARTLY) {
        return status;
    }
    vd_setting_print_allowed(setting, setting->places_from == VD_NONE ? setting->places : VD_NONE, &writer);
    return vd_note_SECRET_WRONG(fault, setting, "", allowed);
}

static vd_status parse(const vd_setting *setting, const char *text, size_t length, vd_typed *typed, vd_fault *fault)
{
    vd_span trimmed = vd_trimmed((vd_span){text, length});
    const vd_type_traits *traits = vd_traits(setting);
    typed->value = (vd_value){.type = setting->type};
    vd_status status = VD_OK;
    if (trimmed.length == 0 && !traits->bytes) {
        status = vd_fault_note_typed(fault, VD_EMPTY, setting, trimmed);
    } else if (trimmed.length == 0 && (setting->least == 0 || setting->or_empty)) { /* nothing typed is an empty text */
        typed->value.text = typed->bytes;
    } else {
        status = traits->parse(setting, trimmed, typed, fault);
    }
    if (status != VD_OK) {
        typed->value = (vd_value){.type = VD_NOTHING};
    }
    return status;
}

vd_status vd_value_parse(const vd_setting *setting, const char *text, size_t length, vd_typed *typed, vd_fault *fault)
{
    return setting->secret ? note_secret(setting, parse(setting, text, length, typed, NULL), fault)
                           : parse(setting, text, length, typed, fault);
}

void vd_value_print(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    if (value->type == VD_NOTHING || value->type != setting->type) {
        vd_writer_add(writer, "not known");
        return;
    }
    vd_traits(setting)->print(setting, value, writer);
}

void vd_value_show(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    if (setting->secret && value->type != VD_NOTHING) {
        vd_writer_add(writer, "(secret)");
        return;
    }
    vd_value_print(setting, value, writer);
}

vd_status vd_value_check(const vd_setting *setting, const vd_value *value, unsigned places, vd_fault *fault)
{
    const vd_type_traits *traits = vd_traits(setting);
    return setting->secret ? note_secret(setting, traits->check(setting, value, places, NULL), fault)
                           : traits->check(setting, value, places, fault);
}

void vd_setting_print_allowed(const vd_setting *setting, unsigned places, vd_writer *writer)
{
    vd_traits(setting)->allowed(setting, places, writer);
}

vd_status vd_fault_note_typed(vd_fault *fault, vd_status status, const vd_setting *setting, vd_span typed)
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
    vd_setting_print_allowed(setting, setting->places_from == VD_NONE ? setting->places : VD_NONE, &to_allowed);
    return vd_fault_note(fault, status, setting, said, allowed);
}

vd_status vd_fault_note_value(vd_fault *fault, vd_status status, const vd_setting *setting, const vd_value *value,
                              unsigned places)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said);
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed);
    vd_value_show(setting, value, &to_said);
    vd_setting_print_allowed(setting, places, &to_allowed);
    return vd_fault_note(fault, status, setting, said, allowed);
}
