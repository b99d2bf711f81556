/* SPDX-License-Identifier: MIT
 * Visits as the store keeps them: what is begun is there after a crash, what was cut off is open until a later visit
 * settles it, and an older store becomes a newer one. */
#include "fixtures.h"

#include <glib/gstdio.h>
#include <sqlite3.h>
#include <stdlib.h>
#include <string.h>

#include "verdite/history.h"

static char *work;

static vd_store_file *opened(const char *name)
{
    char *aside = NULL, *path = g_build_filename(work, name, NULL);
    vd_fault fault = {0};
    vd_store_file *store = vd_store_open(path, &aside, &fault);
    assert_non_null(store);
    assert_null(aside);
    assert_int_equal(fault.status, VD_OK);
    g_free(path);
    return store;
}

static void command(const char *name, const char *sql)
{
    sqlite3 *database = NULL;
    char *path = g_build_filename(work, name, NULL);
    assert_int_equal(sqlite3_open(path, &database), SQLITE_OK);
    assert_int_equal(sqlite3_exec(database, sql, NULL, NULL, NULL), SQLITE_OK);
    sqlite3_close(database);
    g_free(path);
}

/* A visit that wants these written; it waits for its first record to be kept. */
static void begin_write(rig *r, const char *const pairs[][2], size_t count)
{
    vd_set target = new_set(dowel());
    for (size_t i = 0; i < count; i++) {
        put(&target, pairs[i][0], pairs[i][1]);
    }
    vd_visit_write(r->visit, vd_sim_now(r->sim), &target, NULL);
    free(target.memory);
    for (vd_wants wants = {.done = false}; !wants.keep; vd_loop_wants(&r->loop, 0, &wants)) {
        if (wants.question == VD_ASK_WRITE) {
            vd_loop_feed(&r->loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = true});
        } else {
            vd_loop_step(&r->loop, VD_NEVER);
        }
    }
}

static int64_t begun(vd_store_file *store, const rig *r, int64_t now)
{
    const vd_occasion occasion = {
        .port = "rig", .adapter = "rig", .who = "fitter", .remark = "before the move", .now = now};
    int64_t id = 0;
    vd_fault fault = {0};
    assert_int_equal(vd_history_begin(store, r->visit, &occasion, &id, &fault), VD_OK);
    assert_true(id > 0);
    return id;
}

static size_t count_open(vd_store_file *store)
{
    vd_past past[8];
    const vd_past_query query = {.open = true};
    return vd_history_find(store, &query, past, G_N_ELEMENTS(past));
}

static const char *const changes[][2] = {
    {"weight.low-limit", "20 kg"}, {"unit.name", "Ling \"2\""}, {"unit.panel-code", "4711"}};

static void test_what_was_cut_off_is_there(void **state)
{
    (void)state;
    rig r;
    vd_past past;
    uint16_t *about = calloc(dowel()->setting_count, sizeof *about);
    rig_prepare(&r, dowel());
    rig_start(&r);
    begin_write(&r, changes, G_N_ELEMENTS(changes));
    vd_store_file *store = opened("cut.db");
    int64_t id = begun(store, &r, 1000);
    vd_store_close(store); /* and nothing more comes */
    store = opened("cut.db");
    const vd_past_query query = {.model = "dowel", .serial = "S-1", .open = true};
    assert_int_equal(vd_history_find(store, &query, &past, 1), 1);
    assert_int_equal(past.id, id);
    assert_int_equal(past.ended, 0);
    assert_int_equal(past.changes, 3);
    assert_string_equal(past.step, "keep");
    assert_string_equal(past.remark, "before the move");
    assert_int_equal(past.from.address, 247);
    assert_int_equal(strlen(past.mark), 32);
    vd_set before = new_set(dowel()), wanted = new_set(dowel()), after = new_set(dowel());
    assert_int_equal(vd_history_values(store, id, &before, &wanted, &after, about), 0);
    assert_string_equal(said(&before, "weight.low-limit"), "18.0 kg");
    assert_string_equal(said(&before, "unit.name"), "");
    assert_true(vd_set_knows(&before, vd_model_find(dowel(), "unit.name")));
    assert_string_equal(said(&wanted, "weight.low-limit"), "20 kg");
    assert_string_equal(said(&wanted, "unit.name"), "Ling \"2\"");
    uint16_t code = vd_model_find(dowel(), "unit.panel-code");
    assert_false(vd_set_knows(&wanted, code)); /* of a secret, only that there was one */
    assert_int_equal(about[code] & (VD_PAST_SECRET | VD_PAST_ASKED), VD_PAST_SECRET | VD_PAST_ASKED);
    free(before.memory);
    free(wanted.memory);
    free(after.memory);
    free(about);
    vd_store_close(store);
    rig_end(&r);
}

