/* SPDX-License-Identifier: MIT
 *
 * Compiled: the expressions of a model as steps of a small stack machine, as preparing a model makes them, or as
 * constant tables (tables.h). Plain data that only the library runs.
 */
#ifndef VERDITE_COMPILED_H
#define VERDITE_COMPILED_H

#include "verdite/model.h"

VD_C_BEGIN

struct vd_set;

/* number / below, in lowest terms; below is above 0. */
typedef struct vd_ratio {
    int64_t number, below; /* number / below, in lowest terms */
} vd_ratio;

#define VD_BASES 6u /* metre, kilogram, second, ampere, degree Celsius, byte */

/* What a unit of measure measures. */
typedef struct vd_dimension {
    int8_t power[VD_BASES]; /* of each base */
    const char *own; /* a unit that is none of those and their products, such as "%": comparable with itself only */
} vd_dimension;

/* What a step does. */
typedef enum vd_op {
    VD_OP_CONSTANT, /* number / a */
    VD_OP_TEXT,     /* a bytes of the book's texts, from `number` on */
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
    VD_OP_WHOLE,
    VD_OP_STARTS,
    VD_OP_DISTINCT,  /* a settings from b on, number apart: no two are equal */
    VD_OP_ASCENDING, /* likewise: each is above the one before */
    VD_OP_SAME_NETWORK,
    VD_OP_USABLE_HOST
} vd_op;

/* One step: what it does, and with what; see vd_op. */
typedef struct vd_instruction {
    int64_t number; /* see vd_op */
    uint32_t a;     /* see vd_op */
    uint16_t b;     /* see vd_op */
    uint8_t op;     /* vd_op */
} vd_instruction;

/* A stretch of steps; count 0: no expression. */
typedef struct vd_code {
    uint32_t first; /* index of its first step */
    uint32_t count; /* of its steps */
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

/* What an expression gives. */
typedef struct vd_kind {
    uint8_t is;             /* vd_kind_class */
    vd_spot spot;           /* the one setting that it is, or none */
    vd_dimension dimension; /* of numbers */
    const char *sign;       /* a unit of measure to show it in; NULL: none */
} vd_kind;

/* An expression that gives a thing: a formula, or what stands in braces in a sentence. */
typedef struct vd_term {
    vd_code code; /* of a formula count 0: it is the name of a state */
    vd_kind kind; /* what it gives */
} vd_term;

/* What has to hold, and behind it when. */
typedef struct vd_rule_code {
    vd_code must, when; /* what has to hold; when, empty: always */
    uint32_t shown;     /* index of the first term of its sentence */
} vd_rule_code;

/* Adds the sentence of a rule that an item breaks. */
typedef void vd_rule_sentence(const struct vd_set *set, const struct vd_set *before, uint16_t rule, uint16_t item,
                              vd_writer *writer);

vd_rule_sentence vd_rule_say; /* where there are words */

/* Compiled expressions and sorted indexes of a model. */
struct vd_book {
    const uint16_t *by_key;      /* settings, sorted by key; NULL: they have none */
    const vd_term *formulas;     /* of the model's formulas, each */
    const vd_code *when;         /* of each setting; NULL: none is conditional */
    const vd_rule_code *rules;   /* of the model's rules, each */
    const vd_term *shown;        /* what stands in braces in the sentences of rules */
    const vd_instruction *steps; /* of all expressions */
    const char *texts;           /* that stand in expressions */
    vd_rule_sentence *say;       /* NULL: without words */
};

VD_C_END

#endif
