/* SPDX-License-Identifier: MIT
 * The client for units that talk in lines: one exchange at a time.
 *
 * What it relies on, and what it guards against:
 *  1. who asked judges every line; what the unit says of itself in between does neither end nor spoil an exchange;
 *  2. a line with line errors, or longer than any line may be, is left out, and the answer then lacks it;
 *  3. whoever began to answer and did not finish may still do so: the line is kept quiet before the request goes out
 *     again, so that the end of one answer is not taken for that of the next;
 *  4. a unit that says it is busy has not taken the request: it is left alone for a while and asked again, up to a
 * limit;
 *  5. an answer that goes on for ever, or a line that does, ends by time all the same. */
#include "parts.h"

#include <string.h>

enum state { IDLE, READY, WAITING, QUIET, RESTING, ENDED };

#define MOST_LINES 1024u /* of an answer; no unit has so many records */

vd_lines_manner vd_lines_manner_of(const vd_model *model, const vd_serial *line, uint32_t latency)
{
    return (vd_lines_manner){.line = *line,
                             .talker = model->lines.talker,
                             .limit = model->reply.longest * 1000u + 2u * latency,
                             .gap = model->reply.gap * 1000u + latency + (uint32_t)vd_serial_time(line, 2),
                             .busy_wait = model->reply.busy_wait * 1000u,
                             .busy_limit = model->reply.busy_limit * 1000u,
                             .start = model->listening.says != NULL ? model->listening.says : "",
                             .manner = vd_manner_of(model),
                             .tries = model->reply.tries};
}

const char *vd_lines_advice(const vd_model *model)
{
    const char *help = model->listening.hand.help;
    return help != NULL && help[0] != '\0' ? help : "Check supply, cable, baud and framing.";
}

void vd_lines_client_start(vd_lines_client *client, const vd_lines_manner *manner, char *request, uint16_t request_size,
                           char *heard, uint16_t heard_size)
{
    memset(client, 0, sizeof *client);
    client->manner = *manner;
    client->request = request;
    client->request_size = request_size;
    client->heard = heard;
    client->heard_size = heard_size;
    client->wake = VD_NEVER;
}

static void make_ready(vd_lines_client *client)
{
    client->state = READY;
    client->wake = VD_NEVER;
}

static void end(vd_lines_client *client, vd_status status)
{
    client->state = ENDED;
    client->status = status;
    client->wake = VD_NEVER;
}

void vd_lines_client_begin(vd_lines_client *client, uint64_t now, bool repeatable, vd_lines_hearer *judge, void *about)
{
    client->now = now;
    client->repeatable = repeatable;
    client->judge = judge;
    client->about = about;
    client->tries_done = 0;
    client->heard_length = 0;
    client->overlong = client->bad = false;
    client->seen = VD_NO_ANSWER;
    client->busy_end = VD_NEVER;
    client->said[0] = '\0';
    make_ready(client);
}

/* Clues, the more telling first: what is reported when all tries fail. */
static unsigned telling(vd_status status)
{
    static const uint8_t order[] = {VD_ANSWER_STRANGE, VD_LINE_DAMAGED, VD_LINE_CUT_SHORT, VD_NO_SENSE, VD_NO_ANSWER};
    unsigned rank = 0;
    while (rank < sizeof order && order[rank] != status) {
        rank++;
    }
    return rank;
}

/* Whether it is one of these, as opposed to what the unit itself has said. */
static bool is_clue(vd_status status)
{
    return telling(status) < telling(VD_OK);
}

static void remember(vd_lines_client *client, vd_status status)
{
    client->seen = telling(status) < telling(client->seen) ? status : client->seen;
}

static void repeat_or_end(vd_lines_client *client)
{
    if (client->repeatable && client->tries_done < client->manner.tries) {
        make_ready(client);
    } else {
        end(client, client->seen);
    }
}

