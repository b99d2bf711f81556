/* SPDX-License-Identifier: MIT
 * Modbus ASCII as a language. */
#include "parts.h"

#include "verdite/modbus_ascii.h"

const vd_language vd_modbus_ascii = {.name = "modbus-ascii",
                                     .title = "Modbus ASCII",
                                     .has_address = true,
                                     .has_check = true,
                                     .names_answers = true,
                                     .speech = &vd_registers_speech,
                                     .own = &vd_ascii_framing};
