/* SPDX-License-Identifier: MIT
 * What the files of the command-line tool share: the words a person typed, what is reported, and the exit status. */
#ifndef VD_CLI_H
#define VD_CLI_H

#include <jansson.h>
#include <signal.h>

#include "program.h"
#include "sheet.h"
#include "verdite/alarm_edit.h"
#include "verdite/history.h"
#include "verdite/chart.h"
#include "verdite/host.h"
#include "verdite/log.h"
#include "verdite/posix.h"
#include "verdite/store.h"

/* One run of a program. */
typedef struct cli {
    const cli_program *program;
    const cli_command *command; /* the one that runs */
    cli_options options;
    bool address_typed; /* as opposed to remembered or found */
    vd_catalogue *catalogue;
    const char *model_key; /* of the model that --model names, by its key or by its file; NULL: none */
    vd_store_file *store;  /* NULL: not opened, or there is none: see remembered() */
    bool store_tried, store_shut;
    size_t told_aside;                           /* how many files of models were told to be left out */
    json_t *result;                              /* what --json prints */
    vd_class worst;                              /* the exit status so far */
    bool lines;                                  /* an object a line: what happened stands before it, as it did */
    bool colour, colour_messages, live_messages; /* results, messages on a terminal; progress is wanted */
} cli;

/* The commands. Each returns its exit class. */
vd_class command_ports(cli *c);
vd_class command_model(cli *c);
vd_class command_read(cli *c);
vd_class command_set(cli *c);
vd_class command_check(cli *c);
vd_class command_compare(cli *c);
vd_class command_alarms(cli *c);
vd_class command_alarm(cli *c);
vd_class command_try(cli *c);
vd_class command_write(cli *c);
vd_class command_verify(cli *c);
vd_class command_change(cli *c);
vd_class command_assign(cli *c);
vd_class command_new(cli *c);
vd_class command_unset(cli *c);
vd_class command_finish(cli *c);
vd_class command_undo(cli *c);
vd_class command_history(cli *c);
vd_class command_act(cli *c);
vd_class command_swap(cli *c);
vd_class command_find(cli *c);
vd_class command_diagnose(cli *c);
vd_class command_link(cli *c);
vd_class command_raw(cli *c);
vd_class command_startup(cli *c);
vd_class command_tables(cli *c);
vd_class command_needs(cli *c);
vd_class command_help(cli *c);
vd_class command_version(cli *c);
/* Those of verdite-bench. */
vd_class bench_show(cli *c);
vd_class bench_afresh(cli *c);
vd_class bench_hand(cli *c);
vd_class bench_wait(cli *c);
vd_class bench_serve(cli *c);
vd_class bench_play(cli *c);

/* ---- command.c ---- */

/* The command of this name. NULL: reported, with the nearest. */
const cli_command *program_command(cli *c, const char *name);

/* ---- hints.c ---- */

/* What to type next after a fault, "" where there is nothing. Free it. */
char *hint_of(const cli *c, const vd_fault *fault);

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
/* A line for the person on standard error. */
void message(const cli *c, const char *format, ...) G_GNUC_PRINTF(2, 3);

/* Shows how far something has come, on a terminal's one line, cut to its width; "" takes it away. */
void progress_show(const cli *c, const char *text);

/* A duration as people read it, in a buffer that lives until the next call. */
const char *duration_text(uint32_t milliseconds);
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
/* ---- causes.c ---- */

/* What is caused, as sentences. Owned by the caller. */
char *cause_words(const vd_cause *cause);
json_t *causes_json(const vd_causes *causes);
/* Tells what the changes of a visit, or its action, cause besides, each thing once. */
void causes_show(const cli *c, const vd_visit *unit);

/* ---- setting.c ---- */

/* What a setting takes, as words. */
void allowed_text(const vd_set *here, uint16_t i, char *text, size_t size);
/* All that is known of a setting; `here` tells which unit it is about, as far as that is known. */
json_t *setting_json(const vd_model *model, const vd_set *here, uint16_t i, const vd_value *initial);
/* How many settings are absent or idle, by the reasons that the model gives; "" where none is. `which`: of these only,
 * or NULL. Owned by the caller. */
char *reasons_not_here(const vd_set *here, const uint8_t *which);
void setting_show(const cli *c, const vd_model *model, const vd_set *here, uint16_t i, const vd_value *initial);

/* ---- trace.c ---- */

typedef struct trace {
    FILE *file;
    vd_tracer *tracer; /* NULL: no trace was asked for */
} trace;

/* Opens what was asked for. False: reported. */
bool trace_start(cli *c, trace *t);
/* Has a loop tell the trace. */
void trace_join(const trace *t, vd_loop *loop);
void trace_end(cli *c, trace *t);

