/* SPDX-License-Identifier: MIT
 * Loading comparisons and conditions: what alarms, and what they depend on, are measured by. */
#include "comparisons.h"
#include "verdite/alarm_words.h"

#include <string.h>

#define MOST_TESTS 16 /* of one alarm or condition */

vd_ref model_add_formula(vd_model_file *file, const yaml_node_t *node, const char *text, uint16_t block, vd_gives gives)
{
    vd_formula formula = {model_text(file, text), vd_ref_to(block), (uint8_t)gives};
    g_array_append_val(file->formulas, formula);
    g_ptr_array_add(file->formula_nodes, (gpointer)node);
    return vd_ref_to((uint16_t)(file->formulas->len - 1));
}

bool model_take_formula(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, vd_gives gives,
                        vd_ref *formula)
{
    const char *text = NULL;
    *formula = vd_ref_to(VD_NONE);
    if (!yaml_take_text(&file->yaml, map, key, false, &text) || text == NULL) {
        return text == NULL;
    }
    *formula = model_add_formula(file, yaml_member(&file->yaml, map, key), text, block, gives);
    return true;
}

bool model_take_spot(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, vd_spot *spot)
{
    const char *name = NULL;
    *spot = (vd_spot){.stride = 0};
    if (!yaml_take_text(&file->yaml, map, key, false, &name) || name == NULL) {
        return name == NULL;
    }
    spot->setting = vd_ref_to(model_find_in_item(file, yaml_member(&file->yaml, map, key), name, block, 0));
    bool own = block != VD_NONE && g_str_has_prefix(name, "this.");
    spot->stride = own ? g_array_index(file->blocks, vd_block, block).members : 0;
    return vd_index(spot->setting) != VD_NONE;
}

bool model_take_around(vd_model_file *file, const yaml_node_t *map, const char *key, vd_ref *block)
{
    const char *name = NULL;
    *block = vd_ref_to(VD_NONE);
    if (!yaml_take_text(&file->yaml, map, key, false, &name) || name == NULL) {
        return name == NULL;
    }
    for (guint i = 0; i < file->blocks->len; i++) {
        const vd_block *one = &g_array_index(file->blocks, vd_block, i);
        *block = vd_index(one->outer) == VD_NONE && strcmp(one->key, name) == 0 ? vd_ref_to((uint16_t)i) : *block;
    }
    return vd_index(*block) != VD_NONE || yaml_note(&file->yaml, yaml_member(&file->yaml, map, key),
                                                    vd_fault_of_WRONG_SHAPE(name, "the key of a block under settings"));
}

/* watches: [probe-1, probe-2]: the channel of each item; they stand one behind the other among the channels as well. */
static bool take_channels_of_items(vd_model_file *file, const yaml_node_t *map, uint16_t block, vd_source *source)
{
    gsize count = 0, wanted = block != VD_NONE ? g_array_index(file->blocks, vd_block, block).count : 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "watches", VD_MOST_CHANNELS, &count, &items) && count == wanted;
    for (gsize i = 0; i < count && fine; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *name = yaml_text(&file->yaml, node, "a channel");
        const vd_channel *channel = name != NULL ? g_hash_table_lookup(file->channels, name) : NULL;
        gsize place = channel != NULL ? (gsize)(channel - file->model.channels) : VD_NONE;
        source->channel = vd_ref_to(i == 0 ? (uint16_t)place : vd_index(source->channel));
        if (channel == NULL || place != vd_index(source->channel) + i) {
            return name != NULL && yaml_note(&file->yaml, node,
                                             vd_fault_of_WRONG_SHAPE(name, i == 0 ? "the key of a channel"
                                                                                  : "the channel that stands under "
                                                                                    "channels behind the one before"));
        }
    }
    source->by_item = true;
    return fine || yaml_note(&file->yaml, yaml_member(&file->yaml, map, "watches"),
                             vd_fault_of_WRONG_SHAPE("this list", "one channel for each item of the block"));
}

bool model_take_source(vd_model_file *file, const yaml_node_t *map, uint16_t block, vd_source *source)
{
    const char *name = NULL;
    const vd_channel *channel = NULL;
    *source = (vd_source){.by_item = false};
    const yaml_node_t *node = yaml_member(&file->yaml, map, "watches");
    if (node != NULL && node->type == YAML_SEQUENCE_NODE) {
        return take_channels_of_items(file, map, block, source);
    }
    if (!yaml_take_text(&file->yaml, map, "watches", true, &name)) {
        return false;
    }
    channel = g_hash_table_lookup(file->channels, name);
    if (channel != NULL) {
        source->channel = vd_ref_to((uint16_t)(channel - file->model.channels));
        return true;
    }
    if (strchr(name, '.') == NULL) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE(name, "the key of a channel, or of a setting that chooses one"));
    }
    return model_take_spot(file, map, "watches", block, &source->chooser);
}

/* ---- Comparisons ---- */

/* [low, high], each a number or an expression. */
static bool take_pair(vd_model_file *file, const yaml_node_t *node, uint16_t block, vd_test *test)
{
    bool pair =
        node->type == YAML_SEQUENCE_NODE && node->data.sequence.items.top - node->data.sequence.items.start == 2;
    const char *texts[2] = {NULL, NULL};
    for (int i = 0; i < 2 && pair; i++) {
        const yaml_node_t *end = yaml_node(&file->yaml, node->data.sequence.items.start[i]);
        texts[i] = yaml_text(&file->yaml, end, "a limit");
        pair = texts[i] != NULL;
        *(i == 0 ? &test->limit : &test->upper) =
            pair ? model_add_formula(file, end, texts[i], block, VD_GIVES_NUMBER) : vd_ref_to(VD_NONE);
    }
    return pair || yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("these limits", "two: [lower, upper]"));
}

