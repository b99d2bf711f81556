/* SPDX-License-Identifier: MIT
 * Visits: what is done to units, what is asked before and said after, what is kept of it. */
#ifndef VD_CLI_ACT_H
#define VD_CLI_ACT_H

#include "../meet/meet.h"
#include "verdite/history.h"
#include "verdite/roster.h"
#include "verdite/visit.h"
#include "../print/print.h"

/* ---- visit.c ---- */

typedef struct visit_task visit_task;

/* A visit to the unit at a place. */
typedef struct visit {
    place place;
    vd_visit_storage room;
    vd_visit *engine; /* in that room */
    void *memory;
    const vd_model *model;
    const visit_task *task;
    size_t seat;      /* in the loop */
    uint32_t news;    /* up to which it was listened to */
    vd_status status; /* how the task ended */
    bool opened;
    changes_shown shown;   /* before anything was sent */
    bool titled;           /* who was met was printed */
    uint64_t began, ended; /* by the clock of the loop, microseconds */
    const void *told_hand; /* what the person is being asked to do: any address that tells it apart, NULL: nothing */
    bool told_why;         /* it was told why nothing is sent */
    bool among_others;     /* it is one of several visits on a line */
    bool spared;           /* nothing was to be changed, and a restart has shown before that it is stored */
    char *remark;          /* what is kept with it in words, NULL: nothing */
    char *before;          /* file with the state before a write, where there is no store */
    int64_t record;        /* its number in the store, 0: none */
    /* Of each setting: that it is as an earlier visit left it, and what happened since; NULL: of none. */
    bool *unchanged;
    bool outlasted; /* a restart, by its running time, at that time; else its storage was proved then */
    int64_t unchanged_when;
    vd_claim *claim;
    vd_fault held_up; /* another program is at work on the unit */
} visit;

struct visit_task {
    vd_task task;
    const vd_set *target;
    const uint8_t *which;
    const vd_identity *read_from; /* the unit that the target was read from, or NULL */
    const vd_action *action;      /* VD_TASK_ACT: which */
    const char *name;             /* the file that the target is from, or NULL */
    const char *called;           /* what the store calls it, NULL: by the task */
    const char *code, *line;      /* what a scan gave for the unit; what its line is called; NULL: not said here */
    uint32_t firmware;            /* the oldest that the target is for, 0: any */
    int64_t of;                   /* the visit that it finishes or undoes, or the act that it is a leg of */
    bool leg;
    bool puts_back;     /* an earlier state, what is idle in it too */
    const char *cannot; /* what cannot be put back, its keys in words; NULL: nothing */
    bool look;          /* it is only looked who is there: silence is not reported */
    bool keeps;         /* it is kept also where nothing was to be changed */
    bool goes_on;       /* whoever began it goes on with it by himself: what is next is not told */
    /* Shows what will change; called before anything is sent, also when nobody will be asked. */
    void (*show_changes)(cli *c, const vd_visit *unit, changes_shown *shown);
};

/* What a visit waits for. */
typedef enum visit_wish {
    WISH_NOTHING, /* that the loop turns */
    WISH_ASK,
    WISH_PASSWORD,
    WISH_OLD_PASSWORD,
    WISH_REOPEN,
    WISH_KEEP,
    WISH_DONE
} visit_wish;

/* Opens the place, does a task to its end, closes the place. False when there was no visit or it failed; reported.
 * Free it in either case. */
bool visit_do(cli *c, visit *v, const vd_model *model, const visit_task *task);
/* The same in pieces, for several visits in one loop: before its place is opened; once it is; at the start; what it
 * wishes by now, after its news were told; doing that; once it is done. */
void visit_prepare(visit *v, const vd_model *model, const visit_task *task);
void visit_enter(const cli *c, visit *v);
void visit_begin(visit *v, uint64_t now);
visit_wish visit_wishes(cli *c, visit *v, vd_loop *loop);
/* Whether contact was lost, or it was stopped by hand: of most settings nothing is known. */
bool visit_was_cut_off(const visit *v);
/* Whether it leaves the line to others for a while, since its unit stores, restarts, or does not listen. */
bool visit_only_waits(const visit *v, const vd_loop *loop);
void visit_fulfil(cli *c, visit *v, vd_loop *loop, visit_wish wish);
void visit_leave(cli *c, visit *v);
/* Hands on that it was stopped by hand, to all visits of a loop; returns how often it was told by now. */
int stops_tell(const cli *c, vd_loop *loop, int told);
void visit_free(visit *v);
/* Whether a unit of this model answers at the place that was named; `met` NULL: whoever it is. Silence is not reported.
 */
