/* SPDX-License-Identifier: MIT
 * A visit from end to end on a simulated line: what is read, refused, written, stored, read back, and which verdict
 * each setting gets when things go wrong. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

static vd_unit *unit_of(rig *r)
{
    return vd_sim_unit(r->sim, 0);
}

static vd_verdict verdict(const rig *r, const char *key)
{
    return vd_visit_verdict(r->visit, vd_model_find(vd_visit_model(r->visit), key));
}

static void test_read_tells_live_from_stored(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    put(vd_unit_live_bank(unit_of(&r)), "weight.low-limit", "21.5 kg");
    assert_int_equal(rig_read(&r), VD_OK);
    assert_string_equal(vd_visit_identity(r.visit)->serial, "S-1");
    assert_string_equal(said(vd_visit_live(r.visit), "weight.low-limit"), "21.5 kg");
    assert_string_equal(said(vd_visit_stored(r.visit), "weight.low-limit"), "18.0 kg");
    for (uint16_t i = 0; i < dowel()->setting_count; i++) {
        bool secret = dowel()->settings[i].access == VD_WRITE_ONLY;
        assert_int_equal(vd_set_knows(vd_visit_live(r.visit), i), !secret);
    }
    rig_end(&r);
}

static void test_write_store_and_verify(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    vd_set target = new_set(dowel());
    put(&target, "weight.low-limit", "66 kg"); /* above the present high limit: both must go together */
    put(&target, "weight.high-limit", "90 kg");
    put(&target, "unit.name", "Ling 2");
    put(&target, "relay.hold", "2 d 3 h");
    assert_int_equal(rig_write(&r, &target), VD_OK);
    assert_int_equal(r.kept, 3); /* the state before, and that it begins to write and to store */
    vd_summary summary = vd_visit_summary(r.visit);
    assert_int_equal(summary.whole, VD_WHOLE_VERIFIED);
    assert_int_equal(summary.confirmed, 4);
    vd_sim_restart_unit(r.sim, 0);
    assert_string_equal(said(vd_unit_live(unit_of(&r)), "weight.low-limit"), "66.0 kg");
    assert_string_equal(said(vd_unit_live(unit_of(&r)), "relay.hold"), "2 d 3 h");
    /* the same again: nothing to ask, keep or write */
    vd_sim_use before = vd_sim_use_of(r.sim);
    r.refuse_question = true;
    assert_int_equal(rig_write(&r, &target), VD_OK);
    assert_int_equal(r.kept, 3);
    assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
    assert_true(vd_sim_use_of(r.sim).bytes > before.bytes);
    vd_visit_verify(r.visit, vd_sim_now(r.sim), &target, NULL);
    assert_int_equal(rig_run(&r), VD_OK);
    assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
    put(vd_unit_stored_bank(unit_of(&r)), "unit.name", "Ling 3");
    vd_visit_verify(r.visit, vd_sim_now(r.sim), &target, NULL);
    assert_int_equal(rig_run(&r), VD_OK);
    assert_int_equal(verdict(&r, "unit.name"), VD_DIFFERS);
    assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_NOT);
    free(target.memory);
    rig_end(&r);
}

/* Live but never stored: nothing differs, and still there is something to do. */
static void test_forgotten_store_is_made_up_for(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    put(vd_unit_live_bank(unit_of(&r)), "unit.light", "high");
    vd_set target = new_set(dowel());
    put(&target, "unit.light", "high");
    vd_visit_verify(r.visit, vd_sim_now(r.sim), &target, NULL);
    assert_int_equal(rig_run(&r), VD_OK);
    assert_int_equal(verdict(&r, "unit.light"), VD_DIFFERS);
    assert_int_equal(rig_write(&r, &target), VD_OK);
    assert_int_equal(verdict(&r, "unit.light"), VD_CONFIRMED);
    assert_false(vd_visit_changes(r.visit, vd_model_find(dowel(), "unit.light")));
    assert_string_equal(said(vd_unit_stored(unit_of(&r)), "unit.light"), "high");
    free(target.memory);
    rig_end(&r);
}

