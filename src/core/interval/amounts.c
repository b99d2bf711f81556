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

vd_amount vd_amount_of(const vd_course_plan *plan, vd_ref formula)
{
    return vd_index(formula) != VD_NONE ? plan->amounts[vd_index(formula)] : (vd_amount){{0, 1}, VD_AMOUNT_NONE};
}
