/* SPDX-License-Identifier: MIT
 *
 * Motion: how what a unit measures or counts moves on a bench.
 */
#ifndef VERDITE_MOTION_H
#define VERDITE_MOTION_H

#include <stdint.h>
#include "verdite/version.h"

VD_C_BEGIN

/* How a reading moves while time passes, for a unit that is played. */
typedef enum vd_motion_way {
    VD_STANDS_STILL,
    VD_SWINGS, /* from `low` to `high` and back in `period` */
    VD_COUNTS, /* one more every `period`, from its default on, since the supply came on */
    VD_RUNS_ON /* likewise, but the supply does not matter: a clock, a meter */
} vd_motion_way;
/* How a setting moves in a unit that is played. */
typedef struct vd_motion {
    int64_t low, high; /* counts */
    int32_t gains;     /* of a clock that does not run right: milliseconds that it gains in a day */
    uint32_t period;   /* milliseconds */
    uint8_t way;       /* vd_motion_way */
    /* Of a reading: one more than the setting that is taken off it, and the one that is added; 0: none is. */
    uint16_t taken_off, added; /* what is added to it */
} vd_motion;

VD_C_END

#endif
