/* SPDX-License-Identifier: MIT
 * Making ready: amounts as whole numbers, and the caller's memory shared out. */
#include "parts.h"
#include "verdite/notes.h"

#include <string.h>

static int64_t rounded_up(vd_ratio ratio)
{
    return ratio.number / ratio.below + (ratio.number % ratio.below > 0);
}

static int64_t rounded_down(vd_ratio ratio)
{
    return ratio.number / ratio.below - (ratio.number % ratio.below < 0);
}

/* ---- Memory ---- */

typedef struct numbers {
    size_t items, counters, cases, stores, values, batches;
} numbers;

static uint32_t whole_of(const vd_course_plan *plan, vd_ref formula, uint32_t otherwise)
{
    vd_amount amount = vd_amount_of(plan, formula);
    int64_t whole = amount.state == VD_AMOUNT_KNOWN ? rounded_down(amount.ratio) : otherwise;
    return whole < 0 ? 0 : whole > UINT32_MAX ? UINT32_MAX : (uint32_t)whole;
}

static uint16_t batches_of(const vd_course_plan *plan, const vd_item *item)
{
    uint32_t capacity = plan->amounts != NULL ? whole_of(plan, item->amount, 0) : VD_STORE_RUNS;
    return (uint16_t)(capacity < VD_STORE_RUNS ? capacity + 1u : VD_STORE_RUNS);
}

static numbers numbers_of(const vd_course_plan *plan)
{
    numbers n = {.items = plan->item_count};
    for (uint16_t i = 0; i < plan->item_count; i++) {
        const vd_item *item = &plan->items[i];
        if (item->kind == VD_ITEM_COUNTER) {
            n.counters++;
            n.cases += item->counter->case_count;
            n.values += (size_t)item->counter->case_count + item->counter->series_count;
        } else if (item->kind == VD_ITEM_STORE) {
            n.stores++;
            n.batches += batches_of(plan, item);
        }
    }
    return n;
}

size_t vd_course_size(const vd_course_plan *plan)
{
    numbers n = numbers_of(plan);
    return VD_ALIGNED(n.items * sizeof(vd_part)) + VD_ALIGNED(n.counters * sizeof(vd_count)) +
           VD_ALIGNED(n.stores * sizeof(vd_stock)) + VD_ALIGNED(n.batches * sizeof(vd_batch)) +
           VD_ALIGNED(n.values * sizeof(int64_t)) + VD_ALIGNED(n.cases * sizeof(vd_case_run)) +
           VD_ALIGNED(n.items * sizeof(uint16_t)) + VD_ALIGNED(n.values) +
           2u * vd_repeat_size(plan, n.counters, n.stores, n.batches) + vd_repeat_sums(plan, n.cases, n.stores) +
           VD_ALIGNED(vd_bills_count(plan) * sizeof(uint64_t));
}

static void *piece(uint8_t **at, size_t size)
{
    void *piece = *at;
    memset(piece, 0, size);
    *at += VD_ALIGNED(size);
    return piece;
}

/* ---- Counters ---- */

static vd_amount value_at(const vd_course_plan *plan, const vd_counter *counter, unsigned k)
{
    return k < counter->case_count
               ? vd_value_of_case(plan, counter, k)
               : vd_count_of_events(counter, vd_amount_of(plan, counter->series[k - counter->case_count]));
}

/* Makes the scale a multiple of what a ratio is parted into. */
static bool widen(int64_t *scale, int64_t below)
{
    int64_t divisor = (int64_t)vd_common_divisor((uint64_t)*scale, (uint64_t)below), more = below / divisor;
    if (*scale > INT64_MAX / 4096 / more) {
        return false;
    }
    *scale *= more;
    return true;
}

static bool widen_for_days(const vd_course_plan *plan, uint8_t adds, int64_t *scale)
{
    bool fine = true;
    for (uint16_t d = 0; d < plan->day_count; d++) {
        for (uint16_t s = 0; s < plan->days[d].stretch_count; s++) {
            const vd_stretch *stretch = &plan->days[d].stretches[s];
            fine = fine && (adds != VD_ADDS_WAY || widen(scale, stretch->speed.below)) &&
                   (adds != VD_ADDS_TURNING || widen(scale, stretch->angle.below));
        }
    }
    return fine;
}

