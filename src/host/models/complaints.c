/* SPDX-License-Identifier: MIT
 * Preparing a model: what the library then complains of is put where it stands in the file. */
#include "parts.h"

#include <string.h>

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
        const char *member = vd_index(file->model.settings[i].block) != VD_NONE ? strrchr(key, '.') : key;
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

/* What most likely follows from what has been said is not said again. */
static bool follows(const vd_model_file *file, const vd_fault *fault, const char *formula, const vd_rule *rule)
{
    return (fault->status == VD_RULE_AGAINST_DEFAULTS && file->yaml.findings->list->len > 0) ||
           (formula != NULL && names_what_is_wrong(file, formula)) ||
           (rule != NULL && (names_what_is_wrong(file, rule->must) || names_what_is_wrong(file, rule->when) ||
                             names_what_is_wrong(file, rule->say)));
}

static const char *const places[] = {
    [VD_IN_WHOLE] = NULL,        [VD_IN_RANGE] = "range",        [VD_IN_LENGTH] = "length",
    [VD_IN_PLACE] = "at",        [VD_IN_DEFAULT] = "default",    [VD_IN_EDITIONS] = "editions",
    [VD_IN_LINE] = "line",       [VD_IN_IDENTIFY] = "identify",  [VD_IN_SPEECH] = "speaks",
    [VD_IN_STORE] = "store",     [VD_IN_RESTART] = "restart",    [VD_IN_LOGIN] = "login",
    [VD_IN_ACTIONS] = "actions", [VD_IN_ABILITIES] = "can",      [VD_IN_SLOTS] = "slots",
    [VD_IN_SETS] = "sets",       [VD_IN_CHANNELS] = "channels",  [VD_IN_CONDITIONS] = NULL,
    [VD_IN_ALARMS] = "alarms",   [VD_IN_INTERVALS] = "intervals"};

/* The part of a rule that is meant, as far as it stands there; else the whole. */
static const yaml_node_t *part_of_rule(vd_model_file *file, const vd_fault *fault, uint16_t rule)
{
    static const char *const parts[] = {"when", "must", "say"};
    const yaml_node_t *map = g_ptr_array_index(file->rule_nodes, rule);
    const yaml_node_t *node = yaml_member(&file->yaml, map, parts[fault->number[1]]);
    return node != NULL && fault->status == VD_EXPRESSION_WRONG ? node : map;
}

/* The same of a setting; NULL: it was not understood, and that has been said. */
static const yaml_node_t *part_of_setting(vd_model_file *file, const vd_fault *fault)
{
    const yaml_node_t *map = g_array_index(file->sources, model_source, fault->setting - file->model.settings).map;
    const char *place = fault->status == VD_EXPRESSION_WRONG ? "when" : places[fault->number[0]];
    const yaml_node_t *node = map != NULL ? yaml_member(&file->yaml, map, place) : NULL;
    return node != NULL ? node : map;
}

/* The same of a condition, a channel, an alarm, or of the model itself. */
static const yaml_node_t *part_of_whole(vd_model_file *file, const vd_fault *fault)
{
    int32_t where = fault->number[0], index = fault->number[1];
    if (where == VD_IN_CONDITIONS) {
        return part_of_alarm(file, g_ptr_array_index(file->condition_nodes, index), fault->number[2]);
    }
    if (where == VD_IN_INTERVALS && (guint)index < file->interval_nodes->len) {
        return g_ptr_array_index(file->interval_nodes, index);
    }
    const yaml_node_t *node = yaml_member(&file->yaml, yaml_root(&file->yaml), places[where]);
    bool one = (where == VD_IN_CHANNELS || where == VD_IN_ALARMS) &&
               index < node->data.sequence.items.top - node->data.sequence.items.start;
    return one ? part_of_alarm(file, yaml_node(&file->yaml, node->data.sequence.items.start[index]), fault->number[2])
               : node;
}

/* The fault with what was probably meant, where a name is that of nothing. */
static vd_fault with_suggestion(vd_model_file *file, const vd_fault *fault)
{
    vd_fault full = *fault;
    if (fault->status == VD_EXPRESSION_WRONG && strstr(fault->allowed, "name is unknown") != NULL) {
        char *suggestion = model_suggest(file, fault->said);
        bool meant = g_str_has_prefix(suggestion, "Do you mean");
        char *all = meant ? g_strdup_printf("%s (d%s)", fault->allowed, suggestion + 1) : g_strdup(fault->allowed);
        full.status = VD_OK;
        vd_fault_note(&full, fault->status, fault->setting, fault->said, all);
        g_free(suggestion);
        g_free(all);
    }
    return full;
}

static void complain(void *about, const vd_fault *fault, uint16_t rule)
{
    vd_model_file *file = about;
    bool formula = rule != VD_NONE && fault->status == VD_EXPRESSION_WRONG && fault->number[1] == VD_IN_FORMULA;
    bool whole = rule == VD_NONE && fault->setting == NULL && fault->number[0] != VD_IN_CONDITIONS &&
                 fault->number[0] != VD_IN_CHANNELS && fault->number[0] != VD_IN_ALARMS &&
                 fault->number[0] != VD_IN_INTERVALS;
    if (follows(file, fault, formula ? file->model.formulas[rule].text : NULL,
                rule != VD_NONE && !formula ? &file->model.rules[rule] : NULL) ||
        (whole && file->yaml.findings->list->len > 0)) {
        return;
    }
    const yaml_node_t *node = formula                  ? g_ptr_array_index(file->formula_nodes, rule)
                              : rule != VD_NONE        ? part_of_rule(file, fault, rule)
                              : fault->setting != NULL ? part_of_setting(file, fault)
                                                       : part_of_whole(file, fault);
    vd_fault full = with_suggestion(file, fault);
    if (node != NULL) {
        note_at(file, node, fault->status == VD_EXPRESSION_WRONG ? fault->number[0] : 0, &full);
    } else if (fault->setting == NULL) {
        yaml_note_fault(&file->yaml, NULL, &full);
    }
}

bool model_prepare(vd_model_file *file)
{
    size_t size = vd_model_prepare_size(&file->model);
    return vd_model_prepare(&file->model, vd_desk_of(&file->model), model_memory(file, size), size, complain, file,
                            NULL) == VD_OK;
}
