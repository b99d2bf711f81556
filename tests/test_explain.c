/* SPDX-License-Identifier: MIT
 * What a trace says of frames and lines: the examples that the standards print, and damaged ones. */
#include "fixtures.h"
#include "verdite/lines.h"
#include "verdite/modbus.h"

#include <string.h>

/* MODBUS over Serial Line V1.02, appendix B, bit by bit. */
static void seal(uint8_t *frame, size_t count)
{
    unsigned check = 0xFFFF;
    for (size_t i = 0; i < 8 * count; i++) {
        unsigned out = (check ^ (unsigned)frame[i / 8] >> (i % 8)) & 1u;
        check = check >> 1 ^ (out ? 0xA001u : 0u);
    }
    frame[count] = (uint8_t)(check & 0xFF);
    frame[count + 1] = (uint8_t)(check >> 8);
}

/* "0300 6B" as bytes; returns how many. */
static size_t bytes_of(const char *hex, uint8_t *bytes)
{
    size_t count = 0;
    for (const char *at = hex; *at != '\0'; at++) {
        if (*at != ' ') {
            bytes[count++] = (uint8_t)(g_ascii_xdigit_value(at[0]) << 4 | g_ascii_xdigit_value(at[1]));
            at++;
        }
    }
    return count;
}

/* Requests and replies of AP 6.1 to 6.21, with address 17 before them. */
static const struct {
    const char *frame;
    bool from_unit;
    const char *words;
} frames[] = {
    {"01 0013 0013", false, "address 17, read coils 19 to 37"},
    {"01 03 CD6B05", true, "address 17, coils: 101100111101011010100000"},
    {"02 00C4 0016", false, "address 17, read discrete inputs 196 to 217"},
    {"02 03 ACDB35", true, "address 17, discrete inputs: 001101011101101110101100"},
    {"03 006B 0003", false, "address 17, read holding registers 107 to 109"},
    {"03 06 022B 0000 0064", true, "address 17, holding registers: 022B 0000 0064"},
    {"04 0008 0001", false, "address 17, read input registers 8"},
    {"04 02 000A", true, "address 17, input registers: 000A"},
    {"05 00AC FF00", false, "address 17, write coils 172: 1"},
    {"05 00AC FF00", true, "address 17, written: coils 172: 1"},
    {"06 0001 0003", false, "address 17, write holding registers 1: 0003"},
    {"06 0001 0003", true, "address 17, written: holding registers 1: 0003"},
    {"0F 0013 000A 02 CD01", false, "address 17, write coils 19 to 28: 1011001110"},
    {"0F 0013 000A", true, "address 17, written: coils 19 to 28"},
    {"10 0001 0002 04 000A 0102", false, "address 17, write holding registers 1 to 2: 000A 0102"},
    {"10 0001 0002", true, "address 17, written: holding registers 1 to 2"},
    {"16 0004 00F2 0025", false, "address 17, write bits of holding register 4, keeping: 00F2, setting: 0025"},
    {"16 0004 00F2 0025", true, "address 17, written: bits of holding register 4, keeping: 00F2, setting: 0025"},
    {"17 0003 0006 000E 0003 06 00FF 00FF 00FF", false,
     "address 17, write holding registers 14 to 16: 00FF 00FF 00FF, then read 3 to 8"},
    {"17 0C 00FE 0ACD 0001 0003 000D 00FF", true,
     "address 17, written and read: holding registers: 00FE 0ACD 0001 0003 000D 00FF"},
    {"2B 0E 01 00", false, "address 17, read identification from object 0"},
    {"2B 0E 01 01 00 00 02 00 03 41 42 43 01 02 58 59", true, "address 17, identification \"ABC\", \"XY\""},
    {"83 02", true, "address 17, exception 2: no such register"},
    {"90 06", true, "address 17, exception 6: busy"},
    {"83 63", true, "address 17, exception 99"},
    {"2A 0001 0002", false, "address 17, function 42"},
    {"0F 0013 000A 02 CD", false, "not a frame that Verdite knows"},
    {"16 0004 00F2", false, "not a frame that Verdite knows"},
    {"17 0003 0006 000E", false, "not a frame that Verdite knows"},
    {"2A 01", true, "not a frame that Verdite knows"},
};

static void test_frames(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(frames); i++) {
        uint8_t frame[64] = {17};
        char words[256];
        size_t count = 1 + bytes_of(frames[i].frame, frame + 1);
        seal(frame, count);
        vd_writer writer = vd_writer_start(words, sizeof words);
        vd_modbus_explain(frame, count + 2, frames[i].from_unit, &writer);
        assert_string_equal(words, frames[i].words);
        frame[0] ^= 1; /* a flipped bit anywhere is seen */
        writer = vd_writer_start(words, sizeof words);
        vd_modbus_explain(frame, count + 2, frames[i].from_unit, &writer);
        assert_string_equal(words, "not a sound frame");
        for (size_t cut = 0; cut < count + 2; cut++) {
            writer = vd_writer_start(words, sizeof words);
            vd_modbus_explain(frame, cut, frames[i].from_unit, &writer);
            assert_string_equal(words, "not a sound frame");
        }
    }
}

static const struct {
    const char *line;
    bool from_unit;
    const char *words;
} lines[] = {
    {"AT+CMD2=3,0,15,\"GSM\"", false, "set +CMD2"},
    {"AT+CMD1?;+CMD2?;+CMD3=1;S", false, "read +CMD1, +CMD2; set +CMD3; do S"},
    {"AT+CMD2?", true, "our own line, echoed"},
    {"OK", true, "done"},
    {"+CME ERROR: 50", true, "refused"},
    {"ERROR", true, "refused"},
    {"+CMD2: 3,0,15,\"GSM\"", true, ""},
    {":LIM1 20.0,65.0;:SYST:ERR?", false, "set :LIM1; read :SYST:ERR"},
    {"*CLS", false, "do *CLS"},
    {"0,\"No error\"", true, ""},
    {"$PQLX,R,NAME,LIMIT*39", false, "read NAME, LIMIT"},
    {"$GPGLL,4916.45,N,12311.12,W,225444,A*31", true, "a sentence that it sends of itself"},
    {"$GPGLL,4916.45,N,12311.12,W,225444,A*32", true, "sentence whose check does not fit"},
    {"$PQLX,V", true, "sentence whose check does not fit"},
    {"$PQLX,N,LEVEL,2*13", true, "refused, and why: LEVEL, 2"},
    {"$PQLX,A,LEVEL*02", true, "done: LEVEL"},
    {"AT+X=\r\"1\"", false, "no plain line"}, /* nothing in it steers a terminal */
    {"+NAME: \033[2J", true, "no plain line"},
    {"$PQLX,N,\302\2332J*13", true, "no plain line"},
    {"$PQLX,V,1,1,CMD2,3,0,15,GSM*65", true, "values, sentence and how many: 1, 1, CMD2, 3, 0, 15, GSM"},
};

static void test_lines(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(lines); i++) {
        char words[256];
        vd_writer writer = vd_writer_start(words, sizeof words);
        vd_lines_explain(lines[i].line, strlen(lines[i].line), lines[i].from_unit, &writer);
        assert_string_equal(words, lines[i].words);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_frames), cmocka_unit_test(test_lines)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
