/* SPDX-License-Identifier: MIT
 * Models of every shape, played on the bench and written to: coils, discrete inputs, fields of bits, blocks, variants,
 * limits per request, and the order in which a unit with rules of its own takes changes. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

#define HEAD                                                                                                           \
    "verdite-model: 1\nmodel: peg\ntitle: Peg\nline: {baud: 19200, framing: 8N1}\n"                                    \
    "address: {from: 1, to: 247, factory: 9}\nidentify: {by: objects, maker: Quillmere, product: peg}\n"               \
    "times: {usual-reply: 5 ms, longest-reply: 100 ms}\n"                                                              \
    "variants:\n  - {key: plain, label: P, product: peg}\n  - {key: wired, label: W, product: peg-W}\n"                \
    "groups: [{key: a, label: A}, {key: b, label: B}, {key: now, label: Now}]\n"
#define SETTINGS                                                                                                       \
    "settings:\n"                                                                                                      \
    "  - {key: a.low, label: L, type: integer, range: [0, 1000], default: 10, at: {register: 10}}\n"                   \
    "  - {key: a.high, label: H, type: integer, range: [0, 1000], default: 20, at: {register: 30}}\n"                  \
    "  - {key: a.colour, label: C, type: choice, choices: [{name: red}, {name: blue, number: 5}], default: red,"       \
    " at: {register: 11, bits: [0, 2]}}\n"                                                                             \
    "  - {key: a.fine, label: F, type: truth, default: \"off\", at: {register: 11, bits: 3}}\n"                        \
    "  - {key: a.shift, label: S, type: integer, range: [-8, 7], default: 0,"                                          \
    " at: {register: 11, bits: [12, 15], form: signed}}\n"                                                             \
    "  - {key: a.tells, label: T, type: flags, choices: [{name: lamp}, {name: horn}], default: none,"                  \
    " at: {register: 12}}\n"                                                                                           \
    "  - {key: a.place, label: P, type: position, default: \"0, 0\", at: {register: 13, order: low-first}}\n"          \
    "  - {key: a.host, label: N, type: host, length: 16, default: data.example, at: {register: 17}}\n"                 \
    "  - {key: a.key, label: K, type: key-128, access: write-only, at: {register: 40}}\n"                              \
    "  - {key: a.code, label: E, type: eui-64, default: 02-00-5E-10-00-00-00-01, at: {register: 50}}\n"                \
    "  - {key: a.horn, label: B, type: truth, default: \"off\", at: {coil: 0}}\n"                                      \
    "  - {key: a.lamp, label: B, type: truth, default: \"off\", at: {coil: 1}}\n"                                      \
    "  - {key: a.fan, label: B, type: truth, default: \"off\", at: {coil: 2}}\n"                                       \
    "  - {key: a.pump, label: B, type: truth, default: \"off\", at: {coil: 9}}\n"                                      \
    "  - {key: a.wired, label: W, type: integer, range: [0, 9], default: 1, when: variant = wired,"                    \
    " because: Only the wired peg., at: {register: 29}}\n"                                                             \
    "  - {key: a.idle, label: I, type: integer, range: [0, 9], default: 1, when: a.colour = blue,"                     \
    " because: Only blue ones., at: {register: 31}}\n"                                                                 \
    "  - {key: a.serial, label: Z, type: integer, range: [0, 9], default: 4, written-by: maker, at: {register: 32}}\n" \
    "  - block: b\n    label: B\n    repeat: 3\n    stride: 5\n    settings:\n"                                        \
    "      - {key: low, label: L, type: integer, range: [0, 99], default: 3, at: {register: 60}}\n"                    \
    "      - {key: high, label: H, type: integer, range: [0, 99], default: 9, at: {register: 63}}\n"                   \
    "  - {key: now.door, label: D, type: truth, access: read-only, default: \"on\", at: {discrete: 4}}\n"              \
    "  - {key: now.mains, label: M, type: truth, access: read-only, default: \"off\", at: {discrete: 6}}\n"
#define RULES                                                                                                          \
    "rules:\n  - {order: [a.low, a.high], enforced: writing}\n  - {order: [this.low, this.high], each: b, enforced: "  \
    "writing}\n"

/* Limits side by side, and shares in fields of bits side by side. */
#define SIDE_BY_SIDE                                                                                                   \
    "settings:\n"                                                                                                      \
    "  - {key: a.low, label: L, type: integer, range: [0, 1000], default: 10, at: {register: 10}}\n"                   \
    "  - {key: a.high, label: H, type: integer, range: [0, 1000], default: 20, at: {register: 11}}\n"                  \
    "  - {key: a.left, label: L, type: integer, range: [0, 100], default: 40, at: {register: 12, bits: [0, 6]}}\n"     \
    "  - {key: a.upper, label: U, type: integer, range: [0, 15], default: 9, at: {register: 12, bits: [8, 11]}}\n"     \
    "  - {key: a.right, label: R, type: integer, range: [0, 100], default: 60, at: {register: 13, bits: [0, 6]}}\n"    \
    "  - {key: a.lower, label: W, type: integer, range: [0, 15], default: 6, at: {register: 13, bits: [8, 11]}}\n"     \
    "rules:\n  - {order: [a.low, a.high], enforced: writing}\n"                                                        \
    "  - {must: a.left + a.right = 100, say: Both make 100., enforced: writing}\n"

