/* SPDX-License-Identifier: MIT
 * Alarms tried out. */
#ifndef VD_CLI_LOOK_H
#define VD_CLI_LOOK_H

#include "../cli.h"
#include "verdite/chart.h"
#include "verdite/log.h"
#include "verdite/watch.h"

#define TRYOUT_MOST_LIMITS 64u
#define TRYOUT_HISTORY 4096u /* rows that a rate looks back over */

/* Another limit of an alarm. */
typedef struct other_limit {
    uint16_t alarm;
    bool upper, pair; /* it is the high one; its alarm has two */
    bool crossed;     /* it stands beyond the other one of its pair */
    vd_value value;
    const vd_setting *about;
    uint16_t place; /* among those watched */
} other_limit;

typedef struct tryout {
    cli *c;
    vd_set *set;
    vd_watch_storage room;
    vd_watch *watch; /* in that room */
    void *memory;
    int16_t zone; /* in which times are shown */
    other_limit limits[TRYOUT_MOST_LIMITS];
    uint16_t limit_count;
    uint64_t told;
    char **called;                  /* each alarm of the model, as it is called */
    bool plain;                     /* a line for each event, for programs */
    bool *in_gap;                   /* alarms that are not known since a value did not hold until the next one */
    uint64_t gaps;                  /* channels whose values hold for less than the log's distance: told once */
    bool quiet;                     /* values are tried: what happens is not told one by one */
    int64_t *first_sound;           /* of each alarm: when it sounded first */
    int64_t live[VD_MOST_CHANNELS]; /* what a unit measures now, and which of it is known */
    uint64_t live_known;
    const vd_log *log;
    vd_chart *chart; /* NULL: none is wanted */
} tryout;

/* Makes ready to watch the alarms of a set, whose readings are forgotten by that. */
void tryout_start(tryout *t, cli *c, vd_set *set);
void tryout_free(tryout *t);
/* Takes the limits that the options name. False: reported. */
bool tryout_take_limits(tryout *t);
/* A time as people read it, in the zone of the try-out. Free it. */
char *tryout_time(const tryout *t, int64_t milliseconds);
/* Why an alarm can never sound here, as its doubts say it. Free it. */
char *tryout_never(const tryout *t, uint16_t n);
/* A value of a channel as people read it. Free it. */
char *tryout_value(const tryout *t, uint16_t channel, int64_t number);
/* What the try-out found, once the log has ended. */
void tryout_sum_up(tryout *t);
/* Takes what a set's unit measures now, before it is watched. */
void tryout_take_live(tryout *t, const vd_set *set);
/* On values: what each alarm would do with them. */
bool tryout_on_values(tryout *t, char *const *words);

/* ---- zone.c ---- */

/* What --zone says, in minutes; VD_NO_ZONE: nothing. False: reported. */
bool zone_take(cli *c, int16_t *zone);

/* ---- picture.c ---- */

/* Whether the name of a chart, where one is wanted, says which kind it is, and it may be written. False: reported. */
bool picture_check(cli *c);
bool picture_is_svg(const cli *c);
/* Keeps a picture in that file, or reports why there is none. */
void picture_keep(cli *c, const char *picture, size_t length, vd_fault *fault);
#endif
