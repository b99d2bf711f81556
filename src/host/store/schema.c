/* SPDX-License-Identifier: MIT
 * The tables of the store, edition by edition; and whether a file has just these. */
#include "parts.h"

#include <string.h>

#define OURS 0x56447374 /* what says in the file whose it is */

/* Each edition is made from the one before; a new store goes through all. */
static const char *const editions[] = {
    "CREATE TABLE served (id INTEGER PRIMARY KEY AUTOINCREMENT, adapter TEXT NOT NULL, port TEXT NOT NULL,"
    " model TEXT NOT NULL, baud INTEGER NOT NULL, framing TEXT NOT NULL, address INTEGER NOT NULL,"
    " UNIQUE (adapter, port, model));"
    "CREATE TABLE proved (model TEXT NOT NULL, serial TEXT NOT NULL, at INTEGER NOT NULL, ran INTEGER NOT NULL,"
    " print TEXT NOT NULL, PRIMARY KEY (model, serial)) WITHOUT ROWID;",
    /* Visits. Keys of settings are numbers there, so that a visit takes about a kilobyte. */
    "CREATE TABLE unit (id INTEGER PRIMARY KEY, maker TEXT NOT NULL, model TEXT NOT NULL, serial TEXT NOT NULL,"
    " UNIQUE (maker, model, serial));"
    "CREATE INDEX unit_by_serial ON unit (serial);"
    "CREATE TABLE visit (id INTEGER PRIMARY KEY AUTOINCREMENT, mark TEXT NOT NULL UNIQUE,"
    " unit INTEGER NOT NULL REFERENCES unit, task TEXT NOT NULL, began INTEGER NOT NULL, ended INTEGER NOT NULL,"
    " step TEXT NOT NULL, outcome TEXT NOT NULL, open INTEGER NOT NULL, of INTEGER NOT NULL, product TEXT NOT NULL,"
    " firmware TEXT NOT NULL, port TEXT NOT NULL, adapter TEXT NOT NULL, who TEXT NOT NULL, remark TEXT NOT NULL,"
    " ran INTEGER NOT NULL DEFAULT -1, changes INTEGER NOT NULL, address INTEGER NOT NULL, baud INTEGER NOT NULL, "
    "framing TEXT NOT NULL,"
    " new_address INTEGER NOT NULL, new_baud INTEGER NOT NULL, new_framing TEXT NOT NULL);"
    "CREATE INDEX visit_of_unit ON visit (unit, id);"
    "CREATE INDEX visit_open ON visit (id) WHERE open = 1;"
    "CREATE TABLE setting (id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE);"
    "CREATE TABLE held (visit INTEGER NOT NULL, setting INTEGER NOT NULL, before TEXT, wanted TEXT, after TEXT,"
    " bits INTEGER NOT NULL, PRIMARY KEY (visit, setting)) WITHOUT ROWID;",
    /* What the fitter calls the line. */
    "ALTER TABLE visit ADD COLUMN line TEXT NOT NULL DEFAULT '';",
    /* Whose the file is, so that what was written ahead for another one is not taken for its own; acts of several
     * visits; where a unit was read back. Serial numbers were cut at 31 characters: whoever has just so many may be
     * several units, and is no real one's past. */
    "CREATE TABLE owner (mark TEXT NOT NULL);"
    "INSERT INTO owner VALUES (lower(hex(randomblob(16))));"
    "ALTER TABLE visit ADD COLUMN leg INTEGER NOT NULL DEFAULT 0;"
    "ALTER TABLE visit ADD COLUMN other INTEGER NOT NULL DEFAULT 0;"
    "CREATE INDEX visit_of_other ON visit (other) WHERE other <> 0;"
    "ALTER TABLE visit ADD COLUMN at_address INTEGER NOT NULL DEFAULT 0;"
    "UPDATE visit SET at_address = new_address WHERE outcome IN ('verified', 'verified-except', 'live-only', 'read');"
    "UPDATE unit SET serial = serial || ' (cut)' WHERE length(serial) = 31;"
    "DELETE FROM proved WHERE length(serial) = 31;",
    /* What a scan gave for a unit. */
    "ALTER TABLE visit ADD COLUMN code TEXT NOT NULL DEFAULT '';"
    "CREATE INDEX visit_of_code ON visit (code) WHERE code <> '';",
    /* Files that were read from units. */
    "CREATE TABLE saved (path TEXT NOT NULL PRIMARY KEY, model TEXT NOT NULL, serial TEXT NOT NULL,"
    " print TEXT NOT NULL);"};
