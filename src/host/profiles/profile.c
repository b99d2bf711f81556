/* SPDX-License-Identifier: MIT
 * Loading a profile: settings of one model in a file (docs/profile.md). Changing one is edit.c, writing a new
 * one compose.c. */
#include "parts.h"

#include "verdite/survey.h"

#include <string.h>

static void take_value(vd_profile *profile, yaml_file *file, const yaml_node_t *key, const yaml_node_t *node)
{
    const char *name = yaml_text(file, key, "a key");
    vd_fault fault = {0};
    vd_typed typed;
    if (name == NULL) {
        return;
    }
    uint16_t setting = vd_model_find(profile->model, name);
    if (setting == VD_NONE) {
        if (file->findings->list->len < 50) { /* comparing with all keys takes a while */
            profile_note_no_setting(profile->model, name, &fault);
        } else {
            vd_note_NO_SUCH_SETTING(&fault, name, "The model lists all.");
        }
        yaml_note_fault(file, key, &fault);
        return;
    }
    if (profile->nodes[setting] != NULL) {
        yaml_note(file, key, vd_fault_of_KEY_TWICE(name));
        return;
    }
    profile->nodes[setting] = node;
    const char *text = yaml_text(file, node, name);
    if (text == NULL) {
        return;
    }
    if (vd_setting_parse(&profile->model->settings[setting], text, strlen(text), &typed, &fault) != VD_OK) {
        yaml_note_fault(file, node, &fault);
        return;
    }
    vd_set_put(&profile->values, setting, &typed.value);
}

static void judge_values(vd_profile *profile, yaml_file *file)
{
    vd_survey survey;
    vd_fault fault = {0};
    vd_survey_start(&survey, &profile->values, NULL);
    while (vd_survey_next(&survey, &fault)) {
        bool not_known = fault.status == VD_PLACES_NOT_KNOWN || fault.status == VD_RULE_NOT_KNOWN;
        uint16_t other = not_known ? vd_model_find(profile->model, fault.allowed) : VD_NONE;
        /* Where the other stands in the file and is wrong, that has been said already. */
        if (other == VD_NONE || profile->nodes[other] == NULL) {
            yaml_note_fault(
                file, fault.setting != NULL ? profile->nodes[fault.setting - profile->model->settings] : NULL, &fault);
        }
    }
}

static void take_values(vd_profile *profile, yaml_file *file, const yaml_node_t *settings)
{
    if (settings == NULL || (settings->type == YAML_SCALAR_NODE && settings->data.scalar.length == 0)) {
        return;
    }
    if (settings->type != YAML_MAPPING_NODE) {
        yaml_note(file, settings,
                  vd_fault_of_WRONG_SHAPE("settings", "a line for each setting: its key, a colon, its value"));
        return;
    }
    for (yaml_node_pair_t *pair = settings->data.mapping.pairs.start; pair < settings->data.mapping.pairs.top; pair++) {
        take_value(profile, file, yaml_node(file, pair->key), yaml_node(file, pair->value));
    }
    judge_values(profile, file);
}

static void copy(char *to, size_t size, const char *text)
{
    vd_identity_copy(to, size, (const uint8_t *)text, strlen(text));
}

bool profile_take_unit(yaml_file *file, const yaml_node_t *map, vd_identity *unit)
{
    static const char *const keys[] = {"maker", "product", "firmware", "serial", NULL};
    const char *maker = "", *product = "", *firmware = "", *serial = "";
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(file, map, keys) && yaml_take_text(file, map, "maker", false, &maker) &&
                yaml_take_text(file, map, "product", false, &product) &&
                yaml_take_text(file, map, "firmware", false, &firmware) &&
                yaml_take_text(file, map, "serial", false, &serial);
    copy(unit->maker, sizeof unit->maker, maker);
    copy(unit->product, sizeof unit->product, product);
    copy(unit->firmware, sizeof unit->firmware, firmware);
    vd_identity_take_serial(unit, (const uint8_t *)serial, strlen(serial));
    if (vd_identity_is_cut(unit)) {
        return yaml_note(file, yaml_member(file, map, "serial"),
                         vd_fault_of_WRONG_SHAPE("the serial number", "at most 64 characters"));
    }
    return fine;
}

