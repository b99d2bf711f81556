/* SPDX-License-Identifier: MIT
 * How the structures of a model look field by field, for whoever writes them as constant tables. */
#ifndef VD_HOST_TABLES_H
#define VD_HOST_TABLES_H

#include "verdite/host.h"

#include <glib.h>

/* What a field holds. */
typedef enum table_kind {
    TABLE_NUMBER, /* unsigned, of `size` bytes */
    TABLE_SIGNED,
    TABLE_TRUTH,
    TABLE_TEXT,    /* what the unit is told or tells: always there */
    TABLE_BYTES,   /* likewise, as many bytes as the field at `count_at` says */
    TABLE_WORDS,   /* what only people read: "" without words */
    TABLE_SOURCE,  /* what is compiled: NULL without words */
    TABLE_STRUCT,  /* `of`, inside */
    TABLE_ONE,     /* pointer to one of `of`, or NULL */
    TABLE_LIST,    /* pointer to several of `of`; how many, a field of `count_size` bytes at `count_at` says */
    TABLE_NUMBERS, /* pointer to several numbers of `size` bytes, as many likewise */
    TABLE_TEXTS,   /* pointer to several texts */
    TABLE_POWERS,  /* a list of small numbers, inside */
    TABLE_SETTING, /* pointer to one of the model's settings */
    TABLE_OWN      /* what the writer knows how to say: `own` */
} table_kind;

/* Who needs a list: all; only people; only who watches alarms. */
typedef enum table_part { PART_ALL, PART_WORDS, PART_ALARMS } table_part;

/* What stands for a pointer that no table holds. */
typedef enum table_own { OWN_TYPE, OWN_STATE, OWN_SETTING_WORDS, OWN_LANGUAGE, OWN_NOTHING, OWN_BOOK } table_own;

typedef struct table_shape table_shape;
typedef struct table_field {
    table_kind kind;
    size_t at, size;
    size_t count_at, count_size;
    const table_shape *of;
    table_own own;
    table_part part; /* of a list */
} table_field;

struct table_shape {
    const char *name; /* the type's */
    size_t size;
    const table_field *fields; /* in the order of the type */
    size_t count;
};

extern const table_shape shape_model, shape_setting_words, shape_choice, shape_unnamed_choice, shape_code,
    shape_rule_code, shape_term, shape_instruction;

/* Adds all that stands before the tables themselves. `prefix`, `capital`: what names begin with, "vdm_dowel". */
void tables_add_head(GString *file, const vd_model *model, const char *prefix, const char *capital, bool words);

#endif
