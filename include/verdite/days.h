/* SPDX-License-Identifier: MIT
 *
 * Days: what a unit meets, as somebody describes it for one model: in words, or in a file of such days.
 * docs/intervals.md describes both.
 */
#ifndef VERDITE_DAYS_H
#define VERDITE_DAYS_H

#include "verdite/day.h"
#include "verdite/host.h"

VD_C_BEGIN

#define VD_MOST_UNKNOWN 6u /* facts that nobody knows, of all stretches together */

/* Days that were described. The model must outlive them. */
typedef struct vd_days vd_days;

/* Reads one day in words: "6 h still, 2 h driving at 70 km/h with 40 turns of 45°, rest still". NULL: VD_DAY_WRONG. */
vd_days *vd_days_parse(const vd_model *model, const char *text, vd_fault *fault);
/* Reads a file of days. NULL: the findings say why. */
vd_days *vd_days_load(const vd_model *model, const char *path, vd_findings *findings);
/* Frees them; NULL is fine. */
void vd_days_free(vd_days *days);
/* The days, one behind the other, `count` of them, at least 1; where they were given weekdays seven, from Monday on. */
const vd_day *vd_days_list(const vd_days *days, uint16_t *count);

VD_C_END

#endif
