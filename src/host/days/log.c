/* SPDX-License-Identifier: MIT
 * Days from a recorded log: speed, heading and facts, row by row, cut to whole days by the unit's clock. Positions are
 * not read. What is not recorded for too long is a gap, in which the unit rests. */
#include "parts.h"
#include "verdite/course.h"
#include "verdite/log.h"

#include <csv.h>
#include <string.h>

#define MOST_BYTES (64u << 20)
#define MOST_DAYS 366u
#define MOST_COLUMNS 256u
#define NOTHING (-1)
enum { COLUMN_TIME = -2, COLUMN_SPEED = -3, COLUMN_HEADING = -4 };

/* A row as it holds until the next one. */
typedef struct moment {
    int64_t time; /* seconds by the unit's clock, since 1970-01-01 */
    vd_ratio speed, heading;
    bool dated, has_heading;
} moment;

typedef struct scan {
    vd_days *days;
    const vd_intervals *of;
    vd_day_log *log;
    int16_t zone;
    int columns[MOST_COLUMNS]; /* NOTHING, one of those above, or a given fact */
    char **called;             /* NAME=COLUMN, or NULL */
    size_t column;
    bool header, unzoned;
    moment row;
    bool *given; /* of the row */
    GArray *moments;
    GPtrArray *facts; /* of each moment, one byte for each given fact */
    vd_fault *fault;
} scan;

/* ---- Cells ---- */

/* What a name stands for. */
static int column_called(const scan *s, const char *name)
{
    for (uint16_t k = 0; k < s->of->given_count; k++) {
        if (g_ascii_strcasecmp(name, s->of->given[k]) == 0) {
            return k;
        }
    }
    return g_ascii_strcasecmp(name, "time") == 0      ? COLUMN_TIME
           : g_ascii_strcasecmp(name, "speed") == 0   ? COLUMN_SPEED
           : g_ascii_strcasecmp(name, "heading") == 0 ? COLUMN_HEADING
                                                      : NOTHING;
}

/* What a column is for: as it was said, else by its name without what stands in brackets. */
static int column_for(const scan *s, const char *header)
{
    char *name = g_strndup(header, strcspn(header, "(["));
    for (char **said = s->called; said != NULL && *said != NULL; said++) {
        const char *equals = strchr(*said, '=');
        if (equals != NULL && strcmp(equals + 1, header) == 0) {
            g_free(name);
            name = g_strndup(*said, (gsize)(equals - *said));
        }
    }
    int found = column_called(s, g_strstrip(name));
    g_free(name);
    return found;
}

static bool is_truth(const char *text, bool *truth)
{
    static const char *const words[] = {"0", "1", "off", "on", "no", "yes", "false", "true"};
    for (size_t i = 0; i < G_N_ELEMENTS(words); i++) {
        if (g_ascii_strcasecmp(text, words[i]) == 0) {
            *truth = i % 2 == 1;
            return true;
        }
    }
    return false;
}

static void take_value(scan *s, int column, const char *text)
{
    bool fine = true;
    if (column == COLUMN_SPEED) {
        char *with = g_strconcat(text, " km/h", NULL);
        fine = vd_intervals_read(s->days->model, VD_GIVES_SPEED, VD_NONE, with, strlen(with), &s->row.speed);
        s->row.speed = fine ? s->row.speed : (vd_ratio){0, 1};
        g_free(with);
    } else if (column == COLUMN_HEADING) {
        char *with = g_strconcat(text, " °", NULL);
        fine = vd_intervals_read(s->days->model, VD_GIVES_ANGLE, VD_NONE, with, strlen(with), &s->row.heading);
        s->row.has_heading = fine;
        g_free(with);
    } else if (column >= 0) {
        fine = is_truth(text, &s->given[column]);
    }
    s->log->odd_cells += !fine;
}

static void on_cell(void *cell, size_t length, void *about)
{
    scan *s = about;
    char *text = g_strstrip(g_strndup(cell != NULL ? cell : "", length));
    if (s->column < MOST_COLUMNS && s->header) {
        s->columns[s->column] = column_for(s, text);
    } else if (s->column < MOST_COLUMNS && s->columns[s->column] == COLUMN_TIME) {
        int16_t zone = s->zone;
        int64_t milliseconds = 0;
        vd_time_kind kind = vd_time_parse(text, strlen(text), &zone, &milliseconds);
        s->row.dated = kind == VD_TIME_FINE;
        s->unzoned = s->unzoned || kind == VD_TIME_WITHOUT_ZONE;
        s->row.time = milliseconds / 1000 + zone * 60;
    } else if (s->column < MOST_COLUMNS && s->columns[s->column] != NOTHING && text[0] != '\0') {
        take_value(s, s->columns[s->column], text);
    }
    s->column++;
    g_free(text);
}

