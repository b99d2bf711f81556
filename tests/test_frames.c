/* SPDX-License-Identifier: MIT
 * Modbus frames against the examples printed in the standards: the PDUs of MODBUS Application Protocol V1.1b3,
 * clauses 6.1 to 6.6, 6.11, 6.12, 6.16, 6.17, 6.21 and 7, and the check of MODBUS over Serial Line V1.02, clause 6.2.2.
 */
#include "fixtures.h"

#include <string.h>

typedef struct bytes {
    uint8_t at[64];
    size_t count;
} bytes;

static bytes from_hex(const char *hex)
{
    bytes b = {.count = 0};
    for (; *hex != '\0'; hex++) {
        if (g_ascii_isxdigit(hex[0])) {
            b.at[b.count++] = (uint8_t)(g_ascii_xdigit_value(hex[0]) << 4 | g_ascii_xdigit_value(hex[1]));
            hex++;
        }
    }
    return b;
}

/* A PDU with an address in front and the check behind, worked out bit by bit as the standard's generator does, with
 * none of the library's code. */
static bytes framed(uint8_t address, const char *pdu)
{
    bytes inner = from_hex(pdu), b = {.count = 1};
    unsigned crc = 0xFFFF;
    b.at[0] = address;
    memcpy(b.at + 1, inner.at, inner.count);
    b.count += inner.count;
    for (size_t i = 0; i < b.count * 8; i++) {
        unsigned bit = (crc ^ (unsigned)b.at[i / 8] >> (i % 8)) & 1u;
        crc = crc >> 1 ^ (bit != 0 ? 0xA001u : 0);
    }
    b.at[b.count++] = (uint8_t)(crc & 0xFF);
    b.at[b.count++] = (uint8_t)(crc >> 8);
    return b;
}

static void test_check_of_the_standard(void **state)
{
    (void)state;
    /* SL 6.2.2, the example of CRC generation: 02 07 gives 12 41, low byte first: 41 12 */
    assert_int_equal(vd_modbus_crc((const uint8_t *)"\x02\x07", 2), 0x1241);
}

static void test_silence(void **state)
{
    static const struct {
        vd_serial line;
        uint32_t silence;
    } table[] = {{{9600, 8, 'E', 1}, 4011},
                 {{19200, 8, 'E', 1}, 2006},
                 {{19201, 8, 'E', 1}, 1750},
                 {{115200, 8, 'N', 1}, 1750},
                 {{1200, 8, 'N', 2}, 32084}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        assert_int_equal(vd_modbus_silence(&table[i].line), table[i].silence);
    }
}

static void test_requests_of_the_standard(void **state)
{
    (void)state;
    vd_modbus_frame frame;
    const uint16_t two[] = {0x000A, 0x0102}, three[] = {0xFF, 0xFF, 0xFF};
    const uint8_t coils[] = {0xCD, 0x01};
    struct {
        const char *pdu;
        int kind;
    } table[] = {{"01 00 13 00 13", 1},        {"02 00 C4 00 16", 2},
                 {"05 00 AC FF 00", 5},        {"0F 00 13 00 0A 02 CD 01", 15},
                 {"16 00 04 00 F2 00 25", 22}, {"17 00 03 00 06 00 0E 00 03 06 00 FF 00 FF 00 FF", 23},
                 {"03 00 6B 00 03", 3},        {"04 00 08 00 01", 4},
                 {"06 00 01 00 03", 6},        {"10 00 01 00 02 04 00 0A 01 02", 16},
                 {"2B 0E 01 00", 43}};
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        bytes expected = framed(0x11, table[i].pdu);
        switch (table[i].kind) {
        case 1: vd_modbus_ask_read(&frame, 0x11, VD_MODBUS_READ_COILS, 0x13, 0x13); break;
        case 2: vd_modbus_ask_read(&frame, 0x11, VD_MODBUS_READ_DISCRETE, 0xC4, 0x16); break;
        case 5: vd_modbus_ask_write_coil(&frame, 0x11, 0xAC, true); break;
        case 15: vd_modbus_ask_write_coils(&frame, 0x11, 0x13, coils, 10); break;
        case 22: vd_modbus_ask_mask_write(&frame, 0x11, 4, 0xF2, 0x25); break;
        case 23: vd_modbus_ask_read_write(&frame, 0x11, 3, 6, 0x0E, three, 3); break;
        case 3: vd_modbus_ask_read(&frame, 0x11, VD_MODBUS_READ_HOLDING, 0x6B, 3); break;
        case 4: vd_modbus_ask_read(&frame, 0x11, VD_MODBUS_READ_INPUT, 8, 1); break;
        case 6: vd_modbus_ask_write_one(&frame, 0x11, 1, 3); break;
        case 16: vd_modbus_ask_write_many(&frame, 0x11, 1, two, 2); break;
        default: vd_modbus_ask_identity(&frame, 0x11, 1, 0);
        }
        assert_int_equal(frame.length, expected.count);
        assert_memory_equal(frame.bytes, expected.at, expected.count);
    }
}

