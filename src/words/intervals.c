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

/* Whether it did on the days that were played, in either run. */
static bool comes(const vd_played *played, uint16_t item, uint16_t k)
{
    return vd_course_case(played->courses[0], item, k).expired > 0 ||
           vd_course_case(played->courses[1], item, k).expired > 0;
}

/* A case that may, but did not on these days. */
static void say_not_now(const vd_set *set, const vd_played *played, uint16_t item, uint16_t k, vd_writer *writer)
{
    const vd_counter *counter = played->plan->items[item].counter;
    vd_ref value = counter->cases[k].value;
    vd_case_sum one = vd_course_case(played->courses[0], item, k), other = vd_course_case(played->courses[1], item, k);
    if (one.held == 0 && other.held == 0) {
        vd_writer_add(writer, " never rules on these days.");
        return;
    }
    int64_t longest = (int64_t)(one.longest > other.longest ? one.longest : other.longest);
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

bool vd_interval_say_why_not(const vd_set *set, const vd_played *played, const uint8_t *may, uint16_t item, uint16_t k,
                             vd_writer *writer)
{
    const vd_item *about = &played->plan->items[item];
    vd_never never = vd_case_never(played->plan, may, item, k);
    const char *label = about->counter->cases[k].label;
    if (never.why == VD_NEVER_NOT && comes(played, item, k)) {
        return false;
    }
    quote(writer, label[0] != '\0' ? label : vd_item_called(about));
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
