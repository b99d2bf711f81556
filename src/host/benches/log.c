/* SPDX-License-Identifier: MIT
 * The log that the readings of a unit on a bench follow. */
#include "parts.h"

#include <string.h>

#include "verdite/log.h"

/* columns: [input-2=Door], as they are said to the tool. */
static char **take_columns(yaml_file *file, const yaml_node_t *map, bool *fine)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    *fine = yaml_take_list(file, map, "columns", VD_MOST_CHANNELS + 1u, &count, &items);
    char **columns = g_new0(char *, count + 1);
    for (gsize i = 0; i < count; i++) {
        const char *text = yaml_text(file, yaml_node(file, items[i]), "CHANNEL=COLUMN");
        *fine = *fine && text != NULL;
        columns[i] = g_strdup(text != NULL ? text : "");
    }
    return columns;
}

static bool take_zone(yaml_file *file, const yaml_node_t *map, int16_t *zone)
{
    static const vd_setting_words words = {.key = "zone"};
    static const vd_setting about = {
        .words = &words, .measure = "", .traits = &vd_type_zone, .tick = 1, .step = 1, .min = -720, .max = 840};
    const char *text = NULL;
    vd_typed typed;
    *zone = VD_NO_ZONE;
    if (!yaml_take_text(file, map, "zone", false, &text) || text == NULL) {
        return text == NULL;
    }
    if (vd_setting_parse(&about, text, strlen(text), &typed, NULL) != VD_OK) {
        return yaml_note(file, yaml_member(file, map, "zone"),
                         vd_fault_of_WRONG_SHAPE(text, "an offset such as \"+02:00\""));
    }
    *zone = (int16_t)typed.value.number;
    return true;
}

bool bench_take_log(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, vd_bench_unit *unit)
{
    static const char *const keys[] = {"log", "columns", "zone", NULL};
    const char *name = NULL;
    int16_t zone = VD_NO_ZONE;
    vd_fault fault = {0};
    bool fine = true;
    if (map == NULL) {
        return true;
    }
    char **columns = take_columns(file, map, &fine);
    fine = yaml_check_keys(file, map, keys) && yaml_take_text(file, map, "log", true, &name) &&
           take_zone(file, map, &zone) && fine;
    if (fine) {
        char *path = g_path_is_absolute(name) ? g_strdup(name) : g_build_filename(bench->folder, name, NULL);
        vd_log *log = vd_log_open(path, unit->model, columns, zone, &fault);
        unit->follows = log != NULL ? vd_log_rows(log, 0, &fault) : NULL;
        vd_log_free(log);
        g_free(path);
        fine = unit->follows != NULL;
        if (fine) {
            g_ptr_array_add(bench->logs, (gpointer)unit->follows);
        } else {
            yaml_note_fault(file, map, &fault);
        }
    }
    g_strfreev(columns);
    return fine;
}
