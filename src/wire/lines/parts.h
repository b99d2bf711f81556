/* SPDX-License-Identifier: MIT
 * What the files about talk in lines share. */
#ifndef VD_WIRE_LINES_PARTS_H
#define VD_WIRE_LINES_PARTS_H

#include "verdite/fields.h"
#include "verdite/lines.h"
#include "verdite/talk.h"
#include "../talk_parts.h"

struct vd_lines_client {
    vd_lines_manner manner;
    char *request, *heard; /* memory of the caller's */
    uint16_t request_size, heard_size, request_length, heard_length, lines;
    uint8_t state, tries_done;
    bool repeatable, overlong, bad, any_bytes, any_before; /* any_before: before the present line */
    bool started;                                          /* it said that it has started */
    vd_status status, seen;                                /* result; the best clue so far */
    uint64_t now, last_heard, listen_end, wake, busy_end, line_since, reply_from;
    uint32_t unexplained; /* lines that came while nothing was asked, since it was started */
    vd_lines_hearer *judge;
    void *about;
    char said[VD_SAID_SIZE]; /* the line by which the unit refused */
    vd_tally tally;
};
VD_FITS(vd_lines_client);

/* ---- talk.c ---- */

/* The talk in lines. */
typedef struct vd_lines_talk {
    vd_job *job;
    vd_lines_client client;
    uint32_t limit;   /* until an ordinary answer comes */
    uint16_t answers; /* so far to this try of the request */
    uint16_t end;     /* reads: where the present request ends; writes: the number of the first one not in it */
    uint16_t singly;  /* reads: up to there each record is asked for by itself */
    uint16_t parts, last_parts; /* in queries answers that the present request brings, and the one before */
    uint8_t tries;              /* which try that is */
    bool padded; /* in queries: it asks for one answer more, so that the one before cannot be taken for it */
    bool hidden, asking_why;
    vd_status why; /* what a unit that only falls silent is asked about */
} vd_lines_talk;

extern const vd_speech vd_lines_speech;

/* ---- values.c ---- */

/* Adds a text as a unit of this manner takes it, with quotation marks or escapes. */
void vd_lines_add(const vd_manner *manner, const char *text, size_t length, vd_writer *writer);

/* ---- requests.c: lines to a unit ---- */

