/* SPDX-License-Identifier: MIT
 * What the files that load a model share. */
#ifndef VD_HOST_MODEL_PARTS_H
#define VD_HOST_MODEL_PARTS_H

#include "yaml_file.h"

struct vd_model_file {
    vd_model model;
    yaml_file yaml;      /* while it is loaded */
    GPtrArray *memory;   /* every array of the model */
    GStringChunk *texts; /* every text of the model, each once */
};

extern const char *const model_tables[]; /* words for vd_table */

/* Zeroed memory and texts that live as long as the model. */
void *model_memory(vd_model_file *file, gsize size);
const char *model_text(vd_model_file *file, const char *text);
bool model_take_text(vd_model_file *file, const yaml_node_t *map, const char *key, bool needed, const char **out);
/* Index of a setting that the file names, or VD_NONE with a finding at `node`. */
uint16_t model_find_named(vd_model_file *file, const yaml_node_t *node, const char *key);

/* Where a value lives on the wire, e.g. {register: 22, words: 2}. Texts take `form` as it stands. */
bool model_take_place(vd_model_file *file, const yaml_node_t *map, vd_place *place);
/* One setting in three passes: itself; the setting that decides its decimals; its factory default. */
bool model_take_setting(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);
bool model_take_dependence(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);
bool model_take_default(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);

#endif
