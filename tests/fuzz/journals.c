/* SPDX-License-Identifier: MIT
 * Rows of visits that another hand has written: what comes out of them can be shown, and what goes into a set is a
 * value that is printed and read again as the same. */
#include "input.h"

#include <sqlite3.h>

#include "verdite/history.h"

static sqlite3 *database;
static vd_store_file *store;

static void open_both(void)
{
    char *path = g_build_filename(input_folder(), "journal.db", NULL), *aside = NULL;
    store = vd_store_open(path, &aside, NULL);
    PROMISE(store != NULL, "no store");
    PROMISE(sqlite3_open(path, &database) == SQLITE_OK, "no store");
    sqlite3_exec(database, "PRAGMA synchronous = OFF", NULL, NULL, NULL);
    g_free(path);
}

static void run(const char *sql)
{
    sqlite3_exec(database, sql, NULL, NULL, NULL);
}

/* A text of the input, or a number, put where a text, or a number, belongs. */
static void bind(sqlite3_stmt *row, int column, input *f)
{
    static char texts[16][256];
    switch (input_number(f, 4)) {
    case 0: sqlite3_bind_int64(row, column, input_long(f)); break;
    case 1: sqlite3_bind_int64(row, column, input_number(f, 300)); break;
    default: {
        size_t length = input_bytes(f, (uint8_t *)texts[column % 16], sizeof texts[0]);
        sqlite3_bind_text(row, column, texts[column % 16], (int)length, SQLITE_TRANSIENT);
    }
    }
}

static void put(const char *sql, int columns, input *f)
{
    sqlite3_stmt *row = NULL;
    PROMISE(sqlite3_prepare_v2(database, sql, -1, &row, NULL) == SQLITE_OK, "%s", sqlite3_errmsg(database));
    for (int i = 1; i <= columns; i++) {
        bind(row, i, f);
    }
    sqlite3_step(row);
    sqlite3_finalize(row);
}

static void judge_set(const vd_set *set)
{
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        char text[600], again[600];
        vd_typed typed;
        if (!vd_set_knows(set, i)) {
            continue;
        }
        vd_writer writer = vd_writer_start(text, sizeof text), second = vd_writer_start(again, sizeof again);
        vd_value value = vd_set_get(set, i);
        vd_value_print(&set->model->settings[i], &value, &writer);
        PROMISE(input_is_plain(text), "a value that cannot be shown");
        if (text[0] == '\0') {
            continue;
        }
        PROMISE(vd_setting_parse(&set->model->settings[i], text, strlen(text), &typed, NULL) == VD_OK, "%s", text);
        vd_value_print(&set->model->settings[i], &typed.value, &second);
        PROMISE(strcmp(text, again) == 0, "%s, then %s", text, again);
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static vd_past past[4];
    static vd_past_value values[4];
    input f = {bytes, count};
    const vd_model *model = input_model(input_number(&f, 2) == 0 ? "dowel" : "brock");
    if (store == NULL) {
        open_both();
    }
    run("BEGIN; DELETE FROM held; DELETE FROM visit; DELETE FROM unit; DELETE FROM setting");
    run("INSERT INTO unit VALUES (1, 'm', 'dowel', 'S-1')");
    put("UPDATE unit SET maker = ?1, model = ?2, serial = ?3", 3, &f);
    put("INSERT INTO visit (id, mark, unit, task, began, ended, step, outcome, open, of, product, firmware, port, "
        "adapter,"
        " who, remark, changes, address, baud, framing, new_address, new_baud, new_framing, line) VALUES (1, 'm', 1, "
        "?1, ?2, "
        "?3,"
        " ?4, ?5, ?6, 0, ?7, ?8, ?9, 'a', 'w', ?10, 3, 5, 9600, '8E1', 5, 9600, '8E1', ?11)",
        11, &f);
    for (unsigned i = 0; i < 8 && f.left > 0; i++) {
        char *sql = g_strdup_printf("INSERT OR IGNORE INTO setting VALUES (%u, '%s')", i,
                                    model->settings[input_number(&f, model->setting_count)].words->key);
        run(sql);
        g_free(sql);
        sql = g_strdup_printf("INSERT INTO held VALUES (1, %u, ?1, ?2, ?3, ?4)", i);
        put(sql, 4, &f);
        g_free(sql);
    }
    run("COMMIT");
    const vd_past_query all = {.id = 0}, open = {.open = true};
    size_t found = vd_history_find(store, &all, past, G_N_ELEMENTS(past));
    PROMISE(found <= 1, "more than there are");
    for (size_t i = 0; i < found; i++) {
        PROMISE(input_is_plain(past[i].task) && input_is_plain(past[i].outcome) && input_is_plain(past[i].remark) &&
                    input_is_plain(past[i].unit.serial),
                "a text that cannot be shown");
    }
    vd_history_find(store, &open, past, G_N_ELEMENTS(past));
    vd_set sets[3] = {input_set(model), input_set(model), input_set(model)};
    vd_history_values(store, 1, &sets[0], &sets[1], &sets[2], NULL);
    for (size_t i = 0; i < 3; i++) {
        judge_set(&sets[i]);
        g_free(sets[i].memory);
    }
    size_t count_values = vd_history_of_setting(store, "dowel", "S-1", model->settings[0].words->key, values, 4);
    for (size_t i = 0; i < count_values; i++) {
        PROMISE(input_is_plain(values[i].value), "a value that cannot be shown");
    }
    return 0;
}
