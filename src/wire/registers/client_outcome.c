/* SPDX-License-Identifier: MIT
 * What an exchange of the client comes to: another try, a wait, an end. */
#include "client.h"

#include <string.h>

const vd_modbus_frame *vd_client_frame_in_force(const vd_modbus_client *client)
{
    return client->polling ? &client->poll : &client->request;
}

uint64_t vd_client_frame_time(const vd_modbus_client *client)
{
    const vd_framing *framing = client->manner.framing;
    return vd_serial_time(&client->manner.line, framing->characters(VD_MODBUS_FRAME)) +
           (framing->by_silence ? 0u : client->manner.gap);
}

void vd_client_hush(vd_modbus_client *client)
{
    client->reply_length = 0;
    client->reply_errors = 0;
    client->overlong = false;
}

void vd_client_make_ready(vd_modbus_client *client)
{
    client->state = READY;
    client->wake = VD_NEVER;
}

void vd_client_end(vd_modbus_client *client, vd_status status)
{
    client->state = ENDED;
    client->status = status;
    client->wake = VD_NEVER;
}

void vd_client_fail_or_repeat(vd_modbus_client *client)
{
    if (client->polling && client->now < client->busy_end) {
        vd_client_make_ready(client);
    } else if (client->polling) {
        vd_client_end(client, client->poll_for_busy ? VD_EXCEPTION_BUSY : VD_EXCEPTION_ACKNOWLEDGE);
    } else if (client->repeatable && client->tries_done < client->manner.tries) {
        vd_client_make_ready(client);
    } else {
        vd_client_end(client, client->seen);
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

void vd_client_remember(vd_modbus_client *client, vd_status status)
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
        vd_client_end(client, client->poll_for_busy ? VD_EXCEPTION_BUSY : VD_EXCEPTION_ACKNOWLEDGE);
    }
}

void vd_client_settle(vd_modbus_client *client, vd_status status)
{
    if (status == VD_EXCEPTION_ACKNOWLEDGE && client->leaves) {
        vd_client_end(client, VD_OK);
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
            vd_client_end(client, VD_OK);
        } else if (client->repeatable && client->tries_done < client->manner.tries) {
            vd_client_hush(client);
            vd_client_make_ready(client);
        } else {
            vd_client_end(client, VD_EXCEPTION_BUSY);
        }
        return;
    }
    if (client->patient) {
        client->state = LINGERING;
        client->settled = status;
        client->last_lingered = 0;
        client->wake = client->now + client->manner.longest;
        client->listen_end = client->wake + vd_client_frame_time(client);
        return;
    }
    vd_client_end(client, status);
}

bool vd_client_is_answered_alike(const vd_modbus_client *client)
{
    uint8_t function = vd_client_frame_in_force(client)->bytes[1];
    return function == VD_MODBUS_WRITE_ONE || function == VD_MODBUS_WRITE_COIL || function == VD_MODBUS_MASK_WRITE;
}

static void take_answer(vd_modbus_client *client, vd_status status)
{
    client->tally.answered++;
    if (client->echo == VD_ECHO_NOT_KNOWN && !vd_client_is_answered_alike(client)) {
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
    vd_client_settle(client, status);
}

void vd_client_time_out(vd_modbus_client *client, vd_status clue)
{
    vd_client_remember(client, clue);
    client->tally.timed_out++;
    client->owed++;
    client->state = QUIET;
    client->listen_end = client->now + client->manner.longest;
    vd_client_hush(client);
}

void vd_client_give_up_frame(vd_modbus_client *client)
{
    const uint8_t *asked = vd_client_frame_in_force(client)->bytes;
    int length = vd_modbus_reply_length(client->reply, client->reply_length);
    bool like_a_reply = client->reply_length > 0 && client->reply[0] == asked[0] &&
                        (client->reply_length < 2 || (client->reply[1] & 0x7Fu) == asked[1]);
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
    vd_client_remember(client, clue);
    vd_client_hush(client);
    if (client->repeatable && client->tries_done > 1 && client->tries_done < client->manner.tries) {
        client->state = QUIET;
        client->listen_end = client->now + client->manner.longest;
        return;
    }
    vd_client_fail_or_repeat(client);
}

bool vd_client_take_frame(vd_modbus_client *client)
{
    vd_status status = vd_modbus_judge(vd_client_frame_in_force(client), client->reply, client->reply_length);
    if (status != VD_WRONG_ADDRESS && status != VD_WRONG_FUNCTION && status != VD_WRONG_LENGTH) {
        take_answer(client, status);
        return true;
    }
    vd_client_remember(client, status);
    client->stray_address = client->reply[0];
    client->stray_bytes = client->reply[2];
    client->tally.strays++;
    client->unexplained += client->owed == 0;
    if (client->owed > 0) {
        client->owed--;
    }
    vd_client_hush(client);
    return false;
}

void vd_client_take_late(vd_modbus_client *client)
{
    client->tally.strays++;
    vd_client_hush(client);
    if (client->owed > 0) {
        client->owed--;
    }
    if (client->owed == 0) {
        client->state == DRAINING ? vd_client_settle(client, client->settled) : vd_client_fail_or_repeat(client);
    }
}
