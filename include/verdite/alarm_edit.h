/* SPDX-License-Identifier: MIT
 *
 * Alarm edit: an alarm as a person means it, in plain words, put into the settings that make it up.
 */
#ifndef VERDITE_ALARM_EDIT_H
#define VERDITE_ALARM_EDIT_H

#include "verdite/alarm_words.h"

VD_C_BEGIN

/* A comparison as it was typed. */
typedef struct vd_wished_test {
    const char *channel;       /* NULL: as it is */
    const char *limit, *upper; /* NULL: as they are; the name of a state */
    uint8_t way;               /* vd_way */
    bool given;                /* a comparison was said at all */
} vd_wished_test;

/* An alarm as it was typed; what is NULL stays as it is. Texts point into the words. */
typedef struct vd_wished_alarm {
    vd_wished_test test;                           /* what it watches */
    vd_wished_test conditions[VD_MOST_CONDITIONS]; /* only while these */
    uint8_t condition_count;                       /* of `conditions` */
    bool no_conditions;                            /* "only while nothing" */
    const char *release, *delay, *delay_out;       /* when it is over; for how long before, and after */
    const char *does, *tells, *text, *latches;     /* what it does, whom it tells, with what; by what it is cleared */
} vd_wished_alarm;

/* The words: CHANNEL above LIMIT, below LIMIT, outside A to B, inside A to B, is STATE, rises, falls, changes LIMIT;
 * then in any order: release VALUE, for TIME, ends-after TIME, only while CHANNEL above LIMIT and ..., does KEY, tells
 * NAME, text TEXT, latches on. `does` and `tells` take several with commas; nothing and nobody are none. `words` are
 * cut apart at blanks, but for a text; `room` of `size` bytes is where the texts go. VD_WRONG_WORDS,
 * VD_MEMORY_TOO_SMALL. */
vd_status vd_alarm_wish(const char *const *words, size_t count, char *room, size_t size, vd_wished_alarm *wish,
                        vd_fault *fault);

/* Puts a wish into the n-th alarm. The set is changed only where all of it could be. VD_WRONG_WORDS: this alarm cannot
 * be so, and how it can; else the fault of a value. `before` is a set of the same model to work with. */
vd_status vd_alarm_apply(vd_set *set, vd_set *before, uint16_t n, const vd_wished_alarm *wish, vd_fault *fault);
/* Puts it into the first free alarm that can be so: which, in `*n`. */
vd_status vd_alarm_add(vd_set *set, vd_set *before, uint16_t *n, const vd_wished_alarm *wish, vd_fault *fault);
/* Makes an alarm unused. VD_WRONG_WORDS: it cannot be. */
vd_status vd_alarm_clear(vd_set *set, vd_set *before, uint16_t n, vd_fault *fault);
/* Whether a setting is a limit of the n-th alarm, or says which comparison counts: what the words of one say. */
bool vd_alarm_compares_by(const vd_set *set, uint16_t n, uint16_t setting);

VD_C_END

#endif