/* No end came in time, or one that cannot be right. */
static void give_up_try(vd_lines_client *client)
{
    bool begun = client->lines > 0 || client->heard_length > 0;
    remember(client, client->lines > 0 ? VD_LINE_CUT_SHORT : client->any_bytes ? VD_NO_SENSE : VD_NO_ANSWER);
    client->tally.timed_out++;
    client->heard_length = 0;
    client->overlong = client->bad = false;
    if (begun && client->repeatable && client->tries_done < client->manner.tries) {
        client->state = QUIET;
        client->listen_end = client->now + client->manner.limit;
    } else {
        repeat_or_end(client);
    }
}

static bool is_echo(const vd_lines_client *client)
{
    size_t length = client->request_length;
    while (length > 0 && (client->request[length - 1] == '\r' || client->request[length - 1] == '\n')) {
        length--;
    }
    return length == client->heard_length && memcmp(client->request, client->heard, length) == 0;
}

static void keep_said(vd_lines_client *client)
{
    vd_writer writer = vd_writer_start(client->said, sizeof client->said);
    size_t most = sizeof client->said - 1;
    vd_writer_add_bytes(&writer, client->heard, client->heard_length < most ? client->heard_length : most);
}

/* A unit that is busy has not taken it: it is asked again, which is no try. */
static bool rest(vd_lines_client *client)
{
    uint64_t until = client->now + client->manner.busy_wait;
    client->busy_end = client->busy_end == VD_NEVER ? client->now + client->manner.busy_limit : client->busy_end;
    if (client->manner.busy_wait == 0 || until > client->busy_end) {
        return false;
    }
    client->tries_done--;
    client->state = RESTING;
    client->wake = until;
    return true;
}

/* A line that answers nothing: nothing was asked. What it says of its start counts at any time. */
static bool take_unasked(vd_lines_client *client)
{
    size_t length = client->manner.start != NULL ? strlen(client->manner.start) : 0;
    if (length > 0 && client->heard_length == length && memcmp(client->heard, client->manner.start, length) == 0) {
        client->started = true;
        return true;
    }
    bool early = client->state == WAITING && client->line_since < client->reply_from;
    client->unexplained += client->state != WAITING || early;
    return client->state != WAITING || early;
}

static void take_line(vd_lines_client *client)
{
    vd_status status = VD_OK;
    if (is_echo(client)) { /* nobody has said anything */
        client->any_bytes = client->any_before;
        return;
    }
    if (take_unasked(client)) {
        return;
    }
    vd_heed heed = client->judge(client->about, client->heard, client->heard_length, &status);
    if (heed == VD_NOT_MINE) {
        client->tally.strays++;
        remember(client, status == VD_OK ? VD_NO_SENSE : status);
    } else if (heed == VD_GOES_ON && ++client->lines < MOST_LINES) {
        client->listen_end = client->now + client->manner.limit;
    } else if (heed == VD_ENDS && status == VD_REFUSED_BUSY && rest(client)) {
        client->lines = 0;
    } else if (heed == VD_ENDS && !is_clue(status)) {
        client->tally.answered++;
        keep_said(client);
        end(client, status);
    } else if (heed == VD_ENDS) { /* an end, but what came before is not whole */
        remember(client, status);
        client->tally.damaged++;
        repeat_or_end(client);
    }
}

static void hear_byte(vd_lines_client *client, uint8_t byte, uint8_t errors)
{
    bool ends = byte == '\r' || byte == '\n';
    if (client->heard_length + client->bad > 0 && client->now > client->last_heard + client->manner.gap) {
        client->heard_length = 0; /* the rest of what began long ago does not come any more */
        client->overlong = client->bad = false;
    }
    if (client->heard_length == 0) {
        client->line_since = client->now;
        client->any_before = client->any_bytes;
    }
    client->last_heard = client->now;
    client->any_bytes = client->any_bytes || !ends;
    /* No manner has such characters: they are escaped, so this is noise. */
    client->bad = client->bad || errors != 0 || byte >= 0x7F || (byte < 0x20 && !ends && byte != '\t' && byte != 0);
    if (!ends && client->heard_length < client->heard_size) {
        client->heard[client->heard_length++] = (char)byte;
        return;
    }
    if (!ends) {
        client->tally.surplus += !client->overlong;
        client->overlong = true;
        return;
    }
    if (client->bad || client->overlong) {
        client->tally.damaged += client->bad;
        remember(client, client->bad ? VD_LINE_DAMAGED : VD_NO_SENSE);
    } else if (client->heard_length > 0) {
        take_line(client);
    }
    client->heard_length = 0;
    client->overlong = client->bad = false;
}

