/* SPDX-License-Identifier: MIT
 * The unit's end: the responder engine and the unit that answers through it, fed bytes by hand. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

typedef struct end {
    vd_unit_storage unit;
    void *memory;
    uint64_t now;
    unsigned keeps;
} end;

static void start(end *e, const vd_model *model)
{
    vd_identity identity = {"Quillmere", "sampler", "1.4", "S-00017"};
    size_t size = vd_unit_size(model, vd_unit_language_of(model));
    memset(e, 0, sizeof *e);
    e->memory = calloc(1, size);
    assert_int_equal(vd_unit_start(vd_unit_in(&e->unit), model, vd_unit_language_of(model), &identity, e->memory, size),
                     VD_OK);
    vd_unit_power_up(vd_unit_in(&e->unit), 0);
    e->now = 1000;
}

/* Feeds a frame, lets time pass, and returns the length of what comes back. */
static size_t ask(end *e, const uint8_t *frame, size_t count, uint8_t *reply)
{
    vd_wants wants;
    vd_unit_engine.feed(vd_unit_in(&e->unit),
                        &(vd_event){.kind = VD_HEARD, .now = e->now, .bytes = frame, .count = count});
    for (int i = 0; i < 50; i++) {
        e->now += 1000;
        vd_unit_engine.feed(vd_unit_in(&e->unit), &(vd_event){.kind = VD_TIME, .now = e->now});
        vd_unit_engine.wants(vd_unit_in(&e->unit), &wants);
        if (wants.keep) {
            e->keeps++;
            vd_unit_engine.feed(vd_unit_in(&e->unit), &(vd_event){.kind = VD_KEPT, .now = e->now});
        }
        if (wants.count > 0) {
            memcpy(reply, wants.send, wants.count);
            vd_unit_engine.feed(vd_unit_in(&e->unit), &(vd_event){.kind = VD_SENT, .now = e->now, .until = e->now});
            e->now += 10000;
            vd_unit_engine.feed(vd_unit_in(&e->unit), &(vd_event){.kind = VD_TIME, .now = e->now});
            return wants.count;
        }
    }
    return 0;
}

static size_t ask_pdu(end *e, uint8_t address, const uint8_t *pdu, size_t count, uint8_t *reply)
{
    uint8_t frame[300];
    frame[0] = address;
    memcpy(frame + 1, pdu, count);
    uint16_t crc = vd_modbus_crc(frame, count + 1);
    frame[count + 1] = (uint8_t)crc;
    frame[count + 2] = (uint8_t)(crc >> 8);
    return ask(e, frame, count + 3, reply);
}

/* PDUs in hexadecimal; what comes back, "" for silence. The sampler's settings stand in fixtures.c. */
static const struct {
    const char *request, *reply, *why;
} talks[] = {
    {"03 0064 0002", "03 04 000A 0000", "count is 10, level 0"},
    {"03 0068 0003", "03 06 6C69 6E67 0000", "name is \"ling\" with a zero behind"},
    {"04 0005 0001", "04 02 019D", "reading is 41.3"},
    {"03 006F 0002", "03 04 00B4 0000", "low is 18.0: low word first"},
    {"03 0074 0001", "83 02", "a hole"},
    {"03 0073 0003", "83 02", "touches a hole"},
    {"03 0079 0001", "83 02", "behind the last register"},
    {"03 0064 0000", "83 03", "no registers"},
    {"03 0064 007E", "83 03", "126 registers"},
    {"01 0064 0001", "81 01", "coils are not answered for"},
    {"06 0064 0190", "06 0064 0190", "count = 400"},
    {"06 0064 01F5", "86 03", "501 is out of range"},
    {"06 0065 0003", "86 03", "0.03 is off step"},
    {"06 0067 0003", "86 03", "no such choice"},
    {"06 006F 0001", "86 02", "half a value"},
    {"06 0005 0001", "86 02", "no such holding register"},
    {"10 006F 0004 08 02BC 0000 0320 0000", "10 006F 0004", "70.0 and 80.0, together"},
    {"10 006F 0002 04 03E8 0000", "90 03", "low above high is refused"},
    {"03 006F 0004", "03 08 02BC 0000 0320 0000", "and nothing of it was taken"},
    {"10 0064 0002 04 0005 07D0", "90 03", "one of two values is bad"},
    {"03 0064 0001", "03 02 0190", "so neither was taken"},
    {"10 0064 0002 05 0005 07", "", "byte count and length disagree"},
    {"10 0064 0002 06 0005 0000 0000", "90 03", "byte count and registers disagree"},
    {"06 0078 04D2", "06 0078 04D2", "a secret may be written"},
    {"03 0078 0001", "03 02 0000", "and never read"},
    {"2B 0E 01 00", "AB 01", "identity is in registers"},
    {"03 0028 0005", "03 0A 5175 696C 6C6D 6572 6500", "the maker"},
    {"06 03E8 0002", "86 03", "not the value that stores"},
    {"06 03E8 0001", "86 05", "storing: acknowledged"},
    {"03 0064 0001", "83 06", "busy meanwhile"},
};

