/* SPDX-License-Identifier: MIT
 * The unit's end of Modbus ASCII. */
#include "../parts.h"

#include "verdite/modbus_ascii.h"

const vd_unit_language vd_modbus_ascii_unit = {.ways = &vd_registers_unit_ways, .framing = &vd_ascii_framing};
