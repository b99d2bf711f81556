/* SPDX-License-Identifier: MIT
 * A unit is followed to the address and line setting that it is given, whenever it takes them up, and the truth is told
 * where it does not, or where somebody else is in the way. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

#define PEG(moment)                                                                                                    \
    "verdite-model: 1\nmodel: peg\ntitle: Peg\nsummary: For tests.\n"                                                  \
    "line: {baud: 9600, framing: 8E1, new-from: " moment "}\naddress: {from: 1, to: 247, factory: 247}\n"              \
    "identify: {by: objects, maker: Quillmere, product: peg, serial-object: 0x80}\n"                                   \
    "store: {register: 240, value: 1, proof: bank, bank-offset: 1000}\nrestart: {takes: 1 s}\n"                        \
    "actions: [{key: restart, label: Restart, help: Restarts., register: 241, value: 1, does: restart, takes: 1 s}]\n" \
    "times: {usual-reply: 5 ms, longest-reply: 100 ms}\ngroups: [{key: all, label: All}]\n"                            \
    "settings:\n"                                                                                                      \
    "  - {key: address, group: all, label: A, role: address, type: integer, range: [1, 247], default: 247,"            \
    " at: {register: 0}}\n"                                                                                            \
    "  - {key: baud, group: all, label: B, role: baud, type: choice, choices: [{name: \"9600\"}, {name: \"19200\"}],"  \
    " default: \"9600\", at: {register: 1}}\n"                                                                         \
    "  - {key: framing, group: all, label: F, role: framing, type: choice, choices: [{name: 8E1}, {name: 8N1}],"       \
    " default: 8E1, at: {register: 2}}\n"                                                                              \
    "  - {key: name, group: all, label: N, role: name, type: text, length: 8, default: \"\", at: {register: 4}}\n"

static const vd_model *peg(int moment)
{
    static const char *const texts[] = {PEG("restart"), PEG("storing"), PEG("writing")};
    static const vd_model *models[3];
    if (models[moment] == NULL) {
        vd_findings *findings = vd_findings_new("peg");
        vd_model_file *file = model_of_text(texts[moment], findings);
        assert_non_null(file);
        models[moment] = vd_model_file_model(file);
        vd_findings_free(findings);
    }
    return models[moment];
}

/* What another unit does meanwhile. */
static vd_step appears;

static void watch(rig *r)
{
    if (appears != VD_STEP_IDLE && vd_visit_progress(r->visit).step == appears) {
        vd_sim_hand(r->sim, 1, VD_HAND_PLUG, 0);
    }
}

typedef struct following {
    const char *what, *address, *baud, *framing;
    int says, does;       /* when it takes them up, as its model says, and as it does: restart, storing, writing */
    const char *other_at; /* the address of another unit, NULL: there is none */
    vd_step appears;      /* it is plugged in then; VD_STEP_IDLE: from the start */
    vd_status status;
    vd_whole whole;
    vd_verdict address_is;
    vd_left left;
    uint8_t reached;
    uint32_t at_baud;
} following;

#define FINE VD_OK, VD_WHOLE_VERIFIED, VD_CONFIRMED
static const following followings[] = {
    {"address", "5", NULL, NULL, 0, 0, NULL, 0, FINE, VD_LEFT_NOBODY, 5, 9600},
    {"address, when stored", "5", NULL, NULL, 1, 1, NULL, 0, FINE, VD_LEFT_NOBODY, 5, 9600},
    {"address, at once", "5", NULL, NULL, 2, 2, NULL, 0, FINE, VD_LEFT_NOBODY, 5, 9600},
    {"all", "5", "19200", "8N1", 0, 0, NULL, 0, FINE, VD_LEFT_NOBODY, 5, 19200},
    {"all, when stored", "5", "19200", "8N1", 1, 1, NULL, 0, FINE, VD_LEFT_NOBODY, 5, 19200},
    {"all, at once", "5", "19200", "8N1", 2, 2, NULL, 0, FINE, VD_LEFT_NOBODY, 5, 19200},
    {"speed only", NULL, "19200", NULL, 0, 0, NULL, 0, VD_OK, VD_WHOLE_VERIFIED, VD_NOT_ASKED, VD_LEFT_NOT_SEEN, 247,
     19200},
    {"a name with it", "5", NULL, NULL, 0, 0, NULL, 0, FINE, VD_LEFT_NOBODY, 5, 9600},
    {"earlier than its model says", "5", "19200", NULL, 0, 1, NULL, 0, FINE, VD_LEFT_NOBODY, 5, 19200},
    {"later than its model says", "5", NULL, NULL, 1, 0, NULL, 0, VD_LINK_STAYED, VD_WHOLE_NOT, VD_UNKNOWN,
     VD_LEFT_ITSELF, 247, 9600},
    {"later than it could", "5", "19200", NULL, 2, 0, NULL, 0, VD_LINK_STAYED, VD_WHOLE_NOT, VD_UNKNOWN, VD_LEFT_ITSELF,
     247, 9600},
    {"taken", "5", NULL, NULL, 0, 0, "5", VD_STEP_IDLE, VD_ADDRESS_TAKEN, VD_WHOLE_NOT, VD_NOT_SENT, VD_LEFT_NOT_SEEN,
     247, 9600},
    {"taken, once it has moved", "5", NULL, NULL, 0, 0, "5", VD_STEP_READ_BACK, VD_LINE_ERRORS, VD_WHOLE_NOT,
     VD_UNKNOWN, VD_LEFT_NOT_SEEN, 5, 9600},
    {"taken, while it restarts", "5", NULL, NULL, 0, 0, "5", VD_STEP_RESTART, VD_NOT_FOLLOWED, VD_WHOLE_NOT, VD_UNKNOWN,
     VD_LEFT_NOT_SEEN, 247, 9600},
    {"another one left behind", "5", NULL, NULL, 0, 0, "247", VD_STEP_SEE_LEFT, FINE, VD_LEFT_ANOTHER, 5, 9600},
};

