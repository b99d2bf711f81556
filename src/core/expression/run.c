/* SPDX-License-Identifier: MIT
 * Running compiled expressions: exact numbers, and three outcomes. What depends on a value that is not known is not
 * known, unless the rest decides it anyway. A setting that does not count here, since the unit lacks it or the mode
 * passes it over, gives none: beside a value it leaves the value where things are added up, joined or the least of them
 * taken; everything else makes none of it. */
#include "expression.h"

#include <string.h>

/* Enough for every expression that compiles: vd_compile() counts. */
typedef struct machine {
    const vd_set *set, *before;
    vd_result stack[24];
    unsigned top;
} machine;

static vd_result unknown(void)
{
    return (vd_result){.known = false, .ratio = {0, 1}};
}

static vd_result none(void)
{
    return (vd_result){.known = false, .none = true, .ratio = {0, 1}};
}

/* What becomes of two values of which one is not known, or none, where none makes none of it whatever the other is. */
static vd_result lacking(const vd_result *a, const vd_result *b)
{
    return a->none || b->none ? none() : unknown();
}

static vd_result truth(bool yes)
{
    return (vd_result){.known = true, .ratio = {yes, 1}};
}

static vd_result of_value(const vd_value *value)
{
    vd_result result = {.known = value->type != VD_NOTHING, .ratio = {value->number, 1}};
    int64_t below = 1;
    if (vd_type_is_bytes((vd_type)value->type)) {
        result.text = value->text;
        result.length = value->length;
    } else if (vd_type_is_placed((vd_type)value->type)) {
        result.known = vd_scale_up(&below, value->places) && vd_ratio_make(value->number, below, &result.ratio);
    } else if (value->type == VD_DURATION) {
        result.known = vd_ratio_make(value->number, 1000, &result.ratio);
    } else if (value->type == VD_ZONE) {
        result.ratio.number *= 60;
    }
    return result;
}

static bool counts(const machine *m, uint16_t setting)
{
    return !m->set->model->settings[setting].conditional || vd_set_exists(m->set, setting) != VD_FAILS;
}

static vd_result load(const machine *m, uint16_t setting)
{
    vd_value value = vd_set_get(m->set, setting);
    if (value.type == VD_CLOCK && value.number == VD_NOW && !vd_set_now(m->set, setting, &value.number)) {
        value.type = VD_NOTHING;
    }
    return counts(m, setting) ? of_value(&value) : none();
}

/* Whether the unit lacks it, or only passes it over in this mode. */
static vd_result missing(const machine *m, uint16_t setting, bool for_good)
{
    bool lacks = vd_set_lacks(m->set, setting);
    vd_ruling there = vd_set_exists(m->set, setting);
    return there == VD_NOT_KNOWN && !lacks ? unknown() : truth(there == VD_FAILS && lacks == for_good);
}

static vd_result changed(const machine *m, uint16_t setting)
{
    if (!counts(m, setting)) {
        return none();
    }
    vd_comparison comparison = m->before != NULL ? vd_set_compare(m->before, m->set, setting) : VD_IN_NEITHER;
    return comparison == VD_SAME || comparison == VD_DIFFERENT ? truth(comparison == VD_DIFFERENT) : unknown();
}

static vd_result holds_default(const machine *m, uint16_t setting)
{
    if (!counts(m, setting)) {
        return none();
    }
    vd_value value = vd_set_get(m->set, setting), initial = vd_set_initial(m->set, setting);
    if (initial.type == VD_NOTHING) {
        return truth(false);
    }
    return value.type != VD_NOTHING ? truth(vd_value_equal(&value, &initial)) : unknown();
}

static vd_result compare(uint8_t op, const vd_result *a, const vd_result *b)
{
    int order = 0;
    if (!a->known || !b->known) {
        return lacking(a, b);
    }
    if (a->text != NULL && b->text != NULL) {
        order = a->length != b->length || memcmp(a->text, b->text, a->length) != 0;
    } else if (a->text != NULL || b->text != NULL) { /* an empty text need not point anywhere */
        order = a->length != b->length;
    } else {
        order = vd_ratio_compare(a->ratio, b->ratio);
    }
    switch ((vd_op)op) {
    case VD_OP_EQUAL: return truth(order == 0);
    case VD_OP_UNEQUAL: return truth(order != 0);
    case VD_OP_BELOW: return truth(order < 0);
    case VD_OP_AT_MOST: return truth(order <= 0);
    case VD_OP_ABOVE: return truth(order > 0);
    default: return truth(order >= 0);
    }
}

