/* SPDX-License-Identifier: MIT
 * Modbus ASCII at both ends: the examples of the MODBUS Application Protocol V1.1b3 framed as MODBUS over Serial Line
 * V1.02, 2.5.2 and 6.2.1, has it; the checks were worked out by hand. */
#include "fixtures.h"
#include "verdite/modbus_ascii.h"

#include <string.h>

#define MS 1000u

/* Each with address 17. */
static const struct {
    uint8_t function;
    uint16_t first, count; /* of a read; else where and what is written */
    const char *request, *reply;
    uint8_t at;          /* of the reply's PDU, where it shows */
    const char *content; /* what stands there, in hexadecimal */
} examples[] = {
    /* 6.1: coils 20 to 38. */
    {VD_MODBUS_READ_COILS, 0x0013, 19, ":110100130013C8\r\n", ":110103CD6B05AE\r\n", 2, "CD6B05"},
    /* 6.3: registers 108 to 110. */
    {VD_MODBUS_READ_HOLDING, 0x006B, 3, ":1103006B00037E\r\n", ":110306022B0000006455\r\n", 2, "022B00000064"},
    /* 6.4: input register 9. */
    {VD_MODBUS_READ_INPUT, 0x0008, 1, ":110400080001E2\r\n", ":110402000ADF\r\n", 2, "000A"},
    /* 6.5: coil 173 on. */
    {VD_MODBUS_WRITE_COIL, 0x00AC, 1, ":110500ACFF003F\r\n", ":110500ACFF003F\r\n", 1, "00ACFF00"},
    /* 6.6: register 2. */
    {VD_MODBUS_WRITE_ONE, 0x0001, 3, ":110600010003E5\r\n", ":110600010003E5\r\n", 1, "00010003"},
};

static void ask(vd_modbus_frame *frame, size_t i)
{
    switch (examples[i].function) {
    case VD_MODBUS_WRITE_COIL: vd_modbus_ask_write_coil(frame, 17, examples[i].first, examples[i].count != 0); break;
    case VD_MODBUS_WRITE_ONE: vd_modbus_ask_write_one(frame, 17, examples[i].first, examples[i].count); break;
    default: vd_modbus_ask_read(frame, 17, examples[i].function, examples[i].first, examples[i].count);
    }
}

/* A client that has sent an example. */
typedef struct asked {
    vd_modbus_client_storage client;
    uint8_t room[2 * VD_MODBUS_FRAME + 1];
    uint64_t now;
} asked;

static void start(asked *a, size_t i, uint8_t tries)
{
    const vd_modbus_manner manner = {.framing = &vd_ascii_framing,
                                     .line = {9600, 7, 'E', 1},
                                     .limit = 300 * MS,
                                     .longest = 300 * MS,
                                     .gap = 1000 * MS, /* SL 2.5.2.1: a second between characters */
                                     .tries = tries};
    vd_wants wants;
    memset(a, 0, sizeof *a);
    a->now = 5000 * MS;
    vd_modbus_client_start(vd_modbus_client_in(&a->client), &manner, a->room);
    ask(vd_modbus_client_request(vd_modbus_client_in(&a->client)), i);
    vd_modbus_client_begin(vd_modbus_client_in(&a->client), a->now, true, 0);
    vd_modbus_client_engine.wants(vd_modbus_client_in(&a->client), &wants);
    assert_int_equal(wants.count, strlen(examples[i].request));
    assert_memory_equal(wants.send, examples[i].request, wants.count);
    assert_int_equal(wants.quiet, 0); /* no silence parts frames */
    vd_modbus_client_engine.feed(vd_modbus_client_in(&a->client),
                                 &(vd_event){.kind = VD_SENT, .now = a->now, .until = a->now});
}

static void hear(asked *a, const char *characters, size_t count)
{
    a->now += 10 * MS;
    const vd_event event = {.kind = VD_HEARD, .now = a->now, .bytes = (const uint8_t *)characters, .count = count};
    vd_modbus_client_engine.feed(vd_modbus_client_in(&a->client), &event);
}

static void assert_answered(asked *a, size_t i)
{
    vd_status status = VD_OK;
    size_t length = 0;
    assert_true(vd_modbus_client_ended(vd_modbus_client_in(&a->client), &status));
    assert_int_equal(status, VD_OK);
    const uint8_t *reply = vd_modbus_client_reply(vd_modbus_client_in(&a->client), &length);
    for (size_t k = 0; k < strlen(examples[i].content) / 2; k++) {
        char two[3] = {0};
        memcpy(two, examples[i].content + 2 * k, 2);
        assert_int_equal(reply[examples[i].at + k], strtoul(two, NULL, 16));
    }
}