/* A line to a unit, while it is being put together. */
typedef struct vd_request {
    const vd_model *model;
    const vd_manner *manner;
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
/* Asks what was wrong, where there is a queue of errors. */
void vd_request_errors(vd_request *request);
/* Ends the line; returns its length, 0 when it did not fit into `size` or is longer than the unit takes. */
uint16_t vd_request_end(vd_request *request);
/* Characters that the end of a line takes at most, with what asks whether it was obeyed. */
#define VD_REQUEST_END 16u

/* ---- plan.c: the order of records ---- */

/* Plans a job on settings: order, next and cost of `job->plan`. `held`: what the unit holds now, VD_JOB_WRITE only. */
/* See vd_talk_rescales_at_once(). */
bool vd_lines_rescales_at_once(const vd_model *model, const uint8_t *which, uint16_t decides);
void vd_lines_plan(vd_job *job, const vd_set *held);
/* Where the record ends that plan.order[at] stands in. */
unsigned vd_lines_record_end(const vd_job *job, unsigned at);

/* ---- compose.c: which records go into a line ---- */

/* The setting at a place of the plan's order. */
const vd_setting *vd_lines_setting_at(const vd_lines_talk *talk, unsigned at);
/* Where the question that starts at order[at] ends; adds to `*room` what its answer may take. */
unsigned vd_lines_question_end(const vd_lines_talk *talk, unsigned at, size_t *room);
/* Puts as many questions as fit into the line; talk->end tells where they end. */
void vd_lines_compose_read(vd_lines_talk *talk, vd_request *request);
/* Likewise of the writes; `*repeatable` becomes false where one of them must not be sent twice. */
vd_status vd_lines_compose_write(vd_lines_talk *talk, vd_request *request, const vd_set *held, bool *repeatable);

/* Whether the write of the record that starts at order[start] makes the unit restart by itself. */
bool vd_lines_restarts_it(const vd_lines_talk *talk, uint32_t start);

/* Whether the unit takes one question in a line, so that its identity is asked for part by part; talk->end is the part.
 */
bool vd_lines_asks_singly(const vd_lines_talk *talk);

/* ---- answers.c: what a line means for the job ---- */

/* What became of the settings of the request at hand. */
void vd_lines_mark(vd_lines_talk *talk, vd_outcome outcome);
/* A vd_lines_hearer; `about` is the talk. */
vd_heed vd_lines_judge_answer(void *about, const char *line, size_t length, vd_status *status);

/* ---- replies.c: lines from a unit ---- */

bool vd_lines_starts(const char *line, size_t length, const char *head);

/* One line from a unit, taken apart. */
typedef struct vd_reply_line {
    enum { VD_REPLY_OTHER, VD_REPLY_DATA, VD_REPLY_FINE, VD_REPLY_NO, VD_REPLY_BROKEN } kind;
    const char *word; /* VD_REPLY_DATA, where the manner has it there */
    size_t word_length;
    const char *data; /* the fields, separated by commas; in queries answers, separated by semicolons */
    size_t data_length;
    unsigned number, of; /* in sentences: this line and how many there are */
    vd_status refusal;   /* VD_REPLY_NO */
} vd_reply_line;

/* `talker`: of sentences. Says VD_REPLY_BROKEN where the check does not fit. */
vd_reply_line vd_reply_parse(const vd_manner *manner, const char *talker, const char *line, size_t length);
/* The status of an answer to a question for errors: VD_OK where there is none. */
vd_status vd_reply_error(const char *data, size_t length);

/* Takes what one line says of the identity; `*answers` counts its parts, of which there are to be `wanted` in the end.
 * VD_ENDS with VD_OK when these are complete. */
vd_heed vd_reply_identity(const vd_manner *manner, const char *talker, const char *request, size_t request_length,
                          const char *line, size_t length, uint16_t wanted, vd_identity *identity, uint16_t *answers,
                          vd_status *status);

/* ---- At a desk: judge.c, explain.c, probe.c, raw.c ---- */

bool vd_lines_write_together(const vd_model *model, uint16_t a, uint16_t b);
const char *vd_lines_judge_setting(const vd_model *model, const vd_setting *setting, vd_where *where);
void vd_lines_judge(const vd_model *model, uint16_t *order, vd_judge *judge);
void vd_lines_tell_place(const vd_model *model, const vd_setting *setting, vd_writer *writer);
void vd_lines_probe_begin(struct vd_probe *probe, uint64_t now, const vd_serial *line, uint8_t address, uint32_t limit,
                          uint32_t gap);
void vd_lines_probe_listen_on(struct vd_probe *probe, uint32_t longer);
void vd_lines_probe_feed(struct vd_probe *probe, const vd_event *event);
void vd_lines_probe_wants(const struct vd_probe *probe, vd_wants *wants);
bool vd_lines_probe_ended(const struct vd_probe *probe);
vd_status vd_lines_raw_begin(struct vd_raw *raw, uint64_t now, const vd_serial *line, uint8_t address, uint32_t latency,
                             const char *typed, vd_fault *fault);
void vd_lines_raw_feed(struct vd_raw *raw, const vd_event *event);
void vd_lines_raw_wants(const struct vd_raw *raw, vd_wants *wants);
const uint8_t *vd_lines_raw_sent(const struct vd_raw *raw, size_t *length);
vd_status vd_lines_raw_note(const struct vd_raw *raw, vd_status status, vd_fault *fault);
/* What to do where nothing at all was heard. */
const char *vd_lines_advice(const vd_model *model);

#endif
