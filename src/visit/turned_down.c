/* SPDX-License-Identifier: MIT
 * What a unit turned down may only have come too early: a low limit above the high one that it still holds. Where the
 * model does not say so, that is learned from the refusal: what is of one kind with it goes first, and then, once more,
 * what was turned down, the last of it first. */
#include "steps.h"
#include "verdite/text.h"

#define PUT_OFF_AND_TRIED UINT8_MAX

/* Whether one may be a bound of the other: numbers of one unit of measure, or lengths of time. */
static bool are_of_one_kind(const vd_model *model, uint16_t a, uint16_t b)
{
    const vd_setting *one = &model->settings[a], *other = &model->settings[b];
    if (a == b || one->traits->id != other->traits->id) {
        return false;
    }
    return one->traits->id == VD_DURATION || ((one->traits->id == VD_INTEGER || one->traits->id == VD_DECIMAL) &&
                                              vd_same_text(one->measure, other->measure));
}

static bool waits(const vd_visit *visit, uint16_t i)
{
    return visit->ledger[i].put_off > 0 && visit->ledger[i].put_off < PUT_OFF_AND_TRIED;
}

bool vd_goes_before_put_off(const vd_visit *visit, uint16_t setting)
{
    for (uint16_t k = 0; k < visit->model->setting_count; k++) {
        if (waits(visit, k) && visit->ledger[setting].put_off == 0 && are_of_one_kind(visit->model, setting, k)) {
            return true;
        }
    }
    return false;
}

uint16_t vd_last_put_off(const vd_visit *visit)
{
    uint16_t last = VD_NONE;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (waits(visit, i) && (last == VD_NONE || visit->ledger[i].put_off > visit->ledger[last].put_off)) {
            last = i;
        }
    }
    return last;
}

/* Whether something else of its kind is still to be written, or was turned down with it. */
static bool has_company(const vd_visit *visit, uint16_t i)
{
    for (uint16_t k = 0; k < visit->model->setting_count; k++) {
        const vd_entry *entry = &visit->ledger[k];
        bool open = visit->which[k] == 1 || entry->sending == VD_UNSENT || waits(visit, k);
        if (vd_has_part(visit, k, VD_PART_CHANGES) && entry->sending != VD_ACKNOWLEDGED && open &&
            !vd_is_link_change(visit, k) && are_of_one_kind(visit->model, i, k)) {
            return true;
        }
    }
    return false;
}

/* Whether the request in which it was is the one that was turned down, and it may be said again. */
static bool was_turned_down(const vd_visit *visit, uint16_t i)
{
    const vd_setting *setting = &visit->model->settings[i];
    vd_outcome outcome = (vd_outcome)visit->talk.job.outcome[i];
    bool once = setting->once || visit->model->lines.writes_once;
    bool said_no = outcome == VD_REFUSED || (outcome == VD_UNCLEAR && !once);
    return visit->which[i] == 1 && said_no && visit->ledger[i].put_off == 0 && !vd_is_link_change(visit, i) &&
           i != vd_index(visit->model->login.setting);
}

bool vd_put_off(vd_visit *visit)
{
    uint16_t last = vd_last_put_off(visit);
    uint8_t next = (uint8_t)(last == VD_NONE ? 1 : visit->ledger[last].put_off + 1);
    bool any = false;
    for (uint16_t i = 0; i < visit->model->setting_count && !any; i++) {
        any = was_turned_down(visit, i) && has_company(visit, i);
    }
    for (uint16_t i = 0; i < visit->model->setting_count && any && next < PUT_OFF_AND_TRIED; i++) {
        if (was_turned_down(visit, i)) {
            visit->ledger[i].put_off = next++;
        }
    }
    return any;
}

void vd_put_off_is_tried(vd_visit *visit, uint16_t setting)
{
    visit->ledger[setting].put_off = waits(visit, setting) ? PUT_OFF_AND_TRIED : visit->ledger[setting].put_off;
}
