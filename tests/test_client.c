/* SPDX-License-Identifier: MIT
 * The client engine against a clock that is a variable: what it sends when, what it takes for a reply, and what it does
 * when none, a wrong or a late one comes. No port, no responder. */
#include "fixtures.h"

#include <string.h>

#define MS 1000u
static const vd_modbus_manner manner = {.framing = &vd_rtu_framing,
                                        .line = {9600, 8, 'E', 1},
                                        .limit = 100 * MS,
                                        .longest = 100 * MS,
                                        .gap = 20 * MS,
                                        .busy_wait = 50 * MS,
                                        .busy_limit = 1000 * MS,
                                        .broadcast = 150 * MS,
                                        .tries = 3};

typedef struct line {
    vd_modbus_client_storage client;
    uint64_t now;
    unsigned sent;
    uint64_t sent_at[16];
    uint8_t last[VD_MODBUS_FRAME]; /* what was sent last */
} line;

static void start(line *l, uint64_t now)
{
    memset(l, 0, sizeof *l);
    l->now = now;
    vd_modbus_client_start(vd_modbus_client_in(&l->client), &manner, NULL);
}

static void feed(line *l, vd_event event)
{
    event.now = l->now;
    vd_modbus_client_engine.feed(vd_modbus_client_in(&l->client), &event);
}

static void hear(line *l, const uint8_t *bytes, size_t count, const uint8_t *errors)
{
    feed(l, (vd_event){.kind = VD_HEARD, .bytes = bytes, .errors = errors, .count = count});
}

/* Does what the client wants until it ends or `until`: sends at once, jumps to the time it asks for. */
static bool go(line *l, uint64_t until, vd_status *status)
{
    for (;;) {
        vd_wants wants;
        vd_modbus_client_engine.wants(vd_modbus_client_in(&l->client), &wants);
        if (vd_modbus_client_ended(vd_modbus_client_in(&l->client), status)) {
            return true;
        }
        if (wants.count > 0) {
            assert_true(l->sent < G_N_ELEMENTS(l->sent_at));
            l->sent_at[l->sent++] = l->now;
            memcpy(l->last, wants.send, wants.count);
            feed(l, (vd_event){.kind = VD_SENT, .until = l->now});
        } else if (wants.wake > until) {
            l->now = until;
            return false;
        } else {
            l->now = wants.wake > l->now ? wants.wake : l->now;
            feed(l, (vd_event){.kind = VD_TIME});
        }
    }
}

static void ask(line *l, uint16_t first, uint16_t count)
{
    vd_modbus_ask_read(vd_modbus_client_request(vd_modbus_client_in(&l->client)), 5, VD_MODBUS_READ_HOLDING, first,
                       count);
    vd_modbus_client_begin(vd_modbus_client_in(&l->client), l->now, true, 0);
}

/* A reply to a read whose registers all hold `filler`. */
static size_t reply_to(uint8_t address, uint8_t function, uint8_t count, uint8_t filler, uint8_t *frame)
{
    size_t length = 3u + 2u * count;
    frame[0] = address;
    frame[1] = function;
    frame[2] = (uint8_t)(2 * count);
    memset(frame + 3, filler, 2u * count);
    uint16_t crc = vd_modbus_crc(frame, length);
    frame[length] = (uint8_t)crc;
    frame[length + 1] = (uint8_t)(crc >> 8);
    return length + 2;
}

static void assert_took(line *l, uint8_t filler)
{
    size_t length = 0;
    const uint8_t *reply = vd_modbus_client_reply(vd_modbus_client_in(&l->client), &length);
    assert_true(length > 2);
    assert_int_equal(reply[2], filler);
}