enum { EDITION = sizeof editions / sizeof editions[0] };

static bool run(vd_store_file *store, const char *sql)
{
    return sqlite3_exec(store->database, sql, NULL, NULL, NULL) == SQLITE_OK;
}

static bool make(vd_store_file *store, gint64 from)
{
    bool fine = true;
    for (gint64 edition = from; fine && edition < EDITION; edition++) {
        fine = run(store, editions[edition]);
    }
    return fine;
}

bool schema_renew(vd_store_file *store, vd_fault *fault)
{
    if (!store_do(store, "BEGIN IMMEDIATE", "")) {
        vd_note_STORE_SHUT(fault, store_why(store->database));
        return false;
    }
    gint64 edition = store_number(store, "PRAGMA user_version", "");
    char *mark = g_strdup_printf("PRAGMA application_id = %d; PRAGMA user_version = %d", OURS, (int)EDITION);
    bool fine = edition >= 0 && make(store, edition) && run(store, mark);
    g_free(mark);
    if (fine && edition == 0) {
        served_take_over(store);
        proved_take_over(store);
    }
    if (fine && edition < 2) {
        kept_take_over(store);
    }
    fine = fine && store_do(store, "COMMIT", "");
    if (!fine) {
        vd_note_STORE_SHUT(fault, store_why(store->database));
        store_do(store, "ROLLBACK", "");
    }
    return fine;
}

/* All tables with their columns, views and triggers: what a statement of ours meets. Free it. */
static char *shape_of(vd_store_file *store)
{
    GString *shape = g_string_new("");
    sqlite3_stmt *row = store_ask(store,
                                  "SELECT s.type || ' ' || s.name || ' ' || coalesce(c.name || ' ' || c.type, '')"
                                  " FROM sqlite_schema s LEFT JOIN pragma_table_xinfo(s.name) c ON s.type = 'table'"
                                  " WHERE s.type <> 'index' AND s.name NOT LIKE 'sqlite_%' ORDER BY 1",
                                  "");
    while (row != NULL && store_step(row) == SQLITE_ROW) {
        const char *text = (const char *)sqlite3_column_text(row, 0);
        g_string_append_printf(shape, "%s\n", text != NULL ? text : "");
    }
    sqlite3_finalize(row);
    return g_string_free(shape, FALSE);
}

/* Whether it has the tables and columns of this edition, and nothing that would run by itself. */
static bool is_as_made(vd_store_file *store)
{
    vd_store_file made = {.database = NULL};
    bool fine = sqlite3_open(":memory:", &made.database) == SQLITE_OK && make(&made, 0);
    char *wanted = fine ? shape_of(&made) : NULL, *shape = fine ? shape_of(store) : NULL;
    bool alike = fine && strcmp(wanted, shape) == 0;
    g_free(wanted);
    g_free(shape);
    sqlite3_close(made.database);
    return alike;
}

vd_status schema_judge(vd_store_file *store, const char *path, bool *older, vd_fault *fault)
{
    gint64 edition = store_number(store, "PRAGMA user_version", ""),
           whose = store_number(store, "PRAGMA application_id", "");
    gint64 tables = store_number(store, "SELECT count(*) FROM sqlite_schema", "");
    int why = sqlite3_errcode(store->database);
    *older = edition < EDITION;
    if (why == SQLITE_CORRUPT || why == SQLITE_NOTADB) {
        return vd_note_STORE_DAMAGED(fault, path);
    }
    if (edition < 0 || whose < 0 || tables < 0) {
        return vd_note_STORE_SHUT(fault, store_why(store->database));
    }
    if (whose != OURS && (tables > 0 || edition != 0)) {
        return vd_note_STORE_STRANGE(fault, path);
    }
    if (edition > EDITION) {
        return vd_note_STORE_NEWER(fault, path);
    }
    if (edition == EDITION && !is_as_made(store)) {
        return vd_note_STORE_ALTERED(fault, path);
    }
    return VD_OK;
}
