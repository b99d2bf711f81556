/* SPDX-License-Identifier: MIT
 * The loop that joins engines to ports, and the arbiter that grants a shared line per exchange. */
#include "verdite/port.h"

#define CHUNK 256u /* bytes drained at a time: one Modbus frame */

void vd_loop_wants(const vd_loop *loop, size_t seat, vd_wants *wants)
{
    loop->seats[seat].engine->wants(loop->seats[seat].self, wants);
}

void vd_loop_feed(vd_loop *loop, size_t seat, vd_event event)
{
    event.now = loop->kind->now(loop->ground);
    loop->seats[seat].engine->feed(loop->seats[seat].self, &event);
}

static void lose(vd_loop *loop, size_t lane, vd_status status)
{
    loop->lanes[lane].lost = true;
    for (size_t i = 0; i < loop->seat_count; i++) {
        if (loop->seats[i].lane == lane) {
            vd_loop_feed(loop, i, (vd_event){.kind = VD_LOST, .status = status});
        }
    }
}

void vd_loop_regain(vd_loop *loop, size_t lane, vd_port *port)
{
    vd_lane *l = &loop->lanes[lane];
    l->port = port;
    l->lost = l->line_known = l->granted = false;
    for (size_t i = 0; i < loop->seat_count; i++) {
        if (loop->seats[i].lane == lane) {
            loop->seats[i].sent = 0;
            vd_loop_feed(loop, i, (vd_event){.kind = VD_BACK});
        }
    }
}

static bool on_line(const vd_loop *loop, size_t seat, size_t lane)
{
    return loop->seats[seat].lane == lane;
}

/* Finds the next seat, from the present turn on, that wants to send; leaves the turn where it is when none does. */
static void pass_turn(vd_loop *loop, size_t lane)
{
    vd_lane *l = &loop->lanes[lane];
    for (size_t step = 1; step <= loop->seat_count; step++) {
        size_t seat = (l->turn + step) % loop->seat_count;
        vd_wants wants;
        if (!on_line(loop, seat, lane)) {
            continue;
        }
        vd_loop_wants(loop, seat, &wants);
        if (wants.count > 0) {
            l->turn = seat;
            loop->seats[seat].sent = 0;
            l->granted = true;
            return;
        }
    }
}

/* The line is free again once its holder neither waits for a reply nor has anything left to send. */
static void check_grant(vd_loop *loop, size_t lane)
{
    vd_lane *l = &loop->lanes[lane];
    if (l->granted) {
        vd_wants wants;
        vd_loop_wants(loop, l->turn, &wants);
        l->granted = wants.holds_line || wants.count > 0;
    }
    if (!l->granted) {
        pass_turn(loop, lane);
    }
}

/* Whether what is heard belongs to an exchange that carries a secret, or comes late from one. */
static bool is_hidden(const vd_loop *loop, size_t lane)
{
    vd_wants wants = {.hidden = false};
    size_t turn = loop->lanes[lane].turn;
    if (turn < loop->seat_count && on_line(loop, turn, lane)) {
        vd_loop_wants(loop, turn, &wants);
    }
    /* Until it is sent, what comes belongs to the one before. */
    return wants.veiled || (wants.hidden && wants.holds_line);
}

static bool drain(vd_loop *loop, size_t lane)
{
    vd_lane *l = &loop->lanes[lane];
    uint8_t bytes[CHUNK], errors[CHUNK];
    bool any = false;
    /* Bounded, so that a line that never stops cannot hold up time itself. */
    for (int round = 0; round < 16 && !l->lost; round++) {
        size_t count = 0;
        vd_status status = l->port->kind->receive(l->port, bytes, errors, CHUNK, &count);
        if (status != VD_OK) {
            lose(loop, lane, status);
            return true;
        }
        if (count == 0) {
            break;
        }
        any = true;
        l->quiet_since = loop->kind->now(loop->ground);
        if (loop->trace != NULL) {
            loop->trace(loop->trace_about, l->quiet_since, lane, false, is_hidden(loop, lane) ? NULL : bytes, errors,
                        count);
        }
        if (on_line(loop, l->turn, lane)) {
            vd_loop_feed(loop, l->turn, (vd_event){.kind = VD_HEARD, .bytes = bytes, .errors = errors, .count = count});
        }
        if (count < CHUNK) {
            break;
        }
    }
    return any;
}

