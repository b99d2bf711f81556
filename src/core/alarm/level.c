/* SPDX-License-Identifier: MIT
 * A comparison, worked out once to one with whole numbers: whether x > 36.5 is whether its count is beyond one count.
 */
#include "parts.h"

#define LEAST (-INT64_MAX)

/* The greatest count not above a number, and the least not below it. */
static bool counts_at(vd_ratio number, unsigned places, int64_t *at_most, int64_t *at_least)
{
    int64_t scale = 1;
    vd_ratio counts;
    if (!vd_scale_up(&scale, places) || !vd_ratio_multiply(number, (vd_ratio){scale, 1}, &counts)) {
        return false;
    }
    int64_t whole = counts.number / counts.below, rest = counts.number % counts.below;
    *at_most = whole - (rest < 0);
    *at_least = whole + (rest > 0);
    return true;
}

static bool moved(vd_ratio from, vd_ratio by, bool down, vd_ratio *to)
{
    vd_ratio step = {down ? -by.number : by.number, by.below};
    return vd_ratio_add(from, step, to);
}

bool vd_level_is_rate(const vd_level *level)
{
    return level->way >= VD_RISES;
}

/* A pair, or one side of it that is open: met outside of it. */
static bool resolve_pair(vd_level *level, vd_ratio low, vd_ratio high, vd_ratio release, unsigned places)
{
    bool below = level->way != VD_ABOVE, above = level->way != VD_BELOW;
    int64_t unused = 0;
    vd_ratio held_low = low, held_high = high;
    level->low = level->held_low = LEAST;
    level->high = level->held_high = INT64_MAX;
    level->inside = level->way == VD_INSIDE;
    if (!moved(low, release, level->inside, &held_low) || !moved(high, release, !level->inside, &held_high)) {
        return false;
    }
    return (!below ||
            (counts_at(low, places, &unused, &level->low) && counts_at(held_low, places, &unused, &level->held_low))) &&
           (!above || (counts_at(high, places, &level->high, &unused) &&
                       counts_at(held_high, places, &level->held_high, &unused)));
}

void vd_level_resolve(vd_level *level, const vd_set *set)
{
    const vd_model *model = set->model;
    const vd_test *test = &model->tests[level->test];
    vd_ratio limit, upper, release;
    level->known = false;
    if (test->way == VD_IS) {
        int64_t state = 0;
        level->known = vd_formula_state(set, test->limit, level->item, level->channel, &state);
        level->inside = true;
        level->low = level->high = level->held_low = level->held_high = state;
        return;
    }
    bool fine = vd_formula_number(set, test->limit, level->item, level->channel, &limit) || level->trial;
    fine = (vd_formula_number(set, test->upper, level->item, level->channel, &upper) || level->trial_upper) && fine;
    fine = vd_formula_number(set, test->release, level->item, level->channel, &release) && fine;
    if (!fine || release.number < 0) {
        return;
    }
    limit = level->trial && !level->trial_upper ? level->given : limit;
    upper = level->trial && level->trial_upper ? level->given : upper;
    level->limit = limit;
    if (vd_level_is_rate(level)) {
        level->known = moved(limit, release, true, &level->held);
        return;
    }
    unsigned places = vd_channel_places(model, level->channel);
    bool pair = test->way == VD_OUTSIDE || test->way == VD_INSIDE;
    level->known = resolve_pair(level, limit, pair ? upper : limit, release, places);
}

bool vd_level_met(const vd_level *level, int64_t number, bool held)
{
    int64_t low = held ? level->held_low : level->low, high = held ? level->held_high : level->high;
    return (number >= low && number <= high) == level->inside;
}

static vd_ratio turned(const vd_level *level, vd_ratio rate)
{
    bool negative = level->way == VD_FALLS || (level->way == VD_CHANGES && rate.number < 0);
    return (vd_ratio){negative ? -rate.number : rate.number, rate.below};
}

bool vd_level_rate_met(const vd_level *level, vd_ratio rate, bool held)
{
    return vd_ratio_compare(turned(level, rate), held ? level->held : level->limit) > 0;
}

static int64_t gap(int64_t a, int64_t b)
{
    uint64_t apart = (uint64_t)(a > b ? a : b) - (uint64_t)(a > b ? b : a);
    return apart > INT64_MAX ? INT64_MAX : (int64_t)apart;
}

int64_t vd_level_distance(const vd_level *level, int64_t number)
{
    if (vd_level_met(level, number, false)) {
        return 0;
    }
    int64_t to_low = level->low != LEAST ? gap(number, level->low) : INT64_MAX;
    int64_t to_high = level->high != INT64_MAX ? gap(number, level->high) : INT64_MAX;
    return to_low < to_high ? to_low : to_high;
}
