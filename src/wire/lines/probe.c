/* SPDX-License-Identifier: MIT
 * The probe in lines: the question who it is that every unit of a manner knows. */
#include "../probe_parts.h"
#include "parts.h"

#include <string.h>

typedef struct question {
    vd_lines_client client;
    char request[48], heard[VD_LONGEST_LINE];
    uint16_t answers;
    uint8_t echoed;
} question;

_Static_assert(sizeof(question) <= VD_PROBE_STATE, "the state of a probe has room for it");

static question *question_of(const vd_probe *probe)
{
    return (question *)(void *)probe->state;
}

static vd_heed judge(void *about, const char *line, size_t length, vd_status *status)
{
    vd_probe *probe = about;
    question *q = question_of(probe);
    return vd_reply_identity(q->client.manner.manner, q->client.manner.talker, q->client.request,
                             q->client.request_length, line, length, VD_IDENTITY_PARTS, &probe->evidence.identity,
                             &q->answers, status);
}

void vd_lines_probe_begin(vd_probe *probe, uint64_t now, const vd_serial *line, uint8_t address, uint32_t limit,
                          uint32_t gap)
{
    question *q = question_of(probe);
    const vd_lines_manner manner = {.line = *line,
                                    .manner = vd_manner_of(probe->model),
                                    .talker = probe->model->lines.talker,
                                    .limit = limit,
                                    .gap = gap,
                                    .tries = 1};
    (void)address; /* whoever talks in lines is alone */
    memset(q, 0, sizeof *q);
    vd_lines_client_start(&q->client, &manner, q->request, sizeof q->request, q->heard, sizeof q->heard);
    vd_request request = vd_request_start(probe->model, q->request, sizeof q->request);
    vd_request_identity(&request, VD_IDENTITY_PARTS);
    q->client.request_length = vd_request_end(&request);
    vd_lines_client_begin(&q->client, now, false, judge, probe);
}

void vd_lines_probe_listen_on(vd_probe *probe, uint32_t longer)
{
    (void)probe; /* nobody else can be there */
    (void)longer;
}

static void hear(vd_probe *probe, const vd_event *event)
{
    question *q = question_of(probe);
    vd_evidence *evidence = &probe->evidence;
    for (size_t i = 0; i < event->count; i++) {
        /* Our own bytes, as a prefix of what is heard, are no reply; units that echo do so too. */
        if (q->echoed < q->client.request_length && evidence->bytes == 0 &&
            event->bytes[i] == (uint8_t)q->request[q->echoed]) {
            q->echoed++;
            evidence->echo = q->echoed == q->client.request_length;
            continue;
        }
        if (event->now < q->client.reply_from) { /* the end of the answer before */
            evidence->surplus = (uint16_t)(evidence->surplus + (evidence->surplus < UINT16_MAX));
            continue;
        }
        vd_probe_count(probe, event->now, event->errors != NULL && event->errors[i] != 0);
        vd_probe_hear_runs(probe, event->bytes[i]);
    }
}

void vd_lines_probe_feed(vd_probe *probe, const vd_event *event)
{
    question *q = question_of(probe);
    vd_status status = VD_OK;
    if (vd_lines_client_ended(&q->client, &status)) {
        return;
    }
    if (event->kind == VD_HEARD) {
        hear(probe, event);
    } else if (event->kind == VD_SENT) {
        probe->sent = event->until;
    }
    vd_lines_client_engine.feed(&q->client, event);
    if (vd_lines_client_ended(&q->client, &probe->evidence.status)) {
        probe->evidence.headed = q->client.lines > 0;
        probe->evidence.reply_time = vd_probe_reply_time(probe);
    }
}

void vd_lines_probe_wants(const vd_probe *probe, vd_wants *wants)
{
    vd_lines_client_engine.wants(&question_of(probe)->client, wants);
}

bool vd_lines_probe_ended(const vd_probe *probe)
{
    vd_status status = VD_OK;
    return vd_lines_client_ended(&question_of(probe)->client, &status);
}
