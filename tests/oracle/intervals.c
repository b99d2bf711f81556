/* SPDX-License-Identifier: MIT */
#include "intervals.h"

#include <stdlib.h>
#include <string.h>

#define DAY 86400L
#define OFF (-1)

typedef struct count {
    long sum;
    int place; /* in the series: expiries since the last restart or zeroing */
    bool due;  /* a first expiry */
    int ruled; /* the case that held in the second before; OFF */
    bool open; /* the gate, likewise */
    bool kept; /* as-set: the old count goes on */
    long kept_value;
} count;

typedef struct state {
    bool happened;     /* now */
    bool value, held;  /* of a fact: as judged, and in the second before */
    bool saw, ever;    /* of the x that it is about: in the second before; within: it ended once */
    long began, ended; /* of that x */
    long lasting;      /* a counter: for how long its case has ruled */
    int lasting_case;
    bool seen_first; /* begins, ends: what it saw in the second before */
    count c;
    long queue;                   /* in-turn: how many wait; late: 1 */
    long *in, content, was, room; /* store: when each came in; how many there were in the second before */
    long gone;                    /* store: in this second */
} state;

typedef struct world {
    const ref_plan *plan;
    ref_outcome *out;
    state s[REF_ITEMS];
    long t;
    const ref_stretch *now, *before; /* the stretches of this second and of the one before */
    long second, second_before;      /* of those stretches */
    bool again;                      /* facts are being judged again */
    int facts[REF_ITEMS], counters[REF_ITEMS], fact_count, counter_count;
    size_t room;
} world;

/* ---- The day ---- */

static const ref_stretch *stretch_at(const ref_plan *plan, long t, long *second)
{
    const ref_day *day = &plan->days[t / DAY % plan->day_count];
    long left = t % DAY;
    for (int i = 0; i < day->count; i++) {
        if (left < day->stretches[i].lasts) {
            *second = left;
            return &day->stretches[i];
        }
        left -= day->stretches[i].lasts;
    }
    *second = -1; /* the rest of the day: the inputs of the resting stretch, and nothing that is spread over it */
    return &day->stretches[day->rest];
}

static int spread(int times, int lasts, long second)
{
    int here = 0;
    for (int k = (int)(second * (times + 1) / lasts);
         second >= 0 && k <= times && (long)k * lasts / (times + 1) <= second; k++) {
        here += k > 0 && (long)k * lasts / (times + 1) == second;
    }
    return here;
}

static long clock_of(const world *w, long t)
{
    return ((t + w->plan->offset) % DAY + DAY) % DAY;
}

static int weekday_of(const world *w, long t)
{
    long local = t + w->plan->offset, day = local >= 0 ? local / DAY : -((-local + DAY - 1) / DAY);
    return (int)((day % 7 + 7) % 7);
}

/* ---- What an item sees ---- */

static bool is_fact(int kind)
{
    return kind <= REF_FACT_SET_BY;
}

static bool sees_fact(const world *w, int from, int of)
{
    return of < from ? w->s[of].value : w->s[of].held;
}

static bool sees_event(const world *w, int from, int of)
{
    return (of < from || w->again) && w->s[of].happened;
}

static bool sees(const world *w, int from, int of)
{
    return is_fact(w->plan->items[of].kind) ? sees_fact(w, from, of) : sees_event(w, from, of);
}

static long sees_content(const world *w, int from, int of)
{
    return of < from ? w->s[of].content : w->s[of].was;
}

/* ---- Facts ---- */

static bool by_clock(const world *w, const ref_item *item)
{
    long from = item->amount / REF_PARTS, to = item->other / REF_PARTS, now = clock_of(w, w->t);
    int today = weekday_of(w, w->t), yesterday = (today + 6) % 7;
    if (item->amount == REF_NO_AMOUNT || item->other == REF_NO_AMOUNT || from == to) {
        return false;
    }
    if (from < to) {
        return now >= from && now < to && (item->weekdays >> today & 1) != 0;
    }
    return (now >= from && (item->weekdays >> today & 1) != 0) || (now < to && (item->weekdays >> yesterday & 1) != 0);
}

