/* SPDX-License-Identifier: MIT
 * The least and the most of several runs. */
#include "verdite/played.h"

bool vd_played_is_known(const vd_played *played)
{
    bool known = true;
    for (uint16_t run = 0; run < played->course_count; run++) {
        known = known && vd_course_is_known(played->courses[run]);
    }
    return known && (played->others == NULL || vd_played_is_known(played->others));
}

/* Where an item was played. */
static const vd_played *at(const vd_played *played, uint16_t item)
{
    return played->others != NULL && !played->touched[item] ? played->others : played;
}

static uint64_t pick(uint64_t a, uint64_t b, bool most)
{
    return (a < b) != most ? a : b;
}

/* -1 is never: later than all. */
static int64_t pick_time(int64_t a, int64_t b, bool most)
{
    if (a < 0 || b < 0) {
        return most ? -1 : a < 0 ? b : a;
    }
    return (a < b) != most ? a : b;
}

static vd_item_sum sum_of(const vd_played *played, uint16_t item, bool most)
{
    vd_item_sum sum = vd_course_sum(played->courses[0], item);
    for (uint16_t run = 1; run < played->course_count; run++) {
        vd_item_sum other = vd_course_sum(played->courses[run], item);
        bool aged = sum.age >= 0 && other.age >= 0;
        sum = (vd_item_sum){.happened = pick(sum.happened, other.happened, most),
                            .held = pick(sum.held, other.held, most),
                            .taken = pick(sum.taken, other.taken, most),
                            .packets = pick(sum.packets, other.packets, most),
                            .lost = pick(sum.lost, other.lost, most),
                            .most = pick(sum.most, other.most, most),
                            .age = aged ? (int64_t)pick((uint64_t)sum.age, (uint64_t)other.age, most) : -1,
                            .full_at = pick_time(sum.full_at, other.full_at, most)};
    }
    return sum;
}

vd_item_sum vd_played_least(const vd_played *played, uint16_t item)
{
    return sum_of(at(played, item), item, false);
}

vd_item_sum vd_played_most(const vd_played *played, uint16_t item)
{
    return sum_of(at(played, item), item, true);
}

static vd_case_sum case_of(const vd_played *played, uint16_t item, uint16_t k, bool most)
{
    vd_case_sum sum = vd_course_case(played->courses[0], item, k);
    for (uint16_t run = 1; run < played->course_count; run++) {
        vd_case_sum other = vd_course_case(played->courses[run], item, k);
        sum = (vd_case_sum){.held = pick(sum.held, other.held, most),
                            .expired = pick(sum.expired, other.expired, most),
                            .longest = pick(sum.longest, other.longest, most)};
    }
    return sum;
}

vd_case_sum vd_played_case_least(const vd_played *played, uint16_t item, uint16_t k)
{
    return case_of(at(played, item), item, k, false);
}

vd_case_sum vd_played_case_most(const vd_played *played, uint16_t item, uint16_t k)
{
    return case_of(at(played, item), item, k, true);
}
