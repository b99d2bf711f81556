/* SPDX-License-Identifier: MIT
 *
 * Core: what settings mean. Values, models, sets of values, checks, comparison, line settings, faults.
 *
 * Ownership, everywhere in libverdite: the caller owns all memory. Functions keep no reference to what they are
 * handed unless the comment says so; nothing is allocated, so nothing needs closing. Text is UTF-8.
 * Functions return a vd_status; details go to the vd_fault they are given (which may be NULL), where the first
 * fault sticks until vd_fault_clear().
 */
#ifndef VERDITE_CORE_H
#define VERDITE_CORE_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#include "verdite/faults.h"

/* ---- Faults ------------------------------------------------------------------------------------------------ */

/* How bad a fault is, in order of badness; the tool exits with this number. */
typedef enum vd_class {
    VD_CLASS_FINE = 0,         /* all is as it should be */
    VD_CLASS_NO = 1,           /* the question was answered, and the answer is no */
    VD_CLASS_PARTLY = 2,       /* right as far as can be known; something cannot be */
    VD_CLASS_NOT_VERIFIED = 3, /* not shown to be right */
    VD_CLASS_USAGE = 4,        /* called with wrong words */
    VD_CLASS_FILE = 5,         /* a file, or a value in it, is wrong */
    VD_CLASS_CONTACT = 6,      /* no talk with the unit */
    VD_CLASS_REFUSED = 7,      /* the unit refused */
    VD_CLASS_INTERRUPTED = 8   /* stopped by hand */
} vd_class;

#define VD_FAULT_ENUM_(name, class, what, next) VD_##name,
/* Every outcome of every function. VD_OK is 0; the others are listed, with their words, in faults.h. */
typedef enum vd_status { VD_FAULT_LIST(VD_FAULT_ENUM_) VD_STATUS_COUNT } vd_status;
#undef VD_FAULT_ENUM_

typedef struct vd_setting vd_setting;
typedef struct vd_model vd_model;

#define VD_SAID_SIZE 64     /* bytes of a fault's `said`: a value as typed, a serial number, a system's message */
#define VD_ALLOWED_SIZE 256 /* bytes of a fault's `allowed`: a range with units, a dozen choices, a rule's sentence */

/* The details of the first fault met. Text in it is always terminated, valid UTF-8 and free of control
 * characters, whatever was typed or heard. */
typedef struct vd_fault {
    vd_status status;
    const vd_setting *setting; /* the setting to blame, or NULL; lives as long as its model */
    int32_t number[3];         /* meaning: see the words of the status in faults.h */
    char said[VD_SAID_SIZE];
    char allowed[VD_ALLOWED_SIZE];
} vd_fault;

/* Forgets the fault. A vd_fault set to all zero bytes is clear as well. */
void vd_fault_clear(vd_fault *fault);

/* Records a fault unless one is recorded already or `fault` is NULL; returns `status` for the caller to hand on.
 * `said` and `allowed` may be NULL; they are copied, made printable and cut (with "...") to what fits. */
vd_status vd_fault_note(vd_fault *fault, vd_status status, const vd_setting *setting, const char *said,
                        const char *allowed);

/* A short code of a status for the telephone, e.g. "B2"; "" for those that are not about contact. A: the computer's
 * side, B: the line, C: the unit. */
const char *vd_status_code(vd_status status);
/* The class of a status. */
vd_class vd_status_class(vd_status status);

/* Writes the words of a fault to `text`, terminated: what happened and what it means for the unit, then (when
 * `with_next`) what to do next. Returns the length written, without the terminator; cuts at `size`. */
size_t vd_fault_words(const vd_fault *fault, bool with_next, char *text, size_t size);

/* ---- Text being built -------------------------------------------------------------------------------------- */

/* Text being built in a buffer of the caller's. Always terminated; what does not fit is left out and `cut` is set. */
typedef struct vd_writer {
    char *text;
    size_t size, length;
    bool cut;
} vd_writer;

/* Starts a text in `size` bytes at `text`; size is at least 1. */
vd_writer vd_writer_start(char *text, size_t size);
void vd_writer_add(vd_writer *writer, const char *text);
void vd_writer_add_bytes(vd_writer *writer, const char *bytes, size_t count);
void vd_writer_add_number(vd_writer *writer, int64_t number);
/* Adds number / 10^places with exactly `places` decimals (0 to 18) and a point as the decimal mark. */
void vd_writer_add_decimal(vd_writer *writer, int64_t number, unsigned places);
/* Adds at least `digits` hexadecimal digits, capitals, no prefix. */
void vd_writer_add_hex(vd_writer *writer, uint32_t number, unsigned digits);
/* Adds the name of a status in small letters with hyphens, e.g. "no-reply": stable, meant for programs. */
void vd_writer_add_status(vd_writer *writer, vd_status status);

