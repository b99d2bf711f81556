/* SPDX-License-Identifier: MIT
 * Searching on a simulated line: who is found, in which order and bounded time, whatever happens meanwhile. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

#define MOST 32u

typedef struct hunt {
    vd_bench bench;
    vd_bench_adapter adapters[2];
    vd_bench_unit units[4];
    vd_set sets[4];
    vd_sim *sim;
    vd_port *ports[2];
    vd_search_storage searches[2];
    vd_search_plan plan;
    vd_found found[2][MOST];
    vd_lane lanes[2];
    vd_seat seats[2];
    vd_loop loop;
    const vd_model *models[2];
} hunt;

static void prepare(hunt *h)
{
    memset(h, 0, sizeof *h);
    h->models[0] = dowel();
    h->models[1] = sampler();
    h->bench = (vd_bench){"hunt", h->adapters, h->units, 0, 0, 2};
    h->plan = (vd_search_plan){.desks = vd_desks,
                               .models = h->models,
                               .model_count = 2,
                               .lines = &dowel()->line,
                               .line_count = 1,
                               .from = 1,
                               .to = 20,
                               .quick_limit = 60000,
                               .slow_limit = 260000,
                               .gap = 21000};
}

static vd_bench_unit *add_unit(hunt *h, const vd_model *model, uint16_t cable, const char *address, const char *serial)
{
    uint16_t at = h->bench.unit_count++;
    vd_bench_unit *unit = &h->units[at];
    h->sets[at] = new_set(model);
    vd_set_put_initial(&h->sets[at]);
    if (model == dowel()) {
        put(&h->sets[at], "line.address", address);
    }
    *unit = (vd_bench_unit){
        .name = "u", .model = model, .language = vd_unit_language_of(model), .initial = &h->sets[at], .cable = cable};
    g_strlcpy(unit->identity.maker, model->identify.maker, sizeof unit->identity.maker);
    g_strlcpy(unit->identity.product, model->identify.product, sizeof unit->identity.product);
    g_strlcpy(unit->identity.firmware, "1.4", sizeof unit->identity.firmware);
    g_strlcpy(unit->identity.serial, serial, sizeof unit->identity.serial);
    return unit;
}

static void start(hunt *h, uint16_t adapters)
{
    static const char *const names[] = {"a", "b"};
    for (uint16_t i = 0; i < adapters; i++) {
        h->adapters[i].name = names[i];
        h->adapters[i].label = "";
        h->adapters[i].cable = i;
        h->adapters[i].latency = 1000;
    }
    h->bench.adapter_count = adapters;
    h->sim = vd_sim_start(&h->bench);
    for (uint16_t i = 0; i < adapters; i++) {
        assert_int_equal(vd_sim_open(h->sim, names[i], &h->ports[i], NULL), VD_OK);
        h->lanes[i] = (vd_lane){.port = h->ports[i]};
        h->seats[i] = (vd_seat){.engine = &vd_search_engine, .self = vd_search_in(&h->searches[i]), .lane = i};
        vd_search_begin(vd_search_in(&h->searches[i]), 0, &h->plan, h->found[i], MOST);
    }
    h->loop = (vd_loop){&vd_sim_kind, vd_sim_ground(h->sim), h->lanes, h->seats, adapters, adapters, NULL, NULL};
}

/* Runs all searches to their end, or stops them after `stop_after` steps. */
static void run(hunt *h, unsigned stop_after)
{
    bool going = true;
    for (unsigned step = 1; going; step++) {
        assert_true(step < 3000000);
        going = false;
        for (size_t i = 0; i < h->loop.seat_count; i++) {
            vd_status status;
            if (step == stop_after) {
                vd_loop_feed(&h->loop, i, (vd_event){.kind = VD_STOP});
            }
            going = !vd_search_ended(vd_search_in(&h->searches[i]), &status) || going;
        }
        if (going) {
            assert_int_equal(vd_loop_step(&h->loop, vd_sim_now(h->sim) + 500000), VD_OK);
        }
    }
}

static void finish(hunt *h)
{
    vd_sim_end(h->sim);
    for (uint16_t i = 0; i < h->bench.unit_count; i++) {
        free(h->sets[i].memory);
    }
}

