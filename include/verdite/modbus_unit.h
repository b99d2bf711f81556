/* SPDX-License-Identifier: MIT
 *
 * Modbus unit: the unit's end of a line with Modbus.
 */
#ifndef VERDITE_MODBUS_UNIT_H
#define VERDITE_MODBUS_UNIT_H

#include "verdite/modbus.h"

VD_C_BEGIN

/* A request that waits for an answer. */
typedef struct vd_modbus_call {
    uint8_t function;                /* its code */
    bool broadcast;                  /* do it, but no answer is sent */
    uint16_t first;                  /* register or coil written, or read where nothing is written */
    uint16_t count;                  /* how many; a single write has 1 */
    uint16_t read_first, read_count; /* 23: what is read afterwards */
    uint16_t keep, set;              /* 22: the two masks */
    const uint8_t *data;  /* writes: two bytes a register, high byte first; coils: a bit each, lowest first */
    uint8_t code, object; /* identification */
} vd_modbus_call;

/* The unit's end of the line. */
typedef struct vd_modbus_responder vd_modbus_responder;
VD_STORAGE(vd_modbus_responder, 640, 672)

/* The engine of a vd_modbus_responder. */
extern const vd_engine vd_modbus_responder_engine;

/* `room` as in vd_modbus_client_start(). */
void vd_modbus_responder_start(vd_modbus_responder *responder, const vd_framing *framing, uint8_t *room,
                               const vd_serial *line, uint8_t address, uint32_t turnaround);
/* The request that waits, or NULL. Answer with exactly one of the next five. Requests that are malformed, for
 * others, or of a function not listed above never get this far: the responder deals with them. */
const vd_modbus_call *vd_modbus_responder_call(const vd_modbus_responder *responder);
/* Answers with the registers that were asked for. */
void vd_modbus_answer_registers(vd_modbus_responder *responder, const uint16_t *values);
/* `bits`: a bit for each coil or discrete input, lowest first. */
void vd_modbus_answer_bits(vd_modbus_responder *responder, const uint8_t *bits);
/* Says that it was done. */
void vd_modbus_answer_done(vd_modbus_responder *responder);
/* `objects`: the texts in ascending order of their `ids`; as many as fit are sent, the client asks for the rest. */
void vd_modbus_answer_identity(vd_modbus_responder *responder, const uint8_t *ids, const char *const *objects,
                               uint8_t count);
/* Answers with an exception (AP 7). */
void vd_modbus_refuse(vd_modbus_responder *responder, uint8_t exception);
/* Says nothing to it. */
void vd_modbus_ignore(vd_modbus_responder *responder);

/* ---- The unit's end of the language ---- */

typedef struct vd_unit_language vd_unit_language; /* unit.h */
/* The unit's end of the language of registers in RTU. */
extern const vd_unit_language vd_modbus_rtu_unit;

VD_C_END

#endif