/* Copies what the model's own file is at fault for. */
static const vd_model *find_model(yaml_file *file, const yaml_node_t *root, vd_catalogue *catalogue, const char *folder)
{
    const char *key = NULL;
    if (!yaml_take_text(file, root, "model", true, &key)) {
        return NULL;
    }
    vd_findings *own = vd_findings_new("");
    const vd_model *model = vd_catalogue_model_beside(catalogue, key, folder, &own);
    if (model == NULL) {
        vd_fault fault = g_array_index(own->list, vd_finding, 0).fault;
        yaml_note_fault(file, yaml_member(file, root, "model"), &fault);
    }
    vd_findings_free(own);
    return model;
}

/* ---- What it builds on ---- */

/* What is wrong with the other file is told by that file alone. */
static void note_base(yaml_file *file, const yaml_node_t *node, const char *said, const char *why, const char *path)
{
    char *allowed = g_strdup_printf(
        "a sound profile of the same model that builds on no other; this one %s: verdite check %s", why, path);
    yaml_note(file, node, vd_fault_of_WRONG_SHAPE(said, allowed));
    g_free(allowed);
}

/* Only one level: what builds on another one is no base. */
static bool builds(const char *path)
{
    char *text = NULL;
    size_t length = 0;
    vd_fault fault = {0};
    vd_findings *findings = vd_findings_new(path);
    yaml_file file;
    bool any = false;
    if (vd_file_read(path, PROFILE_MOST, &text, &length, &fault) == VD_OK) {
        any = yaml_file_parse(&file, text, length, findings) && yaml_root(&file) != NULL &&
              yaml_root(&file)->type == YAML_MAPPING_NODE && yaml_member(&file, yaml_root(&file), "builds-on") != NULL;
        yaml_file_free(&file);
    }
    vd_findings_free(findings);
    g_free(text);
    return any;
}

static vd_profile *load_base(yaml_file *file, const yaml_node_t *root, const vd_model *model, vd_catalogue *catalogue,
                             const char *folder)
{
    const char *name = NULL;
    if (!yaml_take_text(file, root, "builds-on", false, &name) || name == NULL) {
        return NULL;
    }
    char *path = path_in(folder, name);
    vd_findings *own = vd_findings_new(path);
    bool two_levels = builds(path);
    vd_profile *base = two_levels ? NULL : vd_profile_load(path, catalogue, own);
    const char *why = two_levels                   ? "builds on another"
                      : base == NULL               ? "is no profile, or cannot be read"
                      : base->model != model       ? "is for another model"
                      : vd_findings_any_wrong(own) ? "is not sound"
                                                   : NULL;
    if (why != NULL) {
        note_base(file, yaml_member(file, root, "builds-on"), name, why, path);
        vd_profile_free(base);
        base = NULL;
    }
    vd_findings_free(own);
    g_free(path);
    return base;
}

/* ---- The whole ---- */

