/* SPDX-License-Identifier: MIT
 * What the files that read, change and write profiles share. */
#ifndef VD_HOST_PROFILE_PARTS_H
#define VD_HOST_PROFILE_PARTS_H

#include "../files/paths.h"
#include "../files/yaml_file.h"

#define PROFILE_FORMAT 1
#define PROFILE_MOST (1u << 20) /* bytes: far more than ten thousand settings with comments */

struct vd_profile {
    const vd_model *model;
    GString *text; /* as it stands in the file */
    char *folder;  /* of that file */
    void *memory;
    vd_set values;
    vd_identity unit;
    uint32_t firmware;         /* the oldest that it is for, 0: any */
    char **secrets;            /* by setting: where it comes from, as seen from here, or NULL */
    vd_profile *base;          /* on which it builds, or NULL */
    unsigned holders;          /* of a base: how many profiles build on it */
    const yaml_node_t **nodes; /* where each value stands; only while the text is parsed */
};

/* Parses the text of a profile; `like` NULL: its model, and what it builds on, are as the text says, and as `like`'s
 * else. */
vd_profile *profile_parse(const char *text, gsize length, const vd_profile *like, vd_catalogue *catalogue,
                          const char *folder, vd_findings *findings);
/* base.c: puts what a base says, but for what is one unit's own, into a profile that builds on it. */
void profile_build_on(vd_profile *profile, vd_profile *base);
/* base.c: where secrets come from, and the firmware that is needed. */
void profile_take_needs(vd_profile *profile, yaml_file *file, const yaml_node_t *root);
/* The unit that a profile is from, as far as `map` (NULL: not at all) says. */
bool profile_take_unit(yaml_file *file, const yaml_node_t *map, vd_identity *unit);
vd_status profile_note_no_setting(const vd_model *model, const char *key, vd_fault *fault);
/* Appends a value in the quotes that YAML readers of any age need to take it as this text. */
void profile_append_value(GString *text, const vd_setting *setting, const vd_value *value);
void profile_append_text(GString *text, const char *value);

#endif
