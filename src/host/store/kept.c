/* SPDX-License-Identifier: MIT
 * States from before a write that an older Verdite kept as files: each becomes a visit, of which nothing is known but
 * what the unit held before it. */
#include "store_parts.h"

#include <string.h>

#include "../yaml_file.h"

#define MOST_BYTES (1u << 20)

/* Milliseconds from "2026-05-02T08:00:00Z", 0 where it is none. */
static gint64 moment_of(const char *text)
{
    GDateTime *when = text != NULL ? g_date_time_new_from_iso8601(text, NULL) : NULL;
    gint64 moment = when != NULL ? g_date_time_to_unix(when) * 1000 : 0;
    g_clear_pointer(&when, g_date_time_unref);
    return moment;
}

static bool put_values(vd_store_file *store, gint64 visit, yaml_file *file, const yaml_node_t *settings)
{
    bool fine = settings != NULL && settings->type == YAML_MAPPING_NODE;
    for (const yaml_node_pair_t *pair = fine ? settings->data.mapping.pairs.start : NULL;
         fine && pair < settings->data.mapping.pairs.top; pair++) {
        const char *key = yaml_text(file, yaml_node(file, pair->key), "key");
        const char *value = yaml_text(file, yaml_node(file, pair->value), "value");
        fine = key != NULL && value != NULL &&
               store_do(store, "INSERT OR IGNORE INTO setting (key) VALUES (?)", "t", key) &&
               store_do(store,
                        "INSERT OR IGNORE INTO held (visit, setting, before, bits) SELECT ?1, id, ?2, 0 FROM setting"
                        " WHERE key = ?3",
                        "ntt", visit, value, key);
    }
    return fine;
}

static bool take_state(vd_store_file *store, yaml_file *file)
{
    const char *model = NULL, *read = NULL, *maker = "", *product = "", *firmware = "", *serial = "";
    yaml_node_t *root = yaml_root(file), *unit = yaml_member(file, root, "unit");
    bool fine =
        unit != NULL && yaml_take_key(file, root, "model", &model) && yaml_take_text(file, root, "read", true, &read) &&
        yaml_take_text(file, unit, "maker", false, &maker) && yaml_take_text(file, unit, "product", false, &product) &&
        yaml_take_text(file, unit, "firmware", false, &firmware) && yaml_take_text(file, unit, "serial", true, &serial);
    gint64 when = moment_of(read);
    return fine && when > 0 &&
           store_do(store, "INSERT OR IGNORE INTO unit (maker, model, serial) VALUES (?, ?, ?)", "ttt", maker, model,
                    serial) &&
           store_do(store,
                    "INSERT INTO visit (mark, unit, task, began, ended, step, outcome, open, of, product, firmware,"
                    " port, adapter, who, remark, changes, address, baud, framing, new_address, new_baud, new_framing)"
                    " SELECT lower(hex(randomblob(16))), id, 'write', ?1, ?1, 'keep', 'not-known', 0, 0, ?2, ?3, '',"
                    " '', '', '', -1, 0, 0, '', 0, 0, '' FROM unit WHERE maker = ?4 AND model = ?5 AND serial = ?6",
                    "nttttt", when, product, firmware, maker, model, serial) &&
           put_values(store, sqlite3_last_insert_rowid(store->database), file, yaml_member(file, root, "settings"));
}

static int by_name(const void *a, const void *b)
{
    return strcmp(*(char *const *)a, *(char *const *)b);
}

void kept_take_over(vd_store_file *store)
{
    char *folder = vd_state_path("before");
    GDir *dir = g_dir_open(folder, 0, NULL);
    GPtrArray *names = g_ptr_array_new_with_free_func(g_free);
    for (const char *name = dir != NULL ? g_dir_read_name(dir) : NULL; name != NULL; name = g_dir_read_name(dir)) {
        if (g_str_has_suffix(name, ".yaml")) {
            g_ptr_array_add(names, g_build_filename(folder, name, NULL));
        }
    }
    g_ptr_array_sort(names, by_name);
    for (guint i = 0; i < names->len; i++) {
        vd_findings *findings = vd_findings_new("");
        yaml_file file;
        bool loaded = yaml_file_load(&file, names->pdata[i], MOST_BYTES, findings);
        if (loaded && store_do(store, "SAVEPOINT kept", "")) { /* whole, or not at all */
            bool fine = take_state(store, &file);
            fine = fine || store_do(store, "ROLLBACK TO kept", "");
            store_do(store, "RELEASE kept", "");
        }
        yaml_file_free(&file);
        vd_findings_free(findings);
    }
    g_ptr_array_unref(names);
    g_clear_pointer(&dir, g_dir_close);
    g_free(folder);
}