static void test_examples_of_the_standard_in_two_pieces(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(examples); i++) {
        const char *reply = examples[i].reply;
        for (size_t cut = 0; cut <= strlen(reply); cut++) {
            asked a;
            start(&a, i, 1);
            hear(&a, reply, cut);
            a.now += cut > 0 ? 900 * MS : 0; /* shorter than the second that is allowed */
            vd_modbus_client_engine.feed(vd_modbus_client_in(&a.client),
                                         &(vd_event){.kind = VD_TIME, .now = a.now - MS});
            hear(&a, reply + cut, strlen(reply) - cut);
            assert_answered(&a, i);
        }
    }
}

/* What each becomes with a single character changed, left out or doubled; with what stands before it. */
static void test_what_is_no_answer_is_none(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(examples); i++) {
        const char *reply = examples[i].reply;
        size_t length = strlen(reply);
        for (size_t at = 1; at + 2 < length; at++) {
            static const char others[] = "0189AFG :";
            for (size_t k = 0; k < sizeof others; k++) {
                char spoilt[64];
                asked a;
                vd_status status = VD_OK;
                memcpy(spoilt, reply, length + 1);
                if (others[k] == '\0') { /* left out */
                    memmove(spoilt + at, spoilt + at + 1, length - at);
                } else if (others[k] == reply[at]) {
                    continue;
                }
                spoilt[at] = others[k] == '\0' ? spoilt[at] : others[k];
                start(&a, i, 1);
                hear(&a, spoilt, strlen(spoilt));
                assert_false(vd_modbus_client_ended(vd_modbus_client_in(&a.client), &status) && status == VD_OK);
            }
        }
    }
}

/* A character that came with a wrong parity spoils the frame that it is in, whichever it is. */
static void test_an_error_of_the_line_spoils(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(examples); i++) {
        const char *reply = examples[i].reply;
        for (size_t at = 0; at < strlen(reply); at++) {
            uint8_t errors[64] = {0};
            asked a;
            vd_status status = VD_OK;
            start(&a, i, 1);
            a.now += 10 * MS;
            errors[at] = VD_ERROR_PARITY;
            vd_modbus_client_engine.feed(vd_modbus_client_in(&a.client), &(vd_event){.kind = VD_HEARD,
                                                                                     .now = a.now,
                                                                                     .bytes = (const uint8_t *)reply,
                                                                                     .errors = errors,
                                                                                     .count = strlen(reply)});
            for (int k = 0; k < 99 && !vd_modbus_client_ended(vd_modbus_client_in(&a.client), &status); k++) {
                a.now += 100 * MS;
                vd_modbus_client_engine.feed(vd_modbus_client_in(&a.client),
                                             &(vd_event){.kind = VD_TIME, .now = a.now});
            }
            assert_true(vd_modbus_client_ended(vd_modbus_client_in(&a.client), &status));
            assert_int_equal(status, VD_LINE_ERRORS);
        }
    }
}

static void test_a_colon_begins_anew(void **state)
{
    (void)state;
    static const char *const before[] = {"\xF1\x07", ":", ":110300", "garbage\r\n", ":1103006B00037E", ":FFFF\r"};
    for (size_t i = 0; i < G_N_ELEMENTS(before); i++) {
        asked a;
        start(&a, 1, 1);
        hear(&a, before[i], strlen(before[i]));
        hear(&a, examples[1].reply, strlen(examples[1].reply));
        assert_answered(&a, 1);
    }
}

/* Our own request comes back before the reply. */
static void test_an_echo_is_no_reply(void **state)
{
    (void)state;
    for (size_t i = 0; i < 3; i++) { /* of a write, the reply is the same */
        asked a;
        vd_status status = VD_OK;
        start(&a, i, 1);
        hear(&a, examples[i].request, strlen(examples[i].request));
        assert_false(vd_modbus_client_ended(vd_modbus_client_in(&a.client), &status));
        hear(&a, examples[i].reply, strlen(examples[i].reply));
        assert_answered(&a, i);
    }
}

