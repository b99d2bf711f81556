/* SPDX-License-Identifier: MIT
 * The common case in a few calls: what is reached, what is not, and what is said then. */
#include "fixtures.h"

#include <glib/gstdio.h>
#include <stdlib.h>
#include <string.h>

#include "verdite/history.h"
#include "verdite/reach.h"

static char *work;

/* A fresh copy of a bench that ships. */
static char *bench_of(const char *name)
{
    char *folder = g_build_filename(work, name, NULL), *path = g_build_filename(folder, "bench.yaml", NULL);
    char *from = g_build_filename("benches", name, "bench.yaml", NULL), *text = NULL;
    g_mkdir(folder, 0700);
    assert_true(g_file_get_contents(source_path(from), &text, NULL, NULL));
    assert_true(g_file_set_contents(path, text, -1, NULL));
    g_free(text);
    g_free(from);
    g_free(path);
    return folder;
}

static void test_reading_and_writing(void **state)
{
    (void)state;
    char *bench = bench_of("bracken"), text[64];
    vd_fault fault = {0};
    vd_whole whole = VD_WHOLE_NOT;
    const vd_reach_place place = {.model = "dowel", .bench = bench, .address = 3, .serial = "QD-24003"};
    vd_reach *reach = vd_reach_open(&place, &fault);
    assert_non_null(reach);
    assert_int_equal(vd_reach_read(reach, "weight.low-limit", text, sizeof text, &fault), VD_OK);
    assert_string_equal(text, "18.0 kg");
    assert_int_equal(vd_reach_write(reach, "weight.low-limit", "21 kg", &whole, &fault), VD_OK);
    assert_int_equal(whole, VD_WHOLE_VERIFIED);
    assert_int_equal(vd_reach_read(reach, "weight.low-limit", text, sizeof text, &fault), VD_OK);
    assert_string_equal(text, "21.0 kg");
    assert_int_equal(vd_reach_write(reach, "unit.panel-code", "4821", &whole, &fault), VD_OK);
    assert_int_equal(whole, VD_WHOLE_EXCEPT);
    assert_int_equal(vd_reach_read(reach, "unit.panel-code", text, sizeof text, &fault), VD_NOT_TOLD);
    assert_string_equal(text, "");
    vd_reach_close(reach);

    char *aside = NULL; /* writes are visits like the tool's */
    vd_store_file *store = vd_store_open(NULL, &aside, &fault);
    vd_past past[4];
    const vd_past_query query = {.model = "dowel", .serial = "QD-24003", .writes = true};
    assert_int_equal(vd_history_find(store, &query, past, 4), 2);
    assert_string_equal(past[1].outcome, "verified");
    assert_string_equal(past[0].outcome, "verified-except");
    assert_string_equal(past[0].port, "bracken-usb");
    assert_int_equal(past[0].at, 3);
    vd_set before = new_set(dowel());
    vd_history_values(store, past[1].id, &before, NULL, NULL, NULL);
    assert_string_equal(said(&before, "weight.low-limit"), "18.0 kg");
    free(before.memory);
    vd_store_close(store);
    fault = (vd_fault){0};
    reach = vd_reach_open(&place, &fault); /* the bench is as it was left */
    assert_non_null(reach);
    assert_int_equal(vd_reach_read(reach, "weight.low-limit", text, sizeof text, &fault), VD_OK);
    assert_string_equal(text, "21.0 kg");
    vd_reach_close(reach);
    g_free(bench);
}

