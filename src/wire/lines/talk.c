/* SPDX-License-Identifier: MIT
 * The talk in lines: one job on many settings, as many of them in one line as the unit takes. Settings are read and
 * written by records, so a write says the whole record again, what stays as it is included. */
#include "../talk.h"
#include "lines.h"

#include <string.h>

enum part { BETWEEN, EXCHANGING };

static size_t lines_size(const vd_model *model)
{
    return ((size_t)model->lines.longest + VD_LONGEST_LINE + 7u) & ~(size_t)7u;
}

static void lines_start(vd_talk *any, void *memory, const vd_line *line, uint8_t address, uint32_t latency)
{
    vd_text_talk *talk = &any->text;
    const vd_model *model = talk->work.model;
    (void)address; /* whoever talks in lines is alone */
    char *request = memory;
    vd_text_manner manner = vd_text_manner_of(model, line, latency);
    talk->limit = manner.limit;
    vd_text_client_start(&talk->client, &manner, request, model->lines.longest, request + model->lines.longest,
                         VD_LONGEST_LINE);
}

static const vd_setting *setting_at(const vd_text_talk *talk, unsigned at)
{
    return &talk->work.model->settings[talk->work.plan.order[at]];
}

/* ---- Requests ---- */

static size_t digits_and_word(const vd_field *field)
{
    return strlen(field->word) + 10u;
}

/* Room that an answer may take in the one line that queries are answered in. */
static size_t widest(const vd_setting *setting)
{
    return vd_type_is_bytes((vd_type)setting->type) ? 2u * setting->length + 4u : 26u;
}

/* Where the records end that one question brings: commands and sentences bring all items of a word. */
static unsigned question_end(const vd_text_talk *talk, unsigned at, size_t *room)
{
    const vd_field *first = &setting_at(talk, at)->field;
    bool queries = talk->work.model->speech == VD_QUERIES;
    unsigned end = at;
    *room = 0;
    while (end < talk->work.plan.count) {
        const vd_field *field = &setting_at(talk, end)->field;
        bool same = queries ? vd_field_same_record(first, field)
                            : strlen(first->word) == strlen(field->word) &&
                                  memcmp(first->word, field->word, strlen(first->word)) == 0;
        if (!same) {
            break;
        }
        *room += queries ? widest(setting_at(talk, end)) : 0;
        end++;
    }
    return end;
}

static void compose_read(vd_text_talk *talk, vd_request *request)
{
    const vd_model *model = talk->work.model;
    size_t answer = 0;
    unsigned at = talk->work.at;
    while (at < talk->work.plan.count) {
        size_t room = 0;
        unsigned end = question_end(talk, at, &room);
        const vd_field *field = &setting_at(talk, at)->field;
        bool fits = request->writer.length + digits_and_word(field) + VD_REQUEST_END <= model->lines.longest &&
                    answer + room <= VD_LONGEST_LINE;
        if (request->parts > 0 && (!model->lines.several || !fits || at < talk->singly)) {
            break;
        }
        vd_request_read(request, field);
        answer += room;
        for (; at < end; at++) {
            talk->hidden = talk->hidden || setting_at(talk, at)->secret;
        }
    }
    talk->end = (uint16_t)at;
    /* Answers to queries do not say what they answer: two lines in a row never bring as many. */
    talk->parts = request->parts;
    talk->padded = model->speech == VD_QUERIES && talk->parts == talk->last_parts;
    if (talk->padded) {
        talk->parts++;
        vd_request_errors(request);
    }
}

/* What must be alone in its line: what is not sent twice, and secrets, so that a trace hides nothing else. */
static bool is_alone(const vd_text_talk *talk, uint32_t start)
{
    bool alone = talk->work.model->speech == VD_SENTENCES || !talk->work.model->lines.several;
    for (uint32_t i = start; i < talk->work.plan.next[start]; i++) {
        alone = alone || setting_at(talk, i)->once || setting_at(talk, i)->secret;
    }
    return alone;
}

