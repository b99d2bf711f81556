/* SPDX-License-Identifier: MIT
 * The probe in registers: it keeps everything that was heard as evidence. It uses the client with a single try and no
 * quiet time: a late reply carries its address, and the one who asks many can place it. */
#include "../probe_parts.h"
#include "parts.h"

#include <string.h>

#define ROOM 40u /* characters of a question, in any framing */

typedef struct question {
    vd_modbus_client client;
    vd_modbus_ear ear;
    uint64_t held_since;
    uint16_t first_register, announced, heard_count;
    uint16_t held; /* bytes that may be an echo, or the beginning of a reply */
    bool listens_on;
    uint8_t room[ROOM], heard[2 * VD_MODBUS_FRAME]; /* all that was heard, if it listens on */
} question;

_Static_assert(sizeof(question) <= VD_PROBE_STATE, "the state of a probe has room for it");

static question *question_of(const vd_probe *probe)
{
    return (question *)(void *)probe->state;
}

void vd_registers_probe_begin(vd_probe *probe, uint64_t now, const vd_serial *line, uint8_t address, uint32_t limit,
                              uint32_t gap)
{
    question *q = question_of(probe);
    const vd_modbus_manner manner = {
        .framing = vd_framing_of(probe->desk->language), .line = *line, .limit = limit, .gap = gap, .tries = 1};
    memset(q, 0, sizeof *q);
    vd_modbus_client_start(&q->client, &manner, q->room);
    q->first_register = vd_modbus_ask_for_identity(&q->client.request, address, probe->model, 0);
    vd_modbus_client_begin(&q->client, now, false, 0);
}

void vd_registers_probe_listen_on(vd_probe *probe, uint32_t longer)
{
    question *q = question_of(probe);
    q->listens_on = true;
    q->client.manner.longest = longer;
    vd_modbus_client_be_patient(&q->client);
}

static void take_identity(const vd_probe *probe, const uint8_t *pdu, size_t length, vd_identity *identity)
{
    if (pdu[0] == VD_MODBUS_IDENTIFY) {
        vd_modbus_take_identity(pdu, length, probe->model != NULL ? probe->model->identify.serial_object : 0, identity);
    } else {
        vd_modbus_take_identity_registers(pdu + 2, question_of(probe)->first_register, &probe->model->identify,
                                          identity);
    }
}

/* Behind the first reply, the next sound frame that answers the same. */
static void find_second(vd_probe *probe, size_t first_length)
{
    const question *q = question_of(probe);
    const uint8_t *heard = q->heard, *asked = q->client.request.bytes;
    for (size_t at = first_length; at + 5 <= q->heard_count; at++) {
        int length = vd_modbus_reply_length(heard + at, q->heard_count - at);
        if (heard[at] == asked[0] && heard[at + 1] == asked[1] && length > 3 && (size_t)length <= q->heard_count - at &&
            vd_modbus_crc_fits(heard + at, (size_t)length)) {
            take_identity(probe, heard + at + 1, (size_t)length - 3, &probe->evidence.second);
            return;
        }
    }
}

static void conclude(vd_probe *probe)
{
    const question *q = question_of(probe);
    vd_evidence *evidence = &probe->evidence;
    size_t length = 0;
    if (!vd_modbus_client_ended(&q->client, &evidence->status)) {
        return;
    }
    const uint8_t *reply = vd_modbus_client_reply(&q->client, &length);
    evidence->stray_address = q->client.stray_address;
    evidence->surplus = (uint16_t)q->client.tally.surplus;
    evidence->reply_time = vd_probe_reply_time(probe);
    if (evidence->status == VD_OK) {
        take_identity(probe, reply, length, &evidence->identity);
        find_second(probe, length + 3);
    }
    /* One unit whose reply is damaged still sends as many characters as it announced. Two that talk at once start at
     * different moments: bits fall between bits, and together they talk longer than either. */
    bool damaged = evidence->status == VD_CHECK_FAILED || evidence->status == VD_LINE_ERRORS ||
                   evidence->status == VD_NOISE_ONLY || evidence->status == VD_CUT_SHORT;
    bool too_many = q->announced > 0 && evidence->bytes > q->announced;
    evidence->clash = (damaged && (evidence->error_bytes > 0 || too_many)) ||
                      (evidence->status == VD_OK && evidence->error_bytes > 0);
}

