/* SPDX-License-Identifier: MIT
 * The ledger: what is known of each setting. Nothing is in it that was not heard, and nothing that was heard is left
 * out. */
#include "visit_parts.h"

#include <string.h>

bool vd_has_part(const vd_visit *visit, uint16_t setting, unsigned part)
{
    return (visit->ledger[setting].part & part) != 0;
}

bool vd_ledger_any_sent(const vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (visit->ledger[i].sending != VD_UNSENT) {
            return true;
        }
    }
    return visit->store_sent;
}

/* A setting is read together with the one that says how many decimals it has, and with those on which it hangs whether
 * it counts at all. */
static void choose(vd_visit *visit, uint16_t setting)
{
    uint16_t other = vd_index(visit->model->settings[setting].places_from);
    visit->which[setting] = 1;
    for (uint16_t n = 0; other != VD_NONE || n == 0; n++) {
        if (other != VD_NONE) {
            visit->which[other] = 1;
        }
        other = vd_model_hangs_on(visit->model, setting, n);
    }
}

void vd_ledger_choose(vd_visit *visit, unsigned parts)
{
    uint16_t running = vd_model_running_time(visit->model);
    const vd_store *store = &visit->model->store;
    bool open = store->needed && store->proof != VD_PROOF_BANK && store->proof != VD_PROOF_SHOWN;
    bool proves = vd_changes(visit) || visit->may_restart || (visit->task == VD_TASK_VERIFY && open);
    memset(visit->which, 0, visit->model->setting_count);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (vd_has_part(visit, i, parts) && vd_setting_is_shown(&visit->model->settings[i])) {
            choose(visit, i);
        }
    }
    if (running != VD_NONE && proves) {
        visit->which[running] = 1;
    }
    if (visit->model->undoes == VD_UNDOES_READING && proves) {
        visit->which[vd_index(visit->model->undone)] = 1;
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->which[i] = vd_has_part(visit, i, VD_PART_ABSENT) ? VD_ABSENT : visit->which[i];
    }
}

static void forget(vd_visit *visit, uint16_t setting, bool live, bool stored)
{
    if (live) {
        vd_set_forget(&visit->live, setting);
        visit->ledger[setting].live = VD_UNREAD;
    }
    if (stored) {
        vd_set_forget(&visit->stored, setting);
        visit->ledger[setting].stored = VD_UNREAD;
    }
}

void vd_ledger_forget(vd_visit *visit, bool stored_too)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        forget(visit, i, visit->which[i] == 1, visit->which[i] == 1 && stored_too);
    }
}

void vd_ledger_doubt_stored(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        forget(visit, i, false, true);
    }
}

void vd_ledger_doubt_live(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        forget(visit, i, visit->model->settings[i].access == VD_READ_WRITE, false);
    }
}

bool vd_ledger_take_outcomes(vd_visit *visit)
{
    static const uint8_t sendings[] = {[VD_NOT_TRIED] = VD_UNSENT,
                                       [VD_DONE] = VD_ACKNOWLEDGED,
                                       [VD_REFUSED] = VD_TURNED_DOWN,
                                       [VD_UNCLEAR] = VD_SENT_IN_VAIN};
    bool rest = false, any = false;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        vd_outcome outcome = (vd_outcome)visit->talk.job.outcome[i];
        if (visit->which[i] == 1 && outcome != VD_NOT_TRIED) {
            visit->ledger[i].sending = sendings[outcome];
            forget(visit, i, true, false);
            any = true;
        }
        rest = rest || (visit->which[i] == 1 && outcome == VD_NOT_TRIED && visit->ledger[i].sending == VD_UNSENT);
    }
    /* What shares a record, or hangs on decimals, may have moved with it. */
    for (uint16_t i = 0; i < visit->model->setting_count && any; i++) {
        forget(visit, i, vd_has_part(visit, i, VD_PART_ALONG | VD_PART_RESCALED), false);
    }
    return rest;
}

void vd_ledger_take_call(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->ledger[i].sending = visit->which[i] == 1 ? VD_SENT_IN_VAIN : visit->ledger[i].sending;
        forget(visit, i, visit->which[i] == 1 || vd_has_part(visit, i, VD_PART_ALONG | VD_PART_RESCALED), false);
    }
}
