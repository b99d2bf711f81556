/* SPDX-License-Identifier: MIT
 * Stores: how many they hold, what is lost, and since when the oldest waits. */
#include "parts.h"

static void aged(vd_stock *stock, int64_t age)
{
    stock->age = age > stock->age ? age : stock->age;
}

static vd_batch *batch_at(const vd_stock *stock, uint16_t n)
{
    return &stock->batches[(stock->from + n) % stock->room];
}

static void put(vd_stock *stock, int64_t now)
{
    vd_batch *last = stock->batch_count > 0 ? batch_at(stock, (uint16_t)(stock->batch_count - 1u)) : NULL;
    int64_t apart = last != NULL ? now - last->first : 0;
    stock->content++;
    if (stock->lost_track) {
        return;
    }
    if (last != NULL && (last->count == 1 || apart == (int64_t)last->step * last->count) && apart <= UINT32_MAX) {
        last->step = last->count == 1 ? (uint32_t)apart : last->step;
        last->count++;
    } else if (stock->batch_count < stock->room) {
        stock->batch_count++;
        *batch_at(stock, (uint16_t)(stock->batch_count - 1u)) = (vd_batch){now, 0, 1};
    } else {
        stock->lost_track = true;
    }
}

/* The oldest go; the first of them has waited longest. */
static void take(vd_stock *stock, uint32_t count, int64_t now)
{
    stock->content -= count;
    if (count == 0 || stock->lost_track) {
        return;
    }
    aged(stock, now - batch_at(stock, 0)->first);
    while (count > 0) {
        vd_batch *oldest = batch_at(stock, 0);
        uint32_t some = count < oldest->count ? count : oldest->count;
        oldest->first += (int64_t)oldest->step * some;
        oldest->count -= some;
        count -= some;
        if (oldest->count == 0) {
            stock->from = (uint16_t)((stock->from + 1u) % stock->room);
            stock->batch_count--;
        }
    }
}

int64_t vd_stock_age(const vd_stock *stock, int64_t now)
{
    int64_t waits = stock->content > 0 && !stock->lost_track ? now - batch_at(stock, 0)->first : 0;
    return stock->lost_track ? -1 : waits > stock->age ? waits : stock->age;
}

static void take_in(vd_stock *stock, int64_t now)
{
    bool over = stock->content >= stock->capacity;
    if (over) {
        stock->lost++;
        stock->full_at = stock->full_at < 0 ? now : stock->full_at;
    }
    if (over && stock->wraps && stock->capacity > 0) {
        take(stock, 1, now);
        over = false;
    }
    if (!over) {
        put(stock, now);
    }
}

void vd_store_play(vd_course *course, uint16_t i)
{
    const vd_item *item = &course->plan->items[i];
    vd_stock *stock = &course->stocks[course->place[i]];
    course->known = course->known && !course->parts[i].unknown;
    stock->goes = stock->packed = 0;
    if (item->of_count > 0 && vd_sees(course, i, item->of[0])) {
        take_in(stock, course->time);
        course->end = course->plan->ends_full && stock->lost > 0 ? course->time : course->end;
    }
    if (item->of_count > 1 && vd_sees(course, i, item->of[1])) {
        uint32_t count = stock->out < stock->content ? stock->out : stock->content;
        take(stock, count, course->time);
        stock->goes = count;
        stock->packed = (count + stock->packet - 1u) / stock->packet;
        if (course->time >= course->plan->uncounted) {
            stock->taken += stock->goes;
            stock->packets += stock->packed;
        }
    }
    stock->most = stock->content > stock->most ? stock->content : stock->most;
}

void vd_course_fill(vd_course *course, uint16_t item, uint32_t count)
{
    vd_stock *stock = &course->stocks[course->place[item]];
    while (count-- > 0 && stock->content < stock->capacity) {
        put(stock, 0);
    }
    stock->was = stock->content;
    stock->most = stock->content;
}
