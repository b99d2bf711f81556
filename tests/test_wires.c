/* SPDX-License-Identifier: MIT
 * What a port is: on a wire bits take time, where there is none only order counts. The same visits over each kind, with
 * replies that come as bits do and replies that come at once; simulated, and through pseudo-terminals. */
#include "fixtures.h"

#include <fcntl.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

#include "verdite/posix.h"

/* ---- How often anything was asked ---- */

typedef struct count {
    unsigned sends; /* a long one that goes out in pieces is one */
    bool last_sent;
} count;

static void count_talk(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                       size_t length)
{
    count *c = about;
    (void)now, (void)lane, (void)bytes, (void)errors, (void)length;
    c->sends += sent && !c->last_sent;
    c->last_sent = sent;
}

static void begin(rig *r, const vd_model *model, vd_wire wire, bool at_once, count *c)
{
    rig_prepare(r, model);
    r->adapter.latency = 0;
    r->adapter.wire = wire;
    r->adapter.at_once = at_once;
    rig_start(r);
    if (model->listening.hand.hold > 0) { /* somebody has made it listen */
        vd_sim_hand(r->sim, 0, VD_HAND_PRESS, model->listening.hand.hold);
        vd_sim_set_now(r->sim, 10000000);
    }
    *c = (count){0};
    r->loop.trace = count_talk;
    r->loop.trace_about = c;
}

static vd_whole write_through(rig *r, const char *key, const char *typed)
{
    vd_set target = new_set(r->visitor);
    put(&target, key, typed);
    assert_int_equal(rig_write(r, &target), VD_OK);
    free(target.memory);
    return vd_visit_summary(r->visit).whole;
}

/* Where nothing waits for bits that are not sent, a read takes what the unit takes and hardly more. */
static void test_no_wire_costs_no_time(void **state)
{
    static const char *const models[] = {"brock", "skep", "lantern"};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(models); i++) {
        rig r;
        count c;
        const vd_model *model = shipped(models[i]);
        begin(&r, model, VD_NO_WIRE, true, &c);
        uint64_t from = r.port->kind->now(r.port->ground);
        assert_int_equal(rig_read(&r), VD_OK);
        uint64_t took = r.port->kind->now(r.port->ground) - from;
        uint64_t turnarounds = (uint64_t)c.sends * model->reply.usual * 1000u;
        assert_true(c.sends >= 2 && turnarounds > 0);
        if (took * 10 > turnarounds * 11) {
            fail_msg("%s: %u us for %u turnarounds of %u ms", models[i], (unsigned)took, c.sends, model->reply.usual);
        }
        rig_end(&r);
    }
}

/* Nothing is asked more often than over a wire, however soon replies come: not where there is none, and not where it is
 * not known. */
static void test_replies_may_come_at_once(void **state)
{
    static const struct {
        const char *model, *key, *typed;
    } writes[] = {
        {"dowel", "weight.high-limit", "60 kg"}, {"brock", "unit.name", "Ling 2"}, {"skep", "report.every", "20 min"}};
    static const struct {
        vd_wire wire;
        bool at_once;
    } ports[] = {{VD_WIRE, false}, {VD_WIRE_NOT_KNOWN, false}, {VD_WIRE_NOT_KNOWN, true}, {VD_NO_WIRE, true}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(writes); i++) {
        unsigned over_a_wire = 0;
        for (size_t k = 0; k < G_N_ELEMENTS(ports); k++) {
            rig r;
            count c;
            begin(&r, shipped(writes[i].model), ports[k].wire, ports[k].at_once, &c);
            r.password = "0000";
            vd_whole whole = write_through(&r, writes[i].key, writes[i].typed);
            over_a_wire = k == 0 ? c.sends : over_a_wire;
            if (whole != VD_WHOLE_VERIFIED || c.sends > over_a_wire) {
                fail_msg("%s, port %zu: whole %d, %u sends for %u", writes[i].model, k, whole, c.sends, over_a_wire);
            }
            rig_end(&r);
        }
    }
}

/* On a wire nothing can answer before the last bit has left: what comes sooner is not believed. */
static void test_too_early_on_a_wire(void **state)
{
    (void)state;
    rig r;
    count c;
    begin(&r, shipped("brock"), VD_WIRE, true, &c);
    assert_int_not_equal(rig_read(&r), VD_OK);
    rig_end(&r);
}

/* ---- Pseudo-terminals, paced and not ---- */

static int tell_to; /* the pipe to the test */

static void tell(const char *name, const char *path)
{
    (void)name;
    if (write(tell_to, path, strlen(path) + 1) < 0) {
        _exit(1);
    }
}

static void test_pseudo_terminals(void **state)
{
    static const bool at_once[] = {false, true};
    (void)state;
    unsigned sends[2];
    for (size_t i = 0; i < G_N_ELEMENTS(at_once); i++) {
        rig r;
        int ends[2];
        char path[64];
        vd_posix *posix = NULL;
        rig_prepare(&r, shipped("brock"));
        r.adapter.at_once = at_once[i];
        assert_int_equal(pipe(ends), 0);
        pid_t child = fork();
        assert_true(child >= 0);
        if (child == 0) {
            volatile sig_atomic_t never = 0;
            tell_to = ends[1];
            vd_sim_serve(vd_sim_start(&r.bench), &never, tell, NULL, NULL);
            _exit(0);
        }
        close(ends[1]);
        assert_true(read(ends[0], path, sizeof path) > 0);
        close(ends[0]);
        assert_int_equal(vd_posix_wire(path), VD_NO_WIRE);
        assert_int_equal(vd_posix_open(path, VD_SIGNAL_LEAVE, VD_SIGNAL_LEAVE, &posix, NULL), VD_OK);
        vd_port *port = vd_posix_port(posix);
        assert_int_equal(port->wire, VD_NO_WIRE);
        vd_visit_storage visit;
        count c = {0};
        size_t size = vd_visit_size(r.visitor);
        void *memory = calloc(1, size);
        vd_status status = VD_OK;
        vd_lane lane = {.port = port};
        vd_seat seat = {.engine = &vd_visit_engine, .self = vd_visit_in(&visit)};
        vd_loop loop = {&vd_posix_kind, NULL, &lane, &seat, 1, 1, count_talk, &c};
        vd_visit_start(vd_visit_in(&visit), r.visitor, memory, size, &r.visitor->line, 0, port->kind->latency(port));
        vd_visit_read(vd_visit_in(&visit), port->kind->now(NULL), NULL);
        while (!vd_visit_ended(vd_visit_in(&visit), &status)) {
            vd_loop_step(&loop, port->kind->now(NULL) + 100000);
        }
        assert_int_equal(status, VD_OK);
        sends[i] = c.sends;
        free(memory);
        vd_posix_close(posix);
        kill(child, SIGKILL);
        waitpid(child, NULL, 0);
    }
    assert_int_equal(sends[0], sends[1]);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_no_wire_costs_no_time), cmocka_unit_test(test_replies_may_come_at_once),
        cmocka_unit_test(test_too_early_on_a_wire), cmocka_unit_test(test_pseudo_terminals)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
