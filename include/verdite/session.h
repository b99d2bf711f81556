/* SPDX-License-Identifier: MIT
 *
 * Session: a visit to one unit. Identify it, read it, write what differs, store, read back, judge each setting.
 * It knows models and verdicts, never bytes; those are the talk's.
 */
#ifndef VERDITE_SESSION_H
#define VERDITE_SESSION_H

#include "verdite/wire.h"

typedef enum vd_task { VD_TASK_IDENTIFY, VD_TASK_READ, VD_TASK_WRITE, VD_TASK_VERIFY } vd_task;

/* Where a task stands, in the order in which a write goes through them. */
typedef enum vd_stage {
    VD_STAGE_IDLE,
    VD_STAGE_IDENTIFY,
    VD_STAGE_READ,        /* live values */
    VD_STAGE_READ_STORED, /* the stored bank, where the model has one that can be read */
    VD_STAGE_ASK,         /* the changes stand; wants the answer to VD_ASK_WRITE */
    VD_STAGE_KEEP,        /* wants the state before the change kept */
    VD_STAGE_WRITE,
    VD_STAGE_STORE,
    VD_STAGE_READ_BACK,
    VD_STAGE_READ_BACK_STORED,
    VD_STAGE_DONE
} vd_stage;

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
    vd_stage stage;
    uint16_t done, total; /* settings of this stage; total is 0 where there is nothing to count */
} vd_progress;

/* A visit. The fields are private but for `fault`, which tells why a task failed. */
typedef struct vd_session {
    vd_fault fault;
    const vd_model *model;
    vd_modbus_talk talk;
    vd_set live, stored, desired;
    uint8_t *scope, *reads, *changes, *fate, *verdict; /* a byte for each setting */
    uint64_t now;
    uint32_t news;
    uint8_t task, stage;
    vd_status status;
    bool stopping, written, read_back;
} vd_session;

extern const vd_engine vd_session_engine;

/* Bytes that a session with this model needs besides its struct. */
size_t vd_session_size(const vd_model *model);
/* Prepares visits to the unit at `address` on a line. `memory`: at least vd_session_size() bytes, aligned for
 * uint64_t, which the session keeps using, as it does the model. `latency`: what the port adds each way,
 * microseconds. VD_MEMORY_TOO_SMALL. */
vd_status vd_session_start(vd_session *session, const vd_model *model, void *memory, size_t size, const vd_line *line,
                           uint8_t address, uint32_t latency);

/* Begin a task; the last one must have ended. Each identifies the unit first and stops at another model. */
void vd_session_identify(vd_session *session, uint64_t now);
/* Reads the live values and, where the model has them, the stored ones. `which` has a byte for each setting, not 0
 * where it is to be read (NULL: all); what decides the decimals of one is read with it. */
void vd_session_read(vd_session *session, uint64_t now, const uint8_t *which);
/* Makes the unit hold what `target` knows, as far as `which` says (NULL: all). `target` is copied.
 * Reads everything, checks the whole result, asks, has the state before kept, writes what differs, stores, reads
 * back, judges. Address, baud and framing are refused with VD_LINK_SETTING, before anything is sent. */
void vd_session_write(vd_session *session, uint64_t now, const vd_set *target, const uint8_t *which);
/* Compares the unit, live and stored, with `target`; changes nothing. */
void vd_session_verify(vd_session *session, uint64_t now, const vd_set *target, const uint8_t *which);

/* Whether the last task has ended, and how. A write that ended with VD_OK is not thereby verified: see the summary. */
bool vd_session_ended(const vd_session *session, vd_status *status);
vd_progress vd_session_progress(const vd_session *session);
/* Who answered; empty before VD_STAGE_READ. */
const vd_identity *vd_session_identity(const vd_session *session);
/* What was read; valid until the next task begins. The stored set is empty where the model has no such bank. */
const vd_set *vd_session_live(const vd_session *session);
const vd_set *vd_session_stored(const vd_session *session);
/* What the unit is to hold: from VD_STAGE_ASK on. */
const vd_set *vd_session_desired(const vd_session *session);
/* Whether this setting is to be written: from VD_STAGE_ASK on. */
bool vd_session_changes(const vd_session *session, uint16_t setting);
vd_verdict vd_session_verdict(const vd_session *session, uint16_t setting);
vd_summary vd_session_summary(const vd_session *session);

#endif
