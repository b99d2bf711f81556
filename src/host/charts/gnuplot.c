/* SPDX-License-Identifier: MIT
 * gnuplot: how a script begins, how a text stands in it, and having it drawn. */
#include "parts.h"

#include <glib/gstdio.h>

#define WIDE 1280

GString *chart_begin(bool svg, guint high, const char *name)
{
    GString *script = g_string_new("set encoding utf8\n");
    if (svg) {
        g_string_append_printf(script,
                               "set terminal svg size %d,%u name '%s' font 'sans,12' noenhanced background '#ffffff'\n",
                               WIDE, high, name);
    } else {
        g_string_append_printf(
            script, "set terminal pngcairo size %d,%u font 'DejaVu Sans,10' noenhanced background '#ffffff'\n", WIDE,
            high);
    }
    return script;
}

void chart_add_quoted(GString *script, const char *text)
{
    g_string_append_c(script, '\'');
    for (; *text != '\0'; text++) {
        if (*text == '\'') {
            g_string_append(script, "''");
        } else if (g_str_has_prefix(text, "]]>")) {
            g_string_append(script, "]] ");
            text++;
        } else if ((unsigned char)*text >= ' ' && *text != 127) {
            g_string_append_c(script, *text);
        }
    }
    g_string_append_c(script, '\'');
}

vd_status chart_run(const GString *script, char **picture, size_t *length, vd_fault *fault)
{
    char *program = g_find_program_in_path("gnuplot");
    *picture = NULL;
    *length = 0;
    if (program == NULL) {
        return vd_note_NO_GNUPLOT(fault);
    }
    char *folder = g_dir_make_tmp("verdite-chart-XXXXXX", NULL), *said = NULL;
    char *path = folder != NULL ? g_build_filename(folder, "script", NULL) : NULL;
    char *words[] = {program, (char[]){"script"}, NULL};
    char **environment = g_environ_setenv(g_get_environ(), "LC_ALL", "C", TRUE);
    environment = g_environ_unsetenv(environment, "VERDITE_PASSWORD"); /* no secret is its business */
    int wait_status = 0;
    GError *error = NULL;
    vd_status status = VD_OK;
    bool drawn = path != NULL && g_file_set_contents(path, script->str, (gssize)script->len, &error) &&
                 g_spawn_sync(folder, words, environment, G_SPAWN_STDOUT_TO_DEV_NULL, NULL, NULL, NULL, &said,
                              &wait_status, &error) &&
                 g_spawn_check_wait_status(wait_status, NULL);
    char *out = folder != NULL ? g_build_filename(folder, "picture", NULL) : NULL;
    drawn = drawn && g_file_get_contents(out, picture, length, NULL) && *length > 0;
    if (!drawn) {
        const char *why = said != NULL && said[0] != '\0' ? g_strstrip(said) : error != NULL ? error->message : "";
        status = vd_note_NOT_DRAWN(fault, why[0] != '\0' ? why : "gnuplot drew nothing");
    }
    if (folder != NULL) {
        g_unlink(path);
        g_unlink(out);
        g_rmdir(folder);
    }
    g_clear_error(&error);
    g_strfreev(environment);
    g_free(out);
    g_free(path);
    g_free(folder);
    g_free(said);
    g_free(program);
    return status;
}
