/* SPDX-License-Identifier: MIT
 * A chart as a script for gnuplot, one panel for each channel that an alarm watches, and its picture. */
#include "chart_parts.h"

#include <glib/gstdio.h>
#include <stdlib.h>
#include <string.h>

#define WIDE 1280
#define PANEL 190 /* pixels of height of each */
#define MOST_PANELS 8u

static const struct {
    uint8_t what;
    const char *colour, *label;
    double bottom, top; /* of the panel */
} shades[] = {{WAS_LOST, "#c9c9c9", "not known", 0, 1},
              {WAS_PENDING, "#f6d77c", "pending", 0, 1},
              {WAS_STANDING, "#e9938c", "alarm", 0, 1},
              {WAS_COUNTED, "#7fb3a0", "condition holds", 0, 0.05}};

/* A text between single quotes, in which only these themselves mean anything. */
static void add_quoted(GString *script, const char *text)
{
    g_string_append_c(script, '\'');
    for (; *text != '\0'; text++) {
        if (*text == '\'') {
            g_string_append(script, "''");
        } else if ((unsigned char)*text >= ' ' && *text != 127) {
            g_string_append_c(script, *text);
        }
    }
    g_string_append_c(script, '\'');
}

static void add_number(GString *script, int64_t number, unsigned places)
{
    char text[40];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_writer_add_decimal(&writer, number, places);
    g_string_append(script, text);
}

/* Seconds, in the zone in which times are shown. */
static double seconds(const vd_chart *chart, guint column, int16_t zone)
{
    return (double)(chart->start + (int64_t)column * chart->width) / 1000 + zone * 60.0;
}

/* ---- Which panels ---- */

static bool is_drawn(const vd_chart *chart, uint16_t n)
{
    const vd_watched *alarm = vd_watch_alarm(chart->watch, n);
    return alarm->used == VD_HOLDS && alarm->channel != VD_NONE && alarm->never == VD_DOUBT_NONE;
}

