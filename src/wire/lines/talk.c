/* SPDX-License-Identifier: MIT
 * The talk in lines: one job on many settings, as many of them in one line as the unit takes. Settings are read and
 * written by records, so a write says the whole record again, what stays as it is included. */
#include "../talk_parts.h"
#include "parts.h"

#include <string.h>

enum part { BETWEEN, EXCHANGING };

_Static_assert(sizeof(vd_lines_talk) <= VD_LINES_TALK, "the state of a talk has room for it");

static size_t lines_size(const vd_model *model)
{
    return VD_LINES_STATE(model->lines.longest);
}

static void lines_start(vd_talk *any, void *memory, const vd_serial *line, uint8_t address, uint32_t latency)
{
    vd_lines_talk *talk = any->state = memory;
    memset(talk, 0, sizeof *talk);
    talk->job = &any->job;
    const vd_model *model = talk->job->model;
    (void)address; /* whoever talks in lines is alone */
    char *request = (char *)memory + VD_LINES_TALK;
    vd_lines_manner manner = vd_lines_manner_of(model, line, latency);
    talk->limit = manner.limit;
    vd_lines_client_start(&talk->client, &manner, request, model->lines.longest, request + model->lines.longest,
                          VD_LONGEST_LINE);
}

static void lines_move(vd_talk *any, const vd_link *link, uint32_t latency)
{
    vd_lines_talk *talk = any->state;
    vd_lines_manner manner = vd_lines_manner_of(talk->job->model, &link->line, latency);
    manner.tries = talk->client.manner.tries;
    talk->limit = manner.limit;
    talk->client.manner = manner;
}

static void end(vd_lines_talk *talk, vd_status status)
{
    talk->hidden = false;
    vd_job_end(talk->job, status);
}

static bool is_over(const vd_lines_talk *talk)
{
    const vd_job *job = talk->job;
    return vd_job_is_on_settings(job) &&
           (job->kind == VD_JOB_WRITE ? job->request >= job->plan.requests : job->at >= job->plan.count);
}

static void send(vd_lines_talk *talk, vd_request *request, bool repeatable)
{
    talk->client.request_length = vd_request_end(request);
    if (talk->client.request_length == 0) {
        const char *word = vd_job_is_on_settings(talk->job) ? vd_lines_setting_at(talk, talk->job->at)->field.word : "";
        end(talk,
            vd_note_CALLED_WRONG(talk->job->fault, word, "Its text does not fit into a line that the unit accepts."));
        return;
    }
    talk->tries = (uint8_t)talk->client.tally.sent;
    talk->answers = 0;
    talk->job->part = EXCHANGING;
    vd_lines_client_begin(&talk->client, talk->job->now, repeatable, vd_lines_judge_answer, talk);
}

static void begin_exchange(vd_lines_talk *talk)
{
    const vd_model *model = talk->job->model;
    vd_request request = vd_request_start(model, talk->client.request, talk->client.request_size);
    vd_status status = VD_OK;
    bool repeatable = true;
    talk->client.manner.limit = talk->limit;
    talk->hidden = talk->asking_why = talk->padded = false;
    talk->last_parts = talk->parts;
    talk->parts = 1;
    if (is_over(talk)) {
        end(talk, VD_OK);
        return;
    }
    switch ((vd_job_kind)talk->job->kind) {
    case VD_JOB_IDENTIFY:
        vd_request_identity(&request, vd_lines_asks_singly(talk) ? talk->end : VD_IDENTITY_PARTS);
        break;
    case VD_JOB_READ_LIVE:
    case VD_JOB_READ_STORED: vd_lines_compose_read(talk, &request); break;
    case VD_JOB_WRITE:
        talk->job->at = (uint16_t)talk->job->plan.cost[talk->job->request];
        repeatable = !model->lines.writes_once;
        status = vd_lines_compose_write(talk, &request, &talk->job->reached, &repeatable);
        break;
    case VD_JOB_STORE:
    case VD_JOB_ACT:
        repeatable = false;
        talk->client.manner.limit += talk->job->kind == VD_JOB_STORE ? model->reply.store * 1000u : 0;
        vd_request_order(&request, vd_job_order(talk->job));
        break;
    case VD_JOB_LOGIN: return;
    }
    status != VD_OK ? end(talk, status) : send(talk, &request, repeatable);
}

