/* SPDX-License-Identifier: MIT
 * What items, days and costs are read with: amounts, items that they name, and names of what days give. */
#include "intervals.h"
#include "comparisons.h"

#include <string.h>

bool interval_add_amount(loading *l, const yaml_node_t *node, vd_gives gives, vd_ref *ref)
{
    const char *text = yaml_text(&l->file->yaml, node, "a value");
    if (text != NULL) {
        *ref = vd_ref_to((uint16_t)(vd_index(model_add_formula(l->file, node, text, VD_NONE, gives)) - l->first));
    }
    return text != NULL;
}

bool interval_take_amount(loading *l, const yaml_node_t *map, const char *key, vd_gives gives, vd_ref *ref)
{
    const yaml_node_t *node = yaml_member(&l->file->yaml, map, key);
    *ref = vd_ref_to(VD_NONE);
    return node == NULL || interval_add_amount(l, node, gives, ref);
}

bool interval_take_pair(loading *l, const yaml_node_t *node, vd_gives gives, const char *allowed, vd_ref *least,
                        vd_ref *most)
{
    if (node->type != YAML_SEQUENCE_NODE || node->data.sequence.items.top - node->data.sequence.items.start != 2) {
        return yaml_note(&l->file->yaml, node, vd_fault_of_WRONG_SHAPE("this", allowed));
    }
    const yaml_node_item_t *ends = node->data.sequence.items.start;
    bool fine = interval_add_amount(l, yaml_node(&l->file->yaml, ends[0]), gives, least);
    return interval_add_amount(l, yaml_node(&l->file->yaml, ends[1]), gives, most) && fine;
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

bool interval_take_items(loading *l, const yaml_node_t *map, const char *key, const uint16_t **out, uint8_t *count)
{
    const yaml_node_t *node = yaml_member(&l->file->yaml, map, key);
    gsize listed = 0;
    const yaml_node_item_t *items = NULL;
    uint16_t one = VD_NONE;
    if (node == NULL) {
        return true;
    }
    if (node->type != YAML_SEQUENCE_NODE) {
        uint16_t *only = model_memory(l->file, sizeof *only);
        bool fine = interval_take_item(l, node, &one);
        *only = one;
        *out = only;
        *count = fine;
        return fine;
    }
    bool fine = yaml_take_list(&l->file->yaml, map, key, MOST_PARTS, &listed, &items);
    uint16_t *all = model_memory(l->file, (listed + 1) * sizeof *all);
    for (gsize i = 0; i < listed; i++) {
        fine = interval_take_item(l, yaml_node(&l->file->yaml, items[i]), &all[i]) && fine;
    }
    *out = all;
    *count = (uint8_t)(fine ? listed : 0);
    return fine;
}

bool interval_take_one(loading *l, const yaml_node_t *map, const char *key, vd_ref *ref)
{
    const yaml_node_t *node = yaml_member(&l->file->yaml, map, key);
    uint16_t index = VD_NONE;
    bool fine = node == NULL || interval_take_item(l, node, &index);
    *ref = vd_ref_to(index);
    return fine;
}

bool interval_take_between(loading *l, const yaml_node_t *map, const char *key, vd_gives gives, vd_item *item)
{
    const yaml_node_t *node = yaml_member(&l->file->yaml, map, key);
    return node == NULL || interval_take_pair(l, node, gives, "two values: [least, most]", &item->least, &item->most);
}
