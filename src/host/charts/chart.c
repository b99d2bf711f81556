/* SPDX-License-Identifier: MIT
 * What a chart keeps of a log: columns of time that grow wider as the log grows longer. */
#include "parts.h"

#include <string.h>

vd_chart *vd_chart_new(const vd_watch *watch)
{
    vd_chart *chart = g_new0(vd_chart, 1);
    chart->watch = watch;
    chart->start = VD_NO_TIME;
    chart->width = 1000;
    chart->channels = vd_watch_model(watch)->channel_count;
    chart->alarms = vd_model_alarm_count(vd_watch_model(watch));
    chart->lines = g_new(chart_line, chart->channels + 1u);
    chart->bands = g_new0(chart_band, chart->alarms + 1u);
    for (uint16_t i = 0; i < chart->channels; i++) {
        for (guint k = 0; k < CHART_COLUMNS; k++) {
            chart->lines[i].least[k] = INT64_MAX;
            chart->lines[i].most[k] = INT64_MIN;
        }
    }
    for (uint16_t i = 0; i < chart->alarms; i++) {
        chart->bands[i] =
            (chart_band){.pends = VD_NO_TIME, .stands = VD_NO_TIME, .gone = VD_NO_TIME, .lost = VD_NO_TIME};
    }
    return chart;
}

void vd_chart_free(vd_chart *chart)
{
    if (chart != NULL) {
        g_free(chart->lines);
        g_free(chart->bands);
        g_free(chart);
    }
}

/* Makes each column twice as wide. */
static void widen(vd_chart *chart)
{
    for (guint k = 0; k < CHART_COLUMNS; k++) {
        guint one = 2 * k, two = 2 * k + 1;
        for (uint16_t i = 0; i < chart->channels; i++) {
            chart_line *line = &chart->lines[i];
            line->least[k] = two < CHART_COLUMNS ? MIN(line->least[one], line->least[two]) : INT64_MAX;
            line->most[k] = two < CHART_COLUMNS ? MAX(line->most[one], line->most[two]) : INT64_MIN;
            guint later = two < CHART_COLUMNS && line->least[two] <= line->most[two] ? two : one;
            line->last[k] = later < CHART_COLUMNS ? line->last[later] : 0;
            line->until[k] = later < CHART_COLUMNS ? line->until[later] : 0;
        }
        for (uint16_t i = 0; i < chart->alarms; i++) {
            uint8_t *was = chart->bands[i].was;
            was[k] = two < CHART_COLUMNS ? (uint8_t)((unsigned)was[one] | was[two]) : 0;
        }
    }
    for (uint16_t i = 0; i < chart->channels; i++) {
        chart->lines[i].latest /= 2;
    }
    chart->width *= 2;
    chart->used = (chart->used + 1) / 2;
}

/* The column of a time; those before the start are the first. */
static guint column_of(vd_chart *chart, int64_t time)
{
    if (chart->start == VD_NO_TIME) {
        chart->start = time;
    }
    while ((time - chart->start) / chart->width >= (int64_t)CHART_COLUMNS) {
        widen(chart);
    }
    guint column = time > chart->start ? (guint)((time - chart->start) / chart->width) : 0;
    chart->used = MAX(chart->used, column + 1);
    return column;
}

static void mark(vd_chart *chart, uint16_t alarm, int64_t from, int64_t to, uint8_t what)
{
    if (from == VD_NO_TIME) {
        return;
    }
    guint last = column_of(chart, to), first = column_of(chart, from); /* the later one first: columns may widen */
    for (guint k = first; k <= last; k++) {
        chart->bands[alarm].was[k] = (uint8_t)((unsigned)chart->bands[alarm].was[k] | what);
    }
}

void vd_chart_event(vd_chart *chart, const vd_alarm_event *event)
{
    if (event->alarm >= chart->alarms) {
        return;
    }
    chart_band *band = &chart->bands[event->alarm];
    bool stays = vd_watch_alarm(chart->watch, event->alarm)->state == VD_GONE;
    switch ((vd_happening)event->what) {
    case VD_ALARM_PENDS: band->pends = event->time; break;
    case VD_ALARM_SOUNDS:
    case VD_ALARM_RETURNS:
        mark(chart, event->alarm, band->pends, event->time, WAS_PENDING);
        mark(chart, event->alarm, band->gone, event->time, WAS_GONE);
        band->pends = band->gone = VD_NO_TIME;
        band->stands = event->time;
        break;
    case VD_ALARM_LOST: /* what was not known pends no longer */
        mark(chart, event->alarm, band->pends, event->time, WAS_PENDING);
        band->pends = VD_NO_TIME;
        band->lost = event->time;
        break;
    case VD_ALARM_KNOWN:
        mark(chart, event->alarm, band->lost, event->time, WAS_LOST);
        band->lost = VD_NO_TIME;
        break;
    default:
        mark(chart, event->alarm, band->pends, event->time, WAS_PENDING);
        mark(chart, event->alarm, band->stands, event->time, WAS_STANDING);
        mark(chart, event->alarm, band->gone, event->time, WAS_GONE);
        band->pends = band->stands = VD_NO_TIME;
        band->gone = event->what == VD_ALARM_ENDS && stays ? event->time : VD_NO_TIME;
        break;
    }
}

void chart_take(vd_chart *chart, const record_row *row, const vd_log_cells *cells)
{
    guint column = column_of(chart, row->time);
    for (uint16_t i = 0; i < chart->channels; i++) {
        chart_line *line = &chart->lines[i];
        if ((row->known >> i & 1) != 0) {
            line->least[column] = MIN(line->least[column], row->numbers[i]);
            line->most[column] = MAX(line->most[column], row->numbers[i]);
            line->last[column] = row->numbers[i];
            line->until[column] = row->time + cells[i].holds_for;
            line->latest = column;
        } else if ((row->cells >> i & 1) != 0) { /* not known at once */
            line->until[line->latest] = MIN(line->until[line->latest], row->time);
        }
    }
    for (uint16_t i = 0; i < chart->alarms; i++) {
        bool counts = vd_watch_condition(chart->watch, i) == VD_HOLDS;
        uint8_t *was = &chart->bands[i].was[column];
        *was = (uint8_t)((unsigned)*was | WAS_SEEN | (counts ? WAS_COUNTED : 0));
    }
}

void chart_settle(vd_chart *chart)
{
    int64_t now = vd_watch_now(chart->watch);
    for (uint16_t i = 0; i < chart->alarms && now != VD_NO_TIME; i++) {
        chart_band *band = &chart->bands[i];
        mark(chart, i, band->pends, now, WAS_PENDING);
        mark(chart, i, band->stands, now, WAS_STANDING);
        mark(chart, i, band->gone, now, WAS_GONE);
        mark(chart, i, band->lost, now, WAS_LOST);
        bool counted = false;
        for (guint k = 0; k < chart->used; k++) { /* between rows it goes on as it was */
            counted = (band->was[k] & WAS_SEEN) != 0 ? (band->was[k] & WAS_COUNTED) != 0 : counted;
            band->was[k] = (uint8_t)((unsigned)band->was[k] | (counted ? WAS_COUNTED : 0));
        }
    }
}

bool chart_draws(const vd_chart *chart, uint16_t n)
{
    const vd_watched *alarm = vd_watch_alarm(chart->watch, n);
    return alarm->used == VD_HOLDS && alarm->channel != VD_NONE && alarm->never == VD_DOUBT_NONE;
}
