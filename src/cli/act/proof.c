/* SPDX-License-Identifier: MIT
 * What is remembered of a restart that showed what a unit has stored, so that it is not restarted for nothing. */
#include "act.h"

#include <string.h>

/* Milliseconds, by the clock by which the unit runs: the bench's own, or the wall's. */
static int64_t now(const visit *v)
{
    return v->place.bench != NULL ? (int64_t)(vd_sim_now(vd_bench_sim(v->place.bench)) / 1000u)
                                  : g_get_real_time() / 1000;
}

/* The print of what it holds of what is asked for. */
static void print(const visit *v, vd_proved *proved)
{
    uint8_t *which = g_malloc0(v->model->setting_count);
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        which[i] = (vd_visit_entry(v->engine, i)->part & VD_PART_ASKED) != 0;
    }
    vd_proved_print(vd_visit_live(v->engine), which, proved);
    g_free(which);
}

void proof_remember(cli *c, const visit *v)
{
    vd_proved proved = {.when = now(v), .ran = vd_set_running_time(vd_visit_live(v->engine))};
    vd_summary summary = vd_visit_summary(v->engine);
    bool shown = vd_visit_standing(v->engine)->lasting == VD_LASTS_RESTART && summary.confirmed > 0 &&
                 summary.differing + summary.moved + summary.unknown + summary.not_sent == 0;
    if (shown && proved.ran >= 0) {
        print(v, &proved);
        vd_proved_remember(remembered(c), v->model->key, vd_visit_identity(v->engine)->serial, &proved);
    }
}

bool proof_stands(cli *c, const visit *v)
{
    vd_proved proved, present;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        if (vd_visit_changes(v->engine, i)) {
            return false;
        }
    }
    if (v->model->store.proof != VD_PROOF_RESTART ||
        !vd_proved_recall(remembered(c), v->model->key, vd_visit_identity(v->engine)->serial, &proved)) {
        return false;
    }
    print(v, &present);
    const vd_running_times run = {.before = proved.ran,
                                  .now = vd_set_running_time(vd_visit_live(v->engine)),
                                  .elapsed = now(v) - proved.when,
                                  .since = -1,
                                  .each = vd_model_running_step(v->model)};
    return vd_has_run_on(&run) == VD_HOLDS && strcmp(present.print, proved.print) == 0;
}