/* More decimals: what a person left alone keeps its value, so its registers must change. */
static void test_decimals_change_under_values(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    vd_set target = new_set(dowel());
    put(&target, "weight.decimals", "2");
    put(&target, "weight.low-limit", "18.25 kg");
    assert_int_equal(rig_write(&r, &target), VD_OK);
    assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
    assert_string_equal(said(vd_unit_stored(unit_of(&r)), "weight.low-limit"), "18.25 kg");
    assert_string_equal(said(vd_unit_stored(unit_of(&r)), "weight.high-limit"), "65.00 kg");
    assert_string_equal(said(vd_unit_stored(unit_of(&r)), "weight.hysteresis"), "0.50 kg");
    assert_false(vd_visit_changes(r.visit, vd_model_find(dowel(), "weight.tare"))); /* 0 is 0 */
    /* fewer decimals than a value needs: refused before anything is sent */
    put(&target, "weight.decimals", "0");
    vd_set_forget(&target, vd_model_find(dowel(), "weight.low-limit"));
    assert_int_equal(rig_write(&r, &target), VD_OFF_STEP);
    assert_string_equal(vd_visit_fault(r.visit)->setting->words->key, "weight.low-limit");
    assert_string_equal(said(vd_unit_live(unit_of(&r)), "weight.decimals"), "2");
    free(target.memory);
    rig_end(&r);
}

/* A sampler that proves storage by a restart on command; with no such command it is refused. */
static vd_status make_restartable(vd_model *model, bool able, bool witness)
{
    static const vd_action actions[] = {{.key = "restart",
                                         .label = "",
                                         .help = "",
                                         .order = {.address = 900, .value = 7},
                                         .takes = 3000,
                                         .deed = VD_DEED_RESTART}};
    static uint64_t room[2048];
    static vd_setting settings[SAMPLER_SETTINGS];
    *model = *sampler();
    memcpy(settings, model->settings, sizeof settings);
    if (witness) { /* its reading tells how long it has been running */
        vd_setting *running = &settings[SAMPLER_READING];
        running->traits = &vd_type_duration;
        running->places_from = vd_ref_to(VD_NONE);
        running->measure = "";
        running->tick = 1000;
        running->places = 0;
        running->min = running->initial = 0;
        running->max = 30000;
        static const vd_motion counting = {.way = VD_COUNTS, .period = 1000};
        running->motion = &counting;
        model->running = vd_ref_to(SAMPLER_READING);
    }
    model->settings = settings;
    model->actions = actions;
    model->action_count = able;
    model->store.proof = VD_PROOF_RESTART;
    return vd_model_prepare(model, &vd_modbus_rtu_desk, room, sizeof room, NULL, NULL, NULL);
}

/* Its memory did not take it after all. */
static void forget(rig *r)
{
    if (vd_visit_progress(r->visit).step == VD_STEP_COMING_BACK) {
        put(vd_unit_stored_bank(unit_of(r)), "count", "10");
    }
}

/* It comes back as somebody else, or not at all. */
static void vanish(rig *r)
{
    if (vd_visit_progress(r->visit).step == VD_STEP_COMING_BACK) {
        vd_unit_answer_to(unit_of(r), 99);
        vd_unit_condition condition = vd_unit_condition_of(unit_of(r));
        condition.off_until = VD_NEVER;
        vd_unit_put_condition(unit_of(r), &condition);
    }
}

/* The command that restarts it is lost on the line: it never went, so nothing is proven. */
static void miss_the_command(rig *r)
{
    vd_unit_answer_to(unit_of(r), vd_visit_progress(r->visit).step == VD_STEP_RESTART ? 99 : 17);
}

static void vanish_and_stop(rig *r)
{
    vanish(r);
    r->stop_now = vd_visit_progress(r->visit).step == VD_STEP_COMING_BACK;
}

static void test_proof_by_restart(void **state)
{
    static const struct {
        void (*watch)(rig *r);
        vd_status status;
        vd_verdict verdict;
        vd_whole whole;
        uint64_t most; /* microseconds */
        bool silent;   /* nothing but its silence shows the restart */
    } table[] = {{NULL, VD_OK, VD_CONFIRMED, VD_WHOLE_VERIFIED, 5000000, false},
                 {NULL, VD_OK, VD_LIVE_ONLY, VD_WHOLE_LIVE_ONLY, 5000000, true},
                 {forget, VD_OK, VD_DIFFERS, VD_WHOLE_NOT, 5000000, false},
                 {miss_the_command, VD_OK, VD_LIVE_ONLY, VD_WHOLE_LIVE_ONLY, 25000000, false}, /* told three times */
                 {vanish, VD_NO_REPLY, VD_UNKNOWN, VD_WHOLE_NOT, 20000000, false},
                 {vanish_and_stop, VD_STOPPED, VD_UNKNOWN, VD_WHOLE_NOT, 20000000, false}};
    vd_model model;
    (void)state;
    assert_int_equal(make_restartable(&model, false, false), VD_MODEL_INCONSISTENT);
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        rig r;
        assert_int_equal(make_restartable(&model, true, !table[i].silent), VD_OK);
        assert_int_equal(vd_model_shows_restart(&model), !table[i].silent);
        rig_prepare(&r, &model);
        rig_start(&r);
        r.watch = table[i].watch;
        vd_set target = new_set(&model);
        put(&target, "count", "25");
        assert_int_equal(rig_write(&r, &target), table[i].status);
        assert_int_equal(verdict(&r, "count"), table[i].verdict);
        assert_int_equal(vd_visit_summary(r.visit).whole, table[i].whole);
        assert_true(vd_sim_now(r.sim) < table[i].most);
        free(target.memory);
        rig_end(&r);
    }
}

