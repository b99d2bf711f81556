/* SPDX-License-Identifier: MIT
 * What a command looks at by one word: a unit, the factory defaults of a model, or a file. */
#include "act.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

static bool is_model(const cli *c, const char *word)
{
    return g_strv_contains(vd_catalogue_keys(c->catalogue), word) || vd_is_model_file(word);
}

/* A unit of a roster by its serial number, code or name, as "ROSTER.csv:QD-30001"; with a profile behind that where its
 * row names none. */
static bool choose_row(cli *c, side *s, const vd_model **model)
{
    char *path = g_strndup(s->name, (gsize)(strstr(s->name, ".csv:") - s->name) + 4);
    char **words = g_strsplit(strstr(s->name, ".csv:") + 5, ":", 2);
    vd_findings *findings = vd_findings_new(path);
    bool found = false;
    s->roster = choose_roster(c, path, words[0] != NULL ? words[1] : NULL, &s->profile_of_rows, findings);
    for (size_t i = 0; s->roster != NULL && words[0] != NULL && i < vd_roster_count(s->roster) && !found; i++) {
        vd_roster_unit row = vd_roster_at(s->roster, i);
        found = strcmp(row.serial, words[0]) == 0 || strcmp(row.code, words[0]) == 0 || strcmp(row.name, words[0]) == 0;
        found = found && row.model != NULL;
        s->row = i;
    }
    if (s->roster != NULL && !found) {
        char *said = g_strdup_printf("%s has no sound row for \"%s\".", path, words[0] != NULL ? words[0] : "");
        report_wrong_words(
            c, said,
            "Give a serial number, a code or a name: ROSTER.csv:QD-30001, or ROSTER.csv:QD-30001:PROFILE.yaml");
        g_free(said);
    }
    const vd_model *own = found ? vd_roster_at(s->roster, s->row).model : NULL;
    if (found && *model != NULL && *model != own) {
        report_new(c, vd_fault_of_FILE_OF_OTHER_MODEL(own->key, (*model)->key));
        found = false;
    }
    *model = found ? own : *model;
    vd_findings_free(findings);
    g_strfreev(words);
    g_free(path);
    return found;
}

bool side_choose(cli *c, side *s, const vd_model **model)
{
    const vd_model *own = NULL;
    s->factory = strcmp(s->name, "factory") == 0;
    if (s->factory || strcmp(s->name, "unit") == 0) {
        return true;
    }
    if (strstr(s->name, ".csv:") != NULL) {
        return choose_row(c, s, model);
    }
    s->factory = is_model(c, s->name);
    if (s->factory) {
        own = choose_model_named(c, s->name);
    } else {
        s->profile = choose_profile(c, s->name);
        own = s->profile != NULL ? vd_profile_model(s->profile) : NULL;
    }
    if (own == NULL) {
        return false;
    }
    if (*model != NULL && *model != own) {
        report_new(c, vd_fault_of_FILE_OF_OTHER_MODEL(own->key, (*model)->key));
        return false;
    }
    *model = own;
    return true;
}

bool side_fill(cli *c, side *s, const vd_model *model, visit *v)
{
    s->memory = g_malloc0(vd_set_size(model));
    vd_set_start(&s->set, model, s->memory, vd_set_size(model));
    if (s->roster != NULL) {
        vd_roster_fill(s->roster, s->row, &s->set);
        return true;
    }
    if (s->profile != NULL) {
        const vd_set *values = vd_profile_values(s->profile);
        s->set.variant = values->variant;
        s->set.firmware = values->firmware;
        vd_set_overlay(&s->set, values);
        return true;
    }
    if (s->factory) {
        bool fine = choose_kind(c, model, &s->set.variant, &s->set.firmware);
        vd_set_put_initial(&s->set);
        return fine;
    }
    const visit_task task = {.task = VD_TASK_READ};
    bool fine = visit_do(c, v, model, &task);
    visit_json(c, v);
    if (fine) {
        const vd_set *live = vd_visit_live(v->engine);
        s->set.variant = live->variant;
        s->set.firmware = live->firmware;
        vd_set_copy(&s->set, live);
    }
    return fine;
}

bool side_open(cli *c, side *s, const vd_model **model, visit *v)
{
    *model = *model != NULL ? *model : meet_model(c);
    return *model != NULL && side_fill(c, s, *model, v);
}

bool side_open_to_edit(cli *c, side *s, const vd_model **model, visit *v)
{
    if (!side_choose(c, s, model)) {
        return false;
    }
    if (s->factory) {
        report_wrong_words(c, "Factory defaults cannot be changed.",
                           "Name a profile, or unit. To make a profile: verdite new");
        return false;
    }
    return side_open(c, s, model, v);
}

void side_free(side *s)
{
    vd_profile_free(s->profile);
    vd_roster_free(s->roster);
    vd_profile_free(s->profile_of_rows);
    g_free(s->memory);
}
