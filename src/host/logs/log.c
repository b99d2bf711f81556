/* SPDX-License-Identifier: MIT
 * Logs read row by row: the parser of the library gives cells, and these become times and values. */
#include "parts.h"
#include "verdite/text.h"

#include <errno.h>
#include <fcntl.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#define PIECE 65536u
#define MOST_COLUMNS 512u
#define MOST_CELL 4096u /* bytes of a cell that is looked at; the header of a wrong file may be anything */

/* ---- Scanning ---- */

typedef struct scan {
    vd_log *log;
    record_taker *take;
    void *taker;
    record_row row;
    record_day day;
    guint column;
    uint64_t line;
    bool header, naming; /* the header comes by; its names are wanted */
    bool dated, any;     /* of the row */
    bool seen_time, unzoned;
    bool counting;       /* what is amiss is counted in one scan only */
    uint64_t from, most; /* where it begins, and how many bytes it takes; 0: all */
} scan;

/* As much of a cell as may be shown. */
static void copy_cell(char *to, size_t size, const char *text, size_t length)
{
    size_t shown = vd_text_line(text, MIN(length, size - 1));
    memcpy(to, text, shown);
    to[shown] = '\0';
}

static void take_time(scan *s, const char *text, size_t length)
{
    int16_t zone = s->log->zone;
    vd_time_kind kind = record_time(&s->day, text, length, &zone, &s->row.time);
    s->dated = kind == VD_TIME_FINE;
    s->unzoned = s->unzoned || kind == VD_TIME_WITHOUT_ZONE;
    if (s->dated && !s->seen_time) {
        s->log->first_zone = zone;
        s->seen_time = true;
    }
    if (!s->dated && s->counting) {
        vd_log_counts *counts = &s->log->counts;
        if (counts->no_time++ == 0) {
            counts->no_time_line = s->line;
            copy_cell(counts->no_time_text, sizeof counts->no_time_text, text, length);
        }
    }
}

static void note_odd(scan *s, uint16_t channel, const char *text, size_t length)
{
    vd_log_cells *cells = &s->log->counts.cells[channel];
    if (s->counting && cells->odd++ == 0) {
        cells->odd_line = s->line;
        copy_cell(cells->odd_text, sizeof cells->odd_text, text, length);
    }
}

static void take_value(scan *s, uint16_t channel, const char *text, size_t length)
{
    const uint64_t bit = (uint64_t)1 << channel;
    int64_t *number = &s->row.numbers[channel];
    s->row.cells |= bit;
    if ((s->log->states & bit) == 0) {
        if (record_number(text, length, s->log->places[channel], number)) {
            s->row.known |= bit;
        } else if (!record_is_nothing(text, length)) {
            note_odd(s, channel, text, length);
        }
    } else if (record_state(s->log->model, channel, text, length, number)) {
        s->row.known |= bit;
    } else if (!record_is_nothing(text, length)) {
        s->row.known |= bit;
        note_odd(s, channel, text, length);
    }
}

static void add_name(scan *s, const char *text, size_t length)
{
    record_column one = {.channel = VD_NONE};
    char name[128];
    bool marked = length >= 3 && memcmp(text, "\xEF\xBB\xBF", 3) == 0; /* a mark of UTF-8 may stand there */
    copy_cell(name, sizeof name, text + (marked ? 3 : 0), length - (marked ? 3 : 0));
    one.name = g_strdup(name);
    g_array_append_val(s->log->columns, one);
}

static void on_cell(void *cell, size_t length, void *about)
{
    scan *s = about;
    guint column = s->column++;
    const char *text = cell != NULL ? cell : "";
    s->any = s->any || length > 0;
    if (s->header && s->naming && s->log->columns->len < MOST_COLUMNS) {
        add_name(s, text, length);
    }
    if (s->header) {
        return;
    }
    if (column >= s->log->columns->len) {
        return;
    }
    uint16_t channel = g_array_index(s->log->columns, record_column, column).channel;
    if (channel == VD_TIME_COLUMN) {
        take_time(s, text, length);
    } else if (channel != VD_NONE) {
        take_value(s, channel, text, length);
    }
}

static void on_row(int end, void *about)
{
    scan *s = about;
    bool row = s->any && !s->header;
    s->log->counts.rows += row && s->counting;
    if (row && s->dated) {
        s->row.line = s->line;
        s->take(s->taker, &s->row);
    }
    s->header = s->header && !s->any; /* the first line with anything in it */
    s->column = 0;
    s->dated = s->any = false;
    s->row.cells = s->row.known = 0;
    s->line += end == '\n';
}

static vd_status note_broken(const scan *s, const char *why, vd_fault *fault)
{
    char *said = g_strdup_printf("line %" G_GUINT64_FORMAT " %s", s->line, why);
    vd_status status = vd_note_LOG_WRONG(fault, said, "Correct the line, or export the log again.");
    g_free(said);
    return status;
}

