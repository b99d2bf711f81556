/* SPDX-License-Identifier: MIT
 *
 * Unit course: has a unit that is played live through days: its readings show what its intervals come to, and it says
 * unasked what its model has it say. Linked only where it is used. docs/intervals.md says what happens when.
 */
#ifndef VERDITE_UNIT_COURSE_H
#define VERDITE_UNIT_COURSE_H

#include "verdite/course.h"
#include "verdite/unit.h"

VD_C_BEGIN

/* Bytes that a unit needs to follow days; 0: its model has no intervals. */
size_t vd_unit_course_size(const vd_model *model);
/* Has a unit follow days, which begin with 0:00 now, and again with each start and each setting of its intervals that
 * becomes another. `memory` is aligned for uint64_t; it and the days are kept. VD_MEMORY_TOO_SMALL. */
vd_status vd_unit_follow_days(vd_unit *unit, const vd_day *days, uint16_t count, void *memory, size_t size,
                              uint64_t now);

VD_C_END

#endif
