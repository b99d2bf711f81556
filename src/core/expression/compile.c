/* SPDX-License-Identifier: MIT
 * Reading expressions, from the inside out: values, products, sums, comparisons, conditions; every unit of measure is
 * checked on the way. */
#include "parts.h"

#include <string.h>

/* ---- From the inside out: values, products, sums, comparisons, conditions ---- */

static vd_kind name(vd_compiler *c)
{
    size_t from = c->at, length = vd_expr_word_length(c, from);
    c->at += length;
    size_t after = c->at;
    vd_expr_skip_blanks(c);
    if (c->at < c->length && c->text[c->at] == '(') {
        vd_kind kind;
        if (vd_expr_function(c, from, length, &kind)) {
            return kind;
        }
        return vd_expr_fail_at(c, from, from + length, "there is no such function");
    }
    c->at = after;
    if (vd_expr_word_is(c, from, length, "on") || vd_expr_word_is(c, from, length, "off")) {
        vd_expr_emit(c, VD_OP_CONSTANT, length == 2, 1, 0, 1);
        return vd_expr_plain(VD_IS_TRUTH);
    }
    if (vd_expr_word_is(c, from, length, "now")) {
        vd_expr_emit(c, VD_OP_NOW, 0, 0, 0, 1);
        return vd_expr_plain(VD_IS_DATE);
    }
    if (vd_expr_word_is(c, from, length, "variant") || vd_expr_word_is(c, from, length, "firmware")) {
        bool variant = c->text[from] == 'v';
        vd_expr_emit(c, variant ? VD_OP_VARIANT : VD_OP_FIRMWARE, 0, 0, 0, 1);
        return vd_expr_plain(variant ? VD_IS_VARIANT : VD_IS_VERSION);
    }
    if (vd_expr_word_is(c, from, length, "item") || vd_expr_word_is(c, from, length, "outer")) {
        return vd_expr_item(c, from, length);
    }
    return vd_expr_is_version(c, from, length) ? vd_expr_version(c, from, length)
                                               : vd_expr_load(c, VD_OP_LOAD, from, length);
}

static vd_kind primary(vd_compiler *c)
{
    vd_expr_skip_blanks(c);
    char ch = vd_expr_char_at(c, c->at);
    if (c->depth++ > MOST_DEPTH) {
        return vd_expr_fail_at(c, c->at, c->length, "there are too many brackets in brackets");
    }
    vd_kind kind;
    if (ch == '(') {
        c->at++;
        kind = vd_expr_expression(c);
        if (!c->failed) {
            vd_expr_expect(c, ")");
        }
    } else if (ch == '-') {
        c->at++;
        kind = primary(c);
        vd_expr_emit(c, VD_OP_NEGATE, 0, 0, 0, 0);
        kind = vd_expr_is_number(&kind) || c->failed
                   ? kind
                   : vd_expr_fail_at(c, c->at, c->at, "only a number can be negative");
        kind.spot = vd_spot_of(VD_NONE, 0);
    } else if (vd_is_digit(ch)) {
        kind = vd_expr_number(c);
    } else if (ch == '"' || ch == '\'') {
        kind = vd_expr_text(c);
    } else if (vd_is_letter(ch)) {
        kind = name(c);
    } else {
        kind = vd_expr_fail_at(c, c->at, c->at < c->length ? c->at + 1 : c->at,
                               ch == '!' ? "the word for it is not" : "a value belongs here");
    }
    c->depth--;
    return kind;
}

static bool is_zero(const vd_compiler *c)
{
    const vd_instruction *last = &c->draft->steps[c->draft->step_count - 1];
    return last->op == VD_OP_CONSTANT && last->number == 0;
}