/* ---- Line settings ----------------------------------------------------------------------------------------- */

/* How bits look on a serial line. */
typedef struct vd_line {
    uint32_t baud;     /* bit/s, 50 to 4000000 */
    uint8_t data_bits; /* 7 or 8 */
    char parity;       /* 'N' none, 'E' even, 'O' odd */
    uint8_t stop_bits; /* 1 or 2 */
} vd_line;

/* Reads a framing such as "8E1" (data bits, parity, stop bits; small letters are taken too) into the three fields
 * of `line`; its baud stays. Returns false, with `line` untouched, for anything else. */
bool vd_framing_parse(const char *text, vd_line *line);
/* Adds e.g. "9600 8E1". */
void vd_line_print(const vd_line *line, vd_writer *writer);
bool vd_line_equal(const vd_line *a, const vd_line *b);
/* Bits that one character takes on the line: start, data, parity if any, stop. */
unsigned vd_line_character_bits(const vd_line *line);
/* Time that `characters` take on the line, in microseconds, rounded up. */
uint64_t vd_line_time(const vd_line *line, uint64_t characters);

/* ---- Units ------------------------------------------------------------------------------------------------- */

/* Who a unit is, as it says itself. Terminated printable text; "" where it does not say. */
typedef struct vd_identity {
    char maker[32];
    char product[32];
    char firmware[16];
    char serial[32];
} vd_identity;

/* ---- Models ------------------------------------------------------------------------------------------------ */

#define VD_NONE 0xFFFFu /* "no such setting", wherever an index stands */

/* What a value is. types.c holds the one table of what each type parses, prints and takes. */
typedef enum vd_type {
    VD_NOTHING, /* no value, or not known */
    VD_INTEGER,
    VD_DECIMAL,     /* number / 10^places, exact */
    VD_TRUTH,       /* 1 on, 0 off */
    VD_CHOICE,      /* the number of one of the setting's choices */
    VD_FLAGS,       /* any of the setting's choices at once: bit `number` of each that is set */
    VD_DURATION,    /* milliseconds */
    VD_TIME_OF_DAY, /* seconds since midnight */
    VD_DATE_TIME,   /* seconds since 1970-01-01 00:00:00 by the clock that the setting is about; no leap seconds */
    VD_ZONE,        /* minutes east of UTC */
    VD_POSITION,    /* latitude and longitude in 10^-7 degrees, each 32 bits, latitude in the upper ones */
    VD_PORT,        /* TCP or UDP port */
    VD_IPV4,        /* 32 bits, first octet uppermost (RFC 791) */
    VD_MASK,        /* likewise: ones, then zeros (RFC 950) */
    VD_GATEWAY,     /* likewise: one host's address, or 0.0.0.0 for none */
    VD_IPV6,        /* 16 bytes (RFC 4291), printed as RFC 5952 has it */
    VD_TEXT,        /* characters of the setting's alphabet */
    VD_HOST,        /* host name (RFC 1123) or IPv4 address in text */
    VD_URL,         /* RFC 3986, absolute, with a host */
    VD_PHONE,       /* digits with or without + and country code (ITU-T E.164) */
    VD_APN,         /* access point name, network identifier (3GPP TS 23.003 clause 9.1) */
    VD_IMEI,        /* 15 digits, the last a check digit (3GPP TS 23.003 clause 6.2.1) */
    VD_ICCID,       /* 19 or 20 digits from 89 on, the last a check digit (ITU-T E.118) */
    VD_BYTES,       /* any bytes, typed in hexadecimal */
    VD_IDENTIFIER,  /* a fixed number of bytes, e.g. 8 for an EUI-64 */
    VD_KEY,         /* 128 bits */
    VD_TYPE_COUNT
} vd_type;

/* The name by which model files and people call a type, e.g. "time-of-day"; a few words about it. */
const char *vd_type_name(vd_type type);
const char *vd_type_title(vd_type type);
/* Whether values of this type are bytes (vd_value.text) rather than a number. */
bool vd_type_is_bytes(vd_type type);
/* Whether those bytes are characters; units pad them with zeros or blanks. */
bool vd_type_is_text(vd_type type);
/* Bytes that every value of this type has at most, where the setting does not decide it; 0 where it does. */
uint16_t vd_type_length(vd_type type);

typedef enum vd_access { VD_READ_WRITE, VD_READ_ONLY, VD_WRITE_ONLY } vd_access;

/* Who may do a thing. */
typedef enum vd_right { VD_ANYONE, VD_FITTER, VD_MAKER } vd_right; /* fitter: after the login, where there is one */

/* What writing a setting causes besides the change. */
typedef enum vd_effect {
    VD_NO_EFFECT,
    VD_EFFECT_RESTART, /* the unit restarts by itself */
    VD_EFFECT_LINK,    /* the unit answers at another address or line setting */
    VD_EFFECT_OUTAGE   /* the unit's own service stops for a while, or what it feeds loses supply */
} vd_effect;

