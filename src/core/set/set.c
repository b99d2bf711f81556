/* SPDX-License-Identifier: MIT
 * Sets: one value, or none, for each setting of a model, in a buffer of the caller's. The buffer holds a slot for
 * each setting, then the bytes of all texts, then what was heard that is no value. */
#include "slot.h"

#include <string.h>

/* What was heard that is no value: for each such setting its index in two bytes, a length, and so many characters. */
typedef struct odd_texts {
    uint16_t used;
    uint8_t bytes[126];
} odd_texts;
enum { ODD_HEAD = 3 };

static bool is_bytes(const vd_model *model, uint16_t setting)
{
    const vd_type_traits *traits = model->settings[setting].traits;
    return traits != NULL && (traits->is & VD_TYPE_BYTES) != 0; /* none: preparing says so */
}

_Static_assert(sizeof(slot) == 16 && sizeof(odd_texts) == VD_SET_ODD, "VD_SET_SIZE() says so");

/* Only what is said in words can be heard as something else than a value. */
static bool has_odd(const vd_model *model)
{
    return model->setting_count > 0 && model->settings[0].field.word != NULL &&
           model->settings[0].field.word[0] != '\0';
}

size_t vd_set_size(const vd_model *model)
{
    size_t bytes = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        bytes += is_bytes(model, i) ? model->settings[i].length : 0;
    }
    return VD_SET_SIZE(model->setting_count, bytes, has_odd(model) ? VD_SET_ODD : 0u);
}

static odd_texts *odds(const vd_set *set)
{
    return (odd_texts *)(void *)((uint8_t *)set->memory + vd_set_size(set->model) - sizeof(odd_texts));
}

/* Where the text of a setting begins, with its head; `used` where there is none. */
static size_t find_odd(const odd_texts *odd, uint16_t setting)
{
    size_t at = 0;
    while (at < odd->used && (odd->bytes[at] != setting % 256 || odd->bytes[at + 1] != setting / 256)) {
        at += ODD_HEAD + odd->bytes[at + 2];
    }
    return at;
}

static void drop_odd(vd_set *set, uint16_t setting)
{
    if (slots(set)[setting].odd) {
        odd_texts *odd = odds(set);
        size_t at = find_odd(odd, setting), size = ODD_HEAD + odd->bytes[at + 2];
        memmove(odd->bytes + at, odd->bytes + at + size, odd->used - at - size);
        odd->used = (uint16_t)(odd->used - size);
        slots(set)[setting].odd = false;
    }
}

bool vd_set_put_odd(vd_set *set, uint16_t setting, const char *text, size_t length)
{
    vd_set_forget(set, setting);
    odd_texts *odd = odds(set);
    bool fits = has_odd(set->model) && length <= VD_MOST_ODD && odd->used + ODD_HEAD + length <= sizeof odd->bytes;
    for (size_t i = 0; i < length && fits; i++) {
        fits = text[i] >= 0x20 && text[i] <= 0x7E;
    }
    if (fits) {
        uint8_t *at = odd->bytes + odd->used;
        at[0] = (uint8_t)(setting % 256);
        at[1] = (uint8_t)(setting / 256);
        at[2] = (uint8_t)length;
        memcpy(at + ODD_HEAD, text, length);
        odd->used = (uint16_t)(odd->used + ODD_HEAD + length);
        slots(set)[setting].odd = true;
    }
    return fits;
}

const char *vd_set_odd(const vd_set *set, uint16_t setting, size_t *length)
{
    if (!slots(set)[setting].odd) {
        return NULL;
    }
    const uint8_t *at = odds(set)->bytes + find_odd(odds(set), setting);
    *length = at[2];
    return (const char *)at + ODD_HEAD;
}

vd_status vd_set_start(vd_set *set, const vd_model *model, void *memory, size_t size)
{
    if (size < vd_set_size(model)) {
        return VD_MEMORY_TOO_SMALL;
    }
    *set = (vd_set){.model = model, .memory = memory, .variant = VD_NONE};
    memset(memory, 0, vd_set_size(model));
    int64_t text = (int64_t)(sizeof(slot) * model->setting_count);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (is_bytes(model, i)) {
            slots(set)[i].number = text;
            text += model->settings[i].length;
        }
    }
    return VD_OK;
}

static char *text_of(const vd_set *set, uint16_t setting)
{
    return (char *)set->memory + slots(set)[setting].number;
}

vd_value vd_set_get(const vd_set *set, uint16_t setting)
{
    uint8_t type = set->model->settings[setting].traits->id;
    if (set->memory == NULL || slots(set)[setting].known == 0) {
        return (vd_value){.type = VD_NOTHING};
    }
    const slot *s = &slots(set)[setting];
    if (is_bytes(set->model, setting)) {
        return (vd_value){.type = type, .length = s->length, .text = text_of(set, setting)};
    }
    const vd_setting *about = &set->model->settings[setting];
    const char *measure = s->like > 0 ? about->like[s->like - 1].of->measure : NULL;
    return (vd_value){.type = type, .places = s->places, .number = s->number, .measure = measure};
}

