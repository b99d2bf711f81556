/* SPDX-License-Identifier: MIT
 *
 * Day chart: one day of a unit, drawn by gnuplot: when each thing happened, and while what held.
 */
#ifndef VERDITE_DAY_CHART_H
#define VERDITE_DAY_CHART_H

#include "verdite/fault.h"

VD_C_BEGIN

/* From a second of the day to another one. */
typedef struct vd_day_span {
    uint32_t from, to; /* seconds; `to` is not in it */
} vd_day_span;

/* One row. */
typedef struct vd_day_row {
    const char *label, *times;     /* what it is, and how often a day, in words */
    const uint32_t *marks;         /* seconds of the day in which it happened */
    const vd_day_span *spans;      /* while it held */
    size_t mark_count, span_count; /* of those */
} vd_day_row;

/* Draws a day, the first row on top, as a PNG or, where `svg`, as an SVG. The picture is put into `*picture`
 * (g_free()). VD_NO_GNUPLOT: the program is not there; VD_NOT_DRAWN: it failed, or there is nothing to draw. */
vd_status vd_day_draw(const char *title, const vd_day_row *rows, size_t count, bool svg, char **picture, size_t *length,
                      vd_fault *fault);

VD_C_END

#endif
