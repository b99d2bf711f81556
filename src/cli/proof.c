/* SPDX-License-Identifier: MIT
 * What is remembered of a restart that showed what a unit has stored, so that it is not restarted for nothing. */
#include "cli.h"

#include <string.h>

/* Milliseconds, by the clock by which the unit runs: the bench's own, or the wall's. */
static int64_t now(const visit *v)
{
    return v->place.bench != NULL ? (int64_t)(vd_sim_now(vd_bench_sim(v->place.bench)) / 1000u)
                                  : g_get_real_time() / 1000;
}

/* How long it has been running, milliseconds; -1 where it does not say. */
static int64_t running_time(const visit *v)
{
    uint16_t running = vd_model_running_time(v->model);
    vd_value value =
        running != VD_NONE ? vd_set_get(vd_visit_live(&v->engine), running) : (vd_value){.type = VD_NOTHING};
    return value.type == VD_DURATION ? value.number : -1;
}

/* The print of what it holds of what is asked for. */
static void print(const visit *v, vd_proved *proved)
{
    uint8_t *which = g_malloc0(v->model->setting_count);
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        which[i] = (vd_visit_entry(&v->engine, i)->part & VD_PART_ASKED) != 0;
    }
    vd_proved_print(vd_visit_live(&v->engine), which, proved);
    g_free(which);
}

void proof_remember(const visit *v)
{
    vd_proved proved = {.when = now(v), .ran = running_time(v)};
    vd_summary summary = vd_visit_summary(&v->engine);
    bool shown = vd_visit_standing(&v->engine)->lasting == VD_LASTS_RESTART && summary.confirmed > 0 &&
                 summary.differing + summary.moved + summary.unknown + summary.not_sent == 0;
    if (shown && proved.ran >= 0) {
        print(v, &proved);
        vd_proved_remember(v->model->key, vd_visit_identity(&v->engine)->serial, &proved);
    }
}

bool proof_stands(const visit *v)
{
    enum { SLACK = 2000, DRIFT = 50 }; /* milliseconds; one in so many */
    vd_proved proved, present;
    int64_t ran = running_time(v);
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        if (vd_visit_changes(&v->engine, i)) {
            return false;
        }
    }
    if (ran < 0 || v->model->store.proof != VD_PROOF_RESTART ||
        !vd_proved_recall(v->model->key, vd_visit_identity(&v->engine)->serial, &proved)) {
        return false;
    }
    int64_t elapsed = now(v) - proved.when;
    print(v, &present);
    bool ran_on = elapsed >= 0 && ran + SLACK + elapsed / DRIFT >= proved.ran + elapsed &&
                  ran - SLACK - elapsed / DRIFT <= proved.ran + elapsed;
    return ran_on && strcmp(present.print, proved.print) == 0;
}