static vd_kind product(vd_compiler *c)
{
    size_t from = c->at;
    vd_kind kind = primary(c);
    for (;;) {
        bool times = vd_expr_take(c, "*"), by = !times && vd_expr_take(c, "/");
        if (c->failed || (!times && !by)) {
            return kind;
        }
        uint32_t before = c->draft->step_count;
        vd_kind next = primary(c);
        if (!c->failed && by && c->draft->step_count == before + 1 && is_zero(c)) {
            return vd_expr_fail_at(c, from, c->at, "nothing can be divided by 0");
        }
        vd_expr_emit(c, times ? VD_OP_MULTIPLY : VD_OP_DIVIDE, 0, 0, 0, -1);
        if (c->failed) {
            return kind;
        }
        if (!vd_expr_is_number(&kind) || !vd_expr_is_number(&next)) {
            return vd_expr_fail_at(c, from, c->at, "only numbers can be multiplied and divided");
        }
        bool first_none = vd_dimension_none(&kind.dimension), next_none = vd_dimension_none(&next.dimension);
        bool alike = vd_dimension_equal(&kind.dimension, &next.dimension);
        if ((kind.dimension.own != NULL || next.dimension.own != NULL) && !next_none && !(times && first_none) &&
            !(by && alike)) {
            return vd_expr_fail_mixed(c, from, &kind, &next);
        }
        for (size_t i = 0; i < VD_BASES; i++) {
            int power = kind.dimension.power[i] + (times ? 1 : -1) * next.dimension.power[i];
            kind.dimension.power[i] = (int8_t)(power < -100 || power > 100 ? 0 : power);
        }
        kind.dimension.own = by && alike ? NULL : kind.dimension.own != NULL ? kind.dimension.own : next.dimension.own;
        /* Shown in the unit of the part that has one, where the other has none. */
        kind.sign = next_none ? kind.sign : first_none && times ? next.sign : NULL;
        kind.spot = vd_spot_of(VD_NONE, 0);
    }
}

/* Dates and times of day: their difference is a duration, and a duration can be added to them. */
static bool sum_of_times(const vd_compiler *c, vd_kind *kind, const vd_kind *next, bool minus)
{
    bool clock = kind->is == VD_IS_DATE || kind->is == VD_IS_CLOCK;
    vd_measure second = vd_measure_find(c->model, "s");
    if (clock && vd_expr_is_number(next) && vd_dimension_equal(&next->dimension, &second.dimension)) {
        return true;
    }
    if (clock && minus && next->is == kind->is) {
        *kind = vd_expr_plain(VD_IS_NUMBER);
        kind->dimension = second.dimension;
        return true;
    }
    return false;
}

static vd_kind sum(vd_compiler *c)
{
    size_t from = c->at;
    vd_kind kind = product(c);
    for (;;) {
        bool plus = vd_expr_take(c, "+"), minus = !plus && vd_expr_take(c, "-");
        if (c->failed || (!plus && !minus)) {
            return kind;
        }
        vd_kind next = product(c);
        vd_expr_emit(c, plus ? VD_OP_ADD : VD_OP_SUBTRACT, 0, 0, 0, -1);
        bool numbers = vd_expr_is_number(&kind) && vd_expr_is_number(&next) &&
                       vd_dimension_equal(&kind.dimension, &next.dimension);
        kind.spot = vd_spot_of(VD_NONE, 0);
        if (!c->failed && !numbers && !sum_of_times(c, &kind, &next, minus)) {
            return vd_expr_fail_mixed(c, from, &kind, &next);
        }
    }
}

/* Names of a variant or of a choice of the setting on the left; true when it was one, and its number is emitted. */
static bool take_choice(vd_compiler *c, const vd_kind *left)
{
    vd_expr_skip_blanks(c);
    size_t from = c->at, length = 0;
    /* Choices may be named by digits too, such as 9600, or begin with one, such as 50-hz. */
    while (from + length < c->length && (vd_is_letter(c->text[from + length]) || vd_is_digit(c->text[from + length]) ||
                                         c->text[from + length] == '-' || c->text[from + length] == '_')) {
        length++;
    }
    vd_span word = {c->text + from, length};
    bool quoted = length == 0 && from < c->length && c->text[from] == '"';
    if (quoted) {
        while (from + 1 + length < c->length && c->text[from + 1 + length] != '"') {
            length++;
        }
        word = (vd_span){c->text + from + 1, length};
        length += 2;
    }
    int64_t found = -1;
    if (left->is == VD_IS_VARIANT) {
        for (uint16_t i = 0; i < c->model->variant_count; i++) {
            found = vd_same_word(word, c->model->variants[i].key) ? i : found;
        }
    } else {
        const vd_setting *setting = &c->model->settings[vd_index(left->spot.setting)];
        for (uint16_t i = 0; i < setting->choice_count; i++) {
            if (vd_same_word(word, setting->choices[i].name)) {
                vd_expr_emit(c, VD_OP_CONSTANT, setting->choices[i].number, 1, 0, 1);
                c->at = from + length;
                return true;
            }
        }
    }
    if (found >= 0) {
        vd_expr_emit(c, VD_OP_CONSTANT, found, 1, 0, 1);
        c->at = from + length;
    }
    return found >= 0;
}

static bool chooses(const vd_kind *kind)
{
    return kind->is == VD_IS_VARIANT || kind->is == VD_IS_CHOICE;
}

/* Nothing is nothing in every unit of measure that a choice may bring. */
static bool hangs_on_choice(const vd_compiler *c, const vd_kind *kind)
{
    return vd_index(kind->spot.setting) != VD_NONE && c->model->settings[vd_index(kind->spot.setting)].like_count > 0;
}

