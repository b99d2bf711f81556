/* SPDX-License-Identifier: MIT
 * A file of days in words. */
#include "parts.h"
#include "week.h"

#define MOST_FILE (256u << 10) /* bytes */
#define MOST_DAYS 32u
#define DAYS_FORMAT 1

static bool take_day(vd_days *days, yaml_file *file, const yaml_node_t *map, uint8_t *on)
{
    static const char *const keys[] = {"label", "is", "on", NULL};
    const char *label = NULL, *text = NULL;
    vd_fault fault = {0};
    bool fine = yaml_check_keys(file, map, keys) && yaml_take_text(file, map, "label", true, &label) &&
                yaml_take_text(file, map, "is", true, &text) && week_take_days(file, map, "on", on);
    return fine && (days_add(days, label, text, &fault) || yaml_note_fault(file, yaml_member(file, map, "is"), &fault));
}

static bool take_days(vd_days *days, yaml_file *file)
{
    static const char *const keys[] = {"verdite-days", "days", NULL};
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    const yaml_node_t *root = yaml_root(file);
    uint8_t on[MOST_DAYS] = {0};
    vd_day week[7];
    if (root == NULL || root->type != YAML_MAPPING_NODE) {
        return yaml_note(file, root, vd_fault_of_WRONG_SHAPE("this file", "days: \"verdite-days: 1\" and a list"));
    }
    bool fine = yaml_refuse_aliases(file) && yaml_take_format(file, root, "verdite-days", DAYS_FORMAT) &&
                yaml_check_keys(file, root, keys) && yaml_take_list(file, root, "days", MOST_DAYS, &count, &items);
    if (fine && count == 0) {
        return yaml_note_missing(file, root, "days", "a list of days");
    }
    for (gsize i = 0; i < count; i++) {
        fine = take_day(days, file, yaml_node(file, items[i]), &on[i]) && fine;
    }
    gsize made = count;
    fine = fine &&
           week_make(file, yaml_member(file, root, "days"), &g_array_index(days->list, vd_day, 0), on, week, &made);
    if (fine && made != count) {
        g_array_set_size(days->list, 0);
        g_array_append_vals(days->list, week, (guint)made);
    }
    return fine;
}

vd_days *vd_days_load(const vd_model *model, const char *path, vd_findings *findings)
{
    yaml_file file;
    vd_days *days = days_new(model);
    bool fine = yaml_file_load(&file, path, MOST_FILE, findings) && take_days(days, &file);
    yaml_file_free(&file);
    if (!fine) {
        vd_days_free(days);
        return NULL;
    }
    return days;
}