static void lines_begin(vd_talk *any, const vd_set *held)
{
    vd_lines_talk *talk = any->state;
    talk->job->request = 0;
    talk->end = talk->singly = 0;
    if (vd_job_is_on_settings(talk->job)) {
        vd_lines_plan(talk->job, held);
    }
    begin_exchange(talk);
}

static void lines_log_in(vd_talk *any, const char *password, size_t length)
{
    vd_lines_talk *talk = any->state;
    vd_request request = vd_request_start(talk->job->model, talk->client.request, talk->client.request_size);
    vd_request_password(&request, talk->job->model->login.order.word, password, length);
    talk->client.manner.limit = talk->limit;
    talk->hidden = true;
    talk->asking_why = false;
    send(talk, &request, false);
}

/* A unit that talks in queries does not answer what it does not know: it is asked what was wrong, once. */
static bool ask_why(vd_lines_talk *talk, vd_status status)
{
    bool silent = status == VD_NO_ANSWER || status == VD_NO_SENSE || status == VD_ANSWER_STRANGE;
    if (talk->asking_why || !silent || !vd_manner_of(talk->job->model)->queue || talk->job->kind != VD_JOB_READ_LIVE) {
        return false;
    }
    vd_request request = vd_request_start(talk->job->model, talk->client.request, talk->client.request_size);
    talk->why = status;
    talk->asking_why = true;
    vd_request_errors(&request);
    send(talk, &request, false);
    return true;
}

/* What the request at hand is about, for people: of a write all that stands in its line, since which of them was meant
 * the unit does not say. */
static void name_request(const vd_lines_talk *talk, vd_writer *writer)
{
    const vd_job *job = talk->job;
    const vd_plan *p = &job->plan;
    if (job->kind == VD_JOB_WRITE && job->request < p->requests) {
        unsigned first = p->cost[job->request];
        unsigned last = talk->end > job->request + 1u ? p->next[p->cost[talk->end - 1]] : p->next[first];
        vd_job_name(job, first, last, writer);
    } else {
        vd_job_name(job, job->at, talk->end, writer);
    }
}

static vd_outcome outcome_of(const vd_lines_talk *talk, vd_status status)
{
    bool several = talk->job->kind == VD_JOB_WRITE && talk->end > talk->job->request + 1u;
    return talk->client.tries_done == 0                              ? VD_NOT_TRIED
           : vd_status_class(status) == VD_CLASS_REFUSED && !several ? VD_REFUSED
                                                                     : VD_UNCLEAR;
}

