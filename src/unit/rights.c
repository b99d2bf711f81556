/* SPDX-License-Identifier: MIT
 * Who may do what in a unit that is played, and its login: wrong passwords are counted until it locks. */
#include "parts.h"

#include <string.h>

static bool has_password(const vd_unit *unit)
{
    const vd_login *login = &unit->model->login;
    vd_value value = vd_set_get(&unit->stored, vd_index(login->setting));
    bool none = value.type == VD_NOTHING || (value.text != NULL ? value.length == 0 : value.number == 0);
    return !(login->may_be_none && none);
}

bool vd_unit_allows(const vd_unit *unit, uint8_t right)
{
    bool open = unit->logged_in || !vd_model_logs_in(unit->model) || !has_password(unit);
    return right == VD_ANYONE || (right == VD_FITTER && open);
}

bool vd_unit_allows_orders(const vd_unit *unit)
{
    return vd_unit_allows(unit, vd_model_logs_in(unit->model) ? VD_FITTER : VD_ANYONE);
}

bool vd_unit_log_in(vd_unit *unit, const vd_value *said)
{
    const vd_login *login = &unit->model->login;
    vd_value password = vd_set_get(&unit->stored, vd_index(login->setting));
    bool locked = login->tries > 0 && unit->tries_left == 0;
    unit->logged_in = !locked && vd_value_equal(&password, said);
    if (unit->logged_in) {
        unit->tries_left = login->tries;
    } else {
        unit->tries_left = (uint8_t)(unit->tries_left - (unit->tries_left > 0));
    }
    unit->keeping = true;
    return unit->logged_in;
}

void vd_unit_is_asked(vd_unit *unit, uint64_t now)
{
    uint32_t lasts = unit->model->login.lasts;
    if (lasts > 0 && now > unit->last_request + (uint64_t)lasts * 1000u) {
        unit->logged_in = false;
    }
    unit->last_request = now;
}