static vd_model_file *peg_with(const char *limits, const char *settings)
{
    vd_findings *findings = vd_findings_new("");
    char *text = g_strconcat(HEAD, limits, settings, NULL);
    vd_model_file *file = model_of_text(text, findings);
    if (file == NULL) {
        char words[512];
        vd_fault_words(&g_array_index(findings->list, vd_finding, 0).fault, true, words, sizeof words);
        fail_msg("%s", words);
    }
    vd_findings_free(findings);
    g_free(text);
    return file;
}

static vd_model_file *peg(const char *limits)
{
    return peg_with(limits, SETTINGS RULES);
}

static bool sent_functions[64];

static void note_function(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes,
                          const uint8_t *errors, size_t count)
{
    (void)about, (void)now, (void)lane, (void)errors;
    if (sent && bytes != NULL && count > 2) {
        sent_functions[bytes[1] & 63u] = true;
    }
}

static void fill(vd_set *target)
{
    static const char *const values[][2] = {{"a.low", "500"},
                                            {"a.high", "600"},
                                            {"a.colour", "blue"},
                                            {"a.shift", "-3"},
                                            {"a.tells", "lamp, horn"},
                                            {"a.place", "52.5163, -13.3777"},
                                            {"a.host", "hive-7.example"},
                                            {"a.key", "000102030405060708090A0B0C0D0E0F"},
                                            {"a.code", "02-00-5E-10-00-00-00-77"},
                                            {"a.horn", "on"},
                                            {"a.lamp", "on"},
                                            {"a.fan", "on"},
                                            {"a.pump", "on"},
                                            {"a.idle", "7"},
                                            {"b.1.low", "20"},
                                            {"b.1.high", "30"},
                                            {"b.2.low", "1"},
                                            {"b.2.high", "2"},
                                            {"b.3.high", "99"}};
    for (size_t i = 0; i < G_N_ELEMENTS(values); i++) {
        put(target, values[i][0], values[i][1]);
    }
}

