/* SPDX-License-Identifier: MIT
 * Intervals of a model, a profile or a unit, played over days. */
#ifndef VD_CLI_INTERVALS_H
#define VD_CLI_INTERVALS_H

#include "../print/print.h"
#include "look.h"
#include "verdite/day_chart.h"
#include "verdite/days.h"
#include "verdite/interval_words.h"

/* Intervals that were played as often as it takes: with draws at their least and at their most, and with facts that
 * nobody knows true and false. */
typedef struct played {
    const vd_set *set;
    const vd_intervals *intervals;
    vd_played runs;      /* how it went */
    vd_course_plan plan; /* what was played, but for draws and facts that nobody knows */
    vd_amount *amounts;
    uint8_t *may;      /* what may be on any day, by item */
    uint8_t *now;      /* and at this moment, where a unit was read; NULL */
    GPtrArray *memory; /* of runs and days */
} played;

/* Days that intervals are played over, and what data costs there. */
typedef struct day_list {
    const vd_day *list;
    uint16_t count;
    vd_days *described;          /* NULL: the usual days of the model */
    uint32_t uncounted, counted; /* seconds; both 0: a week, then four weeks */
    bool ends_full;              /* with the first second in which a store loses one */
    vd_typed_tariff tariffs[VD_MOST_TARIFFS];
    uint8_t tariff_count; /* 0: those of the model */
} day_list;

/* The days that --day or --log describes, or the usual ones, and tariffs that --tariff does; none where the model has
 * no intervals. False: reported. Free them. */
bool days_choose(cli *c, const vd_model *model, day_list *days);
void days_free(day_list *days);
/* The usual ones; the model has intervals. */
day_list days_usual(const vd_model *model);
/* "commuting, at rest". Free it. */
char *days_words(const day_list *days);
/* Shows what each stretch of days that were described gives. */
void days_show(const cli *c, const vd_model *model, const day_list *days);

/* Plays the intervals of a set over days. They must be there. */
void played_start(played *p, const vd_set *set, const day_list *days);
/* The same of some items only: of the others what was played before is taken. All of it must outlive it. */
void played_start_part(played *p, const vd_set *set, const day_list *days, const played *others, const bool *touched);
/* The set was just read from a unit: what its readings tell of this moment counts. */
void played_is_read(played *p);
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

/* What the list of items, sums and costs shows of each: free them. How often a case expires a day, "never"; what a
 * store holds; data, price and battery, NULL where the model says nothing of it. */
char *played_case_times(const played *p, uint16_t item, uint16_t k);
char *played_item_words(const played *p, uint16_t item);
char *played_cost_words(const played *p, unsigned which);
/* ", most by "Readings" (62 %)" of the battery, else "". */
char *played_cost_taker(const played *p, unsigned which);
/* "full after 22 d", "never full". */
char *played_store_full(const played *p, uint16_t item);
/* What each of those costs is called; NULL behind the last. */
extern const char *const played_costs[];
enum { PLAYED_DATA, PLAYED_PRICE, PLAYED_BATTERY };

/* ---- awake.c ---- */

/* What keeps a unit awake on the days that were played, and what goes on while it sleeps; nothing where its model does
 * not say. The same as JSON. */
void awake_show(const cli *c, const played *p);
void awake_json(const cli *c, const played *p);

/* ---- interval_changes.c ---- */

/* Warns of each interval that a change touches and that is ignored after it. */
void intervals_warn_ignored(const cli *c, const vd_set *before, const vd_set *after, changes_shown *shown);
/* Tells of each interval of a set that can rule on no day; the same in the JSON. */
void intervals_note_ignored(const cli *c, const vd_set *set);
/* What a change makes of the usual days of the model, a line each on standard error; before and after in the JSON. */
void intervals_tell_changed(const cli *c, const vd_set *before, const vd_set *after, changes_shown *shown);

/* ---- day_rows.c ---- */

/* What happens on a day, and while what holds. */
typedef struct day_row {
    const char *label;
    uint32_t *marks; /* seconds of the day */
    vd_day_span *spans;
    size_t mark_count, span_count;
} day_row;

/* The rows of the n-th day that is played, with draws at their least; those that have nothing to show are left out.
 * Free them with day_rows_free(). */
day_row *day_rows(const played *p, uint16_t day, size_t *count);
void day_rows_free(day_row *rows, size_t count);
/* Shows them as text; draws them into the file that was named. */
void day_rows_show(const cli *c, const char *title, const day_row *rows, size_t count);
void day_rows_draw(cli *c, const char *title, const day_row *rows, size_t count);
#endif
