/* SPDX-License-Identifier: MIT
 * What the files of search/ share. */
#ifndef VD_SEARCH_PARTS_H
#define VD_SEARCH_PARTS_H

#include "verdite/notes.h"
#include "verdite/search.h"
#include "../wire/probe_parts.h"

struct vd_search {
    const vd_search_plan *plan;
    vd_found *found;
    size_t found_size, found_count;
    vd_probe probe;
    vd_clues clues, line_clues;
    uint64_t now, wake;
    uint32_t news;
    size_t line, step, confirming;
    size_t model, first; /* one more than the index of the model with which is asked, and was asked first; 0: none */
    uint32_t asked;
    uint16_t babble, same;
    uint8_t pass, state, address, naming;
    size_t likely_until; /* the last line setting at which the likely addresses were asked */
    vd_status status;
};
VD_FITS(vd_search);

struct vd_link_test {
    vd_probe probe;
    vd_serial line;
    const vd_desk *desk;
    const vd_model *model;
    uint32_t *times; /* reply times, sorted, microseconds */
    uint32_t limit, gap;
    uint16_t count, asked, answered, lost, damaged;
    uint32_t error_bytes, news;
    uint64_t now;
    uint8_t address;
    vd_status status;
    bool running;
};
VD_FITS(vd_link_test);

enum pass { LINES = 1, LIKELY, ALL, SLOW_LINES, SLOW, CONFIRM };

/* On to the next question: to units in lines (address 0; the model is step - 1) or to an address at the present line
 * setting. False: all was asked. */
bool vd_search_next(vd_search *search, uint8_t *address);
/* The next question to an address behind search->model: one more than the index of the model with which is asked; 0:
 * there is none. The first: 0 is the question that needs no model. */
size_t vd_search_next_question(const vd_search *search, const vd_serial *line);
size_t vd_search_first_question(const vd_search *search, const vd_serial *line);
/* The question that a unit of this model is asked first once it was found. */
size_t vd_search_question_of(const vd_search *search, const vd_model *model);
/* Microseconds that what is left takes, when nobody answers. */
uint64_t vd_search_time_left(const vd_search *search);

#endif