/* What a setting means for the talk with the unit itself. */
typedef enum vd_role {
    VD_ROLE_NONE,
    VD_ROLE_ADDRESS, /* its own address, speed and framing */
    VD_ROLE_BAUD,
    VD_ROLE_FRAMING,
    VD_ROLE_NAME /* what people call it */
} vd_role;
/* Whether a setting with this role is part of the unit's own link. */
bool vd_role_is_link(vd_role role);

typedef struct vd_choice {
    const char *name;  /* as typed and printed */
    const char *label; /* what it means, or "" */
    int32_t number;    /* as the unit holds it */
} vd_choice;

/* The language in which a unit talks. */
typedef enum vd_speech {
    VD_MODBUS_RTU, /* frames with a unit address and a check */
    VD_COMMANDS,   /* lines in the manner of ITU-T V.250: AT+WORD=..., result codes, errors of 3GPP TS 27.007 too */
    VD_QUERIES,    /* lines in the manner of SCPI (IEEE 488.2): WORD?, WORD value, an error queue */
    VD_SENTENCES   /* lines in the manner of NMEA 0183: $TALKER,...*check */
} vd_speech;

/* Where a value lives in a unit that talks in lines: a field of a record. A record is what one word reads or sets,
 * such as +ALRM: 2,1,65.0. */
typedef enum vd_saying {
    VD_SAID_USUALLY,  /* numbers in digits, choices and truths by their number, texts as texts */
    VD_SAID_BY_NAME,  /* choices and truths by name in capitals, with _ for a hyphen: ON, OFF, LONG_RANGE */
    VD_SAID_IN_COUNTS /* decimals without the mark, as the whole number that the unit holds */
} vd_saying;
typedef struct vd_field {
    const char *word; /* the record's; NULL in units that have registers. VD_QUERIES: # stands for the item's number */
    uint16_t item;    /* of records that repeat: the number, from 1; 0: it does not repeat */
    uint8_t number;   /* which of the record's fields, from 0 */
    uint8_t saying;   /* vd_saying */
} vd_field;

/* What is said to make such a unit do a thing: a word, and what follows it, or "". */
typedef struct vd_order {
    const char *word, *argument;
} vd_order;

/* Where a value lives on the wire: plain data that only wire/ interprets. */
typedef enum vd_table { VD_HOLDING, VD_INPUT, VD_COIL, VD_DISCRETE } vd_table; /* Modbus data model, AP 4.3 */
typedef enum vd_form { VD_UNSIGNED, VD_SIGNED, VD_CHARACTERS } vd_form;        /* characters: two to a register */
typedef enum vd_word_order { VD_HIGH_FIRST, VD_LOW_FIRST } vd_word_order;
typedef struct vd_place {
    uint8_t table;    /* vd_table */
    uint8_t form;     /* vd_form */
    uint8_t order;    /* vd_word_order, for numbers of several registers */
    uint8_t words;    /* registers: 1, 2 or 4 for numbers, 1 to 64 for bytes; coils and discrete inputs: 1 */
    uint16_t address; /* protocol address of the first register or coil, from 0 */
    uint8_t low_bit;  /* a field inside one register: its lowest bit, 0 to 15 */
    uint8_t bits;     /* and its width, 1 to 15; 0: the whole register or registers */
} vd_place;

/* What a unit makes of a value that it does not take as it is. */
typedef enum vd_keeping {
    VD_REFUSES,
    VD_KEEPS_CAPITALS,
    VD_KEEPS_NEAREST
} vd_keeping; /* nearest: rounds to its step */

/* How a reading moves while time passes, for a unit that is played. */
typedef enum vd_motion_way {
    VD_STANDS_STILL,
    VD_SWINGS, /* from `low` to `high` and back in `period` */
    VD_COUNTS, /* one more every `period`, from its default on, since the supply came on */
    VD_RUNS_ON /* likewise, but the supply does not matter: a clock, a meter */
} vd_motion_way;
typedef struct vd_motion {
    int64_t low, high; /* counts */
    uint32_t period;   /* milliseconds */
    uint8_t way;       /* vd_motion_way */
} vd_motion;

/* One setting. Ranges are in counts: the whole number that the unit holds. A number's count is the number itself; a
 * decimal's its value times 10^places; of types that have a tick, the value divided by the tick. */
