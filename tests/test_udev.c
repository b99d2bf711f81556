/* SPDX-License-Identifier: MIT
 * What is plugged in, against adapters that a mocked device manager shows: two of one kind, one without serial number,
 * hostile texts, none; and their coming and going. Runs under umockdev-wrapper, without sanitizers. */
#include <setjmp.h>
#include <stdarg.h>
#include <stddef.h>
#include <stdint.h>

#include <cmocka.h>
#include <string.h>
#include <umockdev.h>

#include "verdite/posix.h"

static UMockdevTestbed *testbed;

static char *plug(const char *position, const char *tty, const char *maker, const char *product, const char *serial,
                  const char *modem)
{
    char *usb =
        umockdev_testbed_add_device(testbed, "usb", position, NULL, "idVendor", "f055", "idProduct", "6c01",
                                    "manufacturer", maker, "product", product, NULL, "DEVTYPE", "usb_device", NULL);
    if (serial != NULL) {
        umockdev_testbed_set_attribute(testbed, usb, "serial", serial);
    }
    char *interface = g_strconcat(position, ":1.0", NULL);
    char *line = umockdev_testbed_add_device(testbed, "usb-serial", interface, usb, NULL, NULL);
    char *node = g_strconcat("/dev/", tty, NULL), *link = g_strconcat("/dev/serial/by-id/usb-", tty, NULL);
    char *device = umockdev_testbed_add_device(testbed, "tty", tty, line, NULL, "DEVNAME", node, "DEVLINKS", link,
                                               "ID_MM_CANDIDATE", modem, NULL);
    g_free(usb), g_free(interface), g_free(line), g_free(node), g_free(link);
    return device;
}

static int set_up(void **state)
{
    (void)state;
    testbed = umockdev_testbed_new();
    return 0;
}

static int tear_down(void **state)
{
    (void)state;
    g_object_unref(testbed);
    return 0;
}

static void test_none(void **state)
{
    vd_posix_found found[4];
    (void)state;
    assert_int_equal(vd_posix_list(found, 4, false), 0);
}

static void test_several(void **state)
{
    vd_posix_found found[8];
    char first[200], second[200];
    (void)state;
    g_free(plug("1-2", "ttyUSB0", "Quillmere", "Line adapter", "QA-0001", "0"));
    g_free(plug("1-3", "ttyUSB1", "Quillmere", "Line adapter", "QA-0002", "1"));
    g_free(plug("1-4.1", "ttyUSB2", "Quillmere", "Plain adapter", NULL, "0"));
    g_free(umockdev_testbed_add_device(testbed, "tty", "console", NULL, NULL, "DEVNAME", "/dev/console", NULL));
    assert_int_equal(vd_posix_list(found, 8, false), 3); /* a console is no adapter */
    assert_int_equal(vd_posix_list(found, 2, false), 3); /* and the list is not overrun */
    vd_posix_list(found, 8, false);
    assert_string_equal(found[0].path, "/dev/ttyUSB0");
    assert_string_equal(found[0].label, "Quillmere Line adapter");
    assert_string_equal(found[0].serial, "QA-0001");
    assert_string_equal(found[0].vendor, "f055");
    assert_string_equal(found[0].product, "6c01");
    assert_string_equal(found[0].position, "1-2");
    assert_string_equal(found[0].lasting, "/dev/serial/by-id/usb-ttyUSB0");
    assert_false(found[0].like_a_modem);
    assert_true(found[1].like_a_modem);
    assert_false(found[0].may_open); /* there is no such node */
    /* two of one kind differ by serial number, one without by where it is plugged in */
    vd_writer one = vd_writer_start(first, sizeof first), two = vd_writer_start(second, sizeof second);
    vd_posix_identify(&found[0], &one);
    vd_posix_identify(&found[1], &two);
    assert_string_equal(first, "f055:6c01 number QA-0001");
    assert_string_not_equal(first, second);
    one = vd_writer_start(first, sizeof first);
    vd_posix_identify(&found[2], &one);
    assert_string_equal(first, "f055:6c01 at 1-4.1");
}

static void test_hostile_texts(void **state)
{
    vd_posix_found found[2];
    char huge[600];
    (void)state;
    memset(huge, 'x', sizeof huge - 1);
    huge[sizeof huge - 1] = '\0';
    g_free(plug("1-2", "ttyUSB0", "\x1B[31mred\x07", "\xFF\xFE bad \xC2\x9B", huge, "0"));
    assert_int_equal(vd_posix_list(found, 2, false), 1);
    for (const char *at = found[0].label; *at != '\0'; at++) {
        assert_in_range(*at, 0x20, 0x7E);
    }
    assert_int_equal(strlen(found[0].serial), sizeof found[0].serial - 1);
}

