/* SPDX-License-Identifier: MIT
 * Passwords and other secrets: from a file, from the environment, or typed without being shown; never from arguments,
 * which every user of the computer can see. */
#include "cli.h"

#include <errno.h>
#include <string.h>
#include <termios.h>
#include <unistd.h>

#define MOST 512

void password_free(char *password)
{
    if (password != NULL) {
        explicit_bzero(password, strlen(password));
        g_free(password);
    }
}

/* One line, without its end; NULL when there is none. */
static char *read_line(int from)
{
    char *line = g_malloc0(MOST);
    size_t length = 0;
    ssize_t got = 0;
    while (length + 1 < MOST && (got = read(from, line + length, 1)) == 1 && line[length] != '\n') {
        length++;
    }
    bool any = got == 1 || length > 0;
    line[length] = '\0';
    g_strchomp(line);
    if (!any || line[0] == '\0') {
        password_free(line);
        return NULL;
    }
    return line;
}

static char *from_file(cli *c, const char *path)
{
    FILE *file = strcmp(path, "-") == 0 ? stdin : fopen(path, "r");
    if (file == NULL) {
        report_new(c, vd_fault_of_FILE_UNREADABLE(g_strerror(errno)));
        return NULL;
    }
    char *password = read_line(fileno(file));
    if (file != stdin) {
        fclose(file);
    }
    return password;
}

/* Typed on the terminal, without being shown; `is_ready` waits for it, NULL: nothing else goes on meanwhile. */
static char *typed(const char *question, bool (*is_ready)(void *about), void *about)
{
    struct termios before, silent;
    if (tcgetattr(STDIN_FILENO, &before) != 0) {
        return NULL;
    }
    silent = before;
    silent.c_lflag &= ~(tcflag_t)ECHO;
    fprintf(stderr, "%s ", question);
    fflush(stderr);
    tcsetattr(STDIN_FILENO, TCSAFLUSH, &silent);
    char *password = is_ready == NULL || is_ready(about) ? read_line(STDIN_FILENO) : NULL;
    tcsetattr(STDIN_FILENO, TCSAFLUSH, &before);
    fputc('\n', stderr);
    return password;
}

char *password_get(cli *c, const char *question, bool (*is_ready)(void *about), void *about)
{
    const char *given = g_getenv("VERDITE_PASSWORD");
    if (c->options.password_from != NULL) {
        return from_file(c, c->options.password_from);
    }
    if (given != NULL && given[0] != '\0') {
        return g_strdup(given);
    }
    return isatty(STDIN_FILENO) != 0 ? typed(question, is_ready, about) : NULL;
}

char *password_new(cli *c, const char *key)
{
    if (isatty(STDIN_FILENO) == 0) {
        return read_line(STDIN_FILENO);
    }
    char *question = g_strdup_printf("%s, not shown:", key);
    char *first = typed(question, NULL, NULL), *second = first != NULL ? typed("Once more:", NULL, NULL) : NULL;
    g_free(question);
    if (first != NULL && (second == NULL || strcmp(first, second) != 0)) {
        report_wrong_words(c, "The two are not the same.", "Nothing was changed; try again.");
        password_free(first);
        first = NULL;
    }
    password_free(second);
    return first;
}
