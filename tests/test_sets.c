/* SPDX-License-Identifier: MIT
 * Sets of values and models: what a set keeps, dependent decimals, pairs, and models that contradict themselves. */
#include "fixtures.h"

#include "verdite/survey.h"

#include <stdlib.h>
#include <string.h>

static void test_factory_defaults(void **state)
{
    (void)state;
    vd_set set = new_set(sampler());
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
    vd_set set = new_set(sampler());
    vd_fault fault = {0};
    put(&set, "low", "20.25 kg");
    assert_int_equal(vd_set_check(&set, SAMPLER_LOW, &fault), VD_PLACES_NOT_KNOWN);
    put(&set, "places", "1");
    assert_int_equal(vd_set_check(&set, SAMPLER_LOW, NULL), VD_OFF_STEP);
    put(&set, "places", "2");
    put(&set, "high", "20.25");
    vd_fault_clear(&fault);
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 0, &fault), VD_FAILS);
    assert_string_equal(fault.allowed, "It is 20.25 kg, but must be below high, which is 20.25 kg.");
    assert_ptr_equal(fault.setting, &sampler()->settings[SAMPLER_LOW]);
    put(&set, "high", "20.26");
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 0, NULL), VD_HOLDS);
    /* what a unit does when its decimals change: the count stays, the value does not */
    put(&set, "places", "0");
    vd_set_reinterpret(&set);
    assert_string_equal(said(&set, "low"), "2025 kg");
    vd_set_forget(&set, SAMPLER_PLACES);
    vd_set_reinterpret(&set);
    assert_false(vd_set_knows(&set, SAMPLER_LOW));
    put(&set, "places", "2");
    put(&set, "level", "2 V"); /* what has decimals of its own stays what it is */
    vd_set_reinterpret(&set);
    assert_string_equal(said(&set, "level"), "2 V");
    free(set.memory);
}

/* Where the first setting hangs on another; and where one choice alone is named like a channel. */
static void test_the_first_and_the_only(void **state)
{
    static const char text[] =
        "verdite-model: 1\nmodel: peg\ntitle: Peg\nline: {baud: 9600, framing: 8E1}\n"
        "address: {from: 1, to: 9, factory: 1}\nidentify: {by: objects, maker: Quillmere, product: peg}\n"
        "times: {usual-reply: 6 ms, longest-reply: 250 ms}\ngroups: [{key: a, label: A}]\n"
        "channels: [{key: warm, label: Warm, reads: a.warm}]\nbefore-leaving:\n"
        "  - {label: Name, who: me, settings: [a.name, a.only]}\nsettings:\n"
        "  - {key: a.low, label: L, type: decimal, decimals-from: a.places, counts: [0, 9999], range: [0, 90], at: "
        "{register: 0}}\n"
        "  - {key: a.places, label: P, type: integer, range: [0, 3], default: 1, at: {register: 1}}\n"
        "  - {key: a.warm, label: W, type: decimal, unit: °C, decimals: 1, range: [0, 120], access: read-only, at: "
        "{register: 2}}\n"
        "  - {key: a.source, label: S, type: choice, choices: [{name: none}, {name: warm}], at: {register: 3}}\n"
        "  - {key: a.limit, label: L, type: decimal, like: a.source, decimals: 0, range: [0, 999], at: {register: 4}}\n"
        "  - {key: a.name, label: N, type: text, length: 8, at: {register: 5, words: 4}}\n"
        "  - {key: a.only, label: O, type: text, length: 8, when: a.source = warm, because: no, at: {register: 9, "
        "words: 4}}\n";
    vd_findings *findings = vd_findings_new("peg");
    vd_model_file *file = model_of_text(text, findings);
    (void)state;
    assert_non_null(file);
    const vd_model *model = vd_model_file_model(file);
    vd_set set = new_set(model);
    vd_meaning about;
    put(&set, "a.places", "2");
    put(&set, "a.low", "3.25");
    put(&set, "a.places", "1");
    vd_set_reinterpret(&set);
    assert_string_equal(said(&set, "a.low"), "32.5");
    put(&set, "a.source", "warm");
    assert_true(vd_set_meaning(&set, vd_model_find(model, "a.limit"), &about));
    assert_string_equal(about.measure, "°C");
    assert_int_equal(model->errand_count, 1);
    put(&set, "a.name", "Ling");
    assert_true(vd_errand_lacking(&set, &model->errands[0])); /* a.only counts, and is not known */
    put(&set, "a.only", "x");
    assert_false(vd_errand_lacking(&set, &model->errands[0]));
    put(&set, "a.source", "none");
    vd_set_forget(&set, vd_model_find(model, "a.only"));
    assert_false(vd_errand_lacking(&set, &model->errands[0])); /* it does not count */
    vd_set_forget(&set, vd_model_find(model, "a.name"));
    assert_true(vd_errand_lacking(&set, &model->errands[0]));
    free(set.memory);
    vd_model_file_free(file);
    vd_findings_free(findings);
}

