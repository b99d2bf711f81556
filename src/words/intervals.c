/* SPDX-License-Identifier: MIT
 * Intervals in words: amounts, and why a case never comes. */
#include "verdite/interval_words.h"
#include "../core/expression/expression.h"

const char *vd_item_called(const vd_item *item)
{
    return item->label[0] != '\0' ? item->label : item->key;
}

static const char *text_of(const vd_set *set, vd_ref formula)
{
    return set->model->formulas[set->model->intervals->formula + vd_index(formula)].text;
}

void vd_interval_say_amount(const vd_set *set, vd_ref formula, vd_writer *writer)
{
    if (vd_index(formula) == VD_NONE) {
        return;
    }
    const vd_term *term = &set->model->book->formulas[set->model->intervals->formula + vd_index(formula)];
    bool literal = term->code.count == 1 && vd_index(term->kind.spot.setting) == VD_NONE;
    if (literal) {
        vd_writer_add(writer, text_of(set, formula));
    } else {
        vd_term_show(set, NULL, term, 0, writer);
    }
}

static void quote(vd_writer *writer, const char *name)
{
    vd_writer_add(writer, "\"");
    vd_writer_add(writer, name);
    vd_writer_add(writer, "\"");
}

void vd_interval_say_fact(const vd_set *set, const vd_item *items, uint16_t fact, vd_writer *writer)
{
    const vd_item *item = &items[fact];
    const char *called = item->label[0] != '\0' ? item->label : item->kind == VD_ITEM_FIXED ? "" : item->key;
    if (called[0] != '\0') {
        quote(writer, called);
        return;
    }
    switch (item->kind) {
    case VD_ITEM_FIXED: vd_writer_add(writer, text_of(set, item->amount)); break;
    case VD_ITEM_NOT:
        vd_writer_add(writer, "not ");
        vd_interval_say_fact(set, items, item->of[0], writer);
        break;
    case VD_ITEM_LASTED:
    case VD_ITEM_WITHIN:
        vd_interval_say_amount(set, item->amount, writer);
        vd_writer_add(writer, item->kind == VD_ITEM_LASTED ? " of " : " behind ");
        vd_interval_say_fact(set, items, item->of[0], writer);
        break;
    case VD_ITEM_GIVEN: vd_writer_add(writer, set->model->intervals->given[item->input]); break;
    default: vd_writer_add(writer, "several things"); break;
    }
}

/* What a fact that cannot be true wants, down to what depends on the unit alone. */
static void say_want(const vd_set *set, const vd_played *played, const uint8_t *may, uint16_t fact, vd_writer *writer)
{
    const vd_item *items = played->plan->items;
    const vd_item *blamed = &items[vd_fact_blamed(played->plan, may, fact)];
    const vd_item *of = blamed->kind == VD_ITEM_NOT ? &items[blamed->of[0]] : blamed;
    if (of->kind == VD_ITEM_FIXED) {
        vd_writer_add(writer, of != blamed ? "it needs not (" : "it needs ");
        vd_writer_add(writer, text_of(set, of->amount));
        vd_writer_add(writer, of != blamed ? ")" : "");
    } else if (of->kind == VD_ITEM_GIVEN && vd_item_called(of)[0] != '\0') {
        quote(writer, vd_item_called(of));
        vd_writer_add(writer, " is not wired");
    } else if (vd_item_called(blamed)[0] != '\0') {
        quote(writer, vd_item_called(blamed));
        vd_writer_add(writer, " is never true");
    } else {
        vd_writer_add(writer, "its condition is never true");
    }
}

/* A case that may, but did not on these days. */
static void say_not_now(const vd_set *set, const vd_played *played, uint16_t item, uint16_t k, vd_writer *writer)
{
    const vd_counter *counter = played->plan->items[item].counter;
    vd_ref value = counter->cases[k].value;
    vd_case_sum most = vd_played_case_most(played, item, k);
    if (most.held == 0) {
        vd_writer_add(writer, " never rules on these days.");
        return;
    }
    int64_t longest = (int64_t)most.longest;
    const vd_ratio needed = played->plan->amounts[vd_index(value)].ratio;
    if (counter->adds == VD_ADDS_SECONDS && needed.number / needed.below >= longest) {
        vd_writer_add(writer, " rules for ");
        vd_print_duration(longest * 1000, writer);
        vd_writer_add(writer, " at most, never as long as its ");
        vd_interval_say_amount(set, value, writer);
        vd_writer_add(writer, ".");
        return;
    }
    vd_writer_add(writer, " (");
    vd_interval_say_amount(set, value, writer);
    vd_writer_add(writer, ") never comes to its end on these days.");
}

/* It rules just as long as its value: whether it comes then is decided by which of two things in one second a unit sees
 * first. */
static bool is_on_the_edge(const vd_played *played, uint16_t item, uint16_t k)
{
    const vd_counter *counter = played->plan->items[item].counter;
    vd_amount needed = played->plan->amounts[vd_index(counter->cases[k].value)];
    return counter->adds == VD_ADDS_SECONDS && counter->series_count == 0 && needed.state == VD_AMOUNT_KNOWN &&
           needed.ratio.number > 0 &&
           vd_ratio_compare(needed.ratio, (vd_ratio){(int64_t)vd_played_case_most(played, item, k).longest, 1}) == 0;
}

