/* SPDX-License-Identifier: MIT
 * The link test: identifications by the dozen, counted and timed. */
#include "search_parts.h"

#include <string.h>

static void ask(vd_link_test *test)
{
    vd_probe_begin(&test->probe, test->now, test->desk, test->model, &test->line, test->address, test->limit,
                   test->gap);
    test->asked++;
    test->news++;
}

void vd_link_test_begin(vd_link_test *test, uint64_t now, const vd_desk *desk, const vd_model *model,
                        const vd_serial *line, uint8_t address, uint16_t count, uint32_t *times, uint32_t limit,
                        uint32_t gap)
{
    memset(test, 0, sizeof *test);
    test->line = *line;
    test->address = address;
    test->desk = desk;
    test->model = model;
    test->count = count;
    test->times = times;
    test->limit = limit;
    test->gap = gap;
    test->now = now;
    test->running = true;
    ask(test);
}

/* Keeps the times sorted: the median is then at hand at any moment. */
static void keep_time(vd_link_test *test, uint32_t time)
{
    uint16_t at = test->answered;
    for (; at > 0 && test->times[at - 1] > time; at--) {
        test->times[at] = test->times[at - 1];
    }
    test->times[at] = time;
    test->answered++;
}

static void take(vd_link_test *test)
{
    const vd_evidence *evidence = &test->probe.evidence;
    test->error_bytes += evidence->error_bytes;
    /* A refusal is a reply as well: the line carried it. */
    if (evidence->status == VD_OK || vd_status_class(evidence->status) == VD_CLASS_REFUSED) {
        keep_time(test, evidence->reply_time < UINT32_MAX ? (uint32_t)evidence->reply_time : UINT32_MAX);
    } else if (evidence->bytes == 0) {
        test->lost++;
    } else {
        test->damaged++;
    }
}

static void end(vd_link_test *test, vd_status status)
{
    test->running = false;
    test->status = status;
    test->news++;
}

static void link_test_feed(void *engine, const vd_event *event)
{
    vd_link_test *test = engine;
    test->now = event->now;
    if (!test->running) {
        return;
    }
    if (event->kind == VD_STOP || event->kind == VD_LOST) {
        test->asked--; /* the question that stands is not counted */
        end(test, event->kind == VD_STOP ? VD_STOPPED : event->status);
        return;
    }
    vd_probe_engine.feed(&test->probe, event);
    if (vd_probe_ended(&test->probe)) {
        take(test);
        test->asked < test->count ? ask(test) : end(test, VD_OK);
    }
}

static void link_test_wants(const void *engine, vd_wants *wants)
{
    const vd_link_test *test = engine;
    if (test->running) {
        vd_probe_engine.wants(&test->probe, wants);
        wants->done = false;
    } else {
        *wants = (vd_wants){.wake = VD_NEVER, .done = true};
    }
    wants->news = test->news;
}

const vd_engine vd_link_test_engine = {link_test_wants, link_test_feed};

bool vd_link_test_ended(const vd_link_test *test, vd_status *status)
{
    *status = test->status;
    return !test->running;
}

vd_link_result vd_link_test_result(const vd_link_test *test)
{
    vd_link_result result = {.asked = test->asked,
                             .answered = test->answered,
                             .lost = test->lost,
                             .damaged = test->damaged,
                             .error_bytes = test->error_bytes};
    if (test->answered > 0) {
        result.quickest = test->times[0];
        result.median = test->times[test->answered / 2];
        result.slowest = test->times[test->answered - 1];
    }
    bool judged = test->asked > 0 && (test->status == VD_OK || test->status == VD_STOPPED);
    bool sound = test->answered == test->asked && test->error_bytes == 0;
    bool usable = 10u * test->answered >= 9u * test->asked;
    result.grade = !judged ? VD_LINK_NOT_JUDGED : sound ? VD_LINK_SOUND : usable ? VD_LINK_MARGINAL : VD_LINK_UNUSABLE;
    return result;
}
