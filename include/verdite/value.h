/* SPDX-License-Identifier: MIT
 *
 * Value: what a setting holds. Parsed, printed, judged; exact.
 */
#ifndef VERDITE_VALUE_H
#define VERDITE_VALUE_H

#include "verdite/notes.h"
#include "verdite/setting.h"
#include "verdite/writer.h"

VD_C_BEGIN

/* A value. Equal values may look different: 36.5 and 36.50 are one value. */
typedef struct vd_value {
    uint8_t type;        /* vd_type; VD_NOTHING when not known */
    uint8_t places;      /* decimals: `number` is the value times 10^places, 0 to 18 */
    uint16_t length;     /* of `text`, bytes */
    int64_t number;      /* integer, scaled decimal, 0 or 1, choice number, milliseconds */
    const char *text;    /* `length` bytes, not terminated; owned by whoever made the value */
    const char *measure; /* its unit, where the setting is like what another one chooses; NULL: the setting's own */
} vd_value;

#define VD_MOST_BYTES 256u /* bytes that a value of any type has at most */

/* What a setting takes and how it counts, in a unit: as its edition has it, and what it is like. */
typedef struct vd_meaning {
    const vd_setting *of;                  /* the setting */
    const char *measure, *spellings;       /* see vd_setting, as is what follows */
    const vd_choice *choices;              /* what it can be by name */
    int64_t min, max, step, scale, offset; /* counts */
    uint16_t choice_count;                 /* of `choices` */
    uint8_t places;                        /* decimals; where they are not known those from the factory */
    bool places_known;                     /* they are, and what it is like */
} vd_meaning;
/* What a setting means as its model has it; what another setting says of it is not known. */
vd_meaning vd_setting_meaning(const vd_setting *setting);

/* A value that was typed, with room for its bytes. Do not copy it: `value.text` may point into it. */
typedef struct vd_typed {
    vd_value value;            /* the value; its text may point into `bytes` */
    char bytes[VD_MOST_BYTES]; /* room for a text */
} vd_typed;

/* Reads a value as a person types it: surrounding blanks are dropped; comma or point is the decimal mark; the
 * unit of measure may follow and must then be the setting's. Durations name their unit ("1 h 30 min"); 0 needs none.
 * Separators that people put into numbers, addresses and identifiers are dropped.
 * The value is exact, as typed: neither range nor step is judged here.
 * Errors: the value faults of fault_list.h, with what is allowed. */
vd_status vd_value_parse(const vd_meaning *meaning, const char *text, size_t length, vd_typed *typed, vd_fault *fault);
/* The same with what a setting means as its model has it. */
vd_status vd_setting_parse(const vd_setting *setting, const char *text, size_t length, vd_typed *typed,
                           vd_fault *fault);
/* Adds the value in its one canonical form, with its unit; parsing that gives an equal value. A value of VD_NOTHING is
 * printed as "not known". Secrets are printed as well: see vd_value_show(). */
void vd_value_print(const vd_setting *setting, const vd_value *value, vd_writer *writer);
/* The same for the eyes of people: a secret is shown as "(secret)". */
void vd_value_show(const vd_setting *setting, const vd_value *value, vd_writer *writer);
/* Overwrites what was secret; no compiler leaves that out. */
void vd_wipe(void *memory, size_t size);
/* Adds the nearest form of a typed text that this setting can hold: capitals, plain letters for accented ones, cut to
 * length. Adds nothing when there is none or the type is no text. */
void vd_print_nearest(const vd_setting *setting, const char *text, size_t length, vd_writer *writer);
/* Whether a pattern of texts can be understood (docs/model.md). */
bool vd_pattern_is_sound(const char *pattern);
/* Whether two values are the same, exactly. Two unknown values are not equal. */
bool vd_value_equal(const vd_value *a, const vd_value *b);
/* The name of the choice that the unit holds as this number; NULL: there is none. */
const char *vd_choice_name(const vd_setting *setting, int64_t number);
/* The factory default, VD_NOTHING where there is none; its text is the model's. */
vd_value vd_setting_initial(const vd_setting *setting);
/* The value that stands for `count` in a unit; VD_NOTHING where it is beyond what can be kept. */
vd_value vd_value_from_count(const vd_meaning *meaning, int64_t count);
/* The distance between two values that lie so many counts apart. */
vd_value vd_distance_from_counts(const vd_meaning *meaning, int64_t counts);
/* The count for a value; not for texts.
 * VD_OFF_STEP when it lies between two counts: the fault names both neighbours. */
vd_status vd_value_to_count(const vd_meaning *meaning, const vd_value *value, int64_t *count, vd_fault *fault);
/* Judges a value by itself: range, step, choice, length, alphabet. */
vd_status vd_value_check(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
/* The same with what a setting means as its model has it. */
vd_status vd_setting_check(const vd_setting *setting, const vd_value *value, vd_fault *fault);
/* Adds what this setting takes, e.g. "0.0 to 200.0 kg in steps of 0.1 kg". */
void vd_meaning_print(const vd_meaning *meaning, vd_writer *writer);

VD_C_END

#endif
