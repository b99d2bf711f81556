/* SPDX-License-Identifier: MIT
 * Reading expressions: functions, those over all items of a block among them. */
#include "parts.h"

#include <string.h>

/* ---- Functions ---- */

/* sum, count, any, all: the same text once for each item of the block that its stars are about. */
static vd_kind fold(vd_compiler *c, vd_op joint, bool truths, bool counts)
{
    size_t from = c->at, end = c->at;
    vd_kind kind = vd_expr_plain(VD_IS_NUMBER);
    uint16_t outer_block = c->fold_block, items = 1;
    if (c->fold_item != VD_NONE) {
        return vd_expr_fail_at(c, from, c->length, "one repetition cannot stand inside another");
    }
    c->fold_block = VD_NONE;
    for (uint16_t i = 0; i < items && !c->failed; i++) {
        c->at = from;
        c->fold_item = i;
        vd_kind inner = vd_expr_expression(c);
        if (c->failed) {
            break;
        }
        if (inner.is != (truths || counts ? VD_IS_TRUTH : VD_IS_NUMBER)) {
            vd_expr_fail_at(c, from, c->at, truths || counts ? "a condition belongs here" : "a number belongs here");
            break;
        }
        if (c->fold_block == VD_NONE) {
            vd_expr_fail_at(c, from, c->at, "this is not a repeated setting such as alarm.*.limit");
            break;
        }
        kind = inner;
        items = c->model->blocks[c->fold_block].count;
        if (i > 0) {
            vd_expr_emit(c, joint, 0, 0, 0, -1);
        }
        end = c->at;
    }
    c->fold_item = VD_NONE;
    c->fold_block = outer_block;
    c->at = c->failed ? c->length : end;
    kind.spot = vd_spot_of(VD_NONE, 0);
    return counts ? vd_expr_plain(VD_IS_NUMBER) : kind;
}

static bool has_text(vd_compiler *c, const vd_kind *kind, size_t from)
{
    if (kind->is != VD_IS_TEXT && !c->failed) {
        vd_expr_fail_at(c, from, c->at, "a text belongs here");
    }
    return !c->failed;
}

static vd_kind extreme(vd_compiler *c, vd_op op)
{
    size_t from = c->at;
    vd_kind kind = vd_expr_expression(c);
    if (!c->failed && !vd_expr_is_number(&kind)) {
        return vd_expr_fail_at(c, from, c->at, "a number belongs here");
    }
    while (!c->failed && vd_expr_take(c, ",")) {
        vd_kind next = vd_expr_expression(c);
        vd_expr_emit(c, op, 0, 0, 0, -1);
        bool alike = vd_expr_is_number(&next) && vd_dimension_equal(&kind.dimension, &next.dimension);
        if (!c->failed && !alike) {
            vd_expr_fail_mixed(c, from, &kind, &next);
        }
    }
    kind.spot = vd_spot_of(VD_NONE, 0);
    return kind;
}

/* The name of a setting, or of one in all items of a block. */
static vd_kind about_named(vd_compiler *c, vd_op op, vd_kind (*about)(vd_compiler *, vd_op, size_t, size_t))
{
    vd_expr_skip_blanks(c);
    size_t from = c->at, length = vd_expr_word_length(c, from);
    if (length == 0) {
        return vd_expr_fail_at(c, from, from + 1 < c->length ? from + 1 : c->length,
                               "the name of a setting belongs here");
    }
    c->at += length;
    return about(c, op, from, length);
}

static vd_kind about_setting(vd_compiler *c, vd_op op)
{
    return about_named(c, op, vd_expr_load);
}

/* What is asked of an address, a gateway and a mask. */
static vd_kind of_network(vd_compiler *c, vd_op op, const char *why)
{
    size_t from = c->at;
    for (int i = 0; i < 3; i++) {
        vd_kind kind = i == 0 || vd_expr_expect(c, ",") ? vd_expr_expression(c) : vd_expr_plain(VD_IS_OTHER);
        if (!c->failed && kind.is != VD_IS_ADDRESS) {
            vd_expr_fail_at(c, from, c->at, why);
        }
    }
    vd_expr_emit(c, op, 0, 0, 0, -2);
    return vd_expr_plain(VD_IS_TRUTH);
}
static vd_kind f_same_network(vd_compiler *c)
{
    return of_network(c, VD_OP_SAME_NETWORK, "same-network takes two addresses and a mask");
}
static vd_kind f_usable_host(vd_compiler *c)
{
    return of_network(c, VD_OP_USABLE_HOST, "usable-host takes an address, its gateway and its mask");
}

