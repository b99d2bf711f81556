/* SPDX-License-Identifier: MIT
 * Visits to units that talk in lines, on a simulated cable: each model that ships is read and written through every
 * fault of the line; logins, lock-outs, units that do not listen, restart in the middle, round, or lock their server.
 */
#include "fixtures.h"
#include "verdite/raw.h"
#include "verdite/rules.h"

#include <stdlib.h>
#include <string.h>

static const char *const models[] = {"brock", "skep", "lantern"};

static vd_unit *unit_of(rig *r)
{
    return vd_sim_unit(r->sim, 0);
}

/* A rig whose unit listens already. */
static void start(rig *r, const char *name)
{
    rig_prepare(r, shipped(name));
    rig_start(r);
    vd_sim_hand(r->sim, 0, VD_HAND_PRESS, 10000);
    vd_sim_set_now(r->sim, 20000000);
}

static const char *key_of(const char *model)
{
    return strcmp(model, "brock") == 0 ? "unit.name" : strcmp(model, "skep") == 0 ? "unit.name" : "panel.name";
}

static void test_reads_through_faults(void **state)
{
    (void)state;
    static const struct {
        const char *what;
        vd_bench_faults faults;
        bool fine; /* what is asked again comes through */
    } cases[] = {{"nothing", {0}, true},
                 {"each third reply is damaged", {.damage_every = 3}, true},
                 {"each second reply breaks off", {.cut_every = 2}, true},
                 {"each second reply is missing", {.mute_every = 2}, true},
                 {"it says other things in the middle of each reply", {.stray_every = 1}, true},
                 {"it talks all the time", {.chatter = 500000}, true},
                 {"it replies late", {.late = 400000}, true},
                 {"every reply is damaged", {.damage_every = 1}, false},
                 {"every reply breaks off", {.cut_every = 1}, false},
                 {"it never replies", {.mute_every = 1}, false}};
    for (size_t m = 0; m < G_N_ELEMENTS(models); m++) {
        for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
            rig r;
            rig_prepare(&r, shipped(models[m]));
            r.units[0].faults = cases[i].faults;
            rig_start(&r);
            vd_sim_hand(r.sim, 0, VD_HAND_PRESS, 10000);
            vd_sim_set_now(r.sim, 20000000);
            vd_status status = rig_read(&r);
            if ((status == VD_OK) != cases[i].fine) {
                fail_msg("%s, %s: status %d", models[m], cases[i].what, status);
            }
            for (uint16_t s = 0; s < vd_visit_model(r.visit)->setting_count && cases[i].fine; s++) {
                const vd_setting *setting = &vd_visit_model(r.visit)->settings[s];
                bool there = vd_set_exists(vd_unit_live(unit_of(&r)), s) != VD_FAILS;
                if (there && vd_setting_is_shown(setting) && setting->access != VD_READ_ONLY &&
                    setting->read_by == VD_ANYONE) {
                    assert_int_equal(vd_set_compare(vd_visit_live(r.visit), vd_unit_live(unit_of(&r)), s), VD_SAME);
                }
            }
            rig_end(&r);
        }
    }
}

static void test_writes_are_verified(void **state)
{
    (void)state;
    static const struct {
        const char *model, *keys[6], *values[6];
        vd_whole whole;
    } cases[] = {
        {"brock",
         {"unit.name", "report.moving", "report.standing", "sim.apn", "person.5.phone", "alarm.4.text"},
         {"Ling", "40 min", "2 h", "bees.example.net", "+447700900123", "He said \"hi\"; really"},
         VD_WHOLE_VERIFIED},
        {"skep",
         {"radio.region", "radio.join", "weight.low-limit", "weight.high-limit", "unit.name", "report.every"},
         {"us915", "fixed", "70 kg", "90 kg", "Teasel, 4", "1 h"},
         VD_WHOLE_VERIFIED},
        {"brock", /* two fields of one record, and only one of them restarts it */
         {"sim.user", "sim.apn", "server.protocol", "server.host", "sim.operator", "unit.name"},
         {"honey", "bees.example.net", "udp", "moor.example.net", "00101", "Ling"},
         VD_WHOLE_VERIFIED},
        {"lantern",
         {"panel.name", "setup.3.name", "alarm.1.watches", "alarm.1.only-while", "lamp.4.colour", "panel.setup"},
         {"CAB 2", "NIGHT", "channel-2", "channel-1", "blue", "3"},
         VD_WHOLE_VERIFIED},
    };
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        start(&r, cases[i].model);
        r.password = "0000";
        vd_set target = new_set(shipped(cases[i].model));
        for (int k = 0; k < 6; k++) {
            put(&target, cases[i].keys[k], cases[i].values[k]);
        }
        vd_status status = rig_write(&r, &target);
        if (status != VD_OK) {
            char words[512];
            vd_fault_words(vd_visit_fault(r.visit), true, words, sizeof words);
            fail_msg("%s: %s", cases[i].model, words);
        }
        assert_int_equal(vd_visit_summary(r.visit).whole, cases[i].whole);
        assert_int_equal(vd_visit_summary(r.visit).confirmed, 6);
        vd_sim_restart_unit(r.sim, 0); /* and it outlasts the supply */
        for (int k = 0; k < 6; k++) {
            uint16_t s = vd_model_find(target.model, cases[i].keys[k]);
            assert_int_equal(vd_set_compare(&target, vd_unit_live(unit_of(&r)), s), VD_SAME);
        }
        free(target.memory);
        rig_end(&r);
    }
}

