/* SPDX-License-Identifier: MIT
 * What was read, held against what is wanted. */
#include "visit_parts.h"

static vd_reading held_against(const vd_visit *visit, const vd_set *read, uint16_t setting)
{
    vd_value is = vd_set_get(read, setting);
    if (!vd_set_heard(read, setting)) {
        return VD_UNREAD;
    }
    if (vd_set_compare(read, &visit->desired, setting) == VD_SAME || vd_running_fits(visit, &is, setting)) {
        return VD_AS_WANTED;
    }
    return vd_set_compare(read, &visit->prior, setting) == VD_SAME ? VD_AS_BEFORE : VD_OTHERWISE;
}

/* A counter that nobody asked to be otherwise counts as it likes. */
static bool only_counts(const vd_visit *visit, uint16_t setting)
{
    return visit->model->settings[setting].traits->id == VD_COUNTER && !vd_has_part(visit, setting, VD_PART_ASKED) &&
           visit->ledger[setting].sending == VD_UNSENT;
}

void vd_ledger_take_readings(vd_visit *visit)
{
    vd_running_take_time(visit);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool judged = visit->model->settings[i].access == VD_READ_WRITE && !vd_has_part(visit, i, VD_PART_ABSENT);
        /* What was not asked for and could not be read before says nothing by what it is now. */
        bool known = vd_has_part(visit, i, VD_PART_ASKED | VD_PART_WAS_READ);
        if (judged && known && !vd_has_part(visit, i, VD_PART_SWAYED) && !only_counts(visit, i)) {
            /* What runs by itself is in no bank. */
            bool runs = vd_setting_is(&visit->model->settings[i], VD_TYPE_RUNS);
            uint8_t live = (uint8_t)held_against(visit, &visit->live, i);
            visit->ledger[i].live = live;
            visit->ledger[i].stored = vd_has_part(visit, i, VD_PART_IN_SLOT) ? (uint8_t)vd_slots_stored(visit, i)
                                      : runs                                 ? live
                                             : (uint8_t)held_against(visit, &visit->stored, i);
        }
    }
}