/* A name that is none of those that the left side may be; they are told. */
static void fail_choice(vd_compiler *c, const vd_kind *left, size_t from, size_t to)
{
    char why[VD_ALLOWED_SIZE];
    vd_writer writer = vd_writer_start(why, sizeof why);
    bool variant = left->is == VD_IS_VARIANT;
    uint16_t count = variant ? c->model->variant_count : c->model->settings[vd_index(left->spot.setting)].choice_count;
    vd_writer_add(&writer, variant ? "this is not a variant: " : "this is not a choice: ");
    for (uint16_t i = 0; i < count; i++) {
        vd_writer_add(&writer, i > 0 ? ", " : "");
        vd_writer_add(&writer, variant ? c->model->variants[i].key
                                       : c->model->settings[vd_index(left->spot.setting)].choices[i].name);
    }
    vd_expr_fail_at(c, from, to, why);
}

/* What stands right of a comparison. */
static void right_side(vd_compiler *c, const vd_kind *left, bool ordered, size_t from)
{
    if (left->is == VD_IS_FLAGS) {
        vd_expr_fail_at(c, from, c->at, "flags are asked one by one, with has");
        return;
    }
    if (chooses(left) && take_choice(c, left)) {
        if (ordered) {
            vd_expr_fail_at(c, from, c->at, "names can only be equal or unequal");
        }
        return;
    }
    vd_expr_skip_blanks(c);
    size_t right_from = c->at, word = vd_expr_word_length(c, c->at);
    if (chooses(left) && word > 0 && vd_expr_char_at(c, c->at + word) != '(' &&
        !vd_expr_names_setting(c, c->at, word)) {
        fail_choice(c, left, right_from, right_from + word);
        return;
    }
    bool quoted = vd_expr_char_at(c, c->at) == '"' || vd_expr_char_at(c, c->at) == '\'';
    bool typed =
        quoted && vd_index(left->spot.setting) != VD_NONE &&
        (left->is == VD_IS_ADDRESS || left->is == VD_IS_OTHER || left->is == VD_IS_DATE || left->is == VD_IS_CLOCK);
    vd_kind right = *left;
    if (typed) {
        vd_expr_value_of(c, vd_index(left->spot.setting));
    } else {
        right = sum(c);
    }
    if (c->failed) {
        return;
    }
    if (left->is == VD_IS_CHOICE && right.is == VD_IS_CHOICE) {
        const vd_setting *a = &c->model->settings[vd_index(left->spot.setting)],
                         *b = &c->model->settings[vd_index(right.spot.setting)];
        if (a->choices != b->choices) {
            vd_expr_fail_at(c, from, c->at, "these two have different choices");
        }
    } else if (left->is != right.is) {
        vd_expr_fail_at(c, right_from, c->at, "this cannot be compared with the left side");
    } else if (vd_expr_is_number(left) && !vd_dimension_equal(&left->dimension, &right.dimension) &&
               !(hangs_on_choice(c, left) && is_zero(c))) {
        vd_expr_fail_mixed(c, from, left, &right);
    }
    if (ordered &&
        (left->is == VD_IS_TEXT || left->is == VD_IS_OTHER || left->is == VD_IS_TRUTH || left->is == VD_IS_CHOICE)) {
        vd_expr_fail_at(c, from, c->at, "these can only be equal or unequal");
    }
}

static vd_kind member_of(vd_compiler *c, const vd_kind *left, uint32_t left_first, size_t from)
{
    uint32_t left_count = c->draft->step_count - left_first;
    bool first = true;
    vd_expr_expect(c, "(");
    while (!c->failed) {
        if (!first) { /* the left side once more, for the next comparison */
            for (uint32_t i = 0; i < left_count && !c->failed; i++) {
                const vd_instruction again = c->draft->steps[left_first + i];
                vd_expr_emit(c, (vd_op)again.op, again.number, again.a, again.b, 0);
            }
            c->stack++;
        }
        right_side(c, left, false, from);
        vd_expr_emit(c, VD_OP_EQUAL, 0, 0, 0, -1);
        if (!first) {
            vd_expr_emit(c, VD_OP_OR, 0, 0, 0, -1);
        }
        first = false;
        if (!vd_expr_take(c, ",")) {
            vd_expr_expect(c, ")");
            break;
        }
    }
    return vd_expr_plain(VD_IS_TRUTH);
}

