/* SPDX-License-Identifier: MIT
 * What the formulas of intervals give with the values of a set. */
#include "parts.h"
#include "../expression/expression.h"

#include <string.h>

void vd_intervals_amounts(const vd_set *set, vd_amount *amounts)
{
    const vd_intervals *intervals = set->model->intervals;
    vd_measure metre = vd_measure_find(set->model, "m");
    for (uint16_t k = 0; intervals != NULL && k < intervals->formula_count; k++) {
        const vd_term *term = &set->model->book->formulas[intervals->formula + k];
        vd_result result = vd_run(set, NULL, &term->code, 0);
        vd_amount *amount = &amounts[k];
        vd_dimension speed = metre.dimension;
        speed.power[2]--; /* of the second */
        *amount = (vd_amount){{0, 1}, result.none ? VD_AMOUNT_NONE : VD_AMOUNT_NOT_KNOWN};
        bool way = vd_dimension_equal(&term->kind.dimension, &metre.dimension) ||
                   vd_dimension_equal(&term->kind.dimension, &speed);
        amount->ratio = result.ratio;
        if (result.known && (!way || vd_ratio_multiply(result.ratio, (vd_ratio){1000, 1}, &amount->ratio))) {
            amount->state = VD_AMOUNT_KNOWN;
        }
    }
}

bool vd_intervals_alike(const vd_model *model, vd_ref a, vd_ref b)
{
    const vd_term *terms = &model->book->formulas[model->intervals->formula];
    return vd_dimension_equal(&terms[vd_index(a)].kind.dimension, &terms[vd_index(b)].kind.dimension);
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
