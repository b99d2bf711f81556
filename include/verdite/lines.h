/* SPDX-License-Identifier: MIT
 *
 * Lines: the client for units that talk in lines of text; one exchange at a time.
 *
 * Standards: ITU-T V.250 (07/2003), 3GPP TS 27.007; SCPI-99 and IEEE 488.2-1992; NMEA 0183 (IEC 61162-1).
 */
#ifndef VERDITE_LINES_H
#define VERDITE_LINES_H

#include "verdite/language.h"

VD_C_BEGIN

/* A manner of talking in lines, as constant data. One of three traits makes most of it: `results`, `queue`, `sealed`.
 */
typedef struct vd_manner {
    const char *head, *between, *end; /* of a line to a unit: before its first part, between parts, behind the last */
    const char *before;               /* a word that does not begin with an asterisk */
    const char *joint;                /* between a word and what is said to it */
    const char *asks, *writes;        /* what reads, and what writes, begin with, behind the head */
    const char *asked;                /* stands behind a word that is asked for */
    const char *identity;             /* asks for the whole identity */
    const char *escape;               /* in texts: a character before two hexadecimal digits, or "" */
    const char *reserved;             /* in texts: what must be escaped */
    const char *record_name;          /* how people call what a word stands for, with what goes before the word */
    bool quoted;                      /* texts stand between quotation marks */
    bool results; /* ITU-T V.250: an answer ends in a result code; the identity is asked for in four parts */
    bool queue;   /* IEEE 488.2: only questions are answered, in one line; what was wrong stands in a queue of errors,
                     which is asked for; the number of an item stands in its word */
    bool sealed;  /* NMEA 0183: each line bears a talker and a check */
    uint8_t around_write; /* characters that a line which writes one record has besides word, talker and fields */
} vd_manner;

extern const vd_manner vd_commands_manner;  /* 3GPP TS 27.007: AT+WORD=... */
extern const vd_manner vd_queries_manner;   /* IEEE 488.2: :WORD ...;:WORD? */
extern const vd_manner vd_sentences_manner; /* NMEA 0183: $TTTT,W,WORD,...*hh */
extern const vd_language vd_commands;       /* the language of commands */
extern const vd_language vd_queries;        /* of queries */
extern const vd_language vd_sentences;      /* of sentences */
extern const vd_desk vd_commands_desk;      /* the desk of commands */
extern const vd_desk vd_queries_desk;       /* of queries */
extern const vd_desk vd_sentences_desk;     /* of sentences */

/* The manner of a model whose units talk in lines. */
const vd_manner *vd_manner_of(const vd_model *model);

/* How to talk with one unit that talks in lines. */
typedef struct vd_lines_manner {
    vd_serial line;          /* the line setting */
    const vd_manner *manner; /* which of the three it is */
    const char *talker;      /* what its sentences begin with */
    uint32_t limit;          /* microseconds from the last bit sent, or the last line heard, to the next line */
    uint32_t gap;            /* longest silence inside a line */
    uint32_t busy_wait;      /* pause before a busy unit is asked again */
    uint32_t busy_limit;     /* give up on a busy unit */
    const char *start;       /* the line by which it says that it has started, "" for none */
    uint8_t tries;           /* how often a repeatable request is sent at most */
} vd_lines_manner;

/* The manner of a model on a line; `latency` is what the port adds each way, microseconds. */
vd_lines_manner vd_lines_manner_of(const vd_model *model, const vd_serial *line, uint32_t latency);

/* What a line that was heard is to the one who asked. */
typedef enum vd_heed {
    VD_NOT_MINE, /* something else that the unit says in between */
    VD_GOES_ON,  /* part of the answer */
    VD_ENDS      /* the end of the answer; `*status` tells which, VD_OK when nothing is said */
} vd_heed;

/* Judges a line, without its end. It is not terminated and lives until the function returns. */
typedef vd_heed vd_lines_hearer(void *about, const char *line, size_t length, vd_status *status);

/* One exchange at a time: a request in a line, an answer in one or more. */
typedef struct vd_lines_client vd_lines_client;
VD_STORAGE(vd_lines_client, 320, 352)

/* Bytes that a talk in lines of at most so many characters keeps besides what every talk does. */
#define VD_LINES_TALK VD_ALIGNED(sizeof(vd_lines_client_storage) + 64u)
/* Bytes that a talk in one of the three manners keeps; `longest`: characters of a line to the unit. */
#define VD_LINES_STATE(longest) VD_ALIGNED(VD_LINES_TALK + (longest) + VD_LONGEST_LINE)
/* The same of commands. */
#define VD_COMMANDS_STATE(longest) VD_LINES_STATE(longest)
/* The same of queries. */
#define VD_QUERIES_STATE(longest) VD_LINES_STATE(longest)
/* The same of sentences. */
#define VD_SENTENCES_STATE(longest) VD_LINES_STATE(longest)

/* The engine of a vd_lines_client. */
extern const vd_engine vd_lines_client_engine;

/* `request` and `heard` have room for a line each, terminator included; the client keeps using them. */
void vd_lines_client_start(vd_lines_client *client, const vd_lines_manner *manner, char *request, uint16_t request_size,
                           char *heard, uint16_t heard_size);
/* Begins the exchange whose request stands in client->request. One that is not `repeatable` is sent once, whatever
 * happens. `judge` is shown every line but our own echo; lines that are damaged are left out. */
void vd_lines_client_begin(vd_lines_client *client, uint64_t now, bool repeatable, vd_lines_hearer *judge, void *about);
/* Whether the exchange has ended, and how. */
bool vd_lines_client_ended(const vd_lines_client *client, vd_status *status);
/* Records the fault of an exchange that ended with `status`; `about` says what it was about, in a few words; `advice`
 * what to do where nothing was heard at all. */
vd_status vd_lines_client_note(const vd_lines_client *client, vd_status status, const char *about, const char *advice,
                               vd_fault *fault);

/* The check of a sentence: exclusive or of what stands between $ and * (NMEA 0183 5.3.1.5). */
uint8_t vd_lines_check(const char *text, size_t length);
/* Adds in words what a line says, for a trace, where the line does not say it plainly itself. `from_unit` tells answers
 * from requests. */
void vd_lines_explain(const char *line, size_t length, bool from_unit, vd_writer *writer);

VD_C_END

#endif
