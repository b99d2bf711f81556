/* SPDX-License-Identifier: MIT
 *
 * About a model: what people are to know of it, and choose by; nothing that the talk with a unit hangs on.
 */
#ifndef VERDITE_ABOUT_H
#define VERDITE_ABOUT_H

#include <stdint.h>
#include "verdite/version.h"

VD_C_BEGIN

/* A variant of a model, told by the product name in its identity. */
typedef struct vd_variant {
    const char *key, *label; /* as files name it, and as people do */
    const char *product;     /* the product name in its identity */
} vd_variant;

/* Something that a unit can do or has, for choosing a model: a number ("inputs", 2), or words ("supply", "battery"). */
typedef struct vd_ability {
    const char *key, *label; /* as files name it, and as people do */
    const char *words;       /* separated by blanks; "" where it is a number */
    int64_t number;          /* of it, where it is a number */
    const char *variant;     /* key of the variant that has it; NULL: all */
} vd_ability;

/* Values of several settings under one name, such as what a country's grid wants. */
typedef struct vd_preset {
    const char *key, *label, *help; /* as files name it; as people do; what it is for */
    const uint16_t *settings;       /* indexes of those that it says */
    const char *const *values;      /* of each, as people type it; one that its setting takes */
    uint16_t setting_count;         /* of `settings` and `values` */
} vd_preset;

/* A paragraph of the start-up page. */
typedef struct vd_topic {
    const char *label, *text; /* what it is about, and what is to be known of that */
} vd_topic;

/* Something that must be known before leaving the depot. */
typedef struct vd_errand {
    const char *label, *help; /* what is to be brought; what for, "" where that is plain */
    const char *who;          /* who supplies it */
    const uint16_t *settings; /* those that it goes into */
    uint16_t setting_count;   /* of `settings` */
} vd_errand;

VD_C_END

#endif
