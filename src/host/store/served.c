/* SPDX-License-Identifier: MIT
 * Where units were met last. */
#include "parts.h"

#include <jansson.h>
#include <string.h>

#include "verdite/host.h"

#define MOST_BYTES (1u << 20) /* of the file of an older Verdite */

static void put(vd_store_file *store, const vd_served *served)
{
    char framing[] = {(char)('0' + served->line.data_bits), served->line.parity, (char)('0' + served->line.stop_bits),
                      '\0'};
    /* A new row, so that the number of the row says which was last, whatever the clock says. */
    store_do(store, "DELETE FROM served WHERE adapter = ? AND port = ? AND model = ?", "ttt", served->adapter,
             served->port, served->model);
    store_do(store, "INSERT INTO served (adapter, port, model, baud, framing, address) VALUES (?, ?, ?, ?, ?, ?)",
             "tttntn", served->adapter, served->port, served->model, (gint64)served->line.baud, framing,
             (gint64)served->address);
}

void vd_served_remember(vd_store_file *store, const vd_served *served)
{
    if (store != NULL && store_do(store, "BEGIN IMMEDIATE", "")) {
        put(store, served);
        store_do(store, "COMMIT", "");
    }
}

bool vd_served_recall(vd_store_file *store, const char *model, const char *adapter, vd_served *served)
{
    sqlite3_stmt *row =
        store != NULL
            ? store_ask(store,
                        "SELECT port, adapter, model, baud, framing, address FROM served WHERE"
                        " (?1 = '' OR model = ?1) AND (?3 = 0 OR adapter = ?2) ORDER BY id DESC LIMIT 1",
                        "ttn", model != NULL ? model : "", adapter != NULL ? adapter : "", (gint64)(adapter != NULL))
            : NULL;
    bool found = row != NULL && store_step(row) == SQLITE_ROW;
    if (found) {
        char framing[8];
        gint64 baud = sqlite3_column_int64(row, 3), address = sqlite3_column_int64(row, 5);
        found = store_text(row, 0, served->port, sizeof served->port) &&
                store_text(row, 1, served->adapter, sizeof served->adapter) &&
                store_text(row, 2, served->model, sizeof served->model) &&
                store_text(row, 4, framing, sizeof framing) && vd_framing_parse(framing, &served->line) && baud >= 50 &&
                baud <= 4000000 && address >= 0 && address <= 247;
        served->line.baud = (uint32_t)baud;
        served->address = (uint8_t)address;
    }
    sqlite3_finalize(row);
    return found;
}

size_t vd_served_addresses(vd_store_file *store, const char *adapter, uint8_t *addresses, size_t size)
{
    size_t count = 0;
    sqlite3_stmt *row = store != NULL && adapter[0] != '\0'
                            ? store_ask(store,
                                        "SELECT DISTINCT at_address FROM visit WHERE (adapter = ?1 OR port = ?1)"
                                        " AND at_address BETWEEN 1 AND 247 ORDER BY at_address",
                                        "t", adapter)
                            : NULL;
    while (row != NULL && count < size && store_step(row) == SQLITE_ROW) {
        addresses[count++] = (uint8_t)sqlite3_column_int64(row, 0);
    }
    sqlite3_finalize(row);
    return count;
}

static bool take(json_t *entry, vd_served *served)
{
    const char *port = json_string_value(json_object_get(entry, "port"));
    const char *adapter = json_string_value(json_object_get(entry, "adapter"));
    const char *model = json_string_value(json_object_get(entry, "model"));
    const char *framing = json_string_value(json_object_get(entry, "framing"));
    json_int_t baud = json_integer_value(json_object_get(entry, "baud"));
    json_int_t address = json_integer_value(json_object_get(entry, "address"));
    if (port == NULL || adapter == NULL || model == NULL || framing == NULL || baud < 50 || baud > 4000000 ||
        address < 0 || address > 247 || !vd_framing_parse(framing, &served->line)) {
        return false;
    }
    g_strlcpy(served->port, port, sizeof served->port);
    g_strlcpy(served->adapter, adapter, sizeof served->adapter);
    g_strlcpy(served->model, model, sizeof served->model);
    served->line.baud = (uint32_t)baud;
    served->address = (uint8_t)address;
    return true;
}

/* A list in JSON, the newest first. */
void served_take_over(vd_store_file *store)
{
    char *path = vd_state_path("served.json"), *text = NULL;
    size_t length = 0;
    if (vd_file_read(path, MOST_BYTES, &text, &length, NULL) == VD_OK) {
        json_t *entries = json_loadb(text, length, 0, NULL);
        for (size_t i = json_array_size(entries); i-- > 0;) {
            vd_served served;
            if (take(json_array_get(entries, i), &served)) {
                put(store, &served);
            }
        }
        json_decref(entries);
    }
    g_free(text);
    g_free(path);
}
