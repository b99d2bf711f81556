/* SPDX-License-Identifier: MIT
 * Values: what people type, what is printed, what is refused and with which words. */
#include "fixtures.h"

#include <string.h>

static const vd_choice colours[] = {{"red", "", 1}, {"dark-green", "", 4}};
static const vd_choice bits[] = {{"low", "", 0}, {"high", "", 1}, {"no-reply", "", 5}};
#define BASE .words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""}, .measure = "", .step = 1, .tick = 1
#define MEASURED .words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""}, .step = 1, .tick = 1
#define BYTES(of, size)                                                                                                \
    {                                                                                                                  \
        BASE, .traits = of, .least = size, .length = size                                                              \
    }
static const vd_setting integer = {MEASURED, .traits = &vd_type_integer, .measure = "kg", .min = -5, .max = 250};
static const vd_setting stepped = {MEASURED,  .traits = &vd_type_decimal, .measure = "°C", .places = 1, .min = -200,
                                   .max = 600};
/* One count is 0.02 bar, none is -0.5 bar; in steps of 0.1 bar. */
static const vd_setting scaled = {.words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""},

                                  .measure = "bar",
                                  .spellings = "bars atm",
                                  .step = 5,
                                  .tick = 1,
                                  .traits = &vd_type_decimal,
                                  .places = 2,
                                  .scale = 2,
                                  .offset = -50,
                                  .max = 1000};
static const vd_setting difference = {MEASURED, .traits = &vd_type_decimal, .measure = "K", .places = 1, .max = 100};
/* A station's name: one or two letters, a digit, one to three letters. */
static const vd_setting_words of_station = {"it", "", "", "QU4LM", NULL, ""};
static const vd_setting call_sign = {.words = &of_station,
                                     .measure = "",
                                     .step = 1,
                                     .tick = 1,
                                     .traits = &vd_type_text,
                                     .length = 6,
                                     .least = 3,
                                     .pattern = "[A-Z]{1,2}[0-9][A-Z]{1,3}"};
static const vd_setting plate = {BASE, .traits = &vd_type_text, .length = 12, .pattern = "no:?[^0-9]*[0-9]+x{2,}"};
static const vd_setting pin = {BASE,       .traits = &vd_type_text, .length = 8,
                               .least = 3, .alphabet = "0-9",       .or_empty = true};
static const vd_setting luhn = {BASE, .traits = &vd_type_text, .length = 20, .check = VD_CHECK_LUHN};
static const vd_setting mod_10 = {BASE, .traits = &vd_type_text, .length = 20, .check = VD_CHECK_MOD_10};
static const vd_setting mod_97 = {BASE, .traits = &vd_type_text, .length = 20, .check = VD_CHECK_MOD_97,
                                  .or_empty = true};
static const vd_setting truth = {BASE, .traits = &vd_type_truth, .max = 1};
static const vd_setting choice = {BASE, .traits = &vd_type_choice, .choices = colours, .choice_count = 2};
static const vd_setting flags = {BASE, .traits = &vd_type_flags, .choices = bits, .choice_count = 3, .max = 5};
static const vd_setting text = {BASE, .traits = &vd_type_text, .length = 8};
static const vd_setting capitals = {BASE, .traits = &vd_type_text, .length = 8, .least = 2, .alphabet = "A-Z0-9-"};
static const vd_setting duration = {.words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""},

                                    .measure = "",
                                    .step = 1,
                                    .traits = &vd_type_duration,
                                    .tick = 500,
                                    .min = 1,
                                    .max = 172800};
