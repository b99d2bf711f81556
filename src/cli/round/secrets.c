/* SPDX-License-Identifier: MIT
 * The secrets of rows: where one comes from stands in the roster or in its profile, never the secret. */
#include "round.h"

#include <string.h>

static void forget(gpointer about)
{
    secret_free(about);
}

/* What the profile asks for is the same for all its units, and asked for once. */
static const secret *take(round *r, const round_job *job, uint16_t setting, const char *source, bool of_row,
                          secret **own)
{
    const vd_model *model = job->target.model;
    char *name = g_strdup_printf("%p %u", (const void *)job->row->about.profile, setting);
    if (r->secrets == NULL) {
        r->secrets = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, forget);
    }
    secret *known = of_row ? NULL : g_hash_table_lookup(r->secrets, name);
    if (known == NULL) {
        char *called = of_row ? g_strdup_printf("%s of %s", model->settings[setting].words->key, job->met.serial)
                              : g_strdup(model->settings[setting].words->key);
        keys_pause(r);
        known = secret_from_source(r->c, called, source);
        keys_resume(r);
        g_free(called);
        if (known != NULL && !of_row) {
            g_hash_table_insert(r->secrets, g_strdup(name), known);
        }
        *own = of_row ? known : NULL;
    }
    g_free(name);
    return known;
}

static bool put(round *r, round_job *job, uint16_t setting, const secret *given)
{
    vd_typed typed;
    vd_fault fault = {0};
    const vd_setting *about = &job->target.model->settings[setting];
    if (vd_setting_parse(about, secret_text(given), strlen(secret_text(given)), &typed, &fault) != VD_OK ||
        vd_set_check_value(&job->target, setting, &typed.value, &fault) != VD_OK) {
        report(r->c, &fault);
        return false;
    }
    vd_set_put(&job->target, setting, &typed.value);
    return true;
}

bool job_take_secrets(round *r, round_job *job)
{
    const vd_profile *profile = job->row->about.profile;
    bool fine = true;
    for (uint16_t i = 0; i < job->target.model->setting_count && fine; i++) {
        const char *row = vd_roster_secret(r->roster, job->row->index, i);
        const char *source = row != NULL ? row : profile != NULL ? vd_profile_secret(profile, i) : NULL;
        secret *own = NULL;
        if (source != NULL && !vd_set_knows(&job->target, i)) {
            const secret *given = take(r, job, i, source, row != NULL, &own);
            fine = given != NULL && put(r, job, i, given);
        }
        secret_free(own);
    }
    secrets_forget();
    if (!fine) {
        round_tell(r, true, "%s: A secret is missing. Nothing was sent.", job->met.serial);
        job->over = true;
        job->row->state = ROW_LEFT;
        job->row->worst = VD_CLASS_NOT_VERIFIED;
        g_free(job->row->words);
        job->row->words = g_strdup("a secret is missing");
    }
    return fine;
}

void round_forget_secrets(round *r)
{
    if (r->secrets != NULL) {
        g_hash_table_destroy(r->secrets);
    }
    r->secrets = NULL;
}