/* Which of those that a setting can be like has this unit of measure, from 1; 0: none. */
static uint8_t like_with(const vd_setting *about, const char *measure)
{
    for (uint16_t i = 0; i < about->like_count && measure != NULL; i++) {
        if (vd_same_text(about->like[i].of->measure, measure)) {
            return (uint8_t)(i + 1u);
        }
    }
    return 0;
}

void vd_set_put(vd_set *set, uint16_t setting, const vd_value *value)
{
    slot *s = &slots(set)[setting];
    const vd_setting *about = &set->model->settings[setting];
    drop_odd(set, setting);
    s->known = value->type == about->traits->id;
    if (!s->known) {
        return;
    }
    if (is_bytes(set->model, setting)) {
        s->length = value->length < about->length ? value->length : about->length;
        if (s->length > 0) { /* an empty text need not point anywhere */
            memmove(text_of(set, setting), value->text, s->length);
        }
    } else {
        s->number = value->number;
        s->places = value->places;
        s->like = like_with(about, value->measure);
    }
}

void vd_set_forget(vd_set *set, uint16_t setting)
{
    drop_odd(set, setting);
    slots(set)[setting].known = 0;
}

bool vd_set_knows(const vd_set *set, uint16_t setting)
{
    return slots(set)[setting].known != 0;
}

bool vd_set_heard(const vd_set *set, uint16_t setting)
{
    return slots(set)[setting].known != 0 || slots(set)[setting].odd;
}

void vd_set_copy(vd_set *to, const vd_set *from)
{
    memcpy(to->memory, from->memory, vd_set_size(from->model));
    to->variant = from->variant;
    to->firmware = from->firmware;
    to->moment = from->moment.known ? from->moment : to->moment;
}

void vd_set_overlay(vd_set *to, const vd_set *from)
{
    for (uint16_t i = 0; i < from->model->setting_count; i++) {
        if (vd_set_knows(from, i)) {
            vd_value value = vd_set_get(from, i);
            vd_set_put(to, i, &value);
        }
    }
}

void vd_set_tell_time(vd_set *set, const vd_moment *moment)
{
    set->moment = *moment;
}

bool vd_set_now(const vd_set *set, uint16_t clock, int64_t *seconds)
{
    const vd_setting *about = &set->model->settings[clock];
    int64_t zone = about->zone == VD_ZONE_HERE ? set->moment.zone : about->zone;
    if (vd_index(about->zone_from) != VD_NONE) {
        vd_value value = vd_set_get(set, vd_index(about->zone_from));
        zone = value.number;
        if (value.type != VD_ZONE) {
            return false;
        }
    }
    *seconds = set->moment.seconds + zone * 60;
    return set->moment.known;
}

/* A clock that is to show what time it is, as what it should show. */
static vd_value at_moment(const vd_set *set, uint16_t setting, const vd_moment *moment)
{
    vd_set at = *set;
    vd_value value = vd_set_get(set, setting);
    at.moment = *moment;
    if (value.type == VD_CLOCK && value.number == VD_NOW) {
        vd_set_now(&at, setting, &value.number);
    }
    return value;
}

/* Whether one of two clocks is to show what time it is, and the other one does. */
static bool shows_now(const vd_set *a, const vd_set *b, uint16_t setting)
{
    vd_value first = vd_set_get(a, setting), second = vd_set_get(b, setting);
    if (first.type != VD_CLOCK || second.type != VD_CLOCK || (first.number == VD_NOW) == (second.number == VD_NOW)) {
        return false;
    }
    const vd_moment *moment = b->moment.known ? &b->moment : &a->moment;
    first = at_moment(a, setting, moment);
    second = at_moment(b, setting, moment);
    bool known = first.number != VD_NOW && second.number != VD_NOW;
    int64_t off = known ? first.number - second.number : 0;
    return known && (off < 0 ? -off : off) <= a->model->settings[setting].tolerance;
}

void vd_set_tell_unit(vd_set *set, const vd_identity *identity)
{
    set->variant = vd_model_variant(set->model, identity);
    set->firmware = vd_firmware_parse(identity->firmware);
}

vd_comparison vd_set_compare(const vd_set *a, const vd_set *b, uint16_t setting)
{
    vd_value first = vd_set_get(a, setting), second = vd_set_get(b, setting);
    size_t first_length = 0, second_length = 0;
    const char *first_odd = vd_set_odd(a, setting, &first_length), *second_odd = vd_set_odd(b, setting, &second_length);
    bool in_first = first.type != VD_NOTHING || first_odd != NULL;
    bool in_second = second.type != VD_NOTHING || second_odd != NULL;
    if (!in_first || !in_second) {
        return in_first ? VD_ONLY_FIRST : in_second ? VD_ONLY_SECOND : VD_IN_NEITHER;
    }
    if (first_odd != NULL && second_odd != NULL) {
        bool same = first_length == second_length && memcmp(first_odd, second_odd, first_length) == 0;
        return same ? VD_SAME : VD_DIFFERENT;
    }
    return vd_value_equal(&first, &second) || shows_now(a, b, setting) ? VD_SAME : VD_DIFFERENT;
}
