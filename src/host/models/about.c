/* SPDX-License-Identifier: MIT
 * Loading what people are to know of a model: what it can do, its variants, its actions, the start-up page, what must
 * be known before leaving, how one logs in. */
#include "parts.h"

#include <string.h>

static bool take_ability(vd_model_file *file, const yaml_node_t *map, void *item)
{
    vd_ability *ability = item;
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = model_take_key(file, map, "key", &ability->key);
    fine = model_take_text(file, map, "label", false, &ability->label) && fine;
    fine = yaml_take_text(&file->yaml, map, "variant", false, &ability->variant) && fine;
    ability->variant = ability->variant != NULL ? model_text(file, ability->variant) : NULL;
    fine = yaml_take_list(&file->yaml, map, "words", 50, &count, &items) && fine;
    fine = yaml_take_integer(&file->yaml, map, "number", count == 0, 0, G_MAXINT32, &ability->number) && fine;
    GString *words = g_string_new("");
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *word = yaml_text(&file->yaml, node, "a word");
        if (word != NULL && (word[0] == '\0' || strpbrk(word, " =>") != NULL)) {
            fine =
                yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE(word, "one word, with hyphens instead of blanks"));
        }
        g_string_append_printf(words, "%s%s", i > 0 ? " " : "", word != NULL ? word : "");
    }
    ability->words = model_text(file, words->str);
    g_string_free(words, TRUE);
    return fine;
}

static bool take_variant(vd_model_file *file, const yaml_node_t *map, void *item)
{
    vd_variant *variant = item;
    bool fine = model_take_key(file, map, "key", &variant->key);
    fine = model_take_text(file, map, "label", false, &variant->label) && fine;
    return model_take_text(file, map, "product", true, &variant->product) && fine;
}

static bool take_action(vd_model_file *file, const yaml_node_t *map, void *item)
{
    vd_action *action = item;
    int64_t takes = 0;
    bool fine = model_take_key(file, map, "key", &action->key);
    fine = model_take_text(file, map, "label", true, &action->label) && fine;
    fine = model_take_text(file, map, "help", false, &action->help) && fine;
    fine = model_take_order(file, map, &action->order) && fine;
    fine = yaml_take_word(&file->yaml, map, "does", false, words_does, &action->deed) && fine;
    fine = yaml_take_duration(&file->yaml, map, "takes", false, 3600000, &takes) && fine;
    fine = model_take_causes(file, map, &action->causes) && fine;
    action->takes = (uint32_t)takes;
    return fine;
}

static bool take_topic(vd_model_file *file, const yaml_node_t *map, void *item)
{
    vd_topic *topic = item;
    bool fine = model_take_text(file, map, "label", true, &topic->label);
    return model_take_text(file, map, "text", true, &topic->text) && fine;
}

static bool take_errand(vd_model_file *file, const yaml_node_t *map, void *item)
{
    vd_errand *errand = item;
    bool fine = model_take_text(file, map, "label", true, &errand->label);
    fine = model_take_text(file, map, "help", false, &errand->help) && fine;
    fine = model_take_text(file, map, "who", true, &errand->who) && fine;
    return model_take_settings_named(file, map, "settings", &errand->settings, &errand->setting_count) && fine;
}

