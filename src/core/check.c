/* SPDX-License-Identifier: MIT
 * Judging a value by itself: range, step, choice, length, alphabet. */
#include "value.h"

vd_status vd_fault_note_value(vd_fault *fault, vd_status status, const vd_setting *setting, const vd_value *value,
                              unsigned places)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said);
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed);
    vd_value_print(setting, value, &to_said);
    vd_setting_print_allowed(setting, places, &to_allowed);
    return vd_fault_note(fault, status, setting, said, allowed);
}

/* The fault of a value between two counts names both neighbours, as far as they are in range. */
static vd_status note_between(vd_fault *fault, const vd_setting *setting, const vd_value *value, unsigned places,
                              int64_t below)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said);
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed);
    vd_value low = vd_value_from_count(setting, below, places);
    vd_value high = vd_value_from_count(setting, below + setting->step, places);
    vd_value_print(setting, value, &to_said);
    vd_value_print(setting, &low, &to_allowed);
    vd_writer_add(&to_allowed, " and ");
    vd_value_print(setting, &high, &to_allowed);
    return vd_fault_note(fault, VD_OFF_STEP, setting, said, allowed);
}

vd_status vd_value_to_count(const vd_setting *setting, const vd_value *value, unsigned places, int64_t *count,
                            vd_fault *fault)
{
    bool exact = false;
    if (!vd_count_at_or_below(setting, value, places, count, &exact)) {
        return vd_fault_note_value(fault, VD_OUT_OF_RANGE, setting, value, places);
    }
    return exact ? VD_OK : note_between(fault, setting, value, places, *count);
}

static vd_status check_number(const vd_setting *setting, const vd_value *value, unsigned places, vd_fault *fault)
{
    int64_t count = 0;
    bool exact = false;
    if (!vd_count_at_or_below(setting, value, places, &count, &exact) || count < setting->min || count > setting->max ||
        (count == setting->max && !exact)) {
        return vd_fault_note_value(fault, VD_OUT_OF_RANGE, setting, value, places);
    }
    int64_t over = (count - setting->min) % setting->step;
    return over == 0 && exact ? VD_OK : note_between(fault, setting, value, places, count - over);
}

static vd_status check_choice(const vd_setting *setting, const vd_value *value, vd_fault *fault)
{
    for (uint16_t i = 0; i < setting->choice_count; i++) {
        if (setting->choices[i].number == value->number) {
            return VD_OK;
        }
    }
    return vd_fault_note_value(fault, VD_NOT_A_CHOICE, setting, value, 0);
}

static vd_status check_text(const vd_setting *setting, const vd_value *value, vd_fault *fault)
{
    vd_status status = VD_OK;
    int32_t number[2] = {value->length, setting->length};
    if (value->length > setting->length) {
        status = VD_TEXT_TOO_LONG;
    }
    for (uint16_t i = 0; i < value->length && status == VD_OK; i++) {
        if (value->text[i] < 0x20 || value->text[i] > 0x7E) {
            status = VD_TEXT_ALPHABET;
            number[0] = i + 1;
        }
    }
    if (status != VD_OK && (fault == NULL || fault->status == VD_OK)) {
        vd_fault_note_value(fault, status, setting, value, 0);
        if (fault != NULL) {
            fault->number[0] = number[0];
            fault->number[1] = number[1];
        }
    }
    return status;
}

vd_status vd_value_check(const vd_setting *setting, const vd_value *value, unsigned places, vd_fault *fault)
{
    switch ((vd_type)setting->type) {
    case VD_TEXT: return check_text(setting, value, fault);
    case VD_CHOICE: return check_choice(setting, value, fault);
    case VD_TRUTH: return VD_OK;
    case VD_INTEGER:
    case VD_DECIMAL:
    case VD_DURATION: return check_number(setting, value, places, fault);
    case VD_NOTHING:
    case VD_TYPE_COUNT: break;
    }
    return VD_OK;
}
