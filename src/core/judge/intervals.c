/* SPDX-License-Identifier: MIT
 * Whether the intervals of a model are sound: what items are about, and in which order. */
#include "parts.h"
#include "verdite/day.h"

static bool is_event_at(const vd_intervals *intervals, uint16_t of)
{
    return vd_item_is_event(&intervals->items[of]);
}

static bool is_fact_at(const vd_intervals *intervals, uint16_t of)
{
    return vd_item_is_fact(&intervals->items[of]);
}

/* Facts that only put others together go in a circle where each names the next below, or itself. */
static bool is_plain(const vd_item *item)
{
    return item->kind == VD_ITEM_ALL || item->kind == VD_ITEM_ANY || item->kind == VD_ITEM_NOT;
}

/* Whether it comes back to an item by facts that only put others together. Each step goes to another one, so as many
 * steps as there are items reach all. */
static bool comes_back(const vd_intervals *intervals, uint16_t to)
{
    uint8_t met[VD_MOST_ITEMS] = {0};
    bool more = true;
    met[to] = 1;
    while (more) {
        more = false;
        for (uint16_t i = 0; i < intervals->item_count; i++) {
            const vd_item *item = &intervals->items[i];
            for (uint8_t k = 0; met[i] == 1 && is_plain(item) && k < item->of_count; k++) {
                if (item->of[k] == to) {
                    return true;
                }
                more = more || met[item->of[k]] == 0;
                met[item->of[k]] = met[item->of[k]] == 0 ? 1 : met[item->of[k]];
            }
            met[i] = met[i] == 1 ? 2 : met[i];
        }
    }
    return false;
}

static const char *check_fact(const vd_model *model, uint16_t i)
{
    const vd_intervals *intervals = model->intervals;
    const vd_item *item = &intervals->items[i];
    bool mixed = item->kind == VD_ITEM_WITHIN || item->kind == VD_ITEM_SET_BY;
    bool store = item->kind == VD_ITEM_COMPARE;
    for (uint8_t k = 0; k < item->of_count && !store; k++) {
        if (!is_fact_at(intervals, item->of[k]) && !(mixed && is_event_at(intervals, item->of[k]))) {
            return mixed ? "names something that is neither a fact nor an event" : "names something that is no fact";
        }
    }
    for (uint8_t k = 0; k < item->clear_count; k++) {
        if (!is_fact_at(intervals, item->clears[k]) && !is_event_at(intervals, item->clears[k])) {
            return "is cleared by something that is neither a fact nor an event";
        }
    }
    bool timed = item->kind == VD_ITEM_LASTED || item->kind == VD_ITEM_WITHIN;
    if ((timed || item->kind == VD_ITEM_NOT) && item->of_count != 1) {
        return "is about exactly one other item";
    }
    if ((timed || item->kind == VD_ITEM_CLOCK || item->kind == VD_ITEM_FIXED) && vd_index(item->amount) == VD_NONE) {
        return item->kind == VD_ITEM_CLOCK ? "does not say from when and to when" : "does not say for how long";
    }
    if (item->kind == VD_ITEM_CLOCK && vd_index(item->other) == VD_NONE) {
        return "does not say from when and to when";
    }
    if (is_plain(item) && comes_back(intervals, i)) {
        return "waits for itself: the facts that it is made of come back to it";
    }
    return NULL;
}

static const char *check_event_order(const vd_intervals *intervals, uint16_t i)
{
    const vd_item *item = &intervals->items[i];
    for (uint8_t k = 0; k < item->of_count; k++) {
        if (!is_event_at(intervals, item->of[k])) {
            return "names something that is no event";
        }
        if (item->of[k] >= i) {
            return "waits for an event that is listed below it: put that one above";
        }
    }
    return NULL;
}

static const char *check_counter(const vd_model *model, uint16_t i)
{
    const vd_intervals *intervals = model->intervals;
    const vd_item *item = &intervals->items[i];
    const vd_counter *counter = item->counter;
    if (counter->adds == VD_ADDS_EVENTS && item->of_count != 1) {
        return "counts events, but does not say of which one item";
    }
    if (counter->adds != VD_ADDS_EVENTS && item->of_count > 0) {
        return "names an event that it does not count";
    }
    for (uint8_t k = 0; k < counter->case_count; k++) {
        uint16_t when = vd_index(counter->cases[k].when);
        if (when != VD_NONE && !is_fact_at(intervals, when)) {
            return "has a case under something that is no fact";
        }
    }
    for (uint8_t k = 0; k < item->clear_count; k++) {
        if (!is_event_at(intervals, item->clears[k])) {
            return "is zeroed by something that is no event";
        }
    }
    return check_event_order(intervals, i);
}

static const char *check_event(const vd_model *model, uint16_t i)
{
    const vd_intervals *intervals = model->intervals;
    const vd_item *item = &intervals->items[i];
    uint16_t gate = vd_index(item->gate);
    if (gate != VD_NONE && !is_fact_at(intervals, gate)) {
        return "is only while something that is no fact";
    }
    if (item->kind == VD_ITEM_COUNTER) {
        return check_counter(model, i);
    }
    if (item->closed < VD_CLOSED_LOST) {
        return "is no counter: closed, it is lost or late";
    }
    if (item->kind == VD_ITEM_BEGINS || item->kind == VD_ITEM_ENDS) {
        return item->of_count == 1 && is_fact_at(intervals, item->of[0]) ? NULL : "is about exactly one fact";
    }
    if (item->kind == VD_ITEM_BY_CLOCK && vd_index(item->other) == VD_NONE) {
        return "does not say at what time of day";
    }
    return item->kind == VD_ITEM_HAPPENS || item->kind == VD_ITEM_BY_CLOCK ? NULL : check_event_order(intervals, i);
}

/* Units that have registers say nothing unasked. */
static bool talks_in_lines(const vd_model *model)
{
    bool lines = false;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const char *word = model->settings[i].field.word;
        lines = lines || (word != NULL && word[0] != '\0');
    }
    return lines;
}

static const char *check_says(const vd_model *model, const vd_item *item)
{
    if (item->says == NULL || item->says[0] == '\0') {
        return NULL;
    }
    return !talks_in_lines(model)                  ? "says a line, but its unit does not talk in lines"
           : vd_judge_is_answer(model, item->says) ? "says unasked what would be taken for the answer about a record"
                                                   : NULL;
}

void vd_check_intervals(const vd_model *model, vd_judge *judge)
{
    for (uint16_t i = 0; model->intervals != NULL && i < model->intervals->item_count; i++) {
        const vd_item *item = &model->intervals->items[i];
        const char *what = vd_item_is_fact(item)    ? check_fact(model, i)
                           : vd_item_is_event(item) ? check_event(model, i)
                                                    : check_event_order(model->intervals, i);
        what = what != NULL ? what : check_says(model, item);
        if (what != NULL) {
            vd_fault fault = {0};
            vd_note_MODEL_INCONSISTENT(&fault, NULL, item->key[0] != '\0' ? item->key : "it", what);
            fault.number[0] = VD_IN_INTERVALS;
            fault.number[1] = i;
            vd_judge_note(judge, &fault, VD_NONE);
        }
    }
}
