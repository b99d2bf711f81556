/* SPDX-License-Identifier: MIT
 *
 * Setting: one thing that a unit can be set to or tells. What type of value it has, what it takes, where it lives on
 * the wire.
 */
#ifndef VERDITE_SETTING_H
#define VERDITE_SETTING_H

#include <stdbool.h>
#include <stdint.h>
#include "verdite/causes.h"
#include "verdite/motion.h"
#include "verdite/ref.h"
#include "verdite/types.h"

VD_C_BEGIN

/* Which way a value goes. */
typedef enum vd_access { VD_READ_WRITE, VD_READ_ONLY, VD_WRITE_ONLY } vd_access;

/* Who may do a thing. */
typedef enum vd_right { VD_ANYONE, VD_FITTER, VD_MAKER } vd_right; /* fitter: after the login, where there is one */

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

/* What a value has to be among all units. */
typedef enum vd_among {
    VD_AMONG_ANY,
    VD_AMONG_UNIQUE, /* no two units may have the same, but for the factory default */
    VD_AMONG_SHARED  /* several have the same on purpose, also of what else would be a single unit's own */
} vd_among;

/* One of the values that a setting can have by name. */
typedef struct vd_choice {
    const char *name;  /* as typed and printed */
    const char *label; /* what it means, or "" */
    int32_t number;    /* as the unit holds it */
} vd_choice;

/* Where a value lives in a unit that talks in lines: a field of a record. A record is what one word reads or sets,
 * such as +ALRM: 2,1,65.0. */
typedef enum vd_saying {
    VD_SAID_USUALLY,  /* numbers in digits, choices and truths by their number, texts as texts */
    VD_SAID_BY_NAME,  /* choices and truths by name in capitals, with _ for a hyphen: ON, OFF, LONG_RANGE */
    VD_SAID_IN_COUNTS /* decimals without the mark, as the whole number that the unit holds */
} vd_saying;
/* Where a value lives in a unit that talks in lines: a field of a record. */
typedef struct vd_field {
    const char *word; /* the record's; NULL in units that have registers. In queries # stands for the item's number */
    uint16_t item;    /* of records that repeat: the number, from 1; 0: it does not repeat */
    uint8_t number;   /* which of the record's fields, from 0 */
    uint8_t saying;   /* vd_saying */
} vd_field;

/* What makes a unit do a thing: in lines a word, and what follows it; in registers a value in a holding register. */
typedef struct vd_order {
    const char *word, *argument; /* the word, NULL or "": there is none; what follows it, or "" */
    uint16_t address, value;     /* the register, and what is written there */
} vd_order;

/* Where a value lives on the wire: plain data that only wire/ interprets. */
typedef enum vd_table { VD_HOLDING, VD_INPUT, VD_COIL, VD_DISCRETE } vd_table; /* Modbus data model, AP 4.3 */
/* What the bits of a place are. */
typedef enum vd_form { VD_UNSIGNED, VD_SIGNED, VD_CHARACTERS } vd_form; /* characters: two to a register */
/* Which register of several comes first. */
typedef enum vd_word_order { VD_HIGH_FIRST, VD_LOW_FIRST } vd_word_order;
/* Where a value lives in a unit that has registers. */
typedef struct vd_place {
    uint8_t table;    /* vd_table */
    uint8_t form;     /* vd_form */
    uint8_t order;    /* vd_word_order, for numbers of several registers */
    uint8_t words;    /* registers: 1, 2 or 4 for numbers, 1 to 64 for bytes; coils and discrete inputs: 1 */
    uint16_t address; /* protocol address of the first register or coil, from 0 */
    uint8_t low_bit;  /* a field inside one register: its lowest bit, 0 to 15 */
    uint8_t bits;     /* and its width, 1 to 15; 0: the whole register or registers */
} vd_place;

/* A unit of measure that a model adds to those that Verdite knows. */
typedef struct vd_own_measure {
    const char *sign;      /* as it stands behind a value, e.g. "kn" */
    const char *of;        /* one that Verdite knows, e.g. "km/h"; "" where the new one stands for itself */
    const char *spellings; /* how people type it too, with blanks between, or "" */
    int64_t number, below; /* one of it is number / below of those; 1 / 1 where it stands for itself */
} vd_own_measure;

/* What a unit makes of a value that it does not take as it is. */
typedef enum vd_keeping {
    VD_REFUSES,
    VD_KEEPS_CAPITALS,
    VD_KEEPS_NEAREST
} vd_keeping; /* nearest: rounds to its step */

/* How the end of a text shows that none of it was mistyped. */
typedef enum vd_check {
    VD_CHECK_NONE,
    VD_CHECK_LUHN,   /* one digit (ISO/IEC 7812-1 annex B) */
    VD_CHECK_MOD_10, /* one digit, weights 3 and 1 (ISO/IEC 15420, GS1 General Specifications 7.9) */
    VD_CHECK_MOD_97  /* two digits, behind digits and letters (ISO/IEC 7064, MOD 97-10) */
} vd_check;

typedef struct vd_setting vd_setting;

/* What a setting has otherwise in some of the units: of one variant, of some firmware. Never more than it has
 * elsewhere. */