static const vd_setting port = {BASE, .traits = &vd_type_port, .min = 1, .max = 65535};
static const vd_setting ipv4 = {BASE, .traits = &vd_type_ipv4, .max = 0xFFFFFFFF};
static const vd_setting mask = {BASE, .traits = &vd_type_mask, .max = 0xFFFFFFFF};
static const vd_setting gateway = {BASE, .traits = &vd_type_gateway, .max = 0xFFFFFFFF};
static const vd_setting ipv6 = BYTES(&vd_type_ipv6, 16);
static const vd_setting host = {BASE, .traits = &vd_type_host, .length = 40};
static const vd_setting url = {BASE, .traits = &vd_type_url, .length = 60};
static const vd_setting phone = {BASE, .traits = &vd_type_phone, .length = 16};
static const vd_setting short_phone = {BASE, .traits = &vd_type_phone, .length = 8};
static const vd_setting apn = {BASE, .traits = &vd_type_apn, .length = 63};
static const vd_setting imei = BYTES(&vd_type_imei, 15);
static const vd_setting iccid = {BASE, .traits = &vd_type_iccid, .length = 20};
static const vd_setting bytes = {BASE, .traits = &vd_type_bytes, .least = 1, .length = 4};
static const vd_setting eui = BYTES(&vd_type_identifier, 8);
static const vd_setting key = {BASE, .traits = &vd_type_key, .least = 16, .length = 16, .secret = true};
static const vd_setting clock_time = {.words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""},

                                      .measure = "",
                                      .step = 1,
                                      .traits = &vd_type_time_of_day,
                                      .tick = 60,
                                      .max = 1439};
static const vd_setting date = {BASE, .traits = &vd_type_date_time, .min = 946684800, .max = 4102444799};
static const vd_setting zone = {.words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""},

                                .measure = "",
                                .step = 1,
                                .traits = &vd_type_zone,
                                .tick = 15,
                                .min = -48,
                                .max = 56};