struct vd_setting {
    const char *key;     /* unique in the model, e.g. "weight.low-limit" */
    const char *label;   /* a short name for people */
    const char *help;    /* what it means, one or two sentences */
    const char *measure; /* unit of measure, e.g. "kg"; "" for none. Only integers and decimals have one. */
    const vd_choice *choices;
    const char *alphabet;     /* texts: the characters it takes, "A-Z" for a range; NULL: printable ASCII */
    const char *initial_text; /* factory default of a type that is bytes, or NULL; `initial` is its length */
    const char *when;         /* expression: the setting exists only then; "" or NULL: always */
    const char *because;      /* why it does not exist otherwise, a sentence */
    int64_t min, max, step;   /* counts; step at least 1, counted from min */
    int64_t initial;          /* factory default, a count, where has_initial */
    uint32_t tick;            /* durations: milliseconds per count; times of day: seconds; zones: minutes; at least 1 */
    uint16_t choice_count;
    uint16_t places_from;   /* index of the setting that says how many decimals this one has, or VD_NONE */
    uint16_t least, length; /* types that are bytes: fewest and most bytes */
    uint16_t block, item;   /* index of the repeated block it belongs to and number of the item, from 0; or VD_NONE */
    uint8_t type;           /* vd_type */
    uint8_t access;         /* vd_access */
    uint8_t read_by, written_by; /* vd_right */
    uint8_t role;                /* vd_role */
    uint8_t effect;              /* vd_effect */
    uint8_t group;               /* index into the model's groups */
    uint8_t places;              /* decimals: number of decimal places, 0 to 9, where places_from is VD_NONE */
    bool has_initial;
    bool gives_places; /* others have this one as their places_from */
    bool essential;    /* among the few that are shown first */
    bool secret;       /* never shown, never saved with what was read */
    bool placeholder;  /* the factory default stands for a value that must be supplied */
    bool once;         /* a write of it whose outcome is not known is never sent again */
    uint8_t keeps;     /* vd_keeping */
    vd_place place;    /* where it lives in a unit that has registers */
    vd_field field;    /* where it lives in a unit that talks in lines */
    vd_motion motion;
};

typedef struct vd_group {
    const char *key, *label;
} vd_group;

/* Settings that repeat, such as ten alarms: `count` items of `members` settings each, one item behind the other. */
typedef struct vd_block {
    const char *key; /* the settings' keys begin with it, then the number of the item from 1: "alarm.3.limit" */
    const char *label;
    uint16_t first;          /* index of the first setting of the first item */
    uint16_t count, members; /* items; settings in each */
} vd_block;

/* How bad it is when a rule is broken. */
typedef enum vd_severity { VD_ERROR, VD_WARNING, VD_REMARK } vd_severity;

/* A rule between settings. The expressions are described in docs/rules.md. */
typedef struct vd_rule {
    const char *when;      /* expression: the rule counts only then; "" or NULL: always */
    const char *must;      /* expression that is true where the rule is kept */
    const char *say;       /* the sentence for people when it is broken; {expression} stands for a value */
    const uint16_t *blame; /* settings to blame, the first foremost; none: the first that `must` names */
    uint16_t blame_count;
    uint16_t block;   /* the rule is about each item of this block, "this.member" in it; or VD_NONE */
    uint8_t severity; /* vd_severity */
    bool enforced;    /* the unit itself refuses what breaks it */
} vd_rule;

/* A variant of a model, told by the product name in its identity. */
typedef struct vd_variant {
    const char *key, *label;
    const char *product;
} vd_variant;

/* Something that a unit can do or has, for choosing a model: a number ("inputs", 2), or words ("supply", "battery"). */
typedef struct vd_ability {
    const char *key, *label;
    const char *words; /* separated by blanks; "" where it is a number */
    int64_t number;
} vd_ability;

/* Something a unit does when told to, apart from settings. */
typedef enum vd_deed { VD_DEED_OWN, VD_DEED_RESTART, VD_DEED_DEFAULTS, VD_DEED_CLEAR } vd_deed;
typedef struct vd_action {
    const char *key, *label, *help;
    uint16_t address, value; /* holding register, and what is written to it */
    vd_order order;          /* in a unit that talks in lines */
    uint32_t takes;          /* milliseconds */
    uint8_t deed;            /* vd_deed: something of its own, restarts, back to factory defaults, clears its memory */
} vd_action;

/* A paragraph of the start-up page. */
typedef struct vd_topic {
    const char *label, *text;
} vd_topic;

/* Something that must be known before leaving the depot. */
typedef struct vd_errand {
    const char *label, *help;
    const char *who;          /* who supplies it */
    const uint16_t *settings; /* those that it goes into */
    uint16_t setting_count;
} vd_errand;

/* How one logs in, where the unit wants it. */
typedef struct vd_login {
    const char *help; /* "" where there is no login */
    const char *word; /* the record to which the password is said; NULL: Verdite cannot log in by itself */
    uint16_t setting; /* the setting that holds the password, or VD_NONE */
    uint16_t left;    /* the setting that tells how many wrong tries are left, or VD_NONE */
    uint32_t lasts;   /* milliseconds without a request until it is logged out; 0: until its supply goes */
    uint8_t tries;    /* wrong ones before the unit locks; 0: no limit */
    bool recoverable; /* a forgotten password can be reset */
} vd_login;

