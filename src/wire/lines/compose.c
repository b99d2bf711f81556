/* SPDX-License-Identifier: MIT
 * Which records go into one line to a unit: what is asked for, and what is written. */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

const vd_setting *vd_lines_setting_at(const vd_lines_talk *talk, unsigned at)
{
    return &talk->job->model->settings[talk->job->plan.order[at]];
}

static size_t digits_and_word(const vd_field *field)
{
    return strlen(field->word) + 10u;
}

/* Room that an answer may take in the one line that queries are answered in. */
static size_t widest(const vd_setting *setting)
{
    return vd_setting_is(setting, VD_TYPE_BYTES) ? 2u * setting->length + 4u : 26u;
}

/* Where the records end that one question brings: commands and sentences bring all items of a word. */
unsigned vd_lines_question_end(const vd_lines_talk *talk, unsigned at, size_t *room)
{
    const vd_field *first = &vd_lines_setting_at(talk, at)->field;
    bool queries = vd_manner_of(talk->job->model)->queue;
    unsigned end = at;
    *room = 0;
    while (end < talk->job->plan.count) {
        const vd_field *field = &vd_lines_setting_at(talk, end)->field;
        bool same = queries ? vd_field_same_record(first, field) : vd_same_text(first->word, field->word);
        if (!same) {
            break;
        }
        *room += queries ? widest(vd_lines_setting_at(talk, end)) : 0;
        end++;
    }
    return end;
}

void vd_lines_compose_read(vd_lines_talk *talk, vd_request *request)
{
    const vd_model *model = talk->job->model;
    size_t answer = 0;
    unsigned at = talk->job->at;
    while (at < talk->job->plan.count) {
        size_t room = 0;
        unsigned end = vd_lines_question_end(talk, at, &room);
        const vd_field *field = &vd_lines_setting_at(talk, at)->field;
        bool fits = request->writer.length + digits_and_word(field) + VD_REQUEST_END <= model->lines.longest &&
                    answer + room <= VD_LONGEST_LINE;
        if (request->parts > 0 && (!model->lines.several || !fits || at < talk->singly)) {
            break;
        }
        vd_request_read(request, field);
        answer += room;
        for (; at < end; at++) {
            talk->hidden = talk->hidden || vd_lines_setting_at(talk, at)->secret;
        }
    }
    talk->end = (uint16_t)at;
    /* Answers to queries do not say what they answer: two lines in a row never bring as many. */
    talk->parts = request->parts;
    talk->padded = vd_manner_of(model)->queue && talk->parts == talk->last_parts;
    if (talk->padded) {
        talk->parts++;
        vd_request_errors(request);
    }
}

/* What must be alone in its line: what is not sent twice, and secrets, so that a trace hides nothing else. */
static bool is_alone(const vd_lines_talk *talk, uint32_t start)
{
    bool alone = vd_manner_of(talk->job->model)->sealed || !talk->job->model->lines.several;
    for (uint32_t i = start; i < talk->job->plan.next[start]; i++) {
        alone = alone || vd_lines_setting_at(talk, i)->once || vd_lines_setting_at(talk, i)->secret;
    }
    return alone;
}

bool vd_lines_asks_singly(const vd_lines_talk *talk)
{
    return talk->job->kind == VD_JOB_IDENTIFY && vd_manner_of(talk->job->model)->results &&
           !talk->job->model->lines.several;
}

bool vd_lines_restarts_it(const vd_lines_talk *talk, uint32_t start)
{
    bool restarts = false;
    for (uint32_t i = start; i < talk->job->plan.next[start]; i++) {
        restarts = restarts || vd_setting_restarts(vd_lines_setting_at(talk, i));
    }
    return restarts;
}

vd_status vd_lines_compose_write(vd_lines_talk *talk, vd_request *request, const vd_set *held, bool *repeatable)
{
    vd_job *job = talk->job;
    uint16_t number = job->request;
    for (; number < job->plan.requests; number++) {
        uint32_t start = job->plan.cost[number];
        vd_request before = *request;
        bool first = number == job->request;
        if (!first && (is_alone(talk, start) || is_alone(talk, job->plan.cost[number - 1]) ||
                       vd_lines_restarts_it(talk, start) != vd_lines_restarts_it(talk, job->plan.cost[number - 1]))) {
            break;
        }
        const vd_field *field = &vd_lines_setting_at(talk, start)->field;
        vd_status status = vd_request_write(request, field, job->values, held, job->fault);
        if (status != VD_OK) {
            return status;
        }
        bool fits = request->writer.length + VD_REQUEST_END <= job->model->lines.longest && !request->writer.cut;
        if (!first && !fits) {
            *request = before;
            request->writer.text[request->writer.length] = '\0';
            break;
        }
        for (uint32_t i = start; i < job->plan.next[start]; i++) {
            talk->hidden = talk->hidden || vd_lines_setting_at(talk, i)->secret;
            *repeatable = *repeatable && !vd_lines_setting_at(talk, i)->once;
        }
    }
    talk->end = number;
    return VD_OK;
}
