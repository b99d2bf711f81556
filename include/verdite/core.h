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
#define VD_ALLOWED_SIZE 192 /* bytes of a fault's `allowed`: a range with units or a dozen choices */

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

/* ---- Models ------------------------------------------------------------------------------------------------ */

#define VD_NONE 0xFFFFu /* "no such setting", wherever an index stands */

typedef enum vd_type {
    VD_NOTHING, /* no value, or not known */
    VD_INTEGER,
    VD_DECIMAL,  /* number / 10^places, exact */
    VD_TRUTH,    /* 1 on, 0 off */
    VD_CHOICE,   /* the number of one of the setting's choices */
    VD_TEXT,     /* printable ASCII */
    VD_DURATION, /* milliseconds */
    VD_TYPE_COUNT
} vd_type;

typedef enum vd_access { VD_READ_WRITE, VD_READ_ONLY, VD_WRITE_ONLY } vd_access;

/* What a setting means for the talk with the unit itself. */
typedef enum vd_role { VD_ROLE_NONE, VD_ROLE_ADDRESS, VD_ROLE_BAUD, VD_ROLE_FRAMING } vd_role;

typedef struct vd_choice {
    const char *name;  /* as typed and printed */
    const char *label; /* what it means, or "" */
    int32_t number;    /* as the unit holds it */
} vd_choice;

/* Where a value lives on the wire: plain data that only wire/ interprets. */
typedef enum vd_table { VD_HOLDING, VD_INPUT } vd_table;                /* Modbus data model, clause 4.3 */
typedef enum vd_form { VD_UNSIGNED, VD_SIGNED, VD_CHARACTERS } vd_form; /* characters: two to a register */
typedef enum vd_word_order { VD_HIGH_FIRST, VD_LOW_FIRST } vd_word_order;
typedef struct vd_place {
    uint8_t table;    /* vd_table */
    uint8_t form;     /* vd_form */
    uint8_t order;    /* vd_word_order, for two-register numbers */
    uint8_t words;    /* registers: 1 or 2 for numbers, 1 to 64 for text */
    uint16_t address; /* protocol address of the first register, from 0 */
} vd_place;

/* One setting. Ranges are in counts: the whole number that the unit holds. An integer, a choice and a truth are
 * their own count; a decimal's count is its value times 10^places; a duration's is its milliseconds / tick. */
struct vd_setting {
    const char *key;     /* unique in the model, e.g. "weight.low-limit" */
    const char *label;   /* a short name for people */
    const char *help;    /* what it means, one or two sentences */
    const char *measure; /* unit of measure, e.g. "kg"; "" for none. Durations leave it "". */
    const vd_choice *choices;
    const char *initial_text; /* factory default of a text, or NULL */
    int64_t min, max, step;   /* counts; step at least 1, counted from min */
    int64_t initial;          /* factory default, a count, where has_initial */
    uint32_t tick;            /* durations: milliseconds per count, at least 1 */
    uint16_t choice_count;
    uint16_t places_from; /* index of the setting that says how many decimals this one has, or VD_NONE */
    uint16_t length;      /* texts: most characters */
    uint8_t type;         /* vd_type */
    uint8_t access;       /* vd_access */
    uint8_t role;         /* vd_role */
    uint8_t group;        /* index into the model's groups */
    uint8_t places;       /* decimals: number of decimal places, 0 to 9, where places_from is VD_NONE */
    bool has_initial;
    vd_place place;
};

typedef struct vd_group {
    const char *key, *label;
} vd_group;

/* Two settings that the unit takes only in order: low below high. They share one unit of measure and number of
 * decimals; where both change they go to the unit in one request. */
typedef struct vd_pair {
    uint16_t low, high; /* indexes of settings */
} vd_pair;

/* Registers first..last that the unit does not answer for: no request may touch them. */
typedef struct vd_hole {
    uint8_t table; /* vd_table */
    uint16_t first, last;
} vd_hole;

typedef enum vd_identify_way {
    VD_IDENTIFY_OBJECTS,  /* Modbus read device identification, function 43 / 14 */
    VD_IDENTIFY_REGISTERS /* text in registers, at the places below */
} vd_identify_way;

/* How a unit of this model is recognised. */
typedef struct vd_identify {
    uint8_t way;           /* vd_identify_way */
    const char *maker;     /* must be equal to what the unit says */
    const char *product;   /* likewise */
    uint8_t serial_object; /* way objects: the object that holds the serial number, 0x80 to 0xFF */
    vd_place maker_place, product_place, firmware_place, serial_place; /* way registers */
} vd_identify;

/* How stored values are shown to be stored. */
typedef enum vd_proof {
    VD_PROOF_NONE, /* nothing shows it: the best word is "live, storage not proved" */
    VD_PROOF_BANK  /* the stored values can be read at an offset from the live ones */
} vd_proof;

