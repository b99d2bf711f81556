/* SPDX-License-Identifier: MIT
 *
 * References inside a model: by index, and to none where nothing is said.
 */
#ifndef VERDITE_REF_H
#define VERDITE_REF_H

#include <stdint.h>
#include "verdite/version.h"

VD_C_BEGIN

#define VD_NONE 0xFFFFu /* "no such setting", wherever an index stands */

/* In a model: which of its settings, or of its blocks, formulas, channels; or none, which a zeroed one is. */
typedef struct vd_ref {
    uint16_t number; /* its index + 1 */
} vd_ref;
/* What a vd_ref to an index begins with, in constant data. */
#define VD_REF(index)                                                                                                  \
    {                                                                                                                  \
        (uint16_t)((index) + 1u)                                                                                       \
    }
/* A reference to an index; VD_NONE: to none. */
static inline vd_ref vd_ref_to(uint16_t index)
{
    vd_ref ref = VD_REF(index);
    return ref;
}
/* The index that it is about, VD_NONE where it is none. */
static inline uint16_t vd_index(vd_ref ref)
{
    return (uint16_t)(ref.number - 1u);
}

/* A setting, or one in each item of a block: `setting` + item * `stride`. */
typedef struct vd_spot {
    vd_ref setting;  /* in the first item */
    uint16_t stride; /* settings from one item to the next */
} vd_spot;
/* The setting with an index, one further by `stride` in each item. */
static inline vd_spot vd_spot_of(uint16_t index, uint16_t stride)
{
    vd_spot spot = {vd_ref_to(index), stride};
    return spot;
}
/* Which setting it is in an item, from 0; VD_NONE where it is none. */
static inline uint16_t vd_spot_in(vd_spot spot, uint16_t item)
{
    return spot.setting.number != 0 ? (uint16_t)(vd_index(spot.setting) + item * spot.stride) : (uint16_t)VD_NONE;
}

VD_C_END

#endif
