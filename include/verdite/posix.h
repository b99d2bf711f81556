/* SPDX-License-Identifier: MIT
 *
 * Posix: real serial ports of a computer, through termios. Each is used by one program at a time (an exclusive lock),
 * and left as it was found.
 */
#ifndef VERDITE_POSIX_H
#define VERDITE_POSIX_H

#include "verdite/model_questions.h"
#include "verdite/port.h"

VD_C_BEGIN

/* A serial port of this computer that was opened. */
typedef struct vd_posix vd_posix;

/* Opens a serial port by path. `dtr` and `rts` say what the control lines do while it is open.
 * VD_NO_PORT, VD_PORT_NOT_ALLOWED (with the cure), VD_PORT_BUSY, VD_PORT_FAILED. */
vd_status vd_posix_open(const char *path, vd_signal dtr, vd_signal rts, vd_posix **posix, vd_fault *fault);
/* Puts prior settings back and releases the port. NULL is taken. */
void vd_posix_close(vd_posix *posix);
/* The port, for a vd_lane, which says what it is by the driver behind it; lives as long as `posix`. */
vd_port *vd_posix_port(vd_posix *posix);
/* The kind needs no ground: pass NULL. wait() returns early when a signal arrives. Speeds are those for which termios
 * has constants from 50 to 4000000 bit/s (not 14400, 28800, 76800). */
extern const vd_port_kind vd_posix_kind;

/* A serial port that is there. Texts are printable and terminated; "" where not known. */
typedef struct vd_posix_found {
    char path[64];              /* e.g. /dev/ttyUSB0 */
    char lasting[160];          /* a name of the same port that survives replugging, e.g. below /dev/serial/by-id */
    char label[96];             /* maker and product of the adapter */
    char serial[48];            /* the adapter's serial number */
    char vendor[5], product[5]; /* USB vendor and product id, hexadecimal */
    char position[64];          /* where it is plugged in */
    char group[32];             /* the group whose members may open it */
    char holder[64];            /* the program that has it open, as far as this user may see: name and process id */
    bool may_open;              /* by this user */
    bool gone;                  /* the device manager still lists it, but it went away */
    vd_wire wire;               /* what is behind it, as far as its driver tells */
    bool like_a_modem;          /* a desktop service may take it for a modem and talk to it */
} vd_posix_found;

/* Lists the serial ports that are there: adapters, and built-in ports with hardware behind them; with `all` also the
 * places for built-in ports that have none. Fills at most `size` and returns how many there are. */
size_t vd_posix_list(vd_posix_found *found, size_t size, bool all);
/* Adds what lets this user open a port that belongs to `group`: a command, or where no group may, whom to ask. */
void vd_posix_print_cure(const char *group, vd_writer *writer);
/* Who the adapter of a port is, so that it is known again under another name: ids and serial number, or where it has
 * none its position. */
void vd_posix_identify(const vd_posix_found *found, vd_writer *writer);
/* The name by which an adapter that was identified so is there now. False: it is not. */
bool vd_posix_find(const char *identity, char *path, size_t size);
/* What is behind a port: a wire where a driver for UARTs serves it; none where it is a pseudo-terminal; else not known,
 * as with USB units whose class says only that they pass bytes (CDC-ACM). */
vd_wire vd_posix_wire(const char *path);
/* The program that has a port open, as far as this user may see; "" where none is seen. */
void vd_posix_holder(const char *path, char *holder, size_t size);

/* Watches adapters come and go. */
typedef struct vd_posix_watch vd_posix_watch;
/* NULL when the system does not tell. */
vd_posix_watch *vd_posix_watch_start(void);
/* Ends it; NULL is fine. */
void vd_posix_watch_end(vd_posix_watch *watch);
/* Waits up to `milliseconds`, or until a signal, for one to come or go; false when none did. */
bool vd_posix_watch_next(vd_posix_watch *watch, int milliseconds, bool *came, vd_posix_found *found);

VD_C_END

#endif
