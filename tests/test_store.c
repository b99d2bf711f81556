/* SPDX-License-Identifier: MIT
 * The store: what is remembered is there again, by whoever asks; and what is no store is left alone. */
#include "fixtures.h"

#include <glib/gstdio.h>
#include <sqlite3.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

#include "verdite/history.h"
#include "verdite/store.h"

static char *work;

static char *path_of(const char *name)
{
    return g_build_filename(work, name, NULL);
}

/* Opens one that must open. */
static vd_store_file *opened(const char *path)
{
    char *aside = NULL;
    vd_fault fault = {0};
    vd_store_file *store = vd_store_open(path, &aside, &fault);
    assert_non_null(store);
    assert_null(aside);
    assert_int_equal(fault.status, VD_OK);
    return store;
}

static void command(const char *path, const char *sql)
{
    sqlite3 *database = NULL;
    assert_int_equal(sqlite3_open(path, &database), SQLITE_OK);
    assert_int_equal(sqlite3_exec(database, sql, NULL, NULL, NULL), SQLITE_OK);
    sqlite3_close(database);
}

/* An adapter is known again by who it is, whatever it is called today. */
static void test_what_served(void **state)
{
    vd_served first = {"/dev/ttyUSB0", "f055:6c01 number QA-0001", "dowel", {9600, 8, 'E', 1}, 3};
    vd_served second = {"/dev/ttyUSB1", "f055:6c01 at 1-4.1", "dowel", {19200, 8, 'N', 2}, 9}, got;
    char *path = path_of("served.db");
    (void)state;
    vd_store_file *store = opened(path);
    assert_false(vd_served_recall(store, "dowel", NULL, &got));
    vd_served_remember(store, &first);
    vd_served_remember(store, &second);
    vd_store_close(store);
    store = opened(path);
    assert_true(vd_served_recall(store, "dowel", NULL, &got));
    assert_int_equal(got.address, 9); /* the last one */
    assert_true(vd_served_recall(store, "dowel", first.adapter, &got));
    assert_string_equal(got.port, "/dev/ttyUSB0");
    assert_true(vd_serial_equal(&got.line, &first.line));
    assert_false(vd_served_recall(store, "wren", NULL, &got));
    vd_served_remember(store, &first); /* the first is the last one now */
    assert_true(vd_served_recall(store, NULL, NULL, &got));
    assert_int_equal(got.address, 3);
    g_strlcpy(first.port, "/dev/ttyUSB5", sizeof first.port);
    vd_served_remember(store, &first);
    assert_true(vd_served_recall(store, "dowel", first.adapter, &got));
    assert_string_equal(got.port, "/dev/ttyUSB5");
    assert_false(vd_served_recall(NULL, "dowel", NULL, &got)); /* without a store nothing is known */
    vd_served_remember(NULL, &first);
    /* What somebody else has written into it is judged like anything from outside. */
    command(path, "UPDATE served SET port = char(27) || '[2J' WHERE id = (SELECT max(id) FROM served)");
    assert_false(vd_served_recall(store, "dowel", first.adapter, &got));
    command(path, "UPDATE served SET port = 'x', baud = 7 WHERE id = (SELECT max(id) FROM served)");
    assert_false(vd_served_recall(store, "dowel", first.adapter, &got));
    vd_store_close(store);
    g_free(path);
}

static void test_what_was_proved(void **state)
{
    const vd_proved proved = {.when = 5000, .ran = 7000, .print = "ABCD"};
    vd_proved got;
    char *path = path_of("proved.db");
    (void)state;
    vd_store_file *store = opened(path);
    assert_false(vd_proved_recall(store, "brock", "QB-1", &got));
    vd_proved_remember(store, "brock", "QB-1", &proved);
    assert_true(vd_proved_recall(store, "brock", "QB-1", &got));
    assert_int_equal(got.when, 5000);
    assert_int_equal(got.ran, 7000);
    assert_string_equal(got.print, "ABCD");
    assert_false(vd_proved_recall(store, "brock", "QB-2", &got));
    vd_store_close(store);
    g_free(path);
}

