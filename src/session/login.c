/* SPDX-License-Identifier: MIT
 * Logging in: only where something needs it, once, with a password that is not kept. After a wrong one the unit is
 * asked how many tries are left, and the task ends. */
#include "session_parts.h"

#include <string.h>

static bool is_for_fitters(const vd_session *session, uint16_t i, bool write)
{
    const vd_setting *setting = &session->model->settings[i];
    return write ? session->changes[i] == 1 && setting->written_by == VD_FITTER
                 : session->reads[i] == 1 && setting->read_by == VD_FITTER && vd_setting_is_shown(setting);
}

static bool any_for_fitters(const vd_session *session, bool write)
{
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        if (is_for_fitters(session, i, write)) {
            return true;
        }
    }
    return false;
}

/* What only a fitter may read is left out where nobody logs in. */
static void leave_out(vd_session *session)
{
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        session->reads[i] = is_for_fitters(session, i, false) ? 0 : session->reads[i];
    }
}

bool vd_login_is_due(const vd_session *session, vd_stage stage)
{
    bool write = stage == VD_STAGE_WRITE;
    bool stores = write && session->model->store.needed;
    /* Whoever thought for long before he said yes may have been logged out meanwhile. */
    uint64_t lasts = session->model->login.lasts * (uint64_t)1000;
    bool lapsed = lasts > 0 && session->now >= session->login_at + lasts / 2;
    return session->model->login.word != NULL && (!session->logged_in || lapsed) &&
           (any_for_fitters(session, write) || stores || (session->login_wanted && stage == VD_STAGE_READ));
}

/* A password that was written in this very task is the one in force. */
static bool knows_new_one(const vd_session *session, vd_value *password)
{
    uint16_t setting = session->model->login.setting;
    if (setting == VD_NONE || !session->written || session->fate[setting] != VD_DONE) {
        return false;
    }
    *password = vd_set_get(&session->desired, setting);
    return password->type != VD_NOTHING;
}

static void log_in(vd_session *session, const char *password, size_t length)
{
    uint16_t setting = session->model->login.setting;
    const vd_setting *about = setting != VD_NONE ? &session->model->settings[setting] : NULL;
    session->factory_password = about != NULL && about->initial_text != NULL && (size_t)about->initial == length &&
                                memcmp(about->initial_text, password, length) == 0;
    session->stage = VD_STAGE_LOGIN;
    session->news++;
    vd_talk_log_in(&session->talk, session->now, password, length);
}

void vd_begin_login(vd_session *session, vd_stage then)
{
    vd_value password;
    session->after_login = (uint8_t)then;
    if (then == VD_STAGE_READ && session->task == VD_TASK_READ && !session->login_wanted) {
        leave_out(session);
        vd_begin_stage(session, then);
    } else if (knows_new_one(session, &password)) {
        log_in(session, password.text, password.length);
    } else {
        session->stage = VD_STAGE_PASSWORD;
        session->news++;
    }
}

void vd_take_password(vd_session *session, const vd_event *event)
{
    bool given = event->yes && event->count > 0;
    if (given) {
        log_in(session, (const char *)event->bytes, event->count);
    } else if (session->after_login == VD_STAGE_WRITE || session->login_wanted) {
        vd_finish(session, vd_fault_note(&session->fault, VD_LOGIN_NEEDED, NULL, "", ""));
    } else {
        leave_out(session);
        vd_begin_stage(session, (vd_stage)session->after_login);
    }
}

/* Says what a refused password means, with the unit's own count where it was just read; an older one is out of date. */
static void refuse(vd_session *session, bool counted)
{
    const vd_login *login = &session->model->login;
    vd_value left = counted ? vd_set_get(&session->live, login->left) : (vd_value){.type = VD_NOTHING};
    bool known = left.type != VD_NOTHING, locked = known && left.number == 0;
    const char *advice = login->recoverable ? "a forgotten one can be reset, see the start-up page."
                         : locked           ? "It cannot be unlocked; see the start-up page, or ask its maker."
                                            : "a forgotten one cannot be recovered.";
    vd_fault_clear(&session->fault);
    vd_status status = locked ? VD_LOGIN_LOCKED : known ? VD_LOGIN_REFUSED : VD_LOGIN_NOT_TAKEN;
    vd_fault_note(&session->fault, status, NULL, "", advice);
    session->fault.number[0] = (int32_t)left.number;
    vd_finish(session, status);
}

void vd_after_login_job(vd_session *session, vd_status status)
{
    uint16_t left = session->model->login.left;
    session->factory_password = session->factory_password && status == VD_OK;
    if (session->stopping) {
        vd_finish(session, VD_STOPPED);
    } else if (session->stage == VD_STAGE_TRIES_LEFT) {
        refuse(session, status == VD_OK);
    } else if (status == VD_OK) {
        session->logged_in = true;
        session->login_at = session->now;
        vd_begin_stage(session, (vd_stage)session->after_login);
    } else if (vd_status_class(status) == VD_CLASS_REFUSED && left != VD_NONE) {
        vd_fault_clear(&session->fault);
        memset(session->verdict, 0, session->model->setting_count); /* not used yet: the list of what to read */
        session->verdict[left] = 1;
        vd_run_job(session, VD_STAGE_TRIES_LEFT, VD_JOB_READ_LIVE, session->verdict, &session->live);
    } else if (vd_status_class(status) == VD_CLASS_REFUSED) {
        refuse(session, false);
    } else {
        vd_finish(session, status);
    }
}

void vd_session_want_login(vd_session *session, bool wanted)
{
    session->login_wanted = wanted;
}

bool vd_session_has_factory_password(const vd_session *session)
{
    uint16_t setting = session->model->login.setting;
    bool changed = setting != VD_NONE && session->written && session->fate[setting] == VD_DONE;
    return session->factory_password && !changed;
}

bool vd_session_needs_login(const vd_session *session, uint16_t setting)
{
    const vd_model *model = session->model;
    return model->login.word != NULL && model->settings[setting].read_by == VD_FITTER &&
           vd_setting_is_shown(&model->settings[setting]) && !vd_set_knows(&session->live, setting);
}
