/* SPDX-License-Identifier: MIT
 * What served last time: a small file in the state folder, newest entry first. */
#include "verdite/host.h"
#include "verdite/text.h"

#include <errno.h>
#include <glib/gstdio.h>
#include <jansson.h>
#include <string.h>

#define MOST_ENTRIES 200u
#define MOST_BYTES (1u << 20)

static bool take(json_t *entry, vd_served *served)
{
    const char *port = json_string_value(json_object_get(entry, "port"));
    const char *adapter = json_string_value(json_object_get(entry, "adapter"));
    const char *model = json_string_value(json_object_get(entry, "model"));
    const char *framing = json_string_value(json_object_get(entry, "framing"));
    json_int_t baud = json_integer_value(json_object_get(entry, "baud"));
    json_int_t address = json_integer_value(json_object_get(entry, "address"));
    if (port == NULL || adapter == NULL || model == NULL || framing == NULL || baud < 50 || baud > 4000000 ||
        address < 0 || address > 247 || vd_text_line(port, strlen(port)) < strlen(port) ||
        !vd_framing_parse(framing, &served->line)) {
        return false;
    }
    g_strlcpy(served->port, port, sizeof served->port);
    g_strlcpy(served->adapter, adapter, sizeof served->adapter);
    g_strlcpy(served->model, model, sizeof served->model);
    served->line.baud = (uint32_t)baud;
    served->address = (uint8_t)address;
    return true;
}

/* The entries, or an empty list; a file that holds something else is set aside. */
static json_t *load(char **set_aside)
{
    char *path = vd_state_path("served.json");
    json_t *entries = NULL;
    vd_served served;
    char *text = NULL;
    size_t length = 0;
    if (vd_file_read(path, MOST_BYTES, &text, &length, NULL) == VD_OK) {
        entries = json_loadb(text, length, 0, NULL);
        bool sound = json_is_array(entries);
        for (size_t i = 0; sound && i < json_array_size(entries); i++) {
            sound = take(json_array_get(entries, i), &served);
        }
        if (!sound) {
            char *aside = g_strconcat(path, ".damaged", NULL);
            json_decref(entries);
            entries = NULL;
            if (g_rename(path, aside) == 0 && set_aside != NULL) {
                *set_aside = g_steal_pointer(&aside);
            }
            g_free(aside);
        }
    }
    g_free(text);
    g_free(path);
    return entries != NULL ? entries : json_array();
}

bool vd_served_recall(const char *model, const char *adapter, vd_served *served, char **set_aside)
{
    if (set_aside != NULL) {
        *set_aside = NULL;
    }
    json_t *entries = load(set_aside);
    bool found = false;
    for (size_t i = 0; i < json_array_size(entries) && !found; i++) {
        found = take(json_array_get(entries, i), served) && (model == NULL || strcmp(served->model, model) == 0) &&
                (adapter == NULL || strcmp(served->adapter, adapter) == 0);
    }
    json_decref(entries);
    return found;
}

void vd_served_remember(const vd_served *served)
{
    int lock = vd_state_lock();
    if (lock < 0) {
        return;
    }
    json_t *entries = load(NULL);
    char framing[] = {(char)('0' + served->line.data_bits), served->line.parity, (char)('0' + served->line.stop_bits),
                      '\0'};
    json_t *entry =
        json_pack("{s:s, s:s, s:s, s:i, s:s, s:i}", "port", served->port, "adapter", served->adapter, "model",
                  served->model, "baud", (int)served->line.baud, "framing", framing, "address", served->address);
    for (size_t i = json_array_size(entries); i-- > 0;) {
        vd_served other;
        bool same = take(json_array_get(entries, i), &other) && strcmp(other.model, served->model) == 0 &&
                    strcmp(other.port, served->port) == 0 && strcmp(other.adapter, served->adapter) == 0;
        if (same || i >= MOST_ENTRIES) {
            json_array_remove(entries, i);
        }
    }
    json_array_insert_new(entries, 0, entry);
    char *text = json_dumps(entries, JSON_INDENT(1)), *path = vd_state_path("served.json");
    vd_file_save(path, &(vd_file_text){text, strlen(text), false}, NULL);
    vd_state_unlock(lock);
    free(text);
    g_free(path);
    json_decref(entries);
}
