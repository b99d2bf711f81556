/* SPDX-License-Identifier: MIT
 * Models that a firmware engineer writes as constant data: one slip in a sound one, and what is said of it. No loader
 * stands between that would have refused it before. */
#include "fixtures.h"

#include <stddef.h>
#include <stdlib.h>
#include <string.h>

/* One number at one place of a setting, or of the model: little-endian, as every machine that runs these tests is. */
typedef struct changed {
    size_t at, size;
    int64_t number;
    const char *words; /* part of what is said */
} changed;

#define AT(type, field, number, words)                                                                                 \
    {                                                                                                                  \
        offsetof(type, field), sizeof(((type *)0)->field), number, words                                               \
    }
#define SET(field, number, words) AT(vd_setting, field, number, words)
#define OF(type, words) SET(traits, (intptr_t)&vd_type_##type, words)
#define ALL(field, number, words) AT(vd_model, field, number, words)

static const struct {
    unsigned setting;
    changed slip;
} in_settings[] = {
    {SAMPLER_COUNT, SET(traits, 0, "without a type")},
    {SAMPLER_COUNT, SET(words, 0, "without words")},
    {SAMPLER_COUNT, SET(conditional, true, "is conditional and has no condition")},
    {SAMPLER_COUNT, SET(group, 9, "has no type or no group")},
    {SAMPLER_COUNT, SET(step, 0, "a step below 1")},
    {SAMPLER_COUNT, SET(min, 501, "an empty range")},
    {SAMPLER_LEVEL, SET(places, 10, "too many decimals")},
    {SAMPLER_EVERY, SET(tick, 0, "a step below 1")},
    {SAMPLER_EVERY, SET(min, -1, "a range that is no duration")},
    {SAMPLER_EVERY, SET(max, INT64_MAX / 8, "a range that is no duration")},
    {SAMPLER_NAME, SET(length, 0, "a length that its type cannot have")},
    {SAMPLER_NAME, SET(least, 6, "a length that its type cannot have")},
    {SAMPLER_NAME, SET(length, 200, "a length that its type cannot have")},
    {SAMPLER_NAME, OF(ipv4, "mixes text and number")},
    {SAMPLER_NAME, SET(place.words, 2, "a wrong number of registers")},
    {SAMPLER_NAME, SET(place.bits, 3, "a wrong number of registers")},
    {SAMPLER_NAME, SET(place.form, VD_UNSIGNED, "mixes text and number")},
    {SAMPLER_NAME, SET(initial, 6, "a factory default of another type")},
    {SAMPLER_COUNT, SET(place.words, 3, "a wrong number of registers")},
    {SAMPLER_COUNT, SET(place.words, 0, "a wrong number of registers")},
    {SAMPLER_COUNT, SET(place.bits, 17, "does not lie inside one register")},
    {SAMPLER_COUNT, SET(place.bits, 3, "cannot hold")},
    {SAMPLER_COUNT, SET(place.address, 0xFFFF, NULL)}, /* the very last register is one */
    {SAMPLER_LOW, SET(place.address, 0xFFFF, "lies beyond the last register")},
    {SAMPLER_COUNT, SET(place.table, VD_INPUT, "nothing can be written")},
    {SAMPLER_COUNT, SET(place.table, VD_DISCRETE, "cannot hold")},
    {SAMPLER_ON, SET(place.table, VD_DISCRETE, "nothing can be written")},
    {SAMPLER_LOW, SET(place.table, VD_COIL, "a wrong number of registers")},
    {SAMPLER_COUNT, SET(place.address, 117, "lies in a hole")},
    {SAMPLER_LOW, SET(place.address, 115, "lies in a hole")},
    {SAMPLER_COUNT, SET(place.address, 1000, "the register that stores everything")},
    {SAMPLER_LOW, SET(place.address, 999, "the register that stores everything")},
    {SAMPLER_COUNT, SET(initial, 501, "a factory default that it would refuse")},
    {SAMPLER_SECRET, SET(placeholder, true, "a placeholder, but has no factory default")},
    {SAMPLER_MODE, SET(choice_count, 0, "choices without being a choice")},
    {SAMPLER_COUNT, SET(choice_count, 1, "choices without being a choice")},
    {SAMPLER_MODE, SET(max, 0, "a choice outside its range")},
    {SAMPLER_MODE, SET(min, 1, "a choice outside its range")},
    {SAMPLER_LOW, SET(places_from.number, 200, "takes its decimals from nowhere")},
    {SAMPLER_MODE, OF(flags, NULL)},
    {SAMPLER_LOW, OF(integer, "takes its decimals from nowhere")},
    {SAMPLER_LOW, SET(places_from.number, SAMPLER_COUNT + 1, "not a whole number of 0 to 9")},
    {SAMPLER_PLACES, SET(max, 10, "not a whole number of 0 to 9")},
    {SAMPLER_PLACES, SET(min, -1, "not a whole number of 0 to 9")},
    {SAMPLER_PLACES, SET(gives_places, false, "not a whole number of 0 to 9")},
    {SAMPLER_PLACES, SET(access, VD_READ_ONLY, "not a whole number of 0 to 9")},
    {SAMPLER_COUNT, SET(block.number, 1, "is not where its block says")},
};

