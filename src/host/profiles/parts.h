/* SPDX-License-Identifier: MIT
 * What the files that read, change and write profiles share. */
#ifndef VD_HOST_PROFILE_PARTS_H
#define VD_HOST_PROFILE_PARTS_H

#include "../files/yaml_file.h"

#define PROFILE_FORMAT 1
#define PROFILE_MOST (1u << 20) /* bytes: far more than ten thousand settings with comments */

struct vd_profile {
    const vd_model *model;
    GString *text; /* as it stands in the file */
    void *memory;
    vd_set values;
    vd_identity unit;
    const yaml_node_t **nodes; /* where each value stands; only while the text is parsed */
};

/* Parses the text of a profile; `model` NULL: as the text says. */
vd_profile *profile_parse(const char *text, gsize length, const vd_model *model, vd_catalogue *catalogue,
                          const char *folder, vd_findings *findings);
/* The unit that a profile is from, as far as `map` (NULL: not at all) says. */
bool profile_take_unit(yaml_file *file, const yaml_node_t *map, vd_identity *unit);
vd_status profile_note_no_setting(const vd_model *model, const char *key, vd_fault *fault);
/* Appends a value in the quotes that YAML readers of any age need to take it as this text. */
void profile_append_value(GString *text, const vd_setting *setting, const vd_value *value);

#endif
