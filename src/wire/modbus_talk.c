/* SPDX-License-Identifier: MIT
 * The talk over Modbus RTU: one job on many settings, exchange by exchange. */
#include "modbus.h"

#include <string.h>

enum part { BETWEEN, EXCHANGING };

static size_t aligned(size_t size)
{
    return (size + 7u) & ~(size_t)7u;
}

size_t vd_modbus_talk_size(const vd_model *model)
{
    size_t count = model->setting_count;
    return vd_set_size(model) + aligned((count + 1) * sizeof(uint32_t)) + aligned(2 * count * sizeof(uint16_t)) +
           aligned(count);
}

void vd_modbus_talk_start(vd_modbus_talk *talk, const vd_model *model, void *memory, const vd_line *line,
                          uint8_t address, uint32_t latency, vd_fault *fault)
{
    size_t count = model->setting_count;
    uint8_t *at = memory;
    memset(talk, 0, sizeof *talk);
    talk->model = model;
    talk->address = address;
    talk->fault = fault;
    vd_set_start(&talk->reached, model, at, vd_set_size(model));
    at += vd_set_size(model);
    talk->plan.cost = (uint32_t *)(void *)at;
    at += aligned((count + 1) * sizeof(uint32_t));
    talk->plan.order = (uint16_t *)(void *)at;
    talk->plan.next = talk->plan.order + count;
    at += aligned(2 * count * sizeof(uint16_t));
    talk->outcome = at;
    memset(talk->outcome, VD_NOT_TRIED, count);
    vd_modbus_manner manner = vd_modbus_manner_of(model, line, latency);
    vd_modbus_client_start(&talk->client, &manner);
}

static void end(vd_modbus_talk *talk, vd_status status)
{
    talk->running = false;
    talk->status = status;
    if (talk->job == VD_JOB_READ_LIVE || talk->job == VD_JOB_READ_STORED) {
        vd_set_reinterpret(talk->values);
    }
}

static bool writes(const vd_modbus_talk *talk)
{
    return talk->job == VD_JOB_WRITE || talk->job == VD_JOB_STORE || talk->job == VD_JOB_RESTART;
}

/* Jobs on settings, as opposed to those on the unit as a whole. */
static bool on_settings(const vd_modbus_talk *talk)
{
    return talk->job == VD_JOB_READ_LIVE || talk->job == VD_JOB_READ_STORED || talk->job == VD_JOB_WRITE;
}

static void mark(vd_modbus_talk *talk, vd_outcome outcome)
{
    if (!on_settings(talk)) {
        return;
    }
    for (unsigned i = talk->at; i < talk->plan.next[talk->at]; i++) {
        talk->outcome[talk->plan.order[i]] = (uint8_t)outcome;
    }
}

static void ask_read(vd_modbus_talk *talk)
{
    vd_place span;
    uint16_t count = 0;
    vd_modbus_plan_request(&talk->plan, talk->model, talk->at, &span, &count);
    uint16_t offset = talk->job == VD_JOB_READ_STORED ? talk->model->store.bank_offset : 0;
    vd_modbus_ask_read(&talk->client.request, talk->address, vd_modbus_read_function(span.table),
                       (uint16_t)(span.address + offset), count);
}

/* Coils follow one another in a request, one to a setting. */
static vd_status ask_write_coils(vd_modbus_talk *talk, const vd_place *span, uint16_t count)
{
    uint8_t bits[VD_MODBUS_MOST_WRITE_BITS / 8] = {0};
    for (unsigned i = 0; i < count; i++) {
        uint16_t coil = 0;
        vd_status status = vd_registers_put(talk->values, talk->plan.order[talk->at + i], &coil, talk->fault);
        if (status != VD_OK) {
            return status;
        }
        bits[i / 8] |= (uint8_t)(coil << i % 8);
    }
    if (count == 1 && !talk->model->limits.no_single) {
        vd_modbus_ask_write_coil(&talk->client.request, talk->address, span->address, bits[0] != 0);
    } else {
        vd_modbus_ask_write_coils(&talk->client.request, talk->address, span->address, bits, count);
    }
    return VD_OK;
}

