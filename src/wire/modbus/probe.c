/* SPDX-License-Identifier: MIT
 * The probe over Modbus RTU: it keeps everything that was heard as evidence. It uses the client with a single try and
 * no quiet time: a late reply carries its address, and the one who asks many can place it. */
#include "../probe.h"

#include <string.h>

void vd_probe_hear_runs(vd_probe *probe, uint8_t byte)
{
    /* Start bit 0, then the data bits; the last run has no end inside the character and says nothing. */
    unsigned bits = (unsigned)byte << 1, run = 1;
    for (unsigned i = 1; i < 9; i++) {
        if ((bits >> i & 1u) == (bits >> (i - 1) & 1u)) {
            run++;
            continue;
        }
        if (probe->evidence.shortest_run == 0 || run < probe->evidence.shortest_run) {
            probe->evidence.shortest_run = (uint8_t)run;
        }
        run = 1;
    }
}

void vd_modbus_probe_begin(vd_probe *probe, uint64_t now, const vd_line *line, uint8_t address, uint32_t limit,
                           uint32_t gap)
{
    const vd_modbus_manner manner = {.line = *line, .limit = limit, .gap = gap, .tries = 1};
    probe->announced = probe->held = 0;
    vd_modbus_client_start(&probe->client, &manner);
    probe->first_register = vd_modbus_ask_for_identity(&probe->client.request, address, probe->model, 0);
    vd_modbus_client_begin(&probe->client, now, false, 0);
}

static void take_identity(const vd_probe *probe, const uint8_t *pdu, size_t length, vd_identity *identity)
{
    if (pdu[0] == VD_MODBUS_IDENTIFY) {
        vd_modbus_take_identity(pdu, length, probe->model != NULL ? probe->model->identify.serial_object : 0, identity);
    } else {
        vd_modbus_take_identity_registers(pdu + 2, probe->first_register, &probe->model->identify, identity);
    }
}

/* Behind the first reply, the next sound frame that answers the same. */
static void find_second(vd_probe *probe, size_t first_length)
{
    const uint8_t *heard = (const uint8_t *)probe->heard, *asked = probe->client.request.bytes;
    for (size_t at = first_length; at + 5 <= probe->heard_count; at++) {
        int length = vd_modbus_reply_length(heard + at, probe->heard_count - at);
        if (heard[at] == asked[0] && heard[at + 1] == asked[1] && length > 3 &&
            (size_t)length <= probe->heard_count - at && vd_modbus_crc_fits(heard + at, (size_t)length)) {
            take_identity(probe, heard + at + 1, (size_t)length - 3, &probe->evidence.second);
            return;
        }
    }
}

static void conclude(vd_probe *probe)
{
    vd_evidence *evidence = &probe->evidence;
    size_t length = 0;
    if (!vd_modbus_client_ended(&probe->client, &evidence->status)) {
        return;
    }
    const uint8_t *reply = vd_modbus_client_reply(&probe->client, &length);
    evidence->stray_address = probe->client.stray_address;
    evidence->surplus = (uint16_t)probe->client.tally.surplus_bytes;
    evidence->reply_time = probe->first != VD_NEVER && probe->sent != VD_NEVER && probe->first > probe->sent
                               ? probe->first - probe->sent
                               : 0;
    if (evidence->status == VD_OK) {
        take_identity(probe, reply, length, &evidence->identity);
        find_second(probe, length + 3);
    }
    /* One unit whose reply is damaged still sends as many characters as it announced. Two that talk at once start at
     * different moments: bits fall between bits, and together they talk longer than either. */
    bool damaged = evidence->status == VD_CHECK_FAILED || evidence->status == VD_LINE_ERRORS ||
                   evidence->status == VD_NOISE_ONLY || evidence->status == VD_CUT_SHORT;
    bool too_many = probe->announced > 0 && evidence->bytes > probe->announced;
    evidence->clash = (damaged && (evidence->error_bytes > 0 || too_many)) ||
                      (evidence->status == VD_OK && evidence->error_bytes > 0);
}

static void count_bytes(vd_probe *probe, uint64_t heard_at, const uint8_t *bytes, const uint8_t *errors, size_t count)
{
    vd_evidence *evidence = &probe->evidence;
    const vd_modbus_client *client = &probe->client;
    for (size_t i = 0; i < count; i++) {
        bool bad = errors != NULL && errors[i] != 0;
        evidence->bytes = (uint16_t)(evidence->bytes + (evidence->bytes < UINT16_MAX));
        evidence->error_bytes = (uint16_t)(evidence->error_bytes + (bad && evidence->error_bytes < UINT16_MAX));
        vd_probe_hear_runs(probe, bytes[i]);
        if (probe->listens_on && probe->heard_count < sizeof probe->heard) {
            probe->heard[probe->heard_count++] = (char)bytes[i];
        }
    }
    if (count > 0 && probe->first == VD_NEVER) {
        probe->first = heard_at;
    }
    evidence->headed = evidence->headed || (client->reply_length >= 2 && client->reply[0] == client->request.bytes[0] &&
                                            (client->reply[1] & 0x7Fu) == client->request.bytes[1]);
    if (probe->announced == 0) {
        int length = vd_modbus_reply_length(client->reply, client->reply_length);
        probe->announced = length > 0 ? (uint16_t)length : 0;
    }
}

/* What the client took for our own bytes is no evidence; what turned out to be none is. */
static void count_held(vd_probe *probe)
{
    const vd_modbus_client *client = &probe->client;
    if (client->echo_over && client->echo != VD_ECHO_PRESENT) {
        count_bytes(probe, probe->held_since, client->request.bytes, NULL, probe->held);
    }
    probe->evidence.echo = probe->evidence.echo || (client->echo_over && client->echo == VD_ECHO_PRESENT);
    probe->held = client->echo_over ? 0 : probe->held;
}

void vd_modbus_probe_feed(vd_probe *probe, const vd_event *event)
{
    vd_status status = VD_OK;
    uint16_t before = probe->client.echoed;
    if (vd_modbus_client_ended(&probe->client, &status)) {
        return;
    }
    vd_modbus_client_engine.feed(&probe->client, event);
    if (event->kind == VD_SENT) {
        probe->sent = event->until;
    } else if (event->kind == VD_HEARD) {
        size_t taken = (size_t)(probe->client.echoed - before);
        probe->held_since = probe->held == 0 ? event->now : probe->held_since;
        probe->held = (uint16_t)(probe->held + taken);
        count_held(probe);
        count_bytes(probe, event->now, event->bytes + taken, event->errors != NULL ? event->errors + taken : NULL,
                    event->count - taken);
    } else {
        count_held(probe);
    }
    conclude(probe);
}

void vd_modbus_probe_wants(const vd_probe *probe, vd_wants *wants)
{
    vd_modbus_client_engine.wants(&probe->client, wants);
}
