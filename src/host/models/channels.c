/* SPDX-License-Identifier: MIT
 * Loading channels: what a unit may watch, each by the reading that shows it.
 */
#include "parts.h"

#include <string.h>

/* has: of a reading that is flags, the one that is the channel. */
static bool take_flag(vd_model_file *file, const yaml_node_t *map, const vd_setting *about, vd_channel *channel)
{
    const char *name = NULL;
    if (!yaml_take_text(&file->yaml, map, "has", false, &name) || name == NULL) {
        return name == NULL;
    }
    for (uint16_t i = 0; about->traits->id == VD_FLAGS && i < about->choice_count; i++) {
        if (strcmp(about->choices[i].name, name) == 0) {
            channel->flag = (uint8_t)about->choices[i].number;
        }
    }
    return channel->flag != VD_NO_FLAG ||
           yaml_note(&file->yaml, yaml_member(&file->yaml, map, "has"),
                     vd_fault_of_WRONG_SHAPE(name, "a choice of its reading, which is flags"));
}

static bool take_channel(vd_model_file *file, const yaml_node_t *map, vd_channel *channel)
{
    const char *reads = NULL;
    int64_t holds_for = 0;
    bool fine = yaml_check_keys(&file->yaml, map, keys_channels);
    *channel = (vd_channel){.flag = VD_NO_FLAG};
    fine = model_take_key(file, map, "key", &channel->key) && fine;
    fine = model_take_text(file, map, "label", true, &channel->label) && fine;
    fine = model_take_text(file, map, "called", false, &channel->called) && fine;
    fine = model_take_text(file, map, "more", false, &channel->more) && fine;
    fine = model_take_text(file, map, "less", false, &channel->less) && fine;
    fine = yaml_take_duration(&file->yaml, map, "holds-for", false, G_MAXUINT32, &holds_for) && fine;
    fine = model_take_formula(file, map, "wired", VD_NONE, VD_GIVES_TRUTH, &channel->wired) && fine;
    channel->holds_for = (uint32_t)holds_for;
    if (!yaml_take_text(&file->yaml, map, "reads", false, &reads) || reads == NULL) {
        return fine && reads == NULL;
    }
    channel->reads = vd_ref_to(model_find_named(file, yaml_member(&file->yaml, map, "reads"), reads));
    return vd_index(channel->reads) != VD_NONE &&
           take_flag(file, map, &g_array_index(file->settings, vd_setting, vd_index(channel->reads)), channel) && fine;
}

bool model_take_channels(vd_model_file *file, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, root, "channels", VD_MOST_CHANNELS, &count, &items);
    vd_channel *channels = model_memory(file, (count + 1) * sizeof *channels);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        bool sound = take_channel(file, map, &channels[i]);
        if (sound && g_hash_table_contains(file->channels, channels[i].key)) {
            sound = yaml_note(&file->yaml, map, vd_fault_of_KEY_TWICE(channels[i].key));
        }
        if (sound) {
            g_hash_table_insert(file->channels, (gpointer)channels[i].key, &channels[i]);
        }
        fine = sound && fine;
    }
    file->model.channels = channels;
    file->model.channel_count = (uint8_t)(fine ? count : 0);
    return fine;
}
