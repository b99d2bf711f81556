/* SPDX-License-Identifier: MIT
 *
 * Store: what is kept of units from one visit to the next, in one file: where each was met last, and when a restart
 * last showed what it has stored. Several programs may use it at once; a crash or a loss of power leaves it whole.
 */
#ifndef VERDITE_STORE_H
#define VERDITE_STORE_H

#include <glib.h>

#include "verdite/fault.h"
#include "verdite/model_questions.h"
#include "verdite/serial.h"
#include "verdite/set.h"

VD_C_BEGIN

/* A store that was opened. */
typedef struct vd_store_file vd_store_file;

/* Opens the store at a path and makes one where there is none; NULL: the one that VERDITE_STORE names, else
 * verdite/store.db in the user's folder for data. What an older Verdite remembered is taken over once, and left.
 * A damaged one is set aside under another name, which is put into `set_aside` (free it; NULL: it was not), and a new
 * one begun. NULL: VERDITE_STORE is "off" and the fault VD_OK; or VD_STORE_NEWER (a newer Verdite made it),
 * VD_STORE_STRANGE (it is another program's), VD_STORE_ALTERED (another program changed its tables), VD_STORE_SHUT (it
 * cannot be opened or written). Nothing is lost then, and whoever goes on without it is only asked again what it would
 * have remembered. */
vd_store_file *vd_store_open(const char *path, char **set_aside, vd_fault *fault);
/* Where that is by itself, or "off". Free it. */
char *vd_store_usual_path(void);
/* NULL is none. */
void vd_store_close(vd_store_file *store);

/* ---- What served last time ---------------------------------------------------------------------------------- */

/* Where a unit was met last: by which port, at which line setting and address. */
typedef struct vd_served {
    char port[128];    /* the name by which the port was opened */
    char adapter[160]; /* who the adapter is, so that it is known again under another name; "" where it does not say */
    char model[64];    /* key of the model */
    vd_serial line;    /* the line setting */
    uint8_t address;   /* of the unit, 0 where it has none */
} vd_served;

/* The last place that served a model, NULL: any; or, where `adapter` is not NULL, behind that adapter. False when
 * nothing is remembered, as in no store at all. */
bool vd_served_recall(vd_store_file *store, const char *model, const char *adapter, vd_served *served);
/* The addresses at which visits met units behind an adapter, or by a port; at most `size`. Returns how many. */
size_t vd_served_addresses(vd_store_file *store, const char *adapter, uint8_t *addresses, size_t size);
/* Remembers a place. Failing to is no fault: it only means to be asked again. */
void vd_served_remember(vd_store_file *store, const vd_served *served);

/* ---- Files that were read from units ----------------------------------------------------------------------- */

/* A file, and the unit that it was read from. */
typedef struct vd_saved {
    char path[512];                  /* whole */
    char model[64];                  /* key of the model */
    char serial[VD_SERIAL_MOST + 2]; /* of the unit */
    char print[65];                  /* of the text as it was read, or sent, last */
} vd_saved;
/* Remembers it; failing to is no fault. */
void vd_saved_remember(vd_store_file *store, const vd_saved *saved);
/* Those of a unit, NULL: of any, the last first; at most `most`. Returns how many. */
size_t vd_saved_of(vd_store_file *store, const char *model, const char *serial, vd_saved *saved, size_t most);

/* ---- When storage was last proved -------------------------------------------------------------------------- */

/* That a restart showed what a unit has stored. */
typedef struct vd_proved {
    int64_t when;   /* milliseconds, by any clock that runs on */
    int64_t ran;    /* how long the unit had been running then, milliseconds */
    char print[65]; /* of what it held then */
} vd_proved;

/* What is remembered of a unit; false when nothing is. */
bool vd_proved_recall(vd_store_file *store, const char *model, const char *serial, vd_proved *proved);
/* Remembers it. Failing to is no fault: it only means to be restarted again. */
void vd_proved_remember(vd_store_file *store, const char *model, const char *serial, const vd_proved *proved);
/* The print of what a unit holds of the settings that `which` names with 1, a byte for each. */
void vd_proved_print(const vd_set *set, const uint8_t *which, vd_proved *proved);

VD_C_END

#endif
