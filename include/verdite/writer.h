/* SPDX-License-Identifier: MIT
 *
 * Writer: text that is being built.
 */
#ifndef VERDITE_WRITER_H
#define VERDITE_WRITER_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>
#include "verdite/fault.h"

VD_C_BEGIN

/* Text being built in a buffer of the caller's. Always terminated; what does not fit is left out and `cut` is set. */
typedef struct vd_writer {
    char *text;
    size_t size, length;
    bool cut;
} vd_writer;

/* Starts a text in `size` bytes at `text`; size is at least 1. */
vd_writer vd_writer_start(char *text, size_t size);
void vd_writer_add(vd_writer *writer, const char *text);
void vd_writer_add_bytes(vd_writer *writer, const char *bytes, size_t count);
void vd_writer_add_number(vd_writer *writer, int64_t number);
/* Adds number / 10^places with exactly `places` decimals (0 to 18) and a point as the decimal mark. */
void vd_writer_add_decimal(vd_writer *writer, int64_t number, unsigned places);
/* Adds at least `digits` hexadecimal digits, capitals, no prefix. */
void vd_writer_add_hex(vd_writer *writer, uint32_t number, unsigned digits);
/* Adds the name of a status in small letters with hyphens, e.g. "no-reply": stable, meant for programs. */
void vd_writer_add_status(vd_writer *writer, vd_status status);

VD_C_END

#endif