bool vd_interval_say_why_not(const vd_set *set, const vd_played *played, const uint8_t *may, uint16_t item, uint16_t k,
                             vd_writer *writer)
{
    const vd_item *about = &played->plan->items[item];
    vd_never never = vd_case_never(played->plan, may, item, k);
    const char *label = about->counter->cases[k].label;
    bool edge = never.why == VD_NEVER_NOT && vd_index(about->counter->cases[k].value) != VD_NONE &&
                is_on_the_edge(played, item, k);
    if (never.why == VD_NEVER_NOT && !edge && vd_played_case_most(played, item, k).expired > 0) {
        return false;
    }
    quote(writer, label[0] != '\0' ? label : vd_item_called(about));
    if (edge) {
        vd_writer_add(writer, " rules just as long as its ");
        vd_interval_say_amount(set, about->counter->cases[k].value, writer);
        vd_writer_add(writer, ": a unit that looks a second later never gets there.");
        return true;
    }
    switch (never.why) {
    case VD_NEVER_NONE: vd_writer_add(writer, " is unused."); break;
    case VD_NEVER_ZERO: vd_writer_add(writer, " is 0: it is off."); break;
    case VD_NEVER_WHILE:
    case VD_NEVER_GATE:
        vd_writer_add(writer, " can never rule: ");
        say_want(set, played, may, never.culprit, writer);
        vd_writer_add(writer, ".");
        break;
    case VD_NEVER_ABOVE:
        vd_writer_add(writer, " can never rule: ");
        quote(writer, about->counter->cases[never.culprit].label);
        vd_writer_add(writer, " always does.");
        break;
    default: say_not_now(set, played, item, k, writer); break;
    }
    return true;
}

static bool is_longer(const vd_course_plan *plan, vd_ref a, vd_ref than)
{
    vd_ratio one = plan->amounts[vd_index(a)].ratio, other = plan->amounts[vd_index(than)].ratio;
    return vd_ratio_compare(one, other) > 0;
}

bool vd_interval_say_now(const vd_set *set, const vd_course_plan *plan, const uint8_t *may, uint16_t item,
                         vd_writer *writer)
{
    const vd_case *cases = plan->items[item].counter->cases;
    bool surely = false;
    uint16_t k = vd_case_now(plan, may, item, 0, &surely), longest = k;
    if (plan->items[item].counter->case_count < 2) {
        return false;
    }
    vd_writer_add(writer, k == VD_NONE ? "No case rules now." : surely ? "Now " : "Now one of these: ");
    bool alone = surely;
    while (k != VD_NONE) {
        quote(writer, cases[k].label);
        vd_writer_add(writer, alone ? " rules, every " : " every ");
        vd_interval_say_amount(set, cases[k].value, writer);
        longest = is_longer(plan, cases[k].value, cases[longest].value) ? k : longest;
        k = surely ? (uint16_t)VD_NONE : vd_case_now(plan, may, item, (uint16_t)(k + 1u), &surely);
        vd_writer_add(writer, k != VD_NONE ? ", " : "");
    }
    if (longest != VD_NONE && !alone) {
        vd_writer_add(writer, ". At the longest every ");
        vd_interval_say_amount(set, cases[longest].value, writer);
    }
    vd_writer_add(writer, longest != VD_NONE ? "." : "");
    return true;
}

static void comma(vd_writer *writer, size_t from)
{
    vd_writer_add(writer, writer->length > from ? ", " : "");
}

void vd_stretch_say(const vd_model *model, const vd_stretch *stretch, vd_writer *writer)
{
    const vd_intervals *of = model->intervals;
    size_t from = writer->length;
    for (uint16_t k = 0; k < of->given_count; k++) {
        bool unknown = stretch->unknown != NULL && stretch->unknown[k];
        if (unknown || stretch->given[k]) {
            comma(writer, from);
            vd_writer_add(writer, unknown ? "perhaps " : "");
            vd_writer_add(writer, of->given[k]);
        }
    }
    if (stretch->speed.number > 0) {
        comma(writer, from);
        vd_intervals_say(model, VD_GIVES_SPEED, VD_NONE, stretch->speed, writer);
    }
    if (stretch->turns > 0) {
        comma(writer, from);
        vd_writer_add_number(writer, stretch->turns);
        vd_writer_add(writer, stretch->turns == 1 ? " turn of " : " turns of ");
        vd_intervals_say(model, VD_GIVES_ANGLE, VD_NONE, stretch->angle, writer);
    }
    for (uint16_t k = 0; k < of->quantity_count; k++) {
        comma(writer, from);
        vd_writer_add(writer, of->quantities[k]);
        vd_writer_add(writer, " ");
        vd_intervals_say(model, VD_GIVES_NUMBER, k, stretch->quantities[k], writer);
    }
    for (uint16_t k = 0; stretch->happens != NULL && k < of->happening_count; k++) {
        if (stretch->happens[k] > 0) {
            comma(writer, from);
            vd_writer_add_number(writer, stretch->happens[k]);
            vd_writer_add(writer, " times ");
            vd_writer_add(writer, of->happenings[k]);
        }
    }
    vd_writer_add(writer, writer->length == from ? "nothing" : "");
}