static void test_units_of_two_models_on_two_ports(void **state)
{
    (void)state;
    hunt *h = malloc(sizeof *h);
    vd_serial lines[2] = {dowel()->line, sampler()->line};
    prepare(h);
    h->plan.lines = lines;
    h->plan.line_count = 2;
    h->plan.every_line = true;
    add_unit(h, dowel(), 0, "3", "QD-3");
    add_unit(h, dowel(), 0, "12", "QD-12");
    add_unit(h, sampler(), 1, "", "S-17"); /* by registers, at its factory address 17, another speed */
    start(h, 2);
    run(h, 0);
    assert_int_equal(vd_search_count(vd_search_in(&h->searches[0])), 2);
    assert_int_equal(h->found[0][0].address, 3);
    assert_string_equal(h->found[0][1].identity.serial, "QD-12");
    assert_int_equal(vd_search_count(vd_search_in(&h->searches[1])), 1);
    assert_ptr_equal(h->found[1][0].model, sampler());
    assert_int_equal(h->found[1][0].status, VD_OK); /* that it refuses to identify by objects is no quarrel */
    assert_string_equal(h->found[1][0].identity.serial, "S-17");
    assert_int_equal(h->found[1][0].line.baud, 19200);
    finish(h);
    free(h);
}

/* Units in lines are asked by their own question, at their own line settings first, and are alone where they are met.
 */
static void test_units_that_talk_in_lines(void **state)
{
    (void)state;
    static const struct {
        const char *here, *known[2];
        bool any_line;
        uint32_t late;
        vd_status status; /* of who was met; VD_NO_REPLY: nobody */
    } cases[] = {
        {"brock", {"brock", "dowel"}, false, 0, VD_OK},      {"brock", {"skep", "brock"}, false, 0, VD_OK},
        {"brock", {"brock", "dowel"}, false, 150000, VD_OK}, /* in the slow pass */
        {"brock", {"skep", "dowel"}, false, 0, VD_NO_REPLY}, {"brock", {"skep", "lantern"}, true, 0, VD_NO_REPLY},
        {"skep", {"skep", "brock"}, false, 0, VD_OK},        {"lantern", {"dowel", "lantern"}, false, 0, VD_OK}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        hunt *h = malloc(sizeof *h);
        vd_serial lines[2];
        prepare(h);
        for (int k = 0; k < 2; k++) {
            h->models[k] = shipped(cases[i].known[k]);
            lines[k] = h->models[k]->line;
        }
        h->plan.lines = lines;
        h->plan.line_count = 2;
        h->plan.any_line = cases[i].any_line;
        h->plan.slow_limit = 900000;
        add_unit(h, shipped(cases[i].here), 0, "", "S-1")->faults.late = cases[i].late;
        start(h, 1);
        vd_sim_hand(h->sim, 0, VD_HAND_PRESS, 10000);
        vd_sim_set_now(h->sim, 20000000);
        run(h, 0);
        bool met = cases[i].status == VD_OK;
        if (vd_search_count(vd_search_in(&h->searches[0])) != (size_t)met) {
            fail_msg("case %zu: %zu found", i, vd_search_count(vd_search_in(&h->searches[0])));
        }
        if (met) {
            assert_int_equal(h->found[0][0].status, VD_OK);
            assert_int_equal(h->found[0][0].address, 0);
            assert_ptr_equal(h->found[0][0].model, shipped(cases[i].here));
            assert_string_equal(h->found[0][0].identity.serial, "S-1");
            assert_true(cases[i].late > 0 || vd_search_progress_of(vd_search_in(&h->searches[0])).asked <=
                                                 3); /* and nobody else is looked for */
        }
        finish(h);
        free(h);
    }
}

/* A unit that replies after the quick limit is met in the slow pass only: that goes to addresses that units come with,
 * or were met at, and to all where that is wanted. */
static void test_late_units_need_the_slow_pass(void **state)
{
    (void)state;
    static const uint8_t seven = 7;
    static const struct {
        bool slow, remembered, all;
        size_t found;
    } cases[] = {{false, true, true, 0}, {true, false, false, 0}, {true, true, false, 1}, {true, false, true, 1}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        hunt *h = malloc(sizeof *h);
        prepare(h);
        h->plan.slow_limit = cases[i].slow ? h->plan.slow_limit : 0;
        h->plan.remembered = &seven;
        h->plan.remembered_count = cases[i].remembered;
        h->plan.slow_all = cases[i].all;
        add_unit(h, dowel(), 0, "7", "QD-7")->faults.late = 150000;
        start(h, 1);
        run(h, 0);
        assert_int_equal(vd_search_count(vd_search_in(&h->searches[0])), cases[i].found);
        if (cases[i].found > 0) {
            assert_int_equal(h->found[0][0].address, 7);
            assert_int_equal(h->found[0][0].status, VD_OK);
        }
        finish(h);
        free(h);
    }
}

