/* SPDX-License-Identifier: MIT
 * What the files that draw a chart share. */
#ifndef VD_HOST_CHART_PARTS_H
#define VD_HOST_CHART_PARTS_H

#include "record_parts.h"
#include "verdite/alarms.h"
#include "verdite/chart.h"

#define CHART_COLUMNS 1200u

/* What an alarm was in a column. */
enum { WAS_PENDING = 1, WAS_STANDING = 2, WAS_LOST = 4, WAS_COUNTED = 8, WAS_SEEN = 16 };

typedef struct chart_line {
    int64_t least[CHART_COLUMNS], most[CHART_COLUMNS]; /* least above most: nothing */
} chart_line;

typedef struct chart_band {
    uint8_t was[CHART_COLUMNS];
    int64_t pends, stands, lost; /* since when, VD_NO_TIME: not now */
} chart_band;

struct vd_chart {
    const vd_watch *watch;
    int64_t start, width; /* milliseconds of a column */
    chart_line *lines;    /* of each channel */
    chart_band *bands;    /* of each alarm */
    uint16_t channels, alarms;
    guint used; /* columns so far */
};

/* chart.c: a row of the log; the end of it. */
void chart_take(vd_chart *chart, const record_row *row);
void chart_settle(vd_chart *chart);

#endif
