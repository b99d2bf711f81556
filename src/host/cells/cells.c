/* SPDX-License-Identifier: MIT
 * Reads and writes cells, by libcsv. */
#include "cells.h"

#include <csv.h>
#include <string.h>

#define MOST_BYTES (64u << 20)
#define MOST_COLUMNS 256u
#define MOST_ROWS 100000u

typedef struct reading {
    cell_table *table;
    vd_findings *findings;
    GPtrArray *cells; /* of the row */
    unsigned line, start;
    bool open, header, too_long;
} reading;

void cells_note(vd_findings *findings, unsigned line, guint column, const char *said, const char *allowed)
{
    vd_fault fault = vd_fault_of_TABLE_WRONG(said, allowed);
    vd_findings_add(findings, line, column + 1, &fault);
}

/* What a spreadsheet would take for a formula. */
static bool is_formula(const char *text)
{
    return text[0] != '\0' && strchr("=+-@\t'", text[0]) != NULL;
}

/* That is written with ' before it; one is taken off again. */
static void on_cell(void *cell, size_t length, void *about)
{
    reading *r = about;
    const char *text = cell != NULL ? cell : "";
    gsize from = length > 1 && text[0] == '\'' && is_formula(text + 1) ? 1 : 0;
    g_ptr_array_add(r->cells, g_string_chunk_insert_len(r->table->texts, text + from, (gssize)(length - from)));
}

static void take_header(reading *r)
{
    for (guint i = 0; i < r->cells->len; i++) {
        const char *name = g_strstrip(g_ptr_array_index(r->cells, i));
        for (guint k = 0; k < i; k++) {
            if (g_ascii_strcasecmp(g_ptr_array_index(r->table->names, k), name) == 0) {
                cells_note(r->findings, r->start, i, "This column is there twice", "Keep one of the two.");
            }
        }
        g_ptr_array_add(r->table->names, (gpointer)name);
    }
}

static void take_row(reading *r)
{
    guint wanted = r->table->names->len;
    cell_row row = {.number = r->start};
    if (r->cells->len != wanted) {
        char *said = g_strdup_printf("This row has %u cells, the header %u", r->cells->len, wanted);
        cells_note(r->findings, r->start, 0, said, "Give each column one cell, empty where nothing is said.");
        g_free(said);
    }
    row.cells = g_new(const char *, wanted);
    g_ptr_array_add(r->table->memory, row.cells);
    for (guint i = 0; i < wanted; i++) {
        row.cells[i] = i < r->cells->len ? g_ptr_array_index(r->cells, i) : "";
    }
    g_array_append_val(r->table->rows, row);
}

static void on_row(int end, void *about)
{
    reading *r = about;
    (void)end;
    bool empty = true;
    for (guint i = 0; i < r->cells->len; i++) {
        empty = empty && ((const char *)g_ptr_array_index(r->cells, i))[0] == '\0';
    }
    if (r->header) {
        take_header(r);
    } else if (r->table->rows->len == MOST_ROWS) {
        r->too_long = true;
    } else if (!empty) { /* a spreadsheet leaves rows of commas behind */
        take_row(r);
    }
    r->header = false;
    r->open = false;
    g_ptr_array_set_size(r->cells, 0);
}

/* A semicolon where the header has one, and no comma outside quotes. */
static unsigned char separator_of(const char *text, size_t length)
{
    bool quoted = false, semicolon = false;
    for (size_t i = 0; i < length && (quoted || text[i] != '\n'); i++) {
        quoted = quoted != (text[i] == '"');
        if (!quoted && text[i] == ',') {
            return ',';
        }
        semicolon = semicolon || (!quoted && text[i] == ';');
    }
    return semicolon ? ';' : ',';
}

/* Line by line, so that each row is known by the line on which it begins. */
static bool scan(reading *r, const char *text, size_t length)
{
    struct csv_parser parser;
    bool sound = csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI) == 0;
    csv_set_delim(&parser, separator_of(text, length));
    for (size_t at = 0; at < length && sound;) {
        const char *end = memchr(text + at, '\n', length - at);
        size_t piece = end != NULL ? (size_t)(end - text) + 1 - at : length - at;
        r->line++;
        r->start = r->open ? r->start : r->line;
        r->open = r->open || piece > 2 || (piece > 0 && text[at] != '\n' && text[at] != '\r');
        sound = csv_parse(&parser, text + at, piece, on_cell, on_row, r) == piece;
        at += piece;
    }
    sound = sound && csv_fini(&parser, on_cell, on_row, r) == 0;
    csv_free(&parser);
    return sound;
}

