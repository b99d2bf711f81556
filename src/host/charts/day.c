/* SPDX-License-Identifier: MIT
 * A day as a script for gnuplot: a lane for each row, with a stroke for what happens and a bar for what holds. */
#include "parts.h"
#include "verdite/day_chart.h"

#define WIDE 1280
#define LANE 44 /* pixels of height of each */

static void add_lane(GString *script, const vd_day_row *row, double y)
{
    for (size_t k = 0; k < row->span_count; k++) {
        g_string_append_printf(
            script,
            "set object rectangle from %.4f,%.2f to %.4f,%.2f behind fillcolor rgb '#8fb8a8' fillstyle "
            "solid 0.85 noborder\n",
            row->spans[k].from / 3600.0, y - 0.28, row->spans[k].to / 3600.0, y + 0.28);
    }
    for (size_t k = 0; k < row->mark_count; k++) {
        double hour = row->marks[k] / 3600.0;
        g_string_append_printf(
            script, "set arrow from %.5f,%.2f to %.5f,%.2f nohead front linecolor rgb '#a61e2b' linewidth 1.3\n", hour,
            y - 0.3, hour, y + 0.3);
    }
    g_string_append(script, "set label ");
    chart_add_quoted(script, row->times);
    g_string_append_printf(script, " at 24.25,%.2f left textcolor rgb '#333333'\n", y);
}

vd_status vd_day_draw(const char *title, const vd_day_row *rows, size_t count, bool svg, char **picture, size_t *length,
                      vd_fault *fault)
{
    GString *script = chart_begin(svg, (guint)count * LANE + 110, "verdite_day");
    g_string_append(script, "set title ");
    chart_add_quoted(script, title);
    g_string_append_printf(
        script,
        " textcolor rgb '#222222'\nset xrange [0:24]\nset yrange [0:%zu]\nset xtics 0,2,24 nomirror "
        "textcolor rgb '#333333'\nset xlabel 'hour of the day. A bar: while it holds or rules. A stroke: "
        "when it happens.' textcolor rgb '#333333'\nset grid xtics "
        "linecolor rgb '#e4e4e4'\nset border 1 linecolor rgb '#666666'\nset key off\nset lmargin at "
        "screen 0.19\nset rmargin at screen 0.90\nset ytics nomirror scale 0 textcolor rgb "
        "'#222222' (",
        count);
    for (size_t i = 0; i < count; i++) {
        g_string_append(script, i > 0 ? ", " : "");
        chart_add_quoted(script, rows[i].label);
        g_string_append_printf(script, " %.1f", (double)(count - i) - 0.5);
    }
    g_string_append(script, ")\n");
    for (size_t i = 0; i < count; i++) {
        add_lane(script, &rows[i], (double)(count - i) - 0.5);
    }
    g_string_append(script, "set output 'picture'\nplot NaN notitle\nset output\n");
    vd_status status =
        count > 0 ? chart_run(script, picture, length, fault) : vd_note_NOT_DRAWN(fault, "nothing happens on this day");
    g_string_free(script, TRUE);
    return status;
}
