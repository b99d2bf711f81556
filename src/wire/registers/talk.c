/* SPDX-License-Identifier: MIT
 * The talk in registers: one job on many settings, exchange by exchange. */
#include "parts.h"
#include "../talk_parts.h"

#include <string.h>

enum part { BETWEEN, EXCHANGING };

_Static_assert(sizeof(vd_modbus_talk) <= VD_MODBUS_STATE, "the state of a talk has room for it");

static size_t registers_size(const vd_model *model)
{
    return VD_ALIGNED(VD_MODBUS_STATE + vd_framing_of(model->language)->room);
}

static void registers_start(vd_talk *any, void *memory, const vd_serial *line, uint8_t address, uint32_t latency)
{
    vd_modbus_talk *talk = any->state = memory;
    memset(talk, 0, sizeof *talk);
    talk->job = &any->job;
    vd_modbus_manner manner = vd_modbus_manner_of(talk->job->model, line, latency);
    talk->address = address;
    vd_modbus_client_start(&talk->client, &manner, (uint8_t *)memory + VD_MODBUS_STATE);
}

static void registers_move(vd_talk *any, const vd_link *link, uint32_t latency)
{
    vd_modbus_talk *talk = any->state;
    vd_modbus_manner manner = vd_modbus_manner_of(talk->job->model, &link->line, latency);
    manner.tries = talk->client.manner.tries;
    talk->client.manner = manner;
    talk->address = link->address;
}

static void end(vd_modbus_talk *talk, vd_status status)
{
    vd_job_end(talk->job, status);
}

static bool on_settings(const vd_modbus_talk *talk)
{
    return vd_job_is_on_settings(talk->job);
}

/* Where the request at hand ends. */
static unsigned request_end(const vd_modbus_talk *talk)
{
    return on_settings(talk) && talk->job->at < talk->job->plan.count ? talk->job->plan.next[talk->job->at] : 0;
}

static void mark(vd_modbus_talk *talk, vd_outcome outcome)
{
    vd_job_mark(talk->job, talk->job->at, request_end(talk), outcome);
}

static void ask_read(vd_modbus_talk *talk)
{
    vd_place span;
    uint16_t count = 0;
    vd_modbus_plan_request(&talk->job->plan, talk->job->model, talk->job->at, &span, &count);
    uint16_t offset = talk->job->kind == VD_JOB_READ_STORED ? talk->job->model->store.bank_offset : 0;
    vd_modbus_ask_read(&talk->client.request, talk->address, vd_modbus_read_function(span.table),
                       (uint16_t)(span.address + offset), count);
}

/* Moves to the next request; passes over what does not exist in this unit. */
static void move_to_request(vd_modbus_talk *talk, bool first)
{
    if (talk->job->kind == VD_JOB_WRITE) {
        talk->job->request = (uint16_t)(first ? 0 : talk->job->request + 1);
        talk->job->at = talk->job->request < talk->job->plan.requests
                            ? (uint16_t)talk->job->plan.cost[talk->job->request]
                            : talk->job->plan.count;
    } else {
        talk->job->at = first ? 0 : talk->job->plan.next[talk->job->at];
        while (talk->job->at < talk->job->plan.count && talk->job->which != NULL &&
               talk->job->which[talk->job->plan.order[talk->job->at]] == VD_ABSENT) {
            talk->job->at++;
        }
    }
    talk->fetching = talk->job->at < talk->job->plan.count && vd_modbus_must_fetch(talk);
}

/* A reply to a read says what it answers by its length alone. Two that could stand for each other are never asked for
 * in a row: the question who it is stands between them, and whether the unit knows it does not matter. */
static void keep_apart(vd_modbus_talk *talk)
{
    const uint8_t *asked = talk->client.request.bytes;
    bool read = asked[1] >= VD_MODBUS_READ_COILS && asked[1] <= VD_MODBUS_READ_INPUT;
    uint16_t count = read ? vd_word_at(asked + 4) : 0;
    talk->spacing = read && !talk->spacing && asked[1] == talk->last_function && count == talk->last_count;
    if (talk->spacing) {
        vd_modbus_ask_identity(&talk->client.request, talk->address, 4, 0);
    }
    talk->last_function = talk->client.request.bytes[1];
    talk->last_count = talk->spacing ? 0 : count;
}