/* AP 6.21's identification reply: company, product code ("XX" letters left to the maker), version. */
#define IDENTITY                                                                                                       \
    "2B 0E 01 01 00 00 03 00 16 43 6F 6D 70 61 6E 79 20 69 64 65 6E 74 69 66 69 63 61 74 69 6F 6E "                    \
    "01 0D 50 72 6F 64 75 63 74 20 63 6F 64 65 20 02 05 56 32 2E 31 31"

static const struct {
    const char *request, *reply;
    uint8_t address;
    vd_status status;
} judgements[] = {
    {"01 00 13 00 13", "01 03 CD 6B 05", 0x11, VD_OK},
    {"01 00 13 00 13", "01 02 CD 6B", 0x11, VD_WRONG_LENGTH},
    {"02 00 C4 00 16", "02 03 AC DB 35", 0x11, VD_OK},
    {"05 00 AC FF 00", "05 00 AC FF 00", 0x11, VD_OK},
    {"05 00 AC FF 00", "05 00 AC 00 00", 0x11, VD_WRONG_FUNCTION},
    {"0F 00 13 00 0A 02 CD 01", "0F 00 13 00 0A", 0x11, VD_OK},
    {"16 00 04 00 F2 00 25", "16 00 04 00 F2 00 25", 0x11, VD_OK},
    {"16 00 04 00 F2 00 25", "16 00 04 00 F2 00 24", 0x11, VD_WRONG_FUNCTION},
    {"17 00 03 00 06 00 0E 00 03 06 00 FF 00 FF 00 FF", "17 0C 00 FE 0A CD 00 01 00 03 00 0D 00 FF", 0x11, VD_OK},
    {"17 00 03 00 06 00 0E 00 03 06 00 FF 00 FF 00 FF", "97 02", 0x11, VD_EXCEPTION_ADDRESS},
    {"03 00 6B 00 03", "03 06 02 2B 00 00 00 64", 0x11, VD_OK},
    {"04 00 08 00 01", "04 02 00 0A", 0x11, VD_OK},
    {"06 00 01 00 03", "06 00 01 00 03", 0x11, VD_OK},
    {"10 00 01 00 02 04 00 0A 01 02", "10 00 01 00 02", 0x11, VD_OK},
    {"2B 0E 01 00", IDENTITY, 0x11, VD_OK},
    {"03 00 6B 00 03", "83 01", 0x11, VD_EXCEPTION_FUNCTION},
    {"03 00 6B 00 03", "83 02", 0x11, VD_EXCEPTION_ADDRESS},
    {"06 00 01 00 03", "86 03", 0x11, VD_EXCEPTION_VALUE},
    {"10 00 01 00 02 04 00 0A 01 02", "90 04", 0x11, VD_EXCEPTION_FAILURE},
    {"06 00 01 00 03", "86 05", 0x11, VD_EXCEPTION_ACKNOWLEDGE},
    {"06 00 01 00 03", "86 06", 0x11, VD_EXCEPTION_BUSY},
    {"03 00 6B 00 03", "83 08", 0x11, VD_EXCEPTION_MEMORY},
    {"03 00 6B 00 03", "83 0A", 0x11, VD_EXCEPTION_PATH},
    {"03 00 6B 00 03", "83 0B", 0x11, VD_EXCEPTION_TARGET},
    {"03 00 6B 00 03", "83 63", 0x11, VD_EXCEPTION_OTHER},
    {"03 00 6B 00 03", "03 06 02 2B 00 00 00 64", 0x12, VD_WRONG_ADDRESS},
    {"03 00 6B 00 03", "04 06 02 2B 00 00 00 64", 0x11, VD_WRONG_FUNCTION},
    {"03 00 6B 00 03", "03 04 02 2B 00 00", 0x11, VD_WRONG_LENGTH},
    {"03 00 6B 00 03", "84 02", 0x11, VD_WRONG_FUNCTION},
    {"06 00 01 00 03", "06 00 01 00 04", 0x11, VD_WRONG_FUNCTION},
    {"06 00 01 00 03", "06 00 02 00 03", 0x11, VD_WRONG_FUNCTION},
    {"10 00 01 00 02 04 00 0A 01 02", "10 00 01 00 01", 0x11, VD_WRONG_FUNCTION},
    {"2B 0E 04 80", IDENTITY, 0x11, VD_WRONG_FUNCTION},
};

