/* SPDX-License-Identifier: MIT
 * What commands are called by those who know them under another word. */
#include "words.h"
#include "../print/print.h"
#include "verdite/text.h"

#include <string.h>

/* The names of the commands, then the other words. */
static const char *word_at(const void *about, size_t i)
{
    const cli_program *program = about;
    return i < program->command_count ? program->commands[i].name : program->others[i - program->command_count].word;
}

char *command_near(const cli_program *program, const char *word)
{
    static const char question[] = "Do you mean ";
    size_t count = program->command_count + program->other_count;
    char *near = vd_suggest(word, count, word_at, program);
    char *meant = NULL;
    if (g_str_has_prefix(near, question)) { /* of a word without one that is like it there is nothing to say */
        meant = g_strndup(near + strlen(question), strcspn(near + strlen(question), "?"));
    }
    for (size_t i = 0; i < program->other_count && meant != NULL; i++) {
        if (strcmp(program->others[i].word, meant) == 0) {
            g_free(meant);
            meant = g_strdup(program->others[i].command);
            break;
        }
    }
    g_free(near);
    return meant;
}
