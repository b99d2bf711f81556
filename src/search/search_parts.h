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
/* The next question to an address behind search->model: one more than the index of the model with which is asked; 0:
 * there is none. The first: 0 is the question that needs no model. */
size_t vd_search_next_question(const vd_search *search, const vd_line *line);
size_t vd_search_first_question(const vd_search *search, const vd_line *line);
/* The question that a unit of this model is asked first once it was found. */
size_t vd_search_question_of(const vd_search *search, const vd_model *model);
/* Microseconds that what is left takes, when nobody answers. */
uint64_t vd_search_time_left(const vd_search *search);

#endif
