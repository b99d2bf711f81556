/* SPDX-License-Identifier: MIT
 * Expressions over the settings of a model, compiled to steps of a small stack machine. docs/rules.md describes the
 * language; compile.c reads it and checks units of measure, run.c runs it, exactly. */
#ifndef VD_CORE_EXPRESSION_H
#define VD_CORE_EXPRESSION_H

#include "../value/value.h"

/* ---- Exact numbers ---- */

/* number / below, in lowest terms; below is above 0. */
typedef struct vd_ratio {
    int64_t number, below;
} vd_ratio;

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

#define VD_BASES 6u /* metre, kilogram, second, ampere, degree Celsius, byte */

/* What a unit of measure measures. */
typedef struct vd_dimension {
    int8_t power[VD_BASES];
    const char *own; /* a unit that is none of those and their products, such as "%": comparable with itself only */
} vd_dimension;

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

typedef enum vd_op {
    VD_OP_CONSTANT, /* number / a */
    VD_OP_TEXT,     /* text, a bytes */
    VD_OP_BYTES,    /* likewise, a bytes that stand in the b instructions behind this one, which are no steps */
    VD_OP_LOAD,     /* setting a + item * b */
    VD_OP_CHANGED,
    VD_OP_FACTORY, /* it holds its factory default */
    VD_OP_ABSENT,  /* this unit has no such setting */
    VD_OP_IDLE,    /* it has, but in this mode it does not count */
    VD_OP_ITEM,    /* its number, from 1 */
    VD_OP_VARIANT,
    VD_OP_FIRMWARE,
    VD_OP_NOW, /* what time it is, UTC */
    VD_OP_ADD,
    VD_OP_SUBTRACT,
    VD_OP_MULTIPLY,
    VD_OP_DIVIDE,
    VD_OP_NEGATE,
    VD_OP_LEAST,
    VD_OP_MOST,
    VD_OP_EQUAL,
    VD_OP_UNEQUAL,
    VD_OP_BELOW,
    VD_OP_AT_MOST,
    VD_OP_ABOVE,
    VD_OP_AT_LEAST,
    VD_OP_HAS, /* flags: bit */
    VD_OP_AND,
    VD_OP_OR,
    VD_OP_NOT,
    VD_OP_LENGTH,
    VD_OP_STARTS,
    VD_OP_DISTINCT,  /* a settings from b on, number apart: no two are equal */
    VD_OP_ASCENDING, /* likewise: each is above the one before */
    VD_OP_SAME_NETWORK,
    VD_OP_USABLE_HOST
} vd_op;

typedef struct vd_instruction {
    union {
        int64_t number;
        const char *text;
    } of;
    uint32_t a;
    uint16_t b;
    uint8_t op;
} vd_instruction;

/* A stretch of steps; count 0: no expression. */
typedef struct vd_code {
    uint32_t first;
    uint32_t count;
} vd_code;

/* What kind of thing an expression gives. */
typedef enum vd_kind_class {
    VD_IS_NUMBER,
    VD_IS_TRUTH,
    VD_IS_CHOICE, /* of `setting` */
    VD_IS_FLAGS,  /* likewise */
    VD_IS_TEXT,
    VD_IS_DATE,
    VD_IS_CLOCK,
    VD_IS_ADDRESS,
    VD_IS_VARIANT,
    VD_IS_VERSION,
    VD_IS_OTHER /* can only be equal or not */
} vd_kind_class;

typedef struct vd_kind {
    uint8_t class;            /* vd_kind_class */
    uint16_t setting, stride; /* the one setting that it is, or VD_NONE */
    vd_dimension dimension;
    const char *sign; /* a unit of measure to show it in; NULL: none */
} vd_kind;

/* An expression in braces in a sentence. */
typedef struct vd_shown {
    vd_code code;
    vd_kind kind;
} vd_shown;

typedef struct vd_rule_code {
    vd_code when, must;
    uint32_t shown; /* index of the first vd_shown of its sentence */
    uint32_t mention, mention_count;
} vd_rule_code;

/* A setting that a rule depends on: setting + item * stride. */
typedef struct vd_mention {
    uint16_t setting, stride;
} vd_mention;

/* A formula of a channel, a condition or an alarm. */
typedef struct vd_formula_code {
    vd_code code; /* count 0: it is the name of a state */
    vd_kind kind;
    uint32_t mention, mention_count;
} vd_formula_code;

struct vd_book {
    uint16_t *by_key; /* settings, sorted by key */
    vd_formula_code *formulas;
    vd_code *when; /* of each setting */
    vd_rule_code *rules;
    vd_shown *shown;
    vd_mention *mentions;
    vd_instruction *steps;
    uint32_t shown_count, mention_count, step_count;
    uint32_t mention_size, step_size;
};

/* Compiles a text. `block`: what "this" is about, or VD_NONE. Appends to the book's steps, and to its mentions where
 * `mention` says so. False: the fault says where (number 1, the column) and why. */
bool vd_compile(const vd_model *model, vd_book *book, const char *text, size_t length, uint16_t block, bool mention,
                vd_code *code, vd_kind *kind, vd_fault *fault);

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
/* How many instructions there are from a step to the next one. */
uint32_t vd_step_size(const vd_instruction *step);
/* The setting that a step is about, VD_NONE where it is about none. */
uint16_t vd_step_setting(const vd_instruction *step, uint16_t item);
/* The n-th setting that is to blame where an item breaks a rule: those that it says, then those that it names;
 * VD_NONE: there are no more. */
uint16_t vd_rule_blames(const vd_model *model, uint16_t rule, uint16_t item, uint16_t n);

#endif
