/* SPDX-License-Identifier: MIT
 * What the files that read expressions share. */
#ifndef VD_CORE_EXPRESSION_PARTS_H
#define VD_CORE_EXPRESSION_PARTS_H

#include "expression.h"

#define MOST_DEPTH 16u /* brackets in brackets, and values waiting on the stack */
#define MOST_STEPS 4096u

typedef struct vd_compiler {
    const vd_model *model;
    vd_draft *draft;
    const char *text;
    size_t length, at;
    uint16_t block;      /* what "this" is about */
    uint16_t fold_block; /* what "*" is about, inside sum() and its kin */
    uint16_t fold_item;
    uint32_t first;
    unsigned depth, stack;
    bool failed;
    vd_fault *fault;
} vd_compiler;

/* ---- tokens.c ---- */

/* Records where and why, once; the rest of the text is then passed over. */
vd_kind vd_expr_fail_at(vd_compiler *c, size_t from, size_t to, const char *why);
/* Likewise, for two kinds of number that cannot be added, compared or multiplied; both are named. */
vd_kind vd_expr_fail_mixed(vd_compiler *c, size_t from, const vd_kind *a, const vd_kind *b);
/* Appends a step that leaves `pushes` more on the stack. */
void vd_expr_emit(vd_compiler *c, vd_op op, int64_t number, uint32_t a, uint16_t b, int pushes);
char vd_expr_char_at(const vd_compiler *c, size_t at);
void vd_expr_skip_blanks(vd_compiler *c);
/* Length of the word that begins at a place, 0: none does. */
size_t vd_expr_word_length(const vd_compiler *c, size_t from);
bool vd_expr_word_is(const vd_compiler *c, size_t from, size_t length, const char *word);
/* Takes this word or sign if it is what comes next. */
bool vd_expr_take(vd_compiler *c, const char *what);
bool vd_expr_expect(vd_compiler *c, const char *what);
vd_kind vd_expr_plain(vd_kind_class class);
bool vd_expr_is_number(const vd_kind *kind);

/* ---- names.c ---- */

/* Whether a word is the name of a setting. */
bool vd_expr_names_setting(vd_compiler *c, size_t from, size_t length);
/* A setting by its name, or a question about it. */
vd_kind vd_expr_load(vd_compiler *c, vd_op op, size_t from, size_t length);
/* The number of the item that an expression is about, or of the one around it. */
vd_kind vd_expr_item(vd_compiler *c, size_t from, size_t length);
/* A question about a setting of all items of a block. */
vd_kind vd_expr_items(vd_compiler *c, vd_op op, size_t from, size_t length);
vd_kind vd_expr_number(vd_compiler *c);
vd_kind vd_expr_text(vd_compiler *c);
/* A text to the right of a setting that is none: a value of that setting, as people type it. */
void vd_expr_value_of(vd_compiler *c, uint16_t setting);
bool vd_expr_is_version(const vd_compiler *c, size_t from, size_t length);
vd_kind vd_expr_version(vd_compiler *c, size_t from, size_t length);

/* ---- functions.c ---- */

/* Whether the word before the bracket is a function; if so, the call is compiled. */
bool vd_expr_function(vd_compiler *c, size_t from, size_t length, vd_kind *kind);

/* ---- compile.c ---- */

vd_kind vd_expr_expression(vd_compiler *c);

#endif