static bool compares(const world *w, int i, const ref_item *item)
{
    long x = item->input == 0   ? w->now->quantity
             : item->input == 1 ? w->now->speed
                                : sees_content(w, i, item->of[0]) * REF_PARTS;
    switch (item->amount == REF_NO_AMOUNT ? -1 : item->way) {
    case REF_ABOVE_IT: return x > item->amount;
    case REF_BELOW_IT: return x < item->amount;
    case REF_AT_LEAST: return x >= item->amount;
    case REF_AT_MOST: return x <= item->amount;
    default: return false;
    }
}

static bool judged(const world *w, int i, state *next)
{
    const ref_item *item = &w->plan->items[i];
    const state *s = &w->s[i];
    bool all = true, any = false, set = false, cleared = false;
    for (int k = 0; k < item->of_count; k++) {
        bool x = item->kind != REF_FACT_COMPARE && sees(w, i, item->of[k]);
        all = all && x;
        any = any || x;
        set = set || x;
    }
    for (int k = 0; k < item->clear_count; k++) {
        cleared = cleared || sees(w, i, item->clears[k]);
    }
    next->began = s->began;
    next->ended = s->ended;
    next->ever = s->ever;
    next->saw = any;
    switch (item->kind) {
    case REF_FACT_GIVEN: return item->wired ? w->now->given[item->input] : item->reads;
    case REF_FACT_CLOCK: return by_clock(w, item);
    case REF_FACT_COMPARE: return compares(w, i, item);
    case REF_FACT_ALL: return all;
    case REF_FACT_ANY: return any;
    case REF_FACT_NOT: return !any;
    case REF_FACT_LASTED:
        if (any && !s->saw) {
            next->began = w->t;
        }
        return any && item->amount != REF_NO_AMOUNT && (w->t - next->began) * REF_PARTS >= item->amount;
    case REF_FACT_WITHIN:
        if (item->amount == REF_NO_AMOUNT) {
            return false;
        }
        if (is_fact(w->plan->items[item->of[0]].kind)) {
            if (!any && s->saw) {
                next->ended = w->t;
                next->ever = true;
            }
            return any || (next->ever && (w->t - next->ended) * REF_PARTS < item->amount);
        }
        if (any) {
            next->ended = w->t;
            next->ever = true;
        }
        return next->ever && (w->t - next->ended) * REF_PARTS < item->amount;
    default: return !cleared && (set || s->held);
    }
}

/* ---- Counters ---- */

/* A count of events that is no whole number is rounded down. */
static long case_value(const ref_item *item, int k)
{
    long value = item->cases[k].value;
    return item->adds == REF_EVENTS_OF && value != REF_NO_AMOUNT ? value / REF_PARTS * REF_PARTS : value;
}

static int ruling(const world *w, int i)
{
    const ref_item *item = &w->plan->items[i];
    for (int k = 0; k < item->case_count; k++) {
        const ref_ruling *r = &item->cases[k];
        if (r->when >= 0 && !sees(w, i, r->when)) {
            continue;
        }
        long value = case_value(item, k);
        if (value == REF_NO_AMOUNT || (value == 0 && r->zero == REF_ZERO_LEAVES)) {
            continue;
        }
        return value == 0 && r->zero == REF_ZERO_NONE ? OFF : k;
    }
    return OFF;
}

static bool is_always(const ref_item *item, int ruled)
{
    return ruled != OFF && case_value(item, ruled) == 0;
}

/* A series that stops and is used up makes the counter off. */
static bool used_up(const ref_item *item, const count *c)
{
    return item->series_count > 0 && item->stops && c->place >= item->series_count;
}

static long undrawn(const ref_item *item, const count *c, int ruled)
{
    if (item->series_count == 0) {
        return case_value(item, ruled);
    }
    return item->series[c->place < item->series_count ? c->place : item->series_count - 1];
}

static long value_of(const ref_item *item, const count *c, int ruled)
{
    if (c->kept) {
        return c->kept_value;
    }
    long value = undrawn(item, c, ruled) + item->draw;
    return value < 0 ? 0 : value;
}

