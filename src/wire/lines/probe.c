/* SPDX-License-Identifier: MIT
 * The probe in lines: the question who it is that every unit of a manner knows. */
#include "../probe.h"
#include "lines.h"

#include <string.h>

static vd_heed judge(void *about, const char *line, size_t length, vd_status *status)
{
    vd_probe *probe = about;
    const vd_text_client *client = &probe->lines;
    return vd_reply_identity((vd_speech)client->manner.speech, client->manner.talker, client->request,
                             client->request_length, line, length, VD_IDENTITY_PARTS, &probe->evidence.identity,
                             &probe->answers, status);
}

void vd_text_probe_begin(vd_probe *probe, uint64_t now, const vd_line *line, uint32_t limit, uint32_t gap)
{
    const vd_text_manner manner = {.line = *line,
                                   .talker = probe->model->lines.talker,
                                   .limit = limit,
                                   .gap = gap,
                                   .speech = probe->model->speech,
                                   .tries = 1};
    vd_text_client_start(&probe->lines, &manner, probe->request, sizeof probe->request, probe->heard,
                         sizeof probe->heard);
    vd_request request = vd_request_start(probe->model, probe->request, sizeof probe->request);
    vd_request_identity(&request, VD_IDENTITY_PARTS);
    probe->lines.request_length = vd_request_end(&request);
    probe->answers = probe->echoed = 0;
    vd_text_client_begin(&probe->lines, now, false, judge, probe);
}

static void hear(vd_probe *probe, const vd_event *event)
{
    vd_evidence *evidence = &probe->evidence;
    for (size_t i = 0; i < event->count; i++) {
        /* Our own bytes, as a prefix of what is heard, are no reply; units that echo do so too. */
        if (probe->echoed < probe->lines.request_length && evidence->bytes == 0 &&
            event->bytes[i] == (uint8_t)probe->request[probe->echoed]) {
            probe->echoed++;
            evidence->echo = probe->echoed == probe->lines.request_length;
            continue;
        }
        if (event->now < probe->lines.reply_from) { /* the end of the answer before */
            evidence->surplus = (uint16_t)(evidence->surplus + (evidence->surplus < UINT16_MAX));
            continue;
        }
        bool bad = event->errors != NULL && event->errors[i] != 0;
        evidence->bytes = (uint16_t)(evidence->bytes + (evidence->bytes < UINT16_MAX));
        evidence->error_bytes = (uint16_t)(evidence->error_bytes + (bad && evidence->error_bytes < UINT16_MAX));
        probe->first = probe->first == VD_NEVER ? event->now : probe->first;
        vd_probe_hear_runs(probe, event->bytes[i]);
    }
}

void vd_text_probe_feed(vd_probe *probe, const vd_event *event)
{
    vd_evidence *evidence = &probe->evidence;
    vd_status status = VD_OK;
    if (vd_text_client_ended(&probe->lines, &status)) {
        return;
    }
    if (event->kind == VD_HEARD) {
        hear(probe, event);
    } else if (event->kind == VD_SENT) {
        probe->sent = event->until;
    }
    vd_text_client_engine.feed(&probe->lines, event);
    if (vd_text_client_ended(&probe->lines, &evidence->status)) {
        evidence->headed = probe->lines.lines > 0;
        evidence->reply_time = probe->first != VD_NEVER && probe->sent != VD_NEVER && probe->first > probe->sent
                                   ? probe->first - probe->sent
                                   : 0;
    }
}

void vd_text_probe_wants(const vd_probe *probe, vd_wants *wants)
{
    vd_text_client_engine.wants(&probe->lines, wants);
}
