/* SPDX-License-Identifier: MIT
 * Which registers go into which request, held against all possible ways to cut. */
#include "fixtures.h"
#include "verdite/registers.h"
#include "verdite/talk.h"

#include <stdlib.h>
#include <string.h>

#define MOST 14u

typedef struct layout {
    vd_setting settings[300];
    vd_model model;
    uint16_t blame[2];
    char must[24];
    vd_rule rule;
    uint64_t book[8192];
    vd_hole hole;
    uint16_t order[300], next[300];
    uint32_t cost[301];
    uint8_t which[300];
    char keys[300][8];
    vd_setting_words words[300];
    vd_plan plan;
} layout;

static uint32_t random_state = 1;

static uint32_t roll(uint32_t sides)
{
    random_state = random_state * 1664525u + 1013904223u;
    return (random_state >> 8) % sides;
}

static void lay_out(layout *l, uint16_t count, uint16_t most_gap)
{
    uint16_t address = 0;
    memset(l, 0, sizeof *l);
    for (uint16_t i = 0; i < count; i++) {
        uint8_t words = (uint8_t)(1 + roll(2));
        address = (uint16_t)(address + roll(most_gap + 1u));
        g_snprintf(l->keys[i], sizeof l->keys[i], "s%u", i);
        l->words[i] = vd_no_words;
        l->words[i].key = l->keys[i];
        l->settings[i] = (vd_setting){.words = &l->words[i],
                                      .traits = &vd_type_integer,
                                      .measure = "",
                                      .max = 1,
                                      .step = 1,
                                      .tick = 1,
                                      .place = {VD_HOLDING, VD_UNSIGNED, 0, words, address, 0, 0}};
        address = (uint16_t)(address + words);
        l->which[i] = 1;
    }
    l->model = (vd_model){.language = &vd_modbus_rtu,
                          .key = "plan",
                          .settings = l->settings,
                          .setting_count = count,
                          .rules = &l->rule,
                          .holes = &l->hole};
    l->plan = (vd_plan){.order = l->order, .next = l->next, .cost = l->cost};
}

/* A rule that the unit enforces between a setting and the next. */
static void bind(layout *l, uint16_t low)
{
    static const vd_group group = {"all", "All"};
    g_snprintf(l->must, sizeof l->must, "s%u <= s%u", low, low + 1u);
    l->rule = (vd_rule){.must = l->must, .enforced = VD_ENFORCED_WRITING};
    l->model.rule_count = 1;
    l->model.groups = &group;
    l->model.group_count = 1;
    l->model.line = (vd_serial){9600, 8, 'N', 1};
    l->model.reply = (vd_reply){.tries = 1, .longest = 1};
    l->model.identify = (vd_identify){.maker = "", .product = ""};
    assert_int_equal(vd_model_prepare(&l->model, &vd_modbus_rtu_desk, l->book, sizeof l->book, NULL, NULL, NULL),
                     VD_OK);
}

static bool touches_hole(const layout *l, uint32_t from, uint32_t end)
{
    return l->model.hole_count > 0 && from <= l->hole.last && end > l->hole.first;
}

/* The least cost by trying every set of cuts. */
static uint32_t least_cost(const layout *l, uint32_t overhead, uint32_t each)
{
    uint32_t best = UINT32_MAX, count = l->model.setting_count;
    for (uint32_t cuts = 0; cuts < 1u << (count - 1); cuts++) {
        uint32_t cost = 0, from = 0;
        bool legal = true;
        for (uint32_t i = 0; i < count; i++) {
            if (i + 1 == count || (cuts >> i & 1u) != 0) {
                uint32_t first = l->settings[from].place.address,
                         end = l->settings[i].place.address + l->settings[i].place.words;
                legal = legal && end - first <= VD_MODBUS_MOST_READ && !touches_hole(l, first, end);
                cost += overhead + each * (end - first);
                from = i + 1;
            }
        }
        best = legal && cost < best ? cost : best;
    }
    return best;
}

