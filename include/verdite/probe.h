/* SPDX-License-Identifier: MIT
 *
 * Probe: one gentle question, and everything that was heard.
 */
#ifndef VERDITE_PROBE_H
#define VERDITE_PROBE_H

#include "verdite/language.h"

VD_C_BEGIN

/* What one question brought. */
typedef struct vd_evidence {
    vd_status status;      /* VD_OK: identified; an exception: somebody is there; else what went wrong */
    vd_identity identity;  /* VD_OK: who it is */
    uint8_t stray_address; /* VD_WRONG_ADDRESS: who replied */
    bool echo;             /* our own bytes came back */
    bool clash;            /* what came back looks like two that talk at once */
    bool headed;           /* what came back began as a reply from the unit that was asked */
    uint16_t bytes;        /* heard, without the echo; counting stops at 65535 */
    uint16_t error_bytes;  /* of those with line errors */
    uint16_t surplus;      /* heard behind a sound reply or before the question */
    uint64_t reply_time;   /* microseconds from the last bit sent to the first byte heard */
    vd_identity second;    /* who else answered, both replies being sound; only where it listened for that */
    uint8_t shortest_run;  /* shortest run of equal bits heard inside characters, 0: nothing heard */
} vd_evidence;

/* Asks one unit for its identity, once, and never anything else. */
typedef struct vd_probe vd_probe;
VD_STORAGE(vd_probe, 2176, 2176)

/* The engine of a vd_probe. */
extern const vd_engine vd_probe_engine;

/* Begins a question to `address` on a line. `limit`: how long to wait for the first byte, `gap`: for the next, both
 * microseconds. `model` NULL: the question of the desk's language that needs none; else as this model identifies. */
void vd_probe_begin(vd_probe *probe, uint64_t now, const vd_desk *desk, const vd_model *model, const vd_serial *line,
                    uint8_t address, uint32_t limit, uint32_t gap);
/* Makes the question that was just begun to an address listen on behind the reply, for a second unit there: so many
 * microseconds. */
void vd_probe_listen_on(vd_probe *probe, uint32_t longer);
/* Whether it has ended. */
bool vd_probe_ended(const vd_probe *probe);
/* What it brought; it counts once the question has ended. */
const vd_evidence *vd_probe_evidence(const vd_probe *probe);

VD_C_END

#endif