/* What went and came back is known by who it is, or where it is plugged in, not by what it is called. */
static void test_found_again(void **state)
{
    static const struct {
        const char *identity, *path;
    } cases[] = {{"f055:6c01 number QA-0001", "/dev/ttyUSB5"},
                 {"f055:6c01 at 1-4.1", "/dev/ttyUSB0"},
                 {"f055:6c01 number QA-0002", NULL},
                 {"", NULL}};
    char path[64];
    (void)state;
    char *device = plug("1-2", "ttyUSB0", "Quillmere", "Line adapter", "QA-0001", "0");
    assert_true(vd_posix_find(cases[0].identity, path, sizeof path));
    assert_string_equal(path, "/dev/ttyUSB0");
    umockdev_testbed_remove_device(testbed, device);
    g_free(device);
    assert_false(vd_posix_find(cases[0].identity, path, sizeof path));
    g_free(plug("1-4.1", "ttyUSB0", "Quillmere", "Plain adapter", NULL, "0")); /* another one has its name now */
    g_free(plug("1-3", "ttyUSB5", "Quillmere", "Line adapter", "QA-0001", "0"));
    for (size_t i = 0; i < sizeof cases / sizeof cases[0]; i++) {
        assert_int_equal(vd_posix_find(cases[i].identity, path, sizeof path), cases[i].path != NULL);
        if (cases[i].path != NULL) {
            assert_string_equal(path, cases[i].path);
        }
    }
}

/* What is behind a port is told by the driver: an adapter's UART is a wire, a unit with a port of its own may be none.
 */
static void test_what_is_behind_a_port(void **state)
{
    static const struct {
        const char *driver, *clock;
        vd_wire wire;
    } table[] = {{"ftdi_sio", NULL, VD_WIRE},         {"cp210x", NULL, VD_WIRE},
                 {"ch341-uart", NULL, VD_WIRE},       {"pl2303", NULL, VD_WIRE},
                 {"serial8250", "1843200", VD_WIRE},  {"cdc_acm", NULL, VD_WIRE_NOT_KNOWN},
                 {"option", NULL, VD_WIRE_NOT_KNOWN}, {"new_driver", NULL, VD_WIRE_NOT_KNOWN},
                 {NULL, NULL, VD_WIRE_NOT_KNOWN}};
    enum { ROWS = sizeof table / sizeof table[0] };
    vd_posix_found found[ROWS];
    (void)state;
    for (size_t i = 0; i < ROWS; i++) {
        const char position[] = {'1', '-', (char)('1' + i), '\0'};
        const char tty[] = {'t', 't', 'y', (char)('1' + i), '\0'};
        char *device = plug(position, tty, "Quillmere", "tag", "QP-7", "0"), *parent = g_path_get_dirname(device);
        if (table[i].driver != NULL) {
            char *driver = g_strconcat("../../../bus/usb/drivers/", table[i].driver, NULL);
            umockdev_testbed_set_attribute_link(testbed, parent, "driver", driver);
            g_free(driver);
        }
        if (table[i].clock != NULL) {
            umockdev_testbed_set_attribute(testbed, device, "uartclk", table[i].clock);
        }
        g_free(parent), g_free(device);
    }
    assert_int_equal(vd_posix_list(found, ROWS, true), ROWS);
    for (size_t i = 0; i < ROWS; i++) {
        size_t row = (size_t)(found[i].position[2] - '1');
        if (found[i].wire != table[row].wire) {
            fail_msg("%s: %d", table[row].driver != NULL ? table[row].driver : "no driver", (int)found[i].wire);
        }
    }
}

static void test_coming_and_going(void **state)
{
    vd_posix_found found;
    bool came = false;
    (void)state;
    vd_posix_watch *watch = vd_posix_watch_start();
    assert_non_null(watch);
    assert_false(vd_posix_watch_next(watch, 10, &came, &found));
    char *device = plug("1-2", "ttyUSB7", "Quillmere", "Line adapter", "QA-0001", "0");
    umockdev_testbed_uevent(testbed, device, "add");
    for (int i = 0; i < 20 && !came; i++) {
        vd_posix_watch_next(watch, 100, &came, &found);
    }
    assert_true(came);
    assert_string_equal(found.path, "/dev/ttyUSB7");
    umockdev_testbed_uevent(testbed, device, "remove");
    for (int i = 0; i < 20 && came; i++) {
        vd_posix_watch_next(watch, 100, &came, &found);
    }
    assert_false(came);
    g_free(device);
    vd_posix_watch_end(watch);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test_setup_teardown(test_none, set_up, tear_down),
        cmocka_unit_test_setup_teardown(test_several, set_up, tear_down),
        cmocka_unit_test_setup_teardown(test_hostile_texts, set_up, tear_down),
        cmocka_unit_test_setup_teardown(test_found_again, set_up, tear_down),
        cmocka_unit_test_setup_teardown(test_what_is_behind_a_port, set_up, tear_down),
        cmocka_unit_test_setup_teardown(test_coming_and_going, set_up, tear_down),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
