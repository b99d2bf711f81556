/* SPDX-License-Identifier: MIT
 * The days: which stretch a second is in, what is spread over it, and what the unit's clock says. */
#include "parts.h"

static const vd_day *day_of(const vd_course *course)
{
    return &course->plan->days[course->day];
}

/* The stretch that begins where the one before has ended. */
static void step_on(vd_course *course)
{
    const vd_day *day = day_of(course);
    int64_t midnight = course->stretch_to - course->stretch_to % VD_DAY_SECONDS;
    if (course->started && course->stretch_to == midnight) {
        course->day = (uint16_t)((course->day + 1u) % course->plan->day_count);
        course->stretch_index = 0;
    } else if (course->started) {
        course->stretch_index++;
    }
    day = day_of(course);
    course->stretch_from = course->stretch_to;
    bool rests = course->stretch_index >= day->stretch_count;
    course->stretch = &day->stretches[rests ? day->rest : course->stretch_index];
    int64_t next = midnight + VD_DAY_SECONDS;
    int64_t to = rests ? next : course->stretch_from + course->stretch->lasts;
    course->stretch_to = to < next ? to : next;
}

static void read_clock(vd_course *course)
{
    int64_t local = course->time + course->plan->clock_offset, week = (int64_t)7 * VD_DAY_SECONDS;
    local = (local % week + week) % week;
    course->clock = local % VD_DAY_SECONDS;
    course->weekday = (uint8_t)(local / VD_DAY_SECONDS);
}

bool vd_days_enter(vd_course *course)
{
    bool other = false;
    while (!course->started || course->time >= course->stretch_to) {
        step_on(course);
        course->started = other = true;
    }
    read_clock(course);
    return other;
}

/* Over the rest of a day nothing is spread: it has the inputs of its resting stretch only. */
static bool is_rest(const vd_course *course)
{
    return course->stretch_index >= day_of(course)->stretch_count;
}

uint32_t vd_spread_in(const vd_course *course, uint32_t times, int64_t time)
{
    int64_t second = time - course->stretch_from, lasts = course->stretch->lasts, parts = (int64_t)times + 1;
    if (is_rest(course) || times == 0) {
        return 0;
    }
    int64_t first = (second * parts + lasts - 1) / lasts, behind = ((second + 1) * parts + lasts - 1) / lasts;
    first = first < 1 ? 1 : first;
    behind = behind > parts ? parts : behind;
    return behind > first ? (uint32_t)(behind - first) : 0;
}

int64_t vd_spread_behind(const vd_course *course, uint32_t times)
{
    int64_t second = course->time - course->stretch_from, lasts = course->stretch->lasts, parts = (int64_t)times + 1;
    if (is_rest(course) || times == 0) {
        return VD_NEVER;
    }
    int64_t next = ((second + 1) * parts + lasts - 1) / lasts;
    next = next < 1 ? 1 : next;
    return next <= times ? course->stretch_from + next * lasts / parts : VD_NEVER;
}

int64_t vd_clock_until(const vd_course *course, int64_t clock)
{
    int64_t until = (clock - course->clock) % VD_DAY_SECONDS;
    return until > 0 ? until : until + VD_DAY_SECONDS;
}
