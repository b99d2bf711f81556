/* SPDX-License-Identifier: MIT
 * Changing one value in the text of a profile and nothing else: comments, order, spelling and line ends stay. */
#include "parts.h"

#include <string.h>

/* libyaml's marks count characters, a byte order mark among them. */
static gsize byte_at(const GString *text, size_t character)
{
    return (gsize)(g_utf8_offset_to_pointer(text->str, (glong)character) - text->str);
}

static const char *line_end_of(const GString *text)
{
    return strstr(text->str, "\r\n") != NULL ? "\r\n" : "\n";
}

/* Where the line that holds `at` ends, before its line end. */
static gsize end_of_line(const GString *text, gsize at)
{
    while (at < text->len && text->str[at] != '\n' && text->str[at] != '\r') {
        at++;
    }
    return at;
}

static void replace(GString *text, gsize from, gsize to, const char *with)
{
    g_string_erase(text, (gssize)from, (gssize)(to - from));
    g_string_insert(text, (gssize)from, with);
}

static void replace_value(GString *text, const yaml_node_t *node, const char *value)
{
    gsize from = byte_at(text, node->start_mark.index), to = byte_at(text, node->end_mark.index);
    if (from == to) { /* no value yet: the mark stands right behind the colon */
        char *spaced = g_strdup_printf("%s%s", from > 0 && text->str[from - 1] == ':' ? " " : "", value);
        replace(text, from, to, spaced);
        g_free(spaced);
        return;
    }
    /* A block text ("|") reaches over its line end; what replaces it does not. */
    while (to > from && (text->str[to - 1] == '\n' || text->str[to - 1] == '\r')) {
        to--;
    }
    replace(text, from, to, value);
}

/* The pair behind which a new key belongs: the last of its own group, else the last of all. */
static const yaml_node_pair_t *neighbour(yaml_file *file, const vd_model *model, const yaml_node_t *map, uint8_t group)
{
    const yaml_node_pair_t *best = map->data.mapping.pairs.top - 1;
    for (const yaml_node_pair_t *pair = map->data.mapping.pairs.start; pair < map->data.mapping.pairs.top; pair++) {
        const char *key = (const char *)yaml_node(file, pair->key)->data.scalar.value;
        uint16_t setting = yaml_node(file, pair->key)->type == YAML_SCALAR_NODE ? vd_model_find(model, key) : VD_NONE;
        if (setting != VD_NONE && model->settings[setting].group == group) {
            best = pair;
        }
    }
    return best;
}

static void add_key(GString *text, yaml_file *file, const vd_model *model, uint16_t setting, const char *value)
{
    const yaml_node_t *map = yaml_member(file, yaml_root(file), "settings");
    const char *key = model->settings[setting].words->key, *line_end = line_end_of(text);
    char *added = NULL;
    gsize at = text->len;
    if (map == NULL) {
        bool ended = at == 0 || text->str[at - 1] == '\n';
        added = g_strdup_printf("%ssettings:%s  %s: %s%s", ended ? "" : line_end, line_end, key, value, line_end);
    } else if (map->type != YAML_MAPPING_NODE) { /* "settings:" and nothing behind it */
        at = end_of_line(text, byte_at(text, map->start_mark.index));
        added = g_strdup_printf("%s  %s: %s", line_end, key, value);
    } else if (map->data.mapping.style == YAML_FLOW_MAPPING_STYLE) {
        bool empty = map->data.mapping.pairs.start == map->data.mapping.pairs.top;
        at = byte_at(text, map->end_mark.index) - 1;
        added = g_strdup_printf("%s%s: %s", empty ? "" : ", ", key, value);
    } else {
        const yaml_node_pair_t *after = neighbour(file, model, map, model->settings[setting].group);
        const yaml_node_t *before = yaml_node(file, after->value);
        int indent = (int)yaml_node(file, after->key)->start_mark.column;
        at = byte_at(text, before->end_mark.index);
        while (at > 0 && (text->str[at - 1] == '\n' || text->str[at - 1] == '\r')) {
            at--;
        }
        at = end_of_line(text, at);
        added = g_strdup_printf("%s%*s%s: %s", line_end, indent, "", key, value);
    }
    g_string_insert(text, (gssize)at, added);
    g_free(added);
}