/* ---- place.c ---- */

/* Where the talk happens: a bench or real ports. */
typedef struct place {
    vd_bench_folder *bench;
    vd_posix *posix;
    vd_port *port;
    const vd_port_kind *kind;
    void *ground;
    char *name;    /* of the port */
    char *adapter; /* who the adapter is, whatever the port is called */
    vd_line line;  /* as typed, or as the model says */
    uint8_t address;
} place;

/* Opens the port that was named, or the only one there is. False: reported. */
bool place_open(cli *c, const vd_model *model, place *p);
/* Reports that such a unit has no address. */
void place_refuse_address(cli *c, const vd_model *model);
/* Nobody answers at an address: tells who was there before, and is at another one now or may be. In moved.c. */
void moved_tell(cli *c, const vd_model *model, const place *p, uint8_t address);
/* Another address on the same line; the port stays that of the first. */
place place_beside(const place *p, uint8_t address);
/* Opens the port of a place anew, which was lost with the unit that it belongs to, whatever it is called by now; false:
 * it is not there yet. */
bool place_reopen(const vd_model *model, place *p);
/* Turns the loop for one engine at a place until it is done. Ctrl-C stops it; `progress` is called in between, NULL:
 * not. */
void place_turn(place *p, const trace *t, const vd_engine *engine, void *self, void (*progress)(void *about),
                void *about);
/* Remembers the place as one where this model was met. */
void place_remember(cli *c, const place *p, const vd_model *model);
/* Releases the port; keeps the state of a bench. */
void place_close(cli *c, place *p);

/* The port that would be taken: the one that was named, that served last, or the only one; NULL where there is none or
 * several, or the bench cannot be opened, which is reported. */
char *place_likely_port(cli *c, const vd_served *served);

/* The bench that was named by option or environment, NULL: real ports. */
const char *place_bench_folder(const cli *c);

/* How a unit is called at a place: "at address 3 on PORT, LINE", or without an address where it has none. */
char *place_words(const place *p, const vd_model *model);

/* What a port is: for programs, and as a sentence for people, "" where it is what everybody expects. */
const char *wire_name(vd_wire wire);
const char *wire_words(vd_wire wire);

/* "2026-11-26 14:03", as the clock on the wall shows it; milliseconds since 1970. Free it. */
char *time_words(int64_t milliseconds);

/* ---- remembered.c ---- */

/* What is remembered of units, NULL: nothing; opened when first asked for, and what is wrong with it told once. */
vd_store_file *remembered(cli *c);
/* Whether there is a store to look into; if not, it has been reported. */
bool remembers(cli *c);

/* ---- stop.c ---- */

/* From now on Ctrl-C and its kin are counted instead of ending the program; until stops_release(). */
void stops_catch(void);
void stops_release(void);
int stops_so_far(void);
/* The count itself, for a loop that looks at it. */
volatile sig_atomic_t *stops_flag(void);

/* ---- visit.c ---- */

typedef struct visit_task visit_task;

