/* SPDX-License-Identifier: MIT
 * The loop and the arbiter, over a port that is a script: partial sends, silence before frames, bytes before deadlines,
 * turns on a shared line, ports that fail. */
#include "fixtures.h"

#include <string.h>

/* ---- A port whose every move is set by the test ---- */

typedef struct script {
    uint64_t now;
    size_t at_most;    /* bytes that one send takes */
    uint8_t sent[600]; /* everything sent, and when */
    uint64_t sent_at[600];
    size_t sent_count;
    uint8_t heard[600]; /* what waits to be received */
    size_t heard_count;
    vd_status fails; /* every call ends so */
    vd_serial line;
    unsigned lines_set;
} script;

static uint64_t script_now(void *ground)
{
    return ((script *)ground)->now;
}

static vd_status script_wait(void *ground, vd_port *const *ports, size_t count, uint64_t until)
{
    script *s = ground;
    (void)ports, (void)count;
    assert_true(until != VD_NEVER);
    s->now = until > s->now ? until : s->now;
    return VD_OK;
}

static vd_status script_set_line(vd_port *port, const vd_serial *line, vd_taken *taken)
{
    script *s = port->self;
    s->line = *line;
    s->lines_set++;
    *taken = VD_TAKEN;
    return s->fails;
}

static vd_status script_send(vd_port *port, const uint8_t *bytes, size_t count, size_t *taken)
{
    script *s = port->self;
    *taken = count < s->at_most ? count : s->at_most;
    for (size_t i = 0; i < *taken; i++) {
        s->sent_at[s->sent_count] = s->now;
        s->sent[s->sent_count++] = bytes[i];
    }
    return s->fails;
}

static vd_status script_receive(vd_port *port, uint8_t *bytes, uint8_t *errors, size_t size, size_t *count)
{
    script *s = port->self;
    *count = s->heard_count < size ? s->heard_count : size;
    memcpy(bytes, s->heard, *count);
    memset(errors, 0, *count);
    memmove(s->heard, s->heard + *count, s->heard_count - *count);
    s->heard_count -= *count;
    return s->fails;
}

static void script_discard(vd_port *port)
{
    ((script *)port->self)->heard_count = 0;
}

static uint64_t script_sent_until(vd_port *port)
{
    script *s = port->self;
    return s->now + 5000;
}

static uint32_t script_latency(vd_port *port)
{
    (void)port;
    return 0;
}

static const vd_port_kind scripted = {script_now,     script_wait,    script_set_line,   script_send,
                                      script_receive, script_discard, script_sent_until, script_latency};

/* Two clients on one scripted port. */
typedef struct pair {
    script script;
    vd_port port;
    vd_modbus_client_storage clients[2];
    vd_lane lane;
    vd_seat seats[2];
    vd_loop loop;
} pair;

static const vd_modbus_manner manner = {.framing = &vd_rtu_framing,
                                        .line = {9600, 8, 'E', 1},
                                        .limit = 100000,
                                        .longest = 100000,
                                        .gap = 20000,
                                        .busy_wait = 50000,
                                        .busy_limit = 1000000,
                                        .tries = 1};

static void start(pair *p)
{
    memset(p, 0, sizeof *p);
    p->script.now = 1000000;
    p->script.at_most = 600;
    p->port = (vd_port){.kind = &scripted, .ground = &p->script, .self = &p->script};
    p->lane = (vd_lane){.port = &p->port};
    for (int i = 0; i < 2; i++) {
        vd_modbus_client_start(vd_modbus_client_in(&p->clients[i]), &manner, NULL);
        p->seats[i] = (vd_seat){.engine = &vd_modbus_client_engine, .self = vd_modbus_client_in(&p->clients[i])};
    }
    p->loop = (vd_loop){&scripted, &p->script, &p->lane, p->seats, 1, 2, NULL, NULL};
}

static void ask(pair *p, int client, uint8_t address)
{
    vd_modbus_ask_read(vd_modbus_client_request(vd_modbus_client_in(&p->clients[client])), address,
                       VD_MODBUS_READ_HOLDING, 0, 1);
    vd_modbus_client_begin(vd_modbus_client_in(&p->clients[client]), p->script.now, true, 0);
}

static void reply(pair *p, uint8_t address)
{
    uint8_t frame[7] = {address, 3, 2, 0, 42};
    uint16_t crc = vd_modbus_crc(frame, 5);
    frame[5] = (uint8_t)crc;
    frame[6] = (uint8_t)(crc >> 8);
    memcpy(p->script.heard + p->script.heard_count, frame, sizeof frame);
    p->script.heard_count += sizeof frame;
}

static void step(pair *p, unsigned times)
{
    while (times-- > 0) {
        assert_int_equal(vd_loop_step(&p->loop, p->script.now + 1000), VD_OK);
    }
}

