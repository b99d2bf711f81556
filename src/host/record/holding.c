/* SPDX-License-Identifier: MIT
 * For how long the values of a log hold, where nothing else says it: three times the median distance of a channel's
 * cells. */
#include "record_parts.h"

#include <string.h>

#define USUAL_HOLD 300000u
#define MOST_DISTANCES 65536u /* different ones; a log with more is too uneven for a median that is counted out */

typedef struct pace {
    GHashTable *counts; /* of each distance: how often */
    int64_t last;       /* time of the cell before */
    uint64_t cells;
} pace;

typedef struct measuring {
    pace paces[VD_MOST_CHANNELS];
    uint64_t wanted, cells; /* channels; those with a cell in the row that may still be replaced */
    int64_t time;
    bool any, crowded;
} measuring;

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
            gpointer count = g_hash_table_lookup(one->counts, &distance);
            if (count == NULL && g_hash_table_size(one->counts) >= MOST_DISTANCES) {
                m->crowded = true;
            } else {
                int64_t *key = g_memdup2(&distance, sizeof distance);
                g_hash_table_replace(one->counts, key, GSIZE_TO_POINTER(GPOINTER_TO_SIZE(count) + 1));
            }
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

static uint32_t held(const pace *one)
{
    uint64_t passed = 0, middle = (one->cells - 2) / 2; /* of cells - 1 distances; of two in the middle the lower */
    int64_t median = 0;
    if (one->cells < 3) {
        return USUAL_HOLD;
    }
    GList *keys = g_list_sort(g_hash_table_get_keys(one->counts), by_size);
    for (const GList *at = keys; at != NULL; at = at->next) {
        passed += GPOINTER_TO_SIZE(g_hash_table_lookup(one->counts, at->data));
        if (passed > middle) {
            median = *(const int64_t *)at->data;
            break;
        }
    }
    g_list_free(keys);
    return (uint32_t)MIN(median * 3, G_MAXUINT32);
}

vd_status vd_log_measure(vd_log *log, vd_watch *watch, uint32_t holds_for, vd_log_progress *progress, void *about,
                         vd_fault *fault)
{
    measuring *m = g_new0(measuring, 1);
    vd_status status = VD_OK;
    for (guint i = 0; i < log->columns->len; i++) {
        uint16_t channel = g_array_index(log->columns, record_column, i).channel;
        if (channel < VD_MOST_CHANNELS && log->model->channels[channel].holds_for == 0) {
            m->wanted |= (uint64_t)1 << channel;
        }
    }
    for (uint16_t i = 0; i < VD_MOST_CHANNELS; i++) {
        m->paces[i].counts = g_hash_table_new_full(g_int64_hash, g_int64_equal, g_free, NULL);
    }
    if (m->wanted != 0 && holds_for == 0) {
        status = record_scan(log, take, m, progress, about, fault);
        settle(m);
    }
    if (status == VD_OK && m->crowded) {
        status = vd_note_LOG_WRONG(fault, "its rows are too uneven to tell how long a value holds",
                                   "Say for how long, such as 15 min.");
    }
    for (uint16_t i = 0; i < VD_MOST_CHANNELS && status == VD_OK; i++) {
        if ((m->wanted >> i & 1) != 0) {
            vd_watch_hold(watch, i, holds_for != 0 ? holds_for : held(&m->paces[i]));
        }
    }
    for (uint16_t i = 0; i < VD_MOST_CHANNELS; i++) {
        g_hash_table_destroy(m->paces[i].counts);
    }
    g_free(m);
    return status;
}
