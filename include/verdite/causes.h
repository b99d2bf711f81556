/* SPDX-License-Identifier: MIT
 *
 * Causes: what writing a setting, or having an action done, brings about besides the change itself, and who is to know
 * of it before.
 */
#ifndef VERDITE_CAUSES_H
#define VERDITE_CAUSES_H

#include <stdbool.h>
#include <stdint.h>
#include "verdite/version.h"

VD_C_BEGIN

/* What writing a setting, or an action, brings about. */
typedef enum vd_effect {
    VD_EFFECT_RESTART,  /* the unit restarts by itself */
    VD_EFFECT_LINK,     /* the unit answers at another address or line setting */
    VD_EFFECT_OUTAGE,   /* its own service stops for a while, or what it feeds loses supply */
    VD_EFFECT_TELL,     /* somebody must have been told before */
    VD_EFFECT_FOR_GOOD, /* nothing puts back what was before */
    VD_EFFECT_APART     /* wants a yes of its own, apart from that to the rest */
} vd_effect;

/* One of the things that are caused. */
typedef struct vd_cause {
    const char *who;  /* VD_EFFECT_TELL: who must be told, such as "the grid operator"; else "" */
    const char *help; /* in words what that means, one sentence, or "" */
    uint32_t lasts;   /* VD_EFFECT_OUTAGE: milliseconds, 0 where it is not known; else 0 */
    uint8_t effect;   /* vd_effect */
} vd_cause;

/* All that one setting or action causes; each effect once, but for VD_EFFECT_TELL. */
typedef struct vd_causes {
    const vd_cause *list; /* what is caused */
    uint8_t count;        /* of `list` */
} vd_causes;

/* The first of a list with this effect; NULL: it has none. */
const vd_cause *vd_causes_find(const vd_causes *causes, vd_effect effect);
/* Whether the person must say yes to it apart from all else: who must be told, what cannot be undone, what is asked
 * apart. */
bool vd_cause_wants_yes(const vd_cause *cause);

VD_C_END

#endif