static void on_row(int end, void *about)
{
    scan *s = about;
    (void)end;
    bool later = s->moments->len == 0 || s->row.time > g_array_index(s->moments, moment, s->moments->len - 1).time;
    if (s->column > 0 && !s->header && s->row.dated && later) {
        g_array_append_val(s->moments, s->row);
        g_ptr_array_add(s->facts, s->given);
        s->given = days_memory(s->days, s->of->given_count);
    } else if (s->column > 0 && !s->header) {
        s->log->skipped++;
    }
    s->header = s->header && s->column == 0;
    s->row = (moment){.speed = {0, 1}, .heading = {0, 1}};
    memset(s->given, 0, s->of->given_count);
    s->column = 0;
}

/* ---- Days ---- */

/* By how much the heading changes, the shorter way round. */
static vd_ratio turned(const moment *from, const moment *to)
{
    vd_ratio none = {0, 1};
    if (!from->has_heading || !to->has_heading || from->heading.below != to->heading.below) {
        return none;
    }
    int64_t circle = 360 * from->heading.below, by = (to->heading.number - from->heading.number) % circle;
    by = by < 0 ? by + circle : by;
    by = by > circle / 2 ? circle - by : by;
    return (vd_ratio){by, from->heading.below};
}

/* From a second to another one of one day it is as a moment has it; NULL: in a gap. */
static void add_stretch(scan *s, GArray *stretches, const moment *m, const bool *given, int64_t lasts, vd_ratio angle)
{
    vd_ratio *quantities = days_memory(s->days, s->of->quantity_count * sizeof *quantities);
    vd_stretch stretch = {.given = m != NULL ? given : days_memory(s->days, s->of->given_count),
                          .quantities = quantities,
                          .speed = m != NULL ? m->speed : (vd_ratio){0, 1},
                          .angle = angle,
                          .turns = angle.number > 0 ? 1u : 0u,
                          .lasts = (uint32_t)lasts};
    for (uint16_t k = 0; k < s->of->quantity_count; k++) {
        quantities[k] = (vd_ratio){0, 1};
    }
    vd_stretch *last = stretches->len > 0 ? &g_array_index(stretches, vd_stretch, stretches->len - 1) : NULL;
    bool same = last != NULL && last->turns == 0 && stretch.turns == 0 && last->speed.number == stretch.speed.number &&
                last->speed.below == stretch.speed.below && memcmp(last->given, stretch.given, s->of->given_count) == 0;
    if (same) {
        last->lasts += stretch.lasts;
    } else {
        g_array_append_val(stretches, stretch);
    }
}

/* One day, from its midnight on; `at`: the moment that holds then. */
static bool add_day(scan *s, int64_t midnight, guint *at, int64_t holds)
{
    GArray *stretches = g_array_new(FALSE, TRUE, sizeof(vd_stretch));
    int64_t now = midnight, end = midnight + VD_DAY_SECONDS;
    while (now < end) {
        const moment *m = &g_array_index(s->moments, moment, *at);
        const moment *next = *at + 1 < s->moments->len ? &g_array_index(s->moments, moment, *at + 1) : NULL;
        int64_t until = next != NULL && next->time < end ? next->time : end, known = m->time + holds;
        known = known < now ? now : known < until ? known : until;
        bool whole = known == until;
        if (known > now) {
            add_stretch(s, stretches, m, g_ptr_array_index(s->facts, *at), known - now,
                        whole && next != NULL && next->time == until ? turned(m, next) : (vd_ratio){0, 1});
        }
        if (!whole) {
            add_stretch(s, stretches, NULL, NULL, until - known, (vd_ratio){0, 1});
            s->log->gaps++;
            s->log->gap_seconds += (uint64_t)(until - known);
        }
        now = until;
        *at += next != NULL && next->time == until;
    }
    bool fine = stretches->len <= UINT16_MAX;
    if (fine) {
        GDateTime *date = g_date_time_new_from_unix_utc(midnight);
        char *label = g_date_time_format(date, "%F");
        vd_day day = {days_memory(s->days, strlen(label) + 1), NULL, (uint16_t)stretches->len, 0};
        vd_stretch *list = days_memory(s->days, stretches->len * sizeof *list);
        memcpy((char *)day.label, label, strlen(label) + 1);
        memcpy(list, stretches->data, stretches->len * sizeof *list);
        day.stretches = list;
        g_array_append_val(s->days->list, day);
        g_free(label);
        g_date_time_unref(date);
    }
    g_array_free(stretches, TRUE);
    return fine || vd_note_DAY_WRONG(s->fault, "one day of the log changes more than 65535 times",
                                     "Give a log with fewer rows.") == VD_OK;
}

