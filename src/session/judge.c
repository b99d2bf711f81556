/* SPDX-License-Identifier: MIT
 * The verdict on each setting and on the whole. */
#include "session_parts.h"

static bool holds(const vd_set *bank, const vd_set *desired, uint16_t setting)
{
    return vd_set_compare(bank, desired, setting) == VD_SAME;
}

/* Whether both banks, as far as the model has them, were read and hold what is wanted. */
static bool is_held(const vd_session *session, uint16_t setting)
{
    bool bank = session->model->store.proof == VD_PROOF_BANK;
    return holds(&session->live, &session->desired, setting) &&
           (!bank || holds(&session->stored, &session->desired, setting));
}

/* What can be said without a read-back. Where nothing was sent, what was read before still holds. */
static vd_verdict judge_by_fate(const vd_session *session, uint16_t setting)
{
    bool proved = session->model->store.proof == VD_PROOF_BANK || !session->model->store.needed;
    if (session->task == VD_TASK_WRITE && !session->written) {
        return session->changes[setting] == 0 && proved && is_held(session, setting) ? VD_CONFIRMED : VD_NOT_SENT;
    }
    if (session->changes[setting] == 0) {
        return VD_UNKNOWN;
    }
    switch ((vd_outcome)session->fate[setting]) {
    case VD_NOT_TRIED: return VD_NOT_SENT;
    case VD_REFUSED: return VD_DIFFERS;
    default: return VD_UNKNOWN;
    }
}

static vd_verdict judge_unreadable(const vd_session *session, uint16_t setting)
{
    bool acknowledged = session->fate[setting] == VD_DONE;
    /* Acknowledged but not stored, it would not outlast the supply. */
    if (session->task == VD_TASK_VERIFY || (acknowledged && session->status == VD_OK)) {
        return VD_CANNOT_READ_BACK;
    }
    return acknowledged ? VD_UNKNOWN : judge_by_fate(session, setting);
}

static vd_verdict judge_setting(const vd_session *session, uint16_t setting)
{
    const vd_store *store = &session->model->store;
    bool bank = store->proof == VD_PROOF_BANK;
    if (!vd_setting_is_shown(&session->model->settings[setting])) {
        return judge_unreadable(session, setting);
    }
    bool known = vd_set_knows(&session->live, setting) && (!bank || vd_set_knows(&session->stored, setting));
    if (!session->read_back || !known) {
        return judge_by_fate(session, setting);
    }
    if (is_held(session, setting)) {
        return bank || !store->needed || session->restarted ? VD_CONFIRMED : VD_LIVE_ONLY;
    }
    bool not_sent = session->written && session->changes[setting] != 0 && session->fate[setting] == VD_NOT_TRIED;
    return not_sent ? VD_NOT_SENT : VD_DIFFERS;
}

void vd_judge(vd_session *session)
{
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        session->verdict[i] = (uint8_t)(session->scope[i] != 0 ? judge_setting(session, i) : VD_NOT_ASKED);
    }
}

vd_summary vd_session_summary(const vd_session *session)
{
    vd_summary summary = {.whole = VD_WHOLE_NOT};
    for (uint16_t i = 0; i < session->model->setting_count; i++) {
        vd_verdict verdict = (vd_verdict)session->verdict[i];
        summary.confirmed = (uint16_t)(summary.confirmed + (verdict == VD_CONFIRMED));
        summary.live_only = (uint16_t)(summary.live_only + (verdict == VD_LIVE_ONLY));
        summary.differing = (uint16_t)(summary.differing + (verdict == VD_DIFFERS));
        summary.unreadable = (uint16_t)(summary.unreadable + (verdict == VD_CANNOT_READ_BACK));
        summary.not_sent = (uint16_t)(summary.not_sent + (verdict == VD_NOT_SENT));
        summary.unknown = (uint16_t)(summary.unknown + (verdict == VD_UNKNOWN));
        summary.total = (uint16_t)(summary.total + (verdict != VD_NOT_ASKED));
    }
    if (summary.total == 0 || summary.differing + summary.not_sent + summary.unknown > 0) {
        summary.whole = VD_WHOLE_NOT;
    } else if (summary.live_only > 0) {
        summary.whole = VD_WHOLE_LIVE_ONLY;
    } else if (summary.unreadable > 0) {
        summary.whole = VD_WHOLE_EXCEPT;
    } else {
        summary.whole = VD_WHOLE_VERIFIED;
    }
    return summary;
}
