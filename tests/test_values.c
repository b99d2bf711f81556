/* SPDX-License-Identifier: MIT
 * Values: what people type, what is printed, what is refused and with which words. */
#include "fixtures.h"

#include <string.h>

static const vd_choice colours[] = {{"red", "", 1}, {"dark-green", "", 4}};
#define BASE .key = "it", .label = "", .help = "", .places_from = VD_NONE, .step = 1
static const vd_setting integer = {BASE, .type = VD_INTEGER, .measure = "kg", .min = -5, .max = 250};
static const vd_setting stepped = {BASE, .type = VD_DECIMAL, .measure = "°C", .places = 1, .min = -200, .max = 600};
static const vd_setting truth = {BASE, .type = VD_TRUTH, .measure = "", .max = 1};
static const vd_setting choice = {BASE, .type = VD_CHOICE, .measure = "", .choices = colours, .choice_count = 2};
static const vd_setting text = {BASE, .type = VD_TEXT, .measure = "", .length = 8};
static const vd_setting duration = {BASE, .type = VD_DURATION, .measure = "", .tick = 500, .min = 1, .max = 172800};

static const struct {
    const vd_setting *setting;
    const char *typed, *printed;
} good[] = {
    {&integer, "7", "7 kg"},
    {&integer, " -5 kg ", "-5 kg"},
    {&integer, "7.00", "7 kg"},
    {&integer, "+12kg", "12 kg"},
    {&integer, "007", "7 kg"},
    {&stepped, "36.5 °C", "36.5 °C"},
    {&stepped, "36,5", "36.5 °C"},
    {&stepped, "36.50°C", "36.50 °C"},
    {&stepped, "-0.1 C", "-0.1 °C"},
    {&stepped,
     "\xE2\x88\x92"
     "4 °C",
     "-4 °C"},
    {&stepped, "0", "0 °C"},
    {&truth, "on", "on"},
    {&truth, "NO", "off"},
    {&truth, "True", "on"},
    {&choice, "red", "red"},
    {&choice, "Dark Green", "dark-green"},
    {&choice, "dark_green", "dark-green"},
    {&text, "Ling 4", "Ling 4"},
    {&text, "", ""},
    {&text, "  a b  ", "a b"},
    {&duration, "10 min", "10 min"},
    {&duration, "90 s", "1 min 30 s"},
    {&duration, "1.5h", "1 h 30 min"},
    {&duration, "1 h 30 min", "1 h 30 min"},
    {&duration, "500 ms", "500 ms"},
    {&duration, "2,5 s", "2.5 s"},
    {&duration, "1 day", "1 d"},
    {&duration, "0", "0 s"},
    {&duration, "1 min 0.5 s", "1 min 500 ms"},
};

static void test_what_people_type(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(good); i++) {
        char printed[128];
        vd_value value, again;
        vd_fault fault = {0};
        vd_writer writer = vd_writer_start(printed, sizeof printed);
        assert_int_equal(vd_value_parse(good[i].setting, good[i].typed, strlen(good[i].typed), &value, &fault), VD_OK);
        vd_value_print(good[i].setting, &value, &writer);
        assert_string_equal(printed, good[i].printed);
        assert_int_equal(vd_value_parse(good[i].setting, printed, strlen(printed), &again, &fault), VD_OK);
        assert_true(vd_value_equal(&value, &again));
    }
}

static const struct {
    const vd_setting *setting;
    const char *typed;
    vd_status status;
    const char *words; /* a part of them */
} bad[] = {
    {&integer, "", VD_EMPTY, "Give -5 to 250 kg"},
    {&integer, "abc", VD_NOT_A_NUMBER, "\"abc\" is not a number"},
    {&integer, "7.5", VD_OFF_STEP, ""},
    {&integer, "7 °C", VD_WRONG_MEASURE, "not in the unit"},
    {&integer, "251", VD_OUT_OF_RANGE, "Give -5 to 250 kg."},
    {&integer, "-6", VD_OUT_OF_RANGE, "out of range"},
    {&integer, "1.234.5", VD_NOT_A_NUMBER, ""},
    {&integer, "1,234,5", VD_NOT_A_NUMBER, ""},
    {&integer, "99999999999999999999", VD_TOO_MANY_DIGITS, ""},
    {&integer, "--5", VD_NOT_A_NUMBER, ""},
    {&integer, "5.", VD_NOT_A_NUMBER, ""},
    {&integer, ".5", VD_NOT_A_NUMBER, ""},
    {&integer, "1e3", VD_WRONG_MEASURE, ""},
    {&stepped, "36.55 °C", VD_OFF_STEP, "The nearest are 36.5 °C and 36.6 °C."},
    {&stepped, "-3.25", VD_OFF_STEP, "-3.3 °C and -3.2 °C"},
    {&stepped, "60.05", VD_OUT_OF_RANGE, "-20.0 to 60.0 °C in steps of 0.1 °C"},
    {&stepped, "1 000", VD_NOT_A_NUMBER, ""},
    {&truth, "maybe", VD_NOT_A_TRUTH, "on or off"},
    {&truth, "1", VD_NOT_A_TRUTH, ""},
    {&choice, "blue", VD_NOT_A_CHOICE, "Choose red or dark-green"},
    {&choice, "re", VD_NOT_A_CHOICE, ""},
    {&text, "ninechars", VD_TEXT_TOO_LONG, "9 characters long. At most 8 fit"},
    {&text, "h\xC3\xB6he", VD_TEXT_ALPHABET, "character 2"},
    {&text, "a\tb", VD_TEXT_ALPHABET, ""},
    {&duration, "10", VD_MEASURE_MISSING, "which unit of time"},
    {&duration, "10 parsecs", VD_NOT_A_DURATION, ""},
    {&duration, "10 min 2 h", VD_NOT_A_DURATION, ""},
    {&duration, "-5 min", VD_NOT_A_DURATION, ""},
    {&duration, "0.4 s", VD_OUT_OF_RANGE, "500 ms to 1 d"},
    {&duration, "700 ms", VD_OFF_STEP, "500 ms and 1 s"},
    {&duration, "2 d", VD_OUT_OF_RANGE, ""},
    {&duration, "0.0001 s", VD_OFF_STEP, ""},
    {&duration, "min", VD_NOT_A_DURATION, ""},
    {&duration, "99999999999999 d", VD_TOO_MANY_DIGITS, ""},
};

