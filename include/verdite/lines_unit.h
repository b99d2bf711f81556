/* SPDX-License-Identifier: MIT
 *
 * Lines unit: the unit's end of a line on which units talk in text.
 */
#ifndef VERDITE_LINES_UNIT_H
#define VERDITE_LINES_UNIT_H

#include "verdite/lines.h"

VD_C_BEGIN

/* What a line can ask for. */
typedef enum vd_lines_call_kind {
    VD_CALL_READ,     /* the records of a word; in sentences of the words in `data`, with commas */
    VD_CALL_SET,      /* `data` is to be put into the records of a word, or done, where the word is an order */
    VD_CALL_DO,       /* a word by itself */
    VD_CALL_IDENTITY, /* a part of it, `part`, or all where the manner has it so */
} vd_lines_call_kind;

/* One thing that a line asks for. The texts are not terminated. */
typedef struct vd_lines_call {
    vd_lines_call_kind kind;         /* what it asks for */
    const char *word, *data;         /* the word, and what follows it */
    size_t word_length, data_length; /* of these */
    unsigned part;                   /* of the identity, from 0: maker, product, firmware, serial number */
} vd_lines_call;

/* Why a unit refuses. */
typedef enum vd_lines_refusal {
    VD_NO_SUCH_WORD,
    VD_NO_SUCH_VALUE,
    VD_NO_RIGHT,
    VD_NO_PASSWORD,
    VD_NOT_NOW
} vd_lines_refusal;

#define VD_LINES_REPLY 4096u /* characters of all that a unit answers to one line */
#define VD_LINES_ERRORS 8u   /* errors that a queue holds (SCPI-99 volume 2, 21.8.1: at least 2) */

/* The unit's end of the line. */
typedef struct vd_lines_responder vd_lines_responder;
VD_STORAGE(vd_lines_responder, 160, 224)

/* The engine of a vd_lines_responder. */
extern const vd_engine vd_lines_responder_engine;

/* Bytes of memory that a responder needs. */
#define VD_LINES_RESPONDER_MEMORY ((size_t)VD_LONGEST_LINE + VD_LINES_REPLY)
/* Begins to listen. `memory`: VD_LINES_RESPONDER_MEMORY bytes, which the responder keeps using. */
void vd_lines_responder_start(vd_lines_responder *responder, const vd_manner *manner, const vd_model *model,
                              const vd_serial *line, char *memory);
/* The call that waits, or NULL. Answer it with vd_lines_answer() and vd_lines_answer_end() for each record, or not at
 * all, and vd_lines_done(); or with vd_lines_refuse(). What is malformed or of the manner itself, such as ATE0 or *CLS,
 * never gets this far. */
const vd_lines_call *vd_lines_responder_call(vd_lines_responder *responder);
/* Begins a record of the answer: fields go into the writer, with commas. `word` and `item` are the record's, `of` how
 * many there are in all, for sentences. */
vd_writer *vd_lines_answer(vd_lines_responder *responder, const char *word, uint16_t item, unsigned of);
/* Ends the record. */
void vd_lines_answer_end(vd_lines_responder *responder);
/* The call is answered. `slower`: microseconds that the unit takes for it besides its usual time. */
void vd_lines_done(vd_lines_responder *responder, uint32_t slower);
/* Refuses the call. */
void vd_lines_refuse(vd_lines_responder *responder, vd_lines_refusal why);
/* Says nothing to the whole line. */
void vd_lines_ignore(vd_lines_responder *responder);
/* Has the unit say a line of itself; false: it hears or says something else just now. */
bool vd_lines_responder_say(vd_lines_responder *responder, const char *line, uint64_t now);

typedef struct vd_unit_language vd_unit_language; /* unit.h */
extern const vd_unit_language vd_commands_unit;   /* the unit's end of commands */
extern const vd_unit_language vd_queries_unit;    /* of queries */
extern const vd_unit_language vd_sentences_unit;  /* of sentences */

VD_C_END

#endif
