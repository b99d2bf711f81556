/* SPDX-License-Identifier: MIT
 *
 * Languages: all that there are, for a computer that does not know beforehand which it will need.
 */
#ifndef VERDITE_ALL_LANGUAGES_H
#define VERDITE_ALL_LANGUAGES_H

#include "verdite/language.h"
#include "verdite/unit.h"

VD_C_BEGIN

/* The desk of each, NULL behind the last; the first is what a model file means that says nothing. */
extern const vd_desk *const vd_desks[];
/* By the name that model files have for it; NULL: there is none such. */
const vd_desk *vd_desk_named(const char *name);
/* Of the language that a model's units talk in. */
const vd_desk *vd_desk_of(const vd_model *model);
/* The unit's end of it. */
const vd_unit_language *vd_unit_language_of(const vd_model *model);

VD_C_END

#endif
