/* SPDX-License-Identifier: MIT
 *
 * Rules: conditions between settings, and whether a unit has run on.
 */
#ifndef VERDITE_RULES_H
#define VERDITE_RULES_H

#include "verdite/set.h"

VD_C_BEGIN

/* What is known of a condition. Not known never counts as kept. */
typedef enum vd_ruling { VD_HOLDS, VD_FAILS, VD_NOT_KNOWN } vd_ruling;

/* Whether a setting exists in the unit that a set is about: holds, fails (the setting's `because` says why), or not
 * known. */
vd_ruling vd_set_exists(const vd_set *set, uint16_t setting);
/* The n-th setting (from 0) on which it hangs whether this one exists, VD_NONE when there are no more. */
uint16_t vd_model_hangs_on(const vd_model *model, uint16_t setting, uint16_t n);
/* Whether a setting hangs on another in that way, or by what it hangs on. */
bool vd_model_hangs(const vd_model *model, uint16_t setting, uint16_t other);
/* By what the set tells of a setting: itself, where it is known, else a known one on which it hangs whether it exists;
 * VD_NONE: nothing. */
uint16_t vd_set_told_by(const vd_set *set, uint16_t setting);
/* Whether this variant or firmware lacks the setting for good, whatever the other settings are. */
bool vd_set_lacks(const vd_set *set, uint16_t setting);
/* How often a rule is to be judged: once, or for each item of its block. */
uint16_t vd_rule_items(const vd_model *model, uint16_t rule);
/* Judges a rule, for item `item` of its block (0 where it has none). `before` is what held before the change, for
 * rules about what changed; NULL: not known. Of a broken rule the fault holds severity (VD_RULE_BROKEN,
 * VD_RULE_WARNING, VD_RULE_REMARK), the setting to blame and, in `allowed`, the sentence with the values in it; of one
 * that is not known (VD_RULE_NOT_KNOWN) `allowed` is the key of a setting that is missing. */
vd_ruling vd_rule_judge(const vd_set *set, const vd_set *before, uint16_t rule, uint16_t item, vd_fault *fault);
/* Whether a rule depends on a setting. */
bool vd_rule_mentions(const vd_model *model, uint16_t rule, uint16_t setting);
/* Whether it depends on a setting, or on one that exists only where that says so. */
bool vd_rule_hangs_on(const vd_model *model, uint16_t rule, uint16_t setting);

/* How long a unit says that it has been running, milliseconds; -1 where it does not, or that was not read. */
int64_t vd_set_running_time(const vd_set *set);
/* What a unit said of how long it has been running, milliseconds each. */
typedef struct vd_running_times {
    int64_t before, now; /* first, and `elapsed` later; below 0: it did not say */
    int64_t elapsed;     /* milliseconds between the two */
    int64_t since; /* how long ago it can have restarted at most; below 0: right behind the first does not matter */
    int64_t each;  /* how far apart what it can say lies, see vd_model_running_step() */
} vd_running_times;
/* Whether it has run on in between: fails, it has restarted; not known where it may be either, or neither. */
vd_ruling vd_has_run_on(const vd_running_times *run);
/* How far apart the running times lie that a unit of a model can say, milliseconds; 0 where it says none. */
int64_t vd_model_running_step(const vd_model *model);

VD_C_END

#endif
