/* SPDX-License-Identifier: MIT
 * The folders of models. */
#include "verdite/host.h"

#include <string.h>

struct vd_catalogue {
    char **folders; /* in the order in which they are looked through */
    char *folders_text;
    char **keys;
    GHashTable *files; /* of vd_model_file, by path */
};

static char *shipped_folder(void)
{
    char *program = g_file_read_link("/proc/self/exe", NULL);
    char *bin = g_path_get_dirname(program != NULL ? program : ".");
    char *installed = g_build_filename(bin, "..", "share", "verdite", "models", NULL);
    g_free(program);
    g_free(bin);
    if (g_file_test(installed, G_FILE_TEST_IS_DIR)) {
        return installed;
    }
    g_free(installed);
    return g_strdup(VD_SOURCE_MODELS);
}

static char **find_folders(void)
{
    const char *named = g_getenv("VERDITE_MODELS");
    if (named != NULL && named[0] != '\0') {
        return g_strsplit(named, ":", -1);
    }
    char **folders = g_new0(char *, 3);
    folders[0] = g_build_filename(g_get_user_data_dir(), "verdite", "models", NULL);
    folders[1] = shipped_folder();
    return folders;
}

vd_catalogue *vd_catalogue_open(void)
{
    vd_catalogue *catalogue = g_new0(vd_catalogue, 1);
    catalogue->folders = find_folders();
    catalogue->folders_text = g_strjoinv(", ", catalogue->folders);
    catalogue->files = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, (GDestroyNotify)vd_model_file_free);
    return catalogue;
}

void vd_catalogue_free(vd_catalogue *catalogue)
{
    if (catalogue != NULL) {
        g_hash_table_destroy(catalogue->files);
        g_strfreev(catalogue->keys);
        g_strfreev(catalogue->folders);
        g_free(catalogue->folders_text);
        g_free(catalogue);
    }
}

const char *vd_catalogue_folders(const vd_catalogue *catalogue)
{
    return catalogue->folders_text;
}

static int compare(const void *a, const void *b)
{
    return strcmp(*(const char *const *)a, *(const char *const *)b);
}

static void collect_keys(const char *path, GPtrArray *keys)
{
    GDir *folder = g_dir_open(path, 0, NULL);
    const char *name = NULL;
    while (folder != NULL && (name = g_dir_read_name(folder)) != NULL) {
        char *key = g_str_has_suffix(name, ".yaml") ? g_strndup(name, strlen(name) - strlen(".yaml")) : NULL;
        bool known = key == NULL;
        for (guint i = 0; i < keys->len && !known; i++) {
            known = strcmp(g_ptr_array_index(keys, i), key) == 0;
        }
        if (known) {
            g_free(key);
        } else {
            g_ptr_array_add(keys, key);
        }
    }
    if (folder != NULL) {
        g_dir_close(folder);
    }
}

/* The first folder that has it counts. */
static char *path_of(const vd_catalogue *catalogue, const char *key)
{
    char *path = NULL;
    for (char **folder = catalogue->folders; *folder != NULL; folder++) {
        g_free(path);
        path = g_strdup_printf("%s/%s.yaml", *folder, key);
        if (g_file_test(path, G_FILE_TEST_EXISTS)) {
            break;
        }
    }
    return path;
}

const char *const *vd_catalogue_keys(vd_catalogue *catalogue)
{
    if (catalogue->keys == NULL) {
        GPtrArray *keys = g_ptr_array_new();
        for (char **folder = catalogue->folders; *folder != NULL; folder++) {
            collect_keys(*folder, keys);
        }
        g_ptr_array_sort(keys, compare);
        g_ptr_array_add(keys, NULL);
        catalogue->keys = (char **)g_ptr_array_free(keys, FALSE);
    }
    return (const char *const *)catalogue->keys;
}

static vd_status note_no_model(vd_catalogue *catalogue, const char *name, vd_findings *findings)
{
    vd_fault fault = {0};
    const char *const *keys = vd_catalogue_keys(catalogue);
    char *known = g_strjoinv(", ", (char **)keys);
    char *allowed =
        known[0] != '\0' ? g_strdup(known) : g_strdup_printf("none, there is no model in %s", catalogue->folders_text);
    vd_note_NO_SUCH_MODEL(&fault, name, allowed);
    vd_findings_add(findings, 0, 0, &fault);
    g_free(allowed);
    g_free(known);
    return VD_NO_SUCH_MODEL;
}

const vd_model *vd_catalogue_model(vd_catalogue *catalogue, const char *name, vd_findings **findings)
{
    bool by_path = g_str_has_suffix(name, ".yaml");
    if (!by_path && !g_strv_contains(vd_catalogue_keys(catalogue), name)) {
        note_no_model(catalogue, name, *findings);
        return NULL;
    }
    char *path = by_path ? g_strdup(name) : path_of(catalogue, name);
    vd_model_file *file = g_hash_table_lookup(catalogue->files, path);
    if (file == NULL) {
        vd_findings *own = vd_findings_new(path);
        file = vd_model_file_load(path, own);
        if (file == NULL) {
            vd_findings_free(*findings);
            *findings = own;
            g_free(path);
            return NULL;
        }
        const char *key = vd_model_file_model(file)->key;
        if (!by_path && strcmp(key, name) != 0) {
            vd_fault fault = {0};
            vd_note_WRONG_SHAPE(&fault, key, "the name of the file, without .yaml, as the model's key");
            vd_findings_add(own, 0, 0, &fault);
            vd_findings_free(*findings);
            *findings = own;
            vd_model_file_free(file);
            g_free(path);
            return NULL;
        }
        vd_findings_free(own);
        g_hash_table_insert(catalogue->files, g_strdup(path), file);
    }
    g_free(path);
    return vd_model_file_model(file);
}