static bool restarts_it(const vd_text_talk *talk, uint32_t start)
{
    bool restarts = false;
    for (uint32_t i = start; i < talk->work.plan.next[start]; i++) {
        restarts = restarts || setting_at(talk, i)->effect == VD_EFFECT_RESTART;
    }
    return restarts;
}

static vd_status compose_write(vd_text_talk *talk, vd_request *request, const vd_set *held, bool *repeatable)
{
    vd_work *work = &talk->work;
    uint16_t number = work->request;
    for (; number < work->plan.requests; number++) {
        uint32_t start = work->plan.cost[number];
        vd_request before = *request;
        bool first = number == work->request;
        if (!first && (is_alone(talk, start) || is_alone(talk, work->plan.cost[number - 1]) ||
                       restarts_it(talk, start) != restarts_it(talk, work->plan.cost[number - 1]))) {
            break;
        }
        const vd_field *field = &setting_at(talk, start)->field;
        vd_status status = vd_request_write(request, field, work->values, held, work->fault);
        if (status != VD_OK) {
            return status;
        }
        bool fits = request->writer.length + VD_REQUEST_END <= work->model->lines.longest && !request->writer.cut;
        if (!first && !fits) {
            *request = before;
            request->writer.text[request->writer.length] = '\0';
            break;
        }
        for (uint32_t i = start; i < work->plan.next[start]; i++) {
            talk->hidden = talk->hidden || setting_at(talk, i)->secret;
            *repeatable = *repeatable && !setting_at(talk, i)->once;
        }
    }
    talk->end = number;
    return VD_OK;
}

/* ---- Answers ---- */

static void mark(vd_text_talk *talk, vd_outcome outcome)
{
    vd_work *work = &talk->work;
    if (work->job != VD_JOB_WRITE) {
        vd_work_mark(work, work->at, talk->end, outcome);
        return;
    }
    for (unsigned n = work->request; n < talk->end; n++) {
        vd_work_mark(work, work->plan.cost[n], work->plan.next[work->plan.cost[n]], outcome);
    }
}

/* A new try begins anew. */
static void begin_try(vd_text_talk *talk)
{
    if (talk->tries != (uint8_t)talk->client.tally.sent) {
        talk->tries = (uint8_t)talk->client.tally.sent;
        talk->answers = 0;
        if (talk->work.job == VD_JOB_IDENTIFY) {
            memset(&talk->work.identity, 0, sizeof talk->work.identity);
        }
        if (vd_work_is_on_settings(&talk->work)) {
            mark(talk, VD_NOT_TRIED);
        }
    }
}

static bool is_word(const char *word, const char *text, size_t length)
{
    return strlen(word) == length && memcmp(word, text, length) == 0;
}

/* Takes one field. What is no value is kept as it was heard, where a check guards it or it was heard so twice. */
static bool take_field(vd_text_talk *talk, uint16_t setting, const char *piece, size_t size)
{
    vd_set *values = talk->work.values;
    size_t length = 0;
    const char *before = vd_set_odd(values, setting, &length);
    bool twice = before != NULL && length == size && memcmp(before, piece, size) == 0;
    if (vd_field_take(values, setting, piece, size)) {
        return true;
    }
    bool kept = twice || vd_set_put_odd(values, setting, piece, size);
    return kept && (twice || vd_model_has_check(talk->work.model));
}

/* Takes the fields of one record, the settings order[from] up to order[end]; what this firmware lacks may be missing.
 */
static bool take_fields(vd_text_talk *talk, unsigned from, unsigned end, const char *data, size_t length)
{
    const char *rest = data, *piece = NULL;
    size_t left = length, size = 0;
    uint8_t number = 0;
    unsigned at = from;
    bool fine = true;
    while (vd_text_cut((vd_speech)talk->work.model->speech, &rest, &left, ',', &piece, &size) && at < end) {
        if (setting_at(talk, at)->field.number == number++) {
            fine = take_field(talk, talk->work.plan.order[at++], piece, size) && fine;
        }
    }
    if (fine && at == end) {
        vd_work_mark(&talk->work, from, end, VD_DONE);
    }
    return fine && at == end;
}