/* Function 6 for one register where the unit knows it, else 16. */
static void ask_write_registers(vd_modbus_talk *talk, uint16_t first, const uint16_t *registers, uint16_t count)
{
    if (count == 1 && !talk->model->limits.no_single) {
        vd_modbus_ask_write_one(&talk->client.request, talk->address, first, registers[0]);
    } else {
        vd_modbus_ask_write_many(&talk->client.request, talk->address, first, registers, count);
    }
}

/* Fields of one register: with a mask where the unit can; else the register is read first, so that its other bits stay
 * as they are. */
static void ask_write_fields(vd_modbus_talk *talk, uint16_t where, uint16_t value)
{
    uint16_t fields = 0;
    for (unsigned i = talk->at; i < talk->plan.next[talk->at]; i++) {
        const vd_place *place = &talk->model->settings[talk->plan.order[i]].place;
        vd_place all = *place;
        all.form = VD_UNSIGNED;
        vd_registers_put_count(&all, -1, &fields);
    }
    if (talk->model->limits.mask_write) {
        vd_modbus_ask_mask_write(&talk->client.request, talk->address, where, (uint16_t)~fields, value);
    } else if (talk->fetching) {
        vd_modbus_ask_read(&talk->client.request, talk->address, VD_MODBUS_READ_HOLDING, where, 1);
    } else {
        value = (uint16_t)((talk->fetched & ~fields) | value);
        ask_write_registers(talk, where, &value, 1);
    }
}

/* Whether everything in the request at hand can be read back: only then is it worth asking for it at once. */
static bool is_readable(const vd_modbus_talk *talk)
{
    for (unsigned i = talk->at; i < talk->plan.next[talk->at]; i++) {
        if (!vd_setting_is_shown(&talk->model->settings[talk->plan.order[i]])) {
            return false;
        }
    }
    return true;
}

static vd_status ask_write(vd_modbus_talk *talk)
{
    vd_place span;
    uint16_t count = 0, registers[VD_MODBUS_MOST_WRITE] = {0};
    vd_modbus_plan_request(&talk->plan, talk->model, talk->at, &span, &count);
    if (span.table == VD_COIL) {
        return ask_write_coils(talk, &span, count);
    }
    for (unsigned i = talk->at; i < talk->plan.next[talk->at]; i++) {
        uint16_t setting = talk->plan.order[i];
        unsigned at = talk->model->settings[setting].place.address - span.address;
        vd_status status = vd_registers_put(talk->values, setting, registers + at, talk->fault);
        if (status != VD_OK) {
            return status;
        }
    }
    if (span.bits > 0) {
        ask_write_fields(talk, span.address, registers[0]);
    } else if (talk->model->limits.read_write && is_readable(talk)) {
        vd_modbus_ask_read_write(&talk->client.request, talk->address, span.address, count, span.address, registers,
                                 count);
    } else {
        ask_write_registers(talk, span.address, registers, count);
    }
    return VD_OK;
}

/* Whether the request at hand has to read its register first. */
static bool must_fetch(const vd_modbus_talk *talk)
{
    const vd_place *place = &talk->model->settings[talk->plan.order[talk->at]].place;
    return talk->job == VD_JOB_WRITE && place->bits > 0 && !talk->model->limits.mask_write;
}

/* Moves to the next request; passes over what does not exist in this unit. */
static void move_to_request(vd_modbus_talk *talk, bool first)
{
    if (talk->job == VD_JOB_WRITE) {
        talk->request = (uint16_t)(first ? 0 : talk->request + 1);
        talk->at = talk->request < talk->plan.requests ? (uint16_t)talk->plan.cost[talk->request] : talk->plan.count;
    } else {
        talk->at = first ? 0 : talk->plan.next[talk->at];
        while (talk->at < talk->plan.count && talk->absent != NULL &&
               talk->absent[talk->plan.order[talk->at]] == VD_ABSENT) {
            talk->at++;
        }
    }
    talk->fetching = talk->at < talk->plan.count && must_fetch(talk);
}

