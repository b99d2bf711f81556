/* SPDX-License-Identifier: MIT
 * The values of channels as rows bring them and time takes them away; how fast they change. */
#include "parts.h"

static int64_t later(int64_t time, int64_t by)
{
    return time > INT64_MAX - by ? INT64_MAX : time + by;
}

/* The reading of a channel, for formulas that hang on it. */
static void tell_set(const vd_watch *watch, uint16_t channel, const vd_input *input)
{
    uint16_t reads = vd_index(watch->model->channels[channel].reads);
    if (reads == VD_NONE || watch->model->channels[channel].flag != VD_NO_FLAG) {
        return;
    }
    const vd_setting *about = &watch->model->settings[reads];
    vd_value value = {.type = about->traits->id, .places = input->places, .number = input->number};
    while (!vd_setting_is(about, VD_TYPE_PLACED) && value.places > 0) { /* a whole number, as far as it is one */
        value.number /= 10;
        value.places--;
    }
    if (input->known) {
        vd_set_put(watch->set, reads, &value);
    } else {
        vd_set_forget(watch->set, reads);
    }
}

/* What a new row makes of a rate: compared with the latest row far enough back, if nothing was missing in between. */
static void take_rate(vd_watch *watch, vd_rate *rate, const vd_input *input, int64_t time)
{
    uint16_t room = watch->history > 0 ? watch->history : 1;
    int64_t far = time - rate->window;
    while (rate->count >= 2 && rate->past[(rate->first + 1) % room].time <= far) {
        rate->first = (uint16_t)((rate->first + 1) % room);
        rate->count--;
    }
    const vd_passed *past = &rate->past[rate->first];
    bool there = rate->count > 0 && past->time <= far && past->time >= far - rate->window;
    int64_t scale = 1;
    vd_ratio rise, pace;
    watch->crowded += !there && input->known && rate->dropped != VD_NO_TIME && rate->dropped >= far - rate->window;
    /* known_since is still that of the time before this row */
    rate->known = there && input->known && input->known_since <= past->time && vd_scale_up(&scale, input->places);
    if (rate->known) {
        rate->known = vd_ratio_make(input->number - past->number, scale, &rise) &&
                      vd_ratio_make(rate->per, time - past->time, &pace) && vd_ratio_multiply(rise, pace, &rate->rate);
    }
    if (rate->count == room) {
        rate->dropped = rate->past[rate->first].time;
        rate->first = (uint16_t)((rate->first + 1) % room);
        rate->count--;
    }
    rate->past[(rate->first + rate->count++) % room] = (vd_passed){time, input->number};
}

uint64_t vd_inputs_take(vd_watch *watch, int64_t time)
{
    vd_input *inputs = vd_watch_inputs(watch);
    vd_rate *rates = vd_watch_rates(watch);
    uint64_t changed = 0;
    for (uint16_t i = 0; i < watch->channel_count; i++) {
        vd_input *input = &inputs[i];
        bool cell = (watch->cells >> i & 1) != 0 && watch->staged == time, ends = input->known && input->until <= time;
        if (!cell && !ends) {
            continue;
        }
        bool was = input->known, known = cell && input->staged_known;
        bool same = was == known && (!known || input->number == input->staged);
        bool gapped = !was || (ends && input->until < time);
        input->known = known;
        input->number = known ? input->staged : input->number;
        input->until = known ? later(time, input->holds_for) : VD_NO_TIME;
        int64_t before = input->known_since;
        input->known_since = gapped ? time : before;
        for (uint16_t r = 0; r < watch->rate_count; r++) {
            if (rates[r].channel == i && cell) {
                take_rate(watch, &rates[r], input, time);
                same = false;
            } else if (rates[r].channel == i) {
                rates[r].known = false;
                same = false;
            }
        }
        if (!same) {
            changed |= (uint64_t)1 << i;
            if ((watch->hung >> i & 1) != 0) {
                tell_set(watch, i, input);
            }
        }
    }
    watch->cells = watch->staged == time ? 0 : watch->cells;
    return changed;
}

vd_ruling vd_test_judge(const vd_watch *watch, const vd_watched_test *test, bool held)
{
    const vd_input *input = &vd_watch_inputs(watch)[test->level.channel];
    bool met = false;
    if (!test->level.known || !input->known) {
        return VD_NOT_KNOWN;
    }
    if (test->rate != VD_NONE) {
        const vd_rate *rate = &vd_watch_rates(watch)[test->rate];
        if (!rate->known) {
            return VD_NOT_KNOWN;
        }
        met = vd_level_rate_met(&test->level, rate->rate, held);
    } else {
        met = vd_level_met(&test->level, input->number, held);
    }
    return met ? VD_HOLDS : VD_FAILS;
}
