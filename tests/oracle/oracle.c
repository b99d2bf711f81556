/* SPDX-License-Identifier: MIT
 * What all such units share: two memories, a supply, their own rule, and the port between them and the library, with
 * its clock that jumps from byte to byte and its faults. */
#include "oracle.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define REPLIES_AFTER 8000u /* microseconds */

bool oracle_strikes(const oracle *o, oracle_fault fault)
{
    return (o->fault[0] == fault && o->at[0] == o->exchange) || (o->fault[1] == fault && o->at[1] == o->exchange);
}

bool oracle_has(const oracle *o, oracle_fault fault)
{
    return o->fault[0] == fault || o->fault[1] == fault;
}

oracle_cell *oracle_find(oracle *o, const char *key)
{
    for (size_t i = 0; i < o->count; i++) {
        if (strcmp(o->cells[i].key, key) == 0) {
            return &o->cells[i];
        }
    }
    return NULL;
}

void oracle_link_of(const oracle *o, bool stored, unsigned *address, unsigned *speed)
{
    const oracle_cell *at = oracle_find((oracle *)o, "address"), *by = oracle_find((oracle *)o, "speed");
    *address = at != NULL ? (unsigned)strtoul(stored ? at->stored : at->live, NULL, 16) : 5;
    *speed = by != NULL && strcmp(stored ? by->stored : by->live, "0000") == 0 ? 9600 : 19200;
}

/* The slot that the cell for it says, from 0. */
static unsigned slot_of(const oracle *o, bool stored)
{
    const oracle_cell *setup = oracle_find((oracle *)o, "setup");
    return setup != NULL && strcmp(stored ? setup->stored : setup->live, "0002") == 0 ? 1 : 0;
}

/* What is stored of what slots hold: what a power cycle brings back; or, where that is the first one whatever is
 * chosen, what is in the one in force. */
static void mirror_slots(oracle *o)
{
    oracle_cell *setup = oracle_find(o, "setup");
    if (setup != NULL && o->first_after_power) {
        snprintf(setup->stored, ORACLE_RAW, "0001");
    }
    for (size_t i = 0; i < o->count; i++) {
        if (o->cells[i].other != NULL) {
            memcpy(o->cells[i].stored, o->cells[i].slot[slot_of(o, !o->first_after_power)], ORACLE_RAW);
        }
    }
}

static void fill_slots(oracle *o)
{
    for (size_t i = 0; i < o->count; i++) {
        oracle_cell *cell = &o->cells[i];
        unsigned first = slot_of(o, true);
        snprintf(cell->slot[first], ORACLE_RAW, "%s", cell->from);
        snprintf(cell->slot[1 - first], ORACLE_RAW, "%s", cell->other != NULL ? cell->other : "");
    }
}

bool oracle_pretends(const oracle *o)
{
    return oracle_has(o, F_PLUG_OUT) || oracle_has(o, F_SAYS_IT_STARTED) || oracle_has(o, F_PORT_PULLED);
}

bool oracle_save_slot(oracle *o, unsigned number)
{
    for (size_t i = 0;
         i < o->count && number > 0 && number < 3 && !oracle_strikes(o, F_NOT_STORED) && !oracle_pretends(o); i++) {
        memcpy(o->cells[i].slot[number - 1], o->cells[i].live, ORACLE_RAW);
    }
    mirror_slots(o);
    return number > 0 && number < 3;
}

static void fill(oracle *o)
{
    for (size_t i = 0; i < o->count; i++) {
        snprintf(o->cells[i].live, ORACLE_RAW, "%s", o->cells[i].from);
        snprintf(o->cells[i].stored, ORACLE_RAW, "%s", o->cells[i].access == 'u' ? "0000" : o->cells[i].from);
        o->cells[i].told_before = o->cells[i].told_live = o->cells[i].told_stored = 0;
    }
    fill_slots(o);
}

void oracle_start(oracle *o)
{
    o->now = 60000000; /* it has been on for a minute */
    o->serial = "QP-1";
    o->link_at = 0;
    o->port = (vd_port){.kind = &oracle_port_kind, .ground = o, .self = o, .wire = o->wire};
    fill(o);
    oracle_link_of(o, true, &o->address, &o->speed);
}

