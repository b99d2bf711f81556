/* SPDX-License-Identifier: MIT
 * A chart as a script for gnuplot, one panel for each channel that an alarm watches, and its picture. */
#include "parts.h"

#include <glib/gstdio.h>
#include <stdlib.h>
#include <string.h>

#define WIDE 1280
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
    GString *script = g_string_new("set encoding utf8\n");
    guint high = count * PANEL + 60;
    if (svg) {
        g_string_append_printf(
            script,
            "set terminal svg size %d,%u name 'verdite_alarms' font 'sans,12' noenhanced background '#ffffff'\n", WIDE,
            high);
    } else {
        g_string_append_printf(
            script, "set terminal pngcairo size %d,%u font 'DejaVu Sans,10' noenhanced background '#ffffff'\n", WIDE,
            high);
    }
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

/* Has the program draw into a folder of its own. */
static vd_status run(char *program, const GString *script, char **picture, size_t *length, vd_fault *fault)
{
    char *folder = g_dir_make_tmp("verdite-chart-XXXXXX", NULL), *said = NULL;
    char *path = folder != NULL ? g_build_filename(folder, "script", NULL) : NULL;
    char *words[] = {program, (char[]){"script"}, NULL};
    char **environment = g_environ_setenv(g_get_environ(), "LC_ALL", "C", TRUE);
    environment = g_environ_unsetenv(environment, "VERDITE_PASSWORD"); /* no secret is its business */
    int wait_status = 0;
    GError *error = NULL;
    vd_status status = VD_OK;
    bool drawn = path != NULL && g_file_set_contents(path, script->str, (gssize)script->len, &error) &&
                 g_spawn_sync(folder, words, environment, G_SPAWN_STDOUT_TO_DEV_NULL, NULL, NULL, NULL, &said,
                              &wait_status, &error) &&
                 g_spawn_check_wait_status(wait_status, NULL);
    char *out = folder != NULL ? g_build_filename(folder, "picture", NULL) : NULL;
    drawn = drawn && g_file_get_contents(out, picture, length, NULL) && *length > 0;
    if (!drawn) {
        const char *why = said != NULL && said[0] != '\0' ? g_strstrip(said) : error != NULL ? error->message : "";
        status = vd_note_NOT_DRAWN(fault, why[0] != '\0' ? why : "gnuplot drew nothing");
    }
    if (folder != NULL) {
        g_unlink(path);
        g_unlink(out);
        g_rmdir(folder);
    }
    g_clear_error(&error);
    g_strfreev(environment);
    g_free(out);
    g_free(path);
    g_free(folder);
    g_free(said);
    return status;
}

vd_status vd_chart_draw(vd_chart *chart, const vd_set *set, int16_t zone, bool svg, char **picture, size_t *length,
                        vd_fault *fault)
{
    uint16_t panels[MOST_PANELS];
    guint count = 0;
    char *program = g_find_program_in_path("gnuplot");
    vd_status status = VD_OK;
    *picture = NULL;
    *length = 0;
    chart_settle(chart);
    for (uint16_t i = 0; i < chart->channels && count < MOST_PANELS; i++) {
        if (is_watched(chart, i) && has_values(chart, i)) {
            panels[count++] = i;
        }
    }
    if (program == NULL) {
        status = vd_note_NO_GNUPLOT(fault);
    } else if (count == 0) {
        status = vd_note_NOT_DRAWN(fault, "the log holds no values of what the alarms watch");
    } else {
        GString *script = compose(chart, set, zone, svg, panels, count);
        status = run(program, script, picture, length, fault);
        g_string_free(script, TRUE);
    }
    g_free(program);
    return status;
}
