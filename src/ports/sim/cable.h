/* SPDX-License-Identifier: MIT
 * A cable, bit by bit: who drives it when, and what a receiver makes of it. */
#ifndef VD_SIM_CABLE_H
#define VD_SIM_CABLE_H

#include "verdite/modbus.h"
#include "verdite/set.h"

#define CABLE_TALKS 64u /* transmissions that can overlap or still be heard */

/* One stretch of bytes put on the cable without gaps. Times are nanoseconds. */
typedef struct talk {
    const void *talker;
    bool unit; /* it is a unit that talks */
    int64_t start, end;
    vd_serial line;
    uint16_t count;
    uint8_t bytes[VD_MODBUS_FRAME + 8];
} talk;

typedef struct cable {
    talk talks[CABLE_TALKS];
    size_t count;
    uint64_t bytes;
    int64_t busy;
    bool at_once;  /* no wire: bits take next to no time, whatever speed and framing anybody has */
    bool two_ways; /* a wire each way, as between a computer and one unit: nobody hears his own side */
} cable;

/* Puts bytes on the cable from `start` on; a talker's own bytes follow one another. Returns when the last bit ends. */
int64_t cable_talk(cable *c, const void *talker, bool unit, const vd_serial *line, int64_t start, const uint8_t *bytes,
                   size_t count);
/* Forgets what ended before `time`. */
void cable_forget(cable *c, int64_t time);

/* One end of the cable that listens. */
typedef struct receiver {
    const void *self; /* does not hear its own talk: the pair is half duplex */
    bool unit;
    vd_serial line;
    int64_t from; /* everything before has been heard */
} receiver;

typedef struct heard {
    int64_t time; /* when the receiver knows the byte: in the middle of its stop bit */
    uint8_t byte, errors;
} heard;

/* The next byte that the receiver makes out of what is on the cable now; false when there is none. Does not move the
 * receiver: cable_heard() does. */
bool cable_listen(const cable *c, const receiver *r, heard *h);
void cable_heard(receiver *r, const heard *h);

#endif
