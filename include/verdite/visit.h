/* SPDX-License-Identifier: MIT
 *
 * Session: a visit to one unit. Identify it, read it, write what differs, store, read back, judge each setting.
 * It knows models and verdicts, never bytes; those are the talk's.
 */
#ifndef VERDITE_VISIT_H
#define VERDITE_VISIT_H

#include "verdite/wire.h"

typedef enum vd_task { VD_TASK_IDENTIFY, VD_TASK_READ, VD_TASK_WRITE, VD_TASK_VERIFY } vd_task;

/* Where a task stands, in the order in which a write goes through them. */
typedef enum vd_step {
    VD_STEP_IDLE,
    VD_STEP_IDENTIFY,
    VD_STEP_LISTENING, /* it does not listen yet: a hand is needed, or it is starting; asked who it is until it does */
    VD_STEP_PASSWORD,  /* wants the answer to VD_ASK_PASSWORD */
    VD_STEP_LOGIN,
    VD_STEP_TRIES_LEFT,  /* the password was wrong: how many tries are left is read */
    VD_STEP_READ,        /* live values */
    VD_STEP_READ_STORED, /* the stored bank, where the model has one that can be read */
    VD_STEP_ASK,         /* the changes stand; wants the answer to VD_ASK_WRITE */
    VD_STEP_KEEP,        /* wants the state before the change kept */
    VD_STEP_WRITE,
    VD_STEP_STORE,
    VD_STEP_RESTART,     /* where that proves storage */
    VD_STEP_COMING_BACK, /* it restarts; it is asked who it is until it answers */
    VD_STEP_READ_BACK,
    VD_STEP_READ_BACK_STORED,
    VD_STEP_DONE
} vd_step;

/* What is known of one setting after a write or a verification. */
typedef enum vd_verdict {
    VD_NOT_ASKED,        /* the task was not about it */
    VD_CONFIRMED,        /* read back from storage, equal */
    VD_LIVE_ONLY,        /* read back live, equal; the model has no proof of storage */
    VD_DIFFERS,          /* the unit holds something else, live or stored */
    VD_CANNOT_READ_BACK, /* sent and acknowledged, but the unit never shows it */
    VD_NOT_SENT,
    VD_UNKNOWN /* sent, or to be verified, but the unit could not be asked: the outcome is not known */
} vd_verdict;

/* The verdict on the whole; only VD_WHOLE_VERIFIED may be called "verified". */
typedef enum vd_whole {
    VD_WHOLE_VERIFIED,
    VD_WHOLE_EXCEPT,    /* verified except those that cannot be read back */
    VD_WHOLE_LIVE_ONLY, /* live, storage not proved */
    VD_WHOLE_NOT        /* not verified */
} vd_whole;

typedef struct vd_summary {
    vd_whole whole;
    uint16_t confirmed, live_only, differing, unreadable, not_sent, unknown, total;
} vd_summary;

typedef struct vd_progress {
    vd_step stage;
    uint16_t done, total; /* settings of this stage; total is 0 where there is nothing to count */
} vd_progress;

/* A visit. The fields are private but for `fault`, which tells why a task failed. */
typedef struct vd_visit {
    vd_fault fault;
    const vd_model *model;
    vd_talk talk;
    vd_set live, stored, desired;
    uint8_t *scope, *reads, *changes, *fate, *verdict, *absent; /* a byte for each setting */
    uint64_t now;
    uint32_t news;
    uint64_t wake, back_by; /* while it comes back or is to listen: when to ask next, and when to give up */
    vd_identity before;     /* who it was before it restarted */
    uint8_t task, stage;
    uint8_t after_login; /* the stage that waits for the login */
    uint64_t login_at;
    vd_status status;
    bool stopping, written, read_back, restarted;
    bool login_wanted, logged_in, factory_password;
} vd_visit;

extern const vd_engine vd_visit_engine;

/* Bytes that a session with this model needs besides its struct. */
size_t vd_visit_size(const vd_model *model);
/* Prepares visits to the unit at `address` on a line. `memory`: at least vd_visit_size() bytes, aligned for
 * uint64_t, which the session keeps using, as it does the model. `latency`: what the port adds each way,
 * microseconds. VD_MEMORY_TOO_SMALL. */
vd_status vd_visit_start(vd_visit *session, const vd_model *model, void *memory, size_t size, const vd_line *line,
                         uint8_t address, uint32_t latency);

/* Whether a read logs in, so that it also brings what only a fitter may read; without it those settings are left out.
 * Writing and verifying log in whenever a setting needs it. Holds for all later tasks; false at first. */
void vd_visit_want_login(vd_visit *session, bool wanted);
/* Whether the password by which it logged in is the one from the factory. */
bool vd_visit_has_factory_password(const vd_visit *session);
/* Whether a setting was left out because nobody logged in. */
bool vd_visit_needs_login(const vd_visit *session, uint16_t setting);

/* Begin a task; the last one must have ended. Each identifies the unit first and stops at another model. */
void vd_visit_identify(vd_visit *session, uint64_t now);
/* Reads the live values and, where the model has them, the stored ones. `which` has a byte for each setting, not 0
 * where it is to be read (NULL: all); what decides the decimals of one is read with it. */
void vd_visit_read(vd_visit *session, uint64_t now, const uint8_t *which);
/* Makes the unit hold what `target` knows, as far as `which` says (NULL: all). `target` is copied.
 * Reads everything, checks the whole result, asks, has the state before kept, writes what differs, stores, restarts the
 * unit where that is the model's proof of storage, reads back, judges. Address, baud and framing are refused with
 * VD_LINK_SETTING, before anything is sent. */
void vd_visit_write(vd_visit *session, uint64_t now, const vd_set *target, const uint8_t *which);
/* Compares the unit, live and stored, with `target`; changes nothing. */
void vd_visit_verify(vd_visit *session, uint64_t now, const vd_set *target, const uint8_t *which);

/* Whether the last task has ended, and how. A write that ended with VD_OK is not thereby verified: see the summary. */
bool vd_visit_ended(const vd_visit *session, vd_status *status);
vd_progress vd_visit_progress(const vd_visit *session);
/* Who answered; empty before VD_STEP_READ. */
const vd_identity *vd_visit_identity(const vd_visit *session);
/* What was read; valid until the next task begins. The stored set is empty where the model has no such bank. */
const vd_set *vd_visit_live(const vd_visit *session);
const vd_set *vd_visit_stored(const vd_visit *session);
/* What the unit is to hold: from VD_STEP_ASK on. */
const vd_set *vd_visit_desired(const vd_visit *session);
/* Whether this setting is to be written: from VD_STEP_ASK on. */
bool vd_visit_changes(const vd_visit *session, uint16_t setting);
/* What the unit held before a write, to be kept and put back: what it would come up with after a power cycle, so the
 * stored values, and the live ones where the model shows no stored ones. From VD_STEP_ASK to VD_STEP_WRITE. */
void vd_visit_prior(const vd_visit *session, vd_set *prior);
vd_verdict vd_visit_verdict(const vd_visit *session, uint16_t setting);
vd_summary vd_visit_summary(const vd_visit *session);

#endif