static const vd_setting position = {BASE, .traits = &vd_type_position, .min = INT64_MIN, .max = INT64_MAX};

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
    {&scaled, "1.5 bar", "1.5 bar"},
    {&scaled, "-0.50 atm", "-0.50 bar"},
    {&scaled, "0 bars", "0 bar"},
    {&difference, "0.5 °C", "0.5 K"},
    {&call_sign, "QU4LM", "QU4LM"},
    {&call_sign, " Q4L ", "Q4L"},
    {&plate, "no1xx", "no1xx"},
    {&plate, "no:a-42xxx", "no:a-42xxx"},
    {&pin, "", ""},
    {&pin, "123", "123"},
    {&luhn, "79927398713", "79927398713"},       /* as ISO/IEC 7812-1 counts */
    {&mod_10, "6291041500213", "6291041500213"}, /* GS1 General Specifications */
    {&mod_97, "79444", "79444"},                 /* ISO/IEC 7064 */
    {&mod_97, "OAKHURST1719", "OAKHURST1719"},
    {&mod_97, "", ""},
    {&truth, "on", "on"},
    {&truth, "NO", "off"},
    {&truth, "True", "on"},
    {&choice, "red", "red"},
    {&choice, "Dark Green", "dark-green"},
    {&choice, "dark_green", "dark-green"},
    {&text, "Ling 4", "Ling 4"},
    {&text, "", ""},
    {&text, "  a b  ", "a b"},
    {&text,
     "\xC2\xA0 \xC2\xA0"
     " a b \xC2\xA0 ",
     "a b"},
    {&duration, "10 min", "10 min"},
    {&duration, "90 s", "1 min 30 s"},
    {&duration, "1.5h", "1 h 30 min"},
    {&duration, "1 h 30 min", "1 h 30 min"},
    {&duration, "500 ms", "500 ms"},
    {&duration, "2,5 s", "2.5 s"},
    {&duration, "1 day", "1 d"},
    {&duration, "0", "0 s"},
    {&duration, "1 min 0.5 s", "1 min 500 ms"},
    {&flags, "none", "none"},
    {&flags, "high+low", "low, high"},
    {&flags, "High and low", "low, high"},
    {&flags, "no-reply; low", "low, no-reply"},
    {&capitals, "LING-4", "LING-4"},
    {&port, "8080", "8080"},
    {&ipv4, " 192.0.2.7 ", "192.0.2.7"},
    {&ipv4, "0.0.0.0", "0.0.0.0"},
    {&mask, "/26", "255.255.255.192"},
    {&mask, "/0", "0.0.0.0"},
    {&mask, "255.255.254.0", "255.255.254.0"},
    {&gateway, "198.51.100.1", "198.51.100.1"},
    /* the examples of RFC 5952 clause 1 and 4, RFC 4291 clause 2.2 */
    {&ipv6, "2001:db8:0:0:1:0:0:1", "2001:db8::1:0:0:1"},
    {&ipv6, "2001:0DB8::0001", "2001:db8::1"},
    {&ipv6, "2001:db8:0:1:1:1:1:1", "2001:db8:0:1:1:1:1:1"},
    {&ipv6, "2001:db8::0:1:0:0:1", "2001:db8::1:0:0:1"},
    {&ipv6, "::", "::"},
    {&ipv6, "::1", "::1"},
    {&ipv6, "1::", "1::"},
    {&ipv6, "::ffff:192.0.2.128", "::ffff:c000:280"},
    {&host, "Data.Example.NET", "data.example.net"},
    {&host, "3com.example", "3com.example"},
    {&host, "192.0.2.10", "192.0.2.10"},
    {&host, "", ""},
    {&url, "HTTPS://Data.example.net:8443/Hives?x=1", "https://data.example.net:8443/Hives?x=1"},
    {&url, "mqtt://192.0.2.3", "mqtt://192.0.2.3"},
    {&phone, "+44 7700 900123", "+447700900123"},
    {&phone, "+44 (0)7700 900-123", "+447700900123"},
    {&phone, "07700/900.123", "07700900123"},
    {&phone, "112", "112"},
    {&apn, "Internet.Example", "internet.example"},
    {&imei, "001010-12-345678-0", "001010123456780"},
    {&imei, "49 015420 323751 8", "490154203237518"},
    {&iccid, "8944 5000 0000 0000 014", "8944500000000000014"},
    {&bytes, "0x01 a2", "01A2"},
    {&bytes, "de:ad:be:ef", "DEADBEEF"},
    {&eui, "02005e1000000001", "02-00-5E-10-00-00-00-01"},
    {&eui, "02:00:5E:10:00:00:00:01", "02-00-5E-10-00-00-00-01"},
    {&key, "2b7e151628aed2a6abf7158809cf4f3c", "2B7E151628AED2A6ABF7158809CF4F3C"},
    {&clock_time, "6:30", "06:30"},
    {&clock_time, "12:00 am", "00:00"},
    {&clock_time, "12:15 PM", "12:15"},
    {&clock_time, "11:59pm", "23:59"},
    {&date, "2026-05-02 08:00", "2026-05-02 08:00:00"},
    {&date, "2024-02-29T23:59:59", "2024-02-29 23:59:59"},
    {&date, "2000-1-1", "2000-01-01 00:00:00"},
    {&zone, "+1", "+01:00"},
    {&zone, "UTC", "+00:00"},
    {&zone, "Z", "+00:00"},
    {&zone, "gmt-0330", "-03:30"},
    {&zone, "+05:45", "+05:45"},
    {&position, "52.5163, 13.3777", "52.5163, 13.3777"},
    {&position, "52,5163; 13,3777", "52.5163, 13.3777"},
    {&position, "33.8568 S 151.2153 E", "-33.8568, 151.2153"},
    {&position,
     "52\xC2\xB0"
     "30'36\"N 13\xC2\xB0"
     "22'12\"W",
     "52.51, -13.37"},
    {&position, "-90, 180", "-90, 180"},
    {&position, "52deg 30' 58.7\" N, 13deg E", "52.5163056, 13"},
    {&position, "52\xC2\xB0 30\xE2\x80\xB2 36\xE2\x80\xB3 S 13\xC2\xB0 30' W", "-52.51, -13.5"},
    {&position, "1.000000000, 1.12345670", "1, 1.1234567"},
    {&position,
     "\xE2\x88\x92"
     "12.5, -0.5",
     "-12.5, -0.5"},
};