/* How the unit is put into the state in which it listens, where that takes a hand. */
typedef struct vd_listening {
    const char *help; /* "" where it always listens */
    const char *says; /* the line that it sends of itself once it listens, "" where it sends none */
    uint32_t hold;    /* milliseconds for which its button must be held; 0: no hand is needed */
    uint32_t after;   /* milliseconds from switching on, or from the button, until it listens */
    uint32_t lasts;   /* milliseconds without a request for which it goes on listening; 0: until it is switched off */
    uint32_t limit;   /* milliseconds for which a person is waited for */
} vd_listening;

#define VD_LONGEST_LINE 512u /* characters of a line to or from a unit, its terminator included */

/* How a unit that talks in lines wants to be talked to. */
typedef struct vd_lines {
    const char *talker; /* VD_SENTENCES: what its sentences begin with, e.g. "PQLM"; else "" */
    uint16_t longest;   /* most characters of a line that it takes, terminator included; at most VD_LONGEST_LINE */
    bool several;       /* takes several reads or writes in one line */
    bool writes_once;   /* a write whose outcome is not known is never sent again */
    bool echoes;        /* sends back what it hears, from the factory */
} vd_lines;

/* Registers first..last that the unit does not answer for: no request may touch them. */
typedef struct vd_hole {
    uint8_t table; /* vd_table */
    uint16_t first, last;
} vd_hole;

/* What the unit takes in one request, and which of the less common functions it knows (AP 6). */
typedef struct vd_limits {
    uint16_t read_registers, write_registers, read_bits, write_bits; /* 0: the standard's own limit */
    bool mask_write;                                                 /* 22: bits of one register */
    bool read_write; /* 23: writes, and reads back in the same request */
    bool no_single;  /* writes one register with 16 instead of 6, one coil with 15 instead of 5 */
} vd_limits;

typedef enum vd_identify_way {
    VD_IDENTIFY_OBJECTS,  /* Modbus read device identification, function 43 / 14 */
    VD_IDENTIFY_REGISTERS /* text in registers, at the places below */
} vd_identify_way;

/* How a unit of this model is recognised. */
typedef struct vd_identify {
    uint8_t way;           /* vd_identify_way */
    const char *maker;     /* must be equal to what the unit says */
    const char *product;   /* likewise; a variant's own product name will do as well */
    uint8_t serial_object; /* way objects: the object that holds the serial number, 0x80 to 0xFF */
    vd_place maker_place, product_place, firmware_place, serial_place; /* way registers */
} vd_identify;

/* How stored values are shown to be stored. */
typedef enum vd_proof {
    VD_PROOF_NONE,    /* nothing shows it: the best word is "live, storage not proved" */
    VD_PROOF_BANK,    /* the stored values can be read at an offset from the live ones */
    VD_PROOF_RESTART, /* a restart by command, then reading again: the model has an action that restarts */
    VD_PROOF_SUPPLY   /* switching the supply off and on by hand, then reading again */
} vd_proof;

/* How live values are made to outlast a power cycle. */
typedef struct vd_store {
    bool needed;          /* false: a written value is stored at once */
    uint16_t address;     /* holding register written to store everything */
    uint16_t value;       /* what is written there */
    vd_order order;       /* in a unit that talks in lines */
    bool restarts;        /* it restarts by itself when it has stored */
    uint8_t proof;        /* vd_proof */
    uint16_t bank_offset; /* VD_PROOF_BANK: added to a holding register's address */
} vd_store;

/* What a control line of the port is to do while the port is open. */
typedef enum vd_signal { VD_SIGNAL_LEAVE, VD_SIGNAL_ON, VD_SIGNAL_OFF } vd_signal;

/* Times of a model's talk, milliseconds unless said otherwise. */
typedef struct vd_reply {
    uint16_t usual;      /* turnaround of an ordinary reply */
    uint16_t longest;    /* no reply comes later than this */
    uint16_t store;      /* how long storing takes */
    uint16_t busy_wait;  /* pause before asking again a unit that said it is busy */
    uint16_t busy_limit; /* give up on a busy unit after this */
    uint16_t gap;        /* longest silence inside a reply */
    uint16_t broadcast;  /* turnaround delay after a broadcast */
    uint8_t tries;       /* how often a repeatable request is sent at most */
} vd_reply;

typedef struct vd_book vd_book; /* compiled expressions and sorted indexes of a model */

