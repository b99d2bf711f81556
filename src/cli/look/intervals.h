/* SPDX-License-Identifier: MIT
 * Intervals of a model, a profile or a unit, played over days. */
#ifndef VD_CLI_INTERVALS_H
#define VD_CLI_INTERVALS_H

#include "../cli.h"
#include "verdite/interval_words.h"

/* Intervals that were played twice: with all draws at their least, and at their most. */
typedef struct played {
    const vd_set *set;
    const vd_intervals *intervals;
    vd_played both; /* what is worked out from the two */
    vd_course_plan plan;
    vd_amount *amounts;
    uint8_t *may;     /* what may be on any day, by item */
    vd_stretch still; /* a day on which nothing happens, for models that describe none */
    vd_day still_day;
    bool *given; /* of that day */
    void *inputs;
    void *memory[2];
    vd_course_storage courses[2];
} played;

/* Plays the intervals of a set over the usual days of its model. They must be there. */
void played_start(played *p, const vd_set *set);
void played_free(played *p);
/* Whether all was known that decides; else what is not is reported. */
bool played_is_known(cli *c, const played *p);
/* What an amount is, as people read it: "6 h", "5 km", "30 °"; "" for none. Free it. */
char *played_amount(const played *p, vd_ref formula);
/* A number of times in the time that counts, as that of a day: "60", "2.5", "57 to 60", "never". Free it. */
char *played_a_day(const played *p, uint64_t least, uint64_t most);
/* Why a case never makes its counter expire, a sentence; NULL: it does. Free it. */
char *played_why_not(const played *p, uint16_t item, uint16_t k);
/* Bytes, money, and a number of days, of a least and a most, rounded outward: "1.3 to 1.7 MB". Free them. */
char *played_bytes(const vd_range *range);
char *played_money(const vd_range *range, const char *currency);
char *played_days(const vd_range *range);
#endif