vd_profile *profile_parse(const char *text, gsize length, const vd_profile *like, vd_catalogue *catalogue,
                          const char *folder, vd_findings *findings)
{
    static const char *const keys[] = {"verdite-profile", "model",          "unit",    "read",     "note",
                                       "builds-on",       "needs-firmware", "secrets", "settings", NULL};
    yaml_file file;
    vd_profile *profile = NULL;
    bool fine = yaml_file_parse(&file, text, length, findings);
    const yaml_node_t *root = fine ? yaml_root(&file) : NULL;
    if (fine && (root == NULL || root->type != YAML_MAPPING_NODE)) {
        fine =
            yaml_note(&file, NULL, vd_fault_of_WRONG_SHAPE("this file", "a profile: verdite-profile, model, settings"));
    }
    bool any = false;
    for (size_t i = 0; fine && keys[i] != NULL; i++) {
        any = any || yaml_member(&file, root, keys[i]) != NULL;
    }
    if (fine && !any) {
        fine = yaml_note(&file, NULL,
                         vd_fault_of_WRONG_SHAPE(
                             "this file", "a profile, which begins with verdite-profile: 1; or a model, which begins "
                                          "with verdite-model: 1 and is called NAME.yaml"));
    }
    fine = fine && yaml_take_format(&file, root, "verdite-profile", PROFILE_FORMAT);
    const vd_model *found = like != NULL ? like->model : fine ? find_model(&file, root, catalogue, folder) : NULL;
    if (fine && found != NULL) {
        yaml_check_keys(&file, root, keys);
        profile = g_new0(vd_profile, 1);
        profile->model = found;
        profile->text = g_string_new_len(text, (gssize)length);
        profile->folder = g_strdup(folder);
        profile->memory = g_malloc0(vd_set_size(found));
        vd_set_start(&profile->values, found, profile->memory, vd_set_size(found));
        profile->nodes = g_new0(const yaml_node_t *, found->setting_count);
        const yaml_node_t *unit = yaml_member(&file, root, "unit");
        profile_take_unit(&file, unit, &profile->unit);
        if (unit != NULL) {
            vd_set_tell_unit(&profile->values, &profile->unit);
        }
        profile_take_needs(profile, &file, root);
        profile_build_on(profile, like != NULL ? like->base : load_base(&file, root, found, catalogue, folder));
        vd_moment moment = vd_moment_now();
        vd_set_tell_time(&profile->values, &moment);
        take_values(profile, &file, yaml_member(&file, root, "settings"));
    }
    if (profile != NULL) {
        g_free(profile->nodes); /* they point into the tree that is about to go */
        profile->nodes = NULL;
    }
    yaml_file_free(&file);
    return profile;
}

vd_profile *vd_profile_load(const char *path, vd_catalogue *catalogue, vd_findings *findings)
{
    vd_profile *profile = NULL;
    vd_fault fault = {0};
    char *text = NULL;
    size_t length = 0;
    if (vd_file_read(path, PROFILE_MOST, &text, &length, &fault) != VD_OK) {
        vd_findings_add(findings, 0, 0, &fault);
    } else {
        char *folder = g_path_get_dirname(path);
        profile = profile_parse(text, length, NULL, catalogue, folder, findings);
        g_free(folder);
    }
    g_free(text);
    return profile;
}

vd_profile *vd_profile_parse(const char *text, size_t length, vd_catalogue *catalogue, vd_findings *findings)
{
    return profile_parse(text, length, NULL, catalogue, ".", findings);
}

vd_profile *vd_profile_copy(const vd_profile *profile)
{
    vd_findings *findings = vd_findings_new("");
    vd_profile *copy = profile_parse(profile->text->str, profile->text->len, profile, NULL, profile->folder, findings);
    vd_findings_free(findings);
    return copy;
}

void vd_profile_free(vd_profile *profile)
{
    if (profile != NULL) {
        vd_wipe(profile->text->str, profile->text->len);
        vd_wipe(profile->memory, vd_set_size(profile->model));
        g_string_free(profile->text, TRUE);
        g_free(profile->folder);
        for (uint16_t i = 0; i < profile->model->setting_count; i++) {
            g_free(profile->secrets[i]);
        }
        g_free(profile->secrets);
        if (profile->base != NULL && --profile->base->holders == 0) {
            vd_profile_free(profile->base);
        }
        g_free(profile->memory);
        g_free(profile);
    }
}

const vd_model *vd_profile_model(const vd_profile *profile)
{
    return profile->model;
}

const vd_set *vd_profile_values(const vd_profile *profile)
{
    return &profile->values;
}

uint32_t vd_profile_firmware(const vd_profile *profile)
{
    uint32_t base = profile->base != NULL ? profile->base->firmware : 0;
    return MAX(profile->firmware, base);
}

const char *vd_profile_secret(const vd_profile *profile, uint16_t setting)
{
    return profile->secrets[setting] != NULL ? profile->secrets[setting]
           : profile->base != NULL           ? profile->base->secrets[setting]
                                             : NULL;
}

const vd_identity *vd_profile_unit(const vd_profile *profile)
{
    return &profile->unit;
}

const char *vd_profile_text(const vd_profile *profile, size_t *length)
{
    *length = profile->text->len;
    return profile->text->str;
}
