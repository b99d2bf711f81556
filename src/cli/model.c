/* SPDX-License-Identifier: MIT
 * verdite model: what a kind of unit has. */
#include "cli.h"

#include <string.h>

static const char *const type_names[] = {
    [VD_INTEGER] = "whole number", [VD_DECIMAL] = "decimal", [VD_TRUTH] = "on or off",
    [VD_CHOICE] = "choice",        [VD_TEXT] = "text",       [VD_DURATION] = "duration"};
static const char *const access_names[] = {
    [VD_READ_WRITE] = "read and write", [VD_READ_ONLY] = "read only", [VD_WRITE_ONLY] = "write only"};

static void allowed_text(const vd_setting *setting, char *text, size_t size)
{
    vd_writer writer = vd_writer_start(text, size);
    vd_setting_print_allowed(setting, setting->places, &writer);
}

static json_t *setting_json(const vd_model *model, const vd_setting *setting, const vd_value *initial)
{
    char allowed[512];
    allowed_text(setting, allowed, sizeof allowed);
    json_t *object = json_pack("{s:s, s:s, s:s, s:s, s:s, s:s, s:s, s:o}", "key", setting->key, "group",
                               model->groups[setting->group].key, "label", setting->label, "help", setting->help,
                               "type", type_names[setting->type], "access", access_names[setting->access], "allowed",
                               allowed, "default", value_json(setting, initial));
    if (setting->places_from != VD_NONE) {
        json_object_set_new(object, "decimals-from", json_string(model->settings[setting->places_from].key));
    }
    return object;
}

static void show_one(const cli *c, const vd_model *model, uint16_t i, const vd_value *initial)
{
    const vd_setting *setting = &model->settings[i];
    char allowed[512];
    allowed_text(setting, allowed, sizeof allowed);
    printf("%s%s%s  %s, in group %s\n\n", tone_on(c->colour, TONE_STRONG), setting->key,
           tone_off(c->colour, TONE_STRONG), setting->label, model->groups[setting->group].label);
    print_wrapped(stdout, 0, 100, "  ", setting->help);
    printf("\n");
    printf("  type      %s, %s\n", type_names[setting->type], access_names[setting->access]);
    printf("  takes     %s\n", allowed);
    if (initial->type != VD_NOTHING) {
        const char *text = value_text(setting, initial);
        printf("  default   %s\n", text[0] != '\0' ? text : "empty");
    }
    for (uint16_t k = 0; k < setting->choice_count; k++) {
        printf("  %s %-10s %s\n", k == 0 ? "choices  " : "         ", setting->choices[k].name,
               setting->choices[k].label);
    }
    if (setting->places_from != VD_NONE) {
        printf("  decimals  as %s says; shown here with the factory's %u\n", model->settings[setting->places_from].key,
               setting->places);
    }
    for (uint16_t k = 0; k < model->pair_count; k++) {
        const vd_pair *pair = &model->pairs[k];
        if (pair->low == i) {
            printf("  order     must be below %s\n", model->settings[pair->high].key);
        } else if (pair->high == i) {
            printf("  order     must be above %s\n", model->settings[pair->low].key);
        }
    }
    if (setting->role != VD_ROLE_NONE) {
        printf("  note      shown and checked; Verdite does not change it yet, since it cannot follow the unit\n");
    }
}

