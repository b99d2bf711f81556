/* SPDX-License-Identifier: MIT
 *
 * Wire: how bytes look. What every engine wants and is fed; Modbus RTU as client and as responder; and the talk,
 * which does a job on a model's settings in as few exchanges as the protocol allows.
 *
 * An engine is a state machine that touches no port. Ask it at any time what it wants; feed it whatever happened.
 * It never blocks, never reads a clock, and may be dropped at any moment. All times are microseconds of one clock
 * that never runs backwards.
 *
 * Standards: MODBUS Application Protocol V1.1b3 ("AP"), MODBUS over Serial Line V1.02 ("SL"); ITU-T V.250 (07/2003),
 * 3GPP TS 27.007; SCPI-99 and IEEE 488.2-1992; NMEA 0183 (IEC 61162-1).
 */
#ifndef VERDITE_WIRE_H
#define VERDITE_WIRE_H

#include "verdite/core.h"

/* ---- Engines ----------------------------------------------------------------------------------------------- */

#define VD_NEVER UINT64_MAX

/* Line errors of one heard byte, as bits. */
#define VD_ERROR_PARITY 1u
#define VD_ERROR_FRAMING 2u /* stop bit missing */
#define VD_ERROR_BREAK 4u
#define VD_ERROR_OVERRUN 8u /* bytes before this one were lost */

/* Questions for the person. What it is about is asked of the engine itself. */
typedef enum vd_question {
    VD_ASK_NOTHING,
    VD_ASK_WRITE,   /* the changes stand; shall they be written? */
    VD_ASK_PASSWORD /* the unit wants a login: the password, or no */
} vd_question;

/* Everything an engine wants at one moment. */
typedef struct vd_wants {
    const uint8_t *send; /* bytes to send; valid until the engine is fed next */
    size_t count;        /* 0: nothing to send */
    uint32_t quiet;      /* silence the line must have had before the first of them, microseconds */
    vd_line line;        /* line setting for this exchange */
    bool holds_line;     /* an exchange is under way: nobody else may send on this line */
    bool hidden;         /* this exchange carries a secret: neither what is sent nor what is heard goes into a trace */
    uint64_t wake;       /* feed VD_TIME at this time, or VD_NEVER */
    vd_question question;
    bool keep;     /* a record must be kept durably before it goes on; feed VD_KEPT */
    uint32_t news; /* changes whenever there is something new to tell */
    bool done;     /* nothing more will be wanted */
} vd_wants;

typedef enum vd_event_kind {
    VD_TIME,     /* it is now `now` */
    VD_HEARD,    /* `count` bytes at `bytes`, line errors of each at `errors` (NULL: none) */
    VD_SENT,     /* all bytes were handed over; the last bit leaves at `until` */
    VD_ANSWERED, /* the person's answer to the question: `yes`; a password stands in `bytes`, which are not kept */
    VD_KEPT,     /* the record is kept, or with `status` other than VD_OK it could not be; `said` tells why */
    VD_LOST, /* the port is gone, for the reason `status`; VD_LINE_NOT_TAKEN: it is there, but cannot do this line */
    VD_STOP  /* stop as soon as what was begun can be left in order; fed twice: at once */
} vd_event_kind;

typedef struct vd_event {
    vd_event_kind kind;
    uint64_t now; /* always set */
    const uint8_t *bytes, *errors;
    size_t count;
    uint64_t until;
    vd_status status;
    const char *said;
    bool yes;
} vd_event;

/* How the loop reaches any engine. */
typedef struct vd_engine {
    void (*wants)(const void *engine, vd_wants *wants);
    void (*feed)(void *engine, const vd_event *event);
} vd_engine;

/* ---- Modbus RTU frames ------------------------------------------------------------------------------------- */

#define VD_MODBUS_FRAME 256u            /* largest frame: address, PDU of 253, check (SL 2.3) */
#define VD_MODBUS_MOST_READ 125u        /* registers in one read (AP 6.3) */
#define VD_MODBUS_MOST_WRITE 123u       /* registers in one write (AP 6.12) */
#define VD_MODBUS_MOST_READ_BITS 2000u  /* coils or discrete inputs in one read (AP 6.1) */
#define VD_MODBUS_MOST_WRITE_BITS 1968u /* coils in one write (AP 6.11) */
#define VD_MODBUS_MOST_BOTH 121u        /* registers written by 23 (AP 6.17) */