static void begin_exchange(vd_modbus_talk *talk)
{
    vd_status status = VD_OK;
    uint32_t wait = 0;
    if (on_settings(talk) && talk->at >= talk->plan.count) {
        end(talk, VD_OK);
        return;
    }
    switch ((vd_job)talk->job) {
    case VD_JOB_IDENTIFY:
        talk->first_register =
            vd_modbus_ask_for_identity(&talk->client.request, talk->address, talk->model, talk->next_object);
        break;
    case VD_JOB_READ_LIVE:
    case VD_JOB_READ_STORED: ask_read(talk); break;
    case VD_JOB_WRITE: status = ask_write(talk); break;
    case VD_JOB_STORE:
        wait = talk->model->reply.store * 1000u;
        vd_modbus_ask_write_one(&talk->client.request, talk->address, talk->model->store.address,
                                talk->model->store.value);
        break;
    case VD_JOB_RESTART: {
        const vd_action *restart = vd_model_restart(talk->model);
        vd_modbus_ask_write_one(&talk->client.request, talk->address, restart->address, restart->value);
        break;
    }
    }
    if (status != VD_OK) {
        end(talk, status);
        return;
    }
    /* Storing and restarting are actions: they are never sent twice. */
    bool repeatable = talk->job != VD_JOB_STORE && talk->job != VD_JOB_RESTART;
    vd_modbus_client_begin(&talk->client, talk->now, repeatable, wait);
    talk->part = EXCHANGING;
}

void vd_modbus_talk_begin(vd_modbus_talk *talk, uint64_t now, vd_job job, const uint8_t *which, vd_set *values,
                          const vd_set *held)
{
    const vd_modbus_manner *manner = &talk->client.manner;
    talk->job = (uint8_t)job;
    talk->values = values;
    talk->now = now;
    talk->absent = which;
    talk->next_object = 0;
    talk->running = true;
    talk->stopping = false;
    talk->status = VD_OK;
    talk->plan.count = 0;
    memset(talk->outcome, VD_NOT_TRIED, talk->model->setting_count);
    if (job == VD_JOB_IDENTIFY) {
        memset(&talk->identity, 0, sizeof talk->identity);
    } else if (job == VD_JOB_WRITE) {
        vd_modbus_plan_write(&talk->plan, talk->model, which);
        vd_modbus_plan_steps(&talk->plan, &talk->reached, held, values);
    } else if (on_settings(talk)) {
        /* A request of 8 characters, a reply of 5 and its data, a silence before each, the unit's turnaround. */
        uint32_t overhead = (uint32_t)vd_line_time(&manner->line, 13) + vd_modbus_silence(&manner->line) +
                            talk->model->reply.usual * 1000u;
        vd_modbus_plan_read(&talk->plan, talk->model, which, job == VD_JOB_READ_STORED, overhead,
                            (uint32_t)vd_line_time(&manner->line, 2));
    }
    move_to_request(talk, true);
    begin_exchange(talk);
}

static void take_registers(vd_modbus_talk *talk, const uint8_t *data)
{
    uint16_t from = talk->model->settings[talk->plan.order[talk->at]].place.address;
    for (unsigned i = talk->at; i < talk->plan.next[talk->at]; i++) {
        uint16_t setting = talk->plan.order[i], registers[64];
        const vd_place *place = &talk->model->settings[setting].place;
        unsigned offset = (unsigned)place->address - from;
        if (place->table == VD_COIL || place->table == VD_DISCRETE) {
            registers[0] = (uint16_t)((unsigned)data[offset / 8] >> offset % 8 & 1u);
        }
        for (unsigned k = 0; k < place->words && place->table <= VD_INPUT; k++) {
            registers[k] = vd_word_at(data + 2u * (offset + k));
        }
        vd_registers_take(talk->values, setting, registers);
    }
}

/* Function 23 brings back what the unit holds after the write: anything else than what was sent is a refusal. */
static bool held_as_sent(const vd_modbus_talk *talk, const uint8_t *reply)
{
    enum { SENT_DATA = 11 };
    return reply[0] != VD_MODBUS_READ_WRITE || memcmp(reply + 2, talk->client.request.bytes + SENT_DATA, reply[1]) == 0;
}

/* What the present exchange is about, for people. */
static void name_exchange(const vd_modbus_talk *talk, vd_writer *writer)
{
    if (talk->job == VD_JOB_IDENTIFY) {
        vd_writer_add(writer, "its identity");
    } else if (talk->job == VD_JOB_STORE || talk->job == VD_JOB_RESTART) {
        vd_writer_add(writer, talk->job == VD_JOB_STORE ? "storing" : "restarting");
    } else {
        const uint16_t *order = talk->plan.order;
        uint16_t last = (uint16_t)(talk->plan.next[talk->at] - 1);
        vd_writer_add(writer, talk->model->settings[order[talk->at]].key);
        if (last > talk->at) {
            vd_writer_add(writer, last == talk->at + 1 ? " or " : " to ");
            vd_writer_add(writer, talk->model->settings[order[last]].key);
        }
    }
}