bool visit_finds(cli *c, const vd_model *model, vd_identity *met);
/* Who was met, and where: "dowel QD-24003 "Ling 2" at address 3 on bracken-usb, 9600 8E1". Free it. */
char *unit_words(const visit *v);
/* Prints that, once. */
void show_title(const cli *c, visit *v);
/* What a visit is about just now, "" where that is not worth a word. Free it. */
char *stage_words(const visit *v);
/* Asks a question, and for the unit's password; the line is listened to meanwhile. */
bool person_agrees(const cli *c, const visit *v, vd_loop *loop, const char *question);
/* The same where only this word agrees. */
bool person_types(const cli *c, const visit *v, vd_loop *loop, const char *question, const char *word);
/* Shows what will happen; false: nothing, or nothing that may be, and nobody need be asked. */
bool asked_shows(cli *c, visit *v);
/* Whether an option says yes to a cause that wants one of its own; and that --yes does not, which answers for the whole
 * only: reported, always false. */
bool cause_is_answered(const cli *c, const vd_cause *cause, const char *key);
bool cause_refuse(cli *c, const vd_cause *cause, const char *key);
/* Whether the person, or an option, says yes to each thing that the changes cause and that wants a yes of its own; who
 * was told goes into the visit's remark. */
bool causes_agreed(cli *c, visit *v, vd_loop *loop);
/* Shows what will happen and asks, or takes what was answered beforehand; feeds the answer. */
void asked_to_go_on(cli *c, visit *v, vd_loop *loop);
/* Whether the password of before may be said once more, since the unit refuses the new one. */
void person_agrees_to_old(cli *c, const visit *v, vd_loop *loop);
void person_says_password(cli *c, const visit *v, vd_loop *loop);
/* Remembers that a restart showed what the unit has stored, where one did. */
void proof_remember(cli *c, const visit *v);
/* Whether one did before, the unit has run on since and holds the same, and nothing is to be changed: then it need not
 * be restarted again. */
bool proof_stands(cli *c, const visit *v);
/* Adds unit and place to the JSON. */
void visit_json(cli *c, const visit *v);

/* ---- changes.c ---- */

/* Shows what a write will change, and what follows from it. */
void changes_show(cli *c, const vd_visit *unit, changes_shown *shown);
/* The same of one of its model's actions. */
void changes_show_action(cli *c, const vd_visit *unit, changes_shown *shown);
/* The same of what several units at one address are told. */
void changes_show_told(cli *c, const vd_visit *unit, changes_shown *shown);
/* Puts the verdicts into the table that was shown, where it still stands on the screen. */
bool changes_judge(const cli *c, const vd_visit *unit, changes_shown *shown,
                   const char *(*verdict)(const vd_visit *unit, uint16_t setting));
void changes_forget(changes_shown *shown);
/* Tells which settings were asked for and are skipped, since they are unused in the mode that results. */
void changes_tell_idle(cli *c, const vd_visit *unit, changes_shown *shown);
/* Tells what is skipped since it belongs to another unit, with this serial number, alone. Whether anything is. */
bool changes_tell_left_out(cli *c, const vd_visit *unit, const char *serial, changes_shown *shown);
/* Tells of what was asked for and this unit does not have, and what can be done. */
void changes_tell_lacking(cli *c, const vd_visit *unit, const char *file);

/* ---- verdicts.c, judged.c, several.c ---- */

/* How a verdict is called. */
const char *verdict_words(vd_verdict verdict);
/* Shows the verdicts of a visit that has ended, and what to do next; `file` is the profile, or NULL. */
void verdicts_show(cli *c, visit *v, const char *file);
/* The verdict on a unit in capital letters. */
const char *whole_words(const visit *v);

/* What several units at one address were told: nothing of it is known to be so. */
void verdicts_show_told(cli *c, const visit *v);
/* A visit that makes a unit hold something, or compares it, with its verdicts and what to do next. */
vd_class visit_judged(cli *c, const vd_model *model, const visit_task *task);
/* Of such a visit that has ended, in pieces as visit_leave() is. */
void judged_show(cli *c, visit *v);
/* The same for one unit, or for several on one line where they were named, with a line of result each. */
vd_class visit_several(cli *c, const vd_model *model, const visit_task *task);
/* Where several are named, takes the first for the one that tells the model. False: reported. */
bool several_meet_first(cli *c);
/* The same with the profile that was named. */
vd_class visit_with_profile(cli *c, vd_task kind);

/* ---- voice.c ---- */

/* What is told of one of several visits. */
typedef struct voice {
    json_t *result;
    vd_class worst;
    char name[48]; /* before its messages; "": there is none */
} voice;
/* From now on messages are about `to`, and what is told is kept with it; `now` is whose they were. */
void voice_turn(cli *c, voice **now, voice *to);
/* How a visit that has ended is called in one line, and in which colour. */
const char *visit_outcome_words(const visit *v, const voice *told, tone *t);

/* ---- journal.c ---- */

/* Milliseconds since 1970, UTC. */
int64_t now_of_day(void);

/* Claims the unit that was just met. False: another program has it, which v->held_up tells. */
bool journal_claim(cli *c, visit *v);
/* Tells of another unit that had the new address when it was met last: it may only be unplugged. False: it is known to
 * be on this line, and nobody else gets that address there; or another unit has what no two may have. */