/* A quarter of the numbers is left to what is added to a sum before it is compared. */
static bool scaled(vd_ratio ratio, int64_t scale, int64_t *value)
{
    int64_t times = scale / ratio.below, most = INT64_MAX / 4 / times;
    *value = ratio.number * (ratio.number <= most && ratio.number >= -most ? times : 0);
    return ratio.number <= most && ratio.number >= -most;
}

static bool rates_fit(const vd_course_plan *plan, uint8_t adds, int64_t scale)
{
    int64_t rate = 0;
    for (uint16_t d = 0; d < plan->day_count; d++) {
        for (uint16_t s = 0; s < plan->days[d].stretch_count; s++) {
            const vd_stretch *stretch = &plan->days[d].stretches[s];
            int64_t most = INT64_MAX / 4 / VD_DAY_SECONDS;
            if ((adds == VD_ADDS_WAY && (!scaled(stretch->speed, scale, &rate) || rate > most)) ||
                (adds == VD_ADDS_TURNING && (!scaled(stretch->angle, scale, &rate) || rate > most))) {
                return false;
            }
        }
    }
    return true;
}

static void count_start(const vd_course_plan *plan, const vd_item *item, vd_count *count, vd_part *part)
{
    const vd_counter *counter = item->counter;
    unsigned values = (unsigned)counter->case_count + counter->series_count;
    vd_amount draw = vd_amount_of(plan, plan->draws_most ? item->most : item->least);
    bool fine = true;
    count->scale = 1;
    count->ruled = count->rules = VD_NONE;
    count->due = counter->at_once;
    for (unsigned k = 0; k < values; k++) {
        vd_amount value = value_at(plan, counter, k);
        fine = fine && (value.state != VD_AMOUNT_KNOWN || widen(&count->scale, value.ratio.below));
    }
    fine = fine && (draw.state != VD_AMOUNT_KNOWN || widen(&count->scale, draw.ratio.below)) &&
           widen_for_days(plan, counter->adds, &count->scale) && rates_fit(plan, counter->adds, count->scale);
    for (unsigned k = 0; k < values && fine; k++) {
        vd_amount value = value_at(plan, counter, k);
        count->states[k] = value.state;
        if (value.state == VD_AMOUNT_KNOWN &&
            (value.ratio.number < 0 || !scaled(value.ratio, count->scale, &count->values[k]))) {
            count->states[k] = VD_AMOUNT_NOT_KNOWN;
        }
    }
    if (draw.state == VD_AMOUNT_KNOWN) {
        fine = fine && scaled(draw.ratio, count->scale, &count->draw);
    }
    part->unknown = part->unknown || !fine;
}

/* ---- The others ---- */

static void part_start(const vd_course_plan *plan, const vd_item *item, vd_part *part)
{
    vd_amount amount = vd_amount_of(plan, item->amount), other = vd_amount_of(plan, item->other);
    vd_amount draw = vd_amount_of(plan, plan->draws_most ? item->most : item->least);
    bool clock = item->kind == VD_ITEM_CLOCK, strikes = item->kind == VD_ITEM_BY_CLOCK;
    part->none = (!strikes && amount.state == VD_AMOUNT_NONE) || ((clock || strikes) && other.state == VD_AMOUNT_NONE);
    const vd_ref all[] = {item->amount, item->other, item->least, item->most, item->packet, item->wired, item->wraps};
    for (size_t k = 0; k < sizeof all / sizeof all[0]; k++) {
        part->unknown = part->unknown || vd_amount_of(plan, all[k]).state == VD_AMOUNT_NOT_KNOWN;
    }
    part->span = amount.state == VD_AMOUNT_KNOWN ? rounded_up(amount.ratio) : 0;
    part->other = other.state == VD_AMOUNT_KNOWN ? rounded_down(other.ratio) : 0;
    if (strikes && draw.state == VD_AMOUNT_KNOWN) {
        part->other += rounded_down(draw.ratio);
    }
    if (clock || strikes) {
        part->span = amount.state == VD_AMOUNT_KNOWN ? rounded_down(amount.ratio) : 0;
    }
    if (part->span > INT64_MAX / 4) {
        part->unknown = true;
    }
}

