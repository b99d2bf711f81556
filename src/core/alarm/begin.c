/* SPDX-License-Identifier: MIT
 * Beginning to watch: what the alarms of a model come to with what a set holds, and where it is kept. */
#include "parts.h"

#include <string.h>

#define USUAL_HOLD 300000u /* milliseconds that a value holds where nobody says: five minutes */

/* ---- Which there are ---- */

static uint16_t items(const vd_model *model, uint16_t block)
{
    return block != VD_NONE ? model->blocks[block].count : 1;
}

uint16_t vd_model_alarm_count(const vd_model *model)
{
    uint16_t count = 0;
    for (uint8_t i = 0; i < model->alarm_count; i++) {
        count = (uint16_t)(count + items(model, vd_index(model->alarms[i].block)));
    }
    return count;
}

void vd_model_alarm_at(const vd_model *model, uint16_t n, uint16_t *alarm, uint16_t *item)
{
    *alarm = 0;
    while (n >= items(model, vd_index(model->alarms[*alarm].block))) {
        n = (uint16_t)(n - items(model, vd_index(model->alarms[(*alarm)++].block)));
    }
    *item = n;
}

/* Where the conditions of a model before this one end, item behind item. */
static uint16_t conditions_before(const vd_model *model, uint16_t condition)
{
    uint16_t place = 0;
    for (uint16_t i = 0; i < condition; i++) {
        place = (uint16_t)(place + items(model, vd_index(model->conditions[i].block)));
    }
    return place;
}

static uint16_t condition_count(const vd_model *model)
{
    return conditions_before(model, model->condition_count);
}

/* ---- Memory ---- */

typedef struct layout {
    size_t conditions, alarms, rates, pasts, end;
} layout;

static layout lay_out(uint16_t channels, uint16_t conditions, uint16_t alarms, uint16_t rates, uint16_t history)
{
    layout at;
    at.conditions = VD_ALIGNED(sizeof(vd_input) * channels);
    at.alarms = at.conditions + VD_ALIGNED(sizeof(vd_watched_condition) * conditions);
    at.rates = at.alarms + VD_ALIGNED(sizeof(vd_watched_alarm) * alarms);
    at.pasts = at.rates + VD_ALIGNED(sizeof(vd_rate) * rates);
    at.end = at.pasts + VD_ALIGNED(sizeof(vd_passed) * rates * history);
    return at;
}

/* Rates that can be watched at once: each test of each item looks back over its own window. */
static uint16_t most_rates(const vd_model *model)
{
    uint16_t most = 0;
    for (uint16_t i = 0; i < model->test_count; i++) {
        bool rate = model->tests[i].way >= VD_RISES;
        uint16_t of = vd_index(model->tests[i].limit) != VD_NONE
                          ? vd_index(model->formulas[vd_index(model->tests[i].limit)].block)
                          : VD_NONE;
        most = (uint16_t)(most + (rate ? items(model, of) : 0));
    }
    return most;
}

static layout layout_of(const vd_watch *watch)
{
    return lay_out(watch->channel_count, watch->condition_count, watch->alarm_room, most_rates(watch->model),
                   watch->history);
}

/* A rate needs a row behind the one that it looks back from. */
static uint16_t enough(uint16_t history)
{
    return history < 2 ? 2 : history;
}

size_t vd_watch_size(const vd_model *model, uint16_t trials, uint16_t history)
{
    return lay_out(model->channel_count, condition_count(model), (uint16_t)(vd_model_alarm_count(model) + trials),
                   most_rates(model), enough(history))
        .end;
}

vd_input *vd_watch_inputs(const vd_watch *watch)
{
    return watch->memory;
}

vd_watched_condition *vd_watch_conditions(const vd_watch *watch)
{
    return (vd_watched_condition *)(void *)((uint8_t *)watch->memory + watch->conditions_at);
}

vd_watched_alarm *vd_watch_alarms(const vd_watch *watch)
{
    return (vd_watched_alarm *)(void *)((uint8_t *)watch->memory + watch->alarms_at);
}

vd_rate *vd_watch_rates(const vd_watch *watch)
{
    return (vd_rate *)(void *)((uint8_t *)watch->memory + watch->rates_at);
}

/* ---- What there is to watch ---- */

