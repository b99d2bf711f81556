/* SPDX-License-Identifier: MIT
 * Consent to a round, given once for all its units, with all that it may cause told before. */
#include "round.h"

#include <string.h>

/* What the rows of one model may change, and cause. */
typedef struct extent {
    const vd_model *model;
    unsigned units;
    bool *settings; /* by setting */
    bool moves, restarts;
} extent;

static void note_row(const round *r, const round_row *row, extent *e)
{
    void *memory = g_malloc0(vd_set_size(e->model));
    vd_set target;
    vd_set_start(&target, e->model, memory, vd_set_size(e->model));
    vd_roster_fill(r->roster, row->index, &target);
    for (uint16_t i = 0; i < e->model->setting_count; i++) {
        bool hidden = vd_roster_secret(r->roster, row->index, i) != NULL ||
                      (row->about.profile != NULL && vd_profile_secret(row->about.profile, i) != NULL);
        bool said = (vd_set_knows(&target, i) || hidden) && e->model->settings[i].access != VD_READ_ONLY;
        e->settings[i] = e->settings[i] || said;
        for (uint8_t k = 0; said && k < e->model->settings[i].causes.count; k++) {
            e->restarts = e->restarts || e->model->settings[i].causes.list[k].effect == VD_EFFECT_RESTART;
        }
    }
    e->units++;
    e->moves = e->moves || row->wanted != 0;
    g_free(memory);
}

static extent extent_of(const round *r, const vd_model *model)
{
    extent e = {.model = model, .settings = g_new0(bool, model->setting_count)};
    e.restarts = model->store.restarts || (model->store.proof == VD_PROOF_RESTART && vd_model_restart(model) != NULL);
    for (size_t i = 0; i < r->row_count; i++) {
        if (r->rows[i].about.model == model) {
            note_row(r, &r->rows[i], &e);
        }
    }
    return e;
}

static char *settings_words(const cli *c, const extent *e)
{
    GPtrArray *names = g_ptr_array_new();
    for (uint16_t i = 0; i < e->model->setting_count; i++) {
        if (e->settings[i]) {
            g_ptr_array_add(names, (gpointer)e->model->settings[i].words->key);
        }
    }
    char *words = names_words(c, names);
    g_ptr_array_free(names, TRUE);
    return words;
}

static char *cause_name(const vd_cause *cause, const char *key)
{
    char *words = cause_words(cause);
    char *name = vd_cause_wants_yes(cause) && cause->effect != VD_EFFECT_TELL ? g_strdup_printf("%s: %s", key, words)
                                                                              : g_strdup(words);
    g_free(words);
    return name;
}

/* Tells each cause once, and remembers it as agreed to. False: an option does not cover it. */
static bool tell_causes(round *r, const extent *e)
{
    bool fine = true;
    for (uint16_t i = 0; i < e->model->setting_count; i++) {
        const vd_setting *setting = &e->model->settings[i];
        for (uint8_t k = 0; e->settings[i] && k < setting->causes.count; k++) {
            const vd_cause *cause = &setting->causes.list[k];
            char *name = cause_name(cause, setting->words->key), *words = cause_words(cause);
            bool bare = cause->help[0] == '\0' &&
                        (cause->effect == VD_EFFECT_RESTART || (cause->effect == VD_EFFECT_LINK && e->moves));
            bool news = g_hash_table_add(r->agreed, g_strdup(name));
            if (news && !bare) {
                message(r->c, "  If %s changes: %s", setting->words->key, words);
            }
            if (news && r->c->options.yes && vd_cause_wants_yes(cause) &&
                !cause_is_answered(r->c, cause, setting->words->key)) {
                fine = cause_refuse(r->c, cause, setting->words->key);
            }
            g_free(words);
            g_free(name);
        }
    }
    return fine;
}