#define STATE                                                                                                          \
    "verdite-profile: 1\nmodel: dowel\nunit:\n  maker: Quillmere\n  product: dowel\n  firmware: \"1.4\"\n"             \
    "  serial: QD-24003\nread: \"2026-05-0%dT08:00:00Z\"\nsettings:\n  unit.name: Ling %d\n%s"

/* Three states from before a write; the second was not written to its end, the third says no time. */
static void keep_states(void)
{
    static const char *const names[] = {"a.yaml", "b.yaml", "c.yaml"};
    char *folder = path_of("verdite/before");
    g_mkdir(folder, 0700);
    for (int i = 0; i < 3; i++) {
        char *path = g_build_filename(folder, names[i], NULL);
        char *text = g_strdup_printf(STATE, i == 2 ? 99 : i + 1, i + 1, i == 1 ? "  weight.alarm: {" : "");
        assert_true(g_file_set_contents(path, text, -1, NULL));
        g_free(text);
        g_free(path);
    }
    g_free(folder);
}

static void find_states(vd_store_file *store)
{
    const vd_past_query query = {.model = "dowel", .serial = "QD-24003", .writes = true};
    vd_past past[4];
    vd_set before = new_set(dowel());
    assert_int_equal(vd_history_find(store, &query, past, 4), 1);
    assert_int_equal(past[0].began, 1777622400000);
    assert_int_equal(past[0].changes, -1);
    assert_string_equal(past[0].outcome, "not-known");
    assert_int_equal(vd_history_values(store, past[0].id, &before, NULL, NULL, NULL), 0);
    assert_string_equal(said(&before, "unit.name"), "Ling 1");
    free(before.memory);
}

/* What an older Verdite kept in files of its own is taken over once. */
static void test_taking_over(void **state)
{
    char *folder = path_of("verdite"), *served = path_of("verdite/served.json"),
         *proved = path_of("verdite/proved.ini");
    char *path = path_of("over.db");
    vd_served got;
    vd_proved shown;
    (void)state;
    g_mkdir(folder, 0700);
    assert_true(g_file_set_contents(served,
                                    "[{\"port\": \"b\", \"adapter\": \"b\", \"model\": \"dowel\", \"baud\": 9600, "
                                    "\"framing\": \"8E1\", \"address\": 2}, {\"port\": \"a\", \"adapter\": \"a\", "
                                    "\"model\": \"dowel\", \"baud\": 19200, \"framing\": \"8N1\", \"address\": 1}, "
                                    "{\"port\": 7}, {\"port\": \"c\", \"adapter\": \"c\", \"model\": \"dowel\", "
                                    "\"baud\": 9600, \"framing\": \"8E1\", \"address\": 248}]",
                                    -1, NULL));
    assert_true(g_file_set_contents(
        proved, "[brock QB-1]\nwhen=5\nran=6\nprint=AB\n[brock QB 2]\nwhen=7\nran=8\nprint=CD\n", -1, NULL));
    keep_states();
    vd_store_file *store = opened(path);
    assert_true(vd_served_recall(store, NULL, NULL, &got));
    assert_int_equal(got.address, 2); /* the newest stood first */
    assert_true(vd_served_recall(store, NULL, "a", &got));
    assert_int_equal(got.line.baud, 19200);
    assert_true(vd_proved_recall(store, "brock", "QB-1", &shown));
    assert_int_equal(shown.ran, 6);
    assert_true(vd_proved_recall(store, "brock", "QB 2", &shown)); /* a blank is part of it */
    assert_int_equal(shown.ran, 8);
    assert_false(vd_served_recall(store, NULL, "c", &got)); /* no such address */
    find_states(store);
    assert_true(g_file_test(served, G_FILE_TEST_EXISTS)); /* and left */
    vd_store_close(store);
    command(path, "DELETE FROM served");
    store = opened(path);
    assert_false(vd_served_recall(store, NULL, NULL, &got));
    vd_store_close(store);
    g_unlink(served);
    g_unlink(proved);
    g_free(path);
    g_free(proved);
    g_free(served);
    g_free(folder);
}

