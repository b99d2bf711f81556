/* SPDX-License-Identifier: MIT
 * What can be asked of one command of the table, and finding it by name. */
#include "words.h"
#include "../print/print.h"

#include <string.h>

bool cli_command_has(const cli_command *command, const cli_option *option)
{
    return option->belongs == 0 || (command->takes & option->belongs) != 0;
}

char *cli_command_words(const cli_command *command)
{
    GString *words = g_string_new("");
    unsigned open = 0;
    for (size_t i = 0; i < CLI_MOST_WORDS && command->words[i].name != NULL; i++) {
        const cli_word *word = &command->words[i];
        g_string_append_printf(words, "%s%s%s%s", i > 0 ? " " : "", word->optional ? "[" : "", word->name,
                               word->many ? " ..." : "");
        open += word->optional;
    }
    for (; open > 0; open--) {
        g_string_append_c(words, ']');
    }
    return g_string_free(words, FALSE);
}

const cli_command *program_command(cli *c, const char *name)
{
    const cli_program *program = c->program;
    for (size_t i = 0; i < program->command_count; i++) {
        if (strcmp(program->commands[i].name, name) == 0) {
            return &program->commands[i];
        }
    }
    char *shown = cli_quotable(name);
    char *meant = shown[0] == '-' ? NULL : command_near(program, shown);
    char *said = shown[0] == '-' ? g_strdup_printf("\"%s\" comes before any command. Put options behind it.", shown)
                                 : g_strdup_printf("Unknown command \"%s\".", shown);
    char *allowed = g_strdup_printf("%s%s%sAll commands: %s help", meant != NULL ? "Do you mean " : "",
                                    meant != NULL ? meant : "", meant != NULL ? "? " : "", program->name);
    report_wrong_words(c, said, allowed);
    g_free(allowed);
    g_free(said);
    g_free(meant);
    g_free(shown);
    return NULL;
}