enum {
    VD_MODBUS_READ_COILS = 1,
    VD_MODBUS_READ_DISCRETE = 2,
    VD_MODBUS_READ_HOLDING = 3,
    VD_MODBUS_READ_INPUT = 4,
    VD_MODBUS_WRITE_COIL = 5,
    VD_MODBUS_WRITE_ONE = 6,
    VD_MODBUS_WRITE_COILS = 15,
    VD_MODBUS_WRITE_MANY = 16,
    VD_MODBUS_MASK_WRITE = 22,
    VD_MODBUS_READ_WRITE = 23,
    VD_MODBUS_IDENTIFY = 43,
    VD_MODBUS_IDENTIFY_TYPE = 14
};

typedef struct vd_modbus_frame {
    uint8_t bytes[VD_MODBUS_FRAME];
    uint16_t length;
} vd_modbus_frame;

/* The check over `count` bytes (SL 6.2.2); its low byte is sent first. */
uint16_t vd_modbus_crc(const uint8_t *bytes, size_t count);
/* The silence between frames, microseconds: 3.5 characters, 1750 above 19200 bit/s (SL 2.5.1.1). */
uint32_t vd_modbus_silence(const vd_line *line);

/* Requests, complete with check. `address` 0 is broadcast. Counts beyond the standard's limits are not judged. */
void vd_modbus_ask_read(vd_modbus_frame *frame, uint8_t address, uint8_t function, uint16_t first, uint16_t count);
void vd_modbus_ask_write_one(vd_modbus_frame *frame, uint8_t address, uint16_t where, uint16_t value);
void vd_modbus_ask_write_many(vd_modbus_frame *frame, uint8_t address, uint16_t first, const uint16_t *values,
                              uint16_t count);
/* `on` is a whole 1 or 0 here, 0xFF00 or 0 on the wire (AP 6.5). */
void vd_modbus_ask_write_coil(vd_modbus_frame *frame, uint8_t address, uint16_t where, bool on);
/* `bits` has a bit for each coil, lowest first. */
void vd_modbus_ask_write_coils(vd_modbus_frame *frame, uint8_t address, uint16_t first, const uint8_t *bits,
                               uint16_t count);
/* The register becomes (itself and `keep`) or (`set` and not `keep`) (AP 6.16). */
void vd_modbus_ask_mask_write(vd_modbus_frame *frame, uint8_t address, uint16_t where, uint16_t keep, uint16_t set);
/* Writes registers, then reads others or the same, in one exchange (AP 6.17). */
void vd_modbus_ask_read_write(vd_modbus_frame *frame, uint8_t address, uint16_t read_first, uint16_t read_count,
                              uint16_t first, const uint16_t *values, uint16_t count);
/* `code`: 1 basic, 2 regular, 3 extended, 4 one object (AP 6.21). */
void vd_modbus_ask_identity(vd_modbus_frame *frame, uint8_t address, uint8_t code, uint8_t object);

/* Length of the whole reply frame as far as its first `count` bytes tell: 0 when more are needed to know, -1 when
 * these bytes begin no reply that this library knows. */
int vd_modbus_reply_length(const uint8_t *bytes, size_t count);
/* Whether a whole reply, check and all, answers a request: VD_OK, one of the exceptions, VD_CHECK_FAILED, or
 * VD_WRONG_ADDRESS, VD_WRONG_FUNCTION, VD_WRONG_LENGTH for a sound reply to something else. */
vd_status vd_modbus_judge(const vd_modbus_frame *request, const uint8_t *reply, size_t length);
/* Adds in words what a frame says, for a trace. `from_unit` tells replies from requests. */
void vd_modbus_explain(const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer);

/* ---- Modbus RTU client ------------------------------------------------------------------------------------- */

/* How to talk with one unit. */
typedef struct vd_modbus_manner {
    vd_line line;
    uint32_t limit;      /* microseconds from the last bit sent to the first byte heard */
    uint32_t longest;    /* no reply comes later than this */
    uint32_t gap;        /* longest silence inside a reply */
    uint32_t busy_wait;  /* pause before asking a busy unit again */
    uint32_t busy_limit; /* give up on a busy unit */
    uint32_t broadcast;  /* pause after a broadcast (turnaround delay, SL 2.4.1) */
    uint8_t tries;       /* how often a repeatable request is sent at most */
} vd_modbus_manner;

