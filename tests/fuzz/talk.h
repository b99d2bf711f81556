/* SPDX-License-Identifier: MIT
 * The fitter's end of a language against whatever comes back. */
#ifndef VD_FUZZ_TALK_H
#define VD_FUZZ_TALK_H

#include "input.h"
#include "verdite/talk.h"

/* Plays jobs of a talk with a unit of this model; every reply is taken from the input. Each job ends, and what it says
 * it has read is what the model allows, or kept as what it is. */
void talk_play(const vd_model *model, input *f);

#endif