const char *oracle_say(oracle *o, oracle_cell *cell, bool stored)
{
    static char text[ORACLE_RAW];
    *(stored ? &cell->told_stored : &cell->told_live) = o->exchange;
    cell->told_before = o->first_write == 0 ? o->exchange : cell->told_before;
    if (cell->access == 'c') {
        snprintf(cell->live, ORACLE_RAW, o->manner == REGISTERS ? "%04X" : "%u", ++o->counted);
    }
    if (cell->access == 't') {
        unsigned seconds = (unsigned)((o->now - o->on_since) / 1000000u);
        snprintf(text, sizeof text, o->manner == REGISTERS ? "%08X" : "%u", seconds);
        return text;
    }
    return stored || (o->shows_stored && cell->access == 'b') ? cell->stored : cell->live;
}

/* ---- Memories ---- */

static int number_of(const oracle *o, const char *raw)
{
    return o->manner == REGISTERS ? (int16_t)strtol(raw, NULL, 16) : (int)(strtod(raw, NULL) * 100.0);
}

static const char *staged_or_live(oracle *o, char staged[][ORACLE_RAW], const char *key)
{
    const oracle_cell *cell = oracle_find(o, key);
    return staged[cell - o->cells][0] != '\0' ? staged[cell - o->cells] : cell->live;
}

static void alter(const oracle *o, char *raw)
{
    size_t last = strlen(raw) - 1;
    last -= raw[last] == '"';
    (void)o;
    raw[last] = raw[last] == '1' ? '2' : '1';
}

bool oracle_take(oracle *o, char staged[][ORACLE_RAW])
{
    if (number_of(o, staged_or_live(o, staged, "low")) >= number_of(o, staged_or_live(o, staged, "high"))) {
        return false;
    }
    o->writes++;
    o->first_write = o->first_write == 0 ? o->exchange : o->first_write;
    if (oracle_strikes(o, F_NOT_TAKEN)) {
        return true;
    }
    for (size_t i = 0; i < o->count; i++) {
        if (staged[i][0] != '\0') {
            snprintf(o->cells[i].live, ORACLE_RAW, "%s", staged[i]);
        }
    }
    const oracle_cell *setup = oracle_find(o, "setup");
    for (size_t i = 0; i < o->count && setup != NULL && staged[setup - o->cells][0] != '\0'; i++) {
        if (o->cells[i].other != NULL) {
            memcpy(o->cells[i].live, o->cells[i].slot[slot_of(o, false)], ORACLE_RAW);
        }
    }
    o->link_due = o->link_from == 'w';
    for (size_t i = 0; i < o->count && oracle_strikes(o, F_ROUNDED); i++) {
        bool number = o->cells[i].access == 'b' &&
                      (strcmp(o->cells[i].key, "hysteresis") == 0 || strcmp(o->cells[i].key, "every") == 0);
        if (staged[i][0] != '\0' && number) {
            alter(o, o->cells[i].live);
        }
    }
    for (size_t i = 0; i < o->count && !o->store_needed; i++) {
        memcpy(o->cells[i].stored, o->cells[i].live, ORACLE_RAW);
    }
    mirror_slots(o);
    return true;
}

static void take_link(oracle *o, bool stored)
{
    if (!oracle_has(o, F_LINK_NEVER)) {
        oracle_link_of(o, stored, &o->address, &o->speed);
    }
    o->link_at = 0;
}

static void take_link_later(oracle *o, uint64_t when)
{
    if (oracle_has(o, F_LINK_LATE)) {
        o->link_at = when + 4000000;
    } else {
        take_link(o, o->link_from != 'w');
    }
}

void oracle_store(oracle *o)
{
    o->link_due = o->link_from == 's';
    o->slower = 120000;
    for (size_t i = 0; i < o->count && !oracle_strikes(o, F_NOT_STORED) && !oracle_pretends(o); i++) {
        if (o->cells[i].access != 'u') {
            memcpy(o->cells[i].stored, o->cells[i].live, ORACLE_RAW);
        }
    }
    mirror_slots(o);
    if (o->restarts_when_stored) {
        oracle_restart_soon(o);
    }
}

static void say_unasked(oracle *o, uint64_t when);

