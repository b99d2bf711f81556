/* SPDX-License-Identifier: MIT
 * A raw request in lines: one line, as it is typed. */
#include "../raw_parts.h"
#include "parts.h"

#include <string.h>

typedef struct request {
    vd_lines_client client;
    char line[VD_LONGEST_LINE], heard[VD_LONGEST_LINE];
    bool asks; /* an answer is due */
} request;

_Static_assert(sizeof(request) <= VD_RAW_STATE, "the state of a raw request has room for it");

static request *request_of(const vd_raw *raw)
{
    return (request *)(void *)raw->state;
}

static vd_heed judge(void *about, const char *line, size_t length, vd_status *status)
{
    vd_raw *raw = about;
    const vd_manner *manner = vd_manner_of(raw->model);
    vd_reply_line reply = vd_reply_parse(manner, raw->model->lines.talker, line, length);
    vd_raw_keep(raw, (const uint8_t *)line, length);
    vd_raw_keep(raw, (const uint8_t *)"\n", 1);
    *status = reply.kind == VD_REPLY_NO ? reply.refusal : VD_OK;
    bool last = reply.kind == VD_REPLY_DATA && manner->sealed && reply.number == reply.of;
    bool ends = manner->queue || reply.kind == VD_REPLY_FINE || reply.kind == VD_REPLY_NO || last;
    return ends ? VD_ENDS : VD_GOES_ON;
}

/* A sentence may be typed whole, or without the talker and the check. */
static void add_sentence(const vd_model *model, const char *typed, size_t length, vd_writer *writer)
{
    size_t talker = strlen(model->lines.talker);
    typed += typed[0] == '$';
    length = strlen(typed) < length ? strlen(typed) : length;
    length -= length > 3 && typed[length - 3] == '*' ? 3 : 0;
    vd_writer_add(writer, "$");
    if (length < talker || memcmp(typed, model->lines.talker, talker) != 0) {
        vd_writer_add(writer, model->lines.talker);
        vd_writer_add(writer, ",");
    }
    vd_writer_add_bytes(writer, typed, length);
    uint8_t check = vd_lines_check(writer->text + 1, writer->length - 1);
    vd_writer_add(writer, "*");
    vd_writer_add_hex(writer, check, 2);
    vd_writer_add(writer, "\r\n");
}

vd_status vd_lines_raw_begin(vd_raw *raw, uint64_t now, const vd_serial *line, uint8_t address, uint32_t latency,
                             const char *typed, vd_fault *fault)
{
    request *r = request_of(raw);
    vd_lines_manner manner = vd_lines_manner_of(raw->model, line, latency);
    vd_writer writer = vd_writer_start(r->line, sizeof r->line);
    size_t length = strlen(typed);
    (void)address; /* whoever talks in lines is alone */
    for (size_t i = 0; i < length; i++) {
        if ((unsigned char)typed[i] < 0x20 || (unsigned char)typed[i] > 0x7E) {
            return vd_note_WRONG_WORDS(fault, "It contains a character that no line has.",
                                       "Give one line of plain characters.");
        }
    }
    if (manner.manner->sealed) {
        add_sentence(raw->model, typed, length, &writer);
    } else {
        vd_writer_add(&writer, typed);
        vd_writer_add(&writer, manner.manner->end);
    }
    if (length == 0 || writer.cut || writer.length > raw->model->lines.longest) {
        vd_note_WRONG_WORDS(fault, "This unit does not accept this line.",
                            "Give one line, no longer than the unit accepts.");
        return VD_WRONG_WORDS;
    }
    vd_lines_client_start(&r->client, &manner, r->line, sizeof r->line, r->heard, sizeof r->heard);
    r->client.request_length = (uint16_t)writer.length;
    for (size_t i = 0; i < length; i++) {
        r->asks = r->asks || !manner.manner->queue || typed[i] == '?';
    }
    vd_lines_client_begin(&r->client, now, false, judge, raw);
    return VD_OK;
}

void vd_lines_raw_feed(vd_raw *raw, const vd_event *event)
{
    request *r = request_of(raw);
    vd_lines_client_engine.feed(&r->client, event);
    raw->ended = vd_lines_client_ended(&r->client, &raw->status);
    /* Who sets something in queries hears nothing back. */
    raw->status = raw->status == VD_NO_ANSWER && !r->asks ? VD_OK : raw->status;
}

void vd_lines_raw_wants(const vd_raw *raw, vd_wants *wants)
{
    vd_lines_client_engine.wants(&request_of(raw)->client, wants);
}

const uint8_t *vd_lines_raw_sent(const vd_raw *raw, size_t *length)
{
    *length = request_of(raw)->client.request_length;
    return (const uint8_t *)request_of(raw)->line;
}

vd_status vd_lines_raw_note(const vd_raw *raw, vd_status status, vd_fault *fault)
{
    return vd_lines_client_note(&request_of(raw)->client, status, "this", vd_lines_advice(raw->model), fault);
}
