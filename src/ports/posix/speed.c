/* SPDX-License-Identifier: MIT
 * The speeds that termios knows. */
#define _DEFAULT_SOURCE 1

#include "speed.h"

#include <stddef.h>

static const struct {
    uint32_t baud;
    speed_t speed;
} speeds[] = {
    {50, B50},           {75, B75},           {110, B110},         {134, B134},         {150, B150},
    {200, B200},         {300, B300},         {600, B600},         {1200, B1200},       {1800, B1800},
    {2400, B2400},       {4800, B4800},       {9600, B9600},       {19200, B19200},     {38400, B38400},
    {57600, B57600},     {115200, B115200},   {230400, B230400},   {460800, B460800},   {500000, B500000},
    {576000, B576000},   {921600, B921600},   {1000000, B1000000}, {1152000, B1152000}, {1500000, B1500000},
    {2000000, B2000000}, {2500000, B2500000}, {3000000, B3000000}, {3500000, B3500000}, {4000000, B4000000},
};

speed_t posix_speed(uint32_t baud)
{
    for (size_t i = 0; i < sizeof speeds / sizeof speeds[0]; i++) {
        if (speeds[i].baud == baud) {
            return speeds[i].speed;
        }
    }
    return B0;
}

uint32_t posix_baud(speed_t speed)
{
    for (size_t i = 0; i < sizeof speeds / sizeof speeds[0]; i++) {
        if (speeds[i].speed == speed) {
            return speeds[i].baud;
        }
    }
    return 0;
}