static void test_followed_wherever_it_goes(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(followings); i++) {
        const following *f = &followings[i];
        rig r;
        rig_prepare(&r, peg(f->says));
        r.units[0].model = peg(f->does);
        r.units[1] = r.units[0];
        r.units[1].name = "two";
        r.units[1].identity = (vd_identity){"Quillmere", "peg", "1.4", "S-2"};
        vd_set others = new_set(peg(f->does)), target = new_set(peg(f->says));
        put(&others, "address", f->other_at != NULL ? f->other_at : "9");
        r.units[1].initial = &others;
        r.bench.unit_count = f->other_at != NULL ? 2 : 1;
        r.watch = watch;
        appears = f->appears;
        rig_start(&r);
        if (f->appears != VD_STEP_IDLE) {
            vd_sim_hand(r.sim, 1, VD_HAND_UNPLUG, 0);
        }
        const char *const pairs[][2] = {{"address", f->address}, {"baud", f->baud}, {"framing", f->framing}};
        for (size_t k = 0; k < 3; k++) {
            if (pairs[k][1] != NULL) {
                put(&target, pairs[k][0], pairs[k][1]);
            }
        }
        put(&target, "name", "Ling 2");
        print_message("%s\n", f->what);
        assert_int_equal(rig_write(&r, &target), f->status);
        const vd_identity *other = NULL;
        assert_int_equal(vd_visit_summary(r.visit).whole, f->whole);
        assert_int_equal(vd_visit_verdict(r.visit, vd_model_find(vd_visit_model(r.visit), "address")), f->address_is);
        assert_int_equal(vd_visit_left(r.visit, &other), f->left);
        assert_int_equal(vd_visit_link(r.visit)->address, f->reached);
        assert_int_equal(vd_visit_link(r.visit)->line.baud, f->at_baud);
        assert_true(f->left != VD_LEFT_ANOTHER || strcmp(other->serial, "S-2") == 0);
        if (f->whole == VD_WHOLE_VERIFIED) { /* and it stays there */
            vd_sim_restart_unit(r.sim, 0);
            vd_visit_verify(r.visit, vd_sim_now(r.sim), &target, NULL);
            vd_sim_hand(r.sim, 1, VD_HAND_UNPLUG, 0);
            assert_int_equal(rig_run(&r), VD_OK);
            assert_int_equal(vd_visit_summary(r.visit).whole, VD_WHOLE_VERIFIED);
        }
        free(others.memory);
        free(target.memory);
        rig_end(&r);
    }
}

/* What is told before anything is sent: where it will be. */
static void test_where_it_goes_is_known_before(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, peg(0));
    rig_start(&r);
    vd_set target = new_set(peg(0));
    put(&target, "address", "5");
    put(&target, "baud", "19200");
    r.refuse_question = true;
    assert_int_equal(rig_write(&r, &target), VD_DECLINED);
    char words[64];
    vd_writer writer = vd_writer_start(words, sizeof words);
    vd_link_print(vd_visit_new_link(r.visit), &writer);
    assert_string_equal(words, "address 5 at 19200 8E1");
    assert_int_equal(vd_visit_link(r.visit)->address, 247);
    free(target.memory);
    rig_end(&r);
}

/* A speed that the adapter cannot do is found out before anything is sent. */
static void test_a_port_that_cannot_follow(void **state)
{
    (void)state;
    rig r;
    rig_prepare(&r, peg(0));
    r.adapter.fastest = 9600;
    rig_start(&r);
    vd_set target = new_set(peg(0));
    put(&target, "baud", "19200");
    put(&target, "name", "Ling 2");
    assert_int_equal(rig_write(&r, &target), VD_LINE_NOT_TAKEN);
    assert_string_equal(vd_visit_fault(r.visit)->said, "19200 8E1");
    assert_false(vd_visit_has_sent(r.visit));
    assert_int_equal(vd_visit_verdict(r.visit, vd_model_find(vd_visit_model(r.visit), "name")), VD_NOT_SENT);
    assert_int_equal(rig_read(&r), VD_OK); /* and the port is as it was */
    const vd_serial faster = {19200, 8, 'E', 1}, slower = {4800, 8, 'N', 2};
    assert_int_equal(vd_loop_try_line(&r.loop, 0, &faster), VD_LINE_NOT_TAKEN);
    assert_int_equal(vd_loop_try_line(&r.loop, 0, &slower), VD_OK); /* it could, and does not stay so */
    assert_int_equal(rig_read(&r), VD_OK);
    free(target.memory);
    rig_end(&r);
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_followed_wherever_it_goes),
                                       cmocka_unit_test(test_a_port_that_cannot_follow),
                                       cmocka_unit_test(test_where_it_goes_is_known_before)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