static void test_what_is_refused_before_sending(void **state)
{
    static const struct {
        const char *key, *value;
        vd_status status;
    } table[] = {{"weight.low-limit", "65 kg", VD_RULE_BROKEN},
                 {"weight.low-limit", "12.34 kg", VD_OFF_STEP},
                 {"weight.full-scale", "0 kg", VD_OUT_OF_RANGE}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        rig r;
        rig_prepare(&r, dowel());
        rig_start(&r);
        vd_set before = new_set(dowel()), target = new_set(dowel());
        vd_set_copy(&before, vd_unit_live(unit_of(&r)));
        put(&target, "unit.light", "high");
        put(&target, table[i].key, table[i].value);
        assert_int_equal(rig_write(&r, &target), table[i].status);
        assert_int_equal(r.kept, 0);
        assert_memory_equal(before.memory, (*vd_unit_live(unit_of(&r))).memory, vd_set_size(dowel()));
        assert_int_equal(verdict(&r, "unit.light"), VD_NOT_SENT);
        free(before.memory);
        free(target.memory);
        rig_end(&r);
    }
}

static void test_answers_of_the_person_and_the_disk(void **state)
{
    (void)state;
    for (int kind = 0; kind < 2; kind++) {
        rig r;
        rig_prepare(&r, dowel());
        rig_start(&r);
        vd_set target = new_set(dowel());
        put(&target, "unit.light", "high");
        r.refuse_question = kind == 0;
        r.fail_keep = kind == 1;
        assert_int_equal(rig_write(&r, &target), kind == 0 ? VD_DECLINED : VD_NOT_KEPT);
        assert_string_equal(said(vd_unit_live(unit_of(&r)), "unit.light"), "low");
        assert_int_equal(verdict(&r, "unit.light"), VD_NOT_SENT);
        free(target.memory);
        rig_end(&r);
    }
}

static void test_another_model_is_left_alone(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, dowel());
    g_strlcpy(r.units[0].identity.product, "dowel-s", sizeof r.units[0].identity.product);
    rig_start(&r);
    vd_set target = new_set(dowel());
    put(&target, "unit.light", "high");
    assert_int_equal(rig_write(&r, &target), VD_OTHER_MODEL);
    assert_string_equal(vd_visit_fault(r.visit)->said, "Quillmere dowel-s");
    assert_string_equal(said(vd_unit_live(unit_of(&r)), "unit.light"), "low");
    free(target.memory);
    rig_end(&r);
}

/* Whether anything would change or not; a unit that does not say may be older. */
static void test_a_unit_too_old_is_left_alone(void **state)
{
    (void)state;
    static const struct {
        const char *has, *needs, *light;
        vd_status status;
    } cases[] = {{"1.4", "1.4", "high", VD_OK},
                 {"1.10", "1.4", "high", VD_OK},
                 {"1.4", "1.4.1", "high", VD_FIRMWARE_NEEDED},
                 {"1.4", "2", "low", VD_FIRMWARE_NEEDED},
                 {"", "1.0", "low", VD_FIRMWARE_NEEDED}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        rig_prepare(&r, dowel());
        g_strlcpy(r.units[0].identity.firmware, cases[i].has, sizeof r.units[0].identity.firmware);
        rig_start(&r);
        vd_visit_need_firmware(r.visit, vd_firmware_parse(cases[i].needs));
        vd_set target = new_set(dowel());
        put(&target, "unit.light", cases[i].light);
        assert_int_equal(rig_write(&r, &target), cases[i].status);
        bool fine = cases[i].status == VD_OK;
        assert_int_equal(vd_visit_summary(r.visit).whole, fine ? VD_WHOLE_VERIFIED : VD_WHOLE_NOT);
        assert_string_equal(said(vd_unit_live(unit_of(&r)), "unit.light"), fine ? cases[i].light : "low");
        free(target.memory);
        rig_end(&r);
    }
}