/* How long is left is true where nobody answers: it is what then passes, within a tenth. */
static void test_the_time_left(void **state)
{
    (void)state;
    hunt *h = malloc(sizeof *h);
    vd_serial lines[3] = {dowel()->line, {19200, 8, 'E', 1}, {4800, 8, 'N', 1}};
    prepare(h);
    h->plan.lines = lines;
    h->plan.line_count = 3;
    h->plan.to = 200;
    start(h, 1);
    uint64_t promised = vd_search_progress_of(vd_search_in(&h->searches[0])).left;
    run(h, 0);
    uint64_t took = vd_sim_now(h->sim);
    assert_in_range(took, promised - promised / 10, promised + promised / 10);
    finish(h);
    free(h);
}

/* A row that is no sound unit stops nothing: somebody damaged at the first setting, a sound one at the second. */
static void test_one_strange_row_stops_nothing(void **state)
{
    (void)state;
    hunt *h = malloc(sizeof *h);
    vd_serial lines[2] = {dowel()->line, sampler()->line};
    prepare(h);
    h->plan.lines = lines;
    h->plan.line_count = 2;
    h->plan.from = 14;
    add_unit(h, dowel(), 0, "15", "QD-15")->faults.damage_every = 1;
    add_unit(h, sampler(), 0, "", "S-17");
    start(h, 1);
    run(h, 0);
    assert_int_equal(vd_search_count(vd_search_in(&h->searches[0])), 2);
    assert_int_not_equal(h->found[0][0].status, VD_OK);
    assert_int_equal(h->found[0][1].status, VD_OK);
    assert_string_equal(h->found[0][1].identity.serial, "S-17");
    finish(h);
    free(h);
}

/* Stopped or cut off at any moment, what was found is kept, and nothing was written. */
static void test_stopped_at_any_moment(void **state)
{
    (void)state;
    size_t most = 0;
    for (unsigned cut = 1; cut < 1500; cut += 37) {
        for (int pulled = 0; pulled < 2; pulled++) {
            hunt *h = malloc(sizeof *h);
            vd_status status;
            prepare(h);
            add_unit(h, dowel(), 0, "2", "QD-2");
            add_unit(h, dowel(), 0, "5", "QD-5");
            h->adapters[0].lost_after = pulled ? cut / 8 + 1 : 0;
            start(h, 1);
            vd_set before = new_set(dowel());
            vd_set_copy(&before, vd_unit_live(vd_sim_unit(h->sim, 0)));
            run(h, pulled ? 0 : cut);
            vd_search_ended(vd_search_in(&h->searches[0]), &status);
            assert_true(status == VD_OK || status == (pulled ? VD_PORT_LOST : VD_STOPPED));
            size_t count = vd_search_count(vd_search_in(&h->searches[0]));
            most = count > most ? count : most;
            for (size_t i = 0; i < count; i++) {
                assert_string_equal(h->found[0][i].identity.serial, i == 0 ? "QD-2" : "QD-5");
            }
            for (uint16_t i = 0; i < dowel()->setting_count; i++) {
                bool reading = dowel()->settings[i].access == VD_READ_ONLY;
                vd_comparison held = vd_set_compare(&before, vd_unit_live(vd_sim_unit(h->sim, 0)), i);
                assert_true(reading || held == VD_SAME || held == VD_IN_NEITHER);
            }
            free(before.memory);
            finish(h);
            free(h);
        }
    }
    assert_int_equal(most, 2);
}

/* Noise without end, in bounded time, and no unit made of it. */
static void test_floods_of_noise(void **state)
{
    static const uint32_t rates[] = {50, 1000, 20000, 1000000};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(rates); i++) {
        hunt *h = malloc(sizeof *h);
        vd_fault fault = {0};
        prepare(h);
        h->plan.to = rates[i] > 100000 ? 1 : 12;
        add_unit(h, dowel(), 0, "5", "QD-5")->off = true;
        h->adapters[0].noise = rates[i];
        start(h, 1);
        run(h, 0);
        assert_int_equal(vd_search_count(vd_search_in(&h->searches[0])), 0);
        assert_int_equal(vd_search_judge_line(vd_search_in(&h->searches[0]), &fault), VD_GARBLED);
        assert_true(vd_sim_now(h->sim) < 120000000);
        finish(h);
        free(h);
    }
}

