/* SPDX-License-Identifier: MIT
 * Alarms as docs/alarms.md defines them, looked at afresh in every millisecond: slow, and nothing in common with the
 * library. Values are in hundredths, times in milliseconds. */
#ifndef VD_TESTS_ALARMS_H
#define VD_TESTS_ALARMS_H

#include <stdbool.h>

#define REF_CHANNELS 4
#define REF_ALARMS 3
#define REF_ROWS 64
#define REF_MARKS 6
#define REF_EVENTS 4096

typedef enum ref_way {
    REF_ABOVE,
    REF_BELOW,
    REF_OUTSIDE,
    REF_INSIDE,
    REF_IS,
    REF_RISES,
    REF_FALLS,
    REF_CHANGES
} ref_way;

typedef struct ref_test {
    int channel, way, limit, upper, release, within, per;
    int beside; /* the limits are so far above this channel's value; -1: above 0 */
} ref_test;

typedef struct ref_alarm {
    ref_test test;
    int delay_in, delay_out, hush, longest, rest; /* longest -1: none */
    bool latches, always, any, holds;
    int cleared_by; /* bits: 1 button, 2 command, 4 supply */
    int conditions[2], condition_count;
} ref_alarm;

typedef struct ref_row {
    int time;
    int cell[REF_CHANNELS]; /* 0 none, 1 empty, 2 a value */
    int value[REF_CHANNELS];
} ref_row;

typedef struct ref_mark {
    int time, clears; /* 0: a restart */
} ref_mark;

typedef struct ref_case {
    int holds_for[REF_CHANNELS];
    ref_test conditions[2];
    ref_alarm alarms[REF_ALARMS];
    int alarm_count, joint; /* of one more alarm: 0 none, 1 all of the others, 2 any of them */
    ref_row rows[REF_ROWS];
    int row_count;
    ref_mark marks[REF_MARKS];
    int mark_count;
} ref_case;

/* In the order of what can befall an alarm. */
enum { REF_PENDS, REF_DROPS, REF_SOUNDS, REF_ENDS, REF_RETURNS, REF_CLEARED, REF_LOST, REF_KNOWN };

typedef struct ref_event {
    int alarm, what, time, since; /* since: of sounding only */
} ref_event;

typedef struct ref_result {
    ref_event events[REF_EVENTS];
    int event_count, replaced, left_out;
    int near[REF_ALARMS]; /* hundredths; -1: never known, or a state, a rate, a longest without */
} ref_result;

void ref_run(const ref_case *c, ref_result *result);

#endif