static bool is_watched(const vd_chart *chart, uint16_t channel)
{
    bool watched = false;
    for (uint16_t n = 0; n < chart->alarms; n++) {
        watched = watched || (is_drawn(chart, n) && vd_watch_alarm(chart->watch, n)->channel == channel);
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

/* ---- One panel ---- */

/* Stretches of columns in which an alarm was something, as boxes behind the line. */
static void add_shades(const vd_chart *chart, GString *script, uint16_t n, int16_t zone, bool conditioned)
{
    const uint8_t *was = chart->bands[n].was;
    for (size_t i = 0; i < G_N_ELEMENTS(shades); i++) {
        if (shades[i].what == WAS_COUNTED && !conditioned) {
            continue;
        }
        for (guint k = 0; k < chart->used; k++) {
            guint from = k;
            while (k < chart->used && (was[k] & shades[i].what) != 0) {
                k++;
            }
            if (k > from) {
                g_string_append_printf(
                    script,
                    "set object rectangle from %.3f, graph %.2f to %.3f, graph %.2f behind fillcolor "
                    "rgb '%s' fillstyle solid 0.75 noborder\n",
                    seconds(chart, from, zone), shades[i].bottom, seconds(chart, k, zone), shades[i].top,
                    shades[i].colour);
            }
        }
    }
}

static void add_limit(const vd_chart *chart, GString *script, uint16_t channel, int64_t number, int16_t zone)
{
    unsigned places = vd_channel_places(chart->watch->model, channel);
    g_string_append_printf(script, "set arrow from %.3f, ", seconds(chart, 0, zone));
    add_number(script, number, places);
    g_string_append_printf(script, " to %.3f, ", seconds(chart, chart->used, zone));
    add_number(script, number, places);
    g_string_append(script, " nohead front linecolor rgb '#a61e2b' dashtype 2 linewidth 1.2\n");
}

static int by_size(gconstpointer a, gconstpointer b)
{
    const int64_t *p = a, *q = b;
    return (*p > *q) - (*p < *q);
}

/* What most values lie between: a sensor that fails for a moment is not to flatten all else. */
static void find_usual(const chart_line *line, guint used, int64_t *low, int64_t *high)
{
    int64_t least[CHART_COLUMNS], most[CHART_COLUMNS];
    guint count = 0;
    for (guint k = 0; k < used; k++) {
        if (line->least[k] <= line->most[k]) {
            least[count] = line->least[k];
            most[count++] = line->most[k];
        }
    }
    *low = *high = 0;
    if (count == 0) {
        return;
    }
    qsort(least, count, sizeof least[0], by_size);
    qsort(most, count, sizeof most[0], by_size);
    *low = least[count / 200];
    *high = most[count - 1 - count / 200];
    int64_t far = 2 * MAX(*high - *low, 1); /* a peak that is no slip is shown */
    *low = least[0] >= *low - far ? least[0] : *low;
    *high = most[count - 1] <= *high + far ? most[count - 1] : *high;
}

/* Room above and below what is drawn, so that limits are seen. */
static void add_range(const vd_chart *chart, GString *script, uint16_t channel)
{
    unsigned places = vd_channel_places(chart->watch->model, channel);
    int64_t low = 0, high = 0, ends[2];
    find_usual(&chart->lines[channel], chart->used, &low, &high);
    int64_t least = low, most = high, spread = high > low ? high - low : 1;
    for (uint16_t n = 0; n < chart->alarms; n++) {
        bool own = is_drawn(chart, n) && vd_watch_alarm(chart->watch, n)->channel == channel;
        for (int i = 0; i < 2 && own && vd_watch_limits(chart->watch, n, &ends[0], &ends[1]); i++) {
            bool open = ends[i] == INT64_MIN || ends[i] == INT64_MAX;
            /* A limit far away would flatten the line. */
            bool near = !open && ends[i] > low - 2 * spread && ends[i] < high + 2 * spread;
            least = near ? MIN(least, ends[i]) : least;
            most = near ? MAX(most, ends[i]) : most;
        }
    }
    spread = most > least ? most - least : 2;
    g_string_append(script, "set yrange [");
    add_number(script, least - spread / 8 - 1, places);
    g_string_append(script, ":");
    add_number(script, most + spread / 8 + 1, places);
    g_string_append(script, "]\n");
}

static void add_title(const vd_chart *chart, GString *script, const vd_set *set, uint16_t channel)
{
    const char *label = chart->watch->model->channels[channel].label;
    GString *title = g_string_new("");
    for (uint16_t n = 0; n < chart->alarms; n++) {
        if (!is_drawn(chart, n) || vd_watch_alarm(chart->watch, n)->channel != channel) {
            continue;
        }
        char called[256], met[512], only[512];
        vd_writer to_called = vd_writer_start(called, sizeof called), to_met = vd_writer_start(met, sizeof met);
        vd_writer to_only = vd_writer_start(only, sizeof only);
        vd_alarm_call(set, n, &to_called);
        vd_alarm_tell(set, n, VD_ALARM_MET, &to_met);
        vd_alarm_tell(set, n, VD_ALARM_ONLY_WHILE, &to_only);
        uint32_t sounded = vd_watch_alarm(chart->watch, n)->sounded;
        if (title->len == 0 && !g_str_has_prefix(called, label)) {
            g_string_append_printf(title, "%s.", label);
        }
        g_string_append_printf(title, "%s%s: when %s%s%s; %s", title->len > 0 ? " " : "", called, met,
                               only[0] != '\0' ? ", only while " : "", only,
                               sounded == 0 ? "it never sounded." : "it sounded ");
        if (sounded > 0) {
            g_string_append_printf(title, "%u time%s.", sounded, sounded == 1 ? "" : "s");
        }
    }
    g_string_append(script, "set label ");
    add_quoted(script, title->str);
    g_string_append(script, " at graph 0, graph 1.08 left front\n");
    g_string_free(title, TRUE);
}

static void add_values(const vd_chart *chart, GString *script, uint16_t channel, int16_t zone)
{
    const chart_line *line = &chart->lines[channel];
    unsigned places = vd_channel_places(chart->watch->model, channel);
    bool gap = false;
    g_string_append(script, "$values << EOD\n");
    for (guint k = 0; k < chart->used; k++) {
        for (uint16_t n = 0; n < chart->alarms; n++) { /* where it was not known the line is broken */
            bool own = is_drawn(chart, n) && vd_watch_alarm(chart->watch, n)->channel == channel;
            gap = gap || (own && (chart->bands[n].was[k] & WAS_LOST) != 0);
        }
        if (line->least[k] > line->most[k]) {
            continue;
        }
        g_string_append(script, gap ? "\n" : "");
        gap = false;
        g_string_append_printf(script, "%.3f ", seconds(chart, k, zone) + (double)chart->width / 2000);
        add_number(script, line->least[k], places);
        g_string_append_c(script, ' ');
        add_number(script, line->most[k], places);
        g_string_append_c(script, '\n');
    }
    g_string_append(script, "EOD\n");
}

/* What the colours mean, below the last panel. */
static void add_legend(GString *script, guint high)
{
    double at = 0.06;
    for (size_t k = 0; k < G_N_ELEMENTS(shades); k++, at += 0.15) {
        g_string_append_printf(
            script,
            "set label '%s' at screen %.3f, screen %.4f textcolor rgb '#333333' front\n"
            "set object rectangle from screen %.3f, screen %.4f to screen %.3f, screen %.4f fillcolor "
            "rgb '%s' fillstyle solid 0.75 noborder\n",
            shades[k].label, at + 0.022, 9.0 / high, at, 4.0 / high, at + 0.018, 14.0 / high, shades[k].colour);
    }
}

/* `legend`: pixels of height of the whole, where it is the last one; else 0. */
static void add_panel(const vd_chart *chart, GString *script, const vd_set *set, uint16_t channel, int16_t zone,
                      guint legend)
{
    const vd_model *model = chart->watch->model;
    bool states = vd_channel_has_states(model, channel);
    uint16_t reads = model->channels[channel].reads;
    int64_t low = INT64_MIN, high = INT64_MAX;
    g_string_append(script, "unset object\nunset arrow\nunset label\n");
    if (legend > 0) {
        add_legend(script, legend);
    }
    add_title(chart, script, set, channel);
    add_range(chart, script, channel);
    add_values(chart, script, channel, zone);
    for (uint16_t n = 0; n < chart->alarms; n++) {
        if (!is_drawn(chart, n) || vd_watch_alarm(chart->watch, n)->channel != channel) {
            continue;
        }
        add_shades(chart, script, n, zone, vd_watch_alarm(chart->watch, n)->conditioned);
        bool limits = !states && vd_watch_limits(chart->watch, n, &low, &high);
        if (limits && low != INT64_MIN) {
            add_limit(chart, script, channel, low, zone);
        }
        if (limits && high != INT64_MAX) {
            add_limit(chart, script, channel, high, zone);
        }
    }
    g_string_append(script, "set ylabel ");
    add_quoted(script, reads != VD_NONE && !states ? model->settings[reads].measure : "");
    g_string_append_printf(script, "\n%s\n", states ? "set ytics ('off' 0, 'on' 1)" : "set ytics autofreq");
    g_string_append_printf(script,
                           "plot $values using 1:2:3 with filledcurves linecolor rgb '#1f4e79' notitle, $values using "
                           "1:%s linecolor rgb '#1f4e79' linewidth 1.4 notitle\n",
                           states ? "3 with steps" : "(($2+$3)/2) with lines");
}

/* ---- The whole ---- */

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
    double end = seconds(chart, chart->used, zone), start = seconds(chart, 0, zone);
    bool days = end - start > 86400 * 1.5;
    g_string_append_printf(
        script,
        "set xdata time\nset timefmt '%%s'\nset format x '%s'\nset xrange [%.3f:%.3f]\n"
        "set lmargin at screen 0.06\nset rmargin at screen 0.98\nset border 3 linecolor rgb "
        "'#666666'\nset tics nomirror textcolor rgb '#333333'\nset grid xtics linecolor rgb '#e4e4e4'\n"
        "set key off\nset style fill solid 0.35 noborder\nset output 'picture'\nset multiplot\n",
        days ? "%d %b\\n%H:%M" : "%H:%M", start, end);
    double foot = 46.0 / high, tall = (1 - foot - 6.0 / high) / count;
    for (guint i = 0; i < count; i++) {
        double top = 1 - 6.0 / high - tall * i;
        g_string_append_printf(script, "set tmargin at screen %.4f\nset bmargin at screen %.4f\n%s\n",
                               top - 24.0 / high, top - tall + 10.0 / high,
                               i + 1 < count ? "set format x ''"
                               : days        ? "set format x \"%d %b\\n%H:%M\""
                                             : "set format x '%H:%M'");
        add_panel(chart, script, set, panels[i], zone, i + 1 == count ? high : 0);
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