#define LIKE_HEAD                                                                                                      \
    "verdite-model: 1\nmodel: peg\ntitle: Peg\nline: {baud: 9600, framing: 8E1}\n"                                     \
    "address: {from: 1, to: 9, factory: 1}\nidentify: {by: objects, maker: Quillmere, product: peg}\n"                 \
    "times: {usual-reply: 6 ms, longest-reply: 250 ms}\ngroups: [{key: a, label: A}]\n"                                \
    "channels: [{key: warm, label: Warm, reads: a.warm}, {key: press, label: Press, reads: a.press}]\nsettings:\n"     \
    "  - {key: a.warm, label: W, type: decimal, unit: °C, scale: 0.25, offset: -40, range: [-40, 120], access: "      \
    "read-only, at: {register: 0}}\n"                                                                                  \
    "  - {key: a.press, label: P, type: decimal, unit: bar, scale: 0.02, range: [0, 10], access: read-only, at: "      \
    "{register: 1}}\n"                                                                                                 \
    "  - {key: a.source, label: S, type: choice, choices: [{name: none}, {name: warm}, {name: press}], default: "      \
    "none, "                                                                                                           \
    "at: {register: 2}}\n"                                                                                             \
    "  - {key: a.limit, label: L, type: decimal, like: a.source, decimals: 0, range: [0, 999], default: 0, at: "       \
    "{register: 3}}\n"                                                                                                 \
    "  - {key: a.release, label: R, type: decimal, like: a.source, decimals: 0, range: [0, 999], at: {register: 4}}\n" \
    "rules:\n  - {severity: warning, must: "

/* What a setting is hangs on what another chooses: unit, scale, range; the count stays where the choice changes. */
static void test_what_is_like_another(void **state)
{
    static const struct {
        const char *source, *limit;
        vd_status status;
    } rows[] = {{"warm", "36.5 °C", VD_OK},
                {"warm", "36.5 C", VD_OK},
                {"warm", "36.5", VD_MEASURE_BARE},
                {"warm", "3 bar", VD_WRONG_MEASURE},
                {"warm", "36.6 °C", VD_OFF_STEP},
                {"warm", "121 °C", VD_OUT_OF_RANGE},
                {"press", "6.12 bar", VD_OK},
                {"press", "36.5 °C", VD_WRONG_MEASURE},
                {"press", "10.02 bar", VD_OUT_OF_RANGE},
                {"none", "999", VD_OK}};
    (void)state;
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file = model_of_text(LIKE_HEAD "a.limit > a.release or a.limit = 0}\n", findings);
    assert_non_null(file);
    vd_set set = new_set(vd_model_file_model(file));
    uint16_t limit = vd_model_find(set.model, "a.limit");
    put(&set, "a.limit", "36.5 °C");
    assert_int_equal(vd_set_check(&set, limit, NULL), VD_PLACES_NOT_KNOWN); /* of what is not known */
    for (size_t i = 0; i < G_N_ELEMENTS(rows); i++) {
        vd_fault fault = {0};
        put(&set, "a.source", rows[i].source);
        put(&set, "a.limit", rows[i].limit);
        if (vd_set_check(&set, limit, &fault) != rows[i].status) {
            fail_msg("%s of %s: %d", rows[i].limit, rows[i].source, (int)fault.status);
        }
        assert_true(fault.setting == NULL || fault.setting == &set.model->settings[limit]);
    }
    put(&set, "a.source", "warm");
    vd_value value = vd_set_from_count(&set, limit, 306);
    vd_set_put(&set, limit, &value);
    assert_string_equal(said(&set, "a.limit"), "36.50 °C");
    put(&set, "a.source", "press");
    vd_set_reinterpret(&set);
    assert_string_equal(said(&set, "a.limit"), "6.12 bar");
    put(&set, "a.release", "6 bar");
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 0, NULL), VD_HOLDS);
    put(&set, "a.source", "none");
    vd_set_reinterpret(&set);
    assert_string_equal(said(&set, "a.limit"), "306");
    free(set.memory);
    vd_model_file_free(file);
    assert_null(model_of_text(LIKE_HEAD "a.limit > 5 °C}\n", findings)); /* in which unit is not known before */
    vd_findings_free(findings);
}

