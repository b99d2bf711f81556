/* SPDX-License-Identifier: MIT
 * Invented units for the sweep, one for each manner and way to store: each as a model file says it, and beside that,
 * apart from it, as the unit itself holds it. */
#ifndef VD_TEST_WORLDS_H
#define VD_TEST_WORLDS_H

#include "oracle.h"

typedef struct world {
    const char *name, *model; /* the text of a model file */
    oracle unit;              /* cells and behaviour */
} world;

extern const world worlds[];
extern const size_t world_count;

#endif