static void test_what_is_refused(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(bad); i++) {
        char words[512];
        vd_value value;
        vd_fault fault = {0};
        vd_status status = vd_value_parse(bad[i].setting, bad[i].typed, strlen(bad[i].typed), &value, &fault);
        if (status == VD_OK) {
            status = vd_value_check(bad[i].setting, &value, bad[i].setting->places, &fault);
        }
        vd_fault_words(&fault, true, words, sizeof words);
        if (status != bad[i].status || strstr(words, bad[i].words) == NULL) {
            fail_msg("\"%s\" gave %d: %s", bad[i].typed, (int)status, words);
        }
        assert_ptr_equal(fault.setting, bad[i].setting);
    }
}

/* Every count of a range, printed and parsed, is itself again. */
static void test_every_count_survives(void **state)
{
    (void)state;
    const vd_setting *settings[] = {&integer, &stepped, &duration};
    for (size_t s = 0; s < G_N_ELEMENTS(settings); s++) {
        for (int64_t count = settings[s]->min; count <= MIN(settings[s]->max, 20000); count++) {
            char printed[64];
            vd_value value = vd_value_from_count(settings[s], count, settings[s]->places), parsed;
            vd_writer writer = vd_writer_start(printed, sizeof printed);
            int64_t again = 0;
            vd_value_print(settings[s], &value, &writer);
            assert_int_equal(vd_value_parse(settings[s], printed, strlen(printed), &parsed, NULL), VD_OK);
            assert_int_equal(vd_value_check(settings[s], &parsed, settings[s]->places, NULL), VD_OK);
            assert_int_equal(vd_value_to_count(settings[s], &parsed, settings[s]->places, &again, NULL), VD_OK);
            assert_int_equal(again, count);
        }
    }
}

static void test_equal_is_exact(void **state)
{
    (void)state;
    const vd_value a = {.type = VD_DECIMAL, .places = 1, .number = 365},
                   b = {.type = VD_DECIMAL, .places = 3, .number = 36500},
                   c = {.type = VD_DECIMAL, .places = 3, .number = 36501}, none = {0};
    assert_true(vd_value_equal(&a, &b));
    assert_false(vd_value_equal(&b, &c));
    assert_false(vd_value_equal(&none, &none));
}

static void test_faults_stick_and_are_printable(void **state)
{
    char words[512];
    vd_fault fault = {0};
    (void)state;
    vd_fault_note(&fault, VD_NO_PORT, NULL, "\x1B[31m\xFF\xC2\x9B evil \xC3\xA9", "");
    vd_fault_note(&fault, VD_NO_REPLY, NULL, "", "");
    assert_int_equal(fault.status, VD_NO_PORT);
    assert_string_equal(fault.said, "?[31m??? evil \xC3\xA9");
    vd_fault_clear(&fault);
    char *huge = g_strnfill(100000, 'x');
    vd_fault_note(&fault, VD_NO_PORT, NULL, huge, huge);
    g_free(huge);
    assert_int_equal(strlen(fault.said), VD_SAID_SIZE - 1);
    assert_true(g_str_has_suffix(fault.said, "..."));
    for (int status = VD_OK; status < VD_STATUS_COUNT; status++) {
        fault.status = (vd_status)status;
        assert_true(vd_fault_words(&fault, true, words, sizeof words) > 0);
        assert_null(strchr(words, '{'));
    }
    /* cut at any size, never written past it */
    for (size_t size = 1; size < 60; size++) {
        memset(words, '#', sizeof words);
        vd_fault_words(&fault, true, words, size);
        assert_true(strlen(words) < size);
        assert_int_equal(words[size], '#');
    }
}

static void test_lines(void **state)
{
    static const struct {
        const char *framing;
        bool good;
        unsigned bits;
    } table[] = {{"8E1", true, 11}, {"8n1", true, 10}, {"7o2", true, 11}, {"8N2", true, 11}, {"9N1", false, 0},
                 {"8X1", false, 0}, {"8N3", false, 0}, {"8N", false, 0},  {"", false, 0},    {"8N1 ", false, 0}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        vd_line line = {.baud = 9600};
        assert_int_equal(vd_framing_parse(table[i].framing, &line), table[i].good);
        if (table[i].good) {
            assert_int_equal(vd_line_character_bits(&line), table[i].bits);
        }
    }
    assert_int_equal(vd_line_time(&(vd_line){9600, 8, 'E', 1}, 8), 9167);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_what_people_type),
        cmocka_unit_test(test_what_is_refused),
        cmocka_unit_test(test_every_count_survives),
        cmocka_unit_test(test_equal_is_exact),
        cmocka_unit_test(test_faults_stick_and_are_printable),
        cmocka_unit_test(test_lines),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
