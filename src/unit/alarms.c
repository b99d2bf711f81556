/* SPDX-License-Identifier: MIT
 * The alarms that a unit's model declares, run on what it reads: what stands is shown where the model says so, and said
 * unasked. All of it follows from the settings, from what was read, and from two moments: so it is worked out when it
 * is asked for, and again after the state of a unit was put back. */
#include "parts.h"
#include "verdite/lines.h"

#include <string.h>

#define HISTORY 64u         /* rows that a rate looks back over */
#define SECOND 1000         /* milliseconds from one look at a reading to the next */
#define FOR_EVER UINT32_MAX /* what a unit reads holds until it reads again */

size_t vd_unit_alarm_size(const vd_model *model)
{
    size_t watch = VD_ALIGNED(vd_watch_size(model, 0, HISTORY));
    return model->alarm_count > 0 ? vd_set_size(model) + watch : 0;
}

static int64_t milliseconds(uint64_t time)
{
    return (int64_t)(time / 1000u);
}

/* ---- Unasked words ---- */

bool vd_unit_say(vd_unit *unit, const char *line, uint16_t item, uint64_t now)
{
    static const char digits[] = "0123456789ABCDEF";
    char text[VD_LONGEST_LINE];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_writer_add_item(&writer, line, item);
    if (text[0] == '$') {
        uint8_t check = vd_lines_check(text + 1, writer.length - 1);
        const char tail[] = {'*', digits[check >> 4], digits[check & 15]};
        vd_writer_add_bytes(&writer, tail, sizeof tail);
    }
    return unit->language->ways->say(unit, text, now);
}

void vd_unit_say_alarms(vd_unit *unit, uint64_t now)
{
    while (unit->unsaid_count > 0 && vd_unit_listens(unit, now)) {
        const vd_watched *one = vd_watch_alarm(&unit->watch, unit->unsaid[0] / 2u);
        const vd_alarm *alarm = &unit->model->alarms[one->alarm];
        if (!vd_unit_say(unit, (unit->unsaid[0] & 1u) != 0 ? alarm->says_stands : alarm->says_ends, one->item, now)) {
            return;
        }
        unit->unsaid_count--;
        memmove(unit->unsaid, unit->unsaid + 1, unit->unsaid_count);
    }
}

/* What happens is said as soon as the line is free; where too much waits, the oldest is not said. */
static void listen(void *about, const vd_alarm_event *event)
{
    vd_unit *unit = about;
    const vd_watched *one = vd_watch_alarm(&unit->watch, event->alarm);
    const vd_alarm *alarm = &unit->model->alarms[one->alarm];
    bool stands = event->what == VD_ALARM_SOUNDS;
    bool ends = (event->what == VD_ALARM_ENDS && one->state == VD_AT_REST) || event->what == VD_ALARM_CLEARED;
    const char *line = stands ? alarm->says_stands : ends ? alarm->says_ends : NULL;
    if (line == NULL || line[0] == '\0' || unit->language->ways->say == NULL || unit->catching_up ||
        event->alarm > 127 || !vd_unit_listens(unit, (uint64_t)event->time * 1000u)) {
        return;
    }
    if (unit->unsaid_count == VD_UNSAID) {
        unit->unsaid_count--;
        memmove(unit->unsaid, unit->unsaid + 1, unit->unsaid_count);
    }
    unit->unsaid[unit->unsaid_count++] = (uint8_t)(event->alarm * 2u + stands);
    vd_unit_say_alarms(unit, (uint64_t)event->time * 1000u);
}

/* ---- What it reads ---- */