/* One kind of unit. Constant once prepared; owned by whoever made it, and must outlive everything that was given it. */
struct vd_model {
    const char *key;     /* e.g. "dowel" */
    const char *title;   /* e.g. "Dowel two-channel gauge" */
    const char *summary; /* one or two sentences */
    const vd_group *groups;
    const vd_setting *settings;
    const vd_block *blocks;
    const vd_rule *rules;
    const vd_variant *variants;
    const vd_ability *abilities;
    const vd_action *actions;
    const vd_topic *topics;
    const vd_errand *errands;
    const vd_hole *holes;
    const vd_book *book;    /* from vd_model_prepare(); without it expressions are not known, and finding is slow */
    vd_line line;           /* the usual line settings, from the factory */
    uint8_t speech;         /* vd_speech */
    uint8_t dtr, rts;       /* vd_signal */
    uint16_t setting_count; /* at most 65534 */
    uint16_t hole_count, rule_count, block_count;
    uint8_t group_count, variant_count, ability_count, action_count, topic_count, errand_count;
    uint8_t address_low, address_high; /* unit addresses it can have */
    uint8_t address_factory;
    uint32_t restart_time; /* milliseconds from a restart until it answers again */
    uint16_t running;      /* the reading that tells how long it has been running; see vd_model_running_time() */
    uint32_t firmware;     /* the oldest firmware that the model describes, as vd_firmware_parse() has it; 0: any */
    vd_identify identify;
    vd_store store;
    vd_reply reply;
    vd_limits limits;
    vd_login login;
    vd_listening listening;
    vd_lines lines;
};

/* Whether units of this model talk in lines of text; such a unit has no unit address and is alone on its line. */
bool vd_model_talks_in_lines(const vd_model *model);
/* Abilities of a model's language: whether units have an address, so that several share a line; whether what was
 * damaged on the line is seen; whether an answer says by itself what it answers. */
bool vd_model_has_address(const vd_model *model);
bool vd_model_has_check(const vd_model *model);
bool vd_model_names_answers(const vd_model *model);
/* Orders two fields by word, item and number: below 0, 0 or above 0, as strcmp() does. */
int vd_field_order(const vd_field *a, const vd_field *b);
/* Whether setting `a` comes after setting `b`, by their numbers. */
typedef bool vd_setting_after(const void *about, uint16_t a, uint16_t b);
/* Sorts `count` numbers of settings in place; `about` is handed to `after`. What is equal may change places. */
void vd_settings_sort(uint16_t *order, uint16_t count, vd_setting_after *after, const void *about);
/* Whether two fields are of one record. */
bool vd_field_same_record(const vd_field *a, const vd_field *b);
/* Whether a unit shows what a setting holds: it is not write-only, and not for its maker's eyes only. */
bool vd_setting_is_shown(const vd_setting *setting);
/* Index of the setting with this key, or VD_NONE. */
uint16_t vd_model_find(const vd_model *model, const char *key);
/* Index of the group with this key (as typed: case does not matter), or VD_NONE. */
uint16_t vd_model_find_group(const vd_model *model, const char *key);
/* Index of the first setting with this role, or VD_NONE. */
uint16_t vd_model_find_role(const vd_model *model, vd_role role);
/* Whether one of two settings is never written without the other being said again: they share a record, or a register
 * of which a mask could not leave the rest alone. */
bool vd_model_writes_together(const vd_model *model, uint16_t a, uint16_t b);
/* Index of the reading, a duration, that tells how long the unit has been running, or VD_NONE where the model names
 * none. */
uint16_t vd_model_running_time(const vd_model *model);
/* Whether Verdite can log in to such a unit by itself. */
bool vd_model_logs_in(const vd_model *model);
/* The action that restarts a unit, or NULL. */
const vd_action *vd_model_restart(const vd_model *model);
/* The variant whose product name an identity bears, or VD_NONE. */
uint16_t vd_model_variant(const vd_model *model, const vd_identity *identity);
/* Whether a unit with this identity is of this model. */
bool vd_model_fits(const vd_model *model, const vd_identity *identity);
/* Whether a model meets a requirement, as typed: KEY, KEY=WORD or KEY>=NUMBER. False also when the model says nothing
 * about it. VD_NO_SUCH_KEY when the requirement cannot be read. */
vd_status vd_model_meets(const vd_model *model, const char *requirement, bool *meets, vd_fault *fault);
/* A firmware version such as "1.4" or "2.10.3" as a number that grows with it (three parts of up to 999); 0 when it is
 * no version. */
uint32_t vd_firmware_parse(const char *text);
/* Adds such a number as a version, its last part only where it is not 0. */
void vd_firmware_print(uint32_t firmware, vd_writer *writer);