/* A visit to the unit at a place. */
typedef struct visit {
    place place;
    vd_visit engine;
    void *memory;
    const vd_model *model;
    const visit_task *task;
    size_t seat;      /* in the loop */
    uint32_t news;    /* up to which it was listened to */
    vd_status status; /* how the task ended */
    bool opened;
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
    int64_t of;                   /* the visit that it finishes or undoes, or the act that it is a leg of */
    bool leg;
    bool puts_back;     /* an earlier state, what is idle in it too */
    const char *cannot; /* what cannot be put back, its keys in words; NULL: nothing */
    bool look;          /* it is only looked who is there: silence is not reported */
    /* Shows what will change; called before anything is sent, also when nobody will be asked. */
    void (*show_changes)(cli *c, const vd_visit *unit);
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
void visit_fulfil(cli *c, visit *v, vd_loop *loop, visit_wish wish);
void visit_leave(cli *c, visit *v);
/* Hands on that it was stopped by hand, to all visits of a loop; returns how often it was told by now. */
int stops_tell(const cli *c, vd_loop *loop, int told);
void visit_free(visit *v);
/* Whether a unit of this model answers at the place that was named; `met` NULL: whoever it is. Silence is not reported.
 */
bool visit_finds(cli *c, const vd_model *model, vd_identity *met);
/* Prints who was met where. */
void show_title(const cli *c, const visit *v);
/* Asks a question, and for the unit's password; the line is listened to meanwhile. */
bool person_agrees(const cli *c, const visit *v, vd_loop *loop, const char *question);
/* The same where only this word agrees. */
bool person_types(const cli *c, const visit *v, vd_loop *loop, const char *question, const char *word);
/* Shows what will happen; false: nothing, or nothing that may be, and nobody need be asked. */
bool asked_shows(cli *c, visit *v);
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

/* ---- changes.c, verdicts.c, judged.c ---- */

/* How the model calls its slots. */
const char *slot_label(const vd_model *model);
/* Shows what a write will change, and what follows from it. */
void changes_show(cli *c, const vd_visit *unit);
/* The same of one of its model's actions. */
void changes_show_action(cli *c, const vd_visit *unit);
/* The same of what several units at one address are told. */
void changes_show_told(cli *c, const vd_visit *unit);
/* Tells which settings were asked for and are left alone, since they do not count in the mode that results. */
void changes_tell_idle(cli *c, const vd_visit *unit);
/* Tells what is left out since it belongs to another unit, with this serial number, alone. */
void changes_tell_left_out(cli *c, const vd_visit *unit, const char *serial);
/* How a verdict is called. */
const char *verdict_words(vd_verdict verdict);
/* Tells of what was asked for and this unit does not have, and what can be done. */
void changes_tell_lacking(cli *c, const vd_visit *unit, const char *file);
/* Shows the verdicts of a visit that has ended, and what to do next; `file` is the profile, or NULL. */
void verdicts_show(cli *c, const visit *v, const char *file);

/* What several units at one address were told: nothing of it is known to be so. */
void verdicts_show_told(cli *c, const visit *v);
/* The words with each preset:KEY in them written out as KEY=VALUE; NULL: the model has no such preset, which is
 * reported. Free with g_strfreev(). */
char **changes_expand(cli *c, const vd_model *model, char **words);
/* Puts all of the words KEY=VALUE into a profile; of a secret the key alone, then it is asked for. False: reported. */
bool changes_put(cli *c, vd_profile *profile, char **words);
/* Puts all of them into the file of a profile, judges it and saves it; or into a unit, and verifies it: what the
 * commands set and change do. `about`: how the visit is kept: what it is called, and what it is a part of. */
vd_class changes_save(cli *c, const char *path, char **changes);
vd_class changes_write(cli *c, const vd_model *model, char **words, const visit_task *about);
/* "KEY=VALUE" for the setting with a role; NULL: the model has none, which is reported. */
char *change_of_role(cli *c, const vd_model *model, vd_role role, const char *what, const char *value);
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

/* ---- meet.c ---- */

/* The model that was named; else that of whoever answers where the unit is said to be, with line and address as if they
 * had been typed; else what served last there. NULL: reported. */
const vd_model *meet_model(cli *c);

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
/* Those in use, each with its sentence; all of them as data. */
void alarms_say_used(const cli *c, const vd_set *set);
json_t *alarms_json(const vd_set *set);
/* Whether a finding has to do with an alarm that a change touches: with itself, or with whom it tells. */
bool alarms_concern(const vd_survey *survey, const vd_fault *fault);
/* What each alarm that a change touches meant before, and will mean, on standard error and in the JSON. */
void alarms_tell_changed(const cli *c, const vd_set *before, const vd_set *after);
/* All alarms, or only one; VD_NONE: all. */
void alarms_show(cli *c, const vd_set *set, uint16_t only);

/* ---- sides.c ---- */

/* What a command looks at. */
typedef struct side {
    const char *name; /* unit, factory, a model by its key or file, a profile */
    vd_profile *profile;
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
void side_free(side *s);

/* ---- choose.c, choose_profile.c ---- */

/* All models that are sound, NULL-terminated; tells once of those that are not. Reported where there is none. */
const vd_model *const *choose_models(cli *c);
/* Whether all models are as they were when they were loaded last, so that one can be taken by itself; what is wrong
 * with others is told. */
bool choose_knows_models(cli *c);
/* The model that was named, or the only one there is. NULL: reported. */
const vd_model *choose_model(cli *c);
/* Keys of the models whose units must be made to listen by hand, with commas. Free it. */
char *choose_listeners(cli *c);
/* The variant and firmware that the options name; what they do not name stays. False: said, and wrong. */
bool choose_kind(cli *c, const vd_model *model, uint16_t *variant, uint32_t *firmware);
/* A model by its key, or by the path of its file. NULL: reported. */
const vd_model *choose_model_named(cli *c, const char *name);
/* A profile, or what a visit left ("visit:12"); its findings are reported, and NULL is returned when any of them is
 * worse than "cannot be judged". */
vd_profile *choose_profile(cli *c, const char *path);
/* Whether a profile says a secret; from then on no memory of this program is dumped. */
bool holds_secret(const vd_profile *profile);
/* A byte for each setting of the group that was named, NULL for all. False: reported. */
bool choose_group(cli *c, const vd_model *model, uint8_t **which);

#endif
