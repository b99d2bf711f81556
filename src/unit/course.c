/* SPDX-License-Identifier: MIT
 * The days that a unit lives through: what its intervals make of them shows in its readings, and is said unasked. All
 * of it follows from the settings, the days, what the readings showed when the days began, and that moment. */
#include "parts.h"
#include "verdite/cost.h"
#include "verdite/unit_course.h"

#include <string.h>

#define SECOND 1000000u            /* microseconds */
#define FOR_EVER (UINT32_MAX - 1u) /* seconds: all of them count */
#define LOOKS_AHEAD (8 * (int64_t)VD_DAY_SECONDS)
#define MOST_UNSAID 16u

/* What goes on in a unit. */
typedef struct days_of_unit {
    const vd_day *days;
    vd_amount *amounts;
    int64_t *last; /* of each item: the second in which it happened last, -1: it has not */
    vd_course_storage room, ahead_room;
    vd_course *course;
    vd_course_plan plan;
    void *memory[2];
    size_t size;                  /* of each of them */
    int64_t ahead[VD_MOST_ITEMS]; /* of each item the next second that was found, -1: none was looked for */
    uint16_t unsaid[MOST_UNSAID];
    uint8_t unsaid_count;
    uint16_t day_count;
    bool started, catching_up;
} days_of_unit;

static const vd_intervals *intervals_of(const vd_unit *unit)
{
    return unit->model->intervals;
}

/* The plan with what formulas may come to at most, as far as memory goes: that depends on items alone. */
static size_t course_bytes(const vd_model *model, const vd_amount *amounts)
{
    const vd_course_plan plan = {
        .items = model->intervals->items, .amounts = amounts, .item_count = model->intervals->item_count};
    return VD_ALIGNED(vd_course_size(&plan));
}

size_t vd_unit_course_size(const vd_model *model)
{
    const vd_intervals *intervals = model->intervals;
    if (intervals == NULL) {
        return 0;
    }
    return VD_ALIGNED(sizeof(days_of_unit)) + VD_ALIGNED(intervals->formula_count * sizeof(vd_amount)) +
           VD_ALIGNED(intervals->item_count * sizeof(int64_t)) + 2 * course_bytes(model, NULL);
}

/* ---- Where it is by now ---- */

static bool shows_held(const vd_unit *unit, uint16_t item, uint16_t *setting)
{
    for (uint16_t i = 0; i < intervals_of(unit)->shown_count; i++) {
        const vd_shown *shown = &intervals_of(unit)->shown[i];
        if (shown->item == item && shown->as == VD_SHOWN_HELD) {
            *setting = shown->setting;
            return true;
        }
    }
    return false;
}

static int64_t base_of(const vd_unit *unit, uint16_t setting)
{
    vd_value value = vd_set_get(&unit->stored, setting);
    int64_t count = 0;
    return value.type != VD_NOTHING && vd_set_to_count(&unit->stored, setting, &value, &count, NULL) == VD_OK ? count
                                                                                                              : 0;
}

static void start(vd_unit *unit, days_of_unit *d)
{
    d->course = vd_course_in(&d->room);
    vd_intervals_amounts(&unit->live, d->amounts);
    vd_course_start(d->course, &d->plan, d->memory[0], d->size, NULL);
    for (uint16_t i = 0; i < d->plan.item_count; i++) {
        uint16_t setting = VD_NONE;
        d->last[i] = d->ahead[i] = -1;
        if (d->plan.items[i].kind == VD_ITEM_STORE && shows_held(unit, i, &setting)) {
            vd_course_fill(d->course, i, (uint32_t)base_of(unit, setting));
        }
    }
    d->unsaid_count = 0;
    d->started = d->catching_up = true;
}

static void note(vd_unit *unit, days_of_unit *d)
{
    for (uint16_t i = 0; i < d->plan.item_count; i++) {
        const vd_item *item = &d->plan.items[i];
        if (!vd_item_is_event(item) || !vd_course_happened(d->course, i)) {
            continue;
        }
        d->last[i] = vd_course_time(d->course);
        bool says = item->says != NULL && item->says[0] != '\0' && unit->language->ways->say != NULL;
        if (says && !d->catching_up && d->unsaid_count < MOST_UNSAID) {
            d->unsaid[d->unsaid_count++] = i;
        }
    }
}

/* Plays on up to now. */
static void go_on(vd_unit *unit, uint64_t now)
{
    days_of_unit *d = unit->course;
    if (unit->days_since == VD_NEVER || now < unit->days_since || unit->off_until != VD_NEVER) {
        return;
    }
    if (!d->started) {
        start(unit, d);
    }
    int64_t second = (int64_t)((now - unit->days_since) / SECOND);
    while (vd_course_due(d->course) <= second && vd_course_next(d->course)) {
        note(unit, d);
    }
    d->catching_up = false; /* what was before it was looked at was said then */
}

/* When an event happens next: played ahead beside, and kept until then. */
static int64_t next_of(days_of_unit *d, uint16_t item, int64_t second)
{
    if (d->ahead[item] <= second) {
        vd_course *course = vd_course_in(&d->ahead_room);
        vd_course_start(course, &d->plan, d->memory[1], d->size, NULL);
        d->ahead[item] = -1;
        while (vd_course_next(course) && vd_course_time(course) <= second + LOOKS_AHEAD) {
            if (vd_course_time(course) > second && vd_course_happened(course, item)) {
                d->ahead[item] = vd_course_time(course);
                break;
            }
        }
    }
    return d->ahead[item];
}

/* ---- What shows ---- */