static void test_what_people_type(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(good); i++) {
        char printed[128];
        vd_typed value, again;
        vd_fault fault = {0};
        vd_writer writer = vd_writer_start(printed, sizeof printed);
        if (vd_setting_parse(good[i].setting, good[i].typed, strlen(good[i].typed), &value, &fault) != VD_OK) {
            fail_msg("\"%s\" was refused: %d", good[i].typed, (int)fault.status);
        }
        vd_value_print(good[i].setting, &value.value, &writer);
        if (strcmp(printed, good[i].printed) != 0) {
            fail_msg("\"%s\" is printed as %s", good[i].typed, printed);
        }
        assert_int_equal(vd_setting_parse(good[i].setting, printed, strlen(printed), &again, &fault), VD_OK);
        assert_true(vd_value_equal(&value.value, &again.value));
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
    {&integer, "7 °C", VD_WRONG_MEASURE, "wrong unit"},
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
    {&scaled, "-0.6", VD_OUT_OF_RANGE, "-0.50 to 19.50 bar in steps of 0.10 bar"},
    {&scaled, "19.52 bar", VD_OUT_OF_RANGE, ""},
    {&scaled, "1.51 bar", VD_OFF_STEP, "1.50 bar and 1.60 bar"},
    {&scaled, "1.501 bar", VD_OFF_STEP, "1.50 bar and 1.60 bar"},
    {&scaled, "1.5 at", VD_WRONG_MEASURE, ""},
    {&scaled, "12345678901234567", VD_OUT_OF_RANGE, ""},
    {&stepped, "5 K", VD_WRONG_MEASURE, ""}, /* no temperature is told in it */
    {&call_sign, "qu-4 lm", VD_WRONG_FORM, "Give \"QU4LM\"."},
    {&call_sign, "QU4", VD_WRONG_FORM,
     "3 to 6 plain letters, digits, blanks and signs (printable ASCII) that look like QU4LM"},
    {&call_sign, "QUX4L", VD_WRONG_FORM, ""},
    {&call_sign, "Q4LMNO", VD_WRONG_FORM, ""},
    {&plate, "no12x", VD_WRONG_FORM, ""},
    {&plate, "noxx", VD_WRONG_FORM, ""},
    {&plate, "no:1axx", VD_WRONG_FORM, ""},
    {&pin, "12", VD_TEXT_TOO_SHORT, "At least 3"},
    {&luhn, "79927398710", VD_CHECK_DIGIT, "the last digit is 3"},
    {&luhn, "7992739871a", VD_WRONG_FORM, "check digit (Luhn)"},
    {&mod_10, "6291041500217", VD_CHECK_DIGIT, "the last digit is 3"},
    {&mod_97, "97444", VD_CHECK_DIGIT, ""},
    {&mod_97, "OAKHURST1791", VD_CHECK_DIGIT, "is 19"},
    {&mod_97, "44", VD_WRONG_FORM, "(mod 97)."},
    {&truth, "maybe", VD_NOT_A_TRUTH, "on or off"},
    {&truth, "1", VD_NOT_A_TRUTH, ""},
    {&choice, "blue", VD_NOT_A_CHOICE, "Choose red or dark-green"},
    {&choice, "re", VD_NOT_A_CHOICE, ""},
    {&text, "ninechars", VD_TEXT_TOO_LONG, "9 characters. At most 8 fit"},
    {&text, "h\xC3\xB6he", VD_TEXT_ALPHABET, "character 2"},
    {&text, "a\tb", VD_TEXT_ALPHABET, ""},
    {&text, "sd\xE0\x01 9", VD_TEXT_ALPHABET, "character 3"}, /* no character, though its bits make one */
    {&text, "\xE0\x81\xA1", VD_TEXT_ALPHABET, "character 1"},
    {&duration, "10", VD_MEASURE_MISSING, "a unit of time"},
    {&duration, "10 parsecs", VD_NOT_A_DURATION, ""},
    {&duration, "10 min 2 h", VD_NOT_A_DURATION, ""},
    {&duration, "-5 min", VD_OUT_OF_RANGE, "500 ms"},
    {&duration,
     "\xE2\x88\x92"
     "5 min",
     VD_OUT_OF_RANGE, "500 ms"},
    {&duration, "1 h -30 min", VD_NOT_A_DURATION, ""},
    {&duration,
     "1 h \xE2\x88\x92"
     "30 min",
     VD_NOT_A_DURATION, ""},
    {&duration, "1 h +30 min", VD_NOT_A_DURATION, ""},
    {&duration, "--5 min", VD_NOT_A_DURATION, ""},
    {&duration, "-", VD_NOT_A_DURATION, ""},
    {&duration, "13343137477 d 320235299449 h 19214117966982 min 1152847078018954 s 1152847078018954770 ms",
     VD_TOO_MANY_DIGITS, ""},
    {&duration, "0.4 s", VD_OUT_OF_RANGE, "500 ms to 1 d"},
    {&duration, "700 ms", VD_OFF_STEP, "500 ms and 1 s"},
    {&duration, "2 d", VD_OUT_OF_RANGE, ""},
    {&duration, "0.0001 s", VD_OFF_STEP, ""},
    {&duration, "min", VD_NOT_A_DURATION, ""},
    {&duration, "99999999999999 d", VD_TOO_MANY_DIGITS, ""},
    {&flags, "low, blue", VD_NOT_A_CHOICE, "none or any of low, high, no-reply"},
    {&flags, "none, low", VD_NOT_A_CHOICE, ""},
    {&flags, ",", VD_NOT_A_CHOICE, ""},
    {&text, "H\xC3\xB6he 4", VD_TEXT_ALPHABET, "Use \"Hoehe 4\"."},
    {&text,
     "Stra\xC3\x9F"
     "e 3",
     VD_TEXT_ALPHABET, "Use \"Strasse\"."}, /* cut to what fits */
    {&text, "Hive \xE2\x80\x93 three", VD_TEXT_TOO_LONG, "At most 8 fit"},
    {&capitals, "ling 4", VD_TEXT_ALPHABET, "Use \"LING-4\"."},
    {&capitals, "L", VD_TEXT_TOO_SHORT, "At least 2"},
    {&capitals, "\xE2\x98\x83", VD_TEXT_ALPHABET, "characters of \"A-Z0-9-\""},
    {&port, "0", VD_OUT_OF_RANGE, "1 to 65535"},
    {&port, "80 kg", VD_WRONG_MEASURE, ""},
    {&ipv4, "192.0.2", VD_WRONG_FORM, "such as 192.0.2.7"},
    {&ipv4, "192.0.2.256", VD_WRONG_FORM, ""},
    {&ipv4, "192.0.2.010", VD_WRONG_FORM, ""},
    {&ipv4, "192.0.2.1.5", VD_WRONG_FORM, ""},
    {&mask, "255.0.255.0", VD_WRONG_FORM, "/24"},
    {&mask, "/33", VD_WRONG_FORM, ""},
    {&gateway, "224.0.0.1", VD_WRONG_FORM, "0.0.0.0 for none"},
    {&gateway, "127.0.0.1", VD_WRONG_FORM, ""},
    {&ipv6, "2001:db8", VD_WRONG_FORM, "2001:db8::7"},
    {&ipv6, "1::2::3", VD_WRONG_FORM, ""},
    {&ipv6, "12345::", VD_WRONG_FORM, ""},
    {&ipv6, "1:2:3:4:5:6:7:8:9", VD_WRONG_FORM, ""},
    {&ipv6, "1:2:3:4:5:6:7:", VD_WRONG_FORM, ""},
    {&ipv6, "fe80::1%eth0", VD_WRONG_FORM, ""},
    {&ipv6, "1:2:3:4:5:6:7:192.0.2.1", VD_WRONG_FORM, ""},
    {&host, "data_1.example.net", VD_WRONG_FORM, "data.example.net"},
    {&host, "-data.example", VD_WRONG_FORM, ""},
    {&host, "data..example", VD_WRONG_FORM, ""},
    {&host, "192.0.2.300", VD_WRONG_FORM, ""},
    {&host, "a-name-that-is-longer-than-this-unit-can-hold.example", VD_WRONG_FORM, "up to 40"},
    {&url, "data.example.net", VD_WRONG_FORM, "https://"},
    {&url, "https://data example.net", VD_WRONG_FORM, ""},
    {&url, "https://data.example.net:99999/", VD_WRONG_FORM, ""},
    {&phone, "+0 7700 900123", VD_WRONG_FORM, "country code"},
    {&phone, "12", VD_WRONG_FORM, ""},
    {&phone, "+44 7700 900123 4567", VD_WRONG_FORM, ""},
    {&phone, "0800-HONEY", VD_WRONG_FORM, ""},
    {&short_phone, "077009001", VD_WRONG_FORM, "3 to 8 digits, or of one less behind a +"},
    {&short_phone, "+44770090", VD_WRONG_FORM, "3 to 8 digits, or of one less behind a +"},
    {&apn, "rac.example", VD_WRONG_FORM, "internet.example"},
    {&apn, "internet.mnc001.gprs", VD_WRONG_FORM, ""},
    {&apn, "two words", VD_WRONG_FORM, ""},
    {&imei, "001010123456781", VD_CHECK_DIGIT, "the last digit is 0"},
    {&imei, "00101012345678", VD_WRONG_FORM, "15 digits"},
    {&iccid, "8944500000000000013", VD_CHECK_DIGIT, ""},
    {&iccid, "7944500000000000014", VD_WRONG_FORM, "from 89 on"},
    {&bytes, "123", VD_WRONG_FORM, "2 to 8 hexadecimal digits"},
    {&bytes, "", VD_WRONG_FORM, ""},
    {&bytes, "0102030405", VD_WRONG_FORM, ""},
    {&eui, "02005e10000000", VD_WRONG_FORM, "16 hexadecimal digits"},
    {&eui, "02-00-5G-10-00-00-00-01", VD_WRONG_FORM, ""},
    {&key, "hunter2", VD_SECRET_WRONG, "this cannot be the secret. Give 32 hex"},
    {&key, "00112233445566778899aabbccddeeff00", VD_SECRET_WRONG, "this cannot be the secret. Give 32 hex"},
    {&clock_time, "24:00", VD_WRONG_FORM, "a time of day, 00:00 to 23:59"},
    {&clock_time, "6", VD_WRONG_FORM, ""},
    {&clock_time, "13:00 pm", VD_WRONG_FORM, ""},
    {&clock_time, "06:30:15", VD_OFF_STEP, "06:30 and 06:31"},
    {&date, "2026-02-29", VD_WRONG_FORM, "2026-05-02"},
    {&date, "02.05.2026", VD_WRONG_FORM, ""},
    {&date, "26-05-02", VD_WRONG_FORM, ""},
    {&date, "2026-13-02", VD_WRONG_FORM, ""},
    {&date, "2026-00-02", VD_WRONG_FORM, ""},
    {&date, "2026-05-00", VD_WRONG_FORM, ""},
    {&date, "2026-05", VD_WRONG_FORM, ""},
    {&date, "2026-05-02x08:00", VD_WRONG_FORM, ""},
    {&date, "2026-05-02 08", VD_WRONG_FORM, ""},
    {&date, "2026-05-02 08:00 sharp", VD_WRONG_FORM, ""},
    {&date, "2026-05-02 08:00:6", VD_WRONG_FORM, ""},
    {&date, "1999-12-31", VD_OUT_OF_RANGE, "2000-01-01"},
    {&zone, "+01:07", VD_OFF_STEP, "+01:00 and +01:15"},
    {&zone, "1", VD_WRONG_FORM, "+01:00"},
    {&zone, "+15", VD_WRONG_FORM, ""},
    {&zone, "+1:3", VD_WRONG_FORM, ""},
    {&zone, "+1:75", VD_WRONG_FORM, ""},
    {&zone, "+one", VD_WRONG_FORM, ""},
    {&zone, "utc+1 summer", VD_WRONG_FORM, ""},
    {&position, "91, 0", VD_WRONG_FORM, "latitude, longitude"},
    {&position, "1.00000004, 1", VD_WRONG_FORM, "at most seven decimals"},
    {&position, "1, 1.123456789", VD_WRONG_FORM, "at most seven decimals"},
    {&position, "999999999999, 1", VD_WRONG_FORM, ""},
    {&position, "1, 999999999999 W", VD_WRONG_FORM, ""},
    {&position,
     "52.5\xC2\xB0"
     "30' N, 1",
     VD_WRONG_FORM, ""},
    {&position, "-5 S, 1", VD_WRONG_FORM, ""},
    {&date, "0999-01-01", VD_WRONG_FORM, ""},
    {&position, "52.5", VD_WRONG_FORM, ""},
    {&position, "0, 181", VD_WRONG_FORM, ""},
    {&position, "52deg 61' N, 13 E", VD_WRONG_FORM, ""},
    {&position, "52deg 30 N, 13 E", VD_WRONG_FORM, ""},
    {&position, "52deg 30' 61\" N, 13 E", VD_WRONG_FORM, ""},
    {&position, "52deg 30' 10 N, 13 E", VD_WRONG_FORM, ""},
    {&position, "-5 S, 13 E", VD_WRONG_FORM, ""},
    {&position, "1234567890123456789, 0", VD_WRONG_FORM, ""},
    {&position, "north, east", VD_WRONG_FORM, ""},
    {&position, "52.5163 N, 13.3777 N", VD_WRONG_FORM, ""},
};