static void test_replies(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(judgements); i++) {
        bytes asked = framed(0x11, judgements[i].request), reply = framed(judgements[i].address, judgements[i].reply);
        vd_modbus_frame request = {.length = (uint16_t)asked.count};
        memcpy(request.bytes, asked.at, asked.count);
        if (vd_modbus_judge(&request, reply.at, reply.count) != judgements[i].status) {
            fail_msg("reply %s was misjudged", judgements[i].reply);
        }
        /* one bit wrong anywhere is never taken */
        for (size_t bit = 0; bit < 8 * reply.count; bit++) {
            bytes damaged = reply;
            damaged.at[bit / 8] ^= (uint8_t)(1u << (bit % 8));
            assert_int_equal(vd_modbus_judge(&request, damaged.at, damaged.count), VD_CHECK_FAILED);
        }
    }
}

/* The length is known from a prefix, never wrong on the way, and never beyond the largest frame. */
static void test_where_a_reply_ends(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(judgements); i++) {
        bytes reply = framed(0x11, judgements[i].reply);
        for (size_t count = 0; count <= reply.count; count++) {
            int length = vd_modbus_reply_length(reply.at, count);
            assert_true(length == 0 || length == (int)reply.count);
        }
        assert_int_equal(vd_modbus_reply_length(reply.at, reply.count), reply.count);
    }
    assert_int_equal(vd_modbus_reply_length((const uint8_t *)"\x11\x63", 2), -1);
    assert_int_equal(vd_modbus_reply_length((const uint8_t *)"\x11\x03\xFC", 3), -1);
    uint8_t endless[256] = {0x11, 0x2B, 0x0E, 1, 1, 0, 0, 255};
    memset(endless + 8, 0xFF, 248);
    assert_int_equal(vd_modbus_reply_length(endless, 256), -1);
}

static void test_words_of_a_trace(void **state)
{
    static const struct {
        const char *pdu;
        bool from_unit;
        const char *words;
    } table[] = {
        {"03 00 6B 00 03", false, "address 17, read holding registers 107 to 109"},
        {"03 06 02 2B 00 00 00 64", true, "address 17, holding registers: 022B 0000 0064"},
        {"06 00 01 00 03", false, "address 17, write holding registers 1: 0003"},
        {"10 00 01 00 02 04 00 0A 01 02", false, "address 17, write holding registers 1 to 2: 000A 0102"},
        {"83 02", true, "address 17, exception 2: no such register"},
        {"2B 0E 01 00", false, "address 17, read identification from object 0"},
        {IDENTITY, true, "address 17, identification \"Company identification\", \"Product code\", \"V2.11\""},
    };
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        char words[256];
        bytes frame = framed(0x11, table[i].pdu);
        vd_writer writer = vd_writer_start(words, sizeof words);
        vd_modbus_explain(frame.at, frame.count, table[i].from_unit, &writer);
        assert_string_equal(words, table[i].words);
        frame.at[1] ^= 0x40;
        writer = vd_writer_start(words, sizeof words);
        vd_modbus_explain(frame.at, frame.count, table[i].from_unit, &writer);
        assert_string_equal(words, "not a sound frame");
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_check_of_the_standard),    cmocka_unit_test(test_silence),
        cmocka_unit_test(test_requests_of_the_standard), cmocka_unit_test(test_replies),
        cmocka_unit_test(test_where_a_reply_ends),       cmocka_unit_test(test_words_of_a_trace),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
