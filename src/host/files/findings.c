/* SPDX-License-Identifier: MIT
 * What was found wrong with a file, and what was probably meant instead. */
#include "verdite/host.h"

#include <string.h>

vd_findings *vd_findings_new(const char *path)
{
    vd_findings *findings = g_new0(vd_findings, 1);
    findings->path = g_strdup(path);
    findings->list = g_array_new(FALSE, TRUE, sizeof(vd_finding));
    return findings;
}

static void free_setting(const vd_setting *setting)
{
    if (setting != NULL) {
        g_free((char *)setting->words->key);
        g_free((vd_setting_words *)setting->words);
        g_free((vd_setting *)setting);
    }
}

/* What is found outlives the model that it is about, so the setting to blame is kept by its key alone. */
static const vd_setting *copy_setting(const vd_setting *setting)
{
    vd_setting *copy = setting != NULL ? g_new0(vd_setting, 1) : NULL;
    if (copy != NULL) {
        vd_setting_words *words = g_new0(vd_setting_words, 1);
        words->key = g_strdup(setting->words->key);
        copy->words = words;
    }
    return copy;
}

void vd_findings_free(vd_findings *findings)
{
    if (findings != NULL) {
        for (guint i = 0; i < findings->list->len; i++) {
            free_setting(g_array_index(findings->list, vd_finding, i).fault.setting);
        }
        g_array_free(findings->list, TRUE);
        g_free(findings->path);
        g_free(findings);
    }
}

#define MOST_FINDINGS 1000u /* more than anybody mends in one go */

/* One thing is told of each place: what is written once for many items is found wrong in each, and what is wrong in one
 * way seems wrong in others. */
static bool said_already(const vd_findings *findings, const vd_finding *finding)
{
    for (guint i = findings->list->len; i > 0 && finding->line > 0; i--) {
        const vd_finding *before = &g_array_index(findings->list, vd_finding, i - 1);
        if (before->line == finding->line && before->column == finding->column) {
            return true;
        }
    }
    return false;
}

void vd_findings_add(vd_findings *findings, unsigned line, unsigned column, const vd_fault *fault)
{
    vd_finding finding = {line, column, *fault};
    if (findings->list->len >= MOST_FINDINGS || said_already(findings, &finding)) {
        return;
    }
    finding.fault.setting = copy_setting(fault->setting);
    guint at = findings->list->len;
    while (at > 0) {
        const vd_finding *before = &g_array_index(findings->list, vd_finding, at - 1);
        if (before->line < line || (before->line == line && before->column <= column)) {
            break;
        }
        at--;
    }
    g_array_insert_val(findings->list, at, finding);
}

bool vd_findings_any_wrong(const vd_findings *findings)
{
    for (guint i = 0; i < findings->list->len; i++) {
        const vd_finding *finding = &g_array_index(findings->list, vd_finding, i);
        if (vd_status_class(finding->fault.status) > VD_CLASS_PARTLY) {
            return true;
        }
    }
    return false;
}

/* Edits (insert, drop, change, swap neighbours) that lead from one word to the other. */
static unsigned distance(const char *a, const char *b)
{
    size_t m = strlen(a), n = strlen(b);
    if (m > 64 || n > 64) {
        return 1000;
    }
    unsigned rows[3][66];
    for (size_t k = 0; k <= n; k++) {
        rows[1][k] = (unsigned)k;
    }
    for (size_t i = 1; i <= m; i++) {
        unsigned *now = rows[(i + 1) % 3], *before = rows[i % 3], *older = rows[(i + 2) % 3];
        now[0] = (unsigned)i;
        for (size_t k = 1; k <= n; k++) {
            unsigned change = before[k - 1] + (g_ascii_tolower(a[i - 1]) != g_ascii_tolower(b[k - 1]));
            unsigned edit = MIN(before[k], now[k - 1]) + 1;
            now[k] = MIN(change, edit);
            if (i > 1 && k > 1 && a[i - 1] == b[k - 2] && a[i - 2] == b[k - 1]) {
                now[k] = MIN(now[k], older[k - 2] + 1);
            }
        }
    }
    return rows[(m + 1) % 3][n];
}

char *vd_suggest(const char *typed, size_t count, const char *(*word_at)(const void *about, size_t i),
                 const void *about)
{
    const char *nearest = NULL;
    unsigned best = (unsigned)strlen(typed) / 3 + 2;
    for (size_t i = 0; i < count; i++) {
        const char *word = word_at(about, i);
        const char *tail = strrchr(word, '.');
        unsigned whole = distance(typed, word);
        /* "low-limit" is near to "weight.low-limit" as well, but not as near as a slip of the finger. */
        unsigned part = tail != NULL ? distance(typed, tail + 1) + 1 : whole;
        if (MIN(whole, part) < best) {
            best = MIN(whole, part);
            nearest = word;
        }
    }
    if (nearest != NULL) {
        return g_strdup_printf("Do you mean %s?", nearest);
    }
    if (count > 12) {
        return g_strdup("No similar name was found.");
    }
    GString *all = g_string_new("Choose one of: ");
    for (size_t i = 0; i < count; i++) {
        g_string_append_printf(all, "%s%s", i == 0 ? "" : ", ", word_at(about, i));
    }
    g_string_append_c(all, '.');
    return g_string_free(all, FALSE);
}
