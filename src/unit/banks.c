/* SPDX-License-Identifier: MIT
 * The banks of a unit: what it takes into the live one, whole or not at all, what it stores, and what it does when
 * told. */
#include "parts.h"

#include "verdite/watch.h"

/* What the unit makes of a value that it does not take as it is. */
static void make_fit(vd_unit *unit, uint16_t i)
{
    const vd_setting *setting = &unit->model->settings[i];
    vd_meaning meaning;
    bool known = vd_set_meaning(&unit->staged, i, &meaning);
    vd_value value = vd_set_get(&unit->staged, i);
    char text[VD_MOST_BYTES];
    int64_t count = 0;
    if (setting->keeps == VD_KEEPS_CAPITALS && value.type == VD_TEXT) {
        for (uint16_t k = 0; k < value.length; k++) {
            char c = value.text[k];
            text[k] = (char)(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
        }
        value.text = text;
        vd_set_put(&unit->staged, i, &value);
    } else if (setting->keeps == VD_KEEPS_NEAREST && known) {
        for (; value.places > meaning.places; value.places--) {
            value.number = (value.number + (value.number < 0 ? -5 : 5)) / 10;
        }
        if (vd_value_to_count(&meaning, &value, &count, NULL) == VD_OK) {
            int64_t over = count - meaning.min;
            count = meaning.min + (over + meaning.step / 2) / meaning.step * meaning.step;
            value = vd_value_from_count(&meaning, count);
            vd_set_put(&unit->staged, i, &value);
        }
    }
}

/* Whether a rule that it enforces is broken: when it is written to, of those about what was touched. */
static bool breaks_rule(const vd_unit *unit, const vd_set *bank, vd_enforcing when)
{
    const vd_model *model = unit->model;
    for (uint16_t r = 0; r < model->rule_count && model->book != NULL; r++) {
        uint16_t items = model->rules[r].enforced == when ? vd_rule_items(model, r) : 0;
        bool concerned = when == VD_ENFORCED_STORING;
        for (uint16_t i = 0; i < model->setting_count && items > 0 && !concerned; i++) {
            concerned = unit->touched[i] != 0 && vd_rule_mentions(model, r, i);
        }
        for (uint16_t item = 0; item < items && concerned; item++) {
            if (vd_rule_judge(bank, &unit->live, r, item, NULL) == VD_FAILS) {
                return true;
            }
        }
    }
    return false;
}

bool vd_unit_may_store(const vd_unit *unit)
{
    return !breaks_rule(unit, &unit->live, VD_ENFORCED_STORING);
}

bool vd_unit_accepts_staged(vd_unit *unit)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        if (unit->touched[i] == 0) {
            continue;
        }
        make_fit(unit, i);
        vd_status status = vd_set_check(&unit->staged, i, NULL);
        /* Who may write is judged elsewhere; in which mode a setting counts is no business of the unit. */
        if (status != VD_OK && status != VD_NOT_YOURS && status != VD_IDLE_HERE) {
            return false;
        }
    }
    return !breaks_rule(unit, &unit->staged, VD_ENFORCED_WRITING);
}

/* Makes what is live last. Readings are none of it: what they start from stays. */
static void keep(vd_unit *unit)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        if (unit->model->settings[i].access != VD_READ_ONLY &&
            !vd_setting_is(&unit->model->settings[i], VD_TYPE_RUNS)) {
            vd_value value = vd_set_get(&unit->live, i);
            vd_set_put(&unit->stored, i, &value);
        }
    }
    vd_unit_keep_slot(unit);
    unit->keeping = true;
}

static bool alarms_hang_on(const vd_unit *unit, uint16_t setting)
{
    uint16_t count = vd_model_alarm_count(unit->model), n = 0;
    while (n < count && !vd_alarm_hangs_on(unit->model, n, setting)) {
        n++;
    }
    return n < count;
}

/* Whether the alarms that are watched are others now: by what was written, and by all that this set besides. */
static bool alarms_differ(const vd_unit *unit)
{
    bool differ = false;
    for (uint16_t i = 0; i < unit->model->setting_count && unit->watching && !differ; i++) {
        differ = unit->model->settings[i].access != VD_READ_ONLY &&
                 vd_set_compare(&unit->watched, &unit->live, i) != VD_SAME && alarms_hang_on(unit, i);
    }
    return differ;
}

void vd_unit_take_staged(vd_unit *unit, uint64_t now)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        unit->restart_due =
            unit->restart_due || (unit->touched[i] != 0 && vd_setting_restarts(&unit->model->settings[i]) &&
                                  vd_set_compare(&unit->live, &unit->staged, i) != VD_SAME);
    }
    for (uint16_t i = 0; i < unit->model->setting_count && unit->model->link_from == VD_LINK_FROM_WRITING; i++) {
        bool link = vd_role_is_link((vd_role)unit->model->settings[i].role);
        unit->link_due = unit->link_due || (unit->touched[i] != 0 && link);
    }
    vd_set_copy(&unit->live, &unit->staged);
    bool others = false;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        if (unit->touched[i] != 0 && vd_setting_sets_any(unit->model, i)) {
            vd_unit_set_others(unit, i);
            others = true;
        }
    }
    if (others) {
        vd_set_reinterpret(&unit->live);
    }
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        if (unit->touched[i] != 0 && vd_setting_is(&unit->model->settings[i], VD_TYPE_RUNS)) {
            vd_unit_run_from(unit, i, now);
        }
    }
    if (alarms_differ(unit)) {
        vd_unit_alarms_anew(unit, now);
    }
    if (unit->days_ways != NULL && unit->days_ways->differs(unit)) {
        unit->days_ways->show(unit, now);
        unit->days_ways->anew(unit, now);
    }
    bool shifted = false;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        shifted = shifted || (unit->touched[i] != 0 && vd_unit_shifts(unit, i));
    }
    if (shifted) {
        vd_unit_look_again(unit, now);
    }
    if (!unit->model->store.needed) {
        keep(unit);
    }
}

const vd_set *vd_unit_shown(const vd_unit *unit, uint16_t setting)
{
    bool stored = unit->model->store.needed && unit->model->store.proof == VD_PROOF_SHOWN &&
                  unit->model->settings[setting].access == VD_READ_WRITE &&
                  !vd_setting_is(&unit->model->settings[setting], VD_TYPE_RUNS);
    return stored ? &unit->stored : &unit->live;
}

void vd_unit_store(vd_unit *unit, uint64_t now)
{
    keep(unit);
    unit->link_due = unit->link_due || unit->model->link_from == VD_LINK_FROM_STORING;
    unit->busy_until = now + unit->model->reply.store * 1000u;
    unit->restart_due = unit->restart_due || unit->model->store.restarts;
}

void vd_unit_restart(vd_unit *unit, uint64_t now)
{
    vd_unit_power_down(unit, now);
    unit->off_until = now + (uint64_t)unit->model->restart_time * 1000u;
    unit->restart_due = false;
}

void vd_unit_act(vd_unit *unit, const vd_action *action, uint64_t now)
{
    if (action->deed == VD_DEED_DEFAULTS) {
        vd_unit_as_new(&unit->stored);
        vd_unit_new_slots(unit);
        unit->keeping = true;
    }
    if (action->deed == VD_DEED_RESTART || action->deed == VD_DEED_DEFAULTS) {
        vd_unit_restart(unit, now);
        unit->off_until = action->takes > 0 ? now + (uint64_t)action->takes * 1000u : unit->off_until;
    }
}
