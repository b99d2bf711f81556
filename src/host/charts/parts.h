/* SPDX-License-Identifier: MIT
 * What the files that draw a chart share. */
#ifndef VD_HOST_CHART_PARTS_H
#define VD_HOST_CHART_PARTS_H

#include "row.h"
#include "verdite/alarm_words.h"
#include "verdite/chart.h"

#define CHART_COLUMNS 1200u

/* What an alarm was in a column; gone: its cause is over, and it was not cleared. */
enum { WAS_PENDING = 1, WAS_STANDING = 2, WAS_LOST = 4, WAS_COUNTED = 8, WAS_SEEN = 16, WAS_GONE = 32 };

typedef struct chart_line {
    int64_t least[CHART_COLUMNS], most[CHART_COLUMNS]; /* least above most: nothing */
    int64_t last[CHART_COLUMNS], until[CHART_COLUMNS]; /* the last value, and for how long it holds if no other comes */
    guint latest;                                      /* the column of the last value of all */
} chart_line;

typedef struct chart_band {
    uint8_t was[CHART_COLUMNS];
    int64_t pends, stands, gone, lost; /* since when, VD_NO_TIME: not now */
} chart_band;

struct vd_chart {
    const vd_watch *watch;
    int64_t start, width; /* milliseconds of a column */
    chart_line *lines;    /* of each channel */
    chart_band *bands;    /* of each alarm */
    uint16_t channels, alarms;
    guint used; /* columns so far */
};

void chart_settle(vd_chart *chart);
/* Whether an alarm is drawn: it is in use and could sound here. */
bool chart_draws(const vd_chart *chart, uint16_t n);

/* panel.c: the panel of a channel. `legend`: pixels of height of the whole, where it is the last one; else 0. */
void chart_add_panel(const vd_chart *chart, GString *script, const vd_set *set, uint16_t channel, int16_t zone,
                     guint legend);
/* Seconds, in the zone in which times are shown. */
double chart_seconds(int64_t time, int16_t zone);

/* ---- gnuplot.c ---- */

/* A script for a picture so many pixels high; `name`: what an SVG is called inside. */
GString *chart_begin(bool svg, guint high, const char *name);
/* Adds a text between single quotes, in which only these themselves mean anything; a picture in XML may not end early.
 */
void chart_add_quoted(GString *script, const char *text);
/* Has the program draw into a folder of its own. */
vd_status chart_run(const GString *script, char **picture, size_t *length, vd_fault *fault);

#endif
