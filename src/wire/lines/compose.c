/* SPDX-License-Identifier: MIT
 * Which records go into one line to a unit: what is asked for, and what is written. */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

const vd_setting *vd_text_setting_at(const vd_text_talk *talk, unsigned at)
{
    return &talk->work->model->settings[talk->work->plan.order[at]];
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
unsigned vd_text_question_end(const vd_text_talk *talk, unsigned at, size_t *room)
{
    const vd_field *first = &vd_text_setting_at(talk, at)->field;
    bool queries = vd_manner_of(talk->work->model)->queue;
    unsigned end = at;
    *room = 0;
    while (end < talk->work->plan.count) {
        const vd_field *field = &vd_text_setting_at(talk, end)->field;
        bool same = queries ? vd_field_same_record(first, field) : vd_same_text(first->word, field->word);
        if (!same) {
            break;
        }
        *room += queries ? widest(vd_text_setting_at(talk, end)) : 0;
        end++;
    }
    return end;
}

void vd_text_compose_read(vd_text_talk *talk, vd_request *request)
{
    const vd_model *model = talk->work->model;
    size_t answer = 0;
    unsigned at = talk->work->at;
    while (at < talk->work->plan.count) {
        size_t room = 0;
        unsigned end = vd_text_question_end(talk, at, &room);
        const vd_field *field = &vd_text_setting_at(talk, at)->field;
        bool fits = request->writer.length + digits_and_word(field) + VD_REQUEST_END <= model->lines.longest &&
                    answer + room <= VD_LONGEST_LINE;
        if (request->parts > 0 && (!model->lines.several || !fits || at < talk->singly)) {
            break;
        }
        vd_request_read(request, field);
        answer += room;
        for (; at < end; at++) {
            talk->hidden = talk->hidden || vd_text_setting_at(talk, at)->secret;
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
static bool is_alone(const vd_text_talk *talk, uint32_t start)
{
    bool alone = vd_manner_of(talk->work->model)->sealed || !talk->work->model->lines.several;
    for (uint32_t i = start; i < talk->work->plan.next[start]; i++) {
        alone = alone || vd_text_setting_at(talk, i)->once || vd_text_setting_at(talk, i)->secret;
    }
    return alone;
}

bool vd_text_asks_singly(const vd_text_talk *talk)
{
    return talk->work->job == VD_JOB_IDENTIFY && vd_manner_of(talk->work->model)->results &&
           !talk->work->model->lines.several;
}

bool vd_text_restarts_it(const vd_text_talk *talk, uint32_t start)
{
    bool restarts = false;
    for (uint32_t i = start; i < talk->work->plan.next[start]; i++) {
        restarts = restarts || vd_setting_restarts(vd_text_setting_at(talk, i));
    }
    return restarts;
}

vd_status vd_text_compose_write(vd_text_talk *talk, vd_request *request, const vd_set *held, bool *repeatable)
{
    vd_work *work = talk->work;
    uint16_t number = work->request;
    for (; number < work->plan.requests; number++) {
        uint32_t start = work->plan.cost[number];
        vd_request before = *request;
        bool first = number == work->request;
        if (!first && (is_alone(talk, start) || is_alone(talk, work->plan.cost[number - 1]) ||
                       vd_text_restarts_it(talk, start) != vd_text_restarts_it(talk, work->plan.cost[number - 1]))) {
            break;
        }
        const vd_field *field = &vd_text_setting_at(talk, start)->field;
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
            talk->hidden = talk->hidden || vd_text_setting_at(talk, i)->secret;
            *repeatable = *repeatable && !vd_text_setting_at(talk, i)->once;
        }
    }
    talk->end = number;
    return VD_OK;
}
