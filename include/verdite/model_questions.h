/* SPDX-License-Identifier: MIT
 *
 * Models: what can be asked of a model, who a unit is, and how a model is judged and prepared.
 */
#ifndef VERDITE_MODEL_QUESTIONS_H
#define VERDITE_MODEL_QUESTIONS_H

#include "verdite/fault.h"
#include "verdite/model.h"

VD_C_BEGIN

#define VD_SERIAL_MOST 64u /* characters of a serial number */

/* Who a unit is, as it says itself. Terminated printable text; "" where it does not say. */
typedef struct vd_identity {
    char maker[32];                  /* who made it */
    char product[32];                /* what it is */
    char firmware[16];               /* its version, as the unit says it */
    char serial[VD_SERIAL_MOST + 2]; /* longer than VD_SERIAL_MOST: it was cut, see vd_identity_is_cut() */
} vd_identity;

/* Copies heard bytes to a terminated text of `size` bytes: control characters and bytes above 126 become '?',
 * trailing blanks and zeros go. */
void vd_identity_copy(char *text, size_t size, const uint8_t *bytes, size_t count);
/* Takes heard bytes for the serial number. Trailing blanks and zeros go; what cannot be shown, and '<', stands as
 * "<hh>", so that two that differ never look alike. */
void vd_identity_take_serial(vd_identity *identity, const uint8_t *bytes, size_t count);
/* Whether the serial number was longer than VD_SERIAL_MOST: units whose numbers were cut cannot be told apart. */
bool vd_identity_is_cut(const vd_identity *identity);

/* Whether its units have an address, so that several share a line. */
bool vd_model_has_address(const vd_model *model);
/* Whether what was damaged on the line is seen. */
bool vd_model_has_check(const vd_model *model);
/* Whether an answer says by itself what it answers. */
bool vd_model_names_answers(const vd_model *model);
/* Whether setting `a` comes after setting `b`, by their numbers. */
typedef bool vd_setting_after(const void *about, uint16_t a, uint16_t b);
/* Sorts `count` numbers of settings in place; `about` is handed to `after`. What is equal may change places. */
void vd_settings_sort(uint16_t *order, uint16_t count, vd_setting_after *after, const void *about);
/* Whether a unit shows what a setting holds: it is not write-only, and not for its maker's eyes only. */
bool vd_setting_is_shown(const vd_setting *setting);
/* Whether a setting belongs to the single unit, so that another one does not get it from a profile of this one. */
bool vd_setting_is_own(const vd_setting *setting);
/* Whether writing a setting sets another one, as loading a slot does. */
bool vd_setting_sets(const vd_model *model, uint16_t setting, uint16_t other);
/* Whether writing it sets any other. */
bool vd_setting_sets_any(const vd_model *model, uint16_t setting);
/* Whether slots have a copy of a setting. */
bool vd_slots_hold(const vd_model *model, uint16_t setting);
/* Whether a slot, by its number from 1, can be saved. */
bool vd_slot_is_writable(const vd_model *model, uint8_t slot);
/* Whether writing it makes the unit restart by itself. */
bool vd_setting_restarts(const vd_setting *setting);
/* Index of the setting with this key, or VD_NONE. */
uint16_t vd_model_find(const vd_model *model, const char *key);
/* Index of the group with this key (as typed: case does not matter), or VD_NONE. */
uint16_t vd_model_find_group(const vd_model *model, const char *key);
/* Index of the first setting with this role, or VD_NONE. */
uint16_t vd_model_find_role(const vd_model *model, vd_role role);
/* Whether all units on a line hear what is sent to nobody in particular. */
bool vd_model_has_broadcast(const vd_model *model);
/* Whether a setting can be written so, which a field of bits cannot: the rest of its register would have to be read
 * first. */
bool vd_model_broadcasts(const vd_model *model, uint16_t setting);
/* Whether one of two settings is never written without the other being said again: they share a record, or are
 * fields of bits in one register. */
bool vd_model_writes_together(const vd_model *model, uint16_t a, uint16_t b);
/* Index of the reading, a duration, that tells how long the unit has been running, or VD_NONE where the model names
 * none. */
uint16_t vd_model_running_time(const vd_model *model);
/* Whether Verdite can log in to such a unit by itself. */
bool vd_model_logs_in(const vd_model *model);
/* A setting that only who is logged in may read; VD_NONE where there is none, or no login. */
uint16_t vd_model_witness(const vd_model *model);
/* Whether it names anything that only a restart brings about: its running time, what a restart undoes, or the line by
 * which it says that it has started. Without that no restart of such a unit proves anything. */
