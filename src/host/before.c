/* SPDX-License-Identifier: MIT
 * What a unit held before a write, kept as a profile in the folder of what is remembered. */
#include "verdite/host.h"

#include <errno.h>
#include <string.h>

/* A name that says of which unit it is, and when. Free it. */
static char *name_of(const vd_visit *visit, const GDateTime *now)
{
    const vd_identity *identity = vd_visit_identity(visit);
    char *stamp = g_date_time_format((GDateTime *)now, "%Y%m%d-%H%M%S");
    char *serial = g_strdup(identity->serial[0] != '\0' ? identity->serial : "unnumbered");
    char *name = g_strdup_printf("%s-%s-%s", visit->model->key,
                                 g_strcanon(serial, G_CSET_A_2_Z G_CSET_a_2_z G_CSET_DIGITS "-", '_'), stamp);
    g_free(stamp);
    g_free(serial);
    return name;
}

/* None is replaced, whatever the clock says. */
static vd_status create(const char *folder, const char *name, const vd_file_text *text, char **path, vd_fault *fault)
{
    vd_status status = VD_FILE_THERE;
    vd_fault own = {0};
    char *tried = NULL;
    for (unsigned n = 1; status == VD_FILE_THERE && n < 10000; n++) {
        g_free(tried);
        tried =
            n == 1 ? g_strdup_printf("%s/%s.yaml", folder, name) : g_strdup_printf("%s/%s-%u.yaml", folder, name, n);
        own = (vd_fault){0};
        status = vd_file_create(tried, text, &own);
    }
    if (status != VD_OK && fault != NULL) {
        *fault = own;
    }
    if (status == VD_OK && path != NULL) {
        *path = g_steal_pointer(&tried);
    }
    g_free(tried);
    return status;
}

vd_status vd_before_keep(const vd_visit *visit, char **path, vd_fault *fault)
{
    GDateTime *now = g_date_time_new_now_utc();
    char *when = g_date_time_format(now, "%Y-%m-%dT%H:%M:%SZ"), *name = name_of(visit, now);
    char *folder = vd_state_path("before");
    size_t size = vd_set_size(visit->model);
    void *memory = g_malloc0(size);
    vd_set prior;
    vd_set_start(&prior, visit->model, memory, size);
    vd_visit_prior(visit, &prior);
    char *text = vd_profile_compose(visit->model, &prior, vd_visit_identity(visit), when);
    const vd_file_text content = {text, strlen(text), false};
    vd_status status = g_mkdir_with_parents(folder, 0700) != 0 ? vd_note_FILE_UNWRITABLE(fault, g_strerror(errno))
                                                               : create(folder, name, &content, path, fault);
    vd_wipe(memory, size);
    g_free(text);
    g_free(memory);
    g_free(folder);
    g_free(name);
    g_free(when);
    g_date_time_unref(now);
    return status;
}
