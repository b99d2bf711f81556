/* SPDX-License-Identifier: MIT
 * The commands. Each returns its exit class. */
#ifndef VD_CLI_COMMANDS_H
#define VD_CLI_COMMANDS_H

#include "../act/act.h"
#include "../look/intervals.h"

vd_class command_ports(cli *c);
vd_class command_model(cli *c);
vd_class command_read(cli *c);
vd_class command_set(cli *c);
vd_class command_check(cli *c);
vd_class command_compare(cli *c);
vd_class command_alarms(cli *c);
vd_class command_alarm(cli *c);
vd_class command_intervals(cli *c);
vd_class command_fill(cli *c);
vd_class command_interval(cli *c);
vd_class command_items(cli *c);
vd_class command_plan(cli *c);
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
vd_class command_round(cli *c);
vd_class command_status(cli *c);
vd_class command_roster(cli *c);

/* ---- intervals.c ---- */

/* Opens the side that was named, chooses days for it, and hands both on. */
void intervals_open(cli *c, void (*go)(cli *c, const side *s, const day_list *days));

/* ---- plan_goal.c ---- */

/* Answers with which values of which settings of a set the goal that was named is reached. */
vd_class goal_answer_for(cli *c, const vd_set *set, const day_list *days);

/* ---- plan_beside.c ---- */

/* Shows what a set makes of days beside the profiles, or the presets, that were named. */
vd_class beside_show(cli *c, const vd_set *set, const day_list *days);

/* ---- plan_against.c ---- */

/* Shows what the values of the setting that was named make of days. */
vd_class against_show(cli *c, const vd_set *set, const day_list *days);

/* ---- swap.c ---- */

/* Goes on with a swap that was cut off, or puts both units back to where they were before it. */
vd_class swap_go_on(cli *c, const vd_past *past, bool back);

/* ---- number.c ---- */

/* Gives the rows of a roster that have no address one of the plan that was named, into a new roster. */
vd_class roster_number(cli *c, const char *path, const char *source, const char *profile_path);

/* ---- adapt.c ---- */

/* The text of a profile for other units, as the options say; NULL: reported, or not all of it fits. Free it. */
char *profile_adapted(cli *c, const vd_profile *profile, const char *path);

/* ---- set.c, change.c ---- */

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

#endif
