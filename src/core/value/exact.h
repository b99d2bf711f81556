/* SPDX-License-Identifier: MIT
 * Exact numbers, and what units of measure measure. */
#ifndef VD_CORE_EXACT_H
#define VD_CORE_EXACT_H

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

#endif
