/* SPDX-License-Identifier: MIT
 * Limits that are sums of what other channels read: worked out once to whole factors, so that a new value costs a
 * multiplication and not a run of the expression. What is no such sum is run. */
#include "parts.h"

#define MOST_DEPTH 16u

/* A sum in the base units of expressions: a constant, and channels with factors. */
typedef struct form {
    vd_ratio constant, factors[VD_MOST_TERMS];
    uint16_t channels[VD_MOST_TERMS];
    uint8_t count;
} form;

static uint16_t channel_of(const vd_model *model, uint16_t setting)
{
    for (uint16_t i = 0; i < model->channel_count; i++) {
        const vd_channel *one = &model->channels[i];
        const vd_setting *about = vd_index(one->reads) != VD_NONE ? &model->settings[vd_index(one->reads)] : NULL;
        /* A reading that is a whole number cuts off what a log has behind the point; so it is run. */
        if (about != NULL && vd_index(one->reads) == setting && one->flag == VD_NO_FLAG &&
            vd_setting_is(about, VD_TYPE_PLACED) && !about->conditional) {
            return i;
        }
    }
    return VD_NONE;
}

/* a + b * by. */
static bool add(form *a, const form *b, vd_ratio by)
{
    vd_ratio part;
    if (!vd_ratio_multiply(b->constant, by, &part) || !vd_ratio_add(a->constant, part, &a->constant)) {
        return false;
    }
    for (uint8_t i = 0; i < b->count; i++) {
        uint8_t k = 0;
        while (k < a->count && a->channels[k] != b->channels[i]) {
            k++;
        }
        if (k == VD_MOST_TERMS || !vd_ratio_multiply(b->factors[i], by, &part)) {
            return false;
        }
        if (k == a->count) {
            a->channels[k] = b->channels[i];
            a->factors[k] = (vd_ratio){0, 1};
            a->count++;
        }
        if (!vd_ratio_add(a->factors[k], part, &a->factors[k])) {
            return false;
        }
    }
    return true;
}

static bool scale(form *a, vd_ratio by)
{
    form whole = *a;
    *a = (form){.constant = {0, 1}};
    return add(a, &whole, by);
}

/* What a step that loads a setting gives: a channel, or what the set holds for good. */
static bool load(const vd_set *set, const vd_instruction *step, uint16_t item, form *to)
{
    uint16_t setting = vd_step_setting(step, item), channel = channel_of(set->model, setting);
    *to = (form){.constant = {0, 1}};
    if (channel != VD_NONE) {
        to->count = 1;
        to->channels[0] = channel;
        to->factors[0] = (vd_ratio){1, 1};
        return true;
    }
    for (uint16_t i = 0; i < set->model->channel_count; i++) {
        if (vd_index(set->model->channels[i].reads) == setting) {
            return false;
        }
    }
    const vd_code code = {(uint32_t)(step - set->model->book->steps), 1};
    vd_result result = vd_run(set, NULL, &code, item);
    to->constant = result.ratio;
    return result.known;
}

static bool step(const vd_set *set, const vd_instruction *s, uint16_t item, form *stack, unsigned *top)
{
    static const vd_ratio one = {1, 1}, minus = {-1, 1};
    vd_ratio turned;
    if (s->op == VD_OP_CONSTANT || s->op == VD_OP_LOAD) {
        form *to = &stack[*top];
        if (*top == MOST_DEPTH) {
            return false;
        }
        (*top)++;
        *to = (form){.constant = {s->number, s->a}};
        return s->op == VD_OP_CONSTANT || load(set, s, item, to);
    }
    form *a = *top >= 2 ? &stack[*top - 2] : NULL, *b = *top >= 1 ? &stack[*top - 1] : NULL;
    if (s->op == VD_OP_NEGATE) {
        return b != NULL && scale(b, minus);
    }
    if (a == NULL) {
        return false;
    }
    (*top)--;
    switch ((vd_op)s->op) {
    case VD_OP_ADD: return add(a, b, one);
    case VD_OP_SUBTRACT: return add(a, b, minus);
    case VD_OP_MULTIPLY:
        if (a->count > 0 && b->count == 0) {
            return scale(a, b->constant);
        }
        turned = a->constant;
        *a = a->count == 0 ? *b : *a;
        return b->count == 0 ? scale(a, turned) : a->count == b->count && scale(a, turned);
    case VD_OP_DIVIDE: return b->count == 0 && vd_ratio_divide(one, b->constant, &turned) && scale(a, turned);
    default: return false;
    }
}