static vd_step stage_at_stop;
static unsigned steps_until_stop;
static void note_stage(rig *r)
{
    if (steps_until_stop > 0 && --steps_until_stop == 0) {
        stage_at_stop = vd_visit_progress(r->visit).step;
    }
}

/* Stopped at any moment of a write, no verdict is better than the truth; stopped before the first change was sent, none
 * is. */
static void test_no_false_success(void **state)
{
    (void)state;
    for (size_t m = 0; m < G_N_ELEMENTS(models); m++) {
        for (unsigned steps = 1; steps < 400; steps += 7) {
            rig r;
            start(&r, models[m]);
            r.password = "0000";
            r.stop_after = steps;
            r.watch = note_stage;
            steps_until_stop = steps;
            stage_at_stop = VD_STEP_IDLE;
            vd_set target = new_set(shipped(models[m]));
            uint16_t name = vd_model_find(target.model, key_of(models[m]));
            put(&target, key_of(models[m]), "MOOR");
            rig_write(&r, &target);
            vd_verdict verdict = vd_visit_verdict(r.visit, name);
            bool held = vd_set_compare(&target, vd_unit_live(unit_of(&r)), name) == VD_SAME &&
                        vd_set_compare(&target, vd_unit_stored(unit_of(&r)), name) == VD_SAME;
            assert_true(verdict != VD_CONFIRMED || held);
            assert_true(verdict != VD_NOT_SENT || vd_set_compare(&target, vd_unit_live(unit_of(&r)), name) != VD_SAME);
            if (stage_at_stop > VD_STEP_IDLE && stage_at_stop < VD_STEP_WRITE) {
                vd_status status = VD_OK;
                assert_true(vd_visit_ended(r.visit, &status));
                assert_int_equal(status, VD_STOPPED);
                assert_int_equal(verdict, VD_NOT_SENT);
            }
            free(target.memory);
            rig_end(&r);
        }
    }
}

static void test_login(void **state)
{
    (void)state;
    static const struct {
        const char *password;
        vd_status status;
        int32_t left;
        bool factory;
    } cases[] = {{"0000", VD_OK, 0, true},
                 {"1234", VD_LOGIN_REFUSED, 2, false},
                 {"12345", VD_LOGIN_REFUSED, 1, false},
                 {"", VD_LOGIN_NEEDED, 0, false},
                 {"0000", VD_OK, 0, true},
                 {"1", VD_LOGIN_REFUSED, 2, false},
                 {"2", VD_LOGIN_REFUSED, 1, false},
                 {"3", VD_LOGIN_LOCKED, 0, false},
                 {"0000", VD_LOGIN_LOCKED, 0, false}};
    rig r;
    start(&r, "brock");
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        vd_set target = new_set(shipped("brock"));
        char name[16];
        g_snprintf(name, sizeof name, "Box %zu", i);
        put(&target, "unit.name", name);
        r.password = cases[i].password[0] != '\0' ? cases[i].password : NULL;
        vd_unit_condition condition = vd_unit_condition_of(unit_of(&r));
        condition.logged_in = false;
        vd_unit_put_condition(unit_of(&r), &condition);
        assert_int_equal(rig_write(&r, &target), cases[i].status);
        bool fine = cases[i].status == VD_OK;
        assert_int_equal(vd_visit_fault(r.visit)->status, cases[i].status);
        assert_int_equal(vd_visit_fault(r.visit)->number[0], cases[i].left);
        assert_int_equal(strcmp(said(vd_unit_live(unit_of(&r)), "unit.name"), name) == 0, fine);
        assert_int_equal(vd_visit_has_factory_password(r.visit), cases[i].factory);
        free(target.memory);
    }
    rig_end(&r);
}