/* The manner of a model on a line; `latency` is what the port adds each way, microseconds. */
vd_modbus_manner vd_modbus_manner_of(const vd_model *model, const vd_line *line, uint32_t latency);

/* What was met on the line since the client was started. */
typedef struct vd_modbus_tally {
    uint32_t sent, answered, timed_out, damaged, cut_short, line_errors, strays, surplus_bytes;
} vd_modbus_tally;

/* Whether our own bytes come back on a line: adapters and joined wires do that. It is learned from the first exchange
 * whose reply cannot be the same as the request, and holds from then on. */
typedef enum vd_echo { VD_ECHO_NOT_KNOWN, VD_ECHO_ABSENT, VD_ECHO_PRESENT } vd_echo;

/* One exchange at a time: request, reply, and what to do when it does not come. The fields are private. */
typedef struct vd_modbus_client {
    vd_modbus_manner manner;
    vd_modbus_frame request, poll;
    uint8_t reply[VD_MODBUS_FRAME];
    uint16_t reply_length;
    uint8_t state, tries_done, owed, reply_errors;
    bool repeatable, polling, overlong, poll_for_busy;
    vd_status status, seen, settled; /* result; the best clue so far; result held back while the line drains */
    uint64_t wake, now, first_sent, last_sent, last_heard, listen_end, busy_end;
    uint32_t first_wait;
    uint8_t stray_address, stray_bytes;
    uint8_t echo;          /* vd_echo */
    bool echo_over;        /* of this try: what came back of our own bytes is behind us */
    uint16_t echoed;       /* bytes of this try that came back so far */
    bool patient;          /* listens on behind the reply, for somebody else */
    uint8_t last_lingered; /* the byte heard last while it does */
    bool others;           /* somebody else did reply */
    uint32_t unexplained;  /* bytes and whole replies that belong to no request, since it was started */
    vd_modbus_tally tally;
} vd_modbus_client;

extern const vd_engine vd_modbus_client_engine;

void vd_modbus_client_start(vd_modbus_client *client, const vd_modbus_manner *manner);
/* Begins the exchange whose request stands in client->request. A request that is not `repeatable` is sent once,
 * whatever happens. When the unit answers "acknowledge" (5) or "busy" (6), it is left alone for `first_wait`
 * microseconds (0: the manner's busy_wait) and then polled with a read, never re-sent while it is busy; only a
 * repeatable request that was turned away with 6 is sent again, once the unit answers normally. */
void vd_modbus_client_begin(vd_modbus_client *client, uint64_t now, bool repeatable, uint32_t first_wait);
/* Makes the exchange that was just begun go on listening behind its reply for as long as any unit may take, so that a
 * second one with the same address is heard: see `others`. */
void vd_modbus_client_be_patient(vd_modbus_client *client);
/* Whether the exchange has ended, and how. */
bool vd_modbus_client_ended(const vd_modbus_client *client, vd_status *status);
/* The reply after its address byte, without check: function code first. Valid until the next exchange begins. */
const uint8_t *vd_modbus_client_reply(const vd_modbus_client *client, size_t *length);
/* Records the fault of an exchange that ended with `status`; `about` says what it was about, in a few words. */
vd_status vd_modbus_client_note(const vd_modbus_client *client, vd_status status, const char *about, vd_fault *fault);

/* Takes the objects of an identification reply (its function code first, without check) into an identity; the serial
 * number is object `serial_object`, 0 for the first private one (0x80 and up). Returns the object to go on with, 0 when
 * the reply is complete. */
uint8_t vd_modbus_take_identity(const uint8_t *reply, size_t length, uint8_t serial_object, vd_identity *identity);
/* Asks for the identity of a unit: objects, or for a model that identifies by registers, those. Returns how a reply is
 * to be read: the first register. */
uint16_t vd_modbus_ask_for_identity(vd_modbus_frame *frame, uint8_t address, const vd_model *model, uint8_t object);
/* Takes an identity out of the registers of a reply to that. */
void vd_modbus_take_identity_registers(const uint8_t *data, uint16_t first, const vd_identify *identify,
                                       vd_identity *identity);

/* ---- Modbus RTU responder ---------------------------------------------------------------------------------- */