/* What one visit leaves open, the next one to the same unit that ends well settles; one to another unit does not. */
static void test_what_is_open_is_settled(void **state)
{
    (void)state;
    vd_store_file *store = opened("settled.db");
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    begin_write(&r, changes, 2);
    begun(store, &r, 2000);
    assert_int_equal(count_open(store), 1);
    int64_t id = begun(store, &r, 1000); /* the clock was set back meanwhile; and it is the same once more */
    rig_run(&r);
    assert_int_equal(vd_history_end(store, id, r.visit, 1500, NULL), VD_OK);
    assert_int_equal(count_open(store), 0);
    vd_past past[2];
    const vd_past_query all = {.id = 0};
    assert_int_equal(vd_history_find(store, &all, past, 2), 2);
    assert_int_equal(past[0].id, id); /* whatever the clock says */
    assert_string_equal(past[0].outcome, "verified");
    assert_string_not_equal(past[0].mark, past[1].mark);
    vd_past_value values[4];
    assert_int_equal(vd_history_of_setting(store, "dowel", "S-1", "weight.low-limit", values, 4), 2);
    assert_string_equal(values[0].value, "20.0 kg");
    assert_string_equal(values[1].value, "18.0 kg");
    vd_store_close(store);
    rig_end(&r);
}

/* One that ends well says nothing of what was begun after it, by another computer say. */
static void test_what_was_begun_later_stays_open(void **state)
{
    (void)state;
    vd_store_file *store = opened("later.db");
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    begin_write(&r, changes, 2);
    int64_t id = begun(store, &r, 1000), later = begun(store, &r, 2000);
    rig_run(&r);
    assert_int_equal(vd_history_end(store, id, r.visit, 3000, NULL), VD_OK);
    vd_past past[2];
    const vd_past_query open = {.open = true};
    assert_int_equal(vd_history_find(store, &open, past, 2), 1);
    assert_int_equal(past[0].id, later);
    vd_store_close(store);
    rig_end(&r);
}

/* A store that an earlier Verdite made goes on; what it remembered stays. */
static void test_an_older_store_is_renewed(void **state)
{
    (void)state;
    command("older.db",
            "CREATE TABLE served (id INTEGER PRIMARY KEY AUTOINCREMENT, adapter TEXT NOT NULL, port TEXT NOT NULL,"
            " model TEXT NOT NULL, baud INTEGER NOT NULL, framing TEXT NOT NULL, address INTEGER NOT NULL,"
            " UNIQUE (adapter, port, model));"
            "CREATE TABLE proved (model TEXT NOT NULL, serial TEXT NOT NULL, at INTEGER NOT NULL, ran INTEGER NOT NULL,"
            " print TEXT NOT NULL, PRIMARY KEY (model, serial)) WITHOUT ROWID;"
            "INSERT INTO served VALUES (1, 'a', 'p', 'dowel', 19200, '8E1', 7);"
            "PRAGMA application_id = 1447326580; PRAGMA user_version = 1;");
    vd_store_file *store = opened("older.db");
    vd_served served;
    assert_true(vd_served_recall(store, "dowel", NULL, &served));
    assert_int_equal(served.address, 7);
    assert_int_equal(count_open(store), 0);
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    begin_write(&r, changes, 1);
    begun(store, &r, 1);
    assert_int_equal(count_open(store), 1);
    vd_store_close(store);
    static const char back_to_3[] =
        "DROP TABLE saved; DROP INDEX visit_of_code; ALTER TABLE visit DROP COLUMN code; DROP TABLE owner; "
        "DROP INDEX visit_of_other; ALTER TABLE visit DROP COLUMN leg; "
        "ALTER TABLE visit DROP COLUMN other;"
        "ALTER TABLE visit DROP COLUMN at_address; PRAGMA user_version = 3;";
    command("older.db", back_to_3);
    vd_store_close(opened("older.db"));
    /* Serial numbers were cut at 31 characters then: what has just so many may be several units. */
    command("older.db", back_to_3);
    command("older.db", "UPDATE unit SET serial = 'f81d4fae-7dec-11d0-a765-00a0c91'");
    command("older.db", "ALTER TABLE visit DROP COLUMN line; PRAGMA user_version = 2;");
    store = opened("older.db");
    assert_int_equal(count_open(store), 1);
    vd_past past;
    const vd_past_query cut = {.serial = "f81d4fae-7dec-11d0-a765-00a0c91"}, all = {.id = 0};
    assert_int_equal(vd_history_find(store, &cut, &past, 1), 0);
    assert_int_equal(vd_history_find(store, &all, &past, 1), 1);
    assert_string_equal(past.unit.serial, "f81d4fae-7dec-11d0-a765-00a0c91 (cut)");
    vd_store_close(store);
    rig_end(&r);
}

