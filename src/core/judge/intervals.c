/* SPDX-License-Identifier: MIT
 * Whether the intervals of a model are sound: what items are about, in which order, and in which units. */
#include "parts.h"
#include "verdite/cost.h"

/* What an amount is to be measured in. */
typedef enum wanted_unit {
    UNIT_ANY,
    UNIT_TIME,
    UNIT_WAY,
    UNIT_ANGLE,
    UNIT_BYTES,
    UNIT_CHARGE,
    UNIT_CURRENT,
    UNIT_SHARE,
    UNIT_NUMBER
} wanted_unit;

static bool is_event_at(const vd_intervals *intervals, uint16_t of)
{
    return vd_item_is_event(&intervals->items[of]);
}

static bool is_fact_at(const vd_intervals *intervals, uint16_t of)
{
    return vd_item_is_fact(&intervals->items[of]);
}

static bool measures(const vd_model *model, vd_ref formula, wanted_unit unit)
{
    static const char *const signs[] = {
        [UNIT_TIME] = "s",    [UNIT_WAY] = "m",     [UNIT_ANGLE] = "°", [UNIT_BYTES] = "B",
        [UNIT_CHARGE] = "As", [UNIT_CURRENT] = "A", [UNIT_SHARE] = "%", [UNIT_NUMBER] = ""};
    if (vd_index(formula) == VD_NONE || unit == UNIT_ANY) {
        return true;
    }
    const vd_kind *kind = &model->book->formulas[model->intervals->formula + vd_index(formula)].kind;
    vd_dimension none = {.own = NULL};
    vd_dimension wanted = unit == UNIT_NUMBER ? none : vd_measure_find(model, signs[unit]).dimension;
    return kind->is == VD_IS_NUMBER &&
           (unit == UNIT_NUMBER ? vd_dimension_none(&kind->dimension) : vd_dimension_equal(&kind->dimension, &wanted));
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
    return store && item->compared == VD_COMPARED_STORE && !measures(model, item->amount, UNIT_NUMBER)
               ? "compares what a store holds with something that is no plain number"
               : NULL;
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
    static const uint8_t units[] = {UNIT_TIME, UNIT_WAY, UNIT_ANGLE, UNIT_NUMBER};
    static const char *const wrong[] = {
        "has a value that is no time, such as 5 min", "has a value that is no distance, such as 5 km",
        "has a value that is no angle, such as 30 °", "has a value that is no plain number"};
    bool fine = true;
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
        fine = fine && measures(model, counter->cases[k].value, units[counter->adds]);
    }
    for (uint8_t k = 0; k < counter->series_count; k++) {
        fine = fine && measures(model, counter->series[k], units[counter->adds]);
    }
    fine =
        fine && measures(model, item->least, units[counter->adds]) && measures(model, item->most, units[counter->adds]);
    for (uint8_t k = 0; k < item->clear_count; k++) {
        if (!is_event_at(intervals, item->clears[k])) {
            return "is zeroed by something that is no event";
        }
    }
    return fine ? check_event_order(intervals, i) : wrong[counter->adds];
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

static const char *check_store(const vd_model *model, uint16_t i)
{
    const vd_item *item = &model->intervals->items[i];
    bool fine = measures(model, item->amount, UNIT_NUMBER) && measures(model, item->other, UNIT_NUMBER) &&
                measures(model, item->packet, UNIT_NUMBER);
    return fine ? check_event_order(model->intervals, i) : "has a size that is no plain number";
}

static const char *check_cost(const vd_model *model, const vd_cost *cost)
{
    wanted_unit unit = !cost->charge ? UNIT_BYTES : cost->per == VD_COST_SECOND ? UNIT_CURRENT : UNIT_CHARGE;
    bool fine = measures(model, cost->least, unit) && measures(model, cost->most, unit);
    return fine                   ? NULL
           : unit == UNIT_BYTES   ? "has a cost that is no number of bytes, such as 62 B"
           : unit == UNIT_CURRENT ? "has a cost that is no current, such as 8 mA"
                                  : "has a cost that is no charge, such as 9 mAs";
}

static bool is_battery(const vd_model *model)
{
    const vd_battery *battery = &model->intervals->costs->battery;
    return measures(model, battery->holds, UNIT_CHARGE) && measures(model, battery->usable_least, UNIT_SHARE) &&
           measures(model, battery->usable_most, UNIT_SHARE) && measures(model, battery->loss_least, UNIT_SHARE) &&
           measures(model, battery->loss_most, UNIT_SHARE);
}

static bool is_tariff(const vd_model *model)
{
    const vd_tariff *tariff = &model->intervals->costs->tariff;
    return measures(model, tariff->base, UNIT_NUMBER) && measures(model, tariff->each, UNIT_NUMBER) &&
           measures(model, tariff->included, UNIT_BYTES) && measures(model, tariff->step, UNIT_BYTES);
}

static void complain(vd_judge *judge, vd_where where, const char *key, const char *what, uint16_t item)
{
    vd_fault fault = {0};
    vd_note_MODEL_INCONSISTENT(&fault, NULL, key[0] != '\0' ? key : "it", what);
    fault.number[0] = (int32_t)where;
    fault.number[1] = item;
    vd_judge_note(judge, &fault, VD_NONE);
}

void vd_check_intervals(const vd_model *model, vd_judge *judge)
{
    for (uint16_t i = 0; model->intervals != NULL && i < model->intervals->item_count; i++) {
        const vd_item *item = &model->intervals->items[i];
        const char *what = vd_item_is_fact(item)    ? check_fact(model, i)
                           : vd_item_is_event(item) ? check_event(model, i)
                                                    : check_store(model, i);
        if (what != NULL) {
            complain(judge, VD_IN_INTERVALS, item->key, what, i);
        }
    }
    const vd_costs *costs = model->intervals != NULL ? model->intervals->costs : NULL;
    for (uint16_t n = 0; costs != NULL && n < costs->count; n++) {
        const char *what = check_cost(model, &costs->list[n]);
        if (what != NULL) {
            complain(judge, VD_IN_INTERVALS, model->intervals->items[costs->list[n].item].key, what,
                     costs->list[n].item);
        }
    }
    if (costs != NULL && !is_battery(model)) {
        complain(judge, VD_IN_BATTERY, "battery", "wants a charge, such as 19 Ah, and shares in %", 0);
    }
    if (costs != NULL && !is_tariff(model)) {
        complain(judge, VD_IN_TARIFF, "tariff", "wants plain numbers for money, and bytes, such as 10 kB", 0);
    }
}