/* The rate that a test looks at; one with the same channel, window and unit of time is shared. */
static bool add_rate(vd_watch *watch, const vd_test *test, const vd_level *level, uint16_t *index)
{
    vd_rate *rates = vd_watch_rates(watch);
    int64_t window = 0;
    if (!vd_formula_time(watch->set, vd_index(test->window), level->item, &window) || window <= 0) {
        return false;
    }
    for (*index = 0; *index < watch->rate_count; (*index)++) {
        const vd_rate *one = &rates[*index];
        if (one->channel == level->channel && one->window == window && one->per == test->per) {
            return true;
        }
    }
    layout at = layout_of(watch);
    rates[watch->rate_count++] =
        (vd_rate){.past = (vd_passed *)(void *)((uint8_t *)watch->memory + at.pasts) + (size_t)*index * watch->history,
                  .channel = level->channel,
                  .window = window,
                  .dropped = VD_NO_TIME,
                  .per = test->per};
    return true;
}

/* A test of a channel, worked out. False: something that it takes is not known. */
static bool begin_test(vd_watch *watch, uint16_t test, uint16_t item, uint16_t channel, vd_watched_test *to)
{
    const vd_test *about = &watch->model->tests[test];
    *to = (vd_watched_test){.level = vd_level_start(watch->set, test, item, channel), .rate = VD_NONE};
    watch->hung |= to->level.summed ? 0 : to->level.hangs_on; /* what is run reads it from the set */
    return (to->level.known || to->level.hangs_on != 0) &&
           (!vd_level_is_rate(&to->level) || add_rate(watch, about, &to->level, &to->rate));
}

static void open_gate(vd_gate *gate, const vd_watched_test *test, bool open)
{
    gate->shut = !open;
    gate->index = open ? test->level.channel : 0;
    gate->channel = open ? (uint64_t)1 << gate->index : 0;
    gate->hangs_on = open ? test->level.hangs_on : 0;
}

static vd_ruling begin_condition(vd_watch *watch, const vd_condition *about, uint16_t item, vd_watched_condition *to)
{
    uint16_t channel = VD_NONE, test = 0;
    *to = (vd_watched_condition){.now = VD_FAILS, .since = VD_NO_TIME};
    to->gate = (vd_gate){.stays = {1, 0}, .next = INT64_MAX, .shut = true};
    vd_ruling there = vd_source_channel(watch->set, &about->watches, item, &channel);
    there = there == VD_HOLDS ? vd_tests_pick(watch->set, about->test, about->test_count, item, &test) : there;
    to->never = there == VD_HOLDS ? (uint8_t)vd_channel_doubt(watch->set, channel) : VD_DOUBT_NONE;
    to->there = there == VD_HOLDS && begin_test(watch, test, item, channel, &to->test);
    open_gate(&to->gate, &to->test, to->there && to->never == VD_DOUBT_NONE);
    return there == VD_HOLDS && !to->there ? VD_NOT_KNOWN : there;
}

