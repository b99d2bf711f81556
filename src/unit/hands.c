/* SPDX-License-Identifier: MIT
 * What a hand does to a unit: when it listens, and takes what changes it. */
#include "parts.h"

void vd_unit_listen_from(vd_unit *unit, uint64_t from)
{
    unit->listens_from = from;
    unit->last_request = from;
    unit->announced = false;
}

void vd_unit_hold_button(vd_unit *unit, uint64_t now, uint32_t milliseconds)
{
    const vd_listening *listening = &unit->model->listening;
    uint64_t then = now + (uint64_t)milliseconds * 1000u;
    unit->cleared_at = now; /* what its alarms make of that is worked out with them */
    unit->cleared = false;
    if (listening->hand.hold > 0 && milliseconds >= listening->hand.hold && unit->off_until == VD_NEVER) {
        vd_unit_listen_from(unit, then + (uint64_t)listening->after * 1000u);
    }
    if (listening->writing.hold > 0 && milliseconds >= listening->writing.hold && unit->off_until == VD_NEVER) {
        unit->writable_from = then;
        unit->last_request = unit->last_request > then ? unit->last_request : then;
    }
}

static bool has_lapsed(const vd_unit *unit, const vd_by_hand *hand, uint64_t now)
{
    uint64_t lasts = (uint64_t)hand->lasts * 1000u;
    return hand->hold > 0 && lasts > 0 && now >= unit->last_request + lasts;
}

bool vd_unit_listens(const vd_unit *unit, uint64_t now)
{
    const vd_listening *listening = &unit->model->listening;
    return now >= unit->listens_from && unit->off_until == VD_NEVER && !has_lapsed(unit, &listening->hand, now);
}

bool vd_unit_takes_changes(const vd_unit *unit, uint64_t now)
{
    const vd_by_hand *hand = &unit->model->listening.writing;
    return hand->hold == 0 || (now >= unit->writable_from && !has_lapsed(unit, hand, now));
}
