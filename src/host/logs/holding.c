/* SPDX-License-Identifier: MIT
 * For how long the values of a log hold, where nothing else says it: three times the median distance of a channel's
 * cells. */
#include "parts.h"

#include <string.h>

#define USUAL_HOLD 300000u
#define LOOK ((uint64_t)1 << 18) /* bytes of a log's beginning */
#define MOST_DISTANCES 65536u    /* different ones; a log with more is too uneven for a median that is counted out */

typedef struct pace {
    GHashTable *counts; /* of each distance: how often */
    int64_t distance;   /* the last one, and how often it came in a row: not among the former yet */
    uint64_t repeats;
    int64_t last; /* time of the cell before */
    uint64_t cells;
    bool crowded; /* more different distances than are counted */
} pace;

typedef struct measuring {
    pace paces[VD_MOST_CHANNELS];
    uint64_t wanted, cells; /* channels; those with a cell in the row that may still be replaced */
    int64_t time;
    bool any;
} measuring;

/* Puts what came in a row among the others. */
static void count_distance(pace *one)
{
    gpointer count = g_hash_table_lookup(one->counts, &one->distance);
    if (count == NULL && g_hash_table_size(one->counts) >= MOST_DISTANCES) {
        one->crowded = true;
    } else if (one->repeats > 0) {
        int64_t *key = g_memdup2(&one->distance, sizeof one->distance);
        g_hash_table_replace(one->counts, key, GSIZE_TO_POINTER(GPOINTER_TO_SIZE(count) + one->repeats));
    }
    one->repeats = 0;
}

/* Counts the cells of the row that is final by now. */
static void settle(measuring *m)
{
    for (uint16_t i = 0; i < VD_MOST_CHANNELS; i++) {
        pace *one = &m->paces[i];
        if ((m->cells >> i & 1) == 0) {
            continue;
        }
        if (one->cells++ > 0) {
            int64_t distance = m->time - one->last;
            if (distance != one->distance) {
                count_distance(one);
                one->distance = distance;
            }
            one->repeats++;
        }
        one->last = m->time;
    }
}

static void take(void *about, const record_row *row)
{
    measuring *m = about;
    if (m->any && row->time < m->time) {
        return;
    }
    if (m->any && row->time > m->time) {
        settle(m);
    }
    m->any = true;
    m->time = row->time;
    m->cells = row->cells & m->wanted;
}

static int by_size(gconstpointer a, gconstpointer b)
{
    const int64_t *p = a, *q = b;
    return (*p > *q) - (*p < *q);
}

/* The median distance of a channel's cells, 0 where there are too few. */
static uint32_t median_of(pace *one)
{
    uint64_t passed = 0, middle = (one->cells - 2) / 2; /* of cells - 1 distances; of two in the middle the lower */
    int64_t median = 0;
    if (one->cells < 3) {
        return 0;
    }
    count_distance(one);
    GList *keys = g_list_sort(g_hash_table_get_keys(one->counts), by_size);
    for (const GList *at = keys; at != NULL; at = at->next) {
        passed += GPOINTER_TO_SIZE(g_hash_table_lookup(one->counts, at->data));
        if (passed > middle) {
            median = *(const int64_t *)at->data;
            break;
        }
    }
    g_list_free(keys);
    return (uint32_t)MIN(median, G_MAXUINT32 / 3);
}

/* How far the values of each channel lie apart, and for how long they hold; `typed`: for so long all of them, 0: as the
 * model says, or the log. */
static vd_status measure(vd_log *log, uint32_t typed, uint32_t holds[VD_MOST_CHANNELS], vd_log_progress *progress,
                         void *about, vd_fault *fault)
{
    measuring *m = g_new0(measuring, 1);
    vd_status status = VD_OK;
    bool said_of_all = true;
    for (uint16_t i = 0; i < log->model->channel_count; i++) {
        uint32_t said = typed != 0 ? typed : log->model->channels[i].holds_for;
        holds[i] = said != 0 ? said : USUAL_HOLD;
    }
    for (guint i = 0; i < log->columns->len; i++) {
        uint16_t channel = g_array_index(log->columns, record_column, i).channel;
        if (channel < VD_MOST_CHANNELS) {
            said_of_all = said_of_all && (typed != 0 || log->model->channels[channel].holds_for != 0);
            m->wanted |= (uint64_t)1 << channel;
        }
    }
    for (uint16_t i = 0; i < VD_MOST_CHANNELS; i++) {
        m->paces[i].counts = g_hash_table_new_full(g_int64_hash, g_int64_equal, g_free, NULL);
    }
    if (m->wanted != 0) {
        /* Where it is said already for how long values hold, their distance is only told: the beginning will do. */
        if (said_of_all && !log->counts.turned) {
            record_look(log, LOOK, take, m);
        } else {
            status = record_scan(log, take, m, progress, about, fault);
        }
        settle(m);
    }
    for (uint16_t i = 0; i < VD_MOST_CHANNELS; i++) {
        bool said = typed != 0 || (i < log->model->channel_count && log->model->channels[i].holds_for != 0);
        if (status == VD_OK && m->paces[i].crowded && !said) {
            status = vd_note_LOG_WRONG(fault, "its rows are too uneven to tell how long a value holds",
                                       "Give a time, such as 15 min.");
        }
        if (status == VD_OK && (m->wanted >> i & 1) != 0) {
            uint32_t distance = log->counts.cells[i].distance = median_of(&m->paces[i]);
            holds[i] = said ? holds[i] : distance != 0 ? distance * 3 : USUAL_HOLD;
        }
        g_hash_table_destroy(m->paces[i].counts);
    }
    g_free(m);
    return status;
}

