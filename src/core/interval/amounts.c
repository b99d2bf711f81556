/* SPDX-License-Identifier: MIT
 * What the formulas of intervals give with the values of a set. */
#include "parts.h"
#include "../expression/expression.h"

#include <string.h>

#define LIGHT 299792458000 /* mm/s: nothing is as fast; of degrees it will do */

/* Ways and speeds are counted in millimetres. */
static bool is_way(const vd_model *model, const vd_dimension *dimension)
{
    vd_measure metre = vd_measure_find(model, "m"), speed = vd_measure_find(model, "m/s");
    return vd_dimension_equal(dimension, &metre.dimension) || vd_dimension_equal(dimension, &speed.dimension);
}

vd_amount vd_intervals_amount(const vd_set *set, uint16_t formula)
{
    const vd_term *term = &set->model->book->formulas[set->model->intervals->formula + formula];
    vd_result result = vd_run(set, NULL, &term->code, 0);
    vd_amount amount = {result.ratio, result.none ? VD_AMOUNT_NONE : VD_AMOUNT_NOT_KNOWN};
    bool way = is_way(set->model, &term->kind.dimension);
    if (result.known && (!way || vd_ratio_multiply(result.ratio, (vd_ratio){1000, 1}, &amount.ratio))) {
        amount.state = VD_AMOUNT_KNOWN;
    }
    return amount;
}

void vd_intervals_amounts(const vd_set *set, vd_amount *amounts)
{
    const vd_intervals *intervals = set->model->intervals;
    for (uint16_t k = 0; intervals != NULL && k < intervals->formula_count; k++) {
        amounts[k] = vd_intervals_amount(set, k);
    }
}

bool vd_intervals_alike(const vd_model *model, vd_ref a, vd_ref b)
{
    const vd_term *terms = &model->book->formulas[model->intervals->formula];
    return vd_dimension_equal(&terms[vd_index(a)].kind.dimension, &terms[vd_index(b)].kind.dimension);
}

size_t vd_decimal_read(const char *text, size_t length, vd_ratio *number)
{
    vd_value value;
    size_t digits = 0, taken = vd_take_number((vd_span){text, length}, &value, &digits);
    int64_t below = 1;
    bool fine = taken > 0 && digits <= 15 && value.places <= 9 && vd_scale_up(&below, value.places) &&
                vd_ratio_make(value.number, below, number);
    return fine ? taken : 0;
}

/* A number and its unit, all of a text, in base units. */
static bool read_measured(const vd_model *model, const char *text, size_t length, vd_ratio *number, vd_dimension *of)
{
    const char *sign = "";
    size_t at = vd_decimal_read(text, length, number);
    at += at > 0 && at < length && text[at] == ' ';
    bool whole = at > 0 && (at == length || vd_measure_at(model, text + at, length - at, &sign) == length - at);
    vd_measure measure = vd_measure_find(model, sign);
    *of = measure.dimension;
    return whole && vd_ratio_multiply(*number, measure.scale, number);
}

/* What a number of a stretch is measured in; false: nothing is compared with this quantity. */
static bool is_measured_in(const vd_model *model, vd_gives gives, uint16_t quantity, vd_dimension *dimension)
{
    const vd_intervals *intervals = model->intervals;
    for (uint16_t i = 0; i < intervals->item_count && gives == VD_GIVES_NUMBER; i++) {
        const vd_item *item = &intervals->items[i];
        if (item->kind == VD_ITEM_COMPARE && item->compared == VD_COMPARED_QUANTITY && item->input == quantity) {
            *dimension = model->book->formulas[intervals->formula + vd_index(item->amount)].kind.dimension;
            return true;
        }
    }
    vd_measure measure = vd_measure_find(model, gives == VD_GIVES_SPEED ? "m/s" : "°");
    *dimension = measure.dimension;
    return gives != VD_GIVES_NUMBER;
}

bool vd_intervals_read(const vd_model *model, vd_gives gives, uint16_t quantity, const char *text, size_t length,
                       vd_ratio *number)
{
    vd_dimension wanted, typed;
    bool fine = is_measured_in(model, gives, quantity, &wanted) && read_measured(model, text, length, number, &typed) &&
                vd_dimension_equal(&typed, &wanted) &&
                vd_ratio_multiply(*number, (vd_ratio){is_way(model, &wanted) ? 1000 : 1, 1}, number);
    return fine && (gives == VD_GIVES_NUMBER || vd_intervals_can_be(*number));
}

void vd_intervals_say(const vd_model *model, vd_gives gives, uint16_t quantity, vd_ratio number, vd_writer *writer)
{
    vd_dimension of;
    bool measured = is_measured_in(model, gives, quantity, &of), speed = gives == VD_GIVES_SPEED;
    vd_ratio by = speed ? (vd_ratio){18, 5000} : (vd_ratio){1, measured && is_way(model, &of) ? 1000 : 1};
    if (!vd_ratio_multiply(number, by, &number)) {
        return;
    }
    vd_ratio_print(number, writer);
    if (speed) {
        vd_writer_add(writer, " km/h");
    } else if (measured && !vd_dimension_none(&of)) {
        vd_writer_add(writer, " ");
        vd_dimension_print(&of, writer);
    }
}

bool vd_intervals_show(const vd_model *model, uint16_t setting)
{
    bool shows = false;
    for (uint16_t i = 0; model->intervals != NULL && i < model->intervals->shown_count; i++) {
        shows = shows || model->intervals->shown[i].setting == setting;
    }
    return shows;
}

bool vd_intervals_can_be(vd_ratio number)
{
    return number.number >= 0 && number.number / number.below < LIGHT;
}

vd_amount vd_amount_of(const vd_course_plan *plan, vd_ref formula)
{
    return vd_index(formula) != VD_NONE ? plan->amounts[vd_index(formula)] : (vd_amount){{0, 1}, VD_AMOUNT_NONE};
}

vd_amount vd_count_of_events(const vd_counter *counter, vd_amount amount)
{
    if (counter->adds == VD_ADDS_EVENTS && amount.state == VD_AMOUNT_KNOWN) {
        amount.ratio = (vd_ratio){amount.ratio.number / amount.ratio.below, 1};
    }
    return amount;
}

vd_amount vd_value_of_case(const vd_course_plan *plan, const vd_counter *counter, unsigned k)
{
    return vd_count_of_events(counter, vd_amount_of(plan, counter->cases[k].value));
}

uint16_t vd_case_setting(const vd_model *model, uint16_t item, uint8_t k)
{
    uint16_t value = vd_index(model->intervals->items[item].counter->cases[k].value);
    if (value == VD_NONE) {
        return VD_NONE;
    }
    const vd_term *term = &model->book->formulas[model->intervals->formula + value];
    return term->code.count == 1 ? vd_index(term->kind.spot.setting) : (uint16_t)VD_NONE;
}

bool vd_intervals_convert(const vd_set *set, uint16_t setting, const char *text, size_t length, vd_writer *writer)
{
    vd_meaning meaning;
    vd_ratio number;
    vd_dimension typed;
    if (!vd_set_meaning(set, setting, &meaning) || meaning.measure[0] == '\0' ||
        !read_measured(set->model, text, length, &number, &typed)) {
        return false;
    }
    vd_measure own = vd_measure_find(set->model, meaning.measure);
    if (!vd_dimension_equal(&typed, &own.dimension) || !vd_ratio_divide(number, own.scale, &number) ||
        number.below != 1) {
        return false;
    }
    vd_writer_add_number(writer, number.number);
    vd_writer_add(writer, " ");
    vd_writer_add(writer, meaning.measure);
    return true;
}