/* What is seen of it while it runs on. */
static void pretend(oracle *o)
{
    if (oracle_has(o, F_PLUG_OUT)) {
        o->off_until = o->now + 10000000;
    } else if (oracle_has(o, F_PORT_PULLED)) {
        o->off_until = o->now + 300000;
        o->lost = true;
        o->taken = o->queued = 0;
    } else {
        say_unasked(o, o->now + 400000);
    }
}

void oracle_restart_soon(oracle *o)
{
    if (oracle_pretends(o)) {
        pretend(o);
    } else if (!oracle_has(o, F_NO_RESTART)) {
        o->restart_at = oracle_has(o, F_LATE_RESTART) ? 900000 : 1; /* counted from its reply */
    }
}

void oracle_go_back(oracle *o)
{
    o->writes++;
    o->first_write = o->first_write == 0 ? o->exchange : o->first_write;
    for (size_t i = 0;
         i < o->count && !oracle_strikes(o, F_NOT_STORED) && !oracle_strikes(o, F_NOT_TAKEN) && !oracle_pretends(o);
         i++) {
        oracle_cell *cell = &o->cells[i];
        if (cell->access == 'b' || cell->access == 'w') {
            snprintf(cell->stored, ORACLE_RAW, "%s", cell->factory != NULL ? cell->factory : cell->from);
        }
    }
    oracle_restart_soon(o);
}

static void restart(oracle *o, uint64_t when)
{
    for (size_t i = 0; i < o->count; i++) {
        bool in_slot = o->first_after_power && o->cells[i].other != NULL;
        memcpy(o->cells[i].live, in_slot ? o->cells[i].slot[0] : o->cells[i].stored, ORACLE_RAW);
    }
    mirror_slots(o);
    take_link(o, true);
    o->logged_in = false;
    o->off_until = when + o->restart_takes;
    o->on_since = o->off_until;
    o->restart_at = 0;
    o->lost = o->lost || o->takes_port;
    if (o->lost) {
        o->taken = o->queued = 0;
    }
    if (o->says_ready) {
        say_unasked(o, o->off_until);
    }
}

bool oracle_is_back(oracle *o)
{
    o->lost = o->pulled || o->now < o->off_until;
    return !o->lost;
}

/* ---- The port ---- */

static void queue_byte(oracle *o, uint64_t time, uint8_t byte)
{
    size_t at = o->queued++;
    if (at + 1 >= ORACLE_QUEUE) {
        abort();
    }
    for (; at > o->taken && o->queue[at - 1].time > time; at--) {
        o->queue[at] = o->queue[at - 1];
    }
    o->queue[at].time = time;
    o->queue[at].byte = byte;
}

static uint64_t queue_bytes(oracle *o, uint64_t from, const char *bytes, size_t count)
{
    uint64_t each = o->at_once ? 0 : 10000000u / o->line.baud;
    for (size_t i = 0; i < count; i++) {
        queue_byte(o, from + (i + 1) * each, (uint8_t)bytes[i]);
    }
    return from + count * each;
}

static void say_unasked(oracle *o, uint64_t when)
{
    const char *text = o->manner == COMMANDS ? "\r\n+READY\r\n" : o->manner == SENTENCES ? "$PQLM,S,READY*18\r\n" : "";
    queue_bytes(o, when, text, strlen(text));
}

static void pass_supply(oracle *o, uint64_t time)
{
    if (o->restart_at > 1 && time >= o->restart_at) {
        restart(o, o->restart_at);
    }
    if (o->link_at > 0 && time >= o->link_at) {
        take_link(o, o->link_from != 'w');
    }
}

static void replace(oracle *o)
{
    o->replaced = o->replaced || o->named;
    o->serial = o->serial[3] == '1' ? "QP-2" : "QP-3";
    fill(o);
    oracle_link_of(o, true, &o->address, &o->speed);
    o->first_write = 0;
    o->logged_in = false;
}

/* The last digit of the first number, which in commands and queries nothing guards. */
static void damage(oracle *o, bool seen)
{
    size_t at = o->reply_length / 2;
    for (size_t i = 0; i < o->reply_length && !seen; i++) {
        bool digit = o->reply[i] >= '0' && o->reply[i] <= '9', ends = i + 1 >= o->reply_length || o->reply[i + 1] < '.';
        if (digit && ends && i > 8) {
            o->reply[i] = o->reply[i] == '5' ? '6' : '5';
            return;
        }
    }
    o->reply[at] ^= seen ? 0x04 : 0;
}