/* The computer slept for an hour in the middle: the search goes on where it was. */
static void test_an_hour_of_sleep(void **state)
{
    (void)state;
    hunt *h = malloc(sizeof *h);
    prepare(h);
    add_unit(h, dowel(), 0, "4", "QD-4");
    add_unit(h, dowel(), 0, "9", "QD-9");
    start(h, 1);
    for (int i = 0; i < 60; i++) {
        assert_int_equal(vd_loop_step(&h->loop, vd_sim_now(h->sim) + 500000), VD_OK);
    }
    vd_sim_run(h->sim, vd_sim_now(h->sim) + 3600000000u);
    run(h, 0);
    assert_int_equal(vd_search_count(vd_search_in(&h->searches[0])), 2);
    assert_int_equal(h->found[0][1].address, 9);
    finish(h);
    free(h);
}

/* Replies that alternate between two serial numbers are two units, also where each is sound by itself. */
static void test_alternating_identities(void **state)
{
    (void)state;
    vd_clues clues = {0};
    vd_evidence one = {.status = VD_OK, .bytes = 43, .identity = {"Quillmere", "dowel", "1.4", "QD-1"}};
    vd_evidence two = one;
    const vd_model *models[] = {dowel()};
    vd_fault fault = {0};
    g_strlcpy(two.identity.serial, "QD-2", sizeof two.identity.serial);
    vd_clues_add(&clues, &one);
    assert_int_equal(vd_clues_judge(&clues, 3, &dowel()->line, models, 1, NULL, 100, NULL), VD_OK);
    vd_clues_add(&clues, &two);
    assert_int_equal(vd_clues_judge(&clues, 3, &dowel()->line, models, 1, NULL, 100, &fault), VD_ADDRESS_SHARED_BY);
    assert_int_equal(fault.number[0], 3);
    assert_string_equal(fault.said, "QD-1 and QD-2");
    /* Two that are too long for the words are told without them; a third time nobody new answers. */
    memset(two.identity.serial, '7', VD_SERIAL_MOST);
    vd_clues_name(&clues, &two);
    memset(one.identity.serial, '8', VD_SERIAL_MOST);
    vd_clues_name(&clues, &one);
    assert_int_equal(vd_clues_judge(&clues, 3, &dowel()->line, models, 1, NULL, 100, &fault), VD_ADDRESS_SHARED);
}

static void test_link(void **state)
{
    static const struct {
        vd_bench_faults faults;
        vd_link_grade grade;
        uint16_t answered, lost, damaged;
    } table[] = {{{.late = 0}, VD_LINK_SOUND, 40, 0, 0},
                 {{.mute_every = 20}, VD_LINK_MARGINAL, 38, 2, 0},
                 {{.damage_every = 20}, VD_LINK_MARGINAL, 38, 0, 2},
                 {{.mute_every = 4}, VD_LINK_UNUSABLE, 30, 10, 0},
                 {{.damage_every = 1}, VD_LINK_UNUSABLE, 0, 0, 40},
                 {{.exception = 1}, VD_LINK_SOUND, 40, 0, 0}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        hunt *h = malloc(sizeof *h);
        static vd_link_test_storage test;
        uint32_t times[40];
        vd_status status;
        prepare(h);
        add_unit(h, dowel(), 0, "5", "QD-5")->faults = table[i].faults;
        start(h, 1);
        vd_link_test_begin(vd_link_test_in(&test), 0, &vd_modbus_rtu_desk, NULL, &dowel()->line, 5, 40, times, 250000,
                           21000);
        h->seats[0] = (vd_seat){.engine = &vd_link_test_engine, .self = vd_link_test_in(&test)};
        while (!vd_link_test_ended(vd_link_test_in(&test), &status)) {
            assert_int_equal(vd_loop_step(&h->loop, vd_sim_now(h->sim) + 500000), VD_OK);
        }
        vd_link_result result = vd_link_test_result(vd_link_test_in(&test));
        assert_int_equal(result.grade, table[i].grade);
        assert_int_equal(result.answered, table[i].answered);
        assert_int_equal(result.lost, table[i].lost);
        assert_int_equal(result.damaged, table[i].damaged);
        if (result.answered > 0) { /* 6 ms of turnaround, a character, 1 ms of adapter */
            assert_in_range(result.quickest, 7000, 9000);
            assert_true(result.quickest <= result.median && result.median <= result.slowest);
        }
        finish(h);
        free(h);
    }
}