/* How live values are made to outlast a power cycle. */
typedef struct vd_store {
    bool needed;          /* false: a written value is stored at once */
    uint16_t address;     /* holding register written to store everything */
    uint16_t value;       /* what is written there */
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

/* One kind of unit. Constant; owned by whoever made it, and must outlive everything that was given it. */
struct vd_model {
    const char *key;     /* e.g. "dowel" */
    const char *title;   /* e.g. "Dowel two-channel gauge" */
    const char *summary; /* one or two sentences */
    const vd_group *groups;
    const vd_setting *settings;
    const vd_pair *pairs;
    const vd_hole *holes;
    vd_line line;           /* the usual line settings, from the factory */
    uint8_t dtr, rts;       /* vd_signal */
    uint16_t setting_count; /* at most 65534 */
    uint16_t pair_count, hole_count;
    uint8_t group_count;
    uint8_t address_low, address_high; /* unit addresses it can have */
    uint8_t address_factory;
    vd_identify identify;
    vd_store store;
    vd_reply reply;
};

/* Index of the setting with this key, or VD_NONE. */
uint16_t vd_model_find(const vd_model *model, const char *key);
/* Index of the group with this key (as typed: case does not matter), or VD_NONE. */
uint16_t vd_model_find_group(const vd_model *model, const char *key);
/* Index of the first setting with this role, or VD_NONE. */
uint16_t vd_model_find_role(const vd_model *model, vd_role role);
/* Whether this setting says how many decimals others have. */
bool vd_model_gives_places(const vd_model *model, uint16_t setting);
/* Refuses a model that contradicts itself: keys twice, registers that overlap or lie in a hole, ranges that do not
 * fit the registers, defaults that fail their own check, pairs that cannot go in one request.
 * VD_MODEL_INCONSISTENT; the fault names the setting and says what is wrong. */
vd_status vd_model_check(const vd_model *model, vd_fault *fault);

/* ---- Values ------------------------------------------------------------------------------------------------ */

/* A value. Equal values may look different: 36.5 and 36.50 are one value. */
typedef struct vd_value {
    uint8_t type;   /* vd_type; VD_NOTHING when not known */
    uint8_t places; /* decimals: `number` is the value times 10^places, 0 to 18 */
    uint16_t length;
    int64_t number;   /* integer, scaled decimal, 0 or 1, choice number, milliseconds */
    const char *text; /* `length` bytes, not terminated; owned by whoever made the value */
} vd_value;

/* Reads a value as a person types it: surrounding blanks are dropped; comma or point is the decimal mark; the
 * unit of measure may follow and must then be the setting's. Durations name their unit ("1 h 30 min"); 0 needs none.
 * The value is exact, as typed: neither range nor step is judged here. For texts `value->text` points into `text`.
 * Errors: the value faults of faults.h, with what is allowed. */
vd_status vd_value_parse(const vd_setting *setting, const char *text, size_t length, vd_value *value, vd_fault *fault);
/* Adds the value as people read it, with its unit; parsing that gives an equal value. A value of VD_NOTHING is
 * printed as "not known". */
void vd_value_print(const vd_setting *setting, const vd_value *value, vd_writer *writer);
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
/* Judges one value within its set: by itself, and its pair. VD_OK also for a value the set does not know.
 * VD_PLACES_NOT_KNOWN, VD_PAIR_NOT_KNOWN: cannot be judged with what the set knows. */
vd_status vd_set_check(const vd_set *set, uint16_t setting, vd_fault *fault);
/* Puts the link that a set describes by its address, baud and framing settings into `line` and `address`; what the
 * set does not know, or says in a form that is no line setting, leaves them as they are. */
void vd_set_link(const vd_set *set, vd_line *line, uint8_t *address);
/* How a setting stands in two sets. */
typedef enum vd_comparison { VD_SAME, VD_DIFFERENT, VD_ONLY_FIRST, VD_ONLY_SECOND, VD_IN_NEITHER } vd_comparison;
vd_comparison vd_set_compare(const vd_set *a, const vd_set *b, uint16_t setting);

/* ---- Units ------------------------------------------------------------------------------------------------- */

/* Who a unit is, as it says itself. Terminated printable text; "" where it does not say. */
typedef struct vd_identity {
    char maker[32];
    char product[32];
    char firmware[16];
    char serial[32];
} vd_identity;

/* Copies heard bytes to a terminated text of `size` bytes: control characters and bytes above 126 become '?',
 * trailing blanks and zeros go. */
void vd_identity_copy(char *text, size_t size, const uint8_t *bytes, size_t count);

#endif
