/* SPDX-License-Identifier: MIT
 * What the person and other programs are told: sheets, prose, faults, values, settings, alarms, changes. */
#ifndef VD_CLI_PRINT_H
#define VD_CLI_PRINT_H

#include "../cli.h"
#include "verdite/alarm_words.h"
#include "verdite/visit.h"
#include "verdite/survey.h"

/* ---- screen.c ---- */

/* How many columns a text takes on a terminal: wide characters take two, combining ones none. */
size_t columns_of(const char *text);
/* As many characters of a text as go into `columns`; the last becomes "…" where some were left out. Free it. */
char *cut_to(const char *text, size_t columns);
/* How wide a stream is shown: a terminal's columns, else what COLUMNS says; 0: no limit. */
size_t width_of(FILE *out);
/* A text as a stream can show it: a terminal whose locale is not UTF-8 gets ASCII. Free it. */
char *screen_text(FILE *out, const char *text);
/* Prints a text that was laid out, with its line ends. */
void screen_put(FILE *out, const char *text);

/* The person ended a line on the terminal, or would have. */
void screen_answered(bool typed);

/* Shows lines that are drawn anew each time, below all others, on a terminal only; "" takes them away. */
void progress_show(const struct cli *c, const char *text);

/* Whether such lines are seen at all: what is dear to word is not worded for nobody. */
bool progress_is_shown(const struct cli *c);

/* Whether results and messages stand on one terminal, on which lines may be printed over. */
bool screen_is_whole(const struct cli *c);
/* A place on the screen. */
typedef struct screen_mark {
    unsigned long rows, lines; /* that were printed before; that may be printed over */
    size_t width;              /* 0: never */
} screen_mark;
screen_mark screen_mark_here(const struct cli *c);
/* What was printed since the mark may be printed over, what follows may not. */
void screen_mark_end(screen_mark *mark);
/* Prints a text over what began at the mark. False: it takes more lines or fewer, or that has gone from the screen. */
bool screen_print_over(const struct cli *c, const screen_mark *mark, const char *text);

/* ---- prose.c ---- */

/* Colours of words that also say it themselves. */
typedef enum tone { TONE_PLAIN, TONE_STRONG, TONE_GOOD, TONE_BAD, TONE_DOUBT, TONE_FAINT } tone;
/* Start and end of a colour, empty where there is none. */
const char *tone_on(bool colour, tone t);
const char *tone_off(bool colour, tone t);

/* The words of a line between which it may be broken: a number and its unit are one. Owned by the caller. */
char **prose_words(const char *text);

/* Prints prose, each line end in it a new line, broken between words, at most 100 columns wide, every line behind
 * `indent`; `column` columns stand on the first line already, and are no indent. */
void prose_print(FILE *out, size_t column, const char *indent, const char *text);
/* The same behind a word in its colour; a message that goes into a pipe stays one line. */
void prose_print_behind(FILE *out, bool colour, tone t, const char *lead, const char *indent, const char *text);

/* Prints a question, and in which form it is answered; the answer stands behind it. */
void question_print(const struct cli *c, const char *question, const char *form);

/* Prints a line that says what follows, on standard output. */
void title_print(const struct cli *c, const char *text);

/* Prints a word in its colour and what it is about behind it, on standard output; further lines behind an indent. */
void lead_print(const struct cli *c, tone t, const char *lead, const char *indent, const char *text);

/* ---- sheet.c ---- */

#define SHEET_MOST_COLUMNS 6u

/* Rows of cells under titles. A row is laid out once all are known. */
typedef struct sheet {
    FILE *out;
    bool colour;
    const char *const *titles;
    size_t columns;
    GPtrArray *lines;
} sheet;