static bool counts(const ref_item *item, const count *c, int ruled)
{
    return c->kept || (ruled != OFF && !is_always(item, ruled) && !used_up(item, c));
}

static bool reached(const ref_item *item, const count *c, int ruled)
{
    return counts(item, c, ruled) && c->sum > 0 && c->sum >= value_of(item, c, ruled);
}

static void begin_again(const ref_item *item, count *c)
{
    c->sum = 0;
    c->place = 0;
    c->kept = false;
    c->due = item->at_once;
}

static void expired(const ref_item *item, count *c, int ruled)
{
    c->sum = item->carried ? c->sum - value_of(item, c, ruled) : 0;
    c->place++;
    c->kept = false;
}

static void change(const ref_item *item, count *c, int from, int to)
{
    if (from == to) {
        return;
    }
    if (item->change == REF_NEW_COUNT) {
        begin_again(item, c);
    } else if (item->change != REF_GOES_ON && c->sum > 0 && counts(item, c, from)) {
        long old = value_of(item, c, from);
        if (item->change == REF_SOONER && to != OFF && !is_always(item, to) && !used_up(item, c) &&
            undrawn(item, c, to) < old - c->sum) {
            c->sum = 0;
            c->kept = false;
        } else {
            c->kept = true;
            c->kept_value = old;
        }
    }
}

static void count_on(world *w, int i)
{
    const ref_item *item = &w->plan->items[i];
    count *c = &w->s[i].c;
    bool open = item->gate < 0 || sees(w, i, item->gate),
         goes_on = item->closed == REF_LOST || item->closed == REF_LATE;
    int rules = ruling(w, i);
    bool done = false, early = false;
    if (w->t == 0) {
        c->due = item->at_once;
        c->ruled = rules;
    }
    bool waited = item->closed == REF_LATE && w->t > 0 && !c->open && reached(item, c, c->ruled);
    bool first_pending = c->due;
    if (!first_pending && !waited && w->t > 0 && (c->open || goes_on) && counts(item, c, c->ruled)) {
        if (item->adds == REF_SECONDS) {
            c->sum += REF_PARTS;
        } else if (item->adds == REF_WAY) {
            c->sum += w->before->speed;
        } else if (item->adds == REF_TURNING) {
            c->sum += w->before->angle * spread(w->before->turns, w->before->lasts, w->second_before);
        }
    }
    if (item->adds == REF_EVENTS_OF && !first_pending && !waited && (open || goes_on) && counts(item, c, rules) &&
        sees_event(w, i, item->of[0])) {
        c->sum += REF_PARTS;
    }
    if (!item->new_edge && w->t > 0 && c->open && reached(item, c, c->ruled)) {
        done = early = true;
        expired(item, c, c->ruled);
    }
    change(item, c, c->ruled, rules);
    if (!open && item->closed == REF_RESTARTS) {
        begin_again(item, c);
    }
    if (open && c->due && rules != OFF && !used_up(item, c)) {
        if (!done) {
            c->sum = 0;
            c->place++;
            done = true;
        }
        c->due = false;
    } else if (!done && !c->kept && is_always(item, rules)) {
        done = open;
    } else if (!done && reached(item, c, rules)) {
        if (open) {
            done = true;
            expired(item, c, rules);
        } else if (item->closed == REF_LOST) {
            expired(item, c, rules);
        }
    }
    int by = early ? c->ruled : rules;
    w->out->sums[i].expired[by >= 0 ? by : 0] += done && by >= 0 && w->t >= w->plan->uncounted;
    c->ruled = rules;
    c->open = open;
    w->s[i].happened = done;
}

/* After all items: what is judged again holds until the next second. */
static void count_settled(world *w, int i)
{
    const ref_item *item = &w->plan->items[i];
    count *c = &w->s[i].c;
    int rules = ruling(w, i);
    c->open = item->gate < 0 || sees(w, i, item->gate);
    change(item, c, c->ruled, rules);
    c->ruled = rules;
    if (!c->open && item->closed == REF_RESTARTS) {
        begin_again(item, c);
    }
    for (int k = 0; k < item->clear_count; k++) {
        if (w->s[item->clears[k]].happened) {
            c->sum = 0;
            c->place = 0;
            c->kept = false;
        }
    }
}

