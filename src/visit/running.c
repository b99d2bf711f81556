/* SPDX-License-Identifier: MIT
 * Clocks and counters: what they are set to, and what they should have come to when they are read back. */
#include "visit_parts.h"

#define SECOND 1000000u /* microseconds */

void vd_visit_tell_time(vd_visit *visit, const vd_moment *moment, uint64_t at)
{
    visit->moment = *moment;
    visit->told_at = at;
}

void vd_running_take_time(vd_visit *visit)
{
    vd_set *const sets[] = {&visit->live, &visit->stored, &visit->desired, &visit->prior};
    vd_moment moment = visit->moment;
    moment.seconds += (int64_t)((visit->now - visit->told_at + SECOND / 2) / SECOND);
    for (size_t k = 0; k < sizeof sets / sizeof sets[0]; k++) {
        vd_set_tell_time(sets[k], &moment);
    }
}

void vd_running_set(vd_visit *visit)
{
    vd_running_take_time(visit);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        vd_value value = vd_set_get(&visit->desired, i);
        bool now = value.type == VD_CLOCK && value.number == VD_NOW;
        visit->set_at = value.type == VD_CLOCK && visit->which[i] == 1 ? visit->now : visit->set_at;
        visit->ledger[i].part |= now ? VD_PART_BY_NOW : 0u;
        if (vd_has_part(visit, i, VD_PART_BY_NOW) && vd_set_now(&visit->desired, i, &value.number)) {
            vd_set_put(&visit->desired, i, &value);
        }
    }
}

/* What a clock should show. False: not known. */
static bool should_show(const vd_visit *visit, uint16_t clock, int64_t *seconds)
{
    bool sent = visit->ledger[clock].sending != VD_UNSENT && visit->set_at != 0;
    uint64_t since = sent ? visit->set_at : visit->read_at;
    *seconds = vd_set_get(&visit->desired, clock).number;
    if (vd_has_part(visit, clock, VD_PART_BY_NOW) || *seconds == VD_NOW) {
        return vd_set_now(&visit->desired, clock, seconds);
    }
    *seconds += (int64_t)((visit->now - since + SECOND / 2) / SECOND);
    return true;
}

bool vd_running_fits(const vd_visit *visit, const vd_value *is, uint16_t setting)
{
    const vd_setting *about = &visit->model->settings[setting];
    vd_value wanted = vd_set_get(&visit->desired, setting);
    int64_t should = wanted.number;
    if (!vd_setting_is(about, VD_TYPE_RUNS) || is->type == VD_NOTHING || wanted.type == VD_NOTHING) {
        return false;
    }
    if (about->traits->id == VD_COUNTER) { /* what nobody wrote may have counted as far as it likes */
        bool written = visit->ledger[setting].sending != VD_UNSENT;
        int64_t counts = 0;
        return vd_set_to_count(&visit->live, setting, is, &counts, NULL) == VD_OK &&
               vd_set_to_count(&visit->live, setting, &wanted, &should, NULL) == VD_OK && counts >= should &&
               (!written || counts - should <= about->tolerance);
    }
    if (!should_show(visit, setting, &should)) {
        return false;
    }
    return is->number >= should - about->tolerance && is->number <= should + about->tolerance;
}
