/* SPDX-License-Identifier: MIT
 * The port of a bench: an adapter as a program sees it. */
#include "world.h"

#include <string.h>

static uint64_t sim_now(void *ground)
{
    vd_sim *sim = ground;
    return world_microseconds(sim->now);
}

static vd_status sim_wait(void *ground, vd_port *const *ports, size_t count, uint64_t until)
{
    vd_sim *sim = ground;
    for (;;) {
        uint64_t next = until;
        for (size_t i = 0; i < count; i++) {
            uint64_t delivery = world_next_delivery(ports[i]->self);
            next = delivery < next ? delivery : next;
        }
        if (next <= world_microseconds(sim->now)) {
            return VD_OK;
        }
        int64_t event = world_next_event(sim);
        if (event == INT64_MAX && next == VD_NEVER) {
            return VD_CALLED_WRONG; /* nothing will ever happen again */
        }
        uint64_t at = event == INT64_MAX ? VD_NEVER : world_microseconds(event);
        vd_sim_run(sim, at < next ? at : next);
    }
}

/* Whether the port is gone with the unit behind it, whose own it is. */
static bool is_taken(const adapter *a)
{
    for (uint16_t i = 0; i < a->sim->bench->unit_count; i++) {
        const unit *u = &a->sim->units[i];
        bool off = !u->supply || !u->plugged || vd_unit_condition_of(u->unit).off_until != VD_NEVER;
        if (u->about->model->takes_port && u->about->cable == a->about->cable && off) {
            return true;
        }
    }
    return false;
}

static bool is_lost(adapter *a)
{
    a->lost = a->lost || is_taken(a);
    return a->lost;
}

static vd_status sim_set_line(vd_port *port, const vd_serial *line, vd_taken *taken)
{
    adapter *a = port->self;
    if (a->about->fastest > 0 && line->baud > a->about->fastest) {
        return VD_LINE_NOT_TAKEN;
    }
    a->ear.receiver.line = *line;
    a->ear.receiver.from = a->sim->now;
    a->ear.known = false;
    *taken = VD_TAKEN;
    return is_lost(a) ? VD_PORT_LOST : VD_OK;
}

static vd_status sim_send(vd_port *port, const uint8_t *bytes, size_t count, size_t *taken)
{
    adapter *a = port->self;
    vd_sim *sim = a->sim;
    *taken = 0;
    if (is_lost(a)) {
        return VD_PORT_LOST;
    }
    int64_t start = a->sent_until > sim->now ? a->sent_until : sim->now;
    *taken = count < VD_MODBUS_FRAME ? count : VD_MODBUS_FRAME;
    a->sent_until = start + (int64_t)vd_serial_time(&a->ear.receiver.line, *taken) * 1000; /* what its port reckons */
    if (a->about->cable == VD_NONE) {
        return VD_OK;
    }
    int64_t end = cable_talk(&sim->cables[a->about->cable], a, false, &a->ear.receiver.line,
                             world_is_at_once(a) ? sim->now : start, bytes, *taken);
    a->sent_until = a->about->wire == VD_NO_WIRE ? sim->now : world_is_at_once(a) ? a->sent_until : end;
    world_talk_on(sim, a->about->cable);
    return VD_OK;
}

static vd_status sim_receive(vd_port *port, uint8_t *bytes, uint8_t *errors, size_t size, size_t *count)
{
    adapter *a = port->self;
    uint64_t now = world_microseconds(a->sim->now);
    *count = 0;
    is_lost(a);
    while (*count < size && a->count > 0 && a->queue[a->first].time <= now && !a->lost) {
        bytes[*count] = a->queue[a->first].byte;
        errors[*count] = a->queue[a->first].errors;
        a->first = (a->first + 1) % QUEUE;
        a->count--;
        ++*count;
        a->delivered++;
        a->lost = a->about->lost_after > 0 && a->delivered >= a->about->lost_after;
    }
    return a->lost && *count == 0 ? VD_PORT_LOST : VD_OK;
}

static void sim_discard(vd_port *port)
{
    adapter *a = port->self;
    a->count = 0;
}

static uint64_t sim_sent_until(vd_port *port)
{
    adapter *a = port->self;
    return world_microseconds(a->sent_until);
}

static uint32_t sim_latency(vd_port *port)
{
    adapter *a = port->self;
    return a->about->latency + a->about->burst;
}

const vd_port_kind vd_sim_kind = {sim_now,     sim_wait,    sim_set_line,   sim_send,
                                  sim_receive, sim_discard, sim_sent_until, sim_latency};

vd_status vd_sim_open(vd_sim *sim, const char *name, vd_port **port, vd_fault *fault)
{
    for (uint16_t i = 0; i < sim->bench->adapter_count; i++) {
        adapter *a = &sim->adapters[i];
        if (strcmp(a->about->name, name) != 0) {
            continue;
        }
        if (a->about->forbidden) {
            return vd_note_PORT_NOT_ALLOWED(fault, name, "On this bench nobody may.");
        }
        bool back = a->open && a->lost && a->about->lost_after == 0; /* it went with its unit */
        if (is_taken(a)) {
            break;
        }
        if (a->about->busy || (a->open && !back)) {
            return vd_note_PORT_BUSY(fault, name, "another program");
        }
        a->port = (vd_port){.kind = &vd_sim_kind, .ground = sim, .self = a, .wire = a->about->wire};
        a->open = true;
        a->lost = false;
        a->count = 0;
        a->ear.receiver.from = sim->now;
        a->ear.known = false;
        *port = &a->port;
        return VD_OK;
    }
    return vd_note_NO_PORT(fault, name, "");
}
