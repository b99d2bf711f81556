/* SPDX-License-Identifier: MIT
 * Loading the rules of a model. */
#include "parts.h"

#include <string.h>

#define MOST_RULES 10000u

/* `order: [low, high]` is short for a rule that both ends of a pair have in common. */
static bool take_order(vd_model_file *file, const yaml_node_t *map, vd_rule *rule)
{
    const yaml_node_t *list = yaml_member(&file->yaml, map, "order");
    const char *names[2] = {NULL, NULL};
    if (list->type != YAML_SEQUENCE_NODE || list->data.sequence.items.top - list->data.sequence.items.start != 2) {
        return yaml_note(&file->yaml, list, vd_fault_of_WRONG_SHAPE("order", "two settings: [the lower, the higher]"));
    }
    for (int i = 0; i < 2; i++) {
        names[i] = yaml_text(&file->yaml, yaml_node(&file->yaml, list->data.sequence.items.start[i]), "a setting");
    }
    if (names[0] == NULL || names[1] == NULL) {
        return false;
    }
    const char *spoken = g_str_has_prefix(names[1], "this.") ? names[1] + strlen("this.") : names[1];
    char *must = g_strdup_printf("%s < %s", names[0], names[1]);
    char *say = g_strdup_printf("{%s} is not below %s, which is {%s}. Lower the first or raise the second.", names[0],
                                spoken, names[1]);
    rule->must = model_text(file, must);
    rule->say = rule->say[0] != '\0' ? rule->say : model_text(file, say);
    g_free(must);
    g_free(say);
    return true;
}

/* Whether a block is the one that a rule names: by its key, or "alarm.*.side" for those in all items of another. */
static bool is_named(const vd_model_file *file, const vd_block *block, const char *name)
{
    if (vd_index(block->outer) == VD_NONE) {
        return strcmp(block->key, name) == 0;
    }
    const char *own = strrchr(block->key, '.') + 1;
    char *starred = g_strdup_printf("%s.*.%s", g_array_index(file->blocks, vd_block, vd_index(block->outer)).key, own);
    bool named = strcmp(starred, name) == 0 || strcmp(block->key, name) == 0;
    g_free(starred);
    return named;
}

/* The blocks that a rule is about, item by item; none: it is about no block. */
static bool take_each(vd_model_file *file, const yaml_node_t *map, GArray *blocks)
{
    const char *name = NULL;
    if (!yaml_take_text(&file->yaml, map, "each", false, &name) || name == NULL) {
        return name == NULL;
    }
    for (guint i = 0; i < file->blocks->len; i++) {
        uint16_t index = (uint16_t)i;
        if (is_named(file, &g_array_index(file->blocks, vd_block, i), name)) {
            g_array_append_val(blocks, index);
        }
    }
    return blocks->len > 0 || yaml_note(&file->yaml, yaml_member(&file->yaml, map, "each"),
                                        vd_fault_of_WRONG_SHAPE(name, "the key of a block under settings, or such as "
                                                                      "alarm.*.side for a block in a block"));
}

/* Adds those to blame by one name: of this item, a setting, a block, an item of one. */
static bool add_blamed(vd_model_file *file, const yaml_node_t *node, const vd_rule *rule, GArray *blame)
{
    const char *name = yaml_text(&file->yaml, node, "a setting");
    if (name == NULL) {
        return false;
    }
    bool own = g_str_has_prefix(name, "this.");
    if (vd_index(rule->block) != VD_NONE && (own || g_str_has_prefix(name, "outer."))) {
        vd_spot one = {vd_ref_to(model_find_in_item(file, node, name, vd_index(rule->block), 0)), 0};
        one.stride = own ? g_array_index(file->blocks, vd_block, vd_index(rule->block)).members : 0;
        g_array_append_val(blame, one);
        return vd_index(one.setting) != VD_NONE;
    }
    GArray *found = g_array_new(FALSE, FALSE, sizeof(uint16_t));
    bool fine = model_add_named(file, node, name, found);
    for (guint i = 0; i < found->len; i++) {
        vd_spot one = {vd_ref_to(g_array_index(found, uint16_t, i)), 0};
        g_array_append_val(blame, one);
    }
    g_array_free(found, TRUE);
    return fine;
}

/* Settings to blame: a list, or one alone; of an order both. */
static bool take_blame(vd_model_file *file, const yaml_node_t *map, vd_rule *rule)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "blame");
    GArray *blame = g_array_new(FALSE, FALSE, sizeof(vd_spot));
    bool fine = true;
    if (node != NULL && node->type == YAML_SCALAR_NODE) {
        fine = add_blamed(file, node, rule, blame);
    } else {
        gsize count = 0;
        const yaml_node_item_t *items = NULL;
        const char *key = node == NULL && yaml_member(&file->yaml, map, "order") != NULL ? "order" : "blame";
        fine = yaml_take_list(&file->yaml, map, key, 1000, &count, &items);
        for (gsize i = 0; i < count; i++) {
            fine = add_blamed(file, yaml_node(&file->yaml, items[i]), rule, blame) && fine;
        }
    }
    vd_spot *all = model_memory(file, blame->len * sizeof *all);
    if (fine && blame->len > 0) {
        memcpy(all, blame->data, blame->len * sizeof *all);
    }
    rule->blame = all;
    rule->blame_count = (uint16_t)(fine ? blame->len : 0);
    g_array_free(blame, TRUE);
    return fine;
}

/* One rule of the file, or as many as there are blocks that it is about. */
static bool take_rule(vd_model_file *file, const yaml_node_t *map)
{
    bool ordered = yaml_member(&file->yaml, map, "order") != NULL;
    vd_rule rule = {.must = "", .when = "", .say = ""};
    GArray *blocks = g_array_new(FALSE, FALSE, sizeof(uint16_t));
    bool fine = yaml_check_keys(&file->yaml, map, keys_rules);
    fine = model_take_text(file, map, "must", !ordered, &rule.must) && fine;
    fine = model_take_text(file, map, "when", false, &rule.when) && fine;
    fine = model_take_text(file, map, "say", false, &rule.say) && fine;
    fine = yaml_take_word(&file->yaml, map, "severity", false, words_severity, &rule.severity) && fine;
    fine = yaml_take_word(&file->yaml, map, "enforced", false, words_enforced, &rule.enforced) && fine;
    fine = take_each(file, map, blocks) && fine;
    if (ordered && rule.must[0] != '\0') {
        fine = yaml_note(&file->yaml, yaml_member(&file->yaml, map, "must"),
                         vd_fault_of_WRONG_SHAPE("must", "either must or order, not both"));
    } else if (ordered) {
        fine = take_order(file, map, &rule) && fine;
    }
    for (guint i = 0; i < MAX(blocks->len, 1) && fine && file->rules->len < MOST_RULES; i++) {
        rule.block = vd_ref_to(blocks->len > 0 ? g_array_index(blocks, uint16_t, i) : VD_NONE);
        fine = take_blame(file, map, &rule);
        if (fine) { /* what was not understood is not judged a second time */
            g_array_append_val(file->rules, rule);
            g_ptr_array_add(file->rule_nodes, (gpointer)map);
        }
    }
    g_array_free(blocks, TRUE);
    return fine;
}

bool model_take_rules(vd_model_file *file, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, root, "rules", MOST_RULES, &count, &items);
    for (gsize i = 0; i < count; i++) {
        fine = take_rule(file, yaml_node(&file->yaml, items[i])) && fine;
    }
    file->model.rules = (const vd_rule *)(const void *)file->rules->data;
    file->model.rule_count = (uint16_t)file->rules->len;
    return fine;
}