/* How far a scan goes. */
typedef enum reach { TO_HEADER, TO_FIRST_TIME, TO_END } reach;

static bool is_there(const scan *s, reach to)
{
    return to == TO_HEADER ? !s->header : to == TO_FIRST_TIME && s->seen_time;
}

static vd_status run(scan *s, reach to, vd_log_progress *progress, void *about, vd_fault *fault)
{
    struct csv_parser parser;
    char *piece = g_malloc(PIECE);
    vd_status status = VD_OK;
    uint64_t done = 0;
    size_t got = 0;
    unsigned told = 0;
    csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI | CSV_REPALL_NL);
    csv_set_delim(&parser, (unsigned char)s->log->separator);
    fseeko(s->log->file, (off_t)s->from, SEEK_SET);
    while (status == VD_OK && !is_there(s, to) && (s->most == 0 || done < s->most) &&
           (got = fread(piece, 1, PIECE, s->log->file)) > 0) {
        if (csv_parse(&parser, piece, got, on_cell, on_row, s) != got) {
            status = note_broken(s, "has a quotation mark in the wrong place", fault);
        } else if (csv_get_buffer_size(&parser) > (1u << 20)) {
            status = note_broken(s, "has a cell without an end", fault);
        }
        done += got;
        unsigned permille = s->log->size > 0 ? (unsigned)(done * 1000 / s->log->size) : 1000;
        if (status == VD_OK && progress != NULL && permille > told && !progress(about, told = permille)) {
            status = vd_note_STOPPED(fault, "");
        }
    }
    if (status == VD_OK && to == TO_END && csv_fini(&parser, on_cell, on_row, s) != 0) {
        status = note_broken(s, "ends within quotation marks", fault);
    }
    csv_free(&parser);
    g_free(piece);
    return status;
}

vd_status record_scan(vd_log *log, record_taker *take, void *taker, vd_log_progress *progress, void *about,
                      vd_fault *fault)
{
    scan s = {.log = log, .take = take, .taker = taker, .header = true, .line = 1, .counting = !log->counted};
    record_stack *stack = log->counts.turned ? record_stack_new(log) : NULL;
    if (stack != NULL) {
        s.take = record_stack_push;
        s.taker = stack;
    }
    vd_status status = run(&s, TO_END, progress, about, fault);
    if (stack != NULL) {
        status = status == VD_OK ? record_stack_empty(stack, take, taker, fault) : status;
        record_stack_free(stack);
    }
    log->counted = true;
    if (status == VD_OK && s.unzoned) {
        status = vd_note_LOG_WRONG(fault, "its times have no zone", "Give one, such as +02:00, or Z for UTC.");
    }
    if (status == VD_OK && !s.seen_time) {
        status = log->counts.rows == 0
                     ? vd_note_LOG_WRONG(fault, "it has no row below its header", "Export the log again.")
                     : vd_note_LOG_WRONG(fault, "no row has a time", "Times are ISO 8601: 2026-05-02T08:00:00Z.");
    }
    return status;
}

void record_look(vd_log *log, uint64_t bytes, record_taker *take, void *taker)
{
    scan s = {.log = log, .take = take, .taker = taker, .header = true, .line = 1, .most = bytes};
    run(&s, TO_END, NULL, NULL, NULL);
}

/* ---- Opening ---- */

/* What parts its columns: what stands most often in its first line, of comma, semicolon and tab. */
static char separator_of(FILE *file)
{
    static const char separators[] = {',', ';', '\t'};
    unsigned counts[3] = {0, 0, 0}, best = 0;
    int ch = 0;
    rewind(file);
    for (size_t i = 0; i < MOST_CELL && (ch = fgetc(file)) != EOF && ch != '\n'; i++) {
        for (unsigned k = 0; k < 3; k++) {
            counts[k] += ch == separators[k];
        }
    }
    for (unsigned k = 1; k < 3; k++) {
        best = counts[k] > counts[best] ? k : best;
    }
    return separators[best];
}

static FILE *open_ordinary(const char *path, uint64_t *size, vd_fault *fault)
{
    struct stat about;
    int from = open(path, O_RDONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC);
    FILE *file = NULL;
    if (from < 0 || fstat(from, &about) != 0) {
        vd_note_FILE_UNREADABLE(fault, errno == EACCES ? "you may not read it" : g_strerror(errno));
    } else if (!S_ISREG(about.st_mode)) {
        vd_note_FILE_UNREADABLE(fault, "it is not an ordinary file");
    } else {
        *size = (uint64_t)about.st_size;
        file = fdopen(from, "rb");
    }
    if (file == NULL && from >= 0) {
        close(from);
    }
    return file;
}

