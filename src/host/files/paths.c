/* SPDX-License-Identifier: MIT */
#include "paths.h"

#include <glib.h>
#include <stdbool.h>
#include <string.h>

static const char *const by_file = "file ";

char *path_in(const char *folder, const char *said)
{
    return g_path_is_absolute(said) || strcmp(folder, ".") == 0 ? g_strdup(said) : g_build_filename(folder, said, NULL);
}

static bool is_same_folder(const char *a, const char *b)
{
    char *one = g_canonicalize_filename(a, NULL), *other = g_canonicalize_filename(b, NULL);
    bool same = strcmp(one, other) == 0;
    g_free(other);
    g_free(one);
    return same;
}

char *path_moved(const char *from, const char *to, const char *said)
{
    if (g_path_is_absolute(said) || is_same_folder(from, to)) {
        return g_strdup(said); /* to the letter */
    }
    char *reached = path_in(from, said);
    char *whole = g_canonicalize_filename(reached, NULL), *start = g_canonicalize_filename(to, NULL);
    char **there = g_strsplit(whole, "/", -1), **here = g_strsplit(strcmp(start, "/") == 0 ? "" : start, "/", -1);
    size_t same = 0;
    while (here[same] != NULL && there[same] != NULL && strcmp(here[same], there[same]) == 0) {
        same++;
    }
    GString *path = g_string_new("");
    for (size_t i = same; here[i] != NULL; i++) {
        g_string_append(path, "../");
    }
    for (size_t i = same; there[i] != NULL; i++) {
        g_string_append_printf(path, "%s%s", i > same ? "/" : "", there[i]);
    }
    g_strfreev(here);
    g_strfreev(there);
    g_free(start);
    g_free(whole);
    g_free(reached);
    return g_string_free(path, FALSE);
}

/* The source with its path as it is elsewhere; takes that. NULL: it has none. */
static char *source_with(char *path, const char *said)
{
    char *source = path != NULL ? g_strconcat(by_file, path, NULL) : g_strdup(said);
    g_free(path);
    return source;
}

static const char *path_of(const char *said)
{
    return g_str_has_prefix(said, by_file) ? said + strlen(by_file) : NULL;
}

char *source_in(const char *folder, const char *said)
{
    const char *path = path_of(said);
    return source_with(path != NULL ? path_in(folder, path) : NULL, said);
}

char *source_moved(const char *from, const char *to, const char *said)
{
    const char *path = path_of(said);
    return source_with(path != NULL ? path_moved(from, to, path) : NULL, said);
}
