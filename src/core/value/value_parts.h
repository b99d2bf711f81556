/* SPDX-License-Identifier: MIT
 * What the files of core/ know about values beyond the public headers. */
#ifndef VD_CORE_VALUE_PARTS_H
#define VD_CORE_VALUE_PARTS_H

#include "../text/span.h"
#include "verdite/rules.h"
#include "verdite/types.h"

/* Whether a character is one of a class such as "A-Z0-9". */
bool vd_in_class(vd_span class, char c);
/* Whether a text as a whole looks like a pattern that is sound; whether its check digits fit, and which ones would: -1
 * where it is no text that could have any. */
bool vd_pattern_matches(const char *pattern, vd_span text);
bool vd_check_fits(vd_check check, vd_span text, int *fitting);

/* Records a fault that quotes what was typed and says what the setting takes. */
vd_status vd_fault_note_typed(vd_fault *fault, vd_status status, const vd_meaning *meaning, vd_span typed);
/* Records that the check digit of what was typed is not the fitting one. */
vd_status vd_note_check_digit(const vd_meaning *meaning, vd_span typed, int fitting, vd_fault *fault);
/* Records a fault that quotes a value and says what the setting takes. */
vd_status vd_fault_note_value(vd_fault *fault, vd_status status, const vd_meaning *meaning, const vd_value *value);

/* ---- Types ---- */

#define VD_DECLARE_WORDS_(name, id, check, length, is) extern const vd_type_words vd_words_##name; /* type_*.c */
VD_TYPE_LIST(VD_DECLARE_WORDS_)
#undef VD_DECLARE_WORDS_

/* Checks that several types share: range and step of a count; nothing at all; length of bytes. */
vd_status vd_check_ranged(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_nothing(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_length(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_plain_text(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
/* Those of one type each. */
vd_status vd_check_text(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_choice(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_flags(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_mask(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_gateway(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_running(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
vd_status vd_check_position(const vd_meaning *meaning, const vd_value *value, vd_fault *fault);
/* Prints bytes as text; none of them is to steer a terminal. */
void vd_print_characters(const vd_setting *setting, const vd_value *value, vd_writer *writer);
/* "LOW to HIGH in steps of STEP". */
void vd_print_range(const vd_meaning *meaning, vd_writer *writer);
/* A duration as people read it; units of time that are 0 are left out. */
void vd_print_duration(int64_t milliseconds, vd_writer *writer);
/* Whether a host name is in order (RFC 1123 clause 2.1), up to 253 characters. */
bool vd_is_host(vd_span name);

/* ---- Counts ---- */

/* Multiplies by 10^places; false, with the number spoilt, when it does not fit. */
bool vd_scale_up(int64_t *number, unsigned places);
/* The greatest count whose value is not above `value`, and whether it is that value exactly. False when it does
 * not fit 64 bits. Not for types that are bytes. */
bool vd_count_at_or_below(const vd_meaning *meaning, const vd_value *value, int64_t *count, bool *exact);

/* ---- Units of measure (measure.c) ---- */

/* Whether what was typed names a unit of measure, by its own sign or by another spelling: one of those (NULL: none)
 * with blanks between, or one that everybody knows. */
bool vd_measure_matches(const char *measure, const char *others, vd_span typed);

/* The units of time, longest first. */
typedef struct vd_time_unit {
    const char *name;
    int64_t milliseconds;
} vd_time_unit;
#define VD_TIME_UNITS 5u
extern const vd_time_unit vd_time_units[VD_TIME_UNITS];
/* The length of a unit of time as typed ("h", "hours", ...) in milliseconds, 0 when it is none. */
int64_t vd_time_unit_find(const char *typed, size_t length);

#endif