static vd_status note_failure(vd_lines_talk *talk, vd_status status)
{
    char about[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(about, sizeof about);
    const char *advice = vd_lines_advice(talk->job->model);
    name_request(talk, &writer);
    return vd_lines_client_note(&talk->client, status, about, advice, status == VD_STOPPED ? NULL : talk->job->fault);
}

/* A read that failed: of several records each is asked for by itself, and one that cannot be read is left out. */
static bool go_on_without(vd_lines_talk *talk, vd_status status)
{
    vd_job *job = talk->job;
    bool refused = vd_status_class(status) == VD_CLASS_REFUSED, strange = status == VD_ANSWER_STRANGE;
    if (job->kind != VD_JOB_READ_LIVE || job->stopping) {
        return false;
    }
    if ((refused || strange) && talk->end > vd_lines_record_end(job, job->at) && talk->singly < talk->end) {
        talk->singly = talk->end;
        begin_exchange(talk);
        return true;
    }
    note_failure(talk, status);
    if (!vd_job_skips(job, status, refused || strange)) {
        return false;
    }
    vd_lines_mark(talk, refused ? VD_REFUSED : VD_UNCLEAR);
    job->at = talk->end;
    begin_exchange(talk);
    return true;
}

static void fail(vd_lines_talk *talk, vd_status status)
{
    bool gone =
        status == VD_STOPPED || status == VD_PORT_LOST || status == VD_PORT_FAILED || status == VD_LINE_NOT_TAKEN;
    if (talk->asking_why && vd_status_class(status) != VD_CLASS_REFUSED && !gone) {
        status = talk->why;
    }
    if (!gone && go_on_without(talk, status)) {
        return;
    }
    vd_lines_mark(talk, outcome_of(talk, status));
    end(talk, note_failure(talk, status));
}

/* On to the next request; behind one that makes the unit restart there is nobody to talk to, unless it first has to
 * store. */
static void move_on(vd_lines_talk *talk)
{
    vd_job *job = talk->job;
    bool write = job->kind == VD_JOB_WRITE;
    bool gone = write && !job->model->store.needed && vd_lines_restarts_it(talk, job->plan.cost[talk->end - 1]);
    vd_lines_mark(talk, VD_DONE);
    job->in_vain = 0;
    job->request = write ? talk->end : job->request;
    job->at = write ? job->at : talk->end;
    if (job->stopping || gone) {
        end(talk, job->stopping ? VD_STOPPED : VD_OK);
    } else {
        begin_exchange(talk);
    }
}

static void lines_proceed(vd_talk *any)
{
    vd_lines_talk *talk = any->state;
    vd_job *job = talk->job;
    vd_status status = VD_OK;
    if (!job->running || job->part != EXCHANGING || !vd_lines_client_ended(&talk->client, &status)) {
        return;
    }
    job->part = BETWEEN;
    vd_job_exchanged(job, talk->hidden, status);
    if (talk->hidden) { /* the unit may have repeated it in its refusal */
        talk->client.said[0] = '\0';
    }
    bool again = job->kind == VD_JOB_IDENTIFY && vd_status_class(status) == VD_CLASS_REFUSED && job->request == 0;
    bool part = status == VD_OK && vd_lines_asks_singly(talk) && talk->end + 1u < VD_IDENTITY_PARTS;
    if (part && !job->stopping) {
        talk->end++;
        begin_exchange(talk);
    } else if (status == VD_OK && !talk->asking_why) {
        vd_job_is_on_settings(job) ? move_on(talk) : end(talk, VD_OK);
    } else if (again && !job->stopping) {
        /* What somebody left half-typed in the unit's line may have spoilt the first question. */
        job->request = 1;
        begin_exchange(talk);
    } else if (!ask_why(talk, status)) {
        fail(talk, status);
    }
}

static vd_lines_talk *state_of(const vd_talk *talk)
{
    return talk->state;
}

static void *lines_exchange(const vd_talk *talk)
{
    return &state_of(talk)->client;
}

static uint8_t *lines_tries(vd_talk *talk)
{
    return &state_of(talk)->client.manner.tries;
}

static void lines_be_patient(vd_talk *talk)
{
    (void)talk; /* nobody else can be there */
}

static bool lines_heard_others(const vd_talk *talk)
{
    (void)talk;
    return false;
}

static bool lines_heard_start(vd_talk *talk)
{
    bool started = state_of(talk)->client.started;
    state_of(talk)->client.started = false;
    return started;
}

/* Where answers name what they answer, whatever else the unit says in between does no harm. */
static const vd_tally *lines_tally(const vd_talk *talk)
{
    return &state_of(talk)->client.tally;
}

static uint32_t lines_unexplained(const vd_talk *talk)
{
    return vd_model_names_answers(talk->job.model) ? 0 : state_of(talk)->client.unexplained;
}

static void lines_forget(vd_talk *talk)
{
    vd_lines_client *client = &state_of(talk)->client;
    if (talk->job.secret) {
        vd_wipe(client->request, client->request_size);
        vd_wipe(client->heard, client->heard_size);
        talk->job.secret = false;
    }
}

static bool lines_is_hidden(const vd_talk *talk)
{
    return state_of(talk)->hidden;
}

const vd_speech vd_lines_speech = {.size = lines_size,
                                   .start = lines_start,
                                   .move = lines_move,
                                   .begin = lines_begin,
                                   .log_in = lines_log_in,
                                   .proceed = lines_proceed,
                                   .exchange = &vd_lines_client_engine,
                                   .exchange_of = lines_exchange,
                                   .tries = lines_tries,
                                   .be_patient = lines_be_patient,
                                   .heard_others = lines_heard_others,
                                   .heard_start = lines_heard_start,
                                   .unexplained = lines_unexplained,
                                   .tally = lines_tally,
                                   .disturbed = lines_unexplained, /* nobody else can be there */
                                   .forget = lines_forget,
                                   .is_hidden = lines_is_hidden,
                                   .rescales_at_once = vd_lines_rescales_at_once,
                                   .writes_together = vd_lines_write_together};