static const struct {
    const char *limits;
    uint8_t used[6], unused[6]; /* functions */
} shapes[] = {
    {"", {1, 2, 3, 5, 15, 16}, {22, 23}},
    {"limits: {mask-write: yes}\n", {6, 16, 22}, {23}},
    {"limits: {read-write: yes}\n",
     {23, 3, 6},
     {22}}, /* fields of bits are read, then written; a trace shows no keys */
    {"limits: {single-write: no}\n", {3, 15, 16}, {5, 6, 22, 23}},
    {"limits: {single-write: no, mask-write: yes}\n", {15, 16, 22}, {5, 6, 23}},
    {"limits: {read-registers: 8, write-registers: 8, read-bits: 2, write-bits: 1}\n", {1, 3, 5, 16}, {22, 23}},
    {"limits: {read-registers: 8, write-registers: 8, read-write: yes, mask-write: yes}\n", {22, 23}, {6}},
};

/* Whatever a unit can and cannot do, everything arrives, by the functions that it knows. */
static void test_every_place_is_written(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(shapes); i++) {
        vd_model_file *file = peg(shapes[i].limits);
        const vd_model *model = vd_model_file_model(file);
        rig r;
        rig_prepare(&r, model);
        rig_start(&r);
        r.loop.trace = note_function;
        memset(sent_functions, 0, sizeof sent_functions);
        vd_set target = new_set(model);
        fill(&target);
        vd_status status = rig_write(&r, &target);
        vd_summary summary = vd_visit_summary(r.visit);
        if (status != VD_OK || summary.whole != VD_WHOLE_EXCEPT || summary.unreadable != 1) {
            char words[512];
            vd_fault_words(vd_visit_fault(r.visit), true, words, sizeof words);
            fail_msg("%s: %d, %s", shapes[i].limits, (int)summary.whole, words);
        }
        const vd_unit *unit = vd_sim_unit(r.sim, 0);
        assert_string_equal(said(vd_unit_stored(unit), "a.key"), "000102030405060708090A0B0C0D0E0F");
        assert_string_equal(said(vd_unit_stored(unit), "a.place"), "52.5163, -13.3777");
        assert_string_equal(said(vd_unit_stored(unit), "a.fine"), "off"); /* beside others in one register */
        assert_string_equal(said(vd_visit_live(r.visit), "now.door"), "on");
        for (size_t k = 0; k < 6; k++) {
            if ((shapes[i].used[k] != 0 && !sent_functions[shapes[i].used[k]]) ||
                (shapes[i].unused[k] != 0 && sent_functions[shapes[i].unused[k]])) {
                fail_msg("%s: functions %u, %u", shapes[i].limits, shapes[i].used[k], shapes[i].unused[k]);
            }
        }
        free(target.memory);
        rig_end(&r);
        vd_model_file_free(file);
    }
}

/* Both limits move past each other, up and down: there is an order that the unit takes, and it is found. */
static void test_an_order_that_the_unit_takes(void **state)
{
    static const struct {
        const char *low, *high;
    } steps[] = {{"500", "600"}, {"1", "2"}, {"2", "1000"}, {"999", "1000"}, {"0", "1"}};
    static const char *const units[][2] = {{"", SETTINGS RULES},
                                           {"", SIDE_BY_SIDE},
                                           {"limits: {write-registers: 1}\n", SIDE_BY_SIDE},
                                           {"limits: {one-by-one: yes}\n", SIDE_BY_SIDE}};
    (void)state;
    for (size_t k = 0; k < G_N_ELEMENTS(units); k++) {
        vd_model_file *file = peg_with(units[k][0], units[k][1]);
        const vd_model *model = vd_model_file_model(file);
        rig r;
        rig_prepare(&r, model);
        rig_start(&r);
        for (size_t i = 0; i < G_N_ELEMENTS(steps); i++) {
            vd_set target = new_set(model);
            put(&target, "a.low", steps[i].low);
            put(&target, "a.high", steps[i].high);
            assert_int_equal(rig_write(&r, &target), VD_OK);
            assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
            free(target.memory);
        }
        rig_end(&r);
        vd_model_file_free(file);
    }
}

