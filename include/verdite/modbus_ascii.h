/* SPDX-License-Identifier: MIT
 *
 * Modbus ASCII: the framing in characters (MODBUS over Serial Line V1.02, 2.5.2). Colon, two hexadecimal digits for
 * each byte, a longitudinal redundancy check, carriage return and line feed; seven data bits will do.
 */
#ifndef VERDITE_MODBUS_ASCII_H
#define VERDITE_MODBUS_ASCII_H

#include "verdite/modbus.h"

VD_C_BEGIN

/* Bytes that a talk in ASCII keeps; `longest` does not count. */
#define VD_MODBUS_ASCII_STATE(longest) VD_ALIGNED(VD_MODBUS_STATE + 2u * VD_MODBUS_FRAME + 1u)

/* The framing ASCII (SL 2.5.2). */
extern const vd_framing vd_ascii_framing;
/* The language of registers in ASCII. */
extern const vd_language vd_modbus_ascii;
/* Its desk. */
extern const vd_desk vd_modbus_ascii_desk;
typedef struct vd_unit_language vd_unit_language; /* unit.h */
/* Its unit's end. */
extern const vd_unit_language vd_modbus_ascii_unit;

VD_C_END

#endif
