/* SPDX-License-Identifier: MIT
 * verdite change, verdite assign: settings of a unit without a file. */
#include <string.h>

#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

/* A profile that says nothing yet. */
static vd_profile *empty_profile(cli *c, const vd_model *model)
{
    char *text = g_strdup_printf("verdite-profile: 1\nmodel: %s\nsettings:\n", model->key);
    vd_findings *findings = vd_findings_new("");
    vd_profile *profile = vd_profile_parse(text, strlen(text), c->catalogue, findings);
    vd_findings_free(findings);
    g_free(text);
    return profile;
}

vd_class changes_write(cli *c, const vd_model *model, char **words, const visit_task *about)
{
    vd_profile *profile = empty_profile(c, model);
    char **all = changes_expand(c, model, words);
    if (profile != NULL && all != NULL && changes_put(c, profile, all)) {
        visit_task task = *about;
        task.task = VD_TASK_WRITE;
        task.target = vd_profile_values(profile);
        task.show_changes = changes_show;
        visit_several(c, model, &task);
    }
    g_strfreev(all);
    vd_profile_free(profile);
    return c->worst;
}

vd_class command_change(cli *c)
{
    const vd_model *model = several_meet_first(c) ? meet_model(c) : NULL;
    return model != NULL ? changes_write(c, model, c->options.words, &(visit_task){.called = "change"}) : c->worst;
}

char *change_of_role(cli *c, const vd_model *model, vd_role role, const char *what, const char *value)
{
    uint16_t setting = vd_model_find_role(model, role);
    if (setting == VD_NONE) {
        char *said = g_strdup_printf("The model %s has no setting for the %s.", model->key, what);
        report_wrong_words(c, said, "Leave it out.");
        g_free(said);
        return NULL;
    }
    return g_strconcat(model->settings[setting].words->key, "=", value, NULL);
}

/* The factory address of the kind of unit that was met last, or of the first that can be given one; 0: there is none.
 */
static uint8_t address_of_new(cli *c)
{
    const vd_model *const *models = choose_models(c);
    vd_served served;
    bool known = vd_served_recall(remembered(c), NULL, c->options.port, &served);
    uint8_t address = 0;
    for (size_t i = 0; models[i] != NULL; i++) {
        bool can = vd_model_find_role(models[i], VD_ROLE_ADDRESS) != VD_NONE;
        bool last = known && strcmp(served.model, models[i]->key) == 0;
        address = can && (last || address == 0) ? models[i]->address_factory : address;
    }
    return address;
}

/* A new unit is meant, whatever was met last. */
static const vd_model *meet_new(cli *c)
{
    bool at = c->options.address.given, line = c->options.baud.given || c->options.framing.given;
    uint8_t address = at ? 0 : address_of_new(c);
    if (address != 0) {
        c->options.address = (cli_number){.given = true, .value = address};
    }
    const vd_model *model = meet_model(c);
    if (model != NULL && !at) {
        c->options.address = (cli_number){.given = true, .value = model->address_factory};
        c->address_typed = true;
    }
    if (model != NULL && !at && !line) {
        c->options.baud = (cli_number){.given = true, .value = model->line.baud};
        c->options.framing = (cli_framing){.given = true, .line = model->line};
    }
    return model;
}

vd_class command_assign(cli *c)
{
    static const struct {
        vd_role role;
        const char *what;
    } parts[] = {{VD_ROLE_ADDRESS, "address"}, {VD_ROLE_NAME, "name"}, {VD_ROLE_BAUD, "speed"}};
    const vd_model *model = meet_new(c);
    char *words[G_N_ELEMENTS(parts) + 1] = {NULL};
    bool fine = model != NULL;
    for (size_t i = 0; fine && i < G_N_ELEMENTS(parts) && c->options.words[i] != NULL; i++) {
        words[i] = change_of_role(c, model, parts[i].role, parts[i].what, c->options.words[i]);
        fine = words[i] != NULL;
    }
    if (fine) {
        changes_write(c, model, words, &(visit_task){.called = "assign"});
    }
    for (size_t i = 0; i < G_N_ELEMENTS(parts); i++) {
        g_free(words[i]);
    }
    return c->worst;
}