void cells_free(cell_table *table)
{
    if (table != NULL) {
        g_ptr_array_free(table->names, TRUE);
        g_array_free(table->rows, TRUE);
        g_ptr_array_free(table->memory, TRUE);
        g_string_chunk_free(table->texts);
        g_free(table);
    }
}

cell_table *cells_read(const char *path, vd_findings *findings)
{
    char *text = NULL;
    size_t length = 0;
    vd_fault fault = {0};
    cell_table *table = NULL;
    if (vd_file_read(path, MOST_BYTES, &text, &length, &fault) == VD_OK) {
        table = cells_parse(text, length, findings);
    } else {
        vd_findings_add(findings, 0, 0, &fault);
    }
    g_free(text);
    return table;
}

cell_table *cells_parse(const char *text, size_t length, vd_findings *findings)
{
    vd_fault fault = {0};
    cell_table *table = g_new0(cell_table, 1);
    *table = (cell_table){.names = g_ptr_array_new(),
                          .rows = g_array_new(FALSE, TRUE, sizeof(cell_row)),
                          .texts = g_string_chunk_new(65536),
                          .memory = g_ptr_array_new_with_free_func(g_free)};
    reading r = {.table = table, .findings = findings, .cells = g_ptr_array_new(), .header = true};
    size_t mark = length >= 3 && memcmp(text, "\xEF\xBB\xBF", 3) == 0 ? 3 : 0;
    bool sound = false;
    if (!g_utf8_validate(text + mark, (gssize)(length - mark), NULL)) {
        fault = vd_fault_of_NOT_UTF8();
        vd_findings_add(findings, 0, 0, &fault);
    } else if (!scan(&r, text + mark, length - mark)) {
        cells_note(findings, r.start, 0, "A quote in this row is not closed, or stands inside a cell",
                   "Put the whole cell into quotes, and double each quote in it.");
    } else if (r.too_long || table->names->len > MOST_COLUMNS) {
        cells_note(findings, r.line, 0, "The table is too long", "Give 100000 rows and 256 columns at most.");
    } else {
        sound = true;
    }
    g_ptr_array_free(r.cells, TRUE);
    if (!sound) {
        cells_free(table);
    }
    return sound ? table : NULL;
}

/* "1.2E+05" in a cell that is no such number: a spreadsheet rewrote what was typed. */
static bool is_mangled(const char *text)
{
    size_t digits = strspn(text, "0123456789.,");
    return digits > 0 && (text[digits] == 'E' || text[digits] == 'e') && text[digits + 1] == '+' &&
           text[digits + 2] != '\0' && text[digits + 2 + strspn(text + digits + 2, "0123456789")] == '\0';
}

bool cells_note_mangled(vd_findings *findings, unsigned line, guint column, const char *text)
{
    if (is_mangled(text)) {
        char *said = g_strdup_printf("A spreadsheet made \"%s\" of a longer number", text);
        cells_note(findings, line, column, said, "Make the column one of texts there, and type the number again.");
        g_free(said);
    }
    return is_mangled(text);
}

/* ---- Writing ---- */

static bool is_number(const char *text)
{
    const char *digits = text + (text[0] == '-' || text[0] == '+');
    return digits[0] != '\0' && digits[strspn(digits, "0123456789.,")] == '\0';
}

void cells_write(GString *out, bool first, const char *text)
{
    char *whole = is_formula(text) && !is_number(text) ? g_strconcat("'", text, NULL) : g_strdup(text);
    size_t size = 2 * strlen(whole) + 3;
    char *quoted = g_malloc(size);
    bool bare = whole[strcspn(whole, ",;\"\r\n")] == '\0' && whole[0] != ' ';
    size_t length = bare ? 0 : csv_write(quoted, size, whole, strlen(whole));
    g_string_append_printf(out, "%s%.*s", first ? "" : ",", bare ? (int)strlen(whole) : (int)length,
                           bare ? whole : quoted);
    g_free(quoted);
    g_free(whole);
}

/* ---- Values ---- */

static const char *const empty_text = "\"\"";

const char *cells_value(const char *cell)
{
    return strcmp(cell, empty_text) == 0 ? "" : cell;
}

/* What would be read as the empty text leaves its setting as it is. */
void cells_write_value(GString *out, const char *value)
{
    cells_write(out, false, value[0] == '\0' ? empty_text : strcmp(value, empty_text) == 0 ? "" : value);
}
