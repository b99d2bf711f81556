/* SPDX-License-Identifier: MIT
 * A chart as a script for gnuplot, one panel for each channel that an alarm watches, and its picture. */
#include "parts.h"

#include <stdlib.h>
#include <string.h>

#define PANEL 190 /* pixels of height of each */
#define MOST_PANELS 8u

/* ---- Which panels ---- */

static bool is_watched(const vd_chart *chart, uint16_t channel)
{
    bool watched = false;
    for (uint16_t n = 0; n < chart->alarms; n++) {
        watched = watched || (chart_draws(chart, n) && vd_watch_alarm(chart->watch, n)->channel == channel);
    }
    return watched;
}

static bool has_values(const vd_chart *chart, uint16_t channel)
{
    for (guint k = 0; k < chart->used; k++) {
        if (chart->lines[channel].least[k] <= chart->lines[channel].most[k]) {
            return true;
        }
    }
    return false;
}

/* ---- The whole ---- */

/* How moments are written below an axis of so many seconds. */
static const char *time_format(double length)
{
    static const struct {
        double from; /* days */
        const char *format;
    } formats[] = {{400, "%b\\n%Y"}, {20, "%d %b\\n%Y"}, {1.5, "%d %b\\n%H:%M"}, {0, "%H:%M\\n%d %b %Y"}};
    size_t i = 0;
    while (i + 1 < G_N_ELEMENTS(formats) && length / 86400 <= formats[i].from) {
        i++;
    }
    return formats[i].format;
}

static GString *compose(const vd_chart *chart, const vd_set *set, int16_t zone, bool svg, const uint16_t *panels,
                        guint count)
{
    guint high = count * PANEL + 60;
    GString *script = chart_begin(svg, high, "verdite_alarms");
    double end = chart_seconds(chart->start + chart->used * chart->width, zone),
           start = chart_seconds(chart->start, zone);
    const char *format = time_format(end - start);
    g_string_append_printf(
        script,
        "set xdata time\nset timefmt '%%s'\nset format x \"%s\"\nset xrange [%.3f:%.3f]\n"
        "set lmargin at screen 0.085\nset rmargin at screen 0.98\nset border 3 linecolor rgb "
        "'#666666'\nset tics nomirror textcolor rgb '#333333'\nset grid xtics linecolor rgb '#e4e4e4'\n"
        "set key off\nset style fill solid 0.35 noborder\nset output 'picture'\nset multiplot\n",
        format, start, end);
    double foot = 46.0 / high, tall = (1 - foot - 6.0 / high) / count;
    for (guint i = 0; i < count; i++) {
        double top = 1 - 6.0 / high - tall * i;
        g_string_append_printf(script, "set tmargin at screen %.4f\nset bmargin at screen %.4f\nset format x \"%s\"\n",
                               top - 24.0 / high, top - tall + 10.0 / high, i + 1 < count ? "" : format);
        chart_add_panel(chart, script, set, panels[i], zone, i + 1 == count ? high : 0);
    }
    g_string_append(script, "unset multiplot\nset output\n");
    return script;
}

vd_status vd_chart_draw(vd_chart *chart, const vd_set *set, int16_t zone, bool svg, char **picture, size_t *length,
                        vd_fault *fault)
{
    uint16_t panels[MOST_PANELS];
    guint count = 0;
    vd_status status = VD_OK;
    *picture = NULL;
    *length = 0;
    chart_settle(chart);
    for (uint16_t i = 0; i < chart->channels && count < MOST_PANELS; i++) {
        if (is_watched(chart, i) && has_values(chart, i)) {
            panels[count++] = i;
        }
    }
    if (count == 0) {
        status = vd_note_NOT_DRAWN(fault, "the log holds no values of what the alarms watch");
    } else {
        GString *script = compose(chart, set, zone, svg, panels, count);
        status = chart_run(script, picture, length, fault);
        g_string_free(script, TRUE);
    }
    return status;
}
