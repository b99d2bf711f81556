/* SPDX-License-Identifier: MIT
 * What a channel can measure, held against a comparison. */
#include "phrases.h"

/* The least and the most that a channel measures, times 10^places; false: it is not said. */
static bool range_of(const vd_set *set, uint16_t channel, int64_t *low, int64_t *high)
{
    const vd_model *model = set->model;
    uint16_t reads = vd_index(model->channels[channel].reads);
    vd_meaning meaning;
    int64_t scale = 1;
    if (vd_channel_has_states(model, channel) || reads == VD_NONE || !vd_set_meaning(set, reads, &meaning)) {
        return false;
    }
    vd_value ends[2] = {vd_value_from_count(&meaning, meaning.min), vd_value_from_count(&meaning, meaning.max)};
    uint8_t places = vd_channel_places(model, channel);
    for (int i = 0; i < 2; i++) {
        if (ends[i].type == VD_NOTHING || ends[i].places > places) {
            return false;
        }
        scale = ends[i].number;
        if (!vd_scale_up(&scale, places - ends[i].places)) {
            return false;
        }
        *(i == 0 ? low : high) = scale;
    }
    return true;
}

void vd_range_print(const vd_set *set, uint16_t channel, vd_writer *writer)
{
    vd_meaning meaning;
    uint16_t reads = vd_index(set->model->channels[channel].reads);
    vd_set_meaning(set, reads, &meaning);
    vd_value low = vd_value_from_count(&meaning, meaning.min);
    vd_value high = vd_value_from_count(&meaning, meaning.max);
    vd_value_print(meaning.of, &low, writer);
    vd_writer_add(writer, " to ");
    vd_value_print(meaning.of, &high, writer);
}

bool vd_level_is_fixed(const vd_set *set, uint16_t test, uint16_t item, uint16_t channel, vd_level *level)
{
    *level = vd_level_start(set, test, item, channel);
    if (level->hangs_on != 0) {
        return false; /* it hangs on what is measured */
    }
    return level->known && !vd_level_is_rate(level) && level->way != VD_IS;
}

bool vd_test_covers(const vd_set *set, uint16_t test, uint16_t item, uint16_t channel, bool *nothing, bool *all,
                    bool *never_over)
{
    vd_level level;
    int64_t low = 0, high = 0;
    *nothing = *all = *never_over = false;
    if (!vd_level_is_fixed(set, test, item, channel, &level) || !range_of(set, channel, &low, &high)) {
        return false;
    }
    bool apart = level.high < low || level.low > high, within = level.low <= low && level.high >= high;
    bool over_apart = level.held_high < low || level.held_low > high || level.held_low > level.held_high;
    bool over_within = level.held_low <= low && level.held_high >= high;
    *nothing = level.inside ? apart || level.low > level.high : within;
    *all = level.inside ? within : apart;
    *never_over = !*nothing && !*all && (level.inside ? over_within : over_apart);
    return true;
}
