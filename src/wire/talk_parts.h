/* SPDX-License-Identifier: MIT
 * What the talks of all languages share. */
#ifndef VD_WIRE_TALK_PARTS_H
#define VD_WIRE_TALK_PARTS_H

#include "../core/model/ways.h"
#include "../core/text/storage.h"
#include "verdite/talk.h"

struct vd_job {
    const vd_model *model;
    vd_plan plan;
    uint8_t *outcome;     /* vd_outcome of each setting in the last job */
    const uint8_t *which; /* the job's list of settings */
    const vd_action *action;
    vd_set *values, reached,
        before; /* scratch: what the unit holds behind the requests so far; before the last of them */
    vd_identity identity;
    uint64_t now;
    uint16_t at, request; /* where the present request starts in the plan's order, and its number among the writes */
    uint8_t kind, part;
    bool running, stopping;
    bool twice;              /* what is read counts only when it was read alike twice */
    bool others;             /* somebody else replied as well */
    bool deaf;               /* whatever is replied says nothing */
    bool fault_stood;        /* a fault was recorded before the job began */
    vd_status failure;       /* of the first request that a read went on without */
    bool secret;             /* an exchange of this job held one */
    bool veiled;             /* what is still to come may repeat the secret that was said */
    uint8_t passes, in_vain; /* how often a read was done; requests in a row that nobody answered */
    uint32_t unexplained;    /* what the line had brought by then that belongs to no request */
    uint64_t print;          /* of what the pass before read */
    vd_status status;
    vd_fault *fault;
};

struct vd_talk {
    vd_job job;
    void *state; /* of the language */
};
VD_FITS(vd_talk);

/* ---- A job under way: job.c ---- */

size_t vd_job_size(const vd_model *model);
void vd_job_start(vd_job *job, const vd_model *model, void *memory, vd_fault *fault);
void vd_job_end(vd_job *job, vd_status status);
/* Whether a read goes on without the request that failed: always where the unit itself has answered, and where it did
 * not, unless the one before failed so too. */
bool vd_job_skips(vd_job *job, vd_status status, bool answered);
bool vd_job_is_read(const vd_job *job);
/* The order of a job that is one: storing, or an action. */
const vd_order *vd_job_order(const vd_job *job);
/* Whether the job is on settings, as opposed to the unit as a whole. */
bool vd_job_is_on_settings(const vd_job *job);
/* Notes that an exchange has ended; `hidden`: it held a secret. */
void vd_job_exchanged(vd_job *job, bool hidden, vd_status status);
/* What became of the settings from order[from] up to order[end]. */
void vd_job_mark(vd_job *job, unsigned from, unsigned end, vd_outcome outcome);
/* What the job is about just now, for people: the settings from order[from] up to order[end], or its name. */
void vd_job_name(const vd_job *job, unsigned from, unsigned end, vd_writer *writer);

/* Puts the requests of a write into an order in which the rules that the unit enforces hold at every
 * step, where there is one. `held` is what the unit holds before; `reached` and `before` are scratch. */
void vd_plan_steps(vd_plan *plan, vd_set *reached, vd_set *before, const vd_set *held, const vd_set *desired);

#endif
