/* SPDX-License-Identifier: MIT
 * How long a unit has been running, as it says itself, and what that tells of restarts. */
#include "verdite/rules.h"

#define SLACK 1500 /* milliseconds: running times are told in whole seconds, and asked for before they are told */
#define DRIFT 50   /* one in so many by which its clock and ours may differ */

int64_t vd_set_running_time(const vd_set *set)
{
    uint16_t setting = vd_model_running_time(set->model);
    vd_value value = setting != VD_NONE ? vd_set_get(set, setting) : (vd_value){.type = VD_NOTHING};
    return value.type == VD_DURATION ? value.number : -1;
}

vd_ruling vd_has_run_on(int64_t before, int64_t elapsed, int64_t now)
{
    if (before < 0 || now < 0 || elapsed < 0 || before > INT64_MAX / 2 || now > INT64_MAX / 2 ||
        elapsed > INT64_MAX / 4) {
        return VD_NOT_KNOWN;
    }
    int64_t due = before + elapsed, tolerance = SLACK + elapsed / DRIFT;
    return now + tolerance < due ? VD_FAILS : now - tolerance > due ? VD_NOT_KNOWN : VD_HOLDS;
}
