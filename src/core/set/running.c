/* SPDX-License-Identifier: MIT
 * How long a unit has been running, as it says itself, and what that tells of restarts. */
#include "verdite/rules.h"

#define SLACK 500 /* milliseconds: running times are asked for before they are told */
#define DRIFT 50  /* one in so many by which its clock and ours may differ */

int64_t vd_set_running_time(const vd_set *set)
{
    uint16_t setting = vd_model_running_time(set->model);
    vd_value value = setting != VD_NONE ? vd_set_get(set, setting) : (vd_value){.type = VD_NOTHING};
    return value.type == VD_DURATION ? value.number : -1;
}

int64_t vd_model_running_step(const vd_model *model)
{
    uint16_t setting = vd_model_running_time(model);
    const vd_setting *about = setting != VD_NONE ? &model->settings[setting] : NULL;
    return about != NULL ? (int64_t)about->tick * (about->step > 0 ? about->step : 1) : 0;
}

vd_ruling vd_has_run_on(const vd_running_times *run)
{
    const int64_t most = INT64_MAX / 8;
    if (run->before < 0 || run->now < 0 || run->elapsed < 0 || run->before > most || run->now > most ||
        run->elapsed > most || run->since > most || run->each > most) {
        return VD_NOT_KNOWN;
    }
    int64_t due = run->before + run->elapsed, tolerance = SLACK + run->each + run->elapsed / DRIFT;
    bool any = run->since < 0, within = run->now <= run->since + tolerance;
    bool runs_on = run->now + tolerance >= due && run->now - tolerance <= due, anew = run->now + tolerance < due;
    return runs_on && (any || !within) ? VD_HOLDS : anew && (any || within) ? VD_FAILS : VD_NOT_KNOWN;
}