typedef struct vd_edition {
    const char *variant;      /* its key; NULL: any */
    uint32_t from, below;     /* firmware, as vd_firmware_parse() has it; 0: any */
    int64_t min, max, step;   /* where step is above 0 */
    int64_t initial;          /* where has_initial; of a type that is bytes the length of initial_text */
    const char *initial_text; /* another factory default of a type that is bytes, or NULL */
    const vd_choice *choices; /* some of the setting's; NULL: all */
    uint16_t choice_count;    /* of `choices` */
    bool has_initial;         /* it has another factory default */
} vd_edition;

/* What a setting is like where another one makes this choice: it has the unit, decimals, scale and range of `of`. */
typedef struct vd_likeness {
    int32_t number;       /* of the choice */
    const vd_setting *of; /* a number */
} vd_likeness;

/* What only people need of a setting. */
typedef struct vd_setting_words {
    const char *key;     /* unique in the model, e.g. "weight.low-limit" */
    const char *label;   /* a short name for people */
    const char *help;    /* what it means, one or two sentences */
    const char *example; /* texts with a pattern: one of them, or NULL */
    const char *when;    /* expression: the setting exists only then; "" or NULL: always */
    const char *because; /* why it does not exist otherwise, a sentence */
} vd_setting_words;

/* Of a setting in tables without words: all of them empty. */
extern const vd_setting_words vd_no_words;

/* One setting. Ranges are in counts: the whole number that the unit holds. A number's count is the number itself; of
 * types that have a tick, it is the value divided by the tick; a decimal's value times 10^places is count * scale +
 * offset. */
struct vd_setting {
    const vd_setting_words *words; /* what only people need */
    const vd_type_traits *traits;  /* its type: one of those in types.h */
    const char *measure;           /* unit of measure, e.g. "kg"; "" for none. Only integers and decimals have one. */
    const char *spellings;    /* how people type the unit of measure too, with blanks between; NULL: in no other way */
    const vd_choice *choices; /* of types that have them */
    const char *alphabet;     /* texts: the characters it takes, "A-Z" for a range; NULL: printable ASCII */
    const char *pattern;      /* texts: what they look like as a whole (docs/model.md); NULL: they need not */
    const char *initial_text; /* factory default of a type that is bytes, or NULL; `initial` is its length */
    int64_t min, max, step;   /* counts; step at least 1, counted from min */
    int64_t initial;          /* factory default, a count, where has_initial */
    int64_t tolerance;        /* clocks: seconds by which one may be off; counters: counts by which one may be ahead of
                                 what was written when it is read back */
    int64_t scale, offset;    /* decimals: see above, 0 for 1 and 0; only where places_from is none */
    uint32_t tick;            /* durations: milliseconds per count; times of day: seconds; zones: minutes; at least 1 */
    uint16_t choice_count;    /* of `choices` */
    vd_ref places_from;       /* the setting that says how many decimals this one has, or what it is like */
    vd_ref zone_from;         /* clocks: the setting that says in which zone it runs */
    int16_t zone;             /* else minutes east of UTC, or VD_ZONE_HERE */
    uint16_t like_count;      /* of `like`; 0: what this setting is does not hang on another's choice */
    const vd_likeness *like;  /* what it may be like */
    const uint16_t *sets;     /* other settings that writing it sets, e.g. to a preset that is named like its choice */
    uint16_t set_count;       /* of `sets` */
    vd_causes causes;         /* what writing it brings about besides */
    const vd_edition *editions;  /* what it has otherwise in some units */
    uint16_t edition_count;      /* of `editions` */
    uint16_t least, length;      /* types that are bytes: fewest and most bytes */
    vd_ref block;                /* the repeated block that it belongs to */
    uint16_t item;               /* and the number of the item, from 0 */
    uint8_t access;              /* vd_access */
    uint8_t read_by, written_by; /* vd_right */
    uint8_t role;                /* vd_role */
    uint8_t group;               /* index into the model's groups */
    uint8_t places;              /* decimals: number of decimal places, 0 to 9, where places_from is none */
    bool conditional;            /* it exists only when its `when` holds */
    bool has_initial;            /* it has a factory default that is a count */
    bool gives_places;           /* others have this one as their places_from */
    bool essential;              /* among the few that are shown first */
    bool secret;                 /* never shown, never saved with what was read */
    bool own;                /* it belongs to the single unit (a tare, a key); so do address and name, by their roles */
    bool placeholder;        /* the factory default stands for a value that must be supplied */
    bool or_empty;           /* types that are bytes: none at all will do too, whatever `least` */
    bool once;               /* a write of it whose outcome is not known is never sent again */
    uint8_t keeps;           /* vd_keeping */
    uint8_t check;           /* texts: vd_check */
    uint8_t among;           /* vd_among */
    vd_place place;          /* where it lives in a unit that has registers */
    vd_field field;          /* where it lives in a unit that talks in lines */
    const vd_motion *motion; /* how it moves in a unit that is played; NULL: it stands still */
};

/* Whether the type of a setting has a trait, one of VD_TYPE_BYTES and those beside it. */
static inline bool vd_setting_is(const vd_setting *setting, uint8_t trait)
{
    return (setting->traits->is & trait) != 0;
}

/* How a setting moves in a unit that is played. */
static inline vd_motion_way vd_setting_moves(const vd_setting *setting)
{
    return setting->motion != NULL ? (vd_motion_way)setting->motion->way : VD_STANDS_STILL;
}

VD_C_END

#endif
