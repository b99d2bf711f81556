/* SPDX-License-Identifier: MIT
 * What the files of unit/ share. */
#ifndef VD_UNIT_PARTS_H
#define VD_UNIT_PARTS_H

#include "verdite/fields.h"
#include "verdite/registers.h"
#include "verdite/unit.h"

/* ---- banks.c: banks, and what becomes of them ---- */

/* Whether the staged bank may be taken: each setting in unit->touched is in order, what the unit makes fit by itself is
 * made to fit, and no rule that it enforces is broken. */
bool vd_unit_accepts_staged(vd_unit *unit);
/* The staged bank becomes the live one, and the stored one where nothing needs to be stored. */
void vd_unit_take_staged(vd_unit *unit);
void vd_unit_store(vd_unit *unit, uint64_t now);
/* Does what an action is for; it is silent while it restarts, from when its reply is out. */
void vd_unit_act(vd_unit *unit, const vd_action *action, uint64_t now);
void vd_unit_restart(vd_unit *unit, uint64_t now);

/* ---- unit_registers.c, unit_lines.c: one request ---- */

void vd_unit_answer_registers(vd_unit *unit, const vd_modbus_call *call, uint64_t now);
void vd_unit_answer_line(vd_unit *unit, const vd_text_call *call, uint64_t now);

#endif