bool vd_model_shows_restart(const vd_model *model);
/* What a unit of measure that a model adds ought to be and is not, in words; NULL: it is in order. */
const char *vd_own_measure_wrong(const vd_own_measure *measure);
/* The action that restarts a unit, or NULL. */
const vd_action *vd_model_restart(const vd_model *model);
/* The variant whose product name an identity bears, or VD_NONE. */
uint16_t vd_model_variant(const vd_model *model, const vd_identity *identity);
/* Whether a unit with this identity is of this model. */
bool vd_model_fits(const vd_model *model, const vd_identity *identity);
/* Whether a variant of a model (VD_NONE: what has to do with no variant) meets a requirement, as typed: KEY, KEY=WORD
 * or KEY>=NUMBER. False also when the model says nothing about it. VD_NO_SUCH_KEY when the requirement cannot be read.
 */
vd_status vd_model_meets(const vd_model *model, uint16_t variant, const char *requirement, bool *meets,
                         vd_fault *fault);
/* A firmware version such as "1.4" or "2.10.3" as a number that grows with it (three parts of up to 999); 0 when it is
 * no version. */
uint32_t vd_firmware_parse(const char *text);
/* Adds such a number as a version, its last part only where it is not 0. */
void vd_firmware_print(uint32_t firmware, vd_writer *writer);

/* Where in a model something is wrong: number 1 of VD_MODEL_INCONSISTENT. */
typedef enum vd_where {
    VD_IN_WHOLE, /* the setting as a whole, or the model */
    VD_IN_RANGE, /* of a setting: what it takes */
    VD_IN_LENGTH,
    VD_IN_PLACE, /* where it lives on the wire */
    VD_IN_DEFAULT,
    VD_IN_EDITIONS,
    VD_IN_IDENTIFY, /* of the model */
    VD_IN_LINE,
    VD_IN_SPEECH,
    VD_IN_STORE,
    VD_IN_RESTART,
    VD_IN_LOGIN,
    VD_IN_ACTIONS,
    VD_IN_ABILITIES,
    VD_IN_SLOTS,
    VD_IN_SETS,
    VD_IN_CHANNELS, /* number 2: which channel, condition, alarm, counted from 0; number 3: vd_alarm_place */
    VD_IN_CONDITIONS,
    VD_IN_ALARMS,
    VD_IN_INTERVALS /* number 2: which item, counted from 0 */
} vd_where;
/* Which part of a channel, condition or alarm is wrong: vd_fault.number[2]. */
typedef enum vd_alarm_place {
    VD_OF_ALL,
    VD_OF_SOURCE, /* what it watches */
    VD_OF_TEST,   /* its comparisons */
    VD_OF_RELEASE,
    VD_OF_CONDITIONS,
    VD_OF_LATCH,
    VD_OF_LONGEST,
    VD_OF_MEMBERS, /* which alarms it combines */
    VD_OF_WORDS    /* what it says unasked */
} vd_alarm_place;

#define VD_IN_FORMULA 3 /* number 2 of VD_EXPRESSION_WRONG: in a formula of a channel, condition or alarm */

typedef struct vd_desk vd_desk; /* language.h */

/* Is told each thing that is wrong; `rule` is the rule it is in, the formula where number 2 of the fault says so, or
 * VD_NONE. */
typedef void vd_complain(void *about, const vd_fault *fault, uint16_t rule);
/* Bytes that preparing a model needs at most. */
size_t vd_model_prepare_size(const vd_model *model);
/* Judges a model, all of it, its places by the desk of its language, and compiles its expressions into `memory`
 * (aligned for uint64_t), which the model keeps using. Refused is a model that contradicts itself: keys twice,
 * registers that overlap or lie in a hole, ranges that do not fit the registers, defaults that fail their own check or
 * break a rule, expressions that name nothing, mix units of measure or go in circles. Returns the first fault;
 * `complain` (NULL: nobody) is told of every one. VD_MEMORY_TOO_SMALL, VD_MODEL_INCONSISTENT, VD_EXPRESSION_WRONG
 * (number 1: the column, number 2: 0 in `when`, 1 in `must`, 2 in `say`). */
vd_status vd_model_prepare(vd_model *model, const vd_desk *desk, void *memory, size_t size, vd_complain *complain,
                           void *about, vd_fault *fault);

VD_C_END

#endif