static vd_status status_of(pair *p, int client)
{
    vd_status status = VD_OK;
    return vd_modbus_client_ended(vd_modbus_client_in(&p->clients[client]), &status) ? status : VD_STATUS_COUNT;
}

/* Nothing leaves before the line was silent for 3.5 characters, and a line that is not silent puts it off. */
static void test_silence_before_a_frame(void **state)
{
    pair p;
    (void)state;
    start(&p);
    uint64_t begun = p.script.now;
    ask(&p, 0, 5);
    while (p.script.sent_count == 0) {
        if (p.script.now < begun + 10000) { /* somebody else still talks */
            p.script.heard[p.script.heard_count++] = 0x55;
            p.script.now += 500;
        }
        step(&p, 1);
    }
    assert_true(p.script.sent_at[0] >= begun + 10000 + vd_modbus_silence(&manner.line) - 1000);
    assert_true(p.script.sent_at[0] <= begun + 20000);
    assert_int_equal(p.script.lines_set, 1);
    assert_true(vd_serial_equal(&p.script.line, &manner.line));
}

/* A port that takes a byte at a time still sends one frame, and the reply is counted from its end. */
static void test_partial_sends(void **state)
{
    pair p;
    (void)state;
    start(&p);
    p.script.at_most = 1;
    ask(&p, 0, 5);
    step(&p, 60);
    assert_int_equal(p.script.sent_count, 8);
    assert_memory_equal(p.script.sent, vd_modbus_client_request(vd_modbus_client_in(&p.clients[0]))->bytes, 8);
    assert_int_equal(status_of(&p, 0), VD_STATUS_COUNT);
    reply(&p, 5);
    step(&p, 2);
    assert_int_equal(status_of(&p, 0), VD_OK);
}

/* The program was kept away (a slow disk, a sleeping laptop) past the deadline while the reply lay in the port: it is
 * a reply, not silence. */
static void test_bytes_before_deadlines(void **state)
{
    pair p;
    (void)state;
    start(&p);
    ask(&p, 0, 5);
    step(&p, 12);
    assert_int_equal(p.script.sent_count, 8);
    reply(&p, 5);
    p.script.now += 3600000000u;
    step(&p, 1);
    assert_int_equal(status_of(&p, 0), VD_OK);
}

/* While one waits for its reply the other does not send; each then has its turn, with silence in between. */
static void test_turns_on_a_shared_line(void **state)
{
    pair p;
    (void)state;
    start(&p);
    ask(&p, 0, 5);
    ask(&p, 1, 6);
    step(&p, 40);
    assert_int_equal(p.script.sent_count, 8);
    uint8_t first = p.script.sent[0], second = first == 5 ? 6 : 5;
    reply(&p, first);
    uint64_t replied = p.script.now;
    step(&p, 20);
    assert_int_equal(p.script.sent_count, 16);
    assert_int_equal(p.script.sent[8], second);
    assert_true(p.script.sent_at[8] >= replied + vd_modbus_silence(&manner.line));
    reply(&p, second);
    step(&p, 3);
    assert_int_equal(status_of(&p, 0), VD_OK);
    assert_int_equal(status_of(&p, 1), VD_OK);
}

/* A unit that says it is busy leaves the line to others. */
static void test_a_busy_unit_frees_the_line(void **state)
{
    pair p;
    (void)state;
    start(&p);
    ask(&p, 0, 5);
    step(&p, 12);
    uint8_t busy[5] = {5, 0x83, 6};
    uint16_t crc = vd_modbus_crc(busy, 3);
    busy[3] = (uint8_t)crc;
    busy[4] = (uint8_t)(crc >> 8);
    memcpy(p.script.heard, busy, sizeof busy);
    p.script.heard_count = sizeof busy;
    step(&p, 1);
    ask(&p, 1, 6);
    step(&p, 20);
    assert_int_equal(p.script.sent_count, 16);
    assert_int_equal(p.script.sent[8], 6);
}

/* A port that fails in any call is told to every engine on it, once. */
static void test_ports_that_fail(void **state)
{
    (void)state;
    for (int when = 0; when < 3; when++) {
        pair p;
        start(&p);
        ask(&p, 0, 5);
        ask(&p, 1, 6);
        step(&p, when == 0 ? 0 : when == 1 ? 4 : 12);
        p.script.fails = VD_PORT_LOST;
        step(&p, 4);
        assert_int_equal(status_of(&p, 0), VD_PORT_LOST);
        assert_int_equal(status_of(&p, 1), VD_PORT_LOST);
        assert_true(p.lane.lost);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_silence_before_a_frame),     cmocka_unit_test(test_partial_sends),
        cmocka_unit_test(test_bytes_before_deadlines),     cmocka_unit_test(test_turns_on_a_shared_line),
        cmocka_unit_test(test_a_busy_unit_frees_the_line), cmocka_unit_test(test_ports_that_fail),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
