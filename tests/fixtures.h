/* SPDX-License-Identifier: MIT
 * What the suites share: a small constant model, as firmware would have one, and a rig that plays a visit on a bench.
 */
#ifndef VD_TEST_FIXTURES_H
#define VD_TEST_FIXTURES_H

#include <setjmp.h>
#include <stdarg.h>
#include <stddef.h>
#include <stdint.h>

#include <cmocka.h>

#include "verdite/fields.h"
#include "verdite/host.h"
#include "verdite/lines.h"
#include "verdite/lines_unit.h"
#include "verdite/modbus.h"
#include "verdite/modbus_unit.h"
#include "verdite/registers.h"

/* A sampler: one setting of each kind, identity in registers, stored on command, no bank that proves it. */
enum {
    SAMPLER_COUNT,  /* integer, 1 to 500, step 5 from 0 */
    SAMPLER_LEVEL,  /* decimal, 2 places, -10.00 to 10.00 V */
    SAMPLER_ON,     /* truth */
    SAMPLER_MODE,   /* choice */
    SAMPLER_NAME,   /* text of 5 in 3 registers */
    SAMPLER_EVERY,  /* duration, tick 100 ms, 100 ms to 1 h */
    SAMPLER_PLACES, /* integer 0 to 3 */
    SAMPLER_LOW,    /* decimal, places from SAMPLER_PLACES, two registers, low word first */
    SAMPLER_HIGH,
    SAMPLER_SECRET,  /* write only */
    SAMPLER_READING, /* read only, input register */
    SAMPLER_SETTINGS
};
const vd_model *sampler(void);

/* A set of this model in memory of its own; free set->memory. */
vd_set new_set(const vd_model *model);
/* Puts a typed value, which must parse. */
void put(vd_set *set, const char *key, const char *typed);
/* What a set says, printed. */
const char *said(const vd_set *set, const char *key);

/* One unit on one adapter, and a visit that visits it. */
typedef struct rig {
    vd_bench bench;
    vd_bench_adapter adapter;
    vd_bench_unit units[2];
    const vd_model *visitor; /* by which the first one is visited */
    vd_sim *sim;
    vd_port *port;
    vd_visit_storage visit_room;
    vd_visit *visit; /* in that room */
    void *memory;
    vd_lane lane;
    vd_seat seat;
    vd_loop loop;
    bool refuse_question, fail_keep;
    unsigned old_asked; /* how often the old password was asked for, which is agreed to unless this is refused */
    bool refuse_old;
    unsigned stop_after; /* steps after which to stop, 0: never */
    unsigned kept;
    void (*watch)(struct rig *r); /* looks in before every step */
    bool stop_now;
    const char *password; /* what is answered when one is asked for, NULL: no */
} rig;

/* Sets up the world; change r->bench, r->adapter and r->units before rig_start(). */
void rig_prepare(rig *r, const vd_model *model);
void rig_start(rig *r);
void rig_end(rig *r);
/* Runs the task that was begun to its end. */
vd_status rig_run(rig *r);
vd_status rig_read(rig *r);
vd_status rig_write(rig *r, const vd_set *target);

/* A model from the text of a file, NULL with findings. */
vd_model_file *model_of_text(const char *text, vd_findings *findings);
/* A model that ships, from its file; and the dowel. */
const vd_model *shipped(const char *name);
const vd_model *dowel(void);
/* Holds a table of what came about against the one that is kept in tests/oracle/NAME, line by line; where a change was
 * meant to come about, RENEW_TABLES=yes keeps it anew, and what changed in it is looked through like any other change.
 */
void assert_as_kept(const char *name, const char *table);
/* A path below the source tree; lives until the next call. */
const char *source_path(const char *name);

#endif
