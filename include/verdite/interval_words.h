/* SPDX-License-Identifier: MIT
 *
 * Interval words: intervals as people read them. Every text is one sentence, or a part of one.
 */
#ifndef VERDITE_INTERVAL_WORDS_H
#define VERDITE_INTERVAL_WORDS_H

#include "verdite/goal.h"

VD_C_BEGIN

/* What an item is called: by its label, else by its key; "" where it has neither. */
const char *vd_item_called(const vd_item *item);
/* What an amount of intervals is, "6 h", "5 km": a literal as the model has it, a setting or an expression as it comes
 * to with a set. Nothing where the reference is none. */
void vd_interval_say_amount(const vd_set *set, vd_ref formula, vd_writer *writer);
/* What a fact is, as a part of a sentence: by its label, else by what it is made of: "not "It is parked"", "1 min
 * behind "Reports"", "power.mode = awake". */
void vd_interval_say_fact(const vd_set *set, const vd_item *items, uint16_t fact, vd_writer *writer);
/* Why the k-th case of a counter never makes it expire, a sentence: on any day, as `may` of vd_intervals_may() has it,
 * or on the days that were played. False: it does, and nothing is said. */
bool vd_interval_say_why_not(const vd_set *set, const vd_played *played, const uint8_t *may, uint16_t item, uint16_t k,
                             vd_writer *writer);

/* Which case of a counter rules at this moment, as `may` of vd_intervals_now() has it, a sentence: of several that may
 * the longest interval. False: there is only one case, and nothing is said. */
bool vd_interval_say_now(const vd_set *set, const vd_course_plan *plan, const uint8_t *may, uint16_t item,
                         vd_writer *writer);
/* Reads "battery at least 2 years", "data at most 5 MB", "price at most 3", "memory for 20 days": of these whole
 * seconds, at most 3650 days. VD_GOAL_WRONG. */
vd_status vd_goal_parse(const char *text, size_t length, vd_goal *goal, vd_fault *fault);
/* A tariff that was typed. */
typedef struct vd_typed_tariff {
    char currency[8];                    /* "EUR" */
    vd_ratio base, included, step, each; /* money and bytes, as in vd_tariff */
    uint16_t when;                       /* the fact, VD_NONE: always */
    bool rounds_each;                    /* as in vd_tariff */
} vd_typed_tariff;
#define VD_TARIFF_AMOUNTS 4u /* of one that was typed */

/* Reads "1.50 EUR a month, 1 MB included, 0.01 EUR per 10 kB", with "each send rounded up" and "while FACT" where
 * that is so; facts by key or label. VD_TARIFF_WRONG. */
vd_status vd_tariff_parse(const vd_intervals *intervals, const char *text, size_t length, vd_typed_tariff *tariff,
                          vd_fault *fault);
/* Makes a tariff of it: its VD_TARIFF_AMOUNTS amounts stand from `first` on. */
void vd_tariff_use(const vd_typed_tariff *typed, uint16_t first, vd_amount *amounts, vd_tariff *tariff);

/* What a unit meets in a stretch: "shaking, ignition, 70 km/h, 40 turns of 45 °"; "nothing". */
void vd_stretch_say(const vd_model *model, const vd_stretch *stretch, vd_writer *writer);

VD_C_END

#endif