static void test_what_is_no_store(void **state)
{
    static const struct {
        const char *name, *sql, *text; /* made by a command, or of a text */
        vd_status status;
        bool aside;
    } cases[] = {{"newer.db", "PRAGMA user_version = 99", NULL, VD_STORE_NEWER, false},
                 {"strange.db", "CREATE TABLE mine (x); PRAGMA application_id = 7", NULL, VD_STORE_STRANGE, false},
                 {"text.db", NULL,
                  "no database at all, though it is as long as one would be: a header has 100 bytes.....", VD_OK, true},
                 {"empty.db", NULL, "", VD_OK, false}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        char *path = path_of(cases[i].name), *aside = NULL;
        vd_fault fault = {0};
        if (cases[i].status == VD_STORE_NEWER) {
            vd_store_close(opened(path));
        }
        if (cases[i].sql != NULL) {
            command(path, cases[i].sql);
        } else {
            assert_true(g_file_set_contents(path, cases[i].text, -1, NULL));
        }
        vd_store_file *store = vd_store_open(path, &aside, &fault);
        assert_int_equal(fault.status, cases[i].status);
        assert_int_equal(store != NULL, cases[i].status == VD_OK);
        assert_int_equal(aside != NULL, cases[i].aside);
        assert_true(aside == NULL || g_file_test(aside, G_FILE_TEST_EXISTS));
        vd_store_close(store);
        g_free(aside);
        g_free(path);
    }
    vd_fault fault = {0};
    char *aside = NULL;
    assert_null(vd_store_open(work, &aside, &fault));
    assert_int_equal(fault.status, VD_STORE_SHUT);
    fault = (vd_fault){0};
    assert_null(vd_store_open("/proc/verdite/store.db", &aside, &fault));
    assert_int_equal(fault.status, VD_STORE_SHUT);
    fault = (vd_fault){0};
    assert_null(vd_store_open("off", &aside, &fault));
    assert_int_equal(fault.status, VD_OK);
}

/* What is not ours is left as it is, to the byte, and what was put into ours does not run. */
/* Where a damaged one cannot be set aside it is left, and told. */
static void test_what_cannot_be_set_aside(void **state)
{
    static const char damaged[] = "SQLite format 3\0and then nothing that it could be";
    char *path = path_of("stuck.db"), *there = path_of("stuck.db.damaged/full"), *aside = NULL;
    char *folder = g_path_get_dirname(there);
    vd_fault fault = {0};
    (void)state;
    g_mkdir_with_parents(there, 0700);
    assert_true(g_file_set_contents(path, damaged, sizeof damaged, NULL));
    assert_null(vd_store_open(path, &aside, &fault));
    assert_null(aside);
    assert_int_not_equal(fault.status, VD_OK);
    assert_true(g_file_test(path, G_FILE_TEST_EXISTS));
    g_rmdir(there);
    g_rmdir(folder);
    g_unlink(path);
    g_free(folder);
    g_free(there);
    g_free(path);
}

static void test_what_is_left_alone(void **state)
{
    static const struct {
        const char *name, *sql;
        vd_status status;
        bool ours;
    } cases[] = {
        {"theirs.db", "PRAGMA application_id = 7; CREATE TABLE mine (x); INSERT INTO mine VALUES (1)", VD_STORE_STRANGE,
         false},
        {"trigger.db", "CREATE TRIGGER t AFTER INSERT ON held BEGIN DELETE FROM held; END", VD_STORE_ALTERED, true},
        {"view.db", "CREATE VIEW v AS WITH RECURSIVE n(x) AS (SELECT 1 UNION ALL SELECT x FROM n) SELECT x FROM n",
         VD_STORE_ALTERED, true},
        {"lacking.db", "ALTER TABLE visit DROP COLUMN remark", VD_STORE_ALTERED, true},
        {"another.db", "ALTER TABLE unit RENAME COLUMN serial TO number", VD_STORE_ALTERED, true},
        {"gone.db", "DROP TABLE held; CREATE VIEW held AS SELECT 1 AS visit", VD_STORE_ALTERED, true}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        char *path = path_of(cases[i].name), *aside = NULL, *before = NULL, *after = NULL;
        gsize before_length = 0, after_length = 0;
        vd_fault fault = {0};
        if (cases[i].ours) {
            vd_store_close(opened(path));
        }
        command(path, cases[i].sql);
        assert_true(g_file_get_contents(path, &before, &before_length, NULL));
        assert_null(vd_store_open(path, &aside, &fault));
        assert_int_equal(fault.status, cases[i].status);
        assert_null(aside);
        assert_true(g_file_get_contents(path, &after, &after_length, NULL));
        assert_int_equal(before_length, after_length);
        assert_memory_equal(before, after, before_length);
        g_free(before);
        g_free(after);
        g_free(path);
    }
}

