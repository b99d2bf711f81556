/* SPDX-License-Identifier: MIT
 * A YAML file as a tree in which every fault knows its line and column. */
#ifndef VD_HOST_YAML_FILE_H
#define VD_HOST_YAML_FILE_H

#include <yaml.h>

#include "verdite/host.h"

typedef struct yaml_file {
    yaml_document_t document;
    bool loaded;
    char *text;
    gsize length;
    vd_findings *findings;
    GHashTable *misspelt; /* nodes of mappings with a key that has no place there */
} yaml_file;

/* Reads and parses a file of at most `most` bytes. False, with findings, when it cannot be read, is no UTF-8, no YAML,
 * or holds a text that may not be shown (verdite/text.h). Free it in either case. */
bool yaml_file_load(yaml_file *file, const char *path, gsize most, vd_findings *findings);
/* The same for a text that is at hand; it is copied. */
bool yaml_file_parse(yaml_file *file, const char *text, gsize length, vd_findings *findings);
void yaml_file_free(yaml_file *file);

/* Adds a finding at a node (NULL: the whole file); returns false, for the caller to hand on. */
bool yaml_note(yaml_file *file, const yaml_node_t *node, vd_fault fault);
/* Adds a fault at a node. */
bool yaml_note_fault(yaml_file *file, const yaml_node_t *node, const vd_fault *fault);

/* Adds that a mapping lacks a key, unless one that has no place there was found in it; `how` it would look. False. */
bool yaml_note_missing(yaml_file *file, const yaml_node_t *map, const char *key, const char *how);

yaml_node_t *yaml_root(yaml_file *file);
yaml_node_t *yaml_node(yaml_file *file, int index);
/* The value of a key of a mapping, NULL when the key or the mapping is not there. */
yaml_node_t *yaml_member(yaml_file *file, const yaml_node_t *map, const char *key);
/* Whether a node is a mapping whose keys are all among `allowed` (NULL-terminated) and stand there once; findings for
 * what is not. */
bool yaml_check_keys(yaml_file *file, const yaml_node_t *map, const char *const *allowed);
/* The items of a list member; none when it is missing. False with a finding when it is no list or has more than `most`.
 */
bool yaml_take_list(yaml_file *file, const yaml_node_t *map, const char *key, gsize most, gsize *count,
                    const yaml_node_item_t **items);
/* Whether no part of the file stands in two places by an alias, or in itself; a finding where one does. */
bool yaml_refuse_aliases(yaml_file *file);
/* The text of a scalar, NULL (with a finding that names `what`) when it is something else. */
const char *yaml_text(yaml_file *file, const yaml_node_t *node, const char *what);

/* Members of a mapping by type. Each returns false with a finding when the value is wrong, or when it is missing and
 * `needed`; a missing one that is not needed leaves `out` as it is. */
bool yaml_take_text(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, const char **out);
/* A key (vd_text_is_key), which is needed. */
bool yaml_take_key(yaml_file *file, const yaml_node_t *map, const char *key, const char **out);
bool yaml_take_integer(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, int64_t least,
                       int64_t most, int64_t *out);
bool yaml_take_truth(yaml_file *file, const yaml_node_t *map, const char *key, bool *out);
/* The format of the file, a number under `key`: one that is newer than `known` is refused. */
bool yaml_take_format(yaml_file *file, const yaml_node_t *root, const char *key, int known);
/* Milliseconds from a duration such as "250 ms". */
bool yaml_take_duration(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, int64_t most,
                        int64_t *out);
/* One of `words` (NULL-terminated): its index. */
bool yaml_take_word(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, const char *const *words,
                    uint8_t *out);

#endif
