/* SPDX-License-Identifier: MIT
 * The cells of a roster: RFC 4180, by comma or semicolon, as spreadsheets write it. */
#include "parts.h"

#include <csv.h>
#include <string.h>

#define MOST_BYTES (64u << 20)
#define MOST_COLUMNS 256u
#define MOST_ROWS 100000u

typedef struct reading {
    vd_roster *roster;
    vd_findings *findings;
    GPtrArray *cells; /* of the row */
    unsigned line, start;
    bool open, header, too_long;
} reading;

void roster_note(vd_findings *findings, unsigned line, guint column, const char *said, const char *allowed)
{
    vd_fault fault = vd_fault_of_ROSTER_WRONG(said, allowed);
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
    g_ptr_array_add(r->cells, g_string_chunk_insert_len(r->roster->texts, text + from, (gssize)(length - from)));
}

static void take_header(reading *r)
{
    static const char *const words[ROSTER_RESERVED] = {"line", "model", "profile", "serial", "code", "remark"};
    for (guint i = 0; i < r->cells->len; i++) {
        roster_column column = {.name = g_strstrip(g_ptr_array_index(r->cells, i)), .use = ROSTER_SETTING};
        for (guint k = 0; k < ROSTER_RESERVED; k++) {
            column.use = g_ascii_strcasecmp(column.name, words[k]) == 0 ? (roster_use)k : column.use;
        }
        column.found = column.use != ROSTER_SETTING;
        for (guint k = 0; k < i; k++) {
            if (g_ascii_strcasecmp(roster_column_at(r->roster, k)->name, column.name) == 0) {
                roster_note(r->findings, r->start, i, "This column is there twice", "Keep one of the two.");
            }
        }
        g_array_append_val(r->roster->columns, column);
    }
}

static void take_row(reading *r)
{
    guint wanted = r->roster->columns->len;
    roster_line line = {.number = r->start};
    if (r->cells->len != wanted) {
        char *said = g_strdup_printf("This row has %u cells, the header %u", r->cells->len, wanted);
        roster_note(r->findings, r->start, 0, said, "Give each column one cell, empty where nothing is said.");
        g_free(said);
    }
    line.cells = g_new(const char *, wanted);
    g_ptr_array_add(r->roster->memory, line.cells);
    for (guint i = 0; i < wanted; i++) {
        line.cells[i] = i < r->cells->len ? g_ptr_array_index(r->cells, i) : "";
    }
    g_array_append_val(r->roster->lines, line);
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
    } else if (r->roster->lines->len == MOST_ROWS) {
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

bool roster_read(vd_roster *roster, const char *path, vd_findings *findings)
{
    char *text = NULL;
    size_t length = 0;
    vd_fault fault = {0};
    bool sound = vd_file_read(path, MOST_BYTES, &text, &length, &fault) == VD_OK;
    if (sound) {
        sound = roster_parse(roster, text, length, findings);
    } else {
        vd_findings_add(findings, 0, 0, &fault);
    }
    g_free(text);
    return sound;
}

bool roster_parse(vd_roster *roster, const char *text, size_t length, vd_findings *findings)
{
    vd_fault fault = {0};
    reading r = {.roster = roster, .findings = findings, .cells = g_ptr_array_new(), .header = true};
    size_t mark = length >= 3 && memcmp(text, "\xEF\xBB\xBF", 3) == 0 ? 3 : 0;
    bool sound = false;
    if (!g_utf8_validate(text + mark, (gssize)(length - mark), NULL)) {
        fault = vd_fault_of_NOT_UTF8();
        vd_findings_add(findings, 0, 0, &fault);
    } else if (!scan(&r, text + mark, length - mark)) {
        roster_note(findings, r.start, 0, "A quote in this row is not closed, or stands inside a cell",
                    "Put the whole cell into quotes, and double each quote in it.");
    } else if (r.too_long || roster->columns->len > MOST_COLUMNS) {
        roster_note(findings, r.line, 0, "The roster is too long", "Give 100000 rows and 256 columns at most.");
    } else if (roster->lines->len == 0) {
        roster_note(findings, 1, 0, "The roster lists no unit", "Give a header, and a row for each unit.");
    } else {
        sound = true;
    }
    g_ptr_array_free(r.cells, TRUE);
    return sound;
}

/* ---- Writing ---- */

static bool is_number(const char *text)
{
    const char *digits = text + (text[0] == '-' || text[0] == '+');
    return digits[0] != '\0' && digits[strspn(digits, "0123456789.,")] == '\0';
}

static void write_cell(GString *out, bool first, const char *text)
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

char *vd_roster_text(const vd_roster *roster, const char *const *serials, bool all)
{
    GString *out = g_string_new("");
    guint own = roster->columns->len;
    for (guint i = 0; i < roster->columns->len; i++) {
        own = roster_column_at(roster, i)->use == ROSTER_SERIAL ? i : own;
        write_cell(out, i == 0, roster_column_at(roster, i)->name);
    }
    g_string_append(out, own == roster->columns->len ? ",serial\r\n" : "\r\n");
    for (guint n = 0; n < roster->lines->len; n++) {
        const roster_line *line = roster_line_at(roster, n);
        if (!all && serials[n] == NULL) {
            continue;
        }
        for (guint i = 0; i < roster->columns->len; i++) {
            bool learned = i == own && line->cells[i][0] == '\0' && serials[n] != NULL;
            write_cell(out, i == 0, learned ? serials[n] : line->cells[i]);
        }
        if (own == roster->columns->len) {
            write_cell(out, false, serials[n] != NULL ? serials[n] : "");
        }
        g_string_append(out, "\r\n");
    }
    return g_string_free(out, FALSE);
}
