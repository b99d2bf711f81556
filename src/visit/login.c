/* SPDX-License-Identifier: MIT
 * Logging in: only where something needs it, once, with a password that is not kept. After a wrong one the unit is
 * asked how many tries are left, and the task ends. */
#include "visit_parts.h"

#include <string.h>

static bool is_for_fitters(const vd_visit *visit, uint16_t i, bool write)
{
    const vd_setting *setting = &visit->model->settings[i];
    return write ? visit->changes[i] == 1 && setting->written_by == VD_FITTER
                 : visit->reads[i] == 1 && setting->read_by == VD_FITTER && vd_setting_is_shown(setting);
}

static bool any_for_fitters(const vd_visit *visit, bool write)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (is_for_fitters(visit, i, write)) {
            return true;
        }
    }
    return false;
}

/* What only a fitter may read is left out where nobody logs in. */
static void leave_out(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->reads[i] = is_for_fitters(visit, i, false) ? 0 : visit->reads[i];
    }
}

bool vd_login_is_due(const vd_visit *visit, vd_step stage)
{
    bool write = stage == VD_STEP_WRITE;
    bool stores = write && visit->model->store.needed;
    /* Whoever thought for long before he said yes may have been logged out meanwhile. */
    uint64_t lasts = visit->model->login.lasts * (uint64_t)1000;
    bool lapsed = lasts > 0 && visit->now >= visit->login_at + lasts / 2;
    return visit->model->login.word != NULL && (!visit->logged_in || lapsed) &&
           (any_for_fitters(visit, write) || stores || (visit->login_wanted && stage == VD_STEP_READ));
}

/* A password that was written in this very task is the one in force. */
static bool knows_new_one(const vd_visit *visit, vd_value *password)
{
    uint16_t setting = visit->model->login.setting;
    if (setting == VD_NONE || !visit->written || visit->fate[setting] != VD_DONE) {
        return false;
    }
    *password = vd_set_get(&visit->desired, setting);
    return password->type != VD_NOTHING;
}

static void log_in(vd_visit *visit, const char *password, size_t length)
{
    uint16_t setting = visit->model->login.setting;
    const vd_setting *about = setting != VD_NONE ? &visit->model->settings[setting] : NULL;
    visit->factory_password = about != NULL && about->initial_text != NULL && (size_t)about->initial == length &&
                              memcmp(about->initial_text, password, length) == 0;
    visit->stage = VD_STEP_LOGIN;
    visit->news++;
    vd_talk_log_in(&visit->talk, visit->now, password, length);
}

void vd_begin_login(vd_visit *visit, vd_step then)
{
    vd_value password;
    visit->after_login = (uint8_t)then;
    if (then == VD_STEP_READ && visit->task == VD_TASK_READ && !visit->login_wanted) {
        leave_out(visit);
        vd_begin_stage(visit, then);
    } else if (knows_new_one(visit, &password)) {
        log_in(visit, password.text, password.length);
    } else {
        visit->stage = VD_STEP_PASSWORD;
        visit->news++;
    }
}

void vd_take_password(vd_visit *visit, const vd_event *event)
{
    bool given = event->yes && event->count > 0;
    if (given) {
        log_in(visit, (const char *)event->bytes, event->count);
    } else if (visit->after_login == VD_STEP_WRITE || visit->login_wanted) {
        vd_finish(visit, vd_fault_note(&visit->fault, VD_LOGIN_NEEDED, NULL, "", ""));
    } else {
        leave_out(visit);
        vd_begin_stage(visit, (vd_step)visit->after_login);
    }
}

/* Says what a refused password means, with the unit's own count where it was just read; an older one is out of date. */
static void refuse(vd_visit *visit, bool counted)
{
    const vd_login *login = &visit->model->login;
    vd_value left = counted ? vd_set_get(&visit->live, login->left) : (vd_value){.type = VD_NOTHING};
    bool known = left.type != VD_NOTHING, locked = known && left.number == 0;
    const char *advice = login->recoverable ? "a forgotten one can be reset, see the start-up page."
                         : locked           ? "It cannot be unlocked; see the start-up page, or ask its maker."
                                            : "a forgotten one cannot be recovered.";
    vd_fault_clear(&visit->fault);
    vd_status status = locked ? VD_LOGIN_LOCKED : known ? VD_LOGIN_REFUSED : VD_LOGIN_NOT_TAKEN;
    vd_fault_note(&visit->fault, status, NULL, "", advice);
    visit->fault.number[0] = (int32_t)left.number;
    vd_finish(visit, status);
}

void vd_after_login_job(vd_visit *visit, vd_status status)
{
    uint16_t left = visit->model->login.left;
    visit->factory_password = visit->factory_password && status == VD_OK;
    if (visit->stopping) {
        vd_finish(visit, VD_STOPPED);
    } else if (visit->stage == VD_STEP_TRIES_LEFT) {
        refuse(visit, status == VD_OK);
    } else if (status == VD_OK) {
        visit->logged_in = true;
        visit->login_at = visit->now;
        vd_begin_stage(visit, (vd_step)visit->after_login);
    } else if (vd_status_class(status) == VD_CLASS_REFUSED && left != VD_NONE) {
        vd_fault_clear(&visit->fault);
        memset(visit->verdict, 0, visit->model->setting_count); /* not used yet: the list of what to read */
        visit->verdict[left] = 1;
        vd_run_job(visit, VD_STEP_TRIES_LEFT, VD_JOB_READ_LIVE, visit->verdict, &visit->live);
    } else if (vd_status_class(status) == VD_CLASS_REFUSED) {
        refuse(visit, false);
    } else {
        vd_finish(visit, status);
    }
}

void vd_visit_want_login(vd_visit *visit, bool wanted)
{
    visit->login_wanted = wanted;
}

bool vd_visit_has_factory_password(const vd_visit *visit)
{
    uint16_t setting = visit->model->login.setting;
    bool changed = setting != VD_NONE && visit->written && visit->fate[setting] == VD_DONE;
    return visit->factory_password && !changed;
}

bool vd_visit_needs_login(const vd_visit *visit, uint16_t setting)
{
    const vd_model *model = visit->model;
    return model->login.word != NULL && model->settings[setting].read_by == VD_FITTER &&
           vd_setting_is_shown(&model->settings[setting]) && !vd_set_knows(&visit->live, setting);
}