static vd_result calculate(uint8_t op, const vd_result *a, const vd_result *b)
{
    vd_result result = {.known = a->known && b->known, .ratio = {0, 1}};
    vd_ratio negative = {-b->ratio.number, b->ratio.below};
    bool product = op == VD_OP_MULTIPLY || op == VD_OP_DIVIDE;
    if (!result.known) {
        bool left = a->known && b->none, right = b->known && a->none;
        vd_result kept = left ? *a : *b;
        kept.ratio = right && op == VD_OP_SUBTRACT ? negative : kept.ratio;
        bool open = (a->none && !b->known && !b->none) || (b->none && !a->known && !a->none);
        return (left || right) && !product ? kept : open && !product ? unknown() : lacking(a, b);
    }
    switch ((vd_op)op) {
    case VD_OP_ADD: result.known = vd_ratio_add(a->ratio, b->ratio, &result.ratio); break;
    case VD_OP_SUBTRACT: result.known = vd_ratio_add(a->ratio, negative, &result.ratio); break;
    case VD_OP_MULTIPLY: result.known = vd_ratio_multiply(a->ratio, b->ratio, &result.ratio); break;
    case VD_OP_DIVIDE: result.known = vd_ratio_divide(a->ratio, b->ratio, &result.ratio); break;
    case VD_OP_LEAST: result.ratio = vd_ratio_compare(a->ratio, b->ratio) <= 0 ? a->ratio : b->ratio; break;
    default: result.ratio = vd_ratio_compare(a->ratio, b->ratio) >= 0 ? a->ratio : b->ratio; break;
    }
    return result;
}

/* What one side decides alone need not wait for the other. */
static vd_result join(bool both, const vd_result *a, const vd_result *b)
{
    bool decides = !both; /* "or" is decided by a true, "and" by a false */
    bool a_decides = a->known && (a->ratio.number != 0) == decides;
    bool b_decides = b->known && (b->ratio.number != 0) == decides;
    if (a_decides || b_decides) {
        return truth(decides);
    }
    if (a->none || b->none) {
        return a->none ? *b : *a;
    }
    return a->known && b->known ? truth(!decides) : unknown();
}

static vd_result starts(const vd_result *text, const vd_result *start)
{
    if (!text->known || !start->known) {
        return lacking(text, start);
    }
    bool longer = text->length >= start->length && text->text != NULL && start->text != NULL;
    return truth(longer && memcmp(text->text, start->text, start->length) == 0);
}

static vd_result same_network(const vd_result *a, const vd_result *b, const vd_result *mask)
{
    if (!a->known || !b->known || !mask->known) {
        vd_result both = a->known && b->known ? *a : lacking(a, b);
        return lacking(&both, mask);
    }
    return truth(((a->ratio.number ^ b->ratio.number) & mask->ratio.number) == 0);
}

/* Whether no two of several settings are equal, or each is above the one before; what does not count is passed over. */
static vd_result compare_all(const machine *m, const vd_instruction *s)
{
    bool all_known = true, ascending = s->op == VD_OP_ASCENDING, any = false;
    for (uint32_t i = 0; i < s->a; i++) {
        vd_result one = load(m, (uint16_t)(s->b + i * (uint32_t)s->number));
        all_known = all_known && (one.known || one.none);
        any = any || one.known;
        for (uint32_t k = i; one.known && k > 0; k--) {
            vd_result before = load(m, (uint16_t)(s->b + (k - 1) * (uint32_t)s->number));
            vd_result order = compare(ascending ? VD_OP_ABOVE : VD_OP_UNEQUAL, &one, &before);
            if (order.known && order.ratio.number == 0) {
                return order;
            }
            k = ascending && before.known ? 1 : k; /* the others are below that one */
        }
    }
    return !all_known ? unknown() : any ? truth(true) : none();
}

/* A host of its own in the network of its gateway, where it has one: neither the network's number, nor its broadcast
 * address, nor the gateway. Networks of one or two addresses have neither of the first two (RFC 3021). */
static vd_result usable_host(const vd_result *a, const vd_result *gateway, const vd_result *mask)
{
    vd_result near = same_network(a, gateway, mask);
    if (!near.known) {
        return near;
    }
    int64_t address = a->ratio.number, hosts = ~mask->ratio.number & UINT32_MAX, own = address & hosts;
    bool ends = hosts > 1 && (own == 0 || own == hosts);
    bool apart = gateway->ratio.number == 0 || (near.ratio.number != 0 && address != gateway->ratio.number);
    return truth(address != 0 && !ends && apart);
}

static void push(machine *m, vd_result result)
{
    m->stack[m->top++] = result;
}

static vd_result pop(machine *m)
{
    return m->stack[--m->top];
}

/* What a step puts on the stack that takes nothing from it. */
static vd_result fetch(const machine *m, const vd_instruction *s, uint16_t item)
{
    const vd_set *set = m->set;
    uint16_t setting = vd_step_setting(s, item);
    switch ((vd_op)s->op) {
    case VD_OP_CONSTANT: return (vd_result){.known = true, .ratio = {s->number, s->a}};
    case VD_OP_TEXT:
        return (vd_result){
            .known = true, .ratio = {0, 1}, .text = set->model->book->texts + s->number, .length = (uint16_t)s->a};
    case VD_OP_LOAD: return load(m, setting);
    case VD_OP_ABSENT:
    case VD_OP_IDLE: return missing(m, setting, s->op == VD_OP_ABSENT);
    case VD_OP_ITEM: return (vd_result){.known = true, .ratio = {item + 1, 1}};
    case VD_OP_CHANGED: return changed(m, setting);
    case VD_OP_FACTORY: return holds_default(m, setting);
    case VD_OP_VARIANT: return (vd_result){.known = set->variant != VD_NONE, .ratio = {set->variant, 1}};
    case VD_OP_FIRMWARE: return (vd_result){.known = set->firmware != 0, .ratio = {set->firmware, 1}};
    case VD_OP_NOW: return (vd_result){.known = set->moment.known, .ratio = {set->moment.seconds, 1}};
    default: return compare_all(m, s);
    }
}