static void stock_start(const vd_course_plan *plan, const vd_item *item, vd_stock *stock)
{
    stock->capacity = whole_of(plan, item->amount, 0);
    stock->out = whole_of(plan, item->other, UINT32_MAX);
    stock->packet = whole_of(plan, item->packet, 1);
    stock->packet = stock->packet > 0 ? stock->packet : 1;
    stock->wraps = whole_of(plan, item->wraps, 1) != 0;
    stock->room = batches_of(plan, item);
    stock->full_at = -1;
}

/* Whether an item sees a fact or a store that stands below it, or its own. */
static bool looks_down(const vd_course_plan *plan, uint16_t i)
{
    const vd_item *item = &plan->items[i];
    bool down = vd_index(item->gate) != VD_NONE && vd_index(item->gate) >= i;
    for (uint8_t k = 0; k < item->of_count; k++) {
        down = down || (item->of[k] >= i && !vd_item_is_event(&plan->items[item->of[k]]));
    }
    for (uint8_t k = 0; k < item->clear_count; k++) {
        down = down || (item->clears[k] >= i && !vd_item_is_event(&plan->items[item->clears[k]]));
    }
    for (uint8_t k = 0; item->counter != NULL && k < item->counter->case_count; k++) {
        uint16_t when = vd_index(item->counter->cases[k].when);
        down = down || (when != VD_NONE && when >= i);
    }
    return down;
}

/* Which events and stores facts are about, and from where. */
static void note_heard(vd_course *course, uint16_t i)
{
    const vd_item *item = &course->plan->items[i];
    for (unsigned k = 0; vd_item_is_fact(item) && k < (unsigned)item->of_count + item->clear_count; k++) {
        uint16_t of = k < item->of_count ? item->of[k] : item->clears[k - item->of_count];
        course->parts[of].heard_above = course->parts[of].heard_above || i < of;
        course->parts[of].heard_below = course->parts[of].heard_below || i > of;
    }
}

vd_status vd_course_start(vd_course *course, const vd_course_plan *plan, void *memory, size_t size, vd_fault *fault)
{
    numbers n = numbers_of(plan);
    uint8_t *at = memory;
    if (vd_course_size(plan) > size) {
        return vd_note_MEMORY_TOO_SMALL(fault);
    }
    *course = (vd_course){.plan = plan, .known = true, .end = (int64_t)plan->uncounted + plan->counted};
    course->parts = piece(&at, n.items * sizeof(vd_part));
    course->counts = piece(&at, n.counters * sizeof(vd_count));
    course->stocks = piece(&at, n.stores * sizeof(vd_stock));
    vd_batch *batches = piece(&at, n.batches * sizeof(vd_batch));
    int64_t *values = piece(&at, n.values * sizeof(int64_t));
    vd_case_run *runs = piece(&at, n.cases * sizeof(vd_case_run));
    course->place = piece(&at, n.items * sizeof(uint16_t));
    uint8_t *states = piece(&at, n.values);
    course->print_size = vd_repeat_size(plan, n.counters, n.stores, n.batches);
    course->print[0] = piece(&at, course->print_size);
    course->print[1] = piece(&at, course->print_size);
    course->sums = piece(&at, vd_repeat_sums(plan, n.cases, n.stores));
    uint64_t *bills = piece(&at, vd_bills_count(plan) * sizeof(uint64_t));
    course->bills = vd_bills_count(plan) > 0 ? bills : NULL;
    uint16_t counters = 0, stores = 0;
    for (uint16_t i = 0; i < plan->item_count; i++) {
        const vd_item *item = &plan->items[i];
        course->parts[i].kind = item->kind;
        part_start(plan, item, &course->parts[i]);
        course->backward = course->backward || looks_down(plan, i);
        note_heard(course, i);
        if (item->kind == VD_ITEM_COUNTER) {
            vd_count *count = &course->counts[counters];
            course->place[i] = counters++;
            count->values = values;
            count->states = states;
            count->runs = runs;
            runs += item->counter->case_count;
            values += (size_t)item->counter->case_count + item->counter->series_count;
            states += (size_t)item->counter->case_count + item->counter->series_count;
            count_start(plan, item, count, &course->parts[i]);
        } else if (item->kind == VD_ITEM_STORE) {
            vd_stock *stock = &course->stocks[stores];
            course->place[i] = stores++;
            stock->batches = batches;
            stock_start(plan, item, stock);
            batches += stock->room;
        }
    }
    return VD_OK;
}
