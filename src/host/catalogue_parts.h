/* SPDX-License-Identifier: MIT
 * What the files about the folders of models share. */
#ifndef VD_HOST_CATALOGUE_PARTS_H
#define VD_HOST_CATALOGUE_PARTS_H

#include "verdite/host.h"

/* catalogue.c: where the model of a key is. Free it. */
char *catalogue_path(const vd_catalogue *catalogue, const char *key);

/* catalogue_index.c: keeps what became of the model of each key, in their order. */
void catalogue_write_index(vd_catalogue *catalogue, const char *path, char *const *states);
/* What became of each then, NULL: something has changed since, or nothing is kept. Free it. */
char **catalogue_read_index(vd_catalogue *catalogue, const char *path);

#endif