static size_t from_hex(const char *hex, uint8_t *bytes)
{
    size_t count = 0;
    for (; *hex != '\0'; hex++) {
        if (g_ascii_isxdigit(hex[0])) {
            bytes[count++] = (uint8_t)(g_ascii_xdigit_value(hex[0]) << 4 | g_ascii_xdigit_value(hex[1]));
            hex++;
        }
    }
    return count;
}

static void test_talk_with_a_unit(void **state)
{
    (void)state;
    end e;
    start(&e, sampler());
    for (size_t i = 0; i < G_N_ELEMENTS(talks); i++) {
        uint8_t request[64], expected[64], reply[VD_MODBUS_FRAME];
        size_t asked = from_hex(talks[i].request, request), wanted = from_hex(talks[i].reply, expected);
        size_t got = ask_pdu(&e, 17, request, asked, reply);
        if (got != (wanted > 0 ? wanted + 3 : 0) || memcmp(reply + 1, expected, wanted) != 0) {
            fail_msg("%s: %s (%zu bytes came back)", talks[i].request, talks[i].why, got);
        }
    }
    assert_int_equal(e.keeps, 1);
    e.now += 300000;
    uint8_t reply[VD_MODBUS_FRAME];
    assert_int_equal(ask_pdu(&e, 17, (const uint8_t *)"\x03\x00\x64\x00\x01", 5, reply), 7);
    free(e.memory);
}

/* A request and its reply, "" where it is silent; or "wait": a minute passes; "off": its supply goes; "hold": its
 * button is held for 3 s. */
typedef struct step {
    const char *request, *reply;
} step;

static void go_through(const vd_model *model, uint8_t address, const step *steps, size_t count)
{
    end e;
    start(&e, model);
    e.now += 1000000;
    for (size_t i = 0; i < count; i++) {
        uint8_t request[64], expected[64], reply[VD_MODBUS_FRAME];
        bool asks = g_ascii_isdigit(steps[i].request[0]);
        size_t wanted = from_hex(steps[i].reply, expected);
        e.now += strcmp(steps[i].request, "wait") == 0 ? 60000000 : 100000;
        vd_unit_engine.feed(vd_unit_in(&e.unit), &(vd_event){.kind = VD_TIME, .now = e.now});
        if (strcmp(steps[i].request, "off") == 0) {
            vd_unit_power_up(vd_unit_in(&e.unit), e.now);
            e.now += 1000000;
        } else if (strcmp(steps[i].request, "hold") == 0) {
            vd_unit_hold_button(vd_unit_in(&e.unit), e.now, 3000);
            e.now += 3000000;
        }
        size_t asked = asks ? from_hex(steps[i].request, request) : 0;
        size_t got = asks ? ask_pdu(&e, address, request, asked, reply) : 0;
        if (asks && (got != (wanted > 0 ? wanted + 3 : 0) || memcmp(reply + 1, expected, wanted) != 0)) {
            fail_msg("step %zu, %s: %02X %02X %02X %02X %02X %02X came back", i, steps[i].request, reply[1], reply[2],
                     reply[3], reply[4], reply[5], reply[6]);
        }
    }
    free(e.memory);
}

