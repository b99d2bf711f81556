/* SPDX-License-Identifier: MIT
 * What the client hears: its own bytes, where the line brings them back, and the reply. */
#include "client.h"

static void hear_byte(vd_modbus_client *client, uint8_t byte, uint8_t errors)
{
    client->last_heard = client->now;
    if (client->state == READY && client->wake == VD_NEVER) {
        /* A line that never falls silent must not hold the exchange up for ever. */
        client->wake = client->now + client->manner.longest + 1000000u;
    }
    if (client->state == READY || client->state == RESTING || client->state == IDLE || client->state == ENDED) {
        client->tally.surplus++;
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
        vd_client_take_late(client);
    } else if (whole) {
        vd_client_take_frame(client);
    } else if (client->state == WAITING && (length < 0 || length <= client->reply_length) && length != 0) {
        client->state = GAP;
    }
}

bool vd_client_is_holding(const vd_modbus_client *client)
{
    return client->state == WAITING && client->echoed > 0 && !client->echo_over;
}

void vd_client_release_held(vd_modbus_client *client)
{
    const vd_modbus_frame *asked = vd_client_frame_in_force(client);
    client->echo_over = true;
    for (uint16_t i = 0; i < client->echoed; i++) {
        hear_byte(client, asked->bytes[i], 0);
    }
}

/* ---- Our own bytes ---- */

static void hear(vd_modbus_client *client, uint8_t byte, uint8_t errors)
{
    const vd_modbus_frame *asked = vd_client_frame_in_force(client);
    bool awaits = client->state == WAITING && client->echo != VD_ECHO_ABSENT && !client->echo_over;
    bool echoes = awaits && client->reply_length == 0 && errors == 0 && byte == asked->bytes[client->echoed];
    bool early = client->state == WAITING && client->now < client->reply_from;
    if (!echoes && early) {
        client->last_heard = client->now;
        client->tally.surplus++;
        client->unexplained++;
        return;
    }
    if (!echoes) {
        if (awaits && client->reply_length == 0) {
            vd_client_release_held(client);
        }
        hear_byte(client, byte, errors);
        return;
    }
    client->echoed++;
    client->last_heard = client->now;
    if (client->echoed < asked->length) {
        return;
    }
    if (client->echo == VD_ECHO_NOT_KNOWN && vd_client_is_answered_alike(client)) {
        vd_client_release_held(client);
        return;
    }
    client->echo = VD_ECHO_PRESENT;
    client->echo_over = true;
    vd_client_remember(client, VD_ECHO_ONLY);
}

void vd_client_hear_character(vd_modbus_client *client, uint8_t character, uint8_t errors)
{
    uint8_t bytes[VD_MODBUS_TAKEN];
    unsigned count = client->manner.framing->take(&client->ear, character, bytes);
    if (client->ear.starts &&
        (client->state == WAITING || client->state == GAP)) { /* what came before was no part of it */
        client->tally.surplus += client->reply_length + (vd_client_is_holding(client) ? client->echoed : 0u);
        client->echoed = vd_client_is_holding(client) ? 0 : client->echoed;
        client->state = WAITING;
        vd_client_hush(client);
    }
    client->reply_errors |= client->state == WAITING && count == 0 ? errors : 0;
    client->last_heard = count == 0 ? client->now : client->last_heard;
    for (unsigned i = 0; i < count; i++) {
        hear(client, bytes[i], errors);
    }
}
