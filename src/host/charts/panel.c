/* SPDX-License-Identifier: MIT
 * One panel of a chart, as a script for gnuplot: a channel's values as steps, its limits, and a lane for each alarm. */
#include "parts.h"

#include <stdlib.h>
#include <string.h>

#define MOST_LANES 16u
#define MOST_TITLE 170 /* characters */
#define MOST_NAME 13

static const struct {
    uint8_t what;
    const char *colour, *label;
    double bottom, top; /* of the lane */
} shades[] = {{WAS_LOST, "#c9c9c9", "not known", 0, 1},
              {WAS_PENDING, "#f6d77c", "pending", 0, 1},
              {WAS_STANDING, "#e9938c", "alarm", 0, 1},
              {WAS_GONE, "#f4cdc9", "over, not cleared", 0, 1},
              {WAS_COUNTED, "#7fb3a0", "condition holds", 0, 0.05}};

/* What a panel is about. */
typedef struct panel {
    const vd_chart *chart;
    GString *script;
    const chart_line *line;
    uint16_t channel;
    unsigned places;
    bool states;
    const vd_setting *choices; /* states go by these names; NULL: on and off */
    int16_t zone;
    int64_t bottom, top; /* of the axis */
} panel;

/* How many states it has. */
static uint16_t count_states(const panel *p)
{
    return p->choices != NULL ? p->choices->choice_count : 2;
}

/* A value as it stands on the axis: states one above the other, whatever their numbers; none of them above all. */
static int64_t on_axis(const panel *p, int64_t number)
{
    uint16_t at = 0;
    while (p->states && at < count_states(p) && (p->choices != NULL ? p->choices->choices[at].number : at) != number) {
        at++;
    }
    return p->states ? at : number;
}

static void add_number(const panel *p, int64_t number)
{
    char text[40];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_writer_add_decimal(&writer, number, p->places);
    g_string_append(p->script, text);
}

double chart_seconds(int64_t time, int16_t zone)
{
    return (double)time / 1000 + zone * 60.0;
}

/* When a column begins. */
static int64_t begin_of(const panel *p, guint column)
{
    return p->chart->start + (int64_t)column * p->chart->width;
}

static double seconds(const panel *p, guint column)
{
    return chart_seconds(begin_of(p, column), p->zone);
}

static bool is_seen(const panel *p, guint column)
{
    return p->line->least[column] <= p->line->most[column];
}

/* The alarms on the channel. */
static guint find_alarms(const panel *p, uint16_t *alarms)
{
    guint count = 0;
    for (uint16_t n = 0; n < p->chart->alarms && count < MOST_LANES; n++) {
        if (chart_draws(p->chart, n) && vd_watch_alarm(p->chart->watch, n)->channel == p->channel) {
            alarms[count++] = n;
        }
    }
    return count;
}

/* As many characters as there is room for. */
static void shorten(GString *text, glong most)
{
    if (g_utf8_strlen(text->str, -1) > most) {
        g_string_truncate(text, (gsize)(g_utf8_offset_to_pointer(text->str, most - 1) - text->str));
        g_string_append(text, "…");
    }
}

/* ---- Behind the line ---- */

/* Stretches of columns in which an alarm was something, as boxes in a lane of its own. */
static void add_lane(const panel *p, uint16_t n, double bottom, double top)
{
    const vd_chart *chart = p->chart;
    const uint8_t *was = chart->bands[n].was;
    for (size_t i = 0; i < G_N_ELEMENTS(shades); i++) {
        if (shades[i].what == WAS_COUNTED && !vd_watch_alarm(chart->watch, n)->conditioned) {
            continue;
        }
        for (guint k = 0; k < chart->used; k++) {
            guint from = k;
            while (k < chart->used && (was[k] & shades[i].what) != 0) {
                k++;
            }
            if (k > from) {
                g_string_append_printf(
                    p->script,
                    "set object rectangle from %.3f, graph %.4f to %.3f, graph %.4f behind fillcolor "
                    "rgb '%s' fillstyle solid 0.75 noborder\n",
                    seconds(p, from), bottom + (top - bottom) * shades[i].bottom, seconds(p, k),
                    bottom + (top - bottom) * shades[i].top, shades[i].colour);
            }
        }
    }
}

