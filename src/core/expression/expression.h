/* SPDX-License-Identifier: MIT
 * Expressions over the settings of a model, compiled to steps of a small stack machine. docs/rules.md describes the
 * language; compile.c reads it and checks units of measure, run.c runs it, exactly. */
#ifndef VD_CORE_EXPRESSION_H
#define VD_CORE_EXPRESSION_H

#include "../value/exact.h"
#include "../value/value_parts.h"
#include "verdite/compiled.h"

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

/* What an expression gives, as people read it: in the unit of its setting, or its own. */
void vd_term_show(const vd_set *set, const vd_set *before, const vd_term *shown, uint16_t item, vd_writer *writer);
vd_result vd_run(const vd_set *set, const vd_set *before, const vd_code *code, uint16_t item);
/* What the result of a condition means, where none means `none`. */
vd_ruling vd_ruling_of(const vd_result *result, vd_ruling none);
/* The setting that a step is about, VD_NONE where it is about none. */
uint16_t vd_step_setting(const vd_instruction *step, uint16_t item);
/* The n-th setting that is to blame where an item breaks a rule: those that it says, then those that it names;
 * VD_NONE: there are no more. */
uint16_t vd_rule_blames(const vd_model *model, uint16_t rule, uint16_t item, uint16_t n);

#endif
