/* SPDX-License-Identifier: MIT
 *
 * Slots: whole copies of some settings that a unit keeps, one of which is in force.
 */
#ifndef VERDITE_SLOTS_H
#define VERDITE_SLOTS_H

#include "verdite/setting.h"

VD_C_BEGIN

/* Slots of a unit at most. */
#define VD_MOST_SLOTS 64u

/* Copies of settings, one of which is in force. */
typedef struct vd_slots {
    const char *label;     /* what people call one, such as "Programme"; "" */
    const uint16_t *holds; /* the settings of which each slot has a copy */
    const uint8_t
        *begin; /* of each slot the preset that it holds from the factory besides the defaults, from 1; 0: none */
    uint64_t writable;   /* bit n - 1: slot n can be saved */
    vd_order order;      /* what saves the slot in force: its number stands behind the word, or is written */
    uint16_t hold_count; /* of `holds` */
    vd_ref chosen_by;    /* the setting that says which is in force, a whole number or a choice; writing it
                              loads that slot */
    vd_ref fallback;     /* the setting that says which is in force after a power cycle; none: nothing says it */
    uint8_t fixed;       /* else the number of that slot; 0: it is the one that was chosen */
    uint8_t count;       /* 0: the unit has no slots */
    bool saved;          /* false: what is written is in the slot as soon as it is stored */
} vd_slots;

VD_C_END

#endif
