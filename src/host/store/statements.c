/* SPDX-License-Identifier: MIT
 * Statements to the database, and what they bring back. */
#include "parts.h"

#include <errno.h>
#include <glib/gstdio.h>
#include <stdarg.h>
#include <string.h>
#include <unistd.h>

#include "verdite/text.h"

#define PAUSE 20000      /* microseconds */
#define PATIENCE 6000000 /* microseconds, in all */

/* Another program may have the file for a moment; the database waits for most of that by itself, but not while one
 * cleans up behind itself. */
static bool waits(int status, gint64 since)
{
    if ((status & 0xFF) != SQLITE_BUSY || g_get_monotonic_time() > since + PATIENCE) {
        return false;
    }
    g_usleep(PAUSE);
    return true;
}

static sqlite3_stmt *prepare(vd_store_file *store, const char *sql, const char *kinds, va_list values)
{
    sqlite3_stmt *statement = NULL;
    gint64 since = g_get_monotonic_time();
    int status = SQLITE_OK;
    do {
        status = sqlite3_prepare_v2(store->database, sql, -1, &statement, NULL);
    } while (waits(status, since));
    if (status != SQLITE_OK) {
        return NULL;
    }
    for (int i = 0; kinds[i] != '\0'; i++) {
        if (kinds[i] == 't') {
            sqlite3_bind_text(statement, i + 1, va_arg(values, const char *), -1, SQLITE_TRANSIENT);
        } else {
            sqlite3_bind_int64(statement, i + 1, va_arg(values, gint64));
        }
    }
    return statement;
}

sqlite3_stmt *store_ask(vd_store_file *store, const char *sql, const char *kinds, ...)
{
    va_list values;
    va_start(values, kinds);
    sqlite3_stmt *statement = prepare(store, sql, kinds, values);
    va_end(values);
    return statement;
}

int store_step(sqlite3_stmt *statement)
{
    gint64 since = g_get_monotonic_time();
    int status = SQLITE_OK;
    while (waits(status = sqlite3_step(statement), since)) {
        sqlite3_reset(statement);
    }
    return status;
}

const char *store_why(sqlite3 *database)
{
    const char *path = sqlite3_db_filename(database, "main");
    char *folder = g_path_get_dirname(path != NULL ? path : "");
    bool closed = path != NULL && sqlite3_errcode(database) == SQLITE_CANTOPEN && g_access(folder, W_OK) != 0;
    int reason = errno;
    g_free(folder);
    return closed ? g_strerror(reason) : sqlite3_errmsg(database);
}

bool store_do(vd_store_file *store, const char *sql, const char *kinds, ...)
{
    va_list values;
    va_start(values, kinds);
    sqlite3_stmt *statement = prepare(store, sql, kinds, values);
    va_end(values);
    int status = statement != NULL ? store_step(statement) : SQLITE_ERROR;
    bool done = status == SQLITE_DONE || status == SQLITE_ROW;
    sqlite3_finalize(statement);
    return done;
}

gint64 store_number(vd_store_file *store, const char *sql, const char *kinds, ...)
{
    va_list values;
    va_start(values, kinds);
    sqlite3_stmt *statement = prepare(store, sql, kinds, values);
    va_end(values);
    gint64 number = statement != NULL && store_step(statement) == SQLITE_ROW ? sqlite3_column_int64(statement, 0) : -1;
    sqlite3_finalize(statement);
    return number;
}

bool store_text(sqlite3_stmt *statement, int column, char *to, size_t size)
{
    const char *text = (const char *)sqlite3_column_text(statement, column);
    size_t length = text != NULL ? strlen(text) : size;
    bool fine = length < size && vd_text_line(text, length) == length;
    g_strlcpy(to, fine ? text : "", size);
    return fine;
}