/* Is told each thing that is wrong; `rule` is the rule it is in, or VD_NONE. */
typedef void vd_complain(void *about, const vd_fault *fault, uint16_t rule);
/* Bytes that preparing a model needs at most. */
size_t vd_model_prepare_size(const vd_model *model);
/* Judges a model, all of it, and compiles its expressions into `memory` (aligned for uint64_t), which the model keeps
 * using. Refused is a model that contradicts itself: keys twice, registers that overlap or lie in a hole, ranges that
 * do not fit the registers, defaults that fail their own check or break a rule, expressions that name nothing, mix
 * units of measure or go in circles. Returns the first fault; `complain` (NULL: nobody) is told of every one.
 * VD_MEMORY_TOO_SMALL, VD_MODEL_INCONSISTENT, VD_EXPRESSION_WRONG (number 1: the column, number 2: 0 in `when`, 1 in
 * `must`, 2 in `say`). */
vd_status vd_model_prepare(vd_model *model, void *memory, size_t size, vd_complain *complain, void *about,
                           vd_fault *fault);

/* ---- Values ------------------------------------------------------------------------------------------------ */

/* A value. Equal values may look different: 36.5 and 36.50 are one value. */
typedef struct vd_value {
    uint8_t type;   /* vd_type; VD_NOTHING when not known */
    uint8_t places; /* decimals: `number` is the value times 10^places, 0 to 18 */
    uint16_t length;
    int64_t number;   /* integer, scaled decimal, 0 or 1, choice number, milliseconds */
    const char *text; /* `length` bytes, not terminated; owned by whoever made the value */
} vd_value;

#define VD_MOST_BYTES 256u /* bytes that a value of any type has at most */

/* A value that was typed, with room for its bytes. Do not copy it: `value.text` may point into it. */
typedef struct vd_typed {
    vd_value value;
    char bytes[VD_MOST_BYTES];
} vd_typed;

/* Reads a value as a person types it: surrounding blanks are dropped; comma or point is the decimal mark; the
 * unit of measure may follow and must then be the setting's. Durations name their unit ("1 h 30 min"); 0 needs none.
 * Separators that people put into numbers, addresses and identifiers are dropped.
 * The value is exact, as typed: neither range nor step is judged here.
 * Errors: the value faults of faults.h, with what is allowed. */
vd_status vd_value_parse(const vd_setting *setting, const char *text, size_t length, vd_typed *typed, vd_fault *fault);
/* Adds the value in its one canonical form, with its unit; parsing that gives an equal value. A value of VD_NOTHING is
 * printed as "not known". Secrets are printed as well: see vd_value_show(). */
void vd_value_print(const vd_setting *setting, const vd_value *value, vd_writer *writer);
/* The same for the eyes of people: a secret is shown as "(secret)". */
void vd_value_show(const vd_setting *setting, const vd_value *value, vd_writer *writer);
/* Adds the nearest form of a typed text that this setting can hold: capitals, plain letters for accented ones, cut to
 * length. Adds nothing when there is none or the type is no text. */
void vd_text_nearest(const vd_setting *setting, const char *text, size_t length, vd_writer *writer);
/* Whether two values are the same, exactly. Two unknown values are not equal. */
bool vd_value_equal(const vd_value *a, const vd_value *b);
/* The value that stands for `count` in a unit where this setting has `places` decimals. */
vd_value vd_value_from_count(const vd_setting *setting, int64_t count, unsigned places);
/* The count for a value where the setting has `places` decimals; not for texts.
 * VD_OFF_STEP when it lies between two counts: the fault names both neighbours. */
vd_status vd_value_to_count(const vd_setting *setting, const vd_value *value, unsigned places, int64_t *count,
                            vd_fault *fault);
/* Judges a value by itself: range, step, choice, length, alphabet. `places` as above. */
vd_status vd_value_check(const vd_setting *setting, const vd_value *value, unsigned places, vd_fault *fault);
/* Adds what this setting takes, e.g. "0.0 to 200.0 kg in steps of 0.1 kg". `places` as above; pass VD_NONE where
 * the number of decimals is not known. */
void vd_setting_print_allowed(const vd_setting *setting, unsigned places, vd_writer *writer);

/* ---- Sets of values ---------------------------------------------------------------------------------------- */

/* One value, or none, for each setting of a model. Lives in a buffer of the caller's. */
typedef struct vd_set {
    const vd_model *model;
    void *memory;
    uint16_t variant;  /* the variant of the unit that it is about, or VD_NONE: not known */
    uint32_t firmware; /* its firmware, as vd_firmware_parse() has it; 0: not known */
} vd_set;

/* Bytes that a set of this model needs. */
size_t vd_set_size(const vd_model *model);
/* Makes an empty set in `size` bytes at `memory`, aligned for uint64_t, which the set keeps using.
 * VD_MEMORY_TOO_SMALL when size is below vd_set_size(). */
