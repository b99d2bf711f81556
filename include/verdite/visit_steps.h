/* SPDX-License-Identifier: MIT
 *
 * The tasks and steps of a visit, and how far it has come.
 */
#ifndef VERDITE_VISIT_STEPS_H
#define VERDITE_VISIT_STEPS_H

#include <stdint.h>
#include "verdite/version.h"

VD_C_BEGIN

/* What a visit is for. */
typedef enum vd_task {
    VD_TASK_IDENTIFY,
    VD_TASK_READ,
    VD_TASK_WRITE,
    VD_TASK_VERIFY,
    VD_TASK_ACT,
    VD_TASK_TELL
} vd_task;

/* Where a task stands. Those of the second line are small machines inside a step. */
typedef enum vd_step {
    VD_STEP_IDLE,
    VD_STEP_LISTENING, /* it does not listen yet: a hand is needed, or it is starting; asked who it is until it does */
    VD_STEP_PASSWORD,  /* wants the answer to VD_ASK_PASSWORD */
    VD_STEP_LOGIN,
    VD_STEP_TRIES_LEFT,   /* the password was wrong: how many tries are left is read */
    VD_STEP_OLD_PASSWORD, /* wants the answer to VD_ASK_OLD_PASSWORD */
    VD_STEP_IDENTIFY,
    VD_STEP_READ,        /* live values */
    VD_STEP_READ_STORED, /* the stored bank, where the model has one that can be read */
    VD_STEP_SEE_FREE,    /* nobody else may answer where it is to be reached */
    VD_STEP_ASK,         /* the changes stand; wants the answer to VD_ASK_WRITE */
    VD_STEP_KEEP,        /* wants the state before the change kept */
    VD_STEP_KNOW_AGAIN,  /* right before the first write: it is still the same unit, and alone on its address */
    VD_STEP_WRITE,
    VD_STEP_RELOAD, /* what was set by what was just written is read again */
    VD_STEP_CHECK,  /* what was written is live, and the unit has not restarted since */
    VD_STEP_ACT,    /* it is told to do one of its model's actions, once */
    VD_STEP_SAVE,   /* the slot in force */
    VD_STEP_STORE,
    VD_STEP_RESTART,     /* where that proves storage */
    VD_STEP_BY_HAND,     /* the person switches it off and on; it is asked who it is until that was seen */
    VD_STEP_COMING_BACK, /* it restarts; it is asked who it is until it answers */
    VD_STEP_WITNESS,     /* what a restart undoes is looked at, where nothing else showed one */
    VD_STEP_LOAD,        /* that slot is loaded again, which shows what it holds */
    VD_STEP_READ_BACK,
    VD_STEP_READ_BACK_STORED,
    VD_STEP_TRY_PASSWORD, /* it is told the new password once, which shows whether it took it */
    VD_STEP_KNOW_LAST,    /* what was read back came from the same unit */
    VD_STEP_SEE_LEFT,     /* whether anybody answers where it was reached before */
    VD_STEP_DONE,
    VD_STEP_COUNT
} vd_step;

/* How far a visit has come. */
typedef struct vd_progress {
    vd_step step;         /* what it does now */
    uint8_t number, of;   /* which of the steps it is, from 1 */
    uint16_t done, total; /* settings of this step; total is 0 where there is nothing to count */
} vd_progress;

VD_C_END

#endif