static void test_what_is_refused(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(bad); i++) {
        char words[512];
        vd_typed typed;
        vd_fault fault = {0};
        vd_status status = vd_setting_parse(bad[i].setting, bad[i].typed, strlen(bad[i].typed), &typed, &fault);
        if (status == VD_OK) {
            status = vd_setting_check(bad[i].setting, &typed.value, &fault);
        }
        vd_fault_words(&fault, true, words, sizeof words);
        if (status != bad[i].status || strstr(words, bad[i].words) == NULL) {
            fail_msg("\"%s\" gave %d: %s", bad[i].typed, (int)status, words);
        }
        assert_ptr_equal(fault.setting, bad[i].setting);
    }
}

/* What a unit may hold although no clock, no calendar and no choice has it is shown as what it is. */
static void test_what_cannot_be(void **state)
{
    static const struct {
        const vd_setting *setting;
        int64_t number;
        const char *printed;
    } strange[] = {{&clock_time, -1, "unknown time -1"},
                   {&clock_time, 86400, "unknown time 86400"},
                   {&clock_time, INT64_MIN, "unknown time -9223372036854775808"},
                   {&date, INT64_MAX, "unknown date 9223372036854775807"},
                   {&date, INT64_MIN, "unknown date -9223372036854775808"},
                   {&zone, 900, "unknown offset 900"},
                   {&zone, INT64_MIN, "unknown offset -9223372036854775808"},
                   {&flags, (int64_t)1 << 40, "unknown 10000000000"},
                   {&duration, -90000, "-1 min 30 s"},
                   {&duration, INT64_MIN, "-106751991167 d 7 h 12 min 55.807 s"}};
    (void)state;
    for (size_t i = 0; i < sizeof strange / sizeof strange[0]; i++) {
        char printed[80];
        vd_value value = {.type = strange[i].setting->traits->id, .number = strange[i].number};
        vd_writer writer = vd_writer_start(printed, sizeof printed);
        vd_value_print(strange[i].setting, &value, &writer);
        assert_string_equal(printed, strange[i].printed);
        assert_int_not_equal(vd_setting_check(strange[i].setting, &value, NULL), VD_OK);
    }
}

