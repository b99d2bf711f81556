/* SPDX-License-Identifier: MIT
 *
 * History: visits as the store keeps them. A row is begun before the first byte of a change is sent, with what the unit
 * held and what it is to hold; each step that outlasts the visit is added before it begins; the verdicts end it. So the
 * same row is the state before, the journal, and the history: one without an end was cut off.
 */
#ifndef VERDITE_HISTORY_H
#define VERDITE_HISTORY_H

#include "verdite/store.h"
#include "verdite/visit.h"

VD_C_BEGIN

/* ---- Keeping a visit ---------------------------------------------------------------------------------------- */

/* What a visit itself does not know. Texts may be NULL. */
typedef struct vd_occasion {
    const char *task;                          /* what it was called for, such as "undo"; NULL: the task's own name */
    const char *port, *adapter, *who, *remark; /* where, by whose hand, and why; NULL: not said */
    const char *line;                          /* what the fitter calls the line */
    const char *code;                          /* what a scan gave for the unit, where it was told by that */
    int64_t now;                               /* milliseconds since 1970, UTC */
    int64_t of; /* the visit that it finishes or undoes, or the act that it is a leg of; 0: none */
    bool leg;   /* it is one of several visits of an act, and no act by itself */
} vd_occasion;

/* Begins a row, for good once it returns VD_OK; `id` is its number. Of what is secret only that there was one is kept.
 * VD_STORE_SHUT, with the reason, and nothing is kept. */
vd_status vd_history_begin(vd_store_file *store, const vd_visit *visit, const vd_occasion *occasion, int64_t *id,
                           vd_fault *fault);
/* Adds what became of the steps so far, and the one that begins now. */
vd_status vd_history_step(vd_store_file *store, int64_t id, const vd_visit *visit, vd_fault *fault);
/* Ends a row, when the visit has ended. Where that one left nothing open, what earlier visits to the same unit left
 * open is open no longer. */
vd_status vd_history_end(vd_store_file *store, int64_t id, const vd_visit *visit, int64_t now, vd_fault *fault);

/* ---- Acts that are no visit, or several --------------------------------------------------------------------- */

/* Something that was done to a unit, or is to be, without a visit that knows more of it. */
typedef struct vd_act {
    const char *model;       /* its key */
    vd_identity unit, other; /* `other`: the second unit of a swap, else empty */
    vd_link from, to;        /* of `unit`; that of a swap's other unit goes the other way */
} vd_act;
/* Keeps that something was sent as it was typed; what, is not kept. */
vd_status vd_history_tell_sent(vd_store_file *store, const vd_act *act, const vd_occasion *occasion, vd_fault *fault);
/* Begins the one row of a swap, before its first leg: open until vd_history_end_act(). */
vd_status vd_history_begin_act(vd_store_file *store, const vd_act *act, const vd_occasion *occasion, int64_t *id,
                               vd_fault *fault);
/* Ends it, with the outcome of the whole. `settled`: it and its legs, and the act that it finishes or undoes with its
 * legs, are open no longer. */
vd_status vd_history_end_act(vd_store_file *store, int64_t id, vd_whole whole, bool settled, int64_t now,
                             vd_fault *fault);

/* ---- Looking back ------------------------------------------------------------------------------------------- */

/* A visit of before. */
typedef struct vd_past {
    int64_t id;           /* its number in the store */
    char mark[33];        /* 128 bits of its own, in hexadecimal */
    int64_t began, ended; /* milliseconds since 1970, UTC; ended: 0 where it was cut off, or is still under way */
    int64_t of;           /* the visit that it finishes or undoes, 0: none */
    int64_t ran;          /* how long the unit had been running when it ended, milliseconds; -1: it did not say */
    char task[64], step[16], outcome[20]; /* the step that was begun last; how it ended, "" where it did not */
    char model[64];                       /* its key */
    vd_identity unit;                     /* as it said */
    char port[128], adapter[160], line[64], who[64], remark[256]; /* where, by whose hand, and why; "": not said */
    char code[64];                                                /* what a scan gave for the unit; "": nothing */
    vd_link from, to;               /* where the unit was reached, and where it was to be; baud 0: not known */
    uint8_t at;                     /* the address at which it was read back; 0: it was not */
    bool leg;                       /* a part of the act `of` */
    char other[VD_SERIAL_MOST + 2]; /* of a swap: the serial number of the second unit */
    int32_t changes;                /* settings that were to be written; -1: something, how many is not known */
    bool open;                      /* some of it may have been done, and it is not known that the whole was */
} vd_past;

/* Which visits of before are wanted. */
typedef struct vd_past_query {
    int64_t id;                 /* this one; 0: any */
    const char *model, *serial; /* of these units; NULL: any */
    const char *code;           /* told by this code; NULL: by any, or none */
    int64_t since, until;       /* begun in this time; 0: whenever */
    bool open, writes;          /* only those that are open; only those that were to change something */
    bool acts;                  /* none that is only a leg of another */
} vd_past_query;

/* The visits that fit, the last first, at most `most`. Returns how many there are in `past`. */
size_t vd_history_find(vd_store_file *store, const vd_past_query *query, vd_past *past, size_t most);

/* What is kept of a setting in a visit, as bits: those of its vd_sending. */
#define VD_PAST_SENDING 3u
/* Where the verdict (vd_verdict) stands in the bits of a setting. */
#define VD_PAST_VERDICT_SHIFT 2u
/* The bits of the verdict, before they are shifted. */
#define VD_PAST_VERDICT 28u
/* It was asked for. */
#define VD_PAST_ASKED 32u
/* It was to be changed. */
#define VD_PAST_CHANGES 64u
#define VD_PAST_SECRET 128u /* its values are not kept */
#define VD_PAST_IDLE 256u   /* it did not count, in the mode that the unit was in */
#define VD_PAST_ALONG 512u  /* it was not to be changed, and what was sent may have moved it */

/* Puts what is kept of a visit into sets of its model, and a number of bits for each setting into `about` (NULL: not
 * wanted): what the unit held before, what was wanted, what it held after. What the model no longer has, or would no
 * longer take, is left out, and counted in what is returned. */
size_t vd_history_values(vd_store_file *store, int64_t id, vd_set *before, vd_set *wanted, vd_set *after,
                         uint16_t *about);

/* What a setting of a unit was in a visit. */
typedef struct vd_past_value {
    int64_t id, began; /* the visit, and when it began */
    char task[64];     /* what it was */
    char value[256];   /* as it is printed; after the visit, where it changed it */
    bool idle;         /* it did not count when it was seen last */
} vd_past_value;
/* The times at which it was another value than before, the last first. */
size_t vd_history_of_setting(vd_store_file *store, const char *model, const char *serial, const char *key,
                             vd_past_value *values, size_t most);

/* Whether a visit is to give its unit what no two may have (VD_AMONG_UNIQUE), and another unit of the model had when it
 * was met last; that visit is put into `other`. What is secret is not kept, and so not found. */
bool vd_history_alike(vd_store_file *store, const vd_visit *visit, uint16_t setting, vd_past *other);

/* How programs call a verdict on the whole. */
const char *vd_whole_name(vd_whole whole);

VD_C_END

#endif
