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
#include "parts.h"

#include <string.h>

enum state {
    IDLE,      /* no exchange, or it has ended */
    READY,     /* request waits for the line */
    WAITING,   /* sent; the reply is awaited */
    GAP,       /* bytes that are no frame: wait for the silence after them */
    QUIET,     /* timed out: let a late reply come and go, then repeat or give up */
    DRAINING,  /* answered, but older replies are owed */
    LINGERING, /* answered; listens for somebody else */
    RESTING,   /* the unit said it is busy, or a broadcast needs its pause */
    ENDED
};

vd_modbus_manner vd_modbus_manner_of(const vd_model *model, const vd_line *line, uint32_t latency)
{
    const vd_reply *reply = &model->reply;
    const vd_framing *framing = vd_framing_of(model->language);
    uint32_t longest = reply->longest * 1000u + 2u * latency + framing->silence(line);
    return (vd_modbus_manner){
        .framing = framing,
        .line = *line,
        .limit = longest,
        .longest = longest,
        .gap = reply->gap * 1000u + latency + (uint32_t)vd_line_time(line, 2),
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

/* How long the longest frame takes on the line. */
static uint64_t frame_time(const vd_modbus_client *client)
{
    return vd_line_time(&client->manner.line, client->manner.framing->characters(VD_MODBUS_FRAME));
}

static const vd_modbus_frame *frame_in_force(const vd_modbus_client *client)
{
    return client->polling ? &client->poll : &client->request;
}

/* Nobody answers a broadcast; and where several units have one address, nobody can be understood. */
static bool is_unanswered(const vd_modbus_client *client)
{
    return client->request.bytes[0] == 0 || client->deaf;
}

static void hush(vd_modbus_client *client)
{
    client->reply_length = 0;
    client->reply_errors = 0;
    client->overlong = false;
}

static void make_ready(vd_modbus_client *client)
{
    client->state = READY;
    client->wake = VD_NEVER;
}

static void end(vd_modbus_client *client, vd_status status)
{
    client->state = ENDED;
    client->status = status;
    client->wake = VD_NEVER;
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
    hush(client);
    make_ready(client);
}

void vd_modbus_client_be_patient(vd_modbus_client *client)
{
    client->patient = true;
}

/* The request cannot be sent again, or not often enough: what is known is the result. */
static void fail_or_repeat(vd_modbus_client *client)
{
    if (client->polling && client->now < client->busy_end) {
        make_ready(client);
    } else if (client->polling) {
        end(client, client->poll_for_busy ? VD_EXCEPTION_BUSY : VD_EXCEPTION_ACKNOWLEDGE);
    } else if (client->repeatable && client->tries_done < client->manner.tries) {
        make_ready(client);
    } else {
        end(client, client->seen);
    }
}

/* Clues, the more telling first: what is reported when all tries fail. */
static unsigned telling(vd_status status)
{
    static const uint8_t order[] = {VD_WRONG_LENGTH, VD_WRONG_FUNCTION, VD_WRONG_ADDRESS,
                                    VD_LINE_ERRORS,  VD_CHECK_FAILED,   VD_CUT_SHORT,
                                    VD_NOISE_ONLY,   VD_ECHO_ONLY,      VD_NO_REPLY};
    unsigned rank = 0;
    while (rank < sizeof order && order[rank] != status) {
        rank++;
    }
    return rank;
}

static void remember(vd_modbus_client *client, vd_status status)
{
    if (telling(status) < telling(client->seen)) {
        client->seen = status;
    }
}

static void rest_and_poll(vd_modbus_client *client, bool busy)
{
    const uint8_t *request = client->request.bytes;
    bool coil = request[1] == VD_MODBUS_WRITE_COIL || request[1] == VD_MODBUS_WRITE_COILS;
    bool read = !coil && request[1] != VD_MODBUS_WRITE_ONE && request[1] != VD_MODBUS_WRITE_MANY &&
                request[1] != VD_MODBUS_MASK_WRITE && request[1] != VD_MODBUS_READ_WRITE;
    if (client->busy_end == VD_NEVER) {
        client->busy_end = client->now + client->first_wait + client->manner.busy_limit;
        client->poll_for_busy = busy;
        client->polling = true;
        client->poll = client->request;
        if (!read) {
            vd_modbus_ask_read(&client->poll, request[0], coil ? VD_MODBUS_READ_COILS : VD_MODBUS_READ_HOLDING,
                               vd_word_at(request + 2), 1);
        }
        client->wake = client->now + client->first_wait;
    } else {
        client->wake = client->now + client->manner.busy_wait;
    }
    client->state = RESTING;
    if (client->wake > client->busy_end) {
        end(client, client->poll_for_busy ? VD_EXCEPTION_BUSY : VD_EXCEPTION_ACKNOWLEDGE);
    }
}

/* The unit has answered, and nothing stands in the way of believing it. */
static void settle(vd_modbus_client *client, vd_status status)
{
    if (status == VD_EXCEPTION_ACKNOWLEDGE && client->leaves) {
        end(client, VD_OK);
        return;
    }
    if (status == VD_EXCEPTION_ACKNOWLEDGE || status == VD_EXCEPTION_BUSY) {
        rest_and_poll(client, status == VD_EXCEPTION_BUSY);
        return;
    }
    bool read = memcmp(client->poll.bytes, client->request.bytes, client->request.length) == 0;
    if (client->polling && !read) {
        /* The unit answers again; whatever it says to the poll, it is no longer busy. */
        client->polling = false;
        client->busy_end = VD_NEVER;
        if (!client->poll_for_busy) {
            end(client, VD_OK);
        } else if (client->repeatable && client->tries_done < client->manner.tries) {
            hush(client);
            make_ready(client);
        } else {
            end(client, VD_EXCEPTION_BUSY);
        }
        return;
    }
    if (client->patient) {
        client->state = LINGERING;
        client->settled = status;
        client->last_lingered = 0;
        client->wake = client->now + client->manner.longest;
        client->listen_end = client->wake + frame_time(client);
        return;
    }
    end(client, status);
}

/* Whether the unit's reply to this request is the same as the request (AP 6.5, 6.6, 6.16). */
static bool is_answered_alike(const vd_modbus_client *client)
{
    uint8_t function = frame_in_force(client)->bytes[1];
    return function == VD_MODBUS_WRITE_ONE || function == VD_MODBUS_WRITE_COIL || function == VD_MODBUS_MASK_WRITE;
}

static void take_answer(vd_modbus_client *client, vd_status status)
{
    client->tally.answered++;
    if (client->echo == VD_ECHO_NOT_KNOWN && !is_answered_alike(client)) {
        client->echo = VD_ECHO_ABSENT;
    }
    if (client->owed > 0) {
        uint64_t lateness = client->now - client->first_sent;
        client->state = DRAINING;
        client->settled = status;
        client->wake = client->last_sent + lateness + client->manner.longest;
        client->listen_end = client->wake;
        return;
    }
    settle(client, status);
}

static void time_out(vd_modbus_client *client, vd_status clue)
{
    remember(client, clue);
    client->tally.timed_out++;
    client->owed++;
    client->state = QUIET;
    client->listen_end = client->now + client->manner.longest;
    hush(client);
}

/* Bytes that are no frame have been followed by silence: try again, the first time at once. When that fails too, some
 * talk of others may be going on (a program that was ended left a unit answering): let it pass before the last tries.
 */
static void give_up_frame(vd_modbus_client *client)
{
    const uint8_t *asked = frame_in_force(client)->bytes;
    int length = vd_modbus_reply_length(client->reply, client->reply_length);
    bool like_a_reply =
        client->reply[0] == asked[0] && (client->reply_length < 2 || (client->reply[1] & 0x7Fu) == asked[1]);
    vd_status clue = VD_NOISE_ONLY;
    if (client->reply_errors != 0) {
        clue = VD_LINE_ERRORS;
    } else if (like_a_reply) {
        bool unfinished = !client->overlong && (length == 0 || length > client->reply_length);
        clue = unfinished ? VD_CUT_SHORT : VD_CHECK_FAILED;
    }
    client->tally.line_errors += clue == VD_LINE_ERRORS;
    client->tally.cut_short += clue == VD_CUT_SHORT;
    client->tally.damaged += clue == VD_CHECK_FAILED || clue == VD_NOISE_ONLY;
    remember(client, clue);
    hush(client);
    if (client->repeatable && client->tries_done > 1 && client->tries_done < client->manner.tries) {
        client->state = QUIET;
        client->listen_end = client->now + client->manner.longest;
        return;
    }
    fail_or_repeat(client);
}

/* A whole, sound frame was heard while listening. Returns whether it answers what was asked. */
static bool take_frame(vd_modbus_client *client)
{
    vd_status status = vd_modbus_judge(frame_in_force(client), client->reply, client->reply_length);
    if (status != VD_WRONG_ADDRESS && status != VD_WRONG_FUNCTION && status != VD_WRONG_LENGTH) {
        take_answer(client, status);
        return true;
    }
    remember(client, status);
    client->stray_address = client->reply[0];
    client->stray_bytes = client->reply[2];
    client->tally.strays++;
    client->unexplained += client->owed == 0;
    if (client->owed > 0) {
        client->owed--;
    }
    hush(client);
    return false;
}

/* A reply after its time, in QUIET or DRAINING: it pays what is owed. */
static void take_late(vd_modbus_client *client)
{
    client->tally.strays++;
    hush(client);
    if (client->owed > 0) {
        client->owed--;
    }
    if (client->owed == 0) {
        client->state == DRAINING ? settle(client, client->settled) : fail_or_repeat(client);
    }
}

static void hear_byte(vd_modbus_client *client, uint8_t byte, uint8_t errors)
{
    client->last_heard = client->now;
    if (client->state == READY && client->wake == VD_NEVER) {
        /* A line that never falls silent must not hold the exchange up for ever. */
        client->wake = client->now + client->manner.longest + 1000000u;
    }
    if (client->state == READY || client->state == RESTING || client->state == IDLE || client->state == ENDED) {
        client->tally.surplus_bytes++;
        client->unexplained++;
        return;
    }
    if (client->patient && (client->state == LINGERING || client->state == DRAINING)) {
        const uint8_t *asked = client->request.bytes;
        client->others = client->others || (client->last_lingered == asked[0] && (byte & 0x7Fu) == asked[1]);
        client->last_lingered = byte;
    }
    if (client->state == LINGERING) {
        return;
    }
    client->reply_errors |= errors;
    if (client->state == DRAINING) {
        /* The answer stands in the buffer already: owed replies are only counted, by the silence after each. */
        uint64_t silent = client->now + client->manner.gap;
        client->wake = silent < client->listen_end ? silent : client->listen_end;
        client->overlong = true;
        return;
    }
    if (client->reply_length == VD_MODBUS_FRAME) {
        client->overlong = true;
    } else {
        client->reply[client->reply_length++] = byte;
    }
    int length = vd_modbus_reply_length(client->reply, client->reply_length);
    bool whole = length == client->reply_length && client->reply_errors == 0 && client->state != GAP &&
                 vd_modbus_crc_fits(client->reply, client->reply_length);
    if (whole && client->state == QUIET) {
        take_late(client);
    } else if (whole) {
        take_frame(client);
    } else if (client->state == WAITING && (length < 0 || length <= client->reply_length) && length != 0) {
        client->state = GAP;
    }
}

/* ---- Our own bytes ---- */

/* Whether bytes are held back that may be the beginning of an echo, or of a reply that begins like one. */
static bool is_holding(const vd_modbus_client *client)
{
    return client->state == WAITING && client->echoed > 0 && !client->echo_over;
}

/* It is no echo: what was held back belongs to the reply. */
static void release_held(vd_modbus_client *client)
{
    const vd_modbus_frame *asked = frame_in_force(client);
    client->echo_over = true;
    for (uint16_t i = 0; i < client->echoed; i++) {
        hear_byte(client, asked->bytes[i], 0);
    }
}

static void hear(vd_modbus_client *client, uint8_t byte, uint8_t errors)
{
    const vd_modbus_frame *asked = frame_in_force(client);
    bool awaits = client->state == WAITING && client->echo != VD_ECHO_ABSENT && !client->echo_over;
    bool echoes = awaits && client->reply_length == 0 && errors == 0 && byte == asked->bytes[client->echoed];
    bool early = client->state == WAITING && client->now < client->reply_from;
    if (!echoes && early) {
        client->last_heard = client->now;
        client->tally.surplus_bytes++;
        client->unexplained++;
        return;
    }
    if (!echoes) {
        if (awaits && client->reply_length == 0) {
            release_held(client);
        }
        hear_byte(client, byte, errors);
        return;
    }
    client->echoed++;
    client->last_heard = client->now;
    if (client->echoed < asked->length) {
        return;
    }
    if (client->echo == VD_ECHO_NOT_KNOWN && is_answered_alike(client)) {
        release_held(client);
        return;
    }
    client->echo = VD_ECHO_PRESENT;
    client->echo_over = true;
    remember(client, VD_ECHO_ONLY);
}

static void hear_character(vd_modbus_client *client, uint8_t character, uint8_t errors)
{
    uint8_t bytes[VD_MODBUS_TAKEN];
    unsigned count = client->manner.framing->take(&client->ear, character, bytes);
    if (client->ear.starts &&
        (client->state == WAITING || client->state == GAP)) { /* what came before was no part of it */
        client->tally.surplus_bytes += client->reply_length + (is_holding(client) ? client->echoed : 0u);
        client->echoed = is_holding(client) ? 0 : client->echoed;
        client->state = WAITING;
        hush(client);
    }
    client->reply_errors |= client->state == WAITING && count == 0 ? errors : 0;
    for (unsigned i = 0; i < count; i++) {
        hear(client, bytes[i], errors);
    }
}

/* Some devices put a stray byte on the line when they switch their transmitter on. A sound reply behind it counts. */
static bool found_behind_stray_bytes(vd_modbus_client *client)
{
    for (uint16_t skip = 1; skip <= 3 && skip + 5 <= client->reply_length && !client->overlong; skip++) {
        const uint8_t *at = client->reply + skip;
        size_t count = client->reply_length - skip;
        if (at[0] == frame_in_force(client)->bytes[0] && vd_modbus_reply_length(at, count) == (int)count &&
            vd_modbus_crc_fits(at, count)) {
            client->tally.surplus_bytes += skip;
            memmove(client->reply, at, count);
            client->reply_length = (uint16_t)count;
            client->reply_errors = 0;
            return true;
        }
    }
    return false;
}

/* Where bits run into each other a receiver may lose its footing for some characters though the talk goes on. */
static uint64_t gap_end(const vd_modbus_client *client)
{
    uint64_t footing = client->reply_errors != 0 ? 2 * client->manner.gap + vd_line_time(&client->manner.line, 8) : 0;
    return client->last_heard + client->manner.gap + footing;
}

static void pass_time(vd_modbus_client *client)
{
    if (is_holding(client) && client->now >= client->last_heard + client->manner.gap) {
        release_held(client);
    }
    bool heard = client->reply_length > 0;
    switch (client->state) {
    case READY:
        if (client->now >= client->wake) {
            end(client, VD_NOISE_ONLY);
        }
        break;
    case WAITING:
    case GAP:
        if (heard && client->now >= gap_end(client)) {
            if (client->reply_length > 5 && found_behind_stray_bytes(client)) {
                if (!take_frame(client)) {
                    client->state = WAITING;
                }
            } else {
                give_up_frame(client);
            }
        } else if (heard && client->now >= client->listen_end + frame_time(client)) {
            time_out(client, VD_NOISE_ONLY);
        } else if (!heard && !is_holding(client) && client->now >= client->listen_end) {
            time_out(client, VD_NO_REPLY);
        }
        break;
    case QUIET:
        if (heard && client->now >= gap_end(client)) {
            hush(client);
        }
        if (client->now >= client->listen_end) {
            hush(client);
            fail_or_repeat(client);
        }
        break;
    case DRAINING:
        if (client->overlong && client->now >= gap_end(client)) {
            client->overlong = false;
            client->reply_errors = 0;
            client->tally.strays++;
            client->owed--;
        }
        client->wake = client->listen_end;
        if (client->owed == 0 || client->now >= client->listen_end) {
            client->owed = 0;
            settle(client, client->settled);
        }
        break;
    case LINGERING:
        if (client->now >= client->wake && client->now < client->last_heard + client->manner.gap &&
            client->now < client->listen_end) { /* whoever began is heard out */
            client->wake = client->last_heard + client->manner.gap;
        } else if (client->now >= client->wake) {
            end(client, client->settled);
        }
        break;
    case RESTING:
        if (client->now >= client->wake) {
            if (is_unanswered(client)) {
                end(client, VD_OK);
            } else {
                hush(client);
                make_ready(client);
            }
        }
        break;
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
    hush(client);
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
            hear_character(client, event->bytes[i], event->errors != NULL ? event->errors[i] : 0);
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
            end(client, event->status);
        }
        break;
    case VD_STOP:
        if (client->state != IDLE && client->state != ENDED) {
            end(client, VD_STOPPED);
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
        wants->send = framing->put(frame_in_force(client), client->room, &count);
        wants->count = count;
        wants->quiet = framing->silence(&client->manner.line);
        wants->framing = framing->by_silence;
    } else if (client->state == WAITING || client->state == GAP || client->state == QUIET) {
        wants->wake = client->listen_end;
        if (client->reply_length > 0) {
            uint64_t latest = client->listen_end + (client->state == QUIET ? 0 : frame_time(client));
            wants->wake = gap_end(client) < latest ? gap_end(client) : latest;
        } else if (is_holding(client)) {
            wants->wake = client->last_heard + client->manner.gap;
        }
    }
}

const vd_engine vd_modbus_client_engine = {client_wants, client_feed};

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
    const uint8_t *request = frame_in_force(client)->bytes;
    if (status == VD_LINE_NOT_TAKEN) {
        return vd_line_refuse(&client->manner.line, VD_LINE_OTHER, fault);
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