/* What is not known never counts as kept; it is told where the set has a part in it. */
/* A clock in a zone: what it should show, whether it does, and what expressions make of it. */
static void test_what_time_it_is(void **state)
{
    static const struct {
        const char *zone, *clock;
        int64_t seconds; /* of the moment; 0: nobody told it */
        vd_ruling now_is;
        vd_comparison with_now;
        vd_ruling rule; /* that the clock is right */
    } cases[] = {{"+00:00", "2026-05-02 08:00:00", 1777708800, VD_HOLDS, VD_SAME, VD_HOLDS},
                 {"+00:00", "2026-05-02 08:00:03", 1777708800, VD_HOLDS, VD_SAME, VD_HOLDS},
                 {"+00:00", "2026-05-02 07:59:57", 1777708800, VD_HOLDS, VD_SAME, VD_HOLDS},
                 {"+00:00", "2026-05-02 08:00:04", 1777708800, VD_HOLDS, VD_DIFFERENT, VD_HOLDS},
                 {"+05:45", "2026-05-02 13:45:00", 1777708800, VD_HOLDS, VD_SAME, VD_HOLDS},
                 {"+05:45", "2026-05-02 08:00:00", 1777708800, VD_HOLDS, VD_DIFFERENT, VD_FAILS},
                 {"-03:30", "2026-05-02 04:30:00", 1777708800, VD_HOLDS, VD_SAME, VD_HOLDS},
                 {"", "2026-05-02 08:00:00", 1777708800, VD_NOT_KNOWN, VD_DIFFERENT, VD_NOT_KNOWN},
                 {"+00:00", "2026-05-02 08:00:00", 0, VD_NOT_KNOWN, VD_DIFFERENT, VD_NOT_KNOWN}};
    (void)state;
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file = vd_model_file_load(source_path("tests/units/foghorn.yaml"), findings);
    assert_non_null(file);
    const vd_model *model = vd_model_file_model(file);
    uint16_t clock = vd_model_find(model, "time.clock");
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        vd_set unit = new_set(model), wanted = new_set(model);
        vd_moment moment = {.seconds = cases[i].seconds, .known = cases[i].seconds > 0};
        int64_t shows = 0;
        put(&unit, "time.clock", cases[i].clock);
        put(&wanted, "time.clock", "Now");
        assert_string_equal(said(&wanted, "time.clock"), "now");
        if (cases[i].zone[0] != '\0') {
            put(&unit, "time.zone", cases[i].zone);
            put(&wanted, "time.zone", cases[i].zone);
        }
        vd_set_tell_time(&unit, &moment);
        vd_set_tell_time(&wanted, &moment);
        assert_int_equal(vd_set_check(&wanted, clock, NULL), VD_OK);
        assert_int_equal(vd_set_now(&wanted, clock, &shows), cases[i].now_is == VD_HOLDS);
        assert_int_equal(vd_set_compare(&unit, &wanted, clock), cases[i].with_now);
        assert_int_equal(vd_set_compare(&wanted, &unit, clock), cases[i].with_now);
        assert_int_equal(vd_rule_judge(&unit, NULL, 1, 0, NULL), cases[i].rule);
        assert_int_equal(vd_rule_judge(&wanted, NULL, 1, 0, NULL),
                         cases[i].now_is == VD_HOLDS ? VD_HOLDS : VD_NOT_KNOWN); /* what is to show the time will */
        free(unit.memory);
        free(wanted.memory);
    }
    vd_model_file_free(file);
    vd_findings_free(findings);
}

static void test_rule_half_known(void **state)
{
    (void)state;
    vd_set set = new_set(sampler());
    vd_survey survey;
    vd_fault fault = {0};
    vd_survey_start(&survey, &set, NULL);
    assert_false(vd_survey_next(&survey, &fault)); /* of nothing there is nothing to say */
    put(&set, "places", "1");
    put(&set, "high", "30");
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 0, NULL), VD_NOT_KNOWN);
    vd_survey_start(&survey, &set, NULL);
    assert_true(vd_survey_next(&survey, &fault));
    assert_int_equal(fault.status, VD_RULE_NOT_KNOWN);
    assert_string_equal(fault.allowed, "low");
    assert_int_equal(survey.rule, 0);
    assert_false(vd_survey_next(&survey, &fault));
    free(set.memory);
}

