/* SPDX-License-Identifier: MIT
 * Which files were read from which units, so that one that was edited and never sent is not forgotten. */
#include "parts.h"

void vd_saved_remember(vd_store_file *store, const vd_saved *saved)
{
    if (store != NULL) {
        store_do(store, "INSERT OR REPLACE INTO saved (path, model, serial, print) VALUES (?, ?, ?, ?)", "tttt",
                 saved->path, saved->model, saved->serial, saved->print);
    }
}

size_t vd_saved_of(vd_store_file *store, const char *model, const char *serial, vd_saved *saved, size_t most)
{
    size_t count = 0;
    sqlite3_stmt *row = store != NULL
                            ? store_ask(store,
                                        "SELECT path, model, serial, print FROM saved WHERE (?1 = '' OR model = ?1)"
                                        " AND (?2 = '' OR serial = ?2) ORDER BY rowid DESC",
                                        "tt", model != NULL ? model : "", serial != NULL ? serial : "")
                            : NULL;
    while (row != NULL && count < most && store_step(row) == SQLITE_ROW) {
        vd_saved *one = &saved[count];
        count += store_text(row, 0, one->path, sizeof one->path) && store_text(row, 1, one->model, sizeof one->model) &&
                 store_text(row, 2, one->serial, sizeof one->serial) &&
                 store_text(row, 3, one->print, sizeof one->print);
    }
    sqlite3_finalize(row);
    return count;
}
