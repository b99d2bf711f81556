/* SPDX-License-Identifier: MIT
 *
 * Chart: what a watch saw of a log, drawn by gnuplot. It keeps the least and the most of each of at most 1,200
 * stretches of time, however long the log is.
 */
#ifndef VERDITE_CHART_H
#define VERDITE_CHART_H

#include "verdite/log.h"

VD_C_BEGIN

/* A chart of the alarms that a watch runs, but for those with other limits. The watch must outlive it. */
vd_chart *vd_chart_new(const vd_watch *watch);
/* Frees it; NULL is fine. */
void vd_chart_free(vd_chart *chart);
/* What happens, as the listener of the watch is told it; rows reach the chart by vd_log_feed(). */
void vd_chart_event(vd_chart *chart, const vd_alarm_event *event);
/* Draws it as a PNG or, where `svg`, as an SVG, with the names and limits that a set has and times in a zone, minutes
 * east of UTC. The picture is put into `*picture` (g_free()). VD_NO_GNUPLOT: the program is not there; VD_NOT_DRAWN: it
 * failed, or there is nothing to draw. */
vd_status vd_chart_draw(vd_chart *chart, const vd_set *set, int16_t zone, bool svg, char **picture, size_t *length,
                        vd_fault *fault);

VD_C_END

#endif
