/* SPDX-License-Identifier: MIT
 * Writing a new profile from what a unit holds. */
#include "parts.h"

#include <string.h>

/* Numbers with a unit stay plain, so does a simple word that no YAML reader takes for something else. */
static bool may_stand_plain(const vd_setting *setting, const char *text)
{
    static const char *const taken[] = {"on", "off", "yes", "no", "y", "n", "true", "false", "null", NULL};
    char *small = g_ascii_strdown(text, -1);
    bool word = g_ascii_isalpha(text[0]) && !g_strv_contains(taken, small);
    bool digits = text[0] != '\0' && strspn(text, "0123456789") == strlen(text);
    g_free(small);
    for (const char *at = text; *at != '\0'; at++) {
        word = word && (g_ascii_isalnum(*at) || *at == '-');
    }
    switch ((vd_type)setting->traits->id) {
    case VD_INTEGER:
    case VD_COUNTER:
    case VD_PORT:
    case VD_DECIMAL:
    case VD_DURATION: return true;
    case VD_CHOICE: return word || (digits && text[0] != '0');
    default: return false;
    }
}

void profile_append_value(GString *text, const vd_setting *setting, const vd_value *value)
{
    char printed[512];
    vd_writer writer = vd_writer_start(printed, sizeof printed);
    vd_value_print(setting, value, &writer);
    if (may_stand_plain(setting, printed)) {
        g_string_append(text, printed);
        return;
    }
    g_string_append_c(text, '"');
    for (const char *at = printed; *at != '\0'; at++) {
        if (*at == '"' || *at == '\\') {
            g_string_append_c(text, '\\');
        }
        g_string_append_c(text, *at);
    }
    g_string_append_c(text, '"');
}

void profile_append_text(GString *text, const char *value)
{
    static const vd_setting plain = {.traits = &vd_type_text, .measure = "", .length = 128};
    vd_value as_text = {.type = VD_TEXT, .text = value, .length = (uint16_t)strlen(value)};
    profile_append_value(text, &plain, &as_text);
}

static void append_quoted(GString *text, const char *key, const char *value)
{
    g_string_append_printf(text, "  %s: ", key);
    profile_append_text(text, value);
    g_string_append_c(text, '\n');
}

static void append_setting(GString *text, const vd_set *set, uint16_t i)
{
    const vd_setting *setting = &set->model->settings[i];
    vd_value value = vd_set_get(set, i);
    vd_fault fault = {0};
    if (setting->secret) {
        g_string_append_printf(text, "  # skipped, secret: %s\n", setting->words->key);
        return;
    }
    if (setting->traits->id == VD_CLOCK && value.type != VD_NOTHING && value.number != VD_NOW) {
        g_string_append_printf(text, "  # skipped, runs: %s; \"now\" sets it\n", setting->words->key);
        return;
    }
    if (setting->traits->id == VD_COUNTER) {
        g_string_append_printf(text, "  # skipped, counts: %s; a number sets where it goes on from\n",
                               setting->words->key);
        return;
    }
    if (!vd_set_knows(set, i)) {
        size_t length = 0;
        const char *odd = vd_set_odd(set, i, &length);
        g_string_append_printf(text, "  # skipped, not a value: %s: %.*s\n", setting->words->key, (int)length, odd);
        return;
    }
    vd_status status = vd_set_check(set, i, &fault);
    if (status != VD_OK && vd_status_class(status) != VD_CLASS_PARTLY) {
        char words[512];
        vd_fault_words(&fault, false, words, sizeof words);
        g_string_append_printf(text, "  # skipped, not allowed by the model: %s\n", words);
        return;
    }
    g_string_append_printf(text, "  %s: ", setting->words->key);
    profile_append_value(text, setting, &value);
    g_string_append(text, vd_setting_is_own(setting) ? " # its own\n" : "\n");
}

static GString *compose_head(const vd_model *model, const vd_identity *unit)
{
    GString *text = g_string_new("");
    g_string_append_printf(text, "# %s%s%s\n", model->title, unit != NULL && unit->serial[0] != '\0' ? ", unit " : "",
                           unit != NULL ? unit->serial : "");
    g_string_append_printf(text, "verdite-profile: %d\nmodel: %s\n", PROFILE_FORMAT, model->key);
    if (unit != NULL) {
        g_string_append(text, "unit:\n");
        append_quoted(text, "maker", unit->maker);
        append_quoted(text, "product", unit->product);
        append_quoted(text, "firmware", unit->firmware);
        append_quoted(text, "serial", unit->serial);
    }
    return text;
}

/* The settings, behind all else. */
static char *compose_rest(GString *text, const vd_set *set)
{
    const vd_model *model = set->model;
    g_string_append(text, "settings:\n");
    for (uint8_t group = 0; group < model->group_count; group++) {
        bool headed = false;
        for (uint16_t i = 0; i < model->setting_count; i++) {
            const vd_setting *setting = &model->settings[i];
            bool mine = setting->group == group && setting->access != VD_READ_ONLY && setting->written_by != VD_MAKER &&
                        vd_set_exists(set, i) != VD_FAILS;
            if (mine && vd_set_heard(set, i)) {
                if (!headed) {
                    g_string_append_printf(text, "  # %s\n", model->groups[group].label);
                }
                headed = true;
                append_setting(text, set, i);
            }
        }
    }
    return g_string_free(text, FALSE);
}

char *vd_profile_compose(const vd_model *model, const vd_set *set, const vd_identity *unit, const char *when)
{
    GString *text = compose_head(model, unit);
    if (when != NULL) {
        g_string_append_printf(text, "read: \"%s\"\n", when);
    }
    return compose_rest(text, set);
}

static void append_secrets(GString *text, const vd_profile *from, const uint8_t *which, const vd_model *model,
                           const char *path)
{
    char *folder = g_path_get_dirname(path);
    bool headed = false;
    for (uint16_t i = 0; i < from->model->setting_count; i++) {
        const char *source = which[i] != 0 ? vd_profile_secret(from, i) : NULL,
                   *key = from->model->settings[i].words->key;
        uint16_t same = source != NULL ? vd_model_find(model, key) : (uint16_t)VD_NONE;
        if (same != VD_NONE && model->settings[same].secret) {
            char *moved = source_moved(".", folder, source);
            g_string_append(text, headed ? "" : "secrets:\n");
            append_quoted(text, key, moved);
            g_free(moved);
            headed = true;
        }
    }
    g_free(folder);
}

char *vd_profile_compose_like(const vd_profile *from, const uint8_t *which, const vd_set *set, const vd_identity *unit,
                              const char *path)
{
    GString *text = compose_head(set->model, unit);
    uint32_t needs = vd_profile_firmware(from);
    if (needs != 0 && from->model == set->model && (set->firmware == 0 || set->firmware >= needs)) {
        char version[24];
        vd_writer writer = vd_writer_start(version, sizeof version);
        vd_firmware_print(needs, &writer);
        g_string_append_printf(text, "needs-firmware: \"%s\"\n", version);
    }
    append_secrets(text, from, which, set->model, path);
    return compose_rest(text, set);
}