static void power_off_when_counting(rig *r)
{
    if (vd_visit_progress(r->visit).step == VD_STEP_TRIES_LEFT) {
        vd_sim_hand(r->sim, 0, VD_HAND_POWER_OFF, 0);
    }
}

/* A count from before the wrong password is not told as what is left after it. */
static void test_tries_that_cannot_be_counted(void **state)
{
    (void)state;
    rig r;
    start(&r, "brock");
    vd_set target = new_set(shipped("brock"));
    put(&target, "unit.name", "Ling");
    r.password = "1234";
    r.watch = power_off_when_counting;
    assert_int_equal(rig_write(&r, &target), VD_LOGIN_NOT_TAKEN);
    assert_int_equal(vd_visit_fault(r.visit)->number[0], 0);
    free(target.memory);
    rig_end(&r);
}

static void test_password_change_is_followed(void **state)
{
    (void)state;
    rig r;
    start(&r, "brock");
    vd_set target = new_set(shipped("brock"));
    put(&target, "access.password", "47114711");
    put(&target, "sim.apn", "bees.example.net"); /* restarts, so that it has to log in again */
    r.password = "0000";
    assert_int_equal(rig_write(&r, &target), VD_OK);
    assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_EXCEPT);
    assert_string_equal(said(vd_unit_stored(unit_of(&r)), "access.password"), "47114711");
    put(&target, "unit.name", "Sorrel");
    assert_int_equal(rig_write(&r, &target), VD_LOGIN_REFUSED);
    free(target.memory);
    rig_end(&r);
}

static uint8_t tries_left;

/* It says yes to a new password, and has the old one all the same when it has restarted. */
static void lose_new_password(rig *r)
{
    if (vd_visit_progress(r->visit).step == VD_STEP_COMING_BACK) {
        put(vd_unit_live_bank(unit_of(r)), "access.password", "0000");
        put(vd_unit_stored_bank(unit_of(r)), "access.password", "0000");
        vd_unit_condition condition = vd_unit_condition_of(unit_of(r));
        condition.tries_left = tries_left;
        vd_unit_put_condition(unit_of(r), &condition);
    }
}

static void test_password_that_is_lost(void **state)
{
    (void)state;
    static const struct {
        uint8_t left; /* wrong tries that it leaves before */
        bool refuse;
        unsigned asked;
        vd_status status;
        uint8_t left_then;
        vd_verdict apn;
    } cases[] = {{3, false, 1, VD_PASSWORD_STAYED, 3, VD_CONFIRMED},
                 {3, true, 1, VD_LOGIN_REFUSED, 2, VD_UNKNOWN},
                 {2, false, 0, VD_LOGIN_REFUSED, 1, VD_UNKNOWN}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        start(&r, "brock");
        vd_set target = new_set(shipped("brock"));
        tries_left = cases[i].left;
        put(&target, "access.password", "47114711");
        put(&target, "sim.apn", "bees.example.net"); /* restarts it */
        put(&target, "access.obeys", "nobody");      /* only who is logged in may read that back */
        r.password = "0000";
        r.refuse_old = cases[i].refuse;
        r.watch = lose_new_password;
        assert_int_equal(rig_write(&r, &target), cases[i].status);
        assert_int_equal(r.old_asked, cases[i].asked);
        assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_NOT);
        assert_int_equal(vd_visit_verdict(r.visit, vd_model_find(target.model, "access.password")), VD_UNKNOWN);
        assert_int_equal(vd_visit_verdict(r.visit, vd_model_find(target.model, "sim.apn")), cases[i].apn);
        assert_int_equal(vd_unit_condition_of(unit_of(&r)).tries_left, cases[i].left_then);
        free(target.memory);
        rig_end(&r);
    }
}

static void think_for_long(rig *r)
{
    static uint64_t thought;
    if (vd_visit_progress(r->visit).step == VD_STEP_ASK && vd_sim_now(r->sim) > thought) {
        vd_sim_set_now(r->sim, vd_sim_now(r->sim) + 660000000);
        thought = vd_sim_now(r->sim);
    }
}