/* Whether an alarm can be run, and with what. */
static vd_ruling begin_alarm(vd_watch *watch, uint16_t index, uint16_t item, vd_watched_alarm *to)
{
    const vd_alarm *about = &watch->model->alarms[index];
    const vd_set *set = watch->set;
    uint16_t test = 0;
    *to = (vd_watched_alarm){
        .public = {.alarm = index, .item = item, .channel = VD_NONE, .limit = VD_NONE, .near_at = VD_NO_TIME},
        .test = {.rate = VD_NONE},
        .longest = VD_NO_TIME,
        .met = VD_NO_TIME,
        .lost_from = VD_NO_TIME,
        .over_from = VD_NO_TIME,
        .sum_from = VD_NO_TIME,
        .halt_from = VD_NO_TIME,
        .was = VD_FAILS,
        .cause = VD_FAILS,
        .condition = VD_FAILS,
        .state = VD_NOT_KNOWN};
    to->gate = (vd_gate){.stays = {1, 0}, .next = INT64_MAX, .shut = true};
    vd_ruling used = vd_formula_truth(set, vd_index(about->used), item, VD_HOLDS);
    if (used != VD_HOLDS || about->joint != VD_SINGLE) {
        return used;
    }
    used = vd_source_channel(set, &about->watches, item, &to->public.channel);
    used = used == VD_HOLDS ? vd_tests_pick(set, about->test, about->test_count, item, &test) : used;
    if (used != VD_HOLDS) {
        to->public.channel = VD_NONE;
        return used;
    }
    uint16_t formula = vd_index(watch->model->tests[test].limit);
    const vd_kind *limit = formula != VD_NONE ? &watch->model->book->formulas[formula].kind : NULL;
    bool direct = limit != NULL && watch->model->tests[test].way != VD_IS;
    to->public.limit = direct ? vd_spot_in(limit->spot, item) : (uint16_t)VD_NONE;
    vd_ruling latches = vd_formula_truth(set, vd_index(about->latches), item, VD_FAILS);
    to->latches = latches == VD_HOLDS;
    bool fine =
        begin_test(watch, test, item, to->public.channel, &to->test) && latches != VD_NOT_KNOWN &&
        vd_formula_time(set, vd_index(about->delay_in), item, &to->delay_in) &&
        vd_formula_time(set, vd_index(about->delay_out), item, &to->delay_out) &&
        vd_formula_time(set, vd_index(about->hush), item, &to->hush) &&
        (vd_index(about->longest) == VD_NONE || (vd_formula_time(set, vd_index(about->longest), item, &to->longest) &&
                                                 vd_formula_time(set, vd_index(about->rest), item, &to->rest)));
    bool matters = vd_formula_truth(set, vd_index(about->matters), item, VD_HOLDS) != VD_FAILS;
    to->public.never = matters ? (uint8_t)vd_channel_doubt(set, to->public.channel) : VD_DOUBT_IDLE;
    for (uint8_t i = 0; i < about->condition_count; i++) {
        uint16_t condition = about->conditions[i], place = conditions_before(watch->model, condition);
        place = (uint16_t)(place + (vd_index(watch->model->conditions[condition].block) != VD_NONE ? item : 0));
        const vd_watched_condition *one = &vd_watch_conditions(watch)[place];
        fine = fine && one->known;
        if (one->there) {
            to->gate.waits_for |= (uint64_t)1 << (place & 63);
            to->conditions[to->condition_count++] = place;
            to->public.conditioned = true;
        }
        if (one->there && one->never != VD_DOUBT_NONE && to->public.never == VD_DOUBT_NONE && !about->any_condition) {
            to->public.never = (uint8_t)(one->never - VD_DOUBT_NOT_HERE + VD_DOUBT_CONDITION_NOT_HERE);
        }
    }
    return fine ? VD_HOLDS : VD_NOT_KNOWN;
}

vd_status vd_watch_start(vd_watch *watch, vd_set *set, uint16_t trials, uint16_t history, void *memory, size_t size,
                         vd_alarm_listener *listener, void *about, vd_fault *fault)
{
    const vd_model *model = set->model;
    uint16_t count = vd_model_alarm_count(model);
    if (size < vd_watch_size(model, trials, history)) {
        return vd_note_MEMORY_TOO_SMALL(fault);
    }
    *watch = (vd_watch){.model = model,
                        .set = set,
                        .listener = listener,
                        .about = about,
                        .start = VD_NO_TIME,
                        .now = VD_NO_TIME,
                        .memory = memory,
                        .channel_count = model->channel_count,
                        .condition_count = condition_count(model),
                        .alarm_room = (uint16_t)(count + trials),
                        .history = enough(history),
                        .next = VD_NO_TIME,
                        .alarm_next = INT64_MAX,
                        .staged = VD_NO_TIME};
    layout at = layout_of(watch);
    watch->conditions_at = at.conditions;
    watch->alarms_at = at.alarms;
    watch->rates_at = at.rates;
    memset(memory, 0, at.end);
    for (uint16_t i = 0; i < watch->channel_count; i++) {
        uint32_t holds_for = model->channels[i].holds_for;
        vd_watch_inputs(watch)[i] =
            (vd_input){.holds_for = holds_for != 0 ? holds_for : USUAL_HOLD, .places = vd_channel_places(model, i)};
        if (vd_index(model->channels[i].reads) != VD_NONE) { /* nothing has come yet */
            vd_set_forget(set, vd_index(model->channels[i].reads));
        }
    }
    for (uint16_t i = 0; i < model->condition_count; i++) {
        for (uint16_t item = 0; item < items(model, vd_index(model->conditions[i].block)); item++) {
            vd_watched_condition *one = &vd_watch_conditions(watch)[conditions_before(model, i) + item];
            one->known = begin_condition(watch, &model->conditions[i], item, one) != VD_NOT_KNOWN;
        }
    }
    for (uint16_t i = 0; i < count; i++) {
        uint16_t alarm = 0, item = 0;
        vd_model_alarm_at(model, i, &alarm, &item);
        vd_watched_alarm *one = &vd_watch_alarms(watch)[i];
        one->public.used = begin_alarm(watch, alarm, item, one);
        open_gate(&one->gate, &one->test,
                  one->public.used == VD_HOLDS && one->public.never == VD_DOUBT_NONE &&
                      model->alarms[alarm].joint == VD_SINGLE);
    }
    watch->alarm_count = count;
    return VD_OK;
}