static vd_result of_one(uint8_t op, vd_result a)
{
    switch ((vd_op)op) {
    case VD_OP_NEGATE: a.ratio.number = -a.ratio.number; return a;
    case VD_OP_NOT: a.ratio.number = a.ratio.number == 0; return a;
    case VD_OP_WHOLE:
        a.ratio = (vd_ratio){a.ratio.number / a.ratio.below - (a.ratio.number % a.ratio.below < 0), 1};
        return a;
    default: return (vd_result){.known = a.known, .none = a.none, .ratio = {a.length, 1}};
    }
}

static vd_result of_two(uint8_t op, const vd_result *a, const vd_result *b)
{
    switch ((vd_op)op) {
    case VD_OP_AND:
    case VD_OP_OR: return join(op == VD_OP_AND, a, b);
    case VD_OP_HAS: return a->known ? truth((a->ratio.number >> (b->ratio.number & 63) & 1) != 0) : *a;
    case VD_OP_STARTS: return starts(a, b);
    case VD_OP_EQUAL:
    case VD_OP_UNEQUAL:
    case VD_OP_BELOW:
    case VD_OP_AT_MOST:
    case VD_OP_ABOVE:
    case VD_OP_AT_LEAST: return compare(op, a, b);
    default: return calculate(op, a, b);
    }
}

static void step(machine *m, const vd_instruction *s, uint16_t item)
{
    vd_result a, b, c;
    switch ((vd_op)s->op) {
    case VD_OP_CONSTANT:
    case VD_OP_TEXT:
    case VD_OP_LOAD:
    case VD_OP_ABSENT:
    case VD_OP_IDLE:
    case VD_OP_ITEM:
    case VD_OP_DISTINCT:
    case VD_OP_ASCENDING:
    case VD_OP_CHANGED:
    case VD_OP_FACTORY:
    case VD_OP_VARIANT:
    case VD_OP_FIRMWARE:
    case VD_OP_NOW: push(m, fetch(m, s, item)); break;
    case VD_OP_NEGATE:
    case VD_OP_NOT:
    case VD_OP_WHOLE:
    case VD_OP_LENGTH: push(m, of_one(s->op, pop(m))); break;
    case VD_OP_SAME_NETWORK:
    case VD_OP_USABLE_HOST:
        c = pop(m), b = pop(m), a = pop(m);
        push(m, s->op == VD_OP_SAME_NETWORK ? same_network(&a, &b, &c) : usable_host(&a, &b, &c));
        break;
    default:
        b = pop(m), a = pop(m);
        push(m, of_two(s->op, &a, &b));
        break;
    }
}

vd_result vd_run(const vd_set *set, const vd_set *before, const vd_code *code, uint16_t item)
{
    machine m = {.set = set, .before = before};
    const vd_instruction *steps = set->model->book->steps + code->first;
    for (uint32_t i = 0; i < code->count; i++) {
        step(&m, &steps[i], item);
    }
    return m.top == 1 ? m.stack[0] : unknown();
}

uint16_t vd_step_setting(const vd_instruction *step, uint16_t item)
{
    bool about = step->op >= VD_OP_LOAD && step->op <= VD_OP_IDLE;
    return about ? (uint16_t)(step->a + (uint32_t)item * step->b) : VD_NONE;
}

/* ---- Which settings are named ---- */

static vd_naming names_from(const vd_book *book, uint32_t first, uint32_t count)
{
    return (vd_naming){.step = book->steps + first, .end = book->steps + first + count};
}

vd_naming vd_names_in(const vd_book *book, const vd_code *code)
{
    return names_from(book, code->first, code->count);
}

vd_naming vd_names_in_rule(const vd_book *book, uint16_t rule)
{
    const vd_rule_code *code = &book->rules[rule];
    return names_from(book, code->must.first, code->must.count + code->when.count);
}

vd_spot vd_names_next(vd_naming *naming)
{
    for (; naming->step < naming->end; naming->step++) {
        const vd_instruction *step = naming->step;
        bool all = step->op == VD_OP_DISTINCT || step->op == VD_OP_ASCENDING;
        if (all && naming->within < step->a) {
            return vd_spot_of((uint16_t)(step->b + naming->within++ * (uint32_t)step->number), 0);
        }
        naming->within = 0;
        if (vd_step_setting(step, 0) != VD_NONE) {
            naming->step++;
            return vd_spot_of((uint16_t)step->a, step->b);
        }
    }
    return vd_spot_of(VD_NONE, 0);
}

vd_ruling vd_ruling_of(const vd_result *result, vd_ruling none)
{
    return result->none ? none : !result->known ? VD_NOT_KNOWN : result->ratio.number != 0 ? VD_HOLDS : VD_FAILS;
}
