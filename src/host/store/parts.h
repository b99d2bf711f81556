/* SPDX-License-Identifier: MIT
 * What the rooms of the store share. */
#ifndef VD_HOST_STORE_PARTS_H
#define VD_HOST_STORE_PARTS_H

#include <sqlite3.h>

#include "verdite/history.h"

struct vd_store_file {
    sqlite3 *database;
};

/* A statement with its texts and numbers put in: for each letter of `kinds` 't' a text, 'n' a number (gint64). NULL:
 * the store has failed. Finalize it. */
sqlite3_stmt *store_ask(vd_store_file *store, const char *sql, const char *kinds, ...);
/* One step of a statement: SQLITE_ROW, SQLITE_DONE, or what keeps it from that. */
int store_step(sqlite3_stmt *statement);
/* Why the last of its calls failed: the system's reason where its folder takes no file. */
const char *store_why(sqlite3 *database);
/* Runs one whose rows are of no interest. */
bool store_do(vd_store_file *store, const char *sql, const char *kinds, ...);
/* The first number of the first row, -1 where there is none. */
gint64 store_number(vd_store_file *store, const char *sql, const char *kinds, ...);
/* The text of a column, "" where it has none; copied into `size` bytes at `to`, if it is one line and fits. */
bool store_text(sqlite3_stmt *statement, int column, char *to, size_t size);

/* Ends a piece of work: for good, or, where something in it has failed, as if it had never begun. */
vd_status store_commit(vd_store_file *store, bool fine, vd_fault *fault);

/* What the row of a visit, or of another act, begins with. */
typedef struct store_row {
    const char *model, *task, *step;
    const vd_identity *unit, *other; /* `other` NULL: none */
    vd_link from, to;
    gint64 changes; /* -1: something, how many settings is not known */
} store_row;
/* Begins one, open and without an end. */
bool row_begin(vd_store_file *store, const store_row *about, const vd_occasion *occasion, int64_t *id);

/* Judges what is there: VD_OK, perhaps with an `older` edition, or an empty file; or why it cannot be worked with.
 * Writes nothing. */
vd_status schema_judge(vd_store_file *store, const char *path, bool *older, vd_fault *fault);
/* Brings the store to this edition, in one piece: of several programs that find an older one, one does. */
bool schema_renew(vd_store_file *store, vd_fault *fault);

/* Takes over what an older Verdite remembered in files of their own. */
void served_take_over(vd_store_file *store);
void proved_take_over(vd_store_file *store);
void kept_take_over(vd_store_file *store);

#endif
