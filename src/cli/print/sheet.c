/* SPDX-License-Identifier: MIT
 * Columns. What does not fit beside stands below its row, behind its title. */
#include "print.h"

#include <stdarg.h>
#include <string.h>

#define INDENT 2u
#define DEEPER 6u
#define GAP 2u
#define MOST_PROSE 100u /* columns: longer lines are hard to read */
#define MOST_COLUMN 34u /* a column is no wider for the sake of a single cell */
#define LEAST_LAST 22u  /* columns that the last cell of a row must have to itself */
#define LEAST_BESIDE                                                                                                   \
    12u /* columns for which a cell is kept beside the one before it, if the others of its column fit */

typedef enum line_kind { LINE_ROW, LINE_HEADING, LINE_NOTE } line_kind;

/* A row, or the one text of a heading or a remark. */
typedef struct line {
    line_kind kind;
    char *texts[SHEET_MOST_COLUMNS];
    tone tones[SHEET_MOST_COLUMNS];
} line;

static void free_line(void *about)
{
    line *l = about;
    for (size_t i = 0; i < SHEET_MOST_COLUMNS; i++) {
        g_free(l->texts[i]);
    }
    g_free(l);
}

sheet sheet_start(const cli *c, FILE *out, const char *const *titles)
{
    sheet s = {.out = out, .colour = out == stderr ? c->colour_messages : c->colour, .titles = titles};
    s.columns = g_strv_length((char **)titles);
    s.lines = g_ptr_array_new_with_free_func(free_line);
    return s;
}

static line *add(sheet *s, line_kind kind)
{
    line *l = g_new0(line, 1);
    l->kind = kind;
    g_ptr_array_add(s->lines, l);
    return l;
}

void sheet_row(sheet *s, ...)
{
    line *l = add(s, LINE_ROW);
    va_list cells;
    va_start(cells, s);
    for (size_t i = 0; i < s->columns; i++) {
        l->texts[i] = screen_text(s->out, va_arg(cells, const char *));
    }
    va_end(cells);
}

void sheet_tone(sheet *s, size_t column, tone t)
{
    ((line *)g_ptr_array_index(s->lines, s->lines->len - 1))->tones[column] = t;
}

void sheet_heading(sheet *s, const char *text)
{
    line *l = add(s, LINE_HEADING);
    l->texts[0] = screen_text(s->out, text);
    l->tones[0] = TONE_STRONG;
}

void sheet_note(sheet *s, tone t, const char *text)
{
    line *l = add(s, LINE_NOTE);
    l->texts[0] = screen_text(s->out, text);
    l->tones[0] = t;
}

/* ---- Laying out ---- */

/* How the columns of a sheet stand. */
typedef struct layout {
    size_t width;  /* of the stream; 0: no limit */
    size_t beside; /* how many columns stand beside each other */
    size_t widths[SHEET_MOST_COLUMNS];
    bool titled;
} layout;

static layout lay_out(const sheet *s)
{
    layout l = {.width = width_of(s->out), .beside = s->columns};
    size_t needed = INDENT, narrow = INDENT;
    for (size_t i = 0; i < s->columns; i++) {
        l.widths[i] = columns_of(s->titles[i]);
        l.titled = l.titled || l.widths[i] > 0;
        for (guint k = 0; k < s->lines->len; k++) {
            const line *row = g_ptr_array_index(s->lines, k);
            size_t own = row->kind == LINE_ROW ? columns_of(row->texts[i]) : 0;
            l.widths[i] = MAX(l.widths[i], i + 1 < s->columns ? MIN(own, MOST_COLUMN) : own);
        }
        needed += i + 1 < s->columns ? l.widths[i] + GAP : MIN(l.widths[i], LEAST_LAST);
    }
    if (l.width > 0 && needed > l.width) {
        l.beside = 0;
        for (size_t i = 0; i < s->columns && (i == 0 || narrow + MIN(l.widths[i], LEAST_BESIDE) <= l.width); i++) {
            narrow += l.widths[i] + GAP;
            l.beside = i + 1;
        }
        l.beside = MIN(l.beside, s->columns - 1); /* the last one had its chance */
    }
    return l;
}

static void add_toned(const sheet *s, GString *out, const char *text, tone t)
{
    g_string_append_printf(out, "%s%s%s", tone_on(s->colour, t), text, tone_off(s->colour, t));
}

/* Words of a cell, broken between words within `width` columns behind `column` of them, its colour begun anew in each
 * line so that blanks have none. */
