/* SPDX-License-Identifier: MIT
 * Modbus ASCII at a desk. Few units talk so: they are looked for where a model of theirs is there. */
#include "parts.h"

#include "verdite/modbus_ascii.h"

const vd_desk vd_modbus_ascii_desk = {.language = &vd_modbus_ascii, .is_text = true, .ways = &vd_registers_ways};
