/* SPDX-License-Identifier: MIT
 * What a line from a unit means for the job at hand: which record it answers, and what is taken out of it. */
#include "parts.h"
#include "../talk_parts.h"

#include "verdite/text.h"

#include <string.h>

void vd_lines_mark(vd_lines_talk *talk, vd_outcome outcome)
{
    vd_job *job = talk->job;
    if (job->kind != VD_JOB_WRITE) {
        vd_job_mark(job, job->at, talk->end, outcome);
        return;
    }
    for (unsigned n = job->request; n < talk->end; n++) {
        vd_job_mark(job, job->plan.cost[n], job->plan.next[job->plan.cost[n]], outcome);
    }
}

/* A new try begins anew. */
static void begin_try(vd_lines_talk *talk)
{
    if (talk->tries != (uint8_t)talk->client.tally.sent) {
        talk->tries = (uint8_t)talk->client.tally.sent;
        talk->answers = talk->job->kind == VD_JOB_IDENTIFY ? talk->end : 0; /* parts that were asked for one by one */
        if (talk->job->kind == VD_JOB_IDENTIFY && talk->end == 0) {
            memset(&talk->job->identity, 0, sizeof talk->job->identity);
        }
        if (vd_job_is_on_settings(talk->job)) {
            vd_lines_mark(talk, VD_NOT_TRIED);
        }
    }
}

/* Takes one field. What is no value is kept as it was heard, where a check guards it or it was heard so twice. */
static bool take_field(vd_lines_talk *talk, uint16_t setting, const char *piece, size_t size)
{
    vd_set *values = talk->job->values;
    size_t length = 0;
    const char *before = vd_set_odd(values, setting, &length);
    bool twice = before != NULL && length == size && memcmp(before, piece, size) == 0;
    if (vd_field_take(vd_manner_of(talk->job->model), values, setting, piece, size)) {
        return true;
    }
    bool kept = twice || vd_set_put_odd(values, setting, piece, size);
    return kept && (twice || vd_model_has_check(talk->job->model));
}

/* Takes the fields of one record, the settings order[from] up to order[end]; what this firmware lacks may be missing.
 */
static bool take_fields(vd_lines_talk *talk, unsigned from, unsigned end, const char *data, size_t length)
{
    const char *rest = data, *piece = NULL;
    size_t left = length, size = 0;
    uint8_t number = 0;
    unsigned at = from;
    bool fine = true;
    while (vd_lines_cut(vd_manner_of(talk->job->model), &rest, &left, ',', &piece, &size) && at < end) {
        if (vd_lines_setting_at(talk, at)->field.number == number++) {
            fine = take_field(talk, talk->job->plan.order[at++], piece, size) && fine;
        }
    }
    if (fine && at == end) {
        vd_job_mark(talk->job, from, end, VD_DONE);
    }
    return fine && at == end;
}

/* What a record in an answer is: one that was asked for and has not come yet; an item that came with others of its
 * word; or something else. */
enum record { TAKEN, WITH_OTHERS, STRANGE };

static enum record take_record(vd_lines_talk *talk, const vd_reply_line *reply)
{
    const char *data = reply->data, *rest = reply->data, *piece = NULL;
    size_t length = reply->data_length, left = length, size = 0;
    bool with_others = false;
    for (unsigned at = talk->job->at; at < talk->end;) {
        const vd_field *field = &vd_lines_setting_at(talk, at)->field;
        unsigned end = vd_lines_record_end(talk->job, at);
        if (vd_text_is(reply->word, reply->word_length, field->word)) {
            unsigned item = 0;
            rest = data;
            left = length;
            if (field->item > 0 && vd_lines_cut(vd_manner_of(talk->job->model), &rest, &left, ',', &piece, &size)) {
                for (size_t i = 0; i < size && vd_is_digit(piece[i]) && item < 10000; i++) {
                    item = item * 10 + (unsigned)(piece[i] - '0');
                }
            }
            bool due = talk->job->outcome[talk->job->plan.order[at]] != VD_DONE;
            if (item == field->item) {
                return due && rest != NULL && take_fields(talk, at, end, rest, left) ? TAKEN : STRANGE;
            }
            with_others = with_others || (field->item > 0 && item > 0);
        }
        at = end;
    }
    return with_others ? WITH_OTHERS : STRANGE;
}

static bool all_arrived(const vd_lines_talk *talk)
{
    for (unsigned at = talk->job->at; at < talk->end; at++) {
        if (talk->job->outcome[talk->job->plan.order[at]] != VD_DONE) {
            return false;
        }
    }
    return true;
}