static void test_reads_take_the_least_time(void **state)
{
    (void)state;
    for (int round = 0; round < 60; round++) {
        layout l;
        uint16_t count = (uint16_t)(2 + roll(MOST - 2));
        lay_out(&l, count, (uint16_t)(round % 3 == 0 ? 60 : 14));
        if (round % 2 == 0) { /* a hole in one of the gaps, if there is one */
            for (uint16_t i = 1; i < count; i++) {
                uint32_t end = l.settings[i - 1].place.address + l.settings[i - 1].place.words;
                if (l.settings[i].place.address > end) {
                    l.hole = (vd_hole){VD_HOLDING, (uint16_t)end, (uint16_t)end};
                    l.model.hole_count = 1;
                }
            }
        }
        vd_modbus_plan_read(&l.plan, &l.model, l.which, false, 25000, 2292);
        uint32_t cost = 0, at = 0;
        while (at < l.plan.count) {
            vd_place span;
            uint16_t registers = 0;
            vd_modbus_plan_request(&l.plan, &l.model, (uint16_t)at, &span, &registers);
            assert_true(registers >= 1 && registers <= VD_MODBUS_MOST_READ);
            assert_false(touches_hole(&l, span.address, (uint32_t)span.address + registers));
            cost += 25000 + 2292u * registers;
            at = l.next[at];
        }
        assert_int_equal(cost, least_cost(&l, 25000, 2292));
    }
}

/* Writes hold exactly the registers that change, no request could be joined with the next, and no pair is parted. */
static void test_writes_touch_only_what_changes(void **state)
{
    (void)state;
    for (int round = 0; round < 100; round++) {
        layout l;
        lay_out(&l, 300, (uint16_t)(round % 3));
        for (uint16_t i = 0; i < 300; i++) {
            l.which[i] = round % 5 == 0 ? 1 : roll(4) != 0;
        }
        uint16_t low = (uint16_t)roll(299);
        bind(&l, low);
        l.settings[7].gives_places = true; /* so 7 goes first, alone */
        l.which[7] = 1;
        vd_modbus_plan_write(&l.plan, &l.model, l.which);
        uint32_t written = 0, wanted = 0;
        assert_int_equal(l.order[0], 7);
        assert_int_equal(l.next[0], 1);
        for (uint32_t at = 0; at < l.plan.count; at = l.next[at]) {
            vd_place span;
            uint16_t registers = 0;
            vd_modbus_plan_request(&l.plan, &l.model, (uint16_t)at, &span, &registers);
            uint32_t sum = 0;
            for (uint32_t i = at; i < l.next[at]; i++) {
                assert_int_equal(l.which[l.order[i]], 1);
                sum += l.settings[l.order[i]].place.words;
            }
            assert_int_equal(sum, registers); /* nothing in between */
            assert_true(registers <= VD_MODBUS_MOST_WRITE);
            written += l.next[at] - at;
            bool parts = l.next[at] < l.plan.count && l.order[l.next[at] - 1] == low && l.order[l.next[at]] == low + 1;
            bool apart =
                l.settings[low].place.address + l.settings[low].place.words != l.settings[low + 1].place.address;
            assert_true(!parts || apart || low == 7 || low + 1 == 7);
        }
        for (uint16_t i = 0; i < 300; i++) {
            wanted += l.which[i];
        }
        assert_int_equal(written, wanted);
    }
}

/* What goes over the wire for each kind of value, and back. */
/* The number of decimals, the first setting, and what gets it from there go out at once where nothing lies between;
 * else the decimals go first, and that something else is meant for a moment is known before. */
static void test_decimals_with_what_hangs_on_them(void **state)
{
    (void)state;
    static const struct {
        const char *gaps;     /* registers that are free before each */
        const char *hangs;    /* '1': it gets its decimals from the first */
        const char *written;  /* '1': it is to be written */
        const char *requests; /* where a new request starts, in the order in which they go out */
        bool at_once;
    } cases[] = {{"0000", "0111", "1111", "0", true},   {"0000", "0110", "1111", "03", true},
                 {"0010", "0111", "1111", "02", false}, {"0000", "0111", "1101", "03", false},
                 {"0000", "0111", "0111", "1", true},   {"0000", "0011", "1111", "01", false},
                 {"0000", "0100", "1000", "0", true}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        layout l;
        char starts[8] = "";
        lay_out(&l, 4, 0);
        unsigned address = 0;
        for (uint16_t k = 0; k < 4; k++) {
            address += (unsigned)(cases[i].gaps[k] - '0');
            l.settings[k].place.address = (uint16_t)address;
            address += l.settings[k].place.words;
            l.settings[k].places_from = vd_ref_to(cases[i].hangs[k] == '1' ? 0 : VD_NONE);
            l.which[k] = cases[i].written[k] == '1';
        }
        l.settings[0].gives_places = true;
        vd_modbus_plan_write(&l.plan, &l.model, l.which);
        for (uint16_t r = 0; r < l.plan.requests; r++) {
            g_snprintf(starts + r, sizeof starts - r, "%u", l.plan.order[l.plan.cost[r]]);
        }
        assert_string_equal(starts, cases[i].requests);
        assert_int_equal(vd_talk_rescales_at_once(&l.model, l.which, 0), cases[i].at_once);
    }
}