vd_status vd_set_start(vd_set *set, const vd_model *model, void *memory, size_t size);
/* The value of a setting; VD_NOTHING when not known. A text points into the set until it is put again. */
vd_value vd_set_get(const vd_set *set, uint16_t setting);
/* Keeps a copy of the value. A text longer than the setting allows is cut; check before. */
void vd_set_put(vd_set *set, uint16_t setting, const vd_value *value);
void vd_set_forget(vd_set *set, uint16_t setting);
bool vd_set_knows(const vd_set *set, uint16_t setting);
/* Makes `to` hold the same as `from`; both are of one model. */
void vd_set_copy(vd_set *to, const vd_set *from);
/* Puts every value that `from` knows into `to`. */
void vd_set_overlay(vd_set *to, const vd_set *from);
/* Puts the factory default of each setting that has one. */
void vd_set_put_initial(vd_set *set);
/* Number of decimals of a setting: fixed, or as the set says. Returns false when the set does not know. */
bool vd_set_places(const vd_set *set, uint16_t setting, unsigned *places);
/* Gives each value whose decimals another setting decides the number of decimals now in force, its count
 * unchanged: what a unit does when that other setting is written. Forgets those for which it is not known. */
void vd_set_reinterpret(vd_set *set);
/* The same behind a read, for those values only that units say without their decimals, as counts. What was said with
 * its decimals is final as it was heard. */
void vd_set_settle(vd_set *set);
/* Tells a set which unit it is about: variant and firmware. */
void vd_set_tell_unit(vd_set *set, const vd_identity *identity);
/* Judges one value by itself: that it exists here, access, form, range. VD_OK also for a value the set does not know.
 * VD_NOT_HERE: this unit lacks the setting; VD_IDLE_HERE: it has it, but in this mode it does not count.
 * VD_PLACES_NOT_KNOWN: cannot be judged with what the set knows. */
vd_status vd_set_check(const vd_set *set, uint16_t setting, vd_fault *fault);

/* What is known of a condition. Not known never counts as kept. */
typedef enum vd_ruling { VD_HOLDS, VD_FAILS, VD_NOT_KNOWN } vd_ruling;

/* Whether a setting exists in the unit that a set is about: holds, fails (the setting's `because` says why), or not
 * known. */
vd_ruling vd_set_exists(const vd_set *set, uint16_t setting);
/* The n-th setting (from 0) on which it hangs whether this one exists, VD_NONE when there are no more. */
uint16_t vd_model_hangs_on(const vd_model *model, uint16_t setting, uint16_t n);
/* Whether this variant or firmware lacks the setting for good, whatever the other settings are. */
bool vd_set_lacks(const vd_set *set, uint16_t setting);
/* How often a rule is to be judged: once, or for each item of its block. */
uint16_t vd_rule_items(const vd_model *model, uint16_t rule);
/* Judges a rule, for item `item` of its block (0 where it has none). `before` is what held before the change, for
 * rules about what changed; NULL: not known. Of a broken rule the fault holds severity (VD_RULE_BROKEN,
 * VD_RULE_WARNING, VD_RULE_REMARK), the setting to blame and, in `allowed`, the sentence with the values in it; of one
 * that is not known (VD_RULE_NOT_KNOWN) `allowed` is the key of a setting that is missing. */
vd_ruling vd_rule_judge(const vd_set *set, const vd_set *before, uint16_t rule, uint16_t item, vd_fault *fault);
/* Whether a rule depends on a setting. */
bool vd_rule_mentions(const vd_model *model, uint16_t rule, uint16_t setting);

/* Goes through everything that is to be said of a set: values, rules, placeholders left in. What is not known is told
 * only of errors, and where the set knows the setting to blame. */
typedef struct vd_survey {
    const vd_set *set, *before;
    uint16_t rule; /* the rule that the last finding is about, or VD_NONE */
    uint32_t next; /* private */
    uint16_t item;
} vd_survey;
void vd_survey_start(vd_survey *survey, const vd_set *set, const vd_set *before);
/* Puts the next finding into `fault`. False when there is none left. */
bool vd_survey_next(vd_survey *survey, vd_fault *fault);

/* Whether a set still lacks something for an errand: a setting that exists and is not known, empty or a placeholder. */
bool vd_errand_lacking(const vd_set *set, const vd_errand *errand);
/* Puts the link that a set describes by its address, baud and framing settings into `line` and `address`; what the
 * set does not know, or says in a form that is no line setting, leaves them as they are. */
void vd_set_link(const vd_set *set, vd_line *line, uint8_t *address);
/* How a setting stands in two sets. */
typedef enum vd_comparison { VD_SAME, VD_DIFFERENT, VD_ONLY_FIRST, VD_ONLY_SECOND, VD_IN_NEITHER } vd_comparison;
vd_comparison vd_set_compare(const vd_set *a, const vd_set *b, uint16_t setting);

/* ---- Text that was heard ------------------------------------------------------------------------------------ */

/* Copies heard bytes to a terminated text of `size` bytes: control characters and bytes above 126 become '?',
 * trailing blanks and zeros go. */
void vd_identity_copy(char *text, size_t size, const uint8_t *bytes, size_t count);

#endif
