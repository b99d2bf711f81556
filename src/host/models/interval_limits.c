/* SPDX-License-Identifier: MIT
 * Whether the amounts of intervals are such as can be, as far as they are the same in every unit. */
#include "intervals.h"
#include "verdite/cost.h"

/* What is worked out without any setting. */
typedef struct fixed {
    vd_model_file *file;
    const vd_intervals *intervals;
    const vd_amount *amounts;
} fixed;

static bool is_within(const fixed *f, vd_ref formula, int64_t least, int64_t most, const char *allowed)
{
    uint16_t index = vd_index(formula);
    const vd_amount *amount = index != VD_NONE ? &f->amounts[index] : NULL;
    if (amount == NULL || amount->state != VD_AMOUNT_KNOWN) {
        return true;
    }
    int64_t whole = amount->ratio.number / amount->ratio.below;
    bool fine = whole >= least &&
                (whole < most || (whole == most && amount->ratio.number % amount->ratio.below == 0)) &&
                amount->ratio.number >= least * amount->ratio.below;
    return fine || yaml_note(&f->file->yaml, g_ptr_array_index(f->file->formula_nodes, f->intervals->formula + index),
                             vd_fault_of_WRONG_SHAPE("this", allowed));
}

#define MOST_SECONDS ((int64_t)366 * VD_DAY_SECONDS)

/* A draw that is as wide as the value it is added to would make it none at all. */
static bool check_draw(const fixed *f, const vd_item *item)
{
    uint16_t least = vd_index(item->least);
    bool fine = true;
    for (uint8_t k = 0; least != VD_NONE && item->counter != NULL && k < item->counter->case_count; k++) {
        const vd_amount *draw = &f->amounts[least], *value = &f->amounts[vd_index(item->counter->cases[k].value)];
        if (draw->state == VD_AMOUNT_KNOWN && value->state == VD_AMOUNT_KNOWN && value->ratio.number > 0) {
            fine = is_within(f, item->least, -(value->ratio.number / value->ratio.below) + 1, INT64_MAX / 4,
                             "less than the value that it is taken from") &&
                   fine;
        }
    }
    return fine;
}

static bool check_item(const fixed *f, const vd_item *item)
{
    switch (item->kind) {
    case VD_ITEM_CLOCK:
        return is_within(f, item->amount, 0, VD_DAY_SECONDS, "a time of day, 0 h to 24 h") &&
               is_within(f, item->other, 0, VD_DAY_SECONDS, "a time of day, 0 h to 24 h");
    case VD_ITEM_BY_CLOCK:
        return is_within(f, item->other, 0, VD_DAY_SECONDS - 1, "a time of day, below 24 h") &&
               is_within(f, item->amount, 0, VD_DAY_SECONDS, "at most 24 h");
    case VD_ITEM_LASTED:
    case VD_ITEM_WITHIN: return is_within(f, item->amount, 0, MOST_SECONDS, "a time that is not below 0");
    case VD_ITEM_STORE:
        return is_within(f, item->amount, 0, UINT32_MAX, "a number that is not below 0") &&
               is_within(f, item->packet, 1, UINT32_MAX, "at least 1");
    default: return check_draw(f, item);
    }
}

static bool check_values(const fixed *f, const vd_counter *counter)
{
    bool fine = true;
    for (uint8_t k = 0; k < counter->case_count; k++) {
        fine = is_within(f, counter->cases[k].value, 0, INT64_MAX / 4096, "a value that can be, not below 0") && fine;
    }
    for (uint8_t k = 0; k < counter->series_count; k++) {
        fine = is_within(f, counter->series[k], 1, INT64_MAX / 4096, "at least 1") && fine;
    }
    return fine;
}

bool interval_check_limits(vd_model_file *file, const vd_amount *amounts)
{
    const fixed f = {file, file->model.intervals, amounts};
    bool fine = true;
    for (uint16_t i = 0; i < f.intervals->item_count; i++) {
        const vd_item *item = &f.intervals->items[i];
        fine = check_item(&f, item) && fine;
        fine = (item->counter == NULL || check_values(&f, item->counter)) && fine;
    }
    const vd_costs *costs = f.intervals->costs;
    if (costs != NULL) {
        fine = is_within(&f, costs->battery.holds, 1, INT64_MAX / 4096, "a charge above 0") && fine;
        fine = is_within(&f, costs->battery.usable_least, 1, 100, "1 % to 100 %") && fine;
        fine = is_within(&f, costs->battery.usable_most, 1, 100, "1 % to 100 %") && fine;
        fine = is_within(&f, costs->battery.loss_least, 0, 100, "0 % to 100 %") && fine;
        fine = is_within(&f, costs->battery.loss_most, 0, 100, "0 % to 100 %") && fine;
    }
    for (uint8_t k = 0; costs != NULL && k < costs->tariff_count; k++) {
        const vd_tariff *tariff = &costs->tariffs[k];
        fine = is_within(&f, tariff->step, 1, INT64_MAX / 4096, "at least 1 B") && fine;
        fine = is_within(&f, tariff->included, 0, INT64_MAX / 4096, "a number of bytes") && fine;
        fine = is_within(&f, tariff->base, 0, INT64_MAX / 4096, "money that is not below 0") && fine;
        fine = is_within(&f, tariff->each, 0, INT64_MAX / 4096, "money that is not below 0") && fine;
    }
    return fine;
}
