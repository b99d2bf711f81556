/* SPDX-License-Identifier: MIT
 * What a profile needs besides its settings: another one on which it builds, a firmware, and secrets, of which it only
 * says where they come from. */
#include "parts.h"

#include <string.h>

static const char *setting_key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->settings[i].words->key;
}

vd_status profile_note_no_setting(const vd_model *model, const char *key, vd_fault *fault)
{
    char *suggestion = vd_suggest(key, model->setting_count, setting_key_at, model);
    vd_note_NO_SUCH_SETTING(fault, key, suggestion);
    g_free(suggestion);
    return VD_NO_SUCH_SETTING;
}

void profile_build_on(vd_profile *profile, vd_profile *base)
{
    profile->base = base;
    for (uint16_t i = 0; base != NULL && i < profile->model->setting_count; i++) {
        vd_value value = vd_set_get(&base->values, i);
        if (value.type != VD_NOTHING && !vd_setting_is_own(&profile->model->settings[i])) {
            vd_set_put(&profile->values, i, &value);
        }
    }
    if (base != NULL) {
        base->holders++;
        profile->values.firmware = profile->values.firmware != 0 ? profile->values.firmware : base->values.firmware;
        profile->values.variant = profile->values.variant != VD_NONE ? profile->values.variant : base->values.variant;
    }
}

bool vd_is_secret_source(const char *text)
{
    return strcmp(text, "asked") == 0 || (g_str_has_prefix(text, "environment ") && text[12] != '\0') ||
           (g_str_has_prefix(text, "file ") && text[5] != '\0');
}

static void take_secret(vd_profile *profile, yaml_file *file, const yaml_node_t *key, const yaml_node_t *node)
{
    const char *name = yaml_text(file, key, "a key"), *text = name != NULL ? yaml_text(file, node, name) : NULL;
    uint16_t setting = name != NULL ? vd_model_find(profile->model, name) : VD_NONE;
    vd_fault fault = {0};
    if (name != NULL && setting == VD_NONE) {
        profile_note_no_setting(profile->model, name, &fault);
        yaml_note_fault(file, key, &fault);
    } else if (name != NULL && !profile->model->settings[setting].secret) {
        yaml_note(file, key, vd_fault_of_WRONG_SHAPE(name, "the key of a secret; others stand under settings"));
    } else if (text != NULL && !vd_is_secret_source(text)) {
        yaml_note(file, node, vd_fault_of_WRONG_SHAPE(name, "where it comes from: asked, environment NAME, file PATH"));
    } else if (text != NULL && profile->secrets[setting] == NULL) {
        profile->secrets[setting] = source_in(profile->folder, text);
    }
}

void profile_take_needs(vd_profile *profile, yaml_file *file, const yaml_node_t *root)
{
    const char *firmware = NULL;
    const yaml_node_t *secrets = yaml_member(file, root, "secrets");
    profile->secrets = g_new0(char *, profile->model->setting_count + 1u);
    if (yaml_take_text(file, root, "needs-firmware", false, &firmware) && firmware != NULL) {
        profile->firmware = vd_firmware_parse(firmware);
        if (profile->firmware == 0) {
            yaml_note(file, yaml_member(file, root, "needs-firmware"),
                      vd_fault_of_WRONG_SHAPE("needs-firmware", "a version such as \"1.4\""));
        }
        if (profile->values.firmware == 0) { /* what is there from it on may be said */
            profile->values.firmware = profile->firmware;
        }
    }
    if (secrets != NULL && secrets->type != YAML_MAPPING_NODE) {
        yaml_note(file, secrets,
                  vd_fault_of_WRONG_SHAPE("secrets", "a line for each: its key, and where it comes from"));
        return;
    }
    for (yaml_node_pair_t *pair = secrets != NULL ? secrets->data.mapping.pairs.start : NULL;
         pair != NULL && pair < secrets->data.mapping.pairs.top; pair++) {
        take_secret(profile, file, yaml_node(file, pair->key), yaml_node(file, pair->value));
    }
}
