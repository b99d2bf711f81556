/* SPDX-License-Identifier: MIT
 * What the files of the client share. */
#ifndef VD_WIRE_REGISTERS_CLIENT_H
#define VD_WIRE_REGISTERS_CLIENT_H

#include "parts.h"

/* In which state an exchange is. */
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

/* ---- client_outcome.c ---- */

/* What is being asked: the request, or a poll of a unit that was busy. */
const vd_modbus_frame *vd_client_frame_in_force(const vd_modbus_client *client);
/* How long the longest frame takes on the line; where silence parts no frames, with one gap in it. */
uint64_t vd_client_frame_time(const vd_modbus_client *client);
/* What was heard is forgotten; the request waits for the line; it has ended. */
void vd_client_hush(vd_modbus_client *client);
void vd_client_make_ready(vd_modbus_client *client);
void vd_client_end(vd_modbus_client *client, vd_status status);
/* The request cannot be sent again, or not often enough: what is known is the result. */
void vd_client_fail_or_repeat(vd_modbus_client *client);
/* Keeps a clue, where it says more than what is kept. */
void vd_client_remember(vd_modbus_client *client, vd_status status);
/* The unit has answered, and nothing stands in the way of believing it. */
void vd_client_settle(vd_modbus_client *client, vd_status status);
/* Whether the unit's reply to this request is the same as the request (AP 6.5, 6.6, 6.16). */
bool vd_client_is_answered_alike(const vd_modbus_client *client);
/* No reply came in time; with what was heard instead. */
void vd_client_time_out(vd_modbus_client *client, vd_status clue);
/* Bytes that are no frame have been followed by silence: try again, the first time at once. When that fails too, some
 * talk of others may be going on (a program that was ended left a unit answering): let it pass before the last tries.
 */
void vd_client_give_up_frame(vd_modbus_client *client);
/* A whole, sound frame was heard while listening. Returns whether it answers what was asked. */
bool vd_client_take_frame(vd_modbus_client *client);
/* A reply after its time, in QUIET or DRAINING: it pays what is owed. */
void vd_client_take_late(vd_modbus_client *client);

/* ---- client_hearing.c ---- */

/* Whether bytes are held back that may be the beginning of an echo, or of a reply that begins like one. */
bool vd_client_is_holding(const vd_modbus_client *client);
/* It is no echo: what was held back belongs to the reply. */
void vd_client_release_held(vd_modbus_client *client);
/* A character, with its line errors. */
void vd_client_hear_character(vd_modbus_client *client, uint8_t character, uint8_t errors);

#endif