static void copy(const char *from, const char *to, const char *end)
{
    char *source = g_strconcat(from, end, NULL), *target = g_strconcat(to, end, NULL), *text = NULL;
    gsize length = 0;
    assert_true(g_file_get_contents(source, &text, &length, NULL));
    assert_true(g_file_set_contents(target, text, (gssize)length, NULL));
    g_free(text);
    g_free(source);
    g_free(target);
}

/* A store is copied over another one, beside which stays what had been written ahead: that is not taken for its own. */
static void test_a_store_over_another(void **state)
{
    vd_served one = {"port", "adapter one", "dowel", {9600, 8, 'E', 1}, 1}, got;
    vd_served two = {"port", "adapter two", "dowel", {9600, 8, 'E', 1}, 2};
    char *first = path_of("first.db"), *second = path_of("second.db"), *mixed = path_of("mixed.db");
    (void)state;
    vd_store_close(opened(first));
    vd_store_file *store = opened(first);
    vd_served_remember(store, &one); /* written ahead, and no more than that */
    copy(first, mixed, "-wal");
    copy(first, mixed, "-mark");
    vd_store_close(store);
    store = opened(second);
    vd_served_remember(store, &two);
    vd_store_close(store);
    copy(second, mixed, "");
    store = opened(mixed);
    assert_true(vd_served_recall(store, NULL, NULL, &got));
    assert_string_equal(got.adapter, "adapter two");
    assert_false(vd_served_recall(store, NULL, "adapter one", &got));
    vd_store_close(store);
    g_free(first);
    g_free(second);
    g_free(mixed);
}

/* Many programs begin the store at once and remember in it: all of it is there. */
static void test_a_crowd(void **state)
{
    enum { CROWD = 24 };
    char *path = path_of("crowd.db");
    pid_t children[CROWD];
    (void)state;
    for (int i = 0; i < CROWD; i++) {
        children[i] = fork();
        if (children[i] == 0) {
            char *aside = NULL;
            vd_served served = {"port", "", "dowel", {9600, 8, 'E', 1}, 1};
            vd_store_file *store = vd_store_open(path, &aside, NULL);
            g_snprintf(served.adapter, sizeof served.adapter, "adapter %d", i);
            vd_served_remember(store, &served);
            vd_store_close(store);
            _exit(store == NULL);
        }
    }
    for (int i = 0; i < CROWD; i++) {
        int status = 1;
        waitpid(children[i], &status, 0);
        assert_int_equal(status, 0);
    }
    vd_store_file *store = opened(path);
    for (int i = 0; i < CROWD; i++) {
        char adapter[32];
        vd_served got;
        g_snprintf(adapter, sizeof adapter, "adapter %d", i);
        assert_true(vd_served_recall(store, NULL, adapter, &got));
    }
    vd_store_close(store);
    g_free(path);
}

int main(void)
{
    work = g_dir_make_tmp("verdite-store-XXXXXX", NULL);
    g_setenv("XDG_STATE_HOME", work, TRUE);
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_what_served),
                                       cmocka_unit_test(test_what_was_proved),
                                       cmocka_unit_test(test_taking_over),
                                       cmocka_unit_test(test_what_is_no_store),
                                       cmocka_unit_test(test_what_cannot_be_set_aside),
                                       cmocka_unit_test(test_what_is_left_alone),
                                       cmocka_unit_test(test_a_store_over_another),
                                       cmocka_unit_test(test_a_crowd)};
    int failed = cmocka_run_group_tests(tests, NULL, NULL);
    char *argv[] = {"rm", "-rf", work, NULL};
    g_spawn_sync(NULL, argv, NULL, G_SPAWN_SEARCH_PATH, NULL, NULL, NULL, NULL, NULL, NULL);
    g_free(work);
    return failed;
}