static bool take_login(vd_model_file *file, const yaml_node_t *root)
{
    yaml_file *yaml = &file->yaml;
    vd_login *login = &file->model.login;
    const yaml_node_t *map = yaml_member(yaml, root, "login");
    const char *password = NULL, *left = NULL, *word = "";
    int64_t tries = 0, lasts = 0, address = 0, refusal = 0;
    uint8_t guarded = 0;
    *login = (vd_login){.help = "", .recoverable = true};
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(yaml, map, keys_login);
    fine = model_take_text(file, map, "help", true, &login->help) && fine;
    fine = yaml_take_text(yaml, map, "password", false, &password) && fine;
    fine = yaml_take_integer(yaml, map, "tries", false, 1, 255, &tries) && fine;
    fine = yaml_take_truth(yaml, map, "recoverable", &login->recoverable) && fine;
    fine = yaml_take_text(yaml, map, "left", false, &left) && fine;
    fine = yaml_take_duration(yaml, map, "lasts", false, 86400000, &lasts) && fine;
    fine = model_take_text(file, map, "word", false, &word) && fine;
    fine = yaml_take_integer(yaml, map, "register", false, 1, 0xFFFF, &address) && fine;
    fine = yaml_take_truth(yaml, map, "may-be-none", &login->may_be_none) && fine;
    fine = yaml_take_integer(yaml, map, "refusal", false, 1, 4, &refusal) && fine;
    login->order.address = (uint16_t)address;
    login->refusal = (uint8_t)refusal;
    login->order.word = word[0] != '\0' ? word : NULL;
    login->lasts = (uint32_t)lasts;
    login->left = left != NULL ? vd_ref_to(model_find_named(file, yaml_member(yaml, map, "left"), left)) : login->left;
    fine = yaml_take_word(yaml, map, "guards", false, words_guards, &guarded) && fine;
    for (guint i = 0; i < file->settings->len && guarded == 1; i++) {
        vd_setting *setting = &g_array_index(file->settings, vd_setting, i);
        bool open = setting->access != VD_READ_ONLY && setting->written_by == VD_ANYONE;
        setting->written_by = open ? VD_FITTER : setting->written_by;
    }
    login->tries = (uint8_t)tries;
    login->setting = password != NULL ? vd_ref_to(model_find_named(file, yaml_member(yaml, map, "password"), password))
                                      : login->setting;
    return fine && (password == NULL || vd_index(login->setting) != VD_NONE) &&
           (left == NULL || vd_index(login->left) != VD_NONE);
}

/* Readings that stand under "restart"; the settings are known only now. NULL node: none. */
static bool take_reading(vd_model_file *file, const yaml_node_t *map, const char *key, vd_type type,
                         const char *allowed, vd_ref *reading)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, key);
    const char *named = NULL;
    if (node == NULL) {
        return true;
    }
    if (!yaml_take_text(&file->yaml, map, key, true, &named)) {
        return false;
    }
    uint16_t setting = model_find_named(file, node, named);
    if (setting == VD_NONE) {
        return false;
    }
    const vd_setting *about = &g_array_index(file->settings, vd_setting, setting);
    bool defaulted = about->has_initial || about->initial_text != NULL;
    if (about->access != VD_READ_ONLY || (type != VD_NOTHING ? about->traits->id != type : !defaulted)) {
        return yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE(named, allowed));
    }
    *reading = vd_ref_to(setting);
    return true;
}

static bool take_restart(vd_model_file *file, const yaml_node_t *root)
{
    const yaml_node_t *map = yaml_member(&file->yaml, root, "restart");
    const char *undoes = NULL;
    vd_model *model = &file->model;
    bool fine = take_reading(file, map, "running-time", VD_DURATION, "a setting that is a duration and read-only",
                             &model->running);
    if (map == NULL || yaml_member(&file->yaml, map, "undoes") == NULL) {
        return fine;
    }
    fine = yaml_take_text(&file->yaml, map, "undoes", true, &undoes) && fine;
    if (undoes != NULL && strcmp(undoes, "login") == 0) {
        model->undoes = VD_UNDOES_LOGIN;
        return fine;
    }
    bool named = take_reading(file, map, "undoes", VD_NOTHING,
                              "login, or a setting that is read-only and has a default", &model->undone);
    model->undoes = named ? VD_UNDOES_READING : VD_UNDOES_NOTHING; /* what was refused counts as not given */
    return named && fine;
}

bool model_take_about(vd_model_file *file, const yaml_node_t *root)
{
    vd_model *model = &file->model;
    bool fine = take_login(file, root);
    fine = take_restart(file, root) && fine;
    model->abilities =
        model_take_items(file, root, "can", keys_can, sizeof(vd_ability), &model->ability_count, &fine, take_ability);
    model->variants = model_take_items(file, root, "variants", keys_variants, sizeof(vd_variant), &model->variant_count,
                                       &fine, take_variant);
    model->actions = model_take_items(file, root, "actions", keys_actions, sizeof(vd_action), &model->action_count,
                                      &fine, take_action);
    model->topics = model_take_items(file, root, "start-up", keys_start_up, sizeof(vd_topic), &model->topic_count,
                                     &fine, take_topic);
    model->errands = model_take_items(file, root, "before-leaving", keys_before_leaving, sizeof(vd_errand),
                                      &model->errand_count, &fine, take_errand);
    return fine;
}
