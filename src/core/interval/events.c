/* SPDX-License-Identifier: MIT
 * Events that are no counters. */
#include "parts.h"

/* A closed gate lets nothing through; one that is late lets it through once it is open. */
static bool passes(vd_course *course, uint16_t i, bool happens)
{
    vd_part *part = &course->parts[i];
    bool late = vd_item_at(course, i)->closed == VD_CLOSED_LATE, waits = happens || (late && part->queue > 0);
    bool open = vd_gate_is_open(course, i);
    part->queue = late && waits && !open;
    return waits && open;
}

static bool strikes(const vd_course *course, const vd_part *part)
{
    int64_t behind = course->clock - part->other;
    return !part->none && (part->span > 0 ? behind >= 0 && behind % part->span == 0 : behind == 0);
}

static uint32_t sum_of(const vd_course *course, uint16_t i, const vd_item *item)
{
    uint32_t sum = 0;
    for (uint8_t k = 0; k < item->of_count; k++) {
        sum += vd_sees(course, i, item->of[k]);
    }
    return sum;
}

void vd_event_play(vd_course *course, uint16_t i)
{
    const vd_item *item = vd_item_at(course, i);
    vd_part *part = &course->parts[i];
    uint32_t here = item->kind != VD_ITEM_BY_CLOCK && item->kind != VD_ITEM_HAPPENS ? sum_of(course, i, item) : 0;
    bool began = here > 0 && !part->saw, ended = here == 0 && part->saw;
    const uint32_t *happens = course->stretch->happens;
    switch (item->kind) {
    case VD_ITEM_BEGINS:
    case VD_ITEM_ENDS:
        part->now = course->time > 0 && (item->kind == VD_ITEM_BEGINS ? began : ended);
        part->saw = here > 0;
        break;
    case VD_ITEM_HAPPENS:
        part->now = happens != NULL && vd_spread_in(course, happens[item->input], course->time) > 0;
        break;
    case VD_ITEM_ANY_OF: part->now = passes(course, i, here > 0); break;
    case VD_ITEM_BY_CLOCK:
        course->known = course->known && !part->unknown;
        part->now = passes(course, i, strikes(course, part));
        break;
    default:
        part->queue += here;
        part->now = part->queue > 0;
        part->queue -= part->now;
        break;
    }
}

/* The next time of day at which it strikes. */
static int64_t next_strike(const vd_course *course, const vd_part *part)
{
    int64_t at = part->other;
    if (part->none || part->other >= VD_DAY_SECONDS) {
        return VD_NEVER;
    }
    if (part->span > 0) {
        int64_t behind = course->clock - part->other;
        int64_t first = part->other >= 0 ? part->other : (part->other % part->span + part->span) % part->span;
        at = behind < 0 ? part->other : part->other + (behind / part->span + 1) * part->span;
        at = at < VD_DAY_SECONDS ? at : first;
    }
    return at >= 0 && at < VD_DAY_SECONDS ? course->time + vd_clock_until(course, at) : VD_NEVER;
}

int64_t vd_event_wake(const vd_course *course, uint16_t i)
{
    const vd_item *item = vd_item_at(course, i);
    const vd_part *part = &course->parts[i];
    uint16_t of = item->of_count > 0 ? item->of[0] : i;
    const vd_part *about = &course->parts[of];
    bool again = false;
    switch (item->kind) {
    case VD_ITEM_BEGINS:
    case VD_ITEM_ENDS: /* what it saw, and what it will see */ again = part->saw != about->now; break;
    case VD_ITEM_HAPPENS:
        return course->stretch->happens != NULL ? vd_spread_behind(course, course->stretch->happens[item->input])
                                                : VD_NEVER;
    case VD_ITEM_IN_TURN: again = part->queue > 0; break;
    default: again = part->queue > 0 && vd_gate_is_open(course, i); break;
    }
    int64_t strike = item->kind == VD_ITEM_BY_CLOCK ? next_strike(course, part) : VD_NEVER;
    return again ? course->time + 1 : strike;
}
