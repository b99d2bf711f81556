/* SPDX-License-Identifier: MIT
 * What the files of search/ share. */
#ifndef VD_SEARCH_PARTS_H
#define VD_SEARCH_PARTS_H

#include "verdite/notes.h"
#include "verdite/search.h"

enum pass { LINES = 1, LIKELY, ALL, SLOW_LINES, SLOW, CONFIRM };

/* On to the next question: to units in lines (address 0; the model is step - 1) or to an address at the present line
 * setting. False: all was asked. */
bool vd_search_next(vd_search *search, uint8_t *address);
/* Microseconds that what is left takes, when nobody answers. */
uint64_t vd_search_time_left(const vd_search *search);

#endif