static vd_kind length_of(vd_compiler *c)
{
    size_t from = c->at;
    vd_kind kind = vd_expr_expression(c);
    if (has_text(c, &kind, from)) {
        vd_expr_emit(c, VD_OP_LENGTH, 0, 0, 0, 0);
    }
    return vd_expr_plain(VD_IS_NUMBER);
}

static vd_kind whole_of(vd_compiler *c)
{
    size_t from = c->at;
    vd_kind kind = vd_expr_expression(c);
    if (!c->failed && !(vd_expr_is_number(&kind) && vd_dimension_none(&kind.dimension))) {
        return vd_expr_fail_at(c, from, c->at, "a number without a unit belongs here");
    }
    vd_expr_emit(c, VD_OP_WHOLE, 0, 0, 0, 0);
    return vd_expr_plain(VD_IS_NUMBER);
}

static vd_kind starts_with(vd_compiler *c)
{
    size_t from = c->at;
    vd_kind kind = vd_expr_expression(c);
    if (has_text(c, &kind, from) && vd_expr_expect(c, ",")) {
        from = c->at;
        vd_kind start = vd_expr_expression(c);
        if (has_text(c, &start, from)) {
            vd_expr_emit(c, VD_OP_STARTS, 0, 0, 0, -1);
        }
    }
    return vd_expr_plain(VD_IS_TRUTH);
}

static vd_kind f_sum(vd_compiler *c)
{
    return fold(c, VD_OP_ADD, false, false);
}
static vd_kind f_count(vd_compiler *c)
{
    return fold(c, VD_OP_ADD, false, true);
}
static vd_kind f_any(vd_compiler *c)
{
    return fold(c, VD_OP_OR, true, false);
}
static vd_kind f_all(vd_compiler *c)
{
    return fold(c, VD_OP_AND, true, false);
}
static vd_kind f_min(vd_compiler *c)
{
    return extreme(c, VD_OP_LEAST);
}
static vd_kind f_max(vd_compiler *c)
{
    return extreme(c, VD_OP_MOST);
}
static vd_kind f_changed(vd_compiler *c)
{
    return about_setting(c, VD_OP_CHANGED);
}
static vd_kind f_factory(vd_compiler *c)
{
    return about_setting(c, VD_OP_FACTORY);
}
static vd_kind f_absent(vd_compiler *c)
{
    return about_setting(c, VD_OP_ABSENT);
}
static vd_kind f_idle(vd_compiler *c)
{
    return about_setting(c, VD_OP_IDLE);
}

static vd_kind f_distinct(vd_compiler *c)
{
    return about_named(c, VD_OP_DISTINCT, vd_expr_items);
}
static vd_kind f_ascending(vd_compiler *c)
{
    return about_named(c, VD_OP_ASCENDING, vd_expr_items);
}

static const struct {
    const char *name;
    vd_kind (*compile)(vd_compiler *c);
} functions[] = {{"sum", f_sum},
                 {"count", f_count},
                 {"any", f_any},
                 {"all", f_all},
                 {"min", f_min},
                 {"max", f_max},
                 {"changed", f_changed},
                 {"factory", f_factory},
                 {"distinct", f_distinct},
                 {"ascending", f_ascending},
                 {"absent", f_absent},
                 {"idle", f_idle},
                 {"whole", whole_of},
                 {"length", length_of},
                 {"starts", starts_with},
                 {"same-network", f_same_network},
                 {"usable-host", f_usable_host}};

bool vd_expr_function(vd_compiler *c, size_t from, size_t length, vd_kind *kind)
{
    for (size_t i = 0; i < sizeof functions / sizeof functions[0]; i++) {
        if (vd_expr_word_is(c, from, length, functions[i].name)) {
            c->at++; /* the bracket */
            *kind = functions[i].compile(c);
            if (!c->failed) {
                vd_expr_expect(c, ")");
            }
            return true;
        }
    }
    return false;
}
