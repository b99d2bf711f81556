/* SPDX-License-Identifier: MIT
 *
 * Port: the contract between engines and hardware, and the small loop that joins them.
 *
 * A kind of port is one constant struct of eight functions. None of them blocks but `wait`. All are called from one
 * thread, never from an interrupt. Opening, closing and listing ports belong to each kind's own header.
 */
#ifndef VERDITE_PORT_H
#define VERDITE_PORT_H

#include "verdite/engine.h"

VD_C_BEGIN

typedef struct vd_port vd_port;

/* Whether a line setting is in force. */
typedef enum vd_taken {
    VD_TAKEN,
    VD_TAKEN_PERHAPS /* the hardware took the call but cannot say whether it obeyed, as pseudo-terminals do */
} vd_taken;

/* What a kind of port does. Every function is called by one thread, and none waits but `wait`. */
typedef struct vd_port_kind {
    /* Of the ground: what all ports of this kind share. */

    /* Microseconds since some moment, 64 bits, never backwards. A port with a narrower counter stretches it here,
     * and must then be called more often than the counter wraps; wait() may not sleep longer than half a wrap. */
    uint64_t (*now)(void *ground);
    /* Returns when any of the ports has bytes or has failed, at the latest at `until`; may return early for any
     * reason. VD_NEVER: no limit. A wait that misses arrivals costs time only, never data. */
    vd_status (*wait)(void *ground, vd_port *const *ports, size_t count, uint64_t until);

    /* Of one port. Any status but VD_OK is final: VD_PORT_LOST, or VD_PORT_FAILED; the port is then only closed. */

    /* Puts a line setting in force for bytes sent and heard from now on. VD_LINE_NOT_TAKEN: the hardware cannot do
     * it; the former setting stands, and the port stays usable. */
    vd_status (*set_line)(vd_port *port, const vd_serial *line, vd_taken *taken);
    /* Hands over up to `count` bytes (at least 1); `taken` says how many went, 0 when there is no room just now.
     * Bytes taken leave in order and without gaps. */
    vd_status (*send)(vd_port *port, const uint8_t *bytes, size_t count, size_t *taken);
    /* Gives up to `size` bytes (at least 1) heard so far with the line errors of each; `count` is 0 when there are
     * none. A lost byte shows as VD_ERROR_OVERRUN on the next. */
    vd_status (*receive)(vd_port *port, uint8_t *bytes, uint8_t *errors, size_t size, size_t *count);
    /* Forgets what was heard and not received. */
    void (*discard)(vd_port *port);
    /* When the last bit handed over leaves, or left. An estimate may be late, never early: a frame sent into one's
     * own last bits is lost, and the reply's time is counted from here. Where there is no wire, when it was handed
     * over. */
    uint64_t (*sent_until)(vd_port *port);
    /* Delay that this port adds to each byte received, at most, microseconds. */
    uint32_t (*latency)(vd_port *port);
} vd_port_kind;

/* One open port. Made by the kind; `ground` is shared by all ports of the kind, `self` is the port's own. */
struct vd_port {
    const vd_port_kind *kind; /* what it is like */
    void *ground, *self;      /* what all ports of its kind share, and its own */
    vd_wire wire; /* what it is; zero: a wire. Where it says less than a wire, replies may come sooner than bits do */
};

/* ---- The loop ---------------------------------------------------------------------------------------------- */

/* A port in the loop. Set `port`, zero the rest. Engines on one port share its line: it is granted to one of them
 * for a whole exchange, in turn, and kept silent between exchanges for as long as the next one wants. */
typedef struct vd_lane {
    vd_port *port;         /* the port */
    vd_serial line;        /* the line setting that was asked of it last */
    bool line_known, lost; /* whether one was; the port is gone */
    vd_taken taken;        /* what became of that */
    uint64_t quiet_since;  /* last bit sent or byte heard */
    size_t turn;           /* seat that has the line, or had it last */
    bool granted;          /* to which seat the line is granted, from 1; 0: to none */
} vd_lane;

/* An engine in the loop. Set the first three, zero the rest. */
typedef struct vd_seat {
    const vd_engine *engine; /* what it does */
    void *self;              /* whose engine it is */
    size_t lane;             /* index of the line that it uses */
    size_t sent;             /* bytes of the present request that went */
} vd_seat;

/* Told of everything that passes. `sent` or else heard; `errors` may be NULL. `bytes` is NULL where they belong to an
 * exchange that carries a secret, or that may repeat one. */
typedef void vd_trace(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                      size_t count);

/* Joins engines to ports. Fill it in; the rest is vd_loop_step(). */
typedef struct vd_loop {
    const vd_port_kind *kind;      /* all lanes are of one kind */
    void *ground;                  /* of all its ports */
    vd_lane *lanes;                /* the lines */
    vd_seat *seats;                /* the engines */
    size_t lane_count, seat_count; /* at most VD_LOOP_LANES lanes */
    vd_trace *trace;               /* or NULL */
    void *trace_about;             /* what `trace` is about */
} vd_loop;

/* Lines in one loop at most. */
#define VD_LOOP_LANES 64u

/* Runs one round: hands out what was heard, then the time, then sends what is wanted; when none of that happened,
 * waits for the next thing to happen. `latest` bounds the wait (VD_NEVER: no bound). Call it until the engines are
 * done, and look after their questions, records and news in between. Bytes are drained before deadlines are judged.
 * A port that fails is fed to its engines as VD_LOST; the status is that of waiting itself. */
vd_status vd_loop_step(vd_loop *loop, uint64_t latest);
/* A lane that was lost has its port again, perhaps another one; its engines are fed VD_BACK. */
void vd_loop_regain(vd_loop *loop, size_t lane, vd_port *port);
/* Whether a lane's port can do a line setting; VD_LINE_NOT_TAKEN, or why the port is gone. The one in force stays in
 * force. To be called while nothing is under way on the lane. */
vd_status vd_loop_try_line(vd_loop *loop, size_t lane, const vd_serial *line);
/* Feeds an event to one seat with the time set to now. */
void vd_loop_feed(vd_loop *loop, size_t seat, vd_event event);
/* What one seat wants. */
void vd_loop_wants(const vd_loop *loop, size_t seat, vd_wants *wants);

VD_C_END

#endif
