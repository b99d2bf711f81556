/* SPDX-License-Identifier: MIT
 * The folders of models. */
#include "catalogue.h"
#include "verdite/text.h"

#include <dlfcn.h>
#include <string.h>

struct vd_catalogue {
    char **folders; /* in the order in which they are looked through */
    char *folders_text, *index;
    char **keys;
    GHashTable *files;         /* of vd_model_file, by path */
    const vd_model *preferred; /* named by its file; NULL: none */
    GPtrArray *models;         /* of vd_model, NULL-terminated; NULL: not loaded yet */
    GPtrArray *set_aside;      /* of vd_findings */
    bool told;                 /* they are there, as the index has them */
};

/* The folder of models beside a program or a shared library; NULL: there is none. Free it. */
static char *beside(const char *file)
{
    static const char *const ways[] = {"..", "../.."}; /* from bin or lib, and from a folder in lib for one machine */
    char *folder = file != NULL ? g_path_get_dirname(file) : NULL, *found = NULL;
    for (size_t i = 0; folder != NULL && found == NULL && i < G_N_ELEMENTS(ways); i++) {
        found = g_build_filename(folder, ways[i], "share", "verdite", "models", NULL);
        if (!g_file_test(found, G_FILE_TEST_IS_DIR)) {
            g_clear_pointer(&found, g_free);
        }
    }
    g_free(folder);
    return found;
}

/* In a program that links this statically by the CMake package, where the models are; elsewhere there is none. */
extern const char vd_models_folder[] __attribute__((weak, visibility("default")));

/* The models that came with Verdite: beside the program, beside the shared library, where the package that it was built
 * with is, or where all were to be installed. */
static char *shipped_folder(void)
{
    static const char mark;
    Dl_info library = {0};
    char *program = g_file_read_link("/proc/self/exe", NULL), *found = beside(program);
    if (found == NULL && dladdr(&mark, &library) != 0) {
        found = beside(library.dli_fname);
    }
    g_free(program);
    const char *folder = vd_models_folder;
    return found != NULL ? found : g_strdup(folder != NULL ? folder : VD_INSTALLED_MODELS);
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
    catalogue->set_aside = g_ptr_array_new_with_free_func((GDestroyNotify)vd_findings_free);
    catalogue->files = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, (GDestroyNotify)vd_model_file_free);
    return catalogue;
}

