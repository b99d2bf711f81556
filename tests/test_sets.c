/* SPDX-License-Identifier: MIT
 * Sets of values and models: what a set keeps, dependent decimals, pairs, and models that contradict themselves. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

static void test_factory_defaults(void **state)
{
    (void)state;
    vd_set set = new_set(&sampler);
    assert_string_equal(said(&set, "name"), "not known");
    vd_set_put_initial(&set);
    static const struct {
        const char *key, *value;
    } table[] = {{"count", "10"},    {"level", "0.00 V"}, {"on", "off"},       {"mode", "rest"},       {"name", "ling"},
                 {"every", "1 min"}, {"low", "18.0 kg"},  {"high", "65.0 kg"}, {"secret", "not known"}};
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        assert_string_equal(said(&set, table[i].key), table[i].value);
    }
    for (uint16_t i = 0; i < SAMPLER_READING; i++) {
        assert_int_equal(vd_set_check(&set, i, NULL), VD_OK);
    }
    assert_int_equal(vd_set_check(&set, SAMPLER_READING, NULL), VD_READ_ONLY_SETTING);
    free(set.memory);
}

static void test_decimals_that_depend(void **state)
{
    (void)state;
    vd_set set = new_set(&sampler);
    vd_fault fault = {0};
    put(&set, "low", "20.25 kg");
    assert_int_equal(vd_set_check(&set, SAMPLER_LOW, &fault), VD_PLACES_NOT_KNOWN);
    put(&set, "places", "1");
    assert_int_equal(vd_set_check(&set, SAMPLER_LOW, NULL), VD_OFF_STEP);
    put(&set, "places", "2");
    put(&set, "high", "20.25");
    assert_int_equal(vd_set_check(&set, SAMPLER_LOW, NULL), VD_PAIR_OUT_OF_ORDER);
    put(&set, "high", "20.26");
    assert_int_equal(vd_set_check(&set, SAMPLER_LOW, NULL), VD_OK);
    /* what a unit does when its decimals change: the count stays, the value does not */
    put(&set, "places", "0");
    vd_set_reinterpret(&set);
    assert_string_equal(said(&set, "low"), "2025 kg");
    vd_set_forget(&set, SAMPLER_PLACES);
    vd_set_reinterpret(&set);
    assert_false(vd_set_knows(&set, SAMPLER_LOW));
    free(set.memory);
}

static void test_pair_half_known(void **state)
{
    (void)state;
    vd_set set = new_set(&sampler);
    vd_fault fault = {0};
    put(&set, "places", "1");
    put(&set, "high", "30");
    assert_int_equal(vd_set_check(&set, SAMPLER_HIGH, &fault), VD_PAIR_NOT_KNOWN);
    assert_string_equal(fault.allowed, "low");
    free(set.memory);
}

static void test_comparison_and_overlay(void **state)
{
    (void)state;
    vd_set a = new_set(&sampler), b = new_set(&sampler);
    put(&a, "level", "1.5");
    put(&b, "level", "1.50");
    put(&a, "name", "moor");
    put(&b, "count", "20");
    assert_int_equal(vd_set_compare(&a, &b, SAMPLER_LEVEL), VD_SAME);
    assert_int_equal(vd_set_compare(&a, &b, SAMPLER_NAME), VD_ONLY_FIRST);
    assert_int_equal(vd_set_compare(&a, &b, SAMPLER_COUNT), VD_ONLY_SECOND);
    assert_int_equal(vd_set_compare(&a, &b, SAMPLER_ON), VD_IN_NEITHER);
    put(&b, "name", "moors");
    assert_int_equal(vd_set_compare(&a, &b, SAMPLER_NAME), VD_DIFFERENT);
    vd_set_overlay(&b, &a);
    assert_string_equal(said(&b, "name"), "moor");
    assert_string_equal(said(&b, "count"), "20");
    free(a.memory);
    free(b.memory);
}

/* A byte before and behind the memory must stay as it was. */
static void test_memory_is_as_large_as_said(void **state)
{
    (void)state;
    size_t size = vd_set_size(&sampler);
    uint64_t *memory = malloc(size + 16);
    vd_set set;
    memset(memory, 0xA5, size + 16);
    assert_int_equal(vd_set_start(&set, &sampler, memory + 1, size - 1), VD_MEMORY_TOO_SMALL);
    assert_int_equal(vd_set_start(&set, &sampler, memory + 1, size), VD_OK);
    vd_set_put_initial(&set);
    put(&set, "name", "abcde");
    assert_int_equal(memory[0], 0xA5A5A5A5A5A5A5A5u);
    assert_memory_equal((uint8_t *)(memory + 1) + size, "\xA5\xA5\xA5\xA5\xA5\xA5\xA5\xA5", 8);
    free(memory);
}

typedef void spoil(vd_model *model, vd_setting *settings, vd_pair *pair);

static void spoil_key(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)m, (void)p;
    s[SAMPLER_ON].key = "count";
}
static void spoil_overlap(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)m, (void)p;
    s[SAMPLER_ON].place.address = 106;
}
static void spoil_hole(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)m, (void)p;
    s[SAMPLER_SECRET].place.address = 117;
}
static void spoil_range(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)m, (void)p;
    s[SAMPLER_COUNT].max = 70000;
}
static void spoil_default(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)m, (void)p;
    s[SAMPLER_COUNT].initial = 501;
}
static void spoil_pair(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)m, (void)s;
    p->high = SAMPLER_LEVEL;
}
static void spoil_places(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)m, (void)p;
    s[SAMPLER_PLACES].max = 12;
}
static void spoil_store(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)s, (void)p;
    m->store.address = 101;
}
static void spoil_bank(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)s, (void)p;
    m->store.proof = VD_PROOF_BANK;
    m->store.bank_offset = 4;
}
static void spoil_identity(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)s, (void)p;
    m->identify.serial_place.address = 400;
}
static void spoil_tries(vd_model *m, vd_setting *s, vd_pair *p)
{
    (void)s, (void)p;
    m->reply.tries = 0;
}

static void test_models_that_contradict_themselves(void **state)
{
    static spoil *const table[] = {spoil_key,    spoil_overlap, spoil_hole, spoil_range,    spoil_default, spoil_pair,
                                   spoil_places, spoil_store,   spoil_bank, spoil_identity, spoil_tries};
    (void)state;
    assert_int_equal(vd_model_check(&sampler, NULL), VD_OK);
    assert_int_equal(vd_model_check(dowel(), NULL), VD_OK);
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        vd_setting settings[SAMPLER_SETTINGS];
        vd_pair pair = sampler.pairs[0];
        vd_model model = sampler;
        vd_fault fault = {0};
        memcpy(settings, sampler.settings, sizeof settings);
        model.settings = settings;
        model.pairs = &pair;
        table[i](&model, settings, &pair);
        if (vd_model_check(&model, &fault) != VD_MODEL_INCONSISTENT || fault.said[0] == '\0') {
            fail_msg("spoilt model %zu passed: %s", i, fault.said);
        }
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_factory_defaults),
        cmocka_unit_test(test_decimals_that_depend),
        cmocka_unit_test(test_pair_half_known),
        cmocka_unit_test(test_comparison_and_overlay),
        cmocka_unit_test(test_memory_is_as_large_as_said),
        cmocka_unit_test(test_models_that_contradict_themselves),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
