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

/* A pair, or one side of it that is open: met outside of it, or inside. */
static bool resolve_pair(vd_level *level, vd_ratio low, vd_ratio high, vd_ratio release)
{
    bool below = level->way != VD_ABOVE, above = level->way != VD_BELOW, none = release.number == 0;
    int64_t unused = 0;
    vd_ratio held;
    level->low = level->held_low = LEAST;
    level->high = level->held_high = INT64_MAX;
    level->inside = level->way == VD_INSIDE;
    if (below) {
        if (!counts_at(low, level->places, &unused, &level->low) || !moved(low, release, level->inside, &held) ||
            (!none && !counts_at(held, level->places, &unused, &level->held_low))) {
            return false;
        }
        level->held_low = none ? level->low : level->held_low;
    }
    if (above) {
        if (!counts_at(high, level->places, &level->high, &unused) || !moved(high, release, !level->inside, &held) ||
            (!none && !counts_at(held, level->places, &level->held_high, &unused))) {
            return false;
        }
        level->held_high = none ? level->high : level->held_high;
    }
    return true;
}

void vd_level_resolve(vd_level *level, const vd_set *set)
{
    const vd_test *test = &set->model->tests[level->test];
    vd_ratio limit, upper, release;
    level->known = false;
    if (test->way == VD_IS) {
        int64_t state = 0;
        level->known = vd_formula_state(set, vd_index(test->limit), level->item, level->channel, &state);
        level->inside = true;
        level->low = level->high = level->held_low = level->held_high = state;
        return;
    }
    bool fine = vd_formula_in_unit(set, vd_index(test->limit), level->item, level->unit, &limit) || level->trial;
    fine = (vd_formula_in_unit(set, vd_index(test->upper), level->item, level->unit, &upper) || level->trial_upper) &&
           fine;
    fine = vd_formula_in_unit(set, vd_index(test->release), level->item, level->unit, &release) && fine;
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
    bool pair = test->way == VD_OUTSIDE || test->way == VD_INSIDE;
    level->known = resolve_pair(level, limit, pair ? upper : limit, release);
}

/* Makes sums of the limits where that can be; the release is the same whatever is measured then. */
static bool make_sums(vd_level *level, const vd_set *set)
{
    const vd_test *test = &set->model->tests[level->test];
    bool pair = test->way == VD_OUTSIDE || test->way == VD_INSIDE;
    vd_sum release;
    if (level->way >= VD_IS ||
        !vd_sum_make(set, vd_index(test->release), level->item, level->unit, level->places, &release) ||
        release.count > 0 || release.constant < 0) {
        return false;
    }
    for (int i = 0; i < 2; i++) {
        uint16_t formula = i == 0 || !pair ? vd_index(test->limit) : vd_index(test->upper);
        vd_sum *sum = &level->sums[i];
        if (!vd_sum_make(set, formula, level->item, level->unit, level->places, sum)) {
            return false;
        }
        if (sum->below % release.below != 0 || release.constant > INT64_MAX / 4 / (sum->below / release.below)) {
            return false;
        }
        level->release[i] = release.constant * (sum->below / release.below);
    }
    return true;
}

void vd_level_follow(vd_level *level, const vd_set *set, const vd_input *inputs)
{
    bool below = level->way != VD_ABOVE, above = level->way != VD_BELOW, inside = level->way == VD_INSIDE;
    int64_t unused = 0;
    if (!level->summed || level->trial) {
        vd_level_resolve(level, set);
        return;
    }
    level->inside = inside;
    level->low = level->held_low = LEAST;
    level->high = level->held_high = INT64_MAX;
    level->known = true;
    if (below) {
        level->known = vd_sum_now(&level->sums[0], inputs, 0, &unused, &level->low) &&
                       vd_sum_now(&level->sums[0], inputs, inside ? -level->release[0] : level->release[0], &unused,
                                  &level->held_low);
    }
    if (above && level->known) {
        level->known = vd_sum_now(&level->sums[1], inputs, 0, &level->high, &unused) &&
                       vd_sum_now(&level->sums[1], inputs, inside ? level->release[1] : -level->release[1],
                                  &level->held_high, &unused);
    }
}

vd_level vd_level_start(const vd_set *set, uint16_t test, uint16_t item, uint16_t channel)
{
    const vd_test *about = &set->model->tests[test];
    vd_level level = {.test = test,
                      .item = item,
                      .channel = channel,
                      .way = about->way,
                      .unit = vd_channel_unit(set->model, channel),
                      .places = vd_channel_places(set->model, channel),
                      .hangs_on = vd_formula_channels(set->model, vd_index(about->limit), item) |
                                  vd_formula_channels(set->model, vd_index(about->upper), item) |
                                  vd_formula_channels(set->model, vd_index(about->release), item)};
    level.summed = level.hangs_on != 0 && make_sums(&level, set);
    vd_level_resolve(&level, set);
    return level;
}

bool vd_level_met(const vd_level *level, int64_t number, bool held)
{
    int64_t low = held ? level->held_low : level->low, high = held ? level->held_high : level->high;
    return (number >= low && number <= high) == level->inside;
}

vd_calm_values vd_level_stretch(const vd_level *level, int64_t number, bool held)
{
    int64_t low = held ? level->held_low : level->low, high = held ? level->held_high : level->high;
    if (number < low) {
        return (vd_calm_values){INT64_MIN, low - 1};
    }
    return number > high ? (vd_calm_values){high + 1, INT64_MAX} : (vd_calm_values){low, high};
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