/* Two fields of bits that the unit's rule binds go out in one request, and what shares their registers stays. */
static void test_fields_that_change_together(void **state)
{
    static const char *const limits[] = {"", "limits: {mask-write: yes}\n", "limits: {single-write: no}\n",
                                         "limits: {read-write: yes}\n"};
    (void)state;
    for (size_t k = 0; k < G_N_ELEMENTS(limits); k++) {
        vd_model_file *file = peg_with(limits[k], SIDE_BY_SIDE);
        const vd_model *model = vd_model_file_model(file);
        rig r;
        rig_prepare(&r, model);
        rig_start(&r);
        vd_set target = new_set(model);
        put(&target, "a.left", "70");
        put(&target, "a.right", "30");
        assert_int_equal(rig_write(&r, &target), VD_OK);
        assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
        assert_string_equal(said(vd_unit_stored(vd_sim_unit(r.sim, 0)), "a.upper"), "9");
        assert_string_equal(said(vd_unit_stored(vd_sim_unit(r.sim, 0)), "a.lower"), "6");
        put(&target, "a.left", "0");
        put(&target, "a.right", "100");
        put(&target, "a.upper", "15");
        put(&target, "a.high", "21");
        assert_int_equal(rig_write(&r, &target), VD_OK);
        assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
        assert_string_equal(said(vd_unit_stored(vd_sim_unit(r.sim, 0)), "a.upper"), "15");
        assert_string_equal(said(vd_unit_stored(vd_sim_unit(r.sim, 0)), "a.lower"), "6");
        free(target.memory);
        rig_end(&r);
        vd_model_file_free(file);
    }
}

/* A unit with registers that restarts by itself when one of them is written, or when it then stores: it is waited for.
 */
static void test_a_restart_by_writing(void **state)
{
    static const char *const stores[] = {"store: {register: 240, value: 0x4B50, proof: bank, bank-offset: 2048}\n", ""};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(stores); i++) {
        char *text = NULL;
        assert_true(g_file_get_contents(source_path("models/dowel.yaml"), &text, NULL, NULL));
        char **parts = g_strsplit(text, "causes: {what: outage, help: What its relay feeds is switched at once.}", -1);
        char *restarting = g_strjoinv("causes: restart", parts);
        char **around = g_strsplit(restarting, stores[0], -1);
        char *whole = g_strjoinv(stores[i], around);
        assert_int_equal(g_strv_length(parts), 2);
        assert_int_equal(g_strv_length(around), 2);
        vd_findings *findings = vd_findings_new("");
        vd_model_file *file = model_of_text(whole, findings);
        assert_non_null(file);
        rig r;
        rig_prepare(&r, vd_model_file_model(file));
        rig_start(&r);
        vd_set target = new_set(vd_model_file_model(file));
        put(&target, "relay.at-rest", "closed");
        put(&target, "weight.tare", "6.4 kg");
        const vd_unit *unit = vd_sim_unit(r.sim, 0);
        uint64_t on_since = vd_unit_condition_of(unit).on_since;
        assert_int_equal(rig_write(&r, &target), VD_OK);
        assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
        assert_true(vd_unit_condition_of(unit).on_since > on_since);
        assert_string_equal(said(vd_unit_stored(unit), "relay.at-rest"), "closed");
        assert_string_equal(said(vd_unit_live(unit), "weight.tare"), "6.4 kg");
        free(target.memory);
        rig_end(&r);
        vd_model_file_free(file);
        vd_findings_free(findings);
        g_free(whole);
        g_strfreev(around);
        g_free(restarting);
        g_strfreev(parts);
        g_free(text);
    }
}

