/* SPDX-License-Identifier: MIT
 *
 * Alarm: what a unit watches for, as constant data of its model. docs/alarms.md says what each part means; watch.h runs
 * alarms, alarm_words.h says and edits them.
 */
#ifndef VERDITE_ALARM_H
#define VERDITE_ALARM_H

#include "verdite/setting.h"

VD_C_BEGIN

/* What a formula has to give. */
typedef enum vd_gives {
    VD_GIVES_TRUTH,
    VD_GIVES_NUMBER,
    VD_GIVES_TIME,  /* a duration */
    VD_GIVES_STATE, /* a choice or truth; or it is no expression at all but the name of a state */
    VD_GIVES_PLAIN, /* a number without a unit */
    VD_GIVES_WAY,
    VD_GIVES_SPEED,
    VD_GIVES_ANGLE,
    VD_GIVES_BYTES,
    VD_GIVES_CHARGE,
    VD_GIVES_CURRENT,
    VD_GIVES_SHARE /* in % */
} vd_gives;

/* An expression (docs/rules.md) in a channel, a condition or an alarm. Others refer to it. */
typedef struct vd_formula {
    const char *text; /* the expression, as it was written */
    vd_ref block;     /* what "this" is about */
    uint8_t gives;    /* vd_gives */
} vd_formula;

/* What may be watched. */
typedef struct vd_channel {
    const char *key, *label; /* as files name it, and as people do */
    const char *called;      /* in a sentence, e.g. "the load"; "": its label */
    const char *more, *less; /* "warmer than", "colder than"; "": "above", "below" */
    vd_ref reads;            /* the reading that shows it; none: it is on or off */
    vd_ref wired;            /* formula: whether anything is connected to it; none: always */
    uint8_t flag;            /* of a reading that is flags: the number of the flag; else VD_NO_FLAG */
    uint32_t holds_for;      /* milliseconds for which a value holds; 0: as a log's rows have it */
} vd_channel;
/* Of a channel whose reading is no flags. */
#define VD_NO_FLAG 0xFFu
#define VD_MOST_CHANNELS 64u /* so that a set of them fits 64 bits */

/* Which way a value is compared. */
typedef enum vd_way {
    VD_ABOVE,   /* x > limit */
    VD_BELOW,   /* x < limit */
    VD_OUTSIDE, /* x < limit or x > upper */
    VD_INSIDE,  /* limit <= x <= upper */
    VD_IS,      /* x is that state */
    VD_RISES,   /* it rises by more than limit in a unit of time, seen over `window` */
    VD_FALLS,
    VD_CHANGES, /* either */
    VD_WAYS
} vd_way;

/* One comparison. */
typedef struct vd_test {
    vd_ref counts;       /* formula: it counts only then, none: always; of several the first that counts is the one */
    vd_ref limit, upper; /* formulas; of a rate, the limit is a number of the channel's unit, per `per` */
    vd_ref release;      /* formula, at least 0; none: 0 */
    vd_ref window;       /* formula, a duration: of rates */
    uint32_t per;        /* of rates: milliseconds, e.g. 60000 where the limit is meant per minute */
    uint8_t way;         /* vd_way */
} vd_test;

/* What is watched: a channel; or the one that a setting chooses, by a choice that is named like the channel's key. */
typedef struct vd_source {
    vd_ref channel;  /* none: what `chooser` says */
    bool by_item;    /* in each further item of the block the next channel */
    vd_spot chooser; /* a choice; one that names no channel watches nothing */
} vd_source;

#define VD_MOST_CONDITIONS 16u /* of an alarm */
/* Under which alone an alarm counts; it may have several. */
typedef struct vd_condition {
    const char *key;    /* "" where it is an alarm's own */
    vd_source watches;  /* what it compares */
    vd_ref block;       /* one for each item of it; none: just one */
    uint16_t test;      /* first of its tests in the model's `tests` */
    uint8_t test_count; /* how many comparisons; the first that counts is the one */
} vd_condition;

/* What an alarm does when it stands. */
typedef struct vd_reaction {
    const char *key;  /* e.g. "message" */
    const char *says; /* the end of a sentence that begins with the alarm: "sends a text message to {who}" */
    vd_ref does;      /* formula: whether it does, none: always */
    bool tells;       /* it needs somebody to tell */
} vd_reaction;

/* What clears a latched alarm. */
typedef enum vd_clearing { VD_CLEARED_BY_BUTTON = 1, VD_CLEARED_BY_COMMAND = 2, VD_CLEARED_BY_SUPPLY = 4 } vd_clearing;

/* Whether an alarm stands by itself, or for several. */
typedef enum vd_joint { VD_SINGLE, VD_ALL_OF, VD_ANY_OF } vd_joint;

/* What a unit watches for, and what it does then. Formulas that are not there say nothing. */
typedef struct vd_alarm {
    const char *key, *label;      /* of alarms in a block the label is the item's */
    vd_ref block;                 /* one for each item of it; none: just one */
    vd_spot name;                 /* a text by which people call it */
    vd_ref used;                  /* formula: the slot is in use; none: always */
    vd_ref matters;               /* formula: it can ever count, such as that its setup is in force; none: always */
    const char *idle;             /* why it cannot otherwise, a sentence */
    vd_source watches;            /* what it compares */
    uint16_t test;                /* the first of its comparisons in the model's `tests` */
    uint8_t test_count;           /* how many it has; the first that counts is the one */
    vd_ref delay_in, delay_out;   /* formulas */
    vd_ref hush;                  /* formula: no cause begins for so long after a start */
    vd_ref latches;               /* formula: whether it stands until it is cleared; none: never */
    vd_ref longest, rest;         /* formulas of durations: met when the test was true for so long in all without a rest
                                       of at least `rest`; none: an ordinary alarm */
    uint8_t cleared_by;           /* vd_clearing, any of them */
    bool clears_always;           /* also while its cause goes on */
    bool any_condition;           /* any of its conditions will do; else all must be true */
    bool holds;                   /* a condition that is lost holds what stands; else it releases it */
    const uint16_t *conditions;   /* indexes into the model's conditions */
    uint8_t condition_count;      /* of `conditions` */
    uint8_t joint;                /* vd_joint; a combination watches nothing itself */
    const uint16_t *members;      /* of a combination: indexes of single alarms without a block */
    uint8_t member_count;         /* of `members` */
    const vd_reaction *reactions; /* what it does when it stands */
    uint8_t reaction_count;       /* of `reactions` */
    vd_spot tells;                /* flags: who is told; the n-th is about item n of `people` */
    vd_ref people;                /* a block */
    vd_ref person, number;        /* in its first item: the setting with the name, the one with the phone number */
    vd_spot text;                 /* what is told */
    vd_spot shown; /* where it shows that it stands: a truth, or flags: of a block the one with its item's place */
    uint8_t flag;  /* else this one */
    const char *says_stands, *says_ends; /* lines that the unit says unasked, with {item}; NULL or \"\": none */
} vd_alarm;

VD_C_END

#endif