static void take_nothing(void *about, const record_row *row)
{
    (void)about, (void)row;
}

/* The times of the first two rows that are apart, and of the last. */
typedef struct ends {
    int64_t first, next, last;
    bool any, apart;
} ends;

static void take_ends(void *about, const record_row *row)
{
    ends *e = about;
    e->first = e->any ? e->first : row->time;
    if (!e->apart && row->time != e->first) {
        e->next = row->time;
        e->apart = true;
    }
    e->last = row->time;
    e->any = true;
}

/* Newest first is a log that begins by going back and ends before it began. Its end is looked at alone: the first line
 * there may be half of one. */
static void find_direction(vd_log *log)
{
    ends e = {0};
    scan head = {.log = log, .take = take_ends, .taker = &e, .header = true, .line = 1, .most = PIECE};
    run(&head, TO_END, NULL, NULL, NULL);
    if (!e.apart || e.next > e.first) {
        return;
    }
    if (log->size > PIECE) {
        scan tail = {
            .log = log, .take = take_ends, .taker = &e, .header = true, .line = 1, .from = log->size - PIECE / 2};
        run(&tail, TO_END, NULL, NULL, NULL);
    }
    log->counts.turned = e.last < e.first;
}

vd_log *vd_log_open(const char *path, const vd_model *model, char *const *columns, int16_t zone, vd_fault *fault)
{
    uint64_t size = 0;
    FILE *file = open_ordinary(path, &size, fault);
    if (file == NULL) {
        return NULL;
    }
    vd_log *log = g_new0(vd_log, 1);
    *log = (vd_log){.file = file, .model = model, .zone = zone, .first_zone = zone, .size = size};
    log->columns = g_array_new(FALSE, TRUE, sizeof(record_column));
    log->separator = separator_of(file);
    for (uint16_t i = 0; i < model->channel_count; i++) {
        log->places[i] = vd_channel_places(model, i);
        log->states |= (uint64_t)vd_channel_has_states(model, i) << i;
    }
    scan s = {.log = log, .take = take_nothing, .header = true, .naming = true, .line = 1};
    bool fine = run(&s, TO_HEADER, NULL, NULL, fault) == VD_OK;
    if (fine && log->columns->len == 0) {
        vd_note_LOG_WRONG(fault, "it is empty", "Its first line names the columns.");
        fine = false;
    }
    if (!fine || !record_map(log, columns, fault)) {
        vd_log_free(log);
        return NULL;
    }
    scan first = {.log = log, .take = take_nothing, .header = true, .line = 1};
    run(&first, TO_FIRST_TIME, NULL, NULL, NULL); /* what is wrong is told once the rows are wanted */
    find_direction(log);
    return log;
}

void vd_log_free(vd_log *log)
{
    if (log != NULL) {
        for (guint i = 0; i < log->columns->len; i++) {
            g_free(g_array_index(log->columns, record_column, i).name);
        }
        g_array_free(log->columns, TRUE);
        fclose(log->file);
        g_free(log);
    }
}

bool vd_log_column(const vd_log *log, size_t i, const char **name, uint16_t *channel)
{
    if (i >= log->columns->len) {
        return false;
    }
    *name = g_array_index(log->columns, record_column, i).name;
    *channel = g_array_index(log->columns, record_column, i).channel;
    return true;
}

const vd_log_counts *vd_log_count(const vd_log *log)
{
    return &log->counts;
}

int16_t vd_log_zone(const vd_log *log)
{
    int16_t zone = log->first_zone;
    if (zone == VD_NO_ZONE) {
        zone = 0;
    }
    return zone;
}

/* ---- Feeding ---- */

typedef struct feeding {
    const vd_log *log;
    vd_watch *watch;
    vd_chart *chart;
} feeding;

static void feed_row(void *about, const record_row *row)
{
    const feeding *f = about;
    vd_watch *watch = f->watch;
    if (!vd_watch_row(watch, row->time)) {
        return;
    }
    if (f->chart != NULL) {
        chart_take(f->chart, row, f->log->counts.cells);
    }
    for (uint16_t i = 0; i < vd_watch_model(watch)->channel_count; i++) {
        if ((row->cells >> i & 1) != 0) {
            vd_watch_cell(watch, i, (row->known >> i & 1) != 0, row->numbers[i]);
        }
    }
}

vd_status vd_log_feed(vd_log *log, vd_watch *watch, vd_chart *chart, vd_log_progress *progress, void *about,
                      vd_fault *fault)
{
    feeding f = {log, watch, chart};
    vd_status status = record_scan(log, feed_row, &f, progress, about, fault);
    log->counts.replaced = vd_watch_odd_rows(watch).replaced;
    log->counts.left_out = vd_watch_odd_rows(watch).left_out;
    return status;
}
