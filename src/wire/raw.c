/* SPDX-License-Identifier: MIT
 * A raw request: one exchange, sent once, whatever comes back. */
#include "modbus/modbus.h"
#include "lines/lines.h"
#include "verdite/raw.h"
#include "verdite/modbus.h"
#include "verdite/lines.h"

#include <string.h>

static bool in_lines(const vd_raw *raw)
{
    return vd_model_talks_in_lines(raw->model);
}

static void keep(vd_raw *raw, const uint8_t *bytes, size_t count)
{
    size_t room = sizeof raw->reply - raw->reply_length, taken = count < room ? count : room;
    memcpy(raw->reply + raw->reply_length, bytes, taken);
    raw->reply_length += taken;
    raw->cut = raw->cut || taken < count;
}

/* ---- In lines ---- */

static vd_heed judge(void *about, const char *line, size_t length, vd_status *status)
{
    vd_raw *raw = about;
    vd_speech speech = (vd_speech)raw->model->speech;
    vd_reply_line reply = vd_reply_parse(speech, raw->model->lines.talker, line, length);
    keep(raw, (const uint8_t *)line, length);
    keep(raw, (const uint8_t *)"\n", 1);
    *status = reply.kind == VD_REPLY_NO ? reply.refusal : VD_OK;
    bool last = reply.kind == VD_REPLY_DATA && speech == VD_SENTENCES && reply.number == reply.of;
    return speech == VD_QUERIES || reply.kind == VD_REPLY_FINE || reply.kind == VD_REPLY_NO || last ? VD_ENDS
                                                                                                    : VD_GOES_ON;
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
    uint8_t check = vd_text_check(writer->text + 1, writer->length - 1);
    vd_writer_add(writer, "*");
    vd_writer_add_hex(writer, check, 2);
    vd_writer_add(writer, "\r\n");
}

static vd_status begin_lines(vd_raw *raw, uint64_t now, const vd_line *line, uint32_t latency, const char *typed,
                             vd_fault *fault)
{
    vd_text_manner manner = vd_text_manner_of(raw->model, line, latency);
    vd_writer writer = vd_writer_start(raw->request, sizeof raw->request);
    size_t length = strlen(typed);
    for (size_t i = 0; i < length; i++) {
        if ((unsigned char)typed[i] < 0x20 || (unsigned char)typed[i] > 0x7E) {
            return vd_note_WRONG_WORDS(fault, "There is a character in it that no line has.",
                                       "Give one line of plain characters.");
        }
    }
    if (raw->model->speech == VD_SENTENCES) {
        add_sentence(raw->model, typed, length, &writer);
    } else {
        vd_writer_add(&writer, typed);
        vd_writer_add(&writer, raw->model->speech == VD_COMMANDS ? "\r" : "\n");
    }
    if (length == 0 || writer.cut || writer.length > raw->model->lines.longest) {
        vd_note_WRONG_WORDS(fault, "That is no line that this unit takes.",
                            "Give one line, no longer than the unit takes.");
        return VD_WRONG_WORDS;
    }
    vd_text_client_start(&raw->text, &manner, raw->request, sizeof raw->request, raw->heard, sizeof raw->heard);
    raw->text.request_length = (uint16_t)writer.length;
    for (size_t i = 0; i < length; i++) {
        raw->asks = raw->asks || raw->model->speech != VD_QUERIES || typed[i] == '?';
    }
    vd_text_client_begin(&raw->text, now, false, judge, raw);
    return VD_OK;
}

/* ---- In registers ---- */

static vd_status begin_frame(vd_raw *raw, uint64_t now, const vd_line *line, uint8_t address, uint32_t latency,
                             const char *typed, vd_fault *fault)
{
    vd_modbus_manner manner = vd_modbus_manner_of(raw->model, line, latency);
    uint8_t bytes[VD_MODBUS_FRAME];
    size_t count = 0;
    bool fine = true;
    for (; *typed != '\0' && fine; typed++) {
        if (*typed == ' ') {
            continue;
        }
        int high = vd_text_hex_digit(typed[0]), low = high >= 0 ? vd_text_hex_digit(typed[1]) : -1;
        fine = low >= 0 && count < VD_MODBUS_FRAME - 3u;
        if (fine) {
            bytes[count++] = (uint8_t)(high << 4 | low);
            typed++;
        }
    }
    if (!fine || count == 0) {
        return vd_note_WRONG_WORDS(
            fault, "That is no request in hexadecimal.",
            "Give the function and its data, such as \"03 0010 0002\"; address and check are added.");
    }
    vd_modbus_client_start(&raw->modbus, &manner);
    vd_frame_begin(&raw->modbus.request, address, bytes[0]);
    for (size_t i = 1; i < count; i++) {
        vd_frame_byte(&raw->modbus.request, bytes[i]);
    }
    vd_frame_end(&raw->modbus.request);
    raw->asks = true;
    vd_modbus_client_begin(&raw->modbus, now, false, 0);
    return VD_OK;
}

/* ---- The engine ---- */

vd_status vd_raw_begin(vd_raw *raw, uint64_t now, const vd_model *model, const vd_line *line, uint8_t address,
                       uint32_t latency, const char *typed, vd_fault *fault)
{
    memset(raw, 0, sizeof *raw);
    raw->model = model;
    return in_lines(raw) ? begin_lines(raw, now, line, latency, typed, fault)
                         : begin_frame(raw, now, line, address, latency, typed, fault);
}

static void raw_feed(void *engine, const vd_event *event)
{
    vd_raw *raw = engine;
    if (raw->ended) {
        return;
    }
    if (in_lines(raw)) {
        vd_text_client_engine.feed(&raw->text, event);
        raw->ended = vd_text_client_ended(&raw->text, &raw->status);
        /* Who sets something in queries hears nothing back. */
        raw->status = raw->status == VD_NO_ANSWER && !raw->asks ? VD_OK : raw->status;
        return;
    }
    if (event->kind == VD_HEARD) {
        keep(raw, event->bytes, event->count);
    }
    vd_modbus_client_engine.feed(&raw->modbus, event);
    raw->ended = vd_modbus_client_ended(&raw->modbus, &raw->status);
}

static void raw_wants(const void *engine, vd_wants *wants)
{
    const vd_raw *raw = engine;
    if (in_lines(raw)) {
        vd_text_client_engine.wants(&raw->text, wants);
    } else {
        vd_modbus_client_engine.wants(&raw->modbus, wants);
    }
    wants->done = raw->ended;
}

const vd_engine vd_raw_engine = {raw_wants, raw_feed};

bool vd_raw_ended(const vd_raw *raw, vd_status *status)
{
    *status = raw->status;
    return raw->ended;
}

const uint8_t *vd_raw_sent(const vd_raw *raw, size_t *length)
{
    *length = in_lines(raw) ? raw->text.request_length : raw->modbus.request.length;
    return in_lines(raw) ? (const uint8_t *)raw->request : raw->modbus.request.bytes;
}
