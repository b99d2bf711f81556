/* SPDX-License-Identifier: MIT
 * Acts that are no visit by themselves: what was sent as it was typed, and a swap, whose legs are visits. */
#include "parts.h"

static store_row row_of(const vd_act *act, const char *task)
{
    return (store_row){.model = act->model,
                       .task = task,
                       .step = "write",
                       .unit = &act->unit,
                       .other = act->other.serial[0] != '\0' ? &act->other : NULL,
                       .from = act->from,
                       .to = act->to,
                       .changes = -1};
}

vd_status vd_history_tell_sent(vd_store_file *store, const vd_act *act, const vd_occasion *occasion, vd_fault *fault)
{
    const store_row about = row_of(act, occasion->task);
    int64_t id = 0;
    bool fine = store_do(store, "BEGIN IMMEDIATE", "") && row_begin(store, &about, occasion, &id) &&
                store_do(store, "UPDATE visit SET ended = max(?, 1), outcome = 'not-known', open = 0 WHERE id = ?",
                         "nn", (gint64)occasion->now, (gint64)id);
    return store_commit(store, fine, fault);
}

vd_status vd_history_begin_act(vd_store_file *store, const vd_act *act, const vd_occasion *occasion, int64_t *id,
                               vd_fault *fault)
{
    const store_row about = row_of(act, occasion->task);
    bool fine = store_do(store, "BEGIN IMMEDIATE", "") && row_begin(store, &about, occasion, id);
    return store_commit(store, fine, fault);
}

vd_status vd_history_end_act(vd_store_file *store, int64_t id, vd_whole whole, bool settled, int64_t now,
                             vd_fault *fault)
{
    bool fine = store_do(store, "BEGIN IMMEDIATE", "") &&
                store_do(store, "UPDATE visit SET ended = max(?, 1), outcome = ?, open = ? WHERE id = ?", "ntnn",
                         (gint64)now, vd_whole_name(whole), (gint64)!settled, (gint64)id) &&
                (!settled || store_do(store,
                                      "UPDATE visit SET open = 0 WHERE id IN (SELECT of FROM visit WHERE id = ?1) OR"
                                      " (leg = 1 AND of IN (?1, (SELECT of FROM visit WHERE id = ?1)))",
                                      "n", (gint64)id));
    return store_commit(store, fine, fault);
}