static void test_a_login(void **state)
{
    (void)state;
    char *bench = bench_of("yard");
    static const struct {
        const char *password;
        vd_status status;
        vd_whole whole;
    } cases[] = {{NULL, VD_LOGIN_NEEDED, VD_WHOLE_NOT},
                 {"1111", VD_LOGIN_REFUSED, VD_WHOLE_NOT},
                 {"0000", VD_OK, VD_WHOLE_VERIFIED}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        vd_fault fault = {0};
        vd_whole whole = VD_WHOLE_VERIFIED;
        const vd_reach_place place = {
            .model = "brock", .bench = bench, .port = "sorrel-box", .password = cases[i].password};
        vd_reach *reach = vd_reach_open(&place, &fault);
        assert_non_null(reach);
        assert_int_equal(vd_reach_write(reach, "report.moving", "3 min", &whole, &fault), cases[i].status);
        assert_int_equal(whole, cases[i].whole);
        vd_reach_close(reach);
    }
    g_free(bench);
}

static void test_what_is_out_of_reach(void **state)
{
    (void)state;
    char *bench = bench_of("bracken"), text[64];
    const struct {
        vd_reach_place place;
        vd_status status;
    } closed[] = {{{.model = "dowell", .bench = bench}, VD_NO_SUCH_MODEL},
                  {{.model = "dowel"}, VD_NO_PORT},
                  {{.model = "dowel", .port = "/dev/none"}, VD_NO_PORT},
                  {{.model = "dowel", .bench = bench, .port = "none"}, VD_NO_PORT},
                  {{.model = "dowel", .bench = "/none"}, VD_FILE_UNREADABLE}};
    for (size_t i = 0; i < G_N_ELEMENTS(closed); i++) {
        vd_fault fault = {0};
        assert_null(vd_reach_open(&closed[i].place, &fault));
        assert_int_equal(fault.status, closed[i].status);
    }
    const struct {
        uint8_t address;
        const char *serial, *key, *value;
        vd_status status;
    } refused[] = {
        {42, NULL, "unit.light", "low", VD_NO_REPLY},           {3, "QD-24004", "unit.light", "low", VD_WRONG_UNIT},
        {3, NULL, "unit.lihgt", "low", VD_NO_SUCH_SETTING},     {3, NULL, "unit.light", "dim", VD_NOT_A_CHOICE},
        {3, NULL, "weight.low-limit", "20.55 kg", VD_OFF_STEP}, {3, NULL, "line.address", "7", VD_ADDRESS_TAKEN}};
    for (size_t i = 0; i < G_N_ELEMENTS(refused); i++) {
        vd_fault fault = {0};
        vd_whole whole = VD_WHOLE_VERIFIED;
        const vd_reach_place place = {
            .model = "dowel", .bench = bench, .address = refused[i].address, .serial = refused[i].serial};
        vd_reach *reach = vd_reach_open(&place, &fault);
        assert_non_null(reach);
        assert_int_equal(vd_reach_write(reach, refused[i].key, refused[i].value, &whole, &fault), refused[i].status);
        assert_int_equal(fault.status, refused[i].status);
        assert_int_equal(whole, VD_WHOLE_NOT);
        vd_reach_close(reach);
    }
    vd_fault fault = {0};
    vd_reach *reach = vd_reach_open(&(vd_reach_place){.model = "dowel", .bench = bench, .address = 3}, &fault);
    assert_int_equal(vd_reach_read(reach, "unit.light", text, sizeof text, &fault), VD_OK);
    assert_string_equal(text, "low"); /* nothing of all that reached it */
    vd_reach_close(reach);
    g_free(bench);
}

int main(void)
{
    work = g_dir_make_tmp("verdite-reach-XXXXXX", NULL);
    g_setenv("VERDITE_MODELS", source_path("models"), TRUE);
    g_setenv("XDG_STATE_HOME", work, TRUE);
    g_setenv("XDG_DATA_HOME", work, TRUE);
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_reading_and_writing), cmocka_unit_test(test_a_login),
                                       cmocka_unit_test(test_what_is_out_of_reach)};
    int failed = cmocka_run_group_tests(tests, NULL, NULL);
    char *argv[] = {"rm", "-rf", work, NULL};
    g_spawn_sync(NULL, argv, NULL, G_SPAWN_SEARCH_PATH, NULL, NULL, NULL, NULL, NULL, NULL);
    g_free(work);
    return failed;
}
