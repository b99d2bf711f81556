/* SPDX-License-Identifier: MIT
 * Saving a file so that either the old or the new one is there, whole. */
#include "verdite/host.h"

#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

vd_status vd_file_save(const char *path, const char *text, size_t length, vd_fault *fault)
{
    GError *error = NULL;
    struct stat about;
    bool replaces = stat(path, &about) == 0;
    if (replaces && !S_ISREG(about.st_mode)) {
        return vd_note_FILE_UNWRITABLE(fault, S_ISDIR(about.st_mode) ? "it is a folder" : "it is no ordinary file");
    }
    /* A link is followed, so that the file it points to is replaced, not the link. */
    char *real = g_file_test(path, G_FILE_TEST_IS_SYMLINK) ? realpath(path, NULL) : NULL;
    gboolean saved = g_file_set_contents_full(real != NULL ? real : path, text, (gssize)length,
                                              G_FILE_SET_CONTENTS_CONSISTENT | G_FILE_SET_CONTENTS_DURABLE,
                                              replaces ? (int)(about.st_mode & 0777) : 0666, &error);
    free(real);
    if (saved) {
        return VD_OK;
    }
    /* The message repeats the path, which the person knows; its last part is the system's reason. */
    const char *why = strrchr(error->message, ':');
    vd_note_FILE_UNWRITABLE(fault, why != NULL ? why + 2 : error->message);
    g_error_free(error);
    return VD_FILE_UNWRITABLE;
}
