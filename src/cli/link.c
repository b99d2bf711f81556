/* SPDX-License-Identifier: MIT
 * verdite link: how sound the line to a unit is. */
#include "cli.h"

#define MOST 10000

static void show_progress(void *about)
{
    const vd_link_test *test = about;
    fprintf(stderr, "\r\033[K%u of %u", vd_link_test_result(test).asked, test->count);
}

static void show(cli *c, const vd_model *model, const place *p, const vd_link_result *result)
{
    static const struct {
        const char *word, *advice;
        tone t;
        vd_class class;
    } grades[] = {
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
    char *where = place_words(p, model);
    printf("%sThe line to the %s %s%s\n", tone_on(c->colour, TONE_STRONG), model->key, where,
           tone_off(c->colour, TONE_STRONG));
    g_free(where);
    printf("  asked        %u\n  answered     %u\n  lost         %u\n  damaged      %u\n  line errors  %u bytes\n",
           result->asked, result->answered, result->lost, result->damaged, result->error_bytes);
    if (result->answered > 0) {
        printf("  reply after  %.1f ms, at the quickest %.1f, at the slowest %.1f\n", result->median / 1000.0,
               result->quickest / 1000.0, result->slowest / 1000.0);
    }
    printf("The line is %s%s%s. %s\n", tone_on(c->colour, grades[result->grade].t), grades[result->grade].word,
           tone_off(c->colour, grades[result->grade].t), grades[result->grade].advice);
}

vd_class command_link(cli *c)
{
    static uint32_t times[MOST];
    vd_link_test test = {0};
    place p = {0};
    trace t;
    vd_status status = VD_OK;
    const vd_model *model = meet_model(c);
    if (model == NULL) {
        return c->worst;
    }
    if (c->options.words != NULL || c->options.count < 1 || c->options.count > MOST) {
        return report_wrong_words(c, "link takes no words, and --count 1 to 10000.", "See: verdite link --help");
    }
    if (!trace_start(c, &t)) {
        return c->worst;
    }
    if (place_open(c, model, &p)) {
        uint32_t latency = p.kind->latency(p.port);
        vd_link_test_begin(&test, p.kind->now(p.ground), &p.line, p.address,
                           !vd_model_has_address(model) ? model : NULL, (uint16_t)c->options.count, times,
                           model->reply.longest * 1000u + 2 * latency, model->reply.gap * 1000u + latency);
        bool live = c->live_messages && !c->options.trace;
        place_turn(&p, &t, &vd_link_test_engine, &test, live ? show_progress : NULL, &test);
        if (c->live_messages) {
            fprintf(stderr, "\r\033[K");
        }
        vd_link_result result = vd_link_test_result(&test);
        if (vd_link_test_ended(&test, &status) && status != VD_OK) {
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