static bool tell(round *r, const extent *e)
{
    char *settings = settings_words(r->c, e);
    char *lead = r->numbers ? g_strdup_printf("Each %s that comes gets the next number", e->model->key)
                            : g_strdup_printf("%u %s%s", e->units, e->model->key, e->units == 1 ? "" : "s");
    message(r->c, "%s. Written where they differ: %s.", lead, settings);
    g_free(lead);
    g_free(settings);
    if (e->restarts) {
        message(r->c, "  Restarts a unit (%s).", duration_text((e->model->restart_time + 999u) / 1000u * 1000u));
    }
    if (e->moves) {
        message(r->c, "  Moves each to its address, and reads it back there.");
    }
    return tell_causes(r, e);
}

bool consent_given(round *r)
{
    bool fine = true;
    for (size_t i = 0; i < r->h.model_count; i++) {
        extent e = extent_of(r, r->h.models[i]);
        fine = tell(r, &e) && fine;
        g_free(e.settings);
    }
    if (!fine || r->c->options.yes) {
        return fine;
    }
    fine = keys_ask(r, "To write all this, each unit as it comes, type write:", "write");
    if (!fine) {
        message(r->c, "Nothing was written.");
        r->c->worst = MAX(r->c->worst, stops_so_far() > 0 ? VD_CLASS_INTERRUPTED : VD_CLASS_NO);
    }
    return fine;
}

/* Its row was done, and the unit holds something else now. */
static bool covers_change(round *r, round_job *job)
{
    GPtrArray *names = g_ptr_array_new();
    for (uint16_t i = 0; i < job->v.model->setting_count; i++) {
        if (vd_visit_changes(job->v.engine, i)) {
            g_ptr_array_add(names, (gpointer)job->v.model->settings[i].words->key);
        }
    }
    char *words = names_words(r->c, names), *when = time_words(job->row->before);
    bool changed = job->row->before != 0 && job->task.of == 0 && names->len > 0, yes = true;
    if (changed) {
        char *said = g_strdup_printf("It was right at %s and has changed since: %s.", when, words);
        bool option =
            r->c->options.agree != NULL && g_strv_contains((const char *const *)r->c->options.agree, "changed");
        char *question = g_strdup_printf("%s To write it again, type write:", said);
        yes = option || (keys_can_ask(r) && keys_ask(r, question, "write"));
        if (!yes) {
            message(r->c, "%s Nothing was sent. To write it again: --agree changed", said);
            job->left = "changed since";
            r->c->worst = MAX(r->c->worst, VD_CLASS_NOT_VERIFIED);
        }
        g_free(question);
        g_free(said);
    }
    g_free(when);
    g_free(words);
    g_ptr_array_free(names, TRUE);
    return yes;
}

bool consent_covers(round *r, round_job *job)
{
    cause_walk w = cause_walk_start(job->v.engine);
    const char *key = NULL;
    bool yes = covers_change(r, job);
    GString *told = g_string_new("");
    for (const vd_cause *cause = cause_walk_next(&w, &key); cause != NULL && yes; cause = cause_walk_next(&w, &key)) {
        char *name = cause_name(cause, key);
        if (!g_hash_table_contains(r->agreed, name)) {
            char *question = g_strdup_printf("%s would cause more: %s To go on, type write:", job->met.serial, name);
            yes = keys_can_ask(r) && keys_ask(r, question, "write");
            if (!yes) {
                message(r->c, "It would cause more than was agreed to: %s Nothing was sent.", name);
                job->left = "not agreed to";
                r->c->worst = MAX(r->c->worst, VD_CLASS_NOT_VERIFIED);
            }
            g_free(question);
        }
        if (cause->effect == VD_EFFECT_TELL) {
            g_string_append_printf(told, "%s%s", told->len > 0 ? ", " : "told before: ", cause->who);
        }
        g_free(name);
    }
    cause_walk_end(&w);
    const char *said[] = {r->c->options.remark, job->row->about.remark, told->str};
    GString *remark = g_string_new("");
    for (size_t i = 0; i < G_N_ELEMENTS(said); i++) {
        bool any = said[i] != NULL && said[i][0] != '\0';
        g_string_append_printf(remark, "%s%s", any && remark->len > 0 ? "; " : "", any ? said[i] : "");
    }
    g_free(job->v.remark);
    job->v.remark = g_string_free(remark, FALSE);
    g_string_free(told, TRUE);
    return yes;
}
