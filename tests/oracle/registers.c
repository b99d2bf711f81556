/* SPDX-License-Identifier: MIT
 * A unit with registers, after MODBUS Application Protocol V1.1b3 and MODBUS over Serial Line V1.02, written from the
 * standard's pages. Stricter than most: a request that touches one register too many is refused as a whole. */
#include "oracle.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum {
    STORE_AT = 240,
    STORE_VALUE = 0x4B50,
    RESTART_AT = 241,
    RESTART_VALUE = 0x5253,
    DEFAULTS_VALUE = 0x4644,
    SAVE_AT = 242,
    LOGIN_AT = 250
};

/* SL appendix B: bit by bit. */
static unsigned check_of(const uint8_t *bytes, size_t count)
{
    unsigned check = 0xFFFF;
    for (size_t i = 0; i < 8 * count; i++) {
        unsigned in = (unsigned)bytes[i / 8] >> (i % 8) & 1u;
        unsigned out = (check ^ in) & 1u;
        check = check >> 1 ^ (out ? 0xA001u : 0u);
    }
    return check;
}

static void add(oracle *o, unsigned byte)
{
    o->reply[o->reply_length++] = (char)byte;
}

static void close_frame(oracle *o)
{
    unsigned check = check_of((const uint8_t *)o->reply, o->reply_length);
    add(o, check & 0xFF);
    add(o, check >> 8);
}

/* SL 2.5.2 and 6.2.1: a colon, the bytes as pairs of capital digits, what makes their sum 0, and the line end. */
size_t oracle_open(const uint8_t *request, size_t count, uint8_t *bytes, size_t size)
{
    size_t pairs = count > 3 ? (count - 3) / 2 : 0;
    unsigned sum = 0;
    if (pairs < 3 || pairs + 1 > size || count != 2 * pairs + 3 || request[0] != ':' || request[count - 2] != '\r' ||
        request[count - 1] != '\n') {
        return 0;
    }
    for (size_t i = 0; i < pairs; i++) {
        char two[3] = {(char)request[1 + 2 * i], (char)request[2 + 2 * i], '\0'};
        if (strspn(two, "0123456789ABCDEF") != 2) {
            return 0;
        }
        bytes[i] = (uint8_t)strtoul(two, NULL, 16);
        sum += bytes[i];
    }
    unsigned check = check_of(bytes, pairs - 1);
    bytes[pairs - 1] = (uint8_t)check;
    bytes[pairs] = (uint8_t)(check >> 8);
    return sum % 256 == 0 ? pairs + 1 : 0;
}

static void put_into_characters(oracle *o)
{
    uint8_t bytes[300];
    size_t count = o->reply_length - 2;
    unsigned sum = 0;
    memcpy(bytes, o->reply, count);
    o->reply_length = (size_t)snprintf(o->reply, sizeof o->reply, ":");
    for (size_t i = 0; i < count; i++) {
        sum += bytes[i];
        o->reply_length += (size_t)sprintf(o->reply + o->reply_length, "%02X", bytes[i]);
    }
    o->reply_length += (size_t)sprintf(o->reply + o->reply_length, "%02X\r\n", (256 - sum % 256) % 256);
}

static void refuse(oracle *o, unsigned function, unsigned code)
{
    o->reply_length = 0;
    add(o, o->address);
    add(o, function | 0x80u);
    add(o, code);
    close_frame(o);
}

static unsigned word_at(const uint8_t *bytes)
{
    return (unsigned)bytes[0] * 256u + bytes[1];
}

static oracle_cell *cell_at(oracle *o, unsigned address, bool input)
{
    for (size_t i = 0; i < o->count; i++) {
        oracle_cell *cell = &o->cells[i];
        bool is_input = cell->access == 'i' || cell->access == 't' || cell->access == 'u';
        if (is_input == input && address >= cell->at && address < (unsigned)cell->at + cell->words) {
            return cell;
        }
    }
    return NULL;
}

static void answer_read(oracle *o, const uint8_t *request)
{
    unsigned first = word_at(request + 2), count = word_at(request + 4);
    bool input = request[1] == 4, stored = !input && o->bank > 0 && first >= o->bank;
    if (request[1] == 3 && count == 1 && (first == STORE_AT || first == RESTART_AT)) { /* an order reads as 0 */
        add(o, o->address);
        add(o, 3);
        add(o, 2);
        add(o, 0);
        add(o, 0);
        close_frame(o);
        return;
    }
    add(o, o->address);
    add(o, request[1]);
    add(o, 2 * count);
    for (unsigned i = 0; i < count; i++) {
        unsigned at = first + i - (stored ? o->bank : 0u);
        oracle_cell *cell = cell_at(o, at, input);
        if (cell == NULL) {
            refuse(o, request[1], 2);
            return;
        }
        char four[5] = {0};
        memcpy(four, cell->access == 'w' ? "0000" : oracle_say(o, cell, stored) + 4u * (at - cell->at), 4);
        unsigned word = (unsigned)strtoul(four, NULL, 16);
        add(o, word >> 8);
        add(o, word & 0xFF);
    }
    close_frame(o);
}