static const changed in_model[] = {
    ALL(setting_count, 0, "has no settings"),
    ALL(line.baud, 0, "no line"),
    ALL(reply.tries, 0, "no reply limits"),
    ALL(reply.longest, 0, "no reply limits"),
    ALL(reply.longest, 4, "no reply limits"),
    ALL(identify.maker, 0, "how a unit is recognised"),
    ALL(identify.product, 0, "how a unit is recognised"),
    ALL(identify.serial_place.table, VD_INPUT, "scattered over two tables"),
    ALL(identify.serial_place.form, VD_UNSIGNED, "scattered over two tables"),
    ALL(identify.serial_place.address, 200, "no one request can read"),
    ALL(identify.firmware_place.words, 0, NULL), /* may be left out */
    ALL(store.proof, VD_PROOF_RESTART, "no action that restarts it"),
};

static unsigned wrong;

static void note(void *about, const vd_fault *fault, uint16_t rule)
{
    GString *said = about;
    char words[512];
    (void)rule;
    vd_fault_words(fault, true, words, sizeof words);
    g_string_append_printf(said, "%s\n", words);
}

/* `number` goes over what is there; of pointers only none. */
static void slip_in(void *whole, const changed *slip)
{
    memcpy((uint8_t *)whole + slip->at, &slip->number, slip->size < sizeof slip->number ? slip->size : 8);
}

static void judge(vd_model *model, const changed *slip, const char *about)
{
    GString *said = g_string_new("");
    size_t size = vd_model_prepare_size(model);
    void *memory = calloc(1, size);
    model->book = NULL;
    vd_status status = vd_model_prepare(model, &vd_modbus_rtu_desk, memory, size, note, said, NULL);
    bool fine = slip->words == NULL ? status == VD_OK : status != VD_OK && strstr(said->str, slip->words) != NULL;
    if (!fine) {
        print_error("%s, %zu bytes at %zu made %lld: status %d, \"%s\" in place of \"%s\"\n", about, slip->size,
                    slip->at, (long long)slip->number, status, said->str,
                    slip->words != NULL ? slip->words : "nothing");
        wrong++;
    }
    free(memory);
    g_string_free(said, TRUE);
}

static void test_slips_in_settings(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(in_settings); i++) {
        vd_model model = *sampler();
        vd_setting settings[SAMPLER_SETTINGS];
        memcpy(settings, model.settings, sizeof settings);
        model.settings = settings;
        slip_in(&settings[in_settings[i].setting], &in_settings[i].slip);
        judge(&model, &in_settings[i].slip, sampler()->settings[in_settings[i].setting].words->key);
    }
    assert_int_equal(wrong, 0);
}

static void test_slips_in_models(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(in_model); i++) {
        vd_model model = *sampler();
        slip_in(&model, &in_model[i]);
        judge(&model, &in_model[i], "the model");
    }
    assert_int_equal(wrong, 0);
}

static void test_rules_and_blocks_that_point_nowhere(void **state)
{
    (void)state;
    static const vd_spot nobody[] = {{VD_REF(SAMPLER_LOW), 0}, {VD_REF(SAMPLER_SETTINGS), 0}};
    static const changed rule = {.words = "blames a setting which is not there"},
                         block = {.words = "beyond its settings"};
    vd_model model = *sampler();
    vd_rule rules[] = {model.rules[0]};
    rules[0].blame = nobody;
    model.rules = rules;
    judge(&model, &rule, "a rule");
    const vd_block blocks[] = {{.key = "x", .label = "X", .first = SAMPLER_LOW, .count = 9, .members = 2}};
    model = *sampler();
    model.blocks = blocks;
    model.block_count = 1;
    judge(&model, &block, "a block");
    assert_int_equal(wrong, 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_slips_in_settings), cmocka_unit_test(test_slips_in_models),
                                       cmocka_unit_test(test_rules_and_blocks_that_point_nowhere)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