static void begin_exchange(vd_modbus_talk *talk)
{
    vd_status status = VD_OK;
    uint32_t wait = 0;
    if (on_settings(talk) && talk->job->at >= talk->job->plan.count) {
        end(talk, VD_OK);
        return;
    }
    const vd_order *order = NULL;
    switch ((vd_job_kind)talk->job->kind) {
    case VD_JOB_IDENTIFY:
        talk->first_register =
            vd_modbus_ask_for_identity(&talk->client.request, talk->address, talk->job->model, talk->next_object);
        break;
    case VD_JOB_READ_LIVE:
    case VD_JOB_READ_STORED: ask_read(talk); break;
    case VD_JOB_WRITE: status = vd_modbus_ask_writes(talk); break;
    case VD_JOB_STORE:
    case VD_JOB_ACT:
        order = vd_job_order(talk->job);
        wait = talk->job->kind == VD_JOB_STORE ? talk->job->model->reply.store * 1000u : wait;
        vd_modbus_ask_write_one(&talk->client.request, talk->address, order->address, order->value);
        break;
    case VD_JOB_LOGIN: break; /* no such word in registers */
    }
    if (status != VD_OK) {
        end(talk, status);
        return;
    }
    keep_apart(talk);
    /* Storing and restarting are actions: they are never sent twice. */
    bool repeatable = talk->job->kind != VD_JOB_STORE && talk->job->kind != VD_JOB_ACT;
    vd_modbus_client_begin(&talk->client, talk->job->now, repeatable, wait);
    talk->client.deaf = talk->job->deaf;
    talk->client.leaves = talk->job->kind == VD_JOB_STORE && talk->job->model->store.restarts;
    if (talk->patient) {
        vd_modbus_client_be_patient(&talk->client);
    }
    talk->job->part = EXCHANGING;
}

static void registers_begin(vd_talk *any, const vd_set *held)
{
    vd_modbus_talk *talk = any->state;
    const vd_modbus_manner *manner = &talk->client.manner;
    vd_job *job = talk->job;
    talk->next_object = 0;
    talk->patient = talk->others = false;
    if (job->kind == VD_JOB_WRITE) {
        vd_modbus_plan_write(&job->plan, job->model, job->which);
        vd_plan_steps(&job->plan, &job->reached, &job->before, held, job->values);
    } else if (on_settings(talk)) {
        /* A request of 8 bytes, a reply of 5 and its data, a silence before each, the unit's turnaround. */
        const vd_framing *framing = manner->framing;
        uint32_t frames = framing->characters(8) + framing->characters(5);
        uint32_t each = framing->characters(7) - framing->characters(5);
        uint32_t overhead = (uint32_t)vd_serial_time(&manner->line, frames) + framing->silence(&manner->line) +
                            job->model->reply.usual * 1000u;
        vd_modbus_plan_read(&job->plan, job->model, job->which, job->kind == VD_JOB_READ_STORED, overhead,
                            (uint32_t)vd_serial_time(&manner->line, each));
    }
    move_to_request(talk, true);
    begin_exchange(talk);
}

static void take_registers(vd_modbus_talk *talk, const uint8_t *data)
{
    uint16_t from = talk->job->model->settings[talk->job->plan.order[talk->job->at]].place.address;
    for (unsigned i = talk->job->at; i < talk->job->plan.next[talk->job->at]; i++) {
        uint16_t setting = talk->job->plan.order[i], registers[64];
        const vd_place *place = &talk->job->model->settings[setting].place;
        unsigned offset = (unsigned)place->address - from;
        if (place->table == VD_COIL || place->table == VD_DISCRETE) {
            registers[0] = (uint16_t)((unsigned)data[offset / 8] >> offset % 8 & 1u);
        }
        for (unsigned k = 0; k < place->words && place->table <= VD_INPUT; k++) {
            registers[k] = vd_word_at(data + 2u * (offset + k));
        }
        vd_registers_take(talk->job->values, setting, registers);
    }
}

/* Function 23 brings back what the unit holds after the write: anything else than what was sent is a refusal. */
static bool held_as_sent(const vd_modbus_talk *talk, const uint8_t *reply)
{
    enum { SENT_DATA = 11 };
    return reply[0] != VD_MODBUS_READ_WRITE || memcmp(reply + 2, talk->client.request.bytes + SENT_DATA, reply[1]) == 0;
}