/* A request that waits for an answer. */
typedef struct vd_modbus_call {
    uint8_t function;
    bool broadcast; /* do it, but no answer is sent */
    uint16_t first,
        count; /* registers or coils written, or read where nothing is written; a single write has count 1 */
    uint16_t read_first, read_count; /* 23: what is read afterwards */
    uint16_t keep, set;              /* 22: the two masks */
    const uint8_t *data;  /* writes: two bytes a register, high byte first; coils: a bit each, lowest first */
    uint8_t code, object; /* identification */
} vd_modbus_call;

/* The unit's end of the line. The fields are private. */
typedef struct vd_modbus_responder {
    vd_line line;
    uint8_t address;
    uint32_t turnaround; /* microseconds from the last bit heard to the first sent; at least the frame silence */
    uint8_t frame[VD_MODBUS_FRAME];
    uint16_t length;
    uint8_t state;
    bool damaged;
    vd_modbus_frame reply;
    vd_modbus_call call;
    uint64_t wake, last_heard;
} vd_modbus_responder;

extern const vd_engine vd_modbus_responder_engine;

void vd_modbus_responder_start(vd_modbus_responder *responder, const vd_line *line, uint8_t address,
                               uint32_t turnaround);
/* The request that waits, or NULL. Answer with exactly one of the next five. Requests that are malformed, for
 * others, or of a function not listed above never get this far: the responder deals with them. */
const vd_modbus_call *vd_modbus_responder_call(const vd_modbus_responder *responder);
void vd_modbus_answer_registers(vd_modbus_responder *responder, const uint16_t *values);
/* `bits`: a bit for each coil or discrete input, lowest first. */
void vd_modbus_answer_bits(vd_modbus_responder *responder, const uint8_t *bits);
void vd_modbus_answer_done(vd_modbus_responder *responder);
/* `objects`: the texts in ascending order of their `ids`; as many as fit are sent, the client asks for the rest. */
void vd_modbus_answer_identity(vd_modbus_responder *responder, const uint8_t *ids, const char *const *objects,
                               uint8_t count);
void vd_modbus_refuse(vd_modbus_responder *responder, uint8_t exception);

/* ---- Values in registers ----------------------------------------------------------------------------------- */

/* Puts a count into its registers; of a field of bits, the other bits of its register stay. A coil counts as a register
 * of 0 or 1. */
void vd_registers_put_count(const vd_place *place, int64_t count, uint16_t *registers);
/* Takes a count out of its registers. */
int64_t vd_registers_take_count(const vd_place *place, const uint16_t *registers);
/* Puts what a set knows of one setting into its registers, likewise: VD_OK, or a value fault when it does not fit. */
vd_status vd_registers_put(const vd_set *set, uint16_t setting, uint16_t *registers, vd_fault *fault);
/* Takes one setting out of its registers into a set. Dependent decimals get the number of decimals that the set
 * holds at this moment; vd_set_reinterpret() puts them right once all is read. */
void vd_registers_take(vd_set *set, uint16_t setting, const uint16_t *registers);

/* ---- Talk in lines ------------------------------------------------------------------------------------------- */

/* How to talk with one unit that talks in lines. */
typedef struct vd_text_manner {
    vd_line line;
    const char *talker;  /* VD_SENTENCES: what its sentences begin with */
    uint32_t limit;      /* microseconds from the last bit sent, or the last line heard, to the next line */
    uint32_t gap;        /* longest silence inside a line */
    uint32_t busy_wait;  /* pause before a busy unit is asked again */
    uint32_t busy_limit; /* give up on a busy unit */
    const char *start;   /* the line by which it says that it has started, "" for none */
    uint8_t speech;      /* vd_speech, not VD_MODBUS_RTU */
    uint8_t tries;       /* how often a repeatable request is sent at most */
} vd_text_manner;

/* The manner of a model on a line; `latency` is what the port adds each way, microseconds. */
vd_text_manner vd_text_manner_of(const vd_model *model, const vd_line *line, uint32_t latency);

/* What a line that was heard is to the one who asked. */
typedef enum vd_heed {
    VD_NOT_MINE, /* something else that the unit says in between */
    VD_GOES_ON,  /* part of the answer */
    VD_ENDS      /* the end of the answer; `*status` tells which, VD_OK when nothing is said */
} vd_heed;

/* Judges a line, without its end. It is not terminated and lives until the function returns. */
typedef vd_heed vd_text_judge(void *about, const char *line, size_t length, vd_status *status);

