/* SPDX-License-Identifier: MIT
 * Words that a person typed: commands, options, help, and which models and settings are meant. */
#ifndef VD_CLI_WORDS_H
#define VD_CLI_WORDS_H

#include "../cli.h"

/* ---- command.c ---- */

/* Whether an option belongs to a command. */
bool cli_command_has(const cli_command *command, const cli_option *option);
/* The words of a command as help shows them, "[MODEL [SETTING]]". Free it. */
char *cli_command_words(const cli_command *command);

/* The one table of exit statuses. */
typedef struct cli_status {
    vd_class class;
    const char *meaning;
} cli_status;
extern const cli_status cli_statuses[];
extern const size_t cli_status_count;

/* The command of this name. NULL: reported, with the nearest. */
const cli_command *program_command(cli *c, const char *name);

/* ---- options.c ---- */

/* Takes the arguments behind a command apart, and judges each. False: reported. */
bool options_parse(struct cli *c, const cli_command *command, char **words);
void options_clear(cli_options *options);
/* Puts the baud and framing that were typed into a line. */
void options_line(const cli_options *options, vd_serial *line);

/* ---- help.c, manual.c, offers.c ---- */

/* What a program can be told, and what a command can be told. */
void help_program(struct cli *c);
void help_command(struct cli *c, const cli_command *command);
/* The commands of every program. */
vd_class command_help(cli *c);
vd_class command_version(cli *c);
/* The manual page of a program, in the man macros of roff. */
void manual_print(const cli_program *program, const char *version, FILE *out);
/* Prints what the last of these words may become, one in each line, with what it is behind a tab; "/" alone: a file. */
void offers_print(struct cli *c, char **words);

/* ---- tasks.c, near.c ---- */

/* Shows the task that a word is about, or lists those that it may be about. False: it is about none. */
bool tasks_show(const struct cli *c, const char *word);
/* Lists the tasks that a word is about; NULL: all. */
void tasks_list(const struct cli *c, const char *word);
/* The i-th task by name; NULL: there are no more. */
const char *task_name(size_t i);
/* The command that somebody may mean who mistypes it, or knows it under another word. Owned by the caller; NULL: none.
 */
char *command_near(const cli_program *program, const char *word);

/* ---- meant.c ---- */

/* A setting by its key, or by its name as it is shown, where only one is called so; VD_NONE: none. */
uint16_t meant_setting(const vd_model *model, const char *word);
/* The same of a group, a variant and an action, and of a channel by its label alone. */
uint16_t meant_group(const vd_model *model, const char *word);
uint16_t meant_variant(const vd_model *model, const char *word);
uint16_t meant_action(const vd_model *model, const char *word);
uint16_t meant_channel(const vd_model *model, const char *word);
/* The key of the model with this title; NULL: none, or several. */
const char *meant_model(const struct cli *c, const char *word);
/* Whether several settings are shown by this name; then that is reported. */
bool meant_several(struct cli *c, const vd_model *model, const char *word);

/* ---- choose.c ---- */

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
/* A byte for each setting of the group that was named, NULL for all. False: reported. */
bool choose_group(cli *c, const vd_model *model, uint8_t **which);

#endif