static void refuse(vd_modbus_talk *talk)
{
    char about[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(about, sizeof about);
    vd_job_name(talk->job, talk->job->at, request_end(talk), &writer);
    mark(talk, VD_REFUSED);
    end(talk, vd_note_TAKEN_OTHERWISE(talk->job->fault, about));
}

static void take_reply(vd_modbus_talk *talk)
{
    size_t length = 0;
    const uint8_t *reply = vd_modbus_client_reply(&talk->client, &length);
    bool more = false;
    switch ((vd_job_kind)talk->job->kind) {
    case VD_JOB_IDENTIFY:
        talk->others = talk->others || talk->client.others;
        if (reply[0] == VD_MODBUS_IDENTIFY) {
            uint8_t before = talk->next_object, serial = talk->job->model->identify.serial_object;
            talk->next_object = vd_modbus_take_identity(reply, length, serial, &talk->job->identity);
            more = talk->next_object > before;
        } else {
            vd_modbus_take_identity_registers(reply + 2, talk->first_register, &talk->job->model->identify,
                                              &talk->job->identity);
        }
        break;
    case VD_JOB_READ_LIVE:
    case VD_JOB_READ_STORED: take_registers(talk, reply + 2); break;
    case VD_JOB_WRITE:
        if (talk->fetching) {
            talk->fetching = false;
            for (unsigned i = 0; i < reply[1] / 2u && i < VD_MODBUS_MOST_MERGED; i++) {
                talk->fetched[i] = vd_word_at(reply + 2 + 2 * i);
            }
            talk->job->stopping ? end(talk, VD_STOPPED) : begin_exchange(talk);
            return;
        }
        if (talk->address != 0 && !held_as_sent(talk, reply)) {
            refuse(talk);
            return;
        }
        break;
    case VD_JOB_STORE:
    case VD_JOB_ACT:
    case VD_JOB_LOGIN: break;
    }
    if (!on_settings(talk)) {
        more ? begin_exchange(talk) : end(talk, VD_OK);
        return;
    }
    mark(talk, talk->address != 0 ? VD_DONE : VD_UNCLEAR); /* nobody answers a broadcast */
    move_to_request(talk, false);
    talk->job->stopping ? end(talk, VD_STOPPED) : begin_exchange(talk);
}

static vd_status note_failure(vd_modbus_talk *talk, vd_status status)
{
    char about[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(about, sizeof about);
    vd_job_name(talk->job, talk->job->at, request_end(talk), &writer);
    return vd_modbus_client_note(&talk->client, status, about, status == VD_STOPPED ? NULL : talk->job->fault);
}

/* A read that failed: of a stretch each setting is asked for by itself, and one that cannot be read is left out. */
static bool go_on_without(vd_modbus_talk *talk, vd_status status)
{
    vd_job *job = talk->job;
    bool busy = status == VD_EXCEPTION_BUSY || status == VD_EXCEPTION_ACKNOWLEDGE;
    bool refused = vd_status_class(status) == VD_CLASS_REFUSED && !busy;
    unsigned at = job->at, past = request_end(talk);
    if ((job->kind != VD_JOB_READ_LIVE && job->kind != VD_JOB_READ_STORED) || job->stopping) {
        return false;
    }
    if (refused && past > at + 1) {
        for (; at < past; at++) {
            job->plan.next[at] = (uint16_t)(at + 1);
        }
        begin_exchange(talk);
        return true;
    }
    note_failure(talk, status);
    if (!vd_job_skips(job, status, refused)) {
        return false;
    }
    mark(talk, refused ? VD_REFUSED : VD_UNCLEAR);
    move_to_request(talk, false);
    begin_exchange(talk);
    return true;
}

static bool is_secret(const vd_job *job, unsigned at)
{
    return job->model->settings[job->plan.order[at]].secret;
}

/* While the password goes out, or a request that holds a secret: its reply may repeat it. */
static bool is_hidden(const vd_modbus_talk *talk)
{
    bool hidden = talk->job->kind == VD_JOB_LOGIN;
    for (unsigned i = talk->job->at; i < request_end(talk) && !hidden; i++) {
        hidden = is_secret(talk->job, i);
    }
    return hidden && talk->job->part == EXCHANGING;
}

static void registers_proceed(vd_talk *any)
{
    vd_modbus_talk *talk = any->state;
    vd_status status = VD_OK;
    if (!talk->job->running || talk->job->part != EXCHANGING || !vd_modbus_client_ended(&talk->client, &status)) {
        return;
    }
    bool gone =
        status == VD_STOPPED || status == VD_PORT_LOST || status == VD_PORT_FAILED || status == VD_LINE_NOT_TAKEN;
    vd_job_exchanged(talk->job, is_hidden(talk), status);
    talk->job->part = BETWEEN;
    if (talk->job->deaf && !gone) {
        mark(talk, VD_UNCLEAR);
        on_settings(talk) ? (move_to_request(talk, false), begin_exchange(talk)) : end(talk, VD_OK);
        return;
    }
    if (talk->spacing && !gone) { /* whatever came, it stood in between */
        begin_exchange(talk);
        return;
    }
    if (status == VD_OK) {
        talk->job->in_vain = 0;
        take_reply(talk);
        return;
    }
    if (!gone && go_on_without(talk, status)) {
        return;
    }
    /* Never sent means never tried, whatever ended it. */
    bool sent = talk->client.tries_done > 0 && !talk->fetching;
    mark(talk, !sent ? VD_NOT_TRIED : vd_status_class(status) == VD_CLASS_REFUSED ? VD_REFUSED : VD_UNCLEAR);
    end(talk, note_failure(talk, status));
}

/* The password goes out in the form in which its setting stands in registers. */
static void registers_log_in(vd_talk *any, const char *password, size_t length)
{
    vd_modbus_talk *talk = any->state;
    vd_job *job = talk->job;
    const vd_login *login = &job->model->login;
    const vd_setting *about = &job->model->settings[vd_index(login->setting)];
    uint16_t registers[VD_MODBUS_MOST_WRITE];
    vd_typed typed;
    const vd_meaning meaning = vd_setting_meaning(about);
    vd_status status = vd_value_parse(&meaning, password, length, &typed, NULL);
    status = status == VD_OK ? vd_value_check(&meaning, &typed.value, NULL) : status;
    if (status != VD_OK) {
        char allowed[VD_ALLOWED_SIZE];
        vd_writer writer = vd_writer_start(allowed, sizeof allowed);
        vd_meaning_print(&meaning, &writer);
        end(talk, vd_note_NO_SUCH_PASSWORD(job->fault, allowed));
        return;
    }
    vd_set_put(&job->reached, vd_index(login->setting), &typed.value);
    vd_registers_put(&job->reached, vd_index(login->setting), registers, NULL);
    vd_modbus_ask_registers(talk, login->order.address, registers, about->place.words);
    keep_apart(talk);
    vd_modbus_client_begin(&talk->client, job->now, false, 0);
    job->part = EXCHANGING;
    vd_set_forget(&job->reached, vd_index(login->setting)); /* what was secret does not stay in memory */
    vd_wipe(&typed, sizeof typed);
    vd_wipe(registers, sizeof registers);
}

static vd_modbus_talk *state_of(const vd_talk *talk)
{
    return talk->state;
}

static void *registers_exchange(const vd_talk *talk)
{
    return &state_of(talk)->client;
}

static uint8_t *registers_tries(vd_talk *talk)
{
    return &state_of(talk)->client.manner.tries;
}

static void registers_be_patient(vd_talk *talk)
{
    state_of(talk)->patient = true;
    vd_modbus_client_be_patient(&state_of(talk)->client);
}

static bool registers_heard_others(const vd_talk *talk)
{
    return state_of(talk)->others;
}

static bool registers_heard_start(vd_talk *talk)
{
    (void)talk; /* who has registers says nothing unasked */
    return false;
}

static uint32_t registers_disturbed(const vd_talk *talk)
{
    const vd_tally *tally = &state_of(talk)->client.tally;
    return state_of(talk)->client.unexplained + tally->timed_out + tally->damaged + tally->cut_short +
           tally->line_errors + tally->strays;
}

static const vd_tally *registers_tally(const vd_talk *talk)
{
    return &state_of(talk)->client.tally;
}

static uint32_t registers_unexplained(const vd_talk *talk)
{
    return state_of(talk)->client.unexplained;
}

static void registers_forget(vd_talk *talk)
{
    vd_modbus_client *client = &state_of(talk)->client;
    if (talk->job.secret) {
        vd_wipe(client->request.bytes, sizeof client->request.bytes);
        vd_wipe(client->reply, sizeof client->reply);
        vd_wipe(client->room, client->manner.framing->room);
        talk->job.secret = false;
    }
}

static bool registers_are_hidden(const vd_talk *talk)
{
    return is_hidden(state_of(talk));
}

static bool registers_write_together(const vd_model *model, uint16_t a, uint16_t b)
{
    const vd_place *first = &model->settings[a].place, *second = &model->settings[b].place;
    return first->bits > 0 && second->bits > 0 && first->table == second->table && first->address == second->address;
}

/* Of a field of bits the rest of its register would have to be read first. */
static bool registers_broadcast(const vd_model *model, uint16_t setting)
{
    return model->settings[setting].place.bits == 0;
}

const vd_speech vd_registers_speech = {.size = registers_size,
                                       .start = registers_start,
                                       .move = registers_move,
                                       .begin = registers_begin,
                                       .log_in = registers_log_in,
                                       .proceed = registers_proceed,
                                       .exchange = &vd_modbus_client_engine,
                                       .exchange_of = registers_exchange,
                                       .tries = registers_tries,
                                       .be_patient = registers_be_patient,
                                       .heard_others = registers_heard_others,
                                       .heard_start = registers_heard_start,
                                       .unexplained = registers_unexplained,
                                       .tally = registers_tally,
                                       .disturbed = registers_disturbed,
                                       .forget = registers_forget,
                                       .is_hidden = registers_are_hidden,
                                       .rescales_at_once = vd_modbus_rescales_at_once,
                                       .writes_together = registers_write_together,
                                       .broadcasts = registers_broadcast};
