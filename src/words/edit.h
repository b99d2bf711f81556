/* SPDX-License-Identifier: MIT
 * An alarm that is being changed, and what is to be brought about in it. */
#ifndef VD_WORDS_EDIT_H
#define VD_WORDS_EDIT_H

#include "phrases.h"

/* An alarm that is being changed. */
typedef struct vd_editing {
    vd_set *set, *start; /* as it will be, and as it was */
    const vd_model *model;
    const vd_alarm *alarm;
    uint16_t n, item;
    uint16_t kept; /* a setting that stays as it is by now, or VD_NONE */
    vd_fault *fault;
} vd_editing;

/* What is to be brought about: a formula comes out so, or a comparison is the one that counts. */
typedef struct vd_goal {
    uint16_t formula;
    vd_ruling wanted;
    uint16_t first, test; /* formula VD_NONE: of the comparisons from `first` on, `test` */
    uint8_t count;
} vd_goal;

/* Reaches a goal by one of the settings that formulas hang on, the one that moves least besides. False: none does. */
bool vd_alarm_attain(vd_editing *e, const vd_goal *g);

#endif