/* Starts a sheet; `titles` end with NULL, and "" is a column without one. They live as long as the sheet. */
sheet sheet_start(const struct cli *c, FILE *out, const char *const *titles);
/* Adds a row of plain cells: as many texts as there are columns, then NULL. */
void sheet_row(sheet *s, ...) G_GNUC_NULL_TERMINATED;
/* Gives the colour of a cell in the row that was added last. */
void sheet_tone(sheet *s, size_t column, tone t);
/* Adds a heading over the rows that follow; an empty line stands before it. */
void sheet_heading(sheet *s, const char *text);
/* Adds a remark under the row that was added last. */
void sheet_note(sheet *s, tone t, const char *text);
/* All of it as it would be printed. Free it. */
char *sheet_text(const sheet *s);
/* Prints all and forgets it. */
void sheet_print(sheet *s);
/* Forgets all, unprinted. */
void sheet_drop(sheet *s);

/* What was shown of changes before they are made. */
typedef struct changes_shown {
    screen_mark mark;
    GPtrArray *was;   /* the column of what was, NULL: no table was shown */
    GHashTable *told; /* of several units: lines that were told of any; NULL: there is only one */
    bool first;       /* of several units, this one is told of first: for all of them */
} changes_shown;

/* ---- report.c ---- */

/* Reports a fault on standard error (and in the JSON); returns its class, having remembered the worst. */
vd_class report(cli *c, const vd_fault *fault);
/* Reports a fault made on the spot. */
vd_class report_new(cli *c, vd_fault fault);
/* Reports that what was typed is wrong, and what would be right. */
vd_class report_wrong_words(cli *c, const char *said, const char *allowed);
/* Reports what was found in a file, up to a screenful of it. */
vd_class report_findings(cli *c, const vd_findings *findings);
/* Tells of a file of models that is left out and spoils nothing else. */
void report_set_aside(cli *c, const vd_findings *findings);
/* Tells of a model that would prove storage by a restart, and names nothing that shows one. */
void report_no_witness(const cli *c, const vd_model *model);
/* A line that warns, on standard error. */
void warn(const cli *c, const char *line);
/* A line for the person on standard error. */
void message(const cli *c, const char *format, ...) G_GNUC_PRINTF(2, 3);

/* A duration as people read it, in a buffer that lives until the next call. */
const char *duration_text(int64_t milliseconds);
/* A value as people read it, in a buffer that lives until the 8th next call. */
const char *value_text(const vd_setting *setting, const vd_value *value);
/* The same of what a set has of a setting, also where that is no value that the model allows: a text as it was heard,
 * in quotation marks; bytes that are no characters in hexadecimal. */
const char *held_text(const vd_set *set, uint16_t setting);
/* A value for programs: {"value", and for numbers "number" and "unit"}. */
json_t *value_json(const vd_setting *setting, const vd_value *value);
/* The same of what a set has of a setting; where the model does not allow it, "allowed" is false, and "heard" says it
 * where it is no value at all. */
json_t *held_json(const vd_set *set, uint16_t setting);
json_t *identity_json(const vd_identity *identity);

/* "2026-11-26 14:03", as the clock on the wall shows it; milliseconds since 1970. Free it. */
char *time_words(int64_t milliseconds);

/* ---- hints.c ---- */

/* As much of a word that was typed as may be quoted, though nothing has judged it yet. Free it. */
char *cli_quotable(const char *word);

/* What to type next after a fault, "" where there is nothing. Free it. */
char *hint_of(const cli *c, const vd_fault *fault);

/* ---- causes.c ---- */

/* What is caused, as sentences. Owned by the caller. */
char *cause_words(const vd_cause *cause);
json_t *causes_json(const vd_causes *causes);
/* The causes of what changes in a visit, or of its action, each with the key of the setting or action. */
typedef struct cause_walk {
    const vd_visit *unit;
    GHashTable *seen; /* words that were told */
    uint32_t setting;
    uint8_t next;
} cause_walk;
cause_walk cause_walk_start(const vd_visit *unit);
/* The next one that says something new; NULL: there is none. Of those that want a yes by key every one is new. */
const vd_cause *cause_walk_next(cause_walk *w, const char **key);
void cause_walk_end(cause_walk *w);
/* Tells what the changes of a visit, or its action, cause besides, each thing once. */
void causes_show(const cli *c, const vd_visit *unit, changes_shown *shown);

