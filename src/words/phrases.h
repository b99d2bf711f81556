/* SPDX-License-Identifier: MIT
 * What the files that put alarms into words share. */
#ifndef VD_WORDS_PHRASES_H
#define VD_WORDS_PHRASES_H

#include "../core/alarm/parts.h"
#include "verdite/alarm_words.h"

typedef struct vd_alarm_words {
    const vd_set *set;
    const vd_model *model;
    vd_writer *writer;
} vd_alarm_words;

/* An alarm with what it comes to in a set. */
typedef struct vd_alarm_found {
    const vd_alarm *alarm;
    uint16_t item, channel, test;
    vd_ruling used; /* and watching something, in some way */
} vd_alarm_found;
vd_alarm_found vd_alarm_find(const vd_set *set, uint16_t n);
/* A condition of an alarm likewise; fails: it is not there. */
vd_ruling vd_condition_find(const vd_set *set, const vd_alarm_found *of, uint8_t i, uint16_t *item, uint16_t *channel,
                            uint16_t *test);
/* How an alarm is called, and its pieces, with what was found. */
void vd_words_tell(const vd_alarm_words *w, const vd_alarm_found *at, vd_alarm_part part);

/* A list of so many things, being told. */
typedef struct vd_alarm_list {
    vd_writer *writer;
    unsigned count, at;
} vd_alarm_list;

/* What stands before the next thing of a list: nothing, a comma, or the word before the last. */
void vd_words_comma(const vd_alarm_list *list, const char *before_last);
/* What a formula gives, as people read it; a duration likewise. */
void vd_words_value(const vd_alarm_words *w, uint16_t formula, uint16_t item, uint16_t channel);
void vd_words_time(const vd_alarm_words *w, uint16_t formula, uint16_t item);
/* How a channel is called in a sentence; what it must be to be met, and to be over. */
void vd_words_called(const vd_alarm_words *w, uint16_t channel);
void vd_words_met(const vd_alarm_words *w, const vd_test *test, uint16_t item, uint16_t channel);
void vd_words_over(const vd_alarm_words *w, const vd_test *test, uint16_t item, uint16_t channel);
/* Adds " (until it is at 7 °C or colder)" where a comparison has a release. */
void vd_words_until(const vd_alarm_words *w, const vd_test *test, uint16_t item, uint16_t channel);
/* Adds what a channel measures: "-30 to 60 °C". */
void vd_range_print(const vd_set *set, uint16_t channel, vd_writer *writer);
/* Whether a comparison is one of numbers with limits that are known and hang on nothing that is measured. */
bool vd_level_is_fixed(const vd_set *set, uint16_t test, uint16_t item, uint16_t channel, vd_level *level);
/* Whether it is met by nothing, or by all, that its channel can measure, or can never be over; decided by single ranges
 * only. False: that cannot be said. */
bool vd_test_covers(const vd_set *set, uint16_t test, uint16_t item, uint16_t channel, bool *nothing, bool *all,
                    bool *never_over);
/* What an alarm does. */
void vd_words_reactions(const vd_alarm_words *w, const vd_alarm *alarm, uint16_t item);

#endif
