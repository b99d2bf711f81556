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
/* What was met in a log of days. */
typedef struct vd_day_log {
    uint64_t skipped;     /* rows without a time, or not later than the one before */
    uint64_t odd_cells;   /* that hold no such value: they count as nothing */
    uint64_t gaps;        /* times in which nothing was recorded for too long */
    uint64_t gap_seconds; /* of all of them together */
} vd_day_log;
/* Reads a recorded log as CSV: a column for the time, and some for speed (km/h), heading (°) and given facts, by their
 * names; `columns` are "NAME=COLUMN", NULL-terminated, or NULL. A row holds until the next one, at most `holds`
 * seconds. It is cut to whole days by the unit's clock, which is in `zone`, minutes east of UTC, where times say none.
 * NULL: VD_DAY_WRONG, or why the file cannot be read. */
vd_days *vd_days_from_log(const vd_model *model, const char *path, char **columns, int16_t zone, uint32_t holds,
                          vd_day_log *log, vd_fault *fault);
/* Frees them; NULL is fine. */
void vd_days_free(vd_days *days);
/* The days, one behind the other, `count` of them, at least 1; where they were given weekdays seven, from Monday on. */
const vd_day *vd_days_list(const vd_days *days, uint16_t *count);

VD_C_END

#endif