/* Rights, a login by number, limits that are taken one by one. */
#define GUARDED                                                                                                        \
    "verdite-model: 1\nmodel: gate\ntitle: Gate\nline: {baud: 19200, framing: 8N1}\n"                                  \
    "address: {from: 1, to: 247, factory: 17}\nidentify: {by: objects, maker: Quillmere, product: gate}\n"             \
    "times: {usual-reply: 5 ms, longest-reply: 100 ms, storing: 10 ms}\nlimits: {one-by-one: yes}\n"                   \
    "store: {register: 110, value: 1, proof: none}\nrestart: {takes: 1 s}\n"                                           \
    "actions: [{key: ring, label: Ring, register: 111, value: 9}]\n"                                                   \
    "login: {help: Log in., register: 100, password: code, guards: writing, tries: 2, lasts: 30 s}\n"                  \
    "groups: [{key: all, label: All}]\nsettings:\n"                                                                    \
    "  - {key: low, group: all, label: L, type: integer, range: [0, 99], default: 10, at: {register: 0}}\n"            \
    "  - {key: high, group: all, label: H, type: integer, range: [0, 99], default: 20, at: {register: 1}}\n"           \
    "  - {key: long, group: all, label: G, type: integer, range: [0, 99999], default: 7, at: {register: 2, words: "    \
    "2}}\n"                                                                                                            \
    "  - {key: inner, group: all, label: I, type: integer, range: [0, 9], default: 3, read-by: fitter, at: "           \
    "{register: 4}}\n"                                                                                                 \
    "  - {key: lamp, group: all, label: A, type: truth, default: \"on\", read-by: fitter, at: {coil: 0}}\n"            \
    "  - {key: code, group: all, label: C, type: integer, range: [0, 999999], default: 123456, access: write-only, "   \
    "at: {register: 5, words: 2}}\n"                                                                                   \
    "rules:\n  - {order: [low, high], enforced: writing}\n"

static void test_rights_in_registers(void **state)
{
    static const step steps[] = {
        {"03 0000 0002", "03 04 000A 0014"},
        {"03 0004 0001", "83 01"}, /* not before the login */
        {"03 0002 0003", "83 01"},
        {"01 0000 0001", "81 01"},
        {"06 0000 0005", "86 01"},
        {"05 0000 0000", "85 01"},
        {"06 006E 0001", "86 01"}, /* nor storing, nor orders */
        {"06 006F 0009", "86 01"},
        {"10 0064 0002 04 0000 0001", "90 03"}, /* the wrong password */
        {"06 0064 0001", "86 02"},              /* half a password */
        {"10 0064 0002 04 0001 E240", "10 0064 0002"},
        {"03 0004 0001", "03 02 0003"},
        {"01 0000 0001", "01 01 01"},
        {"10 0000 0002 04 001E 0028", "90 03"}, /* 30 is not below 20, which still stands */
        {"03 0000 0002", "03 04 000A 0014"},
        {"10 0000 0002 04 0005 0003", "90 03"}, /* 5 is taken; 3 is not */
        {"03 0000 0002", "03 04 0005 0014"},
        {"10 0001 0003 06 0063 0001 86A0", "90 03"}, /* 99 is taken, 100000 is beyond what it takes */
        {"03 0001 0003", "03 06 0063 0000 0007"},
        {"10 0001 0003 06 0021 0000 0008", "10 0001 0003"},
        {"03 0001 0003", "03 06 0021 0000 0008"},
        {"06 006F 0009", "06 006F 0009"},
        {"06 006E 0002", "86 03"}, /* no such order */
        {"06 006E 0001", "86 05"},
        {"wait", ""},
        {"06 0000 0006", "86 01"}, /* it was silent for too long */
        {"10 0064 0002 04 0001 E240", "10 0064 0002"},
        {"06 0000 0006", "06 0000 0006"},
        {"off", ""},
        {"03 0000 0001", "03 02 0005"},
        {"06 0000 0006", "86 01"},
        {"10 0064 0002 04 0000 0001", "90 03"},
        {"10 0064 0002 04 0000 0001", "90 03"},
        {"10 0064 0002 04 0001 E240", "90 03"}, /* it has locked */
    };
    (void)state;
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file = model_of_text(GUARDED, findings);
    assert_non_null(file);
    go_through(vd_model_file_model(file), 17, steps, G_N_ELEMENTS(steps));
    vd_model_file_free(file);
    vd_findings_free(findings);
}

