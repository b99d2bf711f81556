/* SPDX-License-Identifier: MIT
 * A raw request in registers: a function and its data, typed in hexadecimal. */
#include "../raw_parts.h"
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

typedef struct request {
    vd_modbus_client client;
    uint8_t room[2 * VD_MODBUS_FRAME + 1];
} request;

_Static_assert(sizeof(request) <= VD_RAW_STATE, "the state of a raw request has room for it");

static request *request_of(const vd_raw *raw)
{
    return (request *)(void *)raw->state;
}

vd_status vd_registers_raw_begin(vd_raw *raw, uint64_t now, const vd_serial *line, uint8_t address, uint32_t latency,
                                 const char *typed, vd_fault *fault)
{
    request *r = request_of(raw);
    vd_modbus_manner manner = vd_modbus_manner_of(raw->model, line, latency);
    uint8_t bytes[VD_MODBUS_FRAME];
    size_t count = 0;
    bool fine = true;
    for (; *typed != '\0' && fine; typed++) {
        if (*typed == ' ') {
            continue;
        }
        int high = vd_hex_digit(typed[0]), low = high >= 0 ? vd_hex_digit(typed[1]) : -1;
        fine = low >= 0 && count < VD_MODBUS_FRAME - 3u;
        if (fine) {
            bytes[count++] = (uint8_t)(high << 4 | low);
            typed++;
        }
    }
    if (!fine || count == 0) {
        return vd_note_WRONG_WORDS(
            fault, "This is not a request in hexadecimal.",
            "Give the function and its data, such as \"03 0010 0002\"; address and check are added.");
    }
    vd_modbus_client_start(&r->client, &manner, r->room);
    vd_frame_begin(&r->client.request, address, bytes[0]);
    for (size_t i = 1; i < count; i++) {
        vd_frame_byte(&r->client.request, bytes[i]);
    }
    vd_frame_end(&r->client.request);
    vd_modbus_client_begin(&r->client, now, false, 0);
    return VD_OK;
}

void vd_registers_raw_feed(vd_raw *raw, const vd_event *event)
{
    request *r = request_of(raw);
    if (event->kind == VD_HEARD) {
        vd_raw_keep(raw, event->bytes, event->count);
    }
    vd_modbus_client_engine.feed(&r->client, event);
    raw->ended = vd_modbus_client_ended(&r->client, &raw->status);
}

void vd_registers_raw_wants(const vd_raw *raw, vd_wants *wants)
{
    vd_modbus_client_engine.wants(&request_of(raw)->client, wants);
}

const uint8_t *vd_registers_raw_sent(const vd_raw *raw, size_t *length)
{
    request *r = request_of(raw);
    uint16_t count = 0;
    const uint8_t *sent = r->client.manner.framing->put(&r->client.request, r->room, &count);
    *length = count;
    /* cppcheck-suppress returnDanglingLifetime; it stands in the room */
    return sent;
}

vd_status vd_registers_raw_note(const vd_raw *raw, vd_status status, vd_fault *fault)
{
    return vd_modbus_client_note(&request_of(raw)->client, status, "this", fault);
}
