/* SPDX-License-Identifier: MIT
 * Expressions over the settings of a model, compiled to steps of a small stack machine. docs/rules.md describes the
 * language; compile.c reads it and checks units of measure, run.c runs it, exactly. */
#ifndef VD_CORE_EXPRESSION_H
#define VD_CORE_EXPRESSION_H

#include "../value/value.h"
#include "verdite/compiled.h"

/* ---- Exact numbers ---- */

/* The greatest; of 0 and another, the other. */
uint64_t vd_common_divisor(uint64_t a, uint64_t b);
/* False when the result does not fit; then it is not known rather than wrong. */
bool vd_ratio_make(int64_t number, int64_t below, vd_ratio *result);
bool vd_ratio_add(vd_ratio a, vd_ratio b, vd_ratio *result);
bool vd_ratio_multiply(vd_ratio a, vd_ratio b, vd_ratio *result);
bool vd_ratio_divide(vd_ratio a, vd_ratio b, vd_ratio *result);
/* Below 0, 0, above 0. Always exact. */
int vd_ratio_compare(vd_ratio a, vd_ratio b);
/* Adds it as a decimal, rounded to at most three places. */
void vd_ratio_print(vd_ratio ratio, vd_writer *writer);

/* ---- Dimensions ---- */

/* A unit of measure: its dimension, and how many base units one of it is. */
typedef struct vd_measure {
    const char *sign;
    vd_dimension dimension;
    vd_ratio scale;
} vd_measure;

/* The unit with this sign, of those that every model has and its own; any other stands for itself. `sign` must outlive
 * the measure. */
vd_measure vd_measure_find(const vd_model *model, const char *sign);
/* The length of the sign of a unit at the front of a text, one of those or of a setting; 0 when there is none. `sign`
 * is its own text. */
size_t vd_measure_at(const vd_model *model, const char *text, size_t length, const char **sign);
bool vd_dimension_equal(const vd_dimension *a, const vd_dimension *b);
bool vd_dimension_none(const vd_dimension *dimension);
/* Adds it in base units, e.g. "kg·m²/s³"; "a bare number" where there is none. */
void vd_dimension_print(const vd_dimension *dimension, vd_writer *writer);

/* ---- Compiled code ---- */

/* A book that is being written. */
typedef struct vd_draft {
    vd_book book;
    uint16_t *by_key;
    vd_term *formulas;
    vd_code *when;
    vd_rule_code *rules;
    vd_term *shown;
    vd_instruction *steps;
    char *texts;
    uint32_t shown_count, step_count, text_length;
    uint32_t step_size, text_size;
} vd_draft;

/* Compiles a text. `block`: what "this" is about, or VD_NONE. Appends to the draft's steps. False: the fault says where
 * (number 1, the column) and why. */
bool vd_compile(const vd_model *model, vd_draft *draft, const char *text, size_t length, uint16_t block, vd_term *term,
                vd_fault *fault);

/* Goes through the settings that steps name, in their order; one may come twice. */
typedef struct vd_naming {
    const vd_instruction *step, *end;
    uint32_t within; /* of a step about all items of a block: how many of them have come */
} vd_naming;
vd_naming vd_names_in(const vd_book *book, const vd_code *code);
/* Those of a rule: what has to hold, then when. */
vd_naming vd_names_in_rule(const vd_book *book, uint16_t rule);
/* The next one; none where there are no more. */
vd_spot vd_names_next(vd_naming *naming);

/* What running brought: a value; nothing known; or none, since what it is about does not count here. */
typedef struct vd_result {
    bool known, none; /* never both */
    vd_ratio ratio;   /* numbers; truths are 0 or 1 */
    const char *text; /* texts */
    uint16_t length;
} vd_result;

vd_result vd_run(const vd_set *set, const vd_set *before, const vd_code *code, uint16_t item);
/* What the result of a condition means, where none means `none`. */
vd_ruling vd_ruling_of(const vd_result *result, vd_ruling none);
/* The setting that a step is about, VD_NONE where it is about none. */
uint16_t vd_step_setting(const vd_instruction *step, uint16_t item);
/* The n-th setting that is to blame where an item breaks a rule: those that it says, then those that it names;
 * VD_NONE: there are no more. */
uint16_t vd_rule_blames(const vd_model *model, uint16_t rule, uint16_t item, uint16_t n);

#endif