/* The unit's end: takes each request in two pieces, at each place, and answers as the standard's example does. */
static void test_the_units_end(void **state)
{
    (void)state;
    static const uint16_t words[] = {0x022B, 0, 0x64};
    static const uint8_t coils[] = {0xCD, 0x6B, 0x05};
    static const uint16_t input[] = {10};
    for (size_t i = 0; i < G_N_ELEMENTS(examples); i++) {
        size_t length = strlen(examples[i].request);
        for (size_t cut = 0; cut <= length; cut++) {
            uint8_t room[2 * VD_MODBUS_FRAME + 1];
            vd_modbus_responder_storage r;
            vd_wants wants;
            const vd_serial line = {9600, 7, 'E', 1};
            const uint8_t *request = (const uint8_t *)examples[i].request;
            vd_modbus_responder_start(vd_modbus_responder_in(&r), &vd_ascii_framing, room, &line, 17, 5 * MS);
            vd_modbus_responder_engine.feed(
                vd_modbus_responder_in(&r),
                &(vd_event){.kind = VD_HEARD, .now = 1000 * MS, .bytes = request, .count = cut});
            assert_int_equal(vd_modbus_responder_call(vd_modbus_responder_in(&r)) != NULL, cut == length);
            vd_modbus_responder_engine.feed(
                vd_modbus_responder_in(&r),
                &(vd_event){.kind = VD_HEARD, .now = 1900 * MS, .bytes = request + cut, .count = length - cut});
            const vd_modbus_call *call = vd_modbus_responder_call(vd_modbus_responder_in(&r));
            assert_non_null(call);
            assert_int_equal(call->function, examples[i].function);
            assert_int_equal(call->first, examples[i].first);
            switch (call->function) {
            case VD_MODBUS_READ_COILS: vd_modbus_answer_bits(vd_modbus_responder_in(&r), coils); break;
            case VD_MODBUS_READ_HOLDING: vd_modbus_answer_registers(vd_modbus_responder_in(&r), words); break;
            case VD_MODBUS_READ_INPUT: vd_modbus_answer_registers(vd_modbus_responder_in(&r), input); break;
            default: vd_modbus_answer_done(vd_modbus_responder_in(&r)); break;
            }
            vd_modbus_responder_engine.feed(vd_modbus_responder_in(&r), &(vd_event){.kind = VD_TIME, .now = 2000 * MS});
            vd_modbus_responder_engine.wants(vd_modbus_responder_in(&r), &wants);
            assert_int_equal(wants.count, strlen(examples[i].reply));
            assert_memory_equal(wants.send, examples[i].reply, wants.count);
        }
    }
}

/* For others, for nobody, unsound, or not its own framing. */
static void test_the_units_end_is_silent_to_the_rest(void **state)
{
    (void)state;
    static const char *const lines[] = {":1203006B00037D\r\n",
                                        ":1103006B00037F\r\n",
                                        "1103006B00037E\r\n",
                                        ":1103006B00037\r\n",
                                        ":1103006B0003\r\n",
                                        "\x11\x03\x00\x6B\x00\x03\x76\x87",
                                        ":\r\n",
                                        ":11\r\n",
                                        "\r\n"};
    for (size_t i = 0; i < G_N_ELEMENTS(lines); i++) {
        uint8_t room[2 * VD_MODBUS_FRAME + 1];
        vd_modbus_responder_storage r;
        vd_wants wants;
        const vd_serial line = {9600, 7, 'E', 1};
        vd_modbus_responder_start(vd_modbus_responder_in(&r), &vd_ascii_framing, room, &line, 17, 5 * MS);
        size_t count = i == 5 ? 8 : strlen(lines[i]);
        vd_modbus_responder_engine.feed(
            vd_modbus_responder_in(&r),
            &(vd_event){.kind = VD_HEARD, .now = MS, .bytes = (const uint8_t *)lines[i], .count = count});
        vd_modbus_responder_engine.feed(vd_modbus_responder_in(&r), &(vd_event){.kind = VD_TIME, .now = 500 * MS});
        vd_modbus_responder_engine.wants(vd_modbus_responder_in(&r), &wants);
        assert_null(vd_modbus_responder_call(vd_modbus_responder_in(&r)));
        assert_int_equal(wants.count, 0);
    }
}

/* The longest frame: 513 characters (SL 2.5.2.2). */
static void test_the_longest_frame(void **state)
{
    (void)state;
    vd_modbus_frame frame;
    uint16_t words[VD_MODBUS_MOST_WRITE], count = 0;
    uint8_t room[2 * VD_MODBUS_FRAME + 1], bytes[VD_MODBUS_FRAME];
    bool ends = false;
    memset(words, 0xA5, sizeof words);
    vd_modbus_ask_write_many(&frame, 247, 0xFFFF, words, VD_MODBUS_MOST_WRITE);
    const uint8_t *put = vd_ascii_framing.put(&frame, room, &count);
    assert_int_equal(count, 2 * frame.length + 1);
    assert_int_equal(vd_ascii_framing.characters(frame.length), count);
    assert_int_equal(vd_ascii_framing.characters(VD_MODBUS_FRAME), 513);
    assert_int_equal(vd_ascii_framing.room, 513);
    assert_int_equal(vd_framing_open(&vd_ascii_framing, put, count, bytes, &ends), frame.length);
    assert_memory_equal(bytes, frame.bytes, frame.length);
    assert_true(ends);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_examples_of_the_standard_in_two_pieces),
        cmocka_unit_test(test_what_is_no_answer_is_none),
        cmocka_unit_test(test_an_error_of_the_line_spoils),
        cmocka_unit_test(test_a_colon_begins_anew),
        cmocka_unit_test(test_an_echo_is_no_reply),
        cmocka_unit_test(test_the_units_end),
        cmocka_unit_test(test_the_units_end_is_silent_to_the_rest),
        cmocka_unit_test(test_the_longest_frame),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