/* Where there are several the lanes are parted and named. */
static void add_lanes(const panel *p, const vd_set *set, const uint16_t *alarms, guint count)
{
    for (guint i = 0; i < count; i++) {
        double bottom = (double)(count - 1 - i) / count, top = (double)(count - i) / count;
        add_lane(p, alarms[i], bottom + (count > 1 ? 0.01 : 0), top - (count > 1 ? 0.01 : 0));
        if (count > 1) {
            char called[VD_SENTENCE_SIZE];
            vd_writer writer = vd_writer_start(called, sizeof called);
            vd_alarm_call(set, alarms[i], &writer);
            g_string_append(p->script, "set label ");
            chart_add_quoted(p->script, called);
            g_string_append_printf(p->script,
                                   " at graph 0.996, graph %.4f right front textcolor rgb '#777777' font ',8'\n",
                                   (bottom + top) / 2);
        }
    }
}

static void add_limit(const panel *p, int64_t number)
{
    if (number == INT64_MIN || number == INT64_MAX) {
        return;
    }
    g_string_append_printf(p->script, "set arrow from %.3f, ", seconds(p, 0));
    add_number(p, number);
    g_string_append_printf(p->script, " to %.3f, ", seconds(p, p->chart->used));
    add_number(p, number);
    g_string_append(p->script, " nohead front linecolor rgb '#a61e2b' dashtype 2 linewidth 1.2\n");
}

/* How often an alarm sounded; "never" is said of what was judged. */
static void add_times(const panel *p, uint16_t n, GString *title)
{
    const vd_watch *watch = p->chart->watch;
    const vd_watched *alarm = vd_watch_alarm(watch, n);
    if (alarm->sounded > 0) {
        g_string_append_printf(title, "sounded %u time%s", alarm->sounded, alarm->sounded == 1 ? "" : "s");
    } else {
        bool blind = alarm->lost && alarm->unjudged >= vd_watch_now(watch) - vd_watch_begin(watch);
        g_string_append(title, blind ? "was not judged" : "never sounded");
    }
}

static void add_title(const panel *p, const vd_set *set, const uint16_t *alarms, guint count)
{
    const char *label = vd_watch_model(p->chart->watch)->channels[p->channel].label;
    GString *title = g_string_new("");
    for (guint i = 0; i < count; i++) {
        char called[256], met[512], only[512];
        vd_writer to_called = vd_writer_start(called, sizeof called), to_met = vd_writer_start(met, sizeof met);
        vd_writer to_only = vd_writer_start(only, sizeof only);
        vd_alarm_call(set, alarms[i], &to_called);
        vd_alarm_tell(set, alarms[i], VD_ALARM_MET, &to_met);
        vd_alarm_tell(set, alarms[i], VD_ALARM_ONLY_WHILE, &to_only);
        if (count > 1) { /* there is no room for more */
            g_string_append_printf(title, "%s%s ", i == 0 ? label : "", i == 0 ? ":" : ",");
            g_string_append_printf(title, "%s ", called);
            add_times(p, alarms[i], title);
            continue;
        }
        g_string_append_printf(title, "%s%s", g_str_has_prefix(called, label) ? "" : label,
                               g_str_has_prefix(called, label) ? "" : ". ");
        g_string_append_printf(title, "%s: when %s%s%s; it ", called, met, only[0] != '\0' ? ", only while " : "",
                               only);
        add_times(p, alarms[i], title);
    }
    g_string_append_c(title, '.');
    shorten(title, MOST_TITLE);
    g_string_append(p->script, "set label ");
    chart_add_quoted(p->script, title->str);
    g_string_append(p->script, " at graph 0, graph 1.08 left front\n");
    g_string_free(title, TRUE);
}

