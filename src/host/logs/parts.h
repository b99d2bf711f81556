/* SPDX-License-Identifier: MIT
 * What the files about logs and charts share. */
#ifndef VD_HOST_RECORD_PARTS_H
#define VD_HOST_RECORD_PARTS_H

#include <csv.h>

#include "../charts/row.h"
#include "verdite/host.h"
#include "verdite/log.h"

#define RECORD_OTHER_STATE (-1000000) /* none that any channel has */

/* The day that the time before was on. */
typedef struct record_day {
    char text[10];
    int64_t days; /* since 1970-01-01 */
} record_day;

/* vd_time_parse(), quicker for times of the same day. */
vd_time_kind record_time(record_day *known, const char *text, size_t length, int16_t *zone, int64_t *milliseconds);
/* A number, times 10^places; point or comma is the decimal mark. False: it is none, or too large. */
bool record_number(const char *text, size_t length, unsigned places, int64_t *number);
/* Whether it says that there is no value. */
bool record_is_nothing(const char *text, size_t length);
/* The state of a channel; false: none that it has, and `*state` is RECORD_OTHER_STATE. */
bool record_state(const vd_model *model, uint16_t channel, const char *text, size_t length, int64_t *state);

typedef void record_taker(void *about, const record_row *row);
/* Goes through all rows of a log that have a time. */
vd_status record_scan(vd_log *log, record_taker *take, void *taker, vd_log_progress *progress, void *about,
                      vd_fault *fault);
/* Goes through those of its beginning, so many bytes; what is wrong there is told by whoever goes through all. */
void record_look(vd_log *log, uint64_t bytes, record_taker *take, void *taker);

/* stack.c: the rows of a log that has its newest first, kept until the oldest has come. */
typedef struct record_stack record_stack;
record_stack *record_stack_new(const vd_log *log);
void record_stack_push(void *stack, const record_row *row);
/* Hands on what is kept, from the last to the first. VD_LOG_WRONG: there was too much to keep. */
vd_status record_stack_empty(record_stack *stack, record_taker *take, void *taker, vd_fault *fault);
void record_stack_free(record_stack *stack);

typedef struct record_column {
    char *name;
    uint16_t channel; /* VD_NONE, VD_TIME_COLUMN */
} record_column;

struct vd_log {
    FILE *file;
    const vd_model *model;
    GArray *columns; /* of record_column */
    char separator;
    int16_t zone, first_zone;
    uint64_t size, states; /* channels whose values are states */
    uint8_t places[VD_MOST_CHANNELS];
    bool counted; /* what is amiss was counted once */
    vd_log_counts counts;
};

/* columns.c: which column is for what, once the header was read. */
bool record_map(vd_log *log, char *const *said, vd_fault *fault);

#endif
