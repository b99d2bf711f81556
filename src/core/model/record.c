/* SPDX-License-Identifier: MIT
 * How long records of units that talk in lines can become: one that no line can hold could be read, and never written.
 */
#include "check.h"

#include <string.h>

static uint32_t digits_of(int64_t number)
{
    uint32_t count = number < 0 ? 2 : 1;
    for (; number >= 10 || number <= -10; number /= 10) {
        count++;
    }
    return count;
}

static uint32_t longer(uint32_t a, uint32_t b)
{
    return a > b ? a : b;
}

/* Characters of the longest value of a setting as it is said. */
static uint32_t longest_value(const vd_setting *s)
{
    uint32_t most = 0;
    if (s->field.saying == VD_SAID_BY_NAME) {
        most = s->type == VD_TRUTH ? 3 : 0;
        for (uint16_t i = 0; i < s->choice_count; i++) {
            most = longer(most, (uint32_t)strlen(s->choices[i].name));
        }
        return most;
    }
    switch ((vd_type)s->type) {
    case VD_INTEGER:
    case VD_PORT:
    case VD_DURATION:
    case VD_TRUTH:
    case VD_CHOICE: return longer(digits_of(s->min), digits_of(s->max));
    case VD_COUNTER:
    case VD_DECIMAL: {
        vd_value low = vd_value_from_count(s, s->min, s->places), high = vd_value_from_count(s, s->max, s->places);
        uint32_t digits = longer(digits_of(low.number), digits_of(high.number));
        return s->field.saying == VD_SAID_IN_COUNTS ? longer(digits_of(s->min), digits_of(s->max))
               : digits > s->places                 ? digits + (s->places > 0)
                                                    : s->places + 3u;
    }
    case VD_FLAGS: return digits_of(((int64_t)2 << s->max) - 1);
    case VD_BYTES:
    case VD_IDENTIFIER:
    case VD_KEY: return 2u * s->length + 2;
    case VD_TIME_OF_DAY: return 8 + 2;
    case VD_DATE_TIME:
    case VD_CLOCK: return 19 + 2;
    case VD_ZONE: return 6 + 2;
    case VD_POSITION: return 26 + 2;
    case VD_IPV4:
    case VD_MASK:
    case VD_GATEWAY: return 15 + 2;
    case VD_IPV6: return 39 + 2;
    default: return s->length + 2u;
    }
}

/* What a line that writes a record has besides its fields and the commas between them. */
static uint32_t longest_frame(const vd_model *model, const vd_field *field)
{
    uint32_t word = (uint32_t)strlen(field->word), item = field->item > 0 ? digits_of(field->item) : 0;
    switch ((vd_speech)model->speech) {
    case VD_COMMANDS: return word + 5 + (item > 0 ? item + 1 : 0); /* AT+WORD=1, and CR */
    case VD_QUERIES: return word + item + 6 + 12;                  /* *CLS;:WORD and ;:SYST:ERR? and LF */
    default: return word + 9 + (uint32_t)strlen(model->lines.talker) + (item > 0 ? item + 1 : 0); /* $TALKER,W, *hh */
    }
}

void vd_judge_lengths(const vd_model *model, const uint16_t *by_field, vd_judge *judge)
{
    uint32_t length = 0;
    for (uint32_t i = 0; i < model->setting_count; i++) {
        const vd_setting *one = &model->settings[by_field[i]];
        const vd_setting *next = i + 1u < model->setting_count ? &model->settings[by_field[i + 1u]] : NULL;
        if (one->field.word == NULL || one->field.word[0] == '\0') {
            continue; /* that has been said */
        }
        length += longest_value(one) + 1;
        if (next != NULL && next->field.word != NULL && vd_field_same_record(&one->field, &next->field)) {
            continue;
        }
        if (one->access != VD_READ_ONLY && length - 1 + longest_frame(model, &one->field) > model->lines.longest) {
            vd_judge_complain(judge, one, VD_IN_PLACE,
                              "is the last field of a record that can be longer than the longest line that "
                              "the unit takes");
        }
        length = 0;
    }
}
