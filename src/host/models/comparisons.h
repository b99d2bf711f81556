/* SPDX-License-Identifier: MIT
 * What loading alarms takes of loading comparisons. */
#ifndef VD_HOST_MODEL_COMPARISONS_H
#define VD_HOST_MODEL_COMPARISONS_H

#include "parts.h"

/* ---- Formulas ---- */

vd_ref model_add_formula(vd_model_file *file, const yaml_node_t *node, const char *text, uint16_t block,
                         vd_gives gives);
/* A setting, of this item where it is named so. */
bool model_take_spot(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, vd_spot *spot);
bool model_take_around(vd_model_file *file, const yaml_node_t *map, const char *key, vd_ref *block);
/* watches: a channel, or a setting that chooses one. */
bool model_take_source(vd_model_file *file, const yaml_node_t *map, uint16_t block, vd_source *source);
/* One comparison, or several of which the first that counts is the one; `release`: theirs where they name none. */
bool model_take_tests(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, vd_ref release,
                      uint16_t *first, uint8_t *count);
/* ---- Conditions ---- */

bool model_take_condition(vd_model_file *file, const yaml_node_t *map, uint16_t block, bool shared);
/* only-while: {all: [...]} or {any: [...]}, and what becomes of an alarm when it is lost. */
bool model_take_only_while(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm);

#endif