static void test_values_in_registers(void **state)
{
    static const struct {
        vd_place place;
        int64_t count;
        uint16_t registers[4];
    } table[] = {
        {{VD_HOLDING, VD_UNSIGNED, 0, 1, 0, 0, 0}, 65535, {0xFFFF, 0}},
        {{VD_HOLDING, VD_SIGNED, 0, 1, 0, 0, 0}, -1, {0xFFFF, 0}},
        {{VD_HOLDING, VD_SIGNED, 0, 1, 0, 0, 0}, -32768, {0x8000, 0}},
        {{VD_HOLDING, VD_UNSIGNED, VD_HIGH_FIRST, 2, 0, 0, 0}, 0x12345678, {0x1234, 0x5678}},
        {{VD_HOLDING, VD_UNSIGNED, VD_LOW_FIRST, 2, 0, 0, 0}, 0x12345678, {0x5678, 0x1234}},
        {{VD_HOLDING, VD_UNSIGNED, VD_LOW_FIRST, 2, 0, 0, 0}, 4294967295, {0xFFFF, 0xFFFF}},
        {{VD_HOLDING, VD_SIGNED, VD_HIGH_FIRST, 2, 0, 0, 0}, -2, {0xFFFF, 0xFFFE}},
        {{VD_HOLDING, VD_SIGNED, VD_LOW_FIRST, 2, 0, 0, 0}, -2147483648, {0x0000, 0x8000}},
        {{VD_HOLDING, VD_UNSIGNED, VD_HIGH_FIRST, 4, 0, 0, 0}, -2, {0xFFFF, 0xFFFF, 0xFFFF, 0xFFFE}},
        {{VD_HOLDING, VD_UNSIGNED, VD_LOW_FIRST, 4, 0, 0, 0}, 0x123456789ABCDEF0, {0xDEF0, 0x9ABC, 0x5678, 0x1234}},
        {{VD_HOLDING, VD_UNSIGNED, 0, 1, 0, 4, 3}, 5, {0x0050}},
        {{VD_HOLDING, VD_SIGNED, 0, 1, 0, 12, 4}, -8, {0x8000}},
    };
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        uint16_t registers[4] = {0};
        vd_registers_put_count(&table[i].place, table[i].count, registers);
        assert_memory_equal(registers, table[i].registers, sizeof registers);
        assert_true(vd_registers_take_count(&table[i].place, registers) == table[i].count);
    }
    uint16_t other = 0xFFFF; /* the bits of others stay */
    vd_registers_put_count(&(vd_place){.words = 1, .low_bit = 4, .bits = 3}, 0, &other);
    assert_int_equal(other, 0xFF8F);
    vd_set set = new_set(sampler());
    uint16_t name[3] = {0x6F61, 0x6B20, 0x2000};
    vd_registers_take(&set, SAMPLER_NAME, name);
    assert_string_equal(said(&set, "name"), "oak");
    vd_registers_put(&set, SAMPLER_NAME, name, NULL);
    assert_int_equal(name[1], 0x6B00);
    name[0] = 0x1B5B; /* what would steer a terminal is never printed */
    vd_registers_take(&set, SAMPLER_NAME, name);
    assert_string_equal(said(&set, "name"), "?[k");
    free(set.memory);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_reads_take_the_least_time),
        cmocka_unit_test(test_writes_touch_only_what_changes),
        cmocka_unit_test(test_decimals_with_what_hangs_on_them),
        cmocka_unit_test(test_values_in_registers),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
