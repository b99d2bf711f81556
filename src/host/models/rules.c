/* SPDX-License-Identifier: MIT
 * Loading the rules of a model, and preparing it: what the library then complains of is put where it stands in the
 * file. */
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
    char *say = g_strdup_printf("{%s} is not below %s, which is {%s}. Lower the one or raise the other.", names[0],
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
    if (block->outer == VD_NONE) {
        return strcmp(block->key, name) == 0;
    }
    const char *own = strrchr(block->key, '.') + 1;
    char *starred = g_strdup_printf("%s.*.%s", g_array_index(file->blocks, vd_block, block->outer).key, own);
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
    if (rule->block != VD_NONE && (own || g_str_has_prefix(name, "outer."))) {
        vd_spot one = {model_find_in_item(file, node, name, rule->block, 0), 0};
        one.stride = own ? g_array_index(file->blocks, vd_block, rule->block).members : 0;
        g_array_append_val(blame, one);
        return one.setting != VD_NONE;
    }
    GArray *found = g_array_new(FALSE, FALSE, sizeof(uint16_t));
    bool fine = model_add_named(file, node, name, found);
    for (guint i = 0; i < found->len; i++) {
        vd_spot one = {g_array_index(found, uint16_t, i), 0};
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
    vd_rule rule = {.must = "", .when = "", .say = "", .block = VD_NONE};
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
        rule.block = blocks->len > 0 ? g_array_index(blocks, uint16_t, i) : VD_NONE;
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

/* ---- Where the library's complaints belong ---- */

/* The place of a character of a text in the file: exact where the text stands on one line. */
static void note_at(vd_model_file *file, const yaml_node_t *node, int32_t column, const vd_fault *fault)
{
    bool plain = node->type == YAML_SCALAR_NODE && node->start_mark.line == node->end_mark.line;
    bool quoted = plain && node->data.scalar.style != YAML_PLAIN_SCALAR_STYLE;
    int32_t offset = plain && column > 0 ? column - 1 + quoted : 0;
    vd_findings_add(file->yaml.findings, (unsigned)node->start_mark.line + 1,
                    (unsigned)node->start_mark.column + 1 + (unsigned)offset, fault);
}

/* Whether an expression names a setting that was not understood: what is then said of it most likely follows from
 * that. */
static bool names_what_is_wrong(const vd_model_file *file, const char *text)
{
    for (uint16_t i = 0; i < file->model.setting_count; i++) {
        const char *key = file->model.settings[i].words->key;
        const char *member = file->model.settings[i].block != VD_NONE ? strrchr(key, '.') : key;
        if (g_array_index(file->sources, model_source, i).map == NULL && key[0] != '\0' &&
            strstr(text, member) != NULL) {
            return true;
        }
    }
    return false;
}

/* The part of a condition or alarm that is meant, as far as it stands there; else the whole. */
static const yaml_node_t *part_of_alarm(vd_model_file *file, const yaml_node_t *map, int32_t part)
{
    static const char *const keys[][3] = {
        [VD_OF_ALL] = {NULL},
        [VD_OF_SOURCE] = {"watches", NULL},
        [VD_OF_TEST] = {"when-it-is", "is", NULL},
        [VD_OF_RELEASE] = {"release", "when-it-is", "is"},
        [VD_OF_CONDITIONS] = {"only-while", NULL},
        [VD_OF_LATCH] = {"latches", NULL},
        [VD_OF_LONGEST] = {"longest-without", NULL},
        [VD_OF_MEMBERS] = {"all-of", "any-of", NULL},
        [VD_OF_WORDS] = {"announces", NULL},
    };
    const yaml_node_t *test = yaml_member(&file->yaml, map, "when-it-is");
    if (part == VD_OF_RELEASE && test != NULL && yaml_member(&file->yaml, test, "release") != NULL) {
        return test; /* one of its own comes before the alarm's */
    }
    for (size_t i = 0; i < 3 && keys[part][i] != NULL; i++) {
        const yaml_node_t *node = yaml_member(&file->yaml, map, keys[part][i]);
        if (node != NULL) {
            return node;
        }
    }
    return map;
}

static void complain(void *about, const vd_fault *fault, uint16_t rule)
{
    static const char *const parts[] = {"when", "must", "say"};
    static const char *const places[] = {
        [VD_IN_WHOLE] = NULL,        [VD_IN_RANGE] = "range",       [VD_IN_LENGTH] = "length",
        [VD_IN_PLACE] = "at",        [VD_IN_DEFAULT] = "default",   [VD_IN_EDITIONS] = "editions",
        [VD_IN_LINE] = "line",       [VD_IN_IDENTIFY] = "identify", [VD_IN_SPEECH] = "speaks",
        [VD_IN_STORE] = "store",     [VD_IN_RESTART] = "restart",   [VD_IN_LOGIN] = "login",
        [VD_IN_ACTIONS] = "actions", [VD_IN_ABILITIES] = "can",     [VD_IN_SLOTS] = "slots",
        [VD_IN_SETS] = "sets",       [VD_IN_CHANNELS] = "channels", [VD_IN_CONDITIONS] = NULL,
        [VD_IN_ALARMS] = "alarms"};
    vd_model_file *file = about;
    vd_fault full = *fault;
    const yaml_node_t *node = NULL;
    bool follows = fault->status == VD_RULE_AGAINST_DEFAULTS && file->yaml.findings->list->len > 0;
    bool formula = rule != VD_NONE && fault->status == VD_EXPRESSION_WRONG && fault->number[1] == VD_IN_FORMULA;
    const vd_rule *of = rule != VD_NONE && !formula ? &file->model.rules[rule] : NULL;
    if (follows || (formula && names_what_is_wrong(file, file->model.formulas[rule].text)) ||
        (of != NULL && (names_what_is_wrong(file, of->must) || names_what_is_wrong(file, of->when) ||
                        names_what_is_wrong(file, of->say)))) {
        return; /* most likely from what has been said */
    }
    if (formula) {
        node = g_ptr_array_index(file->formula_nodes, rule);
    } else if (rule != VD_NONE) {
        const char *part = parts[fault->number[1]];
        const yaml_node_t *map = g_ptr_array_index(file->rule_nodes, rule);
        node = yaml_member(&file->yaml, map, part);
        node = node != NULL && fault->status == VD_EXPRESSION_WRONG ? node : map;
    } else if (fault->setting != NULL) {
        const yaml_node_t *map = g_array_index(file->sources, model_source, fault->setting - file->model.settings).map;
        if (map == NULL) {
            return; /* it was not understood, and that has been said */
        }
        node = yaml_member(&file->yaml, map, fault->status == VD_EXPRESSION_WRONG ? "when" : places[fault->number[0]]);
        node = node != NULL ? node : map;
    } else if (fault->number[0] == VD_IN_CONDITIONS) {
        node = part_of_alarm(file, g_ptr_array_index(file->condition_nodes, fault->number[1]), fault->number[2]);
    } else if (fault->number[0] == VD_IN_CHANNELS || fault->number[0] == VD_IN_ALARMS) {
        const yaml_node_t *list = yaml_member(&file->yaml, yaml_root(&file->yaml), places[fault->number[0]]);
        bool one = fault->number[1] < list->data.sequence.items.top - list->data.sequence.items.start;
        node = one ? part_of_alarm(file, yaml_node(&file->yaml, list->data.sequence.items.start[fault->number[1]]),
                                   fault->number[2])
                   : list;
    } else if (file->yaml.findings->list->len > 0) {
        return; /* what is wrong with the whole most likely follows from what has been said */
    } else {
        node = yaml_member(&file->yaml, yaml_root(&file->yaml), places[fault->number[0]]);
    }
    if (fault->status == VD_EXPRESSION_WRONG && strstr(fault->allowed, "name of nothing") != NULL) {
        char *suggestion = model_suggest(file, fault->said);
        bool meant = g_str_has_prefix(suggestion, "Do you mean");
        char *all = meant ? g_strdup_printf("%s (d%s)", fault->allowed, suggestion + 1) : g_strdup(fault->allowed);
        full.status = VD_OK;
        vd_fault_note(&full, fault->status, fault->setting, fault->said, all);
        g_free(suggestion);
        g_free(all);
    }
    if (node == NULL) {
        yaml_note_fault(&file->yaml, NULL, &full);
    } else {
        note_at(file, node, fault->status == VD_EXPRESSION_WRONG ? fault->number[0] : 0, &full);
    }
}

bool model_prepare(vd_model_file *file)
{
    size_t size = vd_model_prepare_size(&file->model);
    return vd_model_prepare(&file->model, vd_desk_of(&file->model), model_memory(file, size), size, complain, file,
                            NULL) == VD_OK;
}