/* ---- names.c ---- */

/* Whether a name as it is shown is what was typed, capitals and hyphens aside. */
bool names_alike(const char *shown, const char *typed);
/* The only one of so many things that is called so; VD_NONE: none is, or several are. */
uint16_t names_only(size_t count, bool (*is)(const void *about, size_t i, const char *typed), const void *about,
                    const char *typed);
/* Names with commas between: up to eight, of more the first five and how many more there are; with --explain all of
 * them. Owned by the caller. */
char *names_words(const cli *c, const GPtrArray *names);
/* Keys of settings behind a lead, a line for each reason that the model gives for their being unused. Owned by the
 * caller. */
char *names_by_reason(const cli *c, const vd_model *model, const GPtrArray *names, const char *lead);
/* The settings that a unit has not or that are unused in it, in such lines; "" where none is. `which`: of these only,
 * or NULL. Owned by the caller. */
char *reasons_not_here(const cli *c, const vd_set *here, const uint8_t *which);

/* Whether a line was not told before, of this unit or of another one. */
bool changes_are_news(changes_shown *shown, const char *line);

/* ---- setting.c ---- */

/* What a setting takes, as words. */
void allowed_text(const vd_set *here, uint16_t i, char *text, size_t size);
/* All that is known of a setting; `here` tells which unit it is about, as far as that is known. */
json_t *setting_json(const vd_model *model, const vd_set *here, uint16_t i, const vd_value *initial);
void setting_show(const cli *c, const vd_model *model, const vd_set *here, uint16_t i, const vd_value *initial);

/* ---- alarms.c ---- */

/* What is told of an alarm; how it is called; what it means; its key. Free them. */
char *alarm_part(const vd_set *set, uint16_t n, vd_alarm_part part);
char *alarm_called(const vd_set *set, uint16_t n);
char *alarm_sentence(const vd_set *set, uint16_t n);
char *alarm_key(const vd_model *model, uint16_t n);
/* An alarm by its number from 1, its key, or its name. False: reported. */
bool alarm_named(cli *c, const vd_set *set, const char *word, uint16_t *n);
json_t *alarm_json(const vd_set *set, const vd_set *before, uint16_t n);
/* Its name and sentence; then, line by line, what is doubtful. */
void alarm_say(const cli *c, const vd_set *set, uint16_t n);
void alarm_doubts_show(const cli *c, const vd_set *set, const vd_set *before, uint16_t n);
/* All of them as data. */
json_t *alarms_json(const vd_set *set);
/* All alarms, or only one; VD_NONE: all. */
void alarms_show(cli *c, const vd_set *set, uint16_t only);

/* ---- alarm_changes.c ---- */

/* Whether a finding has to do with an alarm that a change touches: with itself, or with whom it tells. */
bool alarms_concern(const vd_survey *survey, const vd_fault *fault);
/* Warns of each alarm that a change touches and that is used neither before nor after. */
void alarms_warn_unused(const cli *c, const vd_set *before, const vd_set *after, changes_shown *shown);
/* What changes of each other alarm, a line each on standard error; before and after as a whole in the JSON. */
void alarms_tell_changed(const cli *c, const vd_set *before, const vd_set *after, changes_shown *shown);

/* ---- effects.c, explain.c ---- */

/* Whether something is written that sets others. */
bool changes_sway(const vd_visit *unit);
/* How the model calls its slots. */
const char *slot_label(const vd_model *model);
/* Whether a step is among those that a visit will take. */
bool is_planned(const vd_visit *unit, vd_step step);
/* Tells what a change, or an action, restarts, moves, costs or destroys. */
void effects_show(const cli *c, const vd_visit *unit, changes_shown *shown);
/* With --explain, tells what is done in which order, and what proves that it is stored. */
void explain_steps(const cli *c, const vd_visit *unit);

#endif