/* What the colours mean, below the last panel. */
static void add_legend(GString *script, guint high)
{
    double at = 0.085;
    for (size_t k = 0; k < G_N_ELEMENTS(shades); k++, at += 0.15) {
        g_string_append_printf(
            script,
            "set label '%s' at screen %.3f, screen %.4f textcolor rgb '#333333' front\n"
            "set object rectangle from screen %.3f, screen %.4f to screen %.3f, screen %.4f fillcolor "
            "rgb '%s' fillstyle solid 0.75 noborder\n",
            shades[k].label, at + 0.022, 9.0 / high, at, 4.0 / high, at + 0.018, 14.0 / high, shades[k].colour);
    }
}

/* ---- The axis ---- */

static int by_size(gconstpointer a, gconstpointer b)
{
    const int64_t *p = a, *q = b;
    return (*p > *q) - (*p < *q);
}

/* How far two values are apart; the most that is counted where they are further. */
static int64_t apart(int64_t low, int64_t high)
{
    double far = (double)high - (double)low;
    return far < (double)INT64_MAX / 64 ? (int64_t)far : INT64_MAX / 64;
}

static int64_t moved(int64_t from, int64_t by)
{
    int64_t to = 0;
    return !__builtin_add_overflow(from, by, &to) ? to : by < 0 ? INT64_MIN / 2 : INT64_MAX / 2;
}