/* The unit logs out whoever says nothing for ten minutes; he who thinks for eleven is asked for the password again. */
static void test_login_again_before_writing(void **state)
{
    (void)state;
    rig r;
    start(&r, "brock");
    vd_set target = new_set(shipped("brock"));
    put(&target, "unit.name", "Ling");
    r.password = "0000";
    r.watch = think_for_long;
    assert_int_equal(rig_write(&r, &target), VD_OK);
    assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
    free(target.memory);
    rig_end(&r);
}

static unsigned heard_by_trace;
static void look_for_secret(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes,
                            const uint8_t *errors, size_t count)
{
    (void)now, (void)lane, (void)errors, (void)sent;
    GString *all = about;
    heard_by_trace += (unsigned)count;
    if (bytes != NULL) {
        g_string_append_len(all, (const char *)bytes, (gssize)count);
    }
}

static void test_secrets_stay_out_of_traces(void **state)
{
    (void)state;
    static const struct {
        const char *model, *password, *key, *secret;
    } cases[] = {{"brock", "0000", "access.password", "83194627"},
                 {"brock", "0000", "sim.password", "honey-pot"},
                 {"skep", NULL, "radio.app-key", "00112233445566778899AABBCCDDEEFF"}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        GString *all = g_string_new("");
        start(&r, cases[i].model);
        r.password = cases[i].password;
        r.loop.trace = look_for_secret;
        r.loop.trace_about = all;
        vd_set target = new_set(shipped(cases[i].model));
        put(&target, cases[i].key, cases[i].secret);
        put(&target, "unit.name", "seen");
        assert_int_equal(rig_write(&r, &target), VD_OK);
        assert_null(strstr(all->str, cases[i].secret));
        assert_null(strstr(all->str, "LOGIN"));
        assert_non_null(strstr(all->str, "seen"));
        g_string_free(all, TRUE);
        free(target.memory);
        rig_end(&r);
    }
}

/* Nobody answers the login in time; what comes late, an echo and a refusal that repeats it, is not for a trace either.
 * Only behind an answer to something else can none of it come any more. */
static void test_late_words_stay_out_of_traces(void **state)
{
    (void)state;
    static vd_talk_storage talk;
    const vd_model *model = shipped("brock");
    vd_fault fault = {0};
    vd_set values = new_set(model), held = new_set(model);
    void *memory = calloc(1, vd_talk_size(model));
    uint8_t *which = calloc(1, model->setting_count);
    uint64_t now = 1000000;
    which[vd_model_find(model, "unit.name")] = 1;
    vd_talk_start(vd_talk_in(&talk), model, memory, &model->line, 0, 1000, &fault);
    vd_talk_log_in(vd_talk_in(&talk), now, "83194627", 8);
    static const struct {
        const char *heard; /* NULL: nothing, until the talk gives up */
        bool begins, hidden, veiled;
    } steps[] = {{NULL, false, false, true},
                 {"AT+LOGIN=\"83194627\"\r\n", false, false, true},
                 {"", true, false, true}, /* the name is asked for */
                 {"+CME ERROR: \"83194627\"\r\n", false, false, true},
                 {NULL, false, false, true},
                 {"", true, false, true},
                 {"+NAME: \"Ling\"\r\nOK\r\n", false, false, false}};
    vd_wants wants;
    vd_talk_engine.wants(vd_talk_in(&talk), &wants);
    assert_true(wants.hidden);
    for (size_t i = 0; i < G_N_ELEMENTS(steps); i++) {
        vd_status status = VD_OK;
        if (steps[i].begins) {
            vd_talk_begin(vd_talk_in(&talk), now, VD_JOB_READ_LIVE, which, &values, &held);
        } else if (steps[i].heard != NULL) {
            now += 10000;
            vd_talk_engine.feed(vd_talk_in(&talk), &(vd_event){.kind = VD_HEARD,
                                                               .now = now,
                                                               .bytes = (const uint8_t *)steps[i].heard,
                                                               .count = strlen(steps[i].heard)});
        }
        for (unsigned turns = 0; turns < 1000 && steps[i].heard == NULL && !vd_talk_ended(vd_talk_in(&talk), &status);
             turns++) {
            vd_talk_engine.wants(vd_talk_in(&talk), &wants);
            now = wants.count > 0 ? now : wants.wake != VD_NEVER && wants.wake > now ? wants.wake : now + 1000;
            vd_talk_engine.feed(vd_talk_in(&talk),
                                &(vd_event){.kind = wants.count > 0 ? VD_SENT : VD_TIME, .now = now, .until = now});
        }
        vd_talk_engine.wants(vd_talk_in(&talk), &wants);
        while (steps[i].begins && wants.count == 0) { /* the line is kept quiet first */
            now = wants.wake;
            vd_talk_engine.feed(vd_talk_in(&talk), &(vd_event){.kind = VD_TIME, .now = now});
            vd_talk_engine.wants(vd_talk_in(&talk), &wants);
        }
        if (steps[i].begins) {
            vd_talk_engine.feed(vd_talk_in(&talk), &(vd_event){.kind = VD_SENT, .now = now, .until = now});
            vd_talk_engine.wants(vd_talk_in(&talk), &wants);
        }
        assert_int_equal(wants.hidden, steps[i].hidden);
        assert_int_equal(wants.veiled, steps[i].veiled);
        assert_null(strstr(fault.said, "8319"));
        vd_fault_clear(&fault);
    }
    free(which);
    free(memory);
    free(values.memory);
    free(held.memory);
}

