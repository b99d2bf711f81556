/* SPDX-License-Identifier: MIT
 * The store as a file: judged before anything is written, opened, made, set aside. */
#include "parts.h"

#include <errno.h>
#include <glib/gstdio.h>
#include <string.h>
#include <sys/stat.h>

#include "verdite/host.h"

#define PATIENCE 5000 /* milliseconds for which another program may have it */
#define MOST_MARK 256u

/* What another program may have put into the file does not run: neither a trigger, nor a view. */
static void disarm(sqlite3 *database)
{
    sqlite3_db_config(database, SQLITE_DBCONFIG_ENABLE_TRIGGER, 0, NULL);
    sqlite3_db_config(database, SQLITE_DBCONFIG_ENABLE_VIEW, 0, NULL);
    sqlite3_db_config(database, SQLITE_DBCONFIG_DEFENSIVE, 1, NULL);
    sqlite3_db_config(database, SQLITE_DBCONFIG_TRUSTED_SCHEMA, 0, NULL);
}

static bool open_file(vd_store_file *store, const char *path, int ways)
{
    bool fine = sqlite3_open_v2(path, &store->database, ways, NULL) == SQLITE_OK;
    if (store->database != NULL) {
        disarm(store->database);
        sqlite3_busy_timeout(store->database, PATIENCE);
    }
    return fine;
}

/* ---- What was written ahead ---- */

/* What was written ahead stands in a file beside, and a database that is copied over another one would take that one's
 * for its own. So a third file says whose it is. */
static char *beside(const char *path, const char *end)
{
    return g_strconcat(path, end, NULL);
}

/* Who the file itself says it is, without what was written ahead; NULL: it does not say. Free it. */
static char *mark_of(const char *path)
{
    vd_store_file store = {.database = NULL};
    char *escaped = g_uri_escape_string(path, "/", FALSE), *mark = NULL;
    char *uri = g_strdup_printf("file:%s?immutable=1", escaped);
    sqlite3_stmt *row = open_file(&store, uri, SQLITE_OPEN_READONLY | SQLITE_OPEN_URI)
                            ? store_ask(&store, "SELECT mark FROM owner", "")
                            : NULL;
    char text[64];
    if (row != NULL && store_step(row) == SQLITE_ROW && store_text(row, 0, text, sizeof text)) {
        mark = g_strdup(text);
    }
    sqlite3_finalize(row);
    sqlite3_close(store.database);
    g_free(uri);
    g_free(escaped);
    return mark;
}

static bool is_empty(const char *path)
{
    struct stat about;
    return stat(path, &about) != 0 || about.st_size == 0;
}

/* What was written ahead of another file is set aside. */
static void part_from_strangers(const char *path)
{
    char *ahead = beside(path, "-wal"), *shared = beside(path, "-shm"), *says = beside(path, "-mark");
    char *whose = NULL, *mark = NULL;
    size_t length = 0;
    if (!is_empty(ahead) && vd_file_read(says, MOST_MARK, &whose, &length, NULL) == VD_OK &&
        (mark = mark_of(path)) != NULL && strcmp(whose, mark) != 0) {
        char *aside = beside(path, ".another-wal");
        g_rename(ahead, aside);
        g_unlink(shared);
        g_free(aside);
    }
    g_free(mark);
    g_free(whose);
    g_free(says);
    g_free(shared);
    g_free(ahead);
}

static void say_whose(const char *path)
{
    char *says = beside(path, "-mark"), *said = NULL, *mark = mark_of(path);
    size_t length = 0;
    if (mark != NULL && (vd_file_read(says, MOST_MARK, &said, &length, NULL) != VD_OK || strcmp(said, mark) != 0)) {
        vd_file_save(says, &(vd_file_text){mark, strlen(mark), true}, NULL);
    }
    g_free(said);
    g_free(mark);
    g_free(says);
}

/* ---- Opening ---- */

/* Whether it may be worked with, as far as that can be seen without writing a byte. */
static vd_status look_first(const char *path, vd_fault *fault)
{
    vd_store_file look = {.database = NULL};
    bool older = false;
    vd_status status = VD_OK;
    if (!open_file(&look, path, SQLITE_OPEN_READONLY)) {
        status = vd_note_STORE_SHUT(fault, store_why(look.database));
    } else {
        status = schema_judge(&look, path, &older, fault);
    }
    sqlite3_close(look.database);
    return status;
}

static vd_status work_with(vd_store_file *store, const char *path, vd_fault *fault)
{
    bool older = false;
    if (!open_file(store, path, SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE)) {
        return vd_note_STORE_SHUT(fault, store_why(store->database));
    }
    if (sqlite3_db_readonly(store->database, "main") == 1) {
        return vd_note_STORE_SHUT(fault, "it is read-only");
    }
    /* Without these two a loss of power could take what was said to be kept. */
    store_do(store, "PRAGMA journal_mode = WAL", "");
    store_do(store, "PRAGMA synchronous = FULL", "");
    store_do(store, "PRAGMA wal_autocheckpoint = 0", ""); /* a visit does not wait for it: see vd_store_close() */
    vd_status status = schema_judge(store, path, &older, fault);
    if (status == VD_OK && older) {
        status = schema_renew(store, fault) ? VD_OK : VD_STORE_SHUT;
        store_do(store, "PRAGMA wal_checkpoint(TRUNCATE)", ""); /* so that the file itself says whose it is */
    }
    return status;
}

static vd_store_file *try_open(const char *path, vd_fault *fault)
{
    vd_store_file *store = g_new0(vd_store_file, 1);
    char *folder = g_path_get_dirname(path);
    vd_status status = VD_OK;
    bool is_new = !g_file_test(path, G_FILE_TEST_EXISTS);
    if (!is_new && !g_file_test(path, G_FILE_TEST_IS_REGULAR)) {
        status = vd_note_STORE_SHUT(fault, "it is not an ordinary file");
    } else if (is_new && g_mkdir_with_parents(folder, 0700) != 0) {
        status = vd_note_STORE_SHUT(fault, g_strerror(errno));
    } else if (!is_new) {
        part_from_strangers(path);
        status = look_first(path, fault);
    }
    status = status == VD_OK ? work_with(store, path, fault) : status;
    g_free(folder);
    if (status != VD_OK) {
        vd_store_close(store);
        return NULL;
    }
    if (is_new) {
        g_chmod(path, 0600);
    }
    say_whose(path);
    return store;
}

/* Whatever is beside the file belongs to it. */
static char *put_aside(const char *path)
{
    static const char *const parts[] = {"", "-wal", "-shm", "-mark"};
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

char *vd_store_usual_path(void)
{
    const char *named = g_getenv("VERDITE_STORE");
    return named != NULL && named[0] != '\0' ? g_strdup(named)
                                             : g_build_filename(g_get_user_data_dir(), "verdite", "store.db", NULL);
}

vd_store_file *vd_store_open(const char *path, char **set_aside, vd_fault *fault)
{
    vd_fault own = {0};
    char *usual = path == NULL ? vd_store_usual_path() : NULL;
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
