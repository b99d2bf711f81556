/* SPDX-License-Identifier: MIT
 * Settings by name: as many as are read at a glance, and why they are not in use. */
#include "print.h"

#include <string.h>

#define MOST_NAMES 8u  /* up to so many are named */
#define FIRST_NAMES 5u /* of more only the first */

char *names_words(const cli *c, const GPtrArray *names)
{
    GString *words = g_string_new("");
    guint shown = names->len > MOST_NAMES && !c->options.explain ? FIRST_NAMES : names->len;
    for (guint i = 0; i < shown; i++) {
        g_string_append_printf(words, "%s%s", i > 0 ? ", " : "", (const char *)names->pdata[i]);
    }
    if (shown < names->len) {
        g_string_append_printf(words, " and %u more", names->len - shown);
    }
    return g_string_free(words, FALSE);
}

static const char *reason_of(const vd_model *model, const char *key)
{
    const char *because = model->settings[vd_model_find(model, key)].words->because;
    return because != NULL ? because : "";
}

/* Those from the i-th on that have the same reason; none where an earlier one told it. */
static GPtrArray *alike(const vd_model *model, const GPtrArray *names, guint i)
{
    const char *reason = reason_of(model, names->pdata[i]);
    GPtrArray *same = g_ptr_array_new();
    for (guint k = 0; k < names->len; k++) {
        bool is = g_str_equal(reason, reason_of(model, names->pdata[k]));
        if (is && k < i) {
            break;
        }
        if (is) {
            g_ptr_array_add(same, names->pdata[k]);
        }
    }
    return same;
}

char *names_by_reason(const cli *c, const vd_model *model, const GPtrArray *names, const char *lead)
{
    GString *text = g_string_new("");
    for (guint i = 0; i < names->len; i++) {
        GPtrArray *same = alike(model, names, i);
        const char *reason = reason_of(model, names->pdata[i]);
        char *keys = names_words(c, same);
        if (same->len > 0) {
            g_string_append_printf(text, "%s%s: %s.%s%s", text->len > 0 ? "\n" : "", lead, keys,
                                   reason[0] != '\0' ? " " : "", reason);
        }
        g_free(keys);
        g_ptr_array_free(same, TRUE);
    }
    return g_string_free(text, FALSE);
}

char *reasons_not_here(const cli *c, const vd_set *here, const uint8_t *which)
{
    GPtrArray *names = g_ptr_array_new();
    for (uint16_t i = 0; i < here->model->setting_count; i++) {
        if ((which == NULL || which[i] != 0) && vd_set_exists(here, i) == VD_FAILS) {
            g_ptr_array_add(names, (char *)here->model->settings[i].words->key);
        }
    }
    char *text = names_by_reason(c, here->model, names, "Unused");
    g_ptr_array_free(names, TRUE);
    return text;
}

bool names_alike(const char *shown, const char *typed)
{
    char *a = g_utf8_casefold(shown, -1), *b = g_utf8_casefold(typed, -1);
    g_strdelimit(a, "-_", ' ');
    g_strdelimit(b, "-_", ' ');
    bool same = a[0] != '\0' && strcmp(a, b) == 0;
    g_free(a);
    g_free(b);
    return same;
}

bool changes_are_news(changes_shown *shown, const char *line)
{
    return shown == NULL || shown->told == NULL || g_hash_table_add(shown->told, g_strdup(line));
}

uint16_t names_only(size_t count, bool (*is)(const void *about, size_t i, const char *typed), const void *about,
                    const char *typed)
{
    uint16_t found = VD_NONE;
    for (size_t i = 0; i < count; i++) {
        if (is(about, i, typed) && found != VD_NONE) {
            return VD_NONE;
        }
        found = is(about, i, typed) ? (uint16_t)i : found;
    }
    return found;
}
