/* SPDX-License-Identifier: MIT
 * What the unit shall hold: each change goes into a file, which then is written. */
#include "guide.h"
#include "verdite/items.h"
#include "../words/words.h"

#include <string.h>

/* A change that this unit would take: what it holds by now. "" where none comes to mind. Free it. */
static char *example(const guide *g)
{
    const json_t *row = NULL;
    size_t i = 0;
    json_array_foreach(json_object_get(g->held, "settings"), i, row)
    {
        const char *key = json_string_value(json_object_get(row, "key"));
        const char *value = json_string_value(json_object_get(json_object_get(row, "live"), "value"));
        uint16_t setting = key != NULL ? vd_model_find(g->unit->model, key) : VD_NONE;
        const vd_setting *about = setting != VD_NONE ? &g->unit->model->settings[setting] : NULL;
        if (about != NULL && about->essential && about->access != VD_READ_ONLY && !about->secret &&
            !vd_setting_is_own(about) && !vd_role_is_link(about->role) && value != NULL && value[0] != '\0') {
            return g_strdup_printf(" such as %s=%s", key, value);
        }
    }
    return g_strdup("");
}

/* KEY=VALUE, where it was typed with blanks around the sign, or with one instead. NULL: it is no change. Free it. */
static char *change_of(const vd_model *model, const char *typed)
{
    const char *equals = strchr(typed, '='), *blank = strrchr(typed, ' ');
    char *key = g_strstrip(g_strndup(typed, equals != NULL ? (size_t)(equals - typed) : 0));
    char *change = equals != NULL ? g_strdup_printf("%s=%s", key, equals + 1 + strspn(equals + 1, " ")) : NULL;
    g_free(key);
    /* The name of a setting may have blanks in it, and so may a value: the longest name counts. */
    for (; equals == NULL && change == NULL && blank != NULL && meant_setting(model, typed) == VD_NONE;) {
        key = g_strndup(typed, (size_t)(blank - typed));
        change = meant_setting(model, key) != VD_NONE ? g_strdup_printf("%s=%s", key, blank + 1) : NULL;
        blank = change == NULL ? g_strrstr_len(typed, blank - typed, " ") : blank;
        g_free(key);
    }
    return change;
}

/* A name for the file of the unit that no other file has. Free it. */
static char *free_name(const char *stem)
{
    char *name = g_strdup_printf("%s.yaml", stem);
    for (unsigned i = 2; g_file_test(name, G_FILE_TEST_EXISTS); i++) {
        g_free(name);
        name = g_strdup_printf("%s-%u.yaml", stem, i);
    }
    return name;
}

/* Has the file of the unit in hand; one that is there already, or what it holds by now. False: it cannot be had, which
 * was told. */
static bool has_file(guide *g)
{
    const guide_unit *unit = g->unit;
    char *stem =
        unit->serial[0] != '\0' ? g_strdup(unit->serial) : g_strdup_printf("%s-%u", unit->model->key, unit->address);
    g_strcanon(stem, "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_.", '_');
    char *usual = g_strdup_printf("%s.yaml", stem),
         *question = g_strdup_printf("%s is here already. Change that file?", usual);
    bool has = g_file_test(usual, G_FILE_TEST_EXISTS) && guide_agrees(g, question);
    char *name = has ? g_strdup(usual) : free_name(stem);
    has = has || (!g->left && guide_does(g, true, NULL, GUIDE_WORDS("read", "--save", name)) <= VD_CLASS_PARTLY);
    if (has) {
        g_free(g->file);
        g->file = g_strdup(name);
        g->offered = true;
    }
    g_free(name);
    g_free(question);
    g_free(usual);
    g_free(stem);
    return has;
}

/* Has a command change the file in hand: `what` is a change or a table. */
static void put(guide *g, const char *command, const char *what)
{
    bool had = g->file != NULL || has_file(g);
    if (had && guide_does(g, false, NULL, GUIDE_WORDS(command, g->file, what)) <= VD_CLASS_PARTLY) {
        g->edited = g->unsent = true;
    }
}

/* Whether a file is a table of what repeats in this unit: else it is a roster. */
static bool is_table(const vd_model *model, const char *path)
{
    char head[80] = "";
    FILE *file = fopen(path, "re");
    size_t length = file != NULL ? fread(head, 1, sizeof head - 1, file) : 0;
    if (file != NULL) {
        fclose(file);
    }
    const char *first = head + (g_str_has_prefix(head, "\xEF\xBB\xBF") ? 3 : 0);
    head[MIN(length, (size_t)(first - head) + strcspn(first, ",;\r\n"))] = '\0';
    return vd_items_block(model, first) != VD_NONE;
}

static void take_file(guide *g, const char *path)
{
    if (guide_does(g, false, NULL, GUIDE_WORDS("check", path)) <= VD_CLASS_PARTLY) {
        g_free(g->file);
        g->file = g_strdup(path);
        g->edited = g->said_all = g->offered = true;
    }
}

/* What was typed is no change: a file, or a setting that is asked about. */
static void take_word(guide *g, const char *word)
{
    uint16_t setting = meant_setting(g->unit->model, word);
    if (setting != VD_NONE && g->unit->model->settings[setting].secret) {
        put(g, "set", g->unit->model->settings[setting].words->key);
    } else if (setting == VD_NONE && g_str_has_suffix(word, ".yaml")) {
        take_file(g, word);
    } else if (setting == VD_NONE && g_str_has_suffix(word, ".csv") && is_table(g->unit->model, word)) {
        put(g, "fill", word);
    } else if (setting == VD_NONE && g_str_has_suffix(word, ".csv")) {
        guide_does(g, false, NULL, GUIDE_WORDS("round", word, g->file));
        g->done = true;
    } else {
        guide_does(g, false, NULL, GUIDE_WORDS("model", g->unit->model->key, word));
    }
}

void guide_edits(guide *g)
{
    char *such = example(g);
    char *hint = g_strdup_printf("Give a change%s, or a file. A key alone is explained. Enter: nothing.", such);
    char *typed = g->edited ? guide_asks(g, "Enter: nothing more.", "What else do you want to change?")
                            : guide_asks(g, hint, "What do you want to change?");
    char *change = typed != NULL ? change_of(g->unit->model, typed) : NULL;
    if (change != NULL) {
        put(g, "set", change);
    } else if (typed != NULL && typed[0] != '\0') {
        take_word(g, typed);
    } else {
        g->said_all = true;
    }
    g_free(change);
    g_free(typed);
    g_free(hint);
    g_free(such);
}