uint16_t vd_watch_limit_like(const vd_watch *watch, uint16_t n)
{
    const vd_model *model = watch->model;
    const vd_watched *alarm = vd_watch_alarm(watch, n);
    if (alarm->channel == VD_NONE || vd_channel_has_states(model, alarm->channel)) {
        return VD_NONE;
    }
    bool own = alarm->limit != VD_NONE && model->settings[alarm->limit].like_count == 0;
    return own ? alarm->limit : vd_index(model->channels[alarm->channel].reads);
}

bool vd_watch_has_pair(const vd_watch *watch, uint16_t n)
{
    const vd_level *level = &vd_watch_alarms(watch)[n].test.level;
    return level->way == VD_OUTSIDE || level->way == VD_INSIDE;
}

bool vd_watch_is_crossed(const vd_watch *watch, uint16_t n)
{
    const vd_level *level = &vd_watch_alarms(watch)[n].test.level;
    return level->known && level->hangs_on == 0 && vd_watch_has_pair(watch, n) && level->low > level->high;
}

bool vd_watch_add_trial(vd_watch *watch, uint16_t n, bool upper, const vd_value *limit)
{
    vd_watched_alarm *all = vd_watch_alarms(watch);
    uint16_t like = n < watch->alarm_count ? vd_watch_limit_like(watch, n) : VD_NONE;
    int64_t below = 1;
    vd_ratio given;
    if (like == VD_NONE || watch->alarm_count >= watch->alarm_room || !vd_scale_up(&below, limit->places) ||
        !vd_ratio_make(limit->number, below, &given)) {
        return false;
    }
    vd_ratio unit = vd_measure_find(watch->model, watch->model->settings[like].measure).scale;
    if (!vd_ratio_multiply(given, unit, &given) || !vd_ratio_divide(given, all[n].test.level.unit, &given)) {
        return false;
    }
    vd_watched_alarm trial = all[n];
    vd_level *level = &trial.test.level;
    bool pair = level->way == VD_OUTSIDE || level->way == VD_INSIDE;
    if (level->way == VD_IS || (upper && !pair)) {
        return false;
    }
    level->given = given;
    level->trial = true;
    level->trial_upper = upper;
    vd_level_resolve(level, watch->set);
    watch->hung |= level->hangs_on;
    trial.public.trial = true;
    trial.public.used = level->known ? VD_HOLDS : VD_NOT_KNOWN;
    trial.gate.shut = !level->known || trial.public.never != VD_DOUBT_NONE;
    trial.gate.hangs_on = level->hangs_on;
    all[watch->alarm_count++] = trial;
    return true;
}

void vd_watch_hold(vd_watch *watch, uint16_t channel, uint32_t holds_for)
{
    vd_watch_inputs(watch)[channel].holds_for = holds_for;
}

uint16_t vd_watch_count(const vd_watch *watch)
{
    return watch->alarm_count;
}

const vd_watched *vd_watch_alarm(const vd_watch *watch, uint16_t n)
{
    return &vd_watch_alarms(watch)[n].public;
}

const vd_model *vd_watch_model(const vd_watch *watch)
{
    return watch->model;
}

int64_t vd_watch_begin(const vd_watch *watch)
{
    return watch->start;
}

int64_t vd_watch_now(const vd_watch *watch)
{
    return watch->now;
}

vd_watch_odd vd_watch_odd_rows(const vd_watch *watch)
{
    return (vd_watch_odd){watch->replaced, watch->left_out, watch->crowded};
}