/* The fog horn: hands, a clock and a counter, slots, a rule that counts when it stores. */
static void test_slots_and_what_runs_on(void **state)
{
    static const step steps[] = {
        {"03 0000 0005", "03 0A 001E 0028 00B4 0000 0001"}, /* slot 1, with what fog says */
        {"06 0004 0002", ""},                               /* not behind its key */
        {"hold", ""},
        {"06 0004 0002", "06 0004 0002"},
        {"03 0000 0003", "03 06 0078 0014 0078"}, /* what night says */
        {"06 0001 0258", "06 0001 0258"},         /* 60 s of 120 s: live, but not to be stored */
        {"06 005A 0001", "86 03"},
        {"06 0001 0028", "06 0001 0028"},
        {"06 005C 0001", "86 03"}, /* slot 1 cannot be saved */
        {"06 005C 0004", "86 03"},
        {"06 005C 0002", "06 005C 0002"},
        {"06 0004 0003", "06 0004 0003"},
        {"03 0000 0003", "03 06 003C 001E 00B4"}, /* the defaults */
        {"06 0000 000A", "06 0000 000A"},         /* live, and never saved */
        {"06 0004 0002", "06 0004 0002"},
        {"03 0000 0003", "03 06 0078 0028 0078"},
        {"06 0004 0003", "06 0004 0003"},
        {"03 0000 0001", "03 02 003C"},
        {"10 000A 0002 04 0000 03E8", "10 000A 0002"}, /* 1000 blasts so far */
        {"03 000A 0002", "03 04 0000 03E8"},
        {"wait", ""},
        {"03 000A 0002", "03 04 0000 03EE"},           /* one more every 10 s */
        {"10 0015 0002 04 69F5 AE80", "10 0015 0002"}, /* 2026-05-02 08:00:00 */
        {"wait", ""},
        {"03 0015 0002", "03 04 69F5 AEBC"}, /* a minute later */
        {"off", ""},
        {"03 0004 0001", "03 02 0001"}, /* back at slot 1 */
        {"03 0000 0003", "03 06 001E 0028 00B4"},
        {"06 0004 0002", ""}, /* and its key is wanted again */
    };
    (void)state;
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file = vd_model_file_load(source_path("tests/units/foghorn.yaml"), findings);
    assert_non_null(file);
    go_through(vd_model_file_model(file), 1, steps, G_N_ELEMENTS(steps));
    vd_model_file_free(file);
    vd_findings_free(findings);
}

/* An action is no setting: restarting takes its time, and what was not stored is gone. */
static void test_restart_by_command(void **state)
{
    uint8_t reply[VD_MODBUS_FRAME];
    end e;
    (void)state;
    start(&e, dowel());
    assert_int_equal(ask_pdu(&e, 247, (const uint8_t *)"\x06\x00\x0C\x00\x02", 5, reply), 8); /* the light */
    assert_string_equal(said(vd_unit_live(vd_unit_in(&e.unit)), "unit.light"), "high");
    assert_int_equal(ask_pdu(&e, 247, (const uint8_t *)"\x06\x00\xF1\x52\x53", 5, reply), 8);
    assert_int_equal(ask_pdu(&e, 247, (const uint8_t *)"\x03\x00\x0C\x00\x01", 5, reply), 0); /* it restarts */
    e.now += 2000000;
    assert_int_equal(ask_pdu(&e, 247, (const uint8_t *)"\x03\x00\x0C\x00\x01", 5, reply), 7);
    assert_string_equal(said(vd_unit_live(vd_unit_in(&e.unit)), "unit.light"), "low");
    assert_int_equal(ask_pdu(&e, 247, (const uint8_t *)"\x06\x00\xF1\x12\x34", 5, reply), 5); /* no such action */
    free(e.memory);
}

static void test_what_is_not_for_this_unit(void **state)
{
    (void)state;
    end e;
    uint8_t reply[VD_MODBUS_FRAME], frame[8] = {17, 3, 0, 100, 0, 1};
    start(&e, sampler());
    assert_int_equal(ask_pdu(&e, 18, (const uint8_t *)"\x03\x00\x64\x00\x01", 5, reply), 0);
    assert_int_equal(ask(&e, frame, 8, reply), 0); /* no check */
    assert_int_equal(ask(&e, frame, 1, reply), 0);
    /* the reply of a neighbour goes by, then a request for us: silence parts the two */
    assert_int_equal(ask_pdu(&e, 18, (const uint8_t *)"\x03\x04\x00\x01\x00\x02", 6, reply), 0);
    assert_int_equal(ask_pdu(&e, 17, (const uint8_t *)"\x03\x00\x64\x00\x01", 5, reply), 7);
    /* broadcast: done, not answered */
    assert_int_equal(ask_pdu(&e, 0, (const uint8_t *)"\x06\x00\x64\x00\xC8", 5, reply), 0);
    assert_int_equal(ask_pdu(&e, 17, (const uint8_t *)"\x03\x00\x64\x00\x01", 5, reply), 7);
    assert_int_equal(reply[4], 200);
    assert_int_equal(ask_pdu(&e, 0, (const uint8_t *)"\x03\x00\x64\x00\x01", 5, reply), 0);
    free(e.memory);
}