/* A tare is taken off what a unit measures: its alarm goes by that, from the moment at which it is written. */
static void test_a_tare_moves_the_alarm(void **state)
{
    static const struct {
        const char *tare, *reads;
        bool stands;
    } table[] = {{"20.5 kg", "59.5 kg", false}, {"14.9 kg", "65.1 kg", true}, {"15 kg", "65.0 kg", false}};
    (void)state;
    rig r;
    rig_prepare(&r, dowel());
    vd_set measured = new_set(dowel());
    put(&measured, "now.weight", "80.0 kg");
    r.units[0].initial = &measured;
    rig_start(&r);
    const vd_unit *unit = vd_sim_unit(r.sim, 0);
    vd_set target = new_set(dowel());
    put(&target, "weight.alarm", "high");
    put(&target, "weight.alarm-delay", "0 s");
    put(&target, "weight.hysteresis", "0 kg");
    assert_int_equal(rig_write(&r, &target), VD_OK);
    vd_sim_run(r.sim, vd_sim_now(r.sim) + 60000000);
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        vd_set tare = new_set(dowel());
        put(&tare, "weight.tare", table[i].tare);
        assert_int_equal(rig_write(&r, &tare), VD_OK);
        assert_string_equal(said(vd_unit_live(unit), "now.weight"), table[i].reads);
        bool stands = false;
        for (uint16_t n = 0; n < vd_watch_count(vd_unit_alarms(unit)); n++) {
            stands = stands || vd_watch_alarm(vd_unit_alarms(unit), n)->state == VD_STANDING;
        }
        assert_int_equal(stands, table[i].stands);
        free(tare.memory);
    }
    free(target.memory);
    free(measured.memory);
    rig_end(&r);
}

/* What another variant has is neither read nor written; what does not count in this mode is left alone. */
static void test_what_is_not_there(void **state)
{
    vd_model_file *file = peg("");
    const vd_model *model = vd_model_file_model(file);
    (void)state;
    for (int wired = 0; wired < 2; wired++) {
        rig r;
        rig_prepare(&r, model);
        g_strlcpy(r.units[0].identity.product, wired ? "peg-W" : "peg", sizeof r.units[0].identity.product);
        rig_start(&r);
        assert_int_equal(rig_read(&r), VD_OK);
        uint16_t setting = vd_model_find(model, "a.wired");
        assert_int_equal(vd_set_knows(vd_visit_live(r.visit), setting), wired);
        vd_set target = new_set(model);
        put(&target, "a.wired", "5");
        assert_int_equal(rig_write(&r, &target), wired ? VD_OK : VD_NOT_HERE);
        assert_int_equal(vd_visit_verdict(r.visit, setting), wired ? VD_CONFIRMED : VD_NOT_SENT);
        vd_set_forget(&target, setting);
        put(&target, "a.idle", "7"); /* only blue ones, and this is a red one */
        put(&target, "a.horn", "on");
        assert_int_equal(rig_write(&r, &target), VD_OK);
        assert_int_equal(vd_visit_verdict(r.visit, vd_model_find(model, "a.idle")), VD_NOT_ASKED);
        assert_string_equal(said(vd_unit_live(vd_sim_unit(r.sim, 0)), "a.idle"), "1");
        assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
        vd_visit_verify(r.visit, vd_sim_now(r.sim), &target, NULL);
        assert_int_equal(rig_run(&r), VD_OK);
        assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
        put(&target, "a.serial", "5");
        assert_int_equal(rig_write(&r, &target), VD_NOT_YOURS);
        free(target.memory);
        rig_end(&r);
    }
    vd_model_file_free(file);
}

