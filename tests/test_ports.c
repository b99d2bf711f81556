/* SPDX-License-Identifier: MIT
 * One suite against every kind of port, through a shim that asserts the contract; then what only the simulated line or
 * only a real terminal can show. */
#include "fixtures.h"

#include <fcntl.h>
#include <stdlib.h>
#include <string.h>
#include <sys/file.h>
#include <sys/wait.h>
#include <termios.h>
#include <unistd.h>

#include "verdite/posix.h"

/* ---- A port that checks what passes between the loop and another port ---- */

static vd_port *inner;
static uint64_t last_now, sent_bytes, heard_bytes;
static bool line_was_set;

static uint64_t checked_now(void *ground)
{
    uint64_t now = inner->kind->now(ground);
    assert_true(now >= last_now);
    last_now = now;
    return now;
}

static vd_status checked_wait(void *ground, vd_port *const *ports, size_t count, uint64_t until)
{
    vd_port *unwrapped[1] = {inner};
    assert_true(count == 1 && ports[0] != NULL && until != VD_NEVER);
    return inner->kind->wait(ground, unwrapped, 1, until);
}

static vd_status checked_set_line(vd_port *port, const vd_serial *line, vd_taken *taken)
{
    (void)port;
    line_was_set = true;
    return inner->kind->set_line(inner, line, taken);
}

static vd_status checked_send(vd_port *port, const uint8_t *bytes, size_t count, size_t *taken)
{
    (void)port;
    assert_true(line_was_set && count > 0);
    vd_status status = inner->kind->send(inner, bytes, count, taken);
    assert_true(*taken <= count);
    sent_bytes += *taken;
    return status;
}

static vd_status checked_receive(vd_port *port, uint8_t *bytes, uint8_t *errors, size_t size, size_t *count)
{
    (void)port;
    assert_true(size > 0);
    vd_status status = inner->kind->receive(inner, bytes, errors, size, count);
    assert_true(*count <= size);
    heard_bytes += *count;
    return status;
}

static void checked_discard(vd_port *port)
{
    uint8_t byte, error;
    size_t count = 0;
    (void)port;
    inner->kind->discard(inner);
    assert_int_equal(inner->kind->receive(inner, &byte, &error, 1, &count), VD_OK);
    assert_int_equal(count, 0);
}

static uint64_t checked_sent_until(vd_port *port)
{
    (void)port;
    return inner->kind->sent_until(inner);
}

static uint32_t checked_latency(vd_port *port)
{
    (void)port;
    return inner->kind->latency(inner);
}

static const vd_port_kind checked = {checked_now,     checked_wait,    checked_set_line,   checked_send,
                                     checked_receive, checked_discard, checked_sent_until, checked_latency};

/* Runs the task a visit has begun over any port. */
static vd_status carry_out(vd_visit *visit, vd_port *port, void *ground)
{
    vd_port shim = {.kind = &checked, .ground = ground};
    vd_lane lane = {.port = &shim};
    vd_seat seat = {.engine = &vd_visit_engine, .self = visit};
    vd_loop loop = {&checked, ground, &lane, &seat, 1, 1, NULL, NULL};
    vd_status status = VD_OK;
    inner = port;
    last_now = sent_bytes = heard_bytes = 0;
    line_was_set = false;
    while (!vd_visit_ended(visit, &status)) {
        uint64_t now = port->kind->now(ground);
        assert_int_equal(vd_loop_step(&loop, now + 2000000), VD_OK);
    }
    return status;
}

static vd_status read_through(vd_port *port, void *ground, const vd_serial *line, uint8_t address, vd_fault *fault)
{
    vd_visit_storage visit;
    size_t size = vd_visit_size(dowel());
    void *memory = calloc(1, size);
    vd_visit_start(vd_visit_in(&visit), dowel(), memory, size, line, address, port->kind->latency(port));
    vd_visit_read(vd_visit_in(&visit), port->kind->now(ground), NULL);
    vd_status status = carry_out(vd_visit_in(&visit), port, ground);
    if (status == VD_OK) {
        assert_string_equal(said(vd_visit_live(vd_visit_in(&visit)), "weight.high-limit"), "65.0 kg");
        assert_true(sent_bytes > 30 && heard_bytes > 200);
    }
    *fault = *vd_visit_fault(vd_visit_in(&visit));
    free(memory);
    return status;
}

/* ---- A bench behind pseudo-terminals, in another process ---- */

typedef struct served {
    pid_t child;
    char path[64];
} served;

static int tell_to; /* the pipe to the test */

static void tell(const char *name, const char *path)
{
    assert_string_equal(name, "rig");
    if (write(tell_to, path, strlen(path) + 1) < 0) {
        _exit(1);
    }
}