static const yaml_node_t *find_value(yaml_file *file, const char *key)
{
    return yaml_member(file, yaml_member(file, yaml_root(file), "settings"), key);
}

/* The changed text must say what was asked for, and of every other setting what it said before. */
static bool says_the_same(const vd_profile *before, const vd_profile *after, uint16_t setting, const vd_value *value)
{
    for (uint16_t i = 0; i < before->model->setting_count; i++) {
        vd_comparison comparison = vd_set_compare(&before->values, &after->values, i);
        if (i != setting && comparison != VD_SAME && comparison != VD_IN_NEITHER) {
            return false;
        }
    }
    vd_value now = vd_set_get(&after->values, setting);
    return value->type == VD_NOTHING ? now.type == VD_NOTHING : vd_value_equal(&now, value);
}

/* Takes the changed text where it says what is wanted, and nothing else is otherwise. */
static vd_status take_text(vd_profile *profile, const GString *text, uint16_t setting, const vd_value *value,
                           vd_fault *fault)
{
    vd_findings *findings = vd_findings_new("");
    vd_status status = VD_OK;
    vd_profile *changed = profile_parse(text->str, text->len, profile, NULL, profile->folder, findings);
    if (changed == NULL || !says_the_same(profile, changed, setting, value)) {
        status = vd_note_WRONG_SHAPE(fault, profile->model->settings[setting].words->key,
                                     "a plain \"key: value\" on a line of its own; change it by hand");
    } else {
        GString *old = profile->text;
        profile->text = changed->text;
        changed->text = old;
        vd_set_copy(&profile->values, &changed->values);
    }
    vd_profile_free(changed);
    vd_findings_free(findings);
    return status;
}

static vd_status change_text(vd_profile *profile, uint16_t setting, const vd_value *value, vd_fault *fault)
{
    vd_findings *findings = vd_findings_new("");
    GString *text = g_string_new_len(profile->text->str, (gssize)profile->text->len), *quoted = g_string_new("");
    yaml_file file;
    profile_append_value(quoted, &profile->model->settings[setting], value);
    if (yaml_file_parse(&file, text->str, text->len, findings)) {
        const yaml_node_t *node = find_value(&file, profile->model->settings[setting].words->key);
        if (node != NULL) {
            replace_value(text, node, quoted->str);
        } else {
            add_key(text, &file, profile->model, setting, quoted->str);
        }
    }
    yaml_file_free(&file);
    vd_status status = take_text(profile, text, setting, value, fault);
    g_string_free(text, TRUE);
    g_string_free(quoted, TRUE);
    vd_findings_free(findings);
    return status;
}

/* The line of a key, with its line end. */
static void erase_key(GString *text, yaml_file *file, const char *name)
{
    const yaml_node_t *map = yaml_member(file, yaml_root(file), "settings");
    for (const yaml_node_pair_t *pair = map->data.mapping.pairs.start; pair < map->data.mapping.pairs.top; pair++) {
        const yaml_node_t *key = yaml_node(file, pair->key), *value = yaml_node(file, pair->value);
        if (key->type != YAML_SCALAR_NODE || strcmp((const char *)key->data.scalar.value, name) != 0) {
            continue;
        }
        gsize from = byte_at(text, key->start_mark.index), to = byte_at(text, value->end_mark.index);
        while (from > 0 && text->str[from - 1] == ' ') {
            from--;
        }
        while (to > from && text->str[to - 1] == '\n') { /* a block text reaches over its line end */
            to--;
        }
        to = end_of_line(text, to);
        to += to < text->len && text->str[to] == '\r';
        to += to < text->len && text->str[to] == '\n';
        g_string_erase(text, (gssize)from, (gssize)(to - from));
        return;
    }
}

static bool says_itself(const vd_profile *profile, const char *key)
{
    vd_findings *findings = vd_findings_new("");
    yaml_file file;
    bool says =
        yaml_file_parse(&file, profile->text->str, profile->text->len, findings) && find_value(&file, key) != NULL;
    yaml_file_free(&file);
    vd_findings_free(findings);
    return says;
}

