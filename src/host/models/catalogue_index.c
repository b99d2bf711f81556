/* SPDX-License-Identifier: MIT
 * An index of the folders of models: which files there were when all were loaded last, by size and time, and which of
 * them were left out. Where nothing has changed since, not every model need be loaded to know that. */
#include "catalogue.h"

#include <dlfcn.h>
#include <glib/gstdio.h>
#include <string.h>

static void add_file(GString *text, const char *path)
{
    GStatBuf about = {0};
    bool there = path != NULL && g_stat(path, &about) == 0;
    g_string_append_printf(text, " %" G_GINT64_FORMAT " %" G_GINT64_FORMAT ".%09ld", there ? (gint64)about.st_size : -1,
                           (gint64)about.st_mtim.tv_sec, (long)about.st_mtim.tv_nsec);
}

/* What a model is judged by: this program; and where it was looked for. */
static char *head_of(const char *where)
{
    static const char mark;
    GString *text = g_string_new("verdite-models 1");
    Dl_info library = {0};
    char *program = g_file_read_link("/proc/self/exe", NULL);
    char *folders = g_strescape(where, NULL);
    add_file(text, program);
    add_file(text, dladdr(&mark, &library) != 0 ? library.dli_fname : NULL);
    g_string_append_printf(text, " %s", folders);
    g_free(folders);
    g_free(program);
    return g_string_free(text, FALSE);
}

static char *entry_of(const catalogue_files *files, size_t i)
{
    GString *text = g_string_new(files->keys[i]);
    add_file(text, files->paths[i]);
    return g_string_free(text, FALSE);
}

void catalogue_write_index(const char *path, const catalogue_files *files, char *const *states)
{
    char *head = head_of(files->folders), *folder = g_path_get_dirname(path);
    GString *text = g_string_new(head);
    g_string_append_c(text, '\n');
    for (size_t i = 0; files->keys[i] != NULL; i++) {
        char *entry = entry_of(files, i);
        g_string_append_printf(text, "%s %s\n", entry, states[i]);
        g_free(entry);
    }
    const vd_file_text file = {text->str, text->len, false};
    vd_fault fault = {0};
    g_mkdir_with_parents(folder, 0700);
    vd_file_save(path, &file, &fault); /* where it cannot be kept all are loaded again */
    g_string_free(text, TRUE);
    g_free(folder);
    g_free(head);
}

char **catalogue_read_index(const char *path, const catalogue_files *files)
{
    char *text = NULL, *head = head_of(files->folders);
    guint count = g_strv_length((char **)files->keys);
    char **lines = g_file_get_contents(path, &text, NULL, NULL) ? g_strsplit(text, "\n", -1) : NULL;
    GPtrArray *states = g_ptr_array_new_with_free_func(g_free);
    bool same = lines != NULL && g_strv_length(lines) == count + 2u && strcmp(lines[0], head) == 0;
    for (guint i = 0; i < count && same; i++) {
        char *entry = entry_of(files, i);
        size_t length = strlen(entry);
        same = strncmp(lines[i + 1], entry, length) == 0 && lines[i + 1][length] == ' ';
        g_ptr_array_add(states, same ? g_strdup(lines[i + 1] + length + 1) : NULL);
        g_free(entry);
    }
    g_strfreev(lines);
    g_free(text);
    g_free(head);
    if (!same) {
        g_ptr_array_unref(states);
        return NULL;
    }
    g_ptr_array_add(states, NULL);
    return (char **)g_ptr_array_free(states, FALSE);
}
