/* SPDX-License-Identifier: MIT
 *
 * Reach: the common case in a few calls that wait. A port or a bench is opened, settings of one unit are read and
 * written as texts, and it is closed. Who needs more (several units at once, questions to a person, progress) takes the
 * visit and the loop, which this is made of.
 */
#ifndef VERDITE_REACH_H
#define VERDITE_REACH_H

#include "verdite/host.h"

VD_C_BEGIN

/* Where the unit is. What is NULL or 0 was not said. */
typedef struct vd_reach_place {
    const char *model;    /* its key, or the path of its file; needed */
    const char *port;     /* a serial port, or an adapter of the bench; without it the bench's first adapter */
    const char *bench;    /* a folder: its ports instead of real ones */
    uint8_t address;      /* else the model's from the factory */
    vd_serial line;       /* with a baud of 0: the model's usual one */
    const char *password; /* said where the unit wants a login */
    const char *serial;   /* the unit that is meant: any other is left alone */
    const char *store; /* where writes are kept as visits: a path, or "off"; NULL: the standard one, as for the tool */
} vd_reach_place;

/* A unit within reach. */
typedef struct vd_reach vd_reach;

/* Opens the port; nothing is sent yet. NULL: the fault says why. The texts of the place live as long as the reach. */
vd_reach *vd_reach_open(const vd_reach_place *place, vd_fault *fault);
/* Reads a setting, live, as a text with its unit ("18.0 kg"), in `size` bytes at `text`: a secret is "(secret)", and
 * what does not fit is cut. VD_NO_SUCH_SETTING, or what kept it from being read. */
vd_status vd_reach_read(vd_reach *reach, const char *key, char *text, size_t size, vd_fault *fault);
/* Makes a setting be what the text says ("20 kg"), stores it and reads it back: the whole of a visit that writes. The
 * state before is kept first, as a visit in the store, so that it can be looked up, finished and undone; without a
 * store as a profile in the folder of what is remembered. VD_OK: the task was done, and `whole` says what was read
 * back; only VD_WHOLE_VERIFIED is verified. Else nothing more than the fault says is known. */
vd_status vd_reach_write(vd_reach *reach, const char *key, const char *text, vd_whole *whole, vd_fault *fault);
/* Closes the port, keeps the state of a bench, and wipes what was secret. */
void vd_reach_close(vd_reach *reach);

VD_C_END

#endif