static void show_all(cli *c, const vd_model *model, const vd_set *initial, const uint8_t *which)
{
    char line[32];
    vd_writer writer = vd_writer_start(line, sizeof line);
    vd_line_print(&model->line, &writer);
    printf("%s%s%s  (%s)\n", tone_on(c->colour, TONE_STRONG), model->title, tone_off(c->colour, TONE_STRONG),
           model->key);
    print_wrapped(stdout, 0, 100, "", model->summary);
    printf("From the factory: %s, address %u. Stored %s.\n", line, model->address_factory,
           model->store.needed ? "on command; until then a change is lost with the supply" : "as it is written");
    bool any = false;
    for (uint8_t group = 0; group < model->group_count; group++) {
        bool headed = false;
        for (uint16_t i = 0; i < model->setting_count; i++) {
            const vd_setting *setting = &model->settings[i];
            if (setting->group != group || (which != NULL && which[i] == 0)) {
                continue;
            }
            if (!headed) {
                char *label = padded(model->groups[group].label, 26);
                const char *columns = any ? "" : "  default       takes";
                printf("\n%s%s%s%s\n", tone_on(c->colour, TONE_STRONG), label, columns,
                       tone_off(c->colour, TONE_STRONG));
                g_free(label);
            }
            headed = any = true;
            char allowed[512];
            allowed_text(setting, allowed, sizeof allowed);
            vd_value value = vd_set_get(initial, i);
            const char *text = setting->access == VD_READ_ONLY    ? "read only"
                               : setting->access == VD_WRITE_ONLY ? "write only"
                               : value.type == VD_NOTHING         ? ""
                                                                  : value_text(setting, &value);
            char *key = padded(setting->key, 24), *shown = padded(text[0] != '\0' ? text : "-", 12);
            printf("  %s  %s  %s\n", key, shown, allowed);
            g_free(key);
            g_free(shown);
        }
    }
}

static vd_class list_models(cli *c)
{
    json_t *list = json_array();
    const char *const *keys = vd_catalogue_keys(c->catalogue);
    for (size_t i = 0; keys[i] != NULL; i++) {
        const vd_model *model = choose_model_named(c, keys[i]);
        if (model != NULL) {
            json_array_append_new(list, json_pack("{s:s, s:s, s:i}", "model", model->key, "title", model->title,
                                                  "settings", model->setting_count));
            if (!c->options.json) {
                printf("%-10s %s, %u settings\n", model->key, model->title, model->setting_count);
            }
        }
    }
    json_object_set_new(c->result, "models", list);
    if (keys[0] == NULL) {
        report_words(c, VD_NO_SUCH_MODEL, "", vd_catalogue_folder(c->catalogue));
    }
    return c->worst;
}

static const char *setting_key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->settings[i].key;
}

static void describe(cli *c, const vd_model *model, const char *key, const vd_set *initial, const uint8_t *which)
{
    json_t *list = json_array();
    uint16_t only = key != NULL ? vd_model_find(model, key) : VD_NONE;
    if (key != NULL && only == VD_NONE) {
        char *suggestion = vd_suggest(key, model->setting_count, setting_key_at, model);
        report_words(c, VD_NO_SUCH_SETTING, key, suggestion);
        c->worst = VD_CLASS_USAGE;
        g_free(suggestion);
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_value value = vd_set_get(initial, i);
        bool shown = key != NULL ? i == only : which == NULL || which[i] != 0;
        if (shown) {
            json_array_append_new(list, setting_json(model, &model->settings[i], &value));
        }
        if (shown && key != NULL && !c->options.json) {
            show_one(c, model, i, &value);
        }
    }
    if (key == NULL && !c->options.json) {
        show_all(c, model, initial, which);
    }
    json_object_set_new(c->result, "model", json_string(model->key));
    json_object_set_new(c->result, "settings", list);
}

vd_class command_model(cli *c)
{
    char **words = c->options.words;
    uint8_t *which = NULL;
    if (words == NULL) {
        return list_models(c);
    }
    if (words[1] != NULL && words[2] != NULL) {
        return report_words(c, VD_WRONG_WORDS, "model takes at most a model and a setting.",
                            "See: verdite model --help");
    }
    c->options.model = g_strdup(words[0]);
    const vd_model *model = choose_model(c);
    if (model != NULL && choose_group(c, model, &which)) {
        vd_set initial;
        void *memory = g_malloc0(vd_set_size(model));
        vd_set_start(&initial, model, memory, vd_set_size(model));
        vd_set_put_initial(&initial);
        describe(c, model, words[1], &initial, which);
        g_free(memory);
    }
    g_free(which);
    return c->worst;
}