static void spoil(oracle *o)
{
    if (oracle_strikes(o, F_DAMAGED) && (o->manner == REGISTERS || o->manner == SENTENCES)) {
        damage(o, true);
    }
    if (oracle_strikes(o, F_UNSEEN_DAMAGE) && (o->manner == COMMANDS || o->manner == QUERIES)) {
        damage(o, false);
    }
    if (oracle_strikes(o, F_CUT)) {
        o->reply_length /= 2;
    }
    if (oracle_strikes(o, F_REPLY_LOST)) {
        o->reply_length = 0;
    }
}

static void another_moves(oracle *o)
{
    oracle_cell *cell = oracle_find(o, "spare");
    alter(o, cell->live);
    if (!o->store_needed) {
        memcpy(cell->stored, cell->live, ORACLE_RAW);
    }
}

/* Another one of its kind, which has had the new address all along. */
static void answer_for_somebody(oracle *o, const uint8_t *bytes, size_t count)
{
    const char *serial = o->serial;
    unsigned address = o->address;
    bool reads = bytes[1] == 3 || bytes[1] == 4 || bytes[1] == 43;
    o->serial = "QP-8";
    o->address = 9;
    if (reads) {
        oracle_answer_registers(o, bytes, count);
    }
    o->serial = serial;
    o->address = address;
}

static void let_answer(oracle *o, const uint8_t *bytes, size_t count, uint64_t sent)
{
    uint8_t frame[300] = {0};
    if (o->in_characters) {
        count = oracle_open(bytes, count, frame, sizeof frame);
        bytes = frame;
    }
    o->slower = 0;
    o->restart_at = o->restart_at > 1 ? o->restart_at : 0;
    if (o->manner == REGISTERS && o->line.baud != o->speed && !o->at_once) {
        return; /* it makes nothing of that */
    }
    bool somebody = o->manner == REGISTERS && o->somebody && bytes[0] == 9 && o->address != 9;
    if (somebody) {
        answer_for_somebody(o, bytes, count);
    } else if (o->manner == REGISTERS) {
        oracle_answer_registers(o, bytes, count);
    } else {
        oracle_answer_line(o, (const char *)bytes, count);
    }
    if (oracle_strikes(o, F_ANOTHER_MOVED)) {
        another_moves(o);
    }
    if (oracle_strikes(o, F_RESTART_DURING)) {
        restart(o, sent);
        return;
    }
    spoil(o);
    if (o->link_due) {
        o->link_due = false;
        take_link_later(o, sent);
    }
    bool asked = !somebody && o->manner == REGISTERS ? bytes[1] == 43 : memchr(bytes, 'I', count) != NULL;
    /* What is refused, cut or comes too late names nobody. */
    bool turned_down = oracle_strikes(o, F_BUSY) || oracle_strikes(o, F_REFUSED) || oracle_strikes(o, F_CUT) ||
                       oracle_strikes(o, F_LATE);
    o->named = o->named || (asked && o->reply_length > 0 && !turned_down);
    uint64_t from = sent + REPLIES_AFTER + o->slower + (oracle_strikes(o, F_LATE) ? o->longest + 60000 : 0);
    uint64_t until = queue_bytes(o, from, o->reply, o->reply_length);
    if (oracle_strikes(o, F_DOUBLED)) {
        until = queue_bytes(o, until + 3000, o->reply, o->reply_length);
    }
    if (oracle_strikes(o, F_NOISE_AFTER)) {
        queue_bytes(o, until + 500, "\xF1\x07", 2);
    }
    if (o->doubled_up && o->reply_length > 0) { /* somebody else on this address, whose name differs by one */
        bool names = bytes[1] == 43;
        if (names) {
            const char *serial = o->serial;
            o->serial = "QP-9";
            oracle_answer_registers(o, bytes, count);
            o->serial = serial;
        }
        queue_bytes(o, until + 110000, o->reply, o->reply_length);
    }
    if (o->restart_at == 1) {
        restart(o, until);
    } else if (o->restart_at > 1 && o->restart_at < 60000000) {
        o->restart_at += until;
    }
    if (oracle_strikes(o, F_RESTART_AFTER)) {
        restart(o, until);
    }
}

