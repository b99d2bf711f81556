/* SPDX-License-Identifier: MIT
 * Which model and group a command is about. */
#include "words.h"
#include "../print/print.h"

#include <string.h>

const vd_model *choose_model_named(cli *c, const char *name)
{
    vd_findings *findings = vd_findings_new(name);
    bool known = g_strv_contains(vd_catalogue_keys(c->catalogue), name) || vd_is_model_file(name) ||
                 g_str_has_suffix(name, ".yaml");
    const char *key = known ? name : meant_model(c, name);
    name = key != NULL ? key : name;
    const vd_model *model = vd_catalogue_model(c->catalogue, name, &findings);
    if (model == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    return model;
}

static void tell_aside(cli *c)
{
    for (size_t i = c->told_aside; vd_catalogue_set_aside(c->catalogue, i) != NULL; i++) {
        report_set_aside(c, vd_catalogue_set_aside(c->catalogue, i));
        c->told_aside = i + 1;
    }
}

bool choose_knows_models(cli *c)
{
    bool known = vd_catalogue_is_as_before(c->catalogue);
    if (known) {
        tell_aside(c);
    }
    return known;
}

const vd_model *const *choose_models(cli *c)
{
    const vd_model *const *models = vd_catalogue_models(c->catalogue);
    tell_aside(c);
    if (models[0] == NULL) {
        report_new(c, vd_fault_of_NO_MODEL_AT_ALL(vd_catalogue_folders(c->catalogue)));
    }
    return models;
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
        report_wrong_words(c, "Which model? Give it with --model.", allowed);
        g_free(allowed);
        g_free(all);
        return NULL;
    }
    bool unknown = !g_str_has_suffix(name, ".yaml") && !g_strv_contains(keys, name);
    const vd_model *model = choose_model_named(c, name);
    c->worst = model == NULL && unknown ? VD_CLASS_USAGE : c->worst; /* it was typed, not found in a file */
    return model;
}

static const char *variant_key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->variants[i].key;
}

bool choose_kind(cli *c, const vd_model *model, uint16_t *variant, uint32_t *firmware)
{
    if (c->options.variant != NULL) {
        *variant = meant_variant(model, c->options.variant);
    }
    if (c->options.variant != NULL && *variant == VD_NONE) {
        char *suggestion = vd_suggest(c->options.variant, model->variant_count, variant_key_at, model);
        char *said = g_strdup_printf("The model %s has no variant \"%s\".", model->key, c->options.variant);
        report_wrong_words(c, said, suggestion);
        g_free(said);
        g_free(suggestion);
        return false;
    }
    if (c->options.firmware != NULL) {
        *firmware = vd_firmware_parse(c->options.firmware);
        if (*firmware == 0) {
            report_wrong_words(c, "This is not a firmware version.", "Give --firmware such as 1.4.");
            return false;
        }
    }
    return true;
}

char *choose_listeners(cli *c)
{
    const vd_model *const *models = choose_models(c);
    GString *names = g_string_new("");
    for (size_t i = 0; models[i] != NULL; i++) {
        if (models[i]->listening.hand.hold > 0) {
            g_string_append_printf(names, "%s%s", names->len > 0 ? ", " : "", models[i]->key);
        }
    }
    return g_string_free(names, FALSE);
}

bool choose_group(cli *c, const vd_model *model, uint8_t **which)
{
    *which = NULL;
    if (c->options.group == NULL) {
        return true;
    }
    uint16_t group = meant_group(model, c->options.group);
    if (group == VD_NONE) {
        GString *all = g_string_new("");
        for (uint8_t i = 0; i < model->group_count; i++) {
            g_string_append_printf(all, "%s%s", i > 0 ? ", " : "", model->groups[i].key);
        }
        report_new(c, vd_fault_of_NO_SUCH_GROUP(c->options.group, all->str));
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