/* What was met on the line since the client was started. */
typedef struct vd_text_tally {
    uint32_t sent, answered, timed_out, damaged, strays, overlong;
} vd_text_tally;

/* One exchange at a time: a request in a line, an answer in one or more. The fields are private. */
typedef struct vd_text_client {
    vd_text_manner manner;
    char *request, *heard; /* memory of the caller's */
    uint16_t request_size, heard_size, request_length, heard_length, lines;
    uint8_t state, tries_done;
    bool repeatable, overlong, bad, any_bytes;
    bool started;           /* it said that it has started */
    vd_status status, seen; /* result; the best clue so far */
    uint64_t now, last_heard, listen_end, wake, busy_end, line_since, sent_until;
    uint32_t unexplained; /* lines that came while nothing was asked, since it was started */
    vd_text_judge *judge;
    void *about;
    char said[VD_SAID_SIZE]; /* the line by which the unit refused */
    vd_text_tally tally;
} vd_text_client;

extern const vd_engine vd_text_client_engine;

/* `request` and `heard` have room for a line each, terminator included; the client keeps using them. */
void vd_text_client_start(vd_text_client *client, const vd_text_manner *manner, char *request, uint16_t request_size,
                          char *heard, uint16_t heard_size);
/* Begins the exchange whose request stands in client->request. One that is not `repeatable` is sent once, whatever
 * happens. `judge` is shown every line but our own echo; lines that are damaged are left out. */
void vd_text_client_begin(vd_text_client *client, uint64_t now, bool repeatable, vd_text_judge *judge, void *about);
bool vd_text_client_ended(const vd_text_client *client, vd_status *status);
/* Records the fault of an exchange that ended with `status`; `about` says what it was about, in a few words; `advice`
 * what to do where nothing was heard at all. */
vd_status vd_text_client_note(const vd_text_client *client, vd_status status, const char *about, const char *advice,
                              vd_fault *fault);

/* The check of a sentence: exclusive or of what stands between $ and * (NMEA 0183 5.3.1.5). */
uint8_t vd_text_check(const char *text, size_t length);
/* Adds in words what a line says, for a trace, where the line does not say it plainly itself. `from_unit` tells answers
 * from requests. */
void vd_text_explain(const char *line, size_t length, bool from_unit, vd_writer *writer);

/* ---- The probe: one gentle question, and everything that was heard ------------------------------------------- */

/* What one question brought. */
typedef struct vd_evidence {
    vd_status status; /* VD_OK: identified; an exception: somebody is there; else what went wrong */
    vd_identity identity;
    uint8_t stray_address; /* VD_WRONG_ADDRESS: who replied */
    bool echo;             /* our own bytes came back */
    bool clash;            /* what came back looks like two that talk at once */
    bool headed;           /* what came back began as a reply from the unit that was asked */
    uint16_t bytes;        /* heard, without the echo; counting stops at 65535 */
    uint16_t error_bytes;  /* of those with line errors */
    uint16_t surplus;      /* heard behind a sound reply or before the question */
    uint64_t reply_time;   /* microseconds from the last bit sent to the first byte heard */
    uint8_t shortest_run;  /* shortest run of equal bits heard inside characters, 0: nothing heard */
} vd_evidence;

/* Asks one unit for its identity, once, and never anything else. The fields are private but for `evidence`, which
 * stands when the probe is done. */
typedef struct vd_probe {
    vd_modbus_client client;
    vd_text_client lines; /* in place of the former, for units that talk in lines */
    char request[48], heard[160];
    uint16_t answers;
    vd_evidence evidence;
    const vd_model *model;
    uint64_t sent, first, held_since, held_until;
    uint16_t first_register, announced;
    uint8_t echoed;
    bool echoing;
} vd_probe;

extern const vd_engine vd_probe_engine;

/* Begins a question to `address` on a line. `limit`: how long to wait for the first byte, `gap`: for the next, both
 * microseconds. `model` NULL: ask for Modbus objects; else as this model identifies, in its language. */
void vd_probe_begin(vd_probe *probe, uint64_t now, const vd_line *line, uint8_t address, uint32_t limit, uint32_t gap,
                    const vd_model *model);
bool vd_probe_ended(const vd_probe *probe);

/* ---- The unit's end of talk in lines ---------------------------------------------------------------------------- */

