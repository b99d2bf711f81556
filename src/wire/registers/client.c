/* SPDX-License-Identifier: MIT
 * Modbus client: one exchange at a time.
 *
 * A reply carries nothing that ties it to its request, so a late reply could be taken for the next one. Hence:
 *  1. after an exchange timed out the line is kept quiet for the longest reply time, or until the reply that is
 *     owed has come and gone;
 *  2. when a repeat is answered while earlier replies are still owed, every later reply can be as late as this one
 *     was: the result is held back until the owed replies have come or that time has passed;
 *  3. nothing that comes before the request has left answers it;
 *  4. a sound reply to something else never ends an exchange; it is counted, and the wait goes on;
 *  5. our own bytes, where the line brings them back, are no reply; but some replies are the same as their request, so
 *     whether it does is learned from an exchange of which that cannot be;
 *  6. what comes behind a reply, or belongs to no request, is counted as unexplained: whoever asked does so again.
 *
 * A frame ends by its length and check. Silence inside a frame is allowed up to the manner's gap, because adapters
 * deliver in bursts; a longer silence ends it as damaged. */
#include "client.h"

#include <string.h>

vd_modbus_manner vd_modbus_manner_of(const vd_model *model, const vd_serial *line, uint32_t latency)
{
    const vd_reply *reply = &model->reply;
    const vd_framing *framing = vd_framing_of(model->language);
    uint32_t longest = reply->longest * 1000u + 2u * latency + framing->silence(line);
    return (vd_modbus_manner){
        .framing = framing,
        .line = *line,
        .limit = longest,
        .longest = longest,
        .gap = reply->gap * 1000u + latency + (uint32_t)vd_serial_time(line, 2),
        .busy_wait = reply->busy_wait * 1000u,
        .busy_limit = reply->busy_limit * 1000u,
        .broadcast = reply->broadcast * 1000u,
        .tries = reply->tries,
    };
}

void vd_modbus_client_start(vd_modbus_client *client, const vd_modbus_manner *manner, uint8_t *room)
{
    memset(client, 0, sizeof *client);
    client->room = room;
    client->manner = *manner;
    client->wake = VD_NEVER;
}

/* Nobody answers a broadcast; and where several units have one address, nobody can be understood. */
static bool is_unanswered(const vd_modbus_client *client)
{
    return client->request.bytes[0] == 0 || client->deaf;
}

void vd_modbus_client_begin(vd_modbus_client *client, uint64_t now, bool repeatable, uint32_t first_wait)
{
    client->now = now;
    client->repeatable = repeatable;
    client->first_wait = first_wait != 0 ? first_wait : client->manner.busy_wait;
    client->polling = false;
    client->tries_done = 0;
    client->owed = 0;
    client->seen = VD_NO_REPLY;
    client->busy_end = VD_NEVER;
    client->patient = client->others = false;
    vd_client_hush(client);
    vd_client_make_ready(client);
}

void vd_modbus_client_be_patient(vd_modbus_client *client)
{
    client->patient = true;
}

/* Some devices put a stray byte on the line when they switch their transmitter on. A sound reply behind it counts. */
static bool found_behind_stray_bytes(vd_modbus_client *client)
{
    for (uint16_t skip = 1; skip <= 3 && skip + 5 <= client->reply_length && !client->overlong; skip++) {
        const uint8_t *at = client->reply + skip;
        size_t count = client->reply_length - skip;
        if (at[0] == vd_client_frame_in_force(client)->bytes[0] && vd_modbus_reply_length(at, count) == (int)count &&
            vd_modbus_crc_fits(at, count)) {
            client->tally.surplus += skip;
            memmove(client->reply, at, count);
            client->reply_length = (uint16_t)count;
            client->reply_errors = 0;
            return true;
        }
    }
    return false;
}

/* Where bits run into each other a receiver may lose its footing for some characters though the talk goes on; where
 * silence parts no frames, the gap is long enough for that. */
