/* SPDX-License-Identifier: MIT
 * Columns, prose and colours. */
#include "print.h"

#include <stdarg.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

#define INDENT "  "
#define DEEPER "      "
#define GAP 2u
#define MOST_PROSE 100u /* columns: longer lines are hard to read */
#define MOST_COLUMN 34u /* a column is no wider for the sake of a single cell */
#define LEAST_LAST 22u  /* columns that the last cell of a row must have to itself */

const char *tone_on(bool colour, tone t)
{
    static const char *const codes[] = {"", "\033[1m", "\033[32m", "\033[1;31m", "\033[35m", "\033[2m"};
    return colour ? codes[t] : "";
}

const char *tone_off(bool colour, tone t)
{
    return colour && t != TONE_PLAIN ? "\033[0m" : "";
}

static size_t columns_of_character(gunichar c)
{
    return g_unichar_iszerowidth(c) ? 0 : g_unichar_iswide(c) ? 2 : 1;
}

size_t columns_of(const char *text)
{
    size_t columns = 0;
    for (const char *at = text; *at != '\0'; at = g_utf8_next_char(at)) {
        columns += columns_of_character(g_utf8_get_char(at));
    }
    return columns;
}

char *cut_to(const char *text, size_t columns)
{
    size_t used = 0;
    const char *at = text, *last = text;
    if (columns_of(text) <= columns) {
        return g_strdup(text);
    }
    for (; *at != '\0'; at = g_utf8_next_char(at)) {
        used += columns_of_character(g_utf8_get_char(at));
        last = used + 1 <= columns ? g_utf8_next_char(at) : last;
    }
    return g_strdup_printf("%.*s%s", (int)(last - text), text, columns > 0 ? "…" : "");
}

size_t width_of(FILE *out)
{
    struct winsize window = {0};
    guint64 said = 0;
    if (isatty(fileno(out)) != 0) {
        return ioctl(fileno(out), TIOCGWINSZ, &window) == 0 && window.ws_col > 0 ? window.ws_col : 80;
    }
    const char *columns = g_getenv("COLUMNS");
    return columns != NULL && g_ascii_string_to_unsigned(columns, 10, 20, 1000, &said, NULL) ? (size_t)said : 0;
}

/* ---- Prose ---- */

/* One line of prose; `lead` stands before its first word where that begins a line, `indent` where it is broken. */
static void print_words(FILE *out, size_t column, size_t width, const char *lead, const char *indent, const char *text)
{
    char **words = g_strsplit(text, " ", -1);
    for (char **word = words; *word != NULL; word++) {
        size_t length = columns_of(*word);
        bool first = column == 0 && word == words, breaks = width > 0 && !first && column + 1 + length > width;
        const char *before = first ? lead : breaks ? indent : "";
        fprintf(out, "%s%s%s", first ? "" : breaks ? "\n" : " ", before, *word);
        column = (first || breaks ? columns_of(before) : column + 1) + length;
    }
    fputc('\n', out);
    g_strfreev(words);
}

void prose_print(FILE *out, size_t column, const char *indent, const char *text)
{
    size_t width = width_of(out);
    char **lines = g_strsplit(text, "\n", -1);
    for (char **line = lines; *line != NULL; line++) {
        /* What is set in hangs by its own beginning. */
        size_t set_in = strspn(*line, " ");
        char *hanging = set_in > 0 ? g_strnfill(set_in + 2, ' ') : g_strdup(indent);
        print_words(out, line == lines ? column : 0, width > 0 ? MIN(width, MOST_PROSE) : MOST_PROSE,
                    set_in > 0 ? "" : indent, hanging, *line);
        g_free(hanging);
    }
    g_strfreev(lines);
}

void title_print(const cli *c, const char *text)
{
    fputs(tone_on(c->colour, TONE_STRONG), stdout);
    prose_print(stdout, 0, "", text);
    fputs(tone_off(c->colour, TONE_STRONG), stdout);
}

void lead_print(const cli *c, tone t, const char *lead, const char *indent, const char *text)
{
    printf("%s%s%s", tone_on(c->colour, t), lead, tone_off(c->colour, t));
    prose_print(stdout, columns_of(lead), indent, text);
}

/* ---- Sheets ---- */

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
        l->texts[i] = g_strdup(va_arg(cells, const char *));
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
    l->texts[0] = g_strdup(text);
    l->tones[0] = TONE_STRONG;
}

void sheet_note(sheet *s, tone t, const char *text)
{
    line *l = add(s, LINE_NOTE);
    l->texts[0] = g_strdup(text);
    l->tones[0] = t;
}

static void print_toned(const sheet *s, const char *text, tone t)
{
    fprintf(s->out, "%s%s%s", tone_on(s->colour, t), text, tone_off(s->colour, t));
}

static void print_blanks(const sheet *s, size_t count)
{
    fprintf(s->out, "%*s", (int)count, "");
}

/* Words of a cell, broken between words within `width` columns behind `column` of them, its colour begun anew in each
 * line so that blanks have none. */