typedef enum vd_text_call_kind {
    VD_CALL_READ,     /* the records of a word; VD_SENTENCES: of the words in `data`, with commas */
    VD_CALL_SET,      /* `data` is to be put into the records of a word, or done, where the word is an order */
    VD_CALL_DO,       /* a word by itself */
    VD_CALL_IDENTITY, /* a part of it, `part`, or all where the manner has it so */
} vd_text_call_kind;

/* One thing that a line asks for. The texts are not terminated. */
typedef struct vd_text_call {
    vd_text_call_kind kind;
    const char *word, *data;
    size_t word_length, data_length;
    unsigned part; /* of the identity, from 0: maker, product, firmware, serial number */
} vd_text_call;

/* Why a unit refuses. */
typedef enum vd_text_refusal {
    VD_NO_SUCH_WORD,
    VD_NO_SUCH_VALUE,
    VD_NO_RIGHT,
    VD_NO_PASSWORD,
    VD_NO_TIME
} vd_text_refusal;

#define VD_TEXT_REPLY 4096u /* characters of all that a unit answers to one line */
#define VD_TEXT_ERRORS 8u   /* errors that a queue holds (SCPI-99 volume 2, 21.8.1: at least 2) */

/* The unit's end of the line. The fields are private. */
typedef struct vd_text_responder {
    vd_line line;
    const char *talker;
    char *heard, *reply; /* memory of the caller's: VD_LONGEST_LINE and VD_TEXT_REPLY */
    vd_writer writer;
    uint32_t turnaround;
    uint16_t length, at, longest; /* of the line; how far it is answered; most that is taken */
    uint16_t sentence;
    uint8_t speech, state, error_count;
    int16_t errors[VD_TEXT_ERRORS];
    bool echoes, overlong, damaged, refused, answered, calling;
    vd_text_call call;
    uint64_t wake, last_heard;
} vd_text_responder;

extern const vd_engine vd_text_responder_engine;

/* Bytes of memory that a responder needs. */
#define VD_TEXT_RESPONDER_MEMORY ((size_t)VD_LONGEST_LINE + VD_TEXT_REPLY)
void vd_text_responder_start(vd_text_responder *responder, const vd_model *model, const vd_line *line, char *memory);
/* The call that waits, or NULL. Answer it with vd_text_answer() and vd_text_answer_end() for each record, or not at
 * all, and vd_text_done(); or with vd_text_refuse(). What is malformed or of the manner itself, such as ATE0 or *CLS,
 * never gets this far. */
const vd_text_call *vd_text_responder_call(vd_text_responder *responder);
/* Begins a record of the answer: fields go into the writer, with commas. `word` and `item` are the record's, `of` how
 * many there are in all (VD_SENTENCES). */
vd_writer *vd_text_answer(vd_text_responder *responder, const char *word, uint16_t item, unsigned of);
void vd_text_answer_end(vd_text_responder *responder);
/* The call is answered. `slower`: microseconds that the unit takes for it besides its usual time. */
void vd_text_done(vd_text_responder *responder, uint32_t slower);
void vd_text_refuse(vd_text_responder *responder, vd_text_refusal why);
/* Has the unit say a line of itself, unless it is about to say something else. */
void vd_text_responder_say(vd_text_responder *responder, const char *line, uint64_t now);
/* Whether a word that was heard is this one, with `item` in place of #; case does not matter. */
bool vd_text_is_word(const char *word, uint16_t item, const char *heard, size_t length);

/* Adds the value of a setting as a unit of this model says and takes it. VD_OK, or a value fault when there is none. */
vd_status vd_field_print(const vd_set *set, uint16_t setting, vd_writer *writer, vd_fault *fault);
/* Takes such a value into a set; false, with the set as it was, when the text is none. */
bool vd_field_take(vd_set *set, uint16_t setting, const char *text, size_t length);
/* Cuts the piece in front of `separator` off, one inside quotation marks apart where the manner has such marks. False
 * when nothing is left; a text that ends with the separator has an empty last piece. `*rest` NULL: nothing is left. */
bool vd_text_cut(vd_speech speech, const char **rest, size_t *left, char separator, const char **piece, size_t *length);
/* Puts the text that a field says, without quotation marks and escapes, into `to`; returns its length, or -1 when it
 * is longer than `size` or broken. */
int vd_text_plain(vd_speech speech, const char *text, size_t length, char *to, size_t size);

/* ---- A raw request -------------------------------------------------------------------------------------------- */

