/* SPDX-License-Identifier: MIT
 * Lines to a unit: how identity, reads, writes and orders are said in each manner.
 *
 *   commands   AT+NAME?;+LIMIT?          AT+LIMIT=2,1,65.0        (V.250 5.4)
 *   queries    :NAME?;:LIM2?             *CLS;:LIM2 1,65.0;:SYST:ERR?   (IEEE 488.2, SCPI-99 volume 1)
 *   sentences  $PQLM,R,NAME,LIMIT*hh     $PQLM,W,LIMIT,2,1,65.0*hh      (NMEA 0183, proprietary sentences) */
#include "parts.h"
#include "verdite/rules.h"
#include "verdite/fields.h"
#include "verdite/lines.h"

#include <string.h>

vd_request vd_request_start(const vd_model *model, char *line, size_t size)
{
    vd_request request = {.model = model, .manner = vd_manner_of(model), .writer = vd_writer_start(line, size)};
    vd_writer_add(&request.writer, request.manner->head);
    vd_writer_add(&request.writer, model->lines.talker);
    return request;
}

static void begin_part(vd_request *request)
{
    vd_writer_add(&request->writer, request->parts > 0 || request->manner->sealed ? request->manner->between : "");
    request->parts++;
}

void vd_request_identity(vd_request *request, unsigned part)
{
    static const char *const singly[VD_IDENTITY_PARTS] = {"+GMI", "+GMM", "+GMR", "+GSN"};
    begin_part(request);
    bool one = request->manner->results && part < VD_IDENTITY_PARTS;
    vd_writer_add(&request->writer, one ? singly[part] : request->manner->identity);
}

/* The word, with the number of the item where it stands in the word. */
static void add_word(vd_request *request, const char *word, uint16_t item)
{
    vd_writer_add(&request->writer, word[0] != '*' ? request->manner->before : "");
    for (; *word != '\0'; word++) {
        if (*word == '#') {
            vd_writer_add_number(&request->writer, item);
        } else {
            vd_writer_add_bytes(&request->writer, word, 1);
        }
    }
}

void vd_request_read(vd_request *request, const vd_field *field)
{
    vd_writer_add(&request->writer, request->parts == 0 ? request->manner->asks : "");
    begin_part(request);
    add_word(request, field->word, field->item);
    vd_writer_add(&request->writer, request->manner->asked);
}

/* A part that makes the unit do something. In queries it says nothing to that, so it is asked for errors at the end. */
static void begin_write(vd_request *request, const char *word, uint16_t item)
{
    vd_writer_add(&request->writer, request->parts == 0 ? request->manner->writes : "");
    begin_part(request);
    add_word(request, word, item);
}

static uint16_t setting_of(const vd_model *model, const vd_field *record, uint8_t number)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_field *field = &model->settings[i].field;
        if (field->number == number && vd_field_same_record(field, record)) {
            return i;
        }
    }
    return VD_NONE;
}

vd_status vd_request_write(vd_request *request, const vd_field *field, const vd_set *values, const vd_set *held,
                           vd_fault *fault)
{
    const vd_model *model = request->model;
    begin_write(request, field->word, field->item);
    vd_writer_add(&request->writer, request->manner->joint);
    if (field->item > 0 && !request->manner->queue) {
        vd_writer_add_number(&request->writer, field->item);
        vd_writer_add(&request->writer, ",");
    }
    for (uint8_t number = 0;; number++) {
        uint16_t setting = setting_of(model, field, number);
        bool lacking = setting != VD_NONE && vd_set_lacks(values, setting);
        if (setting == VD_NONE || lacking) { /* what this firmware lacks stands at the end of its record */
            return VD_OK;
        }
        const vd_set *from = vd_set_knows(values, setting) || held == NULL ? values : held;
        vd_writer_add(&request->writer, number > 0 ? "," : "");
        vd_status status = vd_field_print(request->manner, from, setting, &request->writer, fault);
        if (status != VD_OK) {
            return status;
        }
    }
}

void vd_request_order(vd_request *request, const vd_order *order)
{
    begin_write(request, order->word, 0);
    if (order->argument != NULL && order->argument[0] != '\0') {
        vd_writer_add(&request->writer, request->manner->joint);
        vd_writer_add(&request->writer, order->argument);
    }
}

void vd_request_password(vd_request *request, const char *word, const char *password, size_t length)
{
    begin_write(request, word, 0);
    vd_writer_add(&request->writer, request->manner->joint);
    const vd_model *model = request->model;
    if (vd_setting_is(&model->settings[vd_index(model->login.setting)], VD_TYPE_TEXT)) {
        vd_lines_add(request->manner, password, length, &request->writer);
    } else { /* digits as they are */
        vd_writer_add_bytes(&request->writer, password, length);
    }
}

void vd_request_errors(vd_request *request)
{
    begin_part(request);
    vd_writer_add(&request->writer, ":SYST:ERR?");
}

uint8_t vd_lines_check(const char *text, size_t length)
{
    uint8_t check = 0;
    for (size_t i = 0; i < length; i++) {
        check ^= (uint8_t)text[i];
    }
    return check;
}

uint16_t vd_request_end(vd_request *request)
{
    vd_writer *writer = &request->writer;
    const vd_model *model = request->model;
    bool acts = request->manner->queue && writer->length >= 5 && memcmp(writer->text, "*CLS;", 5) == 0;
    vd_writer_add(writer, acts ? ";:SYST:ERR?" : "");
    if (request->manner->sealed) {
        uint8_t check = vd_lines_check(writer->text + 1, writer->length - 1);
        vd_writer_add(writer, "*");
        vd_writer_add_hex(writer, check, 2);
    }
    vd_writer_add(writer, request->manner->end);
    return writer->cut || writer->length > model->lines.longest ? 0 : (uint16_t)writer->length;
}
