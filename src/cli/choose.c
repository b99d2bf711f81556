/* SPDX-License-Identifier: MIT
 * Which model, profile and group a command is about. */
#include "cli.h"

#include <string.h>

const vd_model *choose_model_named(cli *c, const char *name)
{
    vd_findings *findings = vd_findings_new(name);
    const vd_model *model = vd_catalogue_model(c->catalogue, name, &findings);
    if (model == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    return model;
}

const vd_model *choose_model(cli *c)
{
    const char *const *keys = vd_catalogue_keys(c->catalogue);
    const char *name = c->options.model;
    if (name == NULL && keys[0] != NULL && keys[1] == NULL) {
        name = keys[0];
    }
    if (name == NULL) {
        char *all = g_strjoinv(", ", (char **)keys), *allowed = g_strdup_printf("Choose one: %s.", all);
        report_words(c, VD_WRONG_WORDS, "Which kind of unit? Say it with --model.", allowed);
        g_free(allowed);
        g_free(all);
        return NULL;
    }
    bool unknown = !g_str_has_suffix(name, ".yaml") && !g_strv_contains(keys, name);
    const vd_model *model = choose_model_named(c, name);
    c->worst = model == NULL && unknown ? VD_CLASS_USAGE : c->worst; /* it was typed, not found in a file */
    return model;
}

/* What served last behind the port that was named, or anywhere. */
static const vd_model *choose_served(cli *c, vd_served *served)
{
    char *aside = NULL;
    bool known = vd_served_recall(NULL, c->options.port, served, &aside);
    place_tell_aside(c, aside);
    return known && g_strv_contains(vd_catalogue_keys(c->catalogue), served->model)
               ? choose_model_named(c, served->model)
               : NULL;
}

char *choose_listeners(cli *c)
{
    const char *const *keys = vd_catalogue_keys(c->catalogue);
    GString *names = g_string_new("");
    for (size_t i = 0; keys[i] != NULL; i++) {
        const vd_model *model = choose_model_named(c, keys[i]);
        if (model != NULL && model->listening.hold > 0) {
            g_string_append_printf(names, "%s%s", names->len > 0 ? ", " : "", model->key);
        }
    }
    return g_string_free(names, FALSE);
}

/* Nobody answers: what served last is meant, or any kind that can have the address that was typed. */
static const vd_model *choose_silent(cli *c, const char *port, const vd_model *last)
{
    const char *const *keys = vd_catalogue_keys(c->catalogue);
    bool addressed = c->options.address != -1;
    const vd_model *met = last != NULL && addressed && !vd_model_has_address(last) ? NULL : last;
    for (size_t i = 0; keys[i] != NULL && met == NULL && (addressed || port == NULL); i++) {
        const vd_model *model = choose_model_named(c, keys[i]);
        met = model != NULL && vd_model_has_address(model) ? model : NULL;
    }
    if (met == NULL) {
        char *listeners = choose_listeners(c);
        report_words(c, VD_NOBODY_KNOWN, port, listeners[0] != '\0' ? listeners : "none");
        g_free(listeners);
    } else if (port != NULL) {
        message(c, "No unit that is known answers; taking it for a %s%s. --model says otherwise.", met->key,
                met == last ? ", which was met last" : "");
    }
    return met;
}

const vd_model *choose_model_met(cli *c)
{
    const char *const *keys = vd_catalogue_keys(c->catalogue);
    vd_served served;
    if (c->options.model != NULL || keys[0] == NULL || keys[1] == NULL) {
        return choose_model(c);
    }
    vd_line typed = {0};
    if (!options_line(c, &typed)) {
        return NULL;
    }
    if (c->options.address != -1 && (c->options.address < 1 || c->options.address > 247)) {
        report_words(c, VD_WRONG_WORDS, "That is no address of a unit.", "Give --address 1 to 247.");
        return NULL;
    }
    const vd_model *last = choose_served(c, &served), *met = NULL;
    char *port = place_likely_port(c, last != NULL ? &served : NULL);
    bool tried[256] = {false};
    if (port != NULL && c->options.address != -1) {
        met = find_who_is_at(c, port, (uint8_t)c->options.address);
    } else if (port != NULL && last != NULL) {
        tried[served.address] = true;
        met = find_who_is_at(c, port, served.address);
        if (met != NULL && served.address != 0) {
            message(c, "Address %u at %d %s, as last time.", served.address, c->options.baud, c->options.framing);
        }
    }
    if (port != NULL && c->options.address == -1 && met == NULL && !tried[0] && c->worst == VD_CLASS_FINE) {
        tried[0] = true; /* a unit that talks in lines */
        met = find_who_is_at(c, port, 0);
    }
    /* Nothing was said at all: perhaps a unit from the box, at its factory address. */
    bool box = port != NULL && c->options.address == -1;
    for (size_t i = 0; keys[i] != NULL && met == NULL && box && c->worst == VD_CLASS_FINE; i++) {
        const vd_model *model = choose_model_named(c, keys[i]);
        if (model != NULL && !tried[model->address_factory]) {
            tried[model->address_factory] = true;
            met = find_who_is_at(c, port, model->address_factory);
        }
    }
    if (met == NULL && c->worst <= VD_CLASS_NO) { /* else it could not ask, and has said why */
        met = choose_silent(c, port, last);
    }
    g_free(port);
    return met;
}

kind_of_file file_kind(const char *path)
{
    char head[4096];
    FILE *file = fopen(path, "r");
    size_t got = file != NULL ? fread(head, 1, sizeof head - 1, file) : 0;
    if (file != NULL) {
        fclose(file);
    }
    head[got] = '\0';
    const char *at = strstr(head, "verdite-model:");
    return at != NULL && (at == head || at[-1] == '\n') ? FILE_MODEL : FILE_PROFILE;
}

vd_profile *choose_profile(cli *c, const char *path)
{
    vd_findings *findings = vd_findings_new(path);
    vd_profile *profile = vd_profile_load(path, c->catalogue, findings);
    bool wrong = profile == NULL || vd_findings_any_wrong(findings);
    if (wrong) {
        report_findings(c, findings);
        vd_profile_free(profile);
    }
    vd_findings_free(findings);
    return wrong ? NULL : profile;
}

bool choose_group(cli *c, const vd_model *model, uint8_t **which)
{
    *which = NULL;
    if (c->options.group == NULL) {
        return true;
    }
    uint16_t group = vd_model_find_group(model, c->options.group);
    if (group == VD_NONE) {
        GString *all = g_string_new("");
        for (uint8_t i = 0; i < model->group_count; i++) {
            g_string_append_printf(all, "%s%s", i > 0 ? ", " : "", model->groups[i].key);
        }
        report_words(c, VD_NO_SUCH_GROUP, c->options.group, all->str);
        c->worst = VD_CLASS_USAGE; /* it was typed, not found in a file */
        g_string_free(all, TRUE);
        return false;
    }
    *which = g_new0(uint8_t, model->setting_count);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        (*which)[i] = model->settings[i].group == group;
    }
    return true;
}
