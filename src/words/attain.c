/* SPDX-License-Identifier: MIT
 * What makes a formula come out as it is wished: the settings that it hangs on are known, which of their values does is
 * found by trying. */
#include "edit.h"

/* What else there is that a change might move: which other alarms are used, and what this one does. */
typedef struct around {
    uint64_t used, does;
} around;

static around look_around(const vd_editing *e)
{
    around now = {0, 0};
    uint16_t count = vd_model_alarm_count(e->model);
    for (uint16_t i = 0; i < count && i < 64; i++) {
        now.used |= (uint64_t)(i != e->n && vd_alarm_is_used(e->set, i) == VD_HOLDS) << i;
    }
    for (uint8_t i = 0; i < e->alarm->reaction_count && i < 64; i++) {
        bool does = vd_formula_truth(e->set, vd_index(e->alarm->reactions[i].does), e->item, VD_HOLDS) == VD_HOLDS;
        now.does |= (uint64_t)does << i;
    }
    return now;
}

static unsigned differences(uint64_t a, uint64_t b)
{
    unsigned count = 0;
    for (uint64_t rest = a ^ b; rest != 0; rest &= rest - 1) {
        count++;
    }
    return count;
}

/* The k-th value to try for a setting; false: there are no more. */
static bool candidate(const vd_setting *about, const vd_value *now, uint16_t k, vd_value *value)
{
    *value = (vd_value){.type = about->traits->id};
    switch ((vd_type)about->traits->id) {
    case VD_TRUTH: value->number = k; return k < 2;
    case VD_CHOICE:
        value->number = k < about->choice_count ? about->choices[k].number : 0;
        return k < about->choice_count;
    case VD_FLAGS:
        value->number = k < about->choice_count ? now->number ^ ((int64_t)1 << about->choices[k].number) : 0;
        return k < about->choice_count && now->type != VD_NOTHING;
    default: return false;
    }
}

static bool is_reached(const vd_editing *e, const vd_goal *g)
{
    uint16_t test = VD_NONE;
    if (g->formula != VD_NONE) {
        return vd_formula_truth(e->set, g->formula, e->item, VD_HOLDS) == g->wanted;
    }
    return vd_tests_pick(e->set, g->first, g->count, e->item, &test) == VD_HOLDS && test == g->test;
}

/* The best value so far by which it is reached, and what it moves besides. */
typedef struct find {
    uint16_t setting;
    vd_value value;
    unsigned moves;
} find;

static void try_setting(vd_editing *e, const vd_goal *g, uint16_t setting, const around *before, find *best)
{
    const vd_setting *about = &e->model->settings[setting];
    vd_value now = vd_set_get(e->set, setting), value;
    if (about->access == VD_READ_ONLY || about->written_by == VD_MAKER || about->secret || setting == e->kept ||
        vd_set_exists(e->set, setting) == VD_FAILS) {
        return;
    }
    for (uint16_t k = 0; candidate(about, &now, k, &value); k++) {
        vd_set_put(e->set, setting, &value);
        around after = look_around(e);
        unsigned moves = differences(before->used, after.used) * 8 + differences(before->does, after.does);
        if (is_reached(e, g) && moves < best->moves && vd_set_check_value(e->set, setting, &value, NULL) == VD_OK) {
            *best = (find){setting, value, moves};
        }
    }
    if (now.type == VD_NOTHING) {
        vd_set_forget(e->set, setting);
    } else {
        vd_set_put(e->set, setting, &now);
    }
}

bool vd_alarm_attain(vd_editing *e, const vd_goal *g)
{
    find best = {.setting = VD_NONE, .moves = UINT16_MAX};
    around before = look_around(e);
    if (is_reached(e, g)) {
        return true;
    }
    for (unsigned i = 0; i < (g->formula != VD_NONE ? 1u : g->count); i++) {
        uint16_t formula = g->formula != VD_NONE ? g->formula : vd_index(e->model->tests[g->first + i].counts);
        vd_naming naming = vd_formula_names(e->model, formula);
        for (uint16_t named; (named = vd_spot_in(vd_names_next(&naming), e->item)) != VD_NONE;) {
            try_setting(e, g, named, &before, &best);
        }
    }
    if (best.setting != VD_NONE) {
        vd_set_put(e->set, best.setting, &best.value);
    }
    return best.setting != VD_NONE;
}
