/* SPDX-License-Identifier: MIT
 * Values of every type: what is taken is printed, and what was printed is taken again as the same; the words of what is
 * refused are fit to be shown. Whatever a unit may hold is printed somehow. */
#include "input.h"

#define BASE .key = "it", .label = "", .help = "", .measure = "", .places_from = VD_NONE, .step = 1

static const vd_choice choices[] = {{"none", "", 0}, {"low", "", 1}, {"high", "", 2}, {"17", "", 17}};

/* One or more of each type. */
static const vd_setting settings[] = {
    {BASE, .type = VD_INTEGER, .min = -1000, .max = 100000},
    {BASE, .type = VD_INTEGER, .min = INT64_MIN, .max = INT64_MAX},
    {BASE, .type = VD_PORT, .min = 1, .max = 65535},
    {.key = "it",
     .label = "",
     .help = "",
     .measure = "kg",
     .places_from = VD_NONE,
     .step = 5,
     .type = VD_DECIMAL,
     .places = 2,
     .min = -20000,
     .max = 20000},
    {.key = "it",
     .label = "",
     .help = "",
     .measure = "°C",
     .places_from = VD_NONE,
     .step = 1,
     .type = VD_DECIMAL,
     .places = 9,
     .min = INT64_MIN,
     .max = INT64_MAX},
    {BASE, .type = VD_TRUTH, .max = 1},
    {BASE, .type = VD_CHOICE, .choices = choices, .choice_count = 4, .max = 17},
    {BASE, .type = VD_FLAGS, .choices = choices, .choice_count = 4, .max = 17},
    {BASE, .type = VD_TEXT, .length = 20},
    {BASE, .type = VD_TEXT, .length = 8, .alphabet = "A-Z0-9"},
    {BASE, .type = VD_DURATION, .tick = 100, .max = 36000},
    {BASE, .type = VD_DURATION, .tick = 1, .min = INT64_MIN, .max = INT64_MAX},
    {BASE, .type = VD_TIME_OF_DAY, .tick = 60, .max = 1439},
    {BASE, .type = VD_DATE_TIME, .min = 946684800, .max = 4102444799},
    {BASE, .type = VD_CLOCK, .zone_from = VD_NONE, .min = 946684800, .max = 4102444799, .tolerance = 2},
    {.key = "it",
     .label = "",
     .help = "",
     .measure = "km",
     .places_from = VD_NONE,
     .step = 1,
     .type = VD_COUNTER,
     .places = 1,
     .max = 99999999,
     .tolerance = 5},
    {BASE, .type = VD_ZONE, .tick = 15, .min = -48, .max = 56},
    {BASE, .type = VD_POSITION, .min = INT64_MIN, .max = INT64_MAX},
    {BASE, .type = VD_KEY, .least = 16, .length = 16},
    {BASE, .type = VD_KEY, .least = 16, .length = 16, .secret = true},
    {BASE, .type = VD_IPV4, .max = 0xFFFFFFFF},
    {BASE, .type = VD_MASK, .max = 0xFFFFFFFF},
    {BASE, .type = VD_GATEWAY, .max = 0xFFFFFFFF},
    {BASE, .type = VD_HOST, .length = 60},
    {BASE, .type = VD_APN, .length = 40},
    {BASE, .type = VD_PHONE, .length = 20},
    {BASE, .type = VD_BYTES, .length = 12},
    {BASE, .type = VD_IPV6, .least = 16, .length = 16},
    {BASE, .type = VD_URL, .length = 80},
    {BASE, .type = VD_IMEI, .least = 15, .length = 15},
    {BASE, .type = VD_ICCID, .least = 19, .length = 20},
    {BASE, .type = VD_IDENTIFIER, .least = 8, .length = 8},
};

static void judge_words(const vd_fault *fault)
{
    char words[512];
    vd_fault_words(fault, true, words, sizeof words);
    PROMISE(input_is_plain(words), "words: %s", words);
}

static void take(const vd_setting *about, const char *typed, size_t length)
{
    char printed[600], nearest[300];
    vd_typed value, again;
    vd_fault fault = {0};
    vd_writer to_nearest = vd_writer_start(nearest, sizeof nearest);
    vd_text_nearest(about, typed, length, &to_nearest);
    if (vd_value_parse(about, typed, length, &value, &fault) != VD_OK) {
        judge_words(&fault);
        return;
    }
    vd_writer writer = vd_writer_start(printed, sizeof printed);
    vd_value_print(about, &value.value, &writer);
    PROMISE(!writer.cut, "cut");
    vd_status status = vd_value_check(about, &value.value, about->places, &fault);
    if (status != VD_OK) {
        judge_words(&fault);
        return;
    }
    PROMISE(vd_value_parse(about, printed, writer.length, &again, NULL) == VD_OK, "printed as %s, not taken", printed);
    PROMISE(vd_value_equal(&value.value, &again.value), "printed as %s, taken as something else", printed);
    int64_t count = 0;
    if (!vd_type_is_bytes((vd_type)about->type) &&
        vd_value_to_count(about, &value.value, about->places, &count, NULL) == VD_OK) {
        vd_value back = vd_value_from_count(about, count, about->places);
        PROMISE(vd_value_equal(&value.value, &back), "%s is count %lld and back something else", printed,
                (long long)count);
    }
}

/* What a unit may hold, whatever it is. */
static void hold(const vd_setting *about, input *f)
{
    char printed[600];
    unsigned places = vd_type_is_placed((vd_type)about->type) ? input_number(f, 10) : 0;
    vd_value value = vd_value_from_count(about, input_long(f), places);
    vd_writer writer = vd_writer_start(printed, sizeof printed);
    vd_fault fault = {0};
    if (vd_type_is_bytes((vd_type)about->type) || value.type == VD_NOTHING) {
        return;
    }
    vd_value_print(about, &value, &writer);
    PROMISE(input_is_plain(printed), "printed");
    if (vd_value_check(about, &value, places, &fault) == VD_OK && about->type != VD_DATE_TIME &&
        about->type != VD_CLOCK) {
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
            any = any || settings[i].type == type;
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
