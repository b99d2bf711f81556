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
/* The same of a text. */
vd_roster *vd_roster_parse(const char *text, size_t length, vd_catalogue *catalogue, const vd_profile *profile,
                           vd_findings *findings);
/* Frees it; NULL is fine. */
void vd_roster_free(vd_roster *roster);
/* How many units it lists. */
size_t vd_roster_count(const vd_roster *roster);

/* A unit as its row describes it. Texts are "" where the row says nothing; they belong to the roster. */
typedef struct vd_roster_unit {
    unsigned number;           /* the line of the file on which its row begins */
    const char *serial, *code; /* how it is recognised: its serial number, or what a scan gives */
    const char *line, *remark; /* what its line is called; for people */
    const char *name;          /* what the unit itself is to be called, as typed */
    const vd_model *model;     /* NULL: not known, which was a finding */
    const vd_profile *profile; /* what it gets besides, NULL: nothing */
} vd_roster_unit;
/* The i-th unit, from 0. */
vd_roster_unit vd_roster_at(const vd_roster *roster, size_t i);
/* Puts what the i-th unit is to hold into a set that was started for its model: its profile, and over that its row.
 * Address, name and what no two units may have only its row says; what is one unit's own in a profile that was read
 * from a unit is left out, too. Secrets are not in it. */
void vd_roster_fill(const vd_roster *roster, size_t i, vd_set *set);
/* Where the i-th unit's row says that a secret comes from: "asked", "environment NAME", "file PATH", which is seen from
 * here; NULL: it says nothing about this setting. */
const char *vd_roster_secret(const vd_roster *roster, size_t i, uint16_t setting);

/* What the i-th unit's row says of a setting, as typed, "": nothing; NULL: no column is for it. */
const char *vd_roster_cell(const vd_roster *roster, size_t i, uint16_t setting);
/* Whether the i-th unit may have this value: by itself, and by the rules that it decides beside its row and profile. */
bool vd_roster_takes(const vd_roster *roster, size_t i, uint16_t setting, const char *text, vd_fault *fault);
/* Has its row say so; the text is copied. False: no column is for the setting. */
bool vd_roster_say(vd_roster *roster, size_t i, uint16_t setting, const char *text);

/* The text of a roster as it was read, with a serial number for each row that said none; `serials` has as many as there
 * are rows, NULL: it is not known. Without `serials` as it is. `all`: also rows of which none is known. What a
 * spreadsheet would take for a formula has ' before it. It is for a file at `path`: what a row names by a path is seen
 * from there. Free it. */
char *vd_roster_text(const vd_roster *roster, const char *const *serials, bool all, const char *path);

/* ---- Plans of addresses ------------------------------------------------------------------------------------- */

/* Which addresses may be given, one after another. */
typedef struct vd_address_plan vd_address_plan;
/* A plan in words: "2-40", "from 2 step 2", "10.8.3.16/28 but .1 .14", "2001:db8::/64". A network is a plan without its
 * first and, of IPv4, its last address. NULL: VD_PLAN_WRONG. */
vd_address_plan *vd_address_plan_parse(const char *text, vd_fault *fault);
/* Frees it; NULL is fine. */
void vd_address_plan_free(vd_address_plan *plan);
/* Whether its addresses are what a setting holds: a unit's own on a bus, or one that no two units may have in a
 * network.
 */
bool vd_address_plan_fits(const vd_address_plan *plan, const vd_setting *setting);
/* The next address of the plan as text; false: there is none left. */
bool vd_address_plan_next(vd_address_plan *plan, char *text, size_t size);

VD_C_END

#endif