static void serve(served *s, const rig *r)
{
    int ends[2];
    assert_int_equal(pipe(ends), 0);
    s->child = fork();
    assert_true(s->child >= 0);
    if (s->child == 0) {
        volatile sig_atomic_t never = 0;
        vd_sim *sim = vd_sim_start(&r->bench);
        tell_to = ends[1];
        vd_sim_serve(sim, &never, tell, NULL, NULL);
        _exit(0);
    }
    close(ends[1]);
    assert_true(read(ends[0], s->path, sizeof s->path) > 0);
    close(ends[0]);
}

static void unserve(served *s)
{
    kill(s->child, SIGKILL);
    waitpid(s->child, NULL, 0);
}

static void test_the_same_visit_over_every_port(void **state)
{
    (void)state;
    vd_fault fault = {0};
    rig r;
    rig_prepare(&r, dowel());
    rig_start(&r);
    assert_int_equal(read_through(r.port, vd_sim_ground(r.sim), &dowel()->line, 247, &fault), VD_OK);
    assert_int_equal(read_through(r.port, vd_sim_ground(r.sim), &dowel()->line, 9, &fault), VD_NO_REPLY);
    rig_end(&r);

    served s;
    vd_posix *posix = NULL;
    serve(&s, &r);
    assert_int_equal(vd_posix_open(s.path, VD_SIGNAL_LEAVE, VD_SIGNAL_LEAVE, &posix, &fault), VD_OK);
    assert_int_equal(read_through(vd_posix_port(posix), NULL, &dowel()->line, 247, &fault), VD_OK);
    /* the bench sees the speed that was set, and a unit at another speed does not understand */
    vd_serial other = {4800, 8, 'E', 1};
    assert_int_not_equal(read_through(vd_posix_port(posix), NULL, &other, 247, &fault), VD_OK);
    assert_int_equal(read_through(vd_posix_port(posix), NULL, &dowel()->line, 247, &fault), VD_OK);
    vd_posix_close(posix);
    unserve(&s);
}

static void test_a_terminal_is_used_alone_and_left_as_it_was(void **state)
{
    (void)state;
    rig r;
    served s;
    vd_posix *posix = NULL, *second = NULL;
    vd_fault fault = {0};
    struct termios before, after;
    rig_prepare(&r, dowel());
    serve(&s, &r);
    int look = open(s.path, O_RDWR | O_NOCTTY);
    assert_true(look >= 0);
    assert_int_equal(tcgetattr(look, &before), 0);
    assert_int_equal(vd_posix_open(s.path, VD_SIGNAL_ON, VD_SIGNAL_ON, &posix, &fault), VD_OK);
    assert_int_equal(vd_posix_open(s.path, VD_SIGNAL_LEAVE, VD_SIGNAL_LEAVE, &second, &fault), VD_PORT_BUSY);
    vd_taken taken;
    vd_port *port = vd_posix_port(posix);
    const vd_serial even = {9600, 8, 'E', 1}, odd = {9600, 8, 'O', 1}, none = {115200, 8, 'N', 2},
                    never = {14400, 8, 'N', 1};
    assert_int_equal(port->kind->set_line(port, &none, &taken), VD_OK);
    assert_int_equal(taken, VD_TAKEN);
    assert_int_equal(port->kind->set_line(port, &even, &taken), VD_OK);
    assert_int_equal(taken, VD_TAKEN_PERHAPS); /* parity does not pass a pseudo-terminal */
    assert_int_equal(port->kind->set_line(port, &odd, &taken), VD_OK);
    assert_int_equal(taken, VD_TAKEN_PERHAPS); /* also where parity is the only change */
    assert_int_equal(port->kind->set_line(port, &never, &taken), VD_LINE_NOT_TAKEN);
    vd_posix_close(posix);
    assert_int_equal(tcgetattr(look, &after), 0);
    assert_int_equal(cfgetospeed(&before), cfgetospeed(&after));
    assert_int_equal(before.c_lflag, after.c_lflag);
    assert_int_equal(before.c_iflag, after.c_iflag);
    assert_int_equal(vd_posix_open(s.path, VD_SIGNAL_LEAVE, VD_SIGNAL_LEAVE, &posix, NULL), VD_OK);
    vd_posix_close(posix);
    close(look);
    unserve(&s);
}

static void test_ports_that_cannot_be_opened(void **state)
{
    static const struct {
        const char *path;
        vd_status status;
    } table[] = {{"/dev/verdite-none", VD_NO_PORT}, {"/dev/null", VD_PORT_FAILED}, {"/tmp", VD_PORT_FAILED}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        vd_posix *posix = NULL;
        assert_int_equal(vd_posix_open(table[i].path, VD_SIGNAL_LEAVE, VD_SIGNAL_LEAVE, &posix, NULL), table[i].status);
        assert_null(posix);
    }
}

