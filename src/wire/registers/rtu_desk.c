/* SPDX-License-Identifier: MIT
 * Modbus RTU at a desk. Units know its question who they are without a model of theirs. */
#include "parts.h"

const vd_desk vd_modbus_rtu_desk = {.language = &vd_modbus_rtu, .asks_anyone = true, .ways = &vd_registers_ways};