/* The sum in counts of a channel with these places and unit, over one whole number. */
static bool make_whole(const vd_model *model, form *f, vd_ratio unit, uint8_t places, vd_sum *sum)
{
    int64_t counts = 1, below = 1;
    vd_ratio to_counts;
    if (!vd_scale_up(&counts, places) || !vd_ratio_divide((vd_ratio){counts, 1}, unit, &to_counts) ||
        !vd_ratio_multiply(f->constant, to_counts, &f->constant)) {
        return false;
    }
    for (uint8_t i = 0; i <= f->count; i++) {
        vd_ratio *one = i < f->count ? &f->factors[i] : &f->constant;
        int64_t own = 1;
        vd_ratio from;
        if (i < f->count &&
            (!vd_scale_up(&own, vd_channel_places(model, f->channels[i])) || !vd_ratio_make(1, own, &from) ||
             !vd_ratio_multiply(*one, from, one) || !vd_ratio_multiply(*one, to_counts, one))) {
            return false;
        }
        int64_t more = one->below / (int64_t)vd_common_divisor((uint64_t)one->below, (uint64_t)below);
        if (more > 1000000 || below > 1000000) {
            return false;
        }
        below *= more;
    }
    *sum = (vd_sum){.below = below, .count = f->count};
    for (uint8_t i = 0; i <= f->count; i++) {
        const vd_ratio *one = i < f->count ? &f->factors[i] : &f->constant;
        int64_t times = below / one->below;
        if (one->number > INT64_MAX / 4 / times || one->number < -(INT64_MAX / 4 / times)) {
            return false;
        }
        *(i < f->count ? &sum->factors[i] : &sum->constant) = one->number * times;
    }
    for (uint8_t i = 0; i < f->count; i++) {
        sum->channels[i] = f->channels[i];
    }
    return true;
}

bool vd_sum_make(const vd_set *set, uint16_t formula, uint16_t item, vd_ratio unit, uint8_t places, vd_sum *sum)
{
    const vd_model *model = set->model;
    form stack[MOST_DEPTH];
    unsigned top = 0;
    if (formula == VD_NONE) {
        *sum = (vd_sum){.below = 1};
        return true;
    }
    const vd_term *term = &model->book->formulas[formula];
    const vd_instruction *steps = model->book->steps + term->code.first;
    for (uint32_t i = 0; i < term->code.count; i++) {
        if (!step(set, &steps[i], item, stack, &top)) {
            return false;
        }
    }
    uint16_t is = vd_index(term->kind.spot.setting);
    bool alike = is != VD_NONE && model->settings[is].like_count > 0;
    return top == 1 && !alike && make_whole(model, &stack[0], unit, places, sum);
}

bool vd_sum_now(const vd_sum *sum, const vd_input *inputs, int64_t more, int64_t *at_most, int64_t *at_least)
{
    int64_t all = sum->constant + more;
    for (uint8_t i = 0; i < sum->count; i++) {
        const vd_input *input = &inputs[sum->channels[i]];
        int64_t factor = sum->factors[i], room = INT64_MAX / 8 / (factor < 0 ? -factor : factor > 0 ? factor : 1);
        if (!input->known || input->number > room || input->number < -room) {
            return false;
        }
        all += factor * input->number;
        if (all > INT64_MAX / 2 || all < INT64_MIN / 2) {
            return false;
        }
    }
    if (sum->below == 1) {
        *at_most = *at_least = all;
        return true;
    }
    int64_t whole = all / sum->below, rest = all % sum->below;
    *at_most = whole - (rest < 0);
    *at_least = whole + (rest > 0);
    return true;
}