/* The far end of the terminal goes away: as when an adapter is pulled. */
static void test_a_terminal_that_goes_away(void **state)
{
    (void)state;
    rig r;
    served s;
    vd_posix *posix = NULL;
    vd_fault fault = {0};
    rig_prepare(&r, dowel());
    r.adapter.lost_after = 60;
    serve(&s, &r);
    assert_int_equal(vd_posix_open(s.path, VD_SIGNAL_LEAVE, VD_SIGNAL_LEAVE, &posix, NULL), VD_OK);
    assert_int_equal(read_through(vd_posix_port(posix), NULL, &dowel()->line, 247, &fault), VD_PORT_LOST);
    vd_posix_close(posix);
    unserve(&s);
}

/* FF is doubled and errors are marked on the way in; both are undone, however the bytes are split. */
static void test_bytes_come_through_as_they_are(void **state)
{
    (void)state;
    int near = posix_openpt(O_RDWR | O_NOCTTY);
    assert_true(near >= 0 && grantpt(near) == 0 && unlockpt(near) == 0);
    vd_posix *posix = NULL;
    assert_int_equal(vd_posix_open(ptsname(near), VD_SIGNAL_LEAVE, VD_SIGNAL_LEAVE, &posix, NULL), VD_OK);
    vd_port *port = vd_posix_port(posix);
    uint8_t out[256], in[256], errors[256];
    size_t got = 0;
    for (int i = 0; i < 256; i++) {
        out[i] = (uint8_t)i;
    }
    assert_int_equal(write(near, out, sizeof out), sizeof out);
    while (got < sizeof in) {
        size_t count = 0;
        assert_int_equal(port->kind->wait(NULL, &port, 1, port->kind->now(NULL) + 1000000), VD_OK);
        assert_int_equal(port->kind->receive(port, in + got, errors + got, MIN(3u, sizeof in - got), &count), VD_OK);
        got += count;
    }
    assert_memory_equal(in, out, sizeof in);
    for (int i = 0; i < 256; i++) {
        assert_int_equal(errors[i], 0);
    }
    vd_posix_close(posix);
    close(near);
}

/* ---- What only the simulated line can show ---- */

static void test_wrong_line_settings_sound_wrong(void **state)
{
    static const struct {
        vd_serial line;
        bool understood;
    } table[] = {{{9600, 8, 'E', 1}, true},  {{9600, 8, 'O', 1}, false},  {{9600, 8, 'N', 1}, false},
                 {{4800, 8, 'E', 1}, false}, {{19200, 8, 'E', 1}, false}, {{9600, 7, 'E', 1}, false},
                 {{9700, 8, 'E', 1}, true},  {{115200, 8, 'N', 1}, false}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        vd_fault fault = {0};
        rig r;
        rig_prepare(&r, dowel());
        rig_start(&r);
        vd_status status = read_through(r.port, vd_sim_ground(r.sim), &table[i].line, 247, &fault);
        if ((status == VD_OK) != table[i].understood ||
            (status != VD_OK && vd_status_class(status) != VD_CLASS_CONTACT)) {
            fail_msg("line %zu ended with %d", i, (int)status);
        }
        rig_end(&r);
    }
}

/* Two units on one address talk at once: what arrives is damaged, and never taken for a sound reply of either. */
static void test_two_on_one_address(void **state)
{
    (void)state;
    vd_fault fault = {0};
    rig r;
    rig_prepare(&r, dowel());
    r.units[1] = r.units[0];
    g_strlcpy(r.units[1].identity.serial, "S-2", sizeof r.units[1].identity.serial);
    r.bench.unit_count = 2;
    rig_start(&r);
    vd_status status = read_through(r.port, vd_sim_ground(r.sim), &dowel()->line, 247, &fault);
    assert_int_equal(vd_status_class(status), VD_CLASS_CONTACT);
    assert_int_not_equal(status, VD_NO_REPLY);
    rig_end(&r);
}

/* Bytes that an adapter delivers in bursts 16 ms apart are still one frame. */
static void test_bursts(void **state)
{
    (void)state;
    vd_fault fault = {0};
    rig r;
    rig_prepare(&r, dowel());
    r.adapter.burst = 16000;
    rig_start(&r);
    assert_int_equal(read_through(r.port, vd_sim_ground(r.sim), &dowel()->line, 247, &fault), VD_OK);
    rig_end(&r);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_the_same_visit_over_every_port),
        cmocka_unit_test(test_a_terminal_is_used_alone_and_left_as_it_was),
        cmocka_unit_test(test_ports_that_cannot_be_opened),
        cmocka_unit_test(test_a_terminal_that_goes_away),
        cmocka_unit_test(test_bytes_come_through_as_they_are),
        cmocka_unit_test(test_wrong_line_settings_sound_wrong),
        cmocka_unit_test(test_two_on_one_address),
        cmocka_unit_test(test_bursts),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