/* What was taken from the battery since the days began, in counts of a reading in per cent. */
static int64_t taken(const vd_unit *unit, const days_of_unit *d, int64_t seconds)
{
    const vd_course *courses[] = {d->course};
    vd_course_plan until = d->plan;
    until.counted = seconds > 0 ? (uint32_t)seconds : 1u;
    until.costs = intervals_of(unit)->costs;
    vd_played played = {.plan = &until, .courses = courses, .course_count = 1};
    int64_t least = 0, most = 0;
    vd_range percent = vd_battery_used(&played);
    return vd_range_outward(&percent, (vd_ratio){1, 1}, &least, &most) ? least : 0;
}

static int64_t count_of(const vd_unit *unit, days_of_unit *d, const vd_shown *shown, int64_t second)
{
    int64_t base = base_of(unit, shown->setting), next = 0;
    switch ((vd_shown_as)shown->as) {
    case VD_SHOWN_TIMES: return base + (int64_t)vd_course_sum(d->course, shown->item).happened;
    case VD_SHOWN_HELD: return (int64_t)vd_course_content(d->course, shown->item);
    case VD_SHOWN_SINCE: return d->last[shown->item] >= 0 ? second - d->last[shown->item] : base + second;
    case VD_SHOWN_UNTIL: next = next_of(d, shown->item, second); return next >= 0 ? next - second : INT64_MAX;
    default: return base - taken(unit, d, second);
    }
}

static void show(vd_unit *unit, uint64_t now)
{
    days_of_unit *d = unit->course;
    go_on(unit, now);
    for (uint16_t i = 0; i < intervals_of(unit)->shown_count && d->started && vd_course_is_known(d->course); i++) {
        const vd_shown *shown = &intervals_of(unit)->shown[i];
        vd_meaning meaning;
        if (vd_set_meaning(&unit->live, shown->setting, &meaning)) {
            int64_t second = (int64_t)((now - unit->days_since) / SECOND);
            int64_t count = count_of(unit, d, shown, second);
            count = count < meaning.min ? meaning.min : count > meaning.max ? meaning.max : count;
            vd_value value = vd_value_from_count(&meaning, count);
            vd_set_put(&unit->live, shown->setting, &value);
        }
    }
}

static void anew(vd_unit *unit, uint64_t now)
{
    days_of_unit *d = unit->course;
    for (uint16_t i = 0; i < intervals_of(unit)->shown_count; i++) { /* it goes on from what it shows */
        uint16_t setting = intervals_of(unit)->shown[i].setting;
        vd_value value = vd_set_get(&unit->live, setting);
        vd_set_put(&unit->stored, setting, &value);
    }
    unit->days_since = now;
    d->started = false;
}

static void since(vd_unit *unit, uint64_t since)
{
    days_of_unit *d = unit->course;
    unit->days_since = since;
    d->started = false;
}

/* Whether a formula only tells how things are at this moment. */
static bool tells_now(const vd_unit *unit, uint16_t formula)
{
    bool tells = false;
    for (uint16_t i = 0; i < intervals_of(unit)->item_count; i++) {
        tells = tells || vd_index(intervals_of(unit)->items[i].now) == formula;
    }
    return tells;
}

static bool differs(const vd_unit *unit)
{
    const days_of_unit *d = unit->course;
    bool differs = false;
    for (uint16_t n = 0; n < intervals_of(unit)->formula_count && d->started && !differs; n++) {
        differs = !vd_amount_equal(vd_intervals_amount(&unit->live, n), d->amounts[n]) && !tells_now(unit, n);
    }
    return differs;
}

/* ---- What is said ---- */

static void say(vd_unit *unit, uint64_t now)
{
    days_of_unit *d = unit->course;
    while (d->unsaid_count > 0 && vd_unit_listens(unit, now) &&
           vd_unit_say(unit, d->plan.items[d->unsaid[0]].says, 0, now)) {
        d->unsaid_count--;
        memmove(d->unsaid, d->unsaid + 1, d->unsaid_count * sizeof d->unsaid[0]);
    }
}

static uint64_t wake(const vd_unit *unit)
{
    const days_of_unit *d = unit->course;
    bool says = false;
    for (uint16_t i = 0; i < d->plan.item_count; i++) {
        says = says || (d->plan.items[i].says != NULL && d->plan.items[i].says[0] != '\0');
    }
    if (!says || unit->off_until != VD_NEVER || unit->days_since == VD_NEVER) {
        return VD_NEVER;
    }
    return d->started ? unit->days_since + (uint64_t)vd_course_due(d->course) * SECOND : unit->days_since;
}

static const vd_unit_days_ways ways = {go_on, show, anew, since, differs, say, wake};

vd_status vd_unit_follow_days(vd_unit *unit, const vd_day *days, uint16_t count, void *memory, size_t size,
                              uint64_t now)
{
    const vd_intervals *intervals = unit->model->intervals;
    uint8_t *at = memory;
    if (intervals == NULL || size < vd_unit_course_size(unit->model)) {
        return VD_MEMORY_TOO_SMALL;
    }
    days_of_unit *d = memory;
    *d = (days_of_unit){.days = days, .day_count = count, .size = course_bytes(unit->model, NULL)};
    at += VD_ALIGNED(sizeof *d);
    d->amounts = (vd_amount *)(void *)at;
    at += VD_ALIGNED(intervals->formula_count * sizeof *d->amounts);
    d->last = (int64_t *)(void *)at;
    at += VD_ALIGNED(intervals->item_count * sizeof *d->last);
    d->memory[0] = at;
    d->memory[1] = at + d->size;
    d->plan = (vd_course_plan){.items = intervals->items,
                               .amounts = d->amounts,
                               .days = days,
                               .item_count = intervals->item_count,
                               .day_count = count,
                               .counted = FOR_EVER};
    unit->course = d;
    unit->days_ways = &ways;
    unit->days_since = now;
    return VD_OK;
}
