/* SPDX-License-Identifier: MIT
 * States from before a write that an older Verdite kept as files: each becomes a visit, of which nothing is known but
 * what the unit held before it. */
#include "parts.h"
#include "verdite/host.h"

static bool put_values(vd_store_file *store, gint64 visit, const vd_before *state)
{
    bool fine = true;
    for (size_t i = 0; state->keys[i] != NULL && fine; i++) {
        fine = store_do(store, "INSERT OR IGNORE INTO setting (key) VALUES (?)", "t", state->keys[i]) &&
               store_do(store,
                        "INSERT OR IGNORE INTO held (visit, setting, before, bits) SELECT ?1, id, ?2, 0 FROM setting"
                        " WHERE key = ?3",
                        "ntt", visit, state->values[i], state->keys[i]);
    }
    return fine;
}

static bool put(vd_store_file *store, const vd_before *state)
{
    const vd_identity *unit = &state->unit;
    return store_do(store, "INSERT OR IGNORE INTO unit (maker, model, serial) VALUES (?, ?, ?)", "ttt", unit->maker,
                    state->model, unit->serial) &&
           store_do(store,
                    "INSERT INTO visit (mark, unit, task, began, ended, step, outcome, open, of, product, firmware,"
                    " port, adapter, who, remark, changes, address, baud, framing, new_address, new_baud, new_framing)"
                    " SELECT lower(hex(randomblob(16))), id, 'write', ?1, ?1, 'keep', 'not-known', 0, 0, ?2, ?3, '',"
                    " '', '', '', -1, 0, 0, '', 0, 0, '' FROM unit WHERE maker = ?4 AND model = ?5 AND serial = ?6",
                    "nttttt", (gint64)state->when, unit->product, unit->firmware, unit->maker, state->model,
                    unit->serial) &&
           put_values(store, sqlite3_last_insert_rowid(store->database), state);
}

/* Whole, or not at all. */
static void take(void *about, const vd_before *state)
{
    vd_store_file *store = about;
    if (store_do(store, "SAVEPOINT kept", "")) {
        if (!put(store, state)) {
            store_do(store, "ROLLBACK TO kept", "");
        }
        store_do(store, "RELEASE kept", "");
    }
}

void kept_take_over(vd_store_file *store)
{
    vd_before_each(take, store);
}
