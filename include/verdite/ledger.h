/* SPDX-License-Identifier: MIT
 *
 * Ledger: what is known of each setting in a visit, and the verdicts that follow from it.
 */
#ifndef VERDITE_LEDGER_H
#define VERDITE_LEDGER_H

#include <stdbool.h>
#include <stdint.h>
#include "verdite/version.h"

VD_C_BEGIN

/* What part a setting has in a task, as bits. */
#define VD_PART_ASKED 1u       /* the task is about it */
#define VD_PART_CHANGES 2u     /* its value, or the count that stands for it, must be written */
#define VD_PART_ALONG 4u       /* it shares a record or register with one that is written */
#define VD_PART_RESCALED 8u    /* the setting that decides its decimals is written */
#define VD_PART_SHOWN 16u      /* the unit shows it */
#define VD_PART_ABSENT 32u     /* this unit does not have it */
#define VD_PART_WAS_READ 64u   /* it was read before anything was written */
#define VD_PART_FLEETING 128u  /* what is to be written would be gone after a restart, until it is stored */
#define VD_PART_ELSEWHERE 256u /* asked for, but it belongs to the unit that the target is from */
#define VD_PART_OFF_LINK 512u  /* it says where the unit is reached, and that is not where it answers */
#define VD_PART_LACKING 1024u  /* asked for, and left out since this unit does not have it */
#define VD_PART_IDLE 2048u     /* asked for, and left alone since it does not count in the mode that results */
#define VD_PART_CALLED 4096u   /* it goes out, or went, in a broadcast to several units */

#define VD_PART_BY_NOW 8192u   /* a clock that is to show what time it is, whenever that is */
#define VD_PART_SWAYED 16384u  /* another setting that is written sets it; what to is not known yet */
#define VD_PART_IN_SLOT 32768u /* loading its slot again shows whether it lasts, and nothing else does */

/* What became of sending a setting. */
typedef enum vd_sending {
    VD_UNSENT,
    VD_SENT_IN_VAIN, /* sent, and no answer told what became of it */
    VD_TURNED_DOWN,  /* the unit answered, and said no */
    VD_ACKNOWLEDGED, /* the unit answered, and said yes */
    VD_SENDING_COUNT
} vd_sending;

/* What was read back of it, held against what it is to be. */
typedef enum vd_reading {
    VD_UNREAD,
    VD_AS_WANTED,
    VD_AS_BEFORE, /* what it was before, which is not what it is to be */
    VD_OTHERWISE,
    VD_READING_COUNT
} vd_reading;

/* What is known of one setting. */
typedef struct vd_entry { /* what is known of one setting */
    uint16_t part;        /* VD_PART_... */
    uint8_t sending;      /* vd_sending */
    uint8_t live, stored; /* vd_reading */
    uint8_t put_off;      /* not 0: the unit turned it down at first, and it went once more behind others of its kind */
} vd_entry;

/* What was seen of a restart, as bits. */
#define VD_SEEN_RAN_ON 1u       /* its running time went on: it has not restarted */
#define VD_SEEN_RAN_ANEW 2u     /* its running time is shorter than it would be, had it run on */
#define VD_SEEN_UNDONE 4u       /* what a restart undoes is undone: a login, a reading */
#define VD_SEEN_SILENCE 8u      /* silence to three questions in a row, over at least half of the time that it takes */
#define VD_SEEN_START 16u       /* the line by which it says that it has started */
#define VD_SEEN_START_AFTER 32u /* that line, behind such a silence */
#define VD_SEEN_PORT 64u        /* its own port went and came back */
/* Whether what was seen can only be a restart. A pulled plug brings silence and a port that went; a unit that does not
 * restart may say that it has started; so none of these is a proof by itself, and a running time that went on is a
 * veto.
 */
bool vd_seen_proves_restart(unsigned seen);

/* What shows that values last. */
typedef enum vd_lasting {
    VD_LASTS_UNPROVED, /* nothing showed it */
    VD_LASTS_AT_ONCE,  /* the model says that what is written lasts */
    VD_LASTS_IN_BANK,  /* the stored values were read too */
    VD_LASTS_RESTART,  /* they were read after a restart that was seen */
    VD_LASTING_COUNT
} vd_lasting;

/* What is known of the whole visit. */
typedef struct vd_standing { /* what is known of the whole visit */
    uint8_t lasting;         /* vd_lasting */
    bool writes;             /* the task writes, as opposed to verifying */
    bool same_unit;          /* whoever was read back is who was meant */
    bool stored;             /* the unit stored what was live, or need not */
    bool unbroken;           /* it is known that it has not restarted between taking and storing */
    uint8_t seen;            /* VD_SEEN_..., since it was last told to store or to restart */
} vd_standing;

/* What is known of one setting after a write or a verification. */
typedef enum vd_verdict {
    VD_NOT_ASKED,        /* the task has nothing to do with it */
    VD_CONFIRMED,        /* read back from storage, equal */
    VD_LIVE_ONLY,        /* read back live, equal; that it is stored was not shown */
    VD_DIFFERS,          /* the unit holds something else, live or stored */
    VD_CANNOT_READ_BACK, /* acknowledged and stored, but the unit never shows it */
    VD_NOT_SENT,         /* and its value cannot have moved */
    VD_UNKNOWN           /* sent, or to be verified, and not read back: the outcome is not known */
} vd_verdict;

/* The verdict on one setting: a pure function of what is known. */
vd_verdict vd_entry_verdict(const vd_entry *entry, const vd_standing *standing);

/* What a visit comes to. */
typedef enum vd_whole { /* the verdict on the whole; only the first may be called "verified" */
                        VD_WHOLE_VERIFIED,
                        VD_WHOLE_EXCEPT,    /* verified except those that cannot be read back */
                        VD_WHOLE_LIVE_ONLY, /* live, storage not proved */
                        VD_WHOLE_NOT        /* not verified */
} vd_whole;

/* A visit in numbers of settings. */
typedef struct vd_summary { /* settings of the task by verdict, and others that moved */
    vd_whole whole;
    uint16_t confirmed, live_only, differing; /* how many have each verdict */
    uint16_t unreadable, not_sent, unknown;   /* how many have each verdict */
    uint16_t total;                           /* of all of them */
    uint16_t moved;                           /* others that hold something else than before; none of the former */
} vd_summary;

VD_C_END

#endif