/* All answers to a line of queries come in one line, in order. */
static vd_heed take_answers(vd_lines_talk *talk, const vd_reply_line *reply, vd_status *status)
{
    const char *rest = reply->data, *piece = NULL;
    size_t left = reply->data_length, size = 0;
    unsigned at = talk->job->at;
    bool fine = true, there = true;
    while (there && at < talk->end) {
        size_t room = 0;
        unsigned end = vd_lines_question_end(talk, at, &room);
        there = vd_lines_cut(vd_manner_of(talk->job->model), &rest, &left, ';', &piece, &size);
        fine = there && take_fields(talk, at, end, piece, size) && fine;
        at = end;
    }
    *status = VD_ANSWER_STRANGE;
    if (talk->padded) {
        fine = fine && vd_lines_cut(&vd_queries_manner, &rest, &left, ';', &piece, &size) &&
               vd_reply_error(piece, size) != VD_ANSWER_STRANGE;
    }
    if (!fine || rest != NULL) {
        return VD_NOT_MINE;
    }
    *status = VD_OK;
    return VD_ENDS;
}

/* Sentences count themselves: only all of them, in order, are an answer. */
static vd_heed take_sentence(vd_lines_talk *talk, const vd_reply_line *reply, vd_status *status)
{
    bool due = reply->number == talk->answers + 1u && take_record(talk, reply) != STRANGE;
    talk->answers = (uint16_t)(talk->answers + due);
    *status = talk->answers == reply->of && all_arrived(talk) ? VD_OK : VD_LINE_DAMAGED;
    return reply->number == reply->of ? VD_ENDS : VD_GOES_ON;
}

static vd_heed judge_read(vd_lines_talk *talk, const vd_reply_line *reply, vd_status *status)
{
    const vd_manner *manner = vd_manner_of(talk->job->model);
    if (manner->queue) {
        return take_answers(talk, reply, status);
    }
    if (reply->kind == VD_REPLY_DATA && manner->sealed) {
        return take_sentence(talk, reply, status);
    }
    if (reply->kind == VD_REPLY_DATA) {
        return take_record(talk, reply) == STRANGE ? VD_NOT_MINE : VD_GOES_ON;
    }
    if (reply->kind == VD_REPLY_FINE && manner->results) {
        *status = all_arrived(talk) ? VD_OK : VD_ANSWER_STRANGE;
        return VD_ENDS;
    }
    return VD_NOT_MINE;
}

/* Whether a sentence that says yes or no is about what was just said: its word is the second or third piece. */
static bool is_about(const vd_lines_talk *talk, const vd_reply_line *reply)
{
    const vd_lines_client *client = &talk->client;
    const char *rest = client->request, *piece = NULL;
    size_t left = client->request_length, size = 0;
    for (unsigned n = 0; n < 3 && vd_lines_cut(vd_manner_of(talk->job->model), &rest, &left, ',', &piece, &size); n++) {
    }
    while (size > 0 && piece[size - 1] < 0x20) {
        size--;
    }
    size -= size > 3 && piece[size - 3] == '*' ? 3 : 0;
    return size == reply->word_length && memcmp(piece, reply->word, size) == 0;
}

static vd_heed judge_write(vd_lines_talk *talk, const vd_reply_line *reply, vd_status *status)
{
    if (vd_manner_of(talk->job->model)->queue) {
        *status = vd_reply_error(reply->data, reply->data_length);
        return *status == VD_ANSWER_STRANGE ? VD_NOT_MINE : VD_ENDS;
    }
    return reply->kind == VD_REPLY_FINE ? VD_ENDS : VD_NOT_MINE;
}

vd_heed vd_lines_judge_answer(void *about, const char *line, size_t length, vd_status *status)
{
    vd_lines_talk *talk = about;
    const vd_manner *manner = vd_manner_of(talk->job->model);
    begin_try(talk);
    if (talk->job->kind == VD_JOB_IDENTIFY) {
        return vd_reply_identity(manner, talk->job->model->lines.talker, talk->client.request,
                                 talk->client.request_length, line, length,
                                 vd_lines_asks_singly(talk) ? (uint16_t)(talk->end + 1u) : (uint16_t)VD_IDENTITY_PARTS,
                                 &talk->job->identity, &talk->answers, status);
    }
    vd_reply_line reply = vd_reply_parse(manner, talk->job->model->lines.talker, line, length);
    bool answers = !manner->sealed || reply.kind == VD_REPLY_DATA || is_about(talk, &reply);
    *status = VD_OK;
    if (reply.kind == VD_REPLY_BROKEN) {
        *status = VD_LINE_DAMAGED;
        return VD_NOT_MINE;
    }
    if (reply.kind == VD_REPLY_NO && answers) {
        *status = reply.refusal;
        return VD_ENDS;
    }
    bool reads = talk->job->kind == VD_JOB_READ_LIVE && !talk->asking_why;
    return !answers ? VD_NOT_MINE : reads ? judge_read(talk, &reply, status) : judge_write(talk, &reply, status);
}