/* What a record in an answer is: one that was asked for and has not come yet; an item that came with others of its
 * word; or something else. */
enum record { TAKEN, WITH_OTHERS, STRANGE };

static enum record take_record(vd_text_talk *talk, const vd_reply_line *reply)
{
    const char *data = reply->data, *rest = reply->data, *piece = NULL;
    size_t length = reply->data_length, left = length, size = 0;
    bool with_others = false;
    for (unsigned at = talk->work.at; at < talk->end;) {
        const vd_field *field = &setting_at(talk, at)->field;
        unsigned end = vd_text_record_end(&talk->work, at);
        if (is_word(field->word, reply->word, reply->word_length)) {
            unsigned item = 0;
            rest = data;
            left = length;
            if (field->item > 0 && vd_text_cut((vd_speech)talk->work.model->speech, &rest, &left, ',', &piece, &size)) {
                for (size_t i = 0; i < size && piece[i] >= '0' && piece[i] <= '9' && item < 10000; i++) {
                    item = item * 10 + (unsigned)(piece[i] - '0');
                }
            }
            bool due = talk->work.outcome[talk->work.plan.order[at]] != VD_DONE;
            if (item == field->item) {
                return due && rest != NULL && take_fields(talk, at, end, rest, left) ? TAKEN : STRANGE;
            }
            with_others = with_others || (field->item > 0 && item > 0);
        }
        at = end;
    }
    return with_others ? WITH_OTHERS : STRANGE;
}

static bool all_arrived(const vd_text_talk *talk)
{
    for (unsigned at = talk->work.at; at < talk->end; at++) {
        if (talk->work.outcome[talk->work.plan.order[at]] != VD_DONE) {
            return false;
        }
    }
    return true;
}

/* All answers to a line of queries come in one line, in order. */
static vd_heed take_answers(vd_text_talk *talk, const vd_reply_line *reply, vd_status *status)
{
    const char *rest = reply->data, *piece = NULL;
    size_t left = reply->data_length, size = 0;
    unsigned at = talk->work.at;
    bool fine = true, there = true;
    while (there && at < talk->end) {
        size_t room = 0;
        unsigned end = question_end(talk, at, &room);
        there = vd_text_cut((vd_speech)talk->work.model->speech, &rest, &left, ';', &piece, &size);
        fine = there && take_fields(talk, at, end, piece, size) && fine;
        at = end;
    }
    *status = VD_ANSWER_STRANGE;
    if (talk->padded) {
        fine = fine && vd_text_cut(VD_QUERIES, &rest, &left, ';', &piece, &size) &&
               vd_reply_error(piece, size) != VD_ANSWER_STRANGE;
    }
    if (!fine || rest != NULL) {
        return VD_NOT_MINE;
    }
    *status = VD_OK;
    return VD_ENDS;
}

/* Sentences count themselves: only all of them, in order, are an answer. */
static vd_heed take_sentence(vd_text_talk *talk, const vd_reply_line *reply, vd_status *status)
{
    bool due = reply->number == talk->answers + 1u && take_record(talk, reply) != STRANGE;
    talk->answers = (uint16_t)(talk->answers + due);
    *status = talk->answers == reply->of && all_arrived(talk) ? VD_OK : VD_LINE_DAMAGED;
    return reply->number == reply->of ? VD_ENDS : VD_GOES_ON;
}

static vd_heed judge_read(vd_text_talk *talk, const vd_reply_line *reply, vd_status *status)
{
    vd_speech speech = (vd_speech)talk->work.model->speech;
    if (speech == VD_QUERIES) {
        return take_answers(talk, reply, status);
    }
    if (reply->kind == VD_REPLY_DATA && speech == VD_SENTENCES) {
        return take_sentence(talk, reply, status);
    }
    if (reply->kind == VD_REPLY_DATA) {
        return take_record(talk, reply) == STRANGE ? VD_NOT_MINE : VD_GOES_ON;
    }
    if (reply->kind == VD_REPLY_FINE && speech == VD_COMMANDS) {
        *status = all_arrived(talk) ? VD_OK : VD_ANSWER_STRANGE;
        return VD_ENDS;
    }
    return VD_NOT_MINE;
}

