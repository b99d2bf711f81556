/* SPDX-License-Identifier: MIT
 *
 * Log: values over time in a file (CSV, RFC 4180), fed to a watch row by row; memory does not grow with its length.
 */
#ifndef VERDITE_LOG_H
#define VERDITE_LOG_H

#include <glib.h>

#include "verdite/unit.h"

VD_C_BEGIN

/* A log that was opened. */
typedef struct vd_log vd_log;

/* What was amiss with the cells of a channel. */
typedef struct vd_log_cells {
    uint64_t odd;       /* neither empty, nor a number or a state that the channel has */
    uint64_t odd_line;  /* line of the first such */
    char odd_text[32];  /* and what it says */
    uint32_t distance;  /* milliseconds from one to the next, the median; 0: not measured */
    uint32_t holds_for; /* for how long one holds in this try-out */
} vd_log_cells;

/* What was met in a log. */
typedef struct vd_log_counts {
    uint64_t rows;               /* below the header */
    uint64_t no_time;            /* those left out since their time is none */
    uint64_t no_time_line;       /* line of the first such, and what it says */
    char no_time_text[40];       /* what stood in place of a time, the first of them */
    uint64_t replaced, left_out; /* rows with the time of the one before, which they replace; and with an earlier one */
    bool turned;                 /* its newest row comes first, so it was read from its end */
    vd_log_cells cells[VD_MOST_CHANNELS]; /* of each channel */
} vd_log_counts;

/* A time says no zone. */
#define VD_NO_ZONE INT16_MIN

/* Opens a log for the channels of a model and reads its header. Columns go by key or label of a channel, with its unit
 * in brackets where they like, or as `columns` says: "CHANNEL=COLUMN", "time=COLUMN"; NULL-terminated, or NULL. Else
 * the time stands under "time" (or "timestamp", "date"). `zone`: minutes east of UTC for times that say none,
 * VD_NO_ZONE: they must. NULL: VD_FILE_UNREADABLE, VD_LOG_WRONG, VD_NO_SUCH_COLUMN, VD_NO_SUCH_CHANNEL. */
vd_log *vd_log_open(const char *path, const vd_model *model, char *const *columns, int16_t zone, vd_fault *fault);
/* Closes it; NULL is fine. */
void vd_log_free(vd_log *log);

#define VD_TIME_COLUMN 0xFFFEu /* in place of a channel: the column with the time */
/* A column of a log, from 0: its name, and the channel that it is for, VD_NONE for none. False: there are no more. */
bool vd_log_column(const vd_log *log, size_t i, const char **name, uint16_t *channel);

/* Is told how far it has come, 0 to 1000, now and then; false stops it. */
typedef bool vd_log_progress(void *about, unsigned permille);
/* Works out for how long the values of each channel hold for which its model does not say it. Goes through the whole
 * file where it has to. VD_LOG_WRONG: rows so uneven that it cannot be told. */
vd_status vd_log_holds(vd_log *log, uint32_t holds[VD_MOST_CHANNELS], vd_log_progress *progress, void *about,
                       vd_fault *fault);
/* The same, and tells a watch, which needs it before the first row; `holds_for` above 0, milliseconds, takes the place
 * of what is worked out and of what the model says. */
vd_status vd_log_measure(vd_log *log, vd_watch *watch, uint32_t holds_for, vd_log_progress *progress, void *about,
                         vd_fault *fault);
typedef struct vd_chart vd_chart; /* chart.h */
#define VD_MOST_ROWS 200000u      /* of a log that a unit follows */
/* All of a log at once, for a unit to follow: its first row is at `start`, milliseconds on the unit's clock. NULL: see
 * the fault; VD_LOG_WRONG: it has more than VD_MOST_ROWS rows. Free it with vd_log_rows_free(). */
vd_unit_log *vd_log_rows(vd_log *log, int64_t start, vd_fault *fault);
/* Frees them; NULL is fine. */
void vd_log_rows_free(vd_unit_log *rows);
/* Feeds all rows to a watch, and to a chart of it (NULL: none); its end is not decided yet. VD_LOG_WRONG: it has no
 * rows, or it is no CSV from some line on; what came before was fed. */
vd_status vd_log_feed(vd_log *log, vd_watch *watch, vd_chart *chart, vd_log_progress *progress, void *about,
                      vd_fault *fault);
/* What was met in it so far; it lives as long as the log. */
const vd_log_counts *vd_log_count(const vd_log *log);
/* The zone of its times: that of the first row, in minutes east of UTC. */
int16_t vd_log_zone(const vd_log *log);

/* What became of reading a time. */
typedef enum vd_time_kind { VD_TIME_FINE, VD_TIME_WRONG, VD_TIME_WITHOUT_ZONE } vd_time_kind;
/* Takes a time as ISO 8601 has it: date, T or a blank, time to the minute or finer, Z or an offset. `*zone` is the one
 * to take where it says none, and becomes what it says. Finer than milliseconds is cut off. */
vd_time_kind vd_time_parse(const char *text, size_t length, int16_t *zone, int64_t *milliseconds);

VD_C_END

#endif
