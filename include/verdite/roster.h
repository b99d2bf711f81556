/* SPDX-License-Identifier: MIT
 *
 * Roster: the units of a job, as somebody lists them, a row each, in a CSV file. docs/roster.md describes it.
 */
#ifndef VERDITE_ROSTER_H
#define VERDITE_ROSTER_H

#include "verdite/host.h"

VD_C_BEGIN

/* A roster that was read. It keeps its profiles; models belong to the catalogue. */
typedef struct vd_roster vd_roster;

/* One unit of it. Texts are "" where its row does not say. */
typedef struct vd_roster_row {
    unsigned line;         /* of the file, from 1 */
    const char *serial;    /* its serial number */
    const char *code;      /* what a scan gives where a unit has none */
    const char *pair;      /* the line that it is on, column "line" */
    const char *remark;    /* for people */
    const vd_model *model; /* NULL: not known, which is a finding */
} vd_roster_row;

/* Reads and judges a whole roster. `profile`, which may be NULL, is for rows that name neither a profile nor a model.
 * What is wrong is a finding, with the line of the file and the number of the column. NULL: it cannot be used at all.
 */
vd_roster *vd_roster_load(const char *path, vd_catalogue *catalogue, const vd_profile *profile, vd_findings *findings);
/* Frees it; NULL is fine. */
void vd_roster_free(vd_roster *roster);
/* How many units it lists. */
size_t vd_roster_count(const vd_roster *roster);
/* The i-th of them; it lives as long as the roster. */
const vd_roster_row *vd_roster_row_at(const vd_roster *roster, size_t i);
/* Puts into a set of its model, which was started, what the i-th is to have: by its profile, and by its own cells. */
void vd_roster_fill(const vd_roster *roster, size_t i, vd_set *set);

VD_C_END

#endif
