/* SPDX-License-Identifier: MIT
 * Claims: that only one program of this computer is at work on a unit. The system lets go of a claim when its program
 * ends, however it does. */
#include <fcntl.h>
#include <string.h>
#include <sys/file.h>
#include <unistd.h>

#include "verdite/host.h"
#include "verdite/text.h"

struct vd_claim {
    int file;
};

static int open_claim(const char *name)
{
    char *own = g_strcanon(g_strdup(name), G_CSET_A_2_Z G_CSET_a_2_z G_CSET_DIGITS "-", '_');
    char *sum = g_compute_checksum_for_string(G_CHECKSUM_SHA256, name, -1); /* two names may look alike by now */
    char *folder = vd_state_path("claims"), *path = g_strdup_printf("%s/%.80s-%.12s", folder, own, sum);
    g_mkdir_with_parents(folder, 0700);
    int file = open(path, O_RDWR | O_CREAT | O_NOFOLLOW | O_CLOEXEC, 0600);
    g_free(path);
    g_free(folder);
    g_free(sum);
    g_free(own);
    return file;
}

static char *read_holder(int file)
{
    char text[128];
    ssize_t count = pread(file, text, sizeof text - 1, 0);
    size_t length = count > 0 ? vd_text_line(text, (size_t)count) : 0;
    return length > 0 ? g_strndup(text, length) : g_strdup("another program");
}

vd_claim *vd_claim_take(const char *name, const char *who, char **holder)
{
    int file = open_claim(name);
    *holder = NULL;
    if (file < 0) {
        return NULL;
    }
    if (flock(file, LOCK_EX | LOCK_NB) != 0) {
        *holder = read_holder(file);
        close(file);
        return NULL;
    }
    char *line = g_strdup_printf("%s, process %ld", who, (long)getpid());
    if (ftruncate(file, 0) != 0 || pwrite(file, line, strlen(line), 0) < 0) {
        /* it is claimed all the same; only its holder has no name */
    }
    g_free(line);
    vd_claim *claim = g_new(vd_claim, 1);
    claim->file = file;
    return claim;
}

void vd_claim_release(vd_claim *claim)
{
    if (claim != NULL) {
        close(claim->file);
        g_free(claim);
    }
}