/* A model without a stored bank, identified by registers: the word is never "verified". */
static void test_no_proof_of_storage(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, sampler());
    rig_start(&r);
    vd_set target = new_set(sampler());
    put(&target, "every", "2 min");
    assert_int_equal(rig_write(&r, &target), VD_OK);
    assert_int_equal(verdict(&r, "every"), VD_LIVE_ONLY);
    assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_LIVE_ONLY);
    free(target.memory);
    rig_end(&r);
}

static void test_what_cannot_be_read_back(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    vd_set target = new_set(dowel());
    put(&target, "unit.panel-code", "4711");
    put(&target, "unit.light", "high");
    assert_int_equal(rig_write(&r, &target), VD_OK);
    assert_int_equal(verdict(&r, "unit.panel-code"), VD_CANNOT_READ_BACK);
    assert_int_equal(verdict(&r, "unit.light"), VD_CONFIRMED);
    assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_EXCEPT);
    assert_string_equal(said(vd_unit_stored(unit_of(&r)), "unit.panel-code"), "4711");
    free(target.memory);
    rig_end(&r);
}

/* Every n-th reply is spoilt in some way. The visit succeeds where repeating helps; it never claims what is not so. */
static void test_bad_lines(void **state)
{
    static const struct {
        vd_bench_faults faults;
        vd_status status;
    } table[] = {
        {{.damage_every = 3}, VD_OK},
        {{.cut_every = 3}, VD_OK},
        {{.function_every = 3}, VD_OK},
        {{.address_every = 3}, VD_OK},
        {{.mute_every = 3}, VD_OK},
        {{.stray_every = 2}, VD_OK},
        {{.extend_every = 3}, VD_OK},
        {{.damage_every = 1}, VD_CHECK_FAILED},
        {{.cut_every = 1}, VD_CUT_SHORT},
        {{.function_every = 1}, VD_WRONG_FUNCTION},
        {{.address_every = 1}, VD_WRONG_ADDRESS},
        {{.mute_every = 1}, VD_NO_REPLY},
        {{.exception = 1}, VD_EXCEPTION_FUNCTION},
        {{.exception = 4}, VD_EXCEPTION_FAILURE},
        {{.exception = 6}, VD_EXCEPTION_BUSY},
        {{.late = 100000}, VD_OK},
    };
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        rig r;
        rig_prepare(&r, dowel());
        r.units[0].faults = table[i].faults;
        rig_start(&r);
        vd_status status = rig_read(&r);
        if (status != table[i].status) {
            fail_msg("fault %zu ended with %d", i, (int)status);
        }
        if (status == VD_OK) {
            assert_string_equal(said(vd_visit_live(r.visit), "weight.high-limit"), "65.0 kg");
        }
        rig_end(&r);
    }
}

/* The port is lost, or the person stops, at each moment of a write: the truth is told, and the unit never holds half of
 * a pair. */
static void test_cut_off_at_every_step(void **state)
{
    (void)state;
    unsigned verified = 0, unsure = 0, untouched = 0;
    for (unsigned cut = 1; cut < 700; cut += 3) {
        for (int by_hand = 0; by_hand < 2; by_hand++) {
            rig r;
            rig_prepare(&r, dowel());
            r.adapter.lost_after = by_hand ? 0 : cut;
            r.stop_after = by_hand ? cut : 0;
            rig_start(&r);
            vd_set target = new_set(dowel());
            put(&target, "weight.low-limit", "70 kg");
            put(&target, "weight.high-limit", "80 kg");
            put(&target, "unit.light", "high");
            vd_status status = rig_write(&r, &target);
            vd_summary summary = vd_visit_summary(r.visit);
            bool low = strcmp(said(vd_unit_live(unit_of(&r)), "weight.low-limit"), "70.0 kg") == 0;
            bool high = strcmp(said(vd_unit_live(unit_of(&r)), "weight.high-limit"), "80.0 kg") == 0;
            bool light = strcmp(said(vd_unit_live(unit_of(&r)), "unit.light"), "high") == 0;
            bool stored = strcmp(said(vd_unit_stored(unit_of(&r)), "weight.low-limit"), "70.0 kg") == 0;
            assert_int_equal(low, high);
            if (summary.whole == VD_WHOLE_VERIFIED) {
                assert_int_equal(status, VD_OK);
                assert_true(low && light && stored);
                verified++;
            } else {
                assert_true(status == VD_STOPPED || status == VD_PORT_LOST);
            }
            if (verdict(&r, "weight.low-limit") == VD_NOT_SENT) {
                assert_false(low);
                untouched++;
            }
            unsure += verdict(&r, "weight.low-limit") == VD_UNKNOWN;
            free(target.memory);
            rig_end(&r);
        }
    }
    assert_true(verified > 0 && unsure > 0 && untouched > 0); /* the cuts did reach every part */
}

