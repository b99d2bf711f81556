/* SPDX-License-Identifier: MIT
 * What a program and its commands can be told, made from their tables: for people, and as JSON for programs. */
#include "words.h"
#include "../print/print.h"

#include <string.h>

static const char *const two_columns[] = {"", "", NULL};

const cli_status cli_statuses[] = {
    {VD_CLASS_FINE, "all is right"},
    {VD_CLASS_NO, "the answer is no: different, not right, or nothing was sent"},
    {VD_CLASS_PARTLY, "right as far as is known, but something cannot be read back or judged"},
    {VD_CLASS_NOT_VERIFIED, "not verified"},
    {VD_CLASS_USAGE, "wrong command or option"},
    {VD_CLASS_FILE, "a file or a value in it is wrong, or a file could not be written"},
    {VD_CLASS_CONTACT, "no contact with the unit"},
    {VD_CLASS_REFUSED, "the unit refused"},
    {VD_CLASS_INTERRUPTED, "stopped by hand"},
};
const size_t cli_status_count = G_N_ELEMENTS(cli_statuses);

/* ---- For programs ---- */

static json_t *command_json(const cli_command *command)
{
    char *words = cli_command_words(command);
    json_t *options = json_array(), *examples = json_array();
    for (size_t i = 0; i < cli_option_count; i++) {
        const cli_option *option = &cli_option_table[i];
        if (cli_command_has(command, option)) {
            json_array_append_new(options, json_pack("{s:s, s:s*, s:s}", "option", option->name, "value", option->value,
                                                     "help", option->help));
        }
    }
    for (size_t i = 0; i < CLI_MOST_EXAMPLES && command->examples[i] != NULL; i++) {
        json_array_append_new(examples, json_string(command->examples[i]));
    }
    json_t *object = json_pack("{s:s, s:s, s:s, s:s, s:o, s:o}", "name", command->name, "words", words, "summary",
                               command->summary, "help", command->help, "options", options, "examples", examples);
    g_free(words);
    return object;
}

/* ---- For people ---- */

/* Which unit is meant, and how it is reached: told once for all commands. */
static bool chooses_unit(const cli_option *option)
{
    return (option->belongs & (TAKES_PLACE | TAKES_LINE | TAKES_MODEL | TAKES_PASSWORD)) != 0;
}

static void add_option(sheet *rows, const cli_option *option)
{
    char letter[] = {'-', option->letter, ',', ' ', '\0'};
    char *name = g_strdup_printf("%s--%s%s%s", option->letter != '\0' ? letter : "    ", option->name,
                                 option->value != NULL ? " " : "", option->value != NULL ? option->value : "");
    sheet_row(rows, name, option->help, NULL);
    g_free(name);
}

/* Its own options, and the names of those that choose the unit. */
static void show_options(const cli *c, const cli_command *command)
{
    sheet own = sheet_start(c, stdout, two_columns);
    GString *others = g_string_new("");
    for (size_t i = 0; i < cli_option_count; i++) {
        const cli_option *option = &cli_option_table[i];
        if (option->belongs == 0 || !cli_command_has(command, option)) {
            continue;
        }
        if (chooses_unit(option)) {
            g_string_append_printf(others, " --%s", option->name);
        } else {
            add_option(&own, option);
        }
    }
    own.lines->len > 0 ? sheet_print(&own) : sheet_drop(&own);
    if (others->len > 0) {
        char *line = g_strdup_printf("The unit:%s (%s help unit)", others->str, c->program->name);
        prose_print(stdout, 0, "  ", line);
        g_free(line);
    }
    g_string_free(others, TRUE);
}

void help_command(cli *c, const cli_command *command)
{
    json_t *list = json_array();
    json_array_append_new(list, command_json(command));
    json_object_set_new(c->result, "commands", list);
    if (c->options.json) {
        return;
    }
    char *words = cli_command_words(command);
    char *call = g_strdup_printf("%s %s%s%s", c->program->name, command->name, words[0] != '\0' ? " " : "", words);
    title_print(c, call);
    g_free(call);
    g_free(words);
    prose_print(stdout, 0, "", command->help);
    show_options(c, command);
    screen_put(stdout, "For example:\n");
    for (size_t i = 0; i < CLI_MOST_EXAMPLES && command->examples[i] != NULL; i++) {
        char *line = g_strdup_printf("  %s", command->examples[i]);
        prose_print(stdout, 0, "", line);
        g_free(line);
    }
}

