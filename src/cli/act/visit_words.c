/* SPDX-License-Identifier: MIT
 * A visit in words: which unit it is about, where, and what is being done. */
#include "act.h"

#include <string.h>

char *stage_words(const visit *v)
{
    static const char *const words[VD_STEP_COUNT] = {
        [VD_STEP_IDENTIFY] = "identifying",
        [VD_STEP_LISTENING] = "waiting until it listens",
        [VD_STEP_LOGIN] = "logging in",
        [VD_STEP_TRIES_LEFT] = "logging in",
        [VD_STEP_READ] = "reading live values",
        [VD_STEP_READ_STORED] = "reading stored values",
        [VD_STEP_SEE_FREE] = "checking that the new address is free",
        [VD_STEP_KNOW_AGAIN] = "checking that it is still the same unit",
        [VD_STEP_WRITE] = "writing",
        [VD_STEP_CHECK] = "checking what is live",
        [VD_STEP_RELOAD] = "reading what that has set",
        [VD_STEP_SAVE] = "saving the slot",
        [VD_STEP_LOAD] = "loading the slot again",
        [VD_STEP_STORE] = "storing",
        [VD_STEP_RESTART] = "restarting",
        [VD_STEP_BY_HAND] = "waiting until it was switched off and on",
        [VD_STEP_COMING_BACK] = "waiting until it is back",
        [VD_STEP_WITNESS] = "checking that it restarted",
        [VD_STEP_READ_BACK] = "reading back live values",
        [VD_STEP_READ_BACK_STORED] = "reading back stored values",
        [VD_STEP_TRY_PASSWORD] = "logging in with the new password",
        [VD_STEP_KNOW_LAST] = "checking that it was the same unit",
        [VD_STEP_SEE_LEFT] = "checking who answers at the old address",
    };
    vd_progress progress = vd_visit_progress(v->engine);
    const char *said = words[progress.step] != NULL ? words[progress.step] : "";
    return said[0] != '\0' && progress.total > 0 ? g_strdup_printf("%s, %u of %u", said, progress.done, progress.total)
                                                 : g_strdup(said);
}

char *unit_words(const visit *v)
{
    const vd_identity *met = vd_visit_identity(v->engine);
    uint16_t named = vd_model_find_role(v->model, VD_ROLE_NAME);
    vd_value name = named != VD_NONE ? vd_set_get(vd_visit_live(v->engine), named) : (vd_value){.type = VD_NOTHING};
    char *called = name.type != VD_NOTHING && name.length > 0
                       ? g_strdup_printf(" \"%s\"", value_text(&v->model->settings[named], &name))
                       : g_strdup("");
    char *where = place_words(&v->place, v->model);
    /* What was read is judged by which edition it is of; what is written was. */
    bool read = v->task->task == VD_TASK_READ && met->firmware[0] != '\0';
    char *words = g_strdup_printf("%s%s%s%s%s%s%s %s", met->product, met->serial[0] != '\0' ? " " : "", met->serial,
                                  called, read ? ", firmware " : "", read ? met->firmware : "", read ? "," : "", where);
    g_free(called);
    g_free(where);
    return words;
}

void show_title(const cli *c, visit *v)
{
    if (!v->titled) {
        char *words = unit_words(v);
        title_print(c, words);
        g_free(words);
    }
    v->titled = true;
}

void visit_json(cli *c, const visit *v)
{
    char line[32];
    vd_writer writer = vd_writer_start(line, sizeof line);
    if (!v->opened) {
        return;
    }
    vd_serial_print(&v->place.line, &writer);
    json_object_set_new(c->result, "model", json_string(v->model->key));
    json_object_set_new(c->result, "port", json_string(v->place.name));
    json_object_set_new(c->result, "line", json_string(line));
    json_object_set_new(c->result, "address",
                        !vd_model_has_address(v->model) ? json_null() : json_integer(v->place.address));
    json_object_set_new(c->result, "unit", identity_json(vd_visit_identity(v->engine)));
}
