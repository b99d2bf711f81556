/* SPDX-License-Identifier: MIT
 * The verdict on each setting and on the whole. */
#include "visit_parts.h"

static bool holds(const vd_set *bank, const vd_set *desired, uint16_t setting)
{
    return vd_set_compare(bank, desired, setting) == VD_SAME;
}

/* Whether both banks, as far as the model has them, were read and hold what is wanted. */
static bool is_held(const vd_visit *visit, uint16_t setting)
{
    bool bank = visit->model->store.proof == VD_PROOF_BANK;
    return holds(&visit->live, &visit->desired, setting) && (!bank || holds(&visit->stored, &visit->desired, setting));
}

/* What can be said without a read-back. Where nothing was sent, what was read before still holds. */
static vd_verdict judge_by_fate(const vd_visit *visit, uint16_t setting)
{
    bool proved = visit->model->store.proof == VD_PROOF_BANK || !visit->model->store.needed;
    if (visit->task == VD_TASK_WRITE && !visit->written) {
        return visit->changes[setting] == 0 && proved && is_held(visit, setting) ? VD_CONFIRMED : VD_NOT_SENT;
    }
    if (visit->changes[setting] == 0) {
        return VD_UNKNOWN;
    }
    switch ((vd_outcome)visit->fate[setting]) {
    case VD_NOT_TRIED: return VD_NOT_SENT;
    case VD_REFUSED: return VD_DIFFERS;
    default: return VD_UNKNOWN;
    }
}

static vd_verdict judge_unreadable(const vd_visit *visit, uint16_t setting)
{
    bool acknowledged = visit->fate[setting] == VD_DONE;
    /* Acknowledged but not stored, it would not outlast the supply. */
    if (visit->task == VD_TASK_VERIFY || (acknowledged && visit->status == VD_OK)) {
        return VD_CANNOT_READ_BACK;
    }
    return acknowledged ? VD_UNKNOWN : judge_by_fate(visit, setting);
}

static vd_verdict judge_setting(const vd_visit *visit, uint16_t setting)
{
    const vd_store *store = &visit->model->store;
    bool bank = store->proof == VD_PROOF_BANK;
    if (!vd_setting_is_shown(&visit->model->settings[setting])) {
        return judge_unreadable(visit, setting);
    }
    bool known = vd_set_knows(&visit->live, setting) && (!bank || vd_set_knows(&visit->stored, setting));
    if (!visit->read_back || !known) {
        return judge_by_fate(visit, setting);
    }
    if (is_held(visit, setting)) {
        return bank || !store->needed || visit->restarted ? VD_CONFIRMED : VD_LIVE_ONLY;
    }
    bool not_sent = visit->written && visit->changes[setting] != 0 && visit->fate[setting] == VD_NOT_TRIED;
    return not_sent ? VD_NOT_SENT : VD_DIFFERS;
}

void vd_judge(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->verdict[i] = (uint8_t)(visit->scope[i] != 0 ? judge_setting(visit, i) : VD_NOT_ASKED);
    }
}

vd_summary vd_visit_summary(const vd_visit *visit)
{
    vd_summary summary = {.whole = VD_WHOLE_NOT};
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        vd_verdict verdict = (vd_verdict)visit->verdict[i];
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