/* Whole, byte by byte, and cut at every point: one answer. Also at the start of time and far along. */
static void test_every_split_gives_the_same(void **state)
{
    static const uint64_t times[] = {0, 1, (UINT64_C(1) << 32) - 50, UINT64_C(1) << 60};
    (void)state;
    for (size_t t = 0; t < G_N_ELEMENTS(times); t++) {
        for (size_t cut = 0; cut <= 11; cut++) {
            uint8_t frame[32];
            vd_status status;
            line l;
            start(&l, times[t]);
            ask(&l, 0, 3);
            assert_false(go(&l, l.now + 10 * MS, &status));
            size_t length = reply_to(5, 3, 3, 0x42, frame);
            for (size_t i = 0; cut == 11 && i < length; i++) {
                hear(&l, frame + i, 1, NULL);
                l.now += 1 * MS;
            }
            if (cut < 11) {
                hear(&l, frame, cut, NULL);
                assert_false(go(&l, l.now + 16 * MS, &status)); /* a burst later */
                hear(&l, frame + cut, length - cut, NULL);
            }
            assert_true(vd_modbus_client_ended(vd_modbus_client_in(&l.client), &status));
            assert_int_equal(status, VD_OK);
            assert_took(&l, 0x42);
            assert_int_equal(l.sent, 1);
        }
    }
}

/* What is heard after each try, and how it ends. */
enum { SILENCE, DAMAGED, CUT, NOISE, OTHER_ADDRESS, OTHER_FUNCTION, TOO_LONG, ERRORS, STRAY_BEFORE };
static const struct {
    int heard;
    vd_status status;
    const char *words;
} failures[] = {
    {SILENCE, VD_NO_REPLY, "No reply from address 5: no byte in 100 ms, 3 tries"},
    {DAMAGED, VD_CHECK_FAILED, "check failed in 3 of 3 tries"},
    {CUT, VD_CUT_SHORT, "stop in the middle"},
    {NOISE, VD_NOISE_ONLY, "no valid reply"},
    {OTHER_ADDRESS, VD_WRONG_ADDRESS, "Address 6 replied, but address 5"},
    {OTHER_FUNCTION, VD_WRONG_FUNCTION, "another request"},
    {TOO_LONG, VD_WRONG_LENGTH, "8 bytes of data instead of 6"},
    {ERRORS, VD_LINE_ERRORS, "line errors"},
    {STRAY_BEFORE, VD_OK, ""},
};

static void make_heard(line *l, int heard)
{
    static const uint8_t bad[] = {VD_ERROR_PARITY, VD_ERROR_PARITY, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0};
    uint8_t frame[32] = {0};
    size_t length = reply_to(heard == OTHER_ADDRESS ? 6 : 5, heard == OTHER_FUNCTION ? 4 : 3, heard == TOO_LONG ? 4 : 3,
                             1, frame + 1);
    switch (heard) {
    case SILENCE: return;
    case DAMAGED: frame[6] ^= 4; break;
    case CUT: length = 6; break;
    case NOISE: memset(frame, 0xC3, sizeof frame); break;
    case STRAY_BEFORE: hear(l, frame, length + 1, NULL); return;
    default: break;
    }
    hear(l, frame + 1, length, heard == ERRORS ? bad : NULL);
}

static void test_what_a_bad_reply_is_called(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(failures); i++) {
        char words[512];
        vd_status status = VD_OK;
        vd_fault fault = {0};
        line l;
        start(&l, 0);
        ask(&l, 0, 3);
        while (!go(&l, l.now + 5 * MS, &status)) {
            if (l.sent > vd_modbus_client_tally(vd_modbus_client_in(&l.client))->surplus +
                             vd_modbus_client_tally(vd_modbus_client_in(&l.client))->answered &&
                l.now == l.sent_at[l.sent - 1] + 5 * MS) {
                make_heard(&l, failures[i].heard);
            }
            assert_true(l.now < 10000 * MS);
        }
        if (status != VD_OK) {
            vd_modbus_client_note(vd_modbus_client_in(&l.client), status, "it", &fault);
        }
        vd_fault_words(&fault, false, words, sizeof words);
        if (status != failures[i].status || (status != VD_OK && strstr(words, failures[i].words) == NULL)) {
            fail_msg("case %d ended with %d: %s", failures[i].heard, (int)status, words);
        }
        assert_int_equal(l.sent, status == VD_OK ? 1 : 3);
        int heard = failures[i].heard;
        const vd_tally *tally =
            vd_modbus_client_tally(vd_modbus_client_in(&l.client)); /* each try is counted for what it was */
        assert_int_equal(tally->line_errors > 0, heard == ERRORS);
        assert_int_equal(tally->damaged, heard == DAMAGED || heard == NOISE ? 3 : 0);
        assert_int_equal(tally->cut_short, heard == CUT ? 3 : 0);
        assert_int_equal(tally->strays, heard == OTHER_ADDRESS || heard == OTHER_FUNCTION || heard == TOO_LONG ? 3 : 0);
        assert_int_equal(tally->surplus, heard == STRAY_BEFORE ? 1 : 0);
        if (status == VD_NO_REPLY) { /* the limit, then quiet for the longest reply time */
            assert_true(l.sent_at[1] >= 200 * MS && l.sent_at[2] >= 400 * MS);
        }
    }
}

