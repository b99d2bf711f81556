/* SPDX-License-Identifier: MIT
 * Rows of a log that has its newest first: kept until the oldest has come, and handed on from there. */
#include "parts.h"

#define MOST_KEPT ((size_t)1 << 31) /* bytes: as much as a laptop can spare for this */

typedef struct kept_row {
    uint64_t line;
    int64_t time;
    uint64_t cells, known;
} kept_row;

struct record_stack {
    GArray *rows, *numbers; /* of kept_row; of int64_t, so many for each row */
    guint channels;
    bool full;
};

record_stack *record_stack_new(const vd_log *log)
{
    record_stack *stack = g_new0(record_stack, 1);
    stack->rows = g_array_new(FALSE, FALSE, sizeof(kept_row));
    stack->numbers = g_array_new(FALSE, FALSE, sizeof(int64_t));
    stack->channels = log->model->channel_count;
    return stack;
}

void record_stack_push(void *stack, const record_row *row)
{
    record_stack *to = stack;
    const kept_row kept = {row->line, row->time, row->cells, row->known};
    to->full = to->full || (to->rows->len + 1u) * (sizeof kept + to->channels * sizeof(int64_t)) > MOST_KEPT;
    if (!to->full) {
        g_array_append_val(to->rows, kept);
        g_array_append_vals(to->numbers, row->numbers, to->channels);
    }
}

vd_status record_stack_empty(record_stack *stack, record_taker *take, void *taker, vd_fault *fault)
{
    if (stack->full) {
        return vd_note_LOG_WRONG(fault, "it begins with its newest row and is too long to be reversed",
                                 "Export it with the oldest row first.");
    }
    for (guint i = stack->rows->len; i > 0; i--) {
        const kept_row *kept = &g_array_index(stack->rows, kept_row, i - 1);
        record_row row = {.line = kept->line, .time = kept->time, .cells = kept->cells, .known = kept->known};
        for (guint k = 0; k < stack->channels; k++) {
            row.numbers[k] = g_array_index(stack->numbers, int64_t, (i - 1) * stack->channels + k);
        }
        take(taker, &row);
    }
    return VD_OK;
}

void record_stack_free(record_stack *stack)
{
    g_array_free(stack->rows, TRUE);
    g_array_free(stack->numbers, TRUE);
    g_free(stack);
}
