/* SPDX-License-Identifier: MIT
 * How a set lies in its memory: a slot for each setting comes first. */
#ifndef VD_CORE_SET_SLOT_H
#define VD_CORE_SET_SLOT_H

#include "here.h"

/* What a set holds of one setting. */
typedef struct slot {
    int64_t number; /* of a text: where its bytes start, from the beginning of the memory */
    uint16_t length;
    uint8_t known, places;
    uint8_t like; /* of a setting that is like others: one more than which of them its number is of; 0: none */
    bool odd;     /* something was heard that is no value */
} slot;

/* The slots, one for each setting. */
static inline slot *slots(const vd_set *set)
{
    return set->memory;
}

#endif