/* Identification that does not fit one frame is asked for in parts. */
static void test_identity_in_parts(void **state)
{
    (void)state;
    vd_modbus_responder_storage r;
    vd_modbus_frame request;
    const uint8_t ids[] = {0, 1, 2, 0x80};
    char long_text[121];
    memset(long_text, 'q', 120);
    long_text[120] = '\0';
    const char *const objects[] = {"Quillmere", long_text, "1.4", long_text};
    static const struct {
        uint8_t code, object, from, number, more, next;
    } table[] = {{3, 0, 0, 3, 0xFF, 0x80},
                 {3, 0x80, 0x80, 1, 0, 0},
                 {1, 0, 0, 3, 0, 0},
                 {4, 0x80, 0x80, 1, 0, 0},
                 {1, 0x55, 0, 3, 0, 0}};
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        vd_wants wants;
        vd_modbus_responder_start(vd_modbus_responder_in(&r), &vd_rtu_framing, NULL, &sampler()->line, 9, 5000);
        vd_modbus_ask_identity(&request, 9, table[i].code, table[i].object);
        vd_modbus_responder_engine.feed(
            vd_modbus_responder_in(&r),
            &(vd_event){.kind = VD_HEARD, .now = 0, .bytes = request.bytes, .count = request.length});
        vd_modbus_responder_engine.feed(vd_modbus_responder_in(&r), &(vd_event){.kind = VD_TIME, .now = 3000});
        assert_non_null(vd_modbus_responder_call(vd_modbus_responder_in(&r)));
        vd_modbus_answer_identity(vd_modbus_responder_in(&r), ids, objects, 4);
        vd_modbus_responder_engine.feed(vd_modbus_responder_in(&r), &(vd_event){.kind = VD_TIME, .now = 4999});
        vd_modbus_responder_engine.wants(vd_modbus_responder_in(&r), &wants);
        assert_int_equal(wants.count, 0); /* not before its turnaround */
        vd_modbus_responder_engine.feed(vd_modbus_responder_in(&r), &(vd_event){.kind = VD_TIME, .now = 5000});
        vd_modbus_responder_engine.wants(vd_modbus_responder_in(&r), &wants);
        assert_int_equal(vd_modbus_judge(&request, wants.send, wants.count), VD_OK);
        assert_int_equal(wants.send[5], table[i].more);
        assert_int_equal(wants.send[6], table[i].next);
        assert_int_equal(wants.send[7], table[i].number);
        assert_int_equal(wants.send[8], table[i].from);
    }
}

static void test_stored_values_outlast_the_supply(void **state)
{
    (void)state;
    end e;
    uint8_t reply[VD_MODBUS_FRAME];
    start(&e, sampler());
    ask_pdu(&e, 17, (const uint8_t *)"\x06\x00\x64\x00\xC8", 5, reply);
    vd_unit_power_up(vd_unit_in(&e.unit), 0);
    assert_string_equal(said(vd_unit_live(vd_unit_in(&e.unit)), "count"), "10");
    ask_pdu(&e, 17, (const uint8_t *)"\x06\x00\x64\x00\xC8", 5, reply);
    ask_pdu(&e, 17, (const uint8_t *)"\x06\x03\xE8\x00\x01", 5, reply);
    vd_unit_power_up(vd_unit_in(&e.unit), 0);
    assert_string_equal(said(vd_unit_live(vd_unit_in(&e.unit)), "count"), "200");
    free(e.memory);
}

/* Whatever bytes arrive, a unit neither crashes nor answers to another address, and its values stay legal. */
static void test_random_bytes(void **state)
{
    (void)state;
    end e;
    uint32_t random = 7;
    start(&e, sampler());
    for (int i = 0; i < 3000; i++) {
        uint8_t pdu[40], reply[VD_MODBUS_FRAME];
        size_t count = 1 + (random >> 24) % sizeof pdu;
        for (size_t k = 0; k < count; k++) {
            random = random * 1664525u + 1013904223u;
            pdu[k] = (uint8_t)(random >> 24);
        }
        static const uint8_t functions[] = {3, 4, 6, 16, 43};
        pdu[0] = i % 3 == 0 ? pdu[0] : functions[i % 5];
        if (ask_pdu(&e, 17, pdu, count, reply) > 0) {
            assert_int_equal(reply[0], 17);
        }
        for (uint16_t k = 0; k < SAMPLER_READING; k++) {
            assert_int_equal(vd_set_check(vd_unit_live(vd_unit_in(&e.unit)), k, NULL), VD_OK);
        }
    }
    free(e.memory);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_talk_with_a_unit),
        cmocka_unit_test(test_rights_in_registers),
        cmocka_unit_test(test_slots_and_what_runs_on),
        cmocka_unit_test(test_restart_by_command),
        cmocka_unit_test(test_what_is_not_for_this_unit),
        cmocka_unit_test(test_identity_in_parts),
        cmocka_unit_test(test_stored_values_outlast_the_supply),
        cmocka_unit_test(test_random_bytes),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
