/* SPDX-License-Identifier: MIT
 * Modbus responder: the unit's end of the line. In RTU a frame ends by silence (SL 2.5.1.1), since on a shared pair the
 * replies of other units go by as well and only silence tells where one begins. */
#include "parts.h"
#include "responder.h"
#include "verdite/modbus_unit.h"
#include "verdite/modbus.h"

#include <string.h>

enum state {
    LISTENING,
    CALLING, /* a request waits for its answer from the unit */
    PAUSING, /* the answer waits for its time */
    SENDING,
    DEAF /* the answer is on the line; what is heard is our own */
};

void vd_modbus_responder_start(vd_modbus_responder *responder, const vd_framing *framing, uint8_t *room,
                               const vd_serial *line, uint8_t address, uint32_t turnaround)
{
    memset(responder, 0, sizeof *responder);
    uint32_t silence = framing->silence(line);
    responder->framing = framing;
    responder->room = room;
    responder->line = *line;
    responder->address = address;
    responder->turnaround = turnaround > silence ? turnaround : silence;
    responder->wake = VD_NEVER;
}

static void listen(vd_modbus_responder *responder)
{
    responder->state = LISTENING;
    responder->length = 0;
    responder->damaged = false;
    responder->wake = VD_NEVER;
}

static void finish(vd_modbus_responder *responder)
{
    if (responder->frame[0] == 0) {
        listen(responder);
        return;
    }
    vd_frame_end(&responder->reply);
    responder->state = PAUSING;
    responder->wake = responder->last_heard + responder->turnaround;
}

void vd_modbus_refuse(vd_modbus_responder *responder, uint8_t exception)
{
    vd_frame_begin(&responder->reply, responder->address, responder->frame[1] | 0x80u);
    vd_frame_byte(&responder->reply, exception);
    finish(responder);
}

void vd_modbus_answer_registers(vd_modbus_responder *responder, const uint16_t *values)
{
    const vd_modbus_call *call = &responder->call;
    vd_frame_begin(&responder->reply, responder->address, call->function);
    uint16_t count = call->function == VD_MODBUS_READ_WRITE ? call->read_count : call->count;
    vd_frame_byte(&responder->reply, (uint8_t)(2u * count));
    for (uint16_t i = 0; i < count; i++) {
        vd_frame_word(&responder->reply, values[i]);
    }
    finish(responder);
}

void vd_modbus_answer_bits(vd_modbus_responder *responder, const uint8_t *bits)
{
    const vd_modbus_call *call = &responder->call;
    unsigned bytes = (call->count + 7u) / 8u;
    vd_frame_begin(&responder->reply, responder->address, call->function);
    vd_frame_byte(&responder->reply, (uint8_t)bytes);
    for (unsigned i = 0; i < bytes; i++) {
        vd_frame_byte(&responder->reply, bits[i]);
    }
    finish(responder);
}

void vd_modbus_answer_done(vd_modbus_responder *responder)
{
    vd_frame_begin(&responder->reply, responder->address, responder->call.function);
    unsigned echoed = responder->call.function == VD_MODBUS_MASK_WRITE ? 8 : 6;
    for (unsigned i = 2; i < echoed; i++) { /* address and value, count or masks, as they came */
        vd_frame_byte(&responder->reply, responder->frame[i]);
    }
    finish(responder);
}

/* Which objects a request for identification asks for, and what a conforming unit says it can do (AP 6.21). */
static bool asked_object(const vd_modbus_call *call, uint8_t id)
{
    static const uint8_t last[] = {0, 0x02, 0x7F, 0xFF};
    return call->code == 4 ? id == call->object : id >= call->object && id <= last[call->code];
}

