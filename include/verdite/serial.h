/* SPDX-License-Identifier: MIT
 *
 * Line: how bits look on a serial line.
 */
#ifndef VERDITE_SERIAL_H
#define VERDITE_SERIAL_H

#include "verdite/writer.h"

VD_C_BEGIN

/* How bits look on a serial line. */
typedef struct vd_serial {
    uint32_t baud;     /* bit/s, 50 to 4000000 */
    uint8_t data_bits; /* 7 or 8 */
    char parity;       /* 'N' none, 'E' even, 'O' odd */
    uint8_t stop_bits; /* 1 or 2 */
} vd_serial;

/* What a port is. On a wire bits take time and silences count; where there is none only order does. */
typedef enum vd_wire {
    VD_WIRE,           /* a real one: a UART, built in or behind an adapter */
    VD_WIRE_NOT_KNOWN, /* either: an adapter with a UART, or a unit with a USB port of its own */
    VD_NO_WIRE         /* none: a pseudo-terminal, or what else hands bytes over at once */
} vd_wire;

/* Where a unit is reached on a line. */
typedef struct vd_link {
    vd_serial line;  /* the line setting */
    uint8_t address; /* 0 where it has none */
} vd_link;

/* Reads a framing such as "8E1" (data bits, parity, stop bits; small letters are taken too) into the three fields
 * of `line`; its baud stays. Returns false, with `line` untouched, for anything else. */
bool vd_framing_parse(const char *text, vd_serial *line);
/* Adds e.g. "9600 8E1". */
void vd_serial_print(const vd_serial *line, vd_writer *writer);
/* What to do where a port cannot do a line setting. */
#define VD_LINE_OTHER "Choose another baud or framing, or another adapter."
/* Notes that a port cannot do a line setting; `next` says what to do. Returns VD_LINE_NOT_TAKEN. */
vd_status vd_serial_refuse(const vd_serial *line, const char *next, vd_fault *fault);
/* Whether two line settings are the same. */
bool vd_serial_equal(const vd_serial *a, const vd_serial *b);
/* Adds e.g. "address 5 at 9600 8E1". */
void vd_link_print(const vd_link *link, vd_writer *writer);
/* Whether two links are the same. */
bool vd_link_equal(const vd_link *a, const vd_link *b);
/* Puts a link behind the first `count` of `links`, unless it is among them; returns how many there are then. */
size_t vd_link_add(vd_link *links, size_t count, const vd_link *link);
/* Bits that one character takes on the line: start, data, parity if any, stop. */
unsigned vd_serial_character_bits(const vd_serial *line);
/* Time that `characters` take on the line, in microseconds, rounded up. */
uint64_t vd_serial_time(const vd_serial *line, uint64_t characters);

VD_C_END

#endif