static bool cut_days(scan *s, int64_t holds)
{
    guint at = 0, count = s->moments->len;
    const moment *all = &g_array_index(s->moments, moment, 0);
    int64_t first = count > 0 ? (all[0].time + VD_DAY_SECONDS - 1) / VD_DAY_SECONDS * VD_DAY_SECONDS : 0;
    int64_t last = count > 0 ? all[count - 1].time / VD_DAY_SECONDS * VD_DAY_SECONDS : 0;
    if (last - first < VD_DAY_SECONDS || (last - first) / VD_DAY_SECONDS > (int64_t)MOST_DAYS) {
        vd_note_DAY_WRONG(s->fault, last - first < VD_DAY_SECONDS ? "the log has no whole day" : "the log is too long",
                          "Give a log from one midnight to another, of at most 366 days.");
        return false;
    }
    for (int64_t midnight = first; midnight < last; midnight += VD_DAY_SECONDS) {
        while (at + 1 < count && all[at + 1].time <= midnight) {
            at++;
        }
        if (!add_day(s, midnight, &at, holds)) {
            return false;
        }
    }
    return true;
}

static bool check_columns(const scan *s)
{
    bool time = false, other = false;
    for (size_t k = 0; k < MOST_COLUMNS; k++) {
        time = time || s->columns[k] == COLUMN_TIME;
        other = other || (s->columns[k] != NOTHING && s->columns[k] != COLUMN_TIME);
    }
    GString *names = g_string_new("Columns: time, speed, heading");
    for (uint16_t k = 0; k < s->of->given_count; k++) {
        g_string_append_printf(names, ", %s", s->of->given[k]);
    }
    g_string_append(names, ". To use another one: --column NAME=COLUMN");
    if (!time || !other) {
        vd_note_DAY_WRONG(s->fault,
                          time ? "the log has no column that days are about" : "the log has no column for the time",
                          names->str);
    }
    g_string_free(names, TRUE);
    return time && other;
}

vd_days *vd_days_from_log(const vd_model *model, const char *path, char **columns, int16_t zone, uint32_t holds,
                          vd_day_log *log, vd_fault *fault)
{
    char *text = NULL;
    size_t length = 0;
    struct csv_parser parser;
    *log = (vd_day_log){0};
    if (vd_file_read(path, MOST_BYTES, &text, &length, fault) != VD_OK) {
        return NULL;
    }
    scan s = {.days = days_new(model), .of = model->intervals, .log = log, .zone = zone, .header = true};
    s.called = columns;
    s.fault = fault;
    s.moments = g_array_new(FALSE, TRUE, sizeof(moment));
    s.facts = g_ptr_array_new();
    s.given = days_memory(s.days, s.of->given_count);
    s.row = (moment){.speed = {0, 1}, .heading = {0, 1}};
    for (size_t k = 0; k < MOST_COLUMNS; k++) {
        s.columns[k] = NOTHING;
    }
    csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI);
    csv_set_delim(&parser, memchr(text, ';', strcspn(text, "\n")) != NULL ? ';' : ',');
    bool sound =
        csv_parse(&parser, text, length, on_cell, on_row, &s) == length && csv_fini(&parser, on_cell, on_row, &s) == 0;
    csv_free(&parser);
    if (!sound) {
        vd_note_DAY_WRONG(fault, "the log is no CSV", "Give a CSV file with a header.");
    } else if (s.unzoned) {
        vd_note_DAY_WRONG(fault, "its times have no zone", "Say it: --zone +02:00");
        sound = false;
    }
    bool fine = sound && check_columns(&s) && cut_days(&s, holds);
    g_array_free(s.moments, TRUE);
    g_ptr_array_free(s.facts, TRUE);
    g_free(text);
    if (!fine) {
        vd_days_free(s.days);
        return NULL;
    }
    return s.days;
}
