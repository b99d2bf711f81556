/* SPDX-License-Identifier: MIT
 * What intervals and days are both read with: amounts, and names of what days give. */
#include "intervals.h"
#include "comparisons.h"

#include <string.h>

bool interval_take_amount(loading *l, const yaml_node_t *map, const char *key, vd_gives gives, vd_ref *ref)
{
    vd_ref formula;
    bool fine = model_take_formula(l->file, map, key, VD_NONE, gives, &formula);
    *ref = vd_ref_to(vd_index(formula) == VD_NONE ? VD_NONE : (uint16_t)(vd_index(formula) - l->first));
    return fine;
}

uint16_t interval_input(GPtrArray *names, const char *name)
{
    for (guint i = 0; i < names->len; i++) {
        if (strcmp(g_ptr_array_index(names, i), name) == 0) {
            return (uint16_t)i;
        }
    }
    return VD_NONE;
}
