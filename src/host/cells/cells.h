/* SPDX-License-Identifier: MIT
 * The cells of a table that somebody filled in: RFC 4180, by comma or semicolon, as spreadsheets write it. */
#ifndef VD_HOST_CELLS_CELLS_H
#define VD_HOST_CELLS_CELLS_H

#include "verdite/host.h"

typedef struct cell_row {
    unsigned number;    /* of the line on which it begins, from 1 */
    const char **cells; /* one for each name */
} cell_row;

typedef struct cell_table {
    GPtrArray *names; /* of the columns, without blanks around them */
    GArray *rows;     /* of cell_row */
    GStringChunk *texts;
    GPtrArray *memory;
} cell_table;

static inline const cell_row *cells_row_at(const cell_table *table, guint i)
{
    return &g_array_index(table->rows, cell_row, i);
}

/* All cells of a file, or of a text. NULL: it is no such table, which is a finding. */
cell_table *cells_read(const char *path, vd_findings *findings);
cell_table *cells_parse(const char *text, size_t length, vd_findings *findings);
/* NULL is fine. */
void cells_free(cell_table *table);

/* What is wrong at a cell, and what is allowed. */
void cells_note(vd_findings *findings, unsigned line, guint column, const char *said, const char *allowed);
/* Whether a spreadsheet rewrote what was typed, as 1.2E+05; then that is a finding. */
bool cells_note_mangled(vd_findings *findings, unsigned line, guint column, const char *text);

/* What a cell that is not empty says of a setting: two double quotes alone are a text without a character. */
const char *cells_value(const char *cell);

/* Adds a cell to a row. What a spreadsheet would take for a formula has ' before it. */
void cells_write(GString *out, bool first, const char *text);
/* Adds, behind others, the cell that says such a value. */
void cells_write_value(GString *out, const char *value);

#endif