/* The same visit twice takes the same time to the microsecond. */
static void test_virtual_time_repeats(void **state)
{
    (void)state;
    uint64_t times[2];
    for (int i = 0; i < 2; i++) {
        rig r;
        rig_prepare(&r, dowel());
        r.units[0].faults.damage_every = 4;
        rig_start(&r);
        assert_int_equal(rig_read(&r), VD_OK);
        times[i] = vd_sim_now(r.sim);
        rig_end(&r);
    }
    assert_int_equal(times[0], times[1]);
}

/* Eleven visits share one pair; the arbiter grants it exchange by exchange. */
static void test_many_visits_on_one_line(void **state)
{
    enum { UNITS = 11 };
    (void)state;
    vd_bench_adapter adapter = {.name = "rig", .label = "", .latency = 1000};
    vd_bench_unit units[UNITS] = {{0}};
    vd_set initial[UNITS];
    vd_visit_storage visits[UNITS];
    vd_seat seats[UNITS] = {{0}};
    void *memory[UNITS];
    vd_port *port = NULL;
    vd_bench bench = {"many", &adapter, units, 1, UNITS, 1};
    for (int i = 0; i < UNITS; i++) {
        char address[8];
        initial[i] = new_set(dowel());
        vd_set_put_initial(&initial[i]);
        g_snprintf(address, sizeof address, "%d", i + 1);
        put(&initial[i], "line.address", address);
        put(&initial[i], "unit.name", address);
        units[i] = (vd_bench_unit){.name = "u",
                                   .model = dowel(),
                                   .language = vd_unit_language_of(dowel()),
                                   .identity = {"Quillmere", "dowel", "1.4", "S"},
                                   .initial = &initial[i]};
    }
    vd_sim *sim = vd_sim_start(&bench);
    assert_int_equal(vd_sim_open(sim, "rig", &port, NULL), VD_OK);
    vd_lane lane = {.port = port};
    for (int i = 0; i < UNITS; i++) {
        memory[i] = calloc(1, vd_visit_size(dowel()));
        vd_visit_start(vd_visit_in(&visits[i]), dowel(), memory[i], vd_visit_size(dowel()), &dowel()->line,
                       (uint8_t)(i + 1), 1000);
        vd_visit_read(vd_visit_in(&visits[i]), 0, NULL);
        seats[i] = (vd_seat){.engine = &vd_visit_engine, .self = vd_visit_in(&visits[i])};
    }
    vd_loop loop = {&vd_sim_kind, vd_sim_ground(sim), &lane, seats, 1, UNITS, NULL, NULL};
    for (int done = 0; done < UNITS;) {
        done = 0;
        assert_int_equal(vd_loop_step(&loop, vd_sim_now(sim) + 1000000), VD_OK);
        for (int i = 0; i < UNITS; i++) {
            vd_status status;
            done += vd_visit_ended(vd_visit_in(&visits[i]), &status);
        }
    }
    for (int i = 0; i < UNITS; i++) {
        char name[8];
        vd_status status;
        assert_true(vd_visit_ended(vd_visit_in(&visits[i]), &status));
        assert_int_equal(status, VD_OK);
        g_snprintf(name, sizeof name, "%d", i + 1);
        assert_string_equal(said(vd_visit_live(vd_visit_in(&visits[i])), "unit.name"), name);
        free(memory[i]);
        free(initial[i].memory);
    }
    vd_sim_end(sim);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_read_tells_live_from_stored),
        cmocka_unit_test(test_write_store_and_verify),
        cmocka_unit_test(test_forgotten_store_is_made_up_for),
        cmocka_unit_test(test_decimals_change_under_values),
        cmocka_unit_test(test_proof_by_restart),
        cmocka_unit_test(test_what_is_refused_before_sending),
        cmocka_unit_test(test_answers_of_the_person_and_the_disk),
        cmocka_unit_test(test_another_model_is_left_alone),
        cmocka_unit_test(test_a_unit_too_old_is_left_alone),
        cmocka_unit_test(test_no_proof_of_storage),
        cmocka_unit_test(test_what_cannot_be_read_back),
        cmocka_unit_test(test_bad_lines),
        cmocka_unit_test(test_cut_off_at_every_step),
        cmocka_unit_test(test_virtual_time_repeats),
        cmocka_unit_test(test_many_visits_on_one_line),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
