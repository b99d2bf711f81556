/* SPDX-License-Identifier: MIT
 *
 * Alarms: what those of a unit mean with what a set holds, as sentences, and what is doubtful about them.
 */
#ifndef VERDITE_ALARM_WORDS_H
#define VERDITE_ALARM_WORDS_H

#include "verdite/watch.h"

VD_C_BEGIN

/* Whether the n-th alarm (as vd_model_alarm_at() numbers them) is in use. */
vd_ruling vd_alarm_is_used(const vd_set *set, uint16_t n);

/* What can be told of an alarm, each for itself; nothing is added where there is nothing to tell. */
typedef enum vd_alarm_part {
    VD_ALARM_LABEL,      /* "Alarm 1" */
    VD_ALARM_NAME,       /* by which people call it */
    VD_ALARM_CHANNEL,    /* the key of what it watches */
    VD_ALARM_MET,        /* "the load is warmer than 8.0 °C" */
    VD_ALARM_DELAY,      /* "10 min" */
    VD_ALARM_ONLY_WHILE, /* "the trailer is faster than 5 km/h" */
    VD_ALARM_OVER,       /* "the load is at 7.5 °C or colder" */
    VD_ALARM_DELAY_OUT,
    VD_ALARM_LATCHED, /* "button or supply"; empty: it does not latch */
    VD_ALARM_HUSH,
    VD_ALARM_DOES, /* "lights lamp 2 and sends a text message to Ann" */
    VD_ALARM_TEXT
} vd_alarm_part;
/* Adds one part of what an alarm means; nothing where there is nothing to tell. */
void vd_alarm_tell(const vd_set *set, uint16_t n, vd_alarm_part part, vd_writer *writer);

/* Adds a value of a channel, times 10^places, as people read it; the name of its state where it has states. */
void vd_channel_print(const vd_model *model, uint16_t channel, int64_t number, vd_writer *writer);

/* Adds how an alarm is called: Alarm 1, "Load". */
void vd_alarm_call(const vd_set *set, uint16_t n, vd_writer *writer);
#define VD_SENTENCE_SIZE 2048u /* bytes that take what any alarm means, uncut */
/* Adds what an alarm means as sentences that follow its name and a colon, with all that is needed to set it again. */
void vd_alarm_say(const vd_set *set, uint16_t n, vd_writer *writer);
/* Whether a setting is that of somebody whom an alarm tells. */
bool vd_alarm_tells(const vd_set *set, uint16_t n, uint16_t setting);
/* Whether what an alarm means differs between two sets. */
bool vd_alarm_differs(const vd_set *a, const vd_set *b, uint16_t n);

/* The word for a vd_way, in model files and where people type it: "above". */
const char *vd_way_word(uint8_t way);

/* Goes through what is doubtful about the n-th alarm with what a set holds, whose readings are those of now; `before`
 * is what held before a change, NULL: not known. */
typedef struct vd_alarm_doubts {
    const vd_set *set, *before; /* what the alarm holds; what it held before a change, NULL: not known */
    const uint8_t *typed;       /* of each setting whether somebody said what it is to be; NULL: nobody did */
    uint16_t n;                 /* which alarm, as vd_model_alarm_at() numbers them */
    uint16_t next;              /* private */
} vd_alarm_doubts;
/* Begins to go through the doubts about the n-th alarm. */
vd_alarm_doubts vd_alarm_doubts_start(const vd_set *set, const vd_set *before, uint16_t n);
/* The next one, VD_DOUBT_NONE where there is none left; its sentence is added to the writer. */
vd_alarm_doubt vd_alarm_doubts_next(vd_alarm_doubts *doubts, vd_writer *writer);
/* The setting to blame for a doubt about an alarm; VD_NONE: none says it. */
uint16_t vd_alarm_blame(const vd_set *set, uint16_t n, vd_alarm_doubt doubt);

VD_C_END

#endif
