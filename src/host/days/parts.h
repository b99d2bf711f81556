/* SPDX-License-Identifier: MIT
 * What the files that read days share. */
#ifndef VD_HOST_DAYS_PARTS_H
#define VD_HOST_DAYS_PARTS_H

#include "verdite/days.h"

struct vd_days {
    const vd_model *model;
    GPtrArray *memory; /* all that the days point to */
    GArray *list;      /* of vd_day */
    unsigned unknown;  /* facts that nobody knows */
};

vd_days *days_new(const vd_model *model);
/* Zeroed memory that lives as long as the days. */
void *days_memory(vd_days *days, gsize size);
/* Adds one day in words. False: the fault says why, and nothing was added. */
bool days_add(vd_days *days, const char *label, const char *text, vd_fault *fault);

#endif
