/* SPDX-License-Identifier: MIT
 * What loading intervals and days shares. */
#ifndef VD_HOST_MODEL_INTERVALS_H
#define VD_HOST_MODEL_INTERVALS_H

#include "parts.h"
#include "verdite/day.h"

/* Intervals being loaded. */
typedef struct loading {
    vd_model_file *file;
    GPtrArray *nodes;                           /* where each item stands */
    GPtrArray *keys;                            /* of each item, "" where it has none */
    GPtrArray *given, *quantities, *happenings; /* names of what days give */
    GHashTable *places;                         /* by node: index + 1 */
    vd_intervals *made;
    uint16_t first; /* of their formulas, in those of the model */
} loading;

#define MOST_PARTS 64 /* of one item */

/* ---- interval_parts.c ---- */

/* An expression, of a text or under a key; the reference is to the formulas of intervals. */
bool interval_add_amount(loading *l, const yaml_node_t *node, vd_gives gives, vd_ref *ref);
bool interval_take_amount(loading *l, const yaml_node_t *map, const char *key, vd_gives gives, vd_ref *ref);
/* The key of the i-th item, "" where it has none; `about`: what is being loaded. */
const char *interval_key_at(const void *about, size_t i);
/* An item by its key, or the one that is written out there. */
bool interval_take_item(loading *l, const yaml_node_t *node, uint16_t *index);
/* Where a name stands among those of what days give, VD_NONE: nowhere. */
uint16_t interval_input(GPtrArray *names, const char *name);
/* Items by their keys, one or a list; an item by its key. */
bool interval_take_items(loading *l, const yaml_node_t *map, const char *key, const uint16_t **out, uint8_t *count);
bool interval_take_one(loading *l, const yaml_node_t *map, const char *key, vd_ref *ref);
/* [least, most]; `allowed`: what is said of anything else. Of what is drawn. */
bool interval_take_pair(loading *l, const yaml_node_t *node, vd_gives gives, const char *allowed, vd_ref *least,
                        vd_ref *most);
bool interval_take_between(loading *l, const yaml_node_t *map, const char *key, vd_gives gives, vd_item *item);

/* counters.c: what adds up to a value. */
bool interval_take_counter(loading *l, const yaml_node_t *map, uint8_t adds, vd_item *item);
/* days.c: the usual days of the model. */
bool interval_take_days(loading *l, const yaml_node_t *root);

/* interval_limits.c: whether the amounts are such as can be, as far as they are the same in every unit. */
bool interval_check_limits(vd_model_file *file, const vd_amount *amounts);
/* costs.c: what they take. */
bool interval_take_costs(loading *l, const yaml_node_t *root);

#endif
