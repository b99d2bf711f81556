/* SPDX-License-Identifier: MIT
 * The probe over Modbus RTU: it keeps everything that was heard as evidence. It uses the client with a single try and
 * no quiet time: a late reply carries its address, and the one who asks many can place it. */
#include "probe.h"

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
    probe->held_since = probe->held_until = VD_NEVER;
    probe->announced = 0;
    probe->echoed = 0;
    probe->echoing = true;
    vd_modbus_client_start(&probe->client, &manner);
    probe->first_register = vd_modbus_ask_for_identity(&probe->client.request, address, probe->model, 0);
    vd_modbus_client_begin(&probe->client, now, false, 0);
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
    if (evidence->status == VD_OK && reply[0] == VD_MODBUS_IDENTIFY) {
        vd_modbus_take_identity(reply, length, probe->model != NULL ? probe->model->identify.serial_object : 0,
                                &evidence->identity);
    } else if (evidence->status == VD_OK) {
        vd_modbus_take_identity_registers(reply + 2, probe->first_register, &probe->model->identify,
                                          &evidence->identity);
    }
    /* One unit whose reply is damaged still sends as many characters as it announced. Two that talk at once start at
     * different moments: bits fall between bits, and together they talk longer than either. */
    bool damaged = evidence->status == VD_CHECK_FAILED || evidence->status == VD_LINE_ERRORS ||
                   evidence->status == VD_NOISE_ONLY || evidence->status == VD_CUT_SHORT;
    bool too_many = probe->announced > 0 && evidence->bytes > probe->announced;
    evidence->clash = (damaged && (evidence->error_bytes > 0 || too_many)) ||
                      (evidence->status == VD_OK && evidence->error_bytes > 0);
}

/* Our own bytes, as a prefix of what is heard, are no reply. Returns how many of `count` were such. */
static size_t take_echo(vd_probe *probe, const uint8_t *bytes, size_t count)
{
    const vd_modbus_frame *request = &probe->client.request;
    size_t taken = 0;
    while (probe->echoing && taken < count && probe->echoed < request->length &&
           bytes[taken] == request->bytes[probe->echoed]) {
        probe->echoed++;
        taken++;
    }
    if (probe->echoed == request->length) {
        probe->evidence.echo = true;
        probe->echoing = false;
    }
    return taken;
}

static void count_bytes(vd_probe *probe, const vd_event *event)
{
    vd_evidence *evidence = &probe->evidence;
    for (size_t i = 0; i < event->count; i++) {
        bool bad = event->errors != NULL && event->errors[i] != 0;
        evidence->bytes = (uint16_t)(evidence->bytes + (evidence->bytes < UINT16_MAX));
        evidence->error_bytes = (uint16_t)(evidence->error_bytes + (bad && evidence->error_bytes < UINT16_MAX));
        vd_probe_hear_runs(probe, event->bytes[i]);
    }
    const uint8_t *reply = probe->client.reply, *asked = probe->client.request.bytes;
    evidence->headed =
        evidence->headed || (probe->client.reply_length >= 2 && reply[0] == asked[0] && (reply[1] & 0x7Fu) == asked[1]);
    if (probe->announced == 0) {
        int length = vd_modbus_reply_length(probe->client.reply, probe->client.reply_length);
        probe->announced = length > 0 ? (uint16_t)length : 0;
    }
}

/* Whether bytes are held back that may be the beginning of an echo or of a reply that begins like one. */
static bool is_holding(const vd_probe *probe)
{
    return probe->echoing && probe->echoed > 0;
}

static void pass_on(vd_probe *probe, const vd_event *event, uint64_t heard_at)
{
    if (event->count == 0) {
        return;
    }
    if (probe->first == VD_NEVER) {
        probe->first = heard_at;
    }
    vd_modbus_client_engine.feed(&probe->client, event);
    count_bytes(probe, event);
}

/* It began like an echo and is none: what was held back belongs to the reply. */
static void release_held(vd_probe *probe, uint64_t now)
{
    vd_event held = {.kind = VD_HEARD, .now = now, .bytes = probe->client.request.bytes, .count = probe->echoed};
    probe->echoing = false;
    pass_on(probe, &held, probe->held_since);
}

static void hear(vd_probe *probe, const vd_event *event)
{
    vd_event rest = *event;
    probe->held_since = is_holding(probe) ? probe->held_since : event->now;
    probe->held_until = event->now + probe->client.manner.gap;
    size_t echoed = probe->sent != VD_NEVER ? take_echo(probe, event->bytes, event->count) : 0;
    if (probe->echoing && echoed < event->count) {
        release_held(probe, event->now);
    }
    rest.bytes += echoed;
    rest.errors = event->errors != NULL ? event->errors + echoed : NULL;
    rest.count -= echoed;
    pass_on(probe, &rest, event->now);
}

void vd_modbus_probe_feed(vd_probe *probe, const vd_event *event)
{
    vd_status status = VD_OK;
    if (vd_modbus_client_ended(&probe->client, &status)) {
        return;
    }
    if (event->kind == VD_HEARD) {
        hear(probe, event);
    } else if (event->kind == VD_TIME && is_holding(probe) && event->now < probe->held_until) {
        return; /* the client has not heard these bytes yet and would call the unit silent */
    } else {
        if (event->kind == VD_TIME && is_holding(probe)) {
            release_held(probe, event->now);
        } else if (event->kind == VD_SENT) {
            probe->sent = event->until;
        }
        vd_modbus_client_engine.feed(&probe->client, event);
    }
    conclude(probe);
}

void vd_modbus_probe_wants(const vd_probe *probe, vd_wants *wants)
{
    vd_modbus_client_engine.wants(&probe->client, wants);
    wants->wake = is_holding(probe) ? probe->held_until : wants->wake;
}
