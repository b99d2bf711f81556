/* SPDX-License-Identifier: MIT
 * What the files about talk in lines share. */
#ifndef VD_WIRE_LINES_H
#define VD_WIRE_LINES_H

#include "verdite/fields.h"
#include "verdite/talk.h"

/* ---- values.c ---- */

/* The value of a hexadecimal digit, -1 when it is none. */
int vd_text_hex_digit(char c);
/* Adds a text as a unit of this manner takes it, with quotation marks or escapes. */
void vd_text_add(vd_speech speech, const char *text, size_t length, vd_writer *writer);

/* ---- requests.c: lines to a unit ---- */

/* A line to a unit, while it is being put together. */
typedef struct vd_request {
    const vd_model *model;
    vd_writer writer;
    uint16_t parts; /* reads or writes in it so far */
} vd_request;

/* Starts a line in `size` bytes. */
vd_request vd_request_start(const vd_model *model, char *line, size_t size);
/* Asks for the unit's identity; in commands for all four parts of it at once, or for one of them, from 0. */
#define VD_IDENTITY_PARTS 4u
void vd_request_identity(vd_request *request, unsigned part);
/* Asks for a record; in commands and sentences for all items that its word has. */
void vd_request_read(vd_request *request, const vd_field *field);
/* Writes a whole record with what `values` holds, or `held` where that holds nothing. */
vd_status vd_request_write(vd_request *request, const vd_field *field, const vd_set *values, const vd_set *held,
                           vd_fault *fault);
/* Says a word and what follows it. */
void vd_request_order(vd_request *request, const vd_order *order);
void vd_request_password(vd_request *request, const char *word, const char *password, size_t length);
/* Asks what was wrong: VD_QUERIES. */
void vd_request_errors(vd_request *request);
/* Ends the line; returns its length, 0 when it did not fit into `size` or is longer than the unit takes. */
uint16_t vd_request_end(vd_request *request);
/* Characters that the end of a line takes at most, with what asks whether it was obeyed. */
#define VD_REQUEST_END 16u

/* ---- plan.c: the order of records ---- */

/* Plans a job on settings: order, next and cost of `work->plan`. `held`: what the unit holds now, VD_JOB_WRITE only. */
/* See vd_talk_rescales_at_once(). */
bool vd_text_rescales_at_once(const vd_model *model, const uint8_t *which, uint16_t decides);
void vd_text_plan(vd_work *work, const vd_set *held);
/* Where the record ends that plan.order[at] stands in. */
unsigned vd_text_record_end(const vd_work *work, unsigned at);

/* ---- compose.c: which records go into a line ---- */

/* The setting at a place of the plan's order. */
const vd_setting *vd_text_setting_at(const vd_text_talk *talk, unsigned at);
/* Where the question that starts at order[at] ends; adds to `*room` what its answer may take. */
unsigned vd_text_question_end(const vd_text_talk *talk, unsigned at, size_t *room);
/* Puts as many questions as fit into the line; talk->end tells where they end. */
void vd_text_compose_read(vd_text_talk *talk, vd_request *request);
/* Likewise of the writes; `*repeatable` becomes false where one of them must not be sent twice. */
vd_status vd_text_compose_write(vd_text_talk *talk, vd_request *request, const vd_set *held, bool *repeatable);

/* Whether the write of the record that starts at order[start] makes the unit restart by itself. */
bool vd_text_restarts_it(const vd_text_talk *talk, uint32_t start);

/* Whether the unit takes one question in a line, so that its identity is asked for part by part; talk->end is the part.
 */
bool vd_text_asks_singly(const vd_text_talk *talk);

/* ---- answers.c: what a line means for the job ---- */

/* What became of the settings of the request at hand. */
void vd_text_mark(vd_text_talk *talk, vd_outcome outcome);
/* A vd_text_judge; `about` is the talk. */
vd_heed vd_text_judge_answer(void *about, const char *line, size_t length, vd_status *status);

/* ---- replies.c: lines from a unit ---- */

/* One line from a unit, taken apart. */
typedef struct vd_reply_line {
    enum { VD_REPLY_OTHER, VD_REPLY_DATA, VD_REPLY_FINE, VD_REPLY_NO, VD_REPLY_BROKEN } kind;
    const char *word; /* VD_REPLY_DATA, where the manner has it there */
    size_t word_length;
    const char *data; /* the fields, separated by commas; VD_QUERIES: answers, separated by semicolons */
    size_t data_length;
    unsigned number, of; /* VD_SENTENCES: this line and how many there are */
    vd_status refusal;   /* VD_REPLY_NO */
} vd_reply_line;

/* `talker`: VD_SENTENCES. Says VD_REPLY_BROKEN where the check does not fit. */
vd_reply_line vd_reply_parse(vd_speech speech, const char *talker, const char *line, size_t length);
/* The status of an answer to a question for errors (VD_QUERIES): VD_OK where there is none. */
vd_status vd_reply_error(const char *data, size_t length);

/* Takes what one line says of the identity; `*answers` counts its parts, of which there are to be `wanted` in the end.
 * VD_ENDS with VD_OK when these are complete. */
vd_heed vd_reply_identity(vd_speech speech, const char *talker, const char *request, size_t request_length,
                          const char *line, size_t length, uint16_t wanted, vd_identity *identity, uint16_t *answers,
                          vd_status *status);

#endif
