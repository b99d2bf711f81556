/* SPDX-License-Identifier: MIT
 * What a program and its commands can be told, made from their tables: for people, and as JSON for programs. */
#include "words.h"
#include "../print/print.h"

static const char *const two_columns[] = {"", "", NULL};

const cli_status cli_statuses[] = {
    {VD_CLASS_FINE, "all is as it should be"},
    {VD_CLASS_NO, "the answer is no: it differs, it is not right, nothing was sent"},
    {VD_CLASS_PARTLY, "right as far as can be known, but something cannot be read back or judged"},
    {VD_CLASS_NOT_VERIFIED, "not verified"},
    {VD_CLASS_USAGE, "called with wrong words"},
    {VD_CLASS_FILE, "a file, or a value in it, is wrong, or could not be written in full"},
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

void help_command(cli *c, const cli_command *command)
{
    json_t *list = json_array();
    json_array_append_new(list, command_json(command));
    json_object_set_new(c->result, "commands", list);
    if (c->options.json) {
        return;
    }
    char *words = cli_command_words(command);
    printf("%s%s %s%s%s%s\n", tone_on(c->colour, TONE_STRONG), c->program->name, command->name,
           words[0] != '\0' ? " " : "", words, tone_off(c->colour, TONE_STRONG));
    g_free(words);
    prose_print(stdout, 0, "", command->help);
    sheet options = sheet_start(c, stdout, two_columns), examples = sheet_start(c, stdout, two_columns + 1);
    sheet_heading(&options, "Options");
    for (size_t i = 0; i < cli_option_count; i++) {
        const cli_option *option = &cli_option_table[i];
        if (cli_command_has(command, option)) {
            char letter[] = {'-', option->letter, ',', ' ', '\0'};
            char *name = g_strdup_printf("%s--%s%s%s", option->letter != '\0' ? letter : "    ", option->name,
                                         option->value != NULL ? " " : "", option->value != NULL ? option->value : "");
            sheet_row(&options, name, option->help, NULL);
            g_free(name);
        }
    }
    sheet_print(&options);
    sheet_heading(&examples, "For example");
    for (size_t i = 0; i < CLI_MOST_EXAMPLES && command->examples[i] != NULL; i++) {
        sheet_row(&examples, command->examples[i], NULL);
    }
    sheet_print(&examples);
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
    prose_print(stdout, 0, "", program->summary);
    printf("\n  %s COMMAND [OPTION ...]\n", program->name);
    sheet commands = sheet_start(c, stdout, two_columns), statuses = sheet_start(c, stdout, two_columns);
    sheet_heading(&commands, "Commands");
    for (size_t i = 0; i < program->command_count; i++) {
        char *words = cli_command_words(&program->commands[i]);
        char *call = g_strdup_printf("%s%s%s", program->commands[i].name, words[0] != '\0' ? " " : "", words);
        sheet_row(&commands, call, program->commands[i].summary, NULL);
        g_free(call);
        g_free(words);
    }
    sheet_print(&commands);
    sheet_heading(&statuses, "Exit statuses, the worst that was met");
    for (size_t i = 0; i < cli_status_count; i++) {
        char number[] = {(char)('0' + cli_statuses[i].class), '\0'};
        sheet_row(&statuses, number, cli_statuses[i].meaning, NULL);
    }
    sheet_print(&statuses);
    printf("\n");
    char *more = g_strdup_printf("All about one command, with examples: %s help COMMAND", program->name);
    prose_print(stdout, 0, "", more);
    g_free(more);
}

vd_class command_help(cli *c)
{
    if (c->options.words == NULL) {
        help_program(c);
        return c->worst;
    }
    const cli_command *command = program_command(c, c->options.words[0]);
    if (command != NULL) {
        help_command(c, command);
    }
    return c->worst;
}

vd_class command_version(cli *c)
{
    char *version = g_strdup_printf("%d.%d.%d", VD_VERSION_MAJOR, VD_VERSION_MINOR, VD_VERSION_PATCH);
    json_object_set_new(c->result, "version", json_string(version));
    if (!c->options.json) {
        printf("%s %s\n", c->program->name, version);
    }
    g_free(version);
    return c->worst;
}
