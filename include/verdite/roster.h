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

/* Reads and judges a whole roster. `profile`, which may be NULL, is for rows that name neither a profile nor a model.
 * What is wrong is a finding, with the line of the file and the number of the column. NULL: it cannot be used at all.
 */
vd_roster *vd_roster_load(const char *path, vd_catalogue *catalogue, const vd_profile *profile, vd_findings *findings);
/* Frees it; NULL is fine. */
void vd_roster_free(vd_roster *roster);
/* How many units it lists. */
size_t vd_roster_count(const vd_roster *roster);

VD_C_END

#endif
