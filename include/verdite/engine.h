/* SPDX-License-Identifier: MIT
 *
 * Engine: the contract of every state machine in the library. An engine touches no port. Ask it at any time what it
 * wants; feed it whatever happened. It never blocks, never reads a clock, and may be dropped at any moment. All times
 * are microseconds of one clock that never runs backwards.
 */
#ifndef VERDITE_ENGINE_H
#define VERDITE_ENGINE_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>
#include "verdite/fault.h"
#include "verdite/serial.h"

VD_C_BEGIN

/* A time that does not come. */
#define VD_NEVER UINT64_MAX

/* Line errors of one heard byte, as bits. */
#define VD_ERROR_PARITY 1u
#define VD_ERROR_FRAMING 2u /* stop bit missing */
/* The line was held low for a whole character. */
#define VD_ERROR_BREAK 4u
#define VD_ERROR_OVERRUN 8u /* bytes before this one were lost */

/* Questions for the person. What it is about is asked of the engine itself. */
typedef enum vd_question {
    VD_ASK_NOTHING,
    VD_ASK_WRITE,       /* the changes stand; shall they be written? */
    VD_ASK_PASSWORD,    /* the unit wants a login: the password, or no */
    VD_ASK_OLD_PASSWORD /* it refused the new password that it had taken, and leaves more than one try: the old one? */
} vd_question;

/* Everything an engine wants at one moment. */
typedef struct vd_wants {
    const uint8_t *send; /* bytes to send; valid until the engine is fed next */
    size_t count;        /* 0: nothing to send */
    uint32_t quiet;      /* silence the line must have had before the first of them, microseconds */
    bool framing;        /* that silence is what parts frames, so it is kept where there is no wire, too */
    vd_serial line;      /* line setting for this exchange */
    bool holds_line;     /* an exchange is under way: nobody else may send on this line */
    bool
        veiled; /* what is heard may still repeat a secret of the exchange before: it does not go into a trace either */
    bool hidden;          /* this exchange carries a secret: neither what is sent nor what is heard goes into a trace */
    uint64_t wake;        /* feed VD_TIME at this time, or VD_NEVER */
    vd_question question; /* what a person is to be asked */
    bool reopen;          /* the port went, as was to be expected, and is wanted back; feed VD_BACK */
    bool keep;            /* a record must be kept durably before it goes on; feed VD_KEPT */
    uint32_t news;        /* changes whenever there is something new to tell */
    bool done;            /* nothing more will be wanted */
} vd_wants;

/* What can happen to an engine. */
typedef enum vd_event_kind {
    VD_TIME,     /* it is now `now` */
    VD_HEARD,    /* `count` bytes at `bytes`, line errors of each at `errors` (NULL: none) */
    VD_SENT,     /* all bytes were handed over to `wire`; the last bit leaves at `until` */
    VD_ANSWERED, /* the person's answer to the question: `yes`; a password stands in `bytes`, which are not kept */
    VD_KEPT,     /* the record is kept, or with `status` other than VD_OK it could not be; `said` tells why */
    VD_LOST, /* the port is gone, for the reason `status`; VD_LINE_NOT_TAKEN: it is there, but cannot do this line */
    VD_BACK, /* the port is there again */
    VD_STOP  /* stop as soon as what was begun can be left in order; fed twice: at once */
} vd_event_kind;

/* What happened. What is not about its kind is zero. */
typedef struct vd_event {
    vd_event_kind kind;            /* what happened */
    uint64_t now;                  /* always set */
    const uint8_t *bytes, *errors; /* VD_HEARD: what was heard, and the line errors of each byte; `errors` NULL: none */
    size_t count;                  /* of `bytes` */
    uint64_t until;                /* VD_SENT: when the last bit leaves */
    vd_wire wire;                  /* VD_SENT: zero is a wire */
    vd_status status;              /* VD_LOST: the port's fault */
    const char *said;              /* VD_SAID: the password, NULL: none */
    bool yes;                      /* VD_ANSWERED: whether the person agrees */
} vd_event;

/* Of VD_SENT: nothing that was heard before this moment can answer what was sent. On a wire that is when the last bit
 * leaves; elsewhere bits take no time that is known, and it is the moment at which they were handed over. */
static inline uint64_t vd_event_answerable(const vd_event *event)
{
    return event->wire == VD_WIRE ? event->until : event->now;
}

/* How the loop reaches any engine. */
typedef struct vd_engine {
    /* Puts what it wants now into `wants`. */
    void (*wants)(const void *engine, vd_wants *wants);
    /* Tells it what happened; what it wants may be another thing after that. */
    void (*feed)(void *engine, const vd_event *event);
} vd_engine;

/* What was met on a line since it was begun to ask there. */
typedef struct vd_tally {
    uint32_t sent;        /* requests, each try of them */
    uint32_t answered;    /* requests */
    uint32_t timed_out;   /* requests that nothing that makes sense came to */
    uint32_t damaged;     /* replies whose check did not fit, or that were none */
    uint32_t cut_short;   /* replies that ended too early */
    uint32_t line_errors; /* replies with wrong parity or stop bits */
    uint32_t strays;      /* sound replies to something else, or too late */
    uint32_t surplus;     /* bytes, of lines those that are too long: of nothing that was asked */
} vd_tally;

VD_C_END

#endif
