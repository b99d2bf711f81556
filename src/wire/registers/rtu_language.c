/* SPDX-License-Identifier: MIT
 * Modbus RTU as a language. */
#include "parts.h"

const vd_language vd_modbus_rtu = {.name = "modbus-rtu",
                                   .title = "Modbus RTU",
                                   .has_address = true,
                                   .has_check = true,
                                   .names_answers = true,
                                   .speech = &vd_registers_speech,
                                   .own = &vd_rtu_framing};
