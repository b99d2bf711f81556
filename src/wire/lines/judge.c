/* SPDX-License-Identifier: MIT
 * Whether a model of a unit that talks in lines is sound, as far as its words and records go. */
#include "parts.h"

#include <string.h>

static const char *check_field(const vd_model *model, const vd_setting *s)
{
    const vd_field *field = &s->field;
    bool named = s->traits->id == VD_CHOICE || s->traits->id == VD_TRUTH;
    if (field->word != NULL && field->word[0] == ':') {
        return "has a word that begins with a colon, which goes without saying";
    }
    if (!vd_field_is_word(field->word, vd_manner_of(model)->queue && field->item > 0)) {
        return "has no word of capitals, digits, : and _ (with # once for the item's number in queries)";
    }
    if ((field->saying == VD_SAID_BY_NAME && !named) ||
        (field->saying == VD_SAID_IN_COUNTS && !vd_setting_is(s, VD_TYPE_PLACED))) {
        return "is said in a way that does not go with its type";
    }
    return field->number > 63 ? "is field 64 or more of its record" : NULL;
}

const char *vd_lines_judge_setting(const vd_model *model, const vd_setting *setting, vd_where *where)
{
    *where = VD_IN_PLACE;
    return check_field(model, setting);
}

/* ---- Records ---- */

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
        most = s->traits->id == VD_TRUTH ? 3 : 0;
        for (uint16_t i = 0; i < s->choice_count; i++) {
            most = longer(most, (uint32_t)strlen(s->choices[i].name));
        }
        return most;
    }
    switch ((vd_type)s->traits->id) {
    case VD_INTEGER:
    case VD_PORT:
    case VD_DURATION:
    case VD_TRUTH:
    case VD_CHOICE: return longer(digits_of(s->min), digits_of(s->max));
    case VD_COUNTER:
    case VD_DECIMAL: {
        const vd_meaning meaning = vd_setting_meaning(s);
        vd_value low = vd_value_from_count(&meaning, s->min), high = vd_value_from_count(&meaning, s->max);
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

/* What a line that writes a record has besides its fields and the commas between them: the manner's own characters, the
 * word and, where it is said behind it, the item and its comma. */
static uint32_t longest_frame(const vd_model *model, const vd_field *field)
{
    const vd_manner *manner = vd_manner_of(model);
    uint32_t item = field->item > 0 ? digits_of(field->item) : 0, joint = item > 0 && !manner->queue ? 1 : 0;
    return (uint32_t)(strlen(field->word) + strlen(model->lines.talker)) + manner->around_write + item + joint;
}

/* A record that no line can hold could be read, and never written. */
static void judge_lengths(const vd_model *model, const uint16_t *by_field, vd_judge *judge)
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

static bool field_after(const void *about, uint16_t a, uint16_t b)
{
    const vd_model *model = about;
    return vd_field_order(&model->settings[a].field, &model->settings[b].field) > 0;
}

/* A record is written as a whole: so each of its fields is known, can be written, and can be read before. */
static void judge_records(const vd_model *model, uint16_t *by_field, vd_judge *judge)
{
    vd_settings_sort(by_field, model->setting_count, field_after, model);
    for (uint32_t i = 0; i < model->setting_count; i++) {
        const vd_setting *one = &model->settings[by_field[i]];
        const vd_setting *before = i > 0 ? &model->settings[by_field[i - 1]] : NULL;
        if (one->field.word == NULL || one->field.word[0] == '\0') {
            continue; /* that has been said */
        }
        bool same = before != NULL && vd_field_same_record(&before->field, &one->field);
        uint8_t due = same ? (uint8_t)(before->field.number + 1u) : 0;
        if (same && before->field.number == one->field.number) {
            vd_judge_complain(judge, one, VD_IN_PLACE, "shares its field with another setting");
        } else if (one->access != VD_READ_ONLY && one->field.number != due) {
            vd_judge_complain(judge, one, VD_IN_PLACE,
                              "is writable, but a field before it in its record is not described");
        } else if (same && (before->access != one->access || before->read_by != one->read_by ||
                            before->written_by != one->written_by)) {
            vd_judge_complain(judge, one, VD_IN_PLACE, "is not written or read as the other fields of its record are");
        } else if (same && one->access == VD_WRITE_ONLY) {
            vd_judge_complain(judge, one, VD_IN_PLACE, "cannot be read, and so must be alone in its record");
        }
    }
    judge_lengths(model, by_field, judge);
}

/* ---- The model as a whole ---- */

static const char *check_lines(const vd_model *model)
{
    const vd_lines *lines = &model->lines;
    if (lines->longest < 40 || lines->longest > VD_LONGEST_LINE || lines->talker == NULL) {
        return "does not say how long a line it takes, or a wrong length";
    }
    return vd_manner_of(model)->sealed != (lines->talker[0] != '\0')
               ? "has sentences without a talker, or a talker without sentences"
               : NULL;
}

static const char *check_login(const vd_model *model)
{
    const vd_login *login = &model->login;
    bool said = !vd_model_logs_in(model) || (login->order.address == 0 && vd_field_is_word(login->order.word, false));
    return said ? NULL : "has a login without a word of capitals, digits, : and _";
}

static const char *check_store(const vd_model *model)
{
    if (model->store.proof == VD_PROOF_BANK) {
        return "proves storage by a bank, which only units with registers have";
    }
    return model->store.needed && !vd_field_is_word(model->store.order.word, false) ? "does not say which word stores"
                                                                                    : NULL;
}

static const char *check_slots(const vd_model *model)
{
    const vd_slots *slots = &model->slots;
    return slots->count > 0 && slots->saved && !vd_field_is_word(slots->order.word, false)
               ? "does not say which word saves a slot"
               : NULL;
}

static const char *check_actions(const vd_model *model)
{
    for (uint8_t i = 0; i < model->action_count; i++) {
        if (!vd_field_is_word(model->actions[i].order.word, false)) {
            return "has an action without a word of capitals, digits, : and _";
        }
    }
    return NULL;
}

void vd_lines_judge(const vd_model *model, uint16_t *order, vd_judge *judge)
{
    static const struct {
        const char *(*check)(const vd_model *);
        vd_where where;
    } checks[] = {{check_lines, VD_IN_SPEECH},
                  {check_store, VD_IN_STORE},
                  {check_actions, VD_IN_ACTIONS},
                  {check_login, VD_IN_LOGIN},
                  {check_slots, VD_IN_SLOTS}};
    judge_records(model, order, judge);
    for (size_t i = 0; i < sizeof checks / sizeof checks[0]; i++) {
        const char *wrong = checks[i].check(model);
        if (wrong != NULL) {
            vd_judge_complain(judge, NULL, checks[i].where, wrong);
        }
    }
}