/* Whether a sentence that says yes or no is about what was just said: its word is the second or third piece. */
static bool is_about(const vd_text_talk *talk, const vd_reply_line *reply)
{
    const vd_text_client *client = &talk->client;
    const char *rest = client->request, *piece = NULL;
    size_t left = client->request_length, size = 0;
    for (unsigned n = 0; n < 3 && vd_text_cut((vd_speech)talk->work.model->speech, &rest, &left, ',', &piece, &size);
         n++) {
    }
    while (size > 0 && piece[size - 1] < 0x20) {
        size--;
    }
    size -= size > 3 && piece[size - 3] == '*' ? 3 : 0;
    return size == reply->word_length && memcmp(piece, reply->word, size) == 0;
}

static vd_heed judge_write(vd_text_talk *talk, const vd_reply_line *reply, vd_status *status)
{
    if (talk->work.model->speech == VD_QUERIES) {
        *status = vd_reply_error(reply->data, reply->data_length);
        return *status == VD_ANSWER_STRANGE ? VD_NOT_MINE : VD_ENDS;
    }
    return reply->kind == VD_REPLY_FINE ? VD_ENDS : VD_NOT_MINE;
}

static vd_heed judge(void *about, const char *line, size_t length, vd_status *status)
{
    vd_text_talk *talk = about;
    vd_speech speech = (vd_speech)talk->work.model->speech;
    begin_try(talk);
    if (talk->work.job == VD_JOB_IDENTIFY) {
        return vd_reply_identity(speech, talk->work.model->lines.talker, talk->client.request,
                                 talk->client.request_length, line, length, &talk->work.identity, &talk->answers,
                                 status);
    }
    vd_reply_line reply = vd_reply_parse(speech, talk->work.model->lines.talker, line, length);
    bool answers = speech != VD_SENTENCES || reply.kind == VD_REPLY_DATA || is_about(talk, &reply);
    *status = VD_OK;
    if (reply.kind == VD_REPLY_BROKEN) {
        *status = VD_LINE_DAMAGED;
        return VD_NOT_MINE;
    }
    if (reply.kind == VD_REPLY_NO && answers) {
        *status = reply.refusal;
        return VD_ENDS;
    }
    bool reads = talk->work.job == VD_JOB_READ_LIVE && !talk->asking_why;
    return !answers ? VD_NOT_MINE : reads ? judge_read(talk, &reply, status) : judge_write(talk, &reply, status);
}

/* ---- Exchanges ---- */

static void end(vd_text_talk *talk, vd_status status)
{
    if (talk->hidden) { /* what was secret does not stay in memory */
        memset(talk->client.request, 0, talk->client.request_size);
    }
    talk->hidden = false;
    vd_work_end(&talk->work, status);
}

static bool is_over(const vd_text_talk *talk)
{
    const vd_work *work = &talk->work;
    return vd_work_is_on_settings(work) &&
           (work->job == VD_JOB_WRITE ? work->request >= work->plan.requests : work->at >= work->plan.count);
}

static void send(vd_text_talk *talk, vd_request *request, bool repeatable)
{
    talk->client.request_length = vd_request_end(request);
    if (talk->client.request_length == 0) {
        const char *word = vd_work_is_on_settings(&talk->work) ? setting_at(talk, talk->work.at)->field.word : "";
        end(talk, vd_note_CALLED_WRONG(talk->work.fault, word,
                                       "What is to be said of it does not fit into a line that the unit takes."));
        return;
    }
    talk->tries = (uint8_t)talk->client.tally.sent;
    talk->answers = 0;
    talk->work.part = EXCHANGING;
    vd_text_client_begin(&talk->client, talk->work.now, repeatable, judge, talk);
}

