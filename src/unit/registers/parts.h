/* SPDX-License-Identifier: MIT
 * What the files about a unit that has registers share. */
#ifndef VD_UNIT_REGISTERS_PARTS_H
#define VD_UNIT_REGISTERS_PARTS_H

#include "../../wire/registers/responder.h"
#include "../parts.h"
#include "verdite/modbus_unit.h"
#include "verdite/registers.h"

/* AP 7: exception 1 is also the word of a unit that is in the wrong state for what it is asked; a login is wanted. */
enum {
    WRONG_STATE = 1,
    ILLEGAL_FUNCTION = 1,
    ILLEGAL_ADDRESS = 2,
    ILLEGAL_VALUE = 3,
    FAILURE = 4,
    ACKNOWLEDGE = 5,
    BUSY = 6
};

/* The responder that a unit has for its end of the line. */
static inline vd_modbus_responder *responder_of(const vd_unit *unit)
{
    return unit->end;
}

/* AP 7: exception 1 is also the word of a unit that is in the wrong state for what it is asked. */
uint8_t vd_registers_login_wanted(const vd_unit *unit);
/* The address behind a place; behind all places of a table. */
uint32_t vd_registers_end_of(const vd_place *place);
uint32_t vd_registers_table_end(const vd_model *model, vd_table table);
/* Whether a stretch touches a setting of which this holds. */
bool vd_registers_touches(const vd_unit *unit, vd_table table, uint32_t first, uint32_t end,
                          bool (*holds)(const vd_unit *unit, uint16_t setting));
/* Lays the part of one setting's registers that lies in first..first+count-1 over `registers`. */
void vd_registers_lay(const vd_set *bank, uint16_t setting, uint32_t first, uint16_t count, uint16_t *registers);
/* Answer to a call that reads, of coils and discrete inputs; of registers; that writes. */
void vd_registers_answer_bits(vd_unit *unit, const vd_modbus_call *call);
void vd_registers_answer_read(vd_unit *unit, uint8_t function, uint32_t first, uint16_t count);
void vd_registers_answer_write(vd_unit *unit, const vd_modbus_call *call, uint64_t now);
/* This variant or firmware does not have it. */
bool vd_registers_is_absent(const vd_unit *unit, uint16_t setting);

#endif
