/* SPDX-License-Identifier: MIT
 * What earlier visits say of what is stored, where the present one shows only what is live. */
#include "act.h"

#include <string.h>

/* The last visit that changed the unit, and whether it found it to hold what it should, live at least. */
static bool find_good(cli *c, const visit *v, vd_past *past)
{
    static const char *const good[] = {"verified", "verified-except", "live-only", NULL};
    const vd_identity *met = vd_visit_identity(v->engine);
    const vd_past_query query = {.model = v->model->key, .serial = met->serial, .writes = true};
    vd_past raw;
    const vd_past_query unnamed = {.model = v->model->key, .serial = "", .writes = true};
    *past = (vd_past){.id = 0};
    bool any = vd_history_find(remembered(c), &query, past, 1) == 1;
    /* What was sent behind this adapter to nobody knows whom may have been sent to this one. */
    if (any && vd_history_find(remembered(c), &unnamed, &raw, 1) == 1 && raw.id > past->id &&
        strcmp(raw.adapter, v->place.adapter) == 0) {
        *past = raw;
    }
    return any && met->serial[0] != '\0' && g_strv_contains(good, past->outcome);
}

/* The last visit, not before that one, that found what the unit holds to be stored. */
static bool find_proof(cli *c, const visit *v, int64_t from, vd_past *past)
{
    const vd_past_query query = {.model = v->model->key, .serial = vd_visit_identity(v->engine)->serial};
    vd_past recent[20];
    size_t count = query.serial[0] != '\0' ? vd_history_find(remembered(c), &query, recent, G_N_ELEMENTS(recent)) : 0;
    for (size_t i = 0; i < count && recent[i].id >= from; i++) {
        if (strcmp(recent[i].outcome, "verified") == 0 || strcmp(recent[i].outcome, "verified-except") == 0) {
            *past = recent[i];
            return true;
        }
    }
    return false;
}

/* What a visit left behind, as sets of the model. */
typedef struct leavings {
    vd_set before, after;
    uint16_t *about;
    void *memory;
} leavings;

static leavings leavings_of(cli *c, const visit *v, const vd_past *past)
{
    size_t size = vd_set_size(v->model);
    leavings left = {.memory = g_malloc0(2 * size), .about = g_new0(uint16_t, v->model->setting_count)};
    vd_set_start(&left.before, v->model, left.memory, size);
    vd_set_start(&left.after, v->model, (char *)left.memory + size, size);
    vd_history_values(remembered(c), past->id, &left.before, NULL, &left.after, left.about);
    return left;
}

static void leavings_drop(leavings *left, const visit *v)
{
    vd_wipe(left->memory, 2 * vd_set_size(v->model));
    g_free(left->memory);
    g_free(left->about);
}

/* Notes which settings are as that visit left them; `confirmed`: of those alone whose storage it proved. */
static void take_unchanged(cli *c, visit *v, const vd_past *past, bool confirmed, int64_t when)
{
    leavings left = leavings_of(c, v, past);
    v->unchanged = g_new0(bool, v->model->setting_count);
    v->unchanged_when = when;
    v->outlasted = !confirmed;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        vd_verdict then = (vd_verdict)((left.about[i] & VD_PAST_VERDICT) >> VD_PAST_VERDICT_SHIFT);
        v->unchanged[i] = (then == VD_CONFIRMED || !confirmed) && vd_visit_verdict(v->engine, i) == VD_LIVE_ONLY &&
                          vd_set_compare(vd_visit_live(v->engine), &left.after, i) == VD_SAME;
    }
    leavings_drop(&left, v);
}

void journal_look_back(cli *c, visit *v)
{
    vd_past past;
    int64_t ran = vd_set_running_time(vd_visit_live(v->engine));
    if (v->status != VD_OK || v->record != 0 || vd_visit_summary(v->engine).live_only == 0) {
        return;
    }
    vd_past proof;
    bool good = find_good(c, v, &past);
    /* Nobody knows what others wrote since; so it is told, and proves nothing. */
    if (find_proof(c, v, past.id, &proof)) {
        take_unchanged(c, v, &proof, true, proof.ended);
    } else if (good && ran >= 0 && past.ran > ran) {
        take_unchanged(c, v, &past, false, now_of_day() - ran);
    }
}