/* When this try is given up. A line that has begun is let finish, for as long as it may be one, with one pause in it.
 */
static uint64_t deadline(const vd_lines_client *client)
{
    bool begun = client->heard_length > 0 && !client->overlong && client->lines < MOST_LINES;
    uint64_t silent = client->last_heard + client->manner.gap;
    if (!begun || silent < client->listen_end) {
        return client->listen_end;
    }
    uint64_t latest =
        client->listen_end + vd_serial_time(&client->manner.line, client->heard_size) + client->manner.gap;
    return silent < latest ? silent : latest;
}

static void pass_time(vd_lines_client *client)
{
    if (client->state == WAITING && client->now >= deadline(client)) {
        give_up_try(client);
    } else if (client->state == QUIET && client->now >= client->listen_end) {
        repeat_or_end(client);
    } else if (client->state == RESTING && client->now >= client->wake) {
        make_ready(client);
    }
}

static void client_feed(void *engine, const vd_event *event)
{
    vd_lines_client *client = engine;
    client->now = event->now;
    switch (event->kind) {
    case VD_HEARD:
        for (size_t i = 0; i < event->count; i++) {
            hear_byte(client, event->bytes[i], event->errors != NULL ? event->errors[i] : 0);
        }
        break;
    case VD_TIME: pass_time(client); break;
    case VD_SENT:
        if (client->state == READY) {
            client->tally.sent++;
            client->tries_done++;
            client->state = WAITING;
            client->lines = 0;
            client->any_bytes = false;
            client->heard_length = 0; /* what came before the request had left does not answer it */
            client->overlong = client->bad = false;
            client->reply_from = vd_event_answerable(event);
            client->listen_end = event->until + client->manner.limit;
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
    const vd_lines_client *client = engine;
    *wants = (vd_wants){.line = client->manner.line, .wake = client->wake};
    wants->done = client->state == IDLE || client->state == ENDED;
    wants->holds_line = client->state == WAITING || client->state == QUIET;
    if (client->state == READY) {
        wants->send = (const uint8_t *)client->request;
        wants->count = client->request_length;
        /* A unit that is just saying something of itself is let finish its character. */
        wants->quiet = (uint32_t)vd_serial_time(&client->manner.line, 2);
    } else if (wants->holds_line) {
        wants->wake = client->state == WAITING ? deadline(client) : client->listen_end;
    }
}

const vd_engine vd_lines_client_engine = {client_wants, client_feed};

bool vd_lines_client_ended(const vd_lines_client *client, vd_status *status)
{
    *status = client->status;
    return client->state == ENDED;
}

vd_status vd_lines_client_note(const vd_lines_client *client, vd_status status, const char *about, const char *advice,
                               vd_fault *fault)
{
    bool refused = vd_status_class(status) == VD_CLASS_REFUSED;
    if (status == VD_LINE_NOT_TAKEN) {
        return vd_serial_refuse(&client->manner.line, VD_LINE_OTHER, fault);
    }
    const char *allowed = status == VD_NO_ANSWER ? advice : refused || status == VD_ANSWER_STRANGE ? client->said : "";
    return vd_fault_note_numbers(fault, status, NULL, about, allowed, 0, (int32_t)(client->manner.limit / 1000u),
                                 client->tries_done);
}