static void begin_exchange(vd_text_talk *talk)
{
    const vd_model *model = talk->work.model;
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
    switch ((vd_job)talk->work.job) {
    case VD_JOB_IDENTIFY: vd_request_identity(&request); break;
    case VD_JOB_READ_LIVE:
    case VD_JOB_READ_STORED: compose_read(talk, &request); break;
    case VD_JOB_WRITE:
        talk->work.at = (uint16_t)talk->work.plan.cost[talk->work.request];
        repeatable = !model->lines.writes_once;
        status = compose_write(talk, &request, &talk->work.reached, &repeatable);
        break;
    case VD_JOB_STORE:
        repeatable = false;
        talk->client.manner.limit += model->reply.store * 1000u;
        vd_request_order(&request, &model->store.order);
        break;
    case VD_JOB_RESTART:
        repeatable = false;
        vd_request_order(&request, &vd_model_restart(model)->order);
        break;
    case VD_JOB_LOGIN: return;
    }
    status != VD_OK ? end(talk, status) : send(talk, &request, repeatable);
}

static void lines_begin(vd_talk *any, const vd_set *held)
{
    vd_text_talk *talk = &any->text;
    talk->work.request = 0;
    talk->end = talk->singly = 0;
    if (vd_work_is_on_settings(&talk->work)) {
        vd_text_plan(&talk->work, held);
    }
    begin_exchange(talk);
}

static void lines_log_in(vd_talk *any, const char *password, size_t length)
{
    vd_text_talk *talk = &any->text;
    vd_request request = vd_request_start(talk->work.model, talk->client.request, talk->client.request_size);
    vd_request_password(&request, talk->work.model->login.word, password, length);
    talk->client.manner.limit = talk->limit;
    talk->hidden = true;
    talk->asking_why = false;
    send(talk, &request, false);
}

/* A unit that talks in queries does not answer what it does not know: it is asked what was wrong, once. */
static bool ask_why(vd_text_talk *talk, vd_status status)
{
    bool silent = status == VD_NO_ANSWER || status == VD_NO_SENSE || status == VD_ANSWER_STRANGE;
    if (talk->asking_why || !silent || talk->work.model->speech != VD_QUERIES || talk->work.job != VD_JOB_READ_LIVE) {
        return false;
    }
    vd_request request = vd_request_start(talk->work.model, talk->client.request, talk->client.request_size);
    talk->why = status;
    talk->asking_why = true;
    vd_request_errors(&request);
    send(talk, &request, false);
    return true;
}

/* What the request at hand is about, for people: of a write all that stands in its line, since which of them was meant
 * the unit does not say. */
static void name_request(const vd_text_talk *talk, vd_writer *writer)
{
    const vd_work *work = &talk->work;
    const vd_plan *p = &work->plan;
    if (work->job == VD_JOB_WRITE && work->request < p->requests) {
        unsigned first = p->cost[work->request];
        unsigned last = talk->end > work->request + 1u ? p->next[p->cost[talk->end - 1]] : p->next[first];
        vd_work_name(work, first, last, writer);
    } else {
        vd_work_name(work, work->at, talk->end, writer);
    }
}

static vd_outcome outcome_of(const vd_text_talk *talk, vd_status status)
{
    bool several = talk->work.job == VD_JOB_WRITE && talk->end > talk->work.request + 1u;
    return talk->client.tries_done == 0                              ? VD_NOT_TRIED
           : vd_status_class(status) == VD_CLASS_REFUSED && !several ? VD_REFUSED
                                                                     : VD_UNCLEAR;
}