/* Stopped by hand it is judged by what was asked until then; where the port went away, or nothing was asked, it is not.
 */
static void test_link_that_ends_early(void **state)
{
    static const struct {
        uint16_t asked;
        vd_event_kind end;
        vd_link_grade grade;
    } table[] = {{0, VD_STOP, VD_LINK_NOT_JUDGED},
                 {0, VD_LOST, VD_LINK_NOT_JUDGED},
                 {5, VD_STOP, VD_LINK_SOUND},
                 {5, VD_LOST, VD_LINK_NOT_JUDGED}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        hunt *h = malloc(sizeof *h);
        static vd_link_test_storage test;
        uint32_t times[40];
        vd_status status;
        prepare(h);
        add_unit(h, dowel(), 0, "5", "QD-5");
        start(h, 1);
        vd_link_test_begin(vd_link_test_in(&test), 0, &vd_modbus_rtu_desk, NULL, &dowel()->line, 5, 40, times, 250000,
                           21000);
        h->seats[0] = (vd_seat){.engine = &vd_link_test_engine, .self = vd_link_test_in(&test)};
        while (vd_link_test_result(vd_link_test_in(&test)).answered < table[i].asked) {
            assert_int_equal(vd_loop_step(&h->loop, vd_sim_now(h->sim) + 500000), VD_OK);
        }
        vd_loop_feed(&h->loop, 0, (vd_event){.kind = table[i].end, .status = VD_PORT_LOST});
        assert_true(vd_link_test_ended(vd_link_test_in(&test), &status));
        vd_link_result result = vd_link_test_result(vd_link_test_in(&test));
        assert_int_equal(result.asked, table[i].asked);
        assert_int_equal(result.grade, table[i].grade);
        finish(h);
        free(h);
    }
}

static uint64_t asked_at[8];
static size_t asked_count;

static void note_question(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes,
                          const uint8_t *errors, size_t count)
{
    (void)about, (void)lane, (void)errors;
    if (sent && count > 0 && bytes[0] == 12 && asked_count < G_N_ELEMENTS(asked_at)) {
        asked_at[asked_count++] = now;
    }
}

/* A unit that does not hear the one question to its address is met where silent addresses are asked three times. */
static void test_one_lost_question(void **state)
{
    static const struct {
        uint8_t asks;
        size_t met;
    } table[] = {{0, 0}, {3, 1}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        hunt *h = malloc(sizeof *h);
        uint64_t plugged = 0;
        for (int pass = 0; pass < 2; pass++) { /* first with nobody there, to see when the address is asked */
            const vd_bench_hand hands[] = {{.does = VD_HAND_UNPLUG, .at = 1}, {.does = VD_HAND_PLUG, .at = plugged}};
            prepare(h);
            h->plan.slow_limit = 0;
            h->plan.from = 10;
            h->plan.silent_asks = table[i].asks;
            vd_bench_unit *unit = add_unit(h, dowel(), 0, "12", "QD-12");
            unit->hands = hands;
            unit->hand_count = pass == 0 ? 1 : 2;
            start(h, 1);
            h->loop.trace = note_question;
            asked_count = 0;
            run(h, 0);
            assert_int_equal(vd_search_count(vd_search_in(&h->searches[0])), pass == 0 ? 0 : table[i].met);
            plugged = asked_at[0] + 40000;
            finish(h);
        }
        assert_true(asked_count >= 1);
        free(h);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_units_that_talk_in_lines),
        cmocka_unit_test(test_units_of_two_models_on_two_ports),
        cmocka_unit_test(test_late_units_need_the_slow_pass),
        cmocka_unit_test(test_the_time_left),
        cmocka_unit_test(test_one_strange_row_stops_nothing),
        cmocka_unit_test(test_stopped_at_any_moment),
        cmocka_unit_test(test_floods_of_noise),
        cmocka_unit_test(test_an_hour_of_sleep),
        cmocka_unit_test(test_alternating_identities),
        cmocka_unit_test(test_one_lost_question),
        cmocka_unit_test(test_link),
        cmocka_unit_test(test_link_that_ends_early),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
