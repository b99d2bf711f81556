/* SPDX-License-Identifier: MIT
 * Loading what writing a setting, or an action, causes: words such as restart, or mappings with what belongs to them.
 */
#include "parts.h"

#include <string.h>

#define MOST_CAUSES 20u

const char *vd_effect_word(vd_effect effect)
{
    return words_effect[effect];
}

/* A word alone is a mapping with nothing else in it. */
static bool take_word_alone(vd_model_file *file, const yaml_node_t *node, vd_cause *cause)
{
    const char *word = yaml_text(&file->yaml, node, "what is caused");
    for (uint8_t i = 0; word != NULL && words_effect[i] != NULL; i++) {
        if (strcmp(words_effect[i], word) == 0) {
            cause->effect = i;
            return cause->effect != VD_EFFECT_TELL ||
                   yaml_note(
                       &file->yaml, node,
                       vd_fault_of_WRONG_SHAPE(word, "who is told as well: {what: tell, who: the grid operator}"));
        }
    }
    return word != NULL &&
           yaml_note(&file->yaml, node,
                     vd_fault_of_WRONG_SHAPE(word, "one of restart, link, outage, tell, for-good, asked-apart, or such "
                                                   "as {what: outage, lasts: 5 min}"));
}

static bool take_cause(vd_model_file *file, const yaml_node_t *node, vd_cause *cause)
{
    yaml_file *yaml = &file->yaml;
    int64_t lasts = 0;
    *cause = (vd_cause){.who = "", .help = ""};
    if (node->type != YAML_MAPPING_NODE) {
        return take_word_alone(file, node, cause);
    }
    bool fine = yaml_check_keys(yaml, node, keys_cause);
    fine = yaml_take_word(yaml, node, "what", true, words_effect, &cause->effect) && fine;
    bool tells = cause->effect == VD_EFFECT_TELL, lasting = cause->effect == VD_EFFECT_OUTAGE;
    fine = model_take_text(file, node, "who", fine && tells, &cause->who) && fine;
    fine = model_take_text(file, node, "help", false, &cause->help) && fine;
    fine = yaml_take_duration(yaml, node, "lasts", false, 366 * (int64_t)86400000, &lasts) && fine;
    cause->lasts = (uint32_t)MIN(lasts, UINT32_MAX);
    const char *stray = !tells && cause->who[0] != '\0' ? "who" : !lasting && lasts > 0 ? "lasts" : NULL;
    return fine && (stray == NULL || yaml_note(yaml, yaml_member(yaml, node, stray),
                                               vd_fault_of_NO_SUCH_KEY(stray, tells || strcmp(stray, "who") == 0
                                                                                  ? "It goes with what: tell."
                                                                                  : "It goes with what: outage.")));
}

/* Whether an effect stands there a second time; several may have to be told. */
static bool stands_twice(const vd_cause *list, uint8_t count, const vd_cause *cause)
{
    bool twice = false;
    for (uint8_t i = 0; i < count; i++) {
        twice = twice || (list[i].effect == cause->effect && strcmp(list[i].who, cause->who) == 0);
    }
    return twice;
}

bool model_take_causes(vd_model_file *file, const yaml_node_t *map, vd_causes *causes)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "causes");
    *causes = (vd_causes){NULL, 0};
    if (node == NULL) {
        return true;
    }
    gsize count = 1;
    const yaml_node_item_t *items = NULL;
    bool many = node->type == YAML_SEQUENCE_NODE;
    bool fine = !many || yaml_take_list(&file->yaml, map, "causes", MOST_CAUSES, &count, &items);
    vd_cause *list = model_memory(file, count * sizeof *list);
    uint8_t good = 0;
    for (gsize i = 0; i < count && (fine || i > 0); i++) {
        const yaml_node_t *each = many ? yaml_node(&file->yaml, items[i]) : node;
        if (!take_cause(file, each, &list[good])) {
            fine = false; /* it counts as not given */
        } else if (stands_twice(list, good, &list[good])) {
            fine = yaml_note(&file->yaml, each, vd_fault_of_KEY_TWICE(words_effect[list[good].effect]));
        } else {
            good++;
        }
    }
    *causes = (vd_causes){list, good};
    return fine;
}