static bool take_test(vd_model_file *file, const yaml_node_t *map, uint16_t block, vd_test *test)
{
    unsigned found = 0;
    int64_t per = 0;
    *test = (vd_test){.per = 0};
    bool fine = yaml_check_keys(&file->yaml, map, keys_test);
    for (unsigned way = 0; way < VD_WAYS; way++) {
        const yaml_node_t *node = yaml_member(&file->yaml, map, vd_way_word((uint8_t)way));
        found += node != NULL;
        test->way = node != NULL ? (uint8_t)way : test->way;
        if (node != NULL && (way == VD_OUTSIDE || way == VD_INSIDE)) {
            fine = take_pair(file, node, block, test) && fine;
        } else if (node != NULL) {
            fine = model_take_formula(file, map, vd_way_word((uint8_t)way), block,
                                      way == VD_IS ? VD_GIVES_STATE : VD_GIVES_NUMBER, &test->limit) &&
                   fine;
        }
    }
    if (found != 1) { /* a key that has no place there may have been meant for one of them */
        return fine &&
               yaml_note(&file->yaml, map,
                         vd_fault_of_WRONG_SHAPE("this comparison", "one of above, below, outside, inside, is, rises, "
                                                                    "falls, changes"));
    }
    fine = model_take_formula(file, map, "if", block, VD_GIVES_TRUTH, &test->counts) && fine;
    fine = model_take_formula(file, map, "release", block, VD_GIVES_NUMBER, &test->release) && fine;
    fine = model_take_formula(file, map, "within", block, VD_GIVES_TIME, &test->window) && fine;
    fine = yaml_take_duration(&file->yaml, map, "per", false, G_MAXUINT32, &per) && fine;
    test->per = (uint32_t)per;
    return fine;
}

bool model_take_tests(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, vd_ref release,
                      uint16_t *first, uint8_t *count)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, key);
    bool list = node != NULL && node->type == YAML_SEQUENCE_NODE;
    gsize all = list ? (gsize)(node->data.sequence.items.top - node->data.sequence.items.start) : 1;
    bool fine = true;
    *first = (uint16_t)file->tests->len;
    *count = 0;
    if (node == NULL || all > MOST_TESTS) {
        return yaml_note_missing(&file->yaml, map, key, "when-it-is: {above: 36.0 °C}");
    }
    for (gsize i = 0; i < all; i++) {
        vd_test test;
        fine =
            take_test(file, list ? yaml_node(&file->yaml, node->data.sequence.items.start[i]) : node, block, &test) &&
            fine;
        test.release = vd_index(test.release) == VD_NONE && test.way != VD_IS ? release : test.release;
        g_array_append_val(file->tests, test);
    }
    *count = (uint8_t)all;
    return fine;
}

bool model_take_condition(vd_model_file *file, const yaml_node_t *map, uint16_t block, bool shared)
{
    vd_condition condition = {.key = "", .block = vd_ref_to(block)};
    bool fine = yaml_check_keys(&file->yaml, map, keys_conditions);
    fine = (!shared || model_take_key(file, map, "key", &condition.key)) && fine;
    fine = model_take_source(file, map, block, &condition.watches) && fine;
    fine = model_take_tests(file, map, "is", block, vd_ref_to(VD_NONE), &condition.test, &condition.test_count) && fine;
    g_array_append_val(file->conditions, condition);
    g_ptr_array_add(file->condition_nodes, (gpointer)map);
    return fine;
}

/* A condition of its own, or one that is shared, by its key. */
static bool add_condition(vd_model_file *file, const yaml_node_t *node, uint16_t block, GArray *indexes)
{
    if (node->type == YAML_MAPPING_NODE) {
        uint16_t index = (uint16_t)file->conditions->len;
        g_array_append_val(indexes, index);
        return model_take_condition(file, node, block, false);
    }
    const char *key = yaml_text(&file->yaml, node, "a condition");
    for (uint16_t i = 0; key != NULL && i < file->conditions->len; i++) {
        if (strcmp(g_array_index(file->conditions, vd_condition, i).key, key) == 0) {
            g_array_append_val(indexes, i);
            return true;
        }
    }
    return key != NULL &&
           yaml_note(&file->yaml, node,
                     vd_fault_of_WRONG_SHAPE(
                         key, "the key of a condition, or such as {watches: speed, is: {above: 5 km/h}}"));
}

bool model_take_only_while(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "only-while");
    uint8_t lost = 0;
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys_only_while);
    bool any = yaml_member(&file->yaml, node, "any") != NULL;
    if (any == (yaml_member(&file->yaml, node, "all") != NULL)) {
        return yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this", "all or any, with a list of conditions"));
    }
    GArray *indexes = g_array_new(FALSE, FALSE, sizeof(uint16_t));
    fine = yaml_take_list(&file->yaml, node, any ? "any" : "all", 16, &count, &items) && fine;
    for (gsize i = 0; i < count; i++) {
        fine = add_condition(file, yaml_node(&file->yaml, items[i]), vd_index(alarm->block), indexes) && fine;
    }
    fine = yaml_take_word(&file->yaml, node, "lost", false, words_lost, &lost) && fine;
    alarm->holds = lost == 1;
    alarm->any_condition = any;
    uint16_t *kept = model_memory(file, (indexes->len + 1) * sizeof *kept);
    memcpy(kept, indexes->data != NULL ? indexes->data : (gchar *)kept, indexes->len * sizeof *kept);
    alarm->conditions = kept;
    alarm->condition_count = (uint8_t)indexes->len;
    g_array_free(indexes, TRUE);
    return fine;
}
