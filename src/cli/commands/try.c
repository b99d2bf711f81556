/* SPDX-License-Identifier: MIT
 * verdite try: when alarms would have sounded. */
#include "commands.h"
#include "../look/look.h"
#include "../print/print.h"

#include <string.h>

static bool show_progress(void *about, unsigned permille)
{
    const tryout *t = about;
    char *text = g_strdup_printf("%u.%u %% of the log", permille / 10, permille % 10);
    progress_show(t->c, text);
    g_free(text);
    return stops_so_far() == 0;
}

/* Channels whose values hold for less than it takes the log to say the next: between them nothing is judged. */
static uint64_t gaps_of(const vd_log *log, const vd_model *model)
{
    uint64_t gaps = 0;
    for (uint16_t i = 0; i < model->channel_count; i++) {
        const vd_log_cells *cells = &vd_log_count(log)->cells[i];
        gaps |= cells->distance > cells->holds_for ? (uint64_t)1 << i : 0;
    }
    return gaps;
}

/* For how long values hold, where the model and the log, or the model and who typed, are not of one mind. */
static void tell_holds(cli *c, const vd_log *log, const vd_model *model)
{
    uint64_t gaps = gaps_of(log, model);
    for (uint16_t i = 0; i < model->channel_count; i++) {
        const vd_log_cells *cells = &vd_log_count(log)->cells[i];
        const char *label = model->channels[i].label;
        uint32_t said = model->channels[i].holds_for;
        if ((gaps >> i & 1) != 0) {
            char *every = g_strdup(duration_text(cells->distance));
            message(c,
                    "note: a value of %s holds for %s, but the log has one every %s. The time between was not judged. "
                    "To hold values longer: --holds TIME",
                    label, duration_text(cells->holds_for), every);
            g_free(every);
        } else if (c->options.time != 0 && said != 0 && said != c->options.time) {
            char *typed = g_strdup(duration_text(c->options.time));
            message(c, "note: values of %s were held for %s, as typed. The model says %s.", label, typed,
                    duration_text(said));
            g_free(typed);
        }
    }
}

/* Columns that no channel goes by, and what alarms watch and no column has. */
static void tell_columns(const cli *c, const vd_log *log, const vd_watch *watch)
{
    const char *name = "";
    uint16_t channel = VD_NONE;
    uint64_t there = 0;
    GString *left = g_string_new(""), *lacking = g_string_new("");
    for (size_t i = 0; vd_log_column(log, i, &name, &channel); i++) {
        if (channel == VD_NONE && name[0] != '\0') {
            g_string_append_printf(left, "%s%s", left->len > 0 ? ", " : "", name);
        }
        there |= channel < VD_MOST_CHANNELS ? (uint64_t)1 << channel : 0;
    }
    for (uint16_t i = 0; i < vd_watch_model(watch)->channel_count; i++) {
        for (uint16_t n = 0; n < vd_model_alarm_count(vd_watch_model(watch)); n++) {
            const vd_watched *alarm = vd_watch_alarm(watch, n);
            if (alarm->used == VD_HOLDS && alarm->channel == i && (there >> i & 1) == 0) {
                g_string_append_printf(lacking, "%s%s", lacking->len > 0 ? ", " : "",
                                       vd_watch_model(watch)->channels[i].key);
                break;
            }
        }
    }
    if (left->len > 0) {
        message(c, "note: columns of no channel, skipped: %s. To use one: --column CHANNEL=COLUMN", left->str);
    }
    if (lacking->len > 0) {
        message(c, "note: the log has no column for these channels: %s. To use another one: --column CHANNEL=COLUMN",
                lacking->str);
    }
    g_string_free(left, TRUE);
    g_string_free(lacking, TRUE);
}

static void tell_cells(const cli *c, const vd_log *log, const vd_model *model)
{
    for (uint16_t i = 0; i < model->channel_count; i++) {
        const vd_log_cells *cells = &vd_log_count(log)->cells[i];
        bool states = vd_channel_has_states(model, i), one = cells->odd == 1;
        if (cells->odd > 0) {
            message(c,
                    "note: %" G_GUINT64_FORMAT " cell%s of %s %s no %s, and %s as %s; the first: \"%s\" in line "
                    "%" G_GUINT64_FORMAT ".",
                    cells->odd, one ? "" : "s", model->channels[i].label, one ? "holds" : "hold",
                    states ? "state that it has" : "number", one ? "counts" : "count",
                    states ? "another one" : "not known", cells->odd_text, cells->odd_line);
        }
    }
}

