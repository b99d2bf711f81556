/* SPDX-License-Identifier: MIT
 *
 * Talk: a job on many settings of one unit, in its model's language, in as few exchanges as that allows.
 */
#ifndef VERDITE_TALK_H
#define VERDITE_TALK_H

#include "verdite/language.h"
#include "verdite/set.h"

VD_C_BEGIN

/* What can be done with a unit. */
typedef enum vd_job_kind {
    VD_JOB_IDENTIFY,
    VD_JOB_READ_LIVE,
    VD_JOB_READ_STORED, /* models with VD_PROOF_BANK only */
    VD_JOB_WRITE,       /* live values */
    VD_JOB_STORE,       /* make the live values last */
    VD_JOB_ACT,         /* one of the model's actions: see vd_talk_act() */
    VD_JOB_LOGIN        /* units that talk in lines: says the password */
} vd_job_kind;

/* In a list of settings for a job: this one does not exist in this unit, so no request may touch its registers. */
#define VD_ABSENT 2u

/* What became of a setting in a job. */
typedef enum vd_outcome {
    VD_NOT_TRIED,
    VD_DONE,    /* the unit answered, and said yes */
    VD_REFUSED, /* the unit answered, and said no */
    VD_UNCLEAR  /* sent, but no answer: it may or may not have been done */
} vd_outcome;

/* One stretch of requests on the same settings; the fields are private. */
typedef struct vd_plan {
    uint16_t *order;   /* settings in the order of the job */
    uint16_t *next;    /* next[i]: the request that starts with order[i] ends before order[next[i]] */
    uint32_t *cost;    /* reads: scratch; writes: where each request starts, in the order in which they are sent */
    uint16_t count;    /* of `order` */
    uint16_t requests; /* writes */
} vd_plan;

/* One job under way, whatever the language. */
typedef struct vd_job vd_job;

/* Does jobs on the settings of one unit, in its model's language. */
typedef struct vd_talk vd_talk;
VD_STORAGE(vd_talk, 352, 416)

/* The engine of a vd_talk. */
extern const vd_engine vd_talk_engine;

/* Bytes that a talk needs besides its struct and what its language keeps; see VD_SET_SIZE(). */
#define VD_JOB_SIZE(settings, bytes, odd)                                                                              \
    (2u * VD_SET_SIZE(settings, bytes, odd) + VD_ALIGNED(4u * ((size_t)(settings) + 1u)) +                             \
     VD_ALIGNED(4u * (size_t)(settings)) + VD_ALIGNED(settings))
/* Bytes that a talk needs besides its struct. */
size_t vd_talk_size(const vd_model *model);
/* `memory`: vd_talk_size() bytes, aligned for uint64_t; the talk keeps using it and `fault`. `address` is the unit's, 0
 * where it has none. */
void vd_talk_start(vd_talk *talk, const vd_model *model, void *memory, const vd_serial *line, uint8_t address,
                   uint32_t latency, vd_fault *fault);
/* From now on the unit is asked over another link; what was heard, and what the line is owed in silence, still counts.
 * No job may be under way. */
void vd_talk_move(vd_talk *talk, const vd_link *link, uint32_t latency);
/* How often a repeatable request is sent at most from now on; 0: as the model says. */
void vd_talk_limit_tries(vd_talk *talk, uint8_t tries);
/* Begins a job. `which` has a byte for each setting: 1 where the job is on it, VD_ABSENT where it does not exist. Reads
 * put into `values`; writes take from it, and `held` is what the unit holds before. Settings that the job cannot be on
 * (writing what is read-only) are passed over. Writes expect each value to have passed vd_set_check(). Where a write
 * makes the unit restart by itself, the job ends behind it, and the rest was not tried. */
void vd_talk_begin(vd_talk *talk, uint64_t now, vd_job_kind kind, const uint8_t *which, vd_set *values,
                   const vd_set *held);
/* Begins the login with a password, which is not kept. The model has a word for it. */
void vd_talk_log_in(vd_talk *talk, uint64_t now, const char *password, size_t length);
/* Tells the unit to do one of its model's actions, once. */
void vd_talk_act(vd_talk *talk, uint64_t now, const vd_action *action);
/* Makes the question who it is, which was just begun, go on listening for somebody else with the same address. */
void vd_talk_be_patient(vd_talk *talk);
/* Whether from now on nothing that is replied to a write counts, because several units have the address and reply at
 * once: each request is said once, and what becomes of it is unclear. */
void vd_talk_be_deaf(vd_talk *talk, bool deaf);
/* Whether somebody else replied to it as well. */
bool vd_talk_heard_others(const vd_talk *talk);
/* From now on what is read counts only when it was read alike twice; for languages without a check. */
void vd_talk_read_twice(vd_talk *talk, bool wanted);
/* What the line has brought so far that belongs to no request, where that is no part of the language. */
uint32_t vd_talk_unexplained(const vd_talk *talk);
/* How often so far a reply was late, missing, damaged or of no request: where several share a line, any of that may be
 * the sign of a second one with the same address. */
uint32_t vd_talk_disturbed(const vd_talk *talk);
/* What was met on the line since the talk was started. */
const vd_tally *vd_talk_tally(const vd_talk *talk);
/* What became of a setting in the last job. */
vd_outcome vd_talk_outcome(const vd_talk *talk, uint16_t setting);
/* Whether the line by which the unit says that it has started was heard since it was asked last. */
bool vd_talk_heard_start(vd_talk *talk);
/* Whether the job has ended, and how. A write ends at the first request that fails. A read goes on without it, and ends
 * with VD_OK when anything was read: vd_talk_outcome() tells of each setting. VD_UNSTEADY: it was never read alike
 * twice. */
bool vd_talk_ended(const vd_talk *talk, vd_status *status);

/* Whether a write of what `which` names says the number of decimals and all that gets it from there at once; else those
 * mean something else to the unit for a moment. */
bool vd_talk_rescales_at_once(const vd_model *model, const uint8_t *which, uint16_t decides);

VD_C_END

#endif