static vd_status port_send(vd_port *port, const uint8_t *bytes, size_t count, size_t *taken)
{
    oracle *o = port->self;
    *taken = 0;
    if (o->lost) {
        return VD_PORT_LOST;
    }
    *taken = count;
    o->exchange++;
    uint64_t from = o->now > o->sent_until ? o->now : o->sent_until;
    o->sent_until = o->wire == VD_NO_WIRE ? o->now : from + count * 10000000u / o->line.baud;
    uint64_t arrives = o->at_once ? o->now : o->sent_until;
    pass_supply(o, arrives);
    if (oracle_has(o, F_ECHO)) {
        queue_bytes(o, from, (const char *)bytes, count);
    }
    if (oracle_strikes(o, F_NOISE_BEFORE)) {
        queue_bytes(o, arrives + 1000, "\xF1\x07", 2);
    }
    o->pulled = o->pulled || oracle_strikes(o, F_PORT_GONE);
    o->lost = o->lost || o->pulled;
    o->dead = o->dead || oracle_strikes(o, F_SILENT_FOR_GOOD);
    o->somebody = o->somebody || oracle_strikes(o, F_SOMEBODY_THERE);
    o->doubled_up = o->doubled_up || oracle_strikes(o, F_SECOND_UNIT);
    if (oracle_strikes(o, F_ANOTHER_UNIT)) {
        replace(o);
    }
    if (oracle_strikes(o, F_RESTART_BEFORE)) {
        restart(o, from);
    }
    bool hears = !o->dead && arrives >= o->off_until && !oracle_strikes(o, F_REQUEST_LOST);
    if (hears) {
        o->logged_in = o->logged_in && (o->login_lasts == 0 || arrives < o->login_until);
        o->login_until = arrives + o->login_lasts;
        let_answer(o, bytes, count, arrives);
    }
    return VD_OK;
}

static uint64_t port_now(void *ground)
{
    const oracle *o = ground;
    return o->now;
}

static vd_status port_wait(void *ground, vd_port *const *ports, size_t count, uint64_t until)
{
    oracle *o = ground;
    (void)ports, (void)count;
    bool any = o->queued > 0 && !o->lost && o->queue[o->taken].time < until;
    uint64_t next = any ? o->queue[o->taken].time : until;
    if (next == VD_NEVER) {
        return VD_CALLED_WRONG;
    }
    o->now = next > o->now ? next : o->now;
    pass_supply(o, o->now);
    return VD_OK;
}

static vd_status port_set_line(vd_port *port, const vd_serial *line, vd_taken *taken)
{
    oracle *o = port->self;
    o->line = *line;
    *taken = VD_TAKEN;
    return o->lost ? VD_PORT_LOST : VD_OK;
}

/* The first byte of the queue, when it has come. */
static bool take_byte(oracle *o, uint8_t *byte)
{
    if (o->queued == 0 || o->queue[o->taken].time > o->now) {
        return false;
    }
    *byte = o->queue[o->taken++].byte;
    if (o->taken == o->queued) {
        o->taken = o->queued = 0;
    }
    return true;
}

static vd_status port_receive(vd_port *port, uint8_t *bytes, uint8_t *errors, size_t size, size_t *count)
{
    oracle *o = port->self;
    *count = 0;
    while (*count < size && !o->lost && take_byte(o, &bytes[*count])) {
        errors[*count] = 0;
        ++*count;
    }
    return o->lost ? VD_PORT_LOST : VD_OK;
}

static void port_discard(vd_port *port)
{
    uint8_t byte = 0;
    while (take_byte(port->self, &byte)) {
    }
}

static uint64_t port_sent_until(vd_port *port)
{
    const oracle *o = port->self;
    return o->sent_until;
}

static uint32_t port_latency(vd_port *port)
{
    (void)port;
    return 1000;
}

const vd_port_kind oracle_port_kind = {port_now,     port_wait,    port_set_line,   port_send,
                                       port_receive, port_discard, port_sent_until, port_latency};