/* A request that may not be repeated is sent once, whatever happens. */
static void test_an_action_is_sent_once(void **state)
{
    (void)state;
    for (size_t i = 0; i + 1 < G_N_ELEMENTS(failures); i++) {
        vd_status status;
        line l;
        start(&l, 0);
        vd_modbus_ask_write_one(vd_modbus_client_request(vd_modbus_client_in(&l.client)), 5, 240, 1);
        vd_modbus_client_begin(vd_modbus_client_in(&l.client), 0, false, 0);
        assert_false(go(&l, 5 * MS, &status));
        make_heard(&l, failures[i].heard);
        assert_true(go(&l, 10000 * MS, &status));
        assert_int_not_equal(status, VD_OK);
        assert_int_equal(l.sent, 1);
    }
}

/* A unit whose every reply is late by one to three exchanges: the reply to the first try comes when the second, third
 * or fourth would be due. Two different reads of one shape follow each other; no reply may be taken for the other's. */
static void test_late_replies(void **state)
{
    (void)state;
    for (unsigned late = 1; late <= 3; late++) {
        for (unsigned offset = 0; offset < 200; offset += 7) {
            uint64_t due[16];
            uint8_t filler[16];
            unsigned queued = 0, delivered = 0;
            line l;
            start(&l, 0);
            for (unsigned exchange = 0; exchange < 2; exchange++) {
                vd_status status = VD_OK;
                unsigned seen = l.sent;
                ask(&l, (uint16_t)(100 * exchange), 3);
                bool ended = false;
                while (!ended) {
                    uint64_t next = delivered < queued ? due[delivered] : l.now + 5 * MS;
                    ended = go(&l, next > l.now ? next : l.now, &status);
                    for (; seen < l.sent; seen++) {
                        due[queued] = l.sent_at[seen] + 200u * MS * (late - 1) + (101 + offset) * MS;
                        filler[queued++] = (uint8_t)(exchange + 1);
                    }
                    if (!ended && delivered < queued && l.now >= due[delivered]) {
                        uint8_t frame[32];
                        size_t length = reply_to(5, 3, 3, filler[delivered++], frame);
                        hear(&l, frame, length, NULL);
                        ended = vd_modbus_client_ended(vd_modbus_client_in(&l.client), &status);
                    }
                }
                if (status == VD_OK) {
                    assert_took(&l, (uint8_t)(exchange + 1));
                } else {
                    assert_int_equal(status, VD_NO_REPLY);
                    break; /* a visit ends here */
                }
            }
        }
    }
}

static void exception(line *l, uint8_t function, uint8_t code)
{
    uint8_t frame[5] = {5, function | 0x80u, code};
    uint16_t crc = vd_modbus_crc(frame, 3);
    frame[3] = (uint8_t)crc;
    frame[4] = (uint8_t)(crc >> 8);
    hear(l, frame, 5, NULL);
}

/* 5 and 6: left alone for the declared time, then polled, never re-sent while busy. */
static void test_busy_units_are_polled(void **state)
{
    static const struct {
        uint8_t code;
        bool repeatable;
        vd_status status;
        unsigned sent; /* the request, two polls, and where it was turned away the request again */
    } table[] = {{5, false, VD_OK, 3}, {5, true, VD_OK, 3}, {6, false, VD_EXCEPTION_BUSY, 3}, {6, true, VD_OK, 4}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        uint8_t frame[32];
        vd_status status;
        line l;
        start(&l, 0);
        vd_modbus_ask_write_one(vd_modbus_client_request(vd_modbus_client_in(&l.client)), 5, 240, 1);
        vd_modbus_client_begin(vd_modbus_client_in(&l.client), 0, table[i].repeatable, 400 * MS);
        assert_false(go(&l, 5 * MS, &status));
        exception(&l, 6, table[i].code);
        assert_false(go(&l, 404 * MS, &status));
        assert_int_equal(l.sent, 1);
        assert_false(go(&l, 410 * MS, &status));
        assert_int_equal(l.sent, 2);
        assert_int_equal(l.last[1], VD_MODBUS_READ_HOLDING);
        exception(&l, 3, 6);
        assert_false(go(&l, 470 * MS, &status));
        assert_int_equal(l.sent, 3);
        hear(&l, frame, reply_to(5, 3, 1, 0, frame), NULL);
        if (!go(&l, 480 * MS, &status)) {
            assert_int_equal(l.last[1], VD_MODBUS_WRITE_ONE);
            hear(&l, l.last, 8, NULL); /* the echo that confirms a write */
            assert_true(vd_modbus_client_ended(vd_modbus_client_in(&l.client), &status));
        }
        assert_int_equal(status, table[i].status);
        assert_int_equal(l.sent, table[i].sent);
    }
}

