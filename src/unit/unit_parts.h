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
/* The bank from which it answers about a setting. */
const vd_set *vd_unit_shown(const vd_unit *unit, uint16_t setting);
void vd_unit_store(vd_unit *unit, uint64_t now);
/* Does what an action is for; it is silent while it restarts, from when its reply is out. */
void vd_unit_act(vd_unit *unit, const vd_action *action, uint64_t now);
void vd_unit_restart(vd_unit *unit, uint64_t now);

/* ---- rights.c ---- */

/* Whether who talks now may do what this right, a vd_right, allows. */
bool vd_unit_allows(const vd_unit *unit, uint8_t right);
/* Whether he may have it store, or give it orders. */
bool vd_unit_allows_orders(const vd_unit *unit);
/* A password was said; whether it is the right one, and it is not locked. */
bool vd_unit_log_in(vd_unit *unit, const vd_value *said);
/* A request came: who was logged in and silent for too long is so no longer. */
void vd_unit_is_asked(vd_unit *unit, uint64_t now);

/* ---- unit_registers.c, unit_lines.c: one request ---- */

void vd_unit_answer_registers(vd_unit *unit, const vd_modbus_call *call, uint64_t now);
void vd_unit_answer_line(vd_unit *unit, const vd_text_call *call, uint64_t now);

#endif