/* What a unit hears: how often a line with this word went out. */
static unsigned count_of(const GString *all, const char *word)
{
    unsigned count = 0;
    for (const char *at = all->str; (at = strstr(at, word)) != NULL; at++) {
        count++;
    }
    return count;
}

static void only_sent(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                      size_t count)
{
    (void)now, (void)lane, (void)errors;
    if (sent && bytes != NULL) {
        g_string_append_len(about, (const char *)bytes, (gssize)count);
    }
}

static void mute_from_now(rig *r)
{
    if (vd_visit_progress(r->visit).step >= VD_STEP_WRITE) {
        r->units[0].faults.mute_every = 1;
    }
}

static void test_what_may_not_be_repeated(void **state)
{
    (void)state;
    static const struct {
        const char *model, *key, *value, *word;
        unsigned times;
    } cases[] = {{"brock", "unit.name", "Ling", "+NAME=", 3},
                 {"skep", "unit.name", "Ling", "UNIT:NAME \"", 3},
                 {"lantern", "panel.name", "LING", ",W,NAME,", 3},
                 {"brock", "sim.pin", "1234", "+PIN=", 0}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        GString *all = g_string_new("");
        start(&r, cases[i].model);
        r.password = "0000";
        r.watch = mute_from_now;
        r.loop.trace = only_sent;
        r.loop.trace_about = all;
        vd_set target = new_set(shipped(cases[i].model));
        put(&target, cases[i].key, cases[i].value);
        assert_int_not_equal(rig_write(&r, &target), VD_OK);
        assert_int_equal(count_of(all, cases[i].word), cases[i].times);
        uint32_t sent = vd_visit_tally(r.visit)->sent;
        assert_true(cases[i].times > 0 || sent > 0);
        assert_int_equal(vd_visit_verdict(r.visit, vd_model_find(target.model, cases[i].key)), VD_UNKNOWN);
        g_string_free(all, TRUE);
        free(target.memory);
        rig_end(&r);
    }
}

static void power_cycle_once(rig *r)
{
    static uint64_t since;
    vd_progress progress = vd_visit_progress(r->visit);
    if (progress.step == VD_STEP_READ && r->kept == 0) {
        since = since == 0 ? vd_sim_now(r->sim) : since;
        if (vd_sim_now(r->sim) > since + 100000) { /* in the middle of its reply */
            r->kept = 1;
            since = 0;
            vd_sim_restart_unit(r->sim, 0);
            vd_sim_hand(r->sim, 0, VD_HAND_PRESS, 10000);
        }
    }
}

static void test_restart_in_the_middle_of_a_reply(void **state)
{
    (void)state;
    for (size_t m = 0; m < G_N_ELEMENTS(models); m++) {
        rig r;
        start(&r, models[m]);
        r.watch = power_cycle_once;
        vd_status status = rig_read(&r);
        /* it is gone for longer than it is asked for; what was read is not passed off as the whole */
        assert_true(status == VD_OK || vd_status_class(status) == VD_CLASS_CONTACT);
        r.watch = NULL;
        vd_sim_set_now(r.sim, vd_sim_now(r.sim) + 20000000);
        assert_int_equal(rig_read(&r), VD_OK);
        rig_end(&r);
    }
}

static void press_after_a_while(rig *r)
{
    if (vd_visit_progress(r->visit).step == VD_STEP_LISTENING && vd_sim_now(r->sim) > 9000000 && r->kept++ == 0) {
        vd_sim_hand(r->sim, 0, VD_HAND_PRESS, 5000);
    }
}

static void press_too_short(rig *r)
{
    if (vd_visit_progress(r->visit).step == VD_STEP_LISTENING && r->kept++ == 0) {
        vd_sim_hand(r->sim, 0, VD_HAND_PRESS, 1000);
    }
}