/* A text that is longer than what is read again is cut, between two characters; the visit is not lost for it. */
static void test_long_texts_are_cut(void **state)
{
    (void)state;
    vd_store_file *store = opened("long.db");
    rig r;
    vd_past past;
    vd_fault fault = {0};
    int64_t id = 0;
    const vd_past_query query = {.open = true};
    GString *many = g_string_new("x");
    for (int i = 0; i < 400; i++) {
        g_string_append(many, "ä");
    }
    const vd_occasion occasion = {.task = many->str,
                                  .port = many->str,
                                  .adapter = many->str,
                                  .who = many->str,
                                  .remark = many->str,
                                  .line = many->str,
                                  .now = 1};
    rig_prepare(&r, dowel());
    rig_start(&r);
    begin_write(&r, changes, 1);
    assert_int_equal(vd_history_begin(store, r.visit, &occasion, &id, &fault), VD_OK);
    assert_int_equal(vd_history_find(store, &query, &past, 1), 1);
    const char *const texts[] = {past.task, past.port, past.adapter, past.who, past.remark, past.line};
    for (size_t i = 0; i < G_N_ELEMENTS(texts); i++) {
        assert_true(strlen(texts[i]) > 60 && g_utf8_validate(texts[i], -1, NULL));
        assert_true(g_str_has_prefix(many->str, texts[i]));
    }
    g_string_free(many, TRUE);
    vd_store_close(store);
    rig_end(&r);
}

/* Rows that another hand has spoilt are passed over, or say less; nothing of them gets through. */
static void test_rows_that_are_no_good(void **state)
{
    static const char *const spoils[] = {"UPDATE visit SET framing = '9X9'",
                                         "UPDATE visit SET address = 300",
                                         "UPDATE visit SET baud = 1",
                                         "UPDATE visit SET port = char(27) || '[2J'",
                                         "UPDATE unit SET serial = 'x' || char(10)",
                                         "UPDATE visit SET mark = hex(randomblob(99))",
                                         "DELETE FROM unit"};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(spoils); i++) {
        char *name = g_strdup_printf("spoilt-%zu.db", i);
        vd_store_file *store = opened(name);
        rig r;
        rig_prepare(&r, dowel());
        rig_start(&r);
        begin_write(&r, changes, 2);
        int64_t id = begun(store, &r, 1);
        vd_store_close(store);
        command(name, spoils[i]);
        store = opened(name);
        assert_int_equal(count_open(store), 0);
        vd_store_close(store);
        command(name, "UPDATE held SET before = char(7), wanted = 'no value', bits = -1");
        store = opened(name);
        vd_set before = new_set(dowel()), wanted = new_set(dowel());
        assert_true(vd_history_values(store, id, &before, &wanted, NULL, NULL) > 20);
        assert_false(vd_set_knows(&before, vd_model_find(dowel(), "weight.low-limit")));
        free(before.memory);
        free(wanted.memory);
        vd_store_close(store);
        rig_end(&r);
        g_free(name);
    }
}

static int64_t counted(const char *name, const char *sql)
{
    sqlite3 *database = NULL;
    sqlite3_stmt *row = NULL;
    char *path = g_build_filename(work, name, NULL);
    assert_int_equal(sqlite3_open(path, &database), SQLITE_OK);
    assert_int_equal(sqlite3_prepare_v2(database, sql, -1, &row, NULL), SQLITE_OK);
    assert_int_equal(sqlite3_step(row), SQLITE_ROW);
    int64_t number = sqlite3_column_int64(row, 0);
    sqlite3_finalize(row);
    sqlite3_close(database);
    g_free(path);
    return number;
}