void vd_modbus_answer_identity(vd_modbus_responder *responder, const uint8_t *ids, const char *const *objects,
                               uint8_t count)
{
    enum { CONFORMITY_EXTENDED = 0x83, MORE = 5, NEXT = 6, NUMBER = 7 };
    vd_modbus_call *call = &responder->call;
    vd_modbus_frame *reply = &responder->reply;
    bool known = false;
    for (uint8_t i = 0; i < count; i++) {
        known = known || ids[i] == call->object;
    }
    if (!known && call->code == 4) {
        vd_modbus_refuse(responder, 2);
        return;
    }
    if (!known) {
        call->object = 0; /* a stream is started over at an object that is not there */
    }
    vd_frame_begin(reply, responder->address, VD_MODBUS_IDENTIFY);
    const uint8_t head[] = {VD_MODBUS_IDENTIFY_TYPE, call->code, CONFORMITY_EXTENDED, 0, 0, 0};
    for (size_t i = 0; i < sizeof head; i++) {
        vd_frame_byte(reply, head[i]);
    }
    for (uint8_t i = 0; i < count; i++) {
        size_t length = strlen(objects[i]);
        if (!asked_object(call, ids[i])) {
            continue;
        }
        if (reply->length + 2u + length + 2u > VD_MODBUS_FRAME) {
            reply->bytes[MORE] = 0xFF;
            reply->bytes[NEXT] = ids[i];
            break;
        }
        vd_frame_byte(reply, ids[i]);
        vd_frame_byte(reply, (uint8_t)length);
        for (size_t k = 0; k < length; k++) {
            vd_frame_byte(reply, (uint8_t)objects[i][k]);
        }
        reply->bytes[NUMBER]++;
    }
    finish(responder);
}

const vd_modbus_call *vd_modbus_responder_call(const vd_modbus_responder *responder)
{
    return responder->state == CALLING ? &responder->call : NULL;
}

void vd_modbus_ignore(vd_modbus_responder *responder)
{
    listen(responder);
}

/* A count outside what the standard allows earns exception 3. */
static int counts(uint16_t count, unsigned most)
{
    return count >= 1 && count <= most ? 0 : 3;
}

/* Those that write several: a count, and as many bytes as that takes. */
static int parse_many(vd_modbus_call *call, const uint8_t *frame, uint16_t length, unsigned bytes, unsigned most)
{
    call->data = frame + 7;
    if (length < 9 || length != 9u + frame[6]) {
        return -1;
    }
    return frame[6] == bytes ? counts(call->count, most) : 3;
}

/* Those that write one register or coil, whole or in part. */
static int parse_one(vd_modbus_call *call, const uint8_t *frame, uint16_t length)
{
    bool coil = frame[1] == VD_MODBUS_WRITE_COIL, mask = frame[1] == VD_MODBUS_MASK_WRITE;
    if (length != (mask ? 10 : 8)) {
        return -1;
    }
    bool neither = coil && call->count != 0 && call->count != 0xFF00;
    /* The first byte of a coil is 0xFF or 0, so its lowest bit is the coil, like the many of function 15. */
    call->count = 1;
    call->keep = mask ? vd_word_at(frame + 4) : 0;
    call->set = mask ? vd_word_at(frame + 6) : 0;
    return neither ? 3 : 0;
}

static int parse_both(vd_modbus_call *call, const uint8_t *frame, uint16_t length)
{
    if (length < 13 || length != 13u + frame[10]) {
        return -1;
    }
    call->read_first = call->first;
    call->read_count = call->count;
    call->first = vd_word_at(frame + 6);
    call->count = vd_word_at(frame + 8);
    call->data = frame + 11;
    bool sound = frame[10] == 2u * call->count && counts(call->read_count, VD_MODBUS_MOST_READ) == 0;
    return sound ? counts(call->count, VD_MODBUS_MOST_BOTH) : 3;
}

static int parse_identify(vd_modbus_call *call, const uint8_t *frame, uint16_t length)
{
    if (length != 7 || frame[2] != VD_MODBUS_IDENTIFY_TYPE) {
        return 1;
    }
    call->code = frame[3];
    call->object = frame[4];
    return call->code >= 1 && call->code <= 4 ? 0 : 3;
}

