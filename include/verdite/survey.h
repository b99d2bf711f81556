/* SPDX-License-Identifier: MIT
 *
 * Survey: everything that is to be said of a set.
 */
#ifndef VERDITE_SURVEY_H
#define VERDITE_SURVEY_H

#include "verdite/alarm_words.h"

VD_C_BEGIN

/* Goes through everything that is to be said of a set: values, rules, placeholders left in, alarms. What is not known
 * is told only of errors, and where the set says anything of what the rule is about, or brings it into use. */
typedef struct vd_survey {
    const vd_set *set, *before; /* what is surveyed; what held before a change, NULL: not known */
    const uint8_t *typed;       /* of each setting whether somebody said what it is to be; NULL: nobody did */
    uint16_t rule;              /* the rule that the last finding is about, or VD_NONE */
    uint16_t alarm;             /* likewise the alarm, where it is about none of the rules */
    uint32_t next;              /* private */
    uint16_t item, doubt;       /* private */
} vd_survey;
/* Begins to go through a set. */
void vd_survey_start(vd_survey *survey, const vd_set *set, const vd_set *before);
/* Puts the next finding into `fault`. False when there is none left. */
bool vd_survey_next(vd_survey *survey, vd_fault *fault);

/* Whether a set still lacks something for an errand: a setting that exists and is not known, empty or a placeholder. */
bool vd_errand_lacking(const vd_set *set, const vd_errand *errand);

VD_C_END

#endif