static uint64_t gap_end(const vd_modbus_client *client)
{
    bool slips = client->reply_errors != 0 && client->manner.framing->by_silence;
    uint64_t footing = slips ? 2 * client->manner.gap + vd_serial_time(&client->manner.line, 8) : 0;
    return client->last_heard + client->manner.gap + footing;
}

/* Whether a reply has begun, be it with characters of which no byte is whole yet. */
static bool has_begun(const vd_modbus_client *client)
{
    return client->reply_length > 0 || (client->state == WAITING && client->ear.inside &&
                                        !vd_client_is_holding(client) && client->last_heard > client->last_sent);
}

/* ---- Time passes ---- */

static void listen_on(vd_modbus_client *client)
{
    bool heard = has_begun(client);
    if (heard && client->now >= gap_end(client)) {
        if (client->reply_length <= 5 || !found_behind_stray_bytes(client)) {
            vd_client_give_up_frame(client);
        } else if (!vd_client_take_frame(client)) {
            client->state = WAITING;
        }
    } else if (heard && client->now >= client->listen_end + vd_client_frame_time(client)) {
        vd_client_time_out(client, VD_NOISE_ONLY);
    } else if (!heard && !vd_client_is_holding(client) && client->now >= client->listen_end) {
        vd_client_time_out(client, VD_NO_REPLY);
    }
}

static void keep_quiet(vd_modbus_client *client)
{
    if (client->reply_length > 0 && client->now >= gap_end(client)) {
        vd_client_hush(client);
    }
    if (client->now >= client->listen_end) {
        vd_client_hush(client);
        vd_client_fail_or_repeat(client);
    }
}

static void drain(vd_modbus_client *client)
{
    if (client->overlong && client->now >= gap_end(client)) {
        client->overlong = false;
        client->reply_errors = 0;
        client->tally.strays++;
        client->owed--;
    }
    client->wake = client->listen_end;
    if (client->owed == 0 || client->now >= client->listen_end) {
        client->owed = 0;
        vd_client_settle(client, client->settled);
    }
}

/* Whoever began is heard out. */
static void linger(vd_modbus_client *client)
{
    if (client->now < client->wake) {
        return;
    }
    if (client->now < client->last_heard + client->manner.gap && client->now < client->listen_end) {
        client->wake = client->last_heard + client->manner.gap;
    } else {
        vd_client_end(client, client->settled);
    }
}

static void rest(vd_modbus_client *client)
{
    if (client->now < client->wake) {
        return;
    }
    if (is_unanswered(client)) {
        vd_client_end(client, VD_OK);
    } else {
        vd_client_hush(client);
        vd_client_make_ready(client);
    }
}

static void pass_time(vd_modbus_client *client)
{
    if (vd_client_is_holding(client) && client->now >= client->last_heard + client->manner.gap) {
        vd_client_release_held(client);
    }
    switch (client->state) {
    case READY:
        if (client->now >= client->wake) {
            vd_client_end(client, VD_NOISE_ONLY);
        }
        break;
    case WAITING:
    case GAP: listen_on(client); break;
    case QUIET: keep_quiet(client); break;
    case DRAINING: drain(client); break;
    case LINGERING: linger(client); break;
    case RESTING: rest(client); break;
    default: break;
    }
}

/* The time at which the last bit leaves is an estimate, but no unit replies within the silence behind it. */
static uint64_t reply_from(const vd_modbus_client *client, const vd_event *event)
{
    uint64_t from = vd_event_answerable(event), allowance = client->manner.framing->silence(&client->manner.line);
    return event->wire != VD_WIRE ? from : from > allowance ? from - allowance : 0;
}

static void note_sent(vd_modbus_client *client, const vd_event *event)
{
    uint64_t until = event->until;
    client->reply_from = reply_from(client, event);
    client->tally.sent++;
    client->last_sent = until;
    if (client->tries_done == 0 || client->owed == 0) {
        client->first_sent = until;
    }
    client->tries_done = (uint8_t)(client->tries_done + !client->polling);
    client->echoed = 0;
    client->echo_over = false;
    vd_client_hush(client);
    if (is_unanswered(client)) {
        client->state = RESTING;
        client->wake = until + (client->deaf ? client->manner.longest : client->manner.broadcast);
        return;
    }
    client->state = WAITING;
    client->listen_end = until + client->manner.limit;
}