/* Fills in the call; returns 0, or the exception that the frame earns, or -1 when it is to be ignored. */
static int parse(vd_modbus_responder *responder)
{
    const uint8_t *frame = responder->frame;
    uint16_t length = responder->length;
    vd_modbus_call *call = &responder->call;
    *call = (vd_modbus_call){.function = frame[1], .broadcast = frame[0] == 0};
    call->first = length >= 6 ? vd_word_at(frame + 2) : 0;
    call->count = length >= 6 ? vd_word_at(frame + 4) : 0;
    call->data = frame + 4;
    bool bits = frame[1] == VD_MODBUS_READ_COILS || frame[1] == VD_MODBUS_READ_DISCRETE;
    bool writes = true;
    int earns = 1;
    switch (frame[1]) {
    case VD_MODBUS_WRITE_COIL:
    case VD_MODBUS_WRITE_ONE:
    case VD_MODBUS_MASK_WRITE: earns = parse_one(call, frame, length); break;
    case VD_MODBUS_WRITE_COILS:
        earns = parse_many(call, frame, length, (call->count + 7u) / 8u, VD_MODBUS_MOST_WRITE_BITS);
        break;
    case VD_MODBUS_WRITE_MANY: earns = parse_many(call, frame, length, 2u * call->count, VD_MODBUS_MOST_WRITE); break;
    case VD_MODBUS_READ_COILS:
    case VD_MODBUS_READ_DISCRETE:
    case VD_MODBUS_READ_HOLDING:
    case VD_MODBUS_READ_INPUT:
        writes = false;
        earns = length != 8 ? -1 : counts(call->count, bits ? VD_MODBUS_MOST_READ_BITS : VD_MODBUS_MOST_READ);
        break;
    case VD_MODBUS_READ_WRITE:
        writes = false; /* it wants a reply */
        earns = parse_both(call, frame, length);
        break;
    case VD_MODBUS_IDENTIFY:
        writes = false;
        earns = parse_identify(call, frame, length);
        break;
    default: writes = false; break;
    }
    return call->broadcast && !writes ? -1 : earns;
}

static void take_frame(vd_modbus_responder *responder)
{
    bool mine = responder->frame[0] == responder->address || responder->frame[0] == 0;
    if (responder->damaged || !mine || !vd_modbus_crc_fits(responder->frame, responder->length)) {
        listen(responder);
        return;
    }
    int verdict = parse(responder);
    if (verdict < 0) {
        listen(responder);
    } else if (verdict > 0) {
        vd_modbus_refuse(responder, (uint8_t)verdict);
    } else {
        responder->state = CALLING;
        responder->wake = VD_NEVER;
    }
}

static void hear(vd_modbus_responder *responder, const vd_event *event)
{
    const vd_framing *framing = responder->framing;
    uint32_t silence = framing->silence(&responder->line);
    if (responder->state != LISTENING) {
        return;
    }
    if (framing->by_silence && responder->length > 0 && event->now - responder->last_heard > silence + silence / 2) {
        listen(responder); /* the silence was there, only nobody fed the time */
    }
    for (size_t i = 0; i < event->count && responder->state == LISTENING; i++) {
        uint8_t bytes[VD_MODBUS_TAKEN];
        unsigned count = framing->take(&responder->ear, event->bytes[i], bytes);
        if (responder->ear.starts) {
            listen(responder);
        }
        responder->damaged = responder->damaged || (event->errors != NULL && event->errors[i] != 0) ||
                             responder->length + count > VD_MODBUS_FRAME;
        for (unsigned k = 0; k < count && responder->length < VD_MODBUS_FRAME; k++) {
            responder->frame[responder->length++] = bytes[k];
        }
        responder->last_heard = event->now;
        if (responder->ear.ends) {
            take_frame(responder);
        }
    }
    if (framing->by_silence) {
        responder->wake = event->now + silence;
    }
}

static void responder_feed(void *engine, const vd_event *event)
{
    vd_modbus_responder *responder = engine;
    if (event->kind == VD_HEARD) {
        hear(responder, event);
    } else if (event->kind == VD_TIME && event->now >= responder->wake) {
        if (responder->state == LISTENING) {
            take_frame(responder);
        } else if (responder->state == PAUSING) {
            responder->state = SENDING;
            responder->wake = VD_NEVER;
        } else if (responder->state == DEAF) {
            listen(responder);
        }
    } else if (event->kind == VD_SENT && responder->state == SENDING) {
        responder->state = DEAF;
        responder->wake = event->until;
    }
}

static void responder_wants(const void *engine, vd_wants *wants)
{
    const vd_modbus_responder *responder = engine;
    *wants = (vd_wants){.line = responder->line, .wake = responder->wake};
    if (responder->state == SENDING) {
        uint16_t count = 0;
        wants->send = responder->framing->put(&responder->reply, responder->room, &count);
        wants->count = count;
    }
}

const vd_engine vd_modbus_responder_engine = {responder_wants, responder_feed};
