/* SPDX-License-Identifier: MIT
 * A visit with a profile, and whether it is judged. */
#include "cli.h"

#include <string.h>

/* Whether there is anything to judge: the unit was met, and either all went well or something was sent to it. */
static bool is_judged(const visit *v)
{
    bool met = v->opened && vd_visit_identity(&v->engine)->product[0] != '\0' && v->status != VD_OTHER_MODEL &&
               v->status != VD_WRONG_UNIT;
    bool login = v->status == VD_LOGIN_NEEDED || v->status == VD_LOGIN_REFUSED || v->status == VD_LOGIN_NOT_TAKEN ||
                 v->status == VD_LOGIN_LOCKED;
    bool sent = met && vd_visit_has_sent(&v->engine);
    return met && (v->engine.task == VD_TASK_WRITE ? sent || v->status == VD_OK : !login);
}

vd_class visit_with_profile(cli *c, vd_task kind)
{
    char **words = c->options.words;
    uint8_t *which = NULL;
    visit v = {0};
    vd_profile *profile = choose_profile(c, words[0]);
    if (profile != NULL && choose_group(c, vd_profile_model(profile), &which)) {
        const visit_task task = {.task = kind,
                                 .target = vd_profile_values(profile),
                                 .which = which,
                                 .read_from = vd_profile_unit(profile),
                                 .show_changes = changes_show};
        visit_do(c, &v, vd_profile_model(profile), &task);
        visit_json(c, &v);
        if (is_judged(&v) && json_object_get(c->result, "left-to-its-unit") == NULL) {
            changes_tell_left_out(c, &v.engine, vd_profile_unit(profile)->serial);
        }
        if (is_judged(&v)) {
            verdicts_show(c, &v, words[0]);
        }
        visit_free(&v);
    }
    g_free(which);
    vd_profile_free(profile);
    return c->worst;
}
