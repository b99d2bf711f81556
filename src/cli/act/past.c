/* SPDX-License-Identifier: MIT
 * Visits of before: named by a person, and as profiles. */
#include <string.h>

#include "act.h"
#include "../print/print.h"
#include "../words/words.h"

/* Milliseconds since 1970 of a day, or a day and a time, on the clock on the wall; -1: it is neither. */
static int64_t time_of(const char *word)
{
    GTimeZone *here = g_time_zone_new_local();
    bool day = strlen(word) == 10;
    char *whole = day ? g_strconcat(word, "T00:00:00", NULL)
                      : g_strdup_printf("%.10sT%.5s:00", word, strlen(word) >= 16 ? word + 11 : "");
    GDateTime *when = g_date_time_new_from_iso8601(whole, here);
    int64_t milliseconds = when != NULL && (day || strlen(word) == 16) ? g_date_time_to_unix(when) * 1000 : -1;
    g_clear_pointer(&when, g_date_time_unref);
    g_free(whole);
    g_time_zone_unref(here);
    return milliseconds;
}

bool past_named(cli *c, const char *word, const char *model, const char *serial, vd_past *past)
{
    const char *number = g_str_has_prefix(word, "visit:") ? word + 6 : word;
    vd_past_query query = {.model = model, .serial = serial, .writes = true};
    guint64 id = 0;
    if (!remembers(c)) {
        return false;
    }
    if (g_ascii_string_to_unsigned(number, 10, 1, G_MAXINT64, &id, NULL)) {
        query = (vd_past_query){.id = (int64_t)id};
    } else {
        query.since = time_of(word);
    }
    vd_past *found = g_new(vd_past, 200);
    size_t count = query.since >= 0 ? vd_history_find(remembered(c), &query, found, 200) : 0;
    while (query.since > 0 && count > 1 && strcmp(found[count - 1].task, "raw") == 0) { /* its state is not recorded */
        count--;
    }
    if (count > 0) {
        *past = found[count - 1]; /* the first of those from then on */
    }
    g_free(found);
    bool fits = count > 0 && (model == NULL || strcmp(model, past->model) == 0) &&
                (serial == NULL || strcmp(serial, past->unit.serial) == 0);
    if (!fits) {
        char *said = g_strdup_printf("Visit %s", word);
        report_new(c, vd_fault_of_NO_SUCH_VISIT(
                          said, query.since < 0 ? "Give its number, a day such as 2026-11-26, or a time such as "
                                                  "2026-11-26T14:03. All visits: verdite history"
                                                : "All visits: verdite history"));
        g_free(said);
    }
    return fits;
}

vd_profile *past_profile(cli *c, const vd_past *past, bool before)
{
    const vd_model *model = choose_model_named(c, past->model);
    if (model == NULL) {
        return NULL;
    }
    size_t size = vd_set_size(model);
    void *memory = g_malloc0(2 * size);
    vd_set was, is;
    vd_set_start(&was, model, memory, size);
    vd_set_start(&is, model, (char *)memory + size, size);
    vd_history_values(remembered(c), past->id, &was, NULL, &is, NULL);
    GDateTime *when = g_date_time_new_from_unix_utc((before || past->ended == 0 ? past->began : past->ended) / 1000);
    char *stamp = when != NULL ? g_date_time_format(when, "%Y-%m-%dT%H:%M:%SZ") : g_strdup("");
    char *text = vd_profile_compose(model, before ? &was : &is, &past->unit, stamp);
    vd_findings *findings = vd_findings_new("the visit");
    vd_profile *profile = vd_profile_parse(text, strlen(text), c->catalogue, findings);
    if (profile == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    g_clear_pointer(&when, g_date_time_unref);
    g_free(stamp);
    g_free(text);
    vd_wipe(memory, 2 * size);
    g_free(memory);
    return profile;
}