vd_status vd_profile_take_out(vd_profile *profile, const char *key, vd_fault *fault)
{
    uint16_t setting = vd_model_find(profile->model, key);
    vd_value left = {.type = VD_NOTHING};
    if (setting == VD_NONE) {
        return profile_note_no_setting(profile->model, key, fault);
    }
    if (profile->base != NULL && !vd_setting_is_own(&profile->model->settings[setting])) {
        left = vd_set_get(&profile->base->values, setting); /* that counts again */
    }
    if (!vd_set_knows(&profile->values, setting)) {
        return vd_note_NO_SUCH_SETTING(fault, key, "The profile does not have it.");
    }
    if (profile->base != NULL && !says_itself(profile, key)) {
        return vd_note_NO_SUCH_SETTING(fault, key, "The profile that it builds on has it: change it there.");
    }
    vd_findings *findings = vd_findings_new("");
    GString *text = g_string_new_len(profile->text->str, (gssize)profile->text->len);
    yaml_file file;
    if (yaml_file_parse(&file, text->str, text->len, findings)) {
        erase_key(text, &file, key);
    }
    yaml_file_free(&file);
    vd_status status = take_text(profile, text, setting, &left, fault);
    g_string_free(text, TRUE);
    vd_findings_free(findings);
    return status;
}

vd_status vd_profile_put(vd_profile *profile, const char *key, const char *typed, vd_fault *fault)
{
    uint16_t setting = vd_model_find(profile->model, key);
    vd_meaning meaning;
    vd_typed value;
    if (setting == VD_NONE) {
        return profile_note_no_setting(profile->model, key, fault);
    }
    const vd_setting *about = &profile->model->settings[setting];
    if (about->access == VD_READ_ONLY) {
        return vd_note_READ_ONLY_SETTING(fault, about);
    }
    if (about->written_by == VD_MAKER) {
        return vd_note_NOT_YOURS(fault, about);
    }
    vd_status status = vd_setting_parse(about, typed, strlen(typed), &value, fault);
    if (status == VD_OK && vd_set_meaning(&profile->values, setting, &meaning)) {
        status = vd_set_check_value(&profile->values, setting, &value.value, fault);
    }
    return status == VD_OK ? change_text(profile, setting, &value.value, fault) : status;
}

/* ---- Saved elsewhere ---- */

/* The n-th value that is a path, or may be one: the model, what it builds on, and each source of a secret. */
static const yaml_node_t *nth_path(yaml_file *file, size_t n)
{
    static const char *const keys[] = {"model", "builds-on"};
    if (n < sizeof keys / sizeof keys[0]) {
        return yaml_member(file, yaml_root(file), keys[n]);
    }
    const yaml_node_t *secrets = yaml_member(file, yaml_root(file), "secrets");
    bool any = secrets != NULL && secrets->type == YAML_MAPPING_NODE;
    const yaml_node_pair_t *pair = any ? secrets->data.mapping.pairs.start + (n - 2) : NULL;
    return pair != NULL && pair < secrets->data.mapping.pairs.top ? yaml_node(file, pair->value) : NULL;
}

/* What stands there in a file of another folder, NULL: the same. A model that is no path is a key. */
static GString *moved(const vd_profile *profile, const char *folder, size_t n, const char *said)
{
    char *is = n >= 2                                ? source_moved(profile->folder, folder, said)
               : n == 1 || strchr(said, '/') != NULL ? path_moved(profile->folder, folder, said)
                                                     : g_strdup(said);
    GString *value = strcmp(is, said) != 0 ? g_string_new("") : NULL;
    if (value != NULL) {
        profile_append_text(value, is);
    }
    g_free(is);
    return value;
}

char *vd_profile_text_for(const vd_profile *profile, const char *path)
{
    char *folder = g_path_get_dirname(path);
    GString *text = g_string_new_len(profile->text->str, (gssize)profile->text->len);
    vd_findings *findings = vd_findings_new("");
    for (size_t n = 0; n < profile->model->setting_count + 2u; n++) {
        yaml_file file;
        const yaml_node_t *node = yaml_file_parse(&file, text->str, text->len, findings) ? nth_path(&file, n) : NULL;
        if (node != NULL && node->type == YAML_SCALAR_NODE) {
            GString *value = moved(profile, folder, n, (const char *)node->data.scalar.value);
            if (value != NULL) {
                replace_value(text, node, value->str);
                g_string_free(value, TRUE);
            }
        }
        yaml_file_free(&file);
        if (node == NULL && n >= 2) {
            break;
        }
    }
    vd_findings_free(findings);
    g_free(folder);
    return g_string_free(text, FALSE);
}