/* ---- Other events and stores ---- */

static bool clock_strikes(const world *w, const ref_item *item)
{
    if (item->other == REF_NO_AMOUNT) {
        return false;
    }
    long first = item->other / REF_PARTS + item->draw / REF_PARTS, every = item->amount / REF_PARTS;
    long now = clock_of(w, w->t);
    if (item->amount == REF_NO_AMOUNT || every <= 0) {
        return now == first;
    }
    return now >= first && (now - first) % every == 0;
}

static bool let_through(world *w, int i, bool wants)
{
    const ref_item *item = &w->plan->items[i];
    bool open = item->gate < 0 || sees(w, i, item->gate);
    bool late = item->closed == REF_LATE && w->s[i].queue > 0;
    if (open && (wants || late)) {
        w->s[i].queue = 0;
        return true;
    }
    w->s[i].queue = item->closed == REF_LATE && (wants || late) ? 1 : 0;
    return false;
}

static void other_event(world *w, int i)
{
    const ref_item *item = &w->plan->items[i];
    state *s = &w->s[i];
    long here = 0;
    bool x = false;
    for (int k = 0; k < item->of_count; k++) {
        x = sees(w, i, item->of[k]);
        here += x;
    }
    switch (item->kind) {
    case REF_BEGINS:
    case REF_ENDS:
        s->happened = w->t > 0 && (item->kind == REF_BEGINS ? x && !s->seen_first : !x && s->seen_first);
        s->seen_first = x;
        break;
    case REF_HAPPENING: s->happened = spread(w->now->happens[item->input], w->now->lasts, w->second) > 0; break;
    case REF_ANY_OF: s->happened = let_through(w, i, here > 0); break;
    case REF_BY_CLOCK: s->happened = let_through(w, i, clock_strikes(w, item)); break;
    default:
        s->queue += here;
        s->happened = s->queue > 0;
        s->queue -= s->happened;
    }
}

static void aged(world *w, int i, long since)
{
    ref_sum *sum = &w->out->sums[i];
    sum->age = w->t - since > sum->age ? w->t - since : sum->age;
}

static void take_oldest(world *w, int i)
{
    state *s = &w->s[i];
    aged(w, i, s->in[0]);
    memmove(s->in, s->in + 1, (size_t)(s->content - 1) * sizeof *s->in);
    s->content--;
}

static void store(world *w, int i)
{
    const ref_item *item = &w->plan->items[i];
    state *s = &w->s[i];
    ref_sum *sum = &w->out->sums[i];
    long capacity = item->amount == REF_NO_AMOUNT ? 0 : item->amount / REF_PARTS;
    if (sees_event(w, i, item->of[0])) {
        bool over = s->content >= capacity;
        if (over) {
            sum->lost++;
            sum->full_at = sum->full_at < 0 ? w->t : sum->full_at;
        }
        if (over && item->wraps && capacity > 0) {
            take_oldest(w, i);
            over = false;
        }
        if (!over) {
            s->in[s->content++] = w->t;
        }
    }
    s->gone = 0;
    if (sees_event(w, i, item->of[1])) {
        long n = item->other == REF_NO_AMOUNT ? s->content : item->other / REF_PARTS;
        n = n < s->content ? n : s->content;
        for (long k = 0; k < n; k++) {
            take_oldest(w, i);
        }
        s->gone = n;
        if (w->t >= w->plan->uncounted) {
            sum->taken += n;
            sum->packets += (n + item->packet - 1) / item->packet;
        }
    }
    sum->most = s->content > sum->most ? s->content : sum->most;
}

/* ---- All of it ---- */

static void judge_again(world *w)
{
    w->again = true;
    for (int k = 0; k < w->fact_count; k++) {
        state *s = &w->s[w->facts[k]], next;
        s->value = judged(w, w->facts[k], &next);
        s->began = next.began;
        s->ended = next.ended;
        s->ever = next.ever;
        s->saw = next.saw;
    }
    for (int k = 0; k < w->counter_count; k++) {
        int i = w->counters[k], rules = 0;
        ref_sum *sum = &w->out->sums[i];
        count_settled(w, i);
        rules = w->s[i].c.ruled;
        w->s[i].lasting = rules == w->s[i].lasting_case ? w->s[i].lasting + 1 : 1;
        w->s[i].lasting_case = rules;
        if (rules != OFF) {
            sum->ruled[rules] += w->t >= w->plan->uncounted;
            sum->longest[rules] = w->s[i].lasting > sum->longest[rules] ? w->s[i].lasting : sum->longest[rules];
        }
    }
}

