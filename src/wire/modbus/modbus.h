/* SPDX-License-Identifier: MIT
 * What the Modbus files of wire/ share. */
#ifndef VD_WIRE_MODBUS_H
#define VD_WIRE_MODBUS_H

#include "verdite/registers.h"
#include "verdite/rules.h"
#include "verdite/talk.h"

/* Whether the last two bytes are the check of those before; false below 4 bytes. */
bool vd_modbus_crc_fits(const uint8_t *bytes, size_t count);

/* Bytes of data that belong into the reply to a read. */
unsigned vd_modbus_bytes_asked(const uint8_t *request);
/* The function that reads a table. */
uint8_t vd_modbus_read_function(uint8_t table);

/* Whether the request that starts at order[at] writes fields of bits. */
/* See vd_talk_rescales_at_once(). */
bool vd_modbus_rescales_at_once(const vd_model *model, const uint8_t *which, uint16_t decides);
bool vd_modbus_plan_has_fields(const vd_plan *plan, const vd_model *model, uint16_t at);

/* ---- writes.c ---- */

/* Puts the request at hand of a write into the client; VD_OK, or why a value does not fit. */
vd_status vd_modbus_ask_writes(vd_modbus_talk *talk);
/* Writes registers: with function 6 where it is one and the unit knows it, else 16. */
void vd_modbus_ask_registers(vd_modbus_talk *talk, uint16_t first, const uint16_t *registers, uint16_t count);
/* Whether the request at hand has to read its registers first. */
bool vd_modbus_must_fetch(const vd_modbus_talk *talk);

void vd_frame_begin(vd_modbus_frame *frame, uint8_t address, uint8_t function);
void vd_frame_byte(vd_modbus_frame *frame, uint8_t byte);
void vd_frame_word(vd_modbus_frame *frame, uint16_t word);
void vd_frame_end(vd_modbus_frame *frame);

static inline uint16_t vd_word_at(const uint8_t *bytes)
{
    return (uint16_t)(bytes[0] << 8 | bytes[1]);
}

#endif