/* Function 23 brings back what the unit made of it: anything else than what was sent ends the job at once. */
static void test_taken_otherwise(void **state)
{
    vd_model_file *file = peg("limits: {read-write: yes}\n");
    const vd_model *model = vd_model_file_model(file);
    (void)state;
    for (int honest = 0; honest < 2; honest++) {
        vd_talk_storage talk;
        vd_wants wants;
        vd_fault fault = {0};
        vd_status status = VD_OK;
        vd_set held = new_set(model), desired = new_set(model);
        void *memory = calloc(1, vd_talk_size(model));
        uint8_t *which = calloc(1, model->setting_count), reply[9] = {9, 23, 2, 1, 0xF4};
        vd_set_put_initial(&held);
        vd_set_put_initial(&desired);
        put(&desired, "a.high", "500");
        which[vd_model_find(model, "a.high")] = 1;
        vd_talk_start(vd_talk_in(&talk), model, memory, &model->line, 9, 0, &fault);
        vd_talk_begin(vd_talk_in(&talk), 0, VD_JOB_WRITE, which, &desired, &held);
        vd_talk_engine.wants(vd_talk_in(&talk), &wants);
        assert_int_equal(wants.send[1], 23);
        vd_talk_engine.feed(vd_talk_in(&talk), &(vd_event){.kind = VD_SENT, .now = 100, .until = 100});
        reply[4] = honest ? 0xF4 : 0xF0; /* 500, or rounded to 496 */
        uint16_t crc = vd_modbus_crc(reply, 5);
        reply[5] = (uint8_t)crc;
        reply[6] = (uint8_t)(crc >> 8);
        vd_talk_engine.feed(vd_talk_in(&talk), &(vd_event){.kind = VD_HEARD, .now = 200, .bytes = reply, .count = 7});
        assert_true(vd_talk_ended(vd_talk_in(&talk), &status));
        assert_int_equal(status, honest ? VD_OK : VD_TAKEN_OTHERWISE);
        assert_int_equal(vd_talk_outcome(vd_talk_in(&talk), vd_model_find(model, "a.high")),
                         honest ? VD_DONE : VD_REFUSED);
        free(held.memory), free(desired.memory), free(memory), free(which);
    }
    vd_model_file_free(file);
}

static const struct {
    const char *requirement;
    bool dowel;
    vd_status status;
} requirements[] = {{"channels>=2", true, VD_OK},
                    {"channels>=3", false, VD_OK},
                    {"channels=2", true, VD_OK},
                    {"supply=24-v", true, VD_OK},
                    {"supply=battery", false, VD_OK},
                    {"relays", true, VD_OK},
                    {"radio", false, VD_OK},
                    {"measures=temp", false, VD_OK},
                    {"supply>=12", false, VD_OK},
                    {"", false, VD_NO_SUCH_KEY},
                    {"channels>2", false, VD_NO_SUCH_KEY},
                    {"channels>=two", false, VD_NO_SUCH_KEY},
                    {"channels=", false, VD_NO_SUCH_KEY}};

static void test_choosing_by_requirement(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(requirements); i++) {
        bool meets = false;
        assert_int_equal(vd_model_meets(dowel(), VD_NONE, requirements[i].requirement, &meets, NULL),
                         requirements[i].status);
        if (meets != requirements[i].dowel) {
            fail_msg("%s was misjudged", requirements[i].requirement);
        }
    }
}

static void test_firmware_versions(void **state)
{
    static const char *const rising[] = {"0.0.1", "1", "1.0.1", "1.9", "1.10", "v2.0-beta", "2.0.1", "999.999.999"};
    (void)state;
    for (size_t i = 1; i < G_N_ELEMENTS(rising); i++) {
        assert_true(vd_firmware_parse(rising[i]) > vd_firmware_parse(rising[i - 1]));
    }
    assert_int_equal(vd_firmware_parse("latest"), 0);
    assert_int_equal(vd_firmware_parse("1.1000"), 0);
    assert_int_equal(vd_firmware_parse(""), 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_every_place_is_written),
        cmocka_unit_test(test_an_order_that_the_unit_takes),
        cmocka_unit_test(test_fields_that_change_together),
        cmocka_unit_test(test_a_restart_by_writing),
        cmocka_unit_test(test_a_tare_moves_the_alarm),
        cmocka_unit_test(test_what_is_not_there),
        cmocka_unit_test(test_taken_otherwise),
        cmocka_unit_test(test_choosing_by_requirement),
        cmocka_unit_test(test_firmware_versions),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