static bool apply_line(vd_loop *loop, size_t lane, const vd_serial *line)
{
    vd_lane *l = &loop->lanes[lane];
    if (l->line_known && vd_serial_equal(&l->line, line)) {
        return true;
    }
    vd_status status = l->port->kind->set_line(l->port, line, &l->taken);
    if (status == VD_LINE_NOT_TAKEN) { /* the port is as it was; only this exchange cannot be */
        vd_loop_feed(loop, l->turn, (vd_event){.kind = VD_LOST, .status = status});
        l->granted = false;
        return false;
    }
    if (status != VD_OK) {
        lose(loop, lane, status);
        return false;
    }
    if (!l->line_known) {
        l->quiet_since = loop->kind->now(loop->ground); /* what went on before the port was ours is not known */
    }
    l->line = *line;
    l->line_known = true;
    l->port->kind->discard(l->port); /* heard under another setting, it says nothing */
    return true;
}

vd_status vd_loop_try_line(vd_loop *loop, size_t lane, const vd_serial *line)
{
    vd_lane *l = &loop->lanes[lane];
    vd_taken taken;
    vd_status status = l->port->kind->set_line(l->port, line, &taken);
    if (status == VD_OK && l->line_known) {
        status = l->port->kind->set_line(l->port, &l->line, &l->taken);
    }
    return status;
}

/* Sends for the holder of the line. Returns whether anything happened; lowers `wake` to when it can go on. */
static bool send(vd_loop *loop, size_t lane, uint64_t *wake)
{
    vd_lane *l = &loop->lanes[lane];
    vd_wants wants;
    vd_loop_wants(loop, l->turn, &wants);
    if (!l->granted || wants.count == 0) {
        return l->lost;
    }
    if (!apply_line(loop, lane, &wants.line)) {
        return true;
    }
    vd_seat *seat = &loop->seats[l->turn];
    bool silence = l->port->wire != VD_NO_WIRE || wants.framing;
    uint64_t now = loop->kind->now(loop->ground), from = l->quiet_since + (silence ? wants.quiet : 0u);
    if (now < from && seat->sent == 0) {
        *wake = from < *wake ? from : *wake;
        return false;
    }
    /* Without bit times only the order tells whether something came before the request. */
    if (l->port->wire != VD_WIRE && seat->sent == 0 && drain(loop, lane)) {
        return true;
    }
    size_t taken = 0;
    vd_status status = l->port->kind->send(l->port, wants.send + seat->sent, wants.count - seat->sent, &taken);
    if (status != VD_OK) {
        lose(loop, lane, status);
        return true;
    }
    if (loop->trace != NULL && taken > 0) {
        loop->trace(loop->trace_about, now, lane, true, wants.hidden ? NULL : wants.send + seat->sent, NULL, taken);
    }
    seat->sent += taken;
    if (seat->sent == wants.count) {
        uint64_t until = l->port->kind->sent_until(l->port);
        l->quiet_since = until;
        seat->sent = 0;
        vd_loop_feed(loop, l->turn, (vd_event){.kind = VD_SENT, .until = until, .wire = l->port->wire});
    } else if (taken == 0) {
        uint64_t soon = now + 1000;
        *wake = soon < *wake ? soon : *wake;
        return false;
    }
    return true;
}

static bool tell_time(vd_loop *loop, size_t seat, uint64_t *wake)
{
    vd_wants wants;
    vd_loop_wants(loop, seat, &wants);
    if (wants.wake <= loop->kind->now(loop->ground)) {
        vd_loop_feed(loop, seat, (vd_event){.kind = VD_TIME});
        return true;
    }
    *wake = wants.wake < *wake ? wants.wake : *wake;
    return false;
}

vd_status vd_loop_step(vd_loop *loop, uint64_t latest)
{
    uint64_t wake = latest;
    bool busy = false;
    vd_port *ports[VD_LOOP_LANES];
    size_t waiting = 0;
    if (loop->lane_count > VD_LOOP_LANES) {
        return VD_CALLED_WRONG;
    }
    for (size_t i = 0; i < loop->lane_count; i++) {
        busy = (!loop->lanes[i].lost && drain(loop, i)) || busy;
    }
    for (size_t i = 0; i < loop->seat_count; i++) {
        busy = tell_time(loop, i, &wake) || busy;
    }
    for (size_t i = 0; i < loop->lane_count; i++) {
        if (!loop->lanes[i].lost && loop->seat_count > 0) {
            check_grant(loop, i);
            busy = send(loop, i, &wake) || busy;
        }
        if (!loop->lanes[i].lost) {
            ports[waiting++] = loop->lanes[i].port;
        }
    }
    return busy ? VD_OK : loop->kind->wait(loop->ground, ports, waiting, wake);
}