#define VD_RAW_REPLY 4096u /* bytes of a reply that are kept */

/* One request as a person types it, for what a model does not know yet, sent once; everything that comes back. */
typedef struct vd_raw {
    const vd_model *model;
    vd_modbus_client modbus;
    vd_text_client text;
    char request[VD_LONGEST_LINE], heard[VD_LONGEST_LINE];
    uint8_t reply[VD_RAW_REPLY]; /* units that talk in lines: the lines, each with '\n' behind it */
    size_t reply_length;
    vd_status status;
    bool cut, ended, asks;
} vd_raw;

extern const vd_engine vd_raw_engine;

/* Begins a request to a unit of this model. `typed`: for Modbus RTU the function and its data in hexadecimal, address
 * and check are added; else a line in the unit's manner, whose end (and of sentences the talker and the check) is
 * added. VD_WRONG_WORDS where it cannot be sent, with what is allowed. */
vd_status vd_raw_begin(vd_raw *raw, uint64_t now, const vd_model *model, const vd_line *line, uint8_t address,
                       uint32_t latency, const char *typed, vd_fault *fault);
/* Whether it has ended, and how: VD_OK when an answer came that says nothing else. A refusal is an answer too. */
bool vd_raw_ended(const vd_raw *raw, vd_status *status);
/* What was sent, as it was sent. */
const uint8_t *vd_raw_sent(const vd_raw *raw, size_t *length);

/* ---- The talk: a job on many settings ---------------------------------------------------------------------- */

typedef enum vd_job {
    VD_JOB_IDENTIFY,
    VD_JOB_READ_LIVE,
    VD_JOB_READ_STORED, /* models with VD_PROOF_BANK only */
    VD_JOB_WRITE,       /* live values */
    VD_JOB_STORE,       /* make the live values last */
    VD_JOB_RESTART,     /* the model's action that restarts */
    VD_JOB_LOGIN        /* units that talk in lines: says the password */
} vd_job;

/* In a list of settings for a job: this one does not exist in this unit, so no request may touch its registers. */
#define VD_ABSENT 2u

/* What became of a setting in a job. */
typedef enum vd_outcome {
    VD_NOT_TRIED,
    VD_DONE,    /* the unit answered, and said yes */
    VD_REFUSED, /* the unit answered, and said no */
    VD_UNCLEAR  /* sent, but no answer: it may or may not have been done */
} vd_outcome;

/* One stretch of requests on the same settings; the fields are private. */
typedef struct vd_plan {
    uint16_t *order; /* settings in the order of the job */
    uint16_t *next;  /* next[i]: the request that starts with order[i] ends before order[next[i]] */
    uint32_t *cost;  /* reads: scratch; writes: where each request starts, in the order in which they are sent */
    uint16_t count;
    uint16_t requests; /* writes */
} vd_plan;

/* One job under way, whatever the language. The fields are private. */
typedef struct vd_work {
    const vd_model *model;
    vd_plan plan;
    uint8_t *outcome;     /* vd_outcome of each setting in the last job */
    const uint8_t *which; /* the job's list of settings */
    vd_set *values, reached;
    vd_identity identity;
    uint64_t now;
    uint16_t at, request; /* where the present request starts in the plan's order, and its number among the writes */
    uint8_t job, part;
    bool running, stopping;
    bool twice;              /* what is read counts only when it was read alike twice */
    bool others;             /* somebody else replied as well */
    bool fault_stood;        /* a fault was recorded before the job began */
    vd_status failure;       /* of the first request that a read went on without */
    uint8_t passes, in_vain; /* how often a read was done; requests in a row that nobody answered */
    uint32_t unexplained;    /* what the line had brought by then that belongs to no request */
    uint64_t print;          /* of what the pass before read */
    vd_status status;
    vd_fault *fault;
} vd_work;

/* The talk over Modbus RTU. The fields are private. */
typedef struct vd_modbus_talk {
    vd_work work;
    vd_modbus_client client;
    uint16_t first_register, fetched;
    uint16_t last_count; /* of the request before, where that was a read */
    uint8_t address, next_object, last_function;
    bool fetching;        /* the register is read before its bits are written */
    bool patient, others; /* listens for somebody else who has this address; there was one */
    bool spacing;         /* this exchange only stands between two whose replies could be taken for each other */
} vd_modbus_talk;