/* What a row of the log says goes into the readings, as far as they can hold it. */
static void read_row(vd_unit *unit, uint32_t row)
{
    const vd_unit_log *log = unit->log;
    const int64_t *numbers = log->numbers + (size_t)row * unit->model->channel_count;
    for (uint16_t i = 0; i < unit->model->channel_count; i++) {
        const vd_channel *channel = &unit->model->channels[i];
        vd_meaning meaning;
        if ((log->known[row] >> i & 1) == 0 || vd_index(channel->reads) == VD_NONE ||
            !vd_set_meaning(&unit->live, vd_index(channel->reads), &meaning)) {
            continue;
        }
        vd_value value = {
            .type = meaning.of->traits->id, .places = vd_channel_places(unit->model, i), .number = numbers[i]};
        if (channel->flag != VD_NO_FLAG) {
            value = vd_set_get(&unit->live, vd_index(channel->reads));
            uint64_t bit = (uint64_t)1 << channel->flag, flags = (uint64_t)value.number & ~bit;
            value.number = (int64_t)(numbers[i] == 1 ? flags | bit : flags);
        }
        for (; value.places > meaning.places; value.places--) {
            value.number /= 10;
        }
        vd_set_put(&unit->live, vd_index(channel->reads), &value);
    }
}

static void feed_row(vd_unit *unit, uint32_t row)
{
    const vd_unit_log *log = unit->log;
    if (vd_watch_row(&unit->watch, log->times[row])) {
        for (uint16_t i = 0; i < unit->model->channel_count; i++) {
            if ((log->cells[row] >> i & 1) != 0) {
                vd_watch_cell(&unit->watch, i, (log->known[row] >> i & 1) != 0,
                              log->numbers[(size_t)row * unit->model->channel_count + i]);
            }
        }
    }
}

/* A row of what it reads at this moment. */
static void feed_live(vd_unit *unit, int64_t time)
{
    if (!vd_watch_row(&unit->watch, time)) {
        return;
    }
    for (uint16_t i = 0; i < unit->model->channel_count; i++) {
        int64_t number = 0;
        bool known = vd_channel_value(&unit->live, i, &number) &&
                     vd_set_exists(&unit->live, vd_index(unit->model->channels[i].reads)) != VD_FAILS;
        vd_watch_cell(&unit->watch, i, known, number);
    }
}

static bool any_moves(const vd_unit *unit)
{
    bool moves = false;
    for (uint16_t n = 0; n < vd_watch_count(&unit->watch); n++) {
        const vd_watched *one = vd_watch_alarm(&unit->watch, n);
        uint16_t reads = one->channel != VD_NONE ? vd_index(unit->model->channels[one->channel].reads) : VD_NONE;
        moves = moves || (reads != VD_NONE && vd_setting_moves(&unit->model->settings[reads]) != VD_STANDS_STILL);
    }
    return moves;
}

/* ---- Time ---- */

static void start_over(vd_unit *unit)
{
    uint8_t *memory = unit->alarm_memory;
    size_t each = vd_set_size(unit->model);
    vd_set_start(&unit->watched, unit->model, memory, each);
    unit->watched.variant = unit->live.variant;
    unit->watched.firmware = unit->live.firmware;
    vd_set_copy(&unit->watched, &unit->live);
    vd_watch_start(&unit->watch, &unit->watched, 0, HISTORY, memory + each, vd_watch_size(unit->model, 0, HISTORY),
                   listen, unit, NULL);
    for (uint16_t i = 0; i < unit->model->channel_count; i++) {
        vd_watch_hold(&unit->watch, i, unit->log != NULL ? unit->log->holds_for[i] : FOR_EVER);
    }
    unit->row = 0;
    unit->looked = milliseconds(unit->alarms_since) - SECOND;
    unit->cleared = false;
    unit->watching = true;
    unit->catching_up = true; /* what was before it began to listen was said then */
}

/* What happened besides rows, in its turn before what happens at `time`. */
static void take_marks(vd_unit *unit, int64_t time)
{
    int64_t since = milliseconds(unit->alarms_since), cleared = milliseconds(unit->cleared_at);
    if (unit->log != NULL && !unit->restarted && since <= time) {
        unit->restarted = true;
        vd_watch_restart(&unit->watch, since);
    }
    if (!unit->cleared && unit->cleared_at != VD_NEVER && cleared <= time) {
        unit->cleared = true;
        vd_watch_clear(&unit->watch, cleared, VD_CLEARED_BY_BUTTON);
    }
}