static void test_listening_takes_a_hand(void **state)
{
    (void)state;
    static const struct {
        const char *model;
        void (*watch)(rig *r);
        vd_status status;
    } cases[] = {{"skep", press_after_a_while, VD_OK},        {"lantern", press_after_a_while, VD_OK},
                 {"skep", press_too_short, VD_NOT_LISTENING}, {"lantern", press_too_short, VD_NOT_LISTENING},
                 {"lantern", NULL, VD_NOT_LISTENING},         {"brock", NULL, VD_OK}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        rig_prepare(&r, shipped(cases[i].model));
        rig_start(&r);
        vd_sim_restart_unit(r.sim, 0); /* cold */
        r.watch = cases[i].watch;
        assert_int_equal(rig_read(&r), cases[i].status);
        assert_int_equal(vd_visit_fault(r.visit)->status, cases[i].status == VD_OK ? VD_OK : VD_NOT_LISTENING);
        rig_end(&r);
    }
    rig r; /* a panel that is left alone stops listening */
    start(&r, "lantern");
    assert_true(vd_unit_listens(unit_of(&r), vd_sim_now(r.sim)));
    vd_sim_set_now(r.sim, vd_sim_now(r.sim) + 301000000);
    assert_false(vd_unit_listens(unit_of(&r), vd_sim_now(r.sim)));
    rig_end(&r);
}

static void test_a_locked_server(void **state)
{
    (void)state;
    static const struct {
        bool locked;
        const char *key, *value; /* besides the host */
        vd_status status;
    } cases[] = {{false, NULL, NULL, VD_OK},
                 {false, "server.locked", "on", VD_OK},
                 {true, NULL, NULL, VD_RULE_BROKEN},
                 {true, "server.locked", "off", VD_OK}}; /* the lock is opened before the host is changed */
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        start(&r, "brock");
        put(vd_unit_live_bank(unit_of(&r)), "server.locked", cases[i].locked ? "on" : "off");
        put(vd_unit_stored_bank(unit_of(&r)), "server.locked", cases[i].locked ? "on" : "off");
        vd_set target = new_set(shipped("brock"));
        put(&target, "server.host", "moor.example.net");
        if (cases[i].key != NULL) {
            put(&target, cases[i].key, cases[i].value);
        }
        r.password = "0000";
        assert_int_equal(rig_write(&r, &target), cases[i].status);
        assert_int_equal(vd_visit_summary(r.visit).whole == VD_WHOLE_VERIFIED, cases[i].status == VD_OK);
        free(target.memory);
        rig_end(&r);
    }
}

/* ---- Raw requests ---- */

static vd_status send_raw(rig *r, const char *typed, vd_raw *raw)
{
    vd_lane lane = {.port = r->port};
    vd_seat seat = {.engine = &vd_raw_engine, .self = raw};
    vd_loop loop = {&vd_sim_kind, vd_sim_ground(r->sim), &lane, &seat, 1, 1, NULL, NULL};
    const vd_model *model = r->units[0].model;
    vd_fault fault = {0};
    vd_status status = vd_raw_begin(raw, vd_sim_now(r->sim), vd_desk_of(model), model, &model->line,
                                    model->address_factory, 1000, typed, &fault);
    if (status != VD_OK) {
        return status;
    }
    while (!vd_raw_ended(raw, &status)) {
        assert_int_equal(vd_loop_step(&loop, VD_NEVER), VD_OK);
    }
    return status;
}

/* How many bytes a request and its answer are on the line, an echo included. */
static uint64_t bytes_for(rig *r, const char *typed, vd_raw *raw)
{
    uint64_t before = vd_sim_use_of(r->sim).bytes;
    assert_int_equal(send_raw(r, typed, raw), VD_OK);
    return vd_sim_use_of(r->sim).bytes - before;
}

