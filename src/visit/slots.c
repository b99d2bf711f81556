/* SPDX-License-Identifier: MIT
 * Settings that set others, such as the one that loads a slot, and slots: what is known of them, and what of that a
 * task needs. */
#include "visit_parts.h"

bool vd_sways(const vd_visit *visit, uint16_t setting)
{
    return vd_setting_sets_any(visit->model, setting) && vd_has_part(visit, setting, VD_PART_CHANGES);
}

/* Whether a power cycle would not leave the slot that is wanted in force. */
static bool falls_back(const vd_visit *visit)
{
    uint8_t slot = vd_set_slot(&visit->desired);
    return slot > 0 && vd_set_slot_after(&visit->desired) != slot;
}

/* Whether slots are saved by an order of their own, or what is in force after a power cycle is another one. */
static bool keeps_apart(const vd_visit *visit)
{
    return visit->model->slots.saved || falls_back(visit);
}

static bool any_held(const vd_visit *visit, unsigned parts)
{
    for (uint16_t i = 0; i < visit->model->slots.hold_count && visit->model->slots.count > 0; i++) {
        if (vd_has_part(visit, visit->model->slots.holds[i], parts)) {
            return true;
        }
    }
    return false;
}

bool vd_slots_need_saving(const vd_visit *visit)
{
    const vd_slots *slots = &visit->model->slots;
    return slots->count > 0 && slots->saved && vd_slot_is_writable(visit->model, vd_set_slot(&visit->desired)) &&
           any_held(visit, VD_PART_ASKED | VD_PART_CHANGES);
}

bool vd_slots_need_loading(const vd_visit *visit, bool restarts)
{
    const vd_slots *slots = &visit->model->slots;
    return slots->count > 0 && keeps_apart(visit) &&
           (any_held(visit, VD_PART_ASKED | VD_PART_CHANGES) ||
            (falls_back(visit) &&
             (restarts || vd_has_part(visit, vd_index(slots->chosen_by), VD_PART_ASKED | VD_PART_CHANGES))));
}

bool vd_slots_come_up(const vd_visit *visit, uint16_t setting, vd_value *value)
{
    const vd_slots *slots = &visit->model->slots;
    uint8_t slot = vd_set_slot(&visit->live), after = vd_set_slot_after(&visit->live);
    bool held = vd_slots_hold(visit->model, setting), chooses = slot > 0 && setting == vd_index(slots->chosen_by);
    bool restarts = visit->action->deed == VD_DEED_RESTART || visit->action->deed == VD_DEED_DEFAULTS;
    if (slots->count == 0 || !restarts || !(held || chooses) || (slot == after && !slots->saved)) {
        return false;
    }
    if (chooses) {
        value->number = after > 0 ? after : value->number;
    } else {
        value->type = VD_NOTHING; /* what is live need not be what was saved */
    }
    return true;
}

void vd_slots_mark(vd_visit *visit)
{
    const vd_slots *slots = &visit->model->slots;
    for (uint16_t i = 0; i < slots->hold_count && slots->count > 0 && keeps_apart(visit); i++) {
        visit->ledger[slots->holds[i]].part |= VD_PART_IN_SLOT;
    }
    if (falls_back(visit)) {
        visit->ledger[vd_index(slots->chosen_by)].part |= VD_PART_IN_SLOT; /* a power cycle puts another number there */
    }
}

vd_reading vd_slots_stored(const vd_visit *visit, uint16_t setting)
{
    bool chooser = setting == vd_index(visit->model->slots.chosen_by);
    return visit->slot_shown && !chooser ? (vd_reading)visit->ledger[setting].live : VD_UNREAD;
}

vd_status vd_slots_check(vd_visit *visit)
{
    const vd_model *model = visit->model;
    uint8_t slot = vd_set_slot(&visit->desired);
    bool loads = model->slots.count > 0 && vd_has_part(visit, vd_index(model->slots.chosen_by), VD_PART_CHANGES) &&
                 vd_has_part(visit, model->slots.holds[0], VD_PART_SWAYED); /* what it holds is not known yet */
    if (slot == 0 || vd_slot_is_writable(model, slot) || loads || !any_held(visit, VD_PART_CHANGES)) {
        return VD_OK;
    }
    char said[8], allowed[VD_ALLOWED_SIZE];
    vd_writer to_said = vd_writer_start(said, sizeof said), to_allowed = vd_writer_start(allowed, sizeof allowed);
    vd_writer_add_number(&to_said, slot);
    for (uint8_t n = 1, any = 0; n <= model->slots.count; n++) {
        if (vd_slot_is_writable(model, n)) {
            vd_writer_add(&to_allowed, any++ > 0 ? " or " : "");
            vd_writer_add_number(&to_allowed, n);
        }
    }
    return vd_note_SLOT_FIXED(&visit->fault, &model->settings[vd_index(model->slots.chosen_by)], said, allowed);
}

void vd_sway_work_out(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        for (uint16_t k = 0; k < visit->model->setting_count && vd_sways(visit, i); k++) {
            if (k == i || !vd_setting_sets(visit->model, i, k)) {
                continue;
            }
            visit->ledger[k].part |= VD_PART_SWAYED;
            if (!vd_has_part(visit, k, VD_PART_ASKED)) { /* whatever it is set to then */
                visit->ledger[k].part &= (uint16_t)~VD_PART_CHANGES;
                vd_set_forget(&visit->desired, k);
            }
        }
    }
}

bool vd_visit_may_change(const vd_visit *visit, uint16_t setting)
{
    return vd_has_part(visit, setting, VD_PART_SWAYED) && vd_has_part(visit, setting, VD_PART_ASKED) &&
           !vd_has_part(visit, setting, VD_PART_CHANGES);
}

bool vd_sway_is_open(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (vd_has_part(visit, i, VD_PART_SWAYED)) {
            return true;
        }
    }
    return false;
}