static vd_kind comparison(vd_compiler *c)
{
    static const struct {
        const char *sign;
        vd_op op;
        bool ordered;
    } signs[] = {{"!=", VD_OP_UNEQUAL, false}, {"<=", VD_OP_AT_MOST, true}, {">=", VD_OP_AT_LEAST, true},
                 {"=", VD_OP_EQUAL, false},    {"<", VD_OP_BELOW, true},    {">", VD_OP_ABOVE, true}};
    vd_expr_skip_blanks(c);
    size_t from = c->at;
    uint32_t left_first = c->draft->step_count;
    vd_kind left = sum(c);
    for (size_t i = 0; i < sizeof signs / sizeof signs[0] && !c->failed; i++) {
        if (vd_expr_take(c, signs[i].sign)) {
            if (vd_expr_char_at(c, c->at) == '=') {
                return vd_expr_fail_at(c, c->at - 1, c->at + 1, "one = is enough");
            }
            if (signs[i].op == VD_OP_BELOW && vd_expr_char_at(c, c->at) == '>') {
                return vd_expr_fail_at(c, c->at - 1, c->at + 1, "the sign for it is !=");
            }
            right_side(c, &left, signs[i].ordered, from);
            vd_expr_emit(c, signs[i].op, 0, 0, 0, -1);
            return vd_expr_plain(VD_IS_TRUTH);
        }
    }
    if (!c->failed && vd_expr_take(c, "has")) {
        if (left.is != VD_IS_FLAGS) {
            return vd_expr_fail_at(c, from, c->at, "only flags can have something");
        }
        if (!take_choice(c, &left)) {
            size_t word = vd_expr_word_length(c, c->at);
            fail_choice(c, &left, c->at, word > 0 ? c->at + word : c->length);
            return vd_expr_plain(VD_IS_TRUTH);
        }
        vd_expr_emit(c, VD_OP_HAS, 0, 0, 0, -1);
        return vd_expr_plain(VD_IS_TRUTH);
    }
    return !c->failed && vd_expr_take(c, "in") ? member_of(c, &left, left_first, from) : left;
}

static vd_kind need_truth(vd_compiler *c, vd_kind kind, size_t from)
{
    return kind.is == VD_IS_TRUTH || c->failed ? kind : vd_expr_fail_at(c, from, c->at, "a condition belongs here");
}

static vd_kind condition(vd_compiler *c)
{
    if (!vd_expr_take(c, "not")) {
        return comparison(c);
    }
    size_t from = c->at;
    if (c->depth++ > MOST_DEPTH) {
        return vd_expr_fail_at(c, from, c->length, "there are too many \"not\" behind one another");
    }
    need_truth(c, condition(c), from);
    c->depth--;
    vd_expr_emit(c, VD_OP_NOT, 0, 0, 0, 0);
    return vd_expr_plain(VD_IS_TRUTH);
}

static vd_kind chain(vd_compiler *c, const char *word, vd_op op, vd_kind (*part)(vd_compiler *))
{
    size_t from = c->at;
    vd_kind kind = part(c);
    while (!c->failed && vd_expr_take(c, word)) {
        need_truth(c, kind, from);
        from = c->at;
        kind = need_truth(c, part(c), from);
        vd_expr_emit(c, op, 0, 0, 0, -1);
    }
    return kind;
}

static vd_kind conjunction(vd_compiler *c)
{
    return chain(c, "and", VD_OP_AND, condition);
}

vd_kind vd_expr_expression(vd_compiler *c)
{
    return chain(c, "or", VD_OP_OR, conjunction);
}

/* Something is left over: most often a sign of another language. */
static void fail_rest(vd_compiler *c)
{
    static const struct {
        const char *sign, *why;
    } signs[] = {{"&&", "the word for it is and"}, {"||", "the word for it is or"}};
    const char *why = "nothing more belongs here";
    for (size_t i = 0; i < sizeof signs / sizeof signs[0]; i++) {
        size_t length = strlen(signs[i].sign);
        bool there = c->length - c->at >= length && memcmp(c->text + c->at, signs[i].sign, length) == 0;
        why = there ? signs[i].why : why;
    }
    vd_expr_fail_at(c, c->at, c->length, why);
}

bool vd_compile(const vd_model *model, vd_draft *draft, const char *source, size_t length, uint16_t block,
                vd_term *term, vd_fault *fault)
{
    vd_compiler c = {.model = model,
                     .draft = draft,
                     .text = source,
                     .length = length,
                     .block = block,
                     .fold_block = VD_NONE,
                     .fold_item = VD_NONE,
                     .first = draft->step_count,
                     .fault = fault};
    term->kind = vd_expr_expression(&c);
    vd_expr_skip_blanks(&c);
    if (!c.failed && c.at < c.length) {
        fail_rest(&c);
    }
    term->code = (vd_code){c.first, draft->step_count - c.first};
    return !c.failed;
}