/* How the unit is chosen, and what every command takes. */
static void help_unit(const cli *c)
{
    sheet rows = sheet_start(c, stdout, two_columns);
    title_print(c, "Options for the unit and its line");
    for (size_t i = 0; i < cli_option_count; i++) {
        if (chooses_unit(&cli_option_table[i])) {
            add_option(&rows, &cli_option_table[i]);
        }
    }
    sheet_heading(&rows, "Options of every command");
    for (size_t i = 0; i < cli_option_count; i++) {
        if (cli_option_table[i].belongs == 0) {
            add_option(&rows, &cli_option_table[i]);
        }
    }
    sheet_print(&rows);
}

static const char *const jobs[JOBS] = {[JOB_ANY] = "Commands", [JOB_LOOK] = "Look",   [JOB_UNDERSTAND] = "Understand",
                                       [JOB_EDIT] = "Edit",    [JOB_WRITE] = "Write", [JOB_NEXT] = "Next unit",
                                       [JOB_KEEP] = "Keep"};

static void show_commands(const cli *c)
{
    const cli_program *program = c->program;
    sheet commands = sheet_start(c, stdout, two_columns);
    for (cli_job job = JOB_ANY; job < JOBS; job++) {
        bool headed = false;
        for (size_t i = 0; i < program->command_count; i++) {
            if (program->commands[i].job != job) {
                continue;
            }
            if (!headed) {
                sheet_heading(&commands, jobs[job]);
            }
            headed = true;
            sheet_row(&commands, program->commands[i].name, program->commands[i].summary, NULL);
        }
    }
    sheet_print(&commands);
}

void help_program(cli *c)
{
    const cli_program *program = c->program;
    json_t *list = json_array();
    for (size_t i = 0; i < program->command_count; i++) {
        json_array_append_new(list, command_json(&program->commands[i]));
    }
    json_object_set_new(c->result, "commands", list);
    if (c->options.json) {
        return;
    }
    char *call = g_strdup_printf("%s\nCall: %s COMMAND [OPTION ...]", program->summary, program->name);
    prose_print(stdout, 0, "", call);
    g_free(call);
    show_commands(c);
    screen_put(stdout, "\n");
    if (program->guide != NULL) {
        char *guided = g_strdup_printf("New here? Type %s alone: it asks one question after another.", program->name);
        prose_print(stdout, 0, "", guided);
        g_free(guided);
    }
    bool tasks = program->tasks;
    char *more =
        g_strdup_printf(tasks ? "One command: %s help COMMAND\nA task, by a word such as silent: %s help WORD\n"
                                "All tasks: %s help tasks\nExit statuses: %s help exit"
                              : "One command: %s help COMMAND\nExit statuses: %s help exit",
                        program->name, program->name, program->name, program->name);
    prose_print(stdout, 0, "", more);
    g_free(more);
}

static void help_statuses(const cli *c)
{
    sheet statuses = sheet_start(c, stdout, two_columns);
    title_print(c, "Exit statuses: the worst that happened");
    for (size_t i = 0; i < cli_status_count; i++) {
        char number[] = {(char)('0' + cli_statuses[i].class), '\0'};
        sheet_row(&statuses, number, cli_statuses[i].meaning, NULL);
    }
    sheet_print(&statuses);
}

/* A page that is neither a command's nor a task's. */
static bool help_page(cli *c, const char *word)
{
    bool tasks = strcmp(word, "tasks") == 0, status = strcmp(word, "exit") == 0, unit = strcmp(word, "unit") == 0;
    if (c->options.json && (tasks || status || unit)) {
        help_program(c); /* programs have it all in one */
    } else if (tasks) {
        title_print(c, "Tasks");
        tasks_list(c, NULL);
    } else if (status) {
        help_statuses(c);
    } else if (unit) {
        help_unit(c);
    }
    return tasks || status || unit;
}

vd_class command_help(cli *c)
{
    if (c->options.words == NULL) {
        help_program(c);
        return c->worst;
    }
    char *word = g_strjoinv(" ", c->options.words);
    bool own = false;
    for (size_t i = 0; i < c->program->command_count; i++) {
        own = own || strcmp(c->program->commands[i].name, word) == 0;
    }
    bool told = !own && (help_page(c, word) || (c->program->tasks && tasks_show(c, word)));
    const cli_command *command = told ? NULL : program_command(c, word);
    if (command != NULL) {
        help_command(c, command);
    }
    g_free(word);
    return c->worst;
}

vd_class command_version(cli *c)
{
    char *version = g_strdup_printf("%d.%d.%d", VD_VERSION_MAJOR, VD_VERSION_MINOR, VD_VERSION_PATCH);
    json_object_set_new(c->result, "version", json_string(version));
    if (!c->options.json) {
        char *line = g_strdup_printf("%s %s\n", c->program->name, version);
        screen_put(stdout, line);
        g_free(line);
    }
    g_free(version);
    return c->worst;
}