static void test_a_unit_that_stays_busy(void **state)
{
    (void)state;
    vd_status status;
    line l;
    start(&l, 0);
    ask(&l, 0, 1);
    unsigned sent = 0;
    while (!go(&l, l.now + 5 * MS, &status)) {
        if (l.sent > sent) {
            sent = l.sent;
            exception(&l, 3, 6);
        }
        if (sent >= 15) {
            break;
        }
    }
    start(&l, 0);
    ask(&l, 0, 1);
    assert_false(go(&l, 5 * MS, &status));
    exception(&l, 3, 6);
    assert_true(go(&l, 60000 * MS, &status)); /* and then nothing more: it gives up in bounded time */
    assert_int_equal(status, VD_EXCEPTION_BUSY);
    assert_true(l.now < 2500 * MS);
}

static void test_broadcast(void **state)
{
    (void)state;
    vd_status status;
    vd_wants wants;
    line l;
    start(&l, 0);
    vd_modbus_ask_write_one(vd_modbus_client_request(vd_modbus_client_in(&l.client)), 0, 3, 1);
    vd_modbus_client_begin(vd_modbus_client_in(&l.client), 0, false, 0);
    assert_false(go(&l, 149 * MS, &status));
    vd_modbus_client_engine.wants(vd_modbus_client_in(&l.client), &wants);
    assert_true(wants.holds_line); /* nobody may send during the turnaround delay */
    assert_true(go(&l, 151 * MS, &status));
    assert_int_equal(status, VD_OK);
    assert_int_equal(l.sent, 1);
}

static void test_endless_noise_ends(void **state)
{
    (void)state;
    vd_status status;
    line l;
    start(&l, 0);
    ask(&l, 0, 1);
    uint32_t random = 1;
    while (!go(&l, l.now + 1 * MS, &status)) {
        uint8_t noise[64];
        for (size_t i = 0; i < sizeof noise; i++) {
            random = random * 1664525u + 1013904223u;
            noise[i] = (uint8_t)(random >> 24);
        }
        hear(&l, noise, sizeof noise, NULL);
        assert_true(l.now < 10000 * MS);
    }
    assert_int_not_equal(status, VD_OK);
}

static void test_stop_and_loss(void **state)
{
    static const struct {
        vd_event_kind kind;
        vd_status given, status;
    } table[] = {{VD_STOP, VD_OK, VD_STOPPED}, {VD_LOST, VD_PORT_LOST, VD_PORT_LOST}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        vd_status status;
        line l;
        start(&l, 0);
        ask(&l, 0, 1);
        assert_false(go(&l, 5 * MS, &status));
        feed(&l, (vd_event){.kind = table[i].kind, .status = table[i].given});
        assert_true(vd_modbus_client_ended(vd_modbus_client_in(&l.client), &status));
        assert_int_equal(status, table[i].status);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_every_split_gives_the_same),
        cmocka_unit_test(test_what_a_bad_reply_is_called),
        cmocka_unit_test(test_an_action_is_sent_once),
        cmocka_unit_test(test_late_replies),
        cmocka_unit_test(test_busy_units_are_polled),
        cmocka_unit_test(test_a_unit_that_stays_busy),
        cmocka_unit_test(test_broadcast),
        cmocka_unit_test(test_endless_noise_ends),
        cmocka_unit_test(test_stop_and_loss),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
