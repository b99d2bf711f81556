/* SPDX-License-Identifier: MIT
 * What the files of sets share. */
#ifndef VD_CORE_SET_HERE_H
#define VD_CORE_SET_HERE_H

#include "../value/value_parts.h"

/* Which of those that a setting can be like another one chooses, from 1; 0: none of them. False: not known. */
bool vd_set_chosen(const vd_set *set, const vd_setting *about, uint8_t *like);
/* Makes a setting what one of those is that it can be like. */
void vd_meaning_make_like(vd_meaning *meaning, uint8_t like);

#endif
