/* SPDX-License-Identifier: MIT
 * What constant tables begin with: sizes, settings by number, and what whoever includes them may define. */
#include "tables.h"

#include "verdite/types.h"

static unsigned bytes_of(const vd_model *model)
{
    unsigned bytes = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *setting = &model->settings[i];
        bytes += vd_setting_is(setting, VD_TYPE_BYTES) ? setting->length : 0;
    }
    return bytes;
}

/* Two keys may be one name in C, or what the file itself calls so: the later one bears its number, too. */
static void add_enumerators(GString *file, const vd_model *model, const char *capital)
{
    static const char *const own[] = {"H", "LANGUAGE", "TABLES", "ALARMS", "WITHOUT_ALARMS", "SET_SIZE", "VISIT_SIZE"};
    GHashTable *names = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    for (size_t i = 0; i < G_N_ELEMENTS(own); i++) {
        g_hash_table_add(names, g_strdup(own[i]));
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        char *name = g_strdelimit(g_ascii_strup(model->settings[i].words->key, -1), ".-", '_');
        g_string_append_printf(file, "%s\n    %s_%s", i > 0 ? "," : "", capital, name);
        if (g_hash_table_contains(names, name)) {
            g_string_append_printf(file, "_%u", i);
        }
        g_hash_table_add(names, name);
    }
    g_hash_table_destroy(names);
}

void tables_add_head(GString *file, const vd_model *model, const char *prefix, const char *capital, bool words)
{
    char *language = g_strdelimit(g_strdup(model->language->name), "-", '_'), *capitals = g_ascii_strup(language, -1);
    g_string_append_printf(file,
                           "/* %s: made by verdite tables%s; do not edit. Include it wherever the model is named, and "
                           "once, in C or C++, with\n"
                           " * %s_TABLES defined. A unit's own firmware may define %s_LANGUAGE as NULL before, and "
                           "links no client then;\n"
                           " * one that watches no alarms may define %s_WITHOUT_ALARMS. */\n"
                           "#ifndef %s_H\n#define %s_H\n\n#include \"verdite/verdite.h\"\n\n"
                           "VD_STATIC_ASSERT(VD_TABLES_EDITION == %u, \"these tables are of another edition of the "
                           "library: make them anew\");\n\n",
                           model->key, words ? " --with-words" : "", capital, capital, capital, capital, capital,
                           VD_TABLES_EDITION);
    g_string_append_printf(file, "#ifndef %s_LANGUAGE\n#define %s_LANGUAGE (&vd_%s)\n#endif\n\n", capital, capital,
                           language);
    char *size = g_strdup_printf("%uu, %uu, %s", model->setting_count, bytes_of(model),
                                 model->language->has_words ? "VD_SET_ODD" : "0u");
    g_string_append_printf(
        file,
        "/* Bytes of memory that a set of its values and a visit need. */\n"
        "#define %s_SET_SIZE VD_SET_SIZE(%s)\n#define %s_VISIT_SIZE VD_VISIT_SIZE(%s, VD_%s_STATE(%uu))\n\n",
        capital, size, capital, size, capitals, model->lines.longest);
    g_free(size);
    g_string_append(file, "VD_C_BEGIN\n\n/* Its settings, by number. */\nenum {");
    add_enumerators(file, model, capital);
    g_string_append_printf(file, "\n};\n\nextern const vd_model %s;\n\n", prefix);
    g_free(capitals);
    g_free(language);
}
