/* SPDX-License-Identifier: MIT
 * What the files about the folders of models share. */
#ifndef VD_HOST_CATALOGUE_PARTS_H
#define VD_HOST_CATALOGUE_PARTS_H

#include "verdite/host.h"

/* What the index is about: the folders, and the file of each key. */
typedef struct catalogue_files {
    const char *folders;
    const char *const *keys; /* NULL-terminated, sorted */
    char **paths;
} catalogue_files;

/* catalogue_index.c: keeps what became of the model of each key. */
void catalogue_write_index(const char *path, const catalogue_files *files, char *const *states);
/* What became of each then, NULL: something has changed since, or nothing is kept. Free it. */
char **catalogue_read_index(const char *path, const catalogue_files *files);

#endif