static void show(vd_unit *unit)
{
    for (uint16_t n = 0; n < vd_watch_count(&unit->watch); n++) {
        const vd_watched *one = vd_watch_alarm(&unit->watch, n);
        const vd_alarm *alarm = &unit->model->alarms[one->alarm];
        uint16_t shown = vd_spot_in(alarm->shown, one->item);
        bool stands = one->state == VD_STANDING || one->state == VD_GONE;
        if (shown == VD_NONE) {
            continue;
        }
        const vd_setting *about = &unit->model->settings[shown];
        vd_value value = {.type = about->traits->id, .number = stands};
        if (about->traits->id == VD_FLAGS) {
            int32_t flag = alarm->flag != VD_NO_FLAG         ? alarm->flag
                           : one->item < about->choice_count ? about->choices[one->item].number
                                                             : 0;
            uint64_t bit = (uint64_t)1 << flag, flags = (uint64_t)vd_set_get(&unit->live, shown).number & ~bit;
            value.number = (int64_t)(stands ? flags | bit : flags);
        }
        vd_set_put(&unit->live, shown, &value);
    }
}

/* `again`: readings that stand still are others since it looked last. */
static void watch(vd_unit *unit, uint64_t now, bool again)
{
    int64_t time = milliseconds(now);
    if (unit->model->alarm_count == 0 || unit->off_until != VD_NEVER || unit->alarms_since == VD_NEVER) {
        return;
    }
    if (!unit->watching) {
        start_over(unit);
    }
    if (unit->log != NULL) {
        while (unit->row < unit->log->count && unit->log->times[unit->row] <= time) {
            take_marks(unit, unit->log->times[unit->row]);
            read_row(unit, unit->row);
            feed_row(unit, unit->row++);
        }
    } else {
        bool moves = unit->looked >= milliseconds(unit->alarms_since) && any_moves(unit);
        if (unit->looked < milliseconds(unit->alarms_since)) { /* the first look */
            unit->looked = milliseconds(unit->alarms_since);
            vd_unit_move_readings(unit, (uint64_t)unit->looked * 1000u);
            feed_live(unit, unit->looked);
            moves = any_moves(unit);
        }
        if (again && !moves) {
            feed_live(unit, time);
        }
        for (; moves && unit->looked + SECOND <= time;) {
            unit->looked += SECOND;
            take_marks(unit, unit->looked);
            vd_unit_move_readings(unit, (uint64_t)unit->looked * 1000u);
            feed_live(unit, unit->looked);
        }
    }
    take_marks(unit, time);
    vd_watch_until(&unit->watch, time);
    unit->catching_up = false;
    show(unit);
}

void vd_unit_watch(vd_unit *unit, uint64_t now)
{
    watch(unit, now, false);
}

void vd_unit_look_again(vd_unit *unit, uint64_t now)
{
    vd_unit_move_readings(unit, now);
    watch(unit, now, true);
}

uint64_t vd_unit_alarm_wake(const vd_unit *unit)
{
    bool says = false;
    for (uint8_t i = 0; i < unit->model->alarm_count; i++) {
        says = says || (unit->model->alarms[i].says_stands != NULL && unit->model->alarms[i].says_stands[0] != '\0');
    }
    if (!says || unit->off_until != VD_NEVER) {
        return VD_NEVER;
    }
    if (!unit->watching) {
        return unit->alarms_since;
    }
    int64_t next = vd_watch_wake(&unit->watch);
    if (unit->log != NULL && unit->row < unit->log->count &&
        (next == VD_NO_TIME || unit->log->times[unit->row] < next)) {
        next = unit->log->times[unit->row];
    } else if (unit->log == NULL && any_moves(unit) && (next == VD_NO_TIME || unit->looked + SECOND < next)) {
        next = unit->looked + SECOND;
    }
    return next == VD_NO_TIME ? VD_NEVER : (uint64_t)next * 1000u;
}

void vd_unit_alarms_anew(vd_unit *unit, uint64_t now)
{
    unit->alarms_since = now;
    unit->cleared_at = VD_NEVER;
    unit->watching = unit->restarted = false;
    unit->unsaid_count = 0;
}
