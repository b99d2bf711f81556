/* SPDX-License-Identifier: MIT
 * Which registers go into which request: reads with the least line time, writes with the fewest requests. */
#include "modbus.h"

/* Sorts by key, smallest first (Shell's method: no memory, no recursion, fast enough for thousands). */
static void sort(uint16_t *order, uint16_t count, const vd_model *model, uint32_t (*key)(const vd_model *, uint16_t))
{
    unsigned step = 1;
    while (step < count / 3u) {
        step = 3 * step + 1;
    }
    for (; step > 0; step /= 3) {
        for (unsigned i = step; i < count; i++) {
            uint16_t moved = order[i];
            uint32_t moved_key = key(model, moved);
            unsigned k = i;
            for (; k >= step && key(model, order[k - step]) > moved_key; k -= step) {
                order[k] = order[k - step];
            }
            order[k] = moved;
        }
    }
}

static uint32_t by_address(const vd_model *model, uint16_t setting)
{
    const vd_place *place = &model->settings[setting].place;
    return (uint32_t)place->table << 16 | place->address;
}

static uint32_t by_step_and_address(const vd_model *model, uint16_t setting)
{
    return (vd_model_gives_places(model, setting) ? 0u : 1u << 17) | by_address(model, setting);
}

static bool hole_between(const vd_model *model, const vd_place *a, const vd_place *b)
{
    for (uint16_t i = 0; i < model->hole_count; i++) {
        const vd_hole *hole = &model->holes[i];
        if (hole->table == a->table && hole->first >= a->address + a->words && hole->last < b->address) {
            return true;
        }
    }
    return false;
}

void vd_modbus_plan_read(vd_plan *plan, const vd_model *model, const uint8_t *which, bool stored, uint32_t overhead,
                         uint32_t each)
{
    plan->count = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *s = &model->settings[i];
        bool readable =
            stored ? s->place.table == VD_HOLDING && s->access == VD_READ_WRITE : s->access != VD_WRITE_ONLY;
        if (which[i] != 0 && readable) {
            plan->order[plan->count++] = i;
        }
    }
    sort(plan->order, plan->count, model, by_address);
    /* From the back: cost[i] is the least time for everything from order[i] on, next[i] where its request ends. */
    plan->cost[plan->count] = 0;
    for (unsigned i = plan->count; i-- > 0;) {
        const vd_place *first = &model->settings[plan->order[i]].place;
        plan->cost[i] = UINT32_MAX;
        for (unsigned end = i + 1; end <= plan->count; end++) {
            const vd_place *last = &model->settings[plan->order[end - 1]].place;
            uint32_t words = (uint32_t)last->address + last->words - first->address;
            if (last->table != first->table || words > VD_MODBUS_MOST_READ ||
                (end - 1 > i && hole_between(model, &model->settings[plan->order[end - 2]].place, last))) {
                break;
            }
            uint32_t cost = overhead + words * each + plan->cost[end];
            if (cost < plan->cost[i]) {
                plan->cost[i] = cost;
                plan->next[i] = (uint16_t)end;
            }
        }
    }
}

static bool is_pair(const vd_model *model, uint16_t a, uint16_t b)
{
    for (uint16_t i = 0; i < model->pair_count; i++) {
        const vd_pair *pair = &model->pairs[i];
        if ((pair->low == a && pair->high == b) || (pair->low == b && pair->high == a)) {
            return true;
        }
    }
    return false;
}

void vd_modbus_plan_write(vd_plan *plan, const vd_model *model, const uint8_t *which)
{
    plan->count = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (which[i] != 0 && model->settings[i].access != VD_READ_ONLY) {
            plan->order[plan->count++] = i;
        }
    }
    sort(plan->order, plan->count, model, by_step_and_address);
    for (unsigned i = 0; i < plan->count;) {
        const vd_place *first = &model->settings[plan->order[i]].place;
        bool first_step = vd_model_gives_places(model, plan->order[i]);
        unsigned end = i + 1;
        while (end < plan->count) {
            const vd_place *before = &model->settings[plan->order[end - 1]].place;
            const vd_place *place = &model->settings[plan->order[end]].place;
            uint32_t words = (uint32_t)place->address + place->words - first->address;
            if (before->address + before->words != place->address ||
                vd_model_gives_places(model, plan->order[end]) != first_step) {
                break;
            }
            if (words > VD_MODBUS_MOST_WRITE) {
                /* The limit, not a gap, ends this request: do not let it part a pair. */
                end -= end - i > 1 && is_pair(model, plan->order[end - 1], plan->order[end]);
                break;
            }
            end++;
        }
        plan->next[i] = (uint16_t)end;
        i = end;
    }
}

void vd_modbus_plan_request(const vd_plan *plan, const vd_model *model, uint16_t at, vd_place *span,
                            uint16_t *registers)
{
    const vd_place *last = &model->settings[plan->order[plan->next[at] - 1]].place;
    *span = model->settings[plan->order[at]].place;
    *registers = (uint16_t)(last->address + last->words - span->address);
}
