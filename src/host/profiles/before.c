/* SPDX-License-Identifier: MIT
 * What a unit held before a write, kept as a profile in the folder of what is remembered; and what is kept there. */
#include "parts.h"

#include <errno.h>
#include <string.h>

/* A name that says of which unit it is, and when. Free it. */
static char *name_of(const vd_visit *visit, const GDateTime *now)
{
    const vd_identity *identity = vd_visit_identity(visit);
    char *stamp = g_date_time_format((GDateTime *)now, "%Y%m%d-%H%M%S");
    char *serial = g_strdup(identity->serial[0] != '\0' ? identity->serial : "unnumbered");
    char *name = g_strdup_printf("%s-%s-%s", vd_visit_model(visit)->key,
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
    size_t size = vd_set_size(vd_visit_model(visit));
    void *memory = g_malloc0(size);
    vd_set prior;
    vd_set_start(&prior, vd_visit_model(visit), memory, size);
    vd_visit_prior(visit, &prior);
    char *text = vd_profile_compose(vd_visit_model(visit), &prior, vd_visit_identity(visit), when);
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

/* ---- What is kept ---- */

/* Milliseconds from "2026-05-02T08:00:00Z", 0 where it is none. */
static int64_t moment_of(const char *text)
{
    GDateTime *when = g_date_time_new_from_iso8601(text, NULL);
    int64_t moment = when != NULL ? g_date_time_to_unix(when) * 1000 : 0;
    g_clear_pointer(&when, g_date_time_unref);
    return moment;
}

/* Keys and values of a mapping of texts, in turn; NULL where it is none. */
static GPtrArray *take_values(yaml_file *file, const yaml_node_t *settings, bool keys)
{
    GPtrArray *texts = g_ptr_array_new();
    bool fine = settings != NULL && settings->type == YAML_MAPPING_NODE;
    for (const yaml_node_pair_t *pair = fine ? settings->data.mapping.pairs.start : NULL;
         fine && pair < settings->data.mapping.pairs.top; pair++) {
        const char *text = yaml_text(file, yaml_node(file, keys ? pair->key : pair->value), "settings");
        fine = text != NULL;
        g_ptr_array_add(texts, (gpointer)text);
    }
    g_ptr_array_add(texts, NULL);
    if (!fine) {
        g_ptr_array_unref(texts);
        texts = NULL;
    }
    return texts;
}

static void take_file(yaml_file *file, void (*take)(void *about, const vd_before *state), void *about)
{
    yaml_node_t *root = yaml_root(file), *settings = yaml_member(file, root, "settings");
    GPtrArray *keys = take_values(file, settings, true), *values = take_values(file, settings, false);
    vd_before state = {.when = 0};
    const char *read = "";
    bool fine = keys != NULL && values != NULL && yaml_take_key(file, root, "model", &state.model) &&
                yaml_take_text(file, root, "read", true, &read) &&
                profile_take_unit(file, yaml_member(file, root, "unit"), &state.unit);
    state.when = fine && state.unit.serial[0] != '\0' ? moment_of(read) : 0;
    if (state.when > 0) {
        state.keys = (char **)keys->pdata;
        state.values = (char **)values->pdata;
        take(about, &state);
    }
    g_clear_pointer(&keys, g_ptr_array_unref);
    g_clear_pointer(&values, g_ptr_array_unref);
}

static int by_name(const void *a, const void *b)
{
    return strcmp(*(char *const *)a, *(char *const *)b);
}

void vd_before_each(void (*take)(void *about, const vd_before *state), void *about)
{
    char *folder = vd_state_path("before");
    GDir *dir = g_dir_open(folder, 0, NULL);
    GPtrArray *names = g_ptr_array_new_with_free_func(g_free);
    for (const char *name = dir != NULL ? g_dir_read_name(dir) : NULL; name != NULL; name = g_dir_read_name(dir)) {
        if (g_str_has_suffix(name, ".yaml")) {
            g_ptr_array_add(names, g_build_filename(folder, name, NULL));
        }
    }
    g_ptr_array_sort(names, by_name);
    for (guint i = 0; i < names->len; i++) {
        vd_findings *findings = vd_findings_new("");
        yaml_file file;
        if (yaml_file_load(&file, names->pdata[i], PROFILE_MOST, findings)) {
            take_file(&file, take, about);
        }
        yaml_file_free(&file);
        vd_findings_free(findings);
    }
    g_ptr_array_unref(names);
    g_clear_pointer(&dir, g_dir_close);
    g_free(folder);
}
