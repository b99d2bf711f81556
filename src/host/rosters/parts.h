/* SPDX-License-Identifier: MIT
 * What the files that read and judge rosters share. */
#ifndef VD_HOST_ROSTER_PARTS_H
#define VD_HOST_ROSTER_PARTS_H

#include "verdite/roster.h"
#include "../cells/cells.h"
#include "../files/paths.h"

/* What a column is for. Settings differ from model to model. */
typedef enum roster_use {
    ROSTER_LINE,
    ROSTER_MODEL,
    ROSTER_PROFILE,
    ROSTER_SERIAL,
    ROSTER_CODE,
    ROSTER_REMARK,
    ROSTER_SETTING
} roster_use;
#define ROSTER_RESERVED ROSTER_SETTING /* how many words have a meaning of their own */

typedef struct roster_column {
    const char *name;
    roster_use use;
    bool found;   /* some model has such a setting */
    bool refused; /* it can be for none of them, and that was reported */
} roster_column;

/* Units that have the same model and the same profile. */
typedef struct roster_kind {
    const char *model_said, *profile_said; /* as their rows say */
    const vd_model *model;                 /* NULL: not found, and reported */
    vd_profile *own;                       /* the profile that was loaded for them; NULL */
    const vd_profile *profile;             /* that, or the one for all others; NULL: none */
    uint16_t *settings;                    /* by column, VD_NONE: it is for none of this model */
    uint8_t *touched;                      /* by rule: a column decides it */
    void *memory;
    vd_set set; /* of the row that is being judged */
} roster_kind;

typedef struct roster_line {
    unsigned number; /* of the file, from 1 */
    roster_kind *kind;
    const char **cells; /* one for each column */
    bool unsound;       /* a value of it is wrong: no rule is judged */
} roster_line;

struct vd_roster {
    cell_table *table;
    char *folder;     /* of its file */
    GArray *columns;  /* of roster_column */
    GArray *lines;    /* of roster_line */
    GPtrArray *kinds; /* of roster_kind */
};

static inline roster_column *roster_column_at(const vd_roster *roster, guint i)
{
    return &g_array_index(roster->columns, roster_column, i);
}

static inline roster_line *roster_line_at(const vd_roster *roster, guint i)
{
    return &g_array_index(roster->lines, roster_line, i);
}

/* columns.c: what each column is for, by its name; and which setting of a model. */
void roster_take_names(vd_roster *roster);
void roster_find_columns(vd_roster *roster, roster_kind *kind, vd_findings *findings);
void roster_check_columns(const vd_roster *roster, vd_findings *findings);
/* rows.c: the values of all rows, each by itself and beside the others. */
void roster_judge(vd_roster *roster, vd_findings *findings);
/* Whether a row may have a value, beside all else that it says. */
bool roster_takes(const vd_roster *roster, roster_line *line, uint16_t setting, const char *text, vd_fault *fault);
/* What a row gives its unit, profile and all; what is wrong in it is a finding, NULL: nobody asks. */
void roster_fill(const vd_roster *roster, roster_line *line, vd_set *set, vd_findings *findings);

#endif
