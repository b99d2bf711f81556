/* SPDX-License-Identifier: MIT
 * A visit at one end of a cable, a unit at the other, and an input that decides what the cable does to each message. */
#ifndef VD_FUZZ_CABLE_H
#define VD_FUZZ_CABLE_H

#include "input.h"
#include "verdite/unit.h"

/* Plays one input: a task of a visit to a unit of this model. Whatever is done to it, the task ends in a bounded number
 * of steps once it is told to stop; what it confirms is what it has read; the unit never holds what its rules forbid;
 * and where nothing but losses befell the cable, verified means stored. */
void cable_play(const vd_model *model, input *f);

#endif
