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

bool side_choose(cli *c, side *s, const vd_model **model)
{
    const vd_model *own = NULL;
    s->factory = strcmp(s->name, "factory") == 0;
    if (s->factory || strcmp(s->name, "unit") == 0) {
        return true;
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
    g_free(s->memory);
}
