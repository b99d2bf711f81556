/* SPDX-License-Identifier: MIT
 * When a restart last showed what a unit has stored. */
#include "parts.h"

#include <string.h>

#include "verdite/host.h"

#define MOST_BYTES (1u << 20) /* of the file of an older Verdite */

void vd_proved_remember(vd_store_file *store, const char *model, const char *serial, const vd_proved *proved)
{
    if (store != NULL) {
        store_do(store, "INSERT OR REPLACE INTO proved (model, serial, at, ran, print) VALUES (?, ?, ?, ?, ?)", "ttnnt",
                 model, serial, (gint64)proved->when, (gint64)proved->ran, proved->print);
    }
}

bool vd_proved_recall(vd_store_file *store, const char *model, const char *serial, vd_proved *proved)
{
    sqlite3_stmt *row =
        store != NULL
            ? store_ask(store, "SELECT at, ran, print FROM proved WHERE model = ? AND serial = ?", "tt", model, serial)
            : NULL;
    bool found =
        row != NULL && store_step(row) == SQLITE_ROW && store_text(row, 2, proved->print, sizeof proved->print);
    proved->when = found ? sqlite3_column_int64(row, 0) : 0;
    proved->ran = found ? sqlite3_column_int64(row, 1) : 0;
    sqlite3_finalize(row);
    return found;
}

/* A group for each unit, named after its model and serial number. */
void proved_take_over(vd_store_file *store)
{
    char *path = vd_state_path("proved.ini"), *text = NULL;
    size_t length = 0;
    GKeyFile *file = g_key_file_new();
    bool there = vd_file_read(path, MOST_BYTES, &text, &length, NULL) == VD_OK &&
                 g_key_file_load_from_data(file, text, length, G_KEY_FILE_NONE, NULL);
    char **groups = there ? g_key_file_get_groups(file, NULL) : NULL;
    for (char **group = groups; group != NULL && *group != NULL; group++) {
        char **names = g_strsplit(*group, " ", 2), *print = g_key_file_get_string(file, *group, "print", NULL);
        vd_proved proved = {.when = g_key_file_get_int64(file, *group, "when", NULL),
                            .ran = g_key_file_get_int64(file, *group, "ran", NULL)};
        if (names[0] != NULL && names[1] != NULL && print != NULL && strlen(print) < sizeof proved.print) {
            g_strlcpy(proved.print, print, sizeof proved.print);
            vd_proved_remember(store, names[0], names[1], &proved);
        }
        g_free(print);
        g_strfreev(names);
    }
    g_strfreev(groups);
    g_key_file_free(file);
    g_free(text);
    g_free(path);
}

void vd_proved_print(const vd_set *set, const uint8_t *which, vd_proved *proved)
{
    GChecksum *sum = g_checksum_new(G_CHECKSUM_SHA256);
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        const vd_setting *setting = &set->model->settings[i];
        if (which[i] != 0 && vd_setting_is_shown(setting) && !setting->secret && vd_set_knows(set, i) &&
            !vd_setting_is(setting, VD_TYPE_RUNS)) {
            char text[2 * VD_MOST_BYTES];
            vd_writer writer = vd_writer_start(text, sizeof text);
            vd_value value = vd_set_get(set, i);
            vd_value_print(setting, &value, &writer);
            g_checksum_update(sum, (const guchar *)setting->words->key, -1);
            g_checksum_update(sum, (const guchar *)"=", 1);
            g_checksum_update(sum, (const guchar *)text, -1);
            g_checksum_update(sum, (const guchar *)"\n", 1);
        }
    }
    g_strlcpy(proved->print, g_checksum_get_string(sum), sizeof proved->print);
    g_checksum_free(sum);
}