bool journal_judge_others(cli *c, const visit *v);
/* Keeps the record that is wanted; and feeds the outcome. */
vd_status journal_write(cli *c, visit *v, vd_fault *fault);
void journal_keep(cli *c, visit *v, vd_loop *loop);
/* Where only live values were read, notes what is as an earlier visit left it, and whether its storage was proved then,
 * or it has outlasted a restart since. Neither is a proof of what is stored now. */
void journal_look_back(cli *c, visit *v);
/* Ends the row of a visit; of one that changed nothing, begins and ends it. */
void journal_end(cli *c, visit *v);
/* Tells of the last visit to this unit that was left open, other than this one, and what to do: the last that a fitter
 * reads. */
void journal_tell_open(cli *c, const visit *v);

/* ---- unsent.c ---- */

/* What tells one text of a file from another; "": it cannot be read. Free it. */
char *file_print(const char *path);

/* Remembers that a file was read from a unit; and tells of those that differ from what their units held last. NULL: of
 * any unit; `but` this file, NULL: none is left out. */
void unsent_remember(cli *c, const char *path, const vd_model *model, const vd_identity *unit);
void unsent_tell(cli *c, const char *model, const char *serial, const char *but);

/* ---- past.c, choose_profile.c ---- */

/* The visit that a word names: its number, "visit:12", or a day or time, then the first after it that changed
 * something. False: reported. `serial` NULL: of any unit. */
bool past_named(cli *c, const char *word, const char *model, const char *serial, vd_past *past);
/* A visit of before as a profile: what the unit held after it, or, with `before`, before it. NULL: reported. */
vd_profile *past_profile(cli *c, const vd_past *past, bool before);

/* A profile, or what a visit left ("visit:12"); its findings are reported, and NULL is returned when any of them is
 * worse than "cannot be judged". */
vd_profile *choose_profile(cli *c, const char *path);
/* A roster, judged as a whole, with the profile for rows that name none (NULL: none was named): `findings`, which are
 * not reported. NULL: reported. The profile is the caller's. */
vd_roster *choose_roster(cli *c, const char *path, const char *profile_path, vd_profile **profile,
                         vd_findings *findings);
/* Whether a profile says a secret; from then on no memory of this program is dumped. */
bool holds_secret(const vd_profile *profile);

/* ---- secret.c ---- */

/* One line of text, in memory that is neither swapped out nor dumped. */
typedef struct secret secret;

/* The unit's password: from the file that was named, from the environment, or asked for on the terminal without showing
 * it. NULL: none was given, or it cannot be read, which is reported. `is_ready` waits until something was typed; false:
 * no longer wanted. */
secret *secret_of_unit(cli *c, const char *question, bool (*is_ready)(void *about), void *about);
/* A new secret for a setting: typed twice, or read from a standard input that is no terminal; NULL as above. */
secret *secret_of_person(cli *c, const char *key);
/* The secret of a setting from where a profile or roster says that it comes from. A file must be its owner's alone.
 * NULL: reported. */
secret *secret_from_source(cli *c, const char *key, const char *source);
/* Puts the secrets that a profile says only the source of into it; its file stays as it is. False: reported. */
bool secrets_of_profile(cli *c, vd_profile *profile);
/* To be handed to what takes a secret, and to nothing else. */
const char *secret_text(const secret *s);
/* Wipes it. */
void secret_free(secret *s);

/* From now on no memory of this program is dumped: it holds a secret. */
void secrets_guard(void);
/* Wipes what functions that dealt with secrets have left on the stack. */
void secrets_forget(void);

/* Reads a line, without its end; what does not fit in `size` is read and left out. Returns how long it was, -1 where
 * there was none. */
long line_read(int from, char *line, size_t size);

/* ---- sides.c ---- */

/* What a command looks at. */
typedef struct side {
    const char *name; /* unit, factory, a model by its key or file, a profile */
    vd_profile *profile, *profile_of_rows;
    vd_roster *roster; /* of which one row is meant; NULL: none */
    size_t row;
    bool factory; /* the factory defaults of a model */
    void *memory;
    vd_set set;
} side;

/* Finds out what a side is, and its model where it says one; that must be `*model` where it is known by then. False:
 * reported. */
bool side_choose(cli *c, side *s, const vd_model **model);
/* Fills its set; reads the unit where that is meant. False: reported. */
bool side_fill(cli *c, side *s, const vd_model *model, visit *v);
/* Fills one that was chosen alone; where its model is not known it is asked who is there. */
bool side_open(cli *c, side *s, const vd_model **model, visit *v);
/* Chooses and opens one that is to be changed: factory defaults cannot be. False: reported. */
bool side_open_to_edit(cli *c, side *s, const vd_model **model, visit *v);
void side_free(side *s);

#endif
