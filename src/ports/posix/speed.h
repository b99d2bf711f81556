/* SPDX-License-Identifier: MIT
 * The speeds that termios knows. */
#ifndef VD_POSIX_SPEED_H
#define VD_POSIX_SPEED_H

#include <stdint.h>
#include <termios.h>

/* The constant for a speed in bit/s, B0 when there is none. */
speed_t posix_speed(uint32_t baud);
/* The speed in bit/s of a constant, 0 when it is not known. */
uint32_t posix_baud(speed_t speed);

#endif