static void count_bytes(vd_probe *probe, uint64_t heard_at, const uint8_t *bytes, bool bad, size_t count)
{
    question *q = question_of(probe);
    vd_evidence *evidence = &probe->evidence;
    const vd_modbus_client *client = &q->client;
    for (size_t i = 0; i < count; i++) {
        vd_probe_count(probe, heard_at, bad);
        if (q->listens_on && q->heard_count < sizeof q->heard) {
            q->heard[q->heard_count++] = bytes[i];
        }
    }
    evidence->headed = evidence->headed || (client->reply_length >= 2 && client->reply[0] == client->request.bytes[0] &&
                                            (client->reply[1] & 0x7Fu) == client->request.bytes[1]);
    if (q->announced == 0) {
        int length = vd_modbus_reply_length(client->reply, client->reply_length);
        q->announced = length > 0 ? (uint16_t)length : 0;
    }
}

/* What the client took for our own bytes is no evidence; what turned out to be none is. */
static void count_held(vd_probe *probe)
{
    question *q = question_of(probe);
    const vd_modbus_client *client = &q->client;
    if (client->echo_over && client->echo != VD_ECHO_PRESENT) {
        for (uint16_t i = 0; i < q->held; i++) {
            vd_probe_hear_runs(probe, client->request.bytes[i]);
        }
        count_bytes(probe, q->held_since, client->request.bytes, false, q->held);
    }
    probe->evidence.echo = probe->evidence.echo || (client->echo_over && client->echo == VD_ECHO_PRESENT);
    q->held = client->echo_over ? 0 : q->held;
}

static void hear(vd_probe *probe, const vd_event *event, size_t at)
{
    question *q = question_of(probe);
    uint8_t bytes[VD_MODBUS_TAKEN];
    uint16_t before = q->client.echoed;
    unsigned count = q->client.manner.framing->take(&q->ear, event->bytes[at], bytes);
    vd_event one = *event;
    one.bytes = event->bytes + at;
    one.errors = event->errors != NULL ? event->errors + at : NULL;
    one.count = 1;
    vd_modbus_client_engine.feed(&q->client, &one);
    unsigned taken = (unsigned)(q->client.echoed - before);
    taken = taken < count ? taken : count;
    q->held_since = q->held == 0 ? event->now : q->held_since;
    q->held = (uint16_t)(q->held + taken);
    count_held(probe);
    if (taken == 0) {
        vd_probe_hear_runs(probe, event->bytes[at]);
    }
    count_bytes(probe, event->now, bytes + taken, one.errors != NULL && one.errors[0] != 0, count - taken);
}

void vd_registers_probe_feed(vd_probe *probe, const vd_event *event)
{
    question *q = question_of(probe);
    vd_status status = VD_OK;
    if (vd_modbus_client_ended(&q->client, &status)) {
        return;
    }
    if (event->kind == VD_HEARD) {
        for (size_t i = 0; i < event->count; i++) {
            hear(probe, event, i);
        }
    } else {
        vd_modbus_client_engine.feed(&q->client, event);
        probe->sent = event->kind == VD_SENT ? event->until : probe->sent;
        count_held(probe);
    }
    conclude(probe);
}

void vd_registers_probe_wants(const vd_probe *probe, vd_wants *wants)
{
    vd_modbus_client_engine.wants(&question_of(probe)->client, wants);
}

bool vd_registers_probe_ended(const vd_probe *probe)
{
    vd_status status = VD_OK;
    return vd_modbus_client_ended(&question_of(probe)->client, &status);
}