static void add_cell(const sheet *s, GString *out, const char *text, tone t, size_t column, size_t width)
{
    char **words = prose_words(text);
    size_t used = 0;
    for (char **word = words; *word != NULL; word++) {
        size_t length = columns_of(*word);
        bool breaks = used > 0 && width > 0 && used + 1 + length > width;
        if (breaks) {
            g_string_append_printf(out, "\n%*s", (int)column, "");
        } else if (used > 0) {
            g_string_append_c(out, ' ');
        }
        add_toned(s, out, *word, t);
        used = (breaks || used == 0 ? 0 : used + 1) + length;
    }
    g_strfreev(words);
}

/* The cells that stand beside each other. One that is wider than its column has the rest of the row below it. */
static void add_beside(const sheet *s, GString *out, const line *row, const layout *l)
{
    size_t at = INDENT, last = l->beside, column = 0;
    while (last > 0 && row->texts[last - 1][0] == '\0') {
        last--;
    }
    for (size_t i = 0; i < last; i++) {
        size_t own = columns_of(row->texts[i]);
        bool narrow = l->beside < s->columns && i > 0 && l->width > 0 && at + own > l->width;
        if (column > at || narrow) {
            at = narrow ? DEEPER : at;
            g_string_append_printf(out, "\n%*s", (int)at, "");
        } else {
            g_string_append_printf(out, "%*s", (int)(at - column), "");
        }
        bool wide = l->width > 0 && at + own > l->width;
        if (i + 1 == s->columns || narrow || wide) {
            size_t limit = l->width > 0 ? l->width : MOST_PROSE;
            add_cell(s, out, row->texts[i], row->tones[i], at, MAX(limit, at + LEAST_BESIDE) - at);
        } else {
            add_toned(s, out, row->texts[i], row->tones[i]);
        }
        column = at + own;
        at += narrow ? own + GAP : l->widths[i] + GAP;
    }
    g_string_append_c(out, '\n');
}

/* The others, each behind its title; those without one share lines where they fit. */
static void add_below(const sheet *s, GString *out, const line *row, const layout *l)
{
    size_t column = 0;
    for (size_t i = l->beside; i < s->columns; i++) {
        size_t title = columns_of(s->titles[i]), own = columns_of(row->texts[i]);
        if (own == 0) {
            continue;
        }
        if (title == 0 && column > 0 && column + GAP + own <= l->width) {
            g_string_append_printf(out, "%*s", (int)GAP, "");
            column += GAP;
        } else {
            g_string_append_printf(out, "%s%*s%s%s", column > 0 ? "\n" : "", (int)DEEPER, "", s->titles[i],
                                   title > 0 ? ": " : "");
            column = DEEPER + (title > 0 ? title + 2 : 0);
        }
        add_cell(s, out, row->texts[i], row->tones[i], DEEPER, l->width > column + 8 ? l->width - column : 8);
        column = title > 0 || column + own > l->width ? l->width : column + own;
    }
    g_string_append(out, column > 0 ? "\n" : "");
}

static void add_line(const sheet *s, GString *out, const line *row, const layout *l)
{
    if (row->kind == LINE_ROW) {
        add_beside(s, out, row, l);
        add_below(s, out, row, l);
        return;
    }
    size_t indent = row->kind == LINE_NOTE ? DEEPER : 0;
    g_string_append_printf(out, "%s%*s", row->kind == LINE_HEADING ? "\n" : "", (int)indent, "");
    add_cell(s, out, row->texts[0], row->tones[0], indent, l->width > indent ? l->width - indent : 0);
    g_string_append_c(out, '\n');
}

char *sheet_text(const sheet *s)
{
    layout l = lay_out(s);
    GString *out = g_string_new("");
    line head = {.kind = LINE_ROW};
    for (size_t i = 0; i < s->columns; i++) {
        head.texts[i] = (char *)s->titles[i];
        head.tones[i] = TONE_FAINT;
    }
    bool headed = !l.titled;
    for (guint i = 0; i < s->lines->len; i++) {
        const line *row = g_ptr_array_index(s->lines, i);
        if (!headed && row->kind == LINE_ROW) {
            headed = true;
            add_beside(s, out, &head, &l);
        }
        add_line(s, out, row, &l);
    }
    return g_string_free(out, FALSE);
}

void sheet_print(sheet *s)
{
    char *text = sheet_text(s);
    screen_put(s->out, text);
    g_free(text);
    sheet_drop(s);
}

void sheet_drop(sheet *s)
{
    g_ptr_array_free(s->lines, TRUE);
    s->lines = NULL;
}
