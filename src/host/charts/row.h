/* SPDX-License-Identifier: MIT
 * A row of a log, and drawing it. */
#ifndef VD_HOST_CHART_ROW_H
#define VD_HOST_CHART_ROW_H

#include "verdite/chart.h"
#include "verdite/log.h"

typedef struct record_row {
    uint64_t line;
    int64_t time;
    uint64_t cells, known;             /* a bit for each channel */
    int64_t numbers[VD_MOST_CHANNELS]; /* times 10^places */
} record_row;

/* chart.c: a row of the log, with how long values of each channel hold; the end of it. */
void chart_take(vd_chart *chart, const record_row *row, const vd_log_cells *cells);

#endif