/* Every count of a range, printed and parsed, is itself again. */
static void test_every_count_survives(void **state)
{
    (void)state;
    const vd_setting *settings[] = {&integer, &stepped, &scaled, &duration, &clock_time, &zone};
    for (size_t s = 0; s < G_N_ELEMENTS(settings); s++) {
        for (int64_t count = settings[s]->min; count <= MIN(settings[s]->max, 20000); count += settings[s]->step) {
            char printed[64];
            const vd_meaning meaning = vd_setting_meaning(settings[s]);
            vd_value value = vd_value_from_count(&meaning, count);
            vd_typed parsed;
            vd_writer writer = vd_writer_start(printed, sizeof printed);
            int64_t again = 0;
            vd_value_print(settings[s], &value, &writer);
            assert_int_equal(vd_setting_parse(settings[s], printed, strlen(printed), &parsed, NULL), VD_OK);
            assert_int_equal(vd_setting_check(settings[s], &parsed.value, NULL), VD_OK);
            assert_int_equal(vd_value_to_count(&meaning, &parsed.value, &again, NULL), VD_OK);
            assert_int_equal(again, count);
        }
    }
}

/* Every day of eight centuries, and every type fed with bytes of all kinds: nothing is printed that is not taken back.
 */
static void test_days_and_rubbish(void **state)
{
    static const vd_setting *const all[] = {
        &scaled,   &call_sign, &plate, &luhn, &mod_97, &integer,    &stepped, &truth, &choice,  &flags, &text,
        &capitals, &duration,  &port,  &ipv4, &mask,   &gateway,    &ipv6,    &host,  &url,     &phone, &apn,
        &imei,     &iccid,     &bytes, &eui,  &key,    &clock_time, &date,    &zone,  &position};
    static const char alphabet[] = "0123456789abcdefABCDEF:.-+/ ,;()NSEWxkmgsin\xC2\xB0'\"";
    uint32_t random = 1;
    (void)state;
    for (int64_t day = -146097; day < 146097; day++) {
        char printed[64];
        vd_value value = {.type = VD_DATE_TIME, .number = day * 86400 + 3599};
        vd_typed again;
        vd_writer writer = vd_writer_start(printed, sizeof printed);
        vd_value_print(&date, &value, &writer);
        assert_int_equal(vd_setting_parse(&date, printed, strlen(printed), &again, NULL), VD_OK);
        assert_true(again.value.number == value.number);
    }
    for (int round = 0; round < 200000; round++) {
        char typed[24], printed[300];
        size_t length = 0;
        for (; length < sizeof typed - 1 && (random = random * 1664525u + 1013904223u) >> 28 != 0; length++) {
            typed[length] = alphabet[(random >> 8) % (sizeof alphabet - 1)];
        }
        const vd_setting *setting = all[(unsigned)round % G_N_ELEMENTS(all)];
        vd_typed value, again;
        vd_writer writer = vd_writer_start(printed, sizeof printed);
        if (vd_setting_parse(setting, typed, length, &value, NULL) == VD_OK &&
            vd_setting_check(setting, &value.value, NULL) == VD_OK) {
            vd_value_print(setting, &value.value, &writer);
            assert_int_equal(vd_setting_parse(setting, printed, strlen(printed), &again, NULL), VD_OK);
            assert_true(vd_value_equal(&value.value, &again.value));
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

/* The words of a fault fill in nothing but what it is noted with. */
static void test_words_mention_what_faults_take(void **state)
{
    static const struct {
        const char *takes, *places;
    } shapes[] = {{"PLAIN", ""},
                  {"ABOUT", "{setting}"},
                  {"VALUE", "{setting}{said}{allowed}"},
                  {"COUNTED", "{setting}{said}{allowed}{1}{2}"},
                  {"RULE", "{setting}{allowed}"},
                  {"SAID", "{said}"},
                  {"ALLOWED", "{allowed}"},
                  {"WORDS", "{said}{allowed}"},
                  {"PLACED", "{said}{allowed}"},
                  {"LIMIT", "{allowed}{1}"},
                  {"WANTED", "{said}{1}"},
                  {"NUMBER", "{1}"},
                  {"NUMBERS", "{1}{2}{3}"},
                  {"EXCHANGE", "{said}{allowed}{1}{2}{3}"}};
#define WORDS_OF(name, class, code, takes, what, next) {#name, #takes, what " " next},
    static const struct {
        const char *name, *takes, *words;
    } faults[] = {VD_FAULT_LIST(WORDS_OF)};
#undef WORDS_OF
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(faults); i++) {
        size_t shape = 0;
        while (strcmp(shapes[shape].takes, faults[i].takes) != 0) {
            assert_true(++shape < G_N_ELEMENTS(shapes));
        }
        for (const char *at = strchr(faults[i].words, '{'); at != NULL; at = strchr(at + 1, '{')) {
            char *place = g_strdup_printf("%.*s}", (int)strcspn(at, "|}"), at); /* nouns behind a number are its own */
            if (strstr(shapes[shape].places, place) == NULL) {
                fail_msg("%s mentions %s, and takes %s", faults[i].name, place, faults[i].takes);
            }
            g_free(place);
        }
    }
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
        vd_serial line = {.baud = 9600};
        assert_int_equal(vd_framing_parse(table[i].framing, &line), table[i].good);
        if (table[i].good) {
            assert_int_equal(vd_serial_character_bits(&line), table[i].bits);
        }
    }
    assert_int_equal(vd_serial_time(&(vd_serial){9600, 8, 'E', 1}, 8), 9167);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_what_people_type),
        cmocka_unit_test(test_what_is_refused),
        cmocka_unit_test(test_what_cannot_be),
        cmocka_unit_test(test_every_count_survives),
        cmocka_unit_test(test_days_and_rubbish),
        cmocka_unit_test(test_equal_is_exact),
        cmocka_unit_test(test_words_mention_what_faults_take),
        cmocka_unit_test(test_faults_stick_and_are_printable),
        cmocka_unit_test(test_lines),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
