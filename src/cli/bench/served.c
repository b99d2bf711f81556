/* SPDX-License-Identifier: MIT
 * Hands on a bench that is being served: another program on this computer says in a pipe in its folder what is done to
 * which unit. */
#include "bench.h"

#include <fcntl.h>
#include <stdio.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

static char *pipe_of(const char *folder)
{
    return g_build_filename(folder, "hands", NULL);
}

/* The pipe of a bench that somebody serves; -1: nobody does. */
static int open_told(const char *folder)
{
    char *path = pipe_of(folder);
    struct stat about;
    bool is_pipe = lstat(path, &about) == 0 && S_ISFIFO(about.st_mode);
    int pipe = is_pipe ? open(path, O_WRONLY | O_NONBLOCK | O_CLOEXEC) : -1; /* fails where nobody reads */
    g_free(path);
    return pipe;
}

bool served_anywhere(const char *folder)
{
    int pipe = open_told(folder);
    if (pipe >= 0) {
        close(pipe);
    }
    return pipe >= 0;
}

bool served_tell(const char *folder, const char *does, const char *unit, uint32_t milliseconds)
{
    char *line = g_strdup_printf("%s %s %u\n", does, unit, milliseconds);
    int pipe = open_told(folder);
    bool told = pipe >= 0 && write(pipe, line, strlen(line)) == (ssize_t)strlen(line);
    if (pipe >= 0) {
        close(pipe);
    }
    g_free(line);
    return told;
}

int served_open(const char *folder)
{
    char *path = pipe_of(folder);
    struct stat about;
    if (lstat(path, &about) == 0 && S_ISFIFO(about.st_mode)) {
        unlink(path); /* left by one that was killed */
    }
    int pipe = mkfifo(path, 0600) == 0 ? open(path, O_RDWR | O_NONBLOCK | O_CLOEXEC) : -1;
    g_free(path);
    return pipe;
}

void served_close(const char *folder, int pipe)
{
    char *path = pipe_of(folder);
    if (pipe >= 0) {
        close(pipe);
        unlink(path);
    }
    g_free(path);
}

void served_hear(int pipe, void (*does)(void *about, const char *what, const char *unit, uint32_t milliseconds),
                 void *about)
{
    enum { MOST = 65536 }; /* a pipe holds no more, and each line goes into it whole, so none is cut */
    char *text = g_malloc(MOST + 1), *rest = NULL;
    ssize_t got = read(pipe, text, MOST);
    text[got > 0 ? got : 0] = '\0';
    for (char *line = strtok_r(text, "\n", &rest); line != NULL; line = strtok_r(NULL, "\n", &rest)) {
        char **words = g_strsplit(line, " ", 4);
        guint64 time = 0;
        if (g_strv_length(words) == 3 && g_ascii_string_to_unsigned(words[2], 10, 0, UINT32_MAX, &time, NULL)) {
            does(about, words[0], words[1], (uint32_t)time);
        }
        g_strfreev(words);
    }
    g_free(text);
}
