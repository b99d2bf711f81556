/* SPDX-License-Identifier: MIT
 * What the files of core/ know about values beyond the public header. */
#ifndef VD_CORE_VALUE_H
#define VD_CORE_VALUE_H

#include "verdite/core.h"

/* Multiplies by 10^places; false, with the number spoilt, when it does not fit. */
bool vd_scale_up(int64_t *number, unsigned places);

/* The greatest count whose value is not above `value`, and whether it is that value exactly. False when it does
 * not fit 64 bits. Not for texts. */
bool vd_count_at_or_below(const vd_setting *setting, const vd_value *value, unsigned places, int64_t *count,
                          bool *exact);

/* Records a fault that quotes a value and says what the setting takes. */
vd_status vd_fault_note_value(vd_fault *fault, vd_status status, const vd_setting *setting, const vd_value *value,
                              unsigned places);

/* Whether what was typed names this unit of measure, by its own sign or by another usual spelling. */
bool vd_measure_matches(const char *measure, const char *typed, size_t length);

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
