/* SPDX-License-Identifier: MIT
 * The store as a file: opened, made, judged, set aside. */
#include "store_parts.h"

#include <errno.h>
#include <glib/gstdio.h>
#include <string.h>

#include "verdite/host.h"

#define OURS 0x56447374 /* what says in the file whose it is */
#define EDITION 3
#define PATIENCE 5000 /* milliseconds for which another program may have it */

/* Each edition is made from the one before; a new store goes through all. */
static const char *const editions[EDITION] = {
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
    "ALTER TABLE visit ADD COLUMN line TEXT NOT NULL DEFAULT '';"};

static bool run(vd_store_file *store, const char *sql)
{
    return sqlite3_exec(store->database, sql, NULL, NULL, NULL) == SQLITE_OK;
}

/* Brings the store to this edition, in one piece: of several programs that find an older one, one does. */
static bool renew(vd_store_file *store, vd_fault *fault)
{
    if (!store_do(store, "BEGIN IMMEDIATE", "")) {
        vd_note_STORE_SHUT(fault, sqlite3_errmsg(store->database));
        return false;
    }
    gint64 edition = store_number(store, "PRAGMA user_version", "");
    bool fine = edition >= 0, is_new = edition == 0, had_visits = edition >= 2;
    for (; fine && edition < EDITION; edition++) {
        fine = run(store, editions[edition]);
    }
    char *mark = g_strdup_printf("PRAGMA application_id = %d; PRAGMA user_version = %d", OURS, EDITION);
    fine = fine && run(store, mark);
    g_free(mark);
    if (fine && is_new) {
        served_take_over(store);
        proved_take_over(store);
    }
    if (fine && !had_visits) {
        kept_take_over(store);
    }
    fine = fine && store_do(store, "COMMIT", "");
    if (!fine) {
        vd_note_STORE_SHUT(fault, sqlite3_errmsg(store->database));
        store_do(store, "ROLLBACK", "");
    }
    return fine;
}

/* What is there, and whether it can be worked with. */
static vd_status judge(vd_store_file *store, const char *path, vd_fault *fault)
{
    gint64 edition = store_number(store, "PRAGMA user_version", ""),
           whose = store_number(store, "PRAGMA application_id", "");
    gint64 tables = store_number(store, "SELECT count(*) FROM sqlite_schema", "");
    int why = sqlite3_errcode(store->database);
    if (why == SQLITE_CORRUPT || why == SQLITE_NOTADB) {
        return vd_note_STORE_DAMAGED(fault, path);
    }
    if (edition < 0 || whose < 0 || tables < 0) {
        return vd_note_STORE_SHUT(fault, sqlite3_errmsg(store->database));
    }
    if (whose != OURS && (tables > 0 || edition != 0)) {
        return vd_note_STORE_STRANGE(fault, path);
    }
    if (edition > EDITION) {
        return vd_note_STORE_NEWER(fault, path);
    }
    if (edition < EDITION && !renew(store, fault)) {
        return VD_STORE_SHUT;
    }
    return VD_OK;
}

static vd_store_file *try_open(const char *path, vd_fault *fault)
{
    vd_store_file *store = g_new0(vd_store_file, 1);
    char *folder = g_path_get_dirname(path);
    vd_status status = VD_OK;
    bool is_new = !g_file_test(path, G_FILE_TEST_EXISTS);
    if (!is_new && !g_file_test(path, G_FILE_TEST_IS_REGULAR)) {
        status = vd_note_STORE_SHUT(fault, "it is no ordinary file");
    } else if (g_mkdir_with_parents(folder, 0700) != 0) {
        status = vd_note_STORE_SHUT(fault, g_strerror(errno));
    } else if (sqlite3_open_v2(path, &store->database, SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE, NULL) != SQLITE_OK) {
        status = vd_note_STORE_SHUT(fault, sqlite3_errmsg(store->database));
    } else {
        sqlite3_busy_timeout(store->database, PATIENCE);
        /* Without these two a loss of power could take what was said to be kept. */
        store_do(store, "PRAGMA journal_mode = WAL", "");
        store_do(store, "PRAGMA synchronous = FULL", "");
        store_do(store, "PRAGMA wal_autocheckpoint = 0", ""); /* a visit does not wait for it: see vd_store_close() */
        status = judge(store, path, fault);
    }
    g_free(folder);
    if (status != VD_OK) {
        vd_store_close(store);
        return NULL;
    }
    if (is_new) {
        g_chmod(path, 0600);
    }
    return store;
}

/* Whatever is beside the file belongs to it. */
static char *put_aside(const char *path)
{
    static const char *const parts[] = {"", "-wal", "-shm"};
    char *aside = g_strconcat(path, ".damaged", NULL);
    bool moved = true;
    for (size_t i = 0; i < G_N_ELEMENTS(parts); i++) {
        char *from = g_strconcat(path, parts[i], NULL), *to = g_strconcat(aside, parts[i], NULL);
        moved = (g_rename(from, to) == 0 || i > 0) && moved;
        g_free(from);
        g_free(to);
    }
    if (!moved) {
        g_clear_pointer(&aside, g_free);
    }
    return aside;
}

static char *usual_path(void)
{
    const char *named = g_getenv("VERDITE_STORE");
    return named != NULL && named[0] != '\0' ? g_strdup(named)
                                             : g_build_filename(g_get_user_data_dir(), "verdite", "store.db", NULL);
}

vd_store_file *vd_store_open(const char *path, char **set_aside, vd_fault *fault)
{
    vd_fault own = {0};
    char *usual = path == NULL ? usual_path() : NULL;
    const char *place = path != NULL ? path : usual;
    vd_store_file *store = NULL;
    *set_aside = NULL;
    if (strcmp(place, "off") != 0) {
        int lock = vd_state_lock(); /* of several programs, one makes it, or sets it aside */
        store = try_open(place, &own);
        if (own.status == VD_STORE_DAMAGED && (*set_aside = put_aside(place)) != NULL) {
            own = (vd_fault){0};
            store = try_open(place, &own);
        }
        vd_state_unlock(lock);
    }
    if (fault != NULL && fault->status == VD_OK) {
        *fault = own;
    }
    g_free(usual);
    return store;
}

void vd_store_close(vd_store_file *store)
{
    if (store != NULL) {
        if (store->database != NULL) {
            store_do(store, "PRAGMA wal_checkpoint(PASSIVE)", "");
        }
        sqlite3_close(store->database);
        g_free(store);
    }
}
