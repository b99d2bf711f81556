/* SPDX-License-Identifier: MIT
 * Everything that is printed in columns, and prose broken between words. Widths are counted as a terminal shows
 * characters; what does not fit in a row goes to lines of its own. */
#ifndef VD_CLI_SHEET_H
#define VD_CLI_SHEET_H

#include <stdbool.h>
#include <stdio.h>

#include <glib.h>

struct cli;

/* Colours of words that also say it themselves. */
typedef enum tone { TONE_PLAIN, TONE_STRONG, TONE_GOOD, TONE_BAD, TONE_DOUBT, TONE_FAINT } tone;
/* Start and end of a colour, empty where there is none. */
const char *tone_on(bool colour, tone t);
const char *tone_off(bool colour, tone t);

/* How many columns a text takes on a terminal: wide characters take two, combining ones none. */
size_t columns_of(const char *text);
/* As many characters of a text as go into `columns`; the last becomes "…" where some were left out. Free it. */
char *cut_to(const char *text, size_t columns);
/* How wide a stream is shown: a terminal's columns, else what COLUMNS says; 0: no limit. */
size_t width_of(FILE *out);

/* Prints prose, each line end in it a new line, broken between words, at most 100 columns wide, every line behind
 * `indent`; `column` columns stand on the first line already, and are no indent. */
void prose_print(FILE *out, size_t column, const char *indent, const char *text);

/* Prints a line that says what follows, on standard output. */
void title_print(const struct cli *c, const char *text);

/* Prints a word in its colour and what it is about behind it, on standard output; further lines behind an indent. */
void lead_print(const struct cli *c, tone t, const char *lead, const char *indent, const char *text);

#define SHEET_MOST_COLUMNS 6u

/* Rows of cells under titles. A row is laid out once all are known. */
typedef struct sheet {
    FILE *out;
    bool colour;
    const char *const *titles;
    size_t columns;
    GPtrArray *lines;
} sheet;

/* Starts a sheet; `titles` end with NULL, and "" is a column without one. They live as long as the sheet. */
sheet sheet_start(const struct cli *c, FILE *out, const char *const *titles);
/* Adds a row of plain cells: as many texts as there are columns, then NULL. */
void sheet_row(sheet *s, ...) G_GNUC_NULL_TERMINATED;
/* Gives the colour of a cell in the row that was added last. */
void sheet_tone(sheet *s, size_t column, tone t);
/* Adds a heading over the rows that follow; an empty line stands before it. */
void sheet_heading(sheet *s, const char *text);
/* Adds a remark under the row that was added last. */
void sheet_note(sheet *s, tone t, const char *text);
/* Prints all and forgets it. */
void sheet_print(sheet *s);
/* Forgets all, unprinted. */
void sheet_drop(sheet *s);

#endif