/* The talk in lines. The fields are private. */
typedef struct vd_text_talk {
    vd_work work;
    vd_text_client client;
    uint32_t limit;   /* until an ordinary answer comes */
    uint16_t answers; /* so far to this try of the request */
    uint16_t end;     /* reads: where the present request ends; writes: the number of the first one not in it */
    uint16_t singly;  /* reads: up to there each record is asked for by itself */
    uint16_t parts, last_parts; /* VD_QUERIES: answers that the present request brings, and the one before */
    uint8_t tries;              /* which try that is */
    bool padded; /* VD_QUERIES: it asks for one answer more, so that the one before cannot be taken for it */
    bool hidden, asking_why;
    vd_status why; /* what a unit that only falls silent is asked about */
} vd_text_talk;

/* Does jobs on the settings of one unit, in its model's language. */
typedef union vd_talk {
    vd_work work;
    vd_modbus_talk modbus;
    vd_text_talk text;
} vd_talk;

extern const vd_engine vd_talk_engine;

/* Bytes that a talk needs besides its struct. */
size_t vd_talk_size(const vd_model *model);
/* `memory`: vd_talk_size() bytes, aligned for uint64_t; the talk keeps using it and `fault`. `address` is the unit's, 0
 * where it has none. */
void vd_talk_start(vd_talk *talk, const vd_model *model, void *memory, const vd_line *line, uint8_t address,
                   uint32_t latency, vd_fault *fault);
/* How often a repeatable request is sent at most from now on; 0: as the model says. */
void vd_talk_limit_tries(vd_talk *talk, uint8_t tries);
/* Begins a job. `which` has a byte for each setting: 1 where the job is on it, VD_ABSENT where it does not exist. Reads
 * put into `values`; writes take from it, and `held` is what the unit holds before. Settings that the job cannot be on
 * (writing what is read-only) are passed over. Writes expect each value to have passed vd_set_check(). Where a write
 * makes the unit restart by itself, the job ends behind it, and the rest was not tried. */
void vd_talk_begin(vd_talk *talk, uint64_t now, vd_job job, const uint8_t *which, vd_set *values, const vd_set *held);
/* Begins the login with a password, which is not kept. The model has a word for it. */
void vd_talk_log_in(vd_talk *talk, uint64_t now, const char *password, size_t length);
/* Makes the question who it is, which was just begun, go on listening for somebody else with the same address. */
void vd_talk_be_patient(vd_talk *talk);
/* Whether somebody else replied to it as well. */
bool vd_talk_heard_others(const vd_talk *talk);
/* From now on what is read counts only when it was read alike twice; for languages without a check. */
void vd_talk_read_twice(vd_talk *talk, bool wanted);
/* What the line has brought so far that belongs to no request, where that is no part of the language. */
uint32_t vd_talk_unexplained(const vd_talk *talk);
/* Whether the line by which the unit says that it has started was heard since it was asked last. */
bool vd_talk_heard_start(vd_talk *talk);
/* Whether the job has ended, and how. A write ends at the first request that fails. A read goes on without it, and ends
 * with VD_OK when anything was read: work.outcome tells of each setting. VD_UNSTEADY: it was never read alike twice. */
bool vd_talk_ended(const vd_talk *talk, vd_status *status);

/* Orders the settings of a read so that the requests take the least line time, and cuts them into requests:
 * `overhead` is what one request costs besides its data, `each` what one more register costs (any unit of time). */
void vd_modbus_plan_read(vd_plan *plan, const vd_model *model, const uint8_t *which, bool stored, uint32_t overhead,
                         uint32_t each);
/* Orders the settings of a write, those that give others their decimals first, and cuts them into the fewest
 * requests that touch nothing else; what an enforced rule binds together is not parted. Fields of bits go register by
 * register. */
void vd_modbus_plan_write(vd_plan *plan, const vd_model *model, const uint8_t *which);
/* Of any language: puts the requests of a write into an order in which the rules that the unit enforces hold at every
 * step, where there is one. `held` is what the unit holds before; `reached` is scratch. */
void vd_plan_steps(vd_plan *plan, vd_set *reached, const vd_set *held, const vd_set *desired);
/* The registers, or coils, of the request that starts at order[at]. */
void vd_modbus_plan_request(const vd_plan *plan, const vd_model *model, uint16_t at, vd_place *span,
                            uint16_t *registers);

#endif
