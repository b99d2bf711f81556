/* SPDX-License-Identifier: MIT
 * What the handheld needs of its board: an MPS2 with the AN385 image, as QEMU plays it. */
#ifndef BOARD_H
#define BOARD_H

#include "verdite/serial.h"

void board_start(void);
/* Microseconds since it was started. */
uint64_t board_now(void);
void board_set_line(const vd_serial *line);
void board_send(uint8_t byte);
/* Microseconds until the last bit that was handed over has left. */
uint64_t board_still_leaving(void);
bool board_heard(uint8_t *byte);
/* On the first UART. */
void board_say(const char *text);
void board_say_number(const char *before, unsigned number);
/* Bytes of the stack that were ever used. */
unsigned board_stack_used(void);

#endif