void vd_catalogue_free(vd_catalogue *catalogue)
{
    if (catalogue != NULL) {
        g_hash_table_destroy(catalogue->files);
        g_clear_pointer(&catalogue->models, g_ptr_array_unref);
        g_ptr_array_unref(catalogue->set_aside);
        g_strfreev(catalogue->keys);
        g_strfreev(catalogue->folders);
        g_free(catalogue->folders_text);
        g_free(catalogue->index);
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

static void set_aside(vd_catalogue *catalogue, const char *path, vd_fault fault)
{
    vd_findings *findings = vd_findings_new(path);
    vd_findings_add(findings, 0, 0, &fault);
    g_ptr_array_add(catalogue->set_aside, findings);
}

/* What a name in a folder of models is called where it is shown: whoever put it there chose it. */
static char *shown_path(const char *folder, const char *name)
{
    char *valid = g_utf8_make_valid(name, -1), *path = NULL;
    for (size_t at = vd_text_line(valid, strlen(valid)); valid[at] != '\0'; at = vd_text_line(valid, strlen(valid))) {
        valid[at] = '?';
    }
    path = g_build_filename(folder, valid, NULL);
    g_free(valid);
    return path;
}

static void collect_keys(vd_catalogue *catalogue, const char *path, GPtrArray *keys)
{
    GDir *folder = g_dir_open(path, 0, NULL);
    const char *name = NULL;
    while (folder != NULL && (name = g_dir_read_name(folder)) != NULL) {
        char *key = g_str_has_suffix(name, ".yaml") ? g_strndup(name, strlen(name) - strlen(".yaml")) : NULL;
        if (key != NULL && key[0] != '.' && !vd_text_is_key(key)) {
            char *shown = shown_path(path, name);
            set_aside(catalogue, shown, vd_fault_of_NOT_A_KEY(shown + strlen(path) + 1));
            g_free(shown);
        }
        bool known = key == NULL || !vd_text_is_key(key);
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
            collect_keys(catalogue, *folder, keys);
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
    vd_status status = known[0] != '\0' ? vd_note_NO_SUCH_MODEL(&fault, name, known)
                                        : vd_note_NO_MODEL_AT_ALL(&fault, catalogue->folders_text);
    vd_findings_add(findings, 0, 0, &fault);
    g_free(known);
    return status;
}

/* Whether a key is that of the model that somebody named by its file; no other file counts for it then, and a file that
 * was read for something else, such as a bench's, is not taken for it. */
static bool is_preferred(const vd_catalogue *catalogue, const char *key)
{
    return catalogue->preferred != NULL && strcmp(catalogue->preferred->key, key) == 0;
}

const vd_model *vd_catalogue_prefer(vd_catalogue *catalogue, const char *path, vd_findings **findings)
{
    catalogue->preferred = vd_catalogue_model(catalogue, path, findings);
    return catalogue->preferred;
}

const vd_model *vd_catalogue_model_beside(vd_catalogue *catalogue, const char *key, const char *folder,
                                          vd_findings **findings)
{
    bool listed =
        !vd_text_is_key(key) || g_strv_contains(vd_catalogue_keys(catalogue), key) || is_preferred(catalogue, key);
    const char *const folders[] = {folder, "."};
    for (size_t i = 0; i < G_N_ELEMENTS(folders) && !listed; i++) {
        char *path = g_strdup_printf("%s/%s.yaml", folders[i], key);
        if (vd_is_model_file(path)) {
            const vd_model *model = vd_catalogue_model(catalogue, path, findings);
            g_free(path);
            return model;
        }
        g_free(path);
    }
    return vd_catalogue_model(catalogue, key, findings);
}

const vd_model *vd_catalogue_model(vd_catalogue *catalogue, const char *name, vd_findings **findings)
{
    bool by_path = g_str_has_suffix(name, ".yaml");
    if (!by_path && is_preferred(catalogue, name)) {
        return catalogue->preferred;
    }
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

/* ---- All that are sound ---- */

/* The product names that a model's units bear: its own, then its variants'. */
static const char *product_of(const vd_model *model, unsigned i)
{
    return i > 0 ? model->variants[i - 1].product : model->identify.product;
}

static bool same_identity(const vd_model *a, const vd_model *b)
{
    bool same = false;
    for (unsigned i = 0; i <= a->variant_count; i++) {
        for (unsigned k = 0; k <= b->variant_count; k++) {
            same = same || strcmp(product_of(a, i), product_of(b, k)) == 0;
        }
    }
    return same && a->language == b->language && strcmp(a->identify.maker, b->identify.maker) == 0;
}

/* In the order of the folders: the user's own model counts, not the one that came with the program. */
static int by_folder(const void *a, const void *b, void *about)
{
    const vd_catalogue *catalogue = about;
    int place[2] = {0, 0};
    const vd_model *models[2] = {*(const vd_model *const *)a, *(const vd_model *const *)b};
    for (int i = 0; i < 2; i++) {
        char *path = path_of(catalogue, models[i]->key);
        while (catalogue->folders[place[i]] != NULL && !g_str_has_prefix(path, catalogue->folders[place[i]])) {
            place[i]++;
        }
        g_free(path);
    }
    return place[0] != place[1] ? place[0] - place[1] : strcmp(models[0]->key, models[1]->key);
}

static int by_key(const void *a, const void *b)
{
    return strcmp((*(const vd_model *const *)a)->key, (*(const vd_model *const *)b)->key);
}

#define TWIN "twin:"

/* What the index is about; the paths are to be freed. */
static catalogue_files files_of(vd_catalogue *catalogue)
{
    const char *const *keys = vd_catalogue_keys(catalogue);
    guint count = g_strv_length((char **)keys);
    catalogue_files files = {catalogue->folders_text, keys, g_new0(char *, count + 1u)};
    for (guint i = 0; i < count; i++) {
        files.paths[i] = path_of(catalogue, keys[i]);
    }
    return files;
}

static void set_twin_aside(vd_catalogue *catalogue, const char *key, const char *first)
{
    char *path = path_of(catalogue, key);
    set_aside(catalogue, path, vd_fault_of_SAME_IDENTITY(key, first));
    g_free(path);
}

static guint place_of(const char *const *keys, const char *key)
{
    guint i = 0;
    while (strcmp(keys[i], key) != 0) {
        i++;
    }
    return i;
}

/* Of two that say who they are in the same words the first is kept. */
static void leave_out_twins(vd_catalogue *catalogue, GPtrArray *states)
{
    const char *const *keys = vd_catalogue_keys(catalogue);
    for (guint i = 0; i < catalogue->models->len; i++) {
        for (guint k = i + 1; k < catalogue->models->len; k++) {
            const vd_model *first = catalogue->models->pdata[i], *second = catalogue->models->pdata[k];
            if (!same_identity(first, second)) {
                continue;
            }
            guint place = place_of(keys, second->key);
            if (!catalogue->told) {
                set_twin_aside(catalogue, second->key, first->key);
            }
            g_free(states->pdata[place]);
            states->pdata[place] = g_strconcat(TWIN, first->key, NULL);
            g_ptr_array_remove_index(catalogue->models, k--);
        }
    }
}

static void load_all(vd_catalogue *catalogue)
{
    const char *const *keys = vd_catalogue_keys(catalogue);
    GPtrArray *states = g_ptr_array_new_with_free_func(g_free); /* what becomes of each, for the index */
    catalogue->models = g_ptr_array_new();
    for (size_t i = 0; keys[i] != NULL; i++) {
        vd_findings *findings = vd_findings_new("");
        const vd_model *model = vd_catalogue_model(catalogue, keys[i], &findings);
        if (model != NULL) {
            g_ptr_array_add(catalogue->models, (gpointer)model);
            vd_findings_free(findings);
        } else if (!catalogue->told) {
            g_ptr_array_add(catalogue->set_aside, findings);
        } else {
            vd_findings_free(findings);
        }
        g_ptr_array_add(states, g_strdup(model != NULL ? "good" : "broken"));
    }
    g_ptr_array_sort_with_data(catalogue->models, by_folder, catalogue);
    leave_out_twins(catalogue, states);
    g_ptr_array_sort(catalogue->models, by_key);
    g_ptr_array_add(catalogue->models, NULL);
    if (catalogue->index != NULL && catalogue->preferred == NULL) {
        catalogue_files files = files_of(catalogue);
        catalogue_write_index(catalogue->index, &files, (char *const *)states->pdata);
        g_strfreev(files.paths);
    }
    g_ptr_array_unref(states);
}

void vd_catalogue_keep_index(vd_catalogue *catalogue, const char *path)
{
    g_free(catalogue->index);
    catalogue->index = g_strdup(path);
}

bool vd_catalogue_is_as_before(vd_catalogue *catalogue)
{
    const char *const *keys = vd_catalogue_keys(catalogue);
    if (catalogue->index == NULL || catalogue->preferred != NULL || catalogue->models != NULL || catalogue->told) {
        return catalogue->told;
    }
    catalogue_files files = files_of(catalogue);
    char **states = catalogue_read_index(catalogue->index, &files);
    g_strfreev(files.paths);
    for (size_t i = 0; states != NULL && keys[i] != NULL; i++) {
        vd_findings *findings = vd_findings_new("");
        bool broken = strcmp(states[i], "broken") == 0;
        if (broken && vd_catalogue_model(catalogue, keys[i], &findings) == NULL) { /* it is named anew each time */
            g_ptr_array_add(catalogue->set_aside, g_steal_pointer(&findings));
        } else if (g_str_has_prefix(states[i], TWIN)) {
            set_twin_aside(catalogue, keys[i], states[i] + strlen(TWIN));
        }
        vd_findings_free(findings);
    }
    catalogue->told = states != NULL;
    g_strfreev(states);
    return catalogue->told;
}

const vd_model *const *vd_catalogue_models(vd_catalogue *catalogue)
{
    if (catalogue->models == NULL) {
        load_all(catalogue);
    }
    return (const vd_model *const *)catalogue->models->pdata;
}

const vd_findings *vd_catalogue_set_aside(const vd_catalogue *catalogue, size_t i)
{
    return i < catalogue->set_aside->len ? catalogue->set_aside->pdata[i] : NULL;
}
