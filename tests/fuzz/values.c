/* SPDX-License-Identifier: MIT
 * Values of every type: what is taken is printed, and what was printed is taken again as the same; the words of what is
 * refused are fit to be shown. Whatever a unit may hold is printed somehow. */
#include "input.h"

#define BASE .words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""}, .measure = "", .step = 1

static const vd_choice choices[] = {{"none", "", 0}, {"low", "", 1}, {"high", "", 2}, {"17", "", 17}};

/* One or more of each type. */
static const vd_setting settings[] = {
    {BASE, .traits = &vd_type_integer, .min = -1000, .max = 100000},
    {BASE, .traits = &vd_type_integer, .min = INT64_MIN, .max = INT64_MAX},
    {BASE, .traits = &vd_type_port, .min = 1, .max = 65535},
    {.words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""},

     .measure = "kg",
     .step = 5,
     .traits = &vd_type_decimal,
     .places = 2,
     .min = -20000,
     .max = 20000},
    {.words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""},

     .measure = "°C",
     .step = 1,
     .traits = &vd_type_decimal,
     .places = 9,
     .min = INT64_MIN,
     .max = INT64_MAX},
    {BASE, .traits = &vd_type_truth, .max = 1},
    {BASE, .traits = &vd_type_choice, .choices = choices, .choice_count = 4, .max = 17},
    {BASE, .traits = &vd_type_flags, .choices = choices, .choice_count = 4, .max = 17},
    {BASE, .traits = &vd_type_text, .length = 20},
    {BASE, .traits = &vd_type_text, .length = 8, .alphabet = "A-Z0-9"},
    {BASE, .traits = &vd_type_duration, .tick = 100, .max = 36000},
    {BASE, .traits = &vd_type_duration, .tick = 1, .min = INT64_MIN, .max = INT64_MAX},
    {BASE, .traits = &vd_type_time_of_day, .tick = 60, .max = 1439},
    {BASE, .traits = &vd_type_date_time, .min = 946684800, .max = 4102444799},
    {BASE, .traits = &vd_type_clock, .min = 946684800, .max = 4102444799, .tolerance = 2},
    {.words = &(const vd_setting_words){"it", "", "", NULL, NULL, ""},

     .measure = "km",
     .step = 1,
     .traits = &vd_type_counter,
     .places = 1,
     .max = 99999999,
     .tolerance = 5},
    {BASE, .traits = &vd_type_zone, .tick = 15, .min = -48, .max = 56},
    {BASE, .traits = &vd_type_position, .min = INT64_MIN, .max = INT64_MAX},
    {BASE, .traits = &vd_type_key, .least = 16, .length = 16},
    {BASE, .traits = &vd_type_key, .least = 16, .length = 16, .secret = true},
    {BASE, .traits = &vd_type_ipv4, .max = 0xFFFFFFFF},
    {BASE, .traits = &vd_type_mask, .max = 0xFFFFFFFF},
    {BASE, .traits = &vd_type_gateway, .max = 0xFFFFFFFF},
    {BASE, .traits = &vd_type_host, .length = 60},
    {BASE, .traits = &vd_type_apn, .length = 40},
    {BASE, .traits = &vd_type_phone, .length = 20},
    {BASE, .traits = &vd_type_bytes, .length = 12},
    {BASE, .traits = &vd_type_ipv6, .least = 16, .length = 16},
    {BASE, .traits = &vd_type_url, .length = 80},
    {BASE, .traits = &vd_type_imei, .least = 15, .length = 15},
    {BASE, .traits = &vd_type_iccid, .least = 19, .length = 20},
    {BASE, .traits = &vd_type_identifier, .least = 8, .length = 8},
};

static void judge_words(const vd_fault *fault)
{
    char words[512];
    vd_fault_words(fault, true, words, sizeof words);
    PROMISE(input_is_plain(words), "words: %s", words);
}

static void take(const vd_setting *about, const char *typed, size_t length)
{
    const vd_meaning meaning = vd_setting_meaning(about);
    char printed[600], nearest[300];
    vd_typed value, again;
    vd_fault fault = {0};
    vd_writer to_nearest = vd_writer_start(nearest, sizeof nearest);
    vd_print_nearest(about, typed, length, &to_nearest);
    if (vd_value_parse(&meaning, typed, length, &value, &fault) != VD_OK) {
        judge_words(&fault);
        return;
    }
    vd_writer writer = vd_writer_start(printed, sizeof printed);
    vd_value_print(about, &value.value, &writer);
    PROMISE(!writer.cut, "cut");
    vd_status status = vd_value_check(&meaning, &value.value, &fault);
    if (status != VD_OK) {
        judge_words(&fault);
        return;
    }
    PROMISE(vd_value_parse(&meaning, printed, writer.length, &again, NULL) == VD_OK, "printed as %s, not taken",
            printed);
    PROMISE(vd_value_equal(&value.value, &again.value), "printed as %s, taken as something else", printed);
    int64_t count = 0;
    if (!vd_setting_is(about, VD_TYPE_BYTES) && vd_value_to_count(&meaning, &value.value, &count, NULL) == VD_OK) {
        vd_value back = vd_value_from_count(&meaning, count);
        PROMISE(vd_value_equal(&value.value, &back), "%s is count %lld and back something else", printed,
                (long long)count);
    }
}

/* What a unit may hold, whatever it is. */
static void hold(const vd_setting *about, input *f)
{
    char printed[600];
    vd_meaning meaning = vd_setting_meaning(about);
    meaning.places = (uint8_t)(vd_setting_is(about, VD_TYPE_PLACED) ? input_number(f, 10) : 0);
    vd_value value = vd_value_from_count(&meaning, input_long(f));
    vd_writer writer = vd_writer_start(printed, sizeof printed);
    vd_fault fault = {0};
    if (vd_setting_is(about, VD_TYPE_BYTES) || value.type == VD_NOTHING) {
        return;
    }
    vd_value_print(about, &value, &writer);
    PROMISE(input_is_plain(printed), "printed");
    if (vd_value_check(&meaning, &value, &fault) == VD_OK && about->traits->id != VD_DATE_TIME &&
        about->traits->id != VD_CLOCK) {
        take(about, printed, writer.length);
    } else {
        judge_words(&fault);
    }
}

/* No type is left out. */
static void judge_table(void)
{
    for (int type = VD_NOTHING + 1; type < VD_TYPE_COUNT; type++) {
        bool any = false;
        for (size_t i = 0; i < G_N_ELEMENTS(settings); i++) {
            any = any || settings[i].traits->id == type;
        }
        PROMISE(any, "type %s has no setting here", vd_type_title((vd_type)type));
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static bool judged;
    input f = {bytes, count};
    uint8_t which = input_byte(&f);
    if (!judged) {
        judge_table();
        judged = true;
    }
    const vd_setting *about = &settings[(which & 0x7F) % G_N_ELEMENTS(settings)];
    if ((which & 0x80) != 0) {
        hold(about, &f);
    } else {
        take(about, (const char *)f.at, f.left);
    }
    return 0;
}
