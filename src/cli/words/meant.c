/* SPDX-License-Identifier: MIT
 * Names as they are shown, typed instead of keys: each is taken where only one thing is called so. */
#include "words.h"
#include "../print/print.h"

#include <string.h>

/* Whether a setting is shown by this name: its label, alone, behind that of its group, or behind that of its block. */
static bool is_setting(const void *about, size_t i, const char *word)
{
    const vd_model *model = about;
    const vd_setting *setting = &model->settings[i];
    const vd_block *block = vd_index(setting->block) != VD_NONE ? &model->blocks[vd_index(setting->block)] : NULL;
    char *grouped = g_strdup_printf("%s %s", model->groups[setting->group].label, setting->words->label);
    char *numbered = block != NULL && block->label != NULL
                         ? g_strdup_printf("%s %u %s", block->label, setting->item + 1u, setting->words->label)
                         : g_strdup("");
    bool is = names_alike(setting->words->label, word) || names_alike(grouped, word) || names_alike(numbered, word);
    g_free(numbered);
    g_free(grouped);
    return is;
}

static bool is_channel(const void *about, size_t i, const char *word)
{
    return names_alike(((const vd_model *)about)->channels[i].label, word);
}

static bool is_group(const void *about, size_t i, const char *word)
{
    return names_alike(((const vd_model *)about)->groups[i].label, word);
}

static bool is_variant(const void *about, size_t i, const char *word)
{
    return names_alike(((const vd_model *)about)->variants[i].label, word);
}

static bool is_action(const void *about, size_t i, const char *word)
{
    return names_alike(((const vd_model *)about)->actions[i].label, word);
}

static bool is_model(const void *about, size_t i, const char *word)
{
    const vd_model *model = ((const vd_model *const *)about)[i];
    return names_alike(model->title, word) || names_alike(model->key, word);
}

uint16_t meant_setting(const vd_model *model, const char *word)
{
    uint16_t found = vd_model_find(model, word);
    return found != VD_NONE ? found : names_only(model->setting_count, is_setting, model, word);
}

bool meant_several(cli *c, const vd_model *model, const char *word)
{
    GPtrArray *keys = g_ptr_array_new();
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (is_setting(model, i, word)) {
            g_ptr_array_add(keys, (char *)model->settings[i].words->key);
        }
    }
    bool several = keys->len > 1 && vd_model_find(model, word) == VD_NONE;
    if (several) {
        char *names = names_words(c, keys), *said = g_strdup_printf("\"%s\" names %u settings.", word, keys->len),
             *allowed = g_strdup_printf("Give the key of one: %s.", names);
        report_wrong_words(c, said, allowed);
        g_free(allowed);
        g_free(said);
        g_free(names);
    }
    g_ptr_array_free(keys, TRUE);
    return several;
}

uint16_t meant_channel(const vd_model *model, const char *word)
{
    return names_only(model->channel_count, is_channel, model, word);
}

uint16_t meant_group(const vd_model *model, const char *word)
{
    uint16_t found = vd_model_find_group(model, word);
    return found != VD_NONE ? found : names_only(model->group_count, is_group, model, word);
}

uint16_t meant_variant(const vd_model *model, const char *word)
{
    for (uint8_t i = 0; i < model->variant_count; i++) {
        if (strcmp(model->variants[i].key, word) == 0) {
            return i;
        }
    }
    return names_only(model->variant_count, is_variant, model, word);
}

uint16_t meant_action(const vd_model *model, const char *word)
{
    for (uint8_t i = 0; i < model->action_count; i++) {
        if (strcmp(model->actions[i].key, word) == 0) {
            return i;
        }
    }
    return names_only(model->action_count, is_action, model, word);
}

const char *meant_model(const cli *c, const char *word)
{
    const vd_model *const *models = vd_catalogue_models(c->catalogue);
    size_t count = 0;
    while (models[count] != NULL) {
        count++;
    }
    uint16_t found = names_only(count, is_model, models, word);
    return found != VD_NONE ? models[found]->key : NULL;
}
