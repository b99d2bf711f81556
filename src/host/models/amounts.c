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

const char *interval_key_at(const void *about, size_t i)
{
    return g_ptr_array_index(((const loading *)about)->keys, i);
}

/* An item by its key, or the one that is written out there. */
bool interval_take_item(loading *l, const yaml_node_t *node, uint16_t *index)
{
    gpointer place = node->type == YAML_MAPPING_NODE ? g_hash_table_lookup(l->places, node) : NULL;
    *index = (uint16_t)(GPOINTER_TO_UINT(place) - 1u);
    if (place != NULL) {
        return true;
    }
    const char *name = yaml_text(&l->file->yaml, node, "the key of an item");
    for (guint i = 0; name != NULL && i < l->keys->len; i++) {
        if (strcmp(interval_key_at(l, i), name) == 0) {
            *index = (uint16_t)i;
            return true;
        }
    }
    if (name != NULL) {
        char *near = vd_suggest(name, l->keys->len, interval_key_at, l);
        yaml_note(&l->file->yaml, node, vd_fault_of_NO_SUCH_ITEM(name, near));
        g_free(near);
    }
    return false;
}