static vd_status note_failure(vd_text_talk *talk, vd_status status)
{
    char about[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(about, sizeof about);
    const char *help = talk->work.model->listening.help;
    const char *advice = help != NULL && help[0] != '\0' ? help : "Check supply, cable, baud and framing.";
    name_request(talk, &writer);
    return vd_text_client_note(&talk->client, status, about, advice, status == VD_STOPPED ? NULL : talk->work.fault);
}

/* A read that failed: of several records each is asked for by itself, and one that cannot be read is left out. */
static bool go_on_without(vd_text_talk *talk, vd_status status)
{
    vd_work *work = &talk->work;
    bool refused = vd_status_class(status) == VD_CLASS_REFUSED, strange = status == VD_ANSWER_STRANGE;
    if (work->job != VD_JOB_READ_LIVE || work->stopping) {
        return false;
    }
    if ((refused || strange) && talk->end > vd_text_record_end(work, work->at) && talk->singly < talk->end) {
        talk->singly = talk->end;
        begin_exchange(talk);
        return true;
    }
    note_failure(talk, status);
    if (!vd_work_skips(work, status, refused || strange)) {
        return false;
    }
    mark(talk, refused ? VD_REFUSED : VD_UNCLEAR);
    work->at = talk->end;
    begin_exchange(talk);
    return true;
}

static void fail(vd_text_talk *talk, vd_status status)
{
    bool gone =
        status == VD_STOPPED || status == VD_PORT_LOST || status == VD_PORT_FAILED || status == VD_LINE_NOT_TAKEN;
    if (talk->asking_why && vd_status_class(status) != VD_CLASS_REFUSED && !gone) {
        status = talk->why;
    }
    if (!gone && go_on_without(talk, status)) {
        return;
    }
    mark(talk, outcome_of(talk, status));
    end(talk, note_failure(talk, status));
}

/* On to the next request; behind one that makes the unit restart there is nobody to talk to, unless it first has to
 * store. */
static void move_on(vd_text_talk *talk)
{
    vd_work *work = &talk->work;
    bool write = work->job == VD_JOB_WRITE;
    bool gone = write && !work->model->store.needed && restarts_it(talk, work->plan.cost[talk->end - 1]);
    mark(talk, VD_DONE);
    work->in_vain = 0;
    work->request = write ? talk->end : work->request;
    work->at = write ? work->at : talk->end;
    if (work->stopping || gone) {
        end(talk, work->stopping ? VD_STOPPED : VD_OK);
    } else {
        begin_exchange(talk);
    }
}

static void lines_proceed(vd_talk *any)
{
    vd_text_talk *talk = &any->text;
    vd_work *work = &talk->work;
    vd_status status = VD_OK;
    if (!work->running || work->part != EXCHANGING || !vd_text_client_ended(&talk->client, &status)) {
        return;
    }
    work->part = BETWEEN;
    bool again = work->job == VD_JOB_IDENTIFY && vd_status_class(status) == VD_CLASS_REFUSED && work->request == 0;
    if (status == VD_OK && !talk->asking_why) {
        vd_work_is_on_settings(work) ? move_on(talk) : end(talk, VD_OK);
    } else if (again && !work->stopping) {
        /* What somebody left half-typed in the unit's line may have spoilt the first question. */
        work->request = 1;
        begin_exchange(talk);
    } else if (!ask_why(talk, status)) {
        fail(talk, status);
    }
}

static void *lines_exchange(vd_talk *talk)
{
    return &talk->text.client;
}

static uint8_t *lines_tries(vd_talk *talk)
{
    return &talk->text.client.manner.tries;
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
    bool started = talk->text.client.started;
    talk->text.client.started = false;
    return started;
}

/* Where answers name what they answer, whatever else the unit says in between does no harm. */
static uint32_t lines_unexplained(const vd_talk *talk)
{
    return vd_model_names_answers(talk->work.model) ? 0 : talk->text.client.unexplained;
}

static bool lines_is_hidden(const vd_talk *talk)
{
    return talk->text.hidden;
}

const vd_language vd_lines_language = {.size = lines_size,
                                       .start = lines_start,
                                       .begin = lines_begin,
                                       .log_in = lines_log_in,
                                       .proceed = lines_proceed,
                                       .exchange = &vd_text_client_engine,
                                       .exchange_of = lines_exchange,
                                       .tries = lines_tries,
                                       .be_patient = lines_be_patient,
                                       .heard_others = lines_heard_others,
                                       .heard_start = lines_heard_start,
                                       .unexplained = lines_unexplained,
                                       .is_hidden = lines_is_hidden};