static void test_comparison_and_overlay(void **state)
{
    (void)state;
    vd_set a = new_set(sampler()), b = new_set(sampler());
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
    size_t size = vd_set_size(sampler());
    uint64_t *memory = malloc(size + 16);
    vd_set set;
    memset(memory, 0xA5, size + 16);
    assert_int_equal(vd_set_start(&set, sampler(), memory + 1, size - 1), VD_MEMORY_TOO_SMALL);
    assert_int_equal(vd_set_start(&set, sampler(), memory + 1, size), VD_OK);
    vd_set_put_initial(&set);
    put(&set, "name", "abcde");
    assert_int_equal(memory[0], 0xA5A5A5A5A5A5A5A5u);
    assert_memory_equal((uint8_t *)(memory + 1) + size, "\xA5\xA5\xA5\xA5\xA5\xA5\xA5\xA5", 8);
    free(memory);
}

typedef struct spoilt {
    vd_model model;
    vd_setting settings[SAMPLER_SETTINGS];
    vd_rule rules[2];
} spoilt;

static void only_when(vd_setting *setting, const char *when)
{
    static vd_setting_words words[4];
    static unsigned turn;
    vd_setting_words *own = &words[turn++ % 4];
    *own = *setting->words;
    own->when = when;
    setting->words = own;
    setting->conditional = true;
}

static void spoil(spoilt *m, unsigned how)
{
    vd_setting *s = m->settings;
    switch (how) {
    case 0: s[SAMPLER_ON].words = s[SAMPLER_COUNT].words; break;
    case 1: s[SAMPLER_ON].place.address = 106; break; /* overlaps the text */
    case 2: s[SAMPLER_SECRET].place.address = 117; break;
    case 3: s[SAMPLER_COUNT].max = 70000; break;
    case 4: s[SAMPLER_COUNT].initial = 501; break;
    case 5: m->rules[0].must = "low < level"; break; /* kilograms and volts */
    case 6: s[SAMPLER_PLACES].max = 12; break;
    case 7: m->model.store.order.address = 101; break;
    case 8:
        m->model.store.proof = VD_PROOF_BANK;
        m->model.store.bank_offset = 4;
        break;
    case 9: m->model.identify.serial_place.address = 400; break;
    case 10: m->model.reply.tries = 0; break;
    case 11: s[SAMPLER_PLACES].gives_places = false; break;
    case 12: m->rules[0].must = "low < hihg"; break;
    case 13: m->rules[0].say = "It is {low"; break;
    case 14: m->rules[0].must = "1 < 2"; break;
    case 15: m->rules[0].must = "high - low"; break;
    case 16: s[SAMPLER_NAME].initial = 9; break;
    case 17: s[SAMPLER_LEVEL].place.bits = 7, s[SAMPLER_LEVEL].place.low_bit = 10; break;
    case 18: only_when(&s[SAMPLER_ON], "level > 1 kg"); break;
    case 19:
        only_when(&s[SAMPLER_COUNT], "level > 1 V"), only_when(&s[SAMPLER_LEVEL], "count > 3");
        break; /* a circle */
    case 20: only_when(&s[SAMPLER_LEVEL], "level > 1 V"); break;
    case 21: /* a rule that contradicts the first one: no default can keep both */
        m->rules[1] = (vd_rule){.must = "high <= low"};
        m->model.rule_count = 2;
        break;
    default: s[SAMPLER_ON].placeholder = true, s[SAMPLER_ON].has_initial = false; break;
    }
}

static void count_complaint(void *about, const vd_fault *fault, uint16_t rule)
{
    (void)rule;
    *(unsigned *)about += fault->status != VD_OK && (fault->said[0] != '\0' || fault->allowed[0] != '\0');
}

/* What hangs on a condition is not known as long as nobody has worked the conditions out. */
static void test_models_that_were_not_prepared(void **state)
{
    (void)state;
    static uint64_t memory[4096];
    spoilt m = {.model = *sampler()};
    memcpy(m.settings, sampler()->settings, sizeof m.settings);
    m.model.settings = m.settings;
    m.model.book = NULL;
    m.settings[0].conditional = true;
    vd_set set;
    assert_int_equal(vd_set_start(&set, &m.model, memory, sizeof memory), VD_OK);
    assert_int_equal(vd_set_exists(&set, 0), VD_NOT_KNOWN);
    m.settings[0].conditional = false;
    assert_int_equal(vd_set_exists(&set, 0), VD_HOLDS);
}