static void refuse(vd_modbus_talk *talk)
{
    char about[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(about, sizeof about);
    name_exchange(talk, &writer);
    mark(talk, VD_REFUSED);
    end(talk, vd_fault_note(talk->fault, VD_TAKEN_OTHERWISE, NULL, about, ""));
}

static void take_reply(vd_modbus_talk *talk)
{
    size_t length = 0;
    const uint8_t *reply = vd_modbus_client_reply(&talk->client, &length);
    bool more = false;
    switch ((vd_job)talk->job) {
    case VD_JOB_IDENTIFY:
        if (reply[0] == VD_MODBUS_IDENTIFY) {
            uint8_t before = talk->next_object, serial = talk->model->identify.serial_object;
            talk->next_object = vd_modbus_take_identity(reply, length, serial, &talk->identity);
            more = talk->next_object > before;
        } else {
            vd_modbus_take_identity_registers(reply + 2, talk->first_register, &talk->model->identify, &talk->identity);
        }
        break;
    case VD_JOB_READ_LIVE:
    case VD_JOB_READ_STORED: take_registers(talk, reply + 2); break;
    case VD_JOB_WRITE:
        if (talk->fetching) {
            talk->fetching = false;
            talk->fetched = vd_word_at(reply + 2);
            talk->stopping ? end(talk, VD_STOPPED) : begin_exchange(talk);
            return;
        }
        if (!held_as_sent(talk, reply)) {
            refuse(talk);
            return;
        }
        break;
    case VD_JOB_STORE:
    case VD_JOB_RESTART: break;
    }
    if (!on_settings(talk)) {
        more ? begin_exchange(talk) : end(talk, VD_OK);
        return;
    }
    mark(talk, VD_DONE);
    move_to_request(talk, false);
    talk->stopping ? end(talk, VD_STOPPED) : begin_exchange(talk);
}

static void proceed(vd_modbus_talk *talk)
{
    vd_status status = VD_OK;
    if (!talk->running || talk->part != EXCHANGING || !vd_modbus_client_ended(&talk->client, &status)) {
        return;
    }
    talk->part = BETWEEN;
    if (status == VD_OK) {
        take_reply(talk);
        return;
    }
    /* Never sent means never tried, whatever ended it. */
    bool sent = talk->client.tries_done > 0 && !talk->fetching;
    mark(talk, !sent ? VD_NOT_TRIED : vd_status_class(status) == VD_CLASS_REFUSED ? VD_REFUSED : VD_UNCLEAR);
    char about[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(about, sizeof about);
    name_exchange(talk, &writer);
    end(talk, vd_modbus_client_note(&talk->client, status, about, status == VD_STOPPED ? NULL : talk->fault));
}

static void talk_feed(void *engine, const vd_event *event)
{
    vd_modbus_talk *talk = engine;
    talk->now = event->now;
    if (!talk->running) {
        return;
    }
    if (event->kind == VD_STOP) {
        vd_wants wants;
        vd_modbus_client_engine.wants(&talk->client, &wants);
        /* A write that is on the line is seen to its end, so that its outcome is known; asked twice, it is not. */
        bool see_to_end = writes(talk) && wants.count == 0 && !talk->stopping;
        talk->stopping = true;
        if (see_to_end) {
            return;
        }
    }
    vd_modbus_client_engine.feed(&talk->client, event);
    proceed(talk);
}

static void talk_wants(const void *engine, vd_wants *wants)
{
    const vd_modbus_talk *talk = engine;
    vd_modbus_client_engine.wants(&talk->client, wants);
    wants->done = !talk->running;
    if (!talk->running) {
        wants->count = 0;
        wants->wake = VD_NEVER;
    }
}

const vd_engine vd_modbus_talk_engine = {talk_wants, talk_feed};

bool vd_modbus_talk_ended(const vd_modbus_talk *talk, vd_status *status)
{
    *status = talk->status;
    return !talk->running;
}