static void client_feed(void *engine, const vd_event *event)
{
    vd_modbus_client *client = engine;
    client->now = event->now;
    switch (event->kind) {
    case VD_HEARD:
        for (size_t i = 0; i < event->count; i++) {
            vd_client_hear_character(client, event->bytes[i], event->errors != NULL ? event->errors[i] : 0);
        }
        break;
    case VD_TIME: pass_time(client); break;
    case VD_SENT:
        if (client->state == READY) {
            note_sent(client, event);
        }
        break;
    case VD_LOST:
        if (client->state != IDLE && client->state != ENDED) {
            vd_client_end(client, event->status);
        }
        break;
    case VD_STOP:
        if (client->state != IDLE && client->state != ENDED) {
            vd_client_end(client, VD_STOPPED);
        }
        break;
    default: break;
    }
}

static void client_wants(const void *engine, vd_wants *wants)
{
    const vd_modbus_client *client = engine;
    *wants = (vd_wants){.line = client->manner.line, .wake = client->wake};
    wants->done = client->state == IDLE || client->state == ENDED;
    /* While a unit is busy others may use the line; while a broadcast is carried out nobody may. */
    wants->holds_line = client->state == WAITING || client->state == GAP || client->state == QUIET ||
                        client->state == DRAINING || client->state == LINGERING ||
                        (client->state == RESTING && is_unanswered(client));
    if (client->state == READY) {
        const vd_framing *framing = client->manner.framing;
        uint16_t count = 0;
        wants->send = framing->put(vd_client_frame_in_force(client), client->room, &count);
        wants->count = count;
        wants->quiet = framing->silence(&client->manner.line);
        wants->framing = framing->by_silence;
    } else if (client->state == WAITING || client->state == GAP || client->state == QUIET) {
        wants->wake = client->listen_end;
        if (has_begun(client)) {
            uint64_t latest = client->listen_end + (client->state == QUIET ? 0 : vd_client_frame_time(client));
            wants->wake = gap_end(client) < latest ? gap_end(client) : latest;
        } else if (vd_client_is_holding(client)) {
            wants->wake = client->last_heard + client->manner.gap;
        }
    }
}

const vd_engine vd_modbus_client_engine = {client_wants, client_feed};

vd_modbus_frame *vd_modbus_client_request(vd_modbus_client *client)
{
    return &client->request;
}

const vd_tally *vd_modbus_client_tally(const vd_modbus_client *client)
{
    return &client->tally;
}

bool vd_modbus_client_ended(const vd_modbus_client *client, vd_status *status)
{
    *status = client->status;
    return client->state == ENDED;
}

const uint8_t *vd_modbus_client_reply(const vd_modbus_client *client, size_t *length)
{
    *length = client->reply_length > 3 ? client->reply_length - 3u : 0;
    return client->reply + 1;
}

vd_status vd_modbus_client_note(const vd_modbus_client *client, vd_status status, const char *about, vd_fault *fault)
{
    const uint8_t *request = vd_client_frame_in_force(client)->bytes;
    if (status == VD_LINE_NOT_TAKEN) {
        return vd_serial_refuse(&client->manner.line, VD_LINE_OTHER, fault);
    }
    int32_t second = (int32_t)(client->manner.limit / 1000u), third = client->tries_done;
    if (status == VD_WRONG_ADDRESS) {
        second = client->stray_address;
    } else if (status == VD_WRONG_FUNCTION) {
        second = request[1];
    } else if (status == VD_WRONG_LENGTH) {
        second = client->stray_bytes;
        third = (int32_t)vd_modbus_bytes_asked(request);
    } else if (status == VD_EXCEPTION_OTHER) {
        second = client->reply[2];
    } else if (status == VD_EXCEPTION_BUSY || status == VD_EXCEPTION_ACKNOWLEDGE) {
        second = (int32_t)(client->manner.busy_limit / 1000u);
    }
    return vd_fault_note_numbers(fault, status, NULL, about, "", request[0], second, third);
}
