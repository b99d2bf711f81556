/* SPDX-License-Identifier: MIT
 * Which days intervals are played over, and what those give that somebody described. */
#include "intervals.h"
#include "../print/print.h"

#include <string.h>

/* A file of days; else days in words. */
static vd_days *described(cli *c, const vd_model *model)
{
    const char *day = c->options.day;
    vd_fault fault = {0};
    if (!g_str_has_suffix(day, ".yaml")) {
        vd_days *days = vd_days_parse(model, day, &fault);
        if (days == NULL) {
            report(c, &fault);
            c->worst = VD_CLASS_USAGE;
        }
        return days;
    }
    vd_findings *findings = vd_findings_new(day);
    vd_days *days = vd_days_load(model, day, findings);
    if (days == NULL) {
        report_findings(c, findings);
        c->worst = MAX(c->worst, VD_CLASS_FILE);
    }
    vd_findings_free(findings);
    return days;
}

/* A tracker that says nothing for longer was off, or its log is not whole. */
#define HOLDS (15u * 60000u) /* milliseconds */

/* A recorded log, and what was amiss in it. */
static vd_days *recorded(cli *c, const vd_model *model)
{
    vd_day_log met;
    vd_fault fault = {0};
    int16_t zone = VD_NO_ZONE;
    uint32_t holds = (c->options.time != 0 ? c->options.time : HOLDS) / 1000u;
    if (!zone_take(c, &zone)) {
        return NULL;
    }
    vd_days *days = vd_days_from_log(model, c->options.log, c->options.columns, zone, MAX(holds, 1), &met, &fault);
    if (days == NULL) {
        report(c, &fault);
        return NULL;
    }
    if (met.gaps > 0) {
        char *all = g_strdup(duration_text((int64_t)met.gap_seconds * 1000));
        message(c,
                "note: %" G_GUINT64_FORMAT " gap%s, %s in all. The unit rests there. To hold rows longer: --holds TIME",
                met.gaps, met.gaps == 1 ? "" : "s", all);
        g_free(all);
    }
    if (met.skipped + met.odd_cells > 0) {
        message(c,
                "note: skipped %" G_GUINT64_FORMAT " rows without a later time, and %" G_GUINT64_FORMAT
                " cells that hold no such value.",
                met.skipped, met.odd_cells);
    }
    return days;
}

static bool sends_bytes(const vd_costs *costs)
{
    bool sends = false;
    for (uint16_t n = 0; costs != NULL && n < costs->count; n++) {
        sends = sends || !costs->list[n].charge;
    }
    return sends;
}

/* What is amiss in tariffs that are each sound. NULL: nothing. */
static const char *misfit(const vd_model *model, const day_list *days)
{
    unsigned always = 0, foreign = 0;
    for (uint8_t k = 0; k < days->tariff_count; k++) {
        always += days->tariffs[k].when == VD_NONE;
        foreign += strcmp(days->tariffs[k].currency, days->tariffs[0].currency) != 0;
    }
    return !sends_bytes(model->intervals->costs) ? "This model does not say how many bytes it sends."
           : foreign > 0                         ? "All tariffs need one currency."
           : always != 1                         ? "Give one tariff without \"while\", and others with it."
                                                 : NULL;
}

/* The tariffs that were typed, the one that always counts last. */
static bool take_tariffs(cli *c, const vd_model *model, day_list *days)
{
    vd_fault fault = {0};
    for (char **text = c->options.tariffs; text != NULL && *text != NULL; text++) {
        vd_typed_tariff one;
        if (days->tariff_count == VD_MOST_TARIFFS) {
            report_wrong_words(c, "These are too many tariffs.", "Give 8 at most.");
            return false;
        }
        if (vd_tariff_parse(model->intervals, *text, strlen(*text), &one, &fault) != VD_OK) {
            report(c, &fault);
            return false;
        }
        days->tariffs[days->tariff_count++] = one;
    }
    for (uint8_t k = 0; k + 1 < days->tariff_count; k++) {
        if (days->tariffs[k].when == VD_NONE) {
            vd_typed_tariff always = days->tariffs[k];
            days->tariffs[k] = days->tariffs[days->tariff_count - 1];
            days->tariffs[days->tariff_count - 1] = always;
        }
    }
    const char *wrong = days->tariff_count > 0 ? misfit(model, days) : NULL;
    if (wrong != NULL) {
        report_wrong_words(c, wrong, "");
    }
    return wrong == NULL;
}

static bool take_days(cli *c, const vd_model *model, day_list *days)
{
    if (c->options.day == NULL && c->options.log == NULL) {
        *days = days_usual(model);
        return true;
    }
    days->described = c->options.day != NULL ? described(c, model) : recorded(c, model);
    days->list = days->described != NULL ? vd_days_list(days->described, &days->count) : NULL;
    return days->described != NULL;
}

bool days_choose(cli *c, const vd_model *model, day_list *days)
{
    *days = (day_list){0};
    if (model->intervals == NULL) {
        return true;
    }
    return take_days(c, model, days) && take_tariffs(c, model, days);
}

day_list days_usual(const vd_model *model)
{
    return (day_list){.list = model->intervals->days, .count = model->intervals->day_count};
}

void days_free(day_list *days)
{
    vd_days_free(days->described);
}

char *days_words(const day_list *days)
{
    GString *words = g_string_new("");
    for (uint16_t d = 0; d < days->count; d++) {
        bool told = false;
        for (uint16_t k = 0; k < d; k++) {
            told = told || days->list[k].stretches == days->list[d].stretches;
        }
        g_string_append_printf(words, "%s%s", words->len > 0 && !told ? ", " : "", told ? "" : days->list[d].label);
    }
    return g_string_free(words, FALSE);
}

void days_show(const cli *c, const vd_model *model, const day_list *days)
{
    static const char *const titles[] = {"for", "what the unit meets", NULL};
    if (days->described == NULL || c->options.log != NULL) { /* a log is no text for people */
        return;
    }
    for (uint16_t d = 0; d < days->count; d++) {
        const vd_day *day = &days->list[d];
        sheet s = sheet_start(c, stdout, titles);
        bool told = false;
        for (uint16_t k = 0; k < d; k++) {
            told = told || days->list[k].stretches == day->stretches;
        }
        if (told) {
            sheet_drop(&s);
            continue;
        }
        sheet_heading(&s, day->label);
        for (uint16_t i = 0; i < day->stretch_count; i++) {
            char text[512];
            vd_writer writer = vd_writer_start(text, sizeof text);
            vd_stretch_say(model, &day->stretches[i], &writer);
            sheet_row(&s, duration_text(day->stretches[i].lasts * 1000u), text, NULL);
        }
        sheet_print(&s);
    }
}
