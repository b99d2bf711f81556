/* SPDX-License-Identifier: MIT
 * When a restart last showed what a unit has stored: a small file in the state folder, a group for each unit. */
#include "verdite/host.h"

#include <string.h>

#define MOST_BYTES (1u << 20)

/* Brackets and line ends would break the file; serial numbers come from units. */
static char *group_of(const char *model, const char *serial)
{
    char *group = g_strdup_printf("%s %s", model, serial);
    return g_strdelimit(group, "[]\r\n", '_');
}

static GKeyFile *load(const char *path)
{
    GKeyFile *file = g_key_file_new();
    char *text = NULL;
    size_t length = 0;
    if (vd_file_read(path, MOST_BYTES, &text, &length, NULL) == VD_OK) {
        g_key_file_load_from_data(file, text, length, G_KEY_FILE_NONE, NULL);
    }
    g_free(text);
    return file;
}

bool vd_proved_recall(const char *model, const char *serial, vd_proved *proved)
{
    char *path = vd_state_path("proved.ini"), *group = group_of(model, serial), *print = NULL;
    GKeyFile *file = load(path);
    GError *error = NULL;
    proved->when = g_key_file_get_int64(file, group, "when", &error);
    proved->ran = error == NULL ? g_key_file_get_int64(file, group, "ran", &error) : 0;
    print = error == NULL ? g_key_file_get_string(file, group, "print", &error) : NULL;
    bool known = error == NULL;
    g_strlcpy(proved->print, print != NULL ? print : "", sizeof proved->print);
    g_clear_error(&error);
    g_free(print);
    g_free(group);
    g_free(path);
    g_key_file_free(file);
    return known;
}

void vd_proved_remember(const char *model, const char *serial, const vd_proved *proved)
{
    char *path = vd_state_path("proved.ini"), *group = group_of(model, serial);
    int lock = vd_state_lock();
    GKeyFile *file = load(path);
    gsize length = 0;
    g_key_file_set_int64(file, group, "when", proved->when);
    g_key_file_set_int64(file, group, "ran", proved->ran);
    g_key_file_set_string(file, group, "print", proved->print);
    char *text = g_key_file_to_data(file, &length, NULL);
    if (lock >= 0) {
        vd_file_save(path, &(vd_file_text){text, length, false}, NULL);
    }
    vd_state_unlock(lock);
    g_free(text);
    g_free(group);
    g_free(path);
    g_key_file_free(file);
}

void vd_proved_print(const vd_set *set, const uint8_t *which, vd_proved *proved)
{
    GChecksum *sum = g_checksum_new(G_CHECKSUM_SHA256);
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        const vd_setting *setting = &set->model->settings[i];
        if (which[i] != 0 && vd_setting_is_shown(setting) && !setting->secret && vd_set_knows(set, i)) {
            char text[2 * VD_MOST_BYTES];
            vd_writer writer = vd_writer_start(text, sizeof text);
            vd_value value = vd_set_get(set, i);
            vd_value_print(setting, &value, &writer);
            g_checksum_update(sum, (const guchar *)setting->key, -1);
            g_checksum_update(sum, (const guchar *)"=", 1);
            g_checksum_update(sum, (const guchar *)text, -1);
            g_checksum_update(sum, (const guchar *)"\n", 1);
        }
    }
    g_strlcpy(proved->print, g_checksum_get_string(sum), sizeof proved->print);
    g_checksum_free(sum);
}
