/* SPDX-License-Identifier: MIT
 * verdite link: how sound the line to a unit is. */
#include "commands.h"
#include "../print/print.h"

#include <string.h>

#define MOST 10000

typedef struct telling {
    const cli *c;
    const vd_link_test *test;
} telling;

static void show_progress(void *about)
{
    const telling *t = about;
    char text[32];
    g_snprintf(text, sizeof text, "%u of %u", vd_link_test_result(t->test).asked, t->c->options.count.value);
    progress_show(t->c, text);
}

static void show_counts(const cli *c, const vd_link_result *result)
{
    static const char *const titles[] = {"", "", NULL};
    sheet s = sheet_start(c, stdout, titles);
    const struct {
        const char *what;
        unsigned number;
        const char *unit;
    } counts[] = {{"asked", result->asked, ""},
                  {"answered", result->answered, ""},
                  {"lost", result->lost, ""},
                  {"damaged", result->damaged, ""},
                  {"line errors", result->error_bytes, " bytes"}};
    for (size_t i = 0; i < G_N_ELEMENTS(counts); i++) {
        char *number = g_strdup_printf("%u%s", counts[i].number, counts[i].unit);
        sheet_row(&s, counts[i].what, number, NULL);
        g_free(number);
    }
    if (result->answered > 0) {
        char *times = g_strdup_printf("%.1f ms, at the quickest %.1f, at the slowest %.1f", result->median / 1000.0,
                                      result->quickest / 1000.0, result->slowest / 1000.0);
        sheet_row(&s, "reply after", times, NULL);
        g_free(times);
    }
    sheet_print(&s);
}

static void show(cli *c, const vd_model *model, const place *p, const vd_link_result *result)
{
    static const struct {
        const char *word, *advice;
        tone t;
        vd_class class;
    } grades[] = {
        [VD_LINK_NOT_JUDGED] = {"not judged", "Test it again.", TONE_DOUBT, VD_CLASS_FINE},
        [VD_LINK_SOUND] = {"sound", "Nothing to do.", TONE_GOOD, VD_CLASS_FINE},
        [VD_LINK_MARGINAL] = {"marginal",
                              "Check screws, screen and termination; it works now, and may not when it rains.",
                              TONE_DOUBT, VD_CLASS_PARTLY},
        [VD_LINK_UNUSABLE] = {"unusable", "Do not write over this line. Find out why: verdite diagnose", TONE_BAD,
                              VD_CLASS_NO},
    };
    c->worst = MAX(c->worst, grades[result->grade].class);
    json_object_set_new(c->result, "judgement", json_string(grades[result->grade].word));
    json_object_set_new(c->result, "test",
                        json_pack("{s:i, s:i, s:i, s:i, s:i, s:i, s:i, s:i}", "asked", result->asked, "answered",
                                  result->answered, "lost", result->lost, "damaged", result->damaged, "line-errors",
                                  (int)result->error_bytes, "quickest-us", (int)result->quickest, "median-us",
                                  (int)result->median, "slowest-us", (int)result->slowest));
    if (c->options.json) {
        return;
    }
    char *where = place_words(p, model), *title = g_strdup_printf("The line to the %s %s", model->key, where);
    title_print(c, title);
    g_free(title);
    g_free(where);
    show_counts(c, result);
    char *lead = g_strdup_printf("The line is %s.", grades[result->grade].word);
    lead_print(c, grades[result->grade].t, lead, "", grades[result->grade].advice);
    g_free(lead);
}

vd_class command_link(cli *c)
{
    static uint32_t times[MOST];
    vd_link_test_storage test = {0};
    place p = {0};
    trace t;
    vd_status status = VD_OK;
    const vd_model *model = meet_model(c);
    if (model == NULL) {
        return c->worst;
    }
    if (!trace_start(c, &t)) {
        return c->worst;
    }
    if (place_open(c, model, &p)) {
        uint32_t latency = p.kind->latency(p.port);
        vd_link_test_begin(vd_link_test_in(&test), p.kind->now(p.ground), vd_desk_of(model),
                           vd_model_has_address(model) ? NULL : model, &p.line, p.address,
                           (uint16_t)c->options.count.value, times, model->reply.longest * 1000u + 2 * latency,
                           model->reply.gap * 1000u + latency);
        telling tell = {c, vd_link_test_in(&test)};
        place_turn(&p, &t, &vd_link_test_engine, vd_link_test_in(&test), show_progress, &tell);
        progress_show(c, "");
        vd_link_result result = vd_link_test_result(vd_link_test_in(&test));
        if (vd_link_test_ended(vd_link_test_in(&test), &status) && status != VD_OK) {
            vd_fault fault = {0};
            vd_fault_note(&fault, status, NULL, p.name, status == VD_STOPPED ? "No setting was touched." : "");
            report(c, &fault);
        }
        show(c, model, &p, &result);
    }
    trace_end(c, &t);
    place_close(c, &p);
    g_free(p.name);
    g_free(p.adapter);
    return c->worst;
}