vd_status vd_log_holds(vd_log *log, uint32_t holds[VD_MOST_CHANNELS], vd_log_progress *progress, void *about,
                       vd_fault *fault)
{
    return measure(log, 0, holds, progress, about, fault);
}

vd_status vd_log_measure(vd_log *log, vd_watch *watch, uint32_t holds_for, vd_log_progress *progress, void *about,
                         vd_fault *fault)
{
    uint32_t holds[VD_MOST_CHANNELS];
    vd_status status = measure(log, holds_for, holds, progress, about, fault);
    for (uint16_t i = 0; i < log->model->channel_count && status == VD_OK; i++) {
        log->counts.cells[i].holds_for = holds[i];
        vd_watch_hold(watch, i, log->counts.cells[i].holds_for);
    }
    return status;
}

/* ---- All of it at once ---- */

typedef struct gathering {
    const vd_log *log;
    GArray *times, *cells, *known, *numbers;
    bool full;
} gathering;

/* What is final by now is as it is kept: a row of the same time takes the place of the last, an earlier one is left
 * out. */
static void gather(void *about, const record_row *row)
{
    gathering *g = about;
    guint count = g->times->len;
    int64_t last = count > 0 ? g_array_index(g->times, int64_t, count - 1) : INT64_MIN;
    if (count > 0 && row->time < last) {
        return;
    }
    if (count > 0 && row->time == last) {
        g_array_set_size(g->times, count - 1);
        g_array_set_size(g->cells, count - 1);
        g_array_set_size(g->known, count - 1);
        g_array_set_size(g->numbers, (count - 1) * g->log->model->channel_count);
    }
    g->full = g->full || count >= VD_MOST_ROWS;
    if (!g->full) {
        g_array_append_val(g->times, row->time);
        g_array_append_val(g->cells, row->cells);
        g_array_append_val(g->known, row->known);
        g_array_append_vals(g->numbers, row->numbers, g->log->model->channel_count);
    }
}

vd_unit_log *vd_log_rows(vd_log *log, int64_t start, vd_fault *fault)
{
    gathering g = {.log = log,
                   .times = g_array_new(FALSE, FALSE, sizeof(int64_t)),
                   .cells = g_array_new(FALSE, FALSE, sizeof(uint64_t)),
                   .known = g_array_new(FALSE, FALSE, sizeof(uint64_t)),
                   .numbers = g_array_new(FALSE, FALSE, sizeof(int64_t))};
    vd_unit_log *rows = g_new0(vd_unit_log, 1);
    vd_status status = vd_log_holds(log, rows->holds_for, NULL, NULL, fault);
    status = status == VD_OK ? record_scan(log, gather, &g, NULL, NULL, fault) : status;
    if (status == VD_OK && g.full) {
        status = vd_note_LOG_WRONG(fault, "it has too many rows for a bench", "Use at most 200000.");
    }
    rows->count = g.times->len;
    int64_t first = rows->count > 0 ? g_array_index(g.times, int64_t, 0) : 0;
    for (guint i = 0; i < rows->count; i++) {
        g_array_index(g.times, int64_t, i) += start - first;
    }
    rows->times = (const int64_t *)(const void *)g_array_free(g.times, FALSE);
    rows->cells = (const uint64_t *)(const void *)g_array_free(g.cells, FALSE);
    rows->known = (const uint64_t *)(const void *)g_array_free(g.known, FALSE);
    rows->numbers = (const int64_t *)(const void *)g_array_free(g.numbers, FALSE);
    if (status != VD_OK) {
        vd_log_rows_free(rows);
        rows = NULL;
    }
    return rows;
}

void vd_log_rows_free(vd_unit_log *rows)
{
    if (rows != NULL) {
        g_free((gpointer)rows->times);
        g_free((gpointer)rows->cells);
        g_free((gpointer)rows->known);
        g_free((gpointer)rows->numbers);
        g_free(rows);
    }
}