static void test_models_that_contradict_themselves(void **state)
{
    static uint64_t room[4096];
    (void)state;
    for (unsigned i = 0; i <= 22; i++) {
        spoilt m = {.model = *sampler()};
        unsigned complaints = 0;
        vd_fault fault = {0};
        memcpy(m.settings, sampler()->settings, sizeof m.settings);
        m.rules[0] = sampler()->rules[0];
        m.model.settings = m.settings;
        m.model.rules = m.rules;
        m.model.book = NULL;
        spoil(&m, i);
        vd_status status =
            vd_model_prepare(&m.model, &vd_modbus_rtu_desk, room, sizeof room, count_complaint, &complaints, &fault);
        if (status == VD_OK || status != fault.status || complaints < 1) {
            fail_msg("spoilt model %u passed: %d, %u complaints", i, (int)status, complaints);
        }
    }
    /* everything that is wrong is told at once */
    spoilt m = {.model = *sampler()};
    unsigned complaints = 0;
    memcpy(m.settings, sampler()->settings, sizeof m.settings);
    m.rules[0] = sampler()->rules[0];
    m.model.settings = m.settings;
    m.model.rules = m.rules;
    for (unsigned i = 0; i <= 13; i++) {
        spoil(&m, i);
    }
    vd_model_prepare(&m.model, &vd_modbus_rtu_desk, room, sizeof room, count_complaint, &complaints, NULL);
    assert_true(complaints >= 9);
    vd_model model = *sampler();
    assert_int_equal(
        vd_model_prepare(&model, &vd_modbus_rtu_desk, room, vd_model_prepare_size(&model) - 1, NULL, NULL, NULL),
        VD_MEMORY_TOO_SMALL);
}

/* A unit that says less than it would have, had it run on, has restarted; more than can be says nothing. */
static void test_running_on(void **state)
{
    static const struct {
        vd_running_times run;
        vd_ruling ruling;
    } rows[] = {{{5000, 15000, 10000, 10000, 1000}, VD_HOLDS},
                {{5000, 14000, 10000, 10000, 1000}, VD_HOLDS}, /* whole seconds */
                {{5000, 3000, 10000, 10000, 1000}, VD_FAILS},
                {{5000, 60000, 10000, 10000, 1000}, VD_NOT_KNOWN},
                {{300000, 3840000, 3600000, 3600000, 1000}, VD_HOLDS}, /* a minute slow in an hour */
                {{0, 3540000, 3600000, 3600000, 1000}, VD_NOT_KNOWN},  /* slow, or restarted in the first minute */
                {{0, 3400000, 3600000, 3600000, 1000}, VD_FAILS},
                {{-1, 15000, 10000, 10000, 1000}, VD_NOT_KNOWN},
                {{5000, -1, 10000, 10000, 1000}, VD_NOT_KNOWN},
                {{5000, 5000, -10000, -10000, 1000}, VD_NOT_KNOWN}, /* our own clock was set back */
                {{INT64_MAX, 0, 10000, 10000, 1000}, VD_NOT_KNOWN},
                /* Told in whole minutes, or hours: what seems not to have moved may only not have come to the next. */
                {{600000, 600000, 20000, 20000, 60000}, VD_HOLDS},
                {{600000, 0, 20000, 20000, 60000}, VD_FAILS},
                {{0, 0, 20000, 20000, 60000}, VD_NOT_KNOWN},
                {{3600000, 3600000, 20000, 20000, 3600000}, VD_NOT_KNOWN},
                {{1000, 2000, 1000, -1, 1000}, VD_HOLDS}, /* right behind a restart that was seen */
                {{30000, 1000, 60000, -1, 1000}, VD_FAILS},
                /* It cannot have been running for longer than since it was told to restart: one that stands still. */
                {{30000, 30000, 60000, 5000, 1000}, VD_NOT_KNOWN},
                {{30000, 4000, 60000, 5000, 1000}, VD_FAILS},
                {{30000, 90000, 60000, 5000, 1000}, VD_HOLDS}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(rows); i++) {
        assert_int_equal(vd_has_run_on(&rows[i].run), rows[i].ruling);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_factory_defaults),
        cmocka_unit_test(test_decimals_that_depend),
        cmocka_unit_test(test_the_first_and_the_only),
        cmocka_unit_test(test_what_is_like_another),
        cmocka_unit_test(test_what_time_it_is),
        cmocka_unit_test(test_rule_half_known),
        cmocka_unit_test(test_comparison_and_overlay),
        cmocka_unit_test(test_memory_is_as_large_as_said),
        cmocka_unit_test(test_running_on),
        cmocka_unit_test(test_models_that_were_not_prepared),
        cmocka_unit_test(test_models_that_contradict_themselves),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
