/* SPDX-License-Identifier: MIT
 * Files that were read from a unit, edited, and never sent to it: told where that unit is met, or looked back at. */
#include "act.h"
#include "../print/print.h"

#include <string.h>

#define MOST_FILES 20u
#define LOOK_BACK 20u /* visits */

/* What the unit held when a visit last knew all of it. */
static bool last_known(cli *c, const vd_saved *saved, vd_set *before, vd_set *after)
{
    const vd_past_query query = {.model = saved->model, .serial = saved->serial};
    vd_past *past = g_new(vd_past, LOOK_BACK);
    size_t count = vd_history_find(remembered(c), &query, past, LOOK_BACK);
    bool any = false;
    for (size_t i = count; i-- > 0;) { /* the later ones count before the earlier */
        if (past[i].ended != 0) {
            vd_history_values(remembered(c), past[i].id, before, NULL, after, NULL);
            any = true;
        }
    }
    g_free(past);
    return any;
}

static void tell(cli *c, const vd_saved *saved, const vd_profile *profile)
{
    const vd_model *model = vd_profile_model(profile);
    const vd_set *values = vd_profile_values(profile);
    size_t size = vd_set_size(model);
    char *memory = g_malloc0(2 * size);
    vd_set before, after;
    GPtrArray *names = g_ptr_array_new();
    vd_set_start(&before, model, memory, size);
    vd_set_start(&after, model, memory + size, size);
    bool known = last_known(c, saved, &before, &after);
    for (uint16_t i = 0; i < model->setting_count && known; i++) {
        if (model->settings[i].access != VD_READ_ONLY && vd_set_compare(values, &after, i) == VD_DIFFERENT) {
            g_ptr_array_add(names, (gpointer)model->settings[i].words->key);
        }
    }
    if (names->len > 0) {
        char *words = names_words(c, names);
        message(c, "note: %s was read from %s and edited since: %s. To send it: verdite write %s", saved->path,
                saved->serial, words, saved->path);
        g_free(words);
    }
    g_ptr_array_free(names, TRUE);
    g_free(memory);
}

char *file_print(const char *path)
{
    char *text = NULL;
    gsize length = 0;
    bool there = g_file_test(path, G_FILE_TEST_IS_REGULAR) && g_file_get_contents(path, &text, &length, NULL);
    char *print = there ? g_compute_checksum_for_data(G_CHECKSUM_SHA256, (const guchar *)text, length) : g_strdup("");
    if (there) { /* a secret may be in it */
        vd_wipe(text, length);
    }
    g_free(text);
    return print;
}

void unsent_remember(cli *c, const char *path, const vd_model *model, const vd_identity *unit)
{
    vd_saved saved = {.path = ""};
    char *whole = g_canonicalize_filename(path, NULL), *print = file_print(path);
    g_strlcpy(saved.print, print, sizeof saved.print);
    g_strlcpy(saved.path, whole, sizeof saved.path);
    g_strlcpy(saved.model, model->key, sizeof saved.model);
    g_strlcpy(saved.serial, unit->serial, sizeof saved.serial);
    if (unit->serial[0] != '\0' && strlen(whole) < sizeof saved.path && print[0] != '\0') {
        vd_saved_remember(remembered(c), &saved);
    }
    g_free(print);
    g_free(whole);
}

void unsent_tell(cli *c, const char *model, const char *serial, const char *but)
{
    char *left = but != NULL ? g_canonicalize_filename(but, NULL) : g_strdup("");
    vd_saved *saved = g_new0(vd_saved, MOST_FILES);
    size_t count = vd_saved_of(remembered(c), model, serial, saved, MOST_FILES);
    for (size_t i = 0; i < count; i++) {
        vd_findings *findings = vd_findings_new(saved[i].path);
        char *now = file_print(saved[i].path);
        bool there = strcmp(left, saved[i].path) != 0 && now[0] != '\0' && strcmp(now, saved[i].print) != 0;
        vd_profile *profile = there ? vd_profile_load(saved[i].path, c->catalogue, findings) : NULL;
        const vd_identity *unit = profile != NULL ? vd_profile_unit(profile) : NULL;
        if (unit != NULL && strcmp(vd_profile_model(profile)->key, saved[i].model) == 0 &&
            strcmp(unit->serial, saved[i].serial) == 0) { /* else another one has that name by now */
            tell(c, &saved[i], profile);
        }
        vd_profile_free(profile);
        vd_findings_free(findings);
        g_free(now);
    }
    g_free(saved);
    g_free(left);
}