/* What only a fitter may read is left out, unless somebody logs in; what is to be verified asks for it. */
static void test_what_only_a_fitter_reads(void **state)
{
    (void)state;
    static const struct {
        bool wanted;
        const char *password;
        vd_status status;
        bool read;
    } cases[] = {{false, NULL, VD_OK, false},
                 {false, "0000", VD_OK, false}, /* nobody asks for what nobody needs */
                 {true, "0000", VD_OK, true},
                 {true, NULL, VD_LOGIN_NEEDED, false},
                 {true, "9999", VD_LOGIN_REFUSED, false}};
    uint16_t obeys = vd_model_find(shipped("brock"), "access.obeys");
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        start(&r, "brock");
        r.password = cases[i].password;
        vd_visit_want_login(r.visit, cases[i].wanted);
        assert_int_equal(rig_read(&r), cases[i].status);
        assert_int_equal(vd_set_knows(vd_visit_live(r.visit), obeys), cases[i].read);
        assert_int_equal(vd_visit_needs_login(r.visit, obeys), !cases[i].read);
        vd_visit_want_login(r.visit, false);
        vd_set target = new_set(shipped("brock"));
        put(&target, "access.obeys", "people");
        vd_visit_verify(r.visit, vd_sim_now(r.sim), &target, NULL);
        r.password = "0000";
        assert_int_equal(rig_run(&r), VD_OK);
        assert_int_equal(vd_visit_verdict(r.visit, obeys), VD_LIVE_ONLY);
        r.password = NULL;
        vd_sim_restart_unit(r.sim, 0);
        vd_sim_set_now(r.sim, vd_sim_now(r.sim) + 20000000);
        vd_visit_verify(r.visit, vd_sim_now(r.sim), &target, NULL);
        assert_int_equal(rig_run(&r), VD_OK);
        assert_int_equal(vd_visit_verdict(r.visit, obeys), VD_UNKNOWN);
        free(target.memory);
        rig_end(&r);
    }
}

/* Somebody switches the echo off and on again; a hand pulls the plug and the supply, at its time. */
static void test_echo_and_hands_come_and_go(void **state)
{
    (void)state;
    static const vd_bench_hand hands[] = {{VD_HAND_UNPLUG, 0, 30000000, false, 0},
                                          {VD_HAND_PLUG, 0, 40000000, false, 0},
                                          {VD_HAND_POWER_OFF, 0, 60000000, false, 0},
                                          {VD_HAND_POWER_ON, 0, 70000000, false, 0}};
    static const struct {
        uint64_t at; /* seconds */
        const char *raw;
        bool there;
    } cases[] = {{1, "ATE0", true}, {5, "ATE1", true}, {10, NULL, true}, {31, NULL, false},
                 {41, NULL, true},  {61, NULL, false}, {90, NULL, true}};
    static vd_raw_storage raw;
    uint64_t quiet = 0;
    rig r;
    rig_prepare(&r, shipped("brock"));
    r.units[0].hands = hands;
    r.units[0].hand_count = G_N_ELEMENTS(hands);
    rig_start(&r);
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        vd_sim_set_now(r.sim, cases[i].at * 1000000);
        vd_visit_identify(r.visit, vd_sim_now(r.sim));
        if (!cases[i].there) { /* it would be waited for until it is there again */
            vd_visit_engine.feed(r.visit, &(vd_event){.kind = VD_STOP, .now = vd_sim_now(r.sim)});
            assert_int_equal(vd_sim_is_plugged(r.sim, 0) && vd_sim_has_supply(r.sim, 0), false);
            continue;
        }
        assert_int_equal(rig_run(&r), VD_OK);
        assert_string_equal(vd_visit_identity(r.visit)->product, "brock");
        if (cases[i].raw != NULL) {
            assert_int_equal(send_raw(&r, cases[i].raw, vd_raw_in(&raw)), VD_OK);
            uint64_t bytes = bytes_for(&r, "AT+RPTMOVE?", vd_raw_in(&raw));
            quiet = i == 0 ? bytes : quiet;
            assert_int_equal(bytes, quiet + (cases[i].raw[3] == '1' ? strlen("AT+RPTMOVE?") + 1 : 0));
        }
    }
    rig_end(&r);
}