static void print_cell(const sheet *s, const char *text, tone t, size_t column, size_t width)
{
    char **words = g_strsplit(text, " ", -1);
    size_t used = 0;
    for (char **word = words; *word != NULL; word++) {
        size_t length = columns_of(*word);
        bool breaks = used > 0 && width > 0 && used + 1 + length > width;
        if (breaks) {
            fputc('\n', s->out);
            print_blanks(s, column);
        } else if (used > 0) {
            fputc(' ', s->out);
        }
        print_toned(s, *word, t);
        used = (breaks || used == 0 ? 0 : used + 1) + length;
    }
    g_strfreev(words);
}

/* One row beside the others. A cell that is wider than its column has the rest of the row below it. */
static void print_beside(const sheet *s, const line *l, const size_t *widths, size_t width)
{
    size_t at = columns_of(INDENT), last = s->columns, column = at;
    while (last > 0 && l->texts[last - 1][0] == '\0') {
        last--;
    }
    fputs(INDENT, s->out);
    for (size_t i = 0; i < last; i++) {
        if (column > at) {
            fputc('\n', s->out);
            print_blanks(s, at);
        } else {
            print_blanks(s, at - column);
        }
        if (i + 1 == s->columns) {
            print_cell(s, l->texts[i], l->tones[i], at, MAX(width > 0 ? width : MOST_PROSE, at + LEAST_LAST) - at);
        } else {
            print_toned(s, l->texts[i], l->tones[i]);
        }
        column = at + columns_of(l->texts[i]);
        at += widths[i] + GAP;
    }
    fputc('\n', s->out);
}

/* One row in lines of its own: its first cell, and below it the others, each with its title; those without one share
 * lines where they fit. */
static void print_below(const sheet *s, const line *l, size_t width)
{
    size_t indent = columns_of(DEEPER), column = 0;
    fputs(INDENT, s->out);
    print_cell(s, l->texts[0], l->tones[0], columns_of(INDENT), width - columns_of(INDENT));
    for (size_t i = 1; i < s->columns; i++) {
        size_t title = columns_of(s->titles[i]), own = columns_of(l->texts[i]);
        if (own == 0) {
            continue;
        }
        if (title == 0 && column > 0 && column + GAP + own <= width) {
            print_blanks(s, GAP);
            column += GAP;
        } else {
            fprintf(s->out, "\n" DEEPER "%s%s", s->titles[i], title > 0 ? ": " : "");
            column = indent + (title > 0 ? title + 2 : 0);
        }
        print_cell(s, l->texts[i], l->tones[i], column, width > column + 8 ? width - column : 8);
        column = title > 0 || column + own > width ? width : column + own;
    }
    fputc('\n', s->out);
}

static void measure(const sheet *s, size_t *widths, bool *titled)
{
    for (size_t i = 0; i < s->columns; i++) {
        widths[i] = columns_of(s->titles[i]);
        *titled = *titled || widths[i] > 0;
        for (guint k = 0; k < s->lines->len; k++) {
            const line *l = g_ptr_array_index(s->lines, k);
            size_t own = l->kind == LINE_ROW ? columns_of(l->texts[i]) : 0;
            widths[i] = MAX(widths[i], i + 1 < s->columns ? MIN(own, MOST_COLUMN) : own);
        }
    }
}

static void print_line(const sheet *s, const line *l, const size_t *widths, size_t width, bool beside)
{
    if (l->kind == LINE_HEADING) {
        fputc('\n', s->out);
        print_cell(s, l->texts[0], l->tones[0], 0, width);
        fputc('\n', s->out);
    } else if (l->kind == LINE_NOTE) {
        fputs(DEEPER, s->out);
        print_cell(s, l->texts[0], l->tones[0], columns_of(DEEPER), width > 0 ? width - columns_of(DEEPER) : 0);
        fputc('\n', s->out);
    } else if (beside) {
        print_beside(s, l, widths, width);
    } else {
        print_below(s, l, width);
    }
}

void sheet_print(sheet *s)
{
    size_t widths[SHEET_MOST_COLUMNS] = {0}, width = width_of(s->out), needed = columns_of(INDENT);
    bool titled = false, beside = true;
    measure(s, widths, &titled);
    for (size_t i = 0; i < s->columns; i++) {
        needed += i + 1 < s->columns ? widths[i] + GAP : MIN(widths[i], LEAST_LAST);
    }
    beside = width == 0 || needed <= width;
    line head = {.kind = LINE_ROW};
    for (size_t i = 0; i < s->columns; i++) {
        head.texts[i] = (char *)s->titles[i];
        head.tones[i] = TONE_FAINT;
    }
    bool headed = !titled || !beside;
    for (guint i = 0; i < s->lines->len; i++) {
        const line *l = g_ptr_array_index(s->lines, i);
        if (!headed && l->kind == LINE_ROW) {
            headed = true;
            print_beside(s, &head, widths, width);
        }
        print_line(s, l, widths, width, beside);
    }
    sheet_drop(s);
}

void sheet_drop(sheet *s)
{
    g_ptr_array_free(s->lines, TRUE);
    s->lines = NULL;
}
