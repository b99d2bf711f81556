/* SPDX-License-Identifier: MIT
 * Playing to the end. Days repeat, and what a unit does on them mostly does too: where all that decides is as it was
 * one round of days before, the rounds that follow are that one over again, and are added up instead of played. */
#include "parts.h"

#include <string.h>

/* What decides how it goes on, one number behind the other; times are counted from now. */
typedef struct print {
    int64_t *at;
} print;

static void add(print *p, int64_t number)
{
    *p->at++ = number;
}

static void add_part(print *p, const vd_course *course, uint16_t i, int64_t now)
{
    const vd_item *item = &course->plan->items[i];
    const vd_part *part = &course->parts[i];
    bool lasts = item->kind == VD_ITEM_LASTED && part->saw && now - part->since < part->span;
    bool ends = item->kind == VD_ITEM_WITHIN && part->ever && now - part->since < part->span;
    add(p, lasts || ends ? now - part->since : -1); /* what lasted long enough, or is long over, is so for good */
    add(p, (int64_t)part->queue << 3 | (int64_t)part->held << 2 | (int64_t)part->saw << 1 | part->now);
}

static void add_count(print *p, const vd_counter *counter, const vd_count *count)
{
    uint32_t most = counter->series_count; /* behind the last of a series all places are alike */
    add(p, count->sum);
    add(p, count->kept ? count->kept_value : -1);
    add(p, count->place < most ? count->place : most);
    add(p, (int64_t)count->ruled << 2 | (int64_t)count->due << 1 | count->open);
    add(p, count->before);
    add(p, count->turn_before);
}

static void add_stock(print *p, const vd_stock *stock, int64_t now)
{
    add(p, stock->content);
    for (uint16_t n = 0; n < stock->room; n++) {
        bool is = n < stock->batch_count;
        const vd_batch *batch = &stock->batches[(stock->from + n) % stock->room];
        add(p, is ? now - batch->first : -1);
        add(p, is ? (int64_t)batch->count << 32 | (batch->count > 1 ? batch->step : 0) : -1);
    }
}

size_t vd_repeat_size(const vd_course_plan *plan, size_t counters, size_t stores, size_t batches)
{
    return (plan->item_count * 2u + counters * 6u + stores + batches * 2u + 3u) * sizeof(int64_t);
}

static void take_print(const vd_course *course, int64_t *to)
{
    print p = {to};
    add(&p, course->facts_next == VD_NEVER ? -1 : course->facts_next - course->next);
    add(&p, course->below);
    add(&p, course->next - course->time); /* sums are those of the second that was played last */
    for (uint16_t i = 0; i < course->plan->item_count; i++) {
        const vd_item *item = &course->plan->items[i];
        add_part(&p, course, i, course->next);
        if (item->kind == VD_ITEM_COUNTER) {
            add_count(&p, item->counter, &course->counts[course->place[i]]);
        } else if (item->kind == VD_ITEM_STORE) {
            add_stock(&p, &course->stocks[course->place[i]], course->next);
        }
    }
}

/* ---- Sums, so many rounds at once ---- */

/* The numbers that a round adds to, one behind the other. */
typedef void on_sum(uint64_t *sum, uint64_t *before, uint64_t rounds);

static void keep(uint64_t *sum, uint64_t *before, uint64_t rounds)
{
    (void)rounds;
    *before = *sum;
}

static void repeat(uint64_t *sum, uint64_t *before, uint64_t rounds)
{
    *sum += (*sum - *before) * rounds;
}

static void each_sum(vd_course *course, uint64_t *before, uint64_t rounds, on_sum *what)
{
    for (uint16_t i = 0; i < course->plan->item_count; i++) {
        const vd_item *item = &course->plan->items[i];
        what(&course->parts[i].count, before++, rounds);
        for (uint8_t k = 0; item->kind == VD_ITEM_COUNTER && k < item->counter->case_count; k++) {
            vd_case_run *run = &course->counts[course->place[i]].runs[k];
            what(&run->held, before++, rounds);
            what(&run->expired, before++, rounds);
        }
        if (item->kind == VD_ITEM_STORE) {
            vd_stock *stock = &course->stocks[course->place[i]];
            what(&stock->taken, before++, rounds);
            what(&stock->packets, before++, rounds);
            what(&stock->lost, before++, rounds);
        }
    }
    for (size_t n = 0; n < vd_bills_count(course->plan); n++) {
        what(&course->bills[n], before++, rounds);
    }
}

size_t vd_repeat_sums(const vd_course_plan *plan, size_t cases, size_t stores)
{
    return (plan->item_count + cases * 2u + stores * 3u + vd_bills_count(plan)) * sizeof(uint64_t);
}

/* Times move on; a case that has ruled since before the round has done so since then. */
static void move_on(vd_course *course, int64_t by, int64_t round_from)
{
    course->time += by;
    course->before += by;
    course->next += by;
    course->stretch_from += by;
    course->stretch_to += by;
    course->facts_next += course->facts_next != VD_NEVER ? by : 0;
    for (uint16_t i = 0; i < course->plan->item_count; i++) {
        const vd_item *item = &course->plan->items[i];
        vd_part *part = &course->parts[i];
        part->since += by;
        part->holds_at += by;
        if (item->kind == VD_ITEM_COUNTER) {
            vd_count *count = &course->counts[course->place[i]];
            count->ruled_at += count->ruled_at >= round_from ? by : 0;
            count->held_at += by;
        } else if (item->kind == VD_ITEM_STORE) {
            vd_stock *stock = &course->stocks[course->place[i]];
            for (uint16_t n = 0; n < stock->batch_count; n++) {
                stock->batches[(stock->from + n) % stock->room].first += by;
            }
        }
    }
}

/* What has held, or ruled, up to now is in the sums; what follows begins now. */
static void settle_sums(vd_course *course)
{
    int64_t now = course->next;
    for (uint16_t i = 0; i < course->plan->item_count && now > course->plan->uncounted; i++) {
        const vd_item *item = &course->plan->items[i];
        vd_part *part = &course->parts[i];
        if (vd_item_is_fact(item)) {
            part->count = vd_fact_seconds(course, i, now);
            part->holds_at = now;
        } else if (item->kind == VD_ITEM_COUNTER) {
            vd_counter_note(course, i, now);
        }
    }
}

/* Whether the round that has just ended was the one before over again. */
static bool repeats(vd_course *course, bool kept)
{
    int64_t *now = course->print[0], *before = course->print[1];
    take_print(course, now);
    course->print[0] = before;
    course->print[1] = now;
    return kept && memcmp(now, before, course->print_size) == 0;
}

void vd_course_finish(vd_course *course)
{
    int64_t round = (int64_t)course->plan->day_count * VD_DAY_SECONDS, kept_at = -1;
    while (course->next < course->end && course->known) {
        int64_t until = course->next >= course->plan->uncounted ? course->end : course->plan->uncounted;
        int64_t rounds = (until - course->next) / round;
        if (course->started && course->next % round == 0 && rounds > 0) {
            settle_sums(course);
            bool alike = kept_at >= 0 && (kept_at >= course->plan->uncounted) == (until == course->end);
            if (repeats(course, alike)) {
                each_sum(course, course->sums, (uint64_t)rounds, repeat);
                move_on(course, rounds * round, kept_at);
                kept_at = -1;
                continue;
            }
            each_sum(course, course->sums, 0, keep);
            kept_at = course->next;
        }
        vd_course_next(course);
    }
}
