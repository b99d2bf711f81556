/* SPDX-License-Identifier: MIT
 * What a value is: equality, and the count by which a unit holds it. */
#include "value_parts.h"

#include <string.h>

void vd_wipe(void *memory, size_t size)
{
    volatile uint8_t *at = memory;
    while (size > 0) {
        at[--size] = 0;
    }
}

bool vd_scale_up(int64_t *number, unsigned places)
{
    for (; places > 0; places--) {
        if (*number > INT64_MAX / 10 || *number < INT64_MIN / 10) {
            return false;
        }
        *number *= 10;
    }
    return true;
}

static vd_value without_trailing_zeros(vd_value value)
{
    while (value.places > 0 && value.number % 10 == 0) {
        value.number /= 10;
        value.places--;
    }
    return value;
}

bool vd_value_equal(const vd_value *a, const vd_value *b)
{
    if (a->type != b->type || a->type == VD_NOTHING) {
        return false;
    }
    if (vd_type_is_bytes((vd_type)a->type)) {
        return a->length == b->length && (a->length == 0 || memcmp(a->text, b->text, a->length) == 0);
    }
    if (a->measure != NULL && b->measure != NULL && !vd_same_text(a->measure, b->measure)) {
        return false;
    }
    if (vd_type_is_placed((vd_type)a->type)) {
        vd_value p = without_trailing_zeros(*a), q = without_trailing_zeros(*b);
        return p.number == q.number && p.places == q.places;
    }
    return a->number == b->number;
}

vd_meaning vd_setting_meaning(const vd_setting *setting)
{
    return (vd_meaning){.of = setting,
                        .measure = setting->measure,
                        .spellings = setting->spellings,
                        .choices = setting->choices,
                        .min = setting->min,
                        .max = setting->max,
                        .step = setting->step,
                        .scale = setting->scale,
                        .offset = setting->offset,
                        .choice_count = setting->choice_count,
                        .places = setting->places,
                        .places_known = vd_index(setting->places_from) == VD_NONE};
}

/* What one count is, in the units of the value's number. */
static int64_t count_size(const vd_meaning *meaning)
{
    int64_t scale = vd_setting_is(meaning->of, VD_TYPE_PLACED) && meaning->scale > 0 ? meaning->scale : 1;
    return vd_setting_is(meaning->of, VD_TYPE_TICKED) ? meaning->of->tick : scale;
}

static vd_value of_counts(const vd_meaning *meaning, int64_t count, int64_t offset)
{
    int64_t size = count_size(meaning);
    if (count > INT64_MAX / size || count < INT64_MIN / size ||
        (offset > 0 ? count * size > INT64_MAX - offset : count * size < INT64_MIN - offset)) {
        return (vd_value){.type = VD_NOTHING};
    }
    vd_value value = {.type = meaning->of->traits->id, .number = count * size + offset};
    if (vd_setting_is(meaning->of, VD_TYPE_PLACED)) {
        value.places = meaning->places;
        value.measure = meaning->of->like_count > 0 && meaning->measure[0] != '\0' ? meaning->measure : NULL;
    }
    return value;
}

vd_value vd_value_from_count(const vd_meaning *meaning, int64_t count)
{
    return of_counts(meaning, count, meaning->offset);
}

vd_value vd_distance_from_counts(const vd_meaning *meaning, int64_t counts)
{
    return of_counts(meaning, counts, 0);
}

const char *vd_choice_name(const vd_setting *setting, int64_t number)
{
    for (uint16_t i = 0; i < setting->choice_count; i++) {
        if (setting->choices[i].number == number) {
            return setting->choices[i].name;
        }
    }
    return NULL;
}

vd_value vd_setting_initial(const vd_setting *setting)
{
    if (setting->initial_text != NULL) {
        return (vd_value){
            .type = setting->traits->id, .text = setting->initial_text, .length = (uint16_t)setting->initial};
    }
    const vd_meaning meaning = vd_setting_meaning(setting);
    return setting->has_initial ? vd_value_from_count(&meaning, setting->initial) : (vd_value){.type = VD_NOTHING};
}

bool vd_count_at_or_below(const vd_meaning *meaning, const vd_value *value, int64_t *count, bool *exact)
{
    int64_t number = value->number, divisor = count_size(meaning), offset = meaning->offset;
    if (value->type == VD_CLOCK && value->number == VD_NOW) {
        return false; /* none until it is known */
    }
    if (vd_setting_is(meaning->of, VD_TYPE_PLACED) && value->places < meaning->places) {
        if (!vd_scale_up(&number, meaning->places - value->places)) {
            return false;
        }
    } else if (vd_setting_is(meaning->of, VD_TYPE_PLACED) && (!vd_scale_up(&divisor, value->places - meaning->places) ||
                                                              !vd_scale_up(&offset, value->places - meaning->places))) {
        return false;
    }
    if (offset > 0 ? number < INT64_MIN + offset : number > INT64_MAX + offset) {
        return false;
    }
    number -= offset;
    *count = number / divisor - (number % divisor < 0);
    *exact = number % divisor == 0;
    return true;
}