/* What most values lie between: a sensor that fails for a moment is not to flatten all else. */
static void find_usual(const panel *p, int64_t *low, int64_t *high)
{
    int64_t least[CHART_COLUMNS], most[CHART_COLUMNS];
    guint count = 0;
    for (guint k = 0; k < p->chart->used; k++) {
        if (is_seen(p, k)) {
            least[count] = p->line->least[k];
            most[count++] = p->line->most[k];
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
    int64_t far = 2 * MAX(apart(*low, *high), 1); /* a peak that is no slip is shown */
    *low = least[0] >= moved(*low, -far) ? least[0] : *low;
    *high = most[count - 1] <= moved(*high, far) ? most[count - 1] : *high;
}

/* Room above and below what is drawn, so that limits are seen; of a value that never changes one of its unit. */
static void find_range(panel *p, const uint16_t *alarms, guint count)
{
    int64_t low = 0, high = 0, ends[2], unit = 1;
    find_usual(p, &low, &high);
    int64_t least = low, most = high, spread = MAX(apart(low, high), 1);
    for (guint i = 0; i < 2 * count; i++) {
        if (vd_watch_limits(p->chart->watch, alarms[i / 2], &ends[0], &ends[1])) {
            int64_t end = ends[i % 2];
            bool open = end == INT64_MIN || end == INT64_MAX;
            /* A limit far away would flatten the line. */
            bool near = !open && end > moved(low, -2 * spread) && end < moved(high, 2 * spread);
            least = near ? MIN(least, end) : least;
            most = near ? MAX(most, end) : most;
        }
    }
    for (unsigned i = 0; i < p->places; i++) {
        unit *= 10;
    }
    int64_t room = most > least ? MAX(apart(least, most) / 8, 1) : unit;
    p->bottom = moved(least, -room);
    p->top = moved(most, room);
}

/* Names in place of numbers. */
static void find_states(panel *p)
{
    uint16_t count = count_states(p);
    bool other = false;
    g_string_append(p->script, "set ytics (");
    for (uint16_t i = 0; i < count; i++) {
        GString *name = g_string_new(p->choices != NULL ? p->choices->choices[i].name : i == 0 ? "off" : "on");
        shorten(name, MOST_NAME);
        chart_add_quoted(p->script, name->str);
        g_string_free(name, TRUE);
        g_string_append_printf(p->script, " %u, ", i);
    }
    for (guint k = 0; k < p->chart->used; k++) {
        other = other ||
                (is_seen(p, k) && (on_axis(p, p->line->last[k]) == count || on_axis(p, p->line->least[k]) == count));
    }
    g_string_append_printf(p->script, "'%s' %u)\n", other ? "another" : "", count);
    p->bottom = -3;
    p->top = ((int64_t)count - 1 + other) * 10 + 3;
}

static void add_axis(const panel *p)
{
    uint16_t reads = vd_index(vd_watch_model(p->chart->watch)->channels[p->channel].reads);
    g_string_append(p->script, "set yrange [");
    add_number(p, p->bottom);
    g_string_append(p->script, ":");
    add_number(p, p->top);
    g_string_append(p->script, "]\nset ylabel ");
    chart_add_quoted(p->script,
                     reads != VD_NONE && !p->states ? vd_watch_model(p->chart->watch)->settings[reads].measure : "");
    g_string_append(p->script, p->states ? "\n" : "\nset ytics autofreq\n");
}

/* ---- Values ---- */

static void add_point(const panel *p, double at, int64_t least, int64_t most, int64_t value)
{
    const int64_t numbers[] = {least, most, value};
    g_string_append_printf(p->script, "%.3f", at);
    for (int i = 0; i < 3; i++) {
        g_string_append_c(p->script, ' ');
        add_number(p, on_axis(p, numbers[i]));
    }
    g_string_append_c(p->script, '\n');
}

/* A value holds until the next one, as long as values hold; then the line is broken. What stands alone for no longer
 * than can be seen is put into `dots`. */
static void add_values(const panel *p, GString *dots)
{
    const chart_line *line = p->line;
    const vd_chart *chart = p->chart;
    double half = (double)chart->width / 2000;
    guint before = G_MAXUINT, run = 0;
    g_string_append(p->script, "$values << EOD\n");
    for (guint k = 0; k <= chart->used; k++) {
        bool ends = k == chart->used, seen = !ends && is_seen(p, k);
        if (!seen && !(ends && before != G_MAXUINT)) {
            continue;
        }
        int64_t held = before != G_MAXUINT ? line->until[before] : INT64_MIN;
        bool holds = !ends && before != G_MAXUINT && (k == before + 1 || held >= begin_of(p, k));
        if (before != G_MAXUINT && (!holds || k > before + 1)) {
            int64_t end = MIN(MIN(held, begin_of(p, k) + chart->width / 2), vd_watch_now(chart->watch));
            end = MAX(end, begin_of(p, before) + chart->width / 2);
            add_point(p, chart_seconds(end, p->zone), line->last[before], line->last[before], line->last[before]);
            if (run == 1 && !holds && end - begin_of(p, before) < 4 * chart->width) {
                char text[40];
                vd_writer writer = vd_writer_start(text, sizeof text);
                vd_writer_add_decimal(&writer, on_axis(p, line->last[before]), p->places);
                g_string_append_printf(dots, "%.3f %s\n", seconds(p, before) + half, text);
            }
        }
        g_string_append(p->script, before != G_MAXUINT && !holds ? "\n" : "");
        if (seen) {
            add_point(p, seconds(p, k) + half, line->least[k], line->most[k], line->last[k]);
            run = holds ? run + 1 : 1;
            before = k;
        }
    }
    g_string_append(p->script, "EOD\n");
}

/* What lies beyond the axis is marked at its edge, the furthest with its value. */
static bool add_beyond(const panel *p, bool above)
{
    guint furthest = G_MAXUINT;
    GString *points = g_string_new("");
    const int64_t *values = above ? p->line->most : p->line->least;
    for (guint k = 0; k < p->chart->used; k++) {
        if (is_seen(p, k) && (above ? values[k] > p->top : values[k] < p->bottom)) {
            bool further =
                furthest == G_MAXUINT || (above ? values[k] > values[furthest] : values[k] < values[furthest]);
            furthest = further ? k : furthest;
            g_string_append_printf(points, "%.3f\n", seconds(p, k));
        }
    }
    if (points->len > 0) {
        char text[64];
        vd_writer writer = vd_writer_start(text, sizeof text);
        vd_channel_print(vd_watch_model(p->chart->watch), p->channel, values[furthest], &writer);
        g_string_append_printf(p->script, "$%s << EOD\n%sEOD\nset label ", above ? "above" : "below", points->str);
        chart_add_quoted(p->script, text);
        g_string_append_printf(p->script,
                               " at %.3f, graph %s offset 1,0 left front textcolor rgb '#1f4e79' font ',8'\n",
                               seconds(p, furthest), above ? "0.94" : "0.06");
    }
    bool any = points->len > 0;
    g_string_free(points, TRUE);
    return any;
}

static void add_plot(const panel *p, const GString *dots)
{
    bool above = !p->states && add_beyond(p, true), below = !p->states && add_beyond(p, false);
    if (dots->len > 0) {
        g_string_append_printf(p->script, "$dots << EOD\n%sEOD\n", dots->str);
    }
    g_string_append(
        p->script,
        "plot $values using 1:2:3 with filledcurves linecolor rgb '#1f4e79' notitle, $values using 1:4 with lines "
        "linecolor rgb '#1f4e79' linewidth 1.4 notitle");
    g_string_append(p->script, dots->len > 0 ? ", $dots using 1:2 with points pointtype 7 pointsize 0.5 linecolor rgb "
                                               "'#1f4e79' notitle"
                                             : "");
    for (int i = 0; i < 2; i++) {
        if (i == 0 ? above : below) {
            g_string_append_printf(p->script, ", $%s using 1:(", i == 0 ? "above" : "below");
            add_number(p, i == 0 ? p->top : p->bottom);
            g_string_append_printf(
                p->script, ") with points pointtype %d pointsize 1.4 linecolor rgb '#1f4e79' notitle", i == 0 ? 9 : 11);
        }
    }
    g_string_append_c(p->script, '\n');
}

void chart_add_panel(const vd_chart *chart, GString *script, const vd_set *set, uint16_t channel, int16_t zone,
                     guint legend)
{
    const vd_model *model = vd_watch_model(chart->watch);
    bool states = vd_channel_has_states(model, channel);
    uint16_t reads = vd_index(model->channels[channel].reads), alarms[MOST_LANES] = {0};
    bool named = states && reads != VD_NONE && model->settings[reads].traits->id == VD_CHOICE;
    panel p = {.chart = chart,
               .script = script,
               .line = &chart->lines[channel],
               .channel = channel,
               .places = states ? 0 : vd_channel_places(model, channel),
               .states = states,
               .choices = named ? &model->settings[reads] : NULL,
               .zone = zone};
    guint count = find_alarms(&p, alarms);
    GString *dots = g_string_new("");
    g_string_append(script, "unset object\nunset arrow\nunset label\n");
    if (legend > 0) {
        add_legend(script, legend);
    }
    add_title(&p, set, alarms, count);
    add_lanes(&p, set, alarms, count);
    for (guint i = 0; i < count && !states; i++) {
        int64_t ends[2] = {INT64_MIN, INT64_MAX};
        if (vd_watch_limits(chart->watch, alarms[i], &ends[0], &ends[1])) {
            add_limit(&p, ends[0]);
            add_limit(&p, ends[1]);
        }
    }
    add_values(&p, dots);
    if (p.states) {
        find_states(&p);
        p.places = 1; /* the ends of the axis stand between states */
    } else {
        find_range(&p, alarms, count);
    }
    add_axis(&p);
    add_plot(&p, dots);
    g_string_free(dots, TRUE);
}
