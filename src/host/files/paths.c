/* SPDX-License-Identifier: MIT */
#include "paths.h"

#include <glib.h>
#include <string.h>

static const char *const by_file = "file ";

char *path_in(const char *folder, const char *said)
{
    return g_path_is_absolute(said) || strcmp(folder, ".") == 0 ? g_strdup(said) : g_build_filename(folder, said, NULL);
}

char *path_moved(const char *from, const char *to, const char *said)
{
    if (g_path_is_absolute(said)) {
        return g_strdup(said);
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

char *source_in(const char *folder, const char *said)
{
    return source_moved(folder, NULL, said);
}

/* `to` NULL: as this program reaches it. */
char *source_moved(const char *from, const char *to, const char *said)
{
    if (!g_str_has_prefix(said, by_file)) {
        return g_strdup(said);
    }
    const char *path = said + strlen(by_file);
    char *moved = to != NULL ? path_moved(from, to, path) : path_in(from, path);
    char *source = g_strconcat(by_file, moved, NULL);
    g_free(moved);
    return source;
}
