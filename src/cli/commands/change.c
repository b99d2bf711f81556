/* SPDX-License-Identifier: MIT
 * verdite change, verdite assign: settings of a unit without a file. */
#include <string.h>

#include "../cli.h"

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

vd_class changes_write(cli *c, const vd_model *model, char **words, const char *called)
{
    vd_profile *profile = empty_profile(c, model);
    char **all = changes_expand(c, model, words);
    if (profile != NULL && all != NULL && changes_put(c, profile, all)) {
        const visit_task task = {.task = VD_TASK_WRITE,
                                 .target = vd_profile_values(profile),
                                 .called = called,
                                 .show_changes = changes_show};
        visit_several(c, model, &task);
    }
    g_strfreev(all);
    vd_profile_free(profile);
    return c->worst;
}

vd_class command_change(cli *c)
{
    const vd_model *model = several_meet_first(c) ? meet_model(c) : NULL;
    return model != NULL ? changes_write(c, model, c->options.words, "change") : c->worst;
}

/* "KEY=VALUE" for the setting with a role; NULL: the model has none, which is reported. */
static char *word_for(cli *c, const vd_model *model, vd_role role, const char *what, const char *value)
{
    uint16_t setting = vd_model_find_role(model, role);
    if (setting == VD_NONE) {
        char *said = g_strdup_printf("A %s has no setting for its %s.", model->key, what);
        report_wrong_words(c, said, "Leave it out.");
        g_free(said);
        return NULL;
    }
    return g_strconcat(model->settings[setting].key, "=", value, NULL);
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
        words[i] = word_for(c, model, parts[i].role, parts[i].what, c->options.words[i]);
        fine = words[i] != NULL;
    }
    if (fine) {
        changes_write(c, model, words, "assign");
    }
    for (size_t i = 0; i < G_N_ELEMENTS(parts); i++) {
        g_free(words[i]);
    }
    return c->worst;
}

/* ---- Two addresses ---- */

/* One of the visits of a swap. False: it is not there now. */
static bool move(cli *c, const vd_model *model, const char *serial, uint32_t from, uint32_t to)
{
    char *address = g_strdup_printf("%u", to), *word = word_for(c, model, VD_ROLE_ADDRESS, "address", address);
    char *words[] = {word, NULL};
    g_free(address);
    message(c, "== %s from %u to %u", serial, from, to);
    g_free(c->options.serial);
    c->options.serial = g_strdup(serial);
    c->options.address = (cli_number){.given = true, .value = from};
    changes_write(c, model, words, "swap");
    g_free(word);
    return c->worst == VD_CLASS_FINE || c->worst == VD_CLASS_PARTLY;
}

/* The highest address at which nobody answers, 0: there is none within reach. */
static uint32_t find_free(cli *c, const vd_model *model, const uint32_t taken[2])
{
    unsigned tries = 0;
    for (uint32_t address = model->address_high; address >= model->address_low && address > 0 && tries < 5; address--) {
        if (address == taken[0] || address == taken[1] || address == model->address_factory) {
            continue;
        }
        tries++;
        c->options.address = (cli_number){.given = true, .value = address};
        if (!visit_finds(c, model, NULL) && c->worst == VD_CLASS_FINE) {
            return address;
        }
    }
    return 0;
}

static bool parse_two(cli *c, uint32_t address[2])
{
    for (int i = 0; i < 2; i++) {
        guint64 number = 0;
        if (!g_ascii_string_to_unsigned(c->options.words[i], 10, 1, 247, &number, NULL)) {
            char *said = g_strdup_printf("\"%s\" is no address.", c->options.words[i]);
            report_wrong_words(c, said, "Give two numbers from 1 to 247.");
            g_free(said);
            return false;
        }
        address[i] = (uint32_t)number;
    }
    if (address[0] == address[1]) {
        report_wrong_words(c, "The two addresses are the same.", "Give those of two units.");
    }
    return address[0] != address[1];
}

vd_class command_swap(cli *c)
{
    uint32_t at[2] = {0, 0};
    vd_identity units[2] = {{.serial = ""}, {.serial = ""}};
    if (!parse_two(c, at)) {
        return c->worst;
    }
    c->options.address = (cli_number){.given = true, .value = at[0]};
    const vd_model *model = meet_model(c);
    char *word = model != NULL ? word_for(c, model, VD_ROLE_ADDRESS, "address", "") : NULL;
    bool there = word != NULL;
    g_free(word);
    for (int i = 0; i < 2 && there; i++) {
        c->options.address.value = at[i];
        there = visit_finds(c, model, &units[i]);
        if (!there && c->worst == VD_CLASS_FINE) {
            char *where = g_strdup_printf("address %u", at[i]);
            report_new(c, vd_fault_of_NOT_THERE("A unit of this kind", where));
            g_free(where);
        }
    }
    uint32_t free_one = there ? find_free(c, model, at) : 0;
    if (there && free_one == 0 && c->worst == VD_CLASS_FINE) {
        report_wrong_words(c, "No free address was found to go by.", "Give one of the two a free address first.");
    }
    if (free_one == 0) {
        return c->worst;
    }
    message(c, "%s goes to %u for a while, %s to %u, then %s to %u.", units[0].serial, free_one, units[1].serial, at[0],
            units[0].serial, at[1]);
    c->address_typed = true;
    bool first = move(c, model, units[0].serial, at[0], free_one);
    c->options.yes = c->options.yes || first; /* it is one job */
    bool second = first && move(c, model, units[1].serial, at[1], at[0]);
    bool third = second && move(c, model, units[0].serial, free_one, at[1]);
    if (first && !third) {
        message(c, "Half-way: %s is at %u, %s at %u. verdite undo --serial %s puts it back.", units[0].serial, free_one,
                units[1].serial, second ? at[0] : at[1], units[0].serial);
    } else if (third) {
        message(c, "Swapped: %s is at %u, %s at %u.", units[0].serial, at[1], units[1].serial, at[0]);
    }
    return c->worst;
}