/* What is kept of a visit is what there is to know, once: no rows of nothing, and of a verification nothing twice. */
static void test_what_is_kept(void **state)
{
    vd_store_file *store = opened("kept.db");
    vd_set before = new_set(dowel()), wanted = new_set(dowel()), target = new_set(dowel());
    uint16_t name = vd_model_find(dowel(), "unit.name"), light = vd_model_find(dowel(), "unit.light");
    rig r;
    (void)state;
    rig_prepare(&r, dowel());
    rig_start(&r);
    put(&target, "unit.light", "low");
    put(&target, "unit.averaging", "4 s");
    vd_visit_verify(r.visit, vd_sim_now(r.sim), &target, NULL);
    assert_int_equal(rig_run(&r), VD_OK);
    int64_t id = begun(store, &r, 1);
    assert_int_equal(vd_history_values(store, id, &before, &wanted, NULL, NULL), 0);
    assert_true(vd_set_knows(&before, light));
    assert_false(vd_set_knows(&wanted, light)); /* it is as it was to be */
    assert_string_equal(said(&wanted, "unit.averaging"), "4 s");
    assert_int_equal(counted("kept.db", "SELECT count(*) FROM held WHERE before IS NULL AND wanted IS NULL"), 0);
    rig_read(&r);
    id = begun(store, &r, 2);
    assert_int_equal(counted("kept.db", "SELECT count(*) FROM held WHERE before IS NULL AND wanted IS NULL"), 0);
    assert_int_equal(vd_history_values(store, id, &before, NULL, NULL, NULL), 0);
    assert_true(vd_set_knows(&before, name)); /* an empty text is a value */
    assert_int_equal(vd_set_get(&before, name).length, 0);
    rig_end(&r);
    vd_store_close(store);
    free(before.memory);
    free(wanted.memory);
    free(target.memory);
}

/* What no two may have: the second is told of the first, not of itself, and not of what is like in nothing. */
static void test_what_another_has(void **state)
{
    static vd_setting settings[64];
    static vd_model model;
    uint16_t name = vd_model_find(dowel(), "unit.name");
    vd_store_file *store = opened("alike.db");
    (void)state;
    model = *dowel();
    memcpy(settings, model.settings, model.setting_count * sizeof settings[0]);
    settings[name].among = VD_AMONG_UNIQUE;
    model.settings = settings;
    static const struct {
        const char *serial, *called;
        bool alike;
    } visits[] = {
        {"S-1", "Ling 2", false}, {"S-1", "Ling 2", false}, {"S-2", "Ling 3", false}, {"S-3", "Ling 2", true}};
    for (size_t i = 0; i < G_N_ELEMENTS(visits); i++) {
        rig r;
        vd_past other;
        vd_set target = new_set(&model);
        vd_fault fault = {0};
        rig_prepare(&r, &model);
        g_strlcpy(r.units[0].identity.serial, visits[i].serial, sizeof r.units[0].identity.serial);
        rig_start(&r);
        put(&target, "unit.name", visits[i].called);
        vd_visit_write(r.visit, vd_sim_now(r.sim), &target, NULL);
        r.refuse_question = visits[i].alike;
        rig_run(&r);
        assert_int_equal(vd_history_alike(store, r.visit, name, &other), visits[i].alike);
        if (visits[i].alike) {
            assert_string_equal(other.unit.serial, "S-1");
        }
        int64_t id = begun(store, &r, (int64_t)i + 1);
        assert_int_equal(vd_history_end(store, id, r.visit, (int64_t)i + 2, &fault), VD_OK);
        free(target.memory);
        rig_end(&r);
    }
    vd_store_close(store);
}

static int make_folder(void **state)
{
    (void)state;
    work = g_dir_make_tmp("verdite-XXXXXX", NULL);
    g_setenv("XDG_STATE_HOME", work, TRUE);
    return work != NULL ? 0 : -1;
}

static int remove_folder(void **state)
{
    char *command_line = g_strdup_printf("rm -rf '%s'", work);
    (void)state;
    int status = system(command_line);
    g_free(command_line);
    g_free(work);
    return status;
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_what_was_cut_off_is_there),
                                       cmocka_unit_test(test_what_is_open_is_settled),
                                       cmocka_unit_test(test_what_was_begun_later_stays_open),
                                       cmocka_unit_test(test_an_older_store_is_renewed),
                                       cmocka_unit_test(test_long_texts_are_cut),
                                       cmocka_unit_test(test_rows_that_are_no_good),
                                       cmocka_unit_test(test_what_is_kept),
                                       cmocka_unit_test(test_what_another_has)};
    return cmocka_run_group_tests(tests, make_folder, remove_folder);
}
