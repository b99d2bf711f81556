/* SPDX-License-Identifier: MIT
 * Names as they are shown, typed instead of keys: each is taken where only one thing is called so. */
#include "words.h"
#include "../print/print.h"

#include <string.h>

/* Whether a setting is shown by this name: its label, alone, behind that of its group, or behind that of its block. */
static bool is_called(const vd_model *model, uint16_t i, const char *word)
{
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

uint16_t meant_setting(const vd_model *model, const char *word)
{
    uint16_t found = vd_model_find(model, word);
    unsigned count = 0;
    for (uint16_t i = 0; found == VD_NONE && i < model->setting_count; i++) {
        count += is_called(model, i, word);
    }
    for (uint16_t i = 0; count == 1 && found == VD_NONE; i++) {
        found = is_called(model, i, word) ? i : found;
    }
    return found;
}

uint16_t meant_channel(const vd_model *model, const char *word)
{
    uint16_t found = VD_NONE, count = 0;
    for (uint16_t i = 0; i < model->channel_count; i++) {
        bool is = names_alike(model->channels[i].label, word);
        found = is ? i : found;
        count = (uint16_t)(count + is);
    }
    return count == 1 ? found : (uint16_t)VD_NONE;
}

const char *meant_model(const cli *c, const char *word)
{
    const vd_model *const *models = vd_catalogue_models(c->catalogue);
    const char *key = NULL;
    unsigned count = 0;
    for (size_t i = 0; models[i] != NULL; i++) {
        bool is = names_alike(models[i]->title, word) || names_alike(models[i]->key, word);
        key = is ? models[i]->key : key;
        count += is;
    }
    return count == 1 ? key : NULL;
}
