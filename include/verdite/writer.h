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
    char *text;          /* what was written, terminated */
    size_t size, length; /* of the buffer; of the text */
    bool cut;            /* it did not all fit */
} vd_writer;

/* Starts a text in `size` bytes at `text`; size is at least 1. */
vd_writer vd_writer_start(char *text, size_t size);
/* Adds a text. */
void vd_writer_add(vd_writer *writer, const char *text);
/* Adds bytes of a text. */
void vd_writer_add_bytes(vd_writer *writer, const char *bytes, size_t count);
/* Adds a whole number. */
void vd_writer_add_number(vd_writer *writer, int64_t number);
/* Adds number / 10^places with exactly `places` decimals (0 to 18) and a point as the decimal mark. */
void vd_writer_add_decimal(vd_writer *writer, int64_t number, unsigned places);
/* Adds at least `digits` hexadecimal digits, capitals, no prefix. */
void vd_writer_add_hex(vd_writer *writer, uint32_t number, unsigned digits);
/* Adds the name of a status in small letters with hyphens, e.g. "no-reply": stable, meant for programs. */
void vd_writer_add_status(vd_writer *writer, vd_status status);
/* What a text has in braces: adds what is to stand there. `name`: what is between them, `length` bytes. False: it is
 * none that is known, and the text stays as it is. */
typedef bool vd_fill(void *about, const char *name, size_t length, vd_writer *writer);
/* Adds a text, filled in wherever a brace opens; one that does not close reaches to the end. */
void vd_writer_add_filled(vd_writer *writer, const char *text, vd_fill *fill, void *about);
/* Adds a text in which "{item}" is the number of an item, from 0, as people count, from 1. Whether it was there. */
bool vd_writer_add_item(vd_writer *writer, const char *text, uint16_t item);

VD_C_END

#endif