/* Which columns served what, and what was amiss. */
static void tell_log(cli *c, const vd_log *log, const vd_watch *watch)
{
    const vd_log_counts *counts = vd_log_count(log);
    tell_cells(c, log, vd_watch_model(watch));
    tell_holds(c, log, vd_watch_model(watch));
    if (counts->turned) {
        message(c, "note: the log begins with its newest row, so it was read from the end.");
    }
    if (counts->no_time > 0) {
        message(c,
                "note: %" G_GUINT64_FORMAT " row%s skipped without a time; the first: \"%s\" in line %" G_GUINT64_FORMAT
                ".",
                counts->no_time, counts->no_time == 1 ? " was" : "s were", counts->no_time_text, counts->no_time_line);
    }
    if (counts->left_out > 0) {
        message(c,
                "note: %" G_GUINT64_FORMAT
                " row%s skipped, earlier than the one before. A clock may have been put back.",
                counts->left_out, counts->left_out == 1 ? " was" : "s were");
    }
    if (counts->replaced > 0) {
        message(c, "note: %" G_GUINT64_FORMAT " row%s replaced by the next one with the same time.", counts->replaced,
                counts->replaced == 1 ? " was" : "s were");
    }
    if (vd_watch_odd_rows(watch).crowded > 0) {
        message(c, "note: a rate was unknown %u times: too many rows within its time.",
                vd_watch_odd_rows(watch).crowded);
    }
    tell_columns(c, log, watch);
    json_object_set_new(c->result, "rows", json_integer((json_int_t)counts->rows));
    json_object_set_new(c->result, "rows-left-out",
                        json_integer((json_int_t)counts->left_out + (json_int_t)counts->no_time));
    json_object_set_new(c->result, "newest-first", json_boolean(counts->turned));
    json_object_set_new(c->result, "rows-replaced", json_integer((json_int_t)counts->replaced));
}

static const char *zone_words(int16_t zone)
{
    static char words[24];
    g_snprintf(words, sizeof words, zone == 0 ? "UTC" : "UTC%c%02d:%02d", zone < 0 ? '-' : '+', ABS(zone) / 60,
               ABS(zone) % 60);
    return words;
}

static void draw(cli *c, tryout *t)
{
    char *picture = NULL;
    size_t length = 0;
    vd_fault fault = {0};
    vd_chart_draw(t->chart, t->set, t->zone, picture_is_svg(c), &picture, &length, &fault);
    picture_keep(c, picture, length, &fault);
    g_free(picture);
}

static void try_log(cli *c, tryout *t)
{
    vd_fault fault = {0};
    int16_t zone = VD_NO_ZONE;
    vd_log *log = zone_take(c, &zone) && picture_check(c)
                      ? vd_log_open(c->options.log, vd_watch_model(t->watch), c->options.columns, zone, &fault)
                      : NULL;
    if (log == NULL) {
        if (fault.status != VD_OK) {
            report(c, &fault);
        }
        return;
    }
    stops_catch();
    t->zone = vd_log_zone(log);
    bool fine = vd_log_measure(log, t->watch, c->options.time, show_progress, t, &fault) == VD_OK;
    t->log = log;
    t->gaps = gaps_of(log, vd_watch_model(t->watch));
    t->chart = c->options.chart != NULL ? vd_chart_new(t->watch) : NULL;
    fine = fine && vd_log_feed(log, t->watch, t->chart, show_progress, t, &fault) == VD_OK;
    stops_release();
    progress_show(c, "");
    vd_watch_end(t->watch);
    if (!fine) {
        report(c, &fault);
    }
    if (vd_watch_begin(t->watch) != VD_NO_TIME) {
        char *from = tryout_time(t, vd_watch_begin(t->watch)), *to = tryout_time(t, vd_watch_now(t->watch));
        tryout_sum_up(t);
        message(c, "From %s to %s, %" G_GUINT64_FORMAT " rows, in %s.", from, to, vd_log_count(log)->rows,
                zone_words(t->zone));
        g_free(from);
        g_free(to);
        tell_log(c, log, t->watch);
        if (t->chart != NULL) {
            draw(c, t);
        }
    }
    vd_chart_free(t->chart);
    vd_log_free(log);
    t->log = NULL;
}

vd_class command_try(cli *c)
{
    char **words = c->options.words;
    const vd_model *model = NULL;
    visit v = {0};
    side s = {.name = words[0]};
    if (c->options.log != NULL && words[1] != NULL) {
        return report_wrong_words(c, "Give values or a log, not both.", "Remove one of the two.");
    }
    if (c->options.log == NULL && c->options.limits != NULL) {
        return report_wrong_words(c, "--limit needs a log.", "Add --log FILE.");
    }
    if (side_choose(c, &s, &model) && side_open(c, &s, &model, &v)) {
        tryout t = {.c = c};
        bool live = s.profile == NULL && !s.factory;
        if (live) {
            tryout_take_live(&t, &s.set);
        }
        tryout_start(&t, c, &s.set);
        if (vd_model_alarm_count(model) == 0) {
            message(c, "The model %s has no alarms.", model->key);
        } else if (c->options.log == NULL && !live && words[1] == NULL) {
            report_wrong_words(c, "There is nothing to try the alarms on.",
                               "Give --log FILE, or values: CHANNEL=VALUE.");
        } else if (tryout_take_limits(&t)) {
            c->options.log != NULL ? try_log(c, &t) : (void)tryout_on_values(&t, words + 1);
        }
        tryout_free(&t);
    }
    side_free(&s);
    visit_free(&v);
    return c->worst;
}