static void test_raw_requests(void **state)
{
    (void)state;
    static vd_raw_storage raw;
    static const struct {
        const char *model, *typed;
        vd_status status;
        const char *reply;
    } cases[] = {
        {"brock", "AT+RPTMOVE?", VD_OK, "+RPTMOVE: 120,0,0\nOK\n"},
        {"brock", "AT+NAME=\"x\"", VD_REFUSED_RIGHT, "+CME ERROR: 3\n"},
        {"brock", "AT+LOGIN=\"0000\";+NAME=\"Ling\";+NAME?", VD_OK, "+NAME: \"Ling\"\nOK\n"},
        {"brock", "AT+WHAT?", VD_REFUSED_WORD, "+CME ERROR: 4\n"},
        {"brock", "AT+NAME=\"~\"", VD_OK, "OK\n"}, /* it goes out as it was typed */
        {"brock", "AT+NAME=\"\x7F\"", VD_WRONG_WORDS, NULL},
        {"brock", "", VD_WRONG_WORDS, NULL},
        {"brock", "AT\r+X", VD_WRONG_WORDS, NULL},
        {"skep", ":RAD:POW 13;:RAD:POW?", VD_OK, "14\n"}, /* it rounds, and says so to whoever asks */
        {"skep", ":LIM1:WEIG 90,80;:SYST:ERR?", VD_OK, "-222,\"Data out of range\"\n"},
        {"skep", ":RAD:KEY:APP?;:SYST:ERR?", VD_OK, "-113,\"Undefined header\"\n"},
        {"skep", "*CLS", VD_OK, ""},
        {"lantern", "W,NAME,moor", VD_OK, "$PQLM,A,NAME*46\n"},
        {"lantern", "$PQLM,R,NAME*00", VD_OK, "$PQLM,V,1,1,NAME,MOOR*62\n"}, /* it has made capitals of it */
        {"lantern", "R,NOTHING,NAME", VD_REFUSED_WORD, "$PQLM,N,NOTHING,1*0E\n"},
        {"lantern", "W,ALARM,1,CHANNEL_1,CHANNEL_1,0,0,ON", VD_REFUSED_VALUE, "$PQLM,N,ALARM,2*03\n"},
        {"dowel", "03 00 19 00 01", VD_OK, NULL},
        {"dowel", "03 0019 0001", VD_OK, NULL},
        {"dowel", "03 FFFF 0001", VD_EXCEPTION_ADDRESS, NULL},
        {"dowel", "3", VD_WRONG_WORDS, NULL},
        {"dowel", "zz", VD_WRONG_WORDS, NULL},
    };
    rig r;
    const char *running = "";
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        if (strcmp(running, cases[i].model) != 0) {
            if (running[0] != '\0') {
                rig_end(&r);
            }
            running = cases[i].model;
            start(&r, running);
        }
        assert_int_equal(send_raw(&r, cases[i].typed, vd_raw_in(&raw)), cases[i].status);
        if (cases[i].reply != NULL) {
            size_t length = 0;
            bool cut = false;
            const uint8_t *reply = vd_raw_reply(vd_raw_in(&raw), &length, &cut);
            assert_int_equal(length, strlen(cases[i].reply));
            assert_memory_equal(reply, cases[i].reply, length);
        }
    }
    rig_end(&r);
}

/* ---- Readings that move ---- */

static void test_readings_move(void **state)
{
    (void)state;
    static const struct {
        const char *model, *key, *first, *later;
        uint64_t seconds;
    } cases[] = {{"brock", "now.running", "20 s", "5 min 20 s", 300},
                 {"brock", "now.clock", "2026-05-02 08:00:20", "2026-05-02 08:05:20", 300},
                 {"brock", "now.imei", "004999010640000", "004999010640000", 300},
                 {"skep", "now.reports", "0", "2", 1300},
                 {"skep", "now.temperature", "34.6 °C", "35.2 °C", 1480}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        start(&r, cases[i].model);
        assert_int_equal(rig_read(&r), VD_OK);
        assert_string_equal(said(vd_visit_live(r.visit), cases[i].key), cases[i].first);
        vd_sim_set_now(r.sim, 20000000 + cases[i].seconds * 1000000);
        assert_int_equal(rig_read(&r), VD_OK);
        assert_string_equal(said(vd_visit_live(r.visit), cases[i].key), cases[i].later);
        rig_end(&r);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_reads_through_faults),
        cmocka_unit_test(test_writes_are_verified),
        cmocka_unit_test(test_no_false_success),
        cmocka_unit_test(test_login),
        cmocka_unit_test(test_tries_that_cannot_be_counted),
        cmocka_unit_test(test_password_change_is_followed),
        cmocka_unit_test(test_password_that_is_lost),
        cmocka_unit_test(test_login_again_before_writing),
        cmocka_unit_test(test_secrets_stay_out_of_traces),
        cmocka_unit_test(test_late_words_stay_out_of_traces),
        cmocka_unit_test(test_what_may_not_be_repeated),
        cmocka_unit_test(test_restart_in_the_middle_of_a_reply),
        cmocka_unit_test(test_listening_takes_a_hand),
        cmocka_unit_test(test_a_locked_server),
        cmocka_unit_test(test_what_only_a_fitter_reads),
        cmocka_unit_test(test_echo_and_hands_come_and_go),
        cmocka_unit_test(test_raw_requests),
        cmocka_unit_test(test_readings_move),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
