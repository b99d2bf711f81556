/* SPDX-License-Identifier: MIT
 * Loading a model from its file (docs/model.md). Its parts are read in the other files of this folder; whether the
 * whole is sound is judged by vd_model_prepare(), as it is for a model compiled into firmware. Everything that is wrong
 * is told in one run. */
#include "parts.h"

#include <string.h>

#define MODEL_MOST (16u << 20) /* bytes of a model file: ten thousand settings take about 5 MB */
#define MODEL_FORMAT 1

static bool take_group(vd_model_file *file, const yaml_node_t *map, void *item)
{
    vd_group *group = item;
    bool fine = model_take_key(file, map, "key", &group->key);
    return model_take_text(file, map, "label", true, &group->label) && fine;
}

static bool take_groups(vd_model_file *file, const yaml_node_t *root)
{
    bool fine = true;
    vd_group *groups = model_take_items(file, root, "groups", keys_groups, sizeof *groups, &file->model.group_count,
                                        &fine, take_group);
    file->model.groups = groups;
    return model_refuse_twice(file, root, "groups", &groups->key, sizeof *groups, file->model.group_count) && fine;
}

static bool take_all(vd_model_file *file)
{
    yaml_node_t *root = yaml_root(&file->yaml);
    if (root == NULL) {
        return yaml_note(&file->yaml, NULL, vd_fault_of_WRONG_SHAPE("an empty file", "a model"));
    }
    if (root->type != YAML_MAPPING_NODE || !yaml_take_format(&file->yaml, root, "verdite-model", MODEL_FORMAT)) {
        return root->type == YAML_MAPPING_NODE
                   ? false
                   : yaml_note(&file->yaml, root, vd_fault_of_WRONG_SHAPE("this file", "a model"));
    }
    /* Each part is read, whatever became of those before, so that all that is wrong is told at once. */
    bool fine = yaml_refuse_aliases(&file->yaml);
    if (!fine) {
        return false;
    }
    fine = yaml_check_keys(&file->yaml, root, keys_model);
    fine = model_take_key(file, root, "model", &file->model.key) && fine;
    fine = model_take_text(file, root, "title", true, &file->model.title) && fine;
    fine = model_take_text(file, root, "summary", false, &file->model.summary) && fine;
    fine = model_take_talk(file, root) && fine;
    fine = take_groups(file, root) && fine;
    fine = model_take_choice_lists(file, root) && fine;
    fine = model_take_measures(file, root) && fine;
    fine = model_take_settings(file, root) && fine;
    fine = model_take_presets(file, root) && fine;
    fine = model_take_slots(file, root) && fine;
    fine = model_take_about(file, root) && fine;
    fine = model_take_rules(file, root) && fine;
    if (model_take_alarms(file, root)) { /* else what is wrong has been said, and the rest follows from it */
        fine = model_take_intervals(file, root) && fine;
        model_settle_formulas(file);
    } else {
        fine = false;
    }
    return model_prepare(file) && fine && model_settle_days(file);
}

bool vd_is_model_file(const char *path)
{
    char *text = NULL;
    size_t length = 0;
    bool read = vd_file_read(path, MODEL_MOST, &text, &length, NULL) == VD_OK;
    const char *at = read ? strstr(text, "verdite-model:") : NULL;
    bool is = at != NULL && (at == text || at[-1] == '\n');
    g_free(text);
    return is;
}

vd_model_file *vd_model_file_load(const char *path, vd_findings *findings)
{
    vd_model_file *file = g_new0(vd_model_file, 1);
    file->memory = g_ptr_array_new_with_free_func(g_free);
    file->texts = g_string_chunk_new(4096);
    file->settings = g_array_new(FALSE, TRUE, sizeof(vd_setting));
    file->sources = g_array_new(FALSE, TRUE, sizeof(model_source));
    file->rules = g_array_new(FALSE, TRUE, sizeof(vd_rule));
    file->rule_nodes = g_ptr_array_new();
    file->broken = g_ptr_array_new();
    file->blocks = g_array_new(FALSE, TRUE, sizeof(vd_block));
    file->keys = g_hash_table_new(g_str_hash, g_str_equal);
    file->choice_lists = g_hash_table_new(g_str_hash, g_str_equal);
    file->channels = g_hash_table_new(g_str_hash, g_str_equal);
    file->formulas = g_array_new(FALSE, TRUE, sizeof(vd_formula));
    file->tests = g_array_new(FALSE, TRUE, sizeof(vd_test));
    file->conditions = g_array_new(FALSE, TRUE, sizeof(vd_condition));
    file->alarms = g_array_new(FALSE, TRUE, sizeof(vd_alarm));
    file->formula_nodes = g_ptr_array_new();
    file->condition_nodes = g_ptr_array_new();
    file->interval_nodes = g_ptr_array_new();
    file->day_numbers = model_day_numbers();
    bool fine = yaml_file_load(&file->yaml, path, MODEL_MOST, findings) && take_all(file);
    yaml_file_free(&file->yaml);
    g_hash_table_destroy(file->keys);
    g_hash_table_destroy(file->choice_lists);
    g_hash_table_destroy(file->channels);
    g_array_free(file->formulas, TRUE);
    g_array_free(file->tests, TRUE);
    g_array_free(file->conditions, TRUE);
    g_array_free(file->alarms, TRUE);
    g_ptr_array_free(file->formula_nodes, TRUE);
    g_ptr_array_free(file->condition_nodes, TRUE);
    g_ptr_array_free(file->interval_nodes, TRUE);
    g_array_free(file->day_numbers, TRUE);
    g_array_free(file->sources, TRUE);
    g_ptr_array_free(file->rule_nodes, TRUE);
    g_ptr_array_free(file->broken, TRUE);
    if (!fine || findings->list->len > 0) {
        vd_model_file_free(file);
        return NULL;
    }
    return file;
}

void vd_model_file_free(vd_model_file *file)
{
    if (file != NULL) {
        g_ptr_array_free(file->memory, TRUE);
        g_array_free(file->settings, TRUE);
        g_array_free(file->blocks, TRUE);
        g_array_free(file->rules, TRUE);
        g_string_chunk_free(file->texts);
        g_free(file);
    }
}

const vd_model *vd_model_file_model(const vd_model_file *file)
{
    return &file->model;
}