static void echo_request(oracle *o, const uint8_t *request)
{
    for (int i = 0; i < 6; i++) {
        add(o, request[i]);
    }
    close_frame(o);
}

static void order(oracle *o, const uint8_t *request, unsigned value)
{
    unsigned at = word_at(request + 2);
    if (at == STORE_AT && value == STORE_VALUE && o->store_needed) {
        oracle_store(o);
        echo_request(o, request);
    } else if (at == RESTART_AT && value == RESTART_VALUE) {
        echo_request(o, request);
        oracle_restart_soon(o);
    } else if (at == RESTART_AT && value == DEFAULTS_VALUE) {
        echo_request(o, request);
        oracle_go_back(o);
    } else if (at == SAVE_AT && oracle_save_slot(o, value)) {
        echo_request(o, request);
    } else {
        refuse(o, request[1], 3);
    }
}

static void answer_write(oracle *o, const uint8_t *request)
{
    unsigned first = word_at(request + 2), count = request[1] == 6 ? 1 : word_at(request + 4);
    const uint8_t *data = request + (request[1] == 6 ? 4 : 7);
    char staged[ORACLE_CELLS][ORACLE_RAW] = {{0}};
    bool orders = first == STORE_AT || first == RESTART_AT || (first == SAVE_AT && oracle_find(o, "setup") != NULL);
    if (orders && o->wants_login && !o->logged_in) {
        refuse(o, request[1], 1);
        return;
    }
    if (orders) {
        order(o, request, word_at(data));
        return;
    }
    if (first == LOGIN_AT && o->wants_login) {
        bool right = word_at(data) == strtoul(oracle_find(o, "code")->stored, NULL, 16);
        o->logged_in = right;
        right ? echo_request(o, request) : refuse(o, request[1], 3);
        return;
    }
    for (unsigned i = 0; i < count; i++) {
        oracle_cell *cell = cell_at(o, first + i, false);
        if (cell == NULL || cell->access == 'r' || (o->wants_login && !o->logged_in)) {
            refuse(o, request[1], cell != NULL && cell->access != 'r' ? 1 : 2);
            return;
        }
        size_t n = (size_t)(cell - o->cells), digit = 4u * (first + i - cell->at);
        if (digit != strlen(staged[n])) { /* part of a value is no value */
            refuse(o, request[1], 2);
            return;
        }
        snprintf(staged[n] + digit, ORACLE_RAW - digit, "%04X", word_at(data + 2u * i));
    }
    for (size_t i = 0; i < o->count; i++) {
        if (staged[i][0] != '\0' && strlen(staged[i]) != 4u * o->cells[i].words) {
            refuse(o, request[1], 2);
            return;
        }
    }
    if (!oracle_take(o, staged)) {
        refuse(o, request[1], 3);
        return;
    }
    echo_request(o, request);
}

static void answer_identity(oracle *o, const uint8_t *request)
{
    if (request[3] != 3) { /* it knows the whole list only */
        refuse(o, request[1], 3);
        return;
    }
    const char *const texts[] = {"Quillmere", "peg", "2.0", o->serial};
    static const uint8_t ids[] = {0, 1, 2, 0x80}, head[] = {43, 14, 3, 0x83, 0, 0, 4};
    add(o, o->address);
    for (size_t i = 0; i < sizeof head; i++) {
        add(o, head[i]);
    }
    for (int i = 0; i < 4; i++) {
        add(o, ids[i]);
        add(o, (unsigned)strlen(texts[i]));
        for (const char *c = texts[i]; *c != '\0'; c++) {
            add(o, (unsigned char)*c);
        }
    }
    close_frame(o);
}

void oracle_answer_registers(oracle *o, const uint8_t *request, size_t count)
{
    bool to_all = count > 1 && request[0] == 0 && (request[1] == 6 || request[1] == 16);
    o->reply_length = 0;
    if (count < 4 || (request[0] != o->address && !to_all) ||
        check_of(request, count - 2) != (unsigned)request[count - 2] + request[count - 1] * 256u) {
        return;
    }
    bool turned_down = oracle_strikes(o, F_BUSY) || oracle_strikes(o, F_REFUSED);
    if (turned_down) {
        refuse(o, request[1], oracle_strikes(o, F_BUSY) ? 6 : 4);
    }
    switch (turned_down ? 0 : request[1]) {
    case 0: break;
    case 3:
    case 4: answer_read(o, request); break;
    case 6:
    case 16: answer_write(o, request); break;
    case 43: answer_identity(o, request); break;
    default: refuse(o, request[1], 1); break;
    }
    o->reply_length = to_all && !turned_down ? 0 : o->reply_length; /* nobody answers what all of them hear */
    if (o->in_characters && o->reply_length > 0) {
        put_into_characters(o);
    }
}
