/* SPDX-License-Identifier: MIT
 * What the raw requests of all languages share. */
#ifndef VD_WIRE_RAW_H
#define VD_WIRE_RAW_H

#include "verdite/raw.h"

/* Keeps what was heard, as far as there is room. */
void vd_raw_keep(vd_raw *raw, const uint8_t *bytes, size_t count);

#endif