static void mark(world *w, int i)
{
    if (w->out->mark_count == w->room) {
        w->room = w->room * 2 + 64;
        w->out->marks = realloc(w->out->marks, w->room * sizeof *w->out->marks);
    }
    w->out->marks[w->out->mark_count++] = (ref_mark){w->t, i};
}

/* The bytes of this second, on the bill of the first tariff whose fact holds. */
static void bill(world *w)
{
    const ref_plan *plan = w->plan;
    long sent[2] = {0, 0};
    int k = 0;
    for (int n = 0; n < plan->cost_count; n++) {
        const ref_cost *cost = &plan->costs[n];
        const state *s = &w->s[cost->item];
        long packet = plan->items[cost->item].packet;
        long times = cost->per == REF_EACH    ? s->happened
                     : cost->per == REF_TAKEN ? s->gone
                                              : (s->gone + packet - 1) / packet;
        sent[0] += times * cost->least;
        sent[1] += times * cost->most;
    }
    while (plan->tariffs[k].fact >= 0 && !w->s[plan->tariffs[k].fact].held) {
        k++;
    }
    for (int end = 0; end < 2; end++) {
        long step = plan->tariffs[k].step;
        w->out->billed[k][end] += plan->tariffs[k].rounds ? (sent[end] + step - 1) / step * step : sent[end];
    }
}

static void second(world *w)
{
    const ref_plan *plan = w->plan;
    w->again = false;
    for (int i = 0; i < plan->item_count; i++) {
        state next;
        int kind = plan->items[i].kind;
        w->s[i].happened = false;
        if (is_fact(kind)) {
            w->s[i].value = judged(w, i, &next);
        } else if (kind == REF_COUNTER) {
            count_on(w, i);
        } else if (kind == REF_STORE) {
            store(w, i);
        } else {
            other_event(w, i);
        }
    }
    judge_again(w);
    bool counts_now = w->t >= plan->uncounted;
    for (int i = 0; i < plan->item_count; i++) {
        state *s = &w->s[i];
        s->held = s->value;
        s->was = s->content;
        if (s->happened) {
            mark(w, i);
        }
        w->out->sums[i].happened += counts_now && s->happened;
        w->out->sums[i].held += counts_now && s->held;
    }
    if (counts_now && plan->cost_count > 0) {
        bill(w);
    }
}

void ref_play(const ref_plan *plan, ref_outcome *outcome)
{
    world w = {.plan = plan, .out = outcome};
    memset(outcome, 0, sizeof *outcome);
    for (int i = 0; i < plan->item_count; i++) {
        outcome->sums[i].full_at = -1;
        w.s[i].c.ruled = OFF;
        if (is_fact(plan->items[i].kind)) {
            w.facts[w.fact_count++] = i;
        } else if (plan->items[i].kind == REF_COUNTER) {
            w.counters[w.counter_count++] = i;
        }
        if (plan->items[i].kind == REF_STORE) {
            w.s[i].in = calloc((size_t)(plan->items[i].amount / REF_PARTS + 2), sizeof *w.s[i].in);
        }
    }
    for (w.t = 0; w.t < plan->uncounted + plan->counted; w.t++) {
        w.before = w.now;
        w.second_before = w.second;
        w.second++;
        if (w.now == NULL || w.second == 0 || w.second >= w.now->lasts || w.t % DAY == 0) {
            w.now = stretch_at(plan, w.t, &w.second);
        }
        second(&w);
    }
    w.t--;
    for (int i = 0; i < plan->item_count; i++) {
        for (long k = 0; k < w.s[i].content; k++) {
            aged(&w, i, w.s[i].in[k]);
        }
        free(w.s[i].in);
    }
}
